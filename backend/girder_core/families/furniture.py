"""Card furniture: a stool or shelf of corrugated card, loaded to a stated working load with a margin."""

from __future__ import annotations

from girder_core.families import common as c
from girder_core.families.constraints import Limit, Question
from girder_core.families.curriculum import BALANCE_3, FORCES_MS, MATERIALS_2, STRUCTURE_HS
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
from girder_core.ground import Drawing, Role, block, line, measure
from girder_core.measure import Kind, Plausible, format_length
from girder_core.photo import Way
from girder_core.safety import ALWAYS, HEAVY_PIECES, SCISSORS
from girder_core.trial import BenchMeasure

_SETUP = (
    SetupField(
        "height_m", "Least height of the top", Kind.LENGTH, 0.05, 1.2, 0.25, "A low stool is easy.",
        ages=c.ages((0.14, 0.18, 0.22), (0.18, 0.22, 0.28), (0.22, 0.28, 0.34), (0.26, 0.34, 0.42)), harder=1,
        step=0.02, term="Top", says="at least {} above the floor",
    ),
    SetupField(
        "width_m", "Least width of the top", Kind.LENGTH, 0.05, 1.0, 0.24, "The load needs a place to stand.",
        ages=c.ages((0.16, 0.2, 0.24), (0.18, 0.22, 0.26), (0.2, 0.24, 0.3), (0.22, 0.28, 0.34)), harder=1,
        step=0.02, term="Top", says="at least {} wide",
    ),
    c.tape(c.ages((0.0, 0.4, 0.8), (0.0, 0.3, 0.7), (0.0, 0.2, 0.5), (0.0, 0.0, 0.3))),
    c.hold(12, "A step counts when it stands this long after it."),
    c.target(c.ages((1.5, 2.5, 4.0), (2.5, 4.0, 6.0), (4.0, 6.5, 10.0), (6.0, 10.0, 16.0)), 0.5, optional=False),
    SetupField(
        "margin", "Margin over the working load", Kind.COUNT, 1, 10, 2,
        "It has to hold this many times what it is for.",
        ages=c.ages((1, 1, 2), (1, 2, 2), (1, 2, 3), (2, 2, 3)), harder=1, step=1, term="Margin",
        says="{} times what it is for",
    ),
    c.bench_limit(40),
)  # fmt: skip

FAILURE_MODES = (
    Mode("flutes", "f", "Flutes crushed", "The waves inside the card were squashed flat.",
         ("Do the flutes stand upright where the load comes down?", "Could two layers be crossed there?")),
    Mode("leg", "l", "A leg folded", "A leg or wall creased and folded.",
         ("Is the wall wide and free, or held by a cross piece?", "What about nesting a small prism in a large one?")),
    Mode("slot", "s", "A slot tore", "It tore where two pieces are slotted.",
         ("How wide is the slot against the card?", "Which way do the flutes run at its end?")),
    Mode("racked", "r", "Swayed over", "The whole thing went sideways.",
         ("What stops it from folding flat?",)),
)  # fmt: skip


def draw(setup: Setup) -> Drawing:
    """A slotted stool with tiles on it.

    Args:
        setup: set-up quantities [SI].
    Returns:
        The drawing.
    """
    height, wide = setup["height_m"] or 0.25, setup["width_m"] or 0.24
    thick = 0.05 * height
    flutes = [
        line(Role.STRUCTURE, (x, 0), (x, height)) for x in (-0.28 * wide, -0.14 * wide, 0, 0.14 * wide, 0.28 * wide)
    ]
    return Drawing(
        (
            block(Role.GROUND, -0.9 * wide, -0.04 * height, 1.8 * wide, 0.04 * height),
            block(Role.SUPPORT, -0.42 * wide, 0, 0.84 * wide, height),
            *flutes,
            block(Role.STRUCTURE, -wide / 2, height, wide, thick),
            *(block(Role.LOAD, -0.3 * wide, height + thick + i * 0.09 * height, 0.6 * wide, 0.085 * height)
              for i in range(3)),
            measure((-0.7 * wide, 0), (-0.7 * wide, height)),
            measure((-wide / 2, height * 1.45), (wide / 2, height * 1.45)),
        ),
        f"A stool of at least {format_length(height)}, {format_length(wide)} wide, with pavers on it.",
    )  # fmt: skip


