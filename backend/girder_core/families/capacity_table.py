"""Capacity tables: a surface on legs that takes as many items as fit without overlap, as long as it stands."""

from __future__ import annotations

from girder_core.families import common as c
from girder_core.families.constraints import Limit, Question
from girder_core.families.curriculum import BALANCE_3, FORCES_MS, MATERIALS_2, STRUCTURE_HS
from girder_core.families.derived import floor
from girder_core.families.model import (
    Bench,
    FactorIdea,
    Family,
    LoadIdea,
    Metric,
    Mode,
    Outcome,
    Pace,
    Picture,
    SchoolChoice,
    Setup,
    SetupField,
    Term,
)
from girder_core.ground import Drawing, Role, block, measure
from girder_core.measure import Kind, format_length
from girder_core.results import School
from girder_core.safety import ALWAYS, SCISSORS

_SETUP = (
    SetupField(
        "height_m", "Least height under the deck", Kind.LENGTH, 0.02, 1.5, 0.1, "Legs make it a table.",
        ages=c.ages((0.05, 0.07, 0.09), (0.06, 0.09, 0.12), (0.08, 0.11, 0.15), (0.1, 0.14, 0.2)), harder=1,
        step=0.01, term="Clear", says="at least {} under the deck",
    ),
    SetupField(
        "length_max_m", "Longest deck", Kind.LENGTH, 0.05, 2.0, 0.3, "Area is what counts, so its edge has a limit.",
        ages=c.ages((0.26, 0.34, 0.42), (0.24, 0.32, 0.4), (0.22, 0.3, 0.38), (0.2, 0.26, 0.34)), harder=-1,
        step=0.02, term="Deck", says="at most {} along an edge",
    ),
    c.tape(c.ages((0.3, 0.5, 0.8), (0.3, 0.45, 0.7), (0.2, 0.36, 0.6), (0.14, 0.28, 0.44))),
    c.hold(5, "An item counts when it and the table stay up this long."),
    c.target(c.ages((0.1, 0.22, 0.4), (0.2, 0.4, 0.7), (0.34, 0.66, 1.1), (0.5, 1.0, 1.7)), 0.02),
    c.bench_limit(6),
)  # fmt: skip

FAILURE_MODES = (
    Mode("tipped", "t", "Tipped", "The deck tilted and items slid.",
         ("Where are the legs, and where was the load?", "Was it filled evenly from the middle?")),
    Mode("collapsed", "c", "Legs collapsed", "A leg folded.",
         ("Which leg carried most?", "Is a leg tied to its neighbours?")),
    Mode("sagged", "s", "Deck sagged", "The deck dipped and items slid together.",
         ("How far apart are the legs?", "What stiffens the deck from below?")),
    Mode("joint", "j", "A joint opened", "A leg came off the deck.",
         ("How is the leg fixed against leaning?",)),
)  # fmt: skip


def draw(setup: Setup) -> Drawing:
    """A deck on legs with items in a row.

    Args:
        setup: set-up quantities [SI].
    Returns:
        The drawing.
    """
    height, long = setup["height_m"] or 0.1, setup["length_max_m"] or 0.3
    thick = 0.03 * long
    items = [
        block(Role.LOAD, -0.47 * long + i * 0.12 * long, height + thick, 0.09 * long, 0.05 * long) for i in range(8)
    ]
    legs = [block(Role.STRUCTURE, x - 0.02 * long, 0, 0.04 * long, height) for x in (-0.4 * long, 0, 0.4 * long)]
    return Drawing(
        (
            block(Role.GROUND, -0.65 * long, -0.03 * long, 1.3 * long, 0.03 * long),
            *legs,
            block(Role.STRUCTURE, -long / 2, height, long, thick),
            *items,
            measure((-0.57 * long, 0), (-0.57 * long, height)),
            measure((-long / 2, height + 0.16 * long), (long / 2, height + 0.16 * long)),
        ),
        f"A deck of at most {format_length(long)} on legs of at least {format_length(height)}.",
    )


