"""Tests of the core: run alone, with no web framework."""

import os

from hypothesis import settings


def tries(examples: int) -> int:
    """How many examples a property is tried with: so many, and a quarter of them in the quick suite."""
    return max(10, examples // 4) if os.environ.get("GIRDER_QUICK") == "1" else examples


# How long an example takes is the machine's business: the tests run beside whatever else it does.
settings.register_profile("untimed", deadline=None, max_examples=tries(100))
settings.load_profile("untimed")
