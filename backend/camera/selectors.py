"""Which sets of cards a teacher has, and which lens a tablet. Nothing here writes."""

from __future__ import annotations

import uuid
from dataclasses import dataclass
from datetime import datetime

from camera.models import CardSet, TabletLens
from girder_core.measure import Quantity
from girder_core.photo import SETS, UNMEASURED, Frame, Lens, cards, lens_told
from people.models import Teacher

OFFERED = 3
"""So many sets are offered to each teacher: a fresh one when a printer or its paper changes."""


@dataclass(frozen=True)
class ShownSet:
    """A set of cards: its number, and what was measured of its bar."""

    number: int
    bar_text: str
    step_text: str
    scale: Quantity

    @property
    def measured(self) -> bool:
        return self.bar_text != ""


def sets_of(teacher: Teacher) -> list[ShownSet]:
    """The sets of a teacher: those that are offered, and any other whose bar was measured.

    Numbers begin at another place for each teacher, so that neighbours' cards differ.
    """
    measured = {row.number: row for row in CardSet.objects.filter(owner=teacher)}
    offered = [1 + (OFFERED * teacher.pk + i) % SETS for i in range(OFFERED)]
    return [_shown(number, measured.get(number)) for number in dict.fromkeys([*offered, *sorted(measured)])]


def _shown(number: int, row: CardSet | None) -> ShownSet:
    if row is None:
        return ShownSet(number, "", "", UNMEASURED)
    return ShownSet(number, row.bar_text, row.step_text, row.printed())


def set_number(typed: str) -> int:
    """The number of a set as an address says it; ``unknown_set`` for what is none."""
    number = int(typed) if typed.isdecimal() and len(typed) < 4 else 0
    cards(number)
    return number


def printed_scale_of(number: int, asker: Teacher, owner: Teacher) -> Quantity:
    """How large the cards of a set came out of the printer; unmeasured ones may be some percent off.

    Whoever measures may use cards of her own, or those of the teacher whose class it is; her own word comes first.
    """
    measured = {row.owner_id: row for row in CardSet.objects.filter(owner__in=(asker, owner), number=number)}
    row = measured.get(asker.pk) or measured.get(owner.pk)
    return UNMEASURED if row is None else row.printed()


def lens_of(tablet: uuid.UUID | None, frame: Frame) -> Lens | None:
    """The lens that a tablet took a picture through; where none of its own can be it, the one calibrated last, of which
    the core says that it was another. None where it was never calibrated."""
    lenses = [row.lens() for row in TabletLens.objects.filter(tablet=tablet)] if tablet else []
    return next((lens for lens in lenses if lens.takes(frame)), lenses[0] if lenses else None)


@dataclass(frozen=True)
class ShownLens:
    """A lens of a tablet: what was found, from how many pictures, when, and what its camera calls itself."""

    told: str
    pictures: int
    calibrated_at: datetime
    camera: str


def lenses_of(tablet: uuid.UUID) -> list[ShownLens]:
    """The lenses of a tablet, the one calibrated last first."""
    return [
        ShownLens(lens_told(row.lens()), row.pictures, row.calibrated_at, row.camera)
        for row in TabletLens.objects.filter(tablet=tablet)
    ]
