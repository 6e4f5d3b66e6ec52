"""What a request asks of a picture, as services want it."""

from __future__ import annotations

import uuid
from datetime import date
from typing import Any

from django.utils import timezone
from rest_framework.request import Request

from bench.models import Trial
from camera.services import Asked
from girder_core.photo import Seen
from people.models import HELPER
from people.policy import owned_or_404, teacher_of


def point_of(pair: list[float]) -> tuple[float, float]:
    return pair[0], pair[1]


def marks_of(typed: dict[str, Any]) -> list[Seen]:
    """The marks of a picture, as it was looked at before."""
    return [Seen(mark["id"], tuple(map(point_of, mark["corners"]))) for mark in typed["marks"]]


def today_of(typed: dict[str, Any]) -> date:
    """The day where the picture is measured; here it may be another one."""
    day: date = typed.get("today") or timezone.localdate()
    return day


def asked_in(request: Request, typed: dict[str, Any]) -> Asked:
    """What is asked about a picture, and by whom."""
    points = tuple(map(point_of, typed["points"]))
    return Asked(
        teacher_of(request), typed["key"], points, typed["before_text"], typed["within_text"], tuple(typed["outlines"]),
        typed.get("tablet"),
    )  # fmt: skip


def trial_asked(request: Request, pk: uuid.UUID) -> Trial:
    """The trial that a picture is of; not found for who may not test in its class."""
    trials = Trial.with_rehearsals.select_related("design__run__school_class__owner", "design__team")
    return owned_or_404(trials, request, pk, HELPER)
