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
    """A camera: its turn, its place, its focal length [px], and its distortion after Brown (1966): k1, k2, p1, p2."""

    turn: Array
    place: Array
    focal_px: float = 3300.0
    k1: float = 0.0
    k2: float = 0.0
    p1: float = 0.0
    p2: float = 0.0
    frame: Frame = TWELVE_MEGAPIXELS

    def sees(self, points: Array) -> Array:
        """Pixels of points (n, 3) [m] of the cards' frame, x right, y up, z towards the camera."""
        there = points @ self.turn.T + self.place
        flat = there[:, :2] / there[:, 2:]
        r2 = (flat**2).sum(axis=1, keepdims=True)
        askew = np.array([self.p2, self.p1])
        bent = flat * (1 + self.k1 * r2 + self.k2 * r2**2 + 2 * (flat @ askew)[:, None]) + r2 * askew
        return np.asarray(self.frame.middle + self.focal_px * bent)

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


def lens_drawn(chance: np.random.Generator) -> dict[str, float]:
    """A tablet's lens: what ``eye`` takes of it."""
    return {"focal_px": chance.uniform(2600, 4400), "k1": chance.uniform(-0.1, 0.1), "k2": chance.uniform(-0.02, 0.02)}


def focused(lens: dict[str, float], chance: np.random.Generator) -> dict[str, float]:
    """The same as it is in one picture, focused nearer or farther away: by as much as ``lens.FOCUSED`` has it."""
    longer = math.exp(chance.normal(0.0, 0.01))
    # The terms are of half the diagonal; k1 is of one focal length. The second term hardly changes by itself.
    nearer = chance.normal(0.0, 0.002) * (lens["focal_px"] / TWELVE_MEGAPIXELS.half_diagonal_px) ** 2
    return {**lens, "focal_px": lens["focal_px"] * longer, "k1": lens["k1"] - nearer}


def for_calibration(
    lens: dict[str, float], chance: np.random.Generator, count: int, wide: float = 0.6, frame: Frame = TWELVE_MEGAPIXELS
) -> list[tuple[list[Seen], Frame]]:
    """Pictures of a card that lies flat, from above and, tilted by about so much [rad], from all sides."""
    sides = [0.0, *[wide] * 4, *[0.75 * wide] * 20]
    made: list[tuple[list[Seen], Frame]] = []
    while len(made) < count:
        n = len(made)
        round_ = (n - 1 + (0.5 if n > 4 else 0.0)) * math.pi / 2 + chance.uniform(-0.3, 0.3)
        # Along the longer side, and across it for every other picture.
        camera = eye(
            chance.uniform(0.27, 0.42), abs(sides[n] + chance.uniform(-0.1, 0.1)), round_,
            (math.pi / 2 if n % 2 else 0.0) + chance.uniform(-0.2, 0.2), frame=frame, **focused(lens, chance),
        )  # fmt: skip
        card = Laid(cards(1)[0], float(chance.uniform(-0.08, 0.08)), float(chance.uniform(-0.06, 0.06)))
        if camera.all_inside(card.points()):
            made.append((seen(camera, [card], 0.08, int(chance.integers(2**31))), frame))
    return made
