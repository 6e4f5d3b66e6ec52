"""A sheet made into a column, alone or with others under a deck."""

from __future__ import annotations

import math

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
from girder_core.ground import GRAVITY_M_S2, Drawing, Point, Role, Shape, block, label, line, measure
from girder_core.measure import System, format_length, plural
from girder_core.physics import FURTHER, Form, Prediction, half_width_m, supports_needed, together, tube_column

SHAPES = {"circle": "Round", "square": "Square", "triangle": "Triangle", "n-gon": "Many sides", "zigzag": "Pleats"}
ENDS = {"pinned-pinned": "free to tilt", "fixed-pinned": "taped down below", "fixed-fixed": "held at both ends"}

_PARAMS = (
    choice("shape", "Folded as", SHAPES, "Round walls share the load; flat ones fold in."),
    count("walls", "Walls", 3, 24, 6, "", only=("shape", ("n-gon", "zigzag")), nudge=1, more="One wall more",
          less="One wall fewer"),
    stock("sheet", "Sheet", (Form.SHEET,), "sugar"),
    length("perimeter_m", "Sheet around the column", 0.03, 0.6, 0.21, 0.005, "", nudge=0.01, more="10 mm more around",
           less="10 mm less around"),
    length("height_m", "Height", 0.02, 0.8, 0.16, 0.005, "", setup="height_m", reading="height", nudge=0.01,
           more="10 mm higher", less="10 mm shorter", most=2.0),
    count("layers", "Layers", 1, 6, 1, "How many times the sheet goes around.", nudge=1, more="One layer more",
          less="One layer fewer"),
    count("columns", "Columns under the deck", 1, 12, 1, "They share the load, never quite evenly.", setup="columns",
          reading="columns", nudge=1, more="One column more", less="One column fewer"),
    choice("stand", "Several stand", {"apart": "apart, under a deck", "bound": "bound to one bundle"},
           "Bound together they are harder to bend.", switch={"bound": "Bind them to one bundle"}),
    length("aside_m", "Load off the middle", 0.0, 0.1, 0.0, 0.001, "The near side is crushed first.", nudge=0.002,
           less="Load 2 mm nearer the middle", fine=True),
    mass("wanted_kg", "Load to be carried", 0.05, 40.0, 2.0, 0.05, "", setup="target_kg", least=0.001, most=500),
    choice("ends", "Ends", ENDS, "A held end bows out later.", switch={"fixed-fixed": "Both ends held"}),
)  # fmt: skip


def expect(values: Values) -> Expected:
    """What the columns are expected to hold together.

    Args:
        values: the draft's.
    Returns:
        Prediction and own mass.
    Errors:
        Those of ``columns.tube_column``.
    """
    n = values.count("columns")
    sheet = values.stocks["sheet"].grammage_kg_m2
    mass_kg = sheet * values["perimeter_m"] * values["height_m"] * values.count("layers") * n
    return Expected(_columns(values, values.words["shape"], n), mass_kg)


def _columns(values: Values, shape: str, n: int = 1) -> Prediction:
    sheet, bound = values.stocks["sheet"], values.words["stand"] == "bound"
    return tube_column(
        shape, values["perimeter_m"], values["height_m"], sheet.thickness_m.typical, values.count("layers"), sheet,
        values.words["ends"], values.count("walls"), columns=n, aside_m=values["aside_m"] if n == 1 or bound else 0.0,
        bound=bound,
    )  # fmt: skip


def outline(shape: str, walls: int, perimeter_m: float) -> tuple[Point, ...]:
    """Middle line of a column's walls, from above.

    Args:
        shape: one of ``SHAPES``.
        walls: walls of an n-gon or panels of a zigzag [-].
        perimeter_m: developed width of the sheet [m].
    Returns:
        Its corners [m] about the middle; closed but for a zigzag.
    """
    if shape == "zigzag":
        panel = perimeter_m / walls
        step = panel / math.sqrt(2)
        left = -walls * step / 2
        return tuple((left + i * step, step * (i % 2) - step / 2) for i in range(walls + 1))
    n = {"circle": 96, "square": 4, "triangle": 3}.get(shape, walls)
    radius = perimeter_m / n / (2 * math.sin(math.pi / n))
    turn = -math.pi / 2 + math.pi / n
    return tuple(
        (radius * math.cos(turn + 2 * math.pi * i / n), radius * math.sin(turn + 2 * math.pi * i / n)) for i in range(n)
    )


