"""Schools apart: the school's page for all of them and for who administers it, and recipes that are handed on.

models, sharing      recipes in the school's or the district's library, with what they came to
selectors            the school as its page shows it: who is in it, and counts
services             what only lies above the runs: removing an account, with the classes that it shared
export               a school as one file
"""
