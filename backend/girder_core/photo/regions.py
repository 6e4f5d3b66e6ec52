"""Regions of a picture within several outlines: which of them add up, and which are holes."""

from __future__ import annotations

from itertools import combinations

import numpy as np

from girder_core.ground import GirderError
from girder_core.photo.frame import Array

ON_IT_PX = 1e-6
"""A point so near an outline lies on it [px]."""


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
    for one, other in combinations(outlines, 2):
        if _cross(one, other) or _farthest(one, other)[1] <= ON_IT_PX:
            raise GirderError(
                "corners_cross", "Two outlines cross or cover the same. Pull them apart, or draw them as one."
            )
    return [
        (-1) ** sum(_holds(other, _farthest(one, other)[0]) for j, other in enumerate(outlines) if j != i)
        for i, one in enumerate(outlines)
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


def _farthest(one: Array, other: Array) -> tuple[Array, float]:
    """The corner or middle of an edge of one outline that lies farthest from the edge of another, and how far [px].

    Of outlines that do not cross, it tells whether the one lies within the other. A point inside the one would not: it
    may lie in a hole.
    """
    points = np.concatenate([one, (one + np.roll(one, -1, axis=0)) / 2])
    begin, way = other, np.roll(other, -1, axis=0) - other
    from_begin = points[:, None, :] - begin
    share = np.clip((from_begin * way).sum(axis=2) / np.maximum((way**2).sum(axis=1), 1e-12), 0, 1)
    away = np.hypot(*np.moveaxis(from_begin - share[..., None] * way, 2, 0)).min(axis=1)
    best = int(away.argmax())
    return points[best], float(away[best])


def _holds(outline: Array, point: Array) -> bool:
    """Whether a point lies inside; one on the edge may be either."""
    x, y = point
    return bool((_across(outline, y) < x).sum() % 2)
