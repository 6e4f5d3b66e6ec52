"""Towers and walls: toppling, swinging, isolation, and the frame of a tower that carries a hung load."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from girder_core.ground import GRAVITY_M_S2, Number, finite, not_negative, positive, refuse, whole
from girder_core.measure import format_length
from girder_core.physics.columns import column_load_n, euler_load_n
from girder_core.physics.materials import Bounds, Stock
from girder_core.physics.members import CROOKED, JOINT_SCATTER, member_section
from girder_core.physics.predictions import Prediction, Samples, State, predict

TOO_SLENDER = "It is too slender to stand: its weight bends it over. Make it stiffer or shorter."

LEG_MASS_SHARE = 33 / 140
"""Share of a cantilever's own mass that swings with its tip (Rayleigh, with the static deflection; from memory)."""
TIP_SOFTENING, LEG_SOFTENING = 6 / 5, 3 / 8
"""∫v'² for a tip weight and for the leg's own weight, with the static deflection: shares of M g/L that gravity takes
from the stiffness."""


def toppling_angle_deg(half_base_m: float, centre_of_mass_m: float) -> float:
    """Tilt at which a tower goes over.

    Args:
        half_base_m: from the middle to the nearest edge of its foot [m], > 0; see ``smallest_half_base_m``.
        centre_of_mass_m: height of its centre of mass [m], > 0.
    Returns:
        atan(b/h) [°].
    Errors:
        ``out_of_domain``.
    Source:
        Equilibrium.
    """
    positive("half_base_m", half_base_m, "The half base")
    positive("centre_of_mass_m", centre_of_mass_m, "The height of the centre of mass")
    return math.degrees(math.atan(half_base_m / centre_of_mass_m))


def smallest_half_base_m(feet: int, side_m: float) -> float:
    """Smallest distance from the middle of a regular foot to its edge.

    Args:
        feet: corners of the foot [-], at least 3.
        side_m: between neighbouring feet [m], > 0.
    Returns:
        s/(2 tan(π/n)) [m]: s/2 for a square, s/(2√3) for a triangle.
    Errors:
        ``out_of_domain``.
    """
    whole("feet", feet, 3, "The number of feet")
    positive("side_m", side_m, "The side of the foot")
    return side_m / (2 * math.tan(math.pi / feet))


def rocking_threshold_g(half_base_m: float, centre_of_mass_m: float) -> float:
    """Ground acceleration at which a rigid block begins to rock.

    Args:
        half_base_m: half width of its foot [m], > 0.
        centre_of_mass_m: height of its centre of mass [m], > 0.
    Returns:
        b/h as a share of gravity [-]; beginning to rock is not yet toppling.
    Errors:
        ``out_of_domain``.
    Source:
        West's formula, in Milne 1885; Housner, Bull. Seism. Soc. Am. 53 (1963) 403 (from memory).
    """
    positive("half_base_m", half_base_m, "The half base")
    positive("centre_of_mass_m", centre_of_mass_m, "The height of the centre of mass")
    return half_base_m / centre_of_mass_m


def peak_acceleration_m_s2(frequency_hz: float, amplitude_m: float) -> float:
    """Largest acceleration of a table that shakes to and fro.

    Args:
        frequency_hz: full cycles a second [Hz], >= 0.
        amplitude_m: half of the stroke from end to end [m], >= 0.
    Returns:
        (2πf)² A [m/s²].
    Errors:
        ``out_of_domain``.
    """
    not_negative("frequency_hz", frequency_hz, "The frequency")
    not_negative("amplitude_m", amplitude_m, "The amplitude")
    return (2 * math.pi * frequency_hz) ** 2 * amplitude_m


def natural_frequency_hz(stiffness_n_m: Number, mass_kg: Number) -> Number:
    """How fast a mass on a spring swings by itself.

    Args:
        stiffness_n_m: [N/m], > 0.
        mass_kg: swinging mass [kg], > 0; see ``swinging_mass_kg``.
    Returns:
        √(k/m)/(2π) [Hz].
    Errors:
        ``out_of_domain``; a tower whose stiffness gravity has used up cannot stand.
    """
    if not np.all(np.asarray(stiffness_n_m) > 0):
        raise refuse("stiffness_n_m", TOO_SLENDER, "too_slender")
    finite("stiffness_n_m", stiffness_n_m, "The stiffness")
    positive("mass_kg", mass_kg, "The mass")
    frequency = np.sqrt(np.asarray(stiffness_n_m) / mass_kg) / (2 * math.pi)
    return float(frequency) if np.ndim(frequency) == 0 else frequency


