"""The support footprint at true scale, over as many pages as it takes, each with a bar to check the printer."""

from __future__ import annotations

import math
from dataclasses import dataclass

from girder_core.drawing import Drawing
from girder_core.units import System
from reports.drawing_svg import to_svg

PAPERS = {"a4": (210.0, 297.0), "letter": (215.9, 279.4)}
"""Width and height upright [mm]: ISO 216 and ANSI/ASME Y14.1."""

MARGIN_MM, HEAD_MM, OVERLAP_MM = 12.0, 26.0, 10.0
CHECK_MM = 100.0
CHECK_IN_MM = 4 * 25.4


@dataclass(frozen=True)
class Tile:
    """A page of the template: its place, and the drawing's SVG shifted so that this part shows [mm]."""

    name: str
    left_mm: float
    top_mm: float
    joins: str


@dataclass(frozen=True)
class Footprint:
    """The laid-out template.

    Attributes:
        svg: the whole drawing at true scale.
        tiles: the pages.
        width_mm, height_mm: visible part of the drawing on a page.
        landscape: whether pages lie on their side.
    """

    svg: str
    tiles: tuple[Tile, ...]
    width_mm: float
    height_mm: float
    landscape: bool


def lay_out(drawing: Drawing, paper: str, system: System) -> Footprint:
    """Cut a drawing at true scale into pages that overlap by 10 mm; the way up that needs fewer pages wins."""
    room = 8.0
    left, bottom, right, top = drawing.box()
    wide, high = (right - left) * 1000 + 2 * room, (top - bottom) * 1000 + 2 * room

    def grid(page: tuple[float, float]) -> tuple[int, int, float, float]:
        width, height = page[0] - 2 * MARGIN_MM, page[1] - 2 * MARGIN_MM - HEAD_MM
        across, down = (
            1 if size <= shown else math.ceil((size - OVERLAP_MM) / (shown - OVERLAP_MM))
            for size, shown in ((wide, width), (high, height))
        )
        return across, down, width, height

    portrait, flat = grid(PAPERS[paper]), grid(PAPERS[paper][::-1])
    landscape = flat[0] * flat[1] < portrait[0] * portrait[1]
    across, down, width, height = flat if landscape else portrait
    tiles = []
    for row in range(down):
        for column in range(across):
            name = f"{chr(ord('A') + row)}{column + 1}"
            joins = [f"{chr(ord('A') + row)}{column}"] if column else []
            joins += [f"{chr(ord('A') + row - 1)}{column + 1}"] if row else []
            told = f"Lay its dashed edge on the dashed edge of {' and '.join(joins)}." if joins else ""
            tiles.append(Tile(name, column * (width - OVERLAP_MM), row * (height - OVERLAP_MM), told))
    return Footprint(to_svg(drawing, 1.0, room, system), tuple(tiles), width, height, landscape)
