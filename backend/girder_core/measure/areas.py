"""Areas and perimeters from what was typed: lengths of a shape, corners of a polygon, or counted squares.

What is typed names the shape: ``30 cm x 20 cm`` or ``rectangle 30 cm x 20 cm``, ``circle 24 cm`` (across), ``triangle
20 cm, 21 cm, 29 cm`` (its sides), ``corners 0 0, 30 0, 30 20, 0 20 cm``, ``42 squares of 1 cm``, or an area as it is:
``412 cm2``.
"""

from __future__ import annotations

import math
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import combinations

from girder_core.ground import GirderError
from girder_core.measure import units
from girder_core.measure.uncertainty import Quantity, resolution_uncertainty
from girder_core.measure.units import Kind, System, format_length

MOST_CORNERS = 40
"""As many corners as a polygon may have [-] (ours)."""


LONGEST_NUMBER = 20
"""Signs that one number of a corner may have [-] (ours)."""
_Corner = tuple[Fraction, Fraction]
Edge = tuple[_Corner, _Corner]


@dataclass(frozen=True)
class Outline:
    """A shape that was measured.

    Attributes:
        area: [m²].
        perimeter: once round [m]; None where only an area, or squares, are known.
        says: what it is, in words with its sizes, by the units of the reader.
    """

    area: Quantity
    perimeter: Quantity | None
    kind: str
    lengths: tuple[float, ...] = ()

    def says(self, system: System = System.METRIC) -> str:
        """What it is, in few words."""
        sizes = " × ".join(format_length(size, system) for size in self.lengths)
        return f"{self.kind} {sizes}".strip()


def outline(text: str, step_m: float, own: Mapping[str, float] | None = None, nothing: bool = False) -> Outline:
    """Read a shape that was typed.

    Args:
        text: as in the module's docstring.
        step_m: the ruler's step [m].
        own: further units of length by name, each with its size [m].
        nothing: whether an area of nothing will do, as of what is left of something.
    Returns:
        Its area and perimeter, each with what the ruler leaves open.
    Errors:
        ``no_shape`` for what is none of these; ``no_triangle`` for sides that do not close; ``corners_cross`` for a
        polygon whose edges cross; ``too_few_corners``, ``too_many_corners``; ``no_room`` for an area of nothing; those
        of ``units.parse`` for a length.
    Source:
        Heron's formula; the surveyor's formula for polygons (Braden, College Mathematics Journal 17, 1986, from
        memory); JCGM 100:2008, 5.1.2, for the uncertainties.
    """
    words = text.strip().lower()
    name, rest = _named(words)
    made = _MAKERS[name](rest, resolution_uncertainty(step_m), own)
    if not made.area.value > 0 and not (nothing and made.area.value == 0):
        raise GirderError("no_room", "That shape has no room in it. Check the lengths.", text=text)
    return made


def _named(words: str) -> tuple[str, str]:
    """Which shape is meant, and the rest of the text."""
    squares = re.fullmatch(r"([\d\s]+(?:[.,]\d+|\s*½|\s*1/2)?)\s*squares?\s*(?:of|à)?\s*(.*)", words)
    if squares:
        return "squares", f"{squares[1]}|{squares[2]}"
    first, _, rest = words.partition(" ")
    for name, others in _NAMES.items():
        if first.rstrip(":") in others:
            return name, rest
    return ("rectangle", words) if _sides(words)[1:] else ("area", words)


_NAMES = {
    "rectangle": ("rectangle", "square"),
    "circle": ("circle", "round", "disc"),
    "triangle": ("triangle",),
    "polygon": ("corners", "polygon"),
}


def _sides(words: str) -> list[str]:
    """Lengths that stand beside each other, with "x", "×", "by" or commas between them."""
    parts = re.split(r"\s*(?:[×x*;]|,\s|\bby\b)\s*", words)
    return [part for part in parts if part]


