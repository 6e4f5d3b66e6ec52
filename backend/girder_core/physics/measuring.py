"""What a class measures of a stock: grammage, thickness, and stiffness from how far a strip droops."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy import integrate, optimize

from girder_core.ground import GRAVITY_M_S2, positive, refuse, whole
from girder_core.measure import Quantity, format_length, resolution_uncertainty
from girder_core.physics.materials import Bounds, Stock

SHEET_DENSITY = (250.0, 1500.0)
"""Density of papers and cards [kg/m³], generous on both sides; what lies outside was typed in another unit."""


def own_sheet(key: str, name: str, grammage_kg_m2: float, thickness_m: float, like: Stock) -> Stock:
    """A sheet of the teacher's own, with the stiffness and strength of a similar one.

    Args:
        key: stable name.
        name: what people call it.
        grammage_kg_m2: mass by area [kg/m²], > 0.
        thickness_m: of one sheet [m], > 0.
        like: the stock whose stiffness and strength ranges are taken, widened by a fifth.
    Returns:
        The stock.
    Errors:
        ``out_of_domain``, also when mass and thickness do not fit together, as when centimetres were typed.
    """
    positive("grammage_kg_m2", grammage_kg_m2, "The mass by area")
    positive("thickness_m", thickness_m, "The thickness")
    density = grammage_kg_m2 / thickness_m
    low, high = SHEET_DENSITY
    if like.density_kg_m3.typical > high:
        low, high = like.density_kg_m3.low / 1.15, like.density_kg_m3.high * 1.15
    if not low <= density <= high:
        guess = "thinner" if density < low else "thicker"
        raise refuse(
            "thickness_m",
            f"A sheet of {grammage_kg_m2 * 1e3:.0f} g/m² that is {format_length(thickness_m)} thick would weigh "
            f"{density:.3g} kg/m³; sheets weigh {low:.0f} to {high:.0f}. It should be {guess}: was the thickness typed "
            "in centimetres instead of millimetres, or is it of a stack?",
        )

    def wider(bounds: Bounds) -> Bounds:
        return Bounds(bounds.low / 1.2, bounds.typical, bounds.high * 1.2, f"like {like.name}")

    return replace(
        like,
        key=key,
        name=name,
        density_kg_m3=Bounds.about(density, 1.03, "typed"),
        thickness_m=Bounds.about(thickness_m, 1.05, "typed"),
        elastic_modulus_pa=wider(like.elastic_modulus_pa),
        compression_pa=wider(like.compression_pa),
        tension_pa=wider(like.tension_pa),
        measured=False,
    )


def grammage_from_sheets(
    mass_kg: float, sheets: int, width_m: float, length_m: float, scale_resolution_kg: float
) -> Quantity:
    """Mass by area of a sheet, from a few weighed together.

    Args:
        mass_kg: what the scale shows for all [kg], > 0.
        sheets: how many lie on it [-], at least 1; ten make a whole-gram scale good enough.
        width_m: of a sheet [m], > 0.
        length_m: of a sheet [m], > 0.
        scale_resolution_kg: the scale's step [kg], >= 0.
    Returns:
        Grammage [kg/m²] with the uncertainty that the scale leaves; cut sizes are taken as exact to a millimetre.
    Errors:
        ``out_of_domain``; ``too_light`` when the reading is below ten steps of the scale.
    Source:
        ISO 536 weighs conditioned sheets likewise (from memory); JCGM 100:2008, F.2.2.1.
    """
    positive("mass_kg", mass_kg, "The mass")
    whole("sheets", sheets, 1, "The number of sheets")
    positive("width_m", width_m, "The width")
    positive("length_m", length_m, "The length")
    if mass_kg < 10 * scale_resolution_kg:
        raise refuse("mass_kg", "That is fewer than ten steps of the scale. Weigh more sheets together.", "too_light")
    area = Quantity(width_m, 0.001 / math.sqrt(12)) * Quantity(length_m, 0.001 / math.sqrt(12)) * sheets
    return Quantity(mass_kg, resolution_uncertainty(scale_resolution_kg)) / area


CALLIPER_STEP_M = 1e-4
"""Step of a calliper, or of a ruler read to a tenth of a millimetre [m]."""
STATED_DOUBT = 0.03
"""Relative standard uncertainty of a grammage that is stated and not weighed; order of magnitude."""


def thickness_from_stack(stack_m: float, sheets: int) -> Quantity:
    """Thickness of a sheet, from a stack of them between two blocks.

    Args:
        stack_m: thickness of the stack [m], > 0.
        sheets: how many lie in it [-], at least 1.
    Returns:
        Thickness of one [m], with the uncertainty that the calliper's step leaves.
    Errors:
        ``out_of_domain``.
    Source:
        ISO 534 measures single sheets and stacks likewise (from memory); JCGM 100:2008, F.2.2.1.
    """
    positive("thickness_m", stack_m, "The stack's thickness")
    whole("sheets", sheets, 1, "The number of sheets")
    return Quantity(stack_m, resolution_uncertainty(CALLIPER_STEP_M)) / sheets


def stated_grammage(grammage_kg_m2: float) -> Quantity:
    """Mass by area as printed on the pack.

    Args:
        grammage_kg_m2: as stated [kg/m²], > 0.
    Returns:
        The same with a standard uncertainty of 3 %.
    Errors:
        ``out_of_domain``.
    """
    positive("grammage_kg_m2", grammage_kg_m2, "The mass by area")
    return Quantity(grammage_kg_m2, STATED_DOUBT * grammage_kg_m2)


BASIS_SHEET_M2 = {"bond": 17 * 22 * 0.0254**2, "cover": 20 * 26 * 0.0254**2, "index": 25.5 * 30.5 * 0.0254**2}
"""Sheet sizes that US basis weights refer to [m²] (from memory)."""


def grammage_from_basis_weight(pounds: float, grade: str) -> float:
    """Mass by area of paper that is sold by its US basis weight.

    Args:
        pounds: mass of 500 basis sheets [lb], > 0.
        grade: ``bond`` (copy paper), ``cover`` or ``index``.
    Returns:
        Grammage [kg/m²].
    Errors:
        ``out_of_domain``.
    Source:
        US basis sizes (from memory); 1 lb = 0.45359237 kg.
    """
    positive("pounds", pounds, "The basis weight")
    if grade not in BASIS_SHEET_M2:
        raise refuse("grade", "Basis weights are known for bond, cover and index.")
    return pounds * 0.45359237 / (500 * BASIS_SHEET_M2[grade])


@dataclass(frozen=True)
class Droop:
    """What an overhanging strip tells.

    Attributes:
        angle_deg: slope of the line from the table's edge to the tip [°].
        bending_length_m: (G/w g)^(1/3), Peirce's measure of how stiff it is for its weight [m].
        rigidity_nm: bending stiffness of a strip of unit width [N·m].
        modulus_pa: stiffness of the material, with its uncertainty [Pa].
    """

    angle_deg: float
    bending_length_m: float
    rigidity_nm: float
    modulus_pa: Quantity


MODEL_DOUBT = 0.05
"""Relative standard uncertainty that curl and creep leave; order of magnitude."""
STEEPEST = 0.9
"""Droop over overhang up to which stiffness is told [-]."""


@lru_cache(maxsize=512)
def droop_number(droop_share: float) -> tuple[float, float]:
    """How soft an overhanging strip is for its weight and length, by how far it droops.

    Args:
        droop_share: droop of the tip over the length that hangs over [-], above 0 and below 1.
    Returns:
        B = w L³/G [-], w its weight by area and G its rigidity, and the slope of the line from edge to tip [rad].
    Errors:
        ``out_of_domain``.
    Source:
        The heavy elastica, G φ'' = −w (L − s) cos φ (Bickley 1934, from memory). From the tip, with τ = s B^⅓, it is
        φ'' = −τ cos φ whatever B is: the slope at the tip is looked for, B is where the strip lies level.
    """
    if not 0 < droop_share < 1:
        raise refuse("droop_m", "A strip droops, and by less than its length.")

    def hangs(tip: float) -> tuple[float, float, float]:
        path = integrate.solve_ivp(
            lambda t, y: (y[1], -t * math.cos(y[0]), math.sin(y[0]), math.cos(y[0])), (0, 400), (tip, 0.0, 0.0, 0.0),
            events=_level, method="DOP853", rtol=1e-8, atol=1e-10,
        )  # fmt: skip
        far, down, out = float(path.t[-1]), float(path.y[2, -1]), float(path.y[3, -1])
        return far, down / far, math.atan2(down, out)

    # Soft strips hang almost straight: the tip's slope from the right angle, by its logarithm.
    right = math.pi / 2
    short = optimize.brentq(
        lambda log: hangs(right - math.exp(log))[1] - droop_share, math.log(1e-12), math.log(right - 1e-6), xtol=1e-9
    )
    far, _, slope = hangs(right - math.exp(short))
    return far**3, slope


def _level(_: float, y: NDArray[np.float64]) -> float:
    return float(y[0])


_level.terminal = True  # type: ignore[attr-defined]


def droop_stiffness(
    overhang_m: float,
    droop_m: float,
    grammage_kg_m2: Quantity,
    thickness_m: Quantity,
    ruler_step_m: float = 0.001,
) -> Droop:
    """Stiffness of a sheet from how far a strip droops over the edge of a table.

    Args:
        overhang_m: length of strip beyond the edge, along the strip [m], > 0.
        droop_m: how far its tip lies below the table top [m], > 0.
        grammage_kg_m2: mass by area [kg/m²].
        thickness_m: of the sheet [m].
        ruler_step_m: finest division of the ruler [m], > 0.
    Returns:
        Rigidity G = w g L³/B with B from ``droop_number``, bending length (G/w g)^(1/3), modulus E = 12 G/t³; the angle
        is that of the line from the table's edge to the tip.
    Errors:
        ``droop_out_of_range``: droop less than a tenth of the overhang reads badly, and more than 0.9 of it hangs so
        steeply that a millimetre says nothing of the stiffness.
    Source:
        A heavy elastica; the cantilever test is F. T. Peirce, The "handle" of cloth as a measurable quantity, J.
        Textile Inst. 21 (1930) T377, whose own formula for it is empirical (from memory).
    """
    positive("overhang_m", overhang_m, "The overhang")
    positive("droop_m", droop_m, "The droop")
    positive("ruler_step_m", ruler_step_m, "The ruler's step")
    if not 0.1 <= droop_m / overhang_m <= STEEPEST:
        longer = droop_m < 0.1 * overhang_m
        raise refuse(
            "droop_m",
            "It droops too little to be read well. Let more of the strip hang over."
            if longer
            else "It hangs down too steeply to tell its stiffness. Let less of the strip hang over.",
            "droop_out_of_range",
        )
    positive("thickness_m", thickness_m.value, "The thickness")
    positive("grammage_kg_m2", grammage_kg_m2.value, "The mass by area")

    weight_n_m2 = grammage_kg_m2.value * GRAVITY_M_S2

    def rigidity_of(length: float, droop: float) -> float:
        return weight_n_m2 * length**3 / droop_number(droop / length)[0]

    rigidity = rigidity_of(overhang_m, droop_m)
    angle, bending = droop_number(droop_m / overhang_m)[1], (rigidity / weight_n_m2) ** (1 / 3)
    value = 12 * rigidity / thickness_m.value**3
    # Each reading has two ends on the ruler; its share of the uncertainty by finite difference.
    step = ruler_step_m * math.sqrt(2) / math.sqrt(12)
    by_length = rigidity_of(overhang_m + step, droop_m) / rigidity - 1
    by_droop = rigidity_of(overhang_m, droop_m - step) / rigidity - 1
    relative = math.sqrt(
        by_length**2 + by_droop**2 + grammage_kg_m2.relative**2 + (3 * thickness_m.relative) ** 2 + MODEL_DOUBT**2
    )
    return Droop(math.degrees(angle), bending, rigidity, Quantity(value, value * relative))


def with_stiffness(stock: Stock, modulus_pa: Quantity) -> Stock:
    """A stock whose stiffness was measured here.

    Args:
        stock: as it was.
        modulus_pa: measured stiffness [Pa].
    Returns:
        The stock with a range of two standard uncertainties, and strengths moved with the stiffness by its square
        root, because stiffer papers are stronger, if less so.
    Errors:
        ``out_of_domain`` when the measured stiffness is far from any of its kind.
    """
    before = stock.elastic_modulus_pa
    if not before.low / 4 <= modulus_pa.value <= before.high * 4:
        raise refuse(
            "droop_m",
            f"That makes {modulus_pa.value / 1e9:.2g} GPa, far from {before.low / 1e9:.2g} to {before.high / 1e9:.2g} "
            f"GPa of {stock.name}. Check lengths and units.",
        )
    factor = 1 + min(2.0, 2 * modulus_pa.relative)
    moved = math.sqrt(modulus_pa.value / before.typical)
    return replace(
        stock,
        elastic_modulus_pa=Bounds.about(modulus_pa.value, factor, "measured by droop"),
        compression_pa=stock.compression_pa.scaled_to(stock.compression_pa.typical * moved),
        tension_pa=stock.tension_pa.scaled_to(stock.tension_pa.typical * moved),
        measured=True,
    )
