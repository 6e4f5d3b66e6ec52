"""Legs that lean together: pull along each leg, spread of the feet, and what rolled tubes and sticks bear there."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from girder_core.ground import Number, not_negative, positive, refuse, whole
from girder_core.measure import format_length
from girder_core.physics.columns import column_load_n
from girder_core.physics.materials import ON_TABLE, Bounds, Form, Stock
from girder_core.physics.members import CROOKED, member_of
from girder_core.physics.predictions import Prediction, Samples, State, predict
from girder_core.physics.towers import UNEVEN
from girder_core.physics.tubes import rolled_tube


@dataclass(frozen=True)
class LegForces:
    """What a load on the tip does to each leg.

    Attributes:
        along_n: squeeze along a leg [N].
        outward_n: push of a foot away from the middle [N].
        tie_n: pull in a string from foot to foot around [N].
    """

    along_n: float
    outward_n: float
    tie_n: float


def leg_forces_n(load_n: float, legs: int, leg_m: float, foot_radius_m: float) -> LegForces:
    """How a load on the tip of leaning legs goes to the ground.

    Args:
        load_n: on the tip [N], >= 0.
        legs: how many, evenly around [-], at least 3.
        leg_m: length of a leg [m], > 0.
        foot_radius_m: of the circle of feet [m], > 0, less than a leg.
    Returns:
        N = W l/(n h), H = W r/(n h), around the feet H/(2 sin(π/n)), with h = √(l² − r²).
    Errors:
        ``out_of_domain``.
    Source:
        Equilibrium of the tip and of a foot.
    """
    not_negative("load_n", load_n, "The load")
    whole("legs", legs, 3, "The number of legs")
    positive("leg_m", leg_m, "The leg")
    positive("foot_radius_m", foot_radius_m, "The circle of feet")
    if foot_radius_m >= leg_m:
        raise refuse("foot_radius_m", f"Legs of {format_length(leg_m)} do not meet over feet that far apart.")
    high = math.sqrt(leg_m**2 - foot_radius_m**2)
    outward = load_n * foot_radius_m / (legs * high)
    return LegForces(load_n * leg_m / (legs * high), outward, outward / (2 * math.sin(math.pi / legs)))


def tripod(
    legs: int,
    leg_m: float,
    foot_radius_m: float,
    material: Stock,
    diameter_m: float = 0.0,
    layers: int = 1,
    tie_n: Bounds | None = None,
    samples: Samples | None = None,
) -> Prediction:
    """What legs that lean together carry on their tip.

    Args:
        legs: how many [-], at least 3.
        leg_m: length of a leg [m], > 0.
        foot_radius_m: of the circle of feet [m], > 0.
        material: a sheet to be rolled, a rod or a straw.
        diameter_m: of a rolled tube [m]; for sheets only.
        layers: how many times the sheet goes around [-].
        tie_n: strength of the string around the feet [N]; free feet when left out.
        samples: seeded samples; the usual ones when left out.
    Returns:
        The prediction: a leg buckles, its wall dents, its rim crushes; feet slide apart, or their string parts. Free
        feet hold any load or none: friction grows as the push does.
    Errors:
        ``out_of_domain``.
    Source:
        ``leg_forces_n``; tubes as in ``columns``, ends that turn.
    """
    unit = leg_forces_n(1.0, legs, leg_m, foot_radius_m)
    draws = samples or Samples()
    share = unit.along_n * draws.draw(UNEVEN, "uneven legs")
    states = []
    if material.form is Form.SHEET:
        tube = rolled_tube(diameter_m, leg_m, material.thickness_m.typical, layers, material, draws)
        buckles: Number = tube.column_n
        states += [
            State("wall", "A leg dents", tube.wall_n / share,
                  "The wall of a rolled tube fails where it is least round. Roll it in more layers.",
                  "A tube gets a dent and folds.", "NASA SP-8007", "leg"),
            State("crush", "A leg end crushes", tube.crush_n / share,
                  "A leaning tube stands on one side of its rim, and that side is crushed first. Cut the ends to the "
                  "slope.",
                  "The end of a tube is squashed.", "strips of unequal height", "leg"),
        ]  # fmt: skip
    else:
        piece = member_of(material)
        buckles = column_load_n(
            draws.draw(material.compression_pa, f"{material.key} compression"),
            draws.draw(material.elastic_modulus_pa, f"{material.key} modulus"), piece.area_m2, piece.least_m4, leg_m,
        )  # fmt: skip
    states.insert(
        0,
        State("buckle", "A leg buckles", draws.draw(CROOKED, "crooked") * buckles / share,
              "Each leg is a column. Shorter or thicker legs hold more; legs that stand steeper are squeezed less.",
              "A leg bows out and folds.", "Euler, Johnson", "leg"),
    )  # fmt: skip
    if tie_n is None:
        grip = draws.draw(ON_TABLE, "feet on the table")
        states.append(
            State("feet", "The feet slide apart", np.where(unit.outward_n * legs > grip, 0.0, np.inf),
                  "Leaning legs push their feet outwards. Friction holds while they stand steep enough, and no longer. "
                  "Tie the feet together or stand them steeper.",
                  "The legs do the splits.", "Coulomb friction", "racked")
        )  # fmt: skip
    else:
        states.append(
            State("tie", "The string around the feet parts", draws.draw(tie_n, "tie") / unit.tie_n,
                  "The string holds what the feet push outwards.",
                  "The string around the feet breaks.", "equilibrium", "joint")
        )  # fmt: skip
    return predict(states)
