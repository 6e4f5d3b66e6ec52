"""A boat: folded from a sheet or shaped from a lump, to scale in the water at any cargo."""

from __future__ import annotations

import math

from girder_core.drafting.films import changes
from girder_core.drafting.model import (
    Curve,
    DraftKind,
    Expected,
    Fact,
    Lesson,
    Shown,
    Values,
    View,
    choice,
    length,
    mass,
    stock,
)
from girder_core.ground import (
    GRAVITY_M_S2,
    Drawing,
    GirderError,
    Point,
    Role,
    Shape,
    area,
    block,
    circle,
    label,
    line,
    measure,
    refuse,
)
from girder_core.measure import System, format_length, format_mass
from girder_core.physics import (
    Form,
    Hull,
    afloat,
    best_open_box,
    boat,
    capsizes,
    dish,
    edge_depth_m,
    open_box,
    payload_in_items,
    payload_to_rim_kg,
    plain_raft,
    pressed_dish,
    raft,
    says_wall,
    v_hull,
    water_density_kg_m3,
)

SHAPES = {"box": "Open box", "vee": "V hull", "dish": "Round dish", "plain": "Plain sheet", "raft": "Solid raft"}
WATER = {
    "fresh-20": "fresh, 20 °C",
    "fresh-10": "fresh, 10 °C",
    "fresh-30": "fresh, 30 °C",
    "salt-20": "salt, 20 °C",
    "salt-10": "salt, 10 °C",
    "salt-30": "salt, 30 °C",
}

_FOLDED = ("box", "vee", "plain")

_PARAMS = (
    choice("hull", "Hull", SHAPES),
    stock("sheet", "Made of", (Form.SHEET, Form.SOLID, Form.BLOCK), "foil"),
    length("long_m", "Sheet, long side", 0.03, 0.6, 0.15, 0.005, "", only=("hull", _FOLDED), nudge=0.01,
           more="Sheet {} longer"),
    length("wide_m", "Sheet, short side", 0.03, 0.6, 0.15, 0.005, "", only=("hull", _FOLDED), nudge=0.01,
           more="Sheet {} wider"),
    length("wall_m", "Height of the walls", 0.0, 0.2, 0.02, 0.001, "Too low swamps, too high leaves no floor.",
           only=("hull", ("box", "vee", "dish", "raft")), nudge=0.002, more="Walls {} higher",
           less="Walls {} lower"),
    length("rim_m", "Across the rim", 0.02, 0.4, 0.1, 0.005, "", only=("hull", ("dish", "raft")), nudge=0.01,
           more="{} wider at the rim"),
    length("floor_m", "Across the floor", 0.0, 0.4, 0.07, 0.005, "", only=("hull", ("dish",)), nudge=0.01,
           more="Floor {} wider"),
    length("thick_m", "Thickness of the lump", 0.001, 0.02, 0.004, 0.0005, "Pinched thinner, it is lighter. A sheet "
           "has its own.",
           only=("hull", ("dish",)), nudge=0.001, less="{} thinner"),
    mass("cargo_kg", "Cargo on it now", 0.0, 1.0, 0.05, 0.002, "Slide it and watch the waterline."),
    length("offset_m", "Cargo off the middle", 0.0, 0.1, 0.004, 0.001, "The low side takes water first.", nudge=0.002,
           less="Cargo {} nearer the middle"),
    length("cargo_height_m", "Middle of the cargo above the floor", 0.0, 0.1, 0.006, 0.001, "", fine=True),
    mass("item_kg", "One load item", 0.0005, 0.2, 0.006, 0.0005, "", fine=True),
    choice("water", "Water", WATER, fine=True),
)  # fmt: skip


def water_of(values: Values) -> float:
    """Density of the chosen water.

    Args:
        values: the draft's.
    Returns:
        Density [kg/m³].
    """
    kind, _, degrees = values.words["water"].partition("-")
    return water_density_kg_m3(float(degrees), kind == "salt")


