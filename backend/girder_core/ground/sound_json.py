"""JSON from outside, read so that whatever is let in can be written down, computed with, and read back as it was."""

from __future__ import annotations

import json
import math
from typing import Any

from girder_core.ground.errors import GirderError

DEEPEST = 40
GREATEST = 1e15
"""Greater numbers are no measure of anything here, and lose their last digits on the way through a browser."""


def sound_json(text: str | bytes) -> Any:
    """What a text in JSON (RFC 8259) holds.

    Args:
        text: the text; bytes are read as UTF-8, with or without a mark at their beginning.

    Returns:
        The value, made of dicts, lists, strings, finite numbers, booleans and None.

    Errors: ``not_json`` for what is no JSON, with the line; ``unsound_json`` for JSON that cannot be kept: nested
    deeper than 40, a number beyond 10¹⁵ or none at all (NaN, infinity), a null sign or half a pair of signs in a text.
    ``data["fields"]`` has the path of what is unsound.
    """
    try:
        if isinstance(text, bytes):
            text = text.decode("utf-8-sig")
        value = json.loads(text)
    except UnicodeDecodeError:
        raise GirderError("not_json", "This is no text in UTF-8.", fields={"file": "No text in UTF-8."}) from None
    except json.JSONDecodeError as error:
        assert isinstance(text, str)
        lines = text.count("\n") + 1
        cut = error.pos >= len(text.rstrip()) or error.msg.startswith("Unterminated string")
        what = "The end is missing; was it cut off?" if cut else f"{error.msg}."
        raise GirderError(
            "not_json", f"Line {error.lineno} of {lines}: {what}", fields={"file": f"Line {error.lineno}: {what}"}
        ) from None
    except RecursionError:
        raise _unsound("", _TOO_DEEP) from None
    except ValueError:
        # Python itself turns thousands of digits into no number.
        raise _unsound("", _TOO_GREAT) from None
    _look(value)
    return value


_TOO_DEEP = f"This is nested deeper than {DEEPEST} times."
_TOO_GREAT = "This number is too great; nothing here is beyond 10 to the 15."
_NO_NUMBER = "This is no number."
_NO_TEXT = "This text holds a sign that cannot be written down."


def _look(value: Any) -> None:
    waiting: list[tuple[Any, str, int]] = [(value, "", 0)]
    while waiting:
        part, path, depth = waiting.pop()
        if isinstance(part, str):
            if not _writable(part):
                raise _unsound(path, _NO_TEXT)
        elif isinstance(part, (int, float)):
            # NaN is on neither side of anything.
            if not -GREATEST <= part <= GREATEST:
                # An int of many digits fits into no float, so it is not asked.
                no_number = isinstance(part, float) and not math.isfinite(part)
                raise _unsound(path, _NO_NUMBER if no_number else _TOO_GREAT)
        elif isinstance(part, (dict, list)):
            if depth == DEEPEST:
                raise _unsound(path, _TOO_DEEP)
            if isinstance(part, dict):
                for name in part:
                    if not _writable(name):
                        raise _unsound(path, _NO_TEXT)
            inner = part.items() if isinstance(part, dict) else enumerate(part)
            waiting.extend((held, f"{path}.{name}" if path else str(name), depth + 1) for name, held in inner)


def _writable(text: str) -> bool:
    if "\x00" in text:
        return False
    try:
        text.encode()
    except UnicodeEncodeError:
        return False
    return True


def _unsound(path: str, sentence: str) -> GirderError:
    said = f"{path}: {sentence}" if path else sentence
    return GirderError("unsound_json", said, fields={path or "all": sentence})
