"""A seat of corrugated card on folded prisms."""

from __future__ import annotations

import math

from girder_core.drafting.films import load_grows
from girder_core.drafting.model import (
    DraftKind,
    Expected,
    Fact,
    Lesson,
    Shown,
    Values,
    View,
    choice,
    count,
    length,
    mass,
    stock,
)
from girder_core.ground import GRAVITY_M_S2, Drawing, Point, Role, Shape, arrow, block, label, line, measure, refuse
from girder_core.measure import System, format_length
from girder_core.physics import Form, board_leg

_PARAMS = (
    stock("board", "Card", (Form.BOARD,), "board-b"),
    choice("flutes", "Flutes", {"upright": "run up the legs", "lying": "lie across the legs"},
           "Card is strong along its flutes and weak across.", switch={"upright": "Flutes up the legs"}),
    count("walls", "Walls of a prism", 3, 8, 3, "", nudge=1, more="One wall more", less="One wall fewer"),
    length("side_m", "Width of a wall", 0.02, 0.4, 0.09, 0.005, "", nudge=0.01, more="Walls {} wider",
           less="Walls {} narrower"),
    length("height_m", "Height", 0.05, 0.6, 0.24, 0.01, "", setup="height_m", reading="height", nudge=0.02,
           less="{} lower", least=0.04, most=1.2),
    count("legs", "Prisms under the seat", 1, 9, 3, "", nudge=1, more="One prism more", less="One prism fewer"),
    count("nested", "Small prisms inside each", 0, 4, 0, "Half as wide, and they fold later.", nudge=1,
          more="One small prism inside each"),
    mass("working_kg", "Working load", 0.5, 60.0, 6.5, 0.5, "", setup="target_kg", least=0.001, most=500),
    count("margin", "Margin", 1, 5, 2, "It should hold this many times the working load.", setup="margin", most=10),
)  # fmt: skip


def expect(values: Values) -> Expected:
    """What the seat is expected to carry.

    Args:
        values: the draft's.
    Returns:
        Prediction and own mass of the legs.
    Errors:
        ``out_of_domain``.
    """
    board, walls, side = values.stocks["board"], values.count("walls"), values["side_m"]
    legs, nested = values.count("legs"), values.count("nested")
    apothem = side / (2 * math.tan(math.pi / walls))
    if nested * (side / 4) ** 2 * 2 > 4 * apothem**2:
        raise refuse("nested", "That many small prisms do not fit inside. Take fewer, or wider walls.")
    prediction = board_leg(board, side, walls, values["height_m"], legs, nested, values.words["flutes"] == "upright")
    around = walls * side * (1 + nested / 2) * legs
    return Expected(prediction, board.grammage_kg_m2 * around * values["height_m"])


def _polygon(walls: int, side: float, x: float, y: float) -> tuple[Point, ...]:
    radius = side / (2 * math.sin(math.pi / walls))
    turn = -math.pi / 2 + math.pi / walls
    points = [
        (x + radius * math.cos(turn + 2 * math.pi * i / walls), y + radius * math.sin(turn + 2 * math.pi * i / walls))
        for i in range(walls)
    ]
    return (*points, points[0])