def hull_of(values: Values) -> Hull:
    """The hull that the values make.

    Args:
        values: the draft's.
    Returns:
        The hull.
    Errors:
        ``no_wall``; ``out_of_domain`` where the sheet does not reach.
    """
    stuff, wall = values.stocks["sheet"], values["wall_m"]
    thick = stuff.thickness_m.typical
    shape = values.words["hull"]
    if shape in ("box", "vee") and stuff.form is not Form.SHEET:
        raise refuse("sheet", f"{stuff.name.capitalize()} is no sheet to fold. Choose a dish or a raft.")
    if shape == "box":
        long, wide = values["long_m"] - 2 * wall, values["wide_m"] - 2 * wall
        if min(long, wide) <= 0:
            raise refuse("wall_m", "Walls that high leave no floor. Fold them lower, or take a larger sheet.")
        return open_box(long, wide, wall, thick, stuff)
    if shape == "vee":
        half = values["wide_m"] / 2
        if wall >= half:
            raise refuse("wall_m", "The sides are not as long as that. Fold the hull flatter.")
        return v_hull(values["long_m"] - 2 * min(wall, 0.4 * values["long_m"]), 2 * math.sqrt(half**2 - wall**2), wall,
                      thick, stuff)  # fmt: skip
    if shape == "dish":
        if stuff.form is Form.SHEET:
            return pressed_dish(values["rim_m"], values["floor_m"], wall, thick, stuff)
        return dish(values["rim_m"], values["floor_m"], wall, values["thick_m"], stuff)
    if not wall > 0:
        raise refuse("wall_m", "A raft needs a thickness.", "no_wall")
    return raft(values["rim_m"], values["rim_m"], wall, stuff)


def expect(values: Values) -> Expected:
    """What the boat is expected to carry.

    Args:
        values: the draft's.
    Returns:
        Prediction and own mass.
    Errors:
        ``no_wall``, ``sinks``; ``out_of_domain``.
    """
    if values.words["hull"] == "plain":
        return _plain(values)
    hull = hull_of(values)
    high = values["cargo_height_m"] + (hull.depth_m if hull.solid else 0.0)
    return Expected(boat(hull, high, values["offset_m"], water_of(values)), hull.mass_kg)


def _plain(values: Values) -> Expected:
    """A sheet as it comes from the roll, on the water."""
    stuff = values.stocks["sheet"]
    if stuff.form is not Form.SHEET:
        raise refuse("sheet", f"{stuff.name.capitalize()} is no sheet. Choose a dish or a raft.")
    long, wide = values["long_m"], values["wide_m"]
    prediction = plain_raft(long, wide, stuff.thickness_m.typical, stuff, values["offset_m"], water_of(values))
    return Expected(prediction, stuff.grammage_kg_m2 * long * wide)


def _show_plain(values: Values, expected: Expected, system: System) -> Shown:
    """The sheet from above, and its edge across, larger: the water stands higher than the dry sheet."""
    long, wide = values["long_m"], values["wide_m"]
    prediction = expected.prediction
    assert prediction is not None
    deep = float(edge_depth_m(80.0, water_of(values)))
    flat = _from_above_plain(long, wide)
    fade = deep / 1.3
    skin = [(-5 * fade + 5 * fade * i / 24, -deep * math.exp(-(5 - 5 * i / 24))) for i in range(25)]
    thick = deep / 12
    edge = Drawing(
        (
            area(Role.WATER, *skin, (0.0, -deep - thick), (6 * fade, -deep - thick), (6 * fade, -3 * deep),
                 (-5 * fade, -3 * deep)),
            line(Role.AXIS, (-5 * fade, 0), (6 * fade, 0)),
            label(Role.AXIS, (-5 * fade, 0), "water"),
            block(Role.STRUCTURE, 0, -deep - thick, 6 * fade, thick),
            measure((5 * fade, -deep), (5 * fade, 0)),
        ),
        f"The edge, larger: the dry sheet lies up to {format_length(deep, system)} below the water, whose skin bends "
        "down to it.",
    )  # fmt: skip
    items = payload_in_items(prediction.typical_kg, values["item_kg"])
    return Shown(
        views=(View("edge", "Its edge, larger", edge), View("above", "From above", flat)),
        facts=(
            Fact("Own weight", "mass", expected.mass_kg),
            Fact("That many items", "count", items),
            Fact("A dry edge may lie below the water by", "length", deep),
        ),
        says=("Lay cargo down in the middle and gently: a wet edge holds nothing back.",),
        mark_n=values["cargo_kg"] * GRAVITY_M_S2,
        mark_words=f"cargo now, {format_mass(values['cargo_kg'], system)}",
    )


