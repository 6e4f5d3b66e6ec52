"""The instruments API."""

from __future__ import annotations

import math
from dataclasses import asdict

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from evengirder.entry import entry
from evengirder.errors import ErrorBody
from girder_core.ground import two_figures
from girder_core.measure import Kind, Sent, Steady, System, load_of, step_of, typed_text, units
from instruments import services
from instruments.serializers import (
    ForceLogSerializer,
    InstrumentSerializer,
    LinesSerializer,
    ReadInstrumentSerializer,
    ReadTableSerializer,
    ShakingSerializer,
    SteadySerializer,
    TraceReadingSerializer,
)
from people.policy import teacher_of

_STEADY = {200: SteadySerializer, 400: ErrorBody}
_TRACE = {200: TraceReadingSerializer, 400: ErrorBody}


class InstrumentListView(APIView):
    @extend_schema(operation_id="instrument_list", responses=InstrumentSerializer(many=True))
    def get(self, request: Request) -> Response:
        return Response(InstrumentSerializer(services.instruments(), many=True).data)


class InstrumentReadView(APIView):
    @extend_schema(
        operation_id="instrument_read",
        request=ReadInstrumentSerializer,
        responses=_STEADY,
    )
    def post(self, request: Request) -> Response:
        typed = entry(ReadInstrumentSerializer, request)
        kind = Kind(typed["kind"])
        given = (typed["lies_on_it"], typed["tared_with"], typed["tare"])
        return _shown(services.read_instrument(typed["address"], kind, *given), kind, request)


class TableReadView(APIView):
    @extend_schema(
        operation_id="table_read", request=ReadTableSerializer, responses={200: ShakingSerializer, 400: ErrorBody}
    )
    def post(self, request: Request) -> Response:
        shaking, agreed = services.read_table(**entry(ReadTableSerializer, request))
        return Response(ShakingSerializer({**asdict(shaking), **asdict(agreed)}).data)


class InstrumentLinesView(APIView):
    @extend_schema(operation_id="instrument_lines", request=LinesSerializer, responses=_STEADY)
    def post(self, request: Request) -> Response:
        typed = entry(LinesSerializer, request)
        kind = Kind(typed["kind"])
        return _shown(services.judge_lines(kind, [Sent(**line) for line in typed["lines"]]), kind, request)


def _shown(weighing: Steady, kind: Kind, request: Request) -> Response:
    return Response(
        SteadySerializer(
            {**asdict(weighing), **_as_typed(weighing.value, weighing.step, weighing.step, request, kind)}
        ).data
    )


def _as_typed(value: float, digit: float, step: float, request: Request, kind: Kind) -> dict[str, str]:
    """A value down to a digit that is worth so much, and a scale's step, as the teacher would type them."""
    system = System(teacher_of(request).units)
    return {
        "text": typed_text(round(value / digit) * digit, kind, system),
        "step_text": typed_text(step, kind, system),
    }


class PracticeLogView(APIView):
    """A simulated force log, to practise with."""

    @extend_schema(operation_id="force_log_practice", responses={(200, "text/csv"): OpenApiTypes.STR})
    def get(self, request: Request) -> HttpResponse:
        response = HttpResponse(services.practice_log(), content_type="text/csv; charset=utf-8")
        response["Content-Disposition"] = 'attachment; filename="practice-force-log.csv"'
        return response


class ForceLogView(APIView):
    """Peak, break, stiffness and work from a force-time CSV, and its load as it would be typed. Nothing is kept."""

    @extend_schema(operation_id="force_log", request=ForceLogSerializer, responses=_TRACE)
    def post(self, request: Request) -> Response:
        typed = entry(ForceLogSerializer, request)
        speed = units.parse(typed["speed"], Kind.LENGTH).si if typed["speed"].strip() else None
        trace, gaps = services.read_force_log(typed["text"], speed)
        load = load_of(trace)
        step = two_figures(step_of(load))
        mass = _as_typed(load.value, 10 ** math.floor(math.log10(step)), step, request, Kind.MASS)
        return Response(TraceReadingSerializer({**asdict(trace), "gaps": gaps, **mass}).data)
