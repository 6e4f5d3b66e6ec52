"""The adapter to OpenCV: where marks are in a picture, to a few hundredths of a pixel, and where straight edges are.

Nothing else imports OpenCV but this module, ``following``, ``counting``, and what runs them in processes of their own.
"""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from girder_core.photo import BLANK_M, DICTIONARY, FIELDS, Hidden, Seen, View, cards_seen, unread

Grey = NDArray[np.uint8]
Array = NDArray[np.float64]
Line = tuple[Array, Array]
"""A point of it and its direction [px]."""

QUICK_LOOK_PX = 2000
"""Marks are looked for in a picture so large first; their corners are taken from the whole one."""
NEAR_PX = 5.0
"""So far to both sides of it an edge is looked at in the end."""
EDGES_PX, MOST_EDGES = 1200, 120
"""Straight edges are looked for in a picture so large, and so many of the longest are handed on."""
LEAST_CONTRAST = 12.0
"""Black and white that differ by less, of 255, are not told apart."""
_ALONG, _ACROSS = 32, 33
"""Places along an edge of a mark, and steps across it, at which the picture is looked at."""


def dictionary() -> cv2.aruco.Dictionary:
    """The marks of the cards."""
    return cv2.aruco.getPredefinedDictionary(getattr(cv2.aruco, DICTIONARY))


def marks_in(grey: Grey) -> list[Seen]:
    """The marks that a picture shows, each with its corners in pixels of the picture."""
    factor = _to(QUICK_LOOK_PX, grey)
    found = _found(_smaller(grey, factor), factor)
    if factor < 1 and _more_there([id_ for id_, _ in found]):
        whole = _found(grey, 1.0)
        found = whole if len(whole) > len(found) else found
    return [Seen(id_, tuple((float(x), float(y)) for x, y in _refined(grey, corners))) for id_, corners in found]


def _more_there(ids: list[int]) -> bool:
    """Whether a card has marks that were not found: small ones need the whole picture."""
    seen = cards_seen(ids)
    return not seen or any(len(there) < len(card.marks) for card, there in seen.items())


def _found(grey: Grey, factor: float) -> list[tuple[int, Array]]:
    asked = cv2.aruco.DetectorParameters()
    asked.cornerRefinementMethod = cv2.aruco.CORNER_REFINE_SUBPIX
    # Windows as wide as a mark's border is in pictures of all sizes; a mark of 16 pixels is the least that is read.
    asked.adaptiveThreshWinSizeMin, asked.adaptiveThreshWinSizeMax, asked.adaptiveThreshWinSizeStep = 5, 45, 20
    asked.minMarkerPerimeterRate = 64 / max(grey.shape)
    # All that may be wrong in a mark is read as wrong: none is taken for another one.
    asked.errorCorrectionRate = 0.4
    corners, ids, _ = cv2.aruco.ArucoDetector(dictionary(), asked).detectMarkers(grey)
    # Halves of a pixel: a middle of a small pixel lies in the middle of those that it was made of.
    return [
        (int(id_), (np.asarray(four, dtype=float).reshape(4, 2) + 0.5) / factor - 0.5)
        for id_, four in zip([] if ids is None else np.asarray(ids).ravel(), corners, strict=True)
    ]


def _refined(grey: Grey, corners: Array) -> Array:
    """Corners where the straight lines through a mark's edges meet.

    Each edge is found at places along it by how much of the way across it is dark: blur moves it to neither side. A
    mark whose edges cannot be told keeps the corners that it had.
    """
    module = float(np.hypot(*(np.roll(corners, -1, axis=0) - corners).T).min()) / FIELDS
    refined = corners
    # Widely first, because the corners may be some pixels off; then so closely that little noise comes in.
    for reach in (max(2.5, 0.8 * module), min(max(2.5, 0.8 * module), NEAR_PX)):
        lines = [_edge(grey, refined[i], refined[(i + 1) % 4], reach) for i in range(4)]
        if any(line is None for line in lines):
            return corners
        refined = np.array([_crossing(lines[i - 1], lines[i]) for i in range(4)])
        if not np.isfinite(refined).all() or np.hypot(*(refined - corners).T).max() > max(4.0, module):
            return corners
    return refined