def show(values: Values, expected: Expected, system: System) -> Shown:
    """The prisms from above and the seat from the side, to scale.

    Args:
        values: the draft's.
        expected: what is expected of it.
        system: the reader's units.
    Returns:
        What is shown.
    """
    walls, side, high = values.count("walls"), values["side_m"], values["height_m"]
    legs, nested = values.count("legs"), values.count("nested")
    radius = side / (2 * math.sin(math.pi / walls))
    pitch = 2.4 * radius
    columns = math.ceil(math.sqrt(legs))
    plan: list[Shape] = []
    for i in range(legs):
        x, y = (i % columns) * pitch, -(i // columns) * pitch
        plan.append(line(Role.STRUCTURE, *_polygon(walls, side, x, y)))
        apothem = radius * math.cos(math.pi / walls)
        for k in range(nested):
            turn = 2 * math.pi * k / nested
            off = 0.0 if nested == 1 else 0.48 * apothem
            plan.append(line(Role.FOLD, *_polygon(walls, side / 2, x + off * math.cos(turn), y + off * math.sin(turn))))
    plan.append(measure((-side / 2, 1.35 * radius), (side / 2, 1.35 * radius)))
    wide = 2 * radius
    full, high = high, 0.7 * high if values.gone else high
    shapes: list[Shape] = [block(Role.GROUND, -0.4 * wide, -0.02 * high, columns * pitch + 0.4 * wide, 0.02 * high)]
    for i in range(columns):
        left = i * pitch
        shapes.append(block(Role.STRUCTURE, left, 0, wide, high))
        lines = 7
        for k in range(1, lines):
            at = k / lines
            ends = (
                ((left + at * wide, 0), (left + at * wide, high))
                if values.words["flutes"] == "upright"
                else ((left, at * high), (left + wide, at * high))
            )
            shapes.append(line(Role.FOLD, *ends))
    whole = (columns - 1) * pitch + wide
    thick = values.stocks["board"].thickness_m.typical
    shapes += [
        block(Role.SUPPORT, -0.15 * wide, high, whole + 0.3 * wide, 2 * thick),
        arrow((whole / 2, high + 3 * thick + 0.24 * full * values.on), (whole / 2, high + 3 * thick)),
        measure((-0.55 * wide, 0), (-0.55 * wide, full)),
    ]
    if values.gone:
        shapes += [line(Role.WEAKEST, (i * pitch - 0.06 * wide, high / 2), (i * pitch + 1.06 * wide, high / 2))
                   for i in range(columns)]  # fmt: skip
    made_for = values["working_kg"] * values.count("margin")
    prediction = expected.prediction
    assert prediction is not None
    return Shown(
        views=(
            View("above", "The prisms from above", Drawing(tuple(plan), f"{legs} prisms of {walls} walls each.")),
            View("side", "From the side; the lines are its flutes", Drawing(
                tuple(shapes), f"A seat {format_length(full, system)} high on {legs} prisms.")),
        ),
        facts=(
            Fact("Legs weigh", "mass", expected.mass_kg),
            Fact("Made for", "mass", made_for, "working load times margin"),
            Fact("Margin by the low end", "ratio", prediction.low_n / GRAVITY_M_S2 / values["working_kg"]),
        ),
        says=("Never for a person: predictions are for classroom models.",),
        mark_n=made_for * GRAVITY_M_S2,
        mark_words="working load with its margin",
    )  # fmt: skip


def _flutes() -> Drawing:
    """Card seen on its edge: flutes upright stand like columns, lying ones squash like an accordion."""
    wave = [(0.012 * i, 0.012 * (i % 2)) for i in range(13)]
    low = [(0.42 + 0.012 * (i % 2), 0.012 * i) for i in range(9)]
    return Drawing(
        (
            *(line(Role.STRUCTURE, (0.024 * i, 0.03), (0.024 * i, 0.12)) for i in range(7)),
            line(Role.FOLD, *wave),
            arrow((0.072, 0.18), (0.072, 0.13)),
            line(Role.STRUCTURE, *low),
            line(Role.STRUCTURE, (0.416, 0), (0.416, 0.1)),
            line(Role.STRUCTURE, (0.436, 0), (0.436, 0.1)),
            arrow((0.426, 0.18), (0.426, 0.115)),
            label(Role.GHOST, (0.072, -0.05), "upright: columns"),
            label(Role.GHOST, (0.426, -0.05), "lying: an accordion"),
        ),
        "Upright flutes stand like columns; lying ones squash like an accordion.",
    )


FURNITURE = DraftKind(
    "furniture", "Card furniture", "Folded prisms of corrugated card under a seat.", ("furniture",), "load on the seat",
    _PARAMS, expect, show, "board",
    lessons=(Lesson("Let the flutes run up and down: they are columns.", _flutes()),),
    films=(load_grows("Load grows until the legs give way", "side"),),
    blame={"stock": "board"},
)  # fmt: skip
