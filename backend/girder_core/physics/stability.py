"""How far a loaded hull lies over, and whether it stays up."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from girder_core.ground import positive
from girder_core.physics.flotation import FRESH_WATER_KG_M3, afloat
from girder_core.physics.hulls import Hull


@dataclass(frozen=True)
class Heel:
    """How far a hull lies over.

    Attributes:
        angle_deg: heel [°], the wall-sided value.
        small_angle_deg: by GM alone [°]; meaningless for GM <= 0.
        small: whether the two agree within 2 %.
        rim_angle_deg: heel at which the rim goes under [°].
        swamps: whether the heel reaches it.
    """

    angle_deg: float
    small_angle_deg: float
    small: bool
    rim_angle_deg: float
    swamps: bool


def rim_angle_deg(hull: Hull, draft: float) -> float:
    """Heel at which the low rim reaches the water.

    Args:
        hull: a box-like hull; others are taken as a box of the beam at the waterline.
        draft: upright draft, above zero [m].
    Returns:
        tan φ = 2(D − T)/B while the bottom corner stays wet, else D²/(2 B T) [°].
    Errors:
        ``out_of_domain``.
    Source:
        Areas of the submerged section.
    """
    positive("draft", draft, "The draft")
    beam, depth = hull.beam_m, hull.depth_m
    if 2 * (depth - draft) / beam <= 2 * draft / beam:
        slope = 2 * (depth - draft) / beam
    else:
        slope = depth**2 / (2 * beam * draft)
    return math.degrees(math.atan(slope))


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
        The heel by the wall-sided formula (GM + ½ BM tan² φ) tan φ = w d/m, true while sides are upright and the rim
        stays dry.
    Errors:
        ``sinks``; ``out_of_domain``.
    Source:
        Rawson & Tupper, Basic Ship Theory, 4.4 (from memory).
    """
    state = afloat(hull, load_kg, cargo_height_m, water_density_kg_m3)
    lever = load_kg * abs(offset_m) / (hull.mass_kg + load_kg)
    gm, bm = state.metacentric_height_m, state.metacentric_radius_m
    roots = np.roots([bm / 2, 0.0, gm, -lever])
    real = [float(r.real) for r in roots if abs(r.imag) < 1e-9 * (1 + abs(r.real))]
    angle = math.degrees(math.atan(max(real, default=0.0)))
    plain = math.degrees(math.atan(lever / gm)) if gm > 0 else math.inf
    rim = rim_angle_deg(hull, state.draft_m)
    close = abs(angle - plain) <= 0.02 * max(angle, 1e-9)
    return Heel(angle, plain, close, rim, angle >= rim)


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
    """

    stability: Stability
    angle_deg: float
    says: str


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
        The verdict. With GM < 0 it settles at the loll angle atan √(−2 GM/BM), or swamps if its rim is under by then.
    Errors:
        ``sinks``; ``out_of_domain``.
    Source:
        Rawson & Tupper, Basic Ship Theory, 4.4 (from memory).
    """
    state = afloat(hull, load_kg, cargo_height_m, water_density_kg_m3)
    heel = heel_deg(hull, load_kg, offset_m, cargo_height_m, water_density_kg_m3)
    if heel.swamps:
        why = "it is not stable upright" if state.metacentric_height_m < 0 else "the cargo lies off centre"
        return Verdict(Stability.CAPSIZES, 90.0, f"It goes over: {why}, and its rim is under water at "
                       f"{heel.rim_angle_deg:.0f}°.")  # fmt: skip
    if state.metacentric_height_m < 0:
        return Verdict(Stability.LOLLS, heel.angle_deg, "It is not stable upright and lies over at "
                       f"{heel.angle_deg:.0f}°. Make it wider or lower the cargo.")  # fmt: skip
    words = f" and heels by {heel.angle_deg:.0f}°" if heel.angle_deg >= 0.5 else ""
    return Verdict(Stability.UPRIGHT, heel.angle_deg, f"It stays upright{words}.")
