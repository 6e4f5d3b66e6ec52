"""Where a camera stood, and what follows: the way from points of its picture to points of the cards' plane.

A pinhole with square pixels and two terms of radial distortion (Hartley and Zisserman 2004, chapters 6 and 7). How well
each of its parameters is known goes along with it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from girder_core.photo.cards import Card, set_of

Array = NDArray[np.float64]

LENS, GROWTH, CARDS = 6, 11, 12
"""First of the parameters of the lens, before which stand the camera's turn and its place, of the growth of the marks,
and of the further cards."""


@dataclass(frozen=True)
class Seen:
    """A mark in a picture: its id and its corners [px], from its own top left one clockwise, x right and y down."""

    id: int
    corners: tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class Frame:
    """The picture that marks were seen in.

    Attributes:
        width_px, height_px: its size.
        focal_px: the focal length that the camera told [px]; None where nobody knows it.
    """

    width_px: int
    height_px: int
    focal_px: float | None = None

    @property
    def middle(self) -> Array:
        """Its middle [px]; whole numbers are the middles of pixels."""
        return np.array([(self.width_px - 1) / 2, (self.height_px - 1) / 2])

    @property
    def half_diagonal_px(self) -> float:
        """From its middle to a corner [px]."""
        return math.hypot(self.width_px, self.height_px) / 2


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
            logarithm of the focal length [px], two terms of distortion, middle of the lens (2), growth of the marks
            [m], and for each further card its place (2) [m] and turn.
        covariance: of these.
    """

    frame: Frame
    cards: tuple[Card, ...]
    read: tuple[int, ...]
    left_out: tuple[int, ...]
    noise_px: float
    known: Array
    covariance: Array
    start: Array = field(repr=False)

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
        seen = straight(pixels, theta, self.frame) - self.frame.middle - theta[9:11]
        rays = np.column_stack([seen / math.exp(theta[6]), np.ones(len(pixels))]) @ turn
        place = placed(theta) @ turn
        along = (height_m + place[2]) / rays[:, 2]
        points: Array = along[:, None] * rays - place
        return points[:, :2]

    def pixels(self, points: Array) -> Array:
        """Where points of the cards' plane are in the picture: (n, 2) or (n, 3) [m] to (n, 2) [px]."""
        flat = np.column_stack([points, np.zeros(len(points))]) if points.shape[1] == 2 else points
        meant = pinhole(flat, self.known, self.start) + self.frame.middle + self.known[9:11]
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
        flat = there[:, :2] / np.where(near, there[:, 2], 1.0)[:, None] * math.exp(self.known[6])
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
        Brown (1966), two terms, from the picture to the ray.
    """
    middle = frame.middle + theta[9:11]
    off = (pixels - middle) / frame.half_diagonal_px
    r2 = (off**2).sum(axis=1, keepdims=True)
    unbent: Array = middle + frame.half_diagonal_px * off * (1 + theta[7] * r2 + theta[8] * r2**2)
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
    flat: Array = there[:, :2] / np.maximum(there[:, 2:], 1e-6) * math.exp(theta[6])
    return flat
