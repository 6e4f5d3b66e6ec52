"""Regions of a picture within several outlines: which of them add up, and which are holes."""

from __future__ import annotations

from itertools import combinations

import numpy as np

from girder_core.ground import GirderError
from girder_core.photo.view import Array


def added_or_holes(outlines: list[Array]) -> list[int]:
    """Whether the inside of each outline counts, or is a hole in what counts.

    Args:
        outlines: the corners of each in order, (n, 2), at least three.
    Returns:
        1 for one that counts, -1 for a hole: it lies within one other, or within three.
    Errors:
        ``corners_cross`` where an edge crosses another one, or two outlines cover the same.
    """
    if any(_crosses(one) for one in outlines):
        raise GirderError("corners_cross", "The edge of that area crosses itself. Go round it once, corner by corner.")
    inner = [_within(one) for one in outlines]
    for (i, one), (j, other) in combinations(enumerate(outlines), 2):
        if _cross(one, other) or (_holds(one, inner[j]) and _holds(other, inner[i])):
            raise GirderError(
                "corners_cross", "Two outlines cross or cover the same. Pull them apart, or draw them as one."
            )
    return [
        (-1) ** sum(_holds(other, inner[i]) for j, other in enumerate(outlines) if j != i) for i in range(len(outlines))
    ]


def _edges(outline: Array) -> list[tuple[Array, Array]]:
    return list(zip(outline, np.roll(outline, -1, axis=0), strict=True))


def _side(a: Array, b: Array, c: Array) -> float:
    return float(np.sign((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])))


def _meet(a: Array, b: Array, c: Array, d: Array) -> bool:
    return _side(a, b, c) * _side(a, b, d) < 0 and _side(c, d, a) * _side(c, d, b) < 0


def _crosses(outline: Array) -> bool:
    edges, n = _edges(outline), len(outline)
    return any(
        _meet(*one, *other) for (i, one), (j, other) in combinations(enumerate(edges), 2) if j - i not in (1, n - 1)
    )


def _cross(one: Array, other: Array) -> bool:
    return any(_meet(*first, *second) for first in _edges(one) for second in _edges(other))


def _across(outline: Array, y: float) -> Array:
    """Where a level line meets an outline, from left to right."""
    begin, end = outline, np.roll(outline, -1, axis=0)
    met = (begin[:, 1] > y) != (end[:, 1] > y)
    (x0, y0), (x1, y1) = begin[met].T, end[met].T
    return np.sort(x0 + (y - y0) / (y1 - y0) * (x1 - x0))


def _within(outline: Array) -> tuple[float, float]:
    """A point inside an outline."""
    levels = np.unique(outline[:, 1])
    if len(levels) < 2:
        return float(outline[:, 0].mean()), float(levels[0])
    y = float(levels[0] + levels[1]) / 2
    left, right = _across(outline, y)[:2]
    return float(left + right) / 2, y


def _holds(outline: Array, point: tuple[float, float]) -> bool:
    """Whether a point lies inside; one on the edge may be either."""
    x, y = point
    return bool((_across(outline, y) < x).sum() % 2)
