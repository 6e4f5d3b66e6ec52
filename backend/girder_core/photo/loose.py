"""Loose pieces in a picture: which of what was seen is one, which has to be looked at, and what cannot be counted."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from girder_core.ground import GirderError
from girder_core.photo.looks import BLURRED, DARK, LEAST_PX

MOST_PIECES = 400
"""More than this is not counted in one picture; ours."""
LEAST_PIECE = 0.0045
"""A piece whose radius is less than this share of the picture's longer side is counted by luck [-]; ours."""
LEAST_SHEET = 0.15
"""A sheet takes this share of the picture at least [-]; ours."""
LEAST_RIM, _CLEAR_RIM, _PALE_RIM = 0.25, 0.5, 0.7
"""Shares of what usual pieces show of their rim: the least, that of one that is sure, and that of one with hardly
anything beneath it [-]; ours."""
_OWN, _LEFT = 0.4, 0.5
"""A place with a faint rim is one more piece where at least the first share of it is free of those that were found,
and the second of that differs from the sheet [-]; ours, from made-up pictures."""
_COVERED = 0.5
"""What differs from the sheet in less than this share of itself is pale [-]; ours."""
LEAST_LEFT = 0.35
"""Where so much of a place differs from the sheet, and is no part of what was found, one more is asked about, with a
rim or without [-]; ours."""
LEAST_PLAIN = 0.8
"""Where less than this share of what lies on a sheet is thicker than lines are, the sheet is not plain [-]; ours:
made-up pictures of plain sheets have 0.98 and more, 29 of 30 of ruled ones less than this."""
_UNEVEN, _ALIKE = 5.0, 0.1
"""More of either tells of a shadow across the sheet [CIE L*; -]; ours: made-up pictures without one have 3.8 and less,
and nothing."""
_MORE = 0.6
"""What is larger than its pieces by so much of another one holds more of them [-]; ours."""
_HEAP = 12
"""What would hold so many more than were found in it is no heap of pieces, but a hand or a box [-]; ours."""
_APART = 0.62
"""Middles nearer to each other than this share of both radii are those of one piece."""
_LYING = 0.72
"""Nearer to each other than this share of both radii, one lies on the other; rims are known to a tenth."""
_SMALLER, _LARGER = 0.6, 1.6
"""So much smaller or larger than the middle one, a piece is asked about; ours."""


class Doubt(StrEnum):
    """Why a piece that was found has to be looked at."""

    PALE = "pale"
    FAINT = "faint"
    OVER = "over"
    CUT = "cut"
    UNLIKE = "unlike"


_NOTES = {
    Doubt.PALE: "hardly {stands} out from the sheet",
    Doubt.FAINT: "{shows} hardly any rim",
    Doubt.OVER: "{lies} on or under others, or {is} more than one",
    Doubt.CUT: "{is} at the rim of the picture or of the sheet",
    Doubt.UNLIKE: "{is} smaller or larger than the others",
}


@dataclass(frozen=True)
class Spot:
    """A place in a picture that may be the middle of a piece.

    Attributes:
        x, y: where it is [px].
        radius_px: of the rim about it [px].
        rim: how much of that rim is there, 0 to about 1.
        covered: how much of what lies within differs from the sheet, 0 to 1.
        cut: whether the rim of the picture or of the sheet runs through it.
    """

    x: float
    y: float
    radius_px: float
    rim: float
    covered: float
    cut: bool = False


@dataclass(frozen=True)
class Piece:
    """A piece that was found: its middle and radius [px], and why it has to be looked at; None where it is sure."""

    x: float
    y: float
    radius_px: float
    doubt: Doubt | None = None


@dataclass(frozen=True)
class Spread:
    """What a picture of loose pieces shows, before anybody judged it.

    Attributes:
        wide_px, tall_px: of the picture.
        pieces: those that were found.
        sheet: which share of the picture is the sheet, 0 to 1.
        bright, sharp: as in ``Look``.
        plain: which share of what lies on the sheet is no thinner than the least piece, 0 to 1.
        uneven: by how much the sheet's lightness differs beyond what evenly changing light does [CIE L*].
        alike: which share of the picture, beside the sheet, has its hue, 0 to 1.
    """

    wide_px: int
    tall_px: int
    pieces: tuple[Piece, ...]
    sheet: float = 1.0
    bright: float = 1.0
    sharp: float = 1.0
    plain: float = 1.0
    uneven: float = 0.0
    alike: float = 0.0


def told_apart(spots: Iterable[Spot], usual_rim: float) -> tuple[Piece, ...]:
    """Which spots are pieces, and which of those are in doubt.

    Args:
        spots: places that may be middles of pieces.
        usual_rim: how much of its rim a piece in this picture usually shows, as ``Spot.rim``.
    Returns:
        Those that show half as much of their rim as is usual, and differ from the sheet within it; of two that would
        lie more than a third within each other the one that shows more. In doubt is a pale one that shows more of its
        rim.
    Source:
        Voting along gradients for the middles of circles: Kimme, Ballard & Sklansky 1975, doi:10.1145/360666.360677.
        The shares are ours, from made-up pictures.
    """
    found: list[Piece] = []
    for spot in sorted(spots, key=lambda one: -one.rim):
        share = spot.rim / usual_rim if usual_rim > 0 else 0.0
        pale = spot.covered < _COVERED
        if share < (_PALE_RIM if pale else _CLEAR_RIM):
            continue
        near = [math.hypot(spot.x - one.x, spot.y - one.y) / (spot.radius_px + one.radius_px) for one in found]
        if min(near, default=1.0) < _APART:
            continue
        found.append(Piece(spot.x, spot.y, spot.radius_px, Doubt.CUT if spot.cut else Doubt.PALE if pale else None))
    return tuple(found)


