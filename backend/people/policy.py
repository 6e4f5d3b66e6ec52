"""Who may see and change what: the one place that says it.

Every object belongs to one teacher. A board's token, which cannot be guessed, opens its run for looking and nothing
else (``live.views``); a team's tablet is let in by a lesson's code, to its own team alone (``tablets.policy``). A view
gets objects through ``owned`` or ``owned_or_404`` and never otherwise; what belongs to somebody else does not exist for
the asker (404), so that numbers in addresses tell nothing.
"""

from __future__ import annotations

from typing import Any, TypeVar

from django.apps import apps
from django.db.models import F, Model, QuerySet
from django.http import HttpRequest
from django.shortcuts import get_object_or_404

from people.models import Teacher

M = TypeVar("M", bound=Model)

# How each model reaches its owner. Names, not classes, because apps above this one are not imported here.
OWNER_PATHS: dict[str, str] = {
    "people.SchoolClass": "owner",
    "people.Team": "school_class__owner",
    "people.SignedIn": "teacher",
    "challenges.Recipe": "owner",
    "challenges.Run": "school_class__owner",
    "drafting.OwnStock": "owner",
    "designs.Design": "run__school_class__owner",
    "designs.Photo": "design__run__school_class__owner",
    "bench.Trial": "design__run__school_class__owner",
    "live.Board": "run__school_class__owner",
    "tablets.Door": "run__school_class__owner",
}


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


def owned(queryset: QuerySet[M], teacher: Teacher) -> QuerySet[M]:
    """The objects of the queryset that belong to this teacher."""
    return _there(queryset).filter(**{OWNER_PATHS[queryset.model._meta.label]: teacher})


def with_owner(queryset: QuerySet[M]) -> QuerySet[Any]:
    """The objects of the queryset, whoever has them, each with its owner's number as ``owned_by``; to be compared with
    who asks (``bench.quick``)."""
    return _there(queryset).annotate(owned_by=F(OWNER_PATHS[queryset.model._meta.label]))


def _there(queryset: QuerySet[M]) -> QuerySet[M]:
    return queryset.filter(**GONE_WITH.get(queryset.model._meta.label, {}))


def owned_or_404(queryset: QuerySet[M], request: HttpRequest, pk: Any) -> M:
    """One object of the signed-in teacher, or "not found"."""
    return get_object_or_404(owned(queryset, teacher_of(request)), pk=pk)


def models_with_owner() -> list[type[Model]]:
    """Every model that the policy covers."""
    return [apps.get_model(label) for label in OWNER_PATHS]
