"""The API of runs: open one, see all of it, compare it."""

from __future__ import annotations

from dataclasses import asdict, replace

from django.db.models import Count, QuerySet
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from bench import lesson_services, services
from bench.comparison_serializers import ComparisonSerializer
from bench.history import past_of
from bench.reason_serializers import ReasonsSerializer
from bench.reasons import reasons_of
from bench.selectors import compared, run_state, tested_by_run
from bench.serializers import (
    BenchEndSerializer,
    BuildClockSerializer,
    HistorySerializer,
    NewGoalSerializer,
    NewRunSerializer,
    QueueSerializer,
    RunListedSerializer,
    RunStateSerializer,
    TypedContainerSerializer,
    YoungSerializer,
)
from bench.shown import shown_comparison, shown_reasons
from challenges.models import SCHOOLS, TRIAL_RULES, Recipe, Run
from challenges.serializers import ConsequencesSerializer, FillSerializer
from challenges.shown import shown_terms
from evengirder.entry import entry
from evengirder.errors import ErrorBody
from girder_core.ground import GirderError
from girder_core.kit import Container, fills
from girder_core.measure import Kind, System, parse
from girder_core.results import Rules, School, TrialRule
from people.models import SchoolClass
from people.policy import owned, owned_or_404, teacher_of

_ASKED = [
    OpenApiParameter("school", OpenApiTypes.STR, enum=[key for key, _ in SCHOOLS]),
    OpenApiParameter("trial_rule", OpenApiTypes.STR, enum=[key for key, _ in TRIAL_RULES]),
]


def _runs() -> QuerySet[Run]:
    return Run.objects.select_related("school_class")


def _shown(run: Run, code: int = status.HTTP_200_OK) -> Response:
    return Response(RunStateSerializer(run_state(run)).data, status=code)


