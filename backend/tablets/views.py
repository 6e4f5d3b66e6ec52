"""The API of tablets: the teacher's hold on a lesson's door, and what a team does at its own."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.http import FileResponse, Http404
from django.shortcuts import get_object_or_404
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.parsers import MultiPartParser
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from challenges.models import Run
from designs.build_services import count_practice, show_model
from designs.models import Design, Photo
from designs.photo_services import drop_photo
from designs.pictures import picture_of
from designs.serializers import KeepDraftSerializer, MeasuredSerializer, NextVersionSerializer, PracticeSerializer
from designs.team_services import offer_reading, send_photo
from drafting.serializers import DraftSerializer
from evengirder.entry import entry
from evengirder.errors import ErrorBody
from girder_core.measure import TypedReading, read_in
from live.kept import board_kept
from people.policy import owned_or_404
from runs.drafted import drafted_for_team
from tablets import services
from tablets.answers import page_answer
from tablets.models import Door, Tablet
from tablets.policy import COOKIE, TabletView, own_design, tablet_in
from tablets.selectors import draft_table, way_in
from tablets.serializers import (
    ChoiceSerializer,
    CodeSerializer,
    DoorChangeSerializer,
    DoorSerializer,
    DraftForTeamSerializer,
    TeamAnswerSerializer,
    TeamNoteSerializer,
    TeamPageSerializer,
    TeamPhotoSerializer,
    TeamSaysSerializer,
    WayInSerializer,
    WhoSerializer,
)

NO_WAY_IN: dict[str, Any] = {"code": "", "address": "", "picture": []}
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
        if "may" in typed:
            services.let_teams(run, typed["may"])
        if "action" in typed:
            {"open": services.open_door, "keep": services.keep_open, "close": services.close_door}[typed["action"]](run)
        return _door(request, run)


def _door(request: Request, run: Run) -> Response:
    way, door = way_in(run, request), Door.objects.filter(run=run).first()
    shown: dict[str, Any] = {**NO_WAY_IN, "until": None, "tablets": [], "late": [], "may": services.may(run)}
    if way is not None and door is not None:
        shown |= {
            "code": way.code, "address": way.address, "picture": way.picture, "until": door.until,
            "tablets": services.tablets_of(door), "late": services.late_in(run),
        }  # fmt: skip
    return Response(DoorSerializer(shown).data)


class BoardWayInView(APIView):
    """How tablets come into the lesson of a board, for whoever has the board's link."""

    authentication_classes: list[Any] = []
    permission_classes = [AllowAny]

    @extend_schema(operation_id="board_way_in", auth=[], responses={200: WayInSerializer, 404: ErrorBody})
    def get(self, request: Request, token: str) -> Response:
        board = board_kept(token)
        if board is None:
            raise Http404
        return Response(WayInSerializer(way_in(board.run, request) or NO_WAY_IN).data)


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
    return Response(page_answer(tablet))


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


class TeamWhoView(TabletView):
    """Who is at the tablet, by first names."""

    @extend_schema(operation_id="team_who", request=WhoSerializer, responses=PAGE)
    def put(self, request: Request) -> Response:
        tablet = tablet_in(request)
        services.say_who(tablet, entry(WhoSerializer, request)["who"])
        return _page(tablet)


class TeamReadingsView(TabletView):
    """What a team measures of its own design; its teacher takes it over, or measures."""

    @extend_schema(operation_id="team_measure", request=MeasuredSerializer, responses={**PAGE, 422: ErrorBody})
    def post(self, request: Request) -> Response:
        tablet = tablet_in(request)
        design = own_design(tablet)
        services.require(design.run, "measure")
        typed = entry(MeasuredSerializer, request)
        key, confirmed = typed.pop("key"), typed.pop("confirmed")
        with read_in(design.run.system):
            offer_reading(design, key, TypedReading(**typed), confirmed)
        return _page(tablet)


class TeamPhotosView(TabletView):
    """Photographs that a team takes of its own design; they wait for the teacher's nod."""

    parser_classes = [MultiPartParser]

    @extend_schema(operation_id="team_photo", request={"multipart/form-data": TeamPhotoSerializer}, responses=PAGE)
    def post(self, request: Request) -> Response:
        tablet = tablet_in(request)
        typed = entry(TeamPhotoSerializer, request)
        send_photo(own_design(tablet), typed["photo"], typed["what"], typed["sent_as"])
        return _page(tablet)


class TeamPhotoView(TabletView):
    @extend_schema(operation_id="team_photo_show", responses={(200, "image/jpeg"): OpenApiTypes.BINARY, 404: ErrorBody})
    def get(self, request: Request, pk: int) -> FileResponse:
        return picture_of(get_object_or_404(Photo, pk=pk, design=own_design(tablet_in(request))))

    @extend_schema(operation_id="team_photo_drop", responses={**PAGE, 404: ErrorBody})
    def delete(self, request: Request, pk: int) -> Response:
        tablet = tablet_in(request)
        drop_photo(get_object_or_404(Photo, pk=pk, design=own_design(tablet), waits=True))
        return _page(tablet)


class TeamPracticeView(TabletView):
    @extend_schema(operation_id="team_practice", request=PracticeSerializer, responses=PAGE)
    def put(self, request: Request) -> Response:
        tablet = tablet_in(request)
        count_practice(own_design(tablet), entry(PracticeSerializer, request)["used"])
        return _page(tablet)


class TeamAnswersView(TabletView):
    """What a team answers when its test is over."""

    @extend_schema(operation_id="team_answer", request=TeamAnswerSerializer, responses={**PAGE, 409: ErrorBody})
    def put(self, request: Request) -> Response:
        tablet = tablet_in(request)
        services.reflect(own_design(tablet), **entry(TeamAnswerSerializer, request))
        return _page(tablet)


class TeamNextVersionView(TabletView):
    @extend_schema(operation_id="team_next_version", request=NextVersionSerializer, responses=PAGE)
    def post(self, request: Request) -> Response:
        tablet = tablet_in(request)
        services.next_version(own_design(tablet), entry(NextVersionSerializer, request)["changed"])
        return _page(tablet)


class TeamDraftView(TabletView):
    """The team's drafting table. Until the team has said what it thinks, the model keeps its own back."""

    @extend_schema(operation_id="team_draft", responses={**PAGE, 200: DraftForTeamSerializer})
    def get(self, request: Request) -> Response:
        return self._table(self._design(request))

    @extend_schema(
        operation_id="team_draft_work", request=KeepDraftSerializer, responses={**PAGE, 200: DraftSerializer}
    )
    def post(self, request: Request) -> Response:
        design = self._design(request)
        shown, veiled = drafted_for_team(design, entry(KeepDraftSerializer, request), design.run.system())
        if not veiled:
            show_model(design)
        with read_in(design.run.system):
            return Response(DraftSerializer(shown).data)

    @extend_schema(
        operation_id="team_draft_keep", request=KeepDraftSerializer, responses={**PAGE, 200: DraftForTeamSerializer}
    )
    def put(self, request: Request) -> Response:
        design = self._design(request)
        services.keep_draft(design, entry(KeepDraftSerializer, request))
        return self._table(design)

    def _design(self, request: Request) -> Design:
        design = own_design(tablet_in(request))
        services.require(design.run, "draft")
        return design

    def _table(self, design: Design) -> Response:
        return Response(DraftForTeamSerializer(draft_table(design)).data)
