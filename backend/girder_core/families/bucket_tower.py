"""Bucket towers: a frame with a cup hung inside or from its top, loaded until it gives way."""

from __future__ import annotations

from girder_core.families import common as c
from girder_core.families.constraints import Limit, Question
from girder_core.families.curriculum import BALANCE_3, FORCES_HS, FORCES_MS, MATERIALS_2
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
from girder_core.ground import Drawing, Role, area, block, line, measure
from girder_core.measure import Kind, format_length
from girder_core.safety import ALWAYS, SCISSORS, SNAPPING

_SETUP = (
    SetupField(
        "height_m", "Least height of the hanger", Kind.LENGTH, 0.05, 2.0, 0.25,
        "The cup has to hang free below it.",
        ages=c.ages((0.14, 0.18, 0.24), (0.18, 0.24, 0.30), (0.22, 0.30, 0.38), (0.26, 0.36, 0.46)), harder=1,
        step=0.02, term="Hanger", says="at least {} above the table",
    ),
    SetupField(
        "base_max_m", "Widest base", Kind.LENGTH, 0.03, 2.0, 0.2, "Narrow frames lean and twist.",
        ages=c.ages((0.18, 0.24, 0.3), (0.16, 0.22, 0.28), (0.14, 0.18, 0.24), (0.12, 0.16, 0.2)), harder=-1,
        step=0.02, term="Base", says="at most {} wide",
    ),
    c.tape(c.ages((0.4, 0.7, 1.0), (0.4, 0.6, 0.9), (0.3, 0.5, 0.8), (0.2, 0.4, 0.6))),
    c.hold(),
    c.target(c.ages((0.15, 0.35, 0.7), (0.35, 0.7, 1.2), (0.6, 1.1, 2.0), (1.0, 1.8, 3.2)), 0.05),
    c.bench_limit(6),
)  # fmt: skip

FAILURE_MODES = (
    Mode("leg", "l", "A leg buckled", "A leg bowed out or folded.",
         ("How long is the leg between two joints?", "Could a ring of cross pieces hold the legs in?")),
    Mode("hanger", "h", "Hanger beam folded", "What the cup hangs from gave way.",
         ("Is the load on one straw or on several?", "Could the cup hang where legs meet?")),
    Mode("joint", "j", "A joint opened", "Tape let go or a straw pulled out.",
         ("Is the joint pulled or squeezed?", "Could one straw slide into the other?")),
    Mode("racked", "r", "Folded sideways", "Its squares became diamonds.",
         ("Which sides have no diagonal?",)),
    Mode("spilled", "s", "The cup tipped and spilled", "The hook slid along the beam.",
         ("What keeps the hook in the middle?",)),
)  # fmt: skip


def draw(setup: Setup) -> Drawing:
    """A frame with a cup hung inside.

    Args:
        setup: set-up quantities [SI].
    Returns:
        The drawing.
    """
    height, base = setup["height_m"] or 0.25, setup["base_max_m"] or 0.2
    top, cup = 0.35 * base, 0.16 * height
    hook = 0.55 * height
    legs = [line(Role.STRUCTURE, (s * base / 2, 0), (s * top, height)) for s in (-1, 1)]
    braces = [line(Role.STRUCTURE, (s * base / 2, 0), (-s * top, height)) for s in (-1, 1)]
    return Drawing(
        (
            block(Role.GROUND, -base, -0.03 * height, 2 * base, 0.03 * height),
            *legs,
            *braces,
            line(Role.STRUCTURE, (-top, height), (top, height)),
            line(Role.LOAD, (0, height), (0, hook)),
            area(Role.LOAD, (-cup, hook), (cup, hook), (0.7 * cup, hook - 1.6 * cup), (-0.7 * cup, hook - 1.6 * cup)),
            measure((-0.85 * base, 0), (-0.85 * base, height)),
            measure((-base / 2, -0.12 * height), (base / 2, -0.12 * height)),
        ),
        f"A frame with a hanger at least {format_length(height)} high and a cup hung inside it.",
    )


