"""What happens at the test bench: designs, their readings and checks, trials and their ledgers.

models      what is kept; ledger events are only ever added (the database refuses to change one)
services    one verb per change, each in one transaction
selectors   what the screens ask for: states of a trial, of a run, and its comparison
serializers, views, run_views   the API
"""
