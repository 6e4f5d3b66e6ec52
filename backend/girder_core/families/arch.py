"""Corbelled arches: layers that step in from both sides until they meet, then carry a load on top."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from girder_core.families import common as c
from girder_core.families.constraints import Limit, Question
from girder_core.families.curriculum import BALANCE_3, FORCES_HS, FORCES_MS, MATTER_2
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
from girder_core.measure import Kind, format_length
from girder_core.safety import ALWAYS

_SETUP = (
    SetupField(
        "opening_m", "Opening to close", Kind.LENGTH, 0.02, 2.0, 0.14, "The clear gap at the foot.",
        ages=c.ages((0.08, 0.1, 0.12), (0.1, 0.12, 0.15), (0.12, 0.15, 0.19), (0.14, 0.19, 0.25)), harder=1,
        step=0.01, term="Closes", says="an opening of {}",
    ),
    SetupField(
        "rise_max_m", "Highest arch", Kind.LENGTH, 0.02, 2.0, 0.2, "Fewer layers mean larger steps.",
        ages=c.ages((0.18, 0.22, 0.26), (0.18, 0.22, 0.26), (0.16, 0.2, 0.24), (0.16, 0.2, 0.25)), harder=-1,
        step=0.02, term="High", says="at most {}",
    ),
    c.hold(8, "A step counts when the arch stands this long after it."),
    c.target(c.ages((0.1, 0.2, 0.4), (0.2, 0.4, 0.7), (0.3, 0.6, 1.1), (0.5, 1.0, 1.8)), 0.05),
    c.bench_limit(5),
)  # fmt: skip

FAILURE_MODES = (
    Mode("slid", "s", "A step slid", "A layer moved on the one below.",
         ("How rough are the faces?", "Was there enough weight on that layer?")),
    Mode("rotated", "r", "The arch rotated", "A side tipped inwards as a whole.",
         ("Which layer tipped first?", "How much weight lies on the tail behind it?")),
    Mode("crown", "c", "The top fell in", "The last layers tipped.",
         ("Are the top steps the smallest or the largest?",)),
)  # fmt: skip


def draw(setup: Setup) -> Drawing:
    """Two flights of stepping blocks that meet.

    Args:
        setup: set-up quantities [SI].
    Returns:
        The drawing, with steps that grow towards the top as a harmonic series does.
    """
    opening, rise = setup["opening_m"] or 0.14, setup["rise_max_m"] or 0.2
    layers = 8
    tall, long = rise / layers, 0.62 * opening
    shares = [1 / (layers - i) for i in range(layers)]
    scale = opening / 2 / math.fsum(shares)
    shapes, x = [], 0.0
    for i in range(layers):
        x += shares[i] * scale
        for left in (-opening / 2 + x - long, opening / 2 - x):
            shapes.append(block(Role.STRUCTURE, left, i * tall, long, tall))
    return Drawing(
        (
            block(Role.GROUND, -opening - long, -0.05 * rise, 2 * (opening + long), 0.05 * rise),
            *shapes,
            block(Role.LOAD, -0.12 * opening, rise, 0.24 * opening, 0.16 * rise),
            measure((-opening / 2, -0.2 * rise), (opening / 2, -0.2 * rise)),
            measure((opening / 2 + 1.25 * long, 0), (opening / 2 + 1.25 * long, rise)),
        ),
        f"Layers stepping in over an opening of {format_length(opening)} until they meet.",
    )


def conflicts(setup: Setup, materials: Sequence[Material]) -> Mapping[str, str]:
    """An opening that the blocks cannot close within the height.

    One layer can step in by at most a block's length on each side.

    Args:
        setup: set-up quantities [SI].
        materials: what it is built from.
    Returns:
        Sentence by field.
    """
    sizes = [m.size_m for m in materials if m.buildable and m.size_m > 0]
    opening, rise = setup.get("opening_m"), setup.get("rise_max_m")
    if not sizes or opening is None or rise is None:
        return {}
    # A block lies flat; about a third of its length is its height.
    reach = 2 * max(sizes) * max(1, math.floor(rise / (max(sizes) / 3)))
    if opening <= reach:
        return {}
    return {"opening_m": f"Blocks of {format_length(max(sizes))} cannot close {format_length(opening)} so low."}


ARCH = Family(
    key="arch",
    name="Corbelled arch",
    built="An arch of layers that step in from both sides until they meet.",
    tested="First it has to close the opening; then load goes on its top.",
    question="Whose arch closes the gap and carries most?",
    setup=_SETUP,
    readings=(
        c.length("opening", "Opening at the foot", "Between the inner faces of the lowest blocks.", 0.02, 1.0,
                 "the opening"),
        c.length("rise", "Height", "From the table to the top of the last layer.", 0.02, 1.0, "the height"),
        c.counted("blocks", "Blocks used", "All blocks in the arch, tails included.", 3, 300, "the blocks used"),
        c.own_weight(0.02, 10.0, "an arch of blocks", "All its blocks on the scale, after the test."),
    ),
    limits=(
        Limit("opening", "opening_m", True, "the opening"),
        Limit("rise", "rise_max_m", False, "the highest arch"),
    ),
    questions=(
        Question("closed", "Does it close the opening without glue or a prop?", True, "It does not close by itself.",
                 blocks=True),
        Question("centring", "Is a prop left inside?", False, "A prop is left inside."),
    ),
    failure_modes=FAILURE_MODES,
    loading_errors=c.LOADING_ERRORS,
    run_out_reasons=c.RUN_OUTS,
    observations=(c.LEAN, Mode("gap", "g", "A joint gaping", "Light shows between two layers."),
                  Mode("creep", "c", "Blocks creeping", "A step is sliding slowly.")),
    outcome=Outcome(size="opening"),
    bench=Bench(weighs_after=True),
    metrics=(c.HELD, Metric("per_block", "Load per block", "Load held divided by blocks used."), c.TIMES),
    schools=(c.MOST_HELD, c.PASS, c.RATIO, c.MIXED),
    quotas=(
        c.some("beech block, 75 × 25 × 15 mm", "block", (28, 32, 34, 36), (0, 0, 0, 0), pack=60, size_m=0.075,
               spare=0.05),
        c.RULER, c.tool("shim board to build on", per_team=1), c.MAT, c.SCALE,
    ),
    load=(LoadIdea("slate chip", "tile", 0.031, 0.04, 0.006),),
    pace=Pace(swap_s=50, place_s=4),
    vocabulary=(Term("corbel", "A layer that steps out over the one below."), Term("crown", "The top of an arch."),
                Term("tail", "The part of a block behind the step, which holds it down."), c.CENTRE, c.LOAD_TERM),
    young="Each block may stick out a little. Weight on its back end keeps it from tipping. Do both sides meet?",
    older="A stack leans out safely while the centre of mass of all above lies over the block below. So the top "
    "step may "
    "be the largest and the lowest the smallest. Weight on the tails moves that centre back and buys more reach.",
    ideas=("Make the lowest steps smallest.", "Put weight on the tails.", "Build both sides at the same time."),
    factors=(
        FactorIdea("tail", ("none", "one block", "two blocks"), "How much does weight behind buy?"),
        FactorIdea("steps", ("all equal", "growing upwards"), "The same reach, other steps."),
    ),
    controls=("the same blocks", "the same opening", "no glue", "the same load objects", "the same wait"),
    reflect=(
        "Which step was the last that could go on, and why?",
        "What did weight on the tails do?",
        "How would the same blocks span further?",
    ),
    standards=(MATTER_2, BALANCE_3, FORCES_MS, FORCES_HS),
    cautions=(ALWAYS,),
    draw=draw,
    footprint=lambda setup: c.edges_footprint(setup["opening_m"] or 0.14, "Inner faces of the lowest blocks."),
    conflicts=conflicts,
)  # fmt: skip
