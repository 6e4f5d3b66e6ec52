"""A house of joined panels that is dropped: how hard it lands, and from how high it survives."""

from __future__ import annotations

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
    count,
    length,
    mass,
    stock,
)
from girder_core.ground import GRAVITY_M_S2, Drawing, Role, arrow, block, label, line, measure, refuse, two_figures
from girder_core.measure import System, format_length
from girder_core.physics import (
    FLOORS,
    Form,
    drop_factor,
    drop_height_for,
    drop_house,
    landing_force_n,
    sudden_load_factor,
)

_PARAMS = (
    stock("sheet", "Panels", (Form.SHEET,), "card-300"),
    length("side_m", "Side of a panel", 0.03, 0.5, 0.12, 0.005, "", nudge=0.01, more="Panels {} wider",
           less="Panels {} narrower"),
    count("layers", "Sheets in a panel", 1, 6, 2, "", nudge=1, more="One sheet more", less="One sheet fewer"),
    count("panels", "Panels in all", 3, 30, 7, "", setup="panels", reading="panels", least=2, most=60),
    stock("joint", "Joints", (Form.TAPE, Form.JOINT), "tape"),
    count("joints", "Joints in all", 1, 60, 12, "", nudge=2, more="Two joints more", less="Two joints fewer"),
    mass("inside_kg", "Load inside", 0.0, 2.0, 0.05, 0.01, "What it carries falls with it."),
    length("drop_m", "Dropped from", 0.0, 3.0, 0.3, 0.02, "", setup="first_drop_m"),
    choice("floor", "Lands on", {"wood": "a wooden floor", "stone": "a stone floor", "mat": "a gym mat",
                                  "foam": "foam"},
           "A floor that gives makes the landing longer and softer."),
)  # fmt: skip


def _mass(values: Values) -> float:
    panel = values.stocks["sheet"].grammage_kg_m2 * values["side_m"] ** 2 * values.count("layers")
    return panel * values.count("panels")


