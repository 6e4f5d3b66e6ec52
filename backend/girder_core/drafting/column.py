"""A sheet made into a column, alone or with others under a deck."""

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
from girder_core.ground import GRAVITY_M_S2, Drawing, Point, Role, Shape, area, arrow, block, label, line, measure
from girder_core.measure import System, format_length, format_mass, plural
from girder_core.physics import FURTHER, Form, Prediction, half_width_m, supports_needed, together, tube_column

SHAPES = {"circle": "Round", "square": "Square", "triangle": "Triangle", "n-gon": "Many sides", "zigzag": "Pleats"}
ENDS = {"pinned-pinned": "free to tilt", "fixed-pinned": "taped down below", "fixed-fixed": "held at both ends"}

_PARAMS = (
    choice("shape", "Folded as", SHAPES, "Round walls share the load; flat ones fold in."),
    count("walls", "Walls", 3, 24, 6, "", only=("shape", ("n-gon", "zigzag")), nudge=1, more="One wall more",
          less="One wall fewer"),
    stock("sheet", "Sheet", (Form.SHEET,), "sugar"),
    length("perimeter_m", "Sheet around the column", 0.03, 0.6, 0.21, 0.005, "", nudge=0.01, more="{} more around",
           less="{} less around"),
    length("height_m", "Height", 0.02, 0.8, 0.16, 0.005, "", setup="height_m", reading="height", nudge=0.01,
           more="{} higher", less="{} shorter", most=2.0),
    count("layers", "Layers", 1, 6, 1, "How many times the sheet goes around.", nudge=1, more="One layer more",
          less="One layer fewer"),
    count("columns", "Columns under the deck", 1, 12, 1, "They share the load, never quite evenly.", setup="columns",
          reading="columns", nudge=1, more="One column more", less="One column fewer"),
    choice("stand", "Several stand", {"apart": "apart, under a deck", "bound": "bound to one bundle"},
           "Bound together they are harder to bend.", switch={"bound": "Bind them to one bundle"}),
    length("aside_m", "Load off the middle", 0.0, 0.1, 0.0, 0.001, "The near side is crushed first.", nudge=0.002,
           less="Load {} nearer the middle", fine=True),
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
    each = _pile_m(prediction.typical_n) * values.on
    gap = 0.5 * wide
    starts = [i * (wide + gap) for i in range(n)]
    if bound:
        ring_at = [x - wide / 2 for x, _ in _ring(n, wide)]
        starts = [x - min(ring_at) for x in ring_at]
    whole = max(starts) + wide
    shapes: list[Shape] = [block(Role.GROUND, -0.3 * wide, -0.02 * high, whole + 0.6 * wide, 0.02 * high)]
    full = high
    if values.gone:
        # It has folded at its middle, out to the sides, and stands no higher than what is left of it.
        high, starts = 0.6 * high, []
        for start in [i * (wide + gap) for i in range(n)] if not bound else [0.5 * (whole - wide)]:
            bulge = 0.35 * wide
            left_side = ((start, 0), (start - bulge, high / 2), (start, high))
            right_side = ((start + wide, high), (start + wide + bulge, high / 2), (start + wide, 0))
            shapes += [area(Role.STRUCTURE, *left_side, *right_side),
                       line(Role.WEAKEST, (start - bulge, high / 2), (start + wide + bulge, high / 2))]  # fmt: skip
    for start in starts:
        shapes.append(block(Role.STRUCTURE, start, 0, wide, high))
        shapes += [line(Role.FOLD, (start + x - left, 0), (start + x - left, high)) for x, _ in _edges(shape, ring)]
    deck = 0.03 * high
    shapes.append(block(Role.SUPPORT, -0.1 * wide, high, whole + 0.2 * wide, deck))
    pile = min(each, 1.2 * high)
    shapes += [
        block(Role.LOAD, whole / 2 - 0.35 * wide, high + deck + pile * i / 6, 0.7 * wide, pile / 6) for i in range(6)
    ]
    shapes.append(measure((-0.55 * wide, 0), (-0.55 * wide, full)))
    side = Drawing(tuple(shapes), f"{n} {plural('column', n)} of {format_length(high, system)} under a pile.")
    wanted = values["wanted_kg"] * GRAVITY_M_S2
    # One alone at the low end of what is expected, then as many as bring their low share.
    one_n = prediction.low_n / float(together(1.0, n, FURTHER.low))
    needed = supports_needed(wanted, one_n, further=FURTHER.low) if one_n > 0 else 0
    enough = _enough(needed, wide, high, wanted, system)
    half = half_width_m(shape, values["perimeter_m"], values.count("walls"))
    return Shown(
        views=(
            View("above", "From above", above),
            View("side", "Under its load", side),
            *((View("enough", "As many as that load needs, under one deck", enough),) if enough else ()),
        ),
        facts=(
            Fact("Own weight", "mass", expected.mass_kg),
            Fact("Times its own weight", "ratio", prediction.typical_kg / expected.mass_kg),
            Fact("Columns for that load", "count", needed, "by the low end of the range")
            if needed
            else Fact("Columns for that load", "words", words="at worst they hold nothing"),
            *((Fact("Load on each of them", "mass", values["wanted_kg"] / needed),) if needed else ()),
            Fact("Half as wide as", "length", half, "from middle to edge"),
            *(Fact(f"{words}, same sheet", "ratio", _columns(values, key).typical_n / first)
              for key, words in SHAPES.items()
              if key != shape and key in ("circle", "square", "triangle") and first > 0),
        ),
        mark_n=wanted,
        mark_words="to be carried",
    )  # fmt: skip


MOST_DRAWN = 24
"""As many columns as are drawn under one deck [-] (ours)."""


def _enough(needed: int, wide: float, high: float, wanted_n: float, system: System) -> Drawing | None:
    """Columns in rows under one deck, each with its share; None where there are none, or too many."""
    if not 0 < needed <= MOST_DRAWN:
        return None
    rows = max(1, round(math.sqrt(needed / 2)))
    across = math.ceil(needed / rows)
    pitch, back = 1.7 * wide, 0.8 * wide
    lean = 0.45 * back
    shapes: list[Shape] = []
    # The farthest row first, so that the nearer ones stand before it.
    for row in reversed(range(rows)):
        for i in range(min(across, needed - row * across)):
            x, y = i * pitch + row * back, row * lean
            shapes.append(block(Role.STRUCTURE, x, y, wide, high))
    left, right = -0.3 * wide, (across - 1) * pitch + 1.3 * wide
    far, rise = (rows - 1) * back, (rows - 1) * lean
    deck = 0.05 * high
    shapes += [
        area(Role.SUPPORT, (left, high), (right, high), (right + far, high + rise), (left + far, high + rise)),
        block(Role.SUPPORT, left, high - deck, right - left, deck),
    ]
    each = wanted_n / GRAVITY_M_S2 / needed
    for i in range(min(across, needed)):
        x = i * pitch + wide / 2
        shapes.append(arrow((x, high + 0.3 * high), (x, high + 0.03 * high)))
    shapes.append(label(Role.ARROW, ((left + right) / 2, high + 0.42 * high), f"{format_mass(each, system)} each"))
    return Drawing(
        tuple(shapes),
        f"{needed} {plural('column', needed)} under one deck share {format_mass(wanted_n / GRAVITY_M_S2, system)}: "
        f"{format_mass(each, system)} each.",
    )


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
    films=(load_grows("The pile grows until the column gives way", "side"),),
    blame={"sheet_m": "sheet"},
)  # fmt: skip
