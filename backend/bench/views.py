"""The API of trials: parse, ask the policy, call a service."""

from __future__ import annotations

import uuid
from datetime import timedelta

from django.db.models import QuerySet
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from bench import services, station_services
from bench.ahead import trials_ahead
from bench.answers import appended_shown, state_shown
from bench.entries import EntriesParser
from bench.models import Trial
from bench.record_selectors import changes_of, ledger_lines
from bench.serializers import (
    AppendedSerializer,
    BenchSerializer,
    ChangeSerializer,
    LedgerLineSerializer,
    MoveSerializer,
    NewEventsSerializer,
    NewTrialSerializer,
    StationChangeSerializer,
    TrialStateSerializer,
)
from challenges.models import Run
from designs.models import Design
from evengirder.entry import entry
from evengirder.errors import ErrorBody
from girder_core.measure import System
from people.models import HELPER
from people.policy import owned_or_404, teacher_of

_REFUSALS = {400: ErrorBody, 404: ErrorBody, 409: ErrorBody}


def _trials() -> QuerySet[Trial]:
    return Trial.with_rehearsals.select_related("design__run", "design__team")


def _state(request: Request, trial: Trial) -> Response:
    return Response(state_shown(trial, System(teacher_of(request).units)))


class TrialListView(APIView):
    @extend_schema(
        operation_id="trial_start", request=NewTrialSerializer, responses={200: TrialStateSerializer, **_REFUSALS}
    )
    def post(self, request: Request, pk: int) -> Response:
        design = owned_or_404(Design.objects.all(), request, pk, HELPER)
        typed = entry(NewTrialSerializer, request)
        beforehand = None
        if "number" in typed:
            began_at = timezone.now() - timedelta(seconds=typed["began_ago_s"])
            beforehand = services.Beforehand(typed["number"], began_at, typed["confirmed"])
        trial = services.start_trial(
            design, typed["id"], typed["bench"], typed["wet_reason"], typed["arrangement"], typed["rehearsal"],
            beforehand=beforehand,
        )  # fmt: skip
        return _state(request, trial)


class AheadView(APIView):
    """The trials that could begin now, so that a bench that loses its network can begin them without asking."""

    @extend_schema(operation_id="run_ahead", responses={200: TrialStateSerializer(many=True), 404: ErrorBody})
    def get(self, request: Request, pk: int) -> Response:
        run = owned_or_404(Run.objects.all(), request, pk)
        ahead = trials_ahead(run, System(teacher_of(request).units))
        return Response(TrialStateSerializer(ahead, many=True).data)


class TrialView(APIView):
    @extend_schema(operation_id="trial_show", responses={200: TrialStateSerializer, 404: ErrorBody})
    def get(self, request: Request, pk: uuid.UUID) -> Response:
        trial = owned_or_404(_trials(), request, pk)
        return _state(request, trial)


class TrialEventsView(APIView):
    parser_classes = [EntriesParser]

    @extend_schema(
        operation_id="trial_append", request=NewEventsSerializer, responses={200: AppendedSerializer, **_REFUSALS}
    )
    def post(self, request: Request, pk: uuid.UUID) -> Response:
        trial = owned_or_404(_trials(), request, pk, HELPER)
        typed = entry(NewEventsSerializer, request)
        done = services.append_events(
            trial, typed["bench"], typed["events"], typed.get("sent_at"), typed["only_known"], teacher_of(request).name
        )
        return Response(appended_shown(trial, done, System(teacher_of(request).units)))


class MoveView(APIView):
    @extend_schema(
        operation_id="trial_move", request=MoveSerializer, responses={200: TrialStateSerializer, **_REFUSALS}
    )
    def post(self, request: Request, pk: uuid.UUID) -> Response:
        trial = owned_or_404(_trials(), request, pk, HELPER)
        typed = entry(MoveSerializer, request)
        to = owned_or_404(Design.objects.all(), request, typed["design"], HELPER)
        moved = services.move_trial(trial, to, typed["id"], typed["why"], teacher_of(request).name)
        return _state(request, moved)


class RecordView(APIView):
    @extend_schema(operation_id="trial_record", responses={200: LedgerLineSerializer(many=True), 404: ErrorBody})
    def get(self, request: Request, pk: uuid.UUID) -> Response:
        return Response(LedgerLineSerializer(ledger_lines(owned_or_404(_trials(), request, pk)), many=True).data)


class ChangesView(APIView):
    @extend_schema(operation_id="run_changes", responses={200: ChangeSerializer(many=True), 404: ErrorBody})
    def get(self, request: Request, pk: int) -> Response:
        run = owned_or_404(Run.objects.all(), request, pk)
        return Response(ChangeSerializer(changes_of(run), many=True).data)


class TakeOverView(APIView):
    @extend_schema(
        operation_id="trial_take_over", request=BenchSerializer, responses={200: TrialStateSerializer, **_REFUSALS}
    )
    def post(self, request: Request, pk: uuid.UUID) -> Response:
        trial = owned_or_404(_trials(), request, pk, HELPER)
        typed = entry(BenchSerializer, request)
        return _state(request, services.take_over(trial, typed["bench"]))


class TrialStationView(APIView):
    """A test that a team makes by itself: its teacher stops it, lets it go on, confirms what came of it."""

    @extend_schema(
        operation_id="trial_station", request=StationChangeSerializer,
        responses={200: TrialStateSerializer, **_REFUSALS},
    )  # fmt: skip
    def put(self, request: Request, pk: uuid.UUID) -> Response:
        trial = owned_or_404(_trials(), request, pk, HELPER)
        typed = entry(StationChangeSerializer, request)
        if typed["action"] == "confirm":
            trial = station_services.confirm(trial, typed["seen"], teacher_of(request).name)
        elif typed["action"] == "stop":
            trial = station_services.stop(trial)
        else:
            trial = station_services.let_go_on(trial)
        return _state(request, trial)
