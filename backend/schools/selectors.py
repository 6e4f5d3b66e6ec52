"""A school as its page shows it. Who administers it sees how much there is of everything, and nothing of it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from django.db.models import Count, IntegerField, OuterRef, QuerySet, Subquery
from django.db.models.functions import Coalesce
from django.utils import timezone

from bench.models import Trial
from challenges.models import Recipe, Run
from people.models import Code, School, SchoolClass, Teacher
from schools.models import SharedRecipe


@dataclass(frozen=True)
class Shown:
    """A school's page: for all of it who administers it, for its administrator also who is in it, and how much.

    Attributes:
        school: the school.
        administers: whether who asks administers it.
        teachers: those who are in it, with their counts; none unless who asks administers it.
        invitations: that nobody used yet; likewise.
        counts: classes, runs, tests and shared recipes of the whole school; likewise.
    """

    school: School
    administers: bool
    teachers: list[Any]
    invitations: list[Code]
    counts: dict[str, int] | None

    @property
    def administrators(self) -> list[str]:
        """Whom to ask."""
        return [one.name for one in self.school.administrators()]


def shown(teacher: Teacher) -> Shown | None:
    """The page of a teacher's school, in a constant number of queries; None where the teacher is in none."""
    school = teacher.school
    if school is None:
        return None
    if not teacher.administers:
        return Shown(school, False, [], [], None)
    teachers = list(counted(school))
    counts = {
        "teachers": sum(one.is_active for one in teachers),
        "classes": sum(one.class_count for one in teachers),
        "runs": sum(one.run_count for one in teachers),
        "tests": sum(one.test_count for one in teachers),
        "shared": SharedRecipe.objects.filter(school=school).count(),
    }
    waiting = Code.objects.filter(school=school, teacher=None, until__gt=timezone.now()).select_related("by")
    return Shown(school, True, teachers, list(waiting), counts)


def counted(school: School) -> QuerySet[Any]:
    """Everybody in a school, each with how many classes, runs, tests and recipes there are of theirs."""
    return school.teachers.order_by("-is_active", "name", "id").annotate(
        class_count=_many(SchoolClass.objects.filter(owner=OuterRef("pk")), "owner"),
        run_count=_many(Run.objects.filter(school_class__owner=OuterRef("pk")), "school_class__owner"),
        test_count=_many(
            Trial.objects.filter(design__run__school_class__owner=OuterRef("pk")), "design__run__school_class__owner"
        ),
        recipe_count=_many(Recipe.objects.filter(owner=OuterRef("pk")), "owner"),
    )


def _many(rows: QuerySet[Any], owner: str) -> Coalesce:
    """How many rows there are of one teacher, counted by itself: several counts in one join would multiply."""
    each = rows.order_by().values(owner).annotate(many=Count("pk")).values("many")
    return Coalesce(Subquery(each, output_field=IntegerField()), 0)
