"""Self-supporting rings: equal struts, each resting on a support and on its neighbour.

In plan all struts lie tangent to an inner circle of radius r; supports stand on a circle of radius R. From a support a
strut meets the near crossing, the tangent point, and the far crossing.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from girder_core.ground import GRAVITY_M_S2, Point, finite, not_negative, positive, refuse, whole
from girder_core.measure import format_length
from girder_core.physics.materials import Bounds, Stock
from girder_core.physics.predictions import Prediction, Samples, State, predict
from girder_core.physics.sections import round_rod


def strut_length_m(supports: int, outer_radius_m: float, inner_radius_m: float) -> float:
    """Length in plan that a strut needs, from its support to the far crossing.

    Args:
        supports: number of struts and supports [-], at least 3.
        outer_radius_m: radius of the circle of supports [m], > 0.
        inner_radius_m: radius of the circle that the struts touch [m], > 0, at most R cos(π/n).
    Returns:
        √(R² − r²) + r tan(π/n) [m].
    Errors:
        ``out_of_domain``.
    Source:
        Plane geometry; docs/formulas.md.
    """
    whole("supports", supports, 3, "The number of supports")
    positive("outer_radius_m", outer_radius_m, "The circle of supports")
    positive("inner_radius_m", inner_radius_m, "The inner circle")
    if inner_radius_m > outer_radius_m * math.cos(math.pi / supports) * (1 + 1e-12):
        raise refuse("inner_radius_m", "The inner circle is too wide: a strut would not reach its neighbour's support.")
    return math.sqrt(outer_radius_m**2 - inner_radius_m**2) + inner_radius_m * math.tan(math.pi / supports)


def longest_fit_m(supports: int, outer_radius_m: float) -> float:
    """Longest strut of which every bit is used.

    Args:
        supports: number of struts [-], at least 3.
        outer_radius_m: radius of the circle of supports [m], > 0.
    Returns:
        R/cos(π/n) for more than four struts, 2R sin(π/n) for up to four [m]; longer ones overhang.
    Errors:
        ``out_of_domain``.
    """
    whole("supports", supports, 3, "The number of supports")
    positive("outer_radius_m", outer_radius_m, "The circle of supports")
    alpha = math.pi / supports
    return outer_radius_m / math.cos(alpha) if supports > 4 else 2 * outer_radius_m * math.sin(alpha)


def shortest_fit_m(supports: int, outer_radius_m: float) -> float:
    """Length that a strut must exceed to reach its neighbour at all.

    Args:
        supports: number of struts [-], at least 3.
        outer_radius_m: radius of the circle of supports [m], > 0.
    Returns:
        R for up to six struts, 2R sin(π/n) for more [m].
    Errors:
        ``out_of_domain``.
    """
    whole("supports", supports, 3, "The number of supports")
    positive("outer_radius_m", outer_radius_m, "The circle of supports")
    return min(outer_radius_m, 2 * outer_radius_m * math.sin(math.pi / supports))


def inner_radii_m(supports: int, outer_radius_m: float, strut_length_m: float) -> tuple[float, ...]:
    """Inner circles at which a strut of given length in plan just fits.

    Args:
        supports: number of struts [-], at least 3.
        outer_radius_m: radius of the circle of supports [m], > 0.
        strut_length_m: from support to far crossing, in plan [m], > 0.
    Returns:
        One or two radii [m], the smaller first.
    Errors:
        ``strut_too_short``, ``strut_too_long`` when none fits.
    Source:
        With r = R sin φ the length is R cos(φ − π/n)/cos(π/n).
    """
    positive("strut_length_m", strut_length_m, "The strut")
    least, most = shortest_fit_m(supports, outer_radius_m), longest_fit_m(supports, outer_radius_m)
    if strut_length_m > most * (1 + 1e-12):
        raise refuse(
            "strut_length_m",
            f"On this circle a strut uses at most {format_length(most)}; the rest of it would overhang. Widen the "
            "circle or let the ends stick out.",
            "strut_too_long",
        )
    alpha = math.pi / supports
    turn = math.acos(min(1.0, strut_length_m * math.cos(alpha) / outer_radius_m))
    radii = []
    for angle in sorted({alpha - turn, alpha + turn}):
        radius = outer_radius_m * math.sin(angle)
        if 1e-12 * outer_radius_m < radius <= outer_radius_m * math.cos(alpha) * (1 + 1e-12) and angle < math.pi / 2:
            radii.append(min(radius, outer_radius_m * math.cos(alpha)))
    if not radii:
        raise refuse(
            "strut_length_m",
            f"The struts do not reach each other: with {supports} supports on a circle of radius "
            f"{format_length(outer_radius_m)} each must be longer than {format_length(least)}. Shrink the circle, or "
            "take longer struts.",
            "strut_too_short",
        )
    return tuple(radii)


def exact_slope(supports: int, inner_radius_m: float, thickness_m: float) -> float:
    """Slope of round struts that rest on each other.

    Args:
        supports: number of struts [-], at least 3.
        inner_radius_m: radius of the inner circle [m], > 0.
        thickness_m: diameter of a strut [m], > 0.
    Returns:
        d/√((2 r tan(π/n))² − (d/cos(π/n))²) [-].
    Errors:
        ``ring_too_tight`` when the inner circle is not above d/(2 sin(π/n)).
    Source:
        Distance between the axes of touching round rods; docs/formulas.md.
    """
    whole("supports", supports, 3, "The number of supports")
    positive("inner_radius_m", inner_radius_m, "The inner circle")
    positive("thickness_m", thickness_m, "The strut's thickness")
    alpha = math.pi / supports
    least = thickness_m / (2 * math.sin(alpha))
    if inner_radius_m <= least:
        raise refuse(
            "strut_thickness_m",
            "Struts that thick jam in the middle: the inner circle must be wider in radius than "
            f"{format_length(least)}.",
            "ring_too_tight",
        )
    return thickness_m / math.sqrt((2 * inner_radius_m * math.tan(alpha)) ** 2 - (thickness_m / math.cos(alpha)) ** 2)


def most_supports(outer_radius_m: float, support_diameter_m: float) -> int:
    """How many round supports fit on a circle.

    Args:
        outer_radius_m: radius of the circle through their middles [m], > 0.
        support_diameter_m: diameter of one [m], > 0.
    Returns:
        floor(π/asin(D/2R)) [-]: neighbours touch along a chord, not an arc.
    Errors:
        ``out_of_domain`` when not even three fit.
    """
    positive("outer_radius_m", outer_radius_m, "The circle of supports")
    positive("support_diameter_m", support_diameter_m, "The support")
    half = support_diameter_m / (2 * outer_radius_m)
    if half > math.sin(math.pi / 3):
        raise refuse("support_diameter_m", "Not even three supports fit on that circle.")
    return math.floor(math.pi / math.asin(half) + 1e-9)


def contact_force_n(weight_n: float, at_m: float, supports: int, inner_radius_m: float) -> float:
    """Force between neighbouring struts when each carries the same weight.

    Args:
        weight_n: weight on each strut [N], >= 0.
        at_m: how far from its support it acts, in plan [m], >= 0.
        supports: number of struts [-], at least 3.
        inner_radius_m: radius of the inner circle [m], > 0.
    Returns:
        W x/(2 r tan(π/n)) [N]: the lever between far and near crossing carries it.
    Errors:
        ``out_of_domain``.
    Source:
        Moments about the support; by symmetry both crossings carry the same force.
    """
    not_negative("weight_n", weight_n, "The weight")
    not_negative("at_m", at_m, "The distance from the support")
    whole("supports", supports, 3, "The number of supports")
    positive("inner_radius_m", inner_radius_m, "The inner circle")
    return weight_n * at_m / (2 * inner_radius_m * math.tan(math.pi / supports))


def passes_by_m(supports: int, near_crossing_m: float) -> float:
    """How far a strut passes from the middle of its neighbour's support.

    Args:
        supports: number of struts [-], at least 3.
        near_crossing_m: from a support to the near crossing on its strut, in plan [m].
    Returns:
        x sin(2π/n) [m]: on its way to the far crossing it runs by the neighbour's support. Of three struts it only
        comes as near as the crossing itself, x.
    Errors:
        ``out_of_domain``.
    Source:
        Neighbours cross at 2π/n; plane geometry.
    """
    whole("supports", supports, 3, "The number of supports")
    finite("near_crossing_m", near_crossing_m, "The crossing")
    return near_crossing_m * math.sin(2 * math.pi / supports) if supports > 3 else near_crossing_m


def clear_circles_m(
    supports: int, strut_length_m: float, support_diameter_m: float, thickness_m: float
) -> tuple[float, float]:
    """Circles on which struts close a ring without running over their neighbours' supports.

    Args:
        supports: number of struts [-], at least 3.
        strut_length_m: of a strut, all of it used [m], > 0.
        support_diameter_m: of a support [m], >= 0.
        thickness_m: of a strut [m], >= 0.
    Returns:
        Smallest and largest radius of the circle through the supports' middles [m]; the first above the second where
        there is none.
    Errors:
        ``out_of_domain``.
    Source:
        With the near crossing at x, r = (L − x)/(2 tan(π/n)) and R² = r² + ((L + x)/2)²; the rim is met where
        ``passes_by_m`` is half of support and strut together, and struts jam at r = d/(2 sin(π/n)). Plane geometry.
    """
    whole("supports", supports, 3, "The number of supports")
    positive("strut_length_m", strut_length_m, "The strut")
    not_negative("support_diameter_m", support_diameter_m, "The support")
    not_negative("strut_thickness_m", thickness_m, "The strut's thickness")
    alpha = math.pi / supports
    room = (support_diameter_m + thickness_m) / 2
    near = room / passes_by_m(supports, 1.0)
    at_rim = math.hypot((strut_length_m - near) / (2 * math.tan(alpha)), (strut_length_m + near) / 2)
    tight = thickness_m / (2 * math.sin(alpha))
    jams = math.hypot(strut_length_m - tight * math.tan(alpha), tight)
    apart = room / math.sin(alpha)
    if near >= strut_length_m:
        return apart, 0.0
    if strut_length_m * math.cos(2 * alpha) >= near:
        # Wide openings run into the rims on large circles; the tight ring of the same strut never does.
        return max(strut_length_m * math.cos(alpha), apart), max(at_rim, jams)
    return max(at_rim, apart), jams


@dataclass(frozen=True)
class RingPlan:
    """A ring that closes.

    Attributes:
        supports: number of struts [-].
        outer_radius_m: of the circle through the supports' middles [m].
        smallest_radius_m, largest_radius_m: range of circles on which these struts close, are fully used and keep clear
            of their neighbours' supports [m].
        inner_radius_m: of the circle that the struts touch: the opening's radius [m].
        other_radius_m: of a second ring with the same strut, if there is one [m].
        used_m: plan length from support to far crossing [m].
        overhang_m: strut beyond the far crossing [m].
        crossing_spacing_m: between near and far crossing [m].
        near_crossing_m: from support to near crossing [m].
        slope_simple: thickness over crossing spacing [-].
        slope: the same for touching round rods, exact [-].
        crown_m: rise from support to far crossing, axis to axis, by the simple slope [m].
        starts, ends: of each strut in plan [m].
        most_supports: how many supports would fit on the circle [-].
        clear_m: between a strut and the rim of its neighbour's support [m].
    """

    supports: int
    outer_radius_m: float
    smallest_radius_m: float
    largest_radius_m: float
    inner_radius_m: float
    other_radius_m: float | None
    used_m: float
    overhang_m: float
    crossing_spacing_m: float
    near_crossing_m: float
    slope_simple: float
    slope: float
    crown_m: float
    starts: tuple[Point, ...]
    ends: tuple[Point, ...]
    most_supports: int
    clear_m: float


def ring_plan(
    supports: int,
    support_diameter_m: float,
    strut_length_m: float,
    strut_thickness_m: float,
    outer_radius_m: float | None = None,
) -> RingPlan:
    """Plan a ring for given struts.

    Args:
        supports: number of struts and supports [-], at least 3.
        support_diameter_m: of each support [m], > 0.
        strut_length_m: whole length of a strut [m], > 0.
        strut_thickness_m: its diameter [m], > 0.
        outer_radius_m: radius of the circle of supports [m]; a proposal in the middle of what closes when left out.
    Returns:
        The plan. A strut longer than the circle can use overhangs at the crossings.
    Errors:
        ``strut_too_short``, ``ring_too_tight``, ``supports_touch``, ``strut_on_rim``; ``out_of_domain``.
    Source:
        Plane geometry; docs/formulas.md.
    """
    whole("supports", supports, 3, "The number of supports")
    positive("support_diameter_m", support_diameter_m, "The support")
    positive("strut_length_m", strut_length_m, "The strut")
    positive("strut_thickness_m", strut_thickness_m, "The strut's thickness")
    alpha = math.pi / supports
    low, largest = clear_circles_m(supports, strut_length_m, support_diameter_m, strut_thickness_m)
    # Supports may not overlap and a strut passes between: their chord is at least a diameter and a strut.
    apart = (support_diameter_m + strut_thickness_m) / (2 * math.sin(alpha))
    if low >= largest:
        raise refuse(
            "supports",
            f"{supports} supports of {format_length(support_diameter_m)} need a circle of radius "
            f"{format_length(apart)} or more, and on those, struts of {format_length(strut_length_m)} do not reach "
            "past their neighbours' supports. Take fewer supports or longer struts.",
            "supports_touch",
        )
    radius = outer_radius_m if outer_radius_m is not None else low + 0.45 * (largest - low)
    positive("outer_radius_m", radius, "The circle of supports")
    if radius < apart * (1 - 1e-12):
        overlap = 2 * radius * math.sin(alpha) < support_diameter_m
        words = "overlap" if overlap else "leave no room for a strut between them"
        raise refuse("outer_radius_m", f"The supports {words} on that circle. Widen it.", "supports_touch")
    length = min(strut_length_m, longest_fit_m(supports, radius))
    radii = inner_radii_m(supports, radius, length)
    # The wider inner circle lies flatter and grips better, so it is the one to build, where it clears the supports.
    room = (support_diameter_m + strut_thickness_m) / 2
    clear = {inner: passes_by_m(supports, _near_m(supports, radius, inner)) - room for inner in radii}
    fits = [inner for inner in radii if clear[inner] >= -1e-9]
    if not fits:
        raise refuse(
            "outer_radius_m",
            "On this circle a strut runs over the rim of its neighbour's support. Take another circle, narrower "
            "supports or longer struts.",
            "strut_on_rim",
        )
    inner = fits[-1]
    spacing = 2 * inner * math.tan(alpha)
    side = math.sqrt(radius**2 - inner**2)
    starts, ends = [], []
    for i in range(supports):
        turn = 2 * math.pi * i / supports
        toward = (math.cos(turn), math.sin(turn))
        along = (-toward[1], toward[0])
        starts.append(_along(inner, toward, along, -side))
        ends.append(_along(inner, toward, along, strut_length_m - side))
    slope_simple = strut_thickness_m / spacing
    return RingPlan(
        supports, radius, low, largest, inner, fits[0] if len(fits) > 1 else None, length, strut_length_m - length,
        spacing, _near_m(supports, radius, inner), slope_simple, exact_slope(supports, inner, strut_thickness_m),
        slope_simple * length, tuple(starts), tuple(ends), most_supports(radius, support_diameter_m), clear[inner],
    )  # fmt: skip


def _near_m(supports: int, radius: float, inner: float) -> float:
    """From a support to the near crossing on its strut [m]."""
    return math.sqrt(max(radius**2 - inner**2, 0.0)) - inner * math.tan(math.pi / supports)


def _along(inner: float, toward: Point, along: Point, s: float) -> Point:
    return (inner * toward[0] + s * along[0], inner * toward[1] + s * along[1])


CENTRED = Bounds(1.0, 1.2, 1.7, "order of magnitude: the most loaded strut over the mean")


def ring_load(plan: RingPlan, stock: Stock, samples: Samples | None = None) -> Prediction:
    """What a ring carries when a pile grows in its middle.

    Args:
        plan: the ring.
        stock: a round rod, the struts.
        samples: seeded samples; the usual ones when left out.
    Returns:
        The prediction: a strut breaks in bending (at the near crossing or where the load stands), or slides because it
        lies too steep.
    Errors:
        ``out_of_domain``.
    Source:
        Moments of a strut with equal contact forces at both crossings; load at the tangent point.
    """
    draws = samples or Samples()
    rod = round_rod(stock.thickness_m.typical)
    strength = draws.draw(stock.tension_pa, f"{stock.key} tension")
    uneven = draws.draw(CENTRED, "uneven struts")
    tangent = plan.near_crossing_m + plan.crossing_spacing_m / 2
    # Per newton on a strut: support reaction 1, so the moment is x up to the near crossing and S/2 under the load.
    lever = max(plan.near_crossing_m, tangent / 2)
    breaks = strength * float(rod.second_moment_m4) / (float(rod.depth_m) / 2) / lever * plan.supports / uneven
    grip = draws.draw(stock.friction, f"{stock.key} friction")
    slides = np.where(plan.slope > grip, 0.0, np.inf)
    press = contact_force_n(1.0 / plan.supports, tangent, plan.supports, plan.inner_radius_m)
    crush = draws.draw(stock.compression_pa, f"{stock.key} compression") * stock.across
    # A dent over a square of about half the diameter is deep enough to let go.
    dents = crush * (stock.thickness_m.typical / 2) ** 2 / press
    return predict(
        [
            State("bend", "A strut breaks", breaks,
                  "Each strut is a lever: its support carries its share of the pile, its neighbour several times that. "
                  "Thicker struts or a tighter circle help.", "A stick snaps.", "M y/I", "bent"),
            State("slide", "A strut slides", slides,
                  "A steep strut slips on its neighbour. A wider opening or thinner struts lie flatter.",
                  "A stick slips off.", "friction", "slid"),
            State("dent", "Struts dent where they touch", dents,
                  "Neighbours press on each other harder than the pile itself, over a small spot.",
                  "The sticks press into each other.", "contact force", "slid"),
        ]
    )  # fmt: skip


def ring_weight_n(plan: RingPlan, stock: Stock, length_m: float) -> float:
    """Weight of the ring itself.

    Args:
        plan: the ring.
        stock: a round rod.
        length_m: whole length of a strut [m], > 0.
    Returns:
        The weight [N].
    """
    positive("length_m", length_m, "The strut")
    area = float(round_rod(stock.thickness_m.typical).area_m2)
    return plan.supports * stock.density_kg_m3.typical * area * length_m * GRAVITY_M_S2
