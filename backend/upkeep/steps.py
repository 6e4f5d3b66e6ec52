"""Whether processes of the version before go on while, and after, the tables change.

A change of tables comes in two halves. The first *expands*: it adds what the new version needs, and takes nothing from
the old one, whose processes go on with it. The second *contracts*: it takes away what nothing uses any more, a version
later, when no process is left that would miss it. So a new version is brought in host by host, and the way back is the
old program, which the expanded tables still suit.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from django.db.migrations import Migration
from django.db.migrations import operations as made_by
from django.db.migrations.operations.base import Operation
from django.db.models import ManyToManyField
from django.db.models.fields import NOT_PROVIDED

EXPANDS = "expands"
"""A migration with what can be either says why it takes nothing from the version before: ``expands = "because …"``."""
_HARMLESS = (
    made_by.CreateModel, made_by.AddIndex, made_by.RenameIndex, made_by.AlterModelOptions, made_by.AlterModelManagers,
    made_by.AlterModelTableComment,
)  # fmt: skip
_MAY_BE = (made_by.RunSQL, made_by.RunPython, made_by.AlterField, made_by.AddConstraint, made_by.RemoveConstraint,
           made_by.RemoveIndex)  # fmt: skip
"""What can be either; whoever wrote it has looked, and says why."""


@dataclass(frozen=True)
class Stumble:
    """What a process of the version before would stumble over."""

    migration: str
    sentence: str


def stumbles(migration: Migration) -> list[Stumble]:
    """What in a migration a process of the version before would stumble over; empty for one that only expands."""
    name = f"{migration.app_label}.{migration.name}"
    made: set[str] = set()
    found: list[Stumble] = []
    for operation in migration.operations:
        if isinstance(operation, made_by.CreateModel):
            made.add(operation.name.lower())
        said = _stumble(operation, made, bool(getattr(migration, EXPANDS, "")))
        if said:
            found.append(Stumble(name, said))
    return found


def _stumble(operation: Operation, made: set[str], vouched: bool) -> str:
    if isinstance(operation, _HARMLESS):
        return ""
    if isinstance(operation, made_by.SeparateDatabaseAndState):
        parts = (_stumble(one, made, vouched) for one in operation.database_operations)
        return next((said for said in parts if said), "")
    model = str(getattr(operation, "model_name", "") or getattr(operation, "name", "")).lower()
    if model in made:
        # A table that nobody had before.
        return ""
    if isinstance(operation, _MAY_BE):
        return "" if vouched else f"{operation.describe()}: it does not say why the version before can live with it."
    if isinstance(operation, made_by.AddField):
        return _added(operation)
    return f"{operation.describe()}: the version before does not know it."


def _added(operation: made_by.AddField) -> str:
    field = operation.field
    if isinstance(field, ManyToManyField) or field.null or field.db_default is not NOT_PROVIDED:
        return ""
    return (
        f"{operation.describe()}: the version before writes rows without it, and the database has nothing to put there "
        "(null=True or db_default=…)."
    )


def all_stumbles(plan: Sequence[tuple[Migration, bool]]) -> list[Stumble]:
    """The same for all that waits."""
    return [one for migration, _ in plan for one in stumbles(migration)]
