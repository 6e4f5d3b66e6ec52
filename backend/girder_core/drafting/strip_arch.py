"""An arch bent from strips of card, with its thrust on the feet."""

from __future__ import annotations

from girder_core.drafting.films import changes, load_grows
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
    in_words,
    length,
    mass,
    stock,
)
from girder_core.ground import Drawing, Point, Role, Shape, arrow, block, label, line, measure
from girder_core.measure import System, format_length
from girder_core.physics import (
    NOTHING_N,
    Form,
    StripArch,
    arch_thrust_n,
    cable_length_m,
    strip_arch,
    tied_n,
)

_PARAMS = (
    length("span_m", "Between its feet", 0.1, 1.2, 0.3, 0.01, "", setup="gap_m", reading="gap", nudge=0.02,
           more="{} longer", less="{} shorter", least=0.02, most=5.0),
    length("rise_m", "Rise", 0.02, 0.6, 0.08, 0.005, "A flat arch pushes hard.", nudge=0.01, more="{} higher",
           less="{} flatter"),
    stock("sheet", "Strips of", (Form.SHEET,), "manila"),
    length("width_m", "Width of the strips", 0.01, 0.3, 0.05, 0.005, "", nudge=0.01, more="Strips {} wider",
           less="Strips {} narrower"),
    count("layers", "Strips on top of each other", 1, 20, 6, "", nudge=1, more="One strip more",
          less="One strip fewer"),
    choice("bonded", "They are", {"glued": "glued to one", "loose": "loose"}, "Loose strips slide on each other.",
           switch={"glued": "Glue the strips to one"}),
    choice("feet", "Feet", {"held": "held by weights", "tied": "tied together", "free": "free on the table"},
           "An arch pushes outwards; something has to hold it.",
           switch={"tied": "Tie the feet together", "held": "Weights behind the feet"}),
    mass("anchor_kg", "Weight behind each foot", 0.05, 10.0, 0.8, 0.05, "", only=("feet", ("held",)), nudge=0.2,
         more="{} more behind each foot", less="{} less behind each foot"),
    stock("tie", "Tie", (Form.LINE,), "string", fine=True),
    choice("placement", "Load", {"centre": "in one place", "uniform": "all along the arch"}),
    length("off_m", "Load off the middle", 0.0, 0.5, 0.0, 0.005, "An arch minds a load on its side.",
           only=("placement", ("centre",)), nudge=0.02, less="Load {} nearer the middle"),
)  # fmt: skip


def arch_of(values: Values) -> StripArch:
    """The arch that the values make.

    Args:
        values: the draft's.
    Returns:
        The arch.
    """
    feet = values.words["feet"]
    return StripArch(
        values["span_m"], values["rise_m"], values["width_m"], values.count("layers"),
        values.words["bonded"] == "glued", values.when("anchor_kg", "feet", "held"), feet == "tied",
    )  # fmt: skip


def expect(values: Values) -> Expected:
    """What the arch is expected to carry.

    Args:
        values: the draft's.
    Returns:
        Prediction and own mass.
    Errors:
        ``out_of_domain``.
    """
    arch, tie = arch_of(values), values.stocks["tie"]
    strength = tied_n(tie)
    off = values.when("off_m", "placement", "centre")
    prediction = strip_arch(arch, values.stocks["sheet"], values.words["placement"], off, strength)
    long = cable_length_m(arch.span_m, arch.rise_m)
    return Expected(prediction, values.stocks["sheet"].grammage_kg_m2 * arch.width_m * arch.layers * long)


