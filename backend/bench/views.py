"""The API of trials: parse, ask the policy, call a service."""

from __future__ import annotations

import json
import uuid
from typing import Any

from django.db.models import QuerySet
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from bench import services
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
    TrialStateSerializer,
)
from bench.trial_selectors import trial_state
from challenges.models import Run
from designs.models import Design
from evengirder.entry import SoundJSONParser, entry
from evengirder.errors import ErrorBody
from girder_core.ground import GirderError, NeedsConfirmation, sound_json
from girder_core.measure import System
from people.models import HELPER
from people.policy import owned_or_404, teacher_of

_REFUSALS = {400: ErrorBody, 404: ErrorBody, 409: ErrorBody}


# Built once: building their fields takes longer than filling them, and these are answers that must come at once.
_APPENDED, _STATE = AppendedSerializer(), TrialStateSerializer()


def _trials() -> QuerySet[Trial]:
    return Trial.with_rehearsals.select_related("design__run", "design__team")


def _state(request: Request, trial: Trial) -> Response:
    return Response(_STATE.to_representation(trial_state(trial, System(teacher_of(request).units))))


class TrialListView(APIView):
    @extend_schema(
        operation_id="trial_start", request=NewTrialSerializer, responses={200: TrialStateSerializer, **_REFUSALS}
    )
    def post(self, request: Request, pk: int) -> Response:
        design = owned_or_404(Design.objects.all(), request, pk, HELPER)
        typed = entry(NewTrialSerializer, request)
        trial = services.start_trial(
            design, typed["id"], typed["bench"], typed["wet_reason"], typed["arrangement"], typed["rehearsal"]
        )
        return _state(request, trial)


class TrialView(APIView):
    @extend_schema(operation_id="trial_show", responses={200: TrialStateSerializer, 404: ErrorBody})
    def get(self, request: Request, pk: uuid.UUID) -> Response:
        trial = owned_or_404(_trials(), request, pk)
        return _state(request, trial)


# An entry that is as usual is kept by ``bench.quick`` and never comes here.
class EntriesParser(SoundJSONParser):
    """One entry that cannot be kept is refused by name, and not the others that came with it: what it says is taken
    out here, so that the rules refuse it as one that says nothing they know."""

    def parse(self, stream: Any, media_type: str | None = None, parser_context: Any = None) -> Any:
        text = stream.read()
        try:
            return sound_json(text)
        except GirderError:
            try:
                body = json.loads(text)
                for event in body["events"]:
                    if not _is_sound(event["data"]):
                        event["data"] = {"what cannot be written down": True}
                return sound_json(json.dumps(body))
            except (ValueError, TypeError, KeyError, RecursionError):
                # No entries are in it at all; what was wrong at first is said.
                return sound_json(text)


def _is_sound(data: Any) -> bool:
    try:
        sound_json(json.dumps(data))
    except GirderError:
        return False
    return True


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
        refused = done.refused and {
            "event_id": done.refused_id, "code": done.refused.code, "sentence": done.refused.sentence,
            "confirm": isinstance(done.refused, NeedsConfirmation),
        }  # fmt: skip
        state = trial_state(trial, System(teacher_of(request).units), done.result)
        return Response(_APPENDED.to_representation({"accepted": done.accepted, "refused": refused, "state": state}))


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
