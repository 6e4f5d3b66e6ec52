"""The door of a lesson, and the tablets that came in by it."""

from __future__ import annotations

from django.db import models
from django.utils import timezone

from challenges.models import Run
from people.models import Team


class Door(models.Model):
    """The way of teams into a run, till its lesson is over."""

    run = models.OneToOneField(Run, on_delete=models.CASCADE, related_name="door")
    # As it counts: without dashes.
    code = models.CharField(max_length=12, unique=True)
    until = models.DateTimeField()

    def __str__(self) -> str:
        return f"door of {self.run}"

    @property
    def is_open(self) -> bool:
        """Whether its lesson is not over yet."""
        return timezone.now() < self.until


class Tablet(models.Model):
    """A tablet that is in a lesson, and the team that it is of, once that was said. Its pass is kept mixed up."""

    door = models.ForeignKey(Door, on_delete=models.CASCADE, related_name="tablets")
    mixed = models.CharField(max_length=64, unique=True)
    team = models.ForeignKey(Team, null=True, on_delete=models.CASCADE, related_name="tablets")
    joined_at = models.DateTimeField(default=timezone.now, editable=False)
    seen_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"a tablet of {self.team or 'no team yet'}"
