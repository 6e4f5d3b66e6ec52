"""The API of designs: each change answers with the design as it stands then."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import fields
from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from designs import services
from designs.kept_services import Change, KeptCheckIn, KeptReading, write_kept
from designs.serializers import (
    AnswersSerializer,
    AwaySerializer,
    ControlsSerializer,
    KeptCheckInSerializer,
    LevelSerializer,
    NextVersionSerializer,
    NoteSerializer,
    SelfMassEstimateSerializer,
    TakeOverSerializer,
    TypedPredictionSerializer,
    TypedReadingSerializer,
)
from designs.team_services import take_over
from evengirder.entry import entry
from evengirder.errors import ErrorBody
from girder_core.measure import TypedReading
from people.models import HELPER
from people.policy import owned_or_404
from runs.answers import DESIGN, REFUSALS, design_shown, designs
from runs.serializers import DesignSerializer


class ReadingsView(APIView):
    @extend_schema(operation_id="reading_take", request=TypedReadingSerializer, responses={**DESIGN, 422: ErrorBody})
    def post(self, request: Request, pk: int) -> Response:
        design = owned_or_404(designs(), request, pk, HELPER)
        typed = entry(TypedReadingSerializer, request)
        key, confirmed = typed.pop("key"), typed.pop("confirmed")
        again, sent_as = typed.pop("again"), typed.pop("sent_as", None)
        services.take_reading(design, key, TypedReading(**typed), confirmed, again, sent_as)
        return design_shown(design)


class TeamReadingsView(APIView):
    """What the team measured itself counts from now on."""

    @extend_schema(operation_id="team_readings_take", request=TakeOverSerializer, responses=DESIGN)
    def post(self, request: Request, pk: int) -> Response:
        design = owned_or_404(designs(), request, pk, HELPER)
        take_over(design, entry(TakeOverSerializer, request)["keys"])
        return design_shown(design)


class SelfMassEstimateView(APIView):
    @extend_schema(
        operation_id="self_mass_estimate", request=SelfMassEstimateSerializer, responses={**DESIGN, 422: ErrorBody}
    )
    def post(self, request: Request, pk: int) -> Response:
        design = owned_or_404(designs(), request, pk, HELPER)
        typed = entry(SelfMassEstimateSerializer, request)
        services.estimate_self_mass(design, typed["uses"], typed["confirmed"], typed.get("sent_as"))
        return design_shown(design)


class LevelView(APIView):
    @extend_schema(operation_id="design_level", request=LevelSerializer, responses=DESIGN)
    def put(self, request: Request, pk: int) -> Response:
        design = owned_or_404(designs(), request, pk, HELPER)
        typed = entry(LevelSerializer, request)
        return design_shown(services.set_level(design, typed["level"]))


class AnswersView(APIView):
    @extend_schema(operation_id="design_answer", request=AnswersSerializer, responses=DESIGN)
    def put(self, request: Request, pk: int) -> Response:
        design = owned_or_404(designs(), request, pk, HELPER)
        typed = entry(AnswersSerializer, request)
        services.answer(design, typed["answers"])
        return design_shown(design)


class ControlsView(APIView):
    @extend_schema(operation_id="design_controls", request=ControlsSerializer, responses=DESIGN)
    def put(self, request: Request, pk: int) -> Response:
        design = owned_or_404(designs(), request, pk, HELPER)
        typed = entry(ControlsSerializer, request)
        return design_shown(services.note_controls(design, typed["broken"]))


class PredictionView(APIView):
    @extend_schema(operation_id="design_predict", request=TypedPredictionSerializer, responses=DESIGN)
    def post(self, request: Request, pk: int) -> Response:
        design = owned_or_404(designs(), request, pk, HELPER)
        typed = entry(TypedPredictionSerializer, request)
        services.predict(design, typed["text"])
        return design_shown(design)


class AwayView(APIView):
    @extend_schema(operation_id="design_away", request=AwaySerializer, responses=DESIGN)
    def put(self, request: Request, pk: int) -> Response:
        design = owned_or_404(designs(), request, pk, HELPER)
        return design_shown(services.set_away(design, entry(AwaySerializer, request)["away"]))


class CheckInView(APIView):
    @extend_schema(operation_id="design_check_in", request=None, responses=DESIGN)
    def post(self, request: Request, pk: int) -> Response:
        design = owned_or_404(designs(), request, pk, HELPER)
        services.check_in(design)
        return design_shown(design)


def _kept(typed: Mapping[str, Any]) -> KeptCheckIn:
    """What was kept of a check-in, of a body that was read."""
    changes = {name: Change(**typed[name]) for name in ("level", "controls_broken", "away") if name in typed}
    return KeptCheckIn(
        readings=[_kept_reading(row) for row in typed["readings"]],
        answers={row["key"]: Change(row["value"], row["before"]) for row in typed["answers"]},
        check_in=typed["check_in"],
        **changes,
    )


def _kept_reading(row: Mapping[str, Any]) -> KeptReading:
    typed = TypedReading(**{part.name: row[part.name] for part in fields(TypedReading)})
    return KeptReading(
        key=row["key"],
        sent_as=row["sent_as"],
        stood=row["stood"],
        typed=None if row["uses"] else typed,
        uses=row["uses"],
        again=row["again"],
    )


class KeptCheckInView(APIView):
    """Check-in that was typed while there was no network."""

    @extend_schema(
        operation_id="design_check_in_kept", request=KeptCheckInSerializer, responses={**DESIGN, 422: ErrorBody}
    )
    def post(self, request: Request, pk: int) -> Response:
        design = owned_or_404(designs(), request, pk, HELPER)
        typed = entry(KeptCheckInSerializer, request)
        write_kept(design, _kept(typed), typed["confirmed"])
        return design_shown(design)


class DesignView(APIView):
    @extend_schema(operation_id="design_note", request=NoteSerializer, responses=DESIGN)
    def patch(self, request: Request, pk: int) -> Response:
        design = owned_or_404(designs(), request, pk, HELPER)
        typed = entry(NoteSerializer, request)
        services.note(design, typed["note"])
        return design_shown(design)


class NextVersionView(APIView):
    @extend_schema(
        operation_id="design_next_version",
        request=NextVersionSerializer,
        responses={201: DesignSerializer, **REFUSALS},
    )
    def post(self, request: Request, pk: int) -> Response:
        design = owned_or_404(designs(), request, pk)
        typed = entry(NextVersionSerializer, request)
        return design_shown(services.next_version(design, typed["changed"]), status.HTTP_201_CREATED)
