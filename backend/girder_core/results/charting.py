"""Result charts as shapes, with their answer in words and their figures as a table, for any surface that can draw them.

A chart is laid out in its own units, x to the right and y down; screen and paper draw the same shapes. What a shape
says is its ink (known, not known, a verdict, a team's); who draws it gives the ink a colour, a pattern or a line. Marks
and lines of a team carry the key of the design, by which who draws finds the team's mark and colour.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from enum import StrEnum

from girder_core.ground import GirderError
from girder_core.measure import COVERAGE_FACTOR, Kind, Quantity, System, format_mass, units
from girder_core.results.rules import Rules, School

Point = tuple[float, float]


class Ink(StrEnum):
    """What a shape of a chart says, and by that how it is drawn."""

    KNOWN = "known"
    UNKNOWN = "unknown"
    GRID = "grid"
    AXIS = "axis"
    TARGET = "target"
    GAP = "gap"
    TEAM = "team"
    TEAM_OPEN = "team_open"
    TEAM_SURE = "team_sure"
    MEAN = "mean"
    SPREAD = "spread"
    TRIAL = "trial"
    TRIAL_OPEN = "trial_open"
    SAID = "said"
    MODEL = "model"
    COUNTED = "counted"
    FITTED = "fitted"
    WORDS = "words"
    SOFT = "soft"
    FIRST = "first"
    ON_BAR = "on_bar"
    SURE = "sure"
    UNSURE = "unsure"


INKS: Mapping[str, frozenset[Ink]] = {
    "area": frozenset({Ink.KNOWN, Ink.UNKNOWN, Ink.SPREAD, Ink.COUNTED, Ink.MODEL}),
    "circle": frozenset({Ink.SAID, Ink.TRIAL, Ink.TRIAL_OPEN}),
    "line": frozenset({Ink.GRID, Ink.AXIS, Ink.TARGET, Ink.GAP, Ink.MEAN, Ink.FITTED, Ink.TEAM, Ink.TEAM_OPEN,
                       Ink.TEAM_SURE}),
    "words": frozenset({Ink.WORDS, Ink.SOFT, Ink.FIRST, Ink.ON_BAR, Ink.SURE, Ink.UNSURE}),
    "mark": frozenset({Ink.TEAM}),
}  # fmt: skip
"""What each kind of shape can say; every surface knows how to draw these and no others."""


@dataclass(frozen=True)
class Drawn:
    """Something drawn in a chart.

    Attributes:
        kind: ``area`` (closed), ``line``, ``circle``, ``words`` at a point, or ``mark`` of a team at a point.
        ink: what it says.
        points: corners, ends, centre or place, in the units of the chart.
        size: radius of a circle, height of words, width of a mark, in the units of the chart.
        text: the words.
        anchor: where words stand to their place: ``start``, ``middle``, ``end``.
        bold: whether words are strong.
        key: the design whose mark or colour it has; empty for none.
        why: of words that are a figure, which one and of what, to ask how it came about: "result:12"; else empty.
    """

    kind: str
    ink: Ink
    points: tuple[Point, ...]
    size: float = 0.0
    text: str = ""
    anchor: str = "start"
    bold: bool = False
    key: str = ""
    why: str = ""

    def __post_init__(self) -> None:
        if self.ink not in INKS[self.kind]:
            raise GirderError("ink_not_for_shape", f"A shape of the kind “{self.kind}” cannot say “{self.ink}”.")


@dataclass(frozen=True)
class Chart:
    """A chart.

    Attributes:
        key: stable name, also of its file.
        title: the question it answers; empty where the page says it.
        says: the answer.
        legend: what its inks mean.
        shows: what it shows, in a few words for those who cannot see it.
        width, height: its size in its own units.
        drawn: its shapes, those behind first.
        head, rows: the same figures as a table.
    """

    key: str
    title: str
    says: str
    legend: str
    shows: str
    width: float
    height: float
    drawn: tuple[Drawn, ...]
    head: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]


@dataclass(frozen=True)
class Axis:
    """The unit in which scores are drawn: how much one of it is in the score's own unit, and its symbol."""

    unit: float
    symbol: str

    def text(self, value: float) -> str:
        """A score with the symbol, to three figures."""
        return f"{figures(value / self.unit, 3)} {self.symbol}".strip()


def axis_of(rules: Rules, system: System = System.METRIC) -> Axis:
    """The axis on which scores are drawn.

    Args:
        rules: the rules under which they were scored.
        system: units for masses and lengths.
    Returns:
        The axis.
    """
    us = system is System.US
    length = Axis(units.si_per("in", Kind.LENGTH), "in") if us else Axis(0.001, "mm")
    mass = Axis(units.si_per("lb", Kind.MASS), "lb") if us else Axis(1.0, "kg")
    plain = {
        School.STRENGTH_TO_WEIGHT: Axis(1.0, "×"),
        School.THRESHOLD: Axis(1.0, "× target"),
        School.TALLEST: length,
        School.SURVIVED: length if rules.survived_kind is Kind.LENGTH else Axis(1.0, ""),
        School.CAPACITY: Axis(1.0, "pieces"),
        School.LEFT_STANDING: Axis(0.01, "%"),
        School.SPARED: Axis(1.0, "blocks left over"),
        School.FOR_ITS_PIECES: Axis(0.1, "for ten blocks"),
        School.MIX: Axis(1.0, "points"),
    }
    return plain.get(rules.school, mass)


