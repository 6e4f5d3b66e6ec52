"""The API of runs: open one, see all of it, set what holds for its lesson."""

from __future__ import annotations

from django.db.models import Count, Q
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from bench import lesson_services
from bench.selectors import tested_by_run
from challenges import services as challenges
from challenges.entries import TypedKitItemSerializer
from challenges.models import Recipe
from challenges.serializers import ConsequencesSerializer, FillSerializer
from challenges.shown import shown_terms
from designs import services as designs
from evengirder.entry import entry
from evengirder.errors import ErrorBody
from evengirder.origins import FIGURE, OriginSerializer
from girder_core.kit import Container, fills
from girder_core.measure import Kind, System, parse
from people.models import HELPER, OBSERVER, SchoolClass
from people.policy import owned, owned_or_404, teacher_of
from people.serializers import GroupingSerializer, SchoolClassSerializer
from results import services as results
from results.asked import ASKED, asked_rules
from results.serializers import NewGoalSerializer
from runs import grouping_services as grouping
from runs.answers import RUN, run_shown, runs
from runs.home import home_of
from runs.lesson_services import begin_first_lesson
from runs.serializers import (
    BenchEndSerializer,
    BuildClockSerializer,
    HomeAskedSerializer,
    HomeSerializer,
    NewRunSerializer,
    PinnedStepSerializer,
    QueueSerializer,
    RunListedSerializer,
    RunStateSerializer,
    TryoutSerializer,
    TypedContainerSerializer,
    YoungSerializer,
)
from runs.why import Asked, origin_of


class HomeView(APIView):
    """What is next, and all runs."""

    @extend_schema(
        operation_id="home", parameters=[HomeAskedSerializer], responses={200: HomeSerializer, 400: ErrorBody}
    )
    def get(self, request: Request) -> Response:
        asked = HomeAskedSerializer(data=request.query_params)
        asked.is_valid(raise_exception=True)
        now = timezone.now()
        home = home_of(teacher_of(request), asked.validated_data.get("today") or now.date(), now)
        return Response(HomeSerializer(home, context={"tested": home.tested, "sketches": home.sketches}).data)


class FirstLessonView(APIView):
    """A lesson to try first, laid out."""

    @extend_schema(operation_id="first_lesson", request=None, responses={201: RunStateSerializer})
    def post(self, request: Request) -> Response:
        return run_shown(begin_first_lesson(teacher_of(request), timezone.now().date()), status.HTTP_201_CREATED)


class RunListView(APIView):
    @extend_schema(operation_id="run_list", responses=RunListedSerializer(many=True))
    def get(self, request: Request) -> Response:
        present = Count("designs", filter=Q(designs__removed_at__isnull=True))
        counted = owned(runs(), teacher_of(request)).annotate(design_count=present)
        # Grouping for the counts takes the model's own order away.
        listed = list(counted.order_by("-date", "-id"))
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
        run = designs.open_run(recipe, school_class, typed["date"])
        return run_shown(run, status.HTTP_201_CREATED)


class RunView(APIView):
    @extend_schema(operation_id="run_show", responses={200: RunStateSerializer, 404: ErrorBody})
    def get(self, request: Request, pk: int) -> Response:
        return run_shown(owned_or_404(runs(), request, pk))


class RunTeamsView(APIView):
    @extend_schema(
        operation_id="run_add_missing_teams", request=None, responses={200: RunStateSerializer, 404: ErrorBody}
    )
    def post(self, request: Request, pk: int) -> Response:
        run = owned_or_404(runs(), request, pk, HELPER)
        designs.add_missing_teams(run)
        return run_shown(run)


class BuildClockView(APIView):
    @extend_schema(
        operation_id="run_build_clock",
        request=BuildClockSerializer,
        responses=RUN,
    )
    def put(self, request: Request, pk: int) -> Response:
        run = owned_or_404(runs(), request, pk)
        typed = entry(BuildClockSerializer, request)
        return run_shown(challenges.set_build_clock(run, typed["action"], typed["minutes"]))


class QueueView(APIView):
    """The order of teams at the bench."""

    @extend_schema(
        operation_id="run_queue",
        request=QueueSerializer,
        responses=RUN,
    )
    def put(self, request: Request, pk: int) -> Response:
        run = owned_or_404(runs(), request, pk, HELPER)
        typed = entry(QueueSerializer, request)
        if typed["fair"]:
            lesson_services.queue_fairly(run)
        else:
            lesson_services.set_queue(run, typed.get("order", []))
        return run_shown(run)


