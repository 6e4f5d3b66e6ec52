"""What a picture told, and how the process that looked at it hands that over."""

from __future__ import annotations

import json
import struct
from dataclasses import dataclass
from datetime import date

from designs.picture_file import bad_photo
from girder_core.photo import Frame, Hidden, Look, Seen

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


def packed(found: Found) -> bytes:
    """What ``unpacked`` reads."""
    told = json.dumps(
        {
            "frame": [found.look.frame.width_px, found.look.frame.height_px, found.look.frame.focal_px],
            "marks": [[mark.id, mark.corners] for mark in found.look.marks],
            "facts": {name: getattr(found.look, name) for name in ("bright", "sharp", "mirrored", "screen_steps")},
            "hidden": found.look.hidden,
            "segments": found.look.segments,
            "taken": found.taken.isoformat() if found.taken else None,
        }
    ).encode()
    return struct.pack(">IHH", len(told), found.width, found.height) + told + found.small


def unpacked(answer: bytes) -> Found:
    """What the child found."""
    length, width, height = struct.unpack_from(">IHH", answer)
    told = json.loads(answer[8 : 8 + length])
    look = Look(
        Frame(*told["frame"]),
        tuple(Seen(id_, tuple((x, y) for x, y in corners)) for id_, corners in told["marks"]),
        **told["facts"],
        hidden={int(id_): Hidden(why) for id_, why in told["hidden"].items()},
        segments=tuple((a, b, c, d) for a, b, c, d in told["segments"]),
    )
    return Found(
        look, date.fromisoformat(told["taken"]) if told["taken"] else None, answer[8 + length :], width, height
    )
