"""What can be done with recipes and runs."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date, datetime
from typing import Any

from django.db import transaction

from challenges.kits import read_kit
from challenges.models import Recipe, Run, Terms
from girder_core import units
from girder_core.errors import GirderError
from girder_core.families import check_setup, family
from people.models import SchoolClass, Teacher


def save_recipe(teacher: Teacher, entry: Mapping[str, Any], recipe: Recipe | None = None) -> Recipe:
    """Make or change a recipe from typed entries; every bad field is named at once in ``bad_recipe``."""
    fields: dict[str, str] = {}
    setup: dict[str, float | None] = {}
    kit: list[dict[str, Any]] = []
    try:
        setup = read_setup(entry["family"], entry["setup"])
    except GirderError as error:
        fields |= {f"setup.{name}": text for name, text in error.data.get("fields", {}).items()}
    try:
        kit = read_kit(entry["kit"])
    except GirderError as error:
        fields |= error.data.get("fields", {})
    if fields:
        raise GirderError("bad_recipe", "Some entries need another look.", fields=fields)
    recipe = recipe or Recipe(owner=teacher)
    for name in Terms.COPIED:
        setattr(recipe, name, entry[name])
    recipe.name = " ".join(entry["name"].split())
    recipe.setup, recipe.kit = setup, kit
    recipe.typed = {"setup": dict(entry["setup"]), "kit": [dict(item) for item in entry["kit"]]}
    recipe.rules()
    recipe.save()
    return recipe


def read_setup(family_key: str, typed: Mapping[str, str]) -> dict[str, float | None]:
    """Typed set-up texts to SI, held against the family."""
    specs = {spec.key: spec for spec in family(family_key).setup}
    values: dict[str, object] = {name: None if name in specs else text for name, text in {**typed, **specs}.items()}
    problems: dict[str, str] = {}
    for name, text in typed.items():
        if name in specs and text.strip():
            try:
                values[name] = units.parse(text, specs[name].kind).si
            except GirderError as error:
                problems[name] = error.sentence
    setup: dict[str, float | None] = {}
    try:
        setup = check_setup(family_key, values)
    except GirderError as error:
        problems = {**error.data.get("fields", {}), **problems}
    if problems:
        raise GirderError("bad_setup", "Some settings need another look.", fields=problems)
    return setup


def retire_recipe(recipe: Recipe, retired: bool) -> Recipe:
    """Take a recipe off the list for new runs, or put it back; its past runs stay."""
    recipe.retired = retired
    recipe.save(update_fields=["retired"])
    return recipe


def start_run(recipe: Recipe, school_class: SchoolClass, day: date) -> Run:
    """Give a recipe to a class; the terms are copied."""
    with transaction.atomic():
        return Run.objects.create(recipe=recipe, school_class=school_class, date=day, **recipe.terms())


def set_build_clock(run: Run, started_at: datetime | None) -> Run:
    """Start the build clock, or stop it with None."""
    run.build_started_at = started_at
    run.save(update_fields=["build_started_at"])
    return run
