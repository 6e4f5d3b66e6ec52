"""The challenges API: families and recipes. Runs are with the bench, which knows how far they are."""

from __future__ import annotations

from django.db.models import Count, QuerySet
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from challenges import services
from challenges.models import Recipe
from challenges.serializers import FamilySerializer, RecipeSerializer, RetireSerializer, TypedRecipeSerializer
from evengirder.entry import entry
from evengirder.errors import ErrorBody
from girder_core.families import FAMILIES
from people.policy import owned, owned_or_404, teacher_of


def _recipes() -> QuerySet[Recipe]:
    return Recipe.objects.annotate(run_count=Count("runs"))


def _shown(recipe: Recipe, code: int = status.HTTP_200_OK) -> Response:
    return Response(RecipeSerializer(_recipes().get(pk=recipe.pk)).data, status=code)


class FamilyListView(APIView):
    @extend_schema(operation_id="family_list", responses=FamilySerializer(many=True))
    def get(self, request: Request) -> Response:
        return Response(FamilySerializer(list(FAMILIES.values()), many=True).data)


class RecipeListView(APIView):
    @extend_schema(operation_id="recipe_list", responses=RecipeSerializer(many=True))
    def get(self, request: Request) -> Response:
        return Response(RecipeSerializer(owned(_recipes(), teacher_of(request)), many=True).data)

    @extend_schema(
        operation_id="recipe_add", request=TypedRecipeSerializer, responses={201: RecipeSerializer, 400: ErrorBody}
    )
    def post(self, request: Request) -> Response:
        typed = entry(TypedRecipeSerializer, request)
        return _shown(services.save_recipe(teacher_of(request), typed), status.HTTP_201_CREATED)


class RecipeView(APIView):
    @extend_schema(operation_id="recipe_show", responses={200: RecipeSerializer, 404: ErrorBody})
    def get(self, request: Request, pk: int) -> Response:
        return _shown(owned_or_404(Recipe.objects.all(), request, pk))

    @extend_schema(
        operation_id="recipe_change",
        request=TypedRecipeSerializer,
        responses={200: RecipeSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def put(self, request: Request, pk: int) -> Response:
        recipe = owned_or_404(Recipe.objects.all(), request, pk)
        typed = entry(TypedRecipeSerializer, request)
        return _shown(services.save_recipe(teacher_of(request), typed, recipe))

    @extend_schema(
        operation_id="recipe_retire",
        request=RetireSerializer,
        responses={200: RecipeSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def patch(self, request: Request, pk: int) -> Response:
        recipe = owned_or_404(Recipe.objects.all(), request, pk)
        typed = entry(RetireSerializer, request)
        return _shown(services.retire_recipe(recipe, typed["retired"]))
