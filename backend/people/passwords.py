"""What a password may not be, beyond its length and the list of common ones."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

from django.core.exceptions import ValidationError

LONGEST_UNIT = 6
FEWEST_LETTERS = 5


class NotOneWordAgain:
    """Refuses a short word said again and again, a row of neighbours, and a handful of different signs."""

    def validate(self, password: str, user: Any = None) -> None:
        plain = password.lower()
        repeats = any(
            (plain[:n] * len(plain))[: len(plain)] == plain for n in range(1, min(LONGEST_UNIT, len(plain) // 2) + 1)
        )
        steps = {ord(b) - ord(a) for a, b in pairwise(plain)}
        if repeats or steps in ({1}, {-1}) or len(set(plain)) < FEWEST_LETTERS:
            raise ValidationError("A short word again and again is soon guessed. Take several words.", "one_word_again")

    def get_help_text(self) -> str:
        return "Not a short word again and again."
