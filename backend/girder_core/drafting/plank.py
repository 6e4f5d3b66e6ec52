"""A plank bridge: by length, strength and how much fits on it."""

from __future__ import annotations

from girder_core.drafting.films import changes, load_grows
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
    loosest_to_stiffest,
    mass,
    stock,
)
from girder_core.ground import Drawing, Role, Shape, block, circle, label, line, measure
from girder_core.kit import side_by_side
from girder_core.measure import System, format_length, plural
from girder_core.physics import (
    Form,
    PlankBridge,
    deck_capacity,
    deck_full_n,
    falls_through,
    member_of,
    plank_bridge,
    plank_gap_m,
    plank_sag_m,
    plank_width_m,
)

_PARAMS = (
    length("span_m", "Gap", 0.05, 1.5, 0.3, 0.01, "", setup="gap_m", reading="gap", nudge=0.02, more="Gap {} longer",
           less="Gap {} shorter", least=0.02, most=5.0),
    length("width_m", "Width of the deck", 0.02, 0.4, 0.1, 0.005, "", nudge=0.01, more="Deck {} wider",
           less="Deck {} narrower"),
    stock("rail", "Rails over the gap", (Form.ROD, Form.TUBE), "dowel-4"),
    count("rails", "Rails", 2, 8, 2, "", nudge=1, more="One rail more", less="One rail fewer"),
    count("pieces", "Pieces in each rail", 1, 4, 1, "", nudge=1, more="One piece more in each rail",
          less="One piece fewer in each rail"),
    stock("plank", "Planks across", (Form.ROD, Form.TUBE), "craft-stick"),
    count("planks", "Planks", 1, 120, 12, "Too far apart, and things fall through.", nudge=1, more="One plank more",
          less="One plank fewer"),
    choice("placement", "Load", {"uniform": "all over the deck", "centre": "in the middle"}),
    length("off_m", "Load off midspan", 0.0, 0.7, 0.0, 0.01, "", only=("placement", ("centre",)), fine=True),
    length("aside_m", "Load off the middle line", 0.0, 0.2, 0.0, 0.005, "The nearer rail carries more.", nudge=0.005,
           less="Load {} nearer the middle line", fine=True),
    length("sag_limit_m", "Sag that counts as failed", 0.002, 0.2, 0.02, 0.001, "", fine=True),
    length("item_m", "One load object, across", 0.003, 0.2, 0.019, 0.001, ""),
    mass("item_kg", "One load object weighs", 0.0005, 2.0, 0.016, 0.001, ""),
)  # fmt: skip


def bridge_of(values: Values) -> PlankBridge:
    """The bridge that the values make.

    Args:
        values: the draft's.
    Returns:
        The bridge.
    """
    return PlankBridge(
        values["span_m"], values["width_m"], values.count("rails"), values.count("pieces"), values.count("planks")
    )


def expect(values: Values) -> Expected:
    """What the bridge is expected to carry.

    Args:
        values: the draft's.
    Returns:
        Prediction and own mass.
    Errors:
        ``out_of_domain``.
    """
    bridge, rail, plank = bridge_of(values), values.stocks["rail"], values.stocks["plank"]
    placement = values.words["placement"]
    prediction = plank_bridge(
        bridge, rail, plank, placement, values["sag_limit_m"],
        off_m=values.when("off_m", "placement", "centre"), aside_m=values["aside_m"],
    )  # fmt: skip
    mass_kg = (
        rail.density_kg_m3.typical * member_of(rail, bridge.rail_pieces).area_m2 * bridge.rails * bridge.span_m
        + plank.density_kg_m3.typical * member_of(plank).area_m2 * bridge.planks * bridge.width_m
    )
    return Expected(prediction, mass_kg)


def gives(values: Values) -> tuple[float, float, float]:
    """How far the middle comes down for each newton of the load.

    Args:
        values: the draft's.
    Returns:
        With the loosest, the usual and the stiffest rails [m/N].
    Errors:
        ``out_of_domain``.
    Source:
        Beam tables, as ``plank_sag_m``.
    """
    rail = values.stocks["rail"]
    off, aside = values.when("off_m", "placement", "centre"), values["aside_m"]
    usual = plank_sag_m(bridge_of(values), rail, values.words["placement"], 1.0, off, aside)
    return loosest_to_stiffest(usual, rail)


