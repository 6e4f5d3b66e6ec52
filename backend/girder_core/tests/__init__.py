"""Tests of the core: run alone, with no web framework."""

from hypothesis import settings

# How long an example takes is the machine's business: they run beside whatever else it does.
settings.register_profile("untimed", deadline=None)
settings.load_profile("untimed")
