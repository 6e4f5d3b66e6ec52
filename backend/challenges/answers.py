"""How the API answers with a recipe."""

from __future__ import annotations

from django.db.models import Count, Q, QuerySet
from rest_framework import status
from rest_framework.response import Response

from challenges.models import Recipe
from challenges.serializers import RecipeSerializer


def recipes() -> QuerySet[Recipe]:
    """Recipes with what their answers need."""
    return Recipe.objects.annotate(run_count=Count("runs", filter=Q(runs__removed_at__isnull=True)))


def recipe_answer(recipe: Recipe, code: int = status.HTTP_200_OK) -> Response:
    """A recipe as it stands now."""
    return Response(RecipeSerializer(recipes().get(pk=recipe.pk)).data, status=code)
