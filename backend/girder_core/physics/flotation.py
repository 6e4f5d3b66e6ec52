"""How deep a loaded hull sits, how much it carries, and whether it rights itself at small heel."""

from __future__ import annotations

import math
from dataclasses import dataclass

from scipy import optimize

from girder_core.ground import GirderError, not_negative, positive, refuse
from girder_core.measure import format_mass
from girder_core.physics.hulls import Hull

FRESH_WATER_KG_M3 = 998.2
"""At 20 °C; Tanaka et al. 2001 gives 998.207 (from memory)."""


SEA_G_KG = 35.0
"""Salt in sea water [g/kg]."""


def water_density_kg_m3(temperature_c: float, salt: bool = False) -> float:
    """Density of water.

    Args:
        temperature_c: of the water [°C], 0 to 40.
        salt: sea water of 35 g/kg instead of fresh.
    Returns:
        Density [kg/m³].
    Errors:
        ``out_of_domain``.
    Source:
        Tanaka et al., Recommended table for the density of water, Metrologia 38 (2001) 301; for sea water at the
        surface the salt's part of EOS-80, Millero & Poisson, Deep-Sea Research 28 (1981) 625 (from memory).
    """
    if not 0 <= temperature_c <= 40:
        raise refuse("temperature_c", "Water in a classroom is between 0 and 40 °C.")
    t = temperature_c
    fresh = 999.974950 * (1 - (t - 3.983035) ** 2 * (t + 301.797) / (522528.9 * (t + 69.34881)))
    if not salt:
        return fresh
    by_salt: float = 0.824493 + t * (-4.0899e-3 + t * (7.6438e-5 + t * (-8.2467e-7 + t * 5.3875e-9)))
    by_root = -5.72466e-3 + t * (1.0227e-4 - t * 1.6546e-6)
    return float(fresh + SEA_G_KG * by_salt + SEA_G_KG**1.5 * by_root + 4.8314e-4 * SEA_G_KG**2)


def payload_to_rim_kg(hull: Hull, water_density_kg_m3: float = FRESH_WATER_KG_M3, freeboard_m: float = 0.0) -> float:
    """Cargo at which the water reaches the rim, or a freeboard below it.

    Args:
        hull: the hull.
        water_density_kg_m3: [kg/m³], > 0.
        freeboard_m: how much wall is to stay above water [m], 0 to the depth.
    Returns:
        Cargo [kg]: what it displaces less its own mass; below zero when it does not even float empty.
    Errors:
        ``out_of_domain``.
    Source:
        Archimedes. Level, calm water.
    """
    positive("water_density_kg_m3", water_density_kg_m3, "The water's density")
    if not 0 <= freeboard_m <= hull.depth_m:
        raise refuse("freeboard_m", "The freeboard must lie between zero and the wall's height.")
    return float(water_density_kg_m3 * hull.displaced_m3(hull.depth_m - freeboard_m) - hull.mass_kg)


def draft_m(hull: Hull, load_kg: float, water_density_kg_m3: float = FRESH_WATER_KG_M3) -> float:
    """How deep the hull sits.

    Args:
        hull: the hull.
        load_kg: cargo [kg], >= 0.
        water_density_kg_m3: [kg/m³], > 0.
    Returns:
        Draft [m], level.
    Errors:
        ``sinks`` when cargo and hull outweigh what it can displace.
    Source:
        Archimedes.
    """
    not_negative("load_kg", load_kg, "The cargo")
    most = payload_to_rim_kg(hull, water_density_kg_m3)
    if load_kg > most:
        words = f"It sinks: it can carry {format_mass(max(most, 0.0))}."
        raise GirderError("sinks", words if most > 0 else "It sinks even without cargo.", field="load_kg",
                          fields={"load_kg": words}, most_kg=most)  # fmt: skip
    volume = (hull.mass_kg + load_kg) / water_density_kg_m3
    return float(
        optimize.brentq(
            lambda t: hull.displaced_m3(t) - volume, 0.0, hull.depth_m * (1 + 1e-12), xtol=1e-15, rtol=1e-14
        )
    )


def freeboard_m(hull: Hull, load_kg: float, water_density_kg_m3: float = FRESH_WATER_KG_M3) -> float:
    """How much wall is above the water.

    Args:
        hull: the hull.
        load_kg: cargo [kg], >= 0.
        water_density_kg_m3: [kg/m³], > 0.
    Returns:
        Freeboard [m], level.
    Errors:
        ``sinks``.
    """
    return hull.depth_m - draft_m(hull, load_kg, water_density_kg_m3)


@dataclass(frozen=True)
class Afloat:
    """How a loaded hull floats, upright.

    Attributes:
        draft_m: [m].
        freeboard_m: [m].
        buoyancy_m: KB, centre of the displaced water above the bottom [m].
        mass_centre_m: KG, centre of hull and cargo together above the bottom [m].
        metacentric_radius_m: BM = I/V [m].
        metacentric_height_m: GM = KB + BM − KG [m]; below zero it is not stable upright.
    """

    draft_m: float
    freeboard_m: float
    buoyancy_m: float
    mass_centre_m: float
    metacentric_radius_m: float
    metacentric_height_m: float


def afloat(
    hull: Hull, load_kg: float, cargo_height_m: float = 0.0, water_density_kg_m3: float = FRESH_WATER_KG_M3
) -> Afloat:
    """How a loaded hull floats, upright.

    Args:
        hull: the hull.
        load_kg: cargo [kg], >= 0.
        cargo_height_m: centre of the cargo above the bottom [m], >= 0.
        water_density_kg_m3: [kg/m³], > 0.
    Returns:
        Draft, centres and metacentric height.
    Errors:
        ``sinks``; ``out_of_domain``.
    Source:
        Any text of naval architecture, such as Rawson & Tupper, Basic Ship Theory, ch. 3 and 4 (from memory).
    """
    not_negative("cargo_height_m", cargo_height_m, "The height of the cargo")
    draft = draft_m(hull, load_kg, water_density_kg_m3)
    total = hull.mass_kg + load_kg
    centre = (hull.mass_kg * hull.mass_centre_m + load_kg * cargo_height_m) / total
    buoyancy = float(hull.buoyancy_centre_m(draft))
    radius = float(hull.waterplane_second_moment_m4(draft) / hull.displaced_m3(draft))
    return Afloat(draft, hull.depth_m - draft, buoyancy, centre, radius, buoyancy + radius - centre)


def metacentric_height_m(
    hull: Hull, load_kg: float, cargo_height_m: float = 0.0, water_density_kg_m3: float = FRESH_WATER_KG_M3
) -> float:
    """How strongly a loaded hull rights itself at small heel.

    Args:
        hull: the hull.
        load_kg: cargo [kg], >= 0.
        cargo_height_m: centre of the cargo above the bottom [m], >= 0.
        water_density_kg_m3: [kg/m³], > 0.
    Returns:
        GM = KB + BM − KG [m].
    Errors:
        ``sinks``; ``out_of_domain``.
    """
    return afloat(hull, load_kg, cargo_height_m, water_density_kg_m3).metacentric_height_m


def payload_in_items(payload_kg: float, item_kg: float) -> int:
    """How many whole load items a payload is.

    Args:
        payload_kg: cargo [kg], >= 0.
        item_kg: mass of one item [kg], > 0.
    Returns:
        The number, rounded down.
    Errors:
        ``out_of_domain``.
    """
    not_negative("payload_kg", payload_kg, "The cargo")
    positive("item_kg", item_kg, "The mass of one")
    return math.floor(payload_kg / item_kg + 1e-9)