def may_be_one_more(own: float, left: float) -> bool:
    """Whether a place with a faint rim has to be looked at, because a piece may lie there.

    Args:
        own: which share of it is free of the pieces that were found, 0 to 1.
        left: which share of that differs from the sheet, 0 to 1.
    Returns:
        False in the gap between three coins, which shows the sheet, and for a rim within a piece, such as a nut's hole.
    """
    return own >= _OWN and left >= _LEFT


def held_by_area(area: float, usual: float, found: int) -> int:
    """How many pieces a place holds that lie side to side, where it is nowhere narrow.

    Args:
        area: of the place [px²].
        usual: the area of a usual piece [px²].
        found: how many were found in it.
    Returns:
        As many as were found, or more; 0 for what is too large to be a heap of them.
    """
    many = round(area / usual)
    if many <= found or area < (found + _MORE) * usual:
        return found
    return many if many <= found + _HEAP else 0


def looked_over(pieces: Sequence[Piece]) -> tuple[Piece, ...]:
    """The same pieces, with those in doubt that lie on each other or are unlike the rest.

    Args:
        pieces: those that were found.
    Returns:
        As many, in the order of a reader: row by row, from the left.
    """
    if not pieces:
        return ()
    middle = _middle(pieces)
    rows = sorted(pieces, key=lambda one: (round(one.y / (2 * middle)), one.x))
    return tuple(replace(piece, doubt=piece.doubt or _doubt(piece, rows, middle)) for piece in rows)


def _middle(pieces: Sequence[Piece]) -> float:
    """The radius of the middle one [px]."""
    return sorted(piece.radius_px for piece in pieces)[len(pieces) // 2]


def _doubt(piece: Piece, pieces: Sequence[Piece], middle: float) -> Doubt | None:
    for other in pieces:
        apart = math.hypot(piece.x - other.x, piece.y - other.y)
        # What was found of a nut may be its hole, and what was found between nuts is small.
        if other is not piece and apart < _LYING * (max(piece.radius_px, middle) + max(other.radius_px, middle)):
            return Doubt.OVER
    return None if _SMALLER * middle <= piece.radius_px <= _LARGER * middle else Doubt.UNLIKE


def counted_in(spread: Spread) -> tuple[Piece, ...]:
    """The pieces of a picture, to be confirmed.

    Args:
        spread: what it shows.
    Returns:
        Its pieces.
    Errors:
        ``picture_small``, ``picture_dark``, ``picture_blurred``, ``no_sheet``, ``nothing_loose``, ``pieces_small``,
        ``too_many_pieces``.
    """
    if max(spread.wide_px, spread.tall_px) < LEAST_PX:
        raise _refused("picture_small", f"That picture has less than {LEAST_PX} pixels. Send it as the camera took it.")
    pieces = spread.pieces
    if not pieces and spread.bright < DARK:
        raise _refused("picture_dark", "It is too dark in this picture to see anything. Put a light on.")
    if not pieces and spread.sharp < BLURRED:
        raise _refused("picture_blurred", "This picture is blurred. Hold the tablet still and take it again.")
    if spread.sheet < LEAST_SHEET:
        raise _refused(
            "no_sheet", "No plain sheet was found in this picture. Spread the pieces on a sheet of one colour."
        )
    if not pieces:
        raise _refused(
            "nothing_loose",
            "Nothing was found on the sheet. Spread the pieces on one of another colour, and look at it from above.",
        )
    middle = _middle(pieces)
    if middle < LEAST_PIECE * max(spread.wide_px, spread.tall_px):
        raise _refused("pieces_small", "The pieces are too small in this picture. Take it from nearer by.")
    if len(pieces) > MOST_PIECES:
        raise _refused("too_many_pieces", f"More than {MOST_PIECES} pieces are too many for one picture. Count a part.")
    return pieces


def _refused(code: str, sentence: str) -> GirderError:
    return GirderError(code, sentence, fields={"photo": sentence})


def sheet_told(spread: Spread) -> tuple[str, ...]:
    """What a sheet is like where it may spoil the count, in sentences.

    Args:
        spread: what the picture shows.
    Returns:
        None for a plain sheet in even light.
    """
    return tuple(
        sentence
        for holds, sentence in zip(
            (spread.plain < LEAST_PLAIN, spread.alike > _ALIKE, spread.uneven > _UNEVEN), _SHEET_NOTES, strict=True
        )
        if holds
    )


_SHEET_NOTES = (
    "This sheet has lines or a pattern. Pieces may be missed, or seen where none are: spread them on a plain one.",
    "A part of this picture looks like the sheet in other light, and nothing is counted there. If that is a shadow, "
    "light the sheet evenly and take another picture.",
    "A shadow lies across the sheet. Pieces may be missed, or seen twice: light it evenly and take another picture.",
)


def doubts_told(pieces: Iterable[Piece]) -> tuple[str, ...]:
    """What has to be looked at, in sentences.

    Args:
        pieces: those that were found.
    Returns:
        One for each kind of doubt; none where all are sure.
    """
    many = Counter(piece.doubt for piece in pieces if piece.doubt is not None)
    return tuple(
        f"{n} {_NOTES[doubt].format(**(_ONE if n == 1 else _SEVERAL))}." for doubt in Doubt if (n := many[doubt])
    )


_ONE = {"stands": "stands", "shows": "shows", "lies": "lies", "is": "is"}
_SEVERAL = {"stands": "stand", "shows": "show", "lies": "lie", "is": "are"}
