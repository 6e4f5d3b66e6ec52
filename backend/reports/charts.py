"""Charts for paper: the ranking with its doubt, and load against own weight. Sizes in millimetres."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from html import escape

_INK, _SOFT, _LINE, _HELD = "#1f2a2e", "#56605d", "#cfc6b3", "#25705c"
_FAINT = f'fill="{_SOFT}"'
_HATCH = (
    '<defs><pattern id="doubt" width="1.6" height="1.6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">'
    f'<line y2="1.6" stroke="{_HELD}" stroke-width="0.5"/></pattern></defs>'
)


@dataclass(frozen=True)
class Bar:
    """A line of the ranking: places, team, its colour, the value with its bounds, and the value in words."""

    places: str
    name: str
    colour: str
    value: float
    high: float
    words: str


def ranking_svg(bars: Sequence[Bar], width: float = 180.0, row: float = 9.0) -> str:
    """The ranking as bars: solid is known, hatched is not; a bar that is open above ends in a point."""
    # Letters and marks grow with the row, up to what the words beside the bars leave room for.
    size = min(row / 9, 1.8)
    left, right = 46.0 * size + 12, 45.0 * size
    most = max((max(bar.value, 0 if math.isinf(bar.high) else bar.high) for bar in bars), default=1.0) or 1.0
    scale = (width - left - right) / (1.06 * most)
    height = row * len(bars) + 1
    drawn = []
    for i, bar in enumerate(bars):
        y, thick = i * row + 0.15 * row, 0.62 * row
        base = y + thick / 2 + 1.6 * size
        x = left + max(0.3, bar.value * scale)
        end = width - right if math.isinf(bar.high) else left + max(bar.high, bar.value) * scale
        start = f"M{x:.2f} {y:.2f}"
        if math.isinf(bar.high):
            outline = f"{start}H{end - 2:.2f}L{end:.2f} {y + thick / 2:.2f}L{end - 2:.2f} {y + thick:.2f}H{x:.2f}z"
        else:
            outline = f"{start}H{end:.2f}V{y + thick:.2f}H{x:.2f}z"
        mark = 3.6 * size
        drawn.append(
            _text(0, base, 5 * size, bar.places, 'font-weight="700"')
            + f'<rect x="{13 * size:.2f}" y="{y + thick / 2 - mark / 2:.2f}" width="{mark:.2f}" height="{mark:.2f}" '
            f'fill="{escape(bar.colour)}"/>'
            + _text(19 * size, base, 4.2 * size, bar.name, 'font-weight="600"')
            + f'<rect x="{left:.2f}" y="{y:.2f}" width="{x - left:.2f}" height="{thick:.2f}" fill="{_HELD}"/>'
            f'<path d="{outline}" fill="url(#doubt)" stroke="{_HELD}" stroke-width="0.2"/>'
            + _text(end + 1.5, base, 3.8 * size, bar.words)
        )
    return _svg(width, height, _HATCH + "".join(drawn), "The ranking; hatched is not known")


@dataclass(frozen=True)
class Dot:
    """A design: its name and colour, own weight [g], load [kg], and whether that is "at least"."""

    name: str
    colour: str
    mass_g: float
    load_kg: float
    at_least: bool


def rays_svg(dots: Sequence[Dot], width: float = 110.0, height: float = 62.0) -> str:
    """Load held against own weight, with rays of equal ratio."""
    left, bottom, top = 14.0, 12.0, 4.0
    mass = 1.2 * max((dot.mass_g for dot in dots), default=1.0)
    load = 1.15 * max((dot.load_kg for dot in dots), default=1.0)

    def x(g: float) -> float:
        return left + g / mass * (width - left - 18)

    def y(kg: float) -> float:
        return height - bottom - kg / load * (height - bottom - top)

    drawn = []
    ratios = sorted(1000 * dot.load_kg / dot.mass_g for dot in dots if dot.mass_g > 0)
    for ratio in sorted({_round(one) for one in (ratios[0], ratios[len(ratios) // 2], ratios[-1])}) if ratios else []:
        end = min(mass, 1000 * load / ratio)
        drawn.append(
            f'<path d="M{x(0):.2f} {y(0):.2f}L{x(end):.2f} {y(end * ratio / 1000):.2f}" stroke="{_LINE}"/>'
            + _text(x(end) + 1, y(end * ratio / 1000) + 1, 3, f"{ratio:g} ×", _FAINT)
        )
    drawn.append(f'<path d="M{left} {top}V{height - bottom}H{width - 18}" fill="none" stroke="{_INK}"/>')
    for share in (0.5, 1.0):
        g, kg = _round(share * mass / 1.2), _round(share * load / 1.15)
        drawn.append(_text(x(g), height - bottom + 4, 3, f"{g:g} g", 'text-anchor="middle"'))
        drawn.append(_text(left - 1.5, y(kg) + 1, 3, f"{kg:g} kg", 'text-anchor="end"'))
    for dot in dots:
        across, up, ink = x(dot.mass_g), y(dot.load_kg), escape(dot.colour)
        if dot.at_least:
            drawn.append(f'<path d="M{across:.2f} {up:.2f}v-5m-1 1.4l1 -1.4l1 1.4" fill="none" stroke="{ink}"/>')
        drawn.append(f'<circle cx="{across:.2f}" cy="{up:.2f}" r="1.5" fill="{ink}"/>')
        drawn.append(_text(across + 2.4, up + 1.1, 3.4, dot.name))
    drawn.append(_text(width - 18, height - 2, 3, "own weight", f'text-anchor="end" {_FAINT}'))
    return _svg(width, height, "".join(drawn), "Load held against own weight")


def _text(x: float, y: float, size: float, words: str, more: str = "") -> str:
    return f'<text x="{x:.2f}" y="{y:.2f}" font-size="{size:.2f}" {more}>{escape(words)}</text>'


def _round(value: float) -> float:
    """To two figures: what an axis says."""
    return float(f"{value:.2g}")


def _svg(width: float, height: float, body: str, says: str) -> str:
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width:.2f}mm" height="{height:.2f}mm" '
        f'viewBox="0 0 {width:.2f} {height:.2f}" stroke-width="0.3" font-family="Text" fill="{_INK}" role="img">'
        f"<title>{escape(says)}</title>{body}</svg>"
    )
