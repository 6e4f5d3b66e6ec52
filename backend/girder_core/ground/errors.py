"""The one error of the core: what is wrong, in a code for programs and a sentence for people."""

from __future__ import annotations

from typing import Any


class GirderError(ValueError):
    """A value or an action that the rules do not allow.

    Attributes:
        code: stable machine name of what is wrong, such as ``"kit_exceeded"``.
        sentence: what is wrong and what to change, in words a teacher can read.
        data: the figures behind the sentence, for an interface that words it differently.
    """

    def __init__(self, code: str, sentence: str, **data: Any) -> None:
        super().__init__(sentence)
        self.code = code
        self.sentence = sentence
        self.data = data


class NeedsConfirmation(GirderError):
    """A value that may be right but looks like a slip; sent again as confirmed, it is taken."""
