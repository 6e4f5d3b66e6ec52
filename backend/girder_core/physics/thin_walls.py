"""Thin walls under a squeeze: round shells, flat plates, and what plates carry after they buckle."""

from __future__ import annotations

import math

import numpy as np

from girder_core.ground import Number, positive, refuse
from girder_core.physics.materials import check_poisson


def cylinder_buckling_stress_pa(
    elastic_modulus_pa: Number, wall_m: Number, radius_m: Number, poisson: float = 0.3
) -> Number:
    """Classical stress at which a perfect round thin wall buckles under a squeeze along its axis.

    Args:
        elastic_modulus_pa: stiffness [Pa], > 0.
        wall_m: wall thickness [m], > 0.
        radius_m: radius of the wall's middle surface [m], > 0.
        poisson: Poisson's ratio [-], 0 to 0.5.
    Returns:
        E t/(R √(3(1 − ν²))) [Pa]. Real walls reach a share of it: ``shell_knockdown``.
    Errors:
        ``out_of_domain``.
    Source:
        Timoshenko & Gere, Theory of Elastic Stability, 11.1 (from memory).
    """
    positive("elastic_modulus_pa", elastic_modulus_pa, "The stiffness")
    positive("wall_m", wall_m, "The wall")
    positive("radius_m", radius_m, "The radius")
    check_poisson(poisson)
    return elastic_modulus_pa * wall_m / (radius_m * math.sqrt(3 * (1 - poisson**2)))


def shell_knockdown(radius_m: Number, wall_m: Number) -> Number:
    """Share of the classical stress that nearly every tested round wall has reached.

    Args:
        radius_m: radius of the wall's middle surface [m], > 0.
        wall_m: wall thickness [m], > 0.
    Returns:
        1 − 0.901 (1 − exp(−√(R/t)/16)) [-]: a lower bound of tests.
    Errors:
        ``out_of_domain``, also for R/t of 1500 and more, beyond the tests.
    Source:
        NASA SP-8007, Buckling of thin-walled circular cylinders, eq. 5 and 6 (from memory).
    """
    positive("radius_m", radius_m, "The radius")
    positive("wall_m", wall_m, "The wall")
    ratio = np.asarray(radius_m / wall_m)
    if np.any(ratio >= 1500):
        raise refuse("wall_m", "The wall is thinner than any that was tested: more than 1500 times into the radius.")
    return _float(1 - 0.901 * (1 - np.exp(-np.sqrt(ratio) / 16)))


def _float(value: Number) -> Number:
    return float(value) if np.ndim(value) == 0 else value


def plate_buckling_coefficient(length_m: float, flat_width_m: float) -> float:
    """Plate coefficient of a flat wall of finite length with all edges hinged.

    Args:
        length_m: along the squeeze [m], > 0.
        flat_width_m: across it [m], > 0.
    Returns:
        k = min over m of (m b/a + a/(m b))² [-]; 4 for long walls.
    Errors:
        ``out_of_domain``.
    Source:
        Timoshenko & Gere, Theory of Elastic Stability, 9.2 (from memory).
    """
    positive("length_m", length_m, "The length")
    positive("flat_width_m", flat_width_m, "The wall's width")
    aspect = length_m / flat_width_m
    waves = {max(1, math.floor(aspect)), math.floor(aspect) + 1}
    return min((m / aspect + aspect / m) ** 2 for m in waves)


def plate_buckling_stress_pa(
    elastic_modulus_pa: Number, wall_m: Number, flat_width_m: Number, poisson: float = 0.3, k: Number = 4.0
) -> Number:
    """Stress at which a flat thin wall begins to buckle; it can carry more, see ``effective_width_load_n``.

    Args:
        elastic_modulus_pa: stiffness [Pa], > 0.
        wall_m: wall thickness [m], > 0.
        flat_width_m: width between held edges [m], > 0.
        poisson: Poisson's ratio [-], 0 to 0.5.
        k: plate coefficient [-]; 4.0 with both edges hinged, 0.43 with one free.
    Returns:
        k π² E/(12(1 − ν²)) (t/b)² [Pa].
    Errors:
        ``out_of_domain``.
    Source:
        Bryan 1891; Timoshenko & Gere, Theory of Elastic Stability, 9.2 (from memory).
    """
    positive("elastic_modulus_pa", elastic_modulus_pa, "The stiffness")
    positive("wall_m", wall_m, "The wall")
    positive("flat_width_m", flat_width_m, "The wall's width")
    positive("k", k, "The plate coefficient")
    check_poisson(poisson)
    return k * math.pi**2 * elastic_modulus_pa / (12 * (1 - poisson**2)) * (wall_m / flat_width_m) ** 2


def effective_width_load_n(buckling_pa: Number, yield_pa: Number, area_m2: Number) -> Number:
    """What flat thin walls carry in the end: after buckling, strips along their edges go on carrying.

    Args:
        buckling_pa: stress at which the walls begin to buckle [Pa], > 0.
        yield_pa: strength in compression [Pa], > 0.
        area_m2: material area of all walls [m²], > 0.
    Returns:
        √(σ_cr σ_y) A, at most σ_y A for stocky walls [N].
    Errors:
        ``out_of_domain``.
    Source:
        von Kármán, Sechler & Donnell 1932 (from memory).
    """
    positive("buckling_pa", buckling_pa, "The buckling stress")
    positive("yield_pa", yield_pa, "The strength")
    positive("area_m2", area_m2, "The area")
    return _float(np.minimum(np.sqrt(buckling_pa * yield_pa), yield_pa) * area_m2)
