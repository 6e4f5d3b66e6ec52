"""The people API: parse, ask the policy, call a service."""

from __future__ import annotations

from django.conf import settings
from django.db.models import QuerySet
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect, ensure_csrf_cookie
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from doorstep.codes import rows_of
from evengirder.entry import entry
from evengirder.errors import ErrorBody
from evengirder.reached import address_for_others
from girder_core.ground import GirderError
from people import accounts, colleagues, services, sign_on
from people.models import OBSERVER, ClassInvitation, Colleague, SchoolClass, SignedIn, Teacher, Team
from people.policy import owned, owned_or_404, teacher_of
from people.serializers import (
    BeginSignOnSerializer,
    ElsewhereAddressSerializer,
    InvitationCodeSerializer,
    InvitedSerializer,
    NewClassSerializer,
    NewPasswordSerializer,
    NewTeamSerializer,
    PartSerializer,
    PasswordSerializer,
    PreferenceSerializer,
    ResetSerializer,
    SchoolClassSerializer,
    SessionSerializer,
    SignedInSerializer,
    SignInSerializer,
    SignUpSerializer,
    TeamChangeSerializer,
    TeamNamesSerializer,
    TeamSerializer,
    TogetherSerializer,
)


def _session(teacher: Teacher | None, code: int = status.HTTP_200_OK) -> Response:
    shown = {"teacher": teacher, "sign_up": settings.SIGN_UP, "sign_ons": sign_on.ways()}
    return Response(SessionSerializer(shown).data, status=code)


def _entered(request: Request, teacher: Teacher) -> Response:
    """The session of somebody who just came in; the browser is known from now on."""
    response = _session(teacher)
    response.set_cookie(
        accounts.KNOWN, accounts.known_cookie(request, teacher), max_age=accounts.KNOWN_S, httponly=True,
        secure=settings.SESSION_COOKIE_SECURE, samesite="Lax", path="/api/session",
    )  # fmt: skip
    return response


@method_decorator(csrf_protect, name="dispatch")
class SessionView(APIView):
    """Sign in, sign out, who am I, and the units I read."""

    permission_classes = [AllowAny]

    @extend_schema(operation_id="session_show", responses=SessionSerializer)
    @method_decorator(ensure_csrf_cookie)
    def get(self, request: Request) -> Response:
        return _session(request.user if isinstance(request.user, Teacher) else None)

    @extend_schema(
        operation_id="session_open",
        request=SignInSerializer,
        responses={200: SessionSerializer, 400: ErrorBody, 429: ErrorBody},
    )
    def post(self, request: Request) -> Response:
        return _entered(request, accounts.sign_in(request, **entry(SignInSerializer, request)))

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
        accounts.sign_out(request)
        return _session(None)


@method_decorator(csrf_protect, name="dispatch")
class ResetView(APIView):
    """Set another password with a code from whoever runs this server, and be signed in."""

    permission_classes = [AllowAny]

    @extend_schema(
        operation_id="session_reset",
        request=ResetSerializer,
        responses={200: SessionSerializer, 400: ErrorBody, 429: ErrorBody},
    )
    def post(self, request: Request) -> Response:
        return _entered(request, accounts.reset_password(request, **entry(ResetSerializer, request)))


