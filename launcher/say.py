"""What the launcher says: one line per thing it does, and problems with what to do about them."""

from __future__ import annotations

import sys


class Problem(Exception):
    """Something stands in the way; the text says what to do."""


def say(text: str) -> None:
    """One line on what is being done."""
    print(f"girder: {text}", flush=True)


def warn(text: str) -> None:
    """One line on what went wrong."""
    print(f"girder: {text}", file=sys.stderr, flush=True)
