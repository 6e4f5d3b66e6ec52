"""The API of deleting and bringing back."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from challenges.models import Recipe, Run
from designs.models import Design
from evengirder.entry import entry
from evengirder.errors import ErrorBody
from people.models import OWNER, SchoolClass, Team
from people.policy import owned_or_404, teacher_of
from runs import removal_services as services
from runs.serializers import RemovalSerializer, RemovedSerializer

_ANSWERS: dict[int, Any] = {200: RemovedSerializer, 400: ErrorBody, 404: ErrorBody, 409: ErrorBody}


def _changed(request: Request, thing: services.Thing) -> Response:
    """Delete it, or bring it back."""
    act = services.remove if entry(RemovalSerializer, request)["removed"] else services.bring_back
    return Response(RemovedSerializer(act(thing)).data)


class RemovedListView(APIView):
    @extend_schema(operation_id="removed_list", responses=RemovedSerializer(many=True))
    def get(self, request: Request) -> Response:
        return Response(RemovedSerializer(list(services.removed_of(teacher_of(request))), many=True).data)


class ClassRemovalView(APIView):
    @extend_schema(operation_id="class_remove", request=RemovalSerializer, responses=_ANSWERS)
    def put(self, request: Request, pk: int) -> Response:
        return _changed(request, owned_or_404(SchoolClass.with_removed.all(), request, pk, OWNER))


class TeamRemovalView(APIView):
    @extend_schema(operation_id="team_remove", request=RemovalSerializer, responses=_ANSWERS)
    def put(self, request: Request, pk: int) -> Response:
        teams = Team.with_removed.select_related("school_class")
        return _changed(request, owned_or_404(teams, request, pk))


class RecipeRemovalView(APIView):
    @extend_schema(operation_id="recipe_remove", request=RemovalSerializer, responses=_ANSWERS)
    def put(self, request: Request, pk: int) -> Response:
        return _changed(request, owned_or_404(Recipe.with_removed.all(), request, pk))


class RunRemovalView(APIView):
    @extend_schema(operation_id="run_remove", request=RemovalSerializer, responses=_ANSWERS)
    def put(self, request: Request, pk: int) -> Response:
        return _changed(request, owned_or_404(Run.with_removed.select_related("school_class"), request, pk))


class DesignRemovalView(APIView):
    @extend_schema(operation_id="design_remove", request=RemovalSerializer, responses=_ANSWERS)
    def put(self, request: Request, pk: int) -> Response:
        designs = Design.with_removed.select_related("run__school_class", "team")
        return _changed(request, owned_or_404(designs, request, pk))