@method_decorator(csrf_protect, name="dispatch")
class SignOnView(APIView):
    """Begin to sign in with a school's account: where to go for that."""

    permission_classes = [AllowAny]

    @extend_schema(
        operation_id="session_sign_on",
        request=BeginSignOnSerializer,
        responses={200: ElsewhereAddressSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def post(self, request: Request) -> Response:
        typed = entry(BeginSignOnSerializer, request)
        address = sign_on.begin(request._request, typed["school"], typed["then"])
        return Response(ElsewhereAddressSerializer({"address": address}).data)


@method_decorator(csrf_protect, name="dispatch")
class SignUpView(APIView):
    """Make an own account. The answer is the same where there is one with this address; sign in with it then."""

    permission_classes = [AllowAny]

    @extend_schema(
        operation_id="teacher_add",
        request=SignUpSerializer,
        responses={202: SessionSerializer, 400: ErrorBody, 429: ErrorBody},
    )
    def post(self, request: Request) -> Response:
        accounts.join(request, **entry(SignUpSerializer, request))
        return _session(None, status.HTTP_202_ACCEPTED)


class PasswordView(APIView):
    @extend_schema(
        operation_id="password_change",
        request=NewPasswordSerializer,
        responses={200: SessionSerializer, 400: ErrorBody, 429: ErrorBody},
    )
    def put(self, request: Request) -> Response:
        teacher = teacher_of(request)
        accounts.change_password(request, teacher, **entry(NewPasswordSerializer, request))
        return _entered(request, teacher)


class SignedInListView(APIView):
    """Where I am signed in; signing out everywhere but here."""

    @extend_schema(operation_id="signed_in", responses=SignedInSerializer(many=True))
    def get(self, request: Request) -> Response:
        return _signed_in(request)

    @extend_schema(operation_id="signed_in_end_others", responses=SignedInSerializer(many=True))
    def delete(self, request: Request) -> Response:
        accounts.end_sessions(teacher_of(request), but=str(request.session.session_key))
        return _signed_in(request)


class SignedInView(APIView):
    @extend_schema(operation_id="signed_in_end", responses={200: SignedInSerializer(many=True), 404: ErrorBody})
    def delete(self, request: Request, pk: int) -> Response:
        ended = owned_or_404(SignedIn.objects.all(), request, pk)
        accounts.end_sessions(teacher_of(request), only=ended.pk)
        return _signed_in(request)


def _signed_in(request: Request) -> Response:
    here = str(request.session.session_key)
    shown = SignedInSerializer(accounts.sessions_of(teacher_of(request)), many=True, context={"here": here})
    return Response(shown.data)


class AccountView(APIView):
    """Delete the account, with all that belongs to it; for a while signing in brings it back."""

    @extend_schema(
        operation_id="account_leave",
        request=PasswordSerializer,
        responses={200: SessionSerializer, 400: ErrorBody, 429: ErrorBody},
    )
    def post(self, request: Request) -> Response:
        accounts.leave(request, teacher_of(request), **entry(PasswordSerializer, request))
        return _session(None)


def _classes() -> QuerySet[SchoolClass]:
    return SchoolClass.objects.select_related("owner").prefetch_related("teams")


class ClassListView(APIView):
    @extend_schema(operation_id="class_list", responses=SchoolClassSerializer(many=True))
    def get(self, request: Request) -> Response:
        teacher = teacher_of(request)
        parts = {"parts": colleagues.parts_of(teacher)}
        return Response(SchoolClassSerializer(owned(_classes(), teacher), many=True, context=parts).data)

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


def _together(request: Request, school_class: SchoolClass, code: str = "") -> Response:
    made = None
    if code:
        address = address_for_others(request, f"/colleague/{code}")
        made = {"code": code, "address": address, "picture": rows_of(address)}
    part = colleagues.part_in(school_class, teacher_of(request))
    shown = {**colleagues.together(school_class), "part": part, "made": made}
    return Response(TogetherSerializer(shown).data)


_TOGETHER = {200: TogetherSerializer, 400: ErrorBody, 403: ErrorBody, 404: ErrorBody}


class ColleaguesView(APIView):
    """Who has a part in a class; inviting, and leaving of oneself."""

    @extend_schema(operation_id="class_colleagues", responses=_TOGETHER)
    def get(self, request: Request, pk: int) -> Response:
        return _together(request, owned_or_404(SchoolClass.objects.select_related("owner"), request, pk))

    @extend_schema(operation_id="class_invite", request=PartSerializer, responses=_TOGETHER)
    def post(self, request: Request, pk: int) -> Response:
        school_class = owned_or_404(SchoolClass.objects.select_related("owner"), request, pk)
        part = entry(PartSerializer, request)["part"]
        return _together(request, school_class, colleagues.invite(school_class, teacher_of(request), part))

    @extend_schema(operation_id="class_leave", responses={204: None, 400: ErrorBody, 404: ErrorBody})
    def delete(self, request: Request, pk: int) -> Response:
        colleagues.leave(owned_or_404(SchoolClass.objects.all(), request, pk, OBSERVER), teacher_of(request))
        return Response(status=status.HTTP_204_NO_CONTENT)


class ColleagueView(APIView):
    @extend_schema(operation_id="colleague_part", request=PartSerializer, responses=_TOGETHER)
    def put(self, request: Request, pk: int) -> Response:
        found = owned_or_404(_colleagues(), request, pk)
        colleagues.give_part(found, entry(PartSerializer, request)["part"])
        return _together(request, found.school_class)

    @extend_schema(operation_id="colleague_end", responses=_TOGETHER)
    def delete(self, request: Request, pk: int) -> Response:
        found = owned_or_404(_colleagues(), request, pk)
        colleagues.end(found)
        return _together(request, found.school_class)


def _colleagues() -> QuerySet[Colleague]:
    return Colleague.objects.filter(ended_at=None).select_related("school_class__owner")


class InvitationView(APIView):
    @extend_schema(operation_id="invitation_take_back", responses=_TOGETHER)
    def delete(self, request: Request, pk: int) -> Response:
        found = owned_or_404(ClassInvitation.objects.select_related("school_class__owner"), request, pk)
        colleagues.take_back(found)
        return _together(request, found.school_class)


class InvitedView(APIView):
    """Look at an invitation by its code, or come in by it."""

    @extend_schema(
        operation_id="invitation_use",
        request=InvitationCodeSerializer,
        responses={200: InvitedSerializer, 400: ErrorBody, 429: ErrorBody},
    )
    def post(self, request: Request) -> Response:
        typed = entry(InvitationCodeSerializer, request)
        found = colleagues.invited(request, typed["code"])
        # Looked at before it is used up.
        shown = {name: getattr(found, name) for name in ("school_class", "by", "part")}
        if typed["accept"]:
            colleagues.accept(found, teacher_of(request))
        return Response(InvitedSerializer({**shown, "accepted": typed["accept"]}).data)
