"""The door of a lesson, the tablets that came in by it, and what came from them too late to count."""

from __future__ import annotations

from django.db import models
from django.utils import timezone

from challenges.models import Run
from designs.models import Design
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


class TeamsMay(models.Model):
    """What teams of a run may do at their tablets, where its teacher has said something else than usual."""

    run = models.OneToOneField(Run, on_delete=models.CASCADE, related_name="teams_may")
    # Measure their own design; the teacher takes it over, or measures.
    measure = models.BooleanField(default=True)
    # Draft it, and hear the model once they have said what they think.
    draft = models.BooleanField(default=True)
    # Read what others have tried.
    ideas = models.BooleanField(default=False)
    # Test it by itself, at a station of its own; the teacher confirms what came of it.
    test = models.BooleanField(default=False)

    def __str__(self) -> str:
        return f"what teams may do in {self.run}"


class Tablet(models.Model):
    """A tablet that is in a lesson, and the team that it is of, once that was said. Its pass is kept mixed up."""

    door = models.ForeignKey(Door, on_delete=models.CASCADE, related_name="tablets")
    mixed = models.CharField(max_length=64, unique=True)
    team = models.ForeignKey(Team, null=True, on_delete=models.CASCADE, related_name="tablets")
    # First names of who is at it, where they said; forgotten with the lesson.
    who = models.CharField(max_length=200, blank=True)
    joined_at = models.DateTimeField(default=timezone.now, editable=False)
    seen_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"a tablet of {self.team or 'no team yet'}"


class LatePrediction(models.Model):
    """What a team typed before its test, and a dead network held back till it had begun: kept, and never counted."""

    design = models.ForeignKey(Design, on_delete=models.CASCADE, related_name="late_predictions")
    text = models.CharField(max_length=40)
    # By how long ago the tablet says that it was.
    typed_at = models.DateTimeField()
    came_at = models.DateTimeField(default=timezone.now, editable=False)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return self.text
