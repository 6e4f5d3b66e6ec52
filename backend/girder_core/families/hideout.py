"""Hideouts: a shelter of blocks or card that hides figures of a stated size from all sides and from above."""

from __future__ import annotations

import math
from dataclasses import replace

from girder_core.families import common as c
from girder_core.families.constraints import Limit, Question
from girder_core.families.curriculum import BALANCE_3, FORCES_MS, MATERIALS_2
from girder_core.families.derived import floor, room
from girder_core.families.model import (
    Bench,
    FactorIdea,
    Family,
    Metric,
    Mode,
    Outcome,
    Pace,
    SchoolChoice,
    Setup,
    SetupField,
    Term,
)
from girder_core.ground import Drawing, Film, Frame, Role, Shape, area, block, circle, line, measure
from girder_core.measure import Kind, Plausible, format_length
from girder_core.results import School
from girder_core.safety import ALWAYS, SCISSORS
from girder_core.trial import BenchMeasure, Procedure, RoundPlan, Shows, named_rounds

_SETUP = (
    SetupField(
        "figures", "Figures to hide", Kind.COUNT, 1, 20, 2, "More figures need more room, or a better use of it.",
        ages=c.ages((1, 1, 2), (1, 2, 3), (2, 3, 4), (2, 4, 6)), harder=1, step=1, term="Hides",
        says="all of {} figures",
    ),
    SetupField(
        "figure_height_m", "Height of a figure", Kind.LENGTH, 0.01, 1.0, 0.07, "The same figure for every team.",
        ages=c.ages((0.05, 0.07, 0.09), (0.05, 0.07, 0.09), (0.05, 0.07, 0.1), (0.05, 0.07, 0.1)), step=0.01,
        term="Figure", says="{} tall",
    ),
    SetupField(
        "figure_width_m", "Width of a figure", Kind.LENGTH, 0.005, 1.0, 0.03, "It has to go through the door, if any.",
        ages=c.ages((0.02, 0.03, 0.05), (0.02, 0.03, 0.05), (0.02, 0.03, 0.05), (0.02, 0.03, 0.05)), step=0.01,
        term="Figure", says="{} wide",
    ),
    SetupField(
        "blocks_max", "Blocks for each team", Kind.COUNT, 2, 500, 24, "What is left over is counted too.",
        ages=c.ages((24, 30, 36), (22, 28, 34), (20, 26, 32), (18, 24, 30)), harder=-1, step=2, term="Blocks",
        says="at most {}",
    ),
    SetupField(
        "push_kg", "The push", Kind.MASS, 0.01, 2.0, 0.1, "The same push for all, against the middle of a wall.",
        ages=c.ages((0.03, 0.05, 0.08), (0.05, 0.08, 0.12), (0.06, 0.1, 0.16), (0.08, 0.14, 0.22)), harder=1, step=0.01,
        term="Stands", says="a push until the scale shows {}",
    ),
    SetupField(
        "hold_s", "Stands before the first look", Kind.TIME, 1, 120, 10, "What falls by itself hides nobody.",
        ages=c.ages((5, 8, 12), (5, 10, 14), (5, 10, 15), (5, 10, 20)), harder=1, step=1, term="Stands",
        says="by itself for {} first",
    ),
)  # fmt: skip

FAILURE_MODES = (
    Mode("fell_in", "f", "The roof fell in", "A block or a card from above came down.",
         ("How far did the roof reach over open room?", "What could hold it up in the middle?")),
    Mode("wall_went", "w", "A wall went over", "A wall tipped or was pushed out.",
         ("Were its joints staggered?", "What ties it to the wall beside it?")),
    Mode("slid_away", "s", "It slid along", "It moved as a whole, and a gap opened.",
         ("What holds its foot?", "Would a heavier roof help here, or harm?")),
)  # fmt: skip

SIDES = ("the front", "the front right", "the right", "the back right", "the back", "the back left", "the left",
         "the front left", "above")  # fmt: skip
"""From where it is looked at, in order: eight directions at the figures' eye level, and from above."""

LOOKING = Procedure(
    "look",
    Shows.HITS,
    lead="Seen on",
    out_of="of {most} looks",
    next="Look {n}",
    next_note="look {n} of {most}, from {name}",
    came_through="",
    went="It fell in",
    finish="It stood the push",
    finish_note="a push on each side, as agreed",
    count="Count who is hidden",
    all_made="It was looked at from all sides. Count who is hidden, then push.",
    waiting_for="It was not looked at from all sides yet.",
    broke="Fell in",
    done="Hidden, and it stood the push",
    headline="{team} has {result}, seen on {hits}.",
    failed_headline="{team} fell in.",
    counted="looks made",
    hit_or_miss=True,
    hit="Seen",
    miss="Hidden",
    miss_is_well=True,
    struck="look",
    rehearses=False,
    gives_way=(2.0, 3.0),
)
"""It is looked at from all sides, who is hidden is counted, and then it is pushed."""