class RunListView(APIView):
    @extend_schema(operation_id="run_list", responses=RunListedSerializer(many=True))
    def get(self, request: Request) -> Response:
        runs = owned(_runs(), teacher_of(request)).annotate(design_count=Count("designs"))
        # Grouping for the counts takes the model's own order away.
        listed = list(runs.order_by("-date", "-id"))
        return Response(RunListedSerializer(listed, many=True, context={"tested": tested_by_run(listed)}).data)

    @extend_schema(
        operation_id="run_open",
        request=NewRunSerializer,
        responses={201: RunStateSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def post(self, request: Request) -> Response:
        typed = entry(NewRunSerializer, request)
        recipe = owned_or_404(Recipe.objects.all(), request, typed["recipe"])
        school_class = owned_or_404(SchoolClass.objects.all(), request, typed["school_class"])
        run = services.open_run(recipe, school_class, typed["date"])
        return _shown(run, status.HTTP_201_CREATED)


class RunView(APIView):
    @extend_schema(operation_id="run_show", responses={200: RunStateSerializer, 404: ErrorBody})
    def get(self, request: Request, pk: int) -> Response:
        return _shown(owned_or_404(_runs(), request, pk))


class RunTeamsView(APIView):
    @extend_schema(
        operation_id="run_add_missing_teams", request=None, responses={200: RunStateSerializer, 404: ErrorBody}
    )
    def post(self, request: Request, pk: int) -> Response:
        run = owned_or_404(_runs(), request, pk)
        services.add_missing_teams(run)
        return _shown(run)


class BuildClockView(APIView):
    @extend_schema(
        operation_id="run_build_clock",
        request=BuildClockSerializer,
        responses={200: RunStateSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def put(self, request: Request, pk: int) -> Response:
        run = owned_or_404(_runs(), request, pk)
        typed = entry(BuildClockSerializer, request)
        return _shown(services.set_build_clock(run, typed["action"], typed["minutes"]))


class QueueView(APIView):
    """The order of teams at the bench."""

    @extend_schema(
        operation_id="run_queue",
        request=QueueSerializer,
        responses={200: RunStateSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def put(self, request: Request, pk: int) -> Response:
        run = owned_or_404(_runs(), request, pk)
        typed = entry(QueueSerializer, request)
        if typed["fair"]:
            lesson_services.queue_fairly(run)
        else:
            lesson_services.set_queue(run, typed.get("order", []))
        return _shown(run)


class BenchEndView(APIView):
    """How long the bench has."""

    @extend_schema(
        operation_id="run_bench_end",
        request=BenchEndSerializer,
        responses={200: RunStateSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def put(self, request: Request, pk: int) -> Response:
        run = owned_or_404(_runs(), request, pk)
        return _shown(lesson_services.set_bench_end(run, entry(BenchEndSerializer, request)["minutes"]))


class YoungView(APIView):
    """Young-class mode and the unit that lengths are counted in."""

    @extend_schema(
        operation_id="run_young",
        request=YoungSerializer,
        responses={200: RunStateSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def put(self, request: Request, pk: int) -> Response:
        run = owned_or_404(_runs(), request, pk)
        typed = entry(YoungSerializer, request)
        return _shown(lesson_services.set_young(run, typed["young"], typed["unit"], typed["size"]))


class RunPlanView(APIView):
    """What follows from a run's terms for the teams it has: brief, kit list, timeline, cautions."""

    @extend_schema(operation_id="run_plan", responses={200: ConsequencesSerializer, 404: ErrorBody})
    def get(self, request: Request, pk: int) -> Response:
        run = owned_or_404(_runs(), request, pk)
        shown = shown_terms(run, run.school_class.teams.count(), System(teacher_of(request).units))
        return Response(ConsequencesSerializer(shown).data)


class RunGoalView(APIView):
    @extend_schema(
        operation_id="run_change_goal",
        request=NewGoalSerializer,
        responses={200: RunStateSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def put(self, request: Request, pk: int) -> Response:
        run = owned_or_404(_runs(), request, pk)
        typed = entry(NewGoalSerializer, request)
        reason = typed.pop("reason")
        return _shown(services.change_goal(run, typed, reason))


class ContainerView(APIView):
    """How many load objects a cup takes. Nothing is kept."""

    @extend_schema(
        operation_id="run_container",
        request=TypedContainerSerializer,
        responses={200: FillSerializer(many=True), 400: ErrorBody, 404: ErrorBody},
    )
    def post(self, request: Request, pk: int) -> Response:
        run = owned_or_404(_runs(), request, pk)
        typed = entry(TypedContainerSerializer, request)
        diameter, height = (parse(typed[name], Kind.LENGTH).si for name in ("diameter", "height"))
        return Response(FillSerializer(fills(Container(diameter, height), run.core_kit()), many=True).data)


def asked_rules(run: Run, request: Request) -> tuple[Rules, bool]:
    """The run's rules, or those asked for in the address to look at it otherwise; and whether they are its own."""
    school = request.query_params.get("school", run.school)
    trial_rule = request.query_params.get("trial_rule", run.trial_rule)
    if school not in dict(SCHOOLS) or trial_rule not in dict(TRIAL_RULES):
        raise GirderError("unknown_school", "There is no such way of scoring.")
    own = run.rules()
    rules = replace(own, school=School(school), trial_rule=TrialRule(trial_rule))
    return rules, rules == own


class ComparisonView(APIView):
    @extend_schema(
        operation_id="run_compare",
        parameters=_ASKED,
        responses={200: ComparisonSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def get(self, request: Request, pk: int) -> Response:
        run = owned_or_404(_runs(), request, pk)
        rules, official = asked_rules(run, request)
        system = System(teacher_of(request).units)
        found = compared(run, rules, system)
        shown = shown_comparison(found, rules, official, run.core_family().words(), system)
        return Response(ComparisonSerializer(shown).data)


class HistoryView(APIView):
    @extend_schema(operation_id="run_history", responses={200: HistorySerializer, 404: ErrorBody})
    def get(self, request: Request, pk: int) -> Response:
        run = owned_or_404(_runs(), request, pk)
        past = past_of(run, System(teacher_of(request).units))
        rows = [
            {"id": one.pk, "date": one.date, "class_name": one.school_class.name, **asdict(line)}
            for one, line in past.runs
        ]
        return Response(HistorySerializer({"runs": rows, "says": past.outlook.says}).data)


class ReasonsView(APIView):
    @extend_schema(
        operation_id="run_reasons",
        parameters=_ASKED,
        responses={200: ReasonsSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def get(self, request: Request, pk: int) -> Response:
        run = owned_or_404(_runs(), request, pk)
        rules, _ = asked_rules(run, request)
        found = compared(run, rules, System(teacher_of(request).units))
        name = run.factor["name"] if run.factor else ""
        shown = shown_reasons(reasons_of(run, found, rules), name, run.core_family().words())
        return Response(ReasonsSerializer(shown).data)