class BenchEndView(APIView):
    """How long the bench has."""

    @extend_schema(
        operation_id="run_bench_end",
        request=BenchEndSerializer,
        responses=RUN,
    )
    def put(self, request: Request, pk: int) -> Response:
        run = owned_or_404(runs(), request, pk, HELPER)
        return run_shown(lesson_services.set_bench_end(run, entry(BenchEndSerializer, request)["minutes"]))


class YoungView(APIView):
    """Young-class mode and the unit that lengths are counted in."""

    @extend_schema(
        operation_id="run_young",
        request=YoungSerializer,
        responses=RUN,
    )
    def put(self, request: Request, pk: int) -> Response:
        run = owned_or_404(runs(), request, pk)
        typed = entry(YoungSerializer, request)
        return run_shown(lesson_services.set_young(run, typed["young"], typed["unit"], typed["size"]))


class TryoutView(APIView):
    """Whether a run only tries things out, and so says nothing over the years."""

    @extend_schema(operation_id="run_tryout", request=TryoutSerializer, responses=RUN)
    def put(self, request: Request, pk: int) -> Response:
        run = owned_or_404(runs(), request, pk)
        return run_shown(challenges.mark_tryout(run, entry(TryoutSerializer, request)["tryout"]))


class GroupsView(APIView):
    """The teams of a class, formed from a list or dealt again."""

    @extend_schema(
        operation_id="class_group",
        request=GroupingSerializer,
        responses={200: SchoolClassSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def post(self, request: Request, pk: int) -> Response:
        school_class = owned_or_404(SchoolClass.objects.all(), request, pk)
        grouping.group(school_class, **entry(GroupingSerializer, request))
        return Response(SchoolClassSerializer(SchoolClass.objects.prefetch_related("teams").get(pk=pk)).data)


class StepView(APIView):
    """The step that the teacher chose instead of the planned ones."""

    @extend_schema(operation_id="run_pin_step", request=PinnedStepSerializer, responses=RUN)
    def put(self, request: Request, pk: int) -> Response:
        run = owned_or_404(runs(), request, pk, HELPER)
        return run_shown(lesson_services.pin_step(run, **entry(PinnedStepSerializer, request)))


class LoadView(APIView):
    """A load object that the plan forgot, put into the kit of a run."""

    @extend_schema(operation_id="run_add_load", request=TypedKitItemSerializer, responses=RUN)
    def post(self, request: Request, pk: int) -> Response:
        run = owned_or_404(runs(), request, pk, HELPER)
        return run_shown(lesson_services.add_load(run, entry(TypedKitItemSerializer, request)))


class RunPlanView(APIView):
    """What follows from a run's terms for the teams it has: brief, kit list, timeline, cautions."""

    @extend_schema(operation_id="run_plan", responses={200: ConsequencesSerializer, 404: ErrorBody})
    def get(self, request: Request, pk: int) -> Response:
        run = owned_or_404(runs(), request, pk)
        shown = shown_terms(run, run.school_class.teams.count(), System(teacher_of(request).units))
        return Response(ConsequencesSerializer(shown).data)


class WhyView(APIView):
    """How a figure of a run came about: of a design, a trial, a reading, a load object, or the run's plan."""

    @extend_schema(
        operation_id="run_why",
        parameters=[FIGURE, OpenApiParameter("of", OpenApiTypes.STR), *ASKED],
        responses={200: OriginSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def get(self, request: Request, pk: int) -> Response:
        run = owned_or_404(runs(), request, pk)
        rules, _ = asked_rules(run, request)
        figure, of = (request.query_params.get(name, "") for name in ("figure", "of"))
        origin = origin_of(Asked(run, figure, of, rules, System(teacher_of(request).units)))
        return Response(OriginSerializer(origin).data)


class RunGoalView(APIView):
    @extend_schema(
        operation_id="run_change_goal",
        request=NewGoalSerializer,
        responses=RUN,
    )
    def put(self, request: Request, pk: int) -> Response:
        run = owned_or_404(runs(), request, pk)
        typed = entry(NewGoalSerializer, request)
        reason = typed.pop("reason")
        return run_shown(results.change_goal(run, typed, reason, teacher_of(request).name))


class ContainerView(APIView):
    """How many load objects a cup takes. Nothing is kept."""

    @extend_schema(
        operation_id="run_container",
        request=TypedContainerSerializer,
        responses={200: FillSerializer(many=True), 400: ErrorBody, 404: ErrorBody},
    )
    def post(self, request: Request, pk: int) -> Response:
        run = owned_or_404(runs(), request, pk, OBSERVER)
        typed = entry(TypedContainerSerializer, request)
        diameter, height = (parse(typed[name], Kind.LENGTH).si for name in ("diameter", "height"))
        return Response(FillSerializer(fills(Container(diameter, height), run.core_kit()), many=True).data)