def swinging_mass_kg(tip_mass_kg: float, leg_mass_kg: float = 0.0) -> float:
    """Mass that swings with the tip of a cantilever.

    Args:
        tip_mass_kg: at the tip [kg], >= 0.
        leg_mass_kg: of the leg itself [kg], >= 0.
    Returns:
        tip + 33/140 leg [kg].
    Errors:
        ``out_of_domain``.
    Source:
        Rayleigh, Theory of Sound (from memory).
    """
    not_negative("tip_mass_kg", tip_mass_kg, "The mass at the top")
    not_negative("leg_mass_kg", leg_mass_kg, "The mass of the leg")
    return tip_mass_kg + LEG_MASS_SHARE * leg_mass_kg


def cantilever_stiffness_n_m(
    elastic_modulus_pa: Number,
    second_moment_m4: float,
    length_m: float,
    tip_mass_kg: float = 0.0,
    leg_mass_kg: float = 0.0,
) -> Number:
    """Sideways stiffness of a leg at its tip, softened by the weight it carries.

    Args:
        elastic_modulus_pa: stiffness of the material [Pa], > 0.
        second_moment_m4: second moment [m⁴], > 0.
        length_m: length [m], > 0.
        tip_mass_kg: mass at the tip [kg], >= 0; 0 leaves gravity out.
        leg_mass_kg: mass of the leg [kg], >= 0.
    Returns:
        3 E I/L³ − (6/5 M + 3/8 m) g/L [N/m]; zero or less means that it falls over under its weight.
    Errors:
        ``out_of_domain``.
    Source:
        Geometric stiffness with the static deflection as shape; Clough & Penzien, Dynamics of Structures, ch. 8 (from
        memory).
    """
    positive("elastic_modulus_pa", elastic_modulus_pa, "The stiffness")
    positive("second_moment_m4", second_moment_m4, "The second moment")
    positive("length_m", length_m, "The length")
    not_negative("tip_mass_kg", tip_mass_kg, "The mass at the top")
    not_negative("leg_mass_kg", leg_mass_kg, "The mass of the leg")
    weight = (TIP_SOFTENING * tip_mass_kg + LEG_SOFTENING * leg_mass_kg) * GRAVITY_M_S2
    return 3 * elastic_modulus_pa * second_moment_m4 / length_m**3 - weight / length_m


def transmissibility(frequency_ratio: Number, damping_ratio: float) -> Number:
    """Share of the shaking that reaches a mass on a spring.

    Args:
        frequency_ratio: shaking over natural frequency [-], >= 0.
        damping_ratio: share of critical damping [-], >= 0.
    Returns:
        √((1 + (2ζr)²)/((1 − r²)² + (2ζr)²)) [-]; above √2 it isolates, whatever the damping.
    Errors:
        ``out_of_domain``; ``resonance`` without damping at r = 1.
    Source:
        Den Hartog, Mechanical Vibrations, ch. 2 (from memory).
    """
    not_negative("frequency_ratio", frequency_ratio, "The frequency")
    not_negative("damping_ratio", damping_ratio, "The damping")
    ratio = np.asarray(frequency_ratio, float)
    damped = (2 * damping_ratio * ratio) ** 2
    below = (1 - ratio**2) ** 2 + damped
    if np.any(below == 0):
        raise refuse("damping_ratio", "At resonance without damping the shaking grows without limit.", "resonance")
    transmitted = np.sqrt((1 + damped) / below)
    return float(transmitted) if transmitted.ndim == 0 else transmitted


@dataclass(frozen=True)
class Tipping:
    """What overturns or shoves a wall.

    Attributes:
        overturning_n: push at the given height that tips it, per its whole length [N].
        sliding_n: push that shoves it [N].
        tips_first: whether it tips before it slides.
    """

    overturning_n: float
    sliding_n: float
    tips_first: bool


