"""Hulls: their shapes, what they displace, and the best height of a wall."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np
from scipy import optimize

from girder_core.ground import Number, not_negative, positive, refuse
from girder_core.measure import format_length
from girder_core.physics.materials import Stock


class Planform(StrEnum):
    """Shape of a hull seen from above."""

    RECTANGLE = "rectangle"
    ELLIPSE = "ellipse"


@dataclass(frozen=True)
class Hull:
    """A hull whose length and beam grow evenly from bottom to rim.

    Attributes:
        planform: rectangle or ellipse.
        length_m, beam_m: outside, at the rim [m].
        bottom_length_m, bottom_beam_m: at the bottom [m].
        depth_m: bottom to rim [m].
        mass_kg: of the empty hull [kg].
        mass_centre_m: centre of its mass above the bottom [m].
        solid: whether it has no inside, as a raft.
    """

    planform: Planform
    length_m: float
    beam_m: float
    bottom_length_m: float
    bottom_beam_m: float
    depth_m: float
    mass_kg: float
    mass_centre_m: float
    solid: bool = False

    def __post_init__(self) -> None:
        positive("length_m", self.length_m, "The hull's length")
        positive("beam_m", self.beam_m, "The hull's width")
        if not (math.isfinite(self.depth_m) and self.depth_m > 0):
            raise refuse("wall_m", "A hull without walls holds no water out. Fold them up.", "no_wall")
        positive("mass_kg", self.mass_kg, "The hull's mass")

    @property
    def _fullness(self) -> float:
        return 1.0 if self.planform is Planform.RECTANGLE else math.pi / 4

    def holds_aside(self, offset_m: float) -> None:
        """Refuse cargo that would lie beside the hull [m]."""
        most = self.beam_m / 2
        if abs(offset_m) > most:
            raise refuse("offset_m", f"The hull is {format_length(self.beam_m)} wide: cargo lies at most "
                         f"{format_length(most)} from its middle, or it is in the water.")  # fmt: skip

    def size_at(self, height_m: Number) -> tuple[Number, Number]:
        """Length and beam at a height above the bottom, or at many [m]."""
        share = height_m / self.depth_m
        return (
            self.bottom_length_m + (self.length_m - self.bottom_length_m) * share,
            self.bottom_beam_m + (self.beam_m - self.bottom_beam_m) * share,
        )

    def waterplane_m2(self, height_m: Number) -> Number:
        """Area enclosed at a height above the bottom [m²]."""
        long, wide = self.size_at(height_m)
        return self._fullness * long * wide

    def waterplane_second_moment_m4(self, height_m: Number) -> Number:
        """Second moment of that area about the length axis [m⁴]: L B³/12, π L B³/64 for an ellipse."""
        long, wide = self.size_at(height_m)
        return long * wide**3 * (1 / 12 if self.planform is Planform.RECTANGLE else math.pi / 64)

    def displaced_m3(self, draft_m: Number) -> Number:
        """Volume below a waterline [m³]: the prismoidal rule, exact because sides are straight."""
        middle = self.waterplane_m2(draft_m / 2)
        return draft_m * (self.waterplane_m2(0.0) + 4 * middle + self.waterplane_m2(draft_m)) / 6

    def buoyancy_centre_m(self, draft_m: Number) -> Number:
        """Centre of the volume below a waterline, above the bottom [m]; Gauss's three points are exact here."""
        near, far = draft_m * (1 - math.sqrt(0.6)) / 2, draft_m * (1 + math.sqrt(0.6)) / 2
        low, middle, high = (self.waterplane_m2(z) for z in (near, draft_m / 2, far))
        moment = 5 * low * near + 8 * middle * draft_m / 2 + 5 * high * far
        return moment / (5 * low + 8 * middle + 5 * high)

    @property
    def volume_m3(self) -> float:
        """Volume up to the rim [m³]."""
        return float(self.displaced_m3(self.depth_m))

    def displacement_curve(self, points: int = 21) -> tuple[tuple[float, float], ...]:
        """Draft [m] and displaced volume [m³], from bottom to rim."""
        drafts = np.linspace(0, self.depth_m, points)
        return tuple((float(t), float(self.displaced_m3(float(t)))) for t in drafts)


def open_box(
    length_m: float,
    beam_m: float,
    wall_m: float,
    sheet_m: float,
    material: Stock,
) -> Hull:
    """A box folded from one sheet, its corners tucked so that the whole sheet floats.

    Args:
        length_m: outside length of the floor [m], > 0.
        beam_m: outside width of the floor [m], > 0.
        wall_m: height of its walls [m], > 0.
        sheet_m: thickness of the sheet [m], > 0.
        material: the sheet's stock, for its density.
    Returns:
        The hull; mass ρ t (L + 2h)(B + 2h).
    Errors:
        ``no_wall``; ``out_of_domain``.
    """
    positive("length_m", length_m, "The floor's length")
    positive("beam_m", beam_m, "The floor's width")
    if not wall_m > 0:
        raise refuse("wall_m", "A hull without walls holds no water out. Fold them up.", "no_wall")
    positive("sheet_m", sheet_m, "The sheet's thickness")
    areal = material.density_kg_m3.typical * sheet_m
    whole = areal * (length_m + 2 * wall_m) * (beam_m + 2 * wall_m)
    floor = areal * length_m * beam_m
    return Hull(
        Planform.RECTANGLE, length_m, beam_m, length_m, beam_m, wall_m, whole, (whole - floor) / whole * wall_m / 2
    )


