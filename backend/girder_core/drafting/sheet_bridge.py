"""A sheet over a gap: flat, trough, pleated, tube or box, in layers, along or across its grain."""

from __future__ import annotations

import math
from dataclasses import replace

from girder_core.drafting.films import changes, load_grows
from girder_core.drafting.model import (
    DraftKind,
    Expected,
    Fact,
    Lesson,
    Shown,
    Values,
    View,
    choice,
    count,
    length,
    loosest_to_stiffest,
    stock,
)
from girder_core.ground import (
    Drawing,
    Number,
    Point,
    Role,
    Shape,
    area,
    arrow,
    block,
    circle,
    label,
    line,
    measure,
    refuse,
    typical,
)
from girder_core.measure import System, format_length
from girder_core.physics import (
    Form,
    Samples,
    Section,
    Stock,
    box,
    pleated,
    rectangle,
    round_tube,
    sag_curve,
    sheet_bridge,
    simply_supported,
    trough,
    typical_sag_m,
)

SHAPES = {"pleated": "Pleats", "flat": "Flat", "trough": "Trough", "tube": "Round tube", "box": "Box"}

_PARAMS = (
    choice("shape", "Folded as", SHAPES, "The same sheet, put differently."),
    stock("sheet", "Sheet", (Form.SHEET,), "manila"),
    length("width_m", "Sheet across, before folding", 0.02, 0.6, 0.21, 0.005, "All of it is in the section."),
    count("pleats", "Folds (full V’s)", 1, 20, 6, "Narrow panels buckle later.",
          only=("shape", ("pleated",)), nudge=1, more="One fold more", less="One fold fewer"),
    length("depth_m", "Depth", 0.003, 0.12, 0.012, 0.001, "Stiffness grows with its square.",
           only=("shape", ("pleated", "trough", "box")), nudge=0.002, more="{} deeper", less="{} shallower"),
    count("layers", "Sheets on top of each other", 1, 4, 1, "Loose sheets add up; they do not act as one.",
          nudge=1, more="One sheet more", less="One sheet fewer"),
    count("beside", "Alike side by side", 1, 6, 1, "Under one deck they share, not quite evenly.", nudge=1,
          more="One more beside it", less="One fewer", fine=True),
    choice("grain", "Stiff way of the sheet", {"along": "along the gap", "across": "across the gap"},
           "Paper is about twice as stiff one way.", switch={"along": "The stiff way along the gap"}),
    length("span_m", "Gap", 0.05, 1.0, 0.3, 0.01, "Load falls with it, sag grows with its cube.", setup="gap_m",
           reading="gap", nudge=0.01, more="Gap {} longer", less="Gap {} shorter", least=0.02, most=5.0),
    length("overlap_m", "Rests on each side", 0.0, 0.2, 0.04, 0.005, "A sagging span pulls its ends in.",
           setup="overlap_min_m", reading="overlap_left", nudge=0.01, more="Rests {} more", fine=True, most=1.0),
    choice("placement", "Load", {"patch": "on a platform at midspan", "cup": "in a cup at midspan",
                                 "centre": "in one line across", "uniform": "spread over the span",
                                 "two_point": "at two thirds"},
           "A platform reaches over the whole width; under a cup only the nearest pleats work."),
    length("patch_m", "Platform or cup", 0.005, 0.3, 0.06, 0.005, "A longer platform bends it less.",
           only=("placement", ("patch", "cup")), nudge=0.02, more="{} longer", fine=True),
    length("off_m", "Load off midspan", 0.0, 0.4, 0.0, 0.005, "In the middle it bends the bridge most.",
           only=("placement", ("patch", "cup", "centre")), fine=True),
    length("aside_m", "Load off the middle line", 0.0, 0.2, 0.0, 0.002, "Open folds near one edge carry it alone.",
           nudge=0.005, less="Load {} nearer the middle line", fine=True),
    length("sag_limit_m", "Sag that counts as failed", 0.002, 0.2, 0.03, 0.001,
           "How far it may bend before it is over.", fine=True),
)  # fmt: skip


