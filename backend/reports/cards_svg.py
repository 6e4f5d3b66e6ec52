"""Scale cards at true scale, as SVG in millimetres."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import groupby
from textwrap import wrap

from girder_core.photo import BAR_M, BAR_OFF_M, FIELDS, PAPER_M, Card, cards, fields_of

_PLATE = 'font-family="Plate" font-weight="700"'
MARGIN_MM = 1000 * PAPER_M


@dataclass(frozen=True)
class PrintedCard:
    """A card for paper: its name, where it goes, its drawing, and how large that is [mm]."""

    name: str
    use: str
    svg: str
    width_mm: float
    height_mm: float


def printed(number: int) -> tuple[list[PrintedCard], list[PrintedCard]]:
    """The cards of a set: those that fill a sheet, and those that are cut out of one."""
    made = [_printed(card, number) for card in cards(number)]
    sheets = [one for one, card in zip(made, cards(number), strict=True) if card.sheet]
    return sheets, [one for one in made if one not in sheets]


def _printed(card: Card, number: int) -> PrintedCard:
    wide, high = 1000 * card.width_m + 2 * MARGIN_MM, 1000 * card.height_m + 2 * MARGIN_MM
    parts = [_mark(mark.id, [(1000 * x, -1000 * y) for x, y in mark.corners]) for mark in card.marks]
    parts += _words(card, number) if card.sheet else _label(card, number)
    box = f"{-wide / 2:g} {-high / 2:g} {wide:g} {high:g}"
    svg = f'<svg width="{wide:g}mm" height="{high:g}mm" viewBox="{box}" font-family="Text">{"".join(parts)}</svg>'
    return PrintedCard(card.name, card.use, svg, wide, high)


def _mark(mark: int, corners: list[tuple[float, float]]) -> str:
    """The black fields of a mark, a row at a time, as one shape without seams."""
    (left, top), (right, _) = corners[0], corners[1]
    side = (right - left) / FIELDS
    path = []
    for row, fields in enumerate(fields_of(mark)):
        column = 0
        for white, run in groupby(fields):
            long = len(list(run))
            if not white:
                x, y, wide = left + column * side, top + row * side, long * side
                path.append(f"M{x:.3f} {y:.3f}h{wide:.3f}v{side:.3f}h{-wide:.3f}z")
            column += long
    return f'<path class="mark" data-mark="{mark}" fill="#000" d="{"".join(path)}"/>'


def _words(card: Card, number: int) -> list[str]:
    half, y = 500 * BAR_M, 1000 * BAR_OFF_M
    lines = [
        f'<text x="0" y="-9" {_PLATE} font-size="8" text-anchor="middle">Set {number}</text>',
        f'<text x="0" y="0" font-size="6" text-anchor="middle">{card.name}</text>',
    ]
    lines += [
        f'<text x="0" y="{7 + 4.2 * i:g}" font-size="3.5" text-anchor="middle">{line}</text>'
        for i, line in enumerate(wrap(card.use, 42))
    ]
    lines.append(
        f'<g class="bar" stroke="#000"><line x1="{-half:g}" y1="{y:g}" x2="{half:g}" y2="{y:g}" stroke-width="0.4"/>'
        f'<line x1="{-half:g}" y1="{y - 4:g}" x2="{-half:g}" y2="{y + 4:g}" stroke-width="0.25"/>'
        f'<line x1="{half:g}" y1="{y - 4:g}" x2="{half:g}" y2="{y + 4:g}" stroke-width="0.25"/></g>'
        f'<text x="0" y="{y - 2:g}" font-size="4" text-anchor="middle">100 mm</text>'
    )
    lines += [
        f'<text x="0" y="{y + 9 + 4.2 * i:g}" font-size="3.5" text-anchor="middle">{line}</text>'
        for i, line in enumerate(_HOW)
    ]
    return lines


_HOW = (
    "Print at 100 %, never “fit to page”.",
    "Measure this bar once with a good ruler, and type",
    "what it says at check-in, where a photo is measured.",
    "Stick the sheet to something flat and stiff.",
)


def _label(card: Card, number: int) -> list[str]:
    side = "left" if card.key == "left" else "right"
    return [
        f'<text x="0" y="-3" {_PLATE} font-size="7" text-anchor="middle">Set {number}</text>',
        f'<text x="0" y="5" font-size="6" text-anchor="middle">{side}</text>',
    ]
