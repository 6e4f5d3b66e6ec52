"""Members of trusses and frames: pieces side by side, their joints, straws that kink, a chord that sways."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from girder_core.ground import Number, not_negative, positive, refuse, whole
from girder_core.physics.laps import USUAL_LAP_M, lap_strength_n
from girder_core.physics.materials import Bounds, Form, Stock, check_poisson
from girder_core.physics.predictions import Samples
from girder_core.physics.sections import Section, rectangle, round_rod, round_tube


def member_section(stock: Stock) -> Section:
    """Cross-section of a member as it bends most easily.

    Args:
        stock: a rod, stick, straw or line.
    Returns:
        The section with typical sizes.
    Errors:
        ``out_of_domain`` for a stock that makes no members.
    """
    size = stock.thickness_m.typical
    if stock.form is Form.TUBE:
        return round_tube(stock.width_m, size)
    if stock.form is Form.ROD and stock.width_m:
        return rectangle(stock.width_m, size)
    if stock.form in (Form.ROD, Form.LINE):
        return round_rod(size)
    raise refuse("stock", f"No members are made from {stock.name}.")


@dataclass(frozen=True)
class MemberStock:
    """Pieces side by side that make one member.

    Attributes:
        area_m2: of all [m²].
        least_m4: second moment in which they bend most easily [m⁴].
        out_of_plane_m4: second moment for bending sideways out of the truss [m⁴].
        modulus_in_plane_m3: section modulus for bending in the truss's own plane [m³]; sticks lie flat in it.
    """

    area_m2: float
    least_m4: float
    out_of_plane_m4: float
    modulus_in_plane_m3: float


def member_of(stock: Stock, doubled: int = 1, bonded: bool = False) -> MemberStock:
    """A member made of one or several pieces.

    Args:
        stock: a rod, stick, straw or line.
        doubled: how many pieces lie on each other [-], at least 1.
        bonded: whether they are glued along their whole length and so act as one.
    Returns:
        Its sizes. Flat sticks glued face to face are n³ times as stiff sideways, loose ones n times; round pieces
        stay n times as stiff in their weak direction.
    Errors:
        ``out_of_domain``.
    Source:
        Second moments of rectangles, ``sections.laminate``.
    """
    whole("doubled", doubled, 1, "The number of pieces in a member")
    section = member_section(stock)
    area, single = float(section.area_m2) * doubled, float(section.second_moment_m4)
    depth = float(section.depth_m)
    if stock.form is Form.ROD and stock.width_m:
        sideways = single * (doubled**3 if bonded else doubled)
        in_plane = doubled * depth * stock.width_m**3 / 12
        return MemberStock(area, min(sideways, in_plane), sideways, 2 * in_plane / stock.width_m)
    return MemberStock(area, single * doubled, single * doubled, 2 * single * doubled / depth)


def brazier_moment_nm(elastic_modulus_pa: Number, wall_m: Number, radius_m: Number, poisson: float) -> Number:
    """Moment at which a thin round tube flattens and kinks.

    Args:
        elastic_modulus_pa: stiffness [Pa], > 0.
        wall_m: wall thickness [m], > 0.
        radius_m: of the wall's middle surface [m], > 0.
        poisson: Poisson's ratio [-], 0 to 0.5.
    Returns:
        (2√2/9) π E r t²/√(1 − ν²) [N·m].
    Errors:
        ``out_of_domain``.
    Source:
        Brazier 1927; Timoshenko & Gere, Theory of Elastic Stability, 11 (from memory).
    """
    positive("elastic_modulus_pa", elastic_modulus_pa, "The stiffness")
    positive("wall_m", wall_m, "The wall")
    positive("radius_m", radius_m, "The radius")
    check_poisson(poisson)
    return 2 * math.sqrt(2) / 9 * math.pi * elastic_modulus_pa * radius_m * wall_m**2 / math.sqrt(1 - poisson**2)


JOINT_SCATTER = Bounds(0.75, 1.0, 1.3, "order of magnitude: one hand-made joint against the next")
CROOKED = Bounds(0.6, 0.85, 1.0, "order of magnitude: sticks are not straight and joints not in line")
BETWEEN = Bounds(1 / 12, 1 / 8, 1 / 4, "a fixed piece under a spread load to a hinged one under a load in one spot")
"""Largest bending of a loaded piece of the deck, over load times its length [-]: beam tables, see ``beams``."""
KINKS = Bounds(0.5, 0.7, 0.95, "order of magnitude: a straw with dents and seams against a perfect tube")


def bending_moment_nm(stock: Stock, pieces: int, samples: Samples, flat: bool = False) -> Number:
    """Moment at which a member breaks or kinks.

    Args:
        stock: a rod, stick or straw.
        pieces: how many lie side by side [-], at least 1.
        samples: seeded samples.
        flat: whether flat sticks lie flat under the load, instead of on edge.
    Returns:
        The moment, one per sample [N·m]. Sticks by their strength in pull, which is near what wood reaches in bending;
        straws by the lesser of their strengths, and never beyond their kink.
    Errors:
        ``out_of_domain``.
    Source:
        M y/I; modulus of rupture near tensile strength: Wood Handbook (from memory); ``brazier_moment_nm``.
    """
    member = member_of(stock, pieces)
    pull = samples.draw(stock.tension_pa, f"{stock.key} tension")
    modulus = member.modulus_in_plane_m3
    if stock.form is not Form.TUBE:
        if flat and stock.width_m:
            modulus = 2 * pieces * float(member_section(stock).second_moment_m4) / stock.thickness_m.typical
        return pull * modulus
    squeeze = samples.draw(stock.compression_pa, f"{stock.key} compression")
    wall = stock.thickness_m.typical
    stiff = samples.draw(stock.elastic_modulus_pa, f"{stock.key} modulus")
    kink = brazier_moment_nm(stiff, wall, (stock.width_m - wall) / 2, stock.poisson)
    return np.minimum(np.minimum(squeeze, pull) * modulus, pieces * kink * samples.draw(KINKS, "straw kinks"))


def chord_sway_n(bending_nm2: Number, length_m: float, foundation_pa: Number, waves: int = 12) -> Number:
    """Squeeze at which a chord that only its posts hold sideways sways out of the truss.

    Args:
        bending_nm2: E I of the chord, out of the truss's plane [N·m²], > 0.
        length_m: effective length between its held ends [m], > 0.
        foundation_pa: sideways stiffness that posts and diagonals give, by length of chord, N/m per m [Pa], >= 0.
        waves: most half waves looked at [-].
    Returns:
        min over m of E I (mπ/L)² + k (L/(mπ))² [N].
    Errors:
        ``out_of_domain``.
    Source:
        Bar on an elastic foundation, Timoshenko & Gere, Theory of Elastic Stability, 2.10; for chords of open bridges
        Engesser (from memory).
    """
    positive("bending_nm2", bending_nm2, "The chord's stiffness")
    positive("length_m", length_m, "The chord's length")
    not_negative("foundation_pa", foundation_pa, "What holds the chord")
    numbers = np.arange(1, waves + 1) * math.pi / length_m
    loads = np.multiply.outer(numbers**2, bending_nm2) + np.multiply.outer(numbers**-2, foundation_pa)
    return np.asarray(loads.min(axis=0)) if np.ndim(loads) > 1 else float(loads.min())


def joint_strength(joint: Stock, member: Stock, lap_m: float = USUAL_LAP_M) -> Bounds | None:
    """What the end of one member holds in its joint.

    Args:
        joint: what joins.
        member: a rod, stick or straw; a round one touches in half its thickness.
        lap_m: how far pieces lie on each other, where they are glued [m], > 0.
    Returns:
        The range [N]; None where it makes no joint.
    Errors:
        ``out_of_domain``.
    """
    if joint.shear_pa is None:
        return joint.joint_n
    flat = member.form is Form.ROD and member.width_m > 0
    deep = member.thickness_m.typical if flat or member.form is not Form.TUBE else member.width_m
    touching = member.width_m if flat else deep / 2
    lap_n = float(lap_strength_n(1.0, touching, lap_m, deep))
    return joint.shear_pa.scaled_to(joint.shear_pa.typical * lap_n)