def _from_above_plain(long: float, wide: float) -> Drawing:
    return Drawing(
        (
            block(Role.STRUCTURE, 0, 0, long, wide),
            measure((0, -0.2 * wide), (long, -0.2 * wide)),
            measure((-0.12 * long, 0), (-0.12 * long, wide)),
        ),
        "The sheet from above, flat.",
    )


def _tilted(points: tuple[Point, ...], draft: float, degrees: float) -> tuple[Point, ...]:
    """Points above the keel, heeled about the middle of the waterline, which lies at y = 0."""
    turn = math.radians(degrees)
    return tuple(
        (x * math.cos(turn) + (y - draft) * math.sin(turn), -x * math.sin(turn) + (y - draft) * math.cos(turn))
        for x, y in points
    )


def _midship(hull: Hull, thick: float) -> tuple[Point, ...]:
    top, floor = hull.beam_m / 2, hull.bottom_beam_m / 2
    if hull.solid:
        return ((-floor, 0.0), (floor, 0.0), (top, hull.depth_m), (-top, hull.depth_m))
    inner_floor = max(floor - thick, 0.0)
    return (
        (-top, hull.depth_m), (-floor, 0.0), (floor, 0.0), (top, hull.depth_m), (top - thick, hull.depth_m),
        (inner_floor, thick), (-inner_floor, thick), (thick - top, hull.depth_m),
    )  # fmt: skip


def _in_water(hull: Hull, values: Values, density: float) -> tuple[Drawing, float, tuple[Fact, ...], tuple[str, ...]]:
    """The hull across, in the water, at its cargo and heel."""
    cargo = values["cargo_kg"]
    high = values["cargo_height_m"] + (hull.depth_m if hull.solid else 0.0)
    stuff = values.stocks["sheet"]
    lump = values.words["hull"] == "dish" and stuff.form is not Form.SHEET
    drawn = values["thick_m"] if lump else stuff.thickness_m.typical
    wall = max(min(drawn, hull.depth_m / 2), hull.beam_m / 120)
    wide = 0.95 * hull.beam_m + 0.02
    deep = 1.3 * hull.depth_m + 0.01
    water = block(Role.WATER, -wide, -deep, 2 * wide, deep)
    try:
        state = afloat(hull, cargo, high, density)
        verdict = capsizes(hull, cargo, high, values["offset_m"], density)
        heel = verdict.heel
        draft, angle = state.draft_m, min(verdict.angle_deg, 60.0)
        facts: tuple[Fact, ...] = (
            Fact("Freeboard", "length", state.freeboard_m),
            Fact("Draft", "length", draft),
            Fact("Heel", "angle", heel.angle_deg, "" if heel.small else "beyond the small-angle rule"),
            Fact("Rim goes under at", "angle", heel.rim_angle_deg),
            Fact("Metacentric height", "length", state.metacentric_height_m),
        )
        says: tuple[str, ...] = (verdict.says,)
    except GirderError as error:
        draft, angle, facts, says = hull.depth_m + 0.4 * deep, 0.0, (), (error.sentence,)
    shapes: list[Shape] = [water, area(Role.STRUCTURE, *_tilted(_midship(hull, wall), draft, angle))]
    if cargo > 0:
        side = min(0.4 * hull.beam_m, 2.2 * max(high, 0.004))
        spot = values["offset_m"]
        base = high - side / 2 if not hull.solid else hull.depth_m
        corners = tuple(
            (spot + dx * side / 2, max(base, wall) + dy * side) for dx, dy in ((-1, 0), (1, 0), (1, 1), (-1, 1))
        )
        shapes.append(area(Role.LOAD, *_tilted(corners, draft, angle)))
    shapes.append(line(Role.AXIS, (-wide, 0), (wide, 0)))
    shapes.append(label(Role.AXIS, (-wide, 0), "water"))
    at = max(x for x, _ in _tilted(_midship(hull, wall), draft, angle)) + 0.08 * hull.beam_m
    shapes.append(measure((at, -draft), (at, hull.depth_m - draft), "wall"))
    return Drawing(tuple(shapes), f"The hull across, in the water. {says[0]}"), draft, facts, says


