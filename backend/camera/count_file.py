"""A picture of loose pieces, as it comes from a camera: where they are, and a small copy with the dots that were set.

Runs in a process of its own (``evengirder.aside``). Its words are the dots to draw, as JSON: ``[[x, y], …]`` in pixels
of the upright picture; none for a first look.
"""

from __future__ import annotations

import json
import sys
from collections.abc import Sequence

import cv2
import numpy as np
from numpy.typing import NDArray

from camera.counting import loose_in
from camera.found import MEMORY_BYTES, Scattered, packed_scattered
from camera.picture_file import looked, small_of, upright
from girder_core.ground import GirderError
from girder_core.photo import Look, Spread, rim_of, see


def scattered_in(data: bytes, dots: Sequence[Sequence[float]]) -> Scattered:
    """The loose pieces of a picture, and a small copy with the dots; where dots are set, nothing is looked for.

    Args:
        data: the file.
        dots: where they are [px].
    Errors:
        ``bad_photo``.
    """
    if dots:
        picture, *_ = upright(data)
        wide, tall = picture.size
        return Scattered(Spread(wide, tall, ()), *small_of(picture, [[dot] for dot in dots]))
    picture, _, look, _ = looked(data)
    return Scattered(loose_in(np.asarray(picture), _cards(look)), b"", 0, 0)


def _cards(look: Look) -> NDArray[np.uint8] | None:
    """Where scale cards lie: none of what is on them is counted."""
    if not look.marks:
        return None
    hidden = np.zeros((look.frame.height_px, look.frame.width_px), np.uint8)
    try:
        view = see(look.marks, look.frame)
        rims = [np.asarray(rim_of(view, i)) for i in range(len(view.cards))]
    except GirderError:
        rims = [np.array([corner for mark in look.marks for corner in mark.corners])]
    for rim in rims:
        cv2.fillConvexPoly(hidden, cv2.convexHull(np.rint(rim).astype(np.int32)), 1)
    return hidden


if __name__ == "__main__":
    from evengirder.aside_child import answer

    cv2.setNumThreads(1)
    answer(lambda data: packed_scattered(scattered_in(data, json.loads(sys.argv[1]))), MEMORY_BYTES)
