"""The API of tablets: the teacher's hold on a lesson's door, and what a team does at its own."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.shortcuts import get_object_or_404
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from challenges.models import Run
from doorstep.codes import rows_of
from evengirder.entry import entry
from evengirder.errors import ErrorBody
from evengirder.reached import address_for_others
from girder_core.measure import read_in
from people.policy import owned_or_404
from tablets import services
from tablets.models import Door, Tablet
from tablets.policy import COOKIE, AtATablet, TabletAuthentication, own_design, tablet_in
from tablets.selectors import TeamPage
from tablets.serializers import (
    ChoiceSerializer,
    CodeSerializer,
    DoorChangeSerializer,
    DoorSerializer,
    TeamNoteSerializer,
    TeamPageSerializer,
    TeamSaysSerializer,
    page_shown,
)

PASS_S = 24 * 3600
PAGE = {200: TeamPageSerializer, 400: ErrorBody, 403: ErrorBody}


class RunDoorView(APIView):
    """A run's door for teams: see whether it is open and who is in, open it, keep it open, put a tablet out, or all."""

    @extend_schema(operation_id="run_door", responses={200: DoorSerializer, 404: ErrorBody})
    def get(self, request: Request, pk: int) -> Response:
        return _door(request, owned_or_404(Run.objects.all(), request, pk))

    @extend_schema(
        operation_id="run_door_change",
        request=DoorChangeSerializer,
        responses={200: DoorSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def put(self, request: Request, pk: int) -> Response:
        run = owned_or_404(Run.objects.all(), request, pk)
        typed = entry(DoorChangeSerializer, request)
        if "out" in typed:
            services.put_out(run, typed["out"])
        if "action" in typed:
            {"open": services.open_door, "keep": services.keep_open, "close": services.close_door}[typed["action"]](run)
        return _door(request, run)


def _door(request: Request, run: Run) -> Response:
    door = Door.objects.filter(run=run).first()
    if door is None or not door.is_open:
        shut: dict[str, Any] = {"code": "", "until": None, "address": "", "picture": [], "tablets": [], "late": []}
        return Response(DoorSerializer(shut).data)
    address = address_for_others(request, f"/join/{door.code}")
    shown = {
        "code": f"{door.code[:3]}-{door.code[3:]}",
        "until": door.until,
        "address": address,
        "picture": rows_of(address),
        "tablets": services.tablets_of(door),
        "late": services.late_in(run),
    }
    return Response(DoorSerializer(shown).data)


@method_decorator(csrf_protect, name="dispatch")
class JoinView(APIView):
    """Come in by a lesson's code."""

    authentication_classes: list[Any] = []
    permission_classes = [AllowAny]

    @extend_schema(
        operation_id="lesson_join",
        auth=[],
        request=CodeSerializer,
        responses={200: TeamPageSerializer, 400: ErrorBody, 429: ErrorBody},
    )
    def post(self, request: Request) -> Response:
        own = services.come_in(request, entry(CodeSerializer, request)["code"])
        tablet = Tablet.objects.select_related("door__run__school_class__owner", "team").get(mixed=services.mixed(own))
        response = _page(tablet)
        response.set_cookie(
            COOKIE, own, max_age=PASS_S, httponly=True, secure=settings.SESSION_COOKIE_SECURE, samesite="Lax",
            path="/api/team",
        )  # fmt: skip
        return response


def _page(tablet: Tablet) -> Response:
    with read_in(tablet.door.run.system):
        return Response(page_shown(TeamPage(tablet)))


class TabletView(APIView):
    """What is open to a tablet, and to nobody else."""

    authentication_classes = [TabletAuthentication]
    permission_classes = [AtATablet]


class TeamPageView(TabletView):
    """A team's page; choosing the team, and going."""

    @extend_schema(operation_id="team_page", responses=PAGE)
    def get(self, request: Request) -> Response:
        return _page(tablet_in(request))

    @extend_schema(operation_id="team_choose", request=ChoiceSerializer, responses={**PAGE, 422: ErrorBody})
    def put(self, request: Request) -> Response:
        tablet = tablet_in(request)
        typed = entry(ChoiceSerializer, request)
        team = get_object_or_404(tablet.door.run.school_class.teams.all(), pk=typed["team"])
        return _page(services.choose_team(tablet, team, typed["confirmed"]))

    @extend_schema(operation_id="team_leave", responses={204: None, 403: ErrorBody})
    def delete(self, request: Request) -> Response:
        services.go(tablet_in(request))
        response = Response(status=status.HTTP_204_NO_CONTENT)
        response.delete_cookie(COOKIE, path="/api/team", samesite="Lax")
        return response


class TeamNoteView(TabletView):
    @extend_schema(operation_id="team_note", request=TeamNoteSerializer, responses={**PAGE, 409: ErrorBody})
    def put(self, request: Request) -> Response:
        tablet = tablet_in(request)
        typed = entry(TeamNoteSerializer, request)
        services.note(own_design(tablet), typed["note"], typed["before"])
        return _page(tablet)


class TeamPredictionView(TabletView):
    @extend_schema(operation_id="team_predict", request=TeamSaysSerializer, responses=PAGE)
    def post(self, request: Request) -> Response:
        tablet = tablet_in(request)
        design = own_design(tablet)
        typed = entry(TeamSaysSerializer, request)
        with read_in(design.run.system):
            services.predict(design, typed["text"], typed["typed_ago_s"])
        return _page(tablet)
