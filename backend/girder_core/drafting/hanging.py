"""A deck that hangs from a cable or from stays, with its towers and anchors."""

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
    mass,
    stock,
)
from girder_core.ground import GRAVITY_M_S2, Drawing, Point, Role, Shape, arrow, block, label, line, measure
from girder_core.measure import System, format_length
from girder_core.physics import (
    NOTHING_N,
    ON_TABLE,
    CableBridge,
    Form,
    anchor_slides_n,
    cable_bridge,
    cable_length_m,
    member_of,
)

_HUNG, _STAYED = ("form", ("hanging",)), ("form", ("stayed",))
_PARAMS = (
    choice("form", "Held by", {"hanging": "a hanging cable", "stayed": "straight stays"}),
    length("span_m", "Gap between the towers", 0.1, 2.0, 0.5, 0.01, "", setup="gap_m", reading="gap", nudge=0.02,
           more="Gap {} longer", less="Gap {} shorter", least=0.02, most=5.0),
    length("tower_m", "Towers above the deck", 0.03, 0.6, 0.15, 0.005, "", nudge=0.01, more="Towers {} higher",
           less="Towers {} lower"),
    length("sag_m", "Sag of the cable", 0.01, 0.6, 0.1, 0.005, "A flat cable pulls hard.", only=_HUNG, nudge=0.01,
           more="{} more sag", less="{} less sag",
           under=("tower_m", "The cable would hang below the deck: the towers stand {} above it.")),
    count("hangers", "Hangers", 1, 24, 7, "", only=_HUNG, nudge=1, more="One hanger more", less="One hanger fewer"),
    count("stays", "Stays on each side", 1, 10, 3, "", only=_STAYED, nudge=1, more="One stay more on each side",
          less="One stay fewer on each side"),
    length("back_m", "Tower to its anchor", 0.03, 1.0, 0.25, 0.01, "A steep cable lifts its anchor.", nudge=0.02,
           more="Anchors {} farther out", less="Anchors {} nearer"),
    mass("anchor_kg", "Weight on each anchor", 0.05, 20.0, 1.2, 0.05, "What slides first is the anchor.", nudge=0.2,
         more="{} more on each anchor", less="{} less on each anchor"),
    stock("cable", "Cable", (Form.LINE,), "string"),
    count("cables", "Cables side by side", 1, 4, 2, "", nudge=1, more="One cable more", less="One cable fewer"),
    stock("tower", "Towers of", (Form.ROD, Form.TUBE), "dowel-6"),
    count("posts", "Posts of a tower", 1, 4, 2, "", nudge=1, more="One post more in each tower",
          less="One post fewer in each tower"),
    stock("deck", "Deck of", (Form.ROD, Form.TUBE), "craft-stick", fine=True),
    count("deck_pieces", "Pieces side by side in the deck", 1, 12, 3, "", nudge=1, more="One piece more in the deck",
          less="One piece fewer in the deck", fine=True),
    choice("placement", "Load", {"uniform": "all along the deck", "centre": "in the middle"},
           "In one spot the cable becomes a corner and the deck dips."),
    length("off_m", "Load off midspan", 0.0, 1.0, 0.0, 0.01, "", only=("placement", ("centre",)), fine=True),
)  # fmt: skip


def bridge_of(values: Values) -> CableBridge:
    """The bridge that the values make.

    Args:
        values: the draft's.
    Returns:
        The bridge.
    Errors:
        ``out_of_domain``.
    """
    hung = values.words["form"] == "hanging"
    return CableBridge(
        values["span_m"], values["tower_m"], values["back_m"], values["anchor_kg"], values.count("cables"),
        values.count("posts"), values["sag_m"] if hung else None, values.count("stays"), values.count("hangers"),
        values.count("deck_pieces"),
    )  # fmt: skip