def _sheet(values: Values) -> Stock:
    sheet = values.stocks["sheet"]
    return sheet.weak_way() if values.words["grain"] == "across" else sheet


def section_of(values: Values, thickness_m: Number) -> Section:
    """The section that the sheet is folded into.

    Args:
        values: the draft's.
        thickness_m: of one sheet [m]; may be samples.
    Returns:
        The section of all layers; loose layers add up.
    Errors:
        ``out_of_domain`` where the sheet is too narrow for the shape.
    """
    shape, width, layers = values.words["shape"], values["width_m"], values.count("layers")
    if shape == "flat":
        section = rectangle(width, thickness_m)
    elif shape == "pleated":
        section = pleated(width, values["depth_m"], values.count("pleats"), thickness_m)
    elif shape == "trough":
        base = width - 2 * values["depth_m"]
        if base <= 2 * typical(thickness_m):
            raise refuse("depth_m", "Edges that high leave no floor. Turn up less, or take a wider sheet.")
        section = trough(base, values["depth_m"] + thickness_m, thickness_m)
    elif shape == "tube":
        section = round_tube(width / math.pi + thickness_m, thickness_m)
    else:
        across = width / 2 - values["depth_m"]
        if across <= 4 * typical(thickness_m):
            raise refuse("depth_m", "A box that deep has no width left. Make it shallower, or take a wider sheet.")
        section = box(across + thickness_m, values["depth_m"] + thickness_m, thickness_m)
    if layers == 1:
        return section
    return replace(section, area_m2=section.area_m2 * layers, second_moment_m4=section.second_moment_m4 * layers)


def expect(values: Values) -> Expected:
    """What the bridge is expected to hold.

    Args:
        values: the draft's.
    Returns:
        Prediction and own mass, the overlaps included.
    Errors:
        Those of ``sections`` and ``beams``.
    """
    sheet = _sheet(values)
    draws = Samples().draw(sheet.thickness_m, f"{values.stocks['sheet'].key} thickness")
    section = section_of(values, draws)
    prediction = sheet_bridge(
        section, values["span_m"], values["overlap_m"], sheet, _placement(values), _patch(values),
        values["sag_limit_m"], across_m=_patch(values) if values.words["placement"] == "cup" else None,
        off_m=values.when("off_m", "placement", "patch", "cup", "centre"), aside_m=values["aside_m"],
        beside=values.count("beside"),
    )  # fmt: skip
    long = values["span_m"] + 2 * values["overlap_m"]
    mass = sheet.grammage_kg_m2 * values["width_m"] * values.count("layers") * values.count("beside") * long
    return Expected(prediction, mass)


def _patch(values: Values) -> float:
    return min(values["patch_m"], values["span_m"]) if _placement(values) == "patch" else 0.0


def _placement(values: Values) -> str:
    """How the load lies along the span: a cup stands on a stretch of it, as a platform does."""
    return "patch" if values.words["placement"] == "cup" else values.words["placement"]


def section_drawing(section: Section) -> Drawing:
    """A section with its neutral axis and its size, to scale.

    Args:
        section: the section.
    Returns:
        The drawing; loops inside another are holes.
    """
    shapes: list[Shape] = []
    for index, loop in enumerate(section.outline):
        inside = index > 0 and _inside(loop[0], section.outline[0])
        shapes.append(area(Role.HOLE if inside else Role.STRUCTURE, *loop))
    xs = [x for loop in section.outline for x, _ in loop]
    left, right, deep = min(xs), max(xs), typical(section.depth_m)
    room = 0.06 * max(right - left, deep)
    axis = typical(section.neutral_axis_m)
    shapes += [
        line(Role.AXIS, (left - room, axis), (right + room, axis)),
        measure((right + 3 * room, 0.0), (right + 3 * room, deep)),
        measure((left, -2 * room), (right, -2 * room)),
    ]
    return Drawing(tuple(shapes), f"The section, {format_length(right - left)} wide and {format_length(deep)} deep.")