def expect(values: Values) -> Expected:
    """The landing force that the house is expected to take.

    Args:
        values: the draft's.
    Returns:
        Prediction of the force, and own mass.
    Errors:
        ``out_of_domain``.
    """
    joint = values.stocks["joint"].joint_n
    if joint is None:
        raise refuse("joint", f"{values.stocks['joint'].name} makes no joint.")
    under = max(1, values.count("panels") // 3)
    prediction = drop_house(
        values.stocks["sheet"], values["side_m"], values.count("layers"), under, joint, values.count("joints")
    )
    return Expected(prediction, _mass(values))


def survives_m(force_n: float, mass_kg: float, stiffness_n_m: float) -> float:
    """Height from which a landing is just as hard as a force.

    Args:
        force_n: the force [N], > 0.
        mass_kg: what lands [kg], > 0.
        stiffness_n_m: of the landing [N/m], > 0.
    Returns:
        The height [m]; 0 when even letting it go on the floor is as hard.
    """
    weight = mass_kg * GRAVITY_M_S2
    factor = force_n / weight
    return drop_height_for(factor, weight / stiffness_n_m) if factor > 2 else 0.0


def show(values: Values, expected: Expected, system: System) -> Shown:
    """The house above the floor, to scale; the landing's force over the height of the drop.

    Args:
        values: the draft's.
        expected: what is expected of it.
        system: the reader's units.
    Returns:
        What is shown.
    """
    side, drop = values["side_m"], values["drop_m"]
    mass_kg = expected.mass_kg + values["inside_kg"]
    stiff = FLOORS[values.words["floor"]].typical
    lands = landing_force_n(mass_kg, drop, stiff)
    prediction = expected.prediction
    assert prediction is not None
    low, typical, high = (
        two_figures(survives_m(force_n, mass_kg, stiff))
        for force_n in (prediction.low_n, prediction.typical_n, prediction.high_n)
    )
    roof = side * 0.45
    house = (
        block(Role.STRUCTURE, -side / 2, drop, side, side),
        line(Role.STRUCTURE, (-0.6 * side, drop + side), (0, drop + side + roof), (0.6 * side, drop + side)),
    )
    ghost = (
        line(Role.SLACK, (-side / 2, 0), (-side / 2, side), (side / 2, side), (side / 2, 0)),
        line(Role.SLACK, (-0.6 * side, side), (0, side + roof), (0.6 * side, side)),
    ) if drop > 0 else ()  # fmt: skip
    too_high = drop > typical > 0
    drawing = Drawing(
        (
            *((line(Role.WEAKEST, (-side / 2, side), (side / 2, side)),) if too_high else ()),
            block(Role.GROUND, -1.4 * side, -0.05 * max(side, drop), 2.8 * side, 0.05 * max(side, drop)),
            *ghost,
            *house,
            *((measure((0.9 * side, 0), (0.9 * side, drop)),) if drop > 0 else ()),
        ),
        f"The house, {format_length(drop, system)} above the floor.",
    )
    highest = max(1.2 * max(drop, typical), 0.1)
    points = tuple((highest * i / 40, landing_force_n(mass_kg, highest * i / 40, stiff)) for i in range(41))
    weight = mass_kg * GRAVITY_M_S2
    return Shown(
        views=(View("side", "Above the floor", drawing),),
        facts=(
            Fact("House and load weigh", "mass", mass_kg),
            Fact("Lands as hard as", "ratio", drop_factor(drop, weight / stiff), "times its weight at rest"),
            Fact("Force of the landing", "force", lands),
            Fact("Set down all at once", "ratio", sudden_load_factor(), "times its weight at rest"),
        ),
        curves=(
            Curve("How hard it lands", "dropped from", "length", "force", "force", points, (drop, lands),
                  (((typical, prediction.typical_n), "gives way"),) if typical > 0 else ()),
        ),
        says=(
            f"It should survive drops of up to about {format_length(typical, system)}; eight times in ten the first "
            f"that breaks it lies between {format_length(low, system)} and {format_length(high, system)}.",
        ),
        mark_n=lands,
        mark_words="this landing",
        headline=f"{prediction.governing.name} first, dropped from about {format_length(typical, system)}.",
    )  # fmt: skip


def _rising(values: Values, expected: Expected) -> tuple[float, float]:
    """From the floor to a little more than it is expected to survive [m]."""
    prediction = expected.prediction
    assert prediction is not None
    stiff = FLOORS[values.words["floor"]].typical
    highest = survives_m(prediction.typical_n, expected.mass_kg + values["inside_kg"], stiff)
    return 0.0, max(1.25 * highest, 2 * values["side_m"])


def _suddenly() -> Drawing:
    """The same weight set down, let go, and dropped."""
    shapes = []
    for x, high, words in ((0.0, 0.04, "set down: 1"), (0.3, 0.08, "let go: 2"), (0.6, 0.17, "dropped: more")):
        shapes += [block(Role.GOOD if x == 0 else Role.WEAKEST, x, 0, 0.05, high),
                   label(Role.GHOST, (x + 0.025, -0.05), words)]  # fmt: skip
    shapes.append(block(Role.GROUND, -0.03, -0.008, 0.74, 0.008))
    shapes.append(arrow((0.625, 0.24), (0.625, 0.18)))
    return Drawing(
        tuple(shapes), "A weight let go all at once acts twice as hard as one set down; dropped, harder still."
    )


DROP = DraftKind(
    "drop", "Drop house", "A house of joined panels, dropped.", ("drop_house",), "force of a landing", _PARAMS, expect,
    show, "sheet",
    lessons=(Lesson("Let go all at once, a weight acts twice as hard. Dropped, far harder.", _suddenly()),),
    push=True,
    films=(
        changes("Dropped from higher and higher, it lands harder", "side", "drop_m", _rising),
    ),
    blame={"drop_height_m": "drop_m", "mass_kg": "inside_kg"},
)  # fmt: skip
