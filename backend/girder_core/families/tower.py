"""Towers: the tallest that stands alone, measured with a tape, with a load on top if the recipe asks for one."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise

from girder_core.families import common as c
from girder_core.families.constraints import Limit, Question
from girder_core.families.curriculum import BALANCE_3, FORCES_HS, FORCES_MS, MATTER_2
from girder_core.families.model import (
    Bench,
    FactorIdea,
    Family,
    Metric,
    Mode,
    Outcome,
    Pace,
    Saying,
    SchoolChoice,
    Setup,
    SetupField,
)
from girder_core.ground import Drawing, Role, area, block, line, measure
from girder_core.kit import Stuff
from girder_core.measure import Kind, Plausible, format_length
from girder_core.results import School
from girder_core.safety import ALWAYS, ELASTIC, SNAPPING
from girder_core.trial import BenchMeasure, stand_round

HIGHEST = "From the table to the highest point, tape upright."
_SETUP = (
    SetupField(
        "height_goal_m", "Height to aim for", Kind.LENGTH, 0.05, 10.0, None, "Something to reach; the tallest wins.",
        True, c.ages((0.3, 0.4, 0.6), (0.4, 0.6, 0.9), (0.6, 0.9, 1.2), (0.8, 1.2, 1.45)), 1, 0.05, "Aim for",
        "{} from table to top",
    ),
    SetupField(
        "base_max_m", "Widest base", Kind.LENGTH, 0.02, 3.0, 0.3, "A narrow base makes tall hard.",
        ages=c.ages((0.3, 0.4, 0.5), (0.24, 0.34, 0.44), (0.2, 0.28, 0.36), (0.16, 0.22, 0.3)), harder=-1, step=0.02,
        term="Base", says="at most {} wide",
    ),
    SetupField(
        "hold_s", "Has to stand for", Kind.TIME, 1, 600, 20, "A tower that falls at once has no height.",
        ages=c.ages((5, 10, 20), (10, 15, 30), (10, 20, 40), (15, 30, 60)), harder=1, step=5, term="Stands",
        says="by itself for {}, nobody touching it",
    ),
)  # fmt: skip

FAILURE_MODES = (
    Mode("toppled", "t", "Toppled", "It fell over as a whole.",
         ("How wide is its base for its height?", "Is there more weight low down or high up?")),
    Mode("leg", "l", "A leg folded", "A leg bowed out or broke.",
         ("Is that leg longer between its joints than the others?", "Where would a cross tie halve it?")),
    Mode("joint", "j", "A joint opened", "A band, tape or glue let go.",
         ("Does the joint hold against turning, or only against sliding?",)),
    Mode("racked", "r", "Folded sideways", "Its squares became diamonds.",
         ("Which squares have no diagonal?", "How few diagonals are enough?")),
)  # fmt: skip


def draw(setup: Setup) -> Drawing:
    """A braced mast on its base.

    Args:
        setup: set-up quantities [SI].
    Returns:
        The drawing.
    """
    height, base = setup.get("height_goal_m") or 0.8, setup["base_max_m"] or 0.3
    half = min(base, 0.6 * height) / 2
    rungs = [(half * (1 - 0.8 * i / 4), height * i / 4) for i in range(5)]
    braces = [
        line(Role.STRUCTURE, (-x0 if i % 2 else x0, y0), (x1 if i % 2 else -x1, y1))
        for i, ((x0, y0), (x1, y1)) in enumerate(pairwise(rungs))
    ]
    legs = [line(Role.STRUCTURE, *((side * x, y) for x, y in rungs)) for side in (-1, 1)]
    return Drawing(
        (
            block(Role.GROUND, -base, -0.03 * height, 2 * base, 0.03 * height),
            *legs,
            *(line(Role.STRUCTURE, (-x, y), (x, y)) for x, y in rungs[1:]),
            *braces,
            area(Role.LOAD, (-0.05 * height, height), (0.05 * height, height), (0, 1.07 * height)),
            measure((-0.8 * base, 0), (-0.8 * base, height)),
            measure((-base / 2, -0.1 * height), (base / 2, -0.1 * height)),
        ),
        f"A braced mast of {format_length(height)} on a base of at most {format_length(base)}.",
    )


TOWER = Family(
    key="tower",
    name="Tower",
    built="A tower that stands by itself and is as tall as it can be.",
    tested="It stands alone for the agreed time; then its height is measured.",
    question="Whose tower stands tallest?",
    setup=_SETUP,
    readings=(
        replace(c.length("height", "Height", HIGHEST, 0.05, 4.0, "the height"), may_follow=True),
        c.length("base", "Widest base", "The widest distance between its feet.", 0.02, 2.0, "the base"),
        c.own_weight(0.005, 2.0, "a tower", "The whole tower on the scale, after it was measured."),
    ),
    limits=(Limit("base", "base_max_m", False, "the widest base"),),
    questions=(
        Question("stood", "Does it stand by itself?", True, "It does not stand by itself, so it has no height yet.",
                 blocks=True),
        Question("fixed", "Is it fixed to the table?", False, "It is fixed to the table."),
    ),
    failure_modes=FAILURE_MODES,
    loading_errors=(c.KNOCKED,),
    run_out_reasons=c.RUN_OUTS,
    observations=(c.LEAN, c.JOINT_OPENING, c.BUCKLE),
    outcome=Outcome(size="height"),
    bench=Bench(
        rounds=lambda setup: stand_round(setup.get("hold_s") or 20.0),
        measures=(
            BenchMeasure("height", "Height", Kind.LENGTH, HIGHEST,
                         Plausible(0.05, 4.0, "the height"), needed=True, short="Height", lead="Its height"),
        ),
    ),
    metrics=(Metric("height", "Height", "From table to top, standing free."),
             Metric("slender", "Height over base", "Height divided by the widest base.")),
    schools=(
        SchoolChoice(School.TALLEST, "The question itself; only towers that stand have a height."),
    ),
    quotas=(
        c.some("6 mm dowel, 300 mm", "stick", (16, 20, 24, 24), (2, 2, 2, 2), pack=50, size_m=0.3),
        c.some("rubber band", "piece", (24, 28, 32, 32), (4, 4, 4, 4), pack=100, harder=0, hazards=("elastic",)),
        c.tool("tape measure, 2 m", per_bench=1), c.STOPWATCH, c.tool("safety goggles", per_team=3), c.SCALE,
    ),
    pace=Pace(swap_s=30, test_s=60),
    vocabulary=(c.BASE, c.CENTRE, c.JOINT, c.TENSION, c.COMPRESSION),
    young="Tall things tip. A wide foot and a light top help. Triangles do not fold, squares do.",
    older="A tower tips when the line through its centre of mass passes its feet, so a wide base and a light top "
    "help. A "
    "square of sticks folds freely; a diagonal makes it two triangles, and a triangle cannot change its shape.",
    ideas=("Start wide, end narrow.", "Put a diagonal in every square.", "Keep the heavy joints low.",
           "Make long legs from two sticks side by side."),
    factors=(
        FactorIdea("bracing", ("none", "one side", "all sides"), "Diagonals cost sticks; what do they buy?"),
        FactorIdea("feet", ("three", "four"), "Three feet never rock; four are wider."),
    ),
    controls=("the same sticks", "the same bands", "the same time to build", "measured by the same person"),
    sayings={
        Stuff.SHEET: Saying(
            young="Paper cannot stand. Rolled up, it can. Put wide rolls low and narrow ones on top.",
            older="A tower tips when the line through its centre of mass passes its feet, so a wide base and a light "
            "top help. A rolled sheet is a column: stiff for its weight, until its wall dents. A frame of rolls keeps "
            "its shape only with diagonals.",
            ideas=("Roll tubes, and tape the seam in several places.", "Put one tube into another to make it longer.",
                   "Start wide, end narrow.", "Cut tabs to make feet."),
            factors=(
                FactorIdea("tubes", ("wide", "narrow"), "The same sheets, rolled another way."),
                FactorIdea("feet", ("three", "four"), "Three feet never rock; four are wider."),
            ),
            controls=("the same sheets", "the same tape", "the same time to build", "measured by the same person"),
        ),
    },
    reflect=(
        "What kept it from falling over?",
        "Which part would you make lighter, and which heavier?",
        "How much higher could it go before the foot must be wider?",
    ),
    standards=(MATTER_2, BALANCE_3, FORCES_MS, FORCES_HS),
    cautions=(SNAPPING, ELASTIC, ALWAYS),
    tallest="height_goal_m",
    draw=draw,
    footprint=lambda setup: c.square_footprint(setup["base_max_m"] or 0.3, "The widest base; no foot stands outside."),
)  # fmt: skip
