"""What a team answers when all is over, and the levels that a teacher gives."""

from __future__ import annotations

from django.db import models
from django.utils import timezone

from designs.models import Design


class Reflection(models.Model):
    """What a team answered when all was over."""

    design = models.ForeignKey(Design, on_delete=models.CASCADE, related_name="reflections")
    question = models.CharField(max_length=200)
    text = models.CharField(max_length=1000)
    written_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["design", "question"], name="answered_once")]

    def __str__(self) -> str:
        return self.question


class RubricMark(models.Model):
    """The level that a teacher gave a design in one criterion of the rubric."""

    design = models.ForeignKey(Design, on_delete=models.CASCADE, related_name="marks")
    criterion = models.CharField(max_length=40)
    level = models.PositiveSmallIntegerField()

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["design", "criterion"], name="marked_once")]

    def __str__(self) -> str:
        return f"{self.criterion}: {self.level}"
