"""Where a camera stood, and what follows: the way from points of its picture to points of the cards' plane.

A pinhole with square pixels, two terms of radial distortion, and two for a lens that is not square to its picture
(Hartley and Zisserman 2004, chapters 6 and 7; Brown 1966). How well each of its parameters is known goes along with it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from girder_core.photo.cards import Card, set_of
from girder_core.photo.frame import Array, Frame
from girder_core.photo.lens import CALIBRATED, UNLIKELY, Lens

LENS, GROWTH, CARDS = 6, 13, 14
"""First of the parameters of the lens, before which stand the camera's turn and its place, of the growth of the marks,
and of the further cards."""
FOCAL, BENDS, MIDDLE, ASKEW = 6, slice(7, 9), slice(9, 11), slice(11, 13)
"""The lens: the logarithm of its focal length [px], its two terms of radial distortion, its middle [px], and the two
terms of one that is not square to its picture."""


@dataclass(frozen=True, eq=False)
class View:
    """Where a camera stood, and what follows: the way from points of the picture to points of the cards' plane.

    The plane's origin is the middle of its first card, x to that card's right, y up along it, z out of it.

    Attributes:
        frame: the picture.
        cards: those that it rests on, the one first whose plane it is.
        read: ids of the marks that it rests on.
        left_out: ids of marks that did not fit to the others.
        noise_px: how far off the corners are [px].
        known: the parameters: turn (3), place (across and down as shares of how far ahead, and the logarithm of that),
            logarithm of the focal length [px], two terms of distortion, middle of the lens (2) [px], two terms of a
            lens askew, growth of the marks [m], and for each further card its place (2) [m] and turn.
        covariance: of these.
        start: (3, 3) the turn that the fit began with.
        lens: the calibrated one that it rests on, too; None for none.
        through_another: whether there was one that this picture cannot have been taken through.
    """

    frame: Frame
    cards: tuple[Card, ...]
    read: tuple[int, ...]
    left_out: tuple[int, ...]
    noise_px: float
    known: Array
    covariance: Array
    start: Array = field(repr=False)
    lens: Lens | None = None
    through_another: bool = False

    def points(self, pixels: Array, height_m: Array | float = 0.0, known: Array | None = None) -> Array:
        """Where points of the picture lie, in a plane parallel to that of the cards.

        Args:
            pixels: (n, 2) points of the picture [px].
            height_m: of the plane that they lie in, out of the cards' plane towards the camera [m]; one or n.
            known: parameters to use instead of the view's own.
        Returns:
            (n, 2) x and y [m], as if the cards were printed at their size.
        """
        theta = self.known if known is None else known
        turn = turned(theta) @ self.start
        seen = straight(pixels, theta, self.frame) - self.frame.middle - theta[MIDDLE]
        rays = np.column_stack([seen / math.exp(theta[FOCAL]), np.ones(len(pixels))]) @ turn
        place = placed(theta) @ turn
        along = (height_m + place[2]) / rays[:, 2]
        points: Array = along[:, None] * rays - place
        return points[:, :2]

    def pixels(self, points: Array) -> Array:
        """Where points of the cards' plane are in the picture: (n, 2) or (n, 3) [m] to (n, 2) [px]."""
        flat = np.column_stack([points, np.zeros(len(points))]) if points.shape[1] == 2 else points
        meant = pinhole(flat, self.known, self.start) + self.frame.middle + self.known[MIDDLE]
        bent = meant.copy()
        for _ in range(30):
            bent = bent - (straight(bent, self.known, self.frame) - meant)
        return bent

    def shows(self, points: Array) -> NDArray[np.bool_]:
        """Which points of the plane, (n, 2) [m], are in the picture."""
        turn = turned(self.known) @ self.start
        there = np.column_stack([points, np.zeros(len(points))]) @ turn.T + placed(self.known)
        # Roughly first: far outside the picture, a lens that was fitted inside of it may do anything.
        near = there[:, 2] > 0.1 * self.away_m
        flat = there[:, :2] / np.where(near, there[:, 2], 1.0)[:, None] * math.exp(self.known[FOCAL])
        near &= (np.abs(flat) < 0.75 * np.array([self.frame.width_px, self.frame.height_px])).all(axis=1)
        if near.any():
            pixels = self.pixels(points[near])
            size = (self.frame.width_px - 1, self.frame.height_px - 1)
            near[near] = ((pixels >= 0) & (pixels <= size)).all(axis=1)
        return np.asarray(near, dtype=np.bool_)

    def on_plane(self, card: int, points: Array) -> Array:
        """From a card's own x and y, (n, 2) [m], to the plane's; ``card`` is its place among ``cards``."""
        x, y, turn = self._laid(card)
        c, s = math.cos(turn), math.sin(turn)
        placed: Array = points @ np.array([[c, s], [-s, c]]) + (x, y)
        return placed

    def on_card(self, card: int, points: Array) -> Array:
        """The way back: from the plane's x and y to a card's own."""
        x, y, turn = self._laid(card)
        c, s = math.cos(turn), math.sin(turn)
        own: Array = (points - (x, y)) @ np.array([[c, -s], [s, c]])
        return own

    def _laid(self, card: int) -> tuple[float, float, float]:
        if card == 0:
            return 0.0, 0.0, 0.0
        x, y, turn = self.known[CARDS + 3 * (card - 1) : CARDS + 3 * card]
        return float(x), float(y), float(turn)

    @cached_property
    def tilt_rad(self) -> float:
        """How far the camera looked aside, from straight onto the plane, at its first card [rad]."""
        turn = turned(self.known) @ self.start
        place = placed(self.known)
        return math.acos(min(1.0, abs(float(place @ turn[:, 2])) / float(np.linalg.norm(place))))

    @cached_property
    def away_m(self) -> float:
        """From the camera to the first card [m], as if the cards were printed at their size."""
        return float(np.linalg.norm(placed(self.known)))

    @property
    def set_number(self) -> int:
        """The set of its cards."""
        return set_of(self.cards[0].marks[0].id) or 0

    @cached_property
    def spread(self) -> Array:
        """What the parameters may be off by: columns, each independent of the others."""
        return columns_of(self.covariance)

    @cached_property
    def spread_with_lens(self) -> Array:
        """The same if the lens were known."""
        lens = np.arange(LENS, GROWTH)
        given = np.linalg.pinv(self.covariance[np.ix_(lens, lens)])
        across = self.covariance[:, lens]
        return columns_of(self.covariance - across @ given @ across.T)

    @cached_property
    def told_of_lens(self) -> tuple[Array, Array]:
        """What the picture says of its lens: (3,) as ``Lens.known`` has it, and (3, 3) its covariance."""
        own = slice(LENS, LENS + CALIBRATED)
        known = self.known[own].copy()
        known[0] -= math.log(self.frame.long_px)
        return known, self.covariance[own, own]

    def can_be_through(self, lens: Lens) -> bool:
        """Whether the picture can have been taken through a lens, which this view does not rest on.

        One of another shape or camera was not, nor one that is farther from it than chance makes it: through another
        lens of the same tablet, zoomed, or cut. By Mahalanobis' distance against the chi-squared distribution (Johnson
        and Wichern 2007, chapter 4, from memory).
        """
        known, covariance = self.told_of_lens
        off = known - lens.known
        far = float(off @ np.linalg.solve(covariance + lens.in_one_picture(), off))
        return lens.takes(self.frame) and far < UNLIKELY

    def before_camera(self, pixels: Array) -> bool:
        """Whether all points of the picture meet the cards' plane before the camera, and not far beyond the cards."""
        turn = turned(self.known) @ self.start
        there = np.column_stack([self.points(pixels), np.zeros(len(pixels))]) @ turn.T + placed(self.known)
        return bool((there[:, 2] > 0.02).all() and (there[:, 2] < 20 * self.away_m).all())