def _edge(grey: Grey, one: Array, other: Array, reach: float) -> Line | None:
    """The line of an edge of a mark near the way from one of its corners to the other."""
    length = float(np.hypot(*(other - one)))
    along = (other - one) / max(length, 1e-9)
    # Corners run clockwise as printed: outwards is to the left of the way.
    outward = np.array([along[1], -along[0]])
    steps = np.linspace(-reach, reach, _ACROSS)
    places = one + np.linspace(0.1, 0.9, _ALONG)[:, None] * (other - one)
    grid = places[:, None, :] + steps[None, :, None] * outward
    rows = cv2.remap(
        grey, grid[..., 0].astype(np.float32), grid[..., 1].astype(np.float32), cv2.INTER_LINEAR,
        borderMode=cv2.BORDER_REPLICATE,
    ).astype(float)  # fmt: skip
    # Light may change along an edge, so black and white are lines along it.
    tail = max(2, _ACROSS // 8)
    where = np.arange(_ALONG)
    ends = (rows[:, :tail].mean(axis=1), rows[:, -tail:].mean(axis=1))
    black, white = (np.polyval(np.polyfit(where, end, 1), where) for end in ends)
    if (white - black).min() < LEAST_CONTRAST:
        return None
    dark = ((white[:, None] - rows) / (white - black)[:, None]).mean(axis=1)
    return _line(places + (2 * dark - 1)[:, None] * reach * outward)


def _line(points: Array) -> Line | None:
    """A line through points, without those that lie far off it: a point of it and its direction."""
    for _ in range(3):
        if len(points) < 6:
            return None
        middle = points.mean(axis=0)
        way = np.linalg.svd(points - middle)[2][0]
        off = np.abs((points - middle) @ np.array([-way[1], way[0]]))
        keep = off <= max(0.15, 2.5 * float(np.median(off)) + 1e-9)
        if keep.all():
            break
        points = points[keep]
    return middle, way


def _crossing(one: Line | None, other: Line | None) -> Array:
    if one is None or other is None:
        return np.array([np.nan, np.nan])
    (p, d), (q, e) = one, other
    side = np.column_stack([d, -e])
    if abs(float(np.linalg.det(side))) < 1e-6:
        return np.array([np.nan, np.nan])
    crossing: Array = p + np.linalg.solve(side, q - p)[0] * d
    return crossing


def mirrored(grey: Grey) -> bool:
    """Whether the mirror image of a picture shows marks."""
    return bool(marks_in(np.ascontiguousarray(grey[:, ::-1])))


def sharpness(grey: Grey) -> float:
    """The steepest change from one pixel to the next, as a share of the contrast near it, 0 to 1."""
    calm = cv2.GaussianBlur(_smaller(grey, _to(QUICK_LOOK_PX, grey)), (0, 0), 0.8).astype(np.float32)
    steep = np.maximum(np.abs(np.diff(calm, axis=0)[:, :-1]), np.abs(np.diff(calm, axis=1)[:-1]))
    near = np.ones((31, 31), np.uint8)
    contrast = (cv2.dilate(calm, near) - cv2.erode(calm, near))[:-1, :-1]
    clear = contrast > max(20.0, float(np.percentile(contrast, 90)) * 0.5)
    return float(np.percentile(steep[clear] / contrast[clear], 99.5)) if clear.any() else 1.0


def hidden_marks(grey: Grey, view: View) -> dict[int, Hidden]:
    """Why each mark that was not read of the cards of a view was not."""
    tall, wide = grey.shape
    why = {}
    for id_, corners in unread(view).items():
        low, high = corners.min(axis=0), corners.max(axis=0)
        if (low < 0).any() or high[0] > wide - 1 or high[1] > tall - 1:
            why[id_] = Hidden.CUT
            continue
        left, top = low.astype(int)
        right, bottom = high.astype(int) + 1
        part = grey[top : bottom + 1, left : right + 1]
        dark, light = np.percentile(part, [15, 85])
        if (part > 245).mean() > 0.3 and dark > 110:
            why[id_] = Hidden.GLARE
        else:
            why[id_] = Hidden.BLURRED if sharpness(part) < 0.15 and light - dark > 30 else Hidden.COVERED
    return why


def screen_steps(grey: Grey, view: View) -> float:
    """How high the finest regular pattern is on a card's white paper, of 255 steps; noise and paper have none."""
    if not view.cards[0].sheet:
        return 0.0
    left, bottom, right, top = BLANK_M
    corners = view.pixels(view.on_plane(0, np.array([(left, top), (right, top), (right, bottom), (left, bottom)])))
    if (corners < 0).any() or (corners > np.array(grey.shape[::-1]) - 1).any():
        return 0.0
    # As many pixels as the picture has there, so that no pattern is lost or made.
    side = int(np.clip(np.hypot(*(corners[1] - corners[0])), 32, 256))
    goal = np.array([(0, 0), (side - 1, 0), (side - 1, side - 1), (0, side - 1)], dtype=np.float32)
    flat = cv2.warpPerspective(
        grey, cv2.getPerspectiveTransform(corners.astype(np.float32), goal), (side, side), flags=cv2.INTER_LINEAR
    ).astype(float)
    y, x = np.mgrid[0:side, 0:side]
    plane = np.column_stack([np.ones(side * side), x.ravel(), y.ravel(), (x * y).ravel()])
    flat = flat - (plane @ np.linalg.lstsq(plane, flat.ravel(), rcond=None)[0]).reshape(side, side)
    window = np.outer(np.hanning(side), np.hanning(side))
    height = 2 * np.abs(np.fft.rfft2(flat * window)) / window.sum()
    # Slow changes are light and folds; a pattern goes up and down six times at least.
    fy, fx = np.abs(np.fft.fftfreq(side) * side)[:, None], (np.fft.rfftfreq(side) * side)[None, :]
    fine = np.hypot(fy, fx) >= 6
    usual = float(np.median(height[fine]))
    peak = float(height[fine].max())
    # Noise has no peak; ten times the usual is none of its.
    return peak if peak > 10 * usual else 0.0


def segments_in(grey: Grey) -> list[tuple[float, float, float, float]]:
    """The longest straight edges of a picture, (x, y, x, y) [px]."""
    factor = _to(EDGES_PX, grey)
    small = _smaller(grey, factor)
    found = cv2.createLineSegmentDetector(cv2.LSD_REFINE_STD).detect(small)[0]
    lines = (np.asarray([] if found is None else found, dtype=float).reshape(-1, 4) + 0.5) / factor - 0.5
    lengths = np.hypot(lines[:, 2] - lines[:, 0], lines[:, 3] - lines[:, 1])
    longest = lines[np.argsort(-lengths)[:MOST_EDGES]]
    return [(float(a), float(b), float(c), float(d)) for a, b, c, d in longest]


def _smaller(grey: Grey, factor: float) -> Grey:
    if factor >= 1:
        return grey
    return np.asarray(cv2.resize(grey, None, fx=factor, fy=factor, interpolation=cv2.INTER_AREA), dtype=np.uint8)


def _to(longest: int, grey: Grey) -> float:
    return min(1.0, longest / float(max(grey.shape)))
