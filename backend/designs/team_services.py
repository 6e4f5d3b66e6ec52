"""What a team adds to its own design from its tablet, and what its teacher makes of it."""

from __future__ import annotations

import uuid
from collections.abc import Iterable
from dataclasses import asdict, dataclass

from django.core.files.base import File
from django.db import transaction

from designs.models import Design, Reading, TeamReading
from designs.photo_services import keep_photo
from designs.services import measured, take_reading
from girder_core.families import ReadingSpec
from girder_core.ground import GirderError
from girder_core.measure import Apart, TypedReading, apart


@dataclass(frozen=True)
class Offered:
    """What a team measured, and what counts instead of it or by it."""

    spec: ReadingSpec
    offered: TeamReading
    counts: Reading | None

    @property
    def taken(self) -> bool:
        """Whether what counts is the team's own."""
        return self.counts is not None and self.offered.counts_since == self.counts.taken_at

    @property
    def apart(self) -> Apart | None:
        """How the team's stands to the one that counts; None where nothing counts yet, or the team's own does."""
        if self.counts is None or self.taken:
            return None
        return apart(self.offered.quantity(), self.counts.quantity(), self.spec.kind)


def offered_by_team(design: Design) -> list[Offered]:
    """The latest that a team measured of each thing, in the order of its kind of challenge."""
    latest = {offered.key: offered for offered in sorted(design.team_readings.all(), key=lambda one: one.pk)}
    counting = design.counting_readings()
    specs = [spec for spec in design.run.core_family().readings if spec.key in latest]
    return [Offered(spec, latest[spec.key], counting.get(spec.key)) for spec in specs]


def offer_reading(design: Design, key: str, typed: TypedReading, confirmed: bool) -> TeamReading:
    """Keep what a team measured of its own design; the same once more, as after a lost answer, is the same one.

    Errors: as ``designs.services.take_reading``.
    """
    found = measured(design, key, typed, confirmed)
    latest = design.team_readings.filter(key=key).order_by("-id").first()
    if latest is not None and latest.typed() == typed:
        return latest
    return TeamReading.objects.create(
        design=design, key=key, value_si=found.quantity.value,
        standard_uncertainty_si=found.quantity.standard_uncertainty, **asdict(typed),
    )  # fmt: skip


def take_over(design: Design, keys: Iterable[str]) -> None:
    """Let what a team measured count, by the teacher's word; one that counts already stays as it is.

    Errors: ``unknown_reading`` for what the team has not measured.
    """
    wanted = set(keys)
    with transaction.atomic():
        Design.objects.select_for_update(of=("self",)).get(pk=design.pk)
        offered = [one for one in offered_by_team(design) if one.spec.key in wanted]
        if len(offered) < len(wanted):
            raise GirderError("unknown_reading", "The team has measured no such thing.")
        for one in offered:
            if not one.taken:
                taken = take_reading(design, one.spec.key, one.offered.typed(), confirmed=True)
                one.offered.counts_since = taken.taken_at
                one.offered.save(update_fields=["counts_since"])


def send_photo(design: Design, upload: File[bytes], what: str, sent_as: uuid.UUID) -> None:
    """Keep a photograph that a team took; it waits for its teacher's nod.

    Errors: as ``designs.photo_services.keep_photo``.
    """
    keep_photo(design, upload, what, waits=True, sent_as=sent_as)
