"""From points of a picture to lengths, areas and angles, each with what it may be off by and why.

First-order propagation (JCGM 100:2008, 5.1.2, and JCGM 102:2011 for several outputs) of five causes: how well the marks
were seen, how well the lens is known, how large the cards came out of the printer, in which plane the points lie, and
how well somebody points.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from girder_core.ground import GirderError
from girder_core.measure import Kind, Quantity, parse, resolution_uncertainty
from girder_core.photo.cards import BAR_M, cards
from girder_core.photo.fitting import another_card
from girder_core.photo.frame import Array
from girder_core.photo.lens import CALIBRATED, FOCUSED
from girder_core.photo.regions import added_or_holes
from girder_core.photo.view import LENS, View

UNMEASURED = Quantity(1.0, 0.03 / math.sqrt(3))
"""How large a card is that nobody measured: printers that fit a page to the paper take up to 3 % [-]; ours."""
PRINT_LOW, PRINT_HIGH = 0.9, 1.1
"""A bar that came out smaller or larger is a slip of the ruler [-]."""
STEEP_RAD = math.radians(65)
"""Seen from farther aside than this, nothing is measured [rad]."""
POINTING_PX = 1.0
"""How well somebody points with a loupe: standard uncertainty in both directions [px]; ours."""
MOST_POINTS = 60
NEAR = 0.1
"""A slope is taken over so much of a standard deviation to both sides [-]."""
IN_PLANE = Quantity(0.0, 0.0)
LEVEL_M, LOOSE_M = 0.002, 0.005
"""How closely somebody is taken to mean that edges lie in the cards' plane, or so far before it [m]; ours."""


@dataclass(frozen=True)
class Size:
    """Something that was measured in a picture: how large it is [SI], and the standard uncertainty by cause."""

    quantity: Quantity
    parts: Mapping[str, float]

    @property
    def chief(self) -> str:
        """The cause that leaves most open."""
        return max(self.parts, key=lambda cause: self.parts[cause])


@dataclass(frozen=True)
class Pointed:
    """What was pointed at in a picture.

    Attributes:
        points: (x, y) [px], x right, y down.
        off_px: standard uncertainty of each in both directions [px].
        plane_m: how far their plane is before that of the cards, towards the camera [m].
        outlines: how many corners each outline of an area has, where it has several; empty for one.
    """

    points: tuple[tuple[float, float], ...]
    off_px: float = POINTING_PX
    plane_m: Quantity = IN_PLANE
    outlines: tuple[int, ...] = ()

    def each_outline(self) -> list[slice]:
        """Which points belong to each outline; ``bad_outlines`` where they do not add up."""
        counts = self.outlines or (len(self.points),)
        ends = np.cumsum((0, *counts))
        if ends[-1] != len(self.points):
            raise GirderError("bad_outlines", "The outlines do not have as many corners as there are points.")
        return [slice(int(one), int(other)) for one, other in pairwise(ends)]


def printed_scale(bar_m: float, step_m: float) -> Quantity:
    """How large cards came out of the printer.

    Args:
        bar_m: what a ruler says of their bar, which is meant to be 100 mm long [m].
        step_m: the ruler's step [m].
    Returns:
        Their size as a share of what was meant [-].
    Errors:
        ``bar_unlikely`` for a bar that no printer makes of it; ``resolution_not_positive``.
    """
    if not step_m > 0:
        raise GirderError("resolution_not_positive", "The ruler's step must be more than zero.")
    if not PRINT_LOW <= bar_m / BAR_M <= PRINT_HIGH:
        raise GirderError(
            "bar_unlikely",
            "The bar is meant to be 100 mm long, and no printer is that far off. Measure it again, from end to end.",
        )
    return Quantity(bar_m / BAR_M, resolution_uncertainty(step_m) / BAR_M)


def plane_said(before_text: str, within_text: str = "") -> Quantity:
    """Where the edges that are measured lie, as somebody says it.

    Args:
        before_text: how far before the plane of the cards, towards the camera, with its unit; with a minus for behind
            it; empty for in it.
        within_text: give or take; empty for 5 mm or a tenth of the distance, and for 2 mm where they lie in it.
    Returns:
        The distance [m]. What is said is a limit, even within it.
    Errors:
        Those of ``units.parse``, at the field of that name.
    Source:
        JCGM 100:2008, 4.3.7 for limits; the limits that nobody said are ours.
    """
    if not before_text.strip():
        return Quantity(0.0, LEVEL_M / math.sqrt(3))
    before = _typed_m(before_text, "before_text")
    within = _typed_m(within_text, "within_text") if within_text.strip() else max(LOOSE_M, abs(before) / 10)
    return Quantity(before, within / math.sqrt(3))


