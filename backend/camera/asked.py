"""What a request asks of a picture, as services want it."""

from __future__ import annotations

from datetime import date
from typing import Any

from django.utils import timezone
from rest_framework.request import Request

from camera.services import Asked
from people.policy import teacher_of


def point_of(pair: list[float]) -> tuple[float, float]:
    return pair[0], pair[1]


def today_of(typed: dict[str, Any]) -> date:
    """The day where the picture is measured; here it may be another one."""
    day: date = typed.get("today") or timezone.localdate()
    return day


def asked_in(request: Request, typed: dict[str, Any]) -> Asked:
    """What is asked about a picture, and by whom."""
    points = tuple(map(point_of, typed["points"]))
    return Asked(teacher_of(request), typed["key"], points, typed["before_text"], typed["within_text"])
