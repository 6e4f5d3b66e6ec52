"""Drawings of the core as SVG for paper: sizes in millimetres, so that a scale of 1 is true to scale."""

from __future__ import annotations

from html import escape

from girder_core.ground import Drawing, Role, Shape
from girder_core.measure import System, format_length

_PLAIN = 'fill="none" stroke="#1f2a2e"'
_STYLE = {
    Role.GROUND: 'fill="#8c8577" stroke="none"',
    Role.SUPPORT: 'fill="#e6dfcf" stroke="#1f2a2e"',
    Role.STRUCTURE: 'fill="#e3cfa0" stroke="#1f2a2e"',
    Role.LOAD: 'fill="#7d8787" stroke="#1f2a2e"',
    Role.WATER: 'fill="#cfe3e2" stroke="none"',
    Role.HOLE: 'fill="#ffffff" stroke="#1f2a2e"',
    Role.GOOD: 'fill="#25705c" stroke="none"',
    Role.WEAKEST: 'fill="#9e3d26" stroke="#1f2a2e"',
}
"""Areas and circles by what they stand for; all others are outlines."""
_PEN = {
    Role.STRUCTURE: 'stroke="#1f2a2e" stroke-width="0.9"',
    Role.COMPRESSION: 'stroke="#1f2a2e" stroke-width="1.6"',
    Role.TENSION: 'stroke="#1d5f8a" stroke-width="0.8"',
    Role.FOLD: 'stroke="#56605d" stroke-width="0.35" stroke-dasharray="1.8 1.2"',
    Role.AXIS: 'stroke="#9e3d26" stroke-width="0.35" stroke-dasharray="2.8 1 0.5 1"',
    Role.SLACK: 'stroke="#7d8787" stroke-width="0.4" stroke-dasharray="0.8 1"',
    Role.ARROW: 'stroke="#9e3d26" stroke-width="0.7"',
    Role.WEAKEST: 'stroke="#d99b1c" stroke-width="2.4"',
}
"""Lines likewise; all others are thin."""


def fitted(drawing: Drawing, width_mm: float, height_mm: float, system: System) -> str:
    """The drawing as large as it can be within the given size, everything at one scale."""
    left, bottom, right, top = drawing.box()
    # Room for the labels of dimensions at the edges.
    room = 9.0
    scale = min((width_mm - 2 * room) / ((right - left) * 1000), (height_mm - 2 * room) / ((top - bottom) * 1000))
    return to_svg(drawing, scale, room, system)


def to_svg(drawing: Drawing, scale: float, room_mm: float, system: System) -> str:
    """The drawing at a scale (paper over reality), with so much room around it; text is real text."""
    left, bottom, right, top = drawing.box()
    width, height = ((right - left) * 1000 * scale + 2 * room_mm), ((top - bottom) * 1000 * scale + 2 * room_mm)
    pen = _Pen(scale * 1000, room_mm - left * 1000 * scale, room_mm + top * 1000 * scale, system)
    body = "".join(pen.draw(shape) for shape in drawing.shapes)
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width:.3f}mm" height="{height:.3f}mm" '
        f'viewBox="0 0 {width:.3f} {height:.3f}" stroke-width="0.35" font-family="Text" role="img">'
        f"<title>{escape(drawing.says)}</title>{body}</svg>"
    )


class _Pen:
    """Maps metres to millimetres on paper and writes SVG elements."""

    def __init__(self, per_m: float, x0: float, y0: float, system: System) -> None:
        self.per_m, self.x0, self.y0, self.system = per_m, x0, y0, system

    def at(self, x: float, y: float) -> tuple[float, float]:
        return self.x0 + x * self.per_m, self.y0 - y * self.per_m

    def draw(self, shape: Shape) -> str:
        points = [self.at(x, y) for x, y in shape.points]
        style = _STYLE.get(shape.role, _PLAIN)
        listed = " ".join(f"{x:.3f},{y:.3f}" for x, y in points)
        if shape.kind == "area":
            return f'<polygon points="{listed}" {style}/>'
        if shape.kind == "line":
            pen = _PEN.get(shape.role, 'stroke="#1f2a2e" stroke-width="0.3"')
            return f'<polyline points="{listed}" fill="none" {pen}/>'
        if shape.kind == "circle":
            (x, y), r = points[0], shape.radius_m * self.per_m
            return f'<circle cx="{x:.3f}" cy="{y:.3f}" r="{r:.3f}" {style}/>'
        if shape.kind == "label":
            (x, y) = points[0]
            return f'<text x="{x:.2f}" y="{y:.2f}" text-anchor="middle" font-size="3.4">{escape(shape.text)}</text>'
        return self.measure(points, f"{shape.text} {format_length(shape.length_m, self.system)}".strip())

    def measure(self, points: list[tuple[float, float]], text: str) -> str:
        (x0, y0), (x1, y1) = points
        upright = abs(x1 - x0) < abs(y1 - y0)
        ticks = "".join(
            f'<line x1="{x - (1.6 if upright else 0):.3f}" y1="{y - (0 if upright else 1.6):.3f}" '
            f'x2="{x + (1.6 if upright else 0):.3f}" y2="{y + (0 if upright else 1.6):.3f}" stroke="#9e3d26"/>'
            for x, y in points
        )
        middle = ((x0 + x1) / 2, (y0 + y1) / 2)
        turned = f' transform="rotate(-90 {middle[0]:.2f} {middle[1]:.2f})"' if upright else ""
        return (
            f'<line x1="{x0:.3f}" y1="{y0:.3f}" x2="{x1:.3f}" y2="{y1:.3f}" stroke="#9e3d26"/>{ticks}'
            f'<text x="{middle[0]:.2f}" y="{middle[1] - 1.2:.2f}" text-anchor="middle" font-size="3.8" '
            f'font-weight="600" fill="#9e3d26" stroke="none"{turned}>{escape(text)}</text>'
        )
