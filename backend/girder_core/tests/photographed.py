"""Made-up views of scale cards: corners where a camera of OpenCV's model would see them, with noise. No pictures."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.spatial.transform import Rotation

from girder_core.photo import Card, Frame, Seen, cards

Array = NDArray[np.float64]
TWELVE_MEGAPIXELS = Frame(4000, 3000)


@dataclass(frozen=True)
class Eye:
    """A camera: its turn, its place, its focal length [px], and its distortion after Brown (1966), k1 and k2."""

    turn: Array
    place: Array
    focal_px: float = 3300.0
    k1: float = 0.0
    k2: float = 0.0
    frame: Frame = TWELVE_MEGAPIXELS

    def sees(self, points: Array) -> Array:
        """Pixels of points (n, 3) [m] of the cards' frame, x right, y up, z towards the camera."""
        there = points @ self.turn.T + self.place
        flat = there[:, :2] / there[:, 2:]
        r2 = (flat**2).sum(axis=1, keepdims=True)
        return np.asarray(self.frame.middle + self.focal_px * flat * (1 + self.k1 * r2 + self.k2 * r2**2))

    def all_inside(self, points: Array) -> bool:
        pixels = self.sees(points)
        return bool((pixels > 20).all() and (pixels < (self.frame.width_px - 20, self.frame.height_px - 20)).all())


def eye(away_m: float, tilt_rad: float = 0.0, round_rad: float = 0.0, roll_rad: float = 0.0, **more: Any) -> Eye:
    """A camera that looks at the origin from so far away, tilted about an axis in the cards' plane."""
    upright = Rotation.from_rotvec([math.pi, 0, 0])
    tilt = Rotation.from_rotvec(tilt_rad * np.array([math.cos(round_rad), math.sin(round_rad), 0]))
    turn = (tilt * Rotation.from_rotvec([0, 0, roll_rad]) * upright).as_matrix()
    return replace(Eye(turn, np.array([0, 0, away_m])), **more)


@dataclass(frozen=True)
class Laid:
    """A card in the plane: where its middle is [m], and its turn [rad]."""

    card: Card
    x: float = 0.0
    y: float = 0.0
    turn: float = 0.0

    def points(self) -> Array:
        """Its corners, mark by mark (4 n, 3) [m]."""
        c, s = math.cos(self.turn), math.sin(self.turn)
        flat = np.array([mark.corners for mark in self.card.marks]).reshape(-1, 2)
        return np.column_stack([flat @ np.array([[c, s], [-s, c]]) + (self.x, self.y), np.zeros(len(flat))])


def seen(camera: Eye, laid: Sequence[Laid], noise_px: float = 0.0, seed: int = 0, printed: float = 1.0) -> list[Seen]:
    """What the camera sees of cards, printed larger or smaller than meant."""
    chance = np.random.default_rng(seed)
    marks = []
    for one in laid:
        middle = np.array([one.x, one.y, 0.0])
        pixels = camera.sees(middle + printed * (one.points() - middle))
        pixels = pixels + chance.normal(0.0, noise_px, pixels.shape) if noise_px else pixels
        for mark, corners in zip(one.card.marks, pixels.reshape(-1, 4, 2), strict=True):
            marks.append(Seen(mark.id, tuple((float(x), float(y)) for x, y in corners)))
    return marks


def pair(camera: Eye, *points: tuple[float, float, float]) -> tuple[tuple[float, float], ...]:
    """Where points are in the picture."""
    return tuple((float(x), float(y)) for x, y in camera.sees(np.array(points, dtype=float)))


def standing(number: int = 1) -> Laid:
    """The sheet of a set, in the middle of the plane."""
    return Laid(cards(number)[0])
