"""Result charts of the core as SVG for paper: the same shapes that the screen draws, at a width in millimetres."""

from __future__ import annotations

from collections.abc import Mapping
from html import escape

from girder_core.ground import FIELD, MARKS
from girder_core.results import Chart, Drawn, Ink
from people.models import Team

_INK, _SOFT, _LINE, _HELD, _OXIDE, _WATCH, _PAPER = (
    "#1f2a2e", "#56605d", "#cfc6b3", "#25705c", "#9e3d26", "#8a5a00", "#ffffff",
)  # fmt: skip
_HATCH = (
    '<defs><pattern id="doubt" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">'
    f'<line y2="7" stroke="{_HELD}" stroke-width="2.2"/></pattern></defs>'
)
_FILL: Mapping[Ink, str] = {
    Ink.KNOWN: f'fill="{_HELD}"',
    Ink.UNKNOWN: f'fill="url(#doubt)" stroke="{_HELD}" stroke-width="1.2"',
    Ink.SPREAD: 'fill="url(#doubt)" opacity="0.45"',
    Ink.COUNTED: f'fill="{_INK}"',
    Ink.MODEL: f'fill="{_PAPER}" stroke="{_INK}" stroke-width="2.2"',
    Ink.SAID: f'fill="#d99b1c" stroke="{_INK}" stroke-width="2"',
    Ink.TRIAL: f'fill="{_INK}" stroke="{_INK}" stroke-width="1.4"',
    Ink.TRIAL_OPEN: f'fill="{_PAPER}" stroke="{_INK}" stroke-width="1.4"',
}
_PEN: Mapping[Ink, str] = {
    Ink.GRID: f'stroke="{_LINE}" stroke-width="1.4"',
    Ink.AXIS: f'stroke="{_INK}" stroke-width="2"',
    Ink.TARGET: f'stroke="{_OXIDE}" stroke-width="3" stroke-dasharray="9 5"',
    Ink.GAP: f'stroke="{_PAPER}" stroke-width="3"',
    Ink.MEAN: f'stroke="{_HELD}" stroke-width="4"',
    Ink.FITTED: f'stroke="{_INK}" stroke-width="2" stroke-dasharray="7 5"',
}
_TEAM_PEN: Mapping[Ink, str] = {
    Ink.TEAM: 'stroke-width="2.5"',
    Ink.TEAM_OPEN: 'stroke-width="2.2" stroke-dasharray="6 4"',
    Ink.TEAM_SURE: 'stroke-width="4.5"',
}
_WORDS: Mapping[Ink, str] = {
    Ink.SOFT: _SOFT,
    Ink.FIRST: _OXIDE,
    Ink.ON_BAR: _PAPER,
    Ink.SURE: _HELD,
    Ink.UNSURE: _WATCH,
}


def chart_svg(chart: Chart, teams: Mapping[str, Team], width_mm: float, most_mm: float = 400.0) -> str:
    """A chart at a width on paper, or as high as it may be; ``teams`` has the team of each design by key."""
    scale = min(width_mm / chart.width, most_mm / chart.height)
    body = "".join(_drawn(shape, teams) for shape in chart.drawn)
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{chart.width * scale:.2f}mm" '
        f'height="{chart.height * scale:.2f}mm" viewBox="0 0 {chart.width:g} {chart.height:g}" font-family="Text" '
        f'role="img"><title>{escape(chart.shows)}</title>{_HATCH}{body}</svg>'
    )


def _drawn(shape: Drawn, teams: Mapping[str, Team]) -> str:
    x, y = shape.points[0]
    team = teams.get(shape.key)
    if shape.kind == "words":
        anchor = "" if shape.anchor == "start" else f' text-anchor="{shape.anchor}"'
        weight = ' font-weight="600"' if shape.bold else ""
        look = f'font-size="{shape.size:g}" fill="{_WORDS.get(shape.ink, _INK)}"{anchor}{weight}'
        return f'<text x="{x:.1f}" y="{y:.1f}" {look}>{escape(shape.text)}</text>'
    if shape.kind == "mark":
        return _mark(x, y, shape.size, team) if team else ""
    if shape.kind == "circle":
        return f'<circle cx="{x:.1f}" cy="{y:.1f}" r="{shape.size:g}" {_FILL[shape.ink]}/>'
    listed = " ".join(f"{across:.1f},{down:.1f}" for across, down in shape.points)
    if shape.kind == "area":
        return f'<polygon points="{listed}" {_FILL[shape.ink]}/>'
    if shape.ink in _TEAM_PEN:
        pen = f'stroke="{escape(team.colour) if team else _INK}" {_TEAM_PEN[shape.ink]}'
    else:
        pen = _PEN[shape.ink]
    return f'<polyline points="{listed}" fill="none" {pen}/>'


def _mark(x: float, y: float, size: float, team: Team) -> str:
    scale, colour = size / FIELD, escape(team.colour)
    parts = "".join(
        f'<path d="{part.path}" '
        + (f'fill="none" stroke="{colour}" stroke-width="{part.pen:g}"/>' if part.pen else f'fill="{colour}"/>')
        for part in MARKS[team.mark]
    )
    return f'<g transform="translate({x - size / 2:.2f} {y - size / 2:.2f}) scale({scale:.4f})">{parts}</g>'