def _string_m(bridge: CableBridge) -> float:
    """All the string in the bridge, with its hangers or stays [m]."""
    behind = 2 * bridge.cables * math.hypot(bridge.tower_m, bridge.back_m)
    if bridge.sag_m is None:
        reach = (bridge.span_m / 2 * i / bridge.stays for i in range(1, bridge.stays + 1))
        return behind + 2 * bridge.cables * math.fsum(math.hypot(x, bridge.tower_m) for x in reach)
    hung = (bridge.tower_m - _drop(bridge, (i + 1) / (bridge.hangers + 1)) for i in range(bridge.hangers))
    return behind + bridge.cables * (cable_length_m(bridge.span_m, bridge.sag_m) + math.fsum(hung))


def _drop(bridge: CableBridge, share: float) -> float:
    """How far the cable lies below the towers' tops at a share of the span [m]."""
    return 4 * (bridge.sag_m or 0.0) * share * (1 - share)


def expect(values: Values) -> Expected:
    """What the bridge is expected to carry.

    Args:
        values: the draft's.
    Returns:
        Prediction and own mass, without the anchors.
    Errors:
        ``out_of_domain``.
    """
    bridge, stocks = bridge_of(values), values.stocks
    prediction = cable_bridge(
        bridge,
        stocks["cable"],
        stocks["tower"],
        stocks["deck"],
        values.words["placement"],
        off_m=values.when("off_m", "placement", "centre"),
    )

    def weighs(name: str, pieces: int, long_m: float) -> float:
        return stocks[name].density_kg_m3.typical * member_of(stocks[name], pieces).area_m2 * long_m

    mass_kg = (
        weighs("cable", 1, _string_m(bridge))
        + weighs("tower", bridge.posts, 2 * bridge.tower_m)
        + weighs("deck", bridge.deck_pieces, bridge.span_m)
    )
    return Expected(prediction, mass_kg)


def _held(bridge: CableBridge) -> list[Shape]:
    """Cable with hangers, or stays."""
    span, high = bridge.span_m, bridge.tower_m
    if bridge.sag_m is None:
        return [
            line(Role.TENSION, (tower, high), (tower + way * span / 2 * i / bridge.stays, 0))
            for tower, way in ((0.0, 1), (span, -1))
            for i in range(1, bridge.stays + 1)
        ]
    curve: list[Point] = [(span * i / 40, high - _drop(bridge, i / 40)) for i in range(41)]
    places = ((i + 1) / (bridge.hangers + 1) for i in range(bridge.hangers))
    return [
        line(Role.TENSION, *curve),
        *(line(Role.FOLD, (span * at, high - _drop(bridge, at)), (span * at, 0)) for at in places),
    ]


