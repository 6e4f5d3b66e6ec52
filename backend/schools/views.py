"""The schools API: the school's page, its teachers and invitations, its file, and its library of recipes."""

from __future__ import annotations

import io
from typing import Any

from django.http import HttpResponse, HttpResponseBase
from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from challenges.answers import recipe_answer
from challenges.models import Recipe
from challenges.serializers import RecipeSerializer
from doorstep.codes import rows_of
from evengirder.entry import entry
from evengirder.errors import ErrorBody
from evengirder.lane import FOLLOW, Told, followed
from evengirder.reached import address_for_others
from people import schools
from people.models import Code, Teacher
from people.policy import of_own_school, owned_or_404, teacher_of
from people.serializers import PasswordSerializer
from schools import export, services, sharing
from schools.selectors import shown
from schools.serializers import (
    AdministersSerializer,
    InAgainSerializer,
    JoinSchoolSerializer,
    SchoolPageSerializer,
    SharedRecipeSerializer,
    ShareSerializer,
    SharesWorkSerializer,
)

ZIP = "application/zip"
_PAGE: dict[int, Any] = {200: SchoolPageSerializer, 400: ErrorBody, 403: ErrorBody, 404: ErrorBody}


def _page(request: Request, invitation: str = "", code: str = "", went: list[str] | None = None) -> Response:
    teacher = Teacher.objects.select_related("school__district").get(pk=teacher_of(request).pk)
    made = None
    if invitation:
        address = address_for_others(request, f"/?code={invitation}")
        made = {"code": invitation, "address": address, "picture": rows_of(address)}
    told = {
        "school": shown(teacher), "shares_work": teacher.shares_work, "made": made, "code": code, "went": went or [],
    }  # fmt: skip
    return Response(SchoolPageSerializer(told, context={"me": teacher.pk}).data)


class SchoolView(APIView):
    """The school of who asks: its page, coming into one by a code, and whether its file may hold one's work."""

    @extend_schema(operation_id="school_show", responses=_PAGE)
    def get(self, request: Request) -> Response:
        return _page(request)

    @extend_schema(operation_id="school_join", request=JoinSchoolSerializer, responses={**_PAGE, 429: ErrorBody})
    def post(self, request: Request) -> Response:
        schools.join_school(request, teacher_of(request), entry(JoinSchoolSerializer, request)["code"])
        return _page(request)

    @extend_schema(operation_id="school_share_work", request=SharesWorkSerializer, responses=_PAGE)
    def patch(self, request: Request) -> Response:
        schools.share_work(teacher_of(request), entry(SharesWorkSerializer, request)["shares_work"])
        return _page(request)


class SchoolInvitationsView(APIView):
    @extend_schema(operation_id="school_invite", request=AdministersSerializer, responses=_PAGE)
    def post(self, request: Request) -> Response:
        teacher = teacher_of(request)
        administers = entry(AdministersSerializer, request)["administers"]
        return _page(request, schools.invite(schools.administered_by(teacher), teacher, administers))


class SchoolInvitationView(APIView):
    @extend_schema(operation_id="school_invitation_take_back", responses=_PAGE)
    def delete(self, request: Request, pk: int) -> Response:
        schools.take_back(of_own_school(Code.objects.filter(teacher=None), request, pk))
        return _page(request)


class SchoolTeacherView(APIView):
    """Somebody in the school: let administer it, removed, or let in again."""

    @extend_schema(operation_id="school_appoint", request=AdministersSerializer, responses=_PAGE)
    def patch(self, request: Request, pk: int) -> Response:
        found = of_own_school(Teacher.objects.filter(is_active=True), request, pk)
        schools.appoint(found, entry(AdministersSerializer, request)["administers"])
        return _page(request)

    @extend_schema(operation_id="school_let_in", request=InAgainSerializer, responses=_PAGE)
    def put(self, request: Request, pk: int) -> Response:
        found = of_own_school(Teacher.objects.all(), request, pk)
        if entry(InAgainSerializer, request)["let_in"]:
            schools.let_in_again(found)
            return _page(request)
        return _page(request, went=services.remove_teacher(found))


class ResetCodeView(APIView):
    @extend_schema(operation_id="school_reset_code", request=None, responses=_PAGE)
    def post(self, request: Request, pk: int) -> Response:
        found = of_own_school(Teacher.objects.all(), request, pk)
        return _page(request, code=schools.new_password_for(found, teacher_of(request)))


class SchoolFileView(APIView):
    """The school as a ZIP file: accounts, library, and the work of those who share it."""

    @extend_schema(
        operation_id="school_file", parameters=[FOLLOW], responses={(200, ZIP): OpenApiTypes.BINARY, 403: ErrorBody}
    )
    def get(self, request: Request) -> HttpResponseBase:
        school = schools.administered_by(teacher_of(request))

        def work(told: Told) -> HttpResponse:
            out = io.BytesIO()
            export.write(school, out, told=told, most=export.MOST_BYTES)
            response = HttpResponse(out.getvalue(), content_type=ZIP)
            name = f"{school.key}-{timezone.now():%Y-%m-%d}.zip"
            response["Content-Disposition"] = f'attachment; filename="{name}"'
            return response

        return followed(request, work)


class SchoolRemovalView(APIView):
    """Delete the school, and take that back."""

    @extend_schema(operation_id="school_leave_all", request=PasswordSerializer, responses={**_PAGE, 429: ErrorBody})
    def post(self, request: Request) -> Response:
        schools.leave_all(request, teacher_of(request), entry(PasswordSerializer, request)["password"])
        return _page(request)

    @extend_schema(operation_id="school_stay", responses=_PAGE)
    def delete(self, request: Request) -> Response:
        schools.stay_after_all(schools.administered_by(teacher_of(request)))
        return _page(request)


def _shared(request: Request, shared: Any, many: bool = False, code: int = status.HTTP_200_OK) -> Response:
    context = {"reader": teacher_of(request)}
    return Response(SharedRecipeSerializer(shared, many=many, context=context).data, status=code)


class SharedRecipesView(APIView):
    """The library of the school and its district; sharing a recipe of one's own."""

    @extend_schema(operation_id="shared_recipe_list", responses=SharedRecipeSerializer(many=True))
    def get(self, request: Request) -> Response:
        return _shared(request, sharing.shared_with(teacher_of(request)), many=True)

    @extend_schema(
        operation_id="shared_recipe_add",
        request=ShareSerializer,
        responses={201: SharedRecipeSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def post(self, request: Request) -> Response:
        typed, teacher = entry(ShareSerializer, request), teacher_of(request)
        recipe = owned_or_404(Recipe.objects.all(), request, typed["recipe"])
        return _shared(request, sharing.share(recipe, teacher, typed["to_district"]), code=status.HTTP_201_CREATED)


class SharedRecipeView(APIView):
    @extend_schema(
        operation_id="shared_recipe_take",
        request=None,
        responses={201: RecipeSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def post(self, request: Request, pk: int) -> Response:
        teacher = teacher_of(request)
        made = sharing.take(get_object_or_404(sharing.shared_with(teacher), pk=pk), teacher)
        return recipe_answer(made, status.HTTP_201_CREATED)

    @extend_schema(operation_id="shared_recipe_take_back", responses={204: None, 403: ErrorBody, 404: ErrorBody})
    def delete(self, request: Request, pk: int) -> Response:
        teacher = teacher_of(request)
        sharing.take_back(get_object_or_404(sharing.shared_with(teacher), pk=pk), teacher)
        return Response(status=status.HTTP_204_NO_CONTENT)
