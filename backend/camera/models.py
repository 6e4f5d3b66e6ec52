"""The sets of scale cards that a teacher printed."""

from __future__ import annotations

from django.db import models
from django.utils import timezone

from girder_core.measure import Quantity
from people.models import Teacher


class CardSet(models.Model):
    """A set of cards whose bar somebody measured: how large it came out of the printer."""

    owner = models.ForeignKey(Teacher, on_delete=models.CASCADE, related_name="card_sets")
    number = models.PositiveSmallIntegerField()
    bar_text = models.CharField(max_length=40)
    step_text = models.CharField(max_length=40)
    scale = models.FloatField()
    scale_uncertainty = models.FloatField()
    measured_at = models.DateTimeField(default=timezone.now, editable=False)

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["owner", "number"], name="card_set_once")]

    def __str__(self) -> str:
        return f"set {self.number} of {self.owner}"

    def printed(self) -> Quantity:
        """Its size as a share of what was meant."""
        return Quantity(self.scale, self.scale_uncertainty)
