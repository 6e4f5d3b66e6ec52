"""A tower on legs: what it carries, how far it may lean, and how it takes a shaking table."""

from __future__ import annotations

import math

import numpy as np

from girder_core.drafting.films import load_grows
from girder_core.drafting.model import (
    Curve,
    DraftKind,
    Expected,
    Fact,
    Lesson,
    Param,
    Shown,
    Values,
    View,
    choice,
    count,
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
from girder_core.measure import Kind, System, format_length
from girder_core.physics import (
    TOWER_DAMPING,
    Bounds,
    Form,
    Isolation,
    TowerShape,
    frame_tower,
    rocking_threshold_g,
    shake_limits,
    shaken,
    smallest_half_base_m,
    toppling_angle_deg,
    transmissibility,
)

ISOLATION = {
    "none": "feet on the table",
    "foam": "soft foam",
    "sponge": "sponge strips",
    "balls": "on marbles in dishes",
}
_SOFT = {"foam": (3.0, 0.15), "sponge": (1.5, 0.2), "balls": (0.6, 0.05)}
"""Frequency at which the tower would sway on each, by itself [Hz], and damping ratio; orders of magnitude."""

_PARAMS = (
    choice("test", "What it has to take", {"load": "load on it", "shake": "shaking"}),
    length("height_m", "Height", 0.05, 1.5, 0.34, 0.01, "", setup="height_m", reading="height", nudge=0.02,
           more="{} higher", less="{} lower", least=0.04, most=4.0),
    length("base_m", "Side of the foot", 0.02, 1.0, 0.16, 0.005, "Wide feet are hard to tip.", setup="base_max_m",
           reading="base", nudge=0.01, more="Foot {} wider", less="Foot {} narrower", most=3.0),
    length("top_m", "Side of the top", 0.005, 1.0, 0.08, 0.005, "", nudge=0.01, more="Top {} wider",
           less="Top {} narrower"),
    count("legs", "Legs", 3, 8, 4, "", nudge=1, more="One leg more", less="One leg fewer"),
    count("levels", "Storeys", 1, 12, 3, "Rings of cross members halve the free length of the legs.", nudge=1,
          more="One storey more", less="One storey fewer"),
    choice("bracing", "Diagonals", {"braced": "in every storey", "open": "none"},
           "Triangles stop it leaning over.", switch={"braced": "Diagonals in every storey"}),
    stock("member", "Sticks", (Form.ROD, Form.TUBE), "dowel-4"),
    stock("joint", "Joints", (Form.JOINT, Form.TAPE), "glue"),
    mass("top_kg", "Fixed at the top", 0.0, 2.0, 0.02, 0.01, "Weight on top makes it easy to tip.",
         nudge=0.01, less="{} less at the top"),
    length("hang_m", "The cup hangs at", 0.0, 1.5, 0.0, 0.01, "0 is on the top itself.", only=("test", ("load",)),
           fine=True),
    count("hangers", "Beams that share the cup", 1, 4, 2, "", only=("test", ("load",)), nudge=1,
          more="One beam more for the cup", fine=True),
    Param("frequency_hz", "Shakes", Kind.FREQUENCY, 0.1, 10, 1.4, 0.1, why="How often it goes there and back.",
          only=("test", ("shake",)), setup="frequency_hz", most=20),
    length("stroke_m", "Stroke from end to end", 0.002, 0.2, 0.03, 0.002, "", only=("test", ("shake",)),
           setup="stroke_m", most=0.3),
    choice("isolation", "Stands on", ISOLATION, "A soft layer lets the table move and the tower stay.",
           only=("test", ("shake",))),
)  # fmt: skip

FOOT_FRICTION = Bounds(0.25, 0.4, 0.6, "order of magnitude: sticks or card on a wooden table")


def shape_of(values: Values) -> TowerShape:
    """The tower that the values make.

    Args:
        values: the draft's.
    Returns:
        Its geometry.
    Errors:
        ``out_of_domain``.
    """
    return TowerShape(
        values["height_m"], values["base_m"], values["top_m"], values.count("legs"), values.count("levels"),
        values.words["bracing"] == "braced", values["top_kg"],
    )  # fmt: skip


def _joint(values: Values) -> Bounds:
    holds = values.stocks["joint"].joint_n
    if holds is None:
        raise refuse("joint", f"{values.stocks['joint'].name} makes no joint.")
    return holds


def expect(values: Values) -> Expected:
    """What the tower is expected to take: load, or a push at its middle as of a shake.

    Args:
        values: the draft's.
    Returns:
        Prediction and own mass.
    Errors:
        ``out_of_domain``.
    """
    shape, member = shape_of(values), values.stocks["member"]
    own = shape.mass_kg(member)
    if values.words["test"] == "shake":
        return Expected(shake_limits(shape, member, _joint(values), FOOT_FRICTION), own)
    hang = values["hang_m"] or None
    return Expected(frame_tower(shape, member, _joint(values), hang, values.count("hangers")), own)


def _corner(shape: TowerShape, height: float) -> float:
    return shape.half_side(height) * math.cos(math.pi / shape.legs / (1 if shape.legs % 2 else 2))


FALLEN_DEG = 78.0
"""How far over a tower is drawn once it has gone over [°] (ours)."""


def _elevation(shape: TowerShape, centre: float, degrees: float = 0.0) -> tuple[Shape, ...]:
    """The tower from the side, tipped about its right foot by so much."""
    half = shape.base_m / 2
    turn = math.radians(degrees)

    def at(x: float, y: float) -> Point:
        dx = x - half
        return (half + dx * math.cos(turn) + y * math.sin(turn), -dx * math.sin(turn) + y * math.cos(turn))

    top = shape.top_m / 2
    shapes: list[Shape] = []
    for i in range(shape.levels):
        y0, y1 = (shape.height_m * j / shape.levels for j in (i, i + 1))
        x0, x1 = (half + (top - half) * y / shape.height_m for y in (y0, y1))
        shapes += [line(Role.STRUCTURE, at(-x0, y0), at(-x1, y1)), line(Role.STRUCTURE, at(x0, y0), at(x1, y1)),
                   line(Role.STRUCTURE, at(-x1, y1), at(x1, y1))]  # fmt: skip
        if shape.braced:
            shapes.append(line(Role.STRUCTURE, at(-x0, y0), at(x1, y1)))
    if shape.top_mass_kg > 0:
        size = min(0.12 * shape.height_m, max(0.02, top))
        corners = ((-size / 2, 0), (size / 2, 0), (size / 2, size), (-size / 2, size))
        shapes.append(area(Role.LOAD, *(at(x, shape.height_m + y) for x, y in corners)))
    spot = at(0, centre)
    shapes += [circle(Role.WEAKEST, spot, 0.014 * shape.height_m), line(Role.AXIS, spot, (spot[0], 0))]
    return tuple(shapes)


def show(values: Values, expected: Expected, system: System) -> Shown:
    """The tower to scale, upright and about to go over, and how it answers to shaking.

    Args:
        values: the draft's.
        expected: what is expected of it.
        system: the reader's units.
    Returns:
        What is shown.
    """
    shape, member = shape_of(values), values.stocks["member"]
    centre = shape.mass_centre_m(member)
    half = smallest_half_base_m(shape.legs, shape.base_m)
    topples = toppling_angle_deg(half, centre)
    ground = block(Role.GROUND, -0.6 * shape.height_m, -0.015 * shape.height_m, 1.7 * shape.height_m,
                   0.015 * shape.height_m)  # fmt: skip
    upright = Drawing(
        (
            block(
                Role.GROUND, -0.8 * shape.base_m, -0.015 * shape.height_m, 1.6 * shape.base_m, 0.015 * shape.height_m
            ),
            *_elevation(shape, centre),
            *_bowed(shape, values),
            *_cup(shape, values),
            measure((-0.7 * shape.base_m, 0), (-0.7 * shape.base_m, shape.height_m)),
            measure((-shape.base_m / 2, -0.17 * shape.height_m), (shape.base_m / 2, -0.17 * shape.height_m)),
        ),
        f"A tower {format_length(shape.height_m, system)} high on {shape.legs} legs; the dot is its centre of mass.",
    )
    tipped = Drawing(
        (ground, *_elevation(shape, centre, FALLEN_DEG if values.gone else values.on * topples)),
        f"Tipped by {topples:.0f}°, its centre of mass stands over the edge of its foot: from here it falls.",
    )
    facts = [
        Fact("Own weight", "mass", expected.mass_kg),
        Fact("Centre of mass", "length", centre),
        Fact("Goes over at", "angle", topples),
        Fact(
            "Begins to rock at a sideways push", "share", rocking_threshold_g(half, centre), "as a share of its weight"
        ),
        Fact("Stick needed", "length", shape.stick_m),
    ]
    views = (View("side", "From the side", upright), View("tipped", "About to go over", tipped))
    if values.words["test"] != "shake":
        if expected.prediction:
            facts.insert(1, Fact("Times its own weight", "ratio", expected.prediction.typical_kg / expected.mass_kg))
        return Shown(views, tuple(facts))
    return _shaking(values, expected, views, tuple(facts))


def _cup(shape: TowerShape, values: Values) -> tuple[Shape, ...]:
    if values.words["test"] == "shake" or not values["hang_m"]:
        return ()
    at = min(values["hang_m"], shape.height_m)
    wide, low = 0.1 * shape.height_m, at * 0.45 if not values.gone else 0.1 * shape.height_m
    half = (0.4 + 0.1 * values.on) * wide
    foot = low - wide
    return (
        line(Role.FOLD, (0, at), (0, low)),
        line(Role.FOLD, (-wide / 2, low), (-0.4 * wide, foot), (0.4 * wide, foot), (wide / 2, low)),
        area(Role.LOAD, (-half, foot + values.on * wide), (half, foot + values.on * wide), (0.4 * wide, foot),
             (-0.4 * wide, foot)),
    )  # fmt: skip


def _bowed(shape: TowerShape, values: Values) -> tuple[Shape, ...]:
    """The leg that has bowed out under a load that was too much, in a film."""
    if not values.gone or values.words["test"] == "shake":
        return ()
    half, top, high = shape.base_m / 2, shape.top_m / 2, shape.height_m / shape.levels
    upper = half + (top - half) / shape.levels
    bow = 0.22 * high
    curve = ((half + (upper - half) * t / 12 + bow * math.sin(math.pi * t / 12), high * t / 12) for t in range(13))
    return (line(Role.WEAKEST, *curve),)


def _shaking(values: Values, expected: Expected, views: tuple[View, ...], facts: tuple[Fact, ...]) -> Shown:
    shape, member = shape_of(values), values.stocks["member"]
    kind = values.words["isolation"]
    soft = None
    if kind != "none":
        frequency, damping = _SOFT[kind]
        soft = Isolation((2 * math.pi * frequency) ** 2 * expected.mass_kg, damping)
    try:
        motion = shaken(shape, member, values["frequency_hz"], values["stroke_m"], soft)
        bare = shaken(shape, member, values["frequency_hz"], values["stroke_m"], None)
    except GirderError as error:
        return Shown(views, facts, says=(error.sentence,), headline=error.sentence)
    decides = motion.isolated_frequency_hz or motion.natural_frequency_hz
    damping = soft.damping_ratio if soft else TOWER_DAMPING
    highest = 3.0 * max(decides, values["frequency_hz"])
    points = tuple(
        (f, min(6.0, float(transmissibility(f / decides, damping)))) for f in (highest * i / 90 for i in range(1, 91))
    )
    rocks = _rocks_from_hz(values["stroke_m"], decides, damping, motion.rocking_g)
    first = (
        Fact(
            "Its own frequency", "frequency", motion.natural_frequency_hz, "if its joints and feet were perfectly stiff"
        ),
        *(
            (Fact("On its soft layer", "frequency", motion.isolated_frequency_hz),)
            if motion.isolated_frequency_hz
            else ()
        ),
        Fact("The table’s jerk", "share", motion.table_g, "as a share of gravity"),
        Fact("What the tower feels", "share", motion.felt_g, "as a share of gravity"),
        *((Fact("Begins to rock when shaken at", "frequency", rocks),) if rocks else ()),
        *((Fact("Without the soft layer", "share", bare.felt_g, "as a share of gravity"),) if soft else ()),
    )
    return Shown(
        views, (*first, *facts),
        (Curve("How much of the shaking arrives", "shakes", "frequency", "felt, divided by given", "ratio", points,
               (values["frequency_hz"], min(6.0, motion.passed_on)),
               (((decides * math.sqrt(2), 1.0), "from here on it arrives weaker"),)),),
        (motion.says,),
        mark_n=motion.felt_g * expected.mass_kg * GRAVITY_M_S2,
        mark_words="what this shaking does",
    )  # fmt: skip


def _rocks_from_hz(stroke_m: float, decides_hz: float, damping: float, rocking_g: float) -> float | None:
    """The slowest shaking at this stroke that makes the tower rock [Hz]; None below 20 Hz."""
    rates = np.arange(0.05, 20.0, 0.05)
    felt = (2 * math.pi * rates) ** 2 * stroke_m / 2 / GRAVITY_M_S2 * transmissibility(rates / decides_hz, damping)
    over = np.asarray(felt) >= rocking_g
    return float(rates[int(np.argmax(over))]) if over.any() else None


def _wide_and_narrow() -> Drawing:
    """Two equal tilts: a narrow foot is past its edge, a wide one is not."""
    shapes: list[Shape] = [block(Role.GROUND, -0.05, -0.01, 0.5, 0.01)]
    turn = math.radians(14)
    for left, half, words in ((0.05, 0.018, "narrow: falls"), (0.28, 0.045, "wide: comes back")):
        foot = left + half

        def at(x: float, y: float, foot: float = foot, half: float = half) -> Point:
            dx = x - half
            return (foot + dx * math.cos(turn) + y * math.sin(turn), -dx * math.sin(turn) + y * math.cos(turn))

        shapes.append(area(Role.STRUCTURE, at(-half, 0), at(half, 0), at(half / 2, 0.16), at(-half / 2, 0.16)))
        spot = at(0, 0.085)
        shapes += [circle(Role.WEAKEST, spot, 0.005), line(Role.AXIS, spot, (spot[0], 0)),
                   label(Role.GHOST, (left + half, -0.045), words)]  # fmt: skip
    return Drawing(
        tuple(shapes), "Tilted alike: over a narrow foot the centre of mass is past the edge, over a wide one not."
    )


TOWER = DraftKind(
    "tower", "Tower", "A frame on legs, loaded or shaken.", ("tower", "bucket_tower", "shake_tower"), "load",
    _PARAMS, expect, show, "member",
    lessons=(Lesson("It falls when its centre of mass passes the edge of its foot.", _wide_and_narrow()),),
    push_where={"test": ("shake",)},
    films=(
        load_grows("Load grows, and a leg gives way", "side", ("test", ("load",))),
        load_grows("It leans, until its centre of mass is past its foot", "tipped", what="the lean",
                   end="It goes over: its centre of mass is past the edge of its foot."),
    ),
    blame={"top_mass_kg": "top_kg", "hang_height_m": "hang_m", "stiffness_n_m": "height_m"},
)  # fmt: skip
