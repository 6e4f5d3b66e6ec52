"""A lesson to try first: a made-up class with a bridge each, ready but for what the steps of the lesson ask for."""

from __future__ import annotations

from datetime import date

from django.db import transaction

from challenges.library import take
from challenges.models import Run
from challenges.services import mark_tryout
from designs.services import answer, open_run, take_reading
from girder_core.families import SELF_MASS
from girder_core.measure import TypedReading
from people.models import SchoolClass, Teacher
from people.services import add_class, add_team

RECIPE = "slip-gangway"
CLASS, TEAMS = "Trying it out", ("Sandpiper", "Turnstone")
READINGS = {"gap": "360 mm", "overlap_left": "30 mm", "overlap_right": "28 mm", "tape": "24 cm"}
"""What is measured of both bridges already [typed]; their own weight is left for the lesson."""


@transaction.atomic
def begin_first_lesson(teacher: Teacher, today: date) -> Run:
    """Lay out a try-out run on the shipped bridge recipe, with a class of its own; it stays out of what is learned."""
    run = mark_tryout(open_run(take(teacher, RECIPE), _class(teacher), today), True)
    for design in run.designs.select_related("run__school_class__owner", "team"):
        family = run.core_family()
        for spec in family.readings:
            if spec.key in READINGS and spec.key != SELF_MASS:
                take_reading(design, spec.key, TypedReading(READINGS[spec.key], "1 mm"), True)
        answer(design, {question.key: question.good for question in family.questions})
    return run


def _class(teacher: Teacher) -> SchoolClass:
    """A class of that name that is not there yet."""
    taken = set(SchoolClass.objects.filter(owner=teacher).values_list("name", flat=True))
    name = next(name for n in range(1, len(taken) + 2) if (name := CLASS if n == 1 else f"{CLASS} {n}") not in taken)
    school_class = add_class(teacher, name)
    for team in TEAMS:
        add_team(school_class, team)
    return school_class
