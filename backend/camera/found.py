"""What a picture told, and how the process that looked at it hands that over."""

from __future__ import annotations

import json
import struct
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from designs.picture_file import bad_photo
from girder_core.photo import Doubt, Followed, Frame, Hidden, Look, Piece, Seen, Spread

Line = Sequence[Sequence[float]]
"""Points that are joined when they are drawn; a single one is a dot (n, 2) [px]."""
CAMERA_NAME = 120
"""Letters that are kept of what a camera calls itself."""
MEMORY_BYTES = 1400 * 1024 * 1024
"""OpenCV takes 450 MB of addresses before it has seen a picture."""
TOO_MUCH = bad_photo("That picture takes more memory or time than a photo does. Send a smaller one.")


@dataclass(frozen=True)
class Found:
    """What a picture told.

    Attributes:
        look: what is in it.
        taken: the day that its camera wrote into it.
        small: a copy, as photographs are kept, with what was pointed at drawn into it.
        width, height: of the copy [px].
    """

    look: Look
    taken: date | None
    small: bytes
    width: int
    height: int


@dataclass(frozen=True)
class Trail:
    """What two pictures told of a point that was followed.

    Attributes:
        frame: both.
        before, after: the marks in the first and in the later one.
        way: where the point was and is.
        small: a copy of the later one, as photographs are kept, with the point drawn into it.
        width, height: of the copy [px].
    """

    frame: Frame
    before: tuple[Seen, ...]
    after: tuple[Seen, ...]
    way: Followed
    small: bytes
    width: int
    height: int


@dataclass(frozen=True)
class Scattered:
    """What a picture of loose pieces told.

    Attributes:
        spread: what it shows.
        small: a copy, as photographs are kept, with the dots that were set; empty where none were.
        width, height: of the copy [px].
    """

    spread: Spread
    small: bytes
    width: int
    height: int


def packed_scattered(scattered: Scattered) -> bytes:
    """What ``unpacked_scattered`` reads."""
    spread = scattered.spread
    told = {
        "picture": [spread.wide_px, spread.tall_px],
        "facts": [spread.sheet, spread.bright, spread.sharp, spread.plain, spread.uneven, spread.alike],
        "pieces": [[one.x, one.y, one.radius_px, one.doubt] for one in spread.pieces],
    }
    return _packed(told, scattered.small, scattered.width, scattered.height)


def unpacked_scattered(answer: bytes) -> Scattered:
    """What the child found."""
    told, width, height, small = _unpacked(answer)
    pieces = tuple(Piece(x, y, r, Doubt(doubt) if doubt else None) for x, y, r, doubt in told["pieces"])
    wide, tall = told["picture"]
    return Scattered(Spread(wide, tall, pieces, *told["facts"]), small, width, height)


def packed_trail(trail: Trail) -> bytes:
    """What ``unpacked_trail`` reads."""
    told = {
        "frame": _frame_told(trail.frame), "before": _marks_told(trail.before), "after": _marks_told(trail.after),
        "way": [trail.way.before, trail.way.after, trail.way.spread],
    }  # fmt: skip
    return _packed(told, trail.small, trail.width, trail.height)


def unpacked_trail(answer: bytes) -> Trail:
    """What the child found."""
    told, width, height, small = _unpacked(answer)
    before, after, ((xx, xy), (_, yy)) = told["way"]
    way = Followed((before[0], before[1]), (after[0], after[1]), ((xx, xy), (xy, yy)))
    frame = Frame(*told["frame"])
    return Trail(frame, _marks(told["before"]), _marks(told["after"]), way, small, width, height)


def _frame_told(frame: Frame) -> list[float | str | None]:
    return [frame.width_px, frame.height_px, frame.focal_px, frame.camera]


def _marks_told(marks: Sequence[Seen]) -> list[Any]:
    return [[mark.id, mark.corners] for mark in marks]


def _marks(told: list[Any]) -> tuple[Seen, ...]:
    return tuple(Seen(id_, tuple((x, y) for x, y in corners)) for id_, corners in told)


def _packed(told: dict[str, Any], small: bytes, width: int, height: int) -> bytes:
    words = json.dumps(told).encode()
    return struct.pack(">IHH", len(words), width, height) + words + small


def _unpacked(answer: bytes) -> tuple[dict[str, Any], int, int, bytes]:
    length, width, height = struct.unpack_from(">IHH", answer)
    return json.loads(answer[8 : 8 + length]), width, height, answer[8 + length :]


def packed(found: Found) -> bytes:
    """What ``unpacked`` reads."""
    return _packed(
        {
            "frame": _frame_told(found.look.frame),
            "marks": _marks_told(found.look.marks),
            "facts": {name: getattr(found.look, name) for name in ("bright", "sharp", "mirrored", "screen_steps")},
            "hidden": found.look.hidden,
            "segments": found.look.segments,
            "taken": found.taken.isoformat() if found.taken else None,
        },
        found.small, found.width, found.height,
    )  # fmt: skip


def unpacked(answer: bytes) -> Found:
    """What the child found."""
    told, width, height, small = _unpacked(answer)
    look = Look(
        Frame(*told["frame"]),
        _marks(told["marks"]),
        **told["facts"],
        hidden={int(id_): Hidden(why) for id_, why in told["hidden"].items()},
        segments=tuple((a, b, c, d) for a, b, c, d in told["segments"]),
    )
    return Found(look, date.fromisoformat(told["taken"]) if told["taken"] else None, small, width, height)
