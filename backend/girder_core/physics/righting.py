"""A hull that lies over: what it displaces below a level plane at any heel, and how far that turns it back.

Heel turns the hull about its length, the side of positive y downwards. A point (y, z) of the section then stands at a
height of z cos φ − y sin φ, and to the side at y cos φ + z sin φ. The section is cut at the water as it is; nothing is
taken to be small.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from girder_core.ground import Number
from girder_core.physics.hulls import Hull, Planform

Numbers = NDArray[np.float64]

_NODES = {Planform.RECTANGLE: np.polynomial.legendre.leggauss(3), Planform.ELLIPSE: np.polynomial.legendre.leggauss(16)}
"""Points and weights of Gauss's rule in each stretch of height: exact for straight sides, to a part in 10⁴ for round
ones."""
_UPRIGHT = 1e-9
"""A hull is cut at no less than this heel [rad], so that there is a waterline to cut along."""


def wetted(hull: Hull, heel_rad: Number, level_m: Number) -> tuple[Numbers, Numbers, Numbers]:
    """What lies below the water.

    Args:
        hull: the hull, closed by its rim.
        heel_rad: heel, or many [rad], 0 to π/2.
        level_m: height of the water over the middle of the bottom, measured upright, or many [m].
    Returns:
        Volume [m³] and its first moments to the side and in height [m⁴], about the middle of the bottom.
    Source:
        Integrals over level slices of the upright hull, in stretches between the heights at which the waterline meets
        its sides.
    """
    heel, level = np.broadcast_arrays(np.maximum(heel_rad, _UPRIGHT), np.asarray(level_m, float))
    sine, cosine = np.sin(heel), np.cos(heel)
    floor, grow = hull.bottom_beam_m / 2, (hull.beam_m - hull.bottom_beam_m) / 2 / hull.depth_m
    with np.errstate(divide="ignore", invalid="ignore"):
        low, high = (level - floor * sine) / (cosine + grow * sine), (level + floor * sine) / (cosine - grow * sine)
    meets = [np.clip(np.nan_to_num(at, nan=0.0, posinf=hull.depth_m, neginf=0.0), 0.0, hull.depth_m)
             for at in (low, high)]  # fmt: skip
    edges = np.sort(np.stack([np.zeros_like(level), *meets, np.full_like(level, hull.depth_m)]), axis=0)
    nodes, weights = _NODES[hull.planform]
    width = np.diff(edges, axis=0)[..., None]
    z = edges[:-1][..., None] + width * (nodes + 1) / 2
    long, wide = (np.asarray(size) for size in hull.size_at(z))
    half = wide / 2
    cut = np.clip((z * cosine[..., None] - level[..., None]) / sine[..., None], -half, half)
    if hull.planform is Planform.RECTANGLE:
        area, aside = long * (half - cut), long * (half**2 - cut**2) / 2
    else:
        chord = np.sqrt(np.maximum(half**2 - cut**2, 0.0))
        with np.errstate(divide="ignore", invalid="ignore"):
            angle = np.arccos(np.clip(np.nan_to_num(cut / half), -1.0, 1.0))
            stretched = np.nan_to_num(long / wide)
        area, aside = stretched * (half**2 * angle - cut * chord), stretched * 2 / 3 * chord**3

    def summed(values: Numbers) -> Numbers:
        return np.asarray((values * weights * width / 2).sum((0, -1)))

    return summed(area), summed(aside), summed(area * z)


def rim_level_m(hull: Hull, heel_rad: Number) -> Numbers:
    """Height of the water at which it comes over the low rim.

    Args:
        hull: the hull.
        heel_rad: heel, or many [rad].
    Returns:
        As ``wetted`` takes it [m].
    """
    return np.asarray(hull.depth_m * np.cos(heel_rad) - hull.beam_m / 2 * np.sin(heel_rad))


def reach_m(hull: Hull, heel_rad: Number) -> tuple[Numbers, Numbers]:
    """Heights of the lowest and the highest corner of the section.

    Args:
        hull: the hull.
        heel_rad: heel, or many [rad].
    Returns:
        As ``wetted`` takes them [m].
    """
    corners = ((hull.bottom_beam_m / 2, 0.0), (hull.beam_m / 2, hull.depth_m))
    heights = [z * np.cos(heel_rad) + side * y * np.sin(heel_rad) for y, z in corners for side in (-1, 1)]
    return np.min(heights, axis=0), np.max(heights, axis=0)


def levels_at(hull: Hull, volume_m3: float, heel_rad: Number) -> Numbers:
    """Where the water stands at each heel.

    Args:
        hull: the hull.
        volume_m3: what it pushes aside [m³], less than it holds.
        heel_rad: heel, or many [rad].
    Returns:
        Height of the water, as ``wetted`` takes it [m].
    """
    heel = np.atleast_1d(np.asarray(heel_rad, float))
    lowest, highest = reach_m(hull, heel)
    # Between two of many levels, then along the chord (Illinois, so that neither end stays behind).
    levels = lowest[:, None] + (highest - lowest)[:, None] * np.linspace(0, 1, 33)
    over = wetted(hull, heel[:, None], levels)[0] - volume_m3
    at, row = np.clip((over < 0).sum(1), 1, 32), np.arange(len(heel))
    low, high, under, above = levels[row, at - 1], levels[row, at], over[row, at - 1], over[row, at]
    before = np.zeros(len(heel), int)
    for _ in range(10):
        with np.errstate(divide="ignore", invalid="ignore"):
            middle = np.nan_to_num(low - under * (high - low) / (above - under), nan=0.0)
        middle = np.clip(middle, low, high)
        left = wetted(hull, heel, middle)[0] - volume_m3
        less = left < 0
        side = np.where(less, -1, 1)
        stays = np.where(side == before, 0.5, 1.0)
        under, above, before = np.where(less, left, under * stays), np.where(less, above * stays, left), side
        low, high = np.where(less, middle, low), np.where(less, high, middle)
    return np.asarray(middle)


def lever_m(hull: Hull, volume_m3: float, heel_rad: Number) -> Numbers:
    """How far to the side of the middle of the bottom the water that is pushed aside pushes back.

    Args:
        hull: the hull.
        volume_m3: what it pushes aside [m³].
        heel_rad: heel, or many [rad].
    Returns:
        The lever of the cross curves of stability, KN [m].
    Source:
        Rawson & Tupper, Basic Ship Theory, 4.5 (from memory).
    """
    heel = np.atleast_1d(np.asarray(heel_rad, float))
    volume, aside, above = wetted(hull, heel, levels_at(hull, volume_m3, heel))
    return np.asarray((aside * np.cos(heel) + above * np.sin(heel)) / volume)