def _inside(point: Point, loop: tuple[Point, ...]) -> bool:
    x, y = point
    crossings = 0
    for (x0, y0), (x1, y1) in zip(loop, (*loop[1:], loop[0]), strict=True):
        if (y0 > y) != (y1 > y) and x < (x1 - x0) * (y - y0) / (y1 - y0) + x0:
            crossings += 1
    return crossings % 2 == 1


def gives(values: Values) -> tuple[float, float, float]:
    """How far the middle comes down for each newton of the load.

    Args:
        values: the draft's.
    Returns:
        With the loosest, the usual and the stiffest sheet [m/N].
    Errors:
        ``out_of_domain`` as ``section_of``.
    Source:
        Beam tables, as ``typical_sag_m``; the sheet's stiffness as the stock's bounds have it.
    """
    sheet = _sheet(values)
    section = section_of(values, sheet.thickness_m.typical)
    usual = typical_sag_m(
        section, values["span_m"], sheet, _placement(values), 1.0 / values.count("beside"), _patch(values)
    )
    return loosest_to_stiffest(usual, sheet)


def show(values: Values, expected: Expected, system: System) -> Shown:
    """Section and span to scale, with the sag at the load at which it gives way.

    Args:
        values: the draft's.
        expected: what is expected of it.
        system: the reader's units.
    Returns:
        What is shown.
    """
    sheet = _sheet(values)
    section = section_of(values, sheet.thickness_m.typical)
    span, overlap = values["span_m"], values["overlap_m"]
    prediction = expected.prediction
    assert prediction is not None
    load = prediction.typical_n
    # Of several, each sags under its share.
    each = load * values.on / values.count("beside")
    sag = typical_sag_m(section, span, sheet, _placement(values), each, _patch(values))
    drawn = min(sag, 1.2 * values["sag_limit_m"], 0.35 * span)
    deep = max(typical(section.depth_m), span / 200)
    if values.gone:
        drawn = max(2.2 * drawn, 0.12 * span)
    # What has given way hangs from its crease in two straight halves.
    curve = ((0.0, 0.0), (span / 2, -drawn), (span, 0.0)) if values.gone else sag_curve(span, drawn)
    # Beyond the supports the ends go on in the direction in which the span leaves them.
    rise = (2 if values.gone else 3) * drawn / span * overlap
    bottom = [(-overlap, rise), *curve, (span + overlap, rise)]
    deck = [*bottom, *((x, y + deep) for x, y in reversed(bottom))]
    # The supports are as high in every frame of a film.
    high = max(0.22 * span, 1.6 * min(sag / max(values.on, 1e-9), 1.2 * values["sag_limit_m"], 0.35 * span))
    top = deep - drawn
    load_shapes: list[Shape] = []
    if values.words["placement"] == "uniform":
        load_shapes = [arrow((span * (i + 0.5) / 8, deep + 0.16 * span), (span * (i + 0.5) / 8, deep + 0.02 * span))
                       for i in range(8)]  # fmt: skip
    elif values.words["placement"] == "two_point":
        load_shapes = [arrow((x, top + 0.2 * span), (x, deep - drawn * 0.8)) for x in (span / 3, 2 * span / 3)]
    else:
        wide = max(_patch(values), span / 60)
        load_shapes = [
            block(Role.LOAD, span / 2 - wide / 2, top, wide, 0.014 * span),
            arrow((span / 2, top + 0.22 * span), (span / 2, top + 0.02 * span)),
        ]
    weakest = prediction.governing.key
    mark = {"crimp": (span / 2, top), "crush": (span / 2, top), "tear": (span / 2, -drawn), "slide": (0.0, 0.0)}
    spot = [circle(Role.WEAKEST, mark[weakest], 0.02 * span)] if weakest in mark and values.share >= 1 else []
    side = Drawing(
        (
            block(Role.SUPPORT, -0.16 * span - overlap, -high, 0.16 * span + overlap, high),
            block(Role.SUPPORT, span, -high, 0.16 * span + overlap, high),
            area(Role.STRUCTURE, *deck),
            *load_shapes,
            *spot,
            measure((0, -0.8 * high), (span, -0.8 * high)),
        ),
        f"The bridge over {format_length(span, system)} of gap, sagging {format_length(sag, system)}.",
    )
    even = simply_supported(span, 1.0, "uniform").max_moment_nm
    here = simply_supported(span, 1.0, _placement(values), _patch(values)).max_moment_nm
    return Shown(
        views=(
            View("section", "Section at midspan, with its neutral axis", section_drawing(section)),
            View("side", "Over the gap, sagging as it does when it gives way", side),
        ),
        facts=(
            Fact("Own weight", "mass", expected.mass_kg),
            Fact("Times its own weight", "ratio", prediction.typical_kg / expected.mass_kg),
            Fact("Sag when it gives way", "length", sag),
            Fact("Bending, against the same load spread out", "ratio", here / even),
            Fact("Stiffer than flat", "ratio", _stiffer(values, section, sheet)),
        ),
    )