def show(values: Values, expected: Expected, system: System) -> Shown:
    """The deck from above with what fits on it, to scale.

    Args:
        values: the draft's.
        expected: what is expected of it.
        system: the reader's units.
    Returns:
        What is shown.
    """
    bridge, plank, prediction = bridge_of(values), values.stocks["plank"], expected.prediction
    assert prediction is not None
    span, wide, broad = bridge.span_m, bridge.width_m, plank_width_m(plank)
    gap, item = plank_gap_m(bridge, plank), values["item_m"]
    drops, fits = falls_through(gap, item), deck_capacity(bridge, plank, item)
    shelf = 0.12 * span
    shapes: list[Shape] = [block(Role.SUPPORT, start, -0.2 * wide, shelf, 1.4 * wide) for start in (-shelf, span)]
    across = [wide * i / (bridge.rails - 1) for i in range(bridge.rails)]
    shapes += [line(Role.AXIS, (-0.8 * shelf, y), (span + 0.8 * shelf, y)) for y in across]
    shapes += [
        block(Role.STRUCTURE, gap + i * (broad + gap), -0.04 * wide, broad, 1.08 * wide) for i in range(bridge.planks)
    ]
    if drops:
        shapes.append(circle(Role.WEAKEST, (span / 2, wide / 2), item / 2))
    else:
        places = side_by_side(span, wide, item)[:400]
        places = places[: round(values.on * len(places))]
        shapes += [circle(Role.LOAD, (span / 2 + x, wide / 2 + y), item / 2) for x, y in places]
    shapes += [
        measure((0, -0.5 * wide), (span, -0.5 * wide)),
        measure((span + 2.6 * shelf, 0), (span + 2.6 * shelf, wide)),
    ]
    if values.gone:
        shapes.append(line(Role.WEAKEST, (span / 2, -0.15 * wide), (span / 2, 1.15 * wide)))
    full = deck_full_n(bridge, plank, item, values["item_kg"])
    words = (
        f"An object of {format_length(item, system)} falls through: the planks lie {format_length(gap, system)} apart."
    )
    room = f"{fits} {plural('object', fits)} fit side by side"
    says = (
        words
        if drops
        else f"{room}, and the full deck is more than it holds: it breaks first."
        if full > prediction.typical_n
        else f"{room}: the deck is full before it breaks."
    )
    return Shown(
        views=(
            View("above", "From above, with what fits", Drawing(
                tuple(shapes), f"{bridge.planks} planks over {format_length(span, system)}. {says}")),
        ),
        facts=(
            Fact("Own weight", "mass", expected.mass_kg),
            Fact("Times its own weight", "ratio", prediction.typical_kg / expected.mass_kg),
            Fact("Objects that fit", "count", fits, "none: they fall through" if drops else ""),
            Fact("Between two planks", "length", gap),
        ),
        says=(says,),
        mark_n=full if fits else None,
        mark_words="deck full",
        headline="The load falls through the deck." if drops else "",
    )  # fmt: skip


def _through() -> Drawing:
    """Planks close enough carry a coin; too far apart they let it fall."""
    shapes: list[Shape] = []
    for left, gap, y in ((0.0, 0.02, 0.012), (0.32, 0.055, -0.05)):
        shapes += [block(Role.STRUCTURE, left + i * (0.03 + gap), 0, 0.03, 0.01) for i in range(3)]
        shapes.append(block(Role.LOAD, left + 0.03 + gap / 2 - 0.022, y, 0.044, 0.012))
    shapes += [label(Role.GHOST, (0.07, -0.09), "carries it"), label(Role.GHOST, (0.42, -0.09), "falls through")]
    return Drawing(tuple(shapes), "An object lies on planks that are closer than it is wide, and falls between others.")


PLANK = DraftKind(
    "plank", "Plank bridge", "Rails over a gap and planks across: how long, how strong, how much fits.",
    ("bridge", "capacity_table"), "load on the deck", _PARAMS, expect, show, "rail",
    lessons=(Lesson("Full is not the same as strong: count what fits, and weigh what it holds.", _through()),),
    films=(
        load_grows("The deck fills up", "above"),
        changes("More planks, smaller gaps", "above", "planks", lambda values, expected: (2, values["planks"])),
    ),
    blame={"rail_pieces": "pieces", "gap_m": "planks", "stock": "rail"},
    gives=gives,
)  # fmt: skip
