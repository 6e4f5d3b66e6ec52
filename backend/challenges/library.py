"""The recipes that ship with the application: files of the documented format, read like any other recipe file."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any

from django.http import Http404

from challenges.exchange import read_file
from challenges.models import Recipe
from challenges.services import save_recipe
from people.models import Teacher

FOLDER = Path(__file__).parent / "library"


@dataclass(frozen=True)
class Shipped:
    """A shipped recipe: its name in addresses, and the typed entry."""

    slug: str
    entry: dict[str, Any]


@cache
def shipped() -> tuple[Shipped, ...]:
    """All shipped recipes, by family and name."""
    recipes = [Shipped(file.stem, read_file(file.read_text("utf-8"))) for file in sorted(FOLDER.glob("*.json"))]
    return tuple(sorted(recipes, key=lambda recipe: (recipe.entry["family"], recipe.entry["name"])))


def take(teacher: Teacher, slug: str) -> Recipe:
    """Copy a shipped recipe to a teacher's own."""
    for recipe in shipped():
        if recipe.slug == slug:
            return save_recipe(teacher, recipe.entry)
    raise Http404
