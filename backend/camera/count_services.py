"""Loose pieces at the bench, counted from a picture and held against the ledger."""

from __future__ import annotations

import json
import uuid
from collections.abc import Sequence
from dataclasses import dataclass, replace

from django.core.files.base import File

from bench.models import Trial
from bench.remembered import result_of
from camera.found import TOO_MUCH, Scattered, unpacked_scattered
from designs.models import MEASURED, Photo
from designs.photo_services import bytes_sent, keep_made
from evengirder.aside import read_aside
from girder_core.photo import Spread, counted_in
from girder_core.trial import Lay, Recount, counted_as, recount

SECONDS = 30
"""Middles of several hundred pieces take longer to find than a card [s]."""


@dataclass(frozen=True)
class Counted:
    """What was counted: how many of which load object and what they are, or of what a measure of the bench asks for."""

    count: int
    item: str = ""
    lay: str = Lay.ON.value
    key: str = ""


def spread_in(upload: File[bytes]) -> Spread:
    """The loose pieces in a picture; nothing is kept. Errors of ``counted_in``; ``bad_photo``."""
    spread = _scattered(upload, ()).spread
    return replace(spread, pieces=counted_in(spread))


def held_against(trial: Trial, counted: Counted) -> Recount:
    """What a count says beside the ledger; nothing is kept. Errors of ``recount``, ``counted_as`` and ``measure``."""
    setup = trial.design.run.trial_setup()
    if not counted.key:
        return recount(setup.kit, result_of(trial).placed, counted.item, Lay(counted.lay), counted.count)
    spec = setup.measure(counted.key)
    reading = trial.design.counting_readings().get(spec.before)
    return counted_as(spec, counted.count, round(reading.quantity().value) if reading else None)


def keep_counted(
    trial: Trial, upload: File[bytes], dots: Sequence[tuple[float, float]], counted: Counted, sent_as: uuid.UUID | None
) -> Recount:
    """Keep a picture with the dots that somebody confirmed, as evidence for a count; a rehearsal keeps none.

    Errors: those of ``held_against``; ``bad_photo``, ``too_many_photos``.
    """
    said = held_against(trial, counted)
    if not trial.rehearsal:
        found = _scattered(upload, dots)
        caption = f"Trial {trial.number}: {said.sentence}"
        keep_made(
            Photo(design=trial.design, what=MEASURED, sent_as=sent_as, caption=caption), found.small, found.width,
            found.height,
        )  # fmt: skip
    return said


def _scattered(upload: File[bytes], dots: Sequence[tuple[float, float]]) -> Scattered:
    words = json.dumps(list(dots))
    data = read_aside("camera.count_file", bytes_sent(upload), words, too_much=TOO_MUCH, seconds=SECONDS)
    return unpacked_scattered(data)