def _folds(values: Values) -> Drawing:
    long, wide, wall = values["long_m"], values["wide_m"], values["wall_m"]
    lines = (
        [((wall, 0), (wall, wide)), ((long - wall, 0), (long - wall, wide)), ((0, wall), (long, wall)),
         ((0, wide - wall), (long, wide - wall))]
        if values.words["hull"] == "box"
        else [((0, wide / 2), (long, wide / 2))]
    )  # fmt: skip
    corners = (
        [line(Role.FOLD, (x, y), (x + dx * wall, y + dy * wall)) for x, dx in ((0.0, 1), (long, -1))
         for y, dy in ((0.0, 1), (wide, -1))]
        if values.words["hull"] == "box" else []
    )  # fmt: skip
    return Drawing(
        (
            block(Role.STRUCTURE, 0, 0, long, wide),
            *(line(Role.FOLD, *ends) for ends in lines),
            *corners,
            measure((0, -0.12 * wide), (long, -0.12 * wide)),
            measure((-0.12 * long, 0), (-0.12 * long, wide)),
        ),
        "The flat sheet with its folds; corners are tucked, not cut.",
    )


def _from_above(hull: Hull) -> Drawing:
    if values_round := hull.planform.value == "ellipse":
        rim = circle(Role.STRUCTURE, (0, 0), hull.beam_m / 2)
        floor = circle(Role.FOLD, (0, 0), hull.bottom_beam_m / 2)
    else:
        rim = block(Role.STRUCTURE, -hull.length_m / 2, -hull.beam_m / 2, hull.length_m, hull.beam_m)
        floor = line(Role.FOLD, (-hull.length_m / 2, 0), (hull.length_m / 2, 0))
    low = -0.7 * hull.beam_m
    return Drawing(
        (rim, floor, measure((-hull.length_m / 2, low), (hull.length_m / 2, low))),
        "The hull from above, round." if values_round else "The hull from above.",
    )


def show(values: Values, expected: Expected, system: System) -> Shown:
    """The sheet with its folds and the hull in the water, to scale; payload against the height of the walls.

    Args:
        values: the draft's.
        expected: what is expected of it.
        system: the reader's units.
    Returns:
        What is shown.
    """
    if values.words["hull"] == "plain":
        return _show_plain(values, expected, system)
    hull, density = hull_of(values), water_of(values)
    most = payload_to_rim_kg(hull, density)
    afloat_view, _, facts, says = _in_water(hull, values, density)
    views = [View("water", "Across, in the water", afloat_view)]
    curves: tuple[Curve, ...] = ()
    more: tuple[Fact, ...] = ()
    if values.words["hull"] in ("box", "vee"):
        views.append(View("sheet", "The sheet and its folds", _folds(values)))
    else:
        views.append(View("above", "From above", _from_above(hull)))
    if values.words["hull"] == "box":
        curves, more = _wall_curve(values, most, density)
        says = (*says, says_wall(best_open_box(values["long_m"], 0.0, values["wide_m"]), values["wall_m"]))
    return Shown(
        views=tuple(views),
        facts=(
            Fact("Own weight", "mass", hull.mass_kg),
            Fact("Carries, level to the rim", "mass", most),
            Fact("That many items", "count", payload_in_items(max(most, 0.0), values["item_kg"])),
            *more,
            *facts,
        ),
        curves=curves,
        says=says,
        mark_n=values["cargo_kg"] * GRAVITY_M_S2,
        mark_words=f"cargo now, {format_mass(values['cargo_kg'], system)}",
    )


