"""A tablet's lens, calibrated once from pictures of a card."""

from __future__ import annotations

import uuid
from collections.abc import Sequence

from django.core.files.base import File
from django.db import transaction

from camera.models import TabletLens
from camera.services import look_at
from girder_core.ground import GirderError
from girder_core.photo import Calibration, Frame, Look, Seen, View, calibrated, judged


def looked_at(upload: File[bytes]) -> tuple[Look, View]:
    """What one of the pictures shows; nothing is kept of it. Errors: ``bad_photo``, ``busy``, those of ``judged``."""
    look = look_at(upload).look
    return look, judged(look)


def calibrate(tablet: uuid.UUID, pictures: Sequence[tuple[Sequence[Seen], Frame]], keep: bool) -> Calibration:
    """The lens of a tablet from the marks in its pictures; kept, it takes the place of what was known of the same one.

    Errors: those of ``calibrated``; ``few_pictures`` where it is to be kept and is not known yet.
    """
    told = calibrated(pictures)
    if not keep:
        return told
    lens = told.lens
    if lens is None:
        raise GirderError("few_pictures", told.wanted)
    with transaction.atomic():
        same = [row.pk for row in TabletLens.objects.filter(tablet=tablet) if row.lens().takes(pictures[0][1])]
        TabletLens.objects.filter(pk__in=same).delete()
        TabletLens.objects.create(
            tablet=tablet, camera=lens.camera, shape=lens.shape, known=lens.known, covariance=lens.covariance,
            pictures=len(pictures),
        )  # fmt: skip
    return told


def forget(tablet: uuid.UUID) -> None:
    """Its pictures are measured in as through anybody's lens again."""
    TabletLens.objects.filter(tablet=tablet).delete()