def _stiffer(values: Values, section: Section, sheet: Stock) -> float:
    flat = rectangle(values["width_m"], sheet.thickness_m.typical).second_moment_m4
    return float(typical(section.second_moment_m4) / flat)


def _moments() -> Drawing:
    """Bending along the span: all load in one spot, and the same load spread."""
    wide, high = 0.3, 0.1
    spread = [(wide * i / 20, -high / 2 * 4 * (i / 20) * (1 - i / 20)) for i in range(21)]
    gap = 0.42
    return Drawing(
        (
            line(Role.STRUCTURE, (0, 0), (wide, 0)),
            arrow((wide / 2, 0.07), (wide / 2, 0.008)),
            area(Role.WEAKEST, (0, 0), (wide / 2, -high), (wide, 0)),
            line(Role.STRUCTURE, (gap, 0), (gap + wide, 0)),
            *(arrow((gap + wide * (i + 0.5) / 8, 0.05), (gap + wide * (i + 0.5) / 8, 0.008)) for i in range(8)),
            area(Role.GOOD, *((gap + x, y) for x, y in spread)),
            label(Role.GHOST, (wide / 2, -high - 0.05), "in one spot: 1"),
            label(Role.GHOST, (gap + wide / 2, -high - 0.05), "spread: ½"),
        ),
        "Bending along the span: under a load in one spot it peaks at twice the height it has under the same load "
        "spread.",
    )


def _depths() -> Drawing:
    """Pleats of one and of two depths, and how stiff each is."""

    def folds(left: float, deep: float) -> Shape:
        return line(Role.STRUCTURE, *((left + 0.03 * i, deep * (i % 2)) for i in range(9)))

    return Drawing(
        (
            folds(0, 0.03), folds(0.42, 0.06),
            label(Role.GHOST, (0.12, 0.085), "depth 1"), label(Role.GHOST, (0.54, 0.085), "depth 2"),
            block(Role.GOOD, 0.1, -0.06, 0.03, 0.025), block(Role.GOOD, 0.52, -0.135, 0.03, 0.1),
            label(Role.GHOST, (0.24, -0.07), "stiff: 1"), label(Role.GHOST, (0.66, -0.07), "stiff: 4"),
        ),
        "Pleats twice as deep are four times as stiff.",
    )  # fmt: skip


SHEET_BRIDGE = DraftKind(
    "sheet_bridge", "Sheet bridge", "One sheet, folded, over a gap.", ("bridge", "capacity_table"), "load on the deck",
    _PARAMS, expect, show, "sheet",
    lessons=(
        Lesson("The same load bends half as much when it is spread along the span.", _moments()),
        Lesson("Twice the depth is four times the stiffness, from the same sheet.", _depths()),
    ),
    films=(
        load_grows("Load grows, sag grows, and it gives way", "side"),
        changes("Deeper folds from the same sheet", "section", "depth_m",
                lambda values, expected: (values["depth_m"] / 2, min(2 * values["depth_m"], 0.4 * values["width_m"])),
                ("shape", ("pleated", "trough", "box"))),
    ),
    gives=gives,
    blame={"pleat_depth_m": "depth_m", "flange_m": "depth_m", "base_m": "width_m", "wall_m": "sheet",
           "sheet_m": "sheet", "outer_diameter_m": "width_m", "developed_width_m": "width_m"},
)  # fmt: skip
