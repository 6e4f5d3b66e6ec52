"""What is shown of loose pieces, put together for the API. Nothing here writes."""

from __future__ import annotations

from typing import Any

from girder_core.photo import Spread, doubts_told, sheet_told


def spread_shown(spread: Spread) -> dict[str, Any]:
    """The pieces of a picture, which of them have to be looked at, and what is wrong with the sheet."""
    return {
        "width_px": spread.wide_px,
        "height_px": spread.tall_px,
        "pieces": [
            {"at": [one.x, one.y], "radius_px": one.radius_px, "doubtful": one.doubt is not None}
            for one in spread.pieces
        ],
        "notes": [*sheet_told(spread), *doubts_told(spread.pieces)],
    }
