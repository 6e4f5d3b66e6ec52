"""The people API: parse, ask the policy, call a service."""

from __future__ import annotations

from django.contrib.auth import authenticate, login, logout
from django.db.models import QuerySet
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect, ensure_csrf_cookie
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from evengirder.entry import entry
from evengirder.errors import ErrorBody
from girder_core.ground import GirderError
from people import services
from people.models import SchoolClass, Teacher, Team
from people.policy import owned, owned_or_404, teacher_of
from people.serializers import (
    NewClassSerializer,
    NewTeamSerializer,
    PreferenceSerializer,
    SchoolClassSerializer,
    SessionSerializer,
    SignInSerializer,
    SignUpSerializer,
    TeamChangeSerializer,
    TeamNamesSerializer,
    TeamSerializer,
)


def _session(teacher: Teacher | None) -> Response:
    return Response(SessionSerializer({"teacher": teacher}).data)


@method_decorator(csrf_protect, name="dispatch")
class SessionView(APIView):
    """Sign in, sign out, who am I, and the units I read."""

    permission_classes = [AllowAny]
    throttle_scope = "sign_in"

    def get_throttles(self) -> list[object]:  # type: ignore[override]
        from rest_framework.throttling import ScopedRateThrottle

        return [ScopedRateThrottle()] if self.request.method == "POST" else []

    @extend_schema(operation_id="session_show", responses=SessionSerializer)
    @method_decorator(ensure_csrf_cookie)
    def get(self, request: Request) -> Response:
        return _session(request.user if isinstance(request.user, Teacher) else None)

    @extend_schema(
        operation_id="session_open", request=SignInSerializer, responses={200: SessionSerializer, 400: ErrorBody}
    )
    def post(self, request: Request) -> Response:
        typed = entry(SignInSerializer, request)
        teacher = authenticate(request, username=typed["email"], password=typed["password"])
        if not isinstance(teacher, Teacher):
            raise GirderError("wrong_sign_in", "Address and password do not go together. Try again.")
        login(request, teacher)
        return _session(teacher)

    @extend_schema(
        operation_id="session_prefer", request=PreferenceSerializer, responses={200: SessionSerializer, 400: ErrorBody}
    )
    def patch(self, request: Request) -> Response:
        if not isinstance(request.user, Teacher):
            raise GirderError("signed_out", "Sign in first.")
        typed = entry(PreferenceSerializer, request)
        return _session(services.prefer_units(request.user, typed["units"]))

    @extend_schema(operation_id="session_close", responses=SessionSerializer)
    def delete(self, request: Request) -> Response:
        logout(request)
        return _session(None)


@method_decorator(csrf_protect, name="dispatch")
class SignUpView(APIView):
    """Make an own account, and be signed in with it."""

    permission_classes = [AllowAny]

    @extend_schema(
        operation_id="teacher_add", request=SignUpSerializer, responses={201: SessionSerializer, 400: ErrorBody}
    )
    def post(self, request: Request) -> Response:
        typed = entry(SignUpSerializer, request)
        teacher = services.sign_up(**typed)
        login(request, teacher)
        response = _session(teacher)
        response.status_code = status.HTTP_201_CREATED
        return response


def _classes() -> QuerySet[SchoolClass]:
    return SchoolClass.objects.prefetch_related("teams")


class ClassListView(APIView):
    @extend_schema(operation_id="class_list", responses=SchoolClassSerializer(many=True))
    def get(self, request: Request) -> Response:
        return Response(SchoolClassSerializer(owned(_classes(), teacher_of(request)), many=True).data)

    @extend_schema(
        operation_id="class_add", request=NewClassSerializer, responses={201: SchoolClassSerializer, 400: ErrorBody}
    )
    def post(self, request: Request) -> Response:
        typed = entry(NewClassSerializer, request)
        added = services.add_class(teacher_of(request), typed["name"])
        return Response(SchoolClassSerializer(added).data, status=status.HTTP_201_CREATED)


class ClassTeamsView(APIView):
    @extend_schema(
        operation_id="team_add",
        request=NewTeamSerializer,
        responses={201: TeamSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def post(self, request: Request, pk: int) -> Response:
        typed = entry(NewTeamSerializer, request)
        team = services.add_team(owned_or_404(_classes(), request, pk), typed["name"])
        return Response(TeamSerializer(team).data, status=status.HTTP_201_CREATED)


class TeamListView(APIView):
    @extend_schema(
        operation_id="team_list_add",
        request=TeamNamesSerializer,
        responses={201: TeamSerializer(many=True), 400: ErrorBody, 404: ErrorBody},
    )
    def post(self, request: Request, pk: int) -> Response:
        school_class = owned_or_404(SchoolClass.objects.all(), request, pk)
        made = services.add_teams(school_class, entry(TeamNamesSerializer, request)["text"])
        return Response(TeamSerializer(made, many=True).data, status=status.HTTP_201_CREATED)


class TeamView(APIView):
    @extend_schema(
        operation_id="team_rename",
        request=TeamChangeSerializer,
        responses={200: TeamSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def patch(self, request: Request, pk: int) -> Response:
        typed = entry(TeamChangeSerializer, request)
        team = services.rename_team(owned_or_404(Team.objects.all(), request, pk), typed["name"], typed.get("members"))
        return Response(TeamSerializer(team).data)
