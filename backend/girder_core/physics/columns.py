"""Columns: buckling as a whole, crushing, and several under one deck."""

from __future__ import annotations

import math

import numpy as np

from girder_core.ground import GRAVITY_M_S2, Number, not_negative, positive, refuse, whole
from girder_core.physics.materials import Bounds

END_FACTORS = {"pinned-pinned": 1.0, "fixed-fixed": 0.5, "fixed-pinned": 0.6991556596428412, "fixed-free": 2.0}
"""Effective length over length; fixed-pinned is π over the first root of tan x = x (4.49340946), textbooks say 0.7.
Timoshenko & Gere, Theory of Elastic Stability, ch. 2 (from memory)."""

GREENHILL = 7.837347438943
"""(9/4) j² with j the first zero of the Bessel function J₋₁⸝₃ (Greenhill 1881;
Timoshenko & Gere, 2.12, from memory)."""


def euler_load_n(
    elastic_modulus_pa: Number, second_moment_m4: Number, length_m: Number, end_factor: float = 1.0
) -> Number:
    """Load at which a slender column buckles sideways.

    Args:
        elastic_modulus_pa: stiffness of the material [Pa], > 0.
        second_moment_m4: least second moment of the section [m⁴], > 0.
        length_m: length [m], > 0.
        end_factor: effective length over length [-]; see ``END_FACTORS``.
    Returns:
        P = π² E I/(K L)² [N]; true while the stress stays below half the strength, see ``johnson_load_n``.
    Errors:
        ``out_of_domain``.
    Source:
        Timoshenko & Gere, Theory of Elastic Stability, 2.1 (from memory).
    """
    positive("elastic_modulus_pa", elastic_modulus_pa, "The stiffness")
    positive("second_moment_m4", second_moment_m4, "The second moment")
    positive("length_m", length_m, "The length")
    positive("end_factor", end_factor, "The end factor")
    return math.pi**2 * elastic_modulus_pa * second_moment_m4 / (end_factor * length_m) ** 2


def transition_slenderness(yield_pa: Number, elastic_modulus_pa: Number) -> Number:
    """Slenderness below which a column crushes as much as it buckles.

    Args:
        yield_pa: strength in compression [Pa], > 0.
        elastic_modulus_pa: stiffness [Pa], > 0.
    Returns:
        √(2 π² E/σ) [-].
    Errors:
        ``out_of_domain``.
    Source:
        Shigley, Mechanical Engineering Design, eq. 4-45 (from memory).
    """
    positive("yield_pa", yield_pa, "The strength")
    positive("elastic_modulus_pa", elastic_modulus_pa, "The stiffness")
    return np.sqrt(2 * math.pi**2 * elastic_modulus_pa / yield_pa)


def johnson_load_n(
    yield_pa: Number,
    elastic_modulus_pa: Number,
    area_m2: Number,
    second_moment_m4: Number,
    length_m: Number,
    end_factor: float = 1.0,
) -> Number:
    """Load at which a stocky column gives way, by Johnson's parabola.

    Args:
        yield_pa: strength in compression [Pa], > 0.
        elastic_modulus_pa: stiffness [Pa], > 0.
        area_m2: material area [m²], > 0.
        second_moment_m4: least second moment [m⁴], > 0.
        length_m: length [m], > 0.
        end_factor: effective length over length [-].
    Returns:
        P = A σ (1 − σ λ²/(4 π² E)) [N].
    Errors:
        ``out_of_domain``; ``too_slender`` above the transition slenderness, where Euler's load holds.
    Source:
        J. B. Johnson; Shigley, Mechanical Engineering Design, eq. 4-46 (from memory).
    """
    positive("area_m2", area_m2, "The area")
    positive("second_moment_m4", second_moment_m4, "The second moment")
    positive("length_m", length_m, "The length")
    positive("end_factor", end_factor, "The end factor")
    slenderness = end_factor * length_m / np.sqrt(second_moment_m4 / area_m2)
    if np.any(slenderness > transition_slenderness(yield_pa, elastic_modulus_pa) * (1 + 1e-12)):
        raise refuse("length_m", "The column is too slender for Johnson's formula; Euler's load holds.", "too_slender")
    return area_m2 * yield_pa * (1 - yield_pa * slenderness**2 / (4 * math.pi**2 * elastic_modulus_pa))


