"""A ring of struts that carry each other: which circles close, how steep, how high."""

from __future__ import annotations

import math

from girder_core.drafting.films import changes
from girder_core.drafting.model import (
    Curve,
    DraftKind,
    Expected,
    Fact,
    Lesson,
    Shown,
    Values,
    View,
    count,
    length,
    stock,
)
from girder_core.ground import GRAVITY_M_S2, Drawing, Point, Role, Shape, area, block, circle, label, line, measure
from girder_core.measure import System, format_length
from girder_core.physics import (
    Form,
    RingPlan,
    inner_radii_m,
    longest_fit_m,
    ring_load,
    ring_plan,
    ring_weight_n,
    strut_length_m,
)

_PARAMS = (
    count("supports", "Supports and struts", 3, 30, 5, "", setup="supports", reading="supports", nudge=1,
          more="One strut more", less="One strut fewer"),
    length("circle_m", "Circle through the supports, across", 0.05, 2.0, 0.26, 0.005, "", setup="circle_m", nudge=0.01,
           more="Circle {} wider", less="Circle {} narrower", most=3.0),
    length("strut_m", "Length of a strut", 0.05, 1.5, 0.15, 0.005, "From its support to its far crossing, and beyond.",
           nudge=0.01, more="Struts {} longer", less="Struts {} shorter"),
    stock("member", "Struts", (Form.ROD,), "dowel-6"),
    length("support_m", "Width of a support", 0.005, 0.2, 0.04, 0.005, "", setup="support_m", fine=True, most=0.5),
)  # fmt: skip


def plan_of(values: Values) -> RingPlan:
    """The ring that the values make.

    Args:
        values: the draft's.
    Returns:
        The plan.
    Errors:
        ``strut_too_short``, ``ring_too_tight``, ``supports_touch``.
    """
    thick = values.stocks["member"].thickness_m.typical
    return ring_plan(values.count("supports"), values["support_m"], values["strut_m"], thick, values["circle_m"] / 2)


def expect(values: Values) -> Expected:
    """What the ring is expected to carry in its middle.

    Args:
        values: the draft's.
    Returns:
        Prediction and own mass.
    Errors:
        Those of ``rings.ring_plan``.
    """
    plan, member = plan_of(values), values.stocks["member"]
    return Expected(ring_load(plan, member), ring_weight_n(plan, member, values["strut_m"]) / GRAVITY_M_S2)


def _at(plan: RingPlan, strut: int, along_m: float) -> Point:
    """A place on a strut, by how far from its support: what is drawn last from there lies on its neighbour."""
    (x0, y0), (x1, y1) = plan.starts[strut], plan.ends[strut]
    share = max(0.0, along_m) / math.hypot(x1 - x0, y1 - y0)
    return (x0 + share * (x1 - x0), y0 + share * (y1 - y0))


def _strut(start: Point, end: Point, thick: float) -> Shape:
    (x0, y0), (x1, y1) = start, end
    far = math.hypot(x1 - x0, y1 - y0)
    nx, ny = -(y1 - y0) / far * thick / 2, (x1 - x0) / far * thick / 2
    return area(Role.STRUCTURE, (x0 + nx, y0 + ny), (x1 + nx, y1 + ny), (x1 - nx, y1 - ny), (x0 - nx, y0 - ny))