CAPACITY_TABLE = Family(
    key="capacity_table",
    name="Capacity table",
    built="A table that takes as many items as fit on it without overlap.",
    tested="Items are placed flat, side by side, never stacked, until no more fits or it gives way.",
    question="Whose table takes most?",
    setup=_SETUP,
    readings=(
        c.length("height", "Clear height", "From the floor to the deck's underside, at its lowest.", 0.02, 1.0,
                 "the height"),
        c.length("length", "Deck length", "Along the longer edge.", 0.05, 1.5, "the deck's length"),
        c.length("width", "Deck width", "Along the shorter edge.", 0.03, 1.5, "the deck's width"),
        c.floor_shape("area", "Deck’s shape", c.SHAPES, 2.0, "the deck’s area"),
        c.TAPE_USED,
        c.own_weight(0.002, 1.0, "a small table"),
    ),
    limits=(
        Limit("height", "height_m", True, "the least height"),
        Limit("length", "length_max_m", False, "the longest deck"),
        Limit("width", "length_max_m", False, "the longest deck"),
        Limit("tape", "tape_max_m", False, "the tape allowed"),
    ),
    questions=(
        c.STANDS,
        Question("rim", "Has it a rim that holds items in?", False, "It has a rim, so items could be piled."),
    ),
    failure_modes=FAILURE_MODES,
    loading_errors=(c.KNOCKED, c.DROPPED,
                    Mode("stacked", "s", "Items were stacked", "Only what lies flat on the deck counts."),
                    c.WRONG_LOAD),
    run_out_reasons=(c.NO_MORE_LOAD, Mode("container_full", "f", "Deck full", "No room without overlap."),
                     c.BENCH_LIMIT),
    observations=(c.LEAN, c.BEND, c.BUCKLE, c.JOINT_OPENING),
    outcome=Outcome(size="length"),
    bench=Bench(counts_pieces=True, picture=Picture.DECK),
    metrics=(Metric("count", "Items that fit", "Counted; not the same as the mass carried."), c.HELD, c.TIMES,
             Metric("area", "Deck area", "Length times width."),
             Metric("perimeter", "Perimeter", "Twice length and width.")),
    schools=(
        SchoolChoice(School.CAPACITY, "Room is the question; strength only has to keep up with it."),
        c.RATIO, c.MOST_HELD, c.MIXED,
    ),
    quotas=(
        c.some("index card, 150 × 100 mm", "card", (10, 12, 12, 10), (2, 2, 2, 2), pack=100, size_m=0.15),
        c.SCISSORS_TOOL, c.RULER, c.SCALE,
    ),
    load=(LoadIdea("wooden counter", "disc", 0.0152, 0.038, 0.016),),
    pace=Pace(swap_s=35, place_s=1.5),
    vocabulary=(Term("area", "How much flat room there is."), Term("perimeter", "The way once round the edge."),
                Term("capacity", "How many fit."), c.BUCKLING, c.JOINT),
    young="A big table has more room, but its deck dips. Put the legs where the deck is weak. Fill it from the middle.",
    older="Room grows with area, but a deck between legs sags with the cube of their distance. Legs tied together "
    "share "
    "the load; a leg at the very edge leaves the middle alone. A wide deck may be full long before it breaks.",
    ideas=("Fold the deck's edges down.", "Tie legs with a ring.", "Try a square deck, then a round one."),
    factors=(
        FactorIdea("legs", ("four", "six"), "More legs, less card for the deck."),
        FactorIdea("deck", ("flat", "edges folded"), "The same cards, stiffer or larger."),
    ),
    controls=("the same cards", "the same items", "no stacking", "the same tape", "the same wait"),
    reflect=(
        "Was it full, or did it break? What does that say of its size?",
        "What did the legs need that the top did not?",
        "How would more room change its strength?",
    ),
    standards=(MATERIALS_2, BALANCE_3, FORCES_MS, STRUCTURE_HS),
    cautions=(SCISSORS, ALWAYS),
    derived=floor("area", "length", "width"),
    draw=draw,
    footprint=lambda setup: c.square_footprint(setup["length_max_m"] or 0.3, "The deck lies within this square."),
)  # fmt: skip
