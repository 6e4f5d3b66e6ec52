"""Boats: a hull from one sheet or one lump, loaded with unit loads until it sinks."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from girder_core.families import common as c
from girder_core.families.constraints import Limit, Question
from girder_core.families.curriculum import FORCES_HS, FORCES_MS, MATTER_2, MATTER_5
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
    Saying,
    Setup,
    SetupField,
    Term,
)
from girder_core.ground import Drawing, Role, area, block, circle, measure
from girder_core.kit import Material, Stuff
from girder_core.measure import Kind, Plausible, format_length
from girder_core.safety import ALWAYS, GLASS, WATER
from girder_core.trial import BenchMeasure

_SETUP = (
    SetupField(
        "water_depth_m", "Water in the basin", Kind.LENGTH, 0.02, 1.0, 0.08, "A loaded hull must never touch ground.",
        ages=c.ages((0.06, 0.07, 0.09), (0.06, 0.08, 0.1), (0.07, 0.09, 0.12), (0.08, 0.1, 0.14)), step=0.01,
        term="Floats", says="in {} of water",
    ),
    SetupField(
        "length_max_m", "Longest hull", Kind.LENGTH, 0.02, 1.0, 0.16, "A longer hull displaces more before it sinks.",
        ages=c.ages((0.16, 0.2, 0.24), (0.13, 0.17, 0.21), (0.11, 0.14, 0.18), (0.09, 0.12, 0.15)), harder=-1,
        step=0.01, term="Length", says="at most {}",
    ),
    c.hold(8, "A step counts when the hull still floats after this long."),
    c.target(c.ages((0.04, 0.08, 0.14), (0.06, 0.12, 0.2), (0.1, 0.18, 0.3), (0.14, 0.26, 0.42)), 0.01),
    c.bench_limit(2),
)  # fmt: skip

FAILURE_MODES = (
    Mode("swamped", "s", "Swamped over the rim", "Water ran in over the edge.",
         ("How much freeboard was left when it was half full?", "Is the rim the same height all round?")),
    Mode("capsized", "c", "Capsized", "It rolled over.",
         ("Was the cargo in the middle and low?", "Would a wider floor help more than a higher wall?")),
    Mode("leaked", "l", "Leaked", "Water came in through a hole or a seam.",
         ("Where is the wall thinnest?", "Are there folds that a drop creeps along?")),
    Mode("shape", "h", "Changed shape", "Walls opened or the floor sank in.",
         ("What pushed the wall, the water or the cargo?", "What could stiffen the rim?")),
)  # fmt: skip


def draw(setup: Setup) -> Drawing:
    """A hull with cargo in a basin.

    Args:
        setup: set-up quantities [SI].
    Returns:
        The drawing; the hull's draft is only indicated.
    """
    depth, long = setup["water_depth_m"] or 0.08, setup["length_max_m"] or 0.16
    wide = 1.8 * long
    wall, sunk, radius = 0.3 * long, 0.2 * long, 0.05 * long
    keel = depth - sunk
    return Drawing(
        (
            block(Role.SUPPORT, -wide / 2 - 0.04 * long, -0.04 * long, 0.04 * long, depth + 0.35 * long),
            block(Role.SUPPORT, wide / 2, -0.04 * long, 0.04 * long, depth + 0.35 * long),
            block(Role.SUPPORT, -wide / 2, -0.04 * long, wide, 0.04 * long),
            block(Role.WATER, -wide / 2, 0, wide, depth),
            area(Role.STRUCTURE, (-long / 2, keel + wall), (long / 2, keel + wall), (0.4 * long, keel),
                 (-0.4 * long, keel)),
            *(circle(Role.LOAD, ((i - 2) * 2.1 * radius, keel + 1.25 * radius), radius) for i in range(5)),
            measure((-long / 2, depth + 0.48 * long), (long / 2, depth + 0.48 * long)),
            measure((wide / 2 + 0.32 * long, 0), (wide / 2 + 0.32 * long, depth)),
        ),
        f"A hull of at most {format_length(long)} in {format_length(depth)} of water.",
    )  # fmt: skip


def conflicts(setup: Setup, materials: Sequence[Material]) -> Mapping[str, str]:
    """A hull longer than its sheet.

    Args:
        setup: set-up quantities [SI].
        materials: what it is built from.
    Returns:
        Sentence by field.
    """
    return c.out_of_reach(setup.get("length_max_m"), 0.0, materials, "length_max_m", "A hull")


BOAT = Family(
    key="boat",
    name="Boat",
    built="A hull from one sheet or one lump that carries cargo.",
    tested="Cargo goes in one by one until water comes in or it rolls over.",
    question="Whose boat carries most cargo?",
    setup=_SETUP,
    readings=(
        c.length("length", "Length", "The longest way across its rim.", 0.02, 0.6, "the hull's length"),
        c.length("width", "Width", "The widest way across, square to the length.", 0.01, 0.6, "the hull's width"),
        c.length("wall", "Lowest wall", "From floor to the lowest point of the rim.", 0.002, 0.3, "the wall"),
        c.floor_shape("floor", "Floor’s shape", c.SHAPES, 0.4, "the floor’s area"),
        c.own_weight(0.001, 0.4, "a small hull", "The dry hull on the scale."),
    ),
    limits=(Limit("length", "length_max_m", False, "the longest hull"),),
    questions=(
        Question("floats", "Does it float empty?", True, "It does not float empty.", blocks=True),
        Question("dry", "Is it dry inside after ten seconds?", True, "It leaks before it is loaded."),
        Question("added", "Is anything added to the allowed material?", False, "Something else was added."),
    ),
    failure_modes=FAILURE_MODES,
    loading_errors=(
        Mode("cargo_dropped", "p", "Cargo dropped or thrown in", "A drop tips what a gentle hand would not."),
        Mode("splashed", "s", "Somebody made waves", "It was swamped from outside."),
        c.KNOCKED, c.WRONG_LOAD,
    ),
    run_out_reasons=(c.NO_MORE_LOAD, Mode("container_full", "f", "No room for more", "Nothing more fits in."),
                     c.BENCH_LIMIT),
    observations=(Mode("heel", "l", "Heeling", "It lies over to one side."),
                  Mode("low", "r", "Rim close to the water", "Less than a finger's width of wall is left."),
                  Mode("wet", "w", "Water inside", "Drops or a puddle on the floor."),
                  Mode("opening", "o", "Walls opening", "The shape is giving.")),
    outcome=Outcome(size="length"),
    bench=Bench(
        measures=(
            BenchMeasure("freeboard", "Freeboard", Kind.LENGTH, "From the water to the lowest point of the rim.",
                         Plausible(0.0, 0.3, "the freeboard"), short="Freeboard"),
        ),
        seats=True,
        picture=Picture.HULL,
        near_end="Near its limit. Fingers out of the basin, towels at hand.",
    ),
    metrics=(c.HELD, c.TIMES, Metric("area", "Floor area", "Length times width.")),
    schools=(c.MOST_HELD, c.RATIO, c.PASS, c.MIXED),
    quotas=(
        c.some("modelling clay, lump of 60 g", "lump", (1, 1, 1, 1), (0, 0, 0, 0), pack=8, harder=0),
        c.tool("practice lump of clay, shared", per_bench=1), c.tool("basin", per_bench=1), c.tool("towel",
            per_bench=2),
        c.RULER, c.SCALE,
    ),
    load=(LoadIdea("glass marble", "ball", 0.0052, 0.016, 0.016),),
    pace=Pace(swap_s=45, place_s=1.5),
    vocabulary=(Term("displace", "To push water aside."), Term("draft", "How deep the hull sits."),
                Term("freeboard", "How much wall is left above the water."), c.CENTRE,
                Term("capsize", "To roll over."), c.LOAD_TERM),
    young="A lump of clay sinks, a bowl of the same clay floats. It pushes more water aside. Put the cargo in the "
    "middle.",
    older="A hull floats while it can push aside its own mass and its cargo's mass of water. Walls give volume, a wide "
    "floor gives stability; with one lump of clay, more of one is less of the other. Cargo off centre tips it early.",
    ideas=("Make the walls even.", "Pinch out thick places.", "Try wide and low, then narrow and high.",
           "Place the cargo from the middle outwards."),
    factors=(
        FactorIdea("floor", ("round", "square", "long"), "Which floor is steadiest for the same clay?"),
        FactorIdea("wall", ("low and wide", "high and narrow"), "Volume against stability."),
        FactorIdea("cargo", ("in the middle", "where the crew likes"), "Balance matters before volume does."),
    ),
    controls=("the same amount of clay", "the same water", "the same marbles", "the same wait"),
    sayings={
        Stuff.SHEET: Saying(
            young="A flat sheet carries a little. Turn up its edges, and it carries much more. Put the cargo in the "
            "middle.",
            older="A hull floats while it can push aside its own mass and its cargo's mass of water. Walls give "
            "volume, a wide floor gives stability; from one sheet, more of one is less of the other, so there is a "
            "best height of the walls. A leaking corner sinks it early. Cargo off centre tips it.",
            ideas=("Fold the corners in, do not cut them.", "Make the walls all as high.",
                   "Try low walls and a wide floor, then high ones.", "Place the cargo from the middle outwards."),
            factors=(
                FactorIdea("wall", ("low and wide", "high and narrow"), "Volume against stability, from one sheet."),
                FactorIdea("floor", ("round", "square", "long"), "Which floor is steadiest for the same sheet?"),
                FactorIdea("cargo", ("in the middle", "where the crew likes"), "Balance matters before volume does."),
            ),
            controls=("the same sheet", "the same water", "the same cargo", "the same wait"),
        ),
    },
    reflect=(
        "Did it sink, or did it tip? How do you know?",
        "What would taller walls have changed, and what a wider floor?",
        "Where does cargo belong, and why?",
    ),
    standards=(MATTER_2, MATTER_5, FORCES_MS, FORCES_HS),
    cautions=(WATER, GLASS, ALWAYS),
    derived=floor("floor", "length", "width"),
    draw=draw,
    footprint=lambda setup: c.square_footprint(setup["length_max_m"] or 0.16,
    "The longest hull fits between its sides.", 0.08),
    conflicts=conflicts,
)  # fmt: skip
