"""The adapter to OpenCV for what moves: where a point of one picture is in a later one, and how well that is known.

Only child processes read it (``camera.follow_file``).
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from camera.detector import Array, Grey
from girder_core.ground import GirderError

LOOKED_FOR, FINE, WIDE = 0.05, 0.005, 0.012
"""How far from where it would be a point is looked for, and half the side of what is compared at the end and at first,
as shares of the longer side of the picture [-]."""
ALIKE = 0.6
"""Patches that are less alike than this show something else [-]."""
RIVAL = 0.93
"""A second place that is as alike as this share of the best leaves open which one it is [-]."""
CONTRAST = 4.0
"""A patch whose grey values spread by less has nothing to hold on to, of 255."""
LEAST_PX, WORSE = 0.07, 2.0
"""No point is followed better than this [px], and neighbouring pixels are not independent, so noise counts for more
[-]; ours, from made-up pictures."""
SLACK_PX = 0.7
"""A point that is known no better in one direction has nothing to hold on to there [px]."""


@dataclass(frozen=True)
class There:
    """Where a point is: x and y [px], and the covariance of the two [px²]."""

    point: tuple[float, float]
    spread: tuple[tuple[float, float], tuple[float, float]]


def nothing_to_follow() -> GirderError:
    """For a point that looks like its surroundings."""
    return GirderError(
        "nothing_to_follow",
        "There is nothing at that point that can be told from what is beside it. Stick a dot there, or draw a small "
        "cross, and point at that.",
    )


def recognisable(grey: Grey, point: Array) -> None:
    """Refuses a point that could not be followed: ``nothing_to_follow``, ``point_at_edge``."""
    patch = _patch(grey, point, _half(grey, FINE))
    if float(patch.std()) < CONTRAST or _slack(patch, 2.0 * _noise_of(patch) ** 2) > SLACK_PX:
        raise nothing_to_follow()


def followed(before: Grey, after: Grey, point: Array, guess: Array) -> There:
    """Where what was at a point is now.

    Args:
        before, after: the two pictures, of one size.
        point: where it was [px].
        guess: where it would be if it had not moved of itself [px].
    Errors:
        ``nothing_to_follow``; ``point_at_edge``; ``point_lost`` where nothing near is like it; ``point_unsure`` where
        two places are.
    """
    recognisable(before, point)
    wide, fine = _half(before, WIDE), _half(before, FINE)
    place = _found(before, after, point, guess, wide)
    return _refined(before, after, point, place, fine)


def _half(grey: Grey, share: float) -> int:
    return max(8, round(share * float(max(grey.shape))))


def _patch(grey: Grey, point: Array, half: int) -> Array:
    """What surrounds a point, to fractions of a pixel."""
    tall, wide = grey.shape
    if not (half < point[0] < wide - 1 - half and half < point[1] < tall - 1 - half):
        raise GirderError("point_at_edge", "That point is too near to the rim of the picture to be followed.")
    size = (2 * half + 1, 2 * half + 1)
    return np.asarray(cv2.getRectSubPix(grey, size, (float(point[0]), float(point[1]))), dtype=float)


def _noise_of(patch: Array) -> float:
    """The noise of a pixel, from what differs from the mean of its neighbours (Immerkaer 1996)."""
    mask = np.array([[1, -2, 1], [-2, 4, -2], [1, -2, 1]], dtype=float)
    fine = cv2.filter2D(patch, cv2.CV_64F, mask)[1:-1, 1:-1]
    return max(0.5, float(np.sqrt(np.pi / 2) * np.abs(fine).mean() / 6))


def _normal(patch: Array) -> Array:
    """How steeply a patch changes, summed over it: (2, 2)."""
    down, across = np.gradient(patch)
    return np.array([[float((across * across).sum()), float((across * down).sum())],
                     [float((across * down).sum()), float((down * down).sum())]])  # fmt: skip


def _slack(patch: Array, variance: float) -> float:
    """How far a patch of so much noise may be off in the direction in which it is known worst [px]."""
    least = float(np.linalg.eigvalsh(_normal(patch))[0])
    return float(np.sqrt(WORSE * variance / max(least, 1e-9)))


def _found(before: Grey, after: Grey, point: Array, guess: Array, half: int) -> Array:
    """Where the patch is most alike, to a pixel."""
    reach = _half(before, LOOKED_FOR)
    patch = _patch(before, point, half).astype(np.float32)
    tall, wide = after.shape
    low = np.maximum(np.round(guess).astype(int) - reach - half, 0)
    high = np.minimum(np.round(guess).astype(int) + reach + half + 1, (wide, tall))
    if (high - low < 2 * half + 3).any():
        raise GirderError("point_at_edge", "That point is too near to the rim of the picture to be followed.")
    area = after[low[1] : high[1], low[0] : high[0]].astype(np.float32)
    alike = cv2.matchTemplate(area, patch, cv2.TM_CCOEFF_NORMED)
    best = np.array(np.unravel_index(int(alike.argmax()), alike.shape))
    top = float(alike[best[0], best[1]])
    if top < ALIKE:
        raise GirderError(
            "point_lost",
            "The point that is followed is not to be seen in this picture. Is something before it, or has it gone "
            "farther than its surroundings show?",
        )
    rest = alike.copy()
    y, x = best
    rest[max(0, y - half) : y + half + 1, max(0, x - half) : x + half + 1] = -1
    if float(rest.max()) > RIVAL * top:
        raise GirderError(
            "point_unsure",
            "Two places in this picture look like the point that is followed. Stick a dot there that looks like "
            "nothing else, and begin with a new first picture.",
        )
    return np.asarray(low + half + best[::-1], dtype=float)


def _refined(before: Grey, after: Grey, point: Array, place: Array, half: int) -> There:
    """The same to a fraction of a pixel: turned and moved until it is most alike (Evangelidis and Psarakis 2008)."""
    patch = _patch(before, point, half)
    room = half + 6
    base = np.round(place)
    there = _patch(after, base, room)
    offset = float(room - half)
    begun = np.array([[1, 0, offset], [0, 1, offset]], dtype=np.float32)
    ends = (cv2.TERM_CRITERIA_EPS | cv2.TERM_CRITERIA_COUNT, 60, 1e-6)
    try:
        alike, warp = cv2.findTransformECC(
            patch.astype(np.float32),
            there.astype(np.float32),
            begun,
            cv2.MOTION_EUCLIDEAN,
            ends,
            np.ones(there.shape, np.uint8),
            3,
        )
    except cv2.error:
        raise nothing_to_follow() from None
    at = np.asarray(warp, dtype=float) @ np.array([half, half, 1.0]) - room
    if alike < ALIKE or np.hypot(*at) > 5:
        raise nothing_to_follow()
    aligned = cv2.warpAffine(
        there, np.asarray(warp), (2 * half + 1, 2 * half + 1), flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    )
    # Light may have changed; what else differs is noise.
    lit = np.polyval(np.polyfit(patch.ravel(), aligned.ravel(), 1), patch)
    inner = slice(2, -2)
    variance = max(float((aligned - lit)[inner, inner].var()), 2 * _noise_of(patch) ** 2)
    if _slack(patch, variance) > SLACK_PX:
        raise nothing_to_follow()
    spread = WORSE * variance * np.linalg.inv(_normal(patch)) + LEAST_PX**2 * np.eye(2)
    x, y = base + at
    return There((float(x), float(y)), ((spread[0, 0], spread[0, 1]), (spread[1, 0], spread[1, 1])))
