"""A teacher's own stocks, and what a class's trials say about the model."""

from __future__ import annotations

from django.db import models

from girder_core.measure import Quantity
from girder_core.physics import STOCKS, Calibration, Stock, own_sheet, with_stiffness
from people.models import SchoolClass, Teacher

OWN_PREFIX = "own-"


class OwnStock(models.Model):
    """A sheet that a teacher brought: its mass by area and thickness, and its stiffness where it was measured."""

    owner = models.ForeignKey(Teacher, on_delete=models.CASCADE, related_name="stocks")
    name = models.CharField(max_length=80)
    # Key of the shipped stock whose strength it is taken to have.
    like = models.CharField(max_length=24)
    grammage_kg_m2 = models.FloatField()
    thickness_m = models.FloatField()
    modulus_pa = models.FloatField(null=True)
    modulus_uncertainty_pa = models.FloatField(null=True)
    # Everything as it was typed.
    typed = models.JSONField(default=dict)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["name", "id"]

    def __str__(self) -> str:
        return self.name

    @property
    def key(self) -> str:
        """Its name in drafts."""
        return f"{OWN_PREFIX}{self.pk}"

    def core(self) -> Stock:
        """The stock as the rules know it."""
        stock = own_sheet(self.key, self.name, self.grammage_kg_m2, self.thickness_m, STOCKS[self.like])
        if self.modulus_pa is None or self.modulus_uncertainty_pa is None:
            return stock
        return with_stiffness(stock, Quantity(self.modulus_pa, self.modulus_uncertainty_pa))


class ClassCorrection(models.Model):
    """What a class's designs of one family and material held of the model, as it was when it was applied.

    Withdrawn ones are kept for the record; at most one of a material is in force.
    """

    school_class = models.ForeignKey(SchoolClass, on_delete=models.CASCADE, related_name="corrections")
    family = models.CharField(max_length=24)
    material = models.CharField(max_length=40)
    count = models.PositiveIntegerField()
    measured = models.FloatField()
    correction = models.FloatField()
    scatter_log = models.FloatField()
    doubt_log = models.FloatField()
    applied_at = models.DateTimeField(auto_now_add=True)
    withdrawn_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(
                fields=["school_class", "family", "material"],
                condition=models.Q(withdrawn_at=None),
                name="one_factor_in_force",
            )
        ]

    def __str__(self) -> str:
        return f"{self.material}: {self.correction:.2f}"

    def core(self) -> Calibration:
        """The finding as the rules know it."""
        return Calibration(self.count, self.measured, self.correction, self.scatter_log, self.doubt_log)
