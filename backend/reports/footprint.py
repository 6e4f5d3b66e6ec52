"""The support footprint at true scale, over as many pages as it takes, each with a bar to check the printer."""

from __future__ import annotations

import math
from dataclasses import dataclass

from girder_core.ground import Drawing
from girder_core.measure import System
from reports.drawing_svg import to_svg

PAPERS = {"a4": (210.0, 297.0), "letter": (215.9, 279.4)}
"""Width and height upright [mm]: ISO 216 and ANSI/ASME Y14.1."""

MARGIN_MM, HEAD_MM = 12.0, 26.0
CHECK_MM = 100.0
CHECK_IN_MM = 4 * 25.4


@dataclass(frozen=True)
class Tile:
    """A page of the template: its name, which part of the drawing it shows [mm], and which pages it joins."""

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
    """Cut a drawing at true scale into pages that meet edge to edge; the way up that needs fewer pages wins.

    Pages are cut or folded at the dashed edge, so no length is printed twice and none is lost.
    """
    room = 8.0
    left, bottom, right, top = drawing.box()
    wide, high = (right - left) * 1000 + 2 * room, (top - bottom) * 1000 + 2 * room

    def grid(page: tuple[float, float]) -> tuple[int, int, float, float]:
        width, height = page[0] - 2 * MARGIN_MM, page[1] - 2 * MARGIN_MM - HEAD_MM
        across, down = (max(1, math.ceil(size / shown - 1e-9)) for size, shown in ((wide, width), (high, height)))
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
            joined = f"Cut along its dashed edge and lay it on that of {' and '.join(joins)}." if joins else ""
            tiles.append(Tile(name, column * width, row * height, joined))
    return Footprint(to_svg(drawing, 1.0, room, system), tuple(tiles), width, height, landscape)
