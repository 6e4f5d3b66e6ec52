"""What an entry of each kind can say: its parts, and what each of them is.

What does not have this shape is refused before anything is asked of the rules, so that whatever is let in can be
written down, read back as it was, and worked with. Which parts there must be, and what they may be just now, the rules
say (``girder_core.trial.entries``).
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from enum import Enum
from typing import Any

from girder_core.ground import GirderError
from girder_core.trial.result import GREATEST, LONGEST_TEXT, EventKind


def _number(value: Any) -> bool:
    # Neither more digits than can be computed with, nor what is no number.
    return isinstance(value, (int, float)) and not isinstance(value, bool) and abs(value) <= GREATEST


def _whole(value: Any) -> bool:
    return isinstance(value, int) and _number(value)


def _flag(value: Any) -> bool:
    return isinstance(value, bool)


def _text(value: Any) -> bool:
    if not isinstance(value, str) or len(value) > LONGEST_TEXT:
        return False
    # Neither the null sign nor half of a pair of signs can be written down.
    return "\x00" not in value and not any("\ud800" <= sign <= "\udfff" for sign in value)


class Part(Enum):
    """What a part of an entry is, and the words for it."""

    NUMBER = "a number"
    WHOLE = "a whole number"
    FLAG = "yes or no"
    TEXT = f"a text of at most {LONGEST_TEXT} letters"


_IS: Mapping[Part, Callable[[Any], bool]] = {
    Part.NUMBER: _number,
    Part.WHOLE: _whole,
    Part.FLAG: _flag,
    Part.TEXT: _text,
}

_LOADED = {"item": Part.TEXT, "count": Part.WHOLE, "seat": Part.TEXT}
_ENDED = {"reason": Part.TEXT, "note": Part.TEXT}
_WEIGHED = {"mass": Part.TEXT, "resolution": Part.TEXT}

SHAPES: Mapping[EventKind, Mapping[str, Part]] = {
    EventKind.PLACE: _LOADED,
    EventKind.REMOVE: _LOADED,
    EventKind.SETTLE: {"waited_s": Part.NUMBER},
    EventKind.OBSERVE: {"sign": Part.TEXT},
    EventKind.MEASURE: {"key": Part.TEXT, "text": Part.TEXT, "resolution": Part.TEXT, "zero": Part.TEXT,
                        "source": Part.TEXT,
                        # Ledgers of the first rules knew the sag of a bridge and nothing else.
                        "sag": Part.TEXT},
    EventKind.FAIL: {"mode": Part.TEXT, "note": Part.TEXT, "after_s": Part.NUMBER},
    EventKind.RUN_OUT: _ENDED,
    EventKind.VOID: _ENDED,
    EventKind.LOAD_READING: {**_WEIGHED, "held": Part.FLAG, "source": Part.TEXT, "says": Part.TEXT},
    EventKind.PILE_READING: {**_WEIGHED, "covers": Part.TEXT},
    EventKind.ROUND: {"height": Part.TEXT, "hit": Part.FLAG},
    EventKind.FINISH: {"note": Part.TEXT},
    EventKind.UNDO: {"event": Part.TEXT},
    EventKind.NOTE: {"text": Part.TEXT},
    EventKind.MOVE: {"from": Part.TEXT, "to": Part.TEXT, "why": Part.TEXT},
}  # fmt: skip
"""The parts that an entry of each kind can have; a correction has those of what it corrects besides its own."""
_CORRECTION = {"event": Part.TEXT, "gone": Part.FLAG, "why": Part.TEXT}
_CONFIRMED = {"confirmed": Part.FLAG}
"""Any entry can say that what looked like a slip is meant."""


def parts_of(kind: EventKind) -> Mapping[str, Part]:
    """The parts that an entry can have.

    Args:
        kind: of the entry.
    Returns:
        What each part is, by name.
    """
    if kind is not EventKind.CORRECT:
        return {**SHAPES[kind], **_CONFIRMED}
    every = {name: part for shape in SHAPES.values() for name, part in shape.items()}
    return {**every, **_CORRECTION, **_CONFIRMED}


_PARTS = {kind: parts_of(kind) for kind in EventKind}


def check_shape(kind: EventKind, data: Mapping[str, Any]) -> None:
    """Refuse what an entry of this kind cannot say.

    Args:
        kind: of the entry.
        data: its parts by name; a part that is None is as one that is not there.
    Returns:
        Nothing.
    Errors:
        ``entry_not_plain``, with the part and what it should be.
    """
    parts = _PARTS[kind]
    for name, value in data.items():
        if value is None and name in parts:
            continue
        if name not in parts:
            raise GirderError("entry_not_plain", f"An entry “{_said(kind)}” has no part “{_short(name)}”.")
        if not _IS[parts[name]](value):
            is_to_be = parts[name].value
            raise GirderError("entry_not_plain", f"In an entry “{_said(kind)}”, “{name}” has to be {is_to_be}.")


def _said(kind: EventKind) -> str:
    return kind.value.replace("_", " ")


def _short(name: object) -> str:
    """A name that nobody vouches for, as far as it can be shown."""
    plain = "".join(sign for sign in str(name) if sign.isprintable())
    return plain[:40]
