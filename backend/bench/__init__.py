"""What happens at the test bench: trials and their ledgers, the order of teams, the lesson's clock.

models      what is kept; ledger events are only ever added (the database refuses to change one)
services    one verb per change, each in one transaction; lesson_services for the whole lesson
selectors   designs with their trials; trial_selectors the state of one trial
remembered  what ledgers came to; history what earlier runs held
views, serializers   the API of trials
"""