def show(values: Values, expected: Expected, system: System) -> Shown:
    """The ring from above and one strut from the side, to scale; strut length over the size of the opening.

    Args:
        values: the draft's.
        expected: what is expected of it.
        system: the reader's units.
    Returns:
        What is shown.
    """
    plan, thick = plan_of(values), values.stocks["member"].thickness_m.typical
    radius = plan.outer_radius_m
    over = thick * (1 + 0.6 / math.sin(2 * math.pi / plan.supports))
    low = -1.5 * max(radius, *(abs(y) for _, y in plan.ends))
    above = Drawing(
        (
            circle(Role.GHOST, (0, 0), radius),
            *(circle(Role.SUPPORT, at, values["support_m"] / 2) for at in plan.starts),
            *(_strut(a, b, thick) for a, b in zip(plan.starts, plan.ends, strict=True)),
            *(_strut(_at(plan, i, plan.used_m - over), b, thick) for i, b in enumerate(plan.ends)),
            circle(Role.FOLD, (0, 0), plan.inner_radius_m),
            measure((-radius, low), (radius, low)),
        ),
        f"{plan.supports} struts on a circle {format_length(2 * radius, system)} across, around an opening of "
        f"{format_length(2 * plan.inner_radius_m, system)}.",
    )
    long, rise = values["strut_m"], plan.slope * values["strut_m"]
    near, far = plan.near_crossing_m, plan.near_crossing_m + plan.crossing_spacing_m
    side = Drawing(
        (
            block(Role.SUPPORT, -values["support_m"] / 2, -0.25 * long, values["support_m"], 0.25 * long),
            _strut((0, thick / 2), (long, thick / 2 + rise), thick),
            circle(Role.GHOST, (near, near * plan.slope + 1.5 * thick), thick / 2),
            circle(Role.GHOST, (far, far * plan.slope - thick / 2), thick / 2),
            label(Role.GHOST, (near, near * plan.slope + 4 * thick), "carries the other"),
            label(Role.GHOST, (0.7 * far, far * plan.slope - 5 * thick), "lies on its neighbour"),
            measure((0, -0.32 * long), (near, -0.32 * long)),
            measure((near, -0.32 * long), (far, -0.32 * long)),
        ),
        "One strut from the side: it carries one neighbour near its support, and its far end lies on the other.",
    )
    widest = radius * math.cos(math.pi / plan.supports)
    points = tuple((2 * r, strut_length_m(plan.supports, radius, r)) for r in (widest * i / 50 for i in range(1, 51)))
    fits = ((2 * half, values["strut_m"]) for half in _fitting(plan, values["strut_m"]))
    says = (
        f"With {plan.supports} supports these struts close on circles "
        f"from {format_length(2 * plan.smallest_radius_m, system)} to "
        f"{format_length(2 * plan.largest_radius_m, system)} across.",
        *((f"The same strut also closes a tighter ring, around {format_length(2 * plan.other_radius_m, system)}.",)
          if plan.other_radius_m else ()),
        *((f"{format_length(plan.overhang_m, system)} of each strut sticks out beyond its neighbour.",)
          if plan.overhang_m > 1e-6 else ()),
    )  # fmt: skip
    return Shown(
        views=(View("plan", "From above", above), View("side", "One strut, from the side", side)),
        facts=(
            Fact("Opening", "length", 2 * plan.inner_radius_m),
            Fact("Slope", "share", plan.slope),
            Fact("Crown above the supports", "length", plan.crown_m),
            Fact("Support to first crossing", "length", plan.near_crossing_m),
            Fact("Between the crossings", "length", plan.crossing_spacing_m),
            Fact("Strut clear of the next support", "length", plan.clear_m),
            Fact("Supports that would fit", "count", plan.most_supports),
            Fact("Own weight", "mass", expected.mass_kg),
        ),
        curves=(
            Curve("Which struts close on this circle", "opening, across", "length", "strut", "length", points,
                  (2 * plan.inner_radius_m, plan.used_m), tuple((at, "fits") for at in fits)),
        ),
        says=says,
    )  # fmt: skip


def _fitting(plan: RingPlan, strut: float) -> tuple[float, ...]:
    if strut > longest_fit_m(plan.supports, plan.outer_radius_m):
        return ()
    return tuple(r for r in inner_radii_m(plan.supports, plan.outer_radius_m, strut) if r != plan.inner_radius_m)


def _closes(values: Values, expected: Expected) -> tuple[float, float]:
    """From the tightest to the widest circle on which these struts close [m]."""
    plan = plan_of(values)
    return 2 * plan.smallest_radius_m, 2 * plan.largest_radius_m


def _levers() -> Drawing:
    """One strut as a lever."""
    return Drawing(
        (
            line(Role.STRUCTURE, (0, 0), (0.4, 0.03)),
            area(Role.SUPPORT, (0, -0.002), (-0.02, -0.05), (0.02, -0.05)),
            area(Role.SUPPORT, (0.37, 0.024), (0.35, -0.024), (0.39, -0.024)),
            block(Role.LOAD, 0.19, 0.018, 0.05, 0.035),
            label(Role.GHOST, (0, -0.085), "its cup"),
            label(Role.GHOST, (0.37, -0.06), "a neighbour"),
            label(Role.GHOST, (0.215, 0.085), "the other"),
        ),
        "A strut is a lever: its cup at one end, one neighbour on its middle, its far end on the other neighbour.",
    )


RING = DraftKind(
    "ring", "Self-supporting ring", "Struts that rest on their neighbours.", ("ring",), "load in the middle",
    _PARAMS, expect, show, "member", errs_log=0.5,
    lessons=(Lesson("Each strut is a lever: it carries one neighbour and lies on the other.", _levers()),),
    films=(
        changes("A wider circle: strut on strut, until they miss each other", "plan", "circle_m", _closes),
    ),
    blame={"outer_radius_m": "circle_m", "strut_length_m": "strut_m", "strut_thickness_m": "member",
           "support_diameter_m": "support_m", "inner_radius_m": "circle_m"},
)  # fmt: skip