def column_load_n(
    yield_pa: Number,
    elastic_modulus_pa: Number,
    area_m2: Number,
    second_moment_m4: Number,
    length_m: Number,
    end_factor: float = 1.0,
) -> Number:
    """What a column of any slenderness carries before it buckles or crushes.

    Args:
        yield_pa: strength in compression [Pa], > 0.
        elastic_modulus_pa: stiffness [Pa], > 0.
        area_m2: material area [m²], > 0.
        second_moment_m4: least second moment [m⁴], > 0.
        length_m: length [m], > 0.
        end_factor: effective length over length [-].
    Returns:
        Johnson's load below the transition slenderness and Euler's above [N]; they meet there at half the strength.
    Errors:
        ``out_of_domain``.
    Source:
        As ``johnson_load_n`` and ``euler_load_n``.
    """
    positive("area_m2", area_m2, "The area")
    euler = euler_load_n(elastic_modulus_pa, second_moment_m4, length_m, end_factor)
    limit = transition_slenderness(yield_pa, elastic_modulus_pa)
    slenderness = end_factor * length_m / np.sqrt(second_moment_m4 / area_m2)
    crush = area_m2 * yield_pa
    # With σ = P/A and Euler's σ_e, Johnson's parabola is σ_y (1 − σ_y/(4 σ_e)).
    return np.where(slenderness > limit, euler, crush * (1 - crush / (4 * euler)))


def supports_needed(total_load_n: float, one_support_n: float, safety_factor: float = 1.0, further: float = 1.0) -> int:
    """How many alike columns share a load.

    Args:
        total_load_n: load to be carried, the deck included [N], >= 0.
        one_support_n: what one column holds [N], > 0.
        safety_factor: margin [-], >= 1.
        further: what each further column adds, over the first [-], > 0; 1 where they share evenly.
    Returns:
        The number of columns, at least one; the inverse of ``together``.
    Errors:
        ``out_of_domain``.
    """
    positive("further", further, "What a further column adds")
    positive("one_support_n", one_support_n, "What one column holds")
    if not (math.isfinite(total_load_n) and total_load_n >= 0):
        raise refuse("total_load_n", "The load cannot be less than zero.")
    if not 1 <= safety_factor < math.inf:
        raise refuse("safety_factor", "A margin is 1 or more.")
    return 1 + max(0, math.ceil((total_load_n * safety_factor / one_support_n - 1) / further - 1e-9))


def self_buckling_height_m(
    elastic_modulus_pa: Number, second_moment_m4: Number, mass_per_length_kg_m: Number
) -> Number:
    """Height at which a standing rod or tube buckles under nothing but its own weight.

    Args:
        elastic_modulus_pa: stiffness [Pa], > 0.
        second_moment_m4: least second moment [m⁴], > 0.
        mass_per_length_kg_m: mass of a metre of it [kg/m], > 0.
    Returns:
        (7.8373 E I/(μ g))^(1/3) [m].
    Errors:
        ``out_of_domain``.
    Source:
        Greenhill 1881; Timoshenko & Gere, Theory of Elastic Stability, 2.12 (from memory).
    """
    positive("elastic_modulus_pa", elastic_modulus_pa, "The stiffness")
    positive("second_moment_m4", second_moment_m4, "The second moment")
    positive("mass_per_length_kg_m", mass_per_length_kg_m, "The mass per length")
    return (GREENHILL * elastic_modulus_pa * second_moment_m4 / (mass_per_length_kg_m * GRAVITY_M_S2)) ** (1 / 3)


FURTHER = Bounds(
    0.45, 0.65, 0.85, "order of magnitude: columns cut by hand under one deck; by simulation, test_sharing"
)
"""What each further column under a deck adds, over what the first would hold alone [-]."""
LEAN = Bounds(0.008, 0.02, 0.05, "order of magnitude: slope at which a hand-made column stands")


def together(one_n: Number, columns: int, further: Number) -> Number:
    """What several alike columns carry under one deck.

    Args:
        one_n: what one carries alone [N], >= 0.
        columns: how many [-], at least 1.
        further: what each further one adds, over the first [-]; 1 for an even share.
    Returns:
        P (1 + (n − 1) s) [N]: they are never equally high, so some work before others are touched.
    Errors:
        ``out_of_domain``.
    Source:
        Ours; ``FURTHER`` by simulation of columns of unequal height and strength.
    """
    not_negative("one_n", one_n, "What one column holds")
    whole("columns", columns, 1, "The number of columns")
    not_negative("further", further, "What a further column adds")
    return one_n * (1 + (columns - 1) * further)