def show(values: Values, expected: Expected, system: System) -> Shown:
    """The arch from the side with its thrust, and what the thrust does as it rises.

    Args:
        values: the draft's.
        expected: what is expected of it.
        system: the reader's units.
    Returns:
        What is shown.
    """
    arch, prediction = arch_of(values), expected.prediction
    assert prediction is not None
    span, rise = arch.span_m, arch.rise_m
    even = values.words["placement"] == "uniform"
    at = None if even else 0.5 + values["off_m"] / span

    def height(share: float) -> float:
        return 4 * rise * share * (1 - share)

    # What has given way lies flatter: its feet have gone outwards by as much as its length lets them.
    out = 0.09 * span if values.gone else 0.0
    lower = 0.45 if values.gone else 1.0
    curve: list[Point] = [(-out + (span + 2 * out) * i / 60, lower * height(i / 60)) for i in range(61)]
    table, bulk = 0.1 * span, 0.09 * span
    places = [(i + 0.5) / 6 for i in range(6)] if even else [at or 0.5]
    shapes: list[Shape] = [
        block(Role.GROUND, -0.32 * span, -table, 0.32 * span, table),
        block(Role.GROUND, span, -table, 0.32 * span, table),
        line(Role.STRUCTURE, *curve),
        *(line(Role.STRUCTURE, *((x, y + 0.006 * span * k) for x, y in curve)) for k in (1, 2)),
        *(
            arrow(
                (span * x, lower * height(x) + (0.03 + 0.13 * values.on) * span),
                (span * x, lower * height(x) + 0.03 * span),
            )
            for x in places
        ),
        arrow((-0.02 * span - out, 0.02 * span), ((-0.02 - 0.14 * values.on) * span - out, 0.02 * span)),
        arrow((1.02 * span + out, 0.02 * span), ((1.02 + 0.14 * values.on) * span + out, 0.02 * span)),
        measure((0, -0.7 * table), (span, -0.7 * table)),
        measure((1.42 * span, 0), (1.42 * span, rise)),
    ]
    if values.words["feet"] == "held":
        shapes += [block(Role.LOAD, -0.17 * span - bulk, 0, bulk, bulk), block(Role.LOAD, 1.17 * span, 0, bulk, bulk)]
    if arch.tied:
        shapes.append(line(Role.TENSION, (0, 0.004 * span), (span, 0.004 * span)))
    load = prediction.typical_n
    push = arch_thrust_n(load, span, rise, at)
    return Shown(
        views=(
            View("side", "From the side, with its thrust", Drawing(
                tuple(shapes),
                f"An arch over {format_length(span, system)}, {format_length(rise, system)} high, that "
                "pushes its feet apart.",
            )),
        ),
        facts=(
            Fact("Own weight", "mass", expected.mass_kg),
            Fact("Times its own weight", "ratio", prediction.typical_kg / expected.mass_kg),
            Fact("Thrust on each foot", "force", push, "when it gives way"),
            Fact("Thrust over load", "ratio", push / load if load > 0 else arch_thrust_n(1.0, span, rise, at)),
            Fact("Length of a strip", "length", cable_length_m(span, rise)),
        ),
        curves=(
            Curve(
                "What the rise does to the thrust", "rise", "length", "thrust for 1 N of load", "ratio",
                tuple((span * r / 100, arch_thrust_n(1.0, span, span * r / 100, at)) for r in range(10, 101, 2)),
                (rise, arch_thrust_n(1.0, span, rise, at)),
            ),
        ),
        says=(
            f"When it carries {in_words(load, False, system)}, it pushes each foot outwards with "
            f"{in_words(push, True, system)}.",
        )
        if load > NOTHING_N
        else (),
    )  # fmt: skip


def _pushes_out() -> Drawing:
    """A flat arch pushes its feet far out, a high one hardly."""
    shapes: list[Shape] = []
    for left, rise, push in ((0.0, 0.03, 0.07), (0.42, 0.12, 0.02)):
        curve = [(left + 0.24 * i / 24, 4 * rise * i / 24 * (1 - i / 24)) for i in range(25)]
        shapes += [
            line(Role.STRUCTURE, *curve),
            arrow((left + 0.12, rise + 0.07), (left + 0.12, rise + 0.008)),
            arrow((left - 0.006, 0.006), (left - 0.006 - push, 0.006)),
            arrow((left + 0.246, 0.006), (left + 0.246 + push, 0.006)),
        ]
    shapes.append(block(Role.GROUND, -0.1, -0.012, 0.9, 0.012))
    shapes += [label(Role.GHOST, (0.12, -0.05), "flat: pushes 4"), label(Role.GHOST, (0.54, -0.05), "high: pushes 1")]
    return Drawing(tuple(shapes), "A flat arch pushes its feet apart four times as hard as one four times as high.")


STRIP_ARCH = DraftKind(
    "strip_arch", "Arch of strips", "Strips bent to an arch, and what holds its feet.", ("bridge",), "load on the arch",
    _PARAMS, expect, show, "sheet",
    lessons=(Lesson("An arch turns load into push: hold its feet, or make it high.", _pushes_out()),),
    films=(
        load_grows("Load grows, and so does the push on its feet", "side"),
        changes("A higher arch pushes less", "side", "rise_m",
                lambda values, expected: (values["rise_m"] / 2, 2 * values["rise_m"])),
    ),
    blame={"width_m": "width_m", "sheet_m": "sheet", "length_m": "span_m"},
)  # fmt: skip
