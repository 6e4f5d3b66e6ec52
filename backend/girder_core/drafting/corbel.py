"""Corbelled arch and free-standing wall: which layer tips, and what push the wall takes."""

from __future__ import annotations

import math

from girder_core.drafting.films import changes, load_grows
from girder_core.drafting.model import (
    DraftKind,
    Expected,
    Fact,
    Lesson,
    Shown,
    Values,
    View,
    count,
    length,
    mass,
    stock,
)
from girder_core.ground import GRAVITY_M_S2, Drawing, Point, Role, Shape, area, arrow, block, label, line, measure
from girder_core.measure import System, format_length
from girder_core.physics import (
    Bounds,
    Form,
    Samples,
    State,
    corbel_load,
    corbel_stability,
    max_overhang_m,
    predict,
    wall_overturning,
)

MOST = 8
_STEPS = tuple(
    length(f"step_{i}_m", f"Layer {i} steps in", 0.0, 0.2, (0.018, 0.01, 0.007, 0.005)[min(i, 4) - 1], 0.001,
           "Counted from the top." if i == 1 else "", nudge=0.002, less=f"Layer {i} steps in {{}} less")
    for i in range(1, MOST + 1)
)  # fmt: skip
_PARAMS = (
    count("layers", "Layers that step in", 1, MOST, 4, ""),
    *_STEPS,
    length("block_m", "Length of a block", 0.02, 0.3, 0.06, 0.005, "", nudge=0.01, more="Blocks {} longer"),
    length("block_high_m", "Height of a block", 0.004, 0.1, 0.012, 0.001, "", fine=True),
    mass("block_kg", "One block weighs", 0.0005, 2.0, 0.03, 0.0005, "", fine=True),
    mass("tail_kg", "Weight on each tail", 0.0, 2.0, 0.02, 0.005, "It holds the layer down behind.", nudge=0.01,
         more="{} more on the tails"),
    stock("block", "Blocks of", (Form.BLOCK, Form.SOLID), "wood-block", fine=True),
)  # fmt: skip


def _steps(values: Values) -> list[float]:
    return [values[f"step_{i}_m"] for i in range(1, values.count("layers") + 1)]


def _tails(values: Values) -> list[float]:
    return [values["tail_kg"] * GRAVITY_M_S2] * values.count("layers")


def expect_arch(values: Values) -> Expected:
    """What the closed arch is expected to carry on its crown.

    Args:
        values: the draft's.
    Returns:
        Prediction and mass; no prediction where it does not stand by itself.
    Errors:
        ``step_too_long``; ``out_of_domain``.
    """
    steps, weight = _steps(values), values["block_kg"] * GRAVITY_M_S2
    stability = corbel_stability(steps, values["block_m"], _tails(values), weight)
    own = 2 * values.count("layers") * (values["block_kg"] + values["tail_kg"])
    if not stability.stable:
        return Expected(None, own)
    return Expected(corbel_load(steps, values["block_m"], weight, _tails(values)), own)


def show_arch(values: Values, expected: Expected, system: System) -> Shown:
    """Both halves to scale, the layer that tips or has least to spare marked.

    Args:
        values: the draft's.
        expected: what is expected of it.
        system: the reader's units.
    Returns:
        What is shown.
    """
    steps, long, high = _steps(values), values["block_m"], values["block_high_m"]
    stability = corbel_stability(steps, long, _tails(values), values["block_kg"] * GRAVITY_M_S2)
    marked = stability.tips or stability.worst
    n = len(steps)
    shapes: list[Shape] = [block(Role.GROUND, -stability.overhang_m - 1.4 * long, -0.2 * high,
                                 2 * stability.overhang_m + 2.8 * long, 0.2 * high)]  # fmt: skip
    for mirror in (-1, 1):
        inner = -stability.overhang_m
        edges = [inner]
        for step in reversed(steps):
            inner += step
            edges.append(inner)
        for i, edge in enumerate(edges):
            left = edge - long
            x = left if mirror == -1 else -edge
            shapes.append(block(Role.STRUCTURE, x, i * high, long, high))
            if values["tail_kg"] > 0 and i > 0:
                tail = 0.18 * long
                shapes.append(
                    block(Role.LOAD, left if mirror == -1 else -left - tail, i * high + 0.25 * high, tail, 0.5 * high)
                )
            # Layers are counted from the top; the lowest block stands on the ground and steps in from nothing.
            if i > 0 and n + 1 - i == marked:
                ends = ((left, i * high), (edges[i - 1], i * high))
                shapes.append(line(Role.WEAKEST, *(ends if mirror == -1 else tuple((-p, q) for p, q in ends))))
    top = (n + 1) * high
    shapes.append(arrow((0, top + (0.1 + 1.7 * values.on) * high), (0, top + 0.1 * high)))
    shapes.append(measure((-stability.overhang_m, 0.5 * high), (stability.overhang_m, 0.5 * high)))
    drawing = Drawing(tuple(shapes), stability.says)
    return Shown(
        views=(View("arch", "Both halves; the marked joint has least to spare" if stability.stable else
                    "Both halves; it tips at the marked joint", drawing),),
        facts=(
            Fact("Closes an opening of", "length", stability.span_m),
            *(Fact(f"Layer {layer.number}: to spare", "length", layer.inner_margin_m) for layer in stability.layers),
            Fact("No stack can reach further than", "length", max_overhang_m(long, n), "one side, without tails"),
        ),
        says=(stability.says,),
        headline="" if stability.stable else f"Layer {stability.tips} from the top tips before anything is put on it.",
    )  # fmt: skip