def show(values: Values, expected: Expected, system: System) -> Shown:
    """The column from above and from the side, to scale, and the other shapes from the same sheet.

    Args:
        values: the draft's.
        expected: what is expected of it.
        system: the reader's units.
    Returns:
        What is shown.
    """
    shape, n, high = values.words["shape"], values.count("columns"), values["height_m"]
    prediction = expected.prediction
    assert prediction is not None
    ring = outline(shape, values.count("walls"), values["perimeter_m"])
    closed = ring if shape == "zigzag" else (*ring, ring[0])
    left, right = min(x for x, _ in ring), max(x for x, _ in ring)
    low, top = min(y for _, y in ring), max(y for _, y in ring)
    wide = right - left
    room = 0.18 * max(wide, top - low)
    bound = n > 1 and values.words["stand"] == "bound"
    above = Drawing(
        (line(Role.STRUCTURE, *closed), measure((left, low - room), (right, low - room))),
        f"The column from above, {format_length(wide, system)} wide.",
    )
    if bound:
        above = _bundle(closed, n, wide, system)
    first = _columns(values, shape).typical_n
    each = _pile_m(prediction.typical_n)
    gap = 0.5 * wide
    starts = [i * (wide + gap) for i in range(n)]
    if bound:
        ring_at = [x - wide / 2 for x, _ in _ring(n, wide)]
        starts = [x - min(ring_at) for x in ring_at]
    whole = max(starts) + wide
    shapes: list[Shape] = [block(Role.GROUND, -0.3 * wide, -0.02 * high, whole + 0.6 * wide, 0.02 * high)]
    for start in starts:
        shapes.append(block(Role.STRUCTURE, start, 0, wide, high))
        shapes += [line(Role.FOLD, (start + x - left, 0), (start + x - left, high)) for x, _ in _edges(shape, ring)]
    deck = 0.03 * high
    shapes.append(block(Role.SUPPORT, -0.1 * wide, high, whole + 0.2 * wide, deck))
    pile = min(each, 1.2 * high)
    shapes += [
        block(Role.LOAD, whole / 2 - 0.35 * wide, high + deck + pile * i / 6, 0.7 * wide, pile / 6) for i in range(6)
    ]
    shapes.append(measure((-0.55 * wide, 0), (-0.55 * wide, high)))
    side = Drawing(tuple(shapes), f"{n} {plural('column', n)} of {format_length(high, system)} under a pile.")
    wanted = values["wanted_kg"] * GRAVITY_M_S2
    # One alone at the low end of what is expected, then as many as bring their low share.
    one_n = prediction.low_n / float(together(1.0, n, FURTHER.low))
    needed = supports_needed(wanted, one_n, further=FURTHER.low) if one_n > 0 else 0
    half = half_width_m(shape, values["perimeter_m"], values.count("walls"))
    return Shown(
        views=(View("above", "From above", above), View("side", "Under its load", side)),
        facts=(
            Fact("Own weight", "mass", expected.mass_kg),
            Fact("Times its own weight", "ratio", prediction.typical_kg / expected.mass_kg),
            Fact("Columns for that load", "count", needed, "by the low end of the range")
            if needed
            else Fact("Columns for that load", "words", words="at worst they hold nothing"),
            Fact("Half as wide as", "length", half, "from middle to edge"),
            *(Fact(f"{words}, same sheet", "ratio", _columns(values, key).typical_n / first)
              for key, words in SHAPES.items()
              if key != shape and key in ("circle", "square", "triangle") and first > 0),
        ),
        mark_n=wanted,
        mark_words="to be carried",
    )  # fmt: skip


def _ring(n: int, wide: float) -> list[Point]:
    """Middles of columns that touch in a ring, the farthest back first."""
    radius = wide / 2 / math.sin(math.pi / n)
    middles = [(radius * math.cos(2 * math.pi * i / n), radius * math.sin(2 * math.pi * i / n)) for i in range(n)]
    return sorted(middles, key=lambda middle: -middle[1])


def _bundle(closed: tuple[Point, ...], n: int, wide: float, system: System) -> Drawing:
    """The bundle from above: its columns in a ring that touches."""
    middles = _ring(n, wide)
    far = max(x for x, _ in middles) + wide / 2
    return Drawing(
        (
            *(line(Role.STRUCTURE, *((x + mx, y + my) for x, y in closed)) for mx, my in middles),
            measure((-far, -far - 0.4 * wide), (far, -far - 0.4 * wide)),
        ),
        f"The bundle from above, {format_length(2 * far, system)} wide.",
    )


def _edges(shape: str, ring: tuple[Point, ...]) -> tuple[Point, ...]:
    return () if shape == "circle" else ring


def _pile_m(load_n: float) -> float:
    """Height of a pile of tiles of this weight, 60 kg by metre as the toppling formula takes it [m]."""
    return load_n / GRAVITY_M_S2 / 60


def _edges_carry() -> Drawing:
    """A square tube under load: only its edges go on carrying; all of a round one does."""
    side, strip, gap = 0.1, 0.022, 0.2
    corners = [(0.0, 0.0), (side, 0.0), (side, side), (0.0, side)]
    shapes: list[Shape] = [line(Role.SLACK, *corners, corners[0])]
    for x, y in corners:
        dx, dy = (strip if x == 0 else -strip), (strip if y == 0 else -strip)
        shapes.append(line(Role.WEAKEST, (x + dx, y), (x, y), (x, y + dy)))
    radius = 4 * side / 2 / math.pi
    ring = [(gap + radius + radius * math.cos(t / 24 * math.pi), side / 2 + radius * math.sin(t / 24 * math.pi))
            for t in range(49)]  # fmt: skip
    shapes.append(line(Role.WEAKEST, *ring))
    shapes += [
        label(Role.GHOST, (side / 2, -0.035), "edges carry on"),
        label(Role.GHOST, (gap + radius, -0.035), "all of it carries"),
    ]
    return Drawing(
        tuple(shapes), "Flat walls fold in and only their edges go on carrying; a round wall carries all around."
    )


COLUMN = DraftKind(
    "column", "Column", "One sheet, rolled or folded upright.", ("column", "capacity_table"), "load on top",
    _PARAMS, expect, show, "sheet", errs_log=0.5,
    lessons=(Lesson("Flat walls fold in between their edges. A round wall has nothing flat to fold.", _edges_carry()),),
    blame={"sheet_m": "sheet"},
)  # fmt: skip
