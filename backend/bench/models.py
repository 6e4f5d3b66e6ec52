"""Trials and their ledgers."""

from __future__ import annotations

import uuid
from collections.abc import Iterable
from datetime import datetime
from typing import Any

from django.db import models
from django.utils import timezone

from designs.models import Design
from girder_core.kit import LoadEstimate
from girder_core.trial import Event, EventKind, Station, TrialResult, TrialSetup, replay

EVENT_KINDS = [(kind.value, kind.value.replace("_", " ")) for kind in EventKind]


class RealTrials(models.Manager["Trial"]):
    """Trials of real structures. Every relation from a design goes through it, so no rehearsal reaches a result."""

    def get_queryset(self) -> models.QuerySet[Trial]:
        return super().get_queryset().filter(rehearsal=False)

    def believed(self) -> models.QuerySet[Trial]:
        """Those from which others are judged: not what a team found by itself and nobody has confirmed."""
        return self.get_queryset().exclude(by_team=True, confirmed_at=None)


class Trial(models.Model):
    """One test of a design. Its ledger says all that happened; nothing that follows from the ledger is kept here.

    A rehearsal is a trial of a made-up structure: kept apart, never a result.
    """

    objects = RealTrials()
    with_rehearsals = models.Manager["Trial"]()

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    design = models.ForeignKey(Design, on_delete=models.CASCADE, related_name="trials")
    number = models.PositiveSmallIntegerField()
    bench = models.UUIDField(null=True)
    estimate = models.JSONField(null=True)
    # Why it was tested before its joints were dry; empty when they were.
    wet_reason = models.CharField(max_length=200, blank=True)
    # How it was set up, by key of the family's arrangements; empty where there is one way.
    arrangement = models.CharField(max_length=24, blank=True)
    rehearsal = models.BooleanField(default=False)
    started_at = models.DateTimeField(default=timezone.now, editable=False)
    # Whether the team made it by itself, at a station; if so, when its teacher stopped it, and when and by whom, by
    # name, its result was confirmed.
    by_team = models.BooleanField(default=False)
    stopped_at = models.DateTimeField(null=True)
    confirmed_at = models.DateTimeField(null=True)
    confirmed_by = models.CharField(max_length=80, blank=True)

    class Meta:
        ordering = ["number"]
        base_manager_name = "with_rehearsals"
        constraints = [models.UniqueConstraint(fields=["design", "rehearsal", "number"], name="trial_number_once")]

    def __str__(self) -> str:
        return f"{self.design}, trial {self.number}"

    @property
    def unconfirmed(self) -> bool:
        """Whether a team made it by itself, and nobody has confirmed what it found."""
        return self.by_team and self.confirmed_at is None

    def station(self, at: datetime | None = None) -> Station:
        """How it stands, or stood at a moment, with the teacher whose team makes it."""
        # A moment before it began is none of it, and says nothing of when it was.
        before = at is not None and self.stopped_at is not None and self.started_at <= at <= self.stopped_at
        stopped = self.stopped_at is not None and not before
        return Station(stopped, self.confirmed_at is not None)

    def core_events(self) -> list[Event]:
        return core_events(self.events.all())

    def result(self, setup: TrialSetup) -> TrialResult:
        """Replay the ledger; the caller builds the set-up once for all trials of a run."""
        return replay(self.core_events(), setup)

    def expectation(self) -> LoadEstimate | None:
        """Where failure was expected when the trial started."""
        return LoadEstimate(**self.estimate) if self.estimate else None


class LedgerEvent(models.Model):
    """One immutable event of a trial. The database refuses to change it; only a whole trial can go."""

    id = models.UUIDField(primary_key=True)
    # Looked up by the index of what is once in a ledger.
    trial = models.ForeignKey(Trial, on_delete=models.CASCADE, related_name="events", db_index=False)
    sequence = models.PositiveIntegerField()
    kind = models.CharField(max_length=16, choices=EVENT_KINDS)
    data = models.JSONField(default=dict)
    happened_at = models.DateTimeField()
    received_at = models.DateTimeField(default=timezone.now, editable=False)
    # Who wrote it, by name: a ledger stays as it was when an account goes. Empty where that is not known.
    author = models.CharField(max_length=80, blank=True)

    class Meta:
        ordering = ["sequence"]
        constraints = [models.UniqueConstraint(fields=["trial", "sequence"], name="sequence_once")]

    def __str__(self) -> str:
        return f"{self.sequence} {self.kind}"


def core_events(rows: Iterable[LedgerEvent]) -> list[Event]:
    """Ledger rows as the core reads them."""
    return [core_event(row.id, row.sequence, row.kind, row.data) for row in rows]


def core_event(event_id: uuid.UUID, sequence: int, kind: str, data: dict[str, Any]) -> Event:
    return Event(str(event_id), sequence, EventKind(kind), data)
