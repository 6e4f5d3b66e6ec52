"""Where the ends of what is measured probably are: the outermost straight edges that run across the way of measuring.

Proposed, never decided: somebody looks, and moves them.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from enum import StrEnum

import numpy as np

from girder_core.photo.cards import PAPER_M
from girder_core.photo.view import Array, View

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
    upright = run is Run.UPRIGHT
    if run is Run.BETWEEN:
        at = _between_cards(view, at)
    along, across = (1, 0) if upright else (0, 1)
    if len(at) == 0:
        return None
    ways = at[:, 1] - at[:, 0]
    lengths = np.hypot(ways[:, 0], ways[:, 1])
    ends = (np.arctan2(np.abs(ways[:, along]), np.abs(ways[:, across])) < ASKEW_RAD) & (lengths > LEAST_M)
    at = at[ends]
    best: tuple[float, Array, Array] | None = None
    for i, one in enumerate(at):
        for other in at[i + 1 :]:
            low, high = (one, other) if one[:, along].mean() < other[:, along].mean() else (other, one)
            begins = max(low[:, across].min(), high[:, across].min())
            stops = min(low[:, across].max(), high[:, across].max())
            if stops - begins < LEAST_M / 2:
                continue
            apart = float(high[:, along].mean() - low[:, along].mean())
            if best is None or apart > best[0]:
                middle = (begins + stops) / 2
                best = (apart, _on(low, middle, across), _on(high, middle, across))
    if best is None or best[0] < LEAST_M:
        return None
    foot, top = view.pixels(np.array([best[1], best[2]]))
    return (float(foot[0]), float(foot[1])), (float(top[0]), float(top[1]))


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
