"""How a tower takes a shaking table: what it feels, on a firm foot or a soft one, what a push from the side does."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from girder_core.ground import GRAVITY_M_S2, positive, refuse
from girder_core.physics.columns import LEAN, column_load_n
from girder_core.physics.materials import Bounds, Stock
from girder_core.physics.members import CROOKED, JOINT_SCATTER, member_section
from girder_core.physics.predictions import Prediction, Samples, State, predict
from girder_core.physics.towers import (
    LEG_SOFTENING,
    TIP_SOFTENING,
    TOO_SLENDER,
    TowerShape,
    cantilever_stiffness_n_m,
    natural_frequency_hz,
    peak_acceleration_m_s2,
    rocking_threshold_g,
    smallest_half_base_m,
    swinging_mass_kg,
    transmissibility,
)


@dataclass(frozen=True)
class Isolation:
    """A soft layer under a tower's foot.

    Attributes:
        stiffness_n_m: sideways [N/m].
        damping_ratio: share of critical damping [-].
    """

    stiffness_n_m: float
    damping_ratio: float


@dataclass(frozen=True)
class Shaken:
    """What a shaken tower feels.

    Attributes:
        natural_frequency_hz: of the tower on a firm foot [Hz].
        isolated_frequency_hz: of the tower on its soft layer [Hz]; None without one.
        table_g: peak acceleration of the table, as a share of gravity [-].
        felt_g: peak acceleration of the tower's mass [-].
        rocking_g: acceleration at which it begins to rock [-].
        passed_on: felt over table [-].
        says: in a sentence.
    """

    natural_frequency_hz: float
    isolated_frequency_hz: float | None
    table_g: float
    felt_g: float
    rocking_g: float
    passed_on: float
    says: str


TOWER_DAMPING = 0.05
"""Share of critical damping of glued sticks; order of magnitude."""


def sideways_stiffness_n_m(shape: TowerShape, stock: Stock) -> float:
    """Sideways stiffness of a tower at its top.

    Args:
        shape: its geometry.
        stock: what it is built from.
    Returns:
        Braced: a cantilever whose chords are the legs, shear of the diagonals taken at half; unbraced: storeys of legs
        fixed at both ends in a row, 12 E I n/h³ each, joints taken at half. Gravity taken off [N/m].
    Errors:
        ``too_slender``.
    Source:
        Beam theory; halves are orders of magnitude.
    """
    section = member_section(stock)
    modulus, area = stock.elastic_modulus_pa.typical, float(section.area_m2)
    own = shape.mass_kg(stock) - shape.top_mass_kg
    radius = (shape.half_side(0) + shape.half_side(shape.height_m)) / 2
    if shape.braced:
        second = shape.legs * area * radius**2 / 2
        bare = cantilever_stiffness_n_m(modulus, second, shape.height_m) / 2
    else:
        storey = shape.leg_m / shape.levels
        bare = 12 * modulus * float(section.second_moment_m4) * shape.legs / storey**3 / shape.levels / 2
    soft = (TIP_SOFTENING * shape.top_mass_kg + LEG_SOFTENING * own) * GRAVITY_M_S2 / shape.height_m
    if bare <= soft:
        raise refuse("height_m", TOO_SLENDER, "too_slender")
    return float(bare - soft)


def shaken(
    shape: TowerShape, stock: Stock, frequency_hz: float, stroke_m: float, isolation: Isolation | None = None
) -> Shaken:
    """How a tower takes a shaking table.

    Args:
        shape: its geometry.
        stock: what it is built from.
        frequency_hz: full cycles a second [Hz], > 0.
        stroke_m: from end to end [m], > 0.
        isolation: a soft layer under the foot; none when left out.
    Returns:
        What it feels, as one mass on one spring; isolated, the softer of layer and tower decides.
    Errors:
        ``out_of_domain``; ``too_slender``.
    Source:
        Functions of ``girder_core.physics.towers``.
    """
    positive("frequency_hz", frequency_hz, "The frequency")
    positive("stroke_m", stroke_m, "The stroke")
    table = peak_acceleration_m_s2(frequency_hz, stroke_m / 2) / GRAVITY_M_S2
    own = shape.mass_kg(stock) - shape.top_mass_kg
    stiffness = sideways_stiffness_n_m(shape, stock)
    natural = float(natural_frequency_hz(stiffness, swinging_mass_kg(shape.top_mass_kg, own)))
    soft, damping, decides = None, TOWER_DAMPING, natural
    if isolation is not None:
        both = 1 / (1 / stiffness + 1 / isolation.stiffness_n_m)
        soft = float(natural_frequency_hz(both, shape.mass_kg(stock)))
        damping, decides = isolation.damping_ratio, soft
    passed = float(transmissibility(frequency_hz / decides, damping))
    rocking = rocking_threshold_g(smallest_half_base_m(shape.legs, shape.base_m), shape.mass_centre_m(stock))
    felt = table * passed
    if felt < rocking:
        says = "It stays on its foot."
    elif passed > 1.5:
        says = "It swings itself up near its own frequency and begins to rock."
    else:
        says = "It begins to rock: a wider foot or less weight on top would help."
    return Shaken(natural, soft, table, felt, rocking, passed, says)


def shake_limits(
    shape: TowerShape, stock: Stock, joint_n: Bounds, friction: Bounds, samples: Samples | None = None
) -> Prediction:
    """Sideways push, as of a shake, that a tower takes.

    Args:
        shape: its geometry.
        stock: what it is built from.
        joint_n: what one joint holds [N].
        friction: of its foot on the table [-].
        samples: seeded samples; the usual ones when left out.
    Returns:
        The prediction of the push at the centre of mass: rocking, sliding off, a leg that buckles on the pressed side,
        a joint at the foot that opens.
    Errors:
        ``out_of_domain``.
    Source:
        West's formula; equilibrium of the base.
    """
    draws = samples or Samples()
    section = member_section(stock)
    weight = shape.mass_kg(stock) * GRAVITY_M_S2
    centre = shape.mass_centre_m(stock)
    half = smallest_half_base_m(shape.legs, shape.base_m)
    build = draws.draw(Bounds(0.8, 0.95, 1.05, "order of magnitude"), "build")
    modulus = draws.draw(stock.elastic_modulus_pa, f"{stock.key} modulus")
    squeeze = draws.draw(stock.compression_pa, f"{stock.key} compression")
    lean = draws.draw(LEAN, "lean")
    leg = draws.draw(CROOKED, "crooked") * column_load_n(
        squeeze, modulus, float(section.area_m2), float(section.second_moment_m4), shape.leg_m / shape.levels
    )
    joint = draws.draw(joint_n, "joint") * draws.draw(JOINT_SCATTER, "joint foot")
    pair = 2 if shape.legs == 4 else 1
    return predict(
        [
            State("rock", "Begins to rock", np.maximum(weight * (half / centre - lean), 0) * build,
                  "The push at its centre of mass lifts one side of the foot. A wider foot or weight low down helps.",
                  "It tips to one side.", "West's formula", "toppled"),
            State("slide", "Slides off its foundation", weight * draws.draw(friction, "foot friction"),
                  "The foot slips when the push exceeds friction. Left loose, sliding even protects the tower.",
                  "The foot slips away.", "friction", "foundation"),
            State("leg", "A leg buckles", np.maximum(leg * pair - weight / shape.legs, 0) * 2 * half / centre,
                  "The legs on one side take the whole overturning. Shorter free lengths hold more.",
                  "A leg bends out.", "Euler, Johnson", "racked"),
            State("joint", "A joint opens", joint * shape.legs / 2,
                  "Half the legs pass the push to the foot, one joint each.", "A joint lets go.", "equilibrium",
                  "joint"),
        ]
    )  # fmt: skip
