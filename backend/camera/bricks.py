"""A made-up wall of blocks for pictures to practise with: whole, and what an attack left of it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from camera.scenes import Array, Paint

COURSE_M, BRICK_M, COURSES = 0.052, 0.11, 5
WALL_LONG_M, WALL_HIGH_M = 5 * BRICK_M, COURSES * COURSE_M
HOLE = (1, 2)
"""The block that went through: its course from below, its place from the left."""
LEFT = (5, 6, 4, 4, 2)
"""How many blocks of each course still stand, from the left, the hole among them; those to the right fell."""
_COLOURS = np.array([(0.74, 0.47, 0.36), (0.70, 0.43, 0.33), (0.78, 0.52, 0.40), (0.67, 0.40, 0.31)])


def _edges(course: int) -> NDArray[np.float64]:
    """Where the joints of a course are, its two ends among them [m]."""
    if course % 2 == 0:
        return BRICK_M * np.arange(6.0)
    return np.array([0.0, *(BRICK_M * (np.arange(5) + 0.5)), WALL_LONG_M])


def left_outlines() -> tuple[list[tuple[float, float]], list[tuple[float, float]]]:
    """Once round what the attack left, and once round the hole in it, x to the right and y up [m]."""
    around = [(0.0, 0.0)]
    for course, count in enumerate(LEFT):
        right = float(_edges(course)[count])
        around += [(right, course * COURSE_M), (right, (course + 1) * COURSE_M)]
    around.append((0.0, WALL_HIGH_M))
    course, place = HOLE
    left, right = (float(x) for x in _edges(course)[place : place + 2])
    low, high = course * COURSE_M, (course + 1) * COURSE_M
    # Where two courses end above each other, a corner came twice.
    return list(dict.fromkeys(around)), [(left, low), (right, low), (right, high), (left, high)]


def left_m2() -> float:
    """What the attack left of its face [m²]."""
    hole = float(np.diff(_edges(HOLE[0]))[HOLE[1]])
    return COURSE_M * (sum(float(_edges(course)[count]) for course, count in enumerate(LEFT)) - hole)


def bricks(attacked: bool) -> Paint:
    """The face of the wall, with what is behind it seen through where blocks are gone."""

    def paint(x: Array, y: Array) -> tuple[Array, np.ndarray]:
        colour, there = np.zeros((len(x), 3)), np.zeros(len(x), dtype=bool)
        for course in range(COURSES):
            edges = _edges(course)
            own = (y >= course * COURSE_M) & (y < (course + 1) * COURSE_M) & (x >= 0) & (x < WALL_LONG_M)
            place = np.clip(np.searchsorted(edges, x[own], side="right") - 1, 0, len(edges) - 2)
            stands = np.ones(len(place), dtype=bool)
            if attacked:
                stands = (place < LEFT[course]) & ~((course == HOLE[0]) & (place == HOLE[1]))
            up = y[own] - course * COURSE_M
            near = np.minimum.reduce([up, COURSE_M - up, x[own] - edges[place], edges[place + 1] - x[own]])
            shade = np.where(near < 0.001, 0.72, 1.0)[:, None] * _COLOURS[(3 * course + place) % len(_COLOURS)]
            colour[own], there[own] = shade, stands
        return colour, there

    return paint
