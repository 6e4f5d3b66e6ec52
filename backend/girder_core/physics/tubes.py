"""Tubes made from a sheet: folded or rolled, alone, under a deck with others, or bound to a bundle."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from girder_core.ground import GRAVITY_M_S2, Number, not_negative, positive, refuse, typical, whole
from girder_core.measure import format_length, plural
from girder_core.physics.columns import END_FACTORS, FURTHER, LEAN, column_load_n, euler_load_n, together
from girder_core.physics.materials import Bounds, Stock
from girder_core.physics.predictions import Prediction, Samples, State, predict
from girder_core.physics.thin_walls import effective_width_load_n, plate_buckling_stress_pa, shell_knockdown

SHAPES = {"circle": 0, "triangle": 3, "square": 4, "n-gon": 0, "zigzag": 0}
"""Shapes a sheet is made into, and how many flat walls the named ones have."""

LAYER_BOND = Bounds(0.02, 0.1, 0.4, "order of magnitude: rolled layers rub on each other but are not glued")
END_QUALITY = Bounds(0.7, 0.9, 1.0, "order of magnitude: hand-cut ends are not flush, so a part of the rim carries")
RIM_OFF = Bounds(2.5, 5.0, 12.0, "order of magnitude: 0.3 to 1.5 mm between the highest and lowest place of a cut rim")
"""How uneven a rim is, over how much its wall is shortened when it crushes [-]; card near its rim is shortened by about
a tenth of a millimetre."""
CRUSHED_STILL = Bounds(0.15, 0.25, 0.4, "order of magnitude: what a crushed rim goes on carrying, over what it held")
SHARPEST_BLEND = 3
"""Exponent of the blend between flat walls and the round shell; ours, so that square and triangle keep their own."""


def uneven_rim_share(off: Number, still: Number) -> Number:
    """What a wall with an uneven rim carries at most, over what a flush one does.

    Args:
        off: from the highest to the lowest place of the rim, over how much the wall is shortened when it crushes [-],
            >= 0.
        still: what a crushed place goes on carrying, over what it held [-], 0 to 1.
    Returns:
        1 − a/2 up to a = 1 − r, r + (1 − r)²/(2a) beyond [-]: high places are crushed before low ones are reached.
    Errors:
        ``out_of_domain``.
    Source:
        Strips side by side, each elastic until it crushes and then carrying r; their heights evenly spread over a; the
        largest sum over the deck's way down. docs/formulas.md.
    """
    not_negative("off", off, "The rim's unevenness")
    if not np.all((np.asarray(still) >= 0) & (np.asarray(still) <= 1)):
        raise refuse("still", "What a crushed rim still carries is a share between 0 and 1.")
    rest = 1 - np.asarray(still)
    return np.where(off <= rest, 1 - np.asarray(off) / 2, still + rest**2 / (2 * np.maximum(off, 1e-12)))


def tube_column(
    shape: str,
    perimeter_m: float,
    height_m: float,
    sheet_m: float,
    layers: int,
    material: Stock,
    end_condition: str = "pinned-pinned",
    walls: int = 0,
    pile_kg_m: float = 60.0,
    samples: Samples | None = None,
    columns: int = 1,
    aside_m: float = 0.0,
    bound: bool = False,
) -> Prediction:
    """What a sheet carries when it is made into a column and loaded on top, alone or with others under one deck.

    Args:
        shape: circle, square, triangle, n-gon or zigzag.
        perimeter_m: developed width of the sheet around the column [m], > 0; no seam counted.
        height_m: height of the column [m], > 0.
        sheet_m: thickness of one sheet [m], > 0.
        layers: how many times the sheet goes around [-], at least 1.
        material: the sheet's stock; its thickness range is scaled to ``sheet_m``.
        end_condition: one of ``END_FACTORS``; a column between flat plates is between pinned and fixed.
        walls: flat walls of an n-gon (at least 3) or panels of a zigzag (at least 2) [-].
        pile_kg_m: mass of the pile on top by its height [kg/m].
        samples: seeded samples; the usual ones when left out.
        columns: how many alike stand under one deck [-], at least 1; see ``together``.
        aside_m: how far the load stands from the middle of a single column or bundle [m], >= 0.
        bound: whether the columns are bound to one bundle instead of standing apart.
    Returns:
        The prediction: crushing from the rim on, local buckling of the walls, buckling of the whole column, toppling of
        the pile. Flat walls: effective width, blended towards the round shell as walls get many (the polygon formula
        alone grows without limit). Round: the classical stress times a share from SP-8007's lower bound to about twice
        it, because tests scatter upwards from the bound.
    Errors:
        ``out_of_domain``.
    Source:
        Formulas of this module; ranges of hand-made columns are orders of magnitude, named where they stand.
    """
    if shape not in SHAPES:
        raise refuse("shape", "There is no such shape of column.")
    if end_condition not in END_FACTORS:
        raise refuse("end_condition", "There is no such way of holding the ends.")
    positive("perimeter_m", perimeter_m, "The sheet's width")
    positive("height_m", height_m, "The height")
    positive("sheet_m", sheet_m, "The sheet's thickness")
    whole("layers", layers, 1, "The number of layers")
    whole("columns", columns, 1, "The number of columns")
    count = _walls(shape, walls)
    if shape == "n-gon":
        whole("walls", count, 3, "The number of walls")
    if shape == "zigzag":
        whole("walls", count, 2, "The number of panels")
    draws = samples or Samples()
    one = _limits(shape, count, perimeter_m, height_m, sheet_m, layers, material, END_FACTORS[end_condition], draws)
    not_negative("aside_m", aside_m, "The load's offset")
    half = half_width_m(shape, perimeter_m, count)
    foot = bundle_half_base_m(columns, half) if bound else half
    if aside_m >= foot and (columns == 1 or bound):
        raise refuse("aside_m", f"The load must stand on the column: less than {format_length(foot)} off its middle.")
    # A thin ring of radius R is squeezed by 1 + 2e/R of the mean at its near side.
    uneven = 1 / (1 + 2 * aside_m / foot) if columns == 1 or bound else 1.0
    further = draws.draw(FURTHER, "further columns") if columns > 1 else 1.0
    stiffer: Number = 1.0
    if bound and columns > 1:
        grip = draws.draw(BUNDLED, "bundled tubes")
        stiffer = 1 + grip * bundle_gain(columns, half, one.radius_of_gyration_m)

    def number(load: Number) -> Number:
        return together(load, columns, further)

    states = [
        State(
            "crush", "Rim crushes", uneven * number(one.crush_n),
            "A cut rim is never flush: its high places are crushed before the low ones carry. Cut it square, or fold "
            "the edge over.",
            "The edge is squashed where it is highest.", "strips of unequal height", "crumple",
        ),
        State(
            "wall", "Wall crumples" if count else "Round wall dents",
            uneven * number(one.wall_n),
            "Flat walls buckle between their edges; only strips along the edges go on carrying. The narrower the "
            "walls, the more they carry." if count else
            "A round wall shares the load all around. It fails where its shape is least round, below the perfect "
            "shell's load.",
            "Flat walls fold in easily. Edges stay strong." if count else "A round wall has no weak side. It dents.",
            "von Kármán 1932" if count else "NASA SP-8007", "crumple",
        ),
        State(
            "column", "Buckles sideways",
            number(one.buckles(stiffer)),
            "The whole column bows out. Load falls with the square of its height and grows with its width.",
            "A tall thin column bends to the side.", "Euler, Johnson", "buckled",
        ),
        State(
            "topple", "Pile topples", _topple_n(foot - aside_m, height_m, pile_kg_m, draws) * (1 if bound else columns),
            "The higher the pile, the further its centre leans out. When it passes the foot's edge, all falls.",
            "A high pile tips over.", "equilibrium", "leaned",
        ),
    ]  # fmt: skip
    return predict(states)


@dataclass(frozen=True)
class TubeLimits:
    """Loads along one tube at which it gives way, one per sample [N]: its rim, its walls, the whole of it.

    Attributes:
        crush_n, wall_n, column_n: of its rim, its walls and the whole [N].
        squash_n: at which all of its material is crushed [N].
        euler_n: at which it would buckle if it could not be crushed [N].
        radius_of_gyration_m: of its section [m].
    """

    crush_n: Number
    wall_n: Number
    column_n: Number
    squash_n: Number
    euler_n: Number
    radius_of_gyration_m: float

    def buckles(self, stiffer: Number) -> Number:
        """Load at which it buckles if it were that many times as stiff [N]; Johnson below half the squash load."""
        euler = self.euler_n * stiffer
        return np.where(euler < self.squash_n / 2, euler, self.squash_n * (1 - self.squash_n / (4 * euler)))


BUNDLED = Bounds(0.05, 0.25, 0.7, "order of magnitude: how far tubes in a bundle act as one, taped to glued")


def bundle_half_base_m(columns: int, half_width_m: float) -> float:
    """Smallest distance from the middle of a bundle to the edge of its foot.

    Args:
        columns: how many, standing in a ring that touches [-], at least 1.
        half_width_m: of one [m], > 0.
    Returns:
        b (1 + cot(π/n)) [m]; of one or two, that of one.
    Errors:
        ``out_of_domain``.
    Source:
        Circles around a regular polygon of side 2b (plane geometry).
    """
    whole("columns", columns, 1, "The number of columns")
    positive("half_width_m", half_width_m, "Half the column's width")
    return half_width_m * (1.0 if columns < 3 else 1 + 1 / math.tan(math.pi / columns))


def bundle_gain(columns: int, half_width_m: float, radius_of_gyration_m: float) -> float:
    """How much stiffer a bundle that acts as one is than its tubes side by side, less one.

    Args:
        columns: how many, standing in a ring that touches [-], at least 1.
        half_width_m: of one [m], > 0.
        radius_of_gyration_m: of one [m], > 0.
    Returns:
        ρ²/(2 i²) [-] with the ring's radius ρ = b/sin(π/n), in its weak direction; nothing for one, and for two in the
        direction in which they do not help each other.
    Errors:
        ``out_of_domain``.
    Source:
        Parallel-axis theorem: Σ A y² of n points on a ring is n ρ²/2 for three or more.
    """
    whole("columns", columns, 1, "The number of columns")
    positive("half_width_m", half_width_m, "Half the column's width")
    positive("radius_of_gyration_m", radius_of_gyration_m, "The radius of gyration")
    if columns < 3:
        return 0.0
    ring = half_width_m / math.sin(math.pi / columns)
    return ring**2 / (2 * radius_of_gyration_m**2)


def rolled_tube(
    diameter_m: float, length_m: float, sheet_m: float, layers: int, material: Stock, samples: Samples
) -> TubeLimits:
    """What a tube rolled from a sheet bears along its length, with ends that can turn.

    Args:
        diameter_m: of its wall's middle line [m], > 0.
        length_m: of the tube [m], > 0.
        sheet_m: thickness of one sheet [m], > 0.
        layers: how many times the sheet goes around [-], at least 1.
        material: the sheet's stock.
        samples: seeded samples.
    Returns:
        The loads, as in ``tube_column``.
    Errors:
        ``out_of_domain``.
    Source:
        As ``tube_column``.
    """
    positive("diameter_m", diameter_m, "The tube")
    positive("length_m", length_m, "The length")
    whole("layers", layers, 1, "The number of layers")
    positive("sheet_m", sheet_m, "The sheet's thickness")
    return _limits("circle", 0, math.pi * diameter_m, length_m, sheet_m, layers, material, 1.0, samples)


def _limits(
    shape: str, count: int, perimeter: float, length: float, sheet: float, layers: int, material: Stock,
    end_factor: float, draws: Samples,
) -> TubeLimits:  # fmt: skip
    if perimeter / 2 / math.pi / sheet >= 1500 or sheet * layers * 12 > perimeter:
        raise refuse("sheet_m", _no_tube(perimeter, sheet, layers))
    thickness = draws.draw(material.thickness_m.scaled_to(sheet), f"{material.key} thickness")
    modulus = draws.draw(material.elastic_modulus_pa, f"{material.key} modulus")
    strength = draws.draw(material.compression_pa, f"{material.key} compression")
    rim = uneven_rim_share(draws.draw(RIM_OFF, "uneven rim"), draws.draw(CRUSHED_STILL, "crushed rim"))
    area = perimeter * thickness * layers
    walls = _wall_load(shape, count, perimeter, thickness, layers, modulus, strength, material, draws)
    second = _second_moment(shape, count, perimeter, thickness * layers)
    return TubeLimits(
        strength * area * rim, draws.draw(END_QUALITY, "ends") * walls,
        column_load_n(strength, modulus, area, second, length, end_factor), strength * area,
        euler_load_n(modulus, second, length, end_factor), math.sqrt(typical(second) / typical(area)),
    )  # fmt: skip


NO_SHEET_M = 2e-3
"""No sheet that a class folds is thicker; what is was typed in another unit [m]."""


def _no_tube(perimeter_m: float, sheet_m: float, layers: int) -> str:
    """Why a thin tube cannot be made of it, with the figures, because the thickness may be the material's own."""
    around, thick = format_length(perimeter_m), format_length(sheet_m)
    if sheet_m * layers * 12 > perimeter_m:
        return (
            f"{layers} {plural('layer', layers)} of {thick} around {around} leave no hollow tube. "
            "Take a wider sheet, or fewer layers."
            + (" Is the thickness in millimetres?" if sheet_m > NO_SHEET_M else "")
        )
    return (
        f"A wall of {thick} around {around} is thinner than any round wall that was tested. Take a narrower sheet or a "
        "thicker one."
    )