def rounds(setup: Setup) -> RoundPlan:
    """The looks: from eight directions, then from above.

    Args:
        setup: set-up quantities [SI].
    Returns:
        Nine rounds.
    """
    return named_rounds(LOOKING, SIDES)


def draw(setup: Setup) -> Drawing:
    """A shelter cut open: a figure inside, blocks around it, a roof, and two eyes that look.

    Args:
        setup: set-up quantities [SI].
    Returns:
        The drawing.
    """
    tall, wide = setup["figure_height_m"] or 0.07, setup["figure_width_m"] or 0.03
    course = 0.3 * tall
    thick, room = 1.3 * course, 1.9 * wide
    shapes = [block(Role.GROUND, -thick - 0.9 * tall, -0.06 * tall, room + 2 * thick + 1.8 * tall, 0.06 * tall)]
    for row in range(4):
        lean = 0.12 * thick * (row % 2)
        shapes.append(block(Role.STRUCTURE, -thick - lean, row * course, thick, course))
        shapes.append(block(Role.STRUCTURE, room + lean, row * course, thick, course))
    shapes.append(block(Role.STRUCTURE, -thick, 4 * course, room + 2 * thick, 0.4 * course))
    left = (room - wide) / 2
    shapes.append(
        area(Role.LOAD, (left, 0), (left + wide, 0), (left + 0.8 * wide, 0.66 * tall), (left + 0.2 * wide, 0.66 * tall))
    )
    shapes.append(circle(Role.LOAD, (left + wide / 2, 0.82 * tall), min(0.18 * tall, wide / 2)))
    shapes += _eye(-thick - 0.7 * tall, 0.8 * tall, 0.16 * tall) + _eye(
        room + thick + 0.7 * tall, 0.8 * tall, 0.16 * tall
    )
    return Drawing(
        (
            *shapes,
            measure((room + thick + 0.5 * tall, 0), (room + thick + 0.5 * tall, tall)),
            measure((left, -0.5 * tall), (left + wide, -0.5 * tall)),
        ),
        f"A shelter cut open, with a figure of {format_length(tall)} by {format_length(wide)} inside.",
    )  # fmt: skip


def _eye(x: float, y: float, size: float) -> list[Shape]:
    lid = ((x - size, y), (x, y + 0.55 * size), (x + size, y), (x, y - 0.55 * size))
    return [area(Role.SUPPORT, *lid), circle(Role.LOAD, (x, y), 0.28 * size)]


def over_the_wall(setup: Setup) -> Film:
    """An eye that rises from the figures' height until it looks straight down, over walls without a roof.

    Args:
        setup: set-up quantities [SI].
    Returns:
        The frames. A figure is seen where the line from the eye to the top of its head clears the wall.
    """
    tall, wide = setup["figure_height_m"] or 0.07, setup["figure_width_m"] or 0.03
    wall, thick, room, far = 1.2 * tall, 0.3 * tall, 2.2 * wide, 2.6 * tall
    middle, head = room / 2, (room / 2, tall)
    frames = []
    for i in range(19):
        turn = math.radians(5 * i)
        eye = (middle + far * math.cos(turn), tall + far * math.sin(turn))
        # Height of the sight line where it crosses the outer and the inner edge of the wall.
        seen = all(eye[0] - middle < 1e-9 or tall + (x - middle) * math.tan(turn) >= wall for x in (room, room + thick))
        shapes = [
            block(Role.GROUND, -thick - 0.4 * tall, -0.06 * tall, far + room + thick, 0.06 * tall),
            block(Role.STRUCTURE, -thick, 0, thick, wall),
            block(Role.STRUCTURE, room, 0, thick, wall),
            block(Role.LOAD, middle - wide / 2, 0, wide, 0.72 * tall),
            circle(Role.LOAD, (middle, 0.86 * tall), 0.14 * tall),
            line(Role.WEAKEST if seen else Role.SLACK, eye, head),
            *_eye(*eye, 0.16 * tall),
        ]
        where = "Straight from above" if i == 18 else f"From {5 * i}° up"
        said = f"{where}: {'seen, unless there is a roof' if seen else 'hidden behind the wall'}."
        frames.append(Frame(Drawing(tuple(shapes), said), said))
    return Film("From how high up a figure is seen over the wall", tuple(frames))


def _measures(setup: Setup) -> tuple[BenchMeasure, ...]:
    return (replace(_HIDDEN, most=setup.get("figures")),)


_HIDDEN = BenchMeasure(
    "hidden", "Figures hidden", Kind.COUNT, "Those that nobody saw, from no side and not from above.",
    Plausible(0, 20, "the figures hidden"), needed=True, letter="y", short="Hidden", lead="Hidden", unit="figures",
    result="{} hidden", all_unless_hit=True,
)  # fmt: skip

