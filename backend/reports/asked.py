"""Which run a file is asked of, its name, and for whom its tables are: for the views here and of records."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence

from django.utils.text import slugify
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter
from rest_framework.request import Request

from camera.selectors import set_number, sets_of
from challenges.models import Run
from girder_core.measure import System
from people.policy import owned_or_404, teacher_of
from reports.worded import worded, zone_of


def run_and_name(request: Request, pk: int) -> tuple[Run, str]:
    """The asker's own run, and the name its files begin with."""
    run = owned_or_404(Run.objects.select_related("school_class"), request, pk)
    return run, f"{slugify(run.name)}-{slugify(run.school_class.name)}-{run.date.isoformat()}"


Table = tuple[Sequence[str], Iterable[Sequence[object]]]
FOR_PEOPLE = [
    OpenApiParameter("words", OpenApiTypes.BOOL, description="Headers in words, figures in the reader's units."),
    OpenApiParameter("zone", OpenApiTypes.STR, description="The reader's time zone, such as Europe/Lisbon."),
]


def for_people(request: Request, run: Run | None) -> Callable[[Sequence[str], Iterable[Sequence[object]]], Table]:
    """What makes of a table of SI values the one that was asked for: itself, or with ``words=1`` one for people."""
    if request.query_params.get("words") not in ("1", "true"):
        return lambda header, rows: (header, rows)
    system, zone = System(teacher_of(request).units), zone_of(request.query_params.get("zone", ""))
    return lambda header, rows: worded(run, header, rows, system, zone)


def card_set_asked(request: Request) -> int:
    """The set of scale cards that is to be printed: the teacher's first where none is named; ``unknown_set``."""
    asked = request.query_params.get("set", "")
    if not asked:
        return sets_of(teacher_of(request))[0].number
    return set_number(asked)
