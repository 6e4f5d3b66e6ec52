"""Set-ups drawn to scale: shapes in metres, x to the right and y up, for any surface that can draw them.

Nothing here knows of pixels, colours or paper. A shape's role says what it stands for; who draws it gives the role a
colour, hatching or pattern.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import StrEnum

Point = tuple[float, float]


class Role(StrEnum):
    """What a shape stands for."""

    GROUND = "ground"
    SUPPORT = "support"
    STRUCTURE = "structure"
    LOAD = "load"
    WATER = "water"
    GHOST = "ghost"
    HOLE = "hole"
    FOLD = "fold"
    AXIS = "axis"
    TENSION = "tension"
    COMPRESSION = "compression"
    SLACK = "slack"
    WEAKEST = "weakest"
    ARROW = "arrow"
    GOOD = "good"


@dataclass(frozen=True)
class Shape:
    """Something drawn.

    Attributes:
        kind: ``area`` (closed, filled), ``line``, ``circle`` (centre and radius), ``measure`` (a dimension between
            two points, labelled with its length) or ``label`` (words at a point).
        role: what it stands for.
        points: corners, ends or centre [m].
        radius_m: radius of a circle [m].
        text: for a measure, words in front of the length; else words beside the shape.
        key: name of what is drawn, where it can be picked: a joint, a member.
    """

    kind: str
    role: Role
    points: tuple[Point, ...]
    radius_m: float = 0.0
    text: str = ""
    key: str = ""

    @property
    def length_m(self) -> float:
        """Length of a measure [m]."""
        (x0, y0), (x1, y1) = self.points[0], self.points[-1]
        return float(((x1 - x0) ** 2 + (y1 - y0) ** 2) ** 0.5)


@dataclass(frozen=True)
class Drawing:
    """Shapes that belong together, and what they show, in a sentence for those who cannot see them."""

    shapes: tuple[Shape, ...]
    says: str

    def plain(self) -> Drawing:
        """The same without what it tells of forces and of the weakest place."""
        kept = (shape for shape in self.shapes if shape.role is not Role.WEAKEST)
        bare = (replace(s, role=_TOLD[s.role], text="") if s.role in _TOLD else s for s in kept)
        return Drawing(tuple(bare), "The design, to scale.")

    def box(self) -> tuple[float, float, float, float]:
        """Left, bottom, right and top of all shapes [m]."""
        xs = [x + d for s in self.shapes for x, _ in s.points for d in (-s.radius_m, s.radius_m)]
        ys = [y + d for s in self.shapes for _, y in s.points for d in (-s.radius_m, s.radius_m)]
        return min(xs), min(ys), max(xs), max(ys)


@dataclass(frozen=True)
class Frame:
    """One picture of a film: its drawing, and what is seen, in a sentence."""

    drawing: Drawing
    says: str


@dataclass(frozen=True)
class Film:
    """Drawings that follow each other: what they show in a few words, and the frames, all at one scale."""

    title: str
    frames: tuple[Frame, ...]

    def box(self) -> tuple[float, float, float, float]:
        """Left, bottom, right and top of all frames together [m]."""
        boxes = [frame.drawing.box() for frame in self.frames]
        lefts, bottoms, rights, tops = zip(*boxes, strict=True)
        return min(lefts), min(bottoms), max(rights), max(tops)


_TOLD = {Role.TENSION: Role.STRUCTURE, Role.COMPRESSION: Role.STRUCTURE, Role.SLACK: Role.STRUCTURE}


def area(role: Role, *points: Point) -> Shape:
    """A filled polygon.

    Args:
        role: what it stands for.
        points: its corners in order [m].
    Returns:
        The shape.
    """
    return Shape("area", role, points)


def block(role: Role, left: float, bottom: float, width: float, height: float) -> Shape:
    """An upright rectangle.

    Args:
        role: what it stands for.
        left: x of its left edge [m].
        bottom: y of its lower edge [m].
        width: [m].
        height: [m].
    Returns:
        The shape.
    """
    right, top = left + width, bottom + height
    return Shape("area", role, ((left, bottom), (right, bottom), (right, top), (left, top)))


def line(role: Role, *points: Point) -> Shape:
    """An open line.

    Args:
        role: what it stands for.
        points: its points in order [m].
    Returns:
        The shape.
    """
    return Shape("line", role, points)


def circle(role: Role, centre: Point, radius_m: float) -> Shape:
    """A circle.

    Args:
        role: what it stands for.
        centre: [m].
        radius_m: [m].
    Returns:
        The shape.
    """
    return Shape("circle", role, (centre,), radius_m)


def label(role: Role, at: Point, text: str) -> Shape:
    """Words at a point.

    Args:
        role: what they belong to.
        at: where [m].
        text: the words.
    Returns:
        The shape.
    """
    return Shape("label", role, (at,), text=text)


def arrow(start: Point, end: Point, text: str = "") -> Shape:
    """A force, its point at ``end``.

    Args:
        start: where it comes from [m].
        end: where it acts [m].
        text: words beside it.
    Returns:
        The shape.
    """
    return Shape("line", Role.ARROW, (start, end), text=text)


def measure(start: Point, end: Point, text: str = "") -> Shape:
    """A dimension between two points.

    Args:
        start: one end [m].
        end: the other [m].
        text: words in front of the length.
    Returns:
        The shape; whoever draws it writes the length in the reader's units.
    """
    return Shape("measure", Role.GHOST, (start, end), text=text)
