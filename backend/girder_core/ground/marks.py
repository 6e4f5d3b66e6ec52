"""The marks of teams: drawn so that teams can be told apart without colour, on screen, on paper and from afar."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

FIELD = 24.0
"""A mark is drawn on a square field of this width."""


@dataclass(frozen=True)
class MarkPart:
    """A part of a mark: an outline as SVG path data (SVG 2, chapter 9), filled, or drawn with a pen of some width."""

    path: str
    pen: float = 0.0


def _ring(x: float, y: float, radius: float) -> str:
    half = f"a{radius:g} {radius:g} 0 1 0"
    return f"M{x - radius:g} {y:g}{half} {2 * radius:g} 0{half} {-2 * radius:g} 0z"


MARKS: Mapping[str, tuple[MarkPart, ...]] = {
    "sash": (MarkPart("M3 3h18v18H3z", 3), MarkPart("M4 20 20 4", 3.4)),
    "gable": (MarkPart("M12 2 22.5 21.5h-21z"),),
    "porthole": (MarkPart(_ring(12, 12, 9), 3.2), MarkPart(_ring(12, 12, 3.4))),
    "portal": (MarkPart("M2 2h20v20h-6V8H8v14H2z"),),
    "disc": (MarkPart(_ring(12, 12, 10)),),
    "cross": (MarkPart("M8.5 2h7v6.5H22v7h-6.5V22h-7v-6.5H2v-7h6.5z"),),
    "lozenge": (MarkPart("M12 2.5 21.5 12 12 21.5 2.5 12z", 3.4),),
    "planks": (MarkPart("M2 3h20v4.5H2zm0 6.75h20v4.5H2zm0 6.75h20V21H2z"),),
    "rivets": tuple(MarkPart(_ring(x, y, 4.2)) for x in (6, 18) for y in (6, 18)),
    "chevron": (MarkPart("M2 4h7l6 8-6 8H2l6-8zm9 0h5l6 8-6 8h-5l6-8z"),),
    "half": (MarkPart(_ring(12, 12, 9), 3), MarkPart("M12 3a9 9 0 0 0 0 18z")),
    "saltire": (MarkPart("M3 6 6 3l6 6 6-6 3 3-6 6 6 6-3 3-6-6-6 6-3-3 6-6z"),),
}
"""Every mark, by its name."""
