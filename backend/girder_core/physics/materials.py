"""Materials of the classroom: ranges of what they weigh and withstand, and the shelf they lie on.

No value here was looked up: each range names where it is remembered from, or that it is an order of magnitude, and is
wide for that reason. A teacher who needs better measures the stock, see ``measuring``.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from enum import StrEnum

from girder_core.ground import GirderError, refuse
from girder_core.physics.laps import USUAL_LAP_M, lap_strength_n


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

    @classmethod
    def about(cls, typical: float, factor: float, source: str) -> Bounds:
        """A range as far below a typical value as above it, by a factor."""
        return cls(typical / factor, typical, typical * factor, source)

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
ON_TABLE = Bounds(0.25, 0.4, 0.6, "order of magnitude: friction of a weight or a foot on a table")


def _near(typical: float, factor: float, source: str = ORDER) -> Bounds:
    return Bounds.about(typical, factor, source)


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
