"""Materials of the classroom: ranges of what they weigh and withstand, and two tests that measure a stock.

No value here was looked up: each range names where it is remembered from, or that it is an order of magnitude, and is
wide for that reason. A teacher who needs better measures the stock: ``grammage_from_sheets`` and ``droop_stiffness``.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy import integrate, optimize

from girder_core.ground import GRAVITY_M_S2, GirderError, Number, positive, refuse, whole
from girder_core.measure import Quantity, format_length, resolution_uncertainty


@dataclass(frozen=True)
class Bounds:
    """A stated range: low, typical, high, in one SI unit, all above zero; and where it comes from."""

    low: float
    typical: float
    high: float
    source: str = ""

    def __post_init__(self) -> None:
        if not all(math.isfinite(value) and value > 0 for value in (self.low, self.typical, self.high)):
            raise GirderError("bad_range", "A range needs three values above zero.")
        if not self.low <= self.typical <= self.high:
            raise GirderError("bad_range", "A range goes from low over typical to high.")

    def scaled_to(self, typical: float) -> Bounds:
        """The same relative range about another typical value."""
        share = typical / self.typical
        return Bounds(self.low * share, typical, self.high * share, self.source)


class Form(StrEnum):
    """What a stock comes as."""

    SHEET = "sheet"
    ROD = "rod"
    TUBE = "tube"
    LINE = "line"
    TAPE = "tape"
    JOINT = "joint"
    SOLID = "solid"
    BLOCK = "block"
    BOARD = "board"


@dataclass(frozen=True)
class Stock:
    """A material as it lies on the table.

    Attributes:
        key, name: stable name; what people call it.
        form: what it comes as.
        density_kg_m3: mass by volume of the solid or of the sheet as it is [kg/m³].
        thickness_m: of a sheet or a tube's wall; diameter of a rod; depth of a stick [m].
        elastic_modulus_pa: stiffness [Pa], in its strong direction.
        compression_pa, tension_pa: strength when squeezed and pulled [Pa].
        across: stiffness and strength in the weak direction over those in the strong one [-]; 1 where there is none.
        poisson: Poisson's ratio [-].
        friction: against wood or card [-].
        width_m: of a stick, tape or block; outer diameter of a straw; 0 where it is round or does not matter [m].
        length_m: as sold; 0 for none [m].
        joint_n: what one joint made with it holds in pull [N]; None where it makes no joint.
        shear_pa: strength of a glue in shear, over the whole lap as hands glue it [Pa]; None where it is no glue.
        board: liner, flute height, medium [m] and take-up of corrugated board.
        measured: whether its stiffness was measured here.
    """

    key: str
    name: str
    form: Form
    density_kg_m3: Bounds
    thickness_m: Bounds
    elastic_modulus_pa: Bounds
    compression_pa: Bounds
    tension_pa: Bounds
    across: float = 1.0
    poisson: float = 0.3
    friction: Bounds = Bounds(0.2, 0.35, 0.6, "order of magnitude")
    width_m: float = 0.0
    length_m: float = 0.0
    joint_n: Bounds | None = None
    shear_pa: Bounds | None = None
    board: tuple[float, float, float, float] | None = None
    measured: bool = False

    @property
    def grammage_kg_m2(self) -> float:
        """Mass by area of a sheet [kg/m²]."""
        return self.density_kg_m3.typical * self.thickness_m.typical

    def weak_way(self) -> Stock:
        """The same stock, used across its strong direction."""

        def less(bounds: Bounds) -> Bounds:
            return bounds.scaled_to(bounds.typical * self.across)

        return replace(
            self,
            key=f"{self.key} across",
            elastic_modulus_pa=less(self.elastic_modulus_pa),
            compression_pa=less(self.compression_pa),
            tension_pa=less(self.tension_pa),
        )


MEMORY = "from memory"
ORDER = "order of magnitude"


def _near(typical: float, factor: float, source: str = ORDER) -> Bounds:
    return Bounds(typical / factor, typical, typical * factor, source)


def _sheet(key: str, name: str, grammage: float, thickness: float, modulus: float, crush: float, tear: float,
           across: float = 0.5, source: str = ORDER) -> Stock:  # fmt: skip
    """A paper: [g/m²], [mm], [GPa], [MPa], [MPa]."""
    return Stock(
        key, name, Form.SHEET, _near(grammage / thickness, 1.05, MEMORY), _near(thickness / 1e3, 1.06, MEMORY),
        Bounds(modulus * 0.65e9, modulus * 1e9, modulus * 1.5e9, source),
        Bounds(crush * 0.6e6, crush * 1e6, crush * 1.6e6, source),
        Bounds(tear * 0.6e6, tear * 1e6, tear * 1.5e6, source),
        across,
    )  # fmt: skip


def _rod(key: str, name: str, density: float, size: float, modulus: float, crush: float, pull: float,
         width: float = 0.0, length: float = 0.0, spread: float = 1.5) -> Stock:  # fmt: skip
    """A rod or stick: [kg/m³], [mm], [GPa], [MPa], [MPa], [mm], [mm]."""
    return Stock(
        key, name, Form.ROD, _near(density, 1.15), _near(size / 1e3, 1.04), _near(modulus * 1e9, spread),
        _near(crush * 1e6, spread), _near(pull * 1e6, spread), 0.05, width_m=width / 1e3, length_m=length / 1e3,
    )  # fmt: skip


def _joint(key: str, name: str, holds_n: float, factor: float, source: str = ORDER) -> Stock:
    near = _near(1.0, 1.001)
    return Stock(
        key, name, Form.JOINT, _near(1000, 1.3), _near(1e-3, 1.3), near.scaled_to(1e9), near.scaled_to(1e7),
        near.scaled_to(1e7), joint_n=_near(holds_n, factor, source),
    )  # fmt: skip


def check_poisson(poisson: float) -> None:
    """Refuse what is no Poisson's ratio of a material that hands can fold.

    Args:
        poisson: the ratio [-].
    Returns:
        Nothing.
    Errors:
        ``out_of_domain``.
    """
    if not 0 <= poisson <= 0.5:
        raise refuse("poisson", "Poisson's ratio lies between 0 and 0.5.")


PEEL = 2.0
"""Strength of a glue in shear over its strength in peel [-]; order of magnitude."""


def lap_strength_n(shear_pa: Number, width_m: float, lap_m: float, thickness_m: float) -> Number:
    """What a glued lap of two pieces holds in pull.

    Args:
        shear_pa: strength of the glue in shear, over the whole lap [Pa], > 0.
        width_m: width in which they touch [m], > 0.
        lap_m: how far they lie on each other, along the pull [m], > 0.
        thickness_m: of a piece [m], > 0: pull in one is that far beside the pull in the other, which peels it open.
    Returns:
        τ b l/(1 + 3 p t/l) [N] with p the strength in shear over that in peel.
    Errors:
        ``out_of_domain``.
    Source:
        N/(b l) in shear and 6 M/(b l²) in peel, added up to what the glue bears. M = N t/2 where a piece lies flat on
        others that do not turn; spread as under stiff ones (from memory; Goland & Reissner 1944 for bending ones).
    """
    positive("shear_pa", shear_pa, "The glue's strength")
    positive("width_m", width_m, "The width")
    positive("lap_m", lap_m, "The lap")
    positive("thickness_m", thickness_m, "The thickness")
    return shear_pa * width_m * lap_m / (1 + 3 * PEEL * thickness_m / lap_m)


USUAL_LAP_M = 0.01
"""Two craft sticks crossed: as far as they are wide [m]."""


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


def _glue(key: str, name: str, low: float, shear: float, high: float, source: str) -> Stock:
    """A glue by its strength in shear [MPa]; its joint is that of two craft sticks crossed."""
    strength = Bounds(low * 1e6, shear * 1e6, high * 1e6, source)
    lap_n = strength.scaled_to(float(lap_strength_n(strength.typical, 0.01, USUAL_LAP_M, 0.002)))
    return replace(_joint(key, name, 1.0, 2.0), joint_n=lap_n, shear_pa=strength)


def _board(key: str, name: str, liner: float, flute: float, medium: float, take_up: float, modulus: float) -> Stock:
    """Corrugated board: liner, flutes, medium [mm]; stiffness of its papers [GPa]."""
    papers = (2 * liner + medium * take_up) * 700
    depth = flute + 2 * liner
    return Stock(
        key, name, Form.BOARD, _near(papers / depth, 1.1), _near(depth / 1e3, 1.05),
        Bounds(modulus * 0.65e9, modulus * 1e9, modulus * 1.4e9, ORDER), Bounds(8e6, 14e6, 22e6, ORDER),
        Bounds(15e6, 28e6, 45e6, ORDER), 0.5, board=(liner / 1e3, flute / 1e3, medium / 1e3, take_up),
    )  # fmt: skip


_STOCKS = (
    # Paper stiffness along the machine 3-6 GPa and about half across, crush strength about a third of tensile:
    # from memory of paper physics texts (Niskanen, Paper Physics). Copy paper is denser and better bonded than card: a
    # short span of 80 g/m² is crushed at about 1.5 kN/m. Sheets of a class are cut either way.
    _sheet("printer-80", "printer paper, 80 g/m²", 80, 0.104, 3.4, 14, 30, source=MEMORY),
    _sheet("printer-100", "printer paper, 100 g/m²", 100, 0.125, 3.4, 14, 30, source=MEMORY),
    _sheet("construction", "construction paper, 130 g/m²", 130, 0.22, 1.4, 5, 12),
    _sheet("sugar", "sugar paper, 100 g/m²", 100, 0.18, 1.3, 4.5, 11),
    _sheet("newsprint", "newsprint, 45 g/m²", 45, 0.07, 2.2, 6, 18),
    _sheet("card-160", "thin card, 160 g/m²", 160, 0.2, 3.0, 9, 26),
    _sheet("manila", "manila card, 220 g/m²", 220, 0.28, 2.8, 9, 24),
    _sheet("card-300", "stiff card, 300 g/m²", 300, 0.4, 2.6, 9, 22),
    Stock("foil", "aluminium foil, 0.016 mm", Form.SHEET, _near(2700, 1.005, MEMORY),
          Bounds(14e-6, 16e-6, 18e-6, MEMORY),
          _near(69e9, 1.03, MEMORY), Bounds(40e6, 60e6, 90e6, ORDER), Bounds(50e6, 75e6, 110e6, ORDER), poisson=0.33),
    Stock("foil-heavy", "heavy aluminium foil, 0.024 mm", Form.SHEET, _near(2700, 1.005, MEMORY),
          Bounds(21e-6, 24e-6, 26e-6, MEMORY), _near(69e9, 1.03, MEMORY), Bounds(40e6, 60e6, 90e6, ORDER),
          Bounds(50e6, 75e6, 110e6, ORDER), poisson=0.33),
    _board("board-b", "corrugated card, 3 mm (B flute)", 0.2, 2.5, 0.16, 1.3, 2.6),
    _board("board-c", "corrugated card, 4 mm (C flute)", 0.22, 3.6, 0.16, 1.42, 2.6),
    Stock("straw-paper", "paper drinking straw", Form.TUBE, _near(850, 1.15), _near(0.4e-3, 1.15), Bounds(1.4e9, 2.2e9,
          3.4e9, ORDER), Bounds(5e6, 8e6, 13e6, ORDER), Bounds(12e6, 20e6, 30e6, ORDER), width_m=0.006, length_m=0.197),
    Stock("straw-plastic", "plastic drinking straw", Form.TUBE, _near(905, 1.03, MEMORY), _near(0.15e-3, 1.2),
          Bounds(0.9e9, 1.3e9, 1.8e9, MEMORY), Bounds(12e6, 20e6, 30e6, ORDER), Bounds(20e6, 30e6, 38e6, MEMORY),
          poisson=0.4, width_m=0.006, length_m=0.2),
    _rod("craft-stick", "craft stick, 10 × 2 mm", 620, 2.0, 9, 35, 60, width=10, length=114),
    _rod("dowel-4", "dowel, 4 mm", 650, 4.0, 10, 42, 80),
    _rod("dowel-6", "dowel, 6 mm", 650, 6.0, 10, 42, 80),
    _rod("skewer", "bamboo skewer, 3 mm", 750, 3.0, 16, 55, 140, length=250),
    _rod("pasta", "dry spaghetti, 1.9 mm", 1480, 1.9, 3.8, 30, 18, length=255, spread=1.35),
    Stock("string", "cotton string, 1.5 mm", Form.LINE, _near(800, 1.2), _near(1.5e-3, 1.1), _near(0.6e9, 1.8),
          _near(1e5, 1.5), _near(35e6, 1.6)),
    Stock("tape", "clear tape, 19 mm", Form.TAPE, _near(1000, 1.1), _near(0.05e-3, 1.1), _near(1.5e9, 1.3),
          _near(1e6, 1.5), _near(30e6, 1.4), width_m=0.019, joint_n=_near(9.0, 2.0)),
    # Clamped laps of hardwood reach 10 MPa with white glue (EN 204, from memory); dabbed on by hand and not clamped, a
    # part of the lap touches and a part of that bonds.
    _glue("glue", "white glue joint, dried", 0.7, 1.7, 4.0, "from memory; order of magnitude by hand"),
    _glue("hot-glue", "hot glue joint", 0.5, 1.1, 2.0, ORDER),
    _joint("band", "rubber band lashing", 8.0, 2.0),
    _joint("marshmallow", "marshmallow joint", 1.2, 2.0),
    _joint("gumdrop", "gumdrop joint", 2.0, 2.0),
    Stock("clay", "modelling clay", Form.SOLID, _near(1700, 1.15), _near(4e-3, 1.2), _near(2e6, 2.0),
          _near(40e3, 1.8), _near(20e3, 1.8), poisson=0.45),
    Stock("wood-block", "wooden block, 60 × 20 × 12 mm", Form.BLOCK, _near(650, 1.15), _near(12e-3, 1.03),
          _near(10e9, 1.4), _near(40e6, 1.4), _near(60e6, 1.4), 0.05, friction=Bounds(0.25, 0.4, 0.55, ORDER),
          width_m=0.02, length_m=0.06),
)  # fmt: skip

STOCKS: Mapping[str, Stock] = {stock.key: stock for stock in _STOCKS}
"""The stocks that come with the app, by key."""

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
        density_kg_m3=_near(density, 1.03, "typed"),
        thickness_m=_near(thickness_m, 1.05, "typed"),
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
        elastic_modulus_pa=_near(modulus_pa.value, factor, "measured by droop"),
        compression_pa=stock.compression_pa.scaled_to(stock.compression_pa.typical * moved),
        tension_pa=stock.tension_pa.scaled_to(stock.tension_pa.typical * moved),
        measured=True,
    )