def _walls(shape: str, walls: int) -> int:
    """How many flat walls a shape has; none where it is round, whatever is asked."""
    return walls if shape in ("n-gon", "zigzag") else SHAPES[shape]


def _wall_load(
    shape: str, count: int, perimeter: float, thickness: Number, layers: int, modulus: Number, strength: Number,
    material: Stock, draws: Samples,
) -> Number:  # fmt: skip
    """Load at which the walls fail locally; loose layers bend apart, bonded ones together."""
    bond = draws.draw(LAYER_BOND, "layer bond") if layers > 1 else 0.0
    # Thickness that one solid wall of the same bending stiffness and area would behave as.
    bending = layers * (1 + bond * (layers**2 - 1))
    shell_n = _shell_load(perimeter, thickness, layers, bending, modulus, material.poisson, draws)
    area = perimeter * thickness * layers
    shell_n = np.minimum(shell_n, strength * area)
    if not count:
        return shell_n
    edge_k = 4.0
    equivalent = thickness * np.sqrt(bending / layers)
    buckling = plate_buckling_stress_pa(modulus, equivalent, perimeter / count, material.poisson, edge_k)
    scatter = draws.draw(Bounds(0.75, 1.0, 1.25, "order of magnitude"), "effective width")
    flat = effective_width_load_n(buckling, strength, area) * scatter
    if shape == "zigzag":
        # The two outer panels have a free edge and carry about a third of their share (k of 0.43 against 4).
        return flat * (count - 2 + 2 * math.sqrt(0.43 / 4)) / count
    return (flat**-SHARPEST_BLEND + shell_n**-SHARPEST_BLEND) ** (-1 / SHARPEST_BLEND)


