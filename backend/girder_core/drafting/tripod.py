"""Legs that lean together: rolled tubes, sticks or straws, with a load on the tip."""

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
    in_words,
    length,
    stock,
)
from girder_core.ground import Drawing, Point, Role, Shape, arrow, block, circle, label, line, measure
from girder_core.measure import System, format_length
from girder_core.physics import NOTHING_N, Form, leg_forces_n, member_of, plank_width_m, tied_n, tripod

_PARAMS = (
    count("legs", "Legs", 3, 8, 3, "", nudge=1, more="One leg more", less="One leg fewer"),
    length("height_m", "Tip above the floor", 0.05, 1.0, 0.2, 0.01, "", setup="height_m", reading="height", nudge=0.02,
           more="{} higher", less="{} lower", least=0.04, most=4.0),
    length("circle_m", "Circle of the feet, across", 0.02, 1.0, 0.12, 0.005, "Wide feet slide; narrow ones tip.",
           nudge=0.02, more="Feet {} wider", less="Feet {} narrower"),
    stock("stuff", "Legs of", (Form.SHEET, Form.ROD, Form.TUBE), "sugar"),
    length("diameter_m", "A sheet is rolled to a tube of", 0.004, 0.1, 0.016, 0.001, "For sheets only.", nudge=0.002,
           more="Tubes {} wider", less="Tubes {} narrower"),
    count("layers", "A sheet goes around", 1, 12, 3, "For sheets only.", nudge=1, more="One turn more in each tube",
          less="One turn fewer"),
    choice("feet", "Feet", {"tied": "tied together", "free": "free on the table"}, "Leaning legs push outwards.",
           switch={"tied": "Tie the feet together"}),
    stock("tie", "Tie", (Form.LINE,), "string", fine=True),
)  # fmt: skip


def _leg_m(values: Values) -> float:
    return math.hypot(values["height_m"], values["circle_m"] / 2)


def _rolled(values: Values) -> bool:
    return values.stocks["stuff"].form is Form.SHEET


def expect(values: Values) -> Expected:
    """What the legs are expected to carry.

    Args:
        values: the draft's.
    Returns:
        Prediction and own mass.
    Errors:
        ``out_of_domain``.
    """
    legs, long, stuff = values.count("legs"), _leg_m(values), values.stocks["stuff"]
    tie = values.stocks["tie"]
    strength = tied_n(tie)
    prediction = tripod(
        legs, long, values["circle_m"] / 2, stuff, values["diameter_m"], values.count("layers"),
        strength if values.words["feet"] == "tied" else None,
    )  # fmt: skip
    if _rolled(values):
        each = stuff.grammage_kg_m2 * math.pi * values["diameter_m"] * values.count("layers") * long
    else:
        each = stuff.density_kg_m3.typical * member_of(stuff).area_m2 * long
    return Expected(prediction, legs * each)