FURNITURE = Family(
    key="furniture",
    name="Card furniture",
    built="A stool or shelf of corrugated card that carries a stated load with a margin.",
    tested="Known weights go on gently, at ground level, up to the working load and then to its margin.",
    question="Whose stool holds what it was made for, and how much more?",
    setup=_SETUP,
    readings=(
        c.length("height", "Height of the top", "From the floor to the top, at its lowest.", 0.04, 1.2, "the height"),
        c.length("width", "Width of the top", "Across its narrower side.", 0.04, 1.2, "the width"),
        c.TAPE_USED,
        c.own_weight(0.02, 6.0, "card furniture"),
    ),
    limits=(
        Limit("height", "height_m", True, "the least height"),
        Limit("width", "width_m", True, "the least width"),
        Limit("tape", "tape_max_m", False, "the tape allowed"),
    ),
    questions=(
        c.STANDS,
        Question("level", "Is the top level?", True, "The top is not level, so weights would slide."),
        Question("other", "Is anything but the allowed card in it?", False, "Something besides the card is in it."),
    ),
    failure_modes=FAILURE_MODES,
    loading_errors=c.LOADING_ERRORS,
    run_out_reasons=c.RUN_OUTS,
    observations=(c.LEAN, c.BUCKLE, c.CRACK, c.BEND),
    outcome=Outcome(size="height"),
    bench=Bench(
        measures=(
            BenchMeasure("sag", "Dip of the top", Kind.LENGTH, "How far the middle of the top came down.",
                         Plausible(0.0, 0.3, "the dip"), letter="s", short="Dip", way=Way.DOWN),
        ),
    ),
    metrics=(c.HELD, Metric("margin", "Margin", "Load held divided by the working load."), c.TIMES),
    schools=(c.PASS, c.RATIO, c.MOST_HELD, c.MIXED),
    quotas=(
        c.some("double-wall card, 800 × 600 mm", "sheet", (1, 1, 2, 2), (0, 0, 1, 1), pack=10, size_m=0.8),
        c.tool("card saw or safe cutter", per_team=1, hazards=("scissors",)), c.RULER,
        c.tool("cutting board", per_team=1), c.MAT, c.SCALE,
    ),
    load=(LoadIdea("paving brick", "tile", 1.18, 0.2, 0.05),),
    pace=Pace(swap_s=40, place_s=6),
    vocabulary=(Term("flute", "A wave inside corrugated card."), Term("working load", "What it is made to carry."),
                Term("margin", "How many times the working load it holds."), Term("slot",
                    "A cut into which another piece slides."),
                c.BUCKLING),
    young="Card is strong when its waves stand up like pillars. Lay them flat and they squash. Slot the pieces "
    "together.",
    older="Corrugated card is strong along its flutes and weak across. Stood upright, each wall carries until it "
    "buckles; "
    "crossed walls hold each other. A margin is what is left for the day somebody sits down hard.",
    ideas=("Stand the flutes upright.", "Cross two layers.", "Slot walls into each other.",
        "Nest small prisms in a big one."),
    factors=(
        FactorIdea("flutes", ("upright", "lying"), "The same card, turned."),
        FactorIdea("core", ("slotted cross", "nested prisms"), "Which core carries more for its card?"),
    ),
    controls=("the same card", "the same weights in the same order", "the same wait", "at ground level"),
    reflect=(
        "Which way do the flutes run where it is pressed most?",
        "How much more than its working load should it carry, and why?",
        "What would you cross, fold or nest next time?",
    ),
    standards=(MATERIALS_2, BALANCE_3, FORCES_MS, STRUCTURE_HS),
    cautions=(HEAVY_PIECES, SCISSORS, ALWAYS),
    draw=draw,
    footprint=lambda setup: c.square_footprint(setup["width_m"] or 0.24, "The least width of the top."),
)  # fmt: skip