HIDEOUT = Family(
    key="hideout",
    name="Hideout",
    built="A shelter that hides figures from all sides and from above.",
    tested="Each figure is put in; it is looked at from eight sides and from above, and then pushed.",
    question="Whose shelter hides the most for its blocks?",
    setup=_SETUP,
    readings=(
        c.length("length", "Length", "Along its longer side, outside.", 0.03, 3.0, "the length"),
        c.length("width", "Width", "Along its shorter side, outside.", 0.03, 3.0, "the width"),
        c.length("height", "Height", "From the floor to its highest edge.", 0.02, 2.0, "the height"),
        c.length("inside_length", "Length inside", "Between the walls, the longer way.", 0.005, 3.0,
                 "the length inside", False, True),
        c.length("inside_width", "Width inside", "Between the walls, the shorter way.", 0.005, 3.0,
                 "the width inside", False, True),
        c.floor_shape("floor", "Floor’s shape inside", c.SHAPES, 4.0, "the floor inside"),
        c.length("inside_height", "Height inside", "From the floor to the roof.", 0.005, 2.0, "the height inside",
                 False, True),
        c.counted("pieces", "Blocks used", "All blocks and cards in it.", 1, 500, "the blocks used"),
        c.counted("hidden", "Figures hidden", "Those that nobody saw, from no side and not from above.", 0, 20,
                  "the figures hidden", after=True),
    ),
    limits=(
        Limit("pieces", "blocks_max", False, "the blocks given"),
        Limit("hidden", "figures", False, "the figures there are"),
    ),
    questions=(
        c.STANDS,
        Question("inside", "Is every figure inside, and none touches the table’s edge?", True,
                 "A figure is not inside."),
        Question("glued", "Is anything glued or taped?", False, "Blocks are glued or taped together."),
    ),
    failure_modes=FAILURE_MODES,
    loading_errors=(c.KNOCKED, Mode("figure", "f", "Another figure was used", "Not the same size for all."),
                    Mode("line", "l", "Looked over the wall",
                         "Eyes stay at the figures’ height, but for the last look.")),
    run_out_reasons=(),
    observations=(c.LEAN, Mode("gap", "g", "A gap", "Light comes through where blocks meet."),
                  Mode("loose", "o", "Blocks loose", "Blocks have moved but stand.")),
    outcome=Outcome(achieved="hidden", asked="figures", pieces="pieces", given="blocks_max"),
    bench=Bench(rounds=rounds, measures=(_HIDDEN,), measured=_measures),
    metrics=(Metric("hidden", "Figures hidden", "Seen from no side and not from above."),
             Metric("pieces", "Blocks used", "All that stand or lie in it."),
             Metric("room", "Room inside", "Length, width and height inside, multiplied.")),
    schools=(
        SchoolChoice(School.FOR_ITS_PIECES, "Counts what is hidden against what it took, even when one is seen."),
        SchoolChoice(School.SPARED, "Only a shelter that hides all counts; then the smallest wins."),
    ),
    quotas=(
        c.some("foam block, 60 mm", "block", (30, 28, 26, 24), (0, 0, 0, 0), pack=60, spare=0.05, harder=-1),
        c.some("roof card, 150 × 100 mm", "card", (2, 2, 3, 3), (0, 0, 0, 0), pack=50, size_m=0.15),
        c.tool("small figure", per_bench=4), c.tool("small scale to push with", per_bench=1), c.RULER, c.STOPWATCH,
    ),
    pace=Pace(swap_s=40, test_s=80),
    vocabulary=(Term("shelter", "Something that keeps you out of sight or out of the weather."),
                Term("corner", "Where two walls meet and hold each other up."),
                Term("stagger", "To put joints where the row below has none."),
                Term("volume", "How much room there is inside."), c.FAIR_TEST),
    young="Build a den for a small friend. Nobody may see in, not even from above. Use few blocks!",
    older="Walls hide, but every block counts. A wall that turns a corner props itself up; a straight one needs a "
    "prop. The more figures stand close together, the less wall each of them needs: room grows faster than its edge.",
    ideas=("Make the corners lock like bricks.", "Use one wall for two figures.", "Let a figure lie down, if you may.",
           "Try the roof before the walls are finished."),
    factors=(
        FactorIdea("plan", ("square", "round", "long"), "The same blocks round another floor."),
        FactorIdea("joints", ("in line", "staggered"), "Where does it open when it is pushed?"),
    ),
    controls=("the same figures", "the same blocks", "eyes at the figures’ height", "the same push",
              "the same order of looks"),
    reflect=(
        "From where was it seen first, and why there?",
        "Which block could be left out, and which could not?",
        "What held it up when it was pushed?",
    ),
    standards=(MATERIALS_2, BALANCE_3, FORCES_MS),
    cautions=(SCISSORS, ALWAYS),
    drafted=False,
    film=over_the_wall,
    derived=(*floor("floor", "inside_length", "inside_width"),
             room("floor", "inside_length", "inside_width", "inside_height")),
    draw=draw,
    footprint=lambda setup: c.square_footprint(
        max(0.12, 4 * (setup["figure_width_m"] or 0.03)), "It stands around this square; looks go along its sides.",
    ),
)  # fmt: skip
