"""Recipes handed on in a school and its district: shared with what they came to, taken over with what that lets expect.

What is shared has nobody's name in it: no class, team, date or single result, and no figure of fewer than five designs.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import asdict, dataclass, fields
from typing import Any

from django.db import transaction
from django.db.models import Q, QuerySet

from challenges.elsewhere import kept
from challenges.kits import material_of
from challenges.models import Recipe, rules_of
from challenges.plans import read_entry
from challenges.services import save_recipe
from girder_core.families import family_of
from girder_core.ground import GirderError
from girder_core.measure import System, format_about
from girder_core.results import SharedHistory, amount, history_in_words, shared_history, told_elsewhere
from people.models import Teacher
from results.years import bounds_of_recipe
from schools.models import SharedRecipe

MOST = 500
"""Recipes that a school shares."""


def shared_with(teacher: Teacher) -> QuerySet[SharedRecipe]:
    """What a teacher can take over: what the own school shares, and what others of the district share with it."""
    if teacher.school is None:
        return SharedRecipe.objects.none()
    seen = Q(school=teacher.school)
    if teacher.school.district_id is not None:
        seen |= Q(to_district=True, school__district=teacher.school.district_id)
    return SharedRecipe.objects.filter(seen).select_related("school", "by")


def share(recipe: Recipe, teacher: Teacher, to_district: bool) -> SharedRecipe:
    """Put a recipe into the library of its teacher's school, or bring what is there up to date.

    Errors: ``no_school``, ``no_district``, ``too_many``.
    """
    school = teacher.school
    if school is None:
        raise GirderError("no_school", "You are in no school here, so there is nobody to share with.")
    if to_district and school.district_id is None:
        raise GirderError("no_district", f"{school.name} is in no district here. Share within the school.")
    by_load = recipe.core_family().loaded
    bounds = bounds_of_recipe(recipe)
    history, told = shared_history(bounds), told_elsewhere(bounds) if by_load else None
    materials = [material_of(one) for one in recipe.materials]
    with transaction.atomic():
        type(school).objects.select_for_update().get(pk=school.pk)
        if school.shared_recipes.exclude(recipe=recipe).count() >= MOST:
            raise GirderError("too_many", f"{school.name} shares {MOST} recipes already. Take one back first.")
        shared, _ = SharedRecipe.objects.update_or_create(
            school=school, recipe=recipe,
            defaults={
                "to_district": to_district, "by": teacher, "entry": dict(recipe.typed),
                "history": asdict(history) if history else None,
                "elsewhere": kept(told, recipe.setup, materials) if told else None,
            },
        )  # fmt: skip
    return shared


def may_take_back(shared: SharedRecipe, teacher: Teacher) -> bool:
    """Whether it is for this teacher to take it out of the library."""
    return shared.by_id == teacher.pk or (teacher.administers and shared.school_id == teacher.school_id)


def take_back(shared: SharedRecipe, teacher: Teacher) -> None:
    """It is in the library no more; who took it over keeps their copy. Errors: ``not_yours``."""
    if not may_take_back(shared, teacher):
        raise GirderError("not_yours", "Only who shared it, or who administers the school, takes it back.")
    shared.delete()


def take(shared: SharedRecipe, teacher: Teacher) -> Recipe:
    """Copy a shared recipe to a teacher's own, with what other classes held as what to expect beforehand."""
    with transaction.atomic():
        made = save_recipe(teacher, shared.entry)
        made.elsewhere = shared.elsewhere
        made.save(update_fields=["elsewhere"])
    return made


@dataclass(frozen=True)
class CameTo:
    """What a shared recipe came to, in the reader's units."""

    designs: int
    runs: int
    says: str


def came_to(shared: SharedRecipe, system: System) -> CameTo | None:
    """What a shared recipe came to in words; None where too little is known to be told."""
    if shared.history is None:
        return None
    told = SharedHistory(**{field.name: shared.history[field.name] for field in fields(SharedHistory)})
    return CameTo(told.designs, told.runs, history_in_words(told, _words(shared.entry, system)))


def _words(entry: Mapping[str, Any], system: System) -> Callable[[float], str]:
    family = family_of(entry["family"])
    if family.loaded:
        return lambda kg: format_about(kg, system)
    read = read_entry(entry)
    rules = rules_of({name: entry[name] for name in Recipe.GOAL}, read.terms["setup"], family)
    return lambda value: amount(value, rules, system)
