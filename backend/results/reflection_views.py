"""The API of what comes after the tests: answers, hints, the rubric."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from challenges.models import Run
from designs.models import Design
from evengirder.entry import entry
from evengirder.errors import ErrorBody
from girder_core.results import PROPOSED, SOURCE_WORDS
from people.policy import owned_or_404
from results import rubric, services
from results.reflection_serializers import (
    HintsSerializer,
    NewRubricSerializer,
    ReflectionSerializer,
    RubricMarkSerializer,
    RubricSerializer,
)

_REFUSED = {400: ErrorBody, 404: ErrorBody}
_RUBRIC = {200: RubricSerializer, **_REFUSED}


def _rubric(run: Run) -> Response:
    criteria = rubric.criteria_of(run)
    last = None if criteria else rubric.last_rubric(run)
    shown = {
        "criteria": criteria,
        "proposed": PROPOSED,
        "last": rubric.criteria_of(last) if last else (),
        "last_from": f"{last.name}, {last.school_class.name}" if last else "",
        "sources": [{"source": source.value, "words": words} for source, words in SOURCE_WORDS.items()],
        "teams": rubric.marks_of(run),
    }
    return Response(RubricSerializer(shown).data)


class RubricView(APIView):
    @extend_schema(operation_id="rubric_show", responses={200: RubricSerializer, 404: ErrorBody})
    def get(self, request: Request, pk: int) -> Response:
        return _rubric(owned_or_404(Run.objects.select_related("school_class"), request, pk))

    @extend_schema(operation_id="rubric_set", request=NewRubricSerializer, responses=_RUBRIC)
    def put(self, request: Request, pk: int) -> Response:
        run = owned_or_404(Run.objects.select_related("school_class"), request, pk)
        services.set_rubric(run, entry(NewRubricSerializer, request)["criteria"])
        return _rubric(run)


class RubricMarkView(APIView):
    @extend_schema(operation_id="rubric_mark", request=RubricMarkSerializer, responses=_RUBRIC)
    def put(self, request: Request, pk: int) -> Response:
        design = owned_or_404(Design.objects.select_related("run__school_class"), request, pk)
        services.mark(design, **entry(RubricMarkSerializer, request))
        return _rubric(design.run)


class ReflectionView(APIView):
    @extend_schema(
        operation_id="design_reflect",
        request=ReflectionSerializer,
        responses={200: ReflectionSerializer(many=True), **_REFUSED},
    )
    def put(self, request: Request, pk: int) -> Response:
        design = owned_or_404(Design.objects.select_related("run"), request, pk)
        services.reflect(design, **entry(ReflectionSerializer, request))
        given = [{"question": question, "text": text} for question, text in services.answers_of(design).items()]
        return Response(ReflectionSerializer(given, many=True).data)


class HintsView(APIView):
    @extend_schema(operation_id="run_hints", request=HintsSerializer, responses={200: HintsSerializer, **_REFUSED})
    def put(self, request: Request, pk: int) -> Response:
        run = owned_or_404(Run.objects.all(), request, pk)
        services.hide_hints(run, entry(HintsSerializer, request)["hidden"])
        return Response({"hidden": run.hints_hidden})
