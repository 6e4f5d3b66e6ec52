"""The sets of scale cards that a teacher printed, and the lenses of tablets that were calibrated."""

from __future__ import annotations

from django.db import models
from django.utils import timezone

from camera.found import CAMERA_NAME
from girder_core.measure import Quantity
from girder_core.photo import Lens
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


class TabletLens(models.Model):
    """A lens of a tablet, calibrated with a card: whoever works at that tablet has it.

    The tablet is known by a name that its browser made up when it was calibrated, and by nothing else.
    """

    tablet = models.UUIDField(db_index=True)
    camera = models.CharField(max_length=CAMERA_NAME, blank=True)
    shape = models.FloatField()
    known = models.JSONField()
    covariance = models.JSONField()
    pictures = models.PositiveSmallIntegerField()
    calibrated_at = models.DateTimeField(default=timezone.now, editable=False)

    class Meta:
        ordering = ["-calibrated_at"]

    def __str__(self) -> str:
        return f"{self.camera or 'a camera'} of {self.tablet}"

    def lens(self) -> Lens:
        """As the core knows it."""
        focal, one, two = self.known
        return Lens((focal, one, two), tuple((a, b, c) for a, b, c in self.covariance), self.shape, self.camera)