def _lengths(words: str, count: tuple[int, ...], shape: str, own: Mapping[str, float] | None) -> list[float]:
    """Lengths with their units; one unit at the end serves those without."""
    sides = _sides(words)
    if len(sides) not in count:
        raise GirderError("no_shape", f"A {shape} needs {' or '.join(map(str, count))} lengths. {_HOW}", text=words)
    unit = re.search(r"[^\d\s.,/½¼¾].*$", sides[-1])
    found = [units.parse(side, Kind.LENGTH, unit[0] if unit else None, own).si for side in sides]
    if any(length <= 0 for length in found):
        raise GirderError("not_positive", "Every side is longer than nothing.", text=words)
    return found


_HOW = (
    "Type it like 30 cm x 20 cm, circle 24 cm, triangle 20 cm, 21 cm, 29 cm, "
    "corners 0 0, 30 0, 30 20 cm, 42 squares of 1 cm, or 412 cm2."
)


def _rectangle(words: str, off: float, own: Mapping[str, float] | None) -> Outline:
    sides = _lengths(words, (1, 2), "rectangle", own)
    a, b = sides[0], sides[-1]
    # One side that was read serves both where it is a square, so its error counts twice.
    area_off = 2 * a * off if len(sides) == 1 else off * math.hypot(a, b)
    round_off = 4 * off if len(sides) == 1 else off * math.hypot(2, 2)
    shape = "square" if len(sides) == 1 else "rectangle"
    return Outline(Quantity(a * b, area_off), Quantity(2 * (a + b), round_off), shape, tuple(sides))


def _circle(words: str, off: float, own: Mapping[str, float] | None) -> Outline:
    (across,) = _lengths(words.removesuffix("across"), (1,), "circle", own)
    area = Quantity(math.pi * across**2 / 4, math.pi * across / 2 * off)
    return Outline(area, Quantity(math.pi * across, math.pi * off), "circle", (across,))


def _triangle(words: str, off: float, own: Mapping[str, float] | None) -> Outline:
    a, b, c = sorted(_lengths(words, (3,), "triangle", own))
    if a + b <= c:
        raise GirderError("no_triangle", "These three sides do not close: the longest is as long as the other two.")
    area = _heron(a, b, c)
    # dA/da = a (b² + c² - a²) / (8 A), and so for the others.
    slopes = (x * (y * y + z * z - x * x) / (8 * area) for x, y, z in ((a, b, c), (b, a, c), (c, a, b)))
    area_off = off * math.sqrt(math.fsum(slope**2 for slope in slopes))
    return Outline(Quantity(area, area_off), Quantity(a + b + c, off * math.sqrt(3)), "triangle", (a, b, c))


def _heron(a: float, b: float, c: float) -> float:
    half = (a + b + c) / 2
    return math.sqrt(max(0.0, half * (half - a) * (half - b) * (half - c)))


def _polygon(words: str, off: float, own: Mapping[str, float] | None) -> Outline:
    found = re.search(r"[^\d\s.,;()+-].*$", words)
    if found is None:
        raise GirderError("unit_missing", f"The corners have no unit. {_HOW}", text=words)
    size = units.parse(f"1 {found[0].strip()}", Kind.LENGTH, None, own).si
    pairs = [pair for pair in re.split(r"[;,)(]+", words[: found.start()]) if pair.strip()]
    corners: list[_Corner] = []
    for pair in pairs:
        numbers = pair.split()
        try:
            # Exactly as typed, so that corners on one line are on one line.
            x, y = (_number(number) for number in numbers)
        except ValueError:
            raise GirderError("no_shape", f"“{pair.strip()}” is no corner: type across and up, 30 20.") from None
        corners.append((x, y))
    if len(corners) > 1 and corners[0] == corners[-1]:
        corners.pop()
    return _of_corners(corners, size, off)


def _number(text: str) -> Fraction:
    if len(text) > LONGEST_NUMBER:
        raise ValueError(text)
    return Fraction(text)


