"""What can be done with recipes and runs."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date, datetime
from typing import Any

from django.db import transaction

from challenges.models import Recipe, Run, Terms
from challenges.plans import plan_of, read_entry
from girder_core.ground import GirderError
from girder_core.planning import consequences
from girder_core.safety import AgeBand
from people.models import SchoolClass, Teacher


def save_recipe(teacher: Teacher, entry: Mapping[str, Any], recipe: Recipe | None = None) -> Recipe:
    """Make or change a recipe from typed entries; every bad field is named at once in ``bad_recipe``."""
    read = read_entry(entry)
    if read.problems:
        raise GirderError("bad_recipe", "Some entries need another look.", fields=dict(read.problems))
    recipe = recipe or Recipe(owner=teacher)
    for name in Terms.COPIED:
        setattr(recipe, name, read.terms[name])
    recipe.teams, recipe.difficulty = entry["teams"], entry["difficulty"]
    recipe.typed = dict(entry)
    recipe.save()
    return recipe


def copy_recipe(recipe: Recipe, teacher: Teacher) -> Recipe:
    """A recipe of the same terms under a name that tells it from the first."""
    taken = set(Recipe.objects.filter(owner=teacher).values_list("name", flat=True))
    base = recipe.name.removesuffix(" (copy)")[:100]
    name, number = f"{base} (copy)", 1
    while name in taken:
        number += 1
        name = f"{base} (copy {number})"
    made = Recipe(
        owner=teacher, teams=recipe.teams, difficulty=recipe.difficulty, typed={**recipe.typed, "name": name},
        **{**recipe.terms(), "name": name},
    )  # fmt: skip
    made.save()
    return made


def retire_recipe(recipe: Recipe, retired: bool) -> Recipe:
    """Take a recipe off the list for new runs, or put it back; its past runs stay."""
    recipe.retired = retired
    recipe.save(update_fields=["retired"])
    return recipe


def start_run(recipe: Recipe, school_class: SchoolClass, day: date) -> Run:
    """Give a recipe to a class; the terms are copied, and what the lesson leaves for one trial is worked out."""
    timeline = consequences(plan_of(recipe, school_class.teams.count())).timeline
    run = Run(recipe=recipe, school_class=school_class, date=day, **recipe.terms())
    run.young = AgeBand(recipe.age_band) is AgeBand.AGES_5_7
    if timeline is not None and timeline.resolution is not None:
        run.trial_seconds = timeline.test_seconds - recipe.core_family().pace.swap_s
        run.resolution = timeline.resolution
    with transaction.atomic():
        run.save()
    return run


def set_build_clock(run: Run, action: str, minutes: float, now: datetime) -> Run:
    """Start, pause, go on, extend by minutes, or reset the build clock.

    Errors: ``clock_not_started`` for a pause before the start; ``bad_minutes`` outside 1 to 60.
    """
    started, paused = run.build_started_at, run.build_paused_at
    if action == "start" and started is None:
        run.build_started_at = now
    elif action == "reset":
        run.build_started_at = run.build_paused_at = None
        run.build_paused_seconds = run.build_extra_seconds = 0.0
    elif action == "extend":
        if not 1 <= minutes <= 60:
            raise GirderError("bad_minutes", "Add between 1 and 60 minutes.")
        run.build_extra_seconds += 60 * minutes
    elif action in ("pause", "resume"):
        if started is None:
            raise GirderError("clock_not_started", "The clock has not been started yet.")
        if action == "pause" and paused is None:
            run.build_paused_at = now
        elif action == "resume" and paused is not None:
            run.build_paused_seconds += (now - paused).total_seconds()
            run.build_paused_at = None
    run.save(update_fields=["build_started_at", "build_paused_at", "build_paused_seconds", "build_extra_seconds"])
    return run
