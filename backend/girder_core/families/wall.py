"""Walls under attack: blocks or soft pieces, thrown at a set number of times; what is left standing counts."""

from __future__ import annotations

from girder_core.families import common as c
from girder_core.families.constraints import Limit, Question
from girder_core.families.curriculum import BALANCE_3, ENERGY_4, ENERGY_MS, PUSHES_K
from girder_core.families.model import (
    Bench,
    FactorIdea,
    Family,
    Metric,
    Mode,
    Pace,
    SchoolChoice,
    Setup,
    SetupField,
    Term,
)
from girder_core.ground import Drawing, Role, block, circle, measure
from girder_core.measure import Kind, Plausible, format_length
from girder_core.results import School
from girder_core.safety import ALWAYS, THROWING
from girder_core.trial import BenchMeasure, Loose, throw_rounds

_SETUP = (
    SetupField(
        "length_m", "Least length of the wall", Kind.LENGTH, 0.1, 5.0, 0.5, "Short walls are easy to make thick.",
        ages=c.ages((0.3, 0.4, 0.5), (0.4, 0.5, 0.6), (0.5, 0.6, 0.8), (0.6, 0.8, 1.0)), harder=1, step=0.05,
        term="Long", says="at least {}",
    ),
    SetupField(
        "height_m", "Least height of the wall", Kind.LENGTH, 0.05, 2.0, 0.25, "High walls tip.",
        ages=c.ages((0.14, 0.18, 0.24), (0.16, 0.22, 0.28), (0.2, 0.28, 0.34), (0.24, 0.32, 0.42)), harder=1,
        step=0.02, term="High", says="at least {}",
    ),
    SetupField(
        "throws", "Throws", Kind.COUNT, 1, 100, 6, "The attack is the same for every team.",
        ages=c.ages((4, 5, 6), (4, 6, 8), (5, 7, 10), (6, 8, 12)), harder=1, step=1, term="Attack", says="{} throws",
    ),
    SetupField(
        "attack_s", "Attack against the clock", Kind.TIME, 3, 300, None,
        "Leave it out, and the number of throws is set; with it, as many as fit into this time.", optional=True,
        term="Attack", says="as many throws as fit into {}",
    ),
    SetupField(
        "distance_m", "Throwing line", Kind.LENGTH, 0.5, 10.0, 2.0, "Measured from the wall to the marked line.",
        ages=c.ages((1.4, 1.8, 2.4), (1.6, 2.2, 2.8), (1.8, 2.6, 3.2), (2.0, 2.8, 3.6)), harder=-1, step=0.1,
        term="Thrown", says="from {} away",
    ),
    SetupField(
        "hold_s", "Stands before the attack", Kind.TIME, 1, 120, 10, "A wall that falls by itself is not attacked.",
        ages=c.ages((5, 8, 12), (5, 10, 14), (5, 10, 15), (5, 10, 20)), harder=1, step=1, term="Stands",
        says="by itself for {} first",
    ),
)  # fmt: skip

FAILURE_MODES = (
    Mode("breached", "b", "Breached", "A hole went through it.",
         ("How thick was it where the ball hit?", "Do the joints run straight through?")),
    Mode("toppled", "t", "Toppled", "A whole piece of it fell over.",
         ("How deep is its foot against its height?", "What stands behind it?")),
    Mode("unzipped", "u", "Unzipped", "It opened along a straight joint.",
         ("Are the joints staggered?", "Which blocks tie front and back together?")),
    Mode("slid", "s", "Pushed along", "It slid as one piece.",
         ("What could hold its foot?",)),
)  # fmt: skip


def draw(setup: Setup) -> Drawing:
    """A bonded wall, with the throwing line if there is room to draw it.

    Args:
        setup: set-up quantities [SI].
    Returns:
        The drawing.
    """
    long, high = setup["length_m"] or 0.5, setup["height_m"] or 0.25
    courses = 5
    tall, brick = high / courses, long / 5
    shapes = [block(Role.GROUND, -0.15 * long, -0.06 * high, 1.3 * long, 0.06 * high)]
    for course in range(courses):
        x = 0.0
        widths = [brick] * 5 if course % 2 == 0 else [brick / 2, *[brick] * 4, brick / 2]
        for width in widths:
            shapes.append(block(Role.STRUCTURE, x, course * tall, width, tall))
            x += width
    return Drawing(
        (
            *shapes,
            circle(Role.LOAD, (0.5 * long, 1.3 * high), 0.12 * high),
            measure((0, -0.25 * high), (long, -0.25 * high)),
            measure((-0.08 * long, 0), (-0.08 * long, high)),
        ),
        f"A wall of {format_length(long)} by {format_length(high)} with staggered joints.",
    )


