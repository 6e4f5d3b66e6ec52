"""Charts for paper: the ranking with what is not known, load against own weight, a factor. Sizes in millimetres."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from html import escape

from girder_core.measure import Kind, System, factor
from girder_core.results import Level

_INK, _SOFT, _LINE, _HELD = "#1f2a2e", "#56605d", "#cfc6b3", "#25705c"
_FAINT = f'fill="{_SOFT}"'
_MIDDLE = 'text-anchor="middle"'
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
    """A design: its name and colour, own weight [kg], load [kg], and whether that is "at least"."""

    name: str
    colour: str
    mass_kg: float
    load_kg: float
    at_least: bool


class _Room:
    """Where words already stand, so that the next ones find a free place."""

    def __init__(self) -> None:
        self.taken: list[tuple[float, float, float, float]] = []

    def keep(self, x: float, y: float, width: float, height: float) -> bool:
        """Take a box, given by its upper left corner, unless something stands there."""
        for left, top, wide, high in self.taken:
            if x < left + wide and left < x + width and y < top + high and top < y + height:
                return False
        self.taken.append((x, y, width, height))
        return True


def rays_svg(dots: Sequence[Dot], system: System = System.METRIC, width: float = 178.0, height: float = 88.0) -> str:
    """Load held against own weight, with rays of equal ratio; a ray's word stands where it leaves the chart."""
    left, right, bottom, top = 20.0, 24.0, 14.0, 5.0
    light, heavy = ("oz", "lb") if system is System.US else ("g", "kg")
    mass = 1.2 * max((dot.mass_kg for dot in dots), default=1.0)
    load = 1.15 * max((dot.load_kg for dot in dots), default=1.0)

    def x(kg: float) -> float:
        return left + kg / mass * (width - left - right)

    def y(kg: float) -> float:
        return height - bottom - kg / load * (height - bottom - top)

    room, drawn = _Room(), []
    ratios = sorted(dot.load_kg / dot.mass_kg for dot in dots if dot.mass_kg > 0)
    for ratio in sorted({_round(one) for one in (ratios[0], ratios[len(ratios) // 2], ratios[-1])}) if ratios else []:
        end = min(mass, load / ratio)
        drawn.append(f'<path d="M{x(0):.2f} {y(0):.2f}L{x(end):.2f} {y(end * ratio):.2f}" stroke="{_LINE}"/>')
        drawn.append(_text(x(end) + 1, y(end * ratio) + 1, 3.2, f"{ratio:g} ×", _FAINT))
        room.keep(x(end) + 1, y(end * ratio) - 2, 9, 3.6)
    drawn.append(f'<path d="M{left} {top}V{height - bottom}H{width - right}" fill="none" stroke="{_INK}"/>')
    for tick in _ticks(mass / factor(light, Kind.MASS)):
        at = x(tick * factor(light, Kind.MASS))
        drawn.append(f'<path d="M{at:.2f} {height - bottom}v1.4" stroke="{_INK}"/>')
        drawn.append(_text(at, height - bottom + 5, 3.4, f"{tick:g}", _MIDDLE))
    for tick in _ticks(load / factor(heavy, Kind.MASS)):
        at = y(tick * factor(heavy, Kind.MASS))
        drawn.append(f'<path d="M{left} {at:.2f}h-1.4" stroke="{_INK}"/>')
        drawn.append(_text(left - 2.2, at + 1.2, 3.4, f"{tick:g}", 'text-anchor="end"'))
    for dot in dots:
        room.keep(x(dot.mass_kg) - 1.6, y(dot.load_kg) - 1.6, 3.2, 3.2)
    for dot in dots:
        across, up, ink = x(dot.mass_kg), y(dot.load_kg), escape(dot.colour)
        if dot.at_least:
            drawn.append(f'<path d="M{across:.2f} {up:.2f}v-5m-1 1.4l1 -1.4l1 1.4" fill="none" stroke="{ink}"/>')
        drawn.append(f'<circle cx="{across:.2f}" cy="{up:.2f}" r="1.5" fill="{ink}"/>')
        long = 2.0 * len(dot.name)
        places = [(2.4, 1.2, ""), (-2.4 - long, 1.2, ""), (2.4, 4.6, ""), (2.4, -2.4, ""), (-2.4 - long, 4.6, "")]
        dx, dy, _ = next((one for one in places if room.keep(across + one[0], up + one[1] - 3, long, 3.6)), places[0])
        drawn.append(_text(across + dx, up + dy, 3.6, dot.name))
    drawn.append(_text(width - right, height - 2.5, 3.4, f"own weight, {light}", f'text-anchor="end" {_FAINT}'))
    drawn.append(_text(2, 3.4, 3.4, f"load, {heavy}", _FAINT))
    return _svg(width, height, "".join(drawn), "Load held against own weight")


def strip_svg(levels: Sequence[Level], words: Callable[[float], str], width: float = 178.0) -> str:
    """The levels of a factor one below the other: every trial a mark, a design open above with an arrow, the mean."""
    row, left, right, foot = 11.0, 40.0, 14.0, 9.0
    values = [mark.value for level in levels for one in level.members for mark in one.marks]
    values += [one.value for level in levels for one in level.members]
    most = 1.06 * max(values, default=1.0) or 1.0
    height = row * len(levels) + foot

    def x(value: float) -> float:
        return left + value / most * (width - left - right)

    drawn = [f'<path d="M{left} {height - foot}H{width - right}" stroke="{_INK}"/>']
    for share in (0.5, 1.0):
        value = share * _ticks(most)[-1]
        drawn.append(f'<path d="M{x(value):.2f} {height - foot}v1.4" stroke="{_INK}"/>')
        drawn.append(_text(x(value), height - foot + 5, 3.4, words(value), _MIDDLE))
    for i, level in enumerate(levels):
        base = (i + 0.5) * row
        drawn.append(_text(0, base + 1.3, 3.8, level.name, 'font-weight="600"'))
        drawn.append(f'<path d="M{left} {base:.2f}H{width - right}" stroke="{_LINE}"/>')
        for one in level.members:
            for mark in one.marks:
                drawn.append(f'<circle cx="{x(mark.value):.2f}" cy="{base:.2f}" r="1.3" fill="none" stroke="{_HELD}"/>')
                if mark.at_least:
                    drawn.append(f'<path d="M{x(mark.value) + 1.3:.2f} {base:.2f}h4m-1.4 -1l1.4 1l-1.4 1" '
                                 f'fill="none" stroke="{_HELD}"/>')  # fmt: skip
        if level.mean is not None:
            at = x(level.mean.mean)
            drawn.append(f'<path d="M{at:.2f} {base - 3.4:.2f}v6.8" stroke="{_INK}" stroke-width="0.9"/>')
    return _svg(width, height, "".join(drawn), "Results by level; the upright line is the mean")


def _ticks(most: float, wanted: int = 5) -> list[float]:
    """Round numbers from zero up: steps of 1, 2 or 5 times a power of ten."""
    if not most > 0:
        return [0.0]
    power = 10.0 ** math.floor(math.log10(most / wanted))
    step = next(one * power for one in (1, 2, 5, 10) if one * power >= most / wanted * (1 - 1e-9))
    return [float(f"{i * step:.6g}") for i in range(math.floor(most / step + 1e-9) + 1)]


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
