"""A run as its screens see it: the whole state, and the API of runs and of their designs.

It keeps nothing. The other apps of a run (designs, bench, results) lie below it and know nothing of each other's
screens.

selectors   a run's state
answers     how a change is answered
views, design_views, draft_views, photo_views, serializers   the API
"""