def wall_overturning(
    height_m: float, thickness_m: float, length_m: float, density_kg_m3: float, push_height_m: float, friction: float
) -> Tipping:
    """The push that a free-standing wall takes.

    Args:
        height_m: height [m], > 0.
        thickness_m: thickness [m], > 0.
        length_m: length [m], > 0.
        density_kg_m3: of the wall as built [kg/m³], > 0.
        push_height_m: height of the push above the ground [m], > 0, at most the wall's.
        friction: of the wall on its ground [-], > 0.
    Returns:
        The pushes: W t/(2h) to tip, μ W to slide; the wall taken as one piece.
    Errors:
        ``out_of_domain``.
    Source:
        Equilibrium.
    """
    for field, value, label in (
        ("height_m", height_m, "The height"), ("thickness_m", thickness_m, "The thickness"),
        ("length_m", length_m, "The length"), ("density_kg_m3", density_kg_m3, "The density"),
        ("push_height_m", push_height_m, "The height of the push"), ("friction", friction, "The friction"),
    ):  # fmt: skip
        positive(field, value, label)
    if push_height_m > height_m:
        raise refuse("push_height_m", f"The wall ends at {format_length(height_m)}. Aim lower, or build higher.")
    weight = density_kg_m3 * height_m * thickness_m * length_m * GRAVITY_M_S2
    tip, slide = weight * thickness_m / (2 * push_height_m), friction * weight
    return Tipping(tip, slide, tip < slide)


UNEVEN = Bounds(1.0, 1.25, 1.8, "order of magnitude: the most loaded leg over the mean")
SWAY_FACTOR = Bounds(1.6, 2.2, 3.5, "order of magnitude: effective length of a storey that can rack, glued joints")
KNOCK = Bounds(0.015, 0.04, 0.08, "order of magnitude: slope of lean and swing together")


@dataclass(frozen=True)
class TowerShape:
    """A tower on legs.

    Attributes:
        height_m: foot to top [m].
        base_m: side of its foot [m].
        top_m: side of its top [m].
        legs: how many [-].
        levels: storeys between rings of cross members [-].
        braced: whether each storey has diagonals.
        top_mass_kg: fixed at the top [kg].
    """

    height_m: float
    base_m: float
    top_m: float
    legs: int
    levels: int
    braced: bool
    top_mass_kg: float = 0.0

    def __post_init__(self) -> None:
        positive("height_m", self.height_m, "The height")
        positive("base_m", self.base_m, "The base")
        positive("top_m", self.top_m, "The top")
        whole("legs", self.legs, 3, "The number of legs")
        whole("levels", self.levels, 1, "The number of storeys")
        not_negative("top_mass_kg", self.top_mass_kg, "The mass at the top")

    def half_side(self, height_m: float) -> float:
        """Circumscribed radius at a height [m]."""
        side = self.base_m + (self.top_m - self.base_m) * height_m / self.height_m
        return side / (2 * math.sin(math.pi / self.legs))

    @property
    def leg_m(self) -> float:
        """Length of a leg [m]."""
        return math.hypot(self.height_m, self.half_side(0) - self.half_side(self.height_m))

    @property
    def stick_m(self) -> float:
        """Length of all members: legs, rings at every level, diagonals [m]."""
        rings = sum(
            self.legs * (self.base_m + (self.top_m - self.base_m) * i / self.levels) for i in range(1, self.levels + 1)
        )
        mean = (self.base_m + self.top_m) / 2
        diagonals = self.legs * self.levels * math.hypot(self.height_m / self.levels, mean) if self.braced else 0.0
        return self.legs * self.leg_m + rings + diagonals

    def mass_kg(self, stock: Stock) -> float:
        """Own mass with typical density, the fixed mass at the top included [kg]."""
        section = member_section(stock)
        return stock.density_kg_m3.typical * float(section.area_m2) * self.stick_m + self.top_mass_kg

    def mass_centre_m(self, stock: Stock) -> float:
        """Height of the centre of mass, sticks taken as spread evenly over the legs [m]."""
        sticks = self.mass_kg(stock) - self.top_mass_kg
        return (sticks * self.height_m / 2 + self.top_mass_kg * self.height_m) / (sticks + self.top_mass_kg)


