"""An address as a code that a camera reads (QR, ISO/IEC 18004)."""

from __future__ import annotations

import io

import segno


def rows_of(text: str) -> list[str]:
    """A text as the rows of its code, a ``1`` for each dark module; the quiet edge of four is left to who draws it."""
    return ["".join("1" if dark else "0" for dark in row) for row in segno.make_qr(text, error="m").matrix]


def for_paper(text: str) -> str:
    """A text as a code to stand in a printed page (SVG), with the quiet edge it needs; its size is left to the page."""
    return str(segno.make_qr(text, error="m").svg_inline(border=4, omitsize=True))


def for_terminal(text: str) -> str:
    """A text as a code made of half blocks, two rows of modules in a line."""
    drawn = io.StringIO()
    segno.make_qr(text, error="l").terminal(drawn, compact=True, border=2)
    return drawn.getvalue()
