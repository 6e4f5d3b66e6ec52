"""What can be done with recipes and runs."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date, timedelta
from typing import Any

from django.db import transaction
from django.utils import timezone

from challenges.models import Recipe, Run, Terms
from challenges.plans import plan_of, read_entry
from girder_core.ground import GirderError
from girder_core.planning import ClockAct, consequences, turned
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
        elsewhere=recipe.elsewhere,
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
    known = recipe.elsewhere if recipe.prior() else None
    run = Run(recipe=recipe, school_class=school_class, date=day, elsewhere=known, **recipe.terms())
    run.young = AgeBand(recipe.age_band) is AgeBand.AGES_5_7
    if timeline is not None and timeline.resolution is not None:
        run.trial_seconds = timeline.test_seconds - recipe.core_family().pace.swap_s
        run.resolution = timeline.resolution
    with transaction.atomic():
        run.save()
    return run


def mark_tryout(run: Run, tryout: bool) -> Run:
    """Say that a run only tries things out, or that it counts after all over the years."""
    run.tryout = tryout
    run.save(update_fields=["tryout"])
    return run


def set_build_clock(run: Run, act: str, minutes: float) -> Run:
    """Start, pause, go on, extend by minutes, or reset the build clock now; errors as ``planning.turned``."""
    with transaction.atomic():
        run = Run.objects.select_for_update(of=("self",)).select_related("school_class").get(pk=run.pk)
        now = timezone.now()
        before = run.build_clock(now)
        after = turned(before, ClockAct(act), minutes)
        if after.elapsed_s != before.elapsed_s:
            run.build_started_at = None if after.elapsed_s is None else now - timedelta(seconds=after.elapsed_s)
        if after.pausing_s != before.pausing_s:
            run.build_paused_at = None if after.pausing_s is None else now - timedelta(seconds=after.pausing_s)
        run.build_paused_seconds, run.build_extra_seconds = after.paused_s, after.extra_s
        run.save(update_fields=["build_started_at", "build_paused_at", "build_paused_seconds", "build_extra_seconds"])
    return run
