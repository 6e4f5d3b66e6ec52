"""Figures that follow from what check-in measured: an area, once round its edge, the room inside."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from girder_core.measure import Kind, Outline, Quantity

Readings = Mapping[str, Quantity]
Outlines = Mapping[str, Outline]


@dataclass(frozen=True)
class Derived:
    """A figure that is worked out of readings.

    Attributes:
        key, label: stable name; what it is called.
        kind: what it measures.
        how: how it is worked out, in words.
        work: the figure from the readings [SI] and from the shapes that were typed; None where some are missing.
    """

    key: str
    label: str
    kind: Kind
    how: str
    work: Callable[[Readings, Outlines], Quantity | None]


@dataclass(frozen=True)
class WorkedOut:
    """A figure as it came out: its name, kind, value [SI] and how."""

    key: str
    label: str
    kind: Kind
    quantity: Quantity
    how: str


def worked_out(derived: tuple[Derived, ...], readings: Readings, outlines: Outlines) -> tuple[WorkedOut, ...]:
    """Every figure that the readings give.

    Args:
        derived: what a kind of challenge works out.
        readings: what was measured, by key [SI].
        outlines: shapes that were typed, by key of reading.
    Returns:
        The figures that can be worked out, in order.
    """
    found = ((each, each.work(readings, outlines)) for each in derived)
    return tuple(
        WorkedOut(each.key, each.label, each.kind, quantity, each.how)
        for each, quantity in found
        if quantity is not None
    )


def times(*keys: str) -> Callable[[Readings, Outlines], Quantity | None]:
    """Readings multiplied.

    Args:
        keys: which.
    Returns:
        What works the product out; None where one of them is missing.
    """

    def work(readings: Readings, outlines: Outlines) -> Quantity | None:
        product = Quantity(1.0)
        for key in keys:
            if key not in readings:
                return None
            product = product * readings[key]
        return product

    return work


def floor(area: str, length: str, width: str) -> tuple[Derived, Derived]:
    """The area of a floor or deck and its perimeter: of the shape that was typed, else of a rectangle.

    Args:
        area: key of the reading that holds the shape.
        length: key of the reading of the longer side.
        width: key of the reading of the shorter side.
    Returns:
        Both figures.
    """
    sides = times(length, width)

    def size(readings: Readings, outlines: Outlines) -> Quantity | None:
        return readings.get(area) or sides(readings, outlines)

    def around(readings: Readings, outlines: Outlines) -> Quantity | None:
        if area in readings:
            return outlines[area].perimeter if area in outlines else None
        if length not in readings or width not in readings:
            return None
        return (readings[length] + readings[width]) * 2

    return (
        Derived("floor_area", "Area", Kind.AREA, "of the shape that was measured, else length times width", size),
        Derived("perimeter", "Once round the edge", Kind.LENGTH, "the sides added up, or π times a circle", around),
    )


def room(area: str, length: str, width: str, height: str) -> Derived:
    """The room inside: the floor's area times the height.

    Args:
        area: key of the reading that holds the floor's shape; empty where there is none.
        length: key of the reading of the longer side inside.
        width: key of the reading of the shorter side inside.
        height: key of the reading of the height inside.
    Returns:
        The figure.
    """
    sides = times(length, width)

    def work(readings: Readings, outlines: Outlines) -> Quantity | None:
        inside = readings.get(area) or sides(readings, outlines)
        return inside * readings[height] if inside is not None and height in readings else None

    return Derived("room", "Room inside", Kind.VOLUME, "the floor inside times the height inside", work)