def ticks(most: float, wanted: int = 6) -> tuple[float, ...]:
    """Round numbers for an axis.

    Args:
        most: the end of the axis [any unit].
        wanted: about how many there should be.
    Returns:
        From zero up, in steps of 1, 2 or 5 times a power of ten.
    """
    if not most > 0 or not math.isfinite(most):
        return (0.0,)
    power = 10.0 ** math.floor(math.log10(most / wanted))
    step = next(step * power for step in (1, 2, 5, 10) if step * power >= most / wanted * (1 - 1e-9))
    return tuple(float(f"{i * step:.12g}") for i in range(math.floor(most / step + 1e-9) + 1))


def grouped(value: float) -> str:
    """A round number, its thousands apart.

    Args:
        value: the number.
    Returns:
        Such as "1 200", "0.05".
    """
    return f"{value:,.12g}".replace(",", " ")


def figures(value: float, digits: int) -> str:
    """A number to so many figures, without a power of ten.

    Args:
        value: the number.
        digits: how many figures.
    Returns:
        The text.
    """
    return f"{float(f'{value:.{digits}g}'):.12g}"


def long_of(text: str, size: float) -> float:
    """About how much room words take, rather more than less.

    Args:
        text: the words.
        size: their height, in the units of the chart.
    Returns:
        Their length, in the units of the chart.
    """
    return 0.55 * size * len(text)


def write(
    ink: Ink,
    x: float,
    y: float,
    text: str,
    size: float = 15.0,
    anchor: str = "start",
    bold: bool = False,
    why: str = "",
) -> Drawn:
    """Words at a point.

    Args:
        ink: what they say.
        x: where they stand.
        y: their base line.
        text: the words.
        size: their height.
        anchor: how they stand to ``x``.
        bold: whether they are strong.
        why: which figure they are, where one can ask how it came about.
    Returns:
        The shape.
    """
    return Drawn("words", ink, ((x, y),), size, text, anchor, bold, why=why)


def block(ink: Ink, left: float, top: float, right: float, bottom: float) -> Drawn:
    """An upright rectangle.

    Args:
        ink: what it says.
        left: its left edge.
        top: its upper edge.
        right: its right edge.
        bottom: its lower edge.
    Returns:
        The shape.
    """
    return Drawn("area", ink, ((left, top), (right, top), (right, bottom), (left, bottom)))


def line(ink: Ink, *points: Point, key: str = "") -> Drawn:
    """An open line.

    Args:
        ink: what it says.
        points: its points in order.
        key: the design in whose colour it is; empty for none.
    Returns:
        The shape.
    """
    return Drawn("line", ink, points, key=key)


def team_mark(x: float, y: float, size: float, key: str) -> Drawn:
    """A team's mark.

    Args:
        x: its middle.
        y: its middle.
        size: its width.
        key: the design.
    Returns:
        The shape.
    """
    return Drawn("mark", Ink.TEAM, ((x, y),), size, key=key)


def short(text: str, most: int) -> str:
    """Words cut to a length.

    Args:
        text: the words.
        most: how many signs they may have.
    Returns:
        The words, with three points where something is missing.
    """
    return text if len(text) <= most else f"{text[: most - 1]}…"


def scale(
    at: Callable[[float], float], most: float, axis: Axis, top: float, bottom: float, wanted: int = 5
) -> list[Drawn]:
    """Upright lines at round numbers of an axis that runs to the right, with the numbers above them.

    Args:
        at: where a value lies.
        most: the end of the axis, in the unit of the values.
        axis: in which unit it is told.
        top: upper end of the lines.
        bottom: lower end of the lines.
        wanted: about how many.
    Returns:
        The shapes.
    """
    drawn = []
    # A unit of many letters stands once, before the axis.
    each = axis.symbol if len(axis.symbol) <= 3 else ""
    if axis.symbol and not each:
        drawn.append(write(Ink.SOFT, at(0) - 8, top - 8, axis.symbol, anchor="end"))
    for tick in ticks(most / axis.unit, wanted):
        x = at(tick * axis.unit)
        drawn.append(line(Ink.GRID, (x, top), (x, bottom)))
        anchor = "start" if tick == 0 else "middle"
        drawn.append(write(Ink.SOFT, x, top - 8, f"{grouped(tick)} {each}".strip(), anchor=anchor))
    return drawn


class Free:
    """Where words already stand, so that the next ones find a free place."""

    def __init__(self, width: float) -> None:
        self.width = width
        self.taken: list[tuple[float, float, float, float]] = []

    def keep(self, left: float, top: float, right: float, bottom: float) -> bool:
        """Take a box, unless something stands there or it leaves the chart."""
        if left < 0 or right > self.width:
            return False
        if any(a < right and left < c and b < bottom and top < d for a, b, c, d in self.taken):
            return False
        self.taken.append((left, top, right, bottom))
        return True

    def label(self, x: float, y: float, text: str, size: float) -> Drawn:
        """Words beside a point, on the other side or further down where something stands there."""
        long = long_of(text, size)
        tries = [(dy, side) for dy in (0.0, 1.05 * size, -1.05 * size, 2 * size) for side in ("start", "end")]
        chosen = tries[0]
        for dy, side in tries:
            left = x + 16 if side == "start" else x - 16 - long
            base = y + 0.35 * size + dy
            if self.keep(left, base - size, left + long, base + 0.2 * size):
                chosen = (dy, side)
                break
        dy, side = chosen
        at = x + 16 if side == "start" else x - 16
        return write(Ink.WORDS, at, y + 0.35 * size + dy, text, size, anchor=side, bold=True)


def with_doubt(mass: Quantity, system: System = System.METRIC) -> str:
    """A mass with how far it can be off.

    Args:
        mass: the mass [kg].
        system: which units the reader wants.
    Returns:
        Such as "42.3 g ± 0.1 g", at twice the standard uncertainty.
    """
    return f"{format_mass(mass.value, system)} ± {format_mass(COVERAGE_FACTOR * mass.standard_uncertainty, system)}"
