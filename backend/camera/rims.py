"""Middles of round things: every edge in a picture votes for the middles of circles. For ``camera.counting``."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from camera.detector import Array
from camera.sheet import Colour, resized

PIECE_PX = 16.0
"""Middles are voted for in one so large that a piece has this radius."""
SMALLEST, LARGEST = 0.6, 1.3
"""Middles of circles are voted for from so much of the usual radius to so much."""


@dataclass(frozen=True)
class Votes:
    """What the edges of a picture voted for: for each radius and pixel which share of a rim about it is there.

    Attributes:
        radii: (n,) [px].
        each: (n, height, width), the shares.
        rim: the most of them for each pixel.
    """

    radii: Array
    each: NDArray[np.float32]
    rim: NDArray[np.float32]

    def near(self, x: float, y: float, reach: float) -> float:
        """The most within a square about a place."""
        top, left = max(0, int(y - reach)), max(0, int(x - reach))
        return float(self.rim[top : int(y + reach) + 1, left : int(x + reach) + 1].max(initial=0.0))

    def peaks(self, reach: float, least: float) -> list[tuple[float, float, float, float]]:
        """Places that have more than any within reach: x, y, radius and rim."""
        kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * int(reach) + 1,) * 2)
        rows, columns = np.nonzero((self.rim >= cv2.dilate(self.rim, kernel)) & (self.rim > least))
        return [
            (float(x), float(y), self._outermost(int(x), int(y)), float(self.rim[y, x]))
            for y, x in zip(rows, columns, strict=True)
        ]

    def _outermost(self, x: int, y: int) -> float:
        """The radius about a place: a nut's hole is a circle about the same middle, and smaller."""
        own = self.each[:, y, x]
        return float(self.radii[np.flatnonzero(own >= 0.75 * own.max())[-1]])


def scaled_votes(lab: Colour, radius: float) -> tuple[float, Votes]:
    """How much smaller the picture is that was voted in, and the votes."""
    factor = min(1.0, PIECE_PX / radius)
    return factor, _votes(resized(lab, factor), radius * factor)


def _votes(lab: Colour, radius: float) -> Votes:
    """What the edges vote for, with circles of about a radius."""
    at, across = _edges(lab)
    radii = np.arange(SMALLEST * radius, LARGEST * radius + 0.5, 1.0)
    each = np.array([_voted(at, across, float(one), lab.shape[:2]) for one in radii])
    return Votes(radii, each, each.max(axis=0))


def _edges(lab: Colour) -> tuple[Array, Array]:
    """Places on edges (n, 2) and the directions across them (n, 2), one place for each step along an edge."""
    calm = cv2.GaussianBlur(lab, (0, 0), 1.0)
    gx, gy = (cv2.Sobel(calm, cv2.CV_32F, dx, 1 - dx, ksize=3) / 8 for dx in (1, 0))
    xx, yy, xy = (np.asarray((a * b).sum(axis=-1)) for a, b in ((gx, gx), (gy, gy), (gx, gy)))
    # The direction in which colour changes most, of all three together.
    angle = 0.5 * np.arctan2(2 * xy, xx - yy)
    steep = np.sqrt(np.maximum(0.5 * (xx + yy + np.hypot(xx - yy, 2 * xy)), 0)).astype(np.float32)
    across = np.stack([np.cos(angle), np.sin(angle)], axis=-1).astype(np.float32)
    y, x = np.mgrid[0 : steep.shape[0], 0 : steep.shape[1]].astype(np.float32)
    before, after = (
        cv2.remap(steep, x + sign * across[..., 0], y + sign * across[..., 1], cv2.INTER_LINEAR) for sign in (-1, 1)
    )
    ridge = (steep > max(0.7, 4 * float(np.median(steep)))) & (steep >= before) & (steep >= after)
    rows, columns = np.nonzero(ridge)
    return np.column_stack([columns, rows]).astype(float), across[rows, columns].astype(float)


def _voted(at: Array, across: Array, radius: float, shape: tuple[int, ...]) -> NDArray[np.float32]:
    """For each pixel which share of a rim of this radius about it is there."""
    tall, wide = shape
    votes = np.zeros(tall * wide)
    for sign in (-1, 1):
        x, y = np.rint(at + sign * radius * across).astype(int).T
        inside = (x >= 0) & (x < wide) & (y >= 0) & (y < tall)
        votes += np.bincount(y[inside] * wide + x[inside], minlength=tall * wide)
    spread = 1.6
    calm = cv2.GaussianBlur(votes.reshape(tall, wide).astype(np.float32), (0, 0), spread)
    return np.asarray(calm * (2 * np.pi * spread**2) / (2 * np.pi * radius), dtype=np.float32)


def voted_radius(votes: Votes, reach: float) -> float:
    """The radius that most of the clearest rims have, where no piece lies alone that would tell it."""
    peaks = votes.peaks(reach, max(0.35, 0.6 * float(np.quantile(votes.rim, 0.999))))
    return float(np.median([radius for _, _, radius, _ in peaks])) if peaks else reach / 0.5
