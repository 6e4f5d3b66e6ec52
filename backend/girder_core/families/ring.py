"""Self-supporting rings: struts that rest on cups and on each other, round a circle, with load in the middle."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from girder_core.families import common as c
from girder_core.families.constraints import Limit, Question
from girder_core.families.curriculum import BALANCE_3, FORCES_HS, FORCES_MS, PUSHES_K
from girder_core.families.model import (
    Bench,
    FactorIdea,
    Family,
    LoadIdea,
    Metric,
    Mode,
    Outcome,
    Pace,
    Setup,
    SetupField,
    Term,
)
from girder_core.ground import Drawing, Role, Shape, circle, line, measure
from girder_core.kit import Material
from girder_core.measure import Kind, Plausible, format_length
from girder_core.physics import clear_circles_m
from girder_core.safety import ALWAYS, SNAPPING
from girder_core.trial import BenchMeasure

_CUP = (0.05, 0.06, 0.07)
_SETUP = (
    SetupField(
        "supports", "Supports in the circle", Kind.COUNT, 3, 30, 4, "Each carries one strut.",
        ages=c.ages((3, 3, 4), (3, 4, 5), (4, 5, 6), (5, 6, 8)), harder=1, step=1, term="Ring", says="of {} cups",
    ),
    SetupField(
        "circle_m", "Circle through the supports", Kind.LENGTH, 0.05, 3.0, 0.3,
        "Measured across, from middle to middle.",
        ages=c.ages((0.2, 0.22, 0.24), (0.22, 0.24, 0.26), (0.23, 0.25, 0.27), (0.24, 0.26, 0.28)), harder=1,
        step=0.01, term="Circle", says="{} across",
    ),
    SetupField(
        "support_m", "Width of a support", Kind.LENGTH, 0.01, 0.5, 0.06, "Cups that touch each other leave no room.",
        ages=c.ages(_CUP, _CUP, _CUP, _CUP),
        step=0.01, term="Cups", says="{} wide",
    ),
    c.hold(8, "A step counts when the ring stays up this long."),
    c.target(c.ages((0.1, 0.2, 0.35), (0.15, 0.3, 0.5), (0.25, 0.45, 0.8), (0.4, 0.7, 1.2)), 0.05),
    c.bench_limit(4),
)  # fmt: skip

FAILURE_MODES = (
    Mode("slid", "s", "A strut slid", "An end slipped off its neighbour or its cup.",
         ("How steeply did it lie?", "What would make the crossing rougher?")),
    Mode("bent", "b", "A strut bent or snapped", "One strut gave way.",
         ("Where along the strut did its neighbour press?", "Would a smaller opening bring the load nearer the cup?")),
    Mode("cup", "c", "A cup dropped or tipped", "A support moved away.",
         ("Which way was the cup pushed?",)),
)  # fmt: skip


def _plan(n: int, radius: float, inner: float) -> list[Shape]:
    """Struts of equal length, each from its cup past the tangent point to the crossing with the next."""
    reach = math.sqrt(max(radius**2 - inner**2, 0.0)) + inner * math.tan(math.pi / n)
    struts = []
    for i in range(n):
        turn = 2 * math.pi * i / n
        x0, y0 = radius * math.cos(turn), radius * math.sin(turn)
        # The strut touches the inner circle: its direction is turned off the radius by this angle.
        towards = turn + math.pi - math.asin(min(1.0, inner / radius))
        struts.append(line(Role.STRUCTURE, (x0, y0), (x0 + reach * math.cos(towards), y0 + reach * math.sin(towards))))
    return struts


def draw(setup: Setup) -> Drawing:
    """The ring from above.

    Args:
        setup: set-up quantities [SI].
    Returns:
        The drawing, with an inner opening of a third of the circle.
    Source:
        Each strut is tangent to an inner circle of radius r and reaches sqrt(R² − r²) + r·tan(π/n) (plane geometry).
    """
    n = max(3, round(setup["supports"] or 4))
    radius, cup = (setup["circle_m"] or 0.3) / 2, (setup["support_m"] or 0.06) / 2
    turns = [2 * math.pi * i / n for i in range(n)]
    return Drawing(
        (
            *(circle(Role.SUPPORT, (radius * math.cos(t), radius * math.sin(t)), cup) for t in turns),
            *_plan(n, radius, radius / 3),
            circle(Role.LOAD, (0, 0), radius / 5),
            measure((-radius, -radius - 2 * cup), (radius, -radius - 2 * cup)),
        ),
        f"From above: {n} struts from cups on a circle of {format_length(2 * radius)}, each resting on the next.",
    )


def footprint(setup: Setup) -> Drawing:
    """Where the cups stand.

    Args:
        setup: set-up quantities [SI].
    Returns:
        The drawing from above, true to scale when it is printed as such.
    """
    n = max(3, round(setup["supports"] or 4))
    radius, cup = (setup["circle_m"] or 0.3) / 2, (setup["support_m"] or 0.06) / 2
    turns = [2 * math.pi * i / n for i in range(n)]
    return Drawing(
        (
            *(circle(Role.SUPPORT, (radius * math.cos(t), radius * math.sin(t)), cup) for t in turns),
            *c.centre_cross(0, 0),
            measure((-radius, -radius - cup - 0.012), (radius, -radius - cup - 0.012)),
        ),
        "Where the cups stand.",
    )


def conflicts(setup: Setup, materials: Sequence[Material]) -> Mapping[str, str]:
    """Cups that do not fit the circle, and struts too short or too long to rest on each other.

    Args:
        setup: set-up quantities [SI].
        materials: what it is built from.
    Returns:
        Sentence by field.
    Source:
        n cups of width D on a circle of radius R need 2 R sin(π/n) ≥ D; which circles a strut closes clear of them
        is ``physics.clear_circles_m``.
    """
    n, across, cup = setup.get("supports"), setup.get("circle_m"), setup.get("support_m")
    if n is None or across is None or cup is None:
        return {}
    radius = across / 2
    apart = 2 * radius * math.sin(math.pi / n)
    if apart < cup - 1e-9:
        return {"supports": f"{n:g} cups of {format_length(cup)} do not fit on a circle of {format_length(across)}."}
    sizes = [m.size_m for m in materials if m.buildable and m.size_m > 0]
    if sizes and radius >= clear_circles_m(round(n), max(sizes), cup, 0.0)[1]:
        return {
            "circle_m": f"Struts of {format_length(max(sizes))} are too short to reach past the next cup. "
            "Make the circle smaller or the struts longer."
        }
    return {}


RING = Family(
    key="ring",
    name="Self-supporting ring",
    built="A ring of struts that rest on cups and on each other, with nothing in the middle.",
    tested="Weight is piled in the middle; afterwards the whole pile is put on a scale.",
    question="Whose ring carries most in the middle?",
    setup=_SETUP,
    readings=(
        c.counted("supports", "Supports", "Cups in the circle.", 3, 30, "the supports"),
        c.length("circle", "Circle", "Across, from the middle of a cup to the middle of the one opposite, or twice to "
                 "the centre.", 0.05, 2.0, "the circle"),
        c.length("inner", "Inner opening", "Across the hole in the middle.", 0.01, 1.0, "the opening"),
        c.own_weight(0.005, 2.0, "the struts together", "All struts on the scale, without the cups."),
    ),
    limits=(
        Limit("supports", "supports", True, "the supports of this challenge"),
        Limit("circle", "circle_m", True, "the circle", agreed=True),
    ),
    questions=(
        Question("closed", "Does it stay up by itself?", True, "It does not stay up by itself.", blocks=True),
        Question("fixed", "Is any crossing glued, taped or tied?", False, "A crossing is fixed."),
        Question("touch", "Does anything but the cups touch the table?", False, "Something props it up."),
    ),
    failure_modes=FAILURE_MODES,
    loading_errors=c.LOADING_ERRORS,
    run_out_reasons=c.RUN_OUTS,
    observations=(c.BEND, Mode("slide", "s", "A strut sliding", "A crossing is moving."), c.CRACK),
    outcome=Outcome(size="circle"),
    bench=Bench(
        measures=(
            BenchMeasure("crown", "Height of the ring", Kind.LENGTH, "From the table to the inner crossings.",
                         Plausible(0.0, 0.6, "the height of the ring"), short="Height"),
        ),
        weighs_after=True,
    ),
    metrics=(c.HELD, c.TIMES, Metric("supports", "Supports", "Struts that were made to rest on each other.")),
    schools=(c.MOST_HELD, c.RATIO, c.PASS, c.MIXED),
    quotas=(
        c.some("10 mm dowel, 200 mm", "strut", (3, 4, 6, 8), (0, 0, 0, 0), pack=25, size_m=0.2, harder=0),
        c.tool("paper cup", per_team=8, pack=50), c.RULER, c.tool("plate for the middle", per_bench=1), c.SCALE,
    ),
    load=(LoadIdea("bag of gravel, small", "bag", 0.062, 0.06, 0.03),),
    platform="plate",
    pace=Pace(swap_s=60, place_s=4),
    vocabulary=(Term("strut", "A straight piece that is squeezed or bent."), Term("crossing",
        "Where one strut rests on the next."),
                c.SPAN, c.LOAD_TERM, Term("friction", "What keeps a crossing from sliding.")),
    young="Each stick lies on the next one, all the way round. Take one away and all fall. How many can you join?",
    older="No strut reaches across, yet together they span the circle: each rests on its neighbour and carries the one "
    "before. Where struts cross near the cups the hole is large and the push at each crossing grows.",
    ideas=("Build it with a helper's hand in the middle.", "Turn the circle until all crossings look alike.",
           "Move the cups, not the struts."),
    factors=(
        FactorIdea("supports", ("three", "four", "six"), "More struts share, but each rests on another."),
        FactorIdea("opening", ("small", "large"), "The same struts on another circle."),
    ),
    controls=("the same struts", "the same cups", "the same circle", "load in the middle", "the same wait"),
    reflect=(
        "How long must a strut be to reach the next one? How do you know?",
        "What held the first strut while the last was laid?",
        "What would one support more change?",
    ),
    standards=(PUSHES_K, BALANCE_3, FORCES_MS, FORCES_HS),
    cautions=(SNAPPING, ALWAYS),
    draw=draw,
    footprint=footprint,
    conflicts=conflicts,
)  # fmt: skip
