"""A school as one file: its accounts, its library, and the recipes, classes and runs of its teachers, in open formats.

Who administers a school takes along the work of those teachers who share it, and is told of whom it is not in there;
who runs the server, and has the database anyway, takes all.
"""

from __future__ import annotations

import json
import math
import zipfile
from collections.abc import Sequence
from typing import IO, Any

from django.utils.text import slugify

from challenges import exchange
from challenges.models import Recipe, Run
from evengirder.lane import Told, quietly
from girder_core.ground import GirderError
from people.models import School, SchoolClass, Teacher
from records.run_file import exported
from schools.models import SharedRecipe
from schools.selectors import counted

FORMAT, VERSION = "even-girder-school", 1
MOST_BYTES = 100_000_000
"""So much a page hands out, which holds all of it in memory; more is for who runs the server."""


def write(school: School, to: IO[bytes], whole: bool = False, told: Told = quietly, most: float = math.inf) -> None:
    """Write a school to a ZIP file.

    Args:
        school: which.
        to: where its bytes go.
        whole: the work of all teachers, instead of those who share it.
        told: how far it is.
        most: how large it may become [bytes].
    Errors:
        ``file_too_large``.
    """
    teachers = list(counted(school))
    shares = {one.pk for one in teachers if whole or one.shares_work}
    with zipfile.ZipFile(to, "w", zipfile.ZIP_DEFLATED) as archive:
        _put(archive, "school.json", _told_of(school, teachers, shares))
        for number, shared in enumerate(SharedRecipe.objects.filter(school=school), start=1):
            file = {"format": exchange.FORMAT, "version": exchange.VERSION, "recipe": shared.entry}
            name = f"library/{number:03d}-{slugify(shared.entry['name'])[:40]}"
            _put(archive, f"{name}.girder.json", file)
            _put(archive, f"{name}.came-to.json", {"history": shared.history, "elsewhere": shared.elsewhere})
        runs = list(Run.objects.filter(school_class__owner__in=shares).order_by("school_class__owner", "date", "pk")
                    .select_related("school_class__owner"))  # fmt: skip
        for teacher in teachers:
            if teacher.pk in shares:
                _own(archive, teacher)
        for done, run in enumerate(runs):
            told(done, len(runs), f"{run.name}, {run.school_class.name}")
            owner = _folder(run.school_class.owner)
            name = f"{run.date:%Y-%m-%d}-{slugify(str(run))[:60]}-{run.pk}"
            _put(archive, f"{owner}/runs/{name}.json", exported(run))
            if to.tell() > most:
                size = f"{most / 1e6:.0f} MB"
                sentence = f"With photographs it is larger than {size}. Ask who runs this server for the school’s file."
                raise GirderError("file_too_large", sentence)
        told(len(runs), len(runs), "the last of it")


def _told_of(school: School, teachers: Sequence[Any], shares: set[int]) -> dict[str, Any]:
    return {
        "format": FORMAT, "version": VERSION, "school": school.name, "key": school.key,
        "district": school.district.name if school.district else None, "made_at": school.made_at.isoformat(),
        "teachers": [
            {
                "name": one.name, "email": one.email, "joined_at": one.joined_at.isoformat(),
                "administers": one.administers, "removed": not one.is_active, "classes": one.class_count,
                "recipes": one.recipe_count, "runs": one.run_count, "tests": one.test_count,
                "work": _folder(one) if one.pk in shares else None,
            }
            for one in teachers
        ],
    }  # fmt: skip


def _own(archive: zipfile.ZipFile, teacher: Teacher) -> None:
    """A teacher's classes and recipes."""
    classes = SchoolClass.objects.filter(owner=teacher).prefetch_related("teams")
    _put(archive, f"{_folder(teacher)}/classes.json", [
        {"name": one.name, "teams": [{"name": team.name, "members": team.members} for team in one.teams.all()]}
        for one in classes
    ])  # fmt: skip
    for recipe in Recipe.objects.filter(owner=teacher).order_by("pk"):
        name = f"{slugify(recipe.name)[:50]}-{recipe.pk}.girder.json"
        _put(archive, f"{_folder(teacher)}/recipes/{name}", exchange.exported(recipe))


def _folder(teacher: Teacher) -> str:
    return f"teachers/{slugify(teacher.name)[:40] or 'teacher'}-{teacher.pk}"


def _put(archive: zipfile.ZipFile, name: str, what: Any) -> None:
    archive.writestr(name, json.dumps(what, indent=1, ensure_ascii=False))
