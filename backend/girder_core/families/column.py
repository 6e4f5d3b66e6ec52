"""Columns: folded or rolled sheets, one or several under a deck, loaded with a pile."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

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
from girder_core.ground import Drawing, Role, block, measure
from girder_core.kit import Material
from girder_core.measure import Kind, Plausible, format_length, plural
from girder_core.photo import Way
from girder_core.safety import ALWAYS, SCISSORS
from girder_core.trial import BenchMeasure

_SETUP = (
    SetupField(
        "height_m", "Least height", Kind.LENGTH, 0.03, 2.0, 0.15, "A short column crushes, a long one bows out.",
        ages=c.ages((0.08, 0.10, 0.14), (0.10, 0.14, 0.18), (0.12, 0.16, 0.22), (0.14, 0.20, 0.28)), harder=1,
        step=0.01, term="Stands", says="at least {} high",
    ),
    SetupField(
        "columns", "Columns under the deck", Kind.COUNT, 1, 12, 1, "Several share the load, if they are equally high.",
        ages=c.ages((2, 3, 4), (1, 3, 4), (1, 1, 2), (1, 1, 1)), harder=-1, step=1, term="Columns", says="{} at most",
    ),
    c.tape(c.ages((0.2, 0.3, 0.5), (0.16, 0.28, 0.4), (0.12, 0.24, 0.36), (0.08, 0.18, 0.3))),
    c.hold(5),
    c.target(c.ages((0.4, 0.9, 1.6), (0.8, 1.6, 3.0), (1.2, 2.4, 4.5), (2.0, 4.0, 7.0)), 0.1),
    c.bench_limit(15),
)  # fmt: skip

FAILURE_MODES = (
    Mode("crumple", "c", "Crumpled", "A flat wall or an edge folded in.",
         ("Which walls are flat and wide?", "What if the wall had no flat part at all?")),
    Mode("buckled", "u", "Buckled sideways", "The whole column bowed out.",
         ("Would a wider column of the same sheet bow less?", "Can it be held at half its height?")),
    Mode("leaned", "l", "Leaned over", "It tilted before it was crushed.",
         ("Are both ends cut square?", "Did the pile stand over its middle?")),
    Mode("base", "b", "Base slipped", "Its foot slid away or tore.",
         ("What could hold the foot without holding the column?",)),
    Mode("seam", "s", "Seam opened", "The tape let go and it unrolled.",
         ("Is the seam taped at the ends and in the middle?", "Could the sheet overlap more?")),
)  # fmt: skip


def draw(setup: Setup) -> Drawing:
    """The columns under a deck.

    Args:
        setup: set-up quantities [SI].
    Returns:
        The drawing; widths are only indicated.
    """
    height, n = setup["height_m"] or 0.15, max(1, round(setup.get("columns") or 1))
    wide, gap = 0.3 * height, 0.28 * height
    deck = n * wide + (n + 1) * gap
    columns = [block(Role.STRUCTURE, gap + i * (wide + gap), 0, wide, height) for i in range(n)]
    return Drawing(
        (
            block(Role.GROUND, -0.4 * height, -0.05 * height, deck + 0.8 * height, 0.05 * height),
            *columns,
            block(Role.SUPPORT, 0, height, deck, 0.06 * height),
            *(block(Role.LOAD, deck / 2 - 0.3 * height, height * (1.06 + 0.13 * i), 0.6 * height, 0.12 * height)
              for i in range(3)),
            measure((-0.2 * height, 0), (-0.2 * height, height)),
        ),
        f"{n} {plural('column', n)} of at least {format_length(height)} under a deck with a pile of tiles.",
    )  # fmt: skip


def conflicts(setup: Setup, materials: Sequence[Material]) -> Mapping[str, str]:
    """A column higher than its sheet is long.

    Args:
        setup: set-up quantities [SI].
        materials: what it is built from.
    Returns:
        Sentence by field.
    """
    return c.out_of_reach(setup.get("height_m"), 0.0, materials, "height_m", "A height")


COLUMN = Family(
    key="column",
    name="Column",
    built="A column, or several under one deck, made from sheets, that carries a pile.",
    tested="Tiles go on the deck one by one, in the same order for every team.",
    question="Does the shape of a column matter, if everybody has the same sheet?",
    setup=_SETUP,
    readings=(
        c.length("height", "Height", "From the table to the top of the column, on two sides.", 0.02, 2.0, "the height"),
        c.counted("columns", "Columns", "How many stand under the deck.", 1, 12, "the number of columns"),
        c.TAPE_USED,
        c.own_weight(0.0005, 0.3, "a paper column"),
    ),
    limits=(
        Limit("height", "height_m", True, "the least height"),
        Limit("columns", "columns", False, "the columns allowed"),
        Limit("tape", "tape_max_m", False, "the tape allowed"),
    ),
    questions=(
        c.STANDS,
        Question("flush", "Are its ends flush with table and deck?", True, "Its ends are not flush, so it will lean."),
        Question("stuffed", "Is anything stuffed inside?", False, "Something besides the allowed sheet is inside."),
    ),
    failure_modes=FAILURE_MODES,
    loading_errors=c.LOADING_ERRORS,
    run_out_reasons=c.RUN_OUTS,
    observations=(c.LEAN, c.BUCKLE, c.CRACK, c.JOINT_OPENING),
    outcome=Outcome(size="height"),
    bench=Bench(
        measures=(
            BenchMeasure("shorter", "Shortening", Kind.LENGTH, "How far the deck came down since nothing was on it.",
                         Plausible(0.0, 0.2, "the shortening"), short="Shortening", way=Way.DOWN),
            c.LEANING,
        ),
    ),
    metrics=(c.HELD, c.TIMES, Metric("per_column", "Load per column", "Load held divided by the columns used.")),
    schools=(c.MOST_HELD, c.RATIO, c.PASS, c.MIXED),
    quotas=(
        c.some("sugar paper, 280 × 200 mm", "sheet", (3, 3, 1, 1), (1, 1, 1, 1), pack=100, size_m=0.28, harder=0),
        c.SCISSORS_TOOL, c.RULER, c.tool("deck board", per_bench=1), c.MAT, c.SCALE,
    ),
    load=(LoadIdea("ceramic tile", "tile", 0.212, 0.098, 0.009),),
    platform="deck board",
    pace=Pace(swap_s=35, place_s=4),
    vocabulary=(c.COMPRESSION, c.BUCKLING, Term("seam", "Where the sheet's edges meet."), c.LOAD_TERM,
                Term("flush", "Touching all the way round.")),
    young="A sheet of paper cannot stand up. Rolled or folded, it can carry tiles. Which shape carries most?",
    older="A flat wall under a squeeze bows out early and hands its share to the corners. A round wall has no flat "
    "part "
    "and shares the load all round, so the same sheet carries more. A long column bows as a whole instead.",
    ideas=("Roll it round.", "Fold it to three or four walls.", "Fold a zigzag.", "Use two layers.",
           "Tape the seam at both ends and in the middle."),
    factors=(
        FactorIdea("shape", ("round", "square", "triangle"), "The same sheet, so only the shape differs."),
        FactorIdea("layers", ("one", "two"), "Does the second layer add more than the first?"),
        FactorIdea("height", ("full", "half"), "Long columns bow, short ones crush."),
    ),
    controls=("the same sheet", "the same height", "the same tape", "the same tiles in the same order",
              "the pile over the middle", "the same wait"),
    reflect=(
        "Did it crumple or go sideways, and what decided that?",
        "What did the ends do to the test?",
        "Which change to the shape would help most for the same paper?",
    ),
    standards=(MATERIALS_2, BALANCE_3, FORCES_MS, STRUCTURE_HS),
    cautions=(SCISSORS, ALWAYS),
    draw=draw,
    footprint=lambda setup: c.square_footprint(0.12, "Where the column stands; the deck's middle lies over the cross."),
    conflicts=conflicts,
)  # fmt: skip