def v_hull(length_m: float, beam_m: float, depth_m: float, sheet_m: float, material: Stock) -> Hull:
    """A hull with a V-shaped section and upright ends.

    Args:
        length_m: length [m], > 0.
        beam_m: width at the rim [m], > 0.
        depth_m: keel to rim [m], > 0.
        sheet_m: thickness of the sheet [m], > 0.
        material: the sheet's stock, for its density.
    Returns:
        The hull.
    Errors:
        ``no_wall``; ``out_of_domain``.
    """
    positive("sheet_m", sheet_m, "The sheet's thickness")
    areal = material.density_kg_m3.typical * sheet_m
    sides, ends = 2 * length_m * math.hypot(beam_m / 2, depth_m), beam_m * depth_m
    centre = (sides * depth_m / 2 + ends * depth_m * 2 / 3) / (sides + ends) if depth_m > 0 else 0.0
    return Hull(Planform.RECTANGLE, length_m, beam_m, length_m, 0.0, depth_m, areal * (sides + ends), centre)


def dish(rim_m: float, bottom_m: float, depth_m: float, sheet_m: float, material: Stock) -> Hull:
    """A round dish with straight sloping sides, such as one pressed from clay.

    Args:
        rim_m: diameter at the rim [m], > 0.
        bottom_m: diameter of the floor [m], >= 0, at most the rim.
        depth_m: floor to rim [m], > 0.
        sheet_m: thickness of floor and side [m], > 0.
        material: the stock, for its density.
    Returns:
        The hull.
    Errors:
        ``no_wall``; ``out_of_domain``.
    """
    not_negative("bottom_m", bottom_m, "The floor's diameter")
    positive("sheet_m", sheet_m, "The thickness")
    if bottom_m > rim_m:
        raise refuse("bottom_m", "The floor is wider than the rim; such a dish is not modelled. Make it narrower.")
    areal = material.density_kg_m3.typical * sheet_m
    floor = math.pi * bottom_m**2 / 4
    slant = math.hypot(depth_m, (rim_m - bottom_m) / 2)
    side = math.pi * (rim_m + bottom_m) / 2 * slant
    side_centre = depth_m / 3 * (bottom_m + 2 * rim_m) / (bottom_m + rim_m) if depth_m > 0 else 0.0
    return Hull(
        Planform.ELLIPSE, rim_m, rim_m, bottom_m, bottom_m, depth_m, areal * (floor + side),
        side * side_centre / (floor + side),
    )  # fmt: skip


def pressed_dish(rim_m: float, bottom_m: float, depth_m: float, sheet_m: float, material: Stock) -> Hull:
    """A round dish pressed from a round of sheet, its side in small pleats, so that the whole sheet floats.

    Args:
        rim_m: diameter at the rim [m], > 0.
        bottom_m: diameter of the floor [m], >= 0, at most the rim.
        depth_m: floor to rim [m], > 0.
        sheet_m: thickness of the sheet [m], > 0.
        material: the sheet's stock, for its density.
    Returns:
        The hull; mass ρ t π (d/2 + s)², with s the length of the side.
    Errors:
        ``no_wall``; ``out_of_domain``.
    """
    plain = dish(rim_m, bottom_m, depth_m, sheet_m, material)
    slant = math.hypot(depth_m, (rim_m - bottom_m) / 2)
    areal = material.density_kg_m3.typical * sheet_m
    floor, whole = areal * math.pi * bottom_m**2 / 4, areal * math.pi * (bottom_m / 2 + slant) ** 2
    # A ring of the sheet at r lies at (r − floor) up the side: more of it the farther out.
    inner, outer = bottom_m / 2, bottom_m / 2 + slant
    up = (2 / 3 * (outer**3 - inner**3) - inner * (outer**2 - inner**2)) / (outer**2 - inner**2)
    return replace(plain, mass_kg=whole, mass_centre_m=(whole - floor) / whole * up * depth_m / slant)


def raft(length_m: float, beam_m: float, thickness_m: float, material: Stock) -> Hull:
    """A solid slab that floats because it is lighter than water.

    Args:
        length_m: length [m], > 0.
        beam_m: width [m], > 0.
        thickness_m: height [m], > 0.
        material: the stock, for its density.
    Returns:
        The hull.
    Errors:
        ``out_of_domain``.
    """
    positive("thickness_m", thickness_m, "The raft's thickness")
    mass = material.density_kg_m3.typical * length_m * beam_m * thickness_m
    return Hull(Planform.RECTANGLE, length_m, beam_m, length_m, beam_m, thickness_m, mass, thickness_m / 2, solid=True)


def best_open_box(sheet_side_m: float, freeboard_m: float = 0.0, other_side_m: float | None = None) -> float:
    """Wall height that lets a box folded from one sheet carry most.

    Args:
        sheet_side_m: side of the sheet [m], > 0.
        freeboard_m: wall that must stay above water [m], >= 0, less than half the shorter side.
        other_side_m: the other side of a rectangular sheet [m]; a square when left out.
    Returns:
        The wall's height [m]: (side + 4·freeboard)/6 for a square, by search for a rectangle.
    Errors:
        ``out_of_domain``.
    Source:
        Largest (h − f)(a − 2h)(b − 2h); for a square its derivative vanishes at (a + 4f)/6.
    """
    positive("sheet_side_m", sheet_side_m, "The sheet's side")
    other = sheet_side_m if other_side_m is None else other_side_m
    positive("other_side_m", other, "The sheet's other side")
    half = min(sheet_side_m, other) / 2
    if not 0 <= freeboard_m < half:
        raise refuse("freeboard_m", "The freeboard must be less than half the sheet's shorter side.")
    if other == sheet_side_m:
        return (sheet_side_m + 4 * freeboard_m) / 6
    least = optimize.minimize_scalar(
        lambda h: -(h - freeboard_m) * (sheet_side_m - 2 * h) * (other - 2 * h),
        bounds=(freeboard_m, half),
        method="bounded",
        options={"xatol": 1e-9},
    )
    return float(least.x)