def _typed_m(text: str, field: str) -> float:
    behind = text.strip().startswith(("-", "−"))
    try:
        size = parse(text.strip().lstrip("-−"), Kind.LENGTH, "mm").si
    except GirderError as error:
        raise GirderError(error.code, error.sentence, fields={field: error.sentence}) from None
    return -size if behind else size


def length(view: View, pointed: Pointed, printed: Quantity = UNMEASURED) -> Size:
    """The length of a way from point to point.

    Args:
        view: where the camera stood.
        pointed: at least two points, in order.
        printed: how large the cards came out of the printer [-].
    Returns:
        The length [m].
    Errors:
        ``too_few_points``, ``too_many_points``, ``too_steep``, ``behind_camera``.
    """
    _enough(len(pointed.points), 2, "A length needs two points.")
    _few_enough(pointed)

    def along(points: Array) -> float:
        return float(np.hypot(*np.diff(points, axis=0).T).sum())

    return _sized(view, pointed, printed, along, 1)


def area(view: View, pointed: Pointed, printed: Quantity = UNMEASURED) -> Size:
    """The area inside one outline or several: pieces apart add up, and an outline inside another one is a hole in it.

    Args:
        view: where the camera stood.
        pointed: the corners of each outline in order, at least three.
        printed: how large the cards came out of the printer [-].
    Returns:
        The area [m²].
    Errors:
        ``too_few_points``, ``too_many_points``, ``too_steep``, ``behind_camera``, ``bad_outlines``; ``corners_cross``
        where an outline crosses itself, another one, or covers the same.
    Source:
        The surveyor's formula (Braden, College Mathematics Journal 17, 1986, from memory).
    """
    parts = pointed.each_outline()
    for part in parts:
        _enough(len(pointed.points[part]), 3, "An area needs three corners at least.")
    _few_enough(pointed)
    signs = added_or_holes([np.array(pointed.points[part]) for part in parts])

    def inside(points: Array) -> float:
        return math.fsum(sign * _inside(points[part]) for sign, part in zip(signs, parts, strict=True))

    return _sized(view, pointed, printed, inside, 2)


def _inside(points: Array) -> float:
    x, y = points.T
    return abs(float((x * np.roll(y, -1) - y * np.roll(x, -1)).sum())) / 2


def angle(view: View, pointed: Pointed) -> Size:
    """The angle between two edges that meet.

    Args:
        view: where the camera stood.
        pointed: three points; the corner is the middle one.
    Returns:
        The angle, 0 to pi [rad].
    Errors:
        ``too_few_points``, ``too_many_points``, ``too_steep``, ``behind_camera``, ``no_corner`` where two points are
        one.
    """
    _enough(len(pointed.points), 3, "An angle needs three points, its corner in the middle.")
    if len(pointed.points) > 3:
        raise GirderError("too_many_points", "An angle has three points.")
    if len(set(pointed.points)) < 3:
        raise GirderError("no_corner", "Two of the three points are the same.")

    def between(points: Array) -> float:
        one, other = points[0] - points[1], points[2] - points[1]
        cross = float(one[0] * other[1] - one[1] * other[0])
        return abs(math.atan2(cross, float(one @ other)))

    return _sized(view, pointed, Quantity(1.0), between, 0)


def size_of(view: View, pointed: Pointed, kind: Kind, printed: Quantity = UNMEASURED) -> Size:
    """The length or the area that was pointed at; see ``length`` and ``area``.

    Args:
        view: where the camera stood.
        pointed: the ends of a length, or the corners of an area.
        kind: which of the two.
        printed: how large the cards came out of the printer [-].
    Returns:
        The size [m or m²].
    Errors:
        Those of ``length`` and ``area``.
    """
    return area(view, pointed, printed) if kind is Kind.AREA else length(view, pointed, printed)


def with_another_card(view: View, pointed: Pointed, kind: Kind, printed: Quantity = UNMEASURED) -> Size | None:
    """What a size would be known to if another card of the set lay where the cards are farthest from.

    Args:
        view: where the camera stood.
        pointed: the ends of a length, or the corners of an area.
        kind: which of the two.
        printed: how large the cards came out of the printer [-].
    Returns:
        The same size with its smaller uncertainty; None where the set has no further card.
    Errors:
        As ``size_of``.
    Source:
        The information of further observations adds to the normal matrix (Triggs et al. 2000, section 9).
    """
    there = {card.key for card in view.cards}
    rest = [card for card in cards(view.set_number) if card.key not in there]
    if not rest:
        return None
    at = view.points(np.array(pointed.points), pointed.plane_m.value)
    far = at[np.argmax(np.hypot(*at.T))]
    return size_of(another_card(view, rest[0], (float(far[0]), float(far[1]))), pointed, kind, printed)