WALL = Family(
    key="wall",
    name="Wall under attack",
    built="A wall that stands up to an attack.",
    tested="Soft balls are thrown at it from a marked line; then what is left standing is counted.",
    question="Whose wall is left standing?",
    setup=_SETUP,
    readings=(
        c.length("length", "Length", "Along its foot.", 0.1, 5.0, "the length"),
        c.length("height", "Height", "From the floor to its lowest top edge.", 0.03, 2.0, "the height"),
        c.floor_shape("area", "Area", f"Of the wall seen from the front, before the attack. {c.SHAPES}", 8.0,
                      "the area of a wall"),
        c.counted("pieces", "Pieces in the wall", "All pieces that stand in it before the attack.", 2, 500,
                  "the pieces in a wall"),
        c.counted("left", "Pieces left standing", "Those still where they were built, or resting on such.", 0, 500,
                  "the pieces left standing", after=True),
    ),
    limits=(
        Limit("length", "length_m", True, "the least length"),
        Limit("height", "height_m", True, "the least height"),
    ),
    questions=(
        c.STANDS,
        Question("propped", "Does it lean on anything that is not part of it?", False, "It leans on something else."),
        Question("glued", "Is anything glued or taped?", False, "Pieces are glued or taped together."),
    ),
    failure_modes=FAILURE_MODES,
    loading_errors=(c.KNOCKED, Mode("line", "l", "Thrown from over the line", "The attack was not the same."),
                    Mode("ball", "b", "Another ball was used", "The attack was not the same.")),
    run_out_reasons=(),
    observations=(c.LEAN, Mode("loose", "o", "Pieces loose", "Pieces have moved but stand."),
                  Mode("hole", "h", "A hole", "Light comes through.")),
    bench=Bench(
        rounds=lambda setup: throw_rounds(round(setup.get("throws") or 6), setup.get("attack_s")),
        measures=(
            BenchMeasure("left", "Pieces left standing", Kind.COUNT,
                         "Those still where they were built, or resting on such.",
                         Plausible(0, 500, "the pieces left standing"), needed=True, short="Pieces",
                         lead="Left standing", unit="pieces", result="{} left",
                         loose=Loose.THE_REST, before="pieces"),
            BenchMeasure("area_left", "Area left", Kind.AREA,
                         "What still stands of it, seen from the front: all stumps, without the holes.",
                         Plausible(0.0, 8.0, "the area left"), needed=True, letter="a", short="Area",
                         lead="Left standing", result="{} left", before="area"),
            BenchMeasure("height_left", "Height left", Kind.LENGTH, "From the floor to its lowest top edge now.",
                         Plausible(0.0, 2.0, "the height left"), needed=True, letter="y", short="Height",
                         lead="Left standing", result="{} left", before="height"),
        ),
    ),
    metrics=(Metric("share", "Share left standing",
                    "Pieces left standing divided by pieces before; where nobody counts, by area, or by height."),
             Metric("down", "Pieces knocked down", "The attackers' score.")),
    schools=(SchoolChoice(School.LEFT_STANDING, "The defenders' score; the attackers score the rest."),),
    quotas=(
        c.some("foam block, 60 mm", "block", (24, 30, 36, 40), (0, 0, 0, 0), pack=60, spare=0.05, harder=-1),
        c.tool("soft ball", per_bench=3), c.tool("floor tape for the line", per_class=1), c.RULER, c.STOPWATCH,
    ),
    pace=Pace(swap_s=60, test_s=75),
    vocabulary=(Term("stagger", "To put joints where the row below has none."), Term("course", "One row of blocks."),
                Term("buttress", "A prop built against a wall."), c.BASE, c.FAIR_TEST),
    young="Stack blocks so that no gap runs straight up. Make the foot wider than the top. Will it stay up?",
    older="A ball hands its motion to the blocks it meets. In a staggered wall a block pushes its neighbours too, "
    "so more "
    "mass takes part and each moves less. A deep foot or a buttress keeps the wall from rocking over.",
    ideas=("Stagger the joints.", "Build two layers and tie them.", "Add buttresses behind.",
        "Make it low where you may."),
    factors=(
        FactorIdea("joints", ("in line", "staggered"), "The same blocks, only moved by half."),
        FactorIdea("depth", ("one layer", "two layers", "buttresses"), "Where does a block do most?"),
    ),
    controls=("the same blocks", "the same ball", "the same line", "the same number of throws", "the same throwers"),
    reflect=(
        "Which joints let go, and how were they laid?",
        "What did the attackers learn that the builders did not know?",
        "How would you lay the same blocks next time?",
    ),
    standards=(PUSHES_K, BALANCE_3, ENERGY_4, ENERGY_MS),
    cautions=(THROWING, ALWAYS),
    draw=draw,
    footprint=lambda setup: c.square_footprint(setup["length_m"] or 0.5, "The foot of the wall, at least this long.",
    0.12),
)  # fmt: skip