def show(values: Values, expected: Expected, system: System) -> Shown:
    """The legs from the side and their feet from above, to scale.

    Args:
        values: the draft's.
        expected: what is expected of it.
        system: the reader's units.
    Returns:
        What is shown.
    """
    legs, high, radius = values.count("legs"), values["height_m"], values["circle_m"] / 2
    assert expected.prediction is not None
    splits = values.gone and expected.prediction.governing.key in ("feet", "tie")
    if splits:
        # The feet have slid out, and the tip has come down by as much as the legs' length lets it.
        long = math.hypot(high, radius)
        radius = min(1.5 * radius, 0.98 * long)
        high = math.sqrt(long**2 - radius**2)
    prediction = expected.prediction
    assert prediction is not None
    load = prediction.typical_n
    forces = leg_forces_n(load, legs, _leg_m(values), radius)
    feet: list[Point] = [
        (radius * math.cos(2 * math.pi * i / legs + 0.4), radius * math.sin(2 * math.pi * i / legs + 0.4))
        for i in range(legs)
    ]
    size = max(high, 2 * radius)
    wide = values["diameter_m"] if _rolled(values) else plank_width_m(values.stocks["stuff"])
    tied = values.words["feet"] == "tied"
    side: list[Shape] = [block(Role.GROUND, -radius - 0.3 * size, -0.03 * size, 2 * radius + 0.6 * size, 0.03 * size)]
    for x, _ in feet:
        nx = wide / 2 * high / math.hypot(x, high)
        side += [line(Role.STRUCTURE, (x - nx, 0), (-nx, high)), line(Role.STRUCTURE, (x + nx, 0), (nx, high))]
    if values.gone and not splits:
        # One leg has bowed out.
        x = max(x for x, _ in feet)
        side.append(line(Role.WEAKEST, *(
            (x * (1 - t / 12) + 0.12 * size * math.sin(math.pi * t / 12), high * t / 12) for t in range(13)
        )))  # fmt: skip
    if tied:
        side.append(
            line(Role.TENSION, (min(x for x, _ in feet), 0.012 * size), (max(x for x, _ in feet), 0.012 * size))
        )
    side += [
        block(Role.LOAD, -0.09 * size, high, 0.18 * size, 0.12 * size),
        arrow((0, high + (0.14 + 0.16 * values.on) * size), (0, high + 0.14 * size)),
        measure((-radius - 0.2 * size, 0), (-radius - 0.2 * size, high)),
    ]
    above: list[Shape] = [circle(Role.GHOST, (0, 0), radius)]
    above += [line(Role.STRUCTURE, (0, 0), foot) for foot in feet]
    if tied:
        above += [line(Role.TENSION, foot, feet[(i + 1) % legs]) for i, foot in enumerate(feet)]
    above += [circle(Role.SUPPORT, foot, max(wide / 2, 0.02 * radius)) for foot in feet]
    above.append(measure((-radius, -1.35 * radius), (radius, -1.35 * radius)))
    spread = forces.tie_n if tied else forces.outward_n
    return Shown(
        views=(
            View("side", "From the side", Drawing(
                tuple(side), f"{legs} legs that meet {format_length(high, system)} above the floor.")),
            View("above", "From above", Drawing(tuple(above), f"{legs} feet on a circle.")),
        ),
        facts=(
            Fact("Own weight", "mass", expected.mass_kg),
            Fact("Times its own weight", "ratio", prediction.typical_kg / expected.mass_kg),
            Fact("Length of a leg", "length", _leg_m(values)),
            Fact("Squeeze along a leg", "force", forces.along_n, "when it gives way"),
            Fact("Pull around the feet" if tied else "Push of each foot", "force", spread, "when it gives way"),
        ),
        says=(
            f"Under {in_words(load, False, system)} each foot pushes outwards with "
            f"{in_words(forces.outward_n, True, system)}.",
        )
        if load > NOTHING_N
        else (),
    )  # fmt: skip


def _splits() -> Drawing:
    """Steep legs hardly push their feet apart; flat ones do the splits."""
    shapes: list[Shape] = [block(Role.GROUND, -0.12, -0.012, 0.76, 0.012)]
    for middle, half, high, push in ((0.0, 0.04, 0.16, 0.02), (0.38, 0.13, 0.1, 0.07)):
        for way in (-1, 1):
            shapes += [
                line(Role.STRUCTURE, (middle, high), (middle + way * half, 0)),
                arrow((middle + way * (half + 0.006), 0.006), (middle + way * (half + 0.006 + push), 0.006)),
            ]
        shapes.append(arrow((middle, high + 0.07), (middle, high + 0.008)))
    shapes += [label(Role.GHOST, (0.0, -0.05), "steep"), label(Role.GHOST, (0.38, -0.05), "flat: does the splits")]
    return Drawing(tuple(shapes), "Steep legs hardly push their feet apart; flat ones do the splits.")


TRIPOD = DraftKind(
    "tripod", "Legs that meet", "Tubes, sticks or straws that lean together, with a load on the tip.",
    ("bucket_tower", "tower"), "load on the tip", _PARAMS, expect, show, "stuff",
    lessons=(Lesson("Leaning legs push outwards: tie their feet or stand them steep.", _splits()),),
    films=(load_grows("Load grows until the legs give way", "side"),),
    blame={"foot_radius_m": "circle_m", "leg_m": "height_m", "sheet_m": "layers", "length_m": "height_m"},
)  # fmt: skip
