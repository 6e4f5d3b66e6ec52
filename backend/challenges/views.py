"""The challenges API: families, the planner, recipes and their library. Runs are with the bench."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any

from django.http import HttpResponse
from django.utils.text import slugify
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from challenges import exchange, library, services
from challenges.answers import recipe_answer, recipes
from challenges.entries import (
    LibraryTakeSerializer,
    PlanRequestSerializer,
    RecipeFileSerializer,
    RetireSerializer,
    TypedRecipeSerializer,
)
from challenges.kits import known_of
from challenges.models import Recipe
from challenges.plans import sheet
from challenges.serializers import (
    CoinSerializer,
    FamilySerializer,
    GoalWordsSerializer,
    LibraryEntrySerializer,
    PlanSheetSerializer,
    RecipeSerializer,
)
from challenges.shown import ShownSheet, shown_sheet
from evengirder.entry import entry
from evengirder.errors import ErrorBody
from evengirder.origins import FIGURE, OriginSerializer, the_figure
from girder_core.families import FAMILIES
from girder_core.kit import COINS
from girder_core.measure import System
from girder_core.planning import plan_origins
from girder_core.results import BREACH_WORDS, SCHOOL_WORDS, TIE_WORDS, TRIAL_RULE_WORDS, Words
from girder_core.safety import DECLARED, HAZARDS
from people.policy import owned, owned_or_404, teacher_of


class FamilyListView(APIView):
    @extend_schema(operation_id="family_list", responses=FamilySerializer(many=True))
    def get(self, request: Request) -> Response:
        return Response(FamilySerializer(list(FAMILIES.values()), many=True).data)


class GoalWordsView(APIView):
    @extend_schema(operation_id="goal_words", responses=GoalWordsSerializer)
    def get(self, request: Request) -> Response:
        def told(words: Mapping[Any, Words]) -> list[dict[str, str]]:
            return [{"key": key.value, "label": word.label, "why": word.why} for key, word in words.items()]

        told_all = {
            "schools": told(SCHOOL_WORDS), "trial_rules": told(TRIAL_RULE_WORDS), "tie_rules": told(TIE_WORDS),
            "breach_policies": told(BREACH_WORDS), "declared": [HAZARDS[key] for key in DECLARED],
        }  # fmt: skip
        return Response(GoalWordsSerializer(told_all).data)


class CoinListView(APIView):
    @extend_schema(operation_id="coin_list", responses=CoinSerializer(many=True))
    def get(self, request: Request) -> Response:
        return Response(CoinSerializer(list(COINS.values()), many=True).data)


def _sheet(request: Request) -> ShownSheet:
    asked = entry(PlanRequestSerializer, request)
    recipe, system = asked.pop("recipe"), System(teacher_of(request).units)
    known = owned(Recipe.objects.filter(pk=recipe), teacher_of(request)).first() if recipe else None
    return shown_sheet(sheet(asked, asked.pop("own"), system, known.elsewhere if known else None), system)


class PlanView(APIView):
    """Fill a planner sheet. Nothing is kept."""

    @extend_schema(
        operation_id="plan_fill",
        request=PlanRequestSerializer,
        responses={200: PlanSheetSerializer, 400: ErrorBody},
    )
    def post(self, request: Request) -> Response:
        return Response(PlanSheetSerializer(_sheet(request)).data)


class PlanWhyView(APIView):
    """How a figure of a planner sheet came about. Nothing is kept."""

    @extend_schema(
        operation_id="plan_why",
        parameters=[FIGURE],
        request=PlanRequestSerializer,
        responses={200: OriginSerializer, 400: ErrorBody},
    )
    def post(self, request: Request) -> Response:
        shown = _sheet(request)
        origins = plan_origins(shown.plan, shown.follows, known_of(shown.kit), shown.system)
        return Response(OriginSerializer(the_figure(origins, request)).data)


class RecipeListView(APIView):
    @extend_schema(operation_id="recipe_list", responses=RecipeSerializer(many=True))
    def get(self, request: Request) -> Response:
        return Response(RecipeSerializer(owned(recipes(), teacher_of(request)), many=True).data)

    @extend_schema(
        operation_id="recipe_add", request=TypedRecipeSerializer, responses={201: RecipeSerializer, 400: ErrorBody}
    )
    def post(self, request: Request) -> Response:
        typed = entry(TypedRecipeSerializer, request)
        return recipe_answer(services.save_recipe(teacher_of(request), typed), status.HTTP_201_CREATED)


class RecipeView(APIView):
    @extend_schema(operation_id="recipe_show", responses={200: RecipeSerializer, 404: ErrorBody})
    def get(self, request: Request, pk: int) -> Response:
        return recipe_answer(owned_or_404(Recipe.objects.all(), request, pk))

    @extend_schema(
        operation_id="recipe_change",
        request=TypedRecipeSerializer,
        responses={200: RecipeSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def put(self, request: Request, pk: int) -> Response:
        recipe = owned_or_404(Recipe.objects.all(), request, pk)
        typed = entry(TypedRecipeSerializer, request)
        return recipe_answer(services.save_recipe(teacher_of(request), typed, recipe))

    @extend_schema(
        operation_id="recipe_retire",
        request=RetireSerializer,
        responses={200: RecipeSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def patch(self, request: Request, pk: int) -> Response:
        recipe = owned_or_404(Recipe.objects.all(), request, pk)
        typed = entry(RetireSerializer, request)
        return recipe_answer(services.retire_recipe(recipe, typed["retired"]))


class RecipeCopyView(APIView):
    @extend_schema(operation_id="recipe_copy", request=None, responses={201: RecipeSerializer, 404: ErrorBody})
    def post(self, request: Request, pk: int) -> Response:
        recipe = owned_or_404(Recipe.objects.all(), request, pk)
        return recipe_answer(services.copy_recipe(recipe, teacher_of(request)), status.HTTP_201_CREATED)


class RecipeFileView(APIView):
    @extend_schema(
        operation_id="recipe_export", responses={(200, "application/json"): OpenApiTypes.STR, 404: ErrorBody}
    )
    def get(self, request: Request, pk: int) -> HttpResponse:
        recipe = owned_or_404(Recipe.objects.all(), request, pk)
        text = json.dumps(exchange.exported(recipe), indent=2, ensure_ascii=False)
        response = HttpResponse(text + "\n", content_type="application/json; charset=utf-8")
        name = slugify(recipe.name) or "recipe"
        response["Content-Disposition"] = f'attachment; filename="{name}.girder.json"'
        return response


class RecipeImportView(APIView):
    @extend_schema(
        operation_id="recipe_import", request=RecipeFileSerializer, responses={201: RecipeSerializer, 400: ErrorBody}
    )
    def post(self, request: Request) -> Response:
        typed = entry(RecipeFileSerializer, request)
        return recipe_answer(exchange.imported(teacher_of(request), typed["text"]), status.HTTP_201_CREATED)


class LibraryView(APIView):
    @extend_schema(operation_id="library_list", responses=LibraryEntrySerializer(many=True))
    def get(self, request: Request) -> Response:
        entries = [{"slug": recipe.slug, **recipe.entry} for recipe in library.shipped()]
        return Response(LibraryEntrySerializer(entries, many=True).data)

    @extend_schema(
        operation_id="library_take",
        request=LibraryTakeSerializer,
        responses={201: RecipeSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def post(self, request: Request) -> Response:
        typed = entry(LibraryTakeSerializer, request)
        return recipe_answer(library.take(teacher_of(request), typed["slug"]), status.HTTP_201_CREATED)
