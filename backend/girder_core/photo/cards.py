"""Scale cards: what is printed on each, by which marks it is known, and whose set it belongs to.

A set holds four cards. Every mark of every card of every set has an id of its own, so a picture tells which cards it
shows, and two sets in one picture are noticed.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from girder_core.ground import GirderError
from girder_core.photo.dictionary import MARKS

PAPER_M = 0.009
"""So much white paper is left round the marks of a card at least [m]."""
BLANK_M = (-0.036, 0.026, 0.036, 0.084)
"""Part of a sheet on which nothing is printed, from its middle: left, bottom, right, top [m]."""
LYING = "lying"
BAR_M = 0.1
"""The bar that is measured once to know how large a card came out of the printer [m]."""


@dataclass(frozen=True)
class Mark:
    """A mark on a card: its id and its corners [m], seen upright, from its top left one clockwise."""

    id: int
    corners: tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class Card:
    """A card as it is meant to be printed.

    Attributes:
        key: its stable name within a set.
        name: what people call it.
        use: where it goes.
        marks: in metres from its middle, x to the right, y up.
        width_m, height_m: of the rectangle that all its marks fill [m].
    """

    key: str
    name: str
    use: str
    marks: tuple[Mark, ...]
    width_m: float
    height_m: float

    @property
    def sheet(self) -> bool:
        """Whether it fills a sheet, with a bar and words on it."""
        return self.height_m > BAR_M

    @property
    def lies(self) -> bool:
        """Whether it lies flat: no direction of it is down."""
        return self.key == LYING


@dataclass(frozen=True)
class _Layout:
    key: str
    name: str
    use: str
    side_m: float
    centres: tuple[tuple[float, float], ...]


def _sheet(key: str, name: str, use: str) -> _Layout:
    # Six marks of 40 mm, whose outer edges are 170 mm and 230 mm apart: both papers have room for it.
    centres = tuple((x, y) for y in (0.095, 0.0, -0.095) for x in (-0.065, 0.065))
    return _Layout(key, name, use, 0.04, centres)


def _strip(key: str, name: str, use: str) -> _Layout:
    return _Layout(key, name, use, 0.03, ((-0.045, 0.0), (0.045, 0.0)))


_LAYOUTS = (
    _sheet(
        "standing",
        "standing card",
        "Stuck to a box or a book, it stands upright beside what is measured, facing the camera.",
    ),
    _sheet(LYING, "lying card", "It lies flat on the table, under or beside what is measured."),
    _strip("left", "left support card", "Stuck flat to the front of the left support, or to the near end."),
    _strip("right", "right support card", "Stuck flat to the front of the right support, or to the far end."),
)
MARKS_PER_SET = sum(len(layout.centres) for layout in _LAYOUTS)
SETS = MARKS // MARKS_PER_SET
"""Sets whose marks all differ [-]."""
BAR_OFF_M = 0.047
"""So far below its middle the bar of a sheet's card lies [m]."""


def cards(number: int) -> tuple[Card, ...]:
    """The cards of a set.

    Args:
        number: of the set, from 1.
    Returns:
        Its four cards.
    Errors:
        ``unknown_set``.
    """
    if not 1 <= number <= SETS:
        raise GirderError("unknown_set", f"Sets of cards are numbered from 1 to {SETS}.", number=number)
    first, made = (number - 1) * MARKS_PER_SET, []
    for layout in _LAYOUTS:
        half = layout.side_m / 2
        marks = tuple(
            Mark(first + i, ((x - half, y + half), (x + half, y + half), (x + half, y - half), (x - half, y - half)))
            for i, (x, y) in enumerate(layout.centres)
        )
        first += len(marks)
        every = [corner for mark in marks for corner in mark.corners]
        width, height = (2 * max(corner[axis] for corner in every) for axis in (0, 1))
        made.append(Card(layout.key, layout.name, layout.use, marks, width, height))
    return tuple(made)


def set_of(mark: int) -> int | None:
    """The set that a mark belongs to.

    Args:
        mark: its id in the dictionary.
    Returns:
        The number of the set; None for a mark of no card.
    """
    return mark // MARKS_PER_SET + 1 if 0 <= mark < SETS * MARKS_PER_SET else None


def cards_seen(marks: Iterable[int]) -> dict[Card, tuple[int, ...]]:
    """The cards to which marks belong.

    Args:
        marks: ids that were seen.
    Returns:
        For each card of which at least one mark was seen the ids that were seen of it, in the order of the set.
    """
    seen = set(marks)
    found = {}
    for number in sorted({number for mark in seen if (number := set_of(mark)) is not None}):
        for card in cards(number):
            if there := tuple(mark.id for mark in card.marks if mark.id in seen):
                found[card] = there
    return found
