"""The API of what a run came to: its comparison, the reasons, other years, the class's experience."""

from __future__ import annotations

import uuid

from django.db.models import QuerySet
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from bench.models import Trial
from challenges.models import Run
from evengirder.entry import entry
from evengirder.errors import ErrorBody
from girder_core.measure import System
from people.policy import owned_or_404, teacher_of
from results.asked import ASKED, asked_rules
from results.chart_serializers import ChartSerializer
from results.comparison_serializers import DrawnComparisonSerializer
from results.drawn import motion_charts, ranking_charts, reason_charts
from results.experience import experience_of
from results.reason_serializers import ReasonsSerializer
from results.reasons import reasons_of
from results.selectors import compared
from results.serializers import ExperienceSerializer, HistorySerializer, UseExperienceSerializer
from results.services import use_experience
from results.shown import shown_comparison, shown_reasons
from results.years import years_of


def _runs() -> QuerySet[Run]:
    return Run.objects.select_related("school_class")


class ComparisonView(APIView):
    @extend_schema(
        operation_id="run_compare",
        parameters=ASKED,
        responses={200: DrawnComparisonSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def get(self, request: Request, pk: int) -> Response:
        run = owned_or_404(_runs(), request, pk)
        rules, official = asked_rules(run, request)
        system = System(teacher_of(request).units)
        comparison = compared(run, rules, system)
        shown = shown_comparison(comparison, rules, official, run.core_family().words(), system)
        charts = ranking_charts(run, comparison, rules, system)
        return Response(DrawnComparisonSerializer({**shown, "ranking": charts.ranking, "rays": charts.rays}).data)


class MotionsView(APIView):
    """How far a structure came down, or leaned, under each load of a trial."""

    @extend_schema(operation_id="trial_motions", responses={200: ChartSerializer(many=True), 404: ErrorBody})
    def get(self, request: Request, pk: uuid.UUID) -> Response:
        trial = owned_or_404(Trial.with_rehearsals.select_related("design__run__school_class__owner"), request, pk)
        return Response(ChartSerializer(motion_charts(trial, System(teacher_of(request).units)), many=True).data)


class HistoryView(APIView):
    @extend_schema(operation_id="run_history", responses={200: HistorySerializer, 404: ErrorBody})
    def get(self, request: Request, pk: int) -> Response:
        run = owned_or_404(_runs(), request, pk)
        return Response(HistorySerializer(years_of(run, System(teacher_of(request).units))).data)


class ReasonsView(APIView):
    @extend_schema(
        operation_id="run_reasons",
        parameters=ASKED,
        responses={200: ReasonsSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def get(self, request: Request, pk: int) -> Response:
        run = owned_or_404(_runs(), request, pk)
        rules, _ = asked_rules(run, request)
        system = System(teacher_of(request).units)
        comparison = compared(run, rules, system)
        reasons = reasons_of(run, comparison, rules)
        name = run.factor["name"] if run.factor else ""
        shown = shown_reasons(reasons, name, run.core_family().words())
        charts = reason_charts(run, comparison, reasons, rules, system)
        return Response(ReasonsSerializer({**shown, "charts": charts}).data)


class ExperienceView(APIView):
    """What the run's class has taught about the model, over all its runs of this family."""

    @extend_schema(operation_id="run_experience", responses={200: ExperienceSerializer(many=True), 404: ErrorBody})
    def get(self, request: Request, pk: int) -> Response:
        return Response(ExperienceSerializer(experience_of(owned_or_404(_runs(), request, pk)), many=True).data)

    @extend_schema(
        operation_id="run_use_experience",
        request=UseExperienceSerializer,
        responses={200: ExperienceSerializer(many=True), 400: ErrorBody, 404: ErrorBody},
    )
    def put(self, request: Request, pk: int) -> Response:
        run = owned_or_404(_runs(), request, pk)
        typed = entry(UseExperienceSerializer, request)
        use_experience(run, typed["material"], typed["applied"])
        return Response(ExperienceSerializer(experience_of(run), many=True).data)
