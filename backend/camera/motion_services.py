"""How far something at the bench came down or leaned, from a first picture and a later one."""

from __future__ import annotations

import json
import struct
from dataclasses import dataclass
from functools import partial

from django.core.files.base import File
from django.db import transaction

from bench.models import Trial
from bench.remembered import result_of
from camera.found import TOO_MUCH, Trail, unpacked_trail
from camera.selectors import printed_scale_of
from camera.services import Asked
from designs.models import LAST, Photo
from designs.photo_services import bytes_sent, keep_made
from evengirder.aside import read_aside
from girder_core.measure import Kind, System, format_mass
from girder_core.photo import Size, Way, camera_moved, doubt_told, moved_told, see, shifted, went_told, went_typed
from girder_core.trial import BenchMeasure, to_be_followed

SECONDS = 30
"""Two pictures take twice as long as one [s]."""


@dataclass(frozen=True)
class Went:
    """How far it went: the measure, the size with its direction, as it would have been typed, and what may be said."""

    spec: BenchMeasure
    size: Size
    text: str
    step_text: str
    told: str
    doubt: str
    moved: str
    at: tuple[float, float]


def followed_measure(trial: Trial, key: str) -> tuple[BenchMeasure, Way]:
    """What is to be followed in pictures, and in which direction; errors of ``to_be_followed``."""
    return to_be_followed(result_of(trial), trial.design.run.trial_setup(), key)


def follow(trial: Trial, first: File[bytes], now: File[bytes], asked: Asked, keep: bool) -> Went:
    """How far the point that is asked about went from the first picture to this one.

    The later one is kept, small, as the trial's latest, instead of the one before; nothing of the first is. Errors:
    those of ``followed_measure``, ``camera.follow_file.trail_in``, ``see`` and ``shifted``.
    """
    spec, way = followed_measure(trial, asked.key)
    one, other = bytes_sent(first), bytes_sent(now)
    data, point = struct.pack(">I", len(one)) + one + other, json.dumps(asked.points[0])
    trail = unpacked_trail(read_aside("camera.follow_file", data, point, too_much=TOO_MUCH, seconds=SECONDS))
    went = _went(trial, trail, spec, way, asked)
    if keep and not trial.rehearsal:
        _keep_latest(trial, trail, went)
    return went


def _went(trial: Trial, trail: Trail, spec: BenchMeasure, way: Way, asked: Asked) -> Went:
    owner = trial.design.run.school_class.owner
    system, view = System(owner.units), see(trail.before, trail.frame)
    printed, pointed = printed_scale_of(view.set_number, asked.by, owner), asked.pointed()
    shaken = camera_moved(view, trail.before, trail.after)
    size = shifted(view, shaken, trail.way, way, pointed.plane_m, printed)
    text, step_text = went_typed(size, way, system)
    return Went(
        spec, size, text, step_text, went_told(size, way, system),
        doubt_told(view, size, Kind.LENGTH, printed, system), moved_told(shaken), trail.way.after,
    )  # fmt: skip


def _keep_latest(trial: Trial, trail: Trail, went: Went) -> None:
    """The frame before the break is whichever came last."""
    system = System(trial.design.run.school_class.owner.units)
    load = format_mass(result_of(trial).load_on.value, system)
    caption = f"Trial {trial.number} under {load}, {went.spec.label.lower()} {went.told}"
    with transaction.atomic():
        # A trial's id is the name of its latest picture, so there is one, whichever team the trial was given to since.
        before = list(Photo.objects.select_for_update().filter(sent_as=trial.pk, what=LAST))
        Photo.objects.filter(pk__in=[photo.pk for photo in before]).delete()
        photo = Photo(design=trial.design, what=LAST, sent_as=trial.pk, caption=caption)
        keep_made(photo, trail.small, trail.width, trail.height)
        for old in before:
            transaction.on_commit(partial(old.file.delete, save=False))
