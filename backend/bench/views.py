"""The API of designs and trials: parse, ask the policy, call a service."""

from __future__ import annotations

import uuid

from django.db.models import QuerySet
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from bench import services
from bench.models import Design, Trial
from bench.selectors import design_card
from bench.serializers import (
    AnswersSerializer,
    ControlsSerializer,
    DesignSerializer,
    LevelSerializer,
    NextVersionSerializer,
    NoteSerializer,
    SelfMassEstimateSerializer,
    TypedPredictionSerializer,
    TypedReadingSerializer,
)
from bench.trial_selectors import trial_state
from bench.trial_serializers import (
    AppendedSerializer,
    BenchSerializer,
    NewEventsSerializer,
    NewTrialSerializer,
    TrialStateSerializer,
)
from evengirder.entry import entry
from evengirder.errors import ErrorBody
from girder_core.ground import NeedsConfirmation
from girder_core.measure import System, TypedReading
from people.policy import owned_or_404, teacher_of

_REFUSALS = {400: ErrorBody, 404: ErrorBody, 409: ErrorBody}
_DESIGN = {200: DesignSerializer, **_REFUSALS}
# Built once: building its fields takes longer than filling them, and this is the answer that must come at once.
_APPENDED = AppendedSerializer()


def _designs() -> QuerySet[Design]:
    return Design.objects.select_related("run__school_class", "team")


def _trials() -> QuerySet[Trial]:
    return Trial.with_rehearsals.select_related("design__run", "design__team")


def _design_shown(design: Design, code: int = status.HTTP_200_OK) -> Response:
    fresh = _designs().get(pk=design.pk)
    return Response(DesignSerializer(design_card(fresh, fresh.run.trial_setup())).data, status=code)


class ReadingsView(APIView):
    @extend_schema(operation_id="reading_take", request=TypedReadingSerializer, responses={**_DESIGN, 422: ErrorBody})
    def post(self, request: Request, pk: int) -> Response:
        design = owned_or_404(_designs(), request, pk)
        typed = entry(TypedReadingSerializer, request)
        key, confirmed = typed.pop("key"), typed.pop("confirmed")
        again = typed.pop("again")
        services.take_reading(design, key, TypedReading(**typed), confirmed, again)
        return _design_shown(design)


class SelfMassEstimateView(APIView):
    @extend_schema(
        operation_id="self_mass_estimate", request=SelfMassEstimateSerializer, responses={**_DESIGN, 422: ErrorBody}
    )
    def post(self, request: Request, pk: int) -> Response:
        design = owned_or_404(_designs(), request, pk)
        typed = entry(SelfMassEstimateSerializer, request)
        services.estimate_self_mass(design, typed["uses"], typed["confirmed"])
        return _design_shown(design)


class LevelView(APIView):
    @extend_schema(operation_id="design_level", request=LevelSerializer, responses=_DESIGN)
    def put(self, request: Request, pk: int) -> Response:
        design = owned_or_404(_designs(), request, pk)
        typed = entry(LevelSerializer, request)
        return _design_shown(services.set_level(design, typed["level"]))


class AnswersView(APIView):
    @extend_schema(operation_id="design_answer", request=AnswersSerializer, responses=_DESIGN)
    def put(self, request: Request, pk: int) -> Response:
        design = owned_or_404(_designs(), request, pk)
        typed = entry(AnswersSerializer, request)
        services.answer(design, typed["answers"])
        return _design_shown(design)


class ControlsView(APIView):
    @extend_schema(operation_id="design_controls", request=ControlsSerializer, responses=_DESIGN)
    def put(self, request: Request, pk: int) -> Response:
        design = owned_or_404(_designs(), request, pk)
        typed = entry(ControlsSerializer, request)
        return _design_shown(services.note_controls(design, typed["broken"]))


class PredictionView(APIView):
    @extend_schema(operation_id="design_predict", request=TypedPredictionSerializer, responses=_DESIGN)
    def post(self, request: Request, pk: int) -> Response:
        design = owned_or_404(_designs(), request, pk)
        typed = entry(TypedPredictionSerializer, request)
        services.predict(design, typed["text"])
        return _design_shown(design)


class CheckInView(APIView):
    @extend_schema(operation_id="design_check_in", request=None, responses=_DESIGN)
    def post(self, request: Request, pk: int) -> Response:
        design = owned_or_404(_designs(), request, pk)
        services.check_in(design)
        return _design_shown(design)


class DesignView(APIView):
    @extend_schema(operation_id="design_note", request=NoteSerializer, responses=_DESIGN)
    def patch(self, request: Request, pk: int) -> Response:
        design = owned_or_404(_designs(), request, pk)
        typed = entry(NoteSerializer, request)
        services.note(design, typed["note"])
        return _design_shown(design)


class NextVersionView(APIView):
    @extend_schema(
        operation_id="design_next_version",
        request=NextVersionSerializer,
        responses={201: DesignSerializer, **_REFUSALS},
    )
    def post(self, request: Request, pk: int) -> Response:
        design = owned_or_404(_designs(), request, pk)
        typed = entry(NextVersionSerializer, request)
        return _design_shown(services.next_version(design, typed["changed"]), status.HTTP_201_CREATED)


class TrialListView(APIView):
    @extend_schema(
        operation_id="trial_start", request=NewTrialSerializer, responses={200: TrialStateSerializer, **_REFUSALS}
    )
    def post(self, request: Request, pk: int) -> Response:
        design = owned_or_404(_designs(), request, pk)
        typed = entry(NewTrialSerializer, request)
        trial = services.start_trial(
            design, typed["id"], typed["bench"], typed["wet_reason"], typed["arrangement"], typed["rehearsal"]
        )
        return Response(TrialStateSerializer(trial_state(trial)).data)


class TrialView(APIView):
    @extend_schema(operation_id="trial_show", responses={200: TrialStateSerializer, 404: ErrorBody})
    def get(self, request: Request, pk: uuid.UUID) -> Response:
        trial = owned_or_404(_trials(), request, pk)
        return Response(TrialStateSerializer(trial_state(trial, system=System(teacher_of(request).units))).data)


class TrialEventsView(APIView):
    @extend_schema(
        operation_id="trial_append", request=NewEventsSerializer, responses={200: AppendedSerializer, **_REFUSALS}
    )
    def post(self, request: Request, pk: uuid.UUID) -> Response:
        trial = owned_or_404(_trials(), request, pk)
        typed = entry(NewEventsSerializer, request)
        done = services.append_events(trial, typed["bench"], typed["events"], typed.get("sent_at"), typed["only_known"])
        refused = done.refused and {
            "event_id": done.refused_id, "code": done.refused.code, "sentence": done.refused.sentence,
            "confirm": isinstance(done.refused, NeedsConfirmation),
        }  # fmt: skip
        state = trial_state(trial, done.result, System(teacher_of(request).units))
        return Response(_APPENDED.to_representation({"accepted": done.accepted, "refused": refused, "state": state}))


class TakeOverView(APIView):
    @extend_schema(
        operation_id="trial_take_over", request=BenchSerializer, responses={200: TrialStateSerializer, **_REFUSALS}
    )
    def post(self, request: Request, pk: uuid.UUID) -> Response:
        trial = owned_or_404(_trials(), request, pk)
        typed = entry(BenchSerializer, request)
        return Response(TrialStateSerializer(trial_state(services.take_over(trial, typed["bench"]))).data)
