"""How far a loaded hull lies over, and whether it stays up."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from girder_core.ground import finite, positive
from girder_core.physics.flotation import FRESH_WATER_KG_M3, afloat
from girder_core.physics.hulls import Hull
from girder_core.physics.righting import Numbers, lever_m, rim_level_m, wetted

FARTHEST_DEG = 75.0
"""A hull that lies over farther has gone over (ours)."""


@dataclass(frozen=True)
class Heel:
    """How far a hull lies over.

    Attributes:
        angle_deg: heel at which it comes to rest [°]; the farthest where it does not.
        small_angle_deg: by GM alone [°]; meaningless for GM <= 0.
        small: whether the two agree within 2 %.
        rim_angle_deg: heel at which the rim goes under [°]; of a solid hull, which does not fill, the farthest.
        swamps: whether the rim is under before it comes to rest.
        rests: whether it comes to rest at all.
    """

    angle_deg: float
    small_angle_deg: float
    small: bool
    rim_angle_deg: float
    swamps: bool
    rests: bool


def rim_angle_deg(hull: Hull, draft: float) -> float:
    """Heel at which the low rim reaches the water.

    Args:
        hull: the hull.
        draft: upright draft, above zero [m].
    Returns:
        The heel at which it holds no more below its rim than it displaces [°]; the farthest for a solid hull.
    Errors:
        ``out_of_domain``.
    Source:
        The section cut at the low rim.
    """
    positive("draft", draft, "The draft")
    return _rim_angle_deg(hull, float(hull.displaced_m3(draft)))


def _rim_angle_deg(hull: Hull, volume_m3: float) -> float:
    if hull.solid:
        return FARTHEST_DEG

    def dry(degrees: Numbers) -> Numbers:
        heel = np.radians(degrees)
        return np.asarray(wetted(hull, heel, rim_level_m(hull, heel))[0] - volume_m3)

    return _first(lambda degrees: -dry(degrees), 89.9, 6)


def _first(rises_through_zero: Callable[[Numbers], Numbers], most: float, rounds: int) -> float:
    """The first heel at which a function is no longer below zero [°], or the most there is; looked for ever closer."""
    low, high = 0.0, most
    for _ in range(rounds):
        at = np.linspace(low, high, 91)
        above = np.flatnonzero(rises_through_zero(at) >= 0)
        if above.size == 0:
            return most
        first = int(above[0])
        if first == 0:
            return float(at[0])
        low, high = float(at[first - 1]), float(at[first])
    return (low + high) / 2


def heel_deg(
    hull: Hull,
    load_kg: float,
    offset_m: float,
    cargo_height_m: float = 0.0,
    water_density_kg_m3: float = FRESH_WATER_KG_M3,
) -> Heel:
    """How far cargo off centre heels a hull.

    Args:
        hull: the hull.
        load_kg: cargo [kg], >= 0.
        offset_m: centre of the cargo beside the middle [m].
        cargo_height_m: centre of the cargo above the bottom [m], >= 0.
        water_density_kg_m3: [kg/m³], > 0.
    Returns:
        The smallest heel at which the water that is pushed aside turns it back as much as the cargo turns it over, by
        the section as it is cut there; beyond the loll where it is not stable upright.
    Errors:
        ``sinks``; ``out_of_domain``.
    Source:
        Static balance on the cross curves of stability, Rawson & Tupper, Basic Ship Theory, 4.5 (from memory).
    """
    finite("offset_m", offset_m, "The cargo's offset")
    hull.holds_aside(offset_m)
    state = afloat(hull, load_kg, cargo_height_m, water_density_kg_m3)
    total = hull.mass_kg + load_kg
    beside, volume = load_kg * abs(offset_m) / total, total / water_density_kg_m3

    def turns_back(degrees: Numbers) -> Numbers:
        heel = np.radians(np.maximum(degrees, 1e-4))
        # Over the sine, so that standing upright is no rest for a hull that is not stable there.
        righting = lever_m(hull, volume, heel) - state.mass_centre_m * np.sin(heel)
        return np.asarray((righting - beside * np.cos(heel)) / np.sin(heel))

    rim = _rim_angle_deg(hull, volume)
    angle = _first(turns_back, FARTHEST_DEG, 4)
    rests = angle < FARTHEST_DEG
    gm = state.metacentric_height_m
    plain = math.degrees(math.atan(beside / gm)) if gm > 0 else math.inf
    close = abs(angle - plain) <= 0.02 * max(angle, 1e-9)
    return Heel(angle, plain, close, rim, angle >= rim and not hull.solid, rests)


class Stability(StrEnum):
    """What an upright loaded hull does by itself."""

    UPRIGHT = "upright"
    LOLLS = "lolls"
    CAPSIZES = "capsizes"


@dataclass(frozen=True)
class Verdict:
    """Whether a hull stays upright.

    Attributes:
        stability: upright, lolls (lies over to an angle and stays), or capsizes.
        angle_deg: heel it settles at [°]; 0 upright, 90 when it capsizes.
        says: the same in a sentence.
        heel: how far it lies over.
    """

    stability: Stability
    angle_deg: float
    says: str
    heel: Heel


def capsizes(
    hull: Hull,
    load_kg: float,
    cargo_height_m: float = 0.0,
    offset_m: float = 0.0,
    water_density_kg_m3: float = FRESH_WATER_KG_M3,
) -> Verdict:
    """Whether a loaded hull stays upright, lolls, or goes over.

    Args:
        hull: the hull.
        load_kg: cargo [kg], >= 0.
        cargo_height_m: centre of the cargo above the bottom [m], >= 0.
        offset_m: centre of the cargo beside the middle [m].
        water_density_kg_m3: [kg/m³], > 0.
    Returns:
        The verdict, by where it comes to rest: it goes over where that is nowhere, or only with its rim under water.
    Errors:
        ``sinks``; ``out_of_domain``.
    Source:
        As ``heel_deg``.
    """
    state = afloat(hull, load_kg, cargo_height_m, water_density_kg_m3)
    heel = heel_deg(hull, load_kg, offset_m, cargo_height_m, water_density_kg_m3)
    if heel.swamps or not heel.rests:
        why = "it is not stable upright" if state.metacentric_height_m < 0 else "the cargo lies off centre"
        end = "" if hull.solid else f", and its rim is under water at {heel.rim_angle_deg:.0f}°"
        return Verdict(Stability.CAPSIZES, 90.0, f"It goes over: {why}{end}.", heel)
    if state.metacentric_height_m < 0:
        return Verdict(Stability.LOLLS, heel.angle_deg, "It is not stable upright and lies over at "
                       f"{heel.angle_deg:.0f}°. Make it wider or lower the cargo.", heel)  # fmt: skip
    words = f" and heels by {heel.angle_deg:.0f}°" if heel.angle_deg >= 0.5 else ""
    return Verdict(Stability.UPRIGHT, heel.angle_deg, f"It stays upright{words}.", heel)
