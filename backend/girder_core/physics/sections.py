"""Cross-sections: area, second moment about the horizontal centroidal axis, depth, neutral axis, and their outline.

Lengths may be samples (arrays) where a prediction is run many times; the outline is then drawn for the middle one.
Sharp corners throughout. Sources: closed forms of section tables such as Gere & Timoshenko, Mechanics of Materials,
appendix "Properties of plane areas" (from memory), put together with the parallel-axis theorem.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from girder_core.ground import Number, Point, positive, refuse, typical, whole
from girder_core.measure import format_length

Loop = tuple[Point, ...]


@dataclass(frozen=True)
class Walls:
    """The thin walls of a section that are squeezed when it bends, for their local buckling.

    Attributes:
        thickness_m: of a wall [m].
        flat_width_m: between the edges that hold it [m]; for a round wall its mid-surface radius.
        coefficient: plate coefficient k, low, typical and high [-]; empty for a round wall.
        free_share: share of the walls of which one edge is free [-].
        spreads: whether the section is open, so that its folds spring open under a load and it loses depth.
        pleats: how many V's lie side by side [-]; 0 where there are none.
    """

    thickness_m: Number
    flat_width_m: Number
    coefficient: tuple[float, float, float] | None
    free_share: float = 0.0
    spreads: bool = False
    pleats: int = 0


@dataclass(frozen=True)
class Section:
    """A cross-section, bending about its horizontal centroidal axis.

    Attributes:
        area_m2: material area [m²].
        second_moment_m4: about the horizontal centroidal axis [m⁴].
        depth_m: from the lowest to the highest fibre [m].
        neutral_axis_m: centroid above the lowest fibre [m].
        outline: closed loops [m], x from the middle and y from the lowest fibre; a loop inside another is a hole.
        width_m: overall width [m].
        walls: thin walls in compression, where there are any.
    """

    area_m2: Number
    second_moment_m4: Number
    depth_m: Number
    neutral_axis_m: Number
    outline: tuple[Loop, ...]
    width_m: Number = 0.0
    walls: Walls | None = None

    @property
    def radius_of_gyration_m(self) -> Number:
        """√(I/A) [m]."""
        return np.sqrt(self.second_moment_m4 / self.area_m2)


BENDING_WALL = (12.0, 18.0, 23.9)
"""Plate coefficient of a wall bent in its own plane between two held edges: 23.9 when both edges stay straight
(Timoshenko & Gere, Theory of Elastic Stability, 9.6, from memory); folds of paper give way, so less is likely."""
SQUEEZED_WALL = (4.0, 4.0, 5.4)
"""A wall squeezed evenly: 4.0 with hinged edges, 5.4 with one held firmly (same source, 9.2)."""
FREE_EDGE = (0.43, 0.57, 0.85)
"""A flange with one free edge: 0.43 squeezed evenly; 0.57 to 0.85 as less of the squeeze lies at the free edge
(EN 1993-1-5 table 4.2, from memory)."""


def _box(width: float, bottom: float, top: float, centre: float = 0.0) -> Loop:
    left, right = centre - width / 2, centre + width / 2
    return ((left, bottom), (right, bottom), (right, top), (left, top))


def rectangle(width_m: Number, depth_m: Number) -> Section:
    """A solid rectangle: a flat sheet, a stick.

    Args:
        width_m: across [m], > 0.
        depth_m: in the direction of bending [m], > 0.
    Returns:
        The section; A = b h, I = b h³/12.
    Errors:
        ``out_of_domain``.
    """
    positive("width_m", width_m, "The width")
    positive("depth_m", depth_m, "The depth")
    return Section(
        width_m * depth_m, width_m * depth_m**3 / 12, depth_m, depth_m / 2,
        (_box(typical(width_m), 0, typical(depth_m)),), width_m,
    )  # fmt: skip


def round_rod(diameter_m: Number) -> Section:
    """A solid round rod.

    Args:
        diameter_m: [m], > 0.
    Returns:
        The section; A = π d²/4, I = π d⁴/64.
    Errors:
        ``out_of_domain``.
    """
    positive("diameter_m", diameter_m, "The diameter")
    d = typical(diameter_m)
    return Section(
        math.pi * diameter_m**2 / 4, math.pi * diameter_m**4 / 64, diameter_m, diameter_m / 2,
        (_circle(d / 2, d / 2),), diameter_m,
    )  # fmt: skip


def _circle(radius: float, centre_y: float, corners: int = 72) -> Loop:
    angles = [2 * math.pi * i / corners for i in range(corners)]
    return tuple((radius * math.cos(a), centre_y + radius * math.sin(a)) for a in angles)


def round_tube(outer_diameter_m: Number, wall_m: Number) -> Section:
    """A round tube.

    Args:
        outer_diameter_m: [m], > 0.
        wall_m: wall thickness [m], > 0, at most half the diameter.
    Returns:
        The section; I = π (D⁴ − d⁴)/64.
    Errors:
        ``out_of_domain``.
    """
    positive("outer_diameter_m", outer_diameter_m, "The diameter")
    positive("wall_m", wall_m, "The wall")
    if np.any(2 * np.asarray(wall_m) > outer_diameter_m):
        raise refuse("wall_m", "The wall is thicker than the tube's radius. Is the thickness in millimetres?")
    inner = outer_diameter_m - 2 * wall_m
    outer_r, inner_r = typical(outer_diameter_m) / 2, typical(inner) / 2
    loops = (_circle(outer_r, outer_r),) + ((_circle(inner_r, outer_r),) if inner_r > 0 else ())
    return Section(
        math.pi * (outer_diameter_m**2 - inner**2) / 4,
        math.pi * (outer_diameter_m**4 - inner**4) / 64,
        outer_diameter_m,
        outer_diameter_m / 2,
        loops,
        outer_diameter_m,
        Walls(wall_m, (outer_diameter_m - wall_m) / 2, None),
    )


def box(width_m: Number, depth_m: Number, wall_m: Number) -> Section:
    """A closed rectangular box, outer sizes.

    Args:
        width_m: outer width [m], > 0.
        depth_m: outer depth [m], > 0.
        wall_m: wall thickness [m], > 0, at most half the smaller side.
    Returns:
        The section; I = (b h³ − (b − 2t)(h − 2t)³)/12.
    Errors:
        ``out_of_domain``.
    """
    for field, value, label in (("width_m", width_m, "The width"), ("depth_m", depth_m, "The depth"),
                                ("wall_m", wall_m, "The wall")):  # fmt: skip
        positive(field, value, label)
    if np.any(2 * np.asarray(wall_m) > np.minimum(width_m, depth_m)):
        raise refuse("wall_m", "The walls are thicker than the box. Is the thickness in millimetres?")
    b, h = width_m - 2 * wall_m, depth_m - 2 * wall_m
    outline = (
        _box(typical(width_m), 0, typical(depth_m)),
        _box(typical(b), typical(wall_m), typical(depth_m) - typical(wall_m)),
    )
    return Section(
        width_m * depth_m - b * h, (width_m * depth_m**3 - b * h**3) / 12, depth_m, depth_m / 2, outline, width_m,
        Walls(wall_m, width_m - wall_m, SQUEEZED_WALL),
    )  # fmt: skip


def square_tube(side_m: Number, wall_m: Number) -> Section:
    """A square tube.

    Args:
        side_m: outer side [m], > 0.
        wall_m: wall thickness [m], > 0, at most half the side.
    Returns:
        The section; I = (a⁴ − (a − 2t)⁴)/12.
    Errors:
        ``out_of_domain``.
    """
    return box(side_m, side_m, wall_m)


def triangular_tube(side_m: Number, wall_m: Number) -> Section:
    """An equilateral triangular tube lying on one side, its corners mitred.

    Args:
        side_m: side of the centre line [m], > 0.
        wall_m: wall thickness [m], > 0, less than a fifth of the side.
    Returns:
        The section; A = 3 a t, I = a t (a² + 3t²)/4 about every centroidal axis: an outer triangle less an inner one.
    Errors:
        ``out_of_domain``.
    """
    positive("side_m", side_m, "The side")
    positive("wall_m", wall_m, "The wall")
    if np.any(5 * np.asarray(wall_m) > side_m):
        raise refuse("wall_m", "The wall is too thick for a thin-walled triangle. Is the thickness in millimetres?")
    height = side_m * math.sqrt(3) / 2
    a, t = typical(side_m), typical(wall_m)

    def loop(grow: float) -> Loop:
        side = a + 2 * math.sqrt(3) * grow
        low = t / 2 - grow
        return ((-side / 2, low), (side / 2, low), (0.0, low + side * math.sqrt(3) / 2))

    return Section(
        3 * side_m * wall_m, side_m * wall_m * (side_m**2 + 3 * wall_m**2) / 4, height + 1.5 * wall_m,
        height / 3 + wall_m / 2,
        (loop(t / 2), loop(-t / 2)), side_m + math.sqrt(3) * wall_m, Walls(wall_m, side_m, SQUEEZED_WALL),
    )  # fmt: skip


def trough(base_m: Number, flange_m: Number, sheet_m: Number) -> Section:
    """A trough: a sheet with two edges turned up.

    Args:
        base_m: outer width of the floor [m], more than two sheets.
        flange_m: outer height of the turned-up edges [m], more than one sheet.
        sheet_m: thickness of the sheet [m], > 0.
    Returns:
        The section, put together from floor and two edges; its free edges are squeezed when it sags.
    Errors:
        ``out_of_domain``.
    """
    positive("sheet_m", sheet_m, "The sheet's thickness")
    positive("base_m", base_m, "The floor's width")
    positive("flange_m", flange_m, "The height of the edges")
    if np.any(np.asarray(base_m) <= 2 * np.asarray(sheet_m)):
        raise refuse("base_m", "The floor of the trough is not wider than its two edges.")
    if np.any(np.asarray(flange_m) <= sheet_m):
        raise refuse("flange_m", "The turned-up edges are no higher than the sheet is thick. Make them higher.")
    wall = flange_m - sheet_m
    floor_area, wall_area = base_m * sheet_m, 2 * wall * sheet_m
    area = floor_area + wall_area
    centre = (floor_area * sheet_m / 2 + wall_area * (sheet_m + wall / 2)) / area
    second = (
        base_m * sheet_m**3 / 12
        + floor_area * (centre - sheet_m / 2) ** 2
        + 2 * sheet_m * wall**3 / 12
        + wall_area * (sheet_m + wall / 2 - centre) ** 2
    )
    b, h, t = typical(base_m), typical(flange_m), typical(sheet_m)
    outline = (
        (-b / 2, 0.0), (b / 2, 0.0), (b / 2, h), (b / 2 - t, h), (b / 2 - t, t), (t - b / 2, t), (t - b / 2, h),
        (-b / 2, h),
    )  # fmt: skip
    return Section(
        area, second, flange_m, centre, (outline,), base_m, Walls(sheet_m, wall, FREE_EDGE, 1.0, spreads=True)
    )


def pleated(developed_width_m: Number, pleat_depth_m: Number, pleats: int, sheet_m: Number) -> Section:
    """A sheet folded into a zigzag.

    Args:
        developed_width_m: width of the sheet before folding [m], > 0.
        pleat_depth_m: between the mid-lines of lowest and highest folds [m], > 0 unless there are no pleats.
        pleats: full V's, each of two panels [-]; 0 is the flat sheet.
        sheet_m: thickness of the sheet [m], > 0.
    Returns:
        The section; A = W t, I = W t (d² + (t/cos θ)²)/12 with sin θ = d/s and panels s = W/(2n): exact for mitred
        folds.
    Errors:
        ``out_of_domain``; a pleat deeper than its panel is long.
    Source:
        Inclined rectangles, parallel-axis theorem; derived in docs/formulas.md.
    """
    whole("pleats", pleats, 0, "The number of pleats")
    if pleats == 0:
        return rectangle(developed_width_m, sheet_m)
    positive("developed_width_m", developed_width_m, "The sheet's width")
    positive("pleat_depth_m", pleat_depth_m, "The depth of the pleats")
    positive("sheet_m", sheet_m, "The sheet's thickness")
    panel = developed_width_m / (2 * pleats)
    if np.any(np.asarray(pleat_depth_m) >= panel):
        raise refuse(
            "pleat_depth_m",
            f"{pleats} pleats leave panels of {format_length(typical(panel))}; a pleat cannot be as deep as that. "
            "Fold fewer or shallower pleats.",
        )
    cosine = np.sqrt(1 - (pleat_depth_m / panel) ** 2)
    rise = sheet_m / cosine
    if np.any(np.asarray(panel * cosine) <= sheet_m * panel / pleat_depth_m):
        raise refuse("pleat_depth_m", "Pleats that deep lie flat against each other. Fold fewer or shallower ones.")
    area = developed_width_m * sheet_m
    second = area * (pleat_depth_m**2 + rise**2) / 12
    half = typical(panel * cosine)
    d, v = typical(pleat_depth_m), typical(rise)
    xs = [(i - pleats) * half for i in range(2 * pleats + 1)]
    lower = [(x, 0.0 if i % 2 else d) for i, x in enumerate(xs)]
    outline = (*lower, *((x, y + v) for x, y in reversed(lower)))
    return Section(
        area, second, pleat_depth_m + rise, (pleat_depth_m + rise) / 2, (outline,), 2 * pleats * panel * cosine,
        # The two outermost of the 2n panels have nobody to hold their other edge.
        Walls(sheet_m, panel, BENDING_WALL, 1 / pleats, spreads=True, pleats=pleats),
    )  # fmt: skip


def i_beam(flange_width_m: Number, depth_m: Number, flange_m: Number, web_m: Number) -> Section:
    """A symmetric I: two flanges on a web.

    Args:
        flange_width_m: width of both flanges [m], at least the web.
        depth_m: overall depth [m], more than two flanges.
        flange_m: thickness of a flange [m], > 0.
        web_m: thickness of the web [m], > 0.
    Returns:
        The section; I = (b h³ − (b − w)(h − 2f)³)/12.
    Errors:
        ``out_of_domain``.
    """
    positive("flange_m", flange_m, "The flange's thickness")
    positive("web_m", web_m, "The web's thickness")
    positive("flange_width_m", flange_width_m, "The flanges' width")
    positive("depth_m", depth_m, "The depth")
    if np.any(np.asarray(flange_width_m) < web_m):
        raise refuse("flange_width_m", "The flanges are narrower than the web.")
    if np.any(np.asarray(depth_m) <= 2 * np.asarray(flange_m)):
        raise refuse("depth_m", "The beam is no deeper than its two flanges.")
    clear = depth_m - 2 * flange_m
    area = 2 * flange_width_m * flange_m + clear * web_m
    second = (flange_width_m * depth_m**3 - (flange_width_m - web_m) * clear**3) / 12
    b, h, f, w = (typical(value) for value in (flange_width_m, depth_m, flange_m, web_m))
    outline = (
        (-b / 2, 0.0), (b / 2, 0.0), (b / 2, f), (w / 2, f), (w / 2, h - f), (b / 2, h - f), (b / 2, h), (-b / 2, h),
        (-b / 2, h - f), (-w / 2, h - f), (-w / 2, f), (-b / 2, f),
    )  # fmt: skip
    half_flange = (flange_width_m - web_m) / 2
    walls = Walls(flange_m, half_flange, FREE_EDGE, 1.0) if np.all(np.asarray(half_flange) > 0) else None
    return Section(area, second, depth_m, depth_m / 2, (outline,), flange_width_m, walls)


def laminate(width_m: Number, sheet_m: Number, layers: int, bonded: bool) -> Section:
    """Flat sheets on top of each other.

    Args:
        width_m: across [m], > 0.
        sheet_m: thickness of one sheet [m], > 0.
        layers: how many [-], at least 1.
        bonded: glued all over so that they act as one, instead of sliding on each other.
    Returns:
        The section; bonded I = b (n t)³/12, loose I = n b t³/12.
    Errors:
        ``out_of_domain``.
    """
    whole("layers", layers, 1, "The number of layers")
    solid = rectangle(width_m, layers * sheet_m)
    if bonded:
        return solid
    loose = rectangle(width_m, sheet_m)
    return Section(
        solid.area_m2, layers * loose.second_moment_m4, solid.depth_m, solid.neutral_axis_m, solid.outline, width_m
    )


def corrugated_board(
    width_m: Number, liner_m: Number, flute_height_m: Number, medium_m: Number, take_up: float, along_flutes: bool
) -> Section:
    """Single-wall corrugated board, bent along or across its flutes.

    Args:
        width_m: width of the board [m], > 0.
        liner_m: thickness of each of the two flat faces [m], > 0.
        flute_height_m: clear height between the faces [m], more than the medium.
        medium_m: thickness of the wavy sheet [m], > 0.
        take_up: length of the wavy sheet per length of board [-], >= 1.
        along_flutes: whether the flutes run along the span; across it they open like an accordion and only the faces
            carry.
    Returns:
        The section. Along the flutes the medium is taken as straight panels between the faces: A (h − m)²/12.
    Errors:
        ``out_of_domain``.
    Source:
        Parallel-axis theorem; the medium as a zigzag, as in ``pleated``.
    """
    for field, value, label in (("width_m", width_m, "The width"), ("liner_m", liner_m, "The face's thickness"),
                                ("medium_m", medium_m, "The medium's thickness")):  # fmt: skip
        positive(field, value, label)
    positive("flute_height_m", flute_height_m, "The flutes' height")
    if np.any(np.asarray(flute_height_m) <= medium_m):
        raise refuse("flute_height_m", "The flutes are no higher than the wavy sheet is thick.")
    if not 1 <= take_up < math.inf:
        raise refuse("take_up", "The wavy sheet is at least as long as the board; its take-up is 1 or more.")
    depth = flute_height_m + 2 * liner_m
    arm = (flute_height_m + liner_m) / 2
    area = 2 * width_m * liner_m
    second = 2 * (width_m * liner_m**3 / 12 + width_m * liner_m * arm**2)
    if along_flutes:
        medium = width_m * take_up * medium_m
        area = area + medium
        second = second + medium * (flute_height_m - medium_m) ** 2 / 12
    b, top, t = typical(width_m), typical(depth), typical(liner_m)
    h, m = typical(flute_height_m), typical(medium_m)
    waves = max(1, round(b / (1.8 * h)))
    points = [(-b / 2 + b * i / (2 * waves), t if i % 2 else t + h - m) for i in range(2 * waves + 1)]
    wave = (*points, *((x, y + m) for x, y in reversed(points)))
    return Section(
        area, second, depth, depth / 2, (_box(b, 0, t), _box(b, top - t, top), wave), width_m,
        Walls(liner_m, 1.8 * flute_height_m, SQUEEZED_WALL),
    )  # fmt: skip
