"""Deleting, and bringing back what was deleted: one verb per change, each in one transaction.

What is deleted is hidden with all that hangs on it, and everything that went at once has the same moment; so it comes
back as it was. After ``people.models.KEPT_DAYS`` it is gone for good.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from django.db import IntegrityError, transaction
from django.db.models import Q, QuerySet
from django.utils import timezone

from challenges.models import Recipe, Run
from designs.models import Design, Photo
from girder_core.ground import GirderError
from people.models import KEPT_DAYS, School, SchoolClass, Teacher, Team, gone_on
from people.policy import OWNER_PATHS

Thing = SchoolClass | Team | Recipe | Run | Design
KINDS: dict[str, type[Thing]] = {
    "class": SchoolClass,
    "team": Team,
    "recipe": Recipe,
    "run": Run,
    "design": Design,
}
"""What can be deleted, by the word for it."""


@dataclass(frozen=True)
class Removed:
    """Something that was deleted: what it is, its number and name, where it was, when it went, and till when it can be
    brought back."""

    what: str
    id: int
    name: str
    of: str
    removed_at: datetime

    @property
    def until(self) -> datetime:
        """After this it is gone."""
        return gone_on(self.removed_at)


def remove(thing: Thing) -> Removed:
    """Delete something with all that hangs on it; deleting it again is harmless.

    Errors: ``last_team`` of a class, ``later_version`` of a design that another one came from.
    """
    with transaction.atomic():
        if isinstance(thing, Team):
            SchoolClass.with_removed.select_for_update().get(pk=thing.school_class_id)
            if not Team.objects.filter(school_class=thing.school_class_id).exclude(pk=thing.pk).exists():
                raise GirderError(
                    "last_team",
                    f"{thing.name} is the last team of its class. Add another one first, or delete the class.",
                )
        if isinstance(thing, Design) and thing.children.exists():
            raise GirderError("later_version", "A later version came from this one. Delete that one first.")
        if thing.removed_at is None:
            moment = timezone.now()
            for rows in _with_it(thing):
                rows.filter(removed_at__isnull=True).update(removed_at=moment)
            thing.removed_at = moment
    return _told(thing)


def bring_back(thing: Thing) -> Removed:
    """Take a deletion back; what is there already stays.

    Errors: ``name_taken`` when something else has its name, or its place, by now; ``gone_with`` when what it belongs to
    is deleted too.
    """
    moment = thing.removed_at
    if moment is None:
        return _told(thing)
    above = _above(thing)
    if above is not None:
        raise GirderError("gone_with", f"{above} was deleted too. Bring that back first.")
    try:
        with transaction.atomic():
            for rows in _with_it(thing):
                rows.filter(removed_at=moment).update(removed_at=None)
    except IntegrityError:
        raise GirderError(
            "name_taken", f"There is another {_told(thing).what} of that name now. Rename or delete that one first."
        ) from None
    return _told(thing)


def _with_it(thing: Thing) -> list[QuerySet[Thing]]:
    """The thing and all that goes with it."""
    itself = type(thing).with_removed.filter(pk=thing.pk)
    designs = Design.with_removed.all()
    match thing:
        case SchoolClass():
            runs = Run.with_removed.filter(school_class=thing)
            teams = Team.with_removed.filter(school_class=thing)
            return [itself, runs, teams, designs.filter(run__school_class=thing)]
        case Team():
            return [itself, designs.filter(team=thing)]
        case Run():
            return [itself, designs.filter(run=thing)]
    return [itself]


def _above(thing: Thing) -> str | None:
    """The name of what it belongs to, if that is deleted."""
    above: list[Thing] = []
    if isinstance(thing, (Team, Run)):
        above = [thing.school_class]
    elif isinstance(thing, Design):
        above = [thing.run, thing.team]
    return next((_told(owner).name for owner in above if owner.removed_at is not None), None)


def _told(thing: Thing) -> Removed:
    what = next(word for word, kind in KINDS.items() if isinstance(thing, kind))
    name, of = str(getattr(thing, "name", thing)), ""
    if isinstance(thing, (Team, Run)):
        of = thing.school_class.name
    elif isinstance(thing, Design):
        of = str(thing.run)
    return Removed(what, thing.pk, name, of, thing.removed_at or timezone.now())


def removed_of(teacher: Teacher) -> list[Removed]:
    """What a teacher deleted and can bring back, the latest first; what went with something else is not named."""
    forget_old(teacher)
    gone = Q(removed_at__isnull=False)
    rows: list[Thing] = [
        *SchoolClass.with_removed.filter(gone, owner=teacher),
        *Recipe.with_removed.filter(gone, owner=teacher),
        *_roots(Team.with_removed.select_related("school_class").filter(gone, school_class__owner=teacher)),
        *_roots(Run.with_removed.select_related("school_class").filter(gone, school_class__owner=teacher)),
        *_roots(
            Design.with_removed.select_related("run__school_class", "team").filter(
                gone, run__school_class__owner=teacher
            )
        ),
    ]
    return sorted((_told(row) for row in rows), key=lambda row: (row.removed_at, row.id), reverse=True)


def _roots(rows: QuerySet[Thing]) -> list[Thing]:
    """Those that were deleted by themselves, not with what they belong to."""
    return [row for row in rows if _above(row) is None]


def forget_old(teacher: Teacher) -> None:
    """Delete for good what this teacher deleted too long ago to be brought back."""
    _delete(*_rows(Q(removed_at__lt=_long_ago()), teacher))


def tidy() -> int:
    """Delete for good whatever was deleted too long ago, of all teachers, and accounts and schools with all that is
    theirs.

    Returns:
        how many accounts went.
    """
    gone = sum(delete_school(school) for school in School.objects.filter(leaving_at__lt=_long_ago()))
    for teacher in Teacher.objects.filter(leaving_at__lt=_long_ago()):
        _delete_account(teacher)
        gone += 1
    _delete(*_rows(Q(removed_at__lt=_long_ago())))
    return gone


def delete_school(school: School) -> int:
    """Delete a school for good, with all its accounts; how many these were."""
    # One after the other, because files of photographs do not come back with a transaction that is given up.
    teachers = list(school.teachers.all())
    for teacher in teachers:
        _delete_account(teacher)
    school.delete()
    return len(teachers)


def _delete_account(teacher: Teacher) -> None:
    """Delete an account for good, with all that is its own."""
    _delete(*_rows(Q(), teacher), Teacher.objects.filter(pk=teacher.pk))


def _rows(which: Q, teacher: Teacher | None = None) -> list[QuerySet[Any]]:
    """Rows of every kind, of one teacher or of all; those that stand on others come first."""
    kinds: tuple[type[Thing], ...] = (Design, Run, Team, SchoolClass, Recipe)
    whose = [{OWNER_PATHS[kind._meta.label]: teacher} if teacher else {} for kind in kinds]
    return [kind.with_removed.filter(which, **owner) for kind, owner in zip(kinds, whose, strict=True)]


def _long_ago() -> datetime:
    return timezone.now() - timedelta(days=KEPT_DAYS)


def _delete(designs: QuerySet[Design], *rest: QuerySet[Any]) -> None:
    """Delete rows, those that others stand on last, and then the files of their photographs."""
    with transaction.atomic():
        files = [photo.file for photo in Photo.objects.filter(design__in=designs)]
        for rows in (designs, *rest):
            rows.delete()
    for file in files:
        file.delete(save=False)