def _of_corners(corners: Sequence[_Corner], size: float, off: float) -> Outline:
    n = len(corners)
    if n < 3:
        raise GirderError("too_few_corners", f"A shape has three corners or more; {n} were typed.")
    if n > MOST_CORNERS:
        raise GirderError("too_many_corners", f"At most {MOST_CORNERS} corners, please; {n} were typed.")
    edges = [(corners[i], corners[(i + 1) % n]) for i in range(n)]
    if any(start == end for start, end in edges):
        raise GirderError("corners_cross", "Two corners that follow each other are one and the same.")
    for (i, one), (j, other) in combinations(enumerate(edges), 2):
        beside = j == i + 1 or (i == 0 and j == n - 1)
        if _folds_back(one, other, j == i + 1) if beside else _cross(one, other):
            raise GirderError(
                "corners_cross", f"The edges from corner {i + 1} and corner {j + 1} cross. Go once round, in order."
            )
    twice = size**2 * float(sum(x0 * y1 - x1 * y0 for (x0, y0), (x1, y1) in edges))
    # Each corner's two coordinates: dA/dx is half the difference of its neighbours' y.
    before_after = [(corners[i - 1], corners[(i + 1) % n]) for i in range(n)]
    area_off = off * math.sqrt(math.fsum((size * math.dist(p, q) / 2) ** 2 for p, q in before_after))
    around = size * math.fsum(math.dist(*edge) for edge in edges)
    return Outline(Quantity(abs(twice) / 2, area_off), Quantity(around, off * math.sqrt(2 * n)), f"{n} corners")


def _side(edge: Edge, point: _Corner) -> Fraction:
    (x0, y0), (x1, y1) = edge
    return (x1 - x0) * (point[1] - y0) - (y1 - y0) * (point[0] - x0)


def _cross(one: Edge, other: Edge) -> bool:
    """Whether two edges that share no corner meet."""
    a, b = _side(one, other[0]), _side(one, other[1])
    c, d = _side(other, one[0]), _side(other, one[1])
    if a == b == c == d == 0:
        # On one line: they meet where their shadows do.
        axis = 0 if one[0][0] != one[1][0] else 1
        (p, q), (r, s) = (sorted(point[axis] for point in edge) for edge in (one, other))
        return p <= s and r <= q
    return a * b <= 0 and c * d <= 0


def _folds_back(one: Edge, other: Edge, in_order: bool) -> bool:
    """Whether an edge goes back over the one before it."""
    shared, start, end = (one[1], one[0], other[1]) if in_order else (one[0], one[1], other[0])
    along = (start[0] - shared[0]) * (end[0] - shared[0]) + (start[1] - shared[1]) * (end[1] - shared[1])
    return _side((shared, start), end) == 0 and along > 0


def _squares(words: str, off: float, own: Mapping[str, float] | None) -> Outline:
    count_text, _, size_text = words.partition("|")
    if not size_text.strip():
        raise GirderError("no_shape", "How large is one square? Type it like 42 squares of 1 cm.")
    count = units.parse(f"{count_text.strip()} m", Kind.LENGTH).si
    side = units.parse(size_text, Kind.LENGTH, None, own).si
    if count <= 0 or side <= 0:
        raise GirderError("not_positive", "Count at least one square, larger than nothing.")
    # Along the edge some four times the root of the count are cut, each by chance, so in or out by half.
    return Outline(Quantity(count * side**2, side**2 * math.sqrt(4 * math.sqrt(count) / 12)), None, "counted squares")


def _plain(words: str, off: float, own: Mapping[str, float] | None) -> Outline:
    try:
        area = units.parse(words, Kind.AREA).si
    except GirderError as error:
        raise GirderError("no_shape", f"{error.sentence.split('.')[0]}. {_HOW}", text=words) from None
    return Outline(Quantity(area, 2 * math.sqrt(max(area, 0.0)) * off), None, "")


_MAKERS = {
    "rectangle": _rectangle,
    "circle": _circle,
    "triangle": _triangle,
    "polygon": _polygon,
    "squares": _squares,
    "area": _plain,
}