def _steps_figure() -> Drawing:
    """The limit: half, a quarter, a sixth of a block."""
    shapes: list[Shape] = []
    long, x = 0.12, 0.0
    for i, step in enumerate((0.06, 0.03, 0.02, 0.015)):
        shapes.append(block(Role.STRUCTURE, x, -0.025 * i, long, 0.022))
        shapes.append(label(Role.GHOST, (x + long + 0.04, -0.025 * i + 0.006), ("½", "¼", "⅙", "⅛")[i]))
        x -= step
    shapes.append(block(Role.GROUND, x - 0.02, -0.105, long + 0.02, 0.027))
    return Drawing(tuple(shapes), "At most half a block, then a quarter, a sixth, an eighth: from the top down.")


ARCH = DraftKind(
    "arch", "Corbelled arch", "Layers that step in from both sides until they meet.", ("arch",), "load on the crown",
    _PARAMS, expect_arch, show_arch, "block", errs_log=0.2,
    lessons=(Lesson("From the top: at most half a block, then a quarter, a sixth. Weight behind buys more.",
                    _steps_figure()),),
    films=(
        changes("Layer on layer steps in, until they meet", "arch", "layers",
                lambda values, expected: (1, values["layers"])),
    ),
    blame={"step_ins_m": "step_1_m", "block_length_m": "block_m", "tail_load_n": "tail_kg",
           "block_weight_n": "block_kg"},
)  # fmt: skip

_WALL = (
    length("height_m", "Height of the wall", 0.03, 1.5, 0.25, 0.01, "", setup="height_m", reading="height", nudge=0.02,
           less="{} lower", most=2.0),
    length("thick_m", "Thickness", 0.005, 0.5, 0.06, 0.005, "Twice as thick is four times as hard to tip.", nudge=0.01,
           more="{} thicker", less="{} thinner"),
    length("length_m", "Length", 0.05, 3.0, 0.5, 0.05, "", setup="length_m", reading="length", nudge=0.05,
           more="{} longer", most=5.0),
    length("push_m", "Hit at a height of", 0.01, 1.5, 0.2, 0.01, "High hits tip, low hits shove.",
           under=("height_m", "The wall ends at {}. Aim lower, or build higher.")),
    stock("block", "Blocks of", (Form.BLOCK, Form.SOLID), "wood-block"),
)  # fmt: skip
PACKED = Bounds(0.8, 0.92, 1.0, "order of magnitude: blocks over the whole, gaps between them left out")
LOOSE = Bounds(0.25, 0.5, 0.9, "order of magnitude: share of a dry wall that answers to one push as one piece")


