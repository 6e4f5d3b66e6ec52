"""How the API answers a change: with the design or the run as it stands then."""

from __future__ import annotations

from django.db.models import QuerySet
from rest_framework import status
from rest_framework.response import Response

from bench.selectors import design_card
from challenges.models import Run
from designs.models import Design
from evengirder.errors import ErrorBody
from runs.selectors import run_state
from runs.serializers import DesignSerializer, RunStateSerializer

REFUSALS = {400: ErrorBody, 404: ErrorBody, 409: ErrorBody}
DESIGN = {200: DesignSerializer, **REFUSALS}
RUN = {200: RunStateSerializer, 400: ErrorBody, 404: ErrorBody}


def designs() -> QuerySet[Design]:
    """Designs with what their answers need."""
    return Design.objects.select_related("run__school_class__owner", "team")


def runs() -> QuerySet[Run]:
    """Runs with what their answers need."""
    return Run.objects.select_related("school_class__owner")


def design_shown(design: Design, code: int = status.HTTP_200_OK) -> Response:
    """The design, looked up again."""
    fresh = designs().get(pk=design.pk)
    return Response(DesignSerializer(design_card(fresh, fresh.run.trial_setup())).data, status=code)


def run_shown(run: Run, code: int = status.HTTP_200_OK) -> Response:
    """The run with all its designs."""
    return Response(RunStateSerializer(run_state(run)).data, status=code)
