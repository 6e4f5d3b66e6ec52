"""Two pictures of one bench: where the point that is followed went, and a small copy of the later one.

Runs in a process of its own (``evengirder.aside``). Its words are the point in the first picture, as JSON: ``[x, y]``
in pixels of the upright picture. The first picture comes before the second, and before both how long the first is.
"""

from __future__ import annotations

import json
import struct
import sys

import cv2
import numpy as np

from camera.following import followed
from camera.found import MEMORY_BYTES, Trail, packed_trail
from camera.picture_file import looked, small_of
from girder_core.ground import GirderError
from girder_core.photo import Followed, camera_moved, judged


def trail_in(first: bytes, now: bytes, point: tuple[float, float]) -> Trail:
    """Follow a point from one picture to another.

    Args:
        first, now: the files.
        point: where it is in the first [px].
    Errors:
        ``bad_photo``; ``pictures_differ``; those of ``judged``, ``camera_moved`` and ``followed``.
    """
    _, before, there, _ = looked(first)
    picture, after, here, _ = looked(now)
    if there.frame != here.frame:
        raise GirderError(
            "pictures_differ",
            "This picture is not as large as the first one. Take both with one camera, held the same way up.",
        )
    view = judged(there)
    judged(here)
    shaken = camera_moved(view, there.marks, here.marks)
    at = np.array(point, dtype=float)
    found = followed(before, after, at, shaken.still_at(view, at))
    way = Followed(point, found.point, found.spread)
    return Trail(there.frame, there.marks, here.marks, way, *small_of(picture, [[found.point]]))


def _both(data: bytes) -> tuple[bytes, bytes]:
    (length,) = struct.unpack_from(">I", data)
    return data[4 : 4 + length], data[4 + length :]


if __name__ == "__main__":
    from evengirder.aside_child import answer

    cv2.setNumThreads(1)
    answer(lambda data: packed_trail(trail_in(*_both(data), tuple(json.loads(sys.argv[1])))), MEMORY_BYTES)
