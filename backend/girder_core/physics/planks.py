"""Plank bridges: rails over a gap, planks across them, and loads that fit, fall through or break them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from girder_core.ground import GRAVITY_M_S2, Number, positive, refuse, whole
from girder_core.kit import side_by_side
from girder_core.measure import format_length
from girder_core.physics.beams import FURTHER_BEAM, BeamResponse, deflection_m, loaded_aside, simply_supported
from girder_core.physics.materials import Bounds, Stock
from girder_core.physics.members import BETWEEN, bending_moment_nm, member_of
from girder_core.physics.predictions import Prediction, Samples, State, predict
from girder_core.physics.truss_strength import alike_bear, trusses_share

FLAWS = Bounds(0.55, 0.8, 1.0, "order of magnitude: knots and notches of small sticks in bending")


@dataclass(frozen=True)
class PlankBridge:
    """Rails over a gap with planks across them.

    Attributes:
        span_m: the gap [m].
        width_m: of the deck: length of a plank between the outer rails [m].
        rails: how many [-], at least 2, evenly across.
        rail_pieces: pieces side by side in each rail [-].
        planks: how many lie across the gap [-].
    """

    span_m: float
    width_m: float
    rails: int
    rail_pieces: int
    planks: int

    def __post_init__(self) -> None:
        positive("span_m", self.span_m, "The gap")
        positive("width_m", self.width_m, "The deck's width")
        whole("rails", self.rails, 2, "The number of rails")
        whole("rail_pieces", self.rail_pieces, 1, "The number of pieces")
        whole("planks", self.planks, 1, "The number of planks")


def plank_width_m(stock: Stock) -> float:
    """How wide a stick, rod or straw is as it lies: how much of the deck one plank covers.

    Args:
        stock: a stick, rod or straw.
    Returns:
        Its width as it lies [m].
    """
    return stock.width_m or stock.thickness_m.typical


def plank_gap_m(bridge: PlankBridge, plank: Stock) -> float:
    """Opening between two planks.

    Args:
        bridge: its sizes.
        plank: what lies across.
    Returns:
        (L − n b)/(n + 1) [m]: planks evenly over the gap, with an opening at either end.
    Errors:
        ``out_of_domain`` when they do not fit side by side.
    """
    left = bridge.span_m - bridge.planks * plank_width_m(plank)
    if left < -1e-9:
        most = int(bridge.span_m / plank_width_m(plank) + 1e-9)
        raise refuse("planks", f"Only {most} planks of {format_length(plank_width_m(plank))} fit over the gap.")
    return max(left, 0.0) / (bridge.planks + 1)


def falls_through(gap_m: float, item_m: float) -> bool:
    """Whether a load object drops between two planks.

    Args:
        gap_m: opening between planks [m], >= 0.
        item_m: width of the object [m], > 0.
    Returns:
        Whether the opening is as wide as the object.
    Errors:
        ``out_of_domain``.
    """
    positive("item_m", item_m, "The object")
    if not (np.isfinite(gap_m) and gap_m >= 0):
        raise refuse("gap_m", "The opening cannot be less than zero.")
    return gap_m >= item_m


def deck_capacity(bridge: PlankBridge, plank: Stock, item_m: float) -> int:
    """How many load objects fit on the deck side by side.

    Args:
        bridge: its sizes.
        plank: what lies across.
        item_m: width of one object [m], > 0.
    Returns:
        The number; none where they fall through.
    Errors:
        ``out_of_domain``.
    """
    positive("item_m", item_m, "The object")
    if falls_through(plank_gap_m(bridge, plank), item_m):
        return 0
    return len(side_by_side(bridge.span_m, bridge.width_m, item_m))


def plank_bridge(
    bridge: PlankBridge, rail: Stock, plank: Stock, placement: str, sag_limit_m: float, samples: Samples | None = None,
    off_m: float = 0.0, aside_m: float = 0.0,
) -> Prediction:  # fmt: skip
    """What a plank bridge carries.

    Args:
        bridge: its sizes.
        rail: what spans the gap; flat sticks stand on edge.
        plank: what lies across, flat.
        placement: ``uniform`` or ``centre``.
        sag_limit_m: sag that counts as failed [m], > 0.
        samples: seeded samples; the usual ones when left out.
        off_m: how far a load in one place stands from midspan [m].
        aside_m: how far the load stands from the deck's middle line [m].
    Returns:
        The prediction: a rail breaks, the rails sag to the limit, a plank breaks between rails.
    Errors:
        ``out_of_domain``.
    Source:
        Beam tables as in ``beams``; further rails and planks share as further trusses do (ours).
    """
    positive("sag_limit_m", sag_limit_m, "The sag limit")
    plank_gap_m(bridge, plank)
    draws = samples or Samples()
    unit = _answer(bridge, placement, off_m)
    rails = _rails(bridge, draws.draw(FURTHER_BEAM, "further rails"), aside_m)
    second = _second_moment_m4(rail)
    flaws = draws.draw(FLAWS, "flaws")
    stiff = draws.draw(rail.elastic_modulus_pa, f"{rail.key} modulus")
    # A load on the planks goes to the rails beside it; planks are hinged over the rails between.
    free = bridge.width_m / (bridge.rails - 1)
    share = 1.0 if placement == "centre" else 1.0 / bridge.planks
    fields = 1.0 if placement == "centre" else bridge.rails - 1
    lever = share * free * draws.draw(BETWEEN, "between rails") / fields
    breaks = flaws * bending_moment_nm(plank, 1, draws, flat=True) / lever
    return predict(
        [
            State("rail", "A rail breaks", flaws * bending_moment_nm(rail, 1, draws) * rails / unit.max_moment_nm,
                  "The rails carry all of it over the gap, most in the middle. Another rail or a shorter gap helps.",
                  "A long stick snaps.", "beam tables", "snap"),
            State("sag", "The rails sag to the limit",
                  sag_limit_m * stiff * second * rails / (unit.deflection_coefficient * bridge.span_m**3),
                  "Sag grows with the cube of the gap. Stand flat sticks on edge.",
                  "It bends too far.", "beam tables", "sag"),
            State("plank", "A plank breaks between the rails", breaks,
                  "Between two rails a plank is a small bridge. Another rail under it, or more planks, help.",
                  "A board of the deck snaps.", "beam tables", "snap"),
        ]
    )  # fmt: skip


def _answer(bridge: PlankBridge, placement: str, off_m: float) -> BeamResponse:
    if off_m and placement == "centre":
        return loaded_aside(bridge.span_m, 1.0, off_m)
    return simply_supported(bridge.span_m, 1.0, placement)


def _rails(bridge: PlankBridge, further: Number, aside_m: float) -> Number:
    """How many pieces of one rail carry as much as all of them, the nearest to the load the most."""
    heaviest = trusses_share(bridge.rails, bridge.width_m, aside_m)
    return bridge.rail_pieces * alike_bear(bridge.rails, further, heaviest)


def _second_moment_m4(rail: Stock) -> float:
    return member_of(rail).modulus_in_plane_m3 * plank_width_m(rail) / 2


def plank_sag_m(
    bridge: PlankBridge, rail: Stock, placement: str, load_n: float, off_m: float = 0.0, aside_m: float = 0.0
) -> float:
    """How far the rails of a plank bridge sag under a load, with typical stiffness.

    Args:
        bridge: its sizes.
        rail: what spans the gap; flat sticks stand on edge.
        placement: ``uniform`` or ``centre``.
        load_n: load [N].
        off_m: how far a load in one place stands from midspan [m].
        aside_m: how far the load stands from the deck's middle line [m].
    Returns:
        The sag [m].
    Errors:
        ``out_of_domain``.
    Source:
        Beam tables as in ``beams``.
    """
    rails = _rails(bridge, FURTHER_BEAM.typical, aside_m)
    stiff = rail.elastic_modulus_pa.typical
    unit = _answer(bridge, placement, off_m)
    return float(np.asarray(deflection_m(unit, load_n / rails, bridge.span_m, stiff, _second_moment_m4(rail))))


def deck_full_n(bridge: PlankBridge, plank: Stock, item_m: float, item_kg: float) -> float:
    """Weight of all the objects that fit.

    Args:
        bridge: its sizes.
        plank: what lies across.
        item_m: width of one object [m], > 0.
        item_kg: mass of one [kg], > 0.
    Returns:
        The weight [N].
    Errors:
        ``out_of_domain``.
    """
    positive("item_kg", item_kg, "The object")
    return deck_capacity(bridge, plank, item_m) * item_kg * GRAVITY_M_S2
