"""Arches bent from strips: their thrust, where they are bent, and when they buckle."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from girder_core.ground import GRAVITY_M_S2, Number, not_negative, positive, refuse
from girder_core.physics.cables import cable_length_m
from girder_core.physics.materials import ON_TABLE, Bounds, Stock
from girder_core.physics.members import CROOKED
from girder_core.physics.predictions import Prediction, Samples, State, predict
from girder_core.physics.sections import laminate

RISE = (0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.8, 1.0)
GAMMA = (28.5, 45.4, 46.5, 43.9, 38.4, 30.5, 20.0, 14.1)
"""q_cr L³/(E I) of two-hinged parabolic arches under an even load, by rise over span (Timoshenko & Gere, Theory of
Elastic Stability, 7.6, table of parabolic arches; from memory)."""
NEVER_EVEN = Bounds(0.002, 0.006, 0.015, "order of magnitude: moment that an even load leaves, over load times span")
STRIP_HANDS = Bounds(0.6, 0.85, 1.0, "order of magnitude: creases and grain of a bent strip")


def arch_thrust_n(load_n: float, span_m: float, rise_m: float, at: float | None = None) -> float:
    """How hard an arch on two hinges pushes its feet apart.

    Args:
        load_n: the load [N].
        span_m: between its feet [m], > 0.
        rise_m: of its middle line [m], > 0.
        at: where along the span the load stands [-], 0 to 1; evenly along the span when left out.
    Returns:
        Even load: W L/(8 f); one load at k: (5/8)(W L/f)(k − 2k³ + k⁴), 25 W L/(128 f) in the middle [N].
    Errors:
        ``out_of_domain``.
    Source:
        Timoshenko & Young, Theory of Structures, ch. 9: parabolic arch, section growing as the secant of its slope
        (from memory).
    """
    positive("span_m", span_m, "The span")
    positive("rise_m", rise_m, "The rise")
    if not np.isfinite(load_n):
        raise refuse("load_n", "The load must be a number.")
    if at is None:
        return load_n * span_m / (8 * rise_m)
    if not 0 <= at <= 1:
        raise refuse("at", "The load stands between the feet.")
    return 5 / 8 * load_n * span_m / rise_m * (at - 2 * at**3 + at**4)


def arch_moment_nm(load_n: float, span_m: float, rise_m: float, at: float, share: Number) -> Number:
    """Bending of an arch on two hinges under one load.

    Args:
        load_n: the load [N].
        span_m: between its feet [m], > 0.
        rise_m: of its middle line [m], > 0.
        at: where along the span the load stands [-], 0 to 1.
        share: where along the span it is asked for [-], 0 to 1.
    Returns:
        The moment of a plain beam less H y [N·m], positive where the arch is straightened.
    Errors:
        ``out_of_domain``.
    Source:
        Equilibrium with ``arch_thrust_n``.
    """
    level = arch_thrust_n(load_n, span_m, rise_m, at)
    if not np.all((np.asarray(share) >= 0) & (np.asarray(share) <= 1)):
        raise refuse("share", "The place lies between the feet.")
    beam = load_n * span_m * np.where(np.asarray(share) <= at, share * (1 - at), at * (1 - np.asarray(share)))
    return np.asarray(beam - level * 4 * rise_m * share * (1 - np.asarray(share)))


def arch_buckling_n(bending_nm2: Number, span_m: float, rise_m: float) -> Number:
    """Even load at which an arch on two hinges sways to one side.

    Args:
        bending_nm2: E I of the strip [N·m²], > 0.
        span_m: between its feet [m], > 0.
        rise_m: of its middle line [m], a tenth to all of the span.
    Returns:
        γ E I/L² [N], the whole load.
    Errors:
        ``out_of_domain``.
    Source:
        ``GAMMA``.
    """
    positive("bending_nm2", bending_nm2, "The strip's stiffness")
    positive("span_m", span_m, "The span")
    positive("rise_m", rise_m, "The rise")
    if not RISE[0] <= rise_m / span_m <= RISE[-1]:
        raise refuse("rise_m", "An arch rises by a tenth of its span to all of it. Make it higher or flatter.")
    return np.asarray(bending_nm2) * float(np.interp(rise_m / span_m, RISE, GAMMA)) / span_m**2


@dataclass(frozen=True)
class StripArch:
    """An arch bent from strips.

    Attributes:
        span_m: between its feet [m].
        rise_m: of its middle line [m].
        width_m: of the strips [m].
        layers: strips on top of each other [-].
        bonded: whether they are glued to one.
        anchor_kg: weight that holds each foot [kg]; nothing where the feet are tied together or free.
        tied: whether a string holds the feet together.
    """

    span_m: float
    rise_m: float
    width_m: float
    layers: int
    bonded: bool
    anchor_kg: float = 0.0
    tied: bool = False


def strip_arch(
    arch: StripArch, strip: Stock, placement: str, off_m: float = 0.0, tie_n: Bounds | None = None,
    samples: Samples | None = None,
) -> Prediction:  # fmt: skip
    """What an arch bent from strips carries.

    Args:
        arch: its sizes.
        strip: the sheet it is cut from.
        placement: ``centre`` or ``uniform``.
        off_m: how far a load in one place stands from the middle [m], 0 to half the span.
        tie_n: strength of the string between its feet [N], where they are tied.
        samples: seeded samples; the usual ones when left out.
    Returns:
        The prediction: its feet slide apart or their string parts, it sways and buckles, it is bent too far.
    Errors:
        ``out_of_domain``.
    Source:
        Functions of this module; bending grows as the load nears buckling, 1/W = 1/W_bent + 1/W_buckling (Rankine).
    """
    not_negative("anchor_kg", arch.anchor_kg, "The weight at a foot")
    if placement not in ("centre", "uniform"):
        raise refuse("placement", "The load stands in one place or all along the arch.")
    if not 0 <= off_m < arch.span_m / 2:
        raise refuse("off_m", "The load stands between the feet.")
    draws = samples or Samples()
    at = None if placement == "uniform" else 0.5 + off_m / arch.span_m
    push = arch_thrust_n(1.0, arch.span_m, arch.rise_m, at)
    thick = draws.draw(strip.thickness_m, f"{strip.key} thickness")
    section = laminate(arch.width_m, thick, arch.layers, arch.bonded)
    modulus = draws.draw(strip.elastic_modulus_pa, f"{strip.key} modulus")
    even = arch_buckling_n(modulus * section.second_moment_m4, arch.span_m, arch.rise_m)
    # It sways when its thrust is what it is under the even load that makes it sway.
    sways = draws.draw(CROOKED, "crooked") * even * arch_thrust_n(1.0, arch.span_m, arch.rise_m) / push
    squeeze = draws.draw(strip.compression_pa, f"{strip.key} compression")
    strength = draws.draw(STRIP_HANDS, "bent strips") * np.minimum(
        squeeze, draws.draw(strip.tension_pa, f"{strip.key} tension")
    )
    fibre = (thick * arch.layers if arch.bonded else thick) / 2
    if at is None:
        moment: Number = arch.span_m * draws.draw(NEVER_EVEN, "never even")
    else:
        moment = float(np.abs(arch_moment_nm(1.0, arch.span_m, arch.rise_m, at, np.linspace(0, 1, 401))).max())
    bent = strength * section.second_moment_m4 / fibre / moment
    states = [
        State("sway", "The arch sways and buckles", sways,
              "An arch buckles by leaning to one side while the other side rises. Layers glued together or a shorter "
              "span hold more.", "It bows over to one side.", "Timoshenko & Gere", "twist"),
        State("bend", "The strip creases", 1 / (1 / bent + 1 / sways),
              "A load in one place bends the arch: down under it and up beside it. Spread it, or glue layers.",
              "It folds under the load.", "two-hinged arch", "crimp"),
    ]  # fmt: skip
    if arch.tied:
        if tie_n is None:
            raise refuse("tie_n", "A tied arch needs a string.")
        states.append(
            State("tie", "The string between the feet parts", draws.draw(tie_n, "tie") / push,
                  "The feet push outwards as hard as the arch is flat. The string holds both.",
                  "The string breaks.", "equilibrium", "joint")
        )  # fmt: skip
    else:
        grip, own = draws.draw(ON_TABLE, "feet on the table"), _weight_n(arch, strip)
        held = grip * (arch.anchor_kg * GRAVITY_M_S2 + own / 2)
        left = push - grip / 2
        states.append(
            State("feet", "The feet slide apart", np.where(left > 0, held / np.where(left > 0, left, 1.0), np.inf),
                  "The arch pushes its feet outwards, harder the flatter it is; friction under the load holds only "
                  "part of that. Weights behind the feet or a string between them hold the rest.",
                  "The ends slip away and it goes flat.", "Coulomb friction", "slip")
        )  # fmt: skip
    return predict(states)


def _weight_n(arch: StripArch, strip: Stock) -> float:
    area = arch.width_m * arch.layers * cable_length_m(arch.span_m, arch.rise_m)
    return strip.grammage_kg_m2 * area * GRAVITY_M_S2
