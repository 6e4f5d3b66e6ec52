"""Pictures of the made-up school: a gap and a sag that were measured in them, each true of what is drawn."""

from __future__ import annotations

import uuid

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile

from bench import services as bench
from bench.remembered import result_of
from camera import services as camera
from camera.motion_services import follow
from camera.selectors import sets_of
from camera.services import Asked
from camera.standins import STANDINS, drawn, gangway
from demo.world import HALF_DONE
from designs.models import Design
from people.models import Teacher

TEAM = "Kittiwake"
GAP_M, SAG_M = 0.3604, 0.0083
"""What is true of the gangway in the pictures: from support to support, and how far it hangs through [m]."""
_DOT = (0.0, 0.17, 0.001)


def take_pictures(teacher: Teacher) -> None:
    """Measure in pictures what a team of the half-done run built."""
    number = sets_of(teacher)[0].number
    camera.measure_bar(teacher, number, "100 mm", "0.5 mm")
    design = Design.objects.get(
        run__school_class__owner=teacher, run__school_class__name=HALF_DONE.school_class, run__family="bridge",
        team__name=TEAM, version=1,
    )  # fmt: skip
    first, loaded = (_gangway(number, sag) for sag in (0.0, SAG_M))
    half = GAP_M / 2
    asked = Asked(teacher, "gap", _seen((-half, 0.1, 0.0), (half, 0.1, 0.0)))
    camera.take_photographed(design, _sent(first), asked, HALF_DONE.day, True, True)
    _sag(design, teacher, first, loaded)


def _sag(design: Design, teacher: Teacher, first: bytes, loaded: bytes) -> None:
    """How far it hung through under what is on it, in the ledger of its trial."""
    trial = design.trials.get()
    went = follow(trial, _sent(first), _sent(loaded), Asked(teacher, "sag", _seen(_DOT)), True)
    device = uuid.uuid4()
    result = result_of(trial)
    events = [
        {
            "id": uuid.uuid4(), "sequence": result.next_sequence, "kind": "measure",
            "data": {"key": "sag", "text": went.text, "resolution": went.step_text, "zero": "", "source": "picture"},
            "happened_at": trial.events.latest("sequence").happened_at,
        }
    ]  # fmt: skip
    done = bench.append_events(trial, device, events, author=teacher.name)
    if done.refused:
        raise done.refused
    bench.release(trial)


def _gangway(number: int, sag_m: float) -> bytes:
    return drawn(STANDINS["gangway"].camera, gangway(number, sag_m, GAP_M), number)


def _seen(*places: tuple[float, float, float]) -> tuple[tuple[float, float], ...]:
    """Where places of the room are in the pictures."""
    return tuple((float(x), float(y)) for x, y in STANDINS["gangway"].camera.pixels(np.array(places)))


def _sent(picture: bytes) -> SimpleUploadedFile:
    return SimpleUploadedFile("gangway.jpg", picture, "image/jpeg")