def _wall_curve(values: Values, most: float, density: float) -> tuple[tuple[Curve, ...], tuple[Fact, ...]]:
    """Payload of the open box from this sheet over the height of its walls."""
    long, wide, stuff = values["long_m"], values["wide_m"], values.stocks["sheet"]
    thick, half = stuff.thickness_m.typical, min(long, wide) / 2
    best = best_open_box(long, 0.0, wide)

    def carries(wall: float) -> float:
        return max(0.0, payload_to_rim_kg(open_box(long - 2 * wall, wide - 2 * wall, wall, thick, stuff), density))

    points = tuple((half * i / 41, carries(half * i / 41)) for i in range(1, 41))
    curve = Curve(
        "What the height of the walls does", "height of the walls", "length", "carries, level", "mass", points,
        (values["wall_m"], max(0.0, most)), (((best, carries(best)), f"best {format_length(best)}"),),
    )  # fmt: skip
    return (curve,), (Fact("Best height of the walls", "length", best),)


def _to_the_rim(values: Values, expected: Expected) -> tuple[float, float]:
    """From empty to a little more than it carries level to its rim [kg]."""
    return 0.0, 1.05 * max(payload_to_rim_kg(hull_of(values), water_of(values)), 1e-3)


def _to_one_side(values: Values, expected: Expected) -> tuple[float, float]:
    """From the middle to the wall [m]."""
    return 0.0, 0.45 * hull_of(values).beam_m


def _floats() -> Drawing:
    """A box empty, half laden and full: it sinks in until it has pushed aside what it weighs."""
    shapes: list[Shape] = [block(Role.WATER, -0.02, -0.09, 0.5, 0.09)]
    for i, (draft, cargo) in enumerate(((0.012, 0), (0.03, 1), (0.052, 2))):
        x = 0.02 + 0.16 * i
        shapes += [
            area(Role.STRUCTURE, (x, -draft), (x + 0.1, -draft), (x + 0.1, 0.06 - draft), (x + 0.095, 0.06 - draft),
                 (x + 0.095, 0.005 - draft), (x + 0.005, 0.005 - draft), (x + 0.005, 0.06 - draft), (x, 0.06 - draft)),
            *(block(Role.LOAD, x + 0.02, 0.005 - draft + 0.016 * k, 0.06, 0.014) for k in range(cargo)),
        ]  # fmt: skip
    return Drawing(tuple(shapes), "More cargo, deeper: each hull has pushed aside as much water as it weighs.")


BOAT = DraftKind(
    "boat", "Boat", "A hull in the water, with its cargo where you put it.", ("boat",), "cargo", _PARAMS, expect, show,
    "sheet", errs_log=0.15,
    lessons=(Lesson("It sinks in until the water it has pushed aside weighs as much as boat and cargo.", _floats()),),
    films=(
        changes("Cargo comes in, and it sinks deeper", "water", "cargo_kg", _to_the_rim,
                ("hull", ("box", "vee", "dish", "raft")), {"offset_m": 0.0}),
        changes("Cargo moves to one side, and it heels", "water", "offset_m", _to_one_side,
                ("hull", ("box", "vee", "dish", "raft"))),
        changes("A longer raft", "above", "long_m", lambda values, expected: (values["long_m"] / 2, values["long_m"]),
                ("hull", ("plain",))),
    ),
    blame={"load_kg": "cargo_kg", "bottom_m": "floor_m", "sheet_m": "sheet", "stock": "sheet",
           "length_m": "long_m", "beam_m": "wide_m"},
)  # fmt: skip