def expect_wall(values: Values) -> Expected:
    """The push that the wall is expected to take.

    Args:
        values: the draft's.
    Returns:
        Prediction of the push, and own mass.
    Errors:
        ``out_of_domain``.
    """
    stuff, draws = values.stocks["block"], Samples()
    side = wall_overturning(
        values["height_m"], values["thick_m"], values["length_m"], stuff.density_kg_m3.typical, values["push_m"], 1.0
    )
    packed, whole = draws.draw(PACKED, "packed"), draws.draw(LOOSE, "one piece")
    grip = draws.draw(stuff.friction, f"{stuff.key} friction")
    prediction = predict(
        [
            State("tip", "Tips over", side.overturning_n * packed * whole,
                  "The push turns it about its far edge; its own weight holds it. Thickness counts twice: as lever and "
                  "as weight.", "It falls backwards.", "equilibrium", "toppled"),
            State("slide", "Slides back", side.sliding_n * packed * whole * grip,
                  "Friction under it gives way. Heavier blocks or a rough floor help.", "It slides.",
                  "friction", "slid"),
        ]
    )  # fmt: skip
    mass_kg = stuff.density_kg_m3.typical * values["height_m"] * values["thick_m"] * values["length_m"]
    return Expected(prediction, mass_kg)


def show_wall(values: Values, expected: Expected, system: System) -> Shown:
    """The wall from its end, with the hit.

    Args:
        values: the draft's.
        expected: what is expected of it.
        system: the reader's units.
    Returns:
        What is shown.
    """
    high, thick = values["height_m"], values["thick_m"]
    row = min(0.012, high / 4)
    rows = max(2, round(high / row))
    drawing = Drawing(
        (
            block(Role.GROUND, -1.2 * thick - 0.1 * high, -0.03 * high, 3.4 * thick + 0.5 * high, 0.03 * high),
            *_pushed(values, expected, rows),
            arrow(
                (-(0.02 + (0.6 * thick / high + 0.23) * values.on) * high, min(values["push_m"], high)),
                (-0.02 * high, min(values["push_m"], high)),
            ),
            measure((1.6 * thick, 0), (1.6 * thick, high)),
            measure((0, -0.2 * high), (thick, -0.2 * high)),
        ),
        f"The wall from its end, {format_length(high, system)} high and {format_length(thick, system)} thick.",
    )
    return Shown(
        views=(View("end", "From its end", drawing),),
        facts=(
            Fact("Own weight", "mass", expected.mass_kg),
            Fact("Tips or slides evenly at", "length", thick / 2 / values.stocks["block"].friction.typical,
                 "hit higher and it tips"),
        ),
    )  # fmt: skip


def _pushed(values: Values, expected: Expected, rows: int) -> list[Shape]:
    """The wall: as it stands, or after the push was too much, tipped about its far edge or slid back."""
    high, thick, turn, back = values["height_m"], values["thick_m"], 0.0, 0.0
    if values.gone and expected.prediction:
        turn, back = (math.radians(38), 0.0) if expected.prediction.governing.key == "tip" else (0.0, 0.7 * thick)

    def at(x: float, y: float) -> Point:
        dx = x - thick
        return (thick + back + dx * math.cos(turn) + y * math.sin(turn), -dx * math.sin(turn) + y * math.cos(turn))

    joints = [line(Role.FOLD, at(0, high * i / rows), at(thick, high * i / rows)) for i in range(1, rows)]
    return [area(Role.STRUCTURE, at(0, 0), at(thick, 0), at(thick, high), at(0, high)), *joints]


def _joints_figure() -> Drawing:
    """Joints above each other, and staggered."""
    shapes: list[Shape] = []
    for left, shift in ((0.0, 0.0), (0.24, 0.03)):
        for row in range(4):
            start = left - (shift if row % 2 else 0.0)
            shapes += [block(Role.STRUCTURE, start + 0.06 * i, 0.026 * row, 0.058, 0.024) for i in range(3)]
    shapes.append(line(Role.WEAKEST, (0.059, 0), (0.059, 0.102)))
    shapes += [label(Role.GHOST, (0.09, -0.045), "opens like a zip"), label(Role.GHOST, (0.32, -0.045), "staggered")]
    return Drawing(tuple(shapes), "Joints above each other open like a zip; staggered ones hold each other.")


WALL = DraftKind(
    "wall", "Wall", "A wall of loose blocks against a push.", ("wall",), "push", _WALL, expect_wall, show_wall, "block",
    errs_log=0.35,
    lessons=(Lesson("Stagger the joints: each block then ties two others.", _joints_figure()),),
    push=True,
    films=(
        load_grows("The push grows, and the wall goes", "end", what="the push"),
        changes("Hit higher up", "end", "push_m",
                lambda values, expected: (0.1 * values["height_m"], values["height_m"])),
    ),
    blame={"thickness_m": "thick_m", "push_height_m": "push_m", "density_kg_m3": "block", "friction": "block"},
)  # fmt: skip
