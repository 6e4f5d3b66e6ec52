"""Who may see and change what: the one place that says it.

Every object belongs to one teacher. What hangs on a class is open to colleagues too, by their part in it: an observer
reads, a helper writes at check-in and bench, a lead writes all; giving the class away and deleting it is its own
teacher's. A board's token, which cannot be guessed, opens its run for looking and nothing else (``live.views``); a
team's tablet is let in by a lesson's code, to its own team alone (``tablets.policy``). A view gets objects through
``owned`` or ``owned_or_404`` and never otherwise; what belongs to somebody else does not exist for the asker (404), so
that numbers in addresses tell nothing.
"""

from __future__ import annotations

from typing import Any, TypeVar

from django.apps import apps
from django.db.models import F, Model, QuerySet
from django.http import Http404, HttpRequest
from django.shortcuts import get_object_or_404

from girder_core.ground import GirderError
from people.deeds import touch
from people.models import HELPER, LEAD, OBSERVER, ORDER, OWNER, Colleague, SchoolClass, Teacher
from people.schools import administered_by

M = TypeVar("M", bound=Model)

# How each model reaches its class. Names, not models, because apps above this one are not imported here.
CLASS_PATHS: dict[str, str] = {
    "people.SchoolClass": "pk",
    "people.Team": "school_class",
    "people.Colleague": "school_class",
    "people.ClassInvitation": "school_class",
    "challenges.Run": "school_class",
    "designs.Design": "run__school_class",
    "designs.Photo": "design__run__school_class",
    "bench.Trial": "design__run__school_class",
    "live.Board": "run__school_class",
    "tablets.Door": "run__school_class",
}
# How each of the others reaches its teacher.
OWN_PATHS: dict[str, str] = {
    "people.SignedIn": "teacher",
    "challenges.Recipe": "owner",
    "drafting.OwnStock": "owner",
    "camera.CardSet": "owner",
}
OWNER_PATHS: dict[str, str] = OWN_PATHS | {
    label: "owner" if path == "pk" else f"{path}__owner" for label, path in CLASS_PATHS.items()
}
READS = ("GET", "HEAD", "OPTIONS")


GONE_WITH: dict[str, dict[str, bool]] = {
    "designs.Photo": {"design__removed_at__isnull": True},
    "bench.Trial": {"design__removed_at__isnull": True},
    "live.Board": {"run__removed_at__isnull": True},
    "tablets.Door": {"run__removed_at__isnull": True},
}
"""What is nowhere while that on which it hangs is deleted. All other models hide what was deleted themselves."""


def teacher_of(request: HttpRequest) -> Teacher:
    """The signed-in teacher; views that call it require a sign-in."""
    assert isinstance(request.user, Teacher)
    return request.user


def owned(queryset: QuerySet[M], teacher: Teacher, part: str = OBSERVER) -> QuerySet[M]:
    """The objects of the queryset that belong to this teacher, or to a class in which the teacher has at least this
    part."""
    label = queryset.model._meta.label
    if label not in CLASS_PATHS or part == OWNER:
        return _there(queryset).filter(**{OWNER_PATHS[label]: teacher})
    # Two short lists put together: asked as "the one or the other" of each row, the database looks at all there are.
    own = SchoolClass.with_removed.filter(owner=teacher).order_by().values("pk")
    classes = own.union(classes_with(teacher, part).order_by().values("school_class"))
    return _there(queryset).filter(**{f"{CLASS_PATHS[label]}__in": classes})


def classes_with(teacher: Teacher, part: str = OBSERVER) -> QuerySet[Colleague]:
    """The parts that a teacher has in others' classes, from this one on; none in those of a deleted account, or of
    another school."""
    return Colleague.objects.filter(
        teacher=teacher, ended_at=None, part__in=ORDER[ORDER.index(part) :], school_class__owner__leaving_at=None,
        **_same_school(teacher, "school_class__owner__"),
    )  # fmt: skip


def _same_school(teacher: Teacher, path: str) -> dict[str, Any]:
    """As a condition: whoever is in the school of this teacher; where schools are none, all are in the same."""
    within = teacher.school_id
    return {f"{path}school__isnull": True} if within is None else {f"{path}school": within}


def of_own_school(queryset: QuerySet[M], request: HttpRequest, pk: Any) -> M:
    """One row of the school that who asks administers (a teacher, an invitation); or "not found".

    Errors: ``not_administrator`` for all others of that school; for others there is nothing.
    """
    teacher = teacher_of(request)
    if teacher.school_id is None:
        raise Http404
    found = get_object_or_404(queryset.filter(school=teacher.school_id), pk=pk)
    administered_by(teacher)
    return found


def with_owner(queryset: QuerySet[M]) -> QuerySet[Any]:
    """The objects of the queryset, whoever has them, each with its owner's number as ``owned_by``; to be compared with
    who asks (``bench.quick``)."""
    return _there(queryset).annotate(owned_by=F(OWNER_PATHS[queryset.model._meta.label]))


def _there(queryset: QuerySet[M]) -> QuerySet[M]:
    return queryset.filter(**GONE_WITH.get(queryset.model._meta.label, {}))


def owned_or_404(queryset: QuerySet[M], request: HttpRequest, pk: Any, part: str = "") -> M:
    """One object that the signed-in teacher may see, or change where the request changes something; or "not found".

    Args:
        queryset: where it is looked for.
        request: who asks, and whether something is to change.
        pk: the object's number.
        part: what a colleague has to be in its class; without it an observer for what reads, a lead for what writes.
    Errors:
        ``not_your_part`` for a colleague who has a lesser one, ``out_of_class`` for one who had one.
    """
    asked = part or (OBSERVER if request.method in READS else LEAD)
    teacher = teacher_of(request)
    try:
        found = get_object_or_404(owned(queryset, teacher, asked), pk=pk)
    except Http404:
        _say_why(queryset, teacher, pk)
        raise
    if request.method not in READS and queryset.model._meta.label in CLASS_PATHS:
        touch(request, queryset, CLASS_PATHS[queryset.model._meta.label], pk)
    return found


def _say_why(queryset: QuerySet[Any], teacher: Teacher, pk: Any) -> None:
    """Refuse in words whoever has, or had, a part in the class; others are told nothing."""
    label = queryset.model._meta.label
    if label not in CLASS_PATHS:
        return
    classes = _there(queryset).filter(pk=pk).values(CLASS_PATHS[label])
    has = Colleague.objects.filter(
        teacher=teacher, school_class__in=classes, school_class__owner__leaving_at=None,
        **_same_school(teacher, "school_class__owner__"),
    )  # fmt: skip
    found = has.select_related("school_class__owner").first()
    if found is None:
        return
    name, owner = found.school_class.name, found.school_class.owner.name
    if found.ended_at is not None:
        raise GirderError(
            "out_of_class", f"You are not in {name} any more. What was not sent yet stays on this device; ask {owner}."
        )
    may = {
        OBSERVER: "You look on in {name}.",
        HELPER: "You help in {name} at check-in and bench.",
        LEAD: "You lead {name} together with {owner}.",
    }[found.part]
    raise GirderError("not_your_part", f"{may} For this, ask {{owner}}.".format(name=name, owner=owner))


def models_with_owner() -> list[type[Model]]:
    """Every model that the policy covers."""
    return [apps.get_model(label) for label in OWNER_PATHS]