BUCKET_TOWER = Family(
    key="bucket_tower",
    name="Bucket tower",
    built="A frame that carries a cup hung inside it or from its top.",
    tested="Load goes into the hung cup, step by step, until the frame gives way.",
    question="Whose frame carries the fullest bucket?",
    setup=_SETUP,
    readings=(
        c.length("height", "Height of the hanger", "From the table to where the hook hangs.", 0.04, 2.0, "the hanger"),
        c.length("base", "Widest base", "The widest distance between its feet.", 0.02, 1.5, "the base"),
        c.TAPE_USED,
        c.own_weight(0.002, 0.6, "a frame of straws"),
    ),
    limits=(
        Limit("height", "height_m", True, "the least height"),
        Limit("base", "base_max_m", False, "the widest base"),
        Limit("tape", "tape_max_m", False, "the tape allowed"),
    ),
    questions=(
        c.STANDS,
        Question("free", "Does the cup hang free of table and legs?", True, "The cup touches something.", blocks=True),
        Question("fixed", "Is it fixed to the table?", False, "It is fixed to the table."),
    ),
    failure_modes=FAILURE_MODES,
    loading_errors=(
        Mode("swung", "p", "The cup swung or was knocked", "A swinging load is more than its weight."),
        c.KNOCKED, c.DROPPED, c.WRONG_LOAD,
    ),
    run_out_reasons=c.RUN_OUTS,
    observations=(c.LEAN, c.BUCKLE, c.JOINT_OPENING, c.BEND),
    outcome=Outcome(size="height"),
    bench=Bench(
        measures=(c.LEANING,),
        arrangements=c.own_arrangements(
            ("inside", "i", "Hung inside", "The cup hangs within the frame."),
            ("top", "t", "Hung from the top", "The cup hangs from the very top, over one side."),
        ),
    ),
    metrics=(c.HELD, c.TIMES, Metric("height", "Height of the hanger", "Measured at check-in.")),
    schools=(c.RATIO, c.MOST_HELD, c.PASS, c.MIXED),
    quotas=(
        c.some("paper straw, 210 mm", "straw", (24, 28, 30, 30), (3, 3, 3, 3), pack=100, size_m=0.21),
        c.SCISSORS_TOOL, c.RULER, c.tool("cup with wire hook", per_bench=1), c.MAT, c.SCALE,
    ),
    load=(LoadIdea("dry beans, scoop", "bag", 0.044, 0.05, 0.03), LoadIdea("M10 washer", "disc", 0.0041, 0.02, 0.002,
        50)),
    platform="cup with hook",
    pace=Pace(swap_s=40, place_s=1),
    vocabulary=(c.COMPRESSION, c.TENSION, c.BUCKLING, c.JOINT, Term("brace", "A diagonal that stops folding.")),
    young="The cup pulls down, the legs are squeezed. Short legs and diagonals help. Watch which part bends first.",
    older="Hanging the load low steadies the frame, but its legs still carry all of it in compression. A leg "
    "buckles by "
    "the square of its free length, so a ring of cross pieces at half height makes it about four times as strong.",
    ideas=("Join the legs with rings of cross pieces.", "Put diagonals on every side.", "Slide one straw into another.",
           "Hang the cup where two beams cross."),
    factors=(
        FactorIdea("legs", ("three", "four"), "Fewer legs carry more each."),
        FactorIdea("bracing", ("rings", "diagonals", "both"), "Rings stop buckling, diagonals stop folding."),
    ),
    controls=("the same straws", "the same tape", "the same cup", "the same load objects", "the same wait"),
    reflect=(
        "Which leg went first, and why that one?",
        "Where did the load go on its way to the table?",
        "What would brace it with the fewest pieces?",
    ),
    standards=(MATERIALS_2, BALANCE_3, FORCES_MS, FORCES_HS),
    cautions=(SNAPPING, SCISSORS, ALWAYS),
    draw=draw,
    footprint=lambda setup: c.square_footprint(setup["base_max_m"] or 0.2,
    "The widest base; the cup hangs over the cross."),
)  # fmt: skip