def _shell_load(
    perimeter: float, thickness: Number, layers: int, bending: Number, modulus: Number, poisson: float, draws: Samples
) -> Number:
    radius = perimeter / (2 * math.pi)
    bound = shell_knockdown(radius, np.minimum(thickness * np.sqrt(bending / layers), radius))
    # Tests lie between the bound and about twice it.
    share = np.minimum(0.95, bound * draws.draw(Bounds(0.9, 1.4, 2.0, "scatter of shell tests"), "shell scatter"))
    # N = 2 √(D · E t)/R with D the wall's bending stiffness: the classical stress, for layers that are not one.
    plate = modulus * thickness**3 * bending / (12 * (1 - poisson**2))
    return share * 2 * np.sqrt(plate * modulus * thickness * layers) / radius * perimeter


def _second_moment(shape: str, count: int, perimeter: float, wall: Number) -> Number:
    """Least second moment of the section whose walls' middle line is as long as the perimeter; exact for mitred walls.

    A regular polygon of inner radius h has I = n tan(π/n) (¼ + tan²(π/n)/12) h⁴, a circle π h⁴/4; the tube is an outer
    one less an inner one.
    """
    if shape == "zigzag":
        # Folded to right angles, so that pleats are a panel over √2 deep.
        return perimeter * wall * (perimeter / count) ** 2 / 2 / 12
    if count:
        slant = math.tan(math.pi / count)
        shape_factor, middle = count * slant * (0.25 + slant**2 / 12), perimeter / (2 * count * slant)
    else:
        shape_factor, middle = math.pi / 4, perimeter / (2 * math.pi)
    return shape_factor * ((middle + wall / 2) ** 4 - np.maximum(middle - wall / 2, 0.0) ** 4)


def half_width_m(shape: str, perimeter_m: float, walls: int = 0) -> float:
    """Smallest distance from a column's middle to the edge of its foot.

    Args:
        shape: one of ``SHAPES``.
        perimeter_m: developed width of the sheet around it [m], > 0.
        walls: flat walls of an n-gon or panels of a zigzag [-].
    Returns:
        The half width [m]; for a zigzag half its pleat depth.
    """
    positive("perimeter_m", perimeter_m, "The sheet's width")
    count = _walls(shape, walls)
    if shape == "zigzag":
        return perimeter_m / count / math.sqrt(2) / 2
    if not count:
        return perimeter_m / (2 * math.pi)
    return perimeter_m / count / (2 * math.tan(math.pi / count))


def _topple_n(half: float, height: float, pile: float, draws: Samples) -> Number:
    """Weight of the pile whose middle, at the column's lean, lies over the foot's edge."""
    positive("pile_kg_m", pile, "The pile's mass per height")
    lean = draws.draw(LEAN, "lean")
    high = 2 * np.maximum(half / lean - height, 0.0)
    return high * pile * GRAVITY_M_S2