def show(values: Values, expected: Expected, system: System) -> Shown:
    """The bridge from the side, to scale, and what it asks of its anchors.

    Args:
        values: the draft's.
        expected: what is expected of it.
        system: the reader's units.
    Returns:
        What is shown.
    """
    bridge, prediction = bridge_of(values), expected.prediction
    assert prediction is not None
    span, high, back = bridge.span_m, bridge.tower_m, bridge.back_m
    size = span + 2 * back
    load, bulk = prediction.typical_n, 0.05 * size
    level, _ = bridge.pulls(values.words["placement"], values.when("off_m", "placement", "centre"))
    pull = level * math.hypot(1, bridge.back_slope) * load
    arrows = (
        [
            arrow(
                (span / 2 + values.when("off_m", "placement", "centre"), 0.12 * size),
                (span / 2 + values.when("off_m", "placement", "centre"), 0.01 * size),
            )
        ]
        if values.words["placement"] == "centre"
        else [
            arrow((span * (i + 0.5) / 6, (0.01 + 0.06 * values.on) * size), (span * (i + 0.5) / 6, 0.01 * size))
            for i in range(6)
        ]
    )
    table = 0.12 * size
    # Once it has given way its anchors have come nearer and its deck hangs down.
    slides_first = prediction.governing.key.startswith("anchor")
    slid = 0.3 * back if values.gone and slides_first else 0.0
    fallen = 0.5 * table if values.gone else 0.0
    shapes: list[Shape] = [
        block(Role.GROUND, -back - 2 * bulk, -table, back + 2 * bulk, table),
        block(Role.GROUND, span, -table, back + 2 * bulk, table),
    ]
    for tower, away in ((0.0, -1), (span, 1)):
        shapes += [
            block(Role.STRUCTURE, tower - 0.006 * size, 0, 0.012 * size, high),
            line(Role.TENSION, (tower, high), (tower + away * (back - slid), 0)),
            block(Role.LOAD, tower + away * (back - slid) - bulk / 2, 0, bulk, bulk),
        ]
    shapes += [
        *_held(bridge), *_deck(span, 0.008 * size, fallen), *arrows,
        measure((0, -0.7 * table), (span, -0.7 * table)),
        measure((span + back + 1.5 * bulk, 0), (span + back + 1.5 * bulk, high)),
    ]  # fmt: skip
    slides = float(anchor_slides_n(bridge.anchor_kg * GRAVITY_M_S2, ON_TABLE.typical, bridge.back_slope))
    needed = bridge.anchor_kg * pull / slides
    held = "cable" if bridge.sag_m is not None else "stays"
    return Shown(
        views=(
            View("side", "From the side", Drawing(
                tuple(shapes),
                f"A deck over {format_length(span, system)} on a {held} from towers "
                f"{format_length(high, system)} high, tied back to weights.",
            )),
        ),
        facts=(
            Fact("Own weight", "mass", expected.mass_kg),
            Fact("Times its own weight", "ratio", prediction.typical_kg / expected.mass_kg),
            Fact("Pull on each anchor", "force", pull, "when it gives way"),
            Fact("Push on each tower", "force", load / 2 + level * load * bridge.back_slope, "when it gives way"),
            Fact("String needed", "length", _string_m(bridge)),
        ),
        says=(
            f"When it carries {in_words(load, False, system)}, each anchor is pulled with "
            f"{in_words(pull, True, system)}. On a table, that takes a weight of about "
            f"{in_words(needed * GRAVITY_M_S2, False, system)}.",
        )
        if load > NOTHING_N
        else (),
    )  # fmt: skip


def _deck(span: float, thick: float, fallen: float) -> list[Shape]:
    if not fallen:
        return [block(Role.STRUCTURE, 0, -thick, span, thick)]
    half = ((0.0, 0.0), (span / 2, -fallen), (span, 0.0))
    return [line(Role.STRUCTURE, *half), line(Role.WEAKEST, *half)]


def _flat_and_deep() -> Drawing:
    """The same load on a flat and on a deep cable: the flat one pulls four times as hard."""
    shapes: list[Shape] = []
    for left, sag, words in ((0.0, 0.02, "flat: pulls 4"), (0.34, 0.08, "deep: pulls 1")):
        curve = [(left + 0.24 * i / 20, 0.1 - 4 * sag * i / 20 * (1 - i / 20)) for i in range(21)]
        shapes += [
            line(Role.STRUCTURE, (left, 0), (left, 0.1)), line(Role.STRUCTURE, (left + 0.24, 0), (left + 0.24, 0.1)),
            line(Role.TENSION, *curve), line(Role.STRUCTURE, (left, 0), (left + 0.24, 0)),
            label(Role.GHOST, (left + 0.12, -0.04), words),
        ]  # fmt: skip
    return Drawing(tuple(shapes), "A cable with a quarter of the sag pulls four times as hard at its ends.")


HANGING = DraftKind(
    "hanging", "Hanging bridge", "A deck on a cable or on stays, towers, and weights that hold them back.", ("bridge",),
    "load on the deck", _PARAMS, expect, show, "cable",
    lessons=(Lesson("A quarter of the sag, four times the pull: the anchors feel it first.", _flat_and_deep()),),
    films=(load_grows("Load grows, and the anchors feel it", "side"),),
    blame={"anchor": "anchor_kg", "stock": "tower"},
)  # fmt: skip