def turned(theta: Array) -> Array:
    """The camera's turn from where a fit began; written out, because a fit asks for it a thousand times.

    Args:
        theta: the parameters of a view, as ``View.known`` has them.
    Returns:
        (3, 3) the turn about the first three of them, by their length [rad].
    Source:
        Rodrigues' formula.
    """
    x, y, z = (float(part) for part in theta[:3])
    angle = math.sqrt(x * x + y * y + z * z)
    across = np.array([[0.0, -z, y], [z, 0.0, -x], [-y, x, 0.0]])
    if angle < 1e-8:
        return np.asarray(np.eye(3) + across)
    bend = (1 - math.cos(angle)) / angle**2
    turn = np.eye(3) + math.sin(angle) / angle * across + bend * (across @ across)
    return np.asarray(turn, dtype=float)


def placed(theta: Array) -> Array:
    """Where the plane's origin is before the camera.

    Focal length and distance, which a picture taken squarely cannot tell apart, make one straight direction as
    logarithms; so the uncertainty of their ratio is not made of two large ones.

    Args:
        theta: the parameters of a view.
    Returns:
        (3,) to the right, down and ahead [m].
    """
    ahead = math.exp(theta[5])
    return np.array([theta[3] * ahead, theta[4] * ahead, ahead])


def columns_of(covariance: Array) -> Array:
    """What parameters may be off by.

    Args:
        covariance: theirs.
    Returns:
        Columns, each independent of the others, whose squares add up to it.
    """
    values, vectors = np.linalg.eigh(covariance)
    columns: Array = vectors * np.sqrt(np.maximum(values, 0.0))
    return columns


def straight(pixels: Array, theta: Array, frame: Frame) -> Array:
    """Points of a picture as a lens without distortion would show them.

    Args:
        pixels: (n, 2) points [px].
        theta: the parameters of a view.
        frame: the picture.
    Returns:
        (n, 2) points [px].
    Source:
        Brown (1966), two radial terms and two of decentring, from the picture to the ray.
    """
    middle, (one, two), askew = frame.middle + theta[MIDDLE], theta[BENDS], theta[ASKEW]
    off = (pixels - middle) / frame.half_diagonal_px
    r2 = (off**2).sum(axis=1, keepdims=True)
    bent = off * (1 + one * r2 + two * r2**2 + 2 * (off @ askew)[:, None]) + r2 * askew
    unbent: Array = middle + frame.half_diagonal_px * bent
    return unbent


def pinhole(points: Array, theta: Array, start: Array) -> Array:
    """Where points before a camera are in its picture, without distortion.

    Args:
        points: (n, 3) in the plane's frame [m].
        theta: the parameters of a view.
        start: (3, 3) the turn that a fit began with.
    Returns:
        (n, 2) from the middle of the lens [px].
    """
    there = points @ (turned(theta) @ start).T + placed(theta)
    flat: Array = there[:, :2] / np.maximum(there[:, 2:], 1e-6) * math.exp(theta[FOCAL])
    return flat
