"""A length or an area at the bench that does not move, in one picture: freeboard, a ring, what is left of a wall."""

from __future__ import annotations

import uuid
from datetime import date

from django.core.files.base import File

from bench.models import Trial
from bench.remembered import result_of
from camera.services import Asked, Measured, measured_in
from designs.models import MEASURED, Photo
from designs.photo_services import keep_made
from girder_core.measure import System
from girder_core.photo import size_told
from girder_core.trial import to_be_pictured


def measure_pictured(
    trial: Trial, upload: File[bytes], asked: Asked, today: date, picture_confirmed: bool, sent_as: uuid.UUID | None
) -> Measured:
    """What is pointed at in a picture comes to; the picture is kept as its evidence, but of a rehearsal none is.

    The ledger takes it as it would have been typed, by the bench's own way. Errors: those of ``to_be_pictured`` and
    ``measured_in``, ``too_many_photos``.
    """
    spec = to_be_pictured(result_of(trial), trial.design.run.trial_setup(), asked.key)
    found, measured = measured_in(trial.design, upload, asked, today, picture_confirmed)
    if not trial.rehearsal:
        system = System(trial.design.run.school_class.owner.units)
        caption = f"Trial {trial.number}: {spec.label.lower()} {size_told(measured.size, spec.kind, system)}"
        photo = Photo(design=trial.design, what=MEASURED, sent_as=sent_as, caption=caption)
        keep_made(photo, found.small, found.width, found.height)
    return measured
