"""What is shown of loose pieces, put together for the API. Nothing here writes."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from girder_core.photo import Piece, doubts_told


def pieces_shown(width_px: int, height_px: int, pieces: Sequence[Piece]) -> dict[str, Any]:
    """The pieces of a picture, and which of them have to be looked at."""
    return {
        "width_px": width_px,
        "height_px": height_px,
        "pieces": [
            {"at": [one.x, one.y], "radius_px": one.radius_px, "doubtful": one.doubt is not None} for one in pieces
        ],
        "notes": list(doubts_told(pieces)),
    }
