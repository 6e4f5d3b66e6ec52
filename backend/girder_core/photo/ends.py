"""Where the ends of what is measured, or its corners, probably are: the outermost straight edges across and along.

Proposed, never decided: somebody looks, and moves them.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from enum import StrEnum

import numpy as np

from girder_core.photo.cards import PAPER_M
from girder_core.photo.frame import Array
from girder_core.photo.view import View

ASKEW_RAD = math.radians(12)
"""An edge that runs farther off is no end [rad]; ours."""
LEAST_M = 0.012
"""Shorter edges are grain, print and shadow [m]; ours."""

Segment = tuple[float, float, float, float]
Ends = tuple[tuple[float, float], tuple[float, float]]


class Run(StrEnum):
    """How something that is measured runs: along the first card's upright direction, across it, or across between two
    cards, as a gap does between supports."""

    UPRIGHT = "upright"
    ACROSS = "across"
    BETWEEN = "between"


def proposed_ends(view: View, segments: Sequence[Segment], run: Run) -> Ends | None:
    """The two ends of a height, a width or a gap.

    Args:
        view: where the camera stood.
        segments: straight edges in its picture, (x, y, x, y) [px].
        run: how it runs.
    Returns:
        Two points of the picture [px], the foot or the left one first; None where no two edges go together.
    """
    at = edges_of(view, segments)
    if run is Run.BETWEEN:
        at = _between_cards(view, at)
    along = 1 if run is Run.UPRIGHT else 0
    outermost = _outermost(at, along)
    if outermost is None:
        return None
    low, high, middle = outermost
    foot, top = view.pixels(np.array([_on(edge, middle, 1 - along) for edge in (low, high)]))
    return (float(foot[0]), float(foot[1])), (float(top[0]), float(top[1]))


def proposed_corners(view: View, segments: Sequence[Segment]) -> tuple[tuple[float, float], ...]:
    """The four corners of an area that is bounded by its outermost edges: a wall, a deck, a floor.

    Args:
        view: where the camera stood.
        segments: straight edges in its picture, (x, y, x, y) [px].
    Returns:
        Four points of the picture [px], once round from the left foot; none where no two pairs of edges go together.
    """
    at = edges_of(view, segments)
    sides, ends = _outermost(at, 0), _outermost(at, 1)
    if sides is None or ends is None:
        return ()
    left, right, foot, top = sides[0], sides[1], ends[0], ends[1]
    corners = [_met(side, end) for side, end in ((left, foot), (right, foot), (right, top), (left, top))]
    return tuple((float(x), float(y)) for x, y in view.pixels(np.array(corners)))


def _outermost(at: Array, along: int) -> tuple[Array, Array, float] | None:
    """The two edges farthest apart that run across a way and have a stretch beside each other, and its middle.

    ``along`` is 0 for from left to right and 1 for from foot to top.
    """
    if len(at) == 0:
        return None
    across = 1 - along
    ways = at[:, 1] - at[:, 0]
    lengths = np.hypot(ways[:, 0], ways[:, 1])
    ends = (np.arctan2(np.abs(ways[:, along]), np.abs(ways[:, across])) < ASKEW_RAD) & (lengths > LEAST_M)
    at = at[ends]
    best: tuple[float, Array, Array, float] | None = None
    for i, one in enumerate(at):
        for other in at[i + 1 :]:
            low, high = (one, other) if one[:, along].mean() < other[:, along].mean() else (other, one)
            begins = max(low[:, across].min(), high[:, across].min())
            stops = min(low[:, across].max(), high[:, across].max())
            if stops - begins < LEAST_M / 2:
                continue
            apart = float(high[:, along].mean() - low[:, along].mean())
            if best is None or apart > best[0]:
                best = (apart, low, high, (begins + stops) / 2)
    return None if best is None or best[0] < LEAST_M else best[1:]


def _between_cards(view: View, at: Array) -> Array:
    """The edges that lie between the outermost two cards; none where there is one card."""
    middles = [float(view.on_plane(i, np.zeros((1, 2)))[0, 0]) for i in range(len(view.cards))]
    left, right = min(middles), max(middles)
    return at[(at[:, :, 0] > left).all(axis=1) & (at[:, :, 0] < right).all(axis=1)]


def edges_of(view: View, segments: Sequence[Segment]) -> Array:
    """Straight edges in the plane of the cards, without those of the cards themselves.

    Args:
        view: where the camera stood.
        segments: edges in its picture, (x, y, x, y) [px].
    Returns:
        (n, 2, 2) both ends of each, x and y [m], as if the cards were printed at their size.
    """
    pairs = np.array(segments, dtype=float).reshape(-1, 2, 2)
    near = [pair for pair in pairs if view.before_camera(pair)]
    if not near:
        return np.empty((0, 2, 2))
    at = view.points(np.concatenate(near)).reshape(-1, 2, 2)
    middles = at.mean(axis=1)
    free = np.ones(len(at), dtype=bool)
    for i, card in enumerate(view.cards):
        own = view.on_card(i, middles)
        # Its paper ends there too.
        paper = (card.width_m / 2 + 2 * PAPER_M, card.height_m / 2 + 2 * PAPER_M)
        free &= (np.abs(own) > paper).any(axis=1)
    return at[free]


def _on(edge: Array, where: float, across: int) -> Array:
    """The point of an edge at a place across the way."""
    (a, b) = edge
    share = (where - a[across]) / (b[across] - a[across])
    point: Array = a + share * (b - a)
    return point


def _met(one: Array, other: Array) -> Array:
    """Where the lines of two edges meet."""
    ways = np.column_stack([one[1] - one[0], other[0] - other[1]])
    share = np.linalg.solve(ways, other[0] - one[0])[0]
    point: Array = one[0] + share * (one[1] - one[0])
    return point
