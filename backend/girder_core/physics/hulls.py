"""Hulls: their shapes, how deep they sit, whether they stay upright, and the best height of a wall."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from scipy import optimize

from girder_core.ground import GirderError, Number, not_negative, positive, refuse
from girder_core.measure import format_mass
from girder_core.physics.materials import Stock

FRESH_WATER_KG_M3 = 998.2
"""At 20 °C; Tanaka et al. 2001 gives 998.207 (from memory)."""
SEA_WATER_KG_M3 = 1025.0
"""Usual value for sea water at 15 °C and 35 g/kg salt; common practice."""


def water_density_kg_m3(temperature_c: float, salt: bool = False) -> float:
    """Density of water.

    Args:
        temperature_c: of the water [°C], 0 to 40.
        salt: sea water of 35 g/kg instead of fresh: 26.3 kg/m³ more, taken as constant within 0.3 %.
    Returns:
        Density [kg/m³].
    Errors:
        ``out_of_domain``.
    Source:
        Tanaka et al., Recommended table for the density of water, Metrologia 38 (2001) 301 (from memory).
    """
    if not 0 <= temperature_c <= 40:
        raise refuse("temperature_c", "Water in a classroom is between 0 and 40 °C.")
    t = temperature_c
    fresh = 999.974950 * (1 - (t - 3.983035) ** 2 * (t + 301.797) / (522528.9 * (t + 69.34881)))
    return fresh + (26.3 if salt else 0.0)


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


def payload_to_rim_kg(hull: Hull, water_density_kg_m3: float = FRESH_WATER_KG_M3, freeboard_m: float = 0.0) -> float:
    """Cargo at which the water reaches the rim, or a freeboard below it.

    Args:
        hull: the hull.
        water_density_kg_m3: [kg/m³], > 0.
        freeboard_m: how much wall is to stay above water [m], 0 to the depth.
    Returns:
        Cargo [kg]: what it displaces less its own mass; below zero when it does not even float empty.
    Errors:
        ``out_of_domain``.
    Source:
        Archimedes. Level, calm water.
    """
    positive("water_density_kg_m3", water_density_kg_m3, "The water's density")
    if not 0 <= freeboard_m <= hull.depth_m:
        raise refuse("freeboard_m", "The freeboard must lie between nothing and the wall's height.")
    return float(water_density_kg_m3 * hull.displaced_m3(hull.depth_m - freeboard_m) - hull.mass_kg)


def draft_m(hull: Hull, load_kg: float, water_density_kg_m3: float = FRESH_WATER_KG_M3) -> float:
    """How deep the hull sits.

    Args:
        hull: the hull.
        load_kg: cargo [kg], >= 0.
        water_density_kg_m3: [kg/m³], > 0.
    Returns:
        Draft [m], level.
    Errors:
        ``sinks`` when cargo and hull outweigh what it can displace.
    Source:
        Archimedes.
    """
    not_negative("load_kg", load_kg, "The cargo")
    most = payload_to_rim_kg(hull, water_density_kg_m3)
    if load_kg > most:
        words = f"It sinks: it can carry {format_mass(max(most, 0.0))}."
        raise GirderError("sinks", words if most > 0 else "It sinks even without cargo.", field="load_kg",
                          fields={"load_kg": words}, most_kg=most)  # fmt: skip
    volume = (hull.mass_kg + load_kg) / water_density_kg_m3
    return float(
        optimize.brentq(
            lambda t: hull.displaced_m3(t) - volume, 0.0, hull.depth_m * (1 + 1e-12), xtol=1e-15, rtol=1e-14
        )
    )


def freeboard_m(hull: Hull, load_kg: float, water_density_kg_m3: float = FRESH_WATER_KG_M3) -> float:
    """How much wall is above the water.

    Args:
        hull: the hull.
        load_kg: cargo [kg], >= 0.
        water_density_kg_m3: [kg/m³], > 0.
    Returns:
        Freeboard [m], level.
    Errors:
        ``sinks``.
    """
    return hull.depth_m - draft_m(hull, load_kg, water_density_kg_m3)


@dataclass(frozen=True)
class Afloat:
    """How a loaded hull floats, upright.

    Attributes:
        draft_m: [m].
        freeboard_m: [m].
        buoyancy_m: KB, centre of the displaced water above the bottom [m].
        mass_centre_m: KG, centre of hull and cargo together above the bottom [m].
        metacentric_radius_m: BM = I/V [m].
        metacentric_height_m: GM = KB + BM − KG [m]; below zero it is not stable upright.
    """

    draft_m: float
    freeboard_m: float
    buoyancy_m: float
    mass_centre_m: float
    metacentric_radius_m: float
    metacentric_height_m: float


def afloat(
    hull: Hull, load_kg: float, cargo_height_m: float = 0.0, water_density_kg_m3: float = FRESH_WATER_KG_M3
) -> Afloat:
    """How a loaded hull floats, upright.

    Args:
        hull: the hull.
        load_kg: cargo [kg], >= 0.
        cargo_height_m: centre of the cargo above the bottom [m], >= 0.
        water_density_kg_m3: [kg/m³], > 0.
    Returns:
        Draft, centres and metacentric height.
    Errors:
        ``sinks``; ``out_of_domain``.
    Source:
        Any text of naval architecture, such as Rawson & Tupper, Basic Ship Theory, ch. 3 and 4 (from memory).
    """
    not_negative("cargo_height_m", cargo_height_m, "The height of the cargo")
    draft = draft_m(hull, load_kg, water_density_kg_m3)
    total = hull.mass_kg + load_kg
    centre = (hull.mass_kg * hull.mass_centre_m + load_kg * cargo_height_m) / total
    buoyancy = float(hull.buoyancy_centre_m(draft))
    radius = float(hull.waterplane_second_moment_m4(draft) / hull.displaced_m3(draft))
    return Afloat(draft, hull.depth_m - draft, buoyancy, centre, radius, buoyancy + radius - centre)


def metacentric_height_m(
    hull: Hull, load_kg: float, cargo_height_m: float = 0.0, water_density_kg_m3: float = FRESH_WATER_KG_M3
) -> float:
    """How strongly a loaded hull rights itself at small heel.

    Args:
        hull: the hull.
        load_kg: cargo [kg], >= 0.
        cargo_height_m: centre of the cargo above the bottom [m], >= 0.
        water_density_kg_m3: [kg/m³], > 0.
    Returns:
        GM = KB + BM − KG [m].
    Errors:
        ``sinks``; ``out_of_domain``.
    """
    return afloat(hull, load_kg, cargo_height_m, water_density_kg_m3).metacentric_height_m


@dataclass(frozen=True)
class Heel:
    """How far a hull lies over.

    Attributes:
        angle_deg: heel [°], the wall-sided value.
        small_angle_deg: by GM alone [°]; meaningless for GM <= 0.
        small: whether the two agree within 2 %.
        rim_angle_deg: heel at which the rim goes under [°].
        swamps: whether the heel reaches it.
    """

    angle_deg: float
    small_angle_deg: float
    small: bool
    rim_angle_deg: float
    swamps: bool


def rim_angle_deg(hull: Hull, draft: float) -> float:
    """Heel at which the low rim reaches the water.

    Args:
        hull: a box-like hull; others are taken as a box of the beam at the waterline.
        draft: upright draft, above zero [m].
    Returns:
        tan φ = 2(D − T)/B while the bottom corner stays wet, else D²/(2 B T) [°].
    Errors:
        ``out_of_domain``.
    Source:
        Areas of the submerged section.
    """
    positive("draft", draft, "The draft")
    beam, depth = hull.beam_m, hull.depth_m
    if 2 * (depth - draft) / beam <= 2 * draft / beam:
        slope = 2 * (depth - draft) / beam
    else:
        slope = depth**2 / (2 * beam * draft)
    return math.degrees(math.atan(slope))


def heel_deg(
    hull: Hull,
    load_kg: float,
    offset_m: float,
    cargo_height_m: float = 0.0,
    water_density_kg_m3: float = FRESH_WATER_KG_M3,
) -> Heel:
    """How far cargo off centre heels a hull.

    Args:
        hull: the hull.
        load_kg: cargo [kg], >= 0.
        offset_m: centre of the cargo beside the middle [m].
        cargo_height_m: centre of the cargo above the bottom [m], >= 0.
        water_density_kg_m3: [kg/m³], > 0.
    Returns:
        The heel by the wall-sided formula (GM + ½ BM tan² φ) tan φ = w d/m, true while sides are upright and the rim
        stays dry.
    Errors:
        ``sinks``; ``out_of_domain``.
    Source:
        Rawson & Tupper, Basic Ship Theory, 4.4 (from memory).
    """
    state = afloat(hull, load_kg, cargo_height_m, water_density_kg_m3)
    lever = load_kg * abs(offset_m) / (hull.mass_kg + load_kg)
    gm, bm = state.metacentric_height_m, state.metacentric_radius_m
    roots = np.roots([bm / 2, 0.0, gm, -lever])
    real = [float(r.real) for r in roots if abs(r.imag) < 1e-9 * (1 + abs(r.real))]
    angle = math.degrees(math.atan(max(real, default=0.0)))
    plain = math.degrees(math.atan(lever / gm)) if gm > 0 else math.inf
    rim = rim_angle_deg(hull, state.draft_m)
    close = abs(angle - plain) <= 0.02 * max(angle, 1e-9)
    return Heel(angle, plain, close, rim, angle >= rim)


class Stability(StrEnum):
    """What an upright loaded hull does by itself."""

    UPRIGHT = "upright"
    LOLLS = "lolls"
    CAPSIZES = "capsizes"


@dataclass(frozen=True)
class Verdict:
    """Whether a hull stays upright.

    Attributes:
        stability: upright, lolls (lies over to an angle and stays), or capsizes.
        angle_deg: heel it settles at [°]; 0 upright, 90 when it capsizes.
        says: the same in a sentence.
    """

    stability: Stability
    angle_deg: float
    says: str


def capsizes(
    hull: Hull,
    load_kg: float,
    cargo_height_m: float = 0.0,
    offset_m: float = 0.0,
    water_density_kg_m3: float = FRESH_WATER_KG_M3,
) -> Verdict:
    """Whether a loaded hull stays upright, lolls, or goes over.

    Args:
        hull: the hull.
        load_kg: cargo [kg], >= 0.
        cargo_height_m: centre of the cargo above the bottom [m], >= 0.
        offset_m: centre of the cargo beside the middle [m].
        water_density_kg_m3: [kg/m³], > 0.
    Returns:
        The verdict. With GM < 0 it settles at the loll angle atan √(−2 GM/BM), or swamps if its rim is under by then.
    Errors:
        ``sinks``; ``out_of_domain``.
    Source:
        Rawson & Tupper, Basic Ship Theory, 4.4 (from memory).
    """
    state = afloat(hull, load_kg, cargo_height_m, water_density_kg_m3)
    heel = heel_deg(hull, load_kg, offset_m, cargo_height_m, water_density_kg_m3)
    if heel.swamps:
        why = "it is not stable upright" if state.metacentric_height_m < 0 else "the cargo lies off centre"
        return Verdict(Stability.CAPSIZES, 90.0, f"It goes over: {why}, and its rim is under water at "
                       f"{heel.rim_angle_deg:.0f}°.")  # fmt: skip
    if state.metacentric_height_m < 0:
        return Verdict(Stability.LOLLS, heel.angle_deg, "It is not stable upright and lies over at "
                       f"{heel.angle_deg:.0f}°. Make it wider or lower the cargo.")  # fmt: skip
    words = f" and heels by {heel.angle_deg:.0f}°" if heel.angle_deg >= 0.5 else ""
    return Verdict(Stability.UPRIGHT, heel.angle_deg, f"It stays upright{words}.")


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
    found = optimize.minimize_scalar(
        lambda h: -(h - freeboard_m) * (sheet_side_m - 2 * h) * (other - 2 * h),
        bounds=(freeboard_m, half),
        method="bounded",
        options={"xatol": 1e-9},
    )
    return float(found.x)


def payload_in_items(payload_kg: float, item_kg: float) -> int:
    """How many whole load items a payload is.

    Args:
        payload_kg: cargo [kg], >= 0.
        item_kg: mass of one item [kg], > 0.
    Returns:
        The number, rounded down.
    Errors:
        ``out_of_domain``.
    """
    not_negative("payload_kg", payload_kg, "The cargo")
    positive("item_kg", item_kg, "The mass of one")
    return math.floor(payload_kg / item_kg + 1e-9)