def frame_tower(
    shape: TowerShape,
    leg_stock: Stock,
    joint_n: Bounds,
    hang_height_m: float | None = None,
    hangers: int = 2,
    samples: Samples | None = None,
) -> Prediction:
    """What a tower carries: in a cup hung from beams across it, or set on its top.

    Args:
        shape: its geometry.
        leg_stock: what legs, rings and beams are.
        joint_n: what one joint holds [N].
        hang_height_m: height of the beams that the cup hangs from [m]; when left out, the load stands on the top.
        hangers: beams that share the cup [-], at least 1.
        samples: seeded samples; the usual ones when left out.
    Returns:
        The prediction: a leg buckles between cross members, storeys without diagonals rack, the tower topples, the
        beam for the cup folds, a joint opens.
    Errors:
        ``out_of_domain``.
    Source:
        Euler and Johnson; Timoshenko & Gere, Theory of Elastic Stability, ch. 2, for frames that sway (from memory);
        ranges of hand-made frames are orders of magnitude.
    """
    at = shape.height_m if hang_height_m is None else hang_height_m
    if not 0 < at <= shape.height_m:
        raise refuse("hang_height_m", "The cup hangs from somewhere between the ground and the top.")
    whole("hangers", hangers, 1, "The number of beams")
    draws = samples or Samples()
    section = member_section(leg_stock)
    modulus = draws.draw(leg_stock.elastic_modulus_pa, f"{leg_stock.key} modulus")
    squeeze = draws.draw(leg_stock.compression_pa, f"{leg_stock.key} compression")
    pull = draws.draw(leg_stock.tension_pa, f"{leg_stock.key} tension")
    area, second = float(section.area_m2), float(section.second_moment_m4)
    storey = shape.leg_m / shape.levels
    slant = shape.leg_m / shape.height_m
    uneven = draws.draw(UNEVEN, "uneven legs")
    crooked = draws.draw(CROOKED, "crooked")
    per_leg = slant * uneven / shape.legs
    never = np.full(draws.count, np.inf)
    legs = crooked * column_load_n(squeeze, modulus, area, second, storey) / per_leg
    racks = never
    if not shape.braced:
        sway = draws.draw(SWAY_FACTOR, "sway")
        racks = shape.legs * euler_load_n(modulus, second, storey, 1.0) / sway**2
    arm = float(section.depth_m) / 2
    # From side to opposite side, or from side to opposite corner where the number of legs is odd.
    reach_in = shape.half_side(at) * math.cos(math.pi / shape.legs)
    across = reach_in + (shape.half_side(at) if shape.legs % 2 else reach_in)
    beam = hangers * 4 * pull * second / arm / across
    joint = draws.draw(joint_n, "joint") * draws.draw(JOINT_SCATTER, "joint hanger") * 2 * hangers
    if hang_height_m is None:
        # Nothing hangs: the load presses on the legs, and their joints are squeezed, which they take better.
        beam, joint = never, joint / (2 * hangers) * shape.legs * 3
    knock = draws.draw(KNOCK, "knock")
    reach = smallest_half_base_m(shape.legs, shape.base_m) / knock
    own, centre = shape.mass_kg(leg_stock), shape.mass_centre_m(leg_stock)
    with np.errstate(divide="ignore", invalid="ignore"):
        topples = np.where(reach >= at, np.inf, own * np.maximum(reach - centre, 0) / (at - reach)) * GRAVITY_M_S2
    states = [
        State("leg", "A leg buckles", legs,
              "Each leg is a column between its cross members. Halve the free length and it holds four times as much, "
              "until it crushes.", "A thin leg bends out to the side.", "Euler, Johnson", "leg"),
        State("rack", "Storeys rack sideways", racks,
              "Without diagonals a storey is held square only by its joints. Triangles stop that.",
              "Squares lean over. Triangles do not.", "frames that sway", "racked"),
        State("topple", "Topples", topples,
              "Leaning and swinging together bring the weight over the edge of the foot.",
              "Too tall for its foot.", "equilibrium", "toppled"),
        State("hanger", "The beam for the cup folds", beam,
              "The cup bends the stick it hangs from. Use two, or hang it from where legs meet.",
              "The stick above the cup snaps.", "M y/I", "hanger"),
        State("joint", "A joint opens", joint,
              "Joints pass on what hangs or stands on them; a squeezed one opens later than a pulled one.",
              "The joint lets go.", "equilibrium", "joint"),
    ]  # fmt: skip
    return predict(states)
