"""Loads that arrive suddenly: how much harder they act than the same load set down."""

from __future__ import annotations

import math
from collections.abc import Mapping

import numpy as np

from girder_core.ground import GRAVITY_M_S2, not_negative, positive, refuse, whole
from girder_core.physics.materials import Bounds, Stock
from girder_core.physics.predictions import Prediction, Samples, State, predict
from girder_core.physics.thin_walls import effective_width_load_n, plate_buckling_stress_pa

BEAM_MASS_SHARE = 17 / 35
"""Share of a simple beam's own mass that counts at midspan (Cox 1849; Timoshenko, Strength of Materials, from
memory)."""


def sudden_load_factor() -> float:
    """How much harder a load acts when it is let go all at once, touching.

    Returns:
        2 [-].
    Source:
        Gere & Timoshenko, Mechanics of Materials, impact loading (from memory).
    """
    return 2.0


def drop_factor(drop_height_m: float, static_deflection_m: float, beam_mass_ratio: float = 0.0) -> float:
    """How much harder a dropped load acts than the same load at rest.

    Args:
        drop_height_m: free fall before it touches [m], >= 0.
        static_deflection_m: how far the same load at rest bends the structure [m], > 0.
        beam_mass_ratio: mass of the beam over that of the load [-], >= 0; 17/35 of it is set in motion at midspan.
    Returns:
        1 + √(1 + 2h/δ) for a structure without mass; with mass the height shrinks by 1/(1 + 17/35 m_b/m) [-].
    Errors:
        ``out_of_domain``.
    Source:
        Gere & Timoshenko, Mechanics of Materials, impact loading; Timoshenko, Strength of Materials, for the beam's
        mass (from memory). Linear, nothing lost: an upper bound.
    """
    not_negative("drop_height_m", drop_height_m, "The drop height")
    positive("static_deflection_m", static_deflection_m, "The deflection under the load at rest")
    not_negative("beam_mass_ratio", beam_mass_ratio, "The beam's mass")
    height = drop_height_m / (1 + BEAM_MASS_SHARE * beam_mass_ratio)
    return 1 + math.sqrt(1 + 2 * height / static_deflection_m)


def drop_height_for(factor: float, static_deflection_m: float) -> float:
    """From how high a load may fall until it acts a given number of times as hard.

    Args:
        factor: how many times as hard as at rest [-], at least 2.
        static_deflection_m: how far the same load at rest bends the structure [m], > 0.
    Returns:
        The height [m]: δ ((f − 1)² − 1)/2; 0 for a factor of 2.
    Errors:
        ``out_of_domain``.
    """
    positive("static_deflection_m", static_deflection_m, "The deflection under the load at rest")
    not_negative("factor", factor - 2, "What a load gains above a sudden one")
    return static_deflection_m * ((factor - 1) ** 2 - 1) / 2


FLOORS: Mapping[str, Bounds] = {
    "stone": Bounds(3e3, 6e3, 12e3, "order of magnitude: a small light house on a stone floor"),
    "wood": Bounds(2e3, 4e3, 8e3, "order of magnitude: on a wooden floor or table"),
    "mat": Bounds(0.7e3, 1.5e3, 3e3, "order of magnitude: on a gym mat"),
    "foam": Bounds(0.25e3, 0.5e3, 1e3, "order of magnitude: on soft foam"),
}
"""Stiffness of the landing [N/m]: house and floor together, so even on stone the card gives."""
LANDS_ON = Bounds(0.15, 0.3, 0.6, "order of magnitude: share of the joints that take a landing on an edge or corner")


def landing_force_n(mass_kg: float, drop_height_m: float, stiffness_n_m: float) -> float:
    """Largest force when something lands.

    Args:
        mass_kg: what lands [kg], > 0.
        drop_height_m: free fall [m], >= 0.
        stiffness_n_m: of the landing [N/m], > 0.
    Returns:
        m g (1 + √(1 + 2h/δ)) with δ = m g/k [N].
    Errors:
        ``out_of_domain``.
    Source:
        ``drop_factor``.
    """
    positive("mass_kg", mass_kg, "The mass")
    positive("stiffness_n_m", stiffness_n_m, "The landing")
    weight = mass_kg * GRAVITY_M_S2
    return weight * drop_factor(drop_height_m, weight / stiffness_n_m)


def drop_house(
    panel: Stock, side_m: float, layers: int, panels: int, joint_n: Bounds, joints: int, samples: Samples | None = None
) -> Prediction:
    """The landing force that a house of joined panels takes.

    Args:
        panel: the stock of its panels.
        side_m: side of a square panel [m], > 0.
        layers: sheets in a panel [-], at least 1.
        panels: panels that stand on the edge it lands on, as walls do [-], at least 1.
        joint_n: what one joint holds [N].
        joints: joints in all [-], at least 1.
        samples: seeded samples; the usual ones when left out.
    Returns:
        The prediction: joints open, panels fold.
    Errors:
        ``out_of_domain``.
    Source:
        Effective width as in ``columns``; how many joints share a landing is an order of magnitude.
    """
    positive("side_m", side_m, "The panel")
    whole("layers", layers, 1, "The number of sheets")
    whole("panels", panels, 1, "The number of panels")
    whole("joints", joints, 1, "The number of joints")
    if panel.thickness_m.typical * layers > side_m / 4:
        raise refuse("side_m", "Panels that small and thick are blocks. Make them larger.")
    draws = samples or Samples()
    modulus = draws.draw(panel.elastic_modulus_pa, f"{panel.key} modulus")
    squeeze = draws.draw(panel.compression_pa, f"{panel.key} compression")
    thick = draws.draw(panel.thickness_m, f"{panel.key} thickness")
    buckling = plate_buckling_stress_pa(modulus, thick, side_m, panel.poisson)
    folds = np.asarray(effective_width_load_n(buckling, squeeze, side_m * thick * layers * panels))
    opens = draws.draw(joint_n, "joint") * joints * draws.draw(LANDS_ON, "lands on")
    return predict(
        [
            State("joint", "Joints open", opens,
                  "A landing jerks at the few joints near the edge it lands on. More joints, or ones that give, share "
                  "it.", "The corners come apart.", "equilibrium", "joint"),
            State("panel", "A panel folds", folds,
                  "The panels under the weight are squeezed; wide thin ones fold.", "A wall folds in.",
                  "von Kármán 1932", "panel"),
        ]
    )  # fmt: skip