def with_lens_known(view: View, pointed: Pointed, kind: Kind, printed: Quantity = UNMEASURED) -> Size:
    """What a size would be known to if the tablet's lens were calibrated.

    Args:
        view: where the camera stood.
        pointed: the ends of a length, or the corners of an area.
        kind: which of the two.
        printed: how large the cards came out of the printer [-].
    Returns:
        The same size with its smaller uncertainty.
    Errors:
        As ``size_of``.
    Source:
        As ``with_another_card``.
    """
    lens = slice(LENS, LENS + CALIBRATED)
    known = np.linalg.pinv(view.covariance)
    known[lens, lens] += np.diag(1 / np.square(FOCUSED))
    return size_of(replace(view, covariance=np.linalg.pinv(known)), pointed, kind, printed)


def _enough(points: int, least: int, sentence: str) -> None:
    if points < least:
        raise GirderError("too_few_points", sentence)


def _few_enough(pointed: Pointed) -> None:
    if len(pointed.points) > MOST_POINTS:
        raise GirderError("too_many_points", f"{MOST_POINTS} points are the most.")


def _sized(view: View, pointed: Pointed, printed: Quantity, measure: Callable[[Array], float], power: int) -> Size:
    """A size as a function of where its points are in the plane, of a dimension in lengths."""
    steepness_checked(view)
    pixels = np.array(pointed.points, dtype=float)
    plane, scale = pointed.plane_m, printed.value
    # Heights are true ones; the view knows cards of their meant size.
    height = plane.value / scale

    def at(known: Array | None = None, moved: Array | float = 0.0, risen: float = 0.0) -> float:
        points = view.points(pixels + moved, height + risen, known)
        return measure(points)

    value = at()
    if not math.isfinite(value) or not view.before_camera(pixels):
        raise GirderError("behind_camera", "A point lies beyond where the cards' plane ends in this picture.")
    parts = {"marks": 0.0, "lens": 0.0, "print": 0.0, "plane": 0.0, "pointing": 0.0}
    whole = slopes_of(at, view.known, view.spread)
    # What would be left open if the lens were known: the rest is the lens.
    marks = min(whole, slopes_of(at, view.known, view.spread_with_lens))
    parts["marks"], parts["lens"] = marks, math.sqrt(max(0.0, whole**2 - marks**2))
    step = max(1e-4, plane.standard_uncertainty / scale)
    parts["plane"] = abs(at(risen=step) - at(risen=-step)) / (2 * step) * plane.standard_uncertainty / scale
    shifts = []
    for i in range(len(pixels)):
        for axis in (0, 1):
            moved = np.zeros_like(pixels)
            moved[i, axis] = 0.5
            shifts.append(at(moved=moved) - at(moved=-moved))
    parts["pointing"] = pointed.off_px * math.sqrt(math.fsum(shift**2 for shift in shifts))
    true = value * scale**power
    factor = scale**power
    parts = {cause: part * factor for cause, part in parts.items()}
    parts["print"] = power * true * printed.standard_uncertainty / scale
    return Size(Quantity(true, math.sqrt(math.fsum(part**2 for part in parts.values()))), parts)


def steepness_checked(view: View) -> None:
    """Refuses a view from too far aside.

    Args:
        view: where the camera stood.
    Returns:
        Nothing.
    Errors:
        ``too_steep``.
    """
    if view.tilt_rad > STEEP_RAD:
        raise GirderError(
            "too_steep", "The card is seen from too far aside. Stand so that you look at it more squarely."
        )


def slopes_of(at: Callable[[Array], float], known: Array, columns: Array) -> float:
    """Standard deviation of a function of parameters, from its slope where they are.

    Args:
        at: the function.
        known: where they are.
        columns: what they may be off by, each column independent of the others.
    Returns:
        The standard deviation, in the unit of the function.
    """
    slopes = ((at(known + NEAR * column) - at(known - NEAR * column)) / (2 * NEAR) for column in columns.T)
    return math.sqrt(math.fsum(slope**2 for slope in slopes))
