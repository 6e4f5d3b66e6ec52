"""Designs, their readings, photographs, drafts, and what their teams say."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.db import models
from django.db.models import Q
from django.utils import timezone

from challenges.models import Run
from girder_core.families import Away, ConstraintResult, foretells
from girder_core.ground import GirderError
from girder_core.kit import Foretold, LoadEstimate, Relation
from girder_core.measure import Kind, Outline, Quantity, TypedReading, outline, parse, repeated
from girder_core.physics import Calibration, modelled
from girder_core.trial import TrialResult
from people.models import Removable, Team

AWAY = [(away.value, away.value) for away in Away]


class Design(Removable):
    """One version that a team built in a run."""

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="designs")
    team = models.ForeignKey(Team, on_delete=models.PROTECT, related_name="designs")
    version = models.PositiveSmallIntegerField(default=1)
    parent = models.ForeignKey("self", null=True, blank=True, on_delete=models.RESTRICT, related_name="children")
    changed = models.CharField(max_length=300, blank=True)
    # Which level of the run's factor this design was built to.
    level = models.CharField(max_length=60, blank=True)
    note = models.CharField(max_length=300, blank=True)
    answers = models.JSONField(default=dict)
    checked_in_at = models.DateTimeField(null=True, blank=True)
    practice_used = models.PositiveSmallIntegerField(default=0)
    glued_at = models.DateTimeField(null=True, blank=True)
    # When the model's range was first shown for this design; a team's prediction said later did not come first.
    model_shown_at = models.DateTimeField(null=True, blank=True)
    # What the fair test keeps the same and was not kept so with this design.
    controls_broken = models.JSONField(default=list)
    # Place in the order at the bench; null for the order of the class list.
    queue_place = models.PositiveSmallIntegerField(null=True, blank=True)
    # Why it is not tested today, and since when; empty for one that is.
    away = models.CharField(max_length=12, choices=AWAY, blank=True)
    away_since = models.DateTimeField(null=True, blank=True)
    created_at = models.DateTimeField(default=timezone.now, editable=False)

    class Meta:
        ordering = ["team__position", "team_id", "version"]
        constraints = [
            models.UniqueConstraint(
                fields=["run", "team", "version"], condition=Q(removed_at__isnull=True), name="version_once"
            )
        ]

    def __str__(self) -> str:
        return f"{self.team}, version {self.version}"

    def glued_for_s(self, now: datetime) -> float | None:
        """How long ago its joints were glued [s]; None when nobody said."""
        return None if self.glued_at is None else (now - self.glued_at).total_seconds()

    def results(self) -> list[TrialResult]:
        """What its trials came to so far, in order. They are the bench's; their relation leads there."""
        setup = self.run.trial_setup()
        return [trial.result(setup) for trial in self.trials.prefetch_related("events")]

    def seen_photos(self) -> list[Photo]:
        """Its photographs that others than its team and its teacher may see; those that prove a reading are for who
        measures."""
        return [photo for photo in self.photos.all() if not photo.waits and photo.what != MEASURED]

    def counting_readings(self) -> dict[str, Reading]:
        """The latest reading of each key, with those that it repeats; earlier ones are kept for the record."""
        latest: dict[str, Reading] = {}
        for reading in sorted(self.readings.all(), key=lambda r: r.pk):
            before = latest.get(reading.key)
            reading.repeats = [*before.repeats, before] if reading.again and before is not None else []
            latest[reading.key] = reading
        return latest

    def quantities(self) -> dict[str, Quantity]:
        """The readings that count, as the core knows them."""
        return {key: reading.quantity() for key, reading in self.counting_readings().items()}

    def constraints(self) -> list[ConstraintResult]:
        """The run's constraints held against this design."""
        return self.run.core_family().check(self.run.setup, self.quantities(), self.answers)


class Reading(models.Model):
    """One reading: what was typed, and what it means in SI. A new reading of the same key counts instead."""

    design = models.ForeignKey(Design, on_delete=models.CASCADE, related_name="readings")
    key = models.CharField(max_length=24)
    # An area is typed as its shape, which may have many corners.
    text = models.CharField(max_length=400, blank=True)
    zero_text = models.CharField(max_length=40, blank=True)
    tare_text = models.CharField(max_length=40, blank=True)
    resolution_text = models.CharField(max_length=40, blank=True)
    materials = models.JSONField(default=list)
    value_si = models.FloatField()
    standard_uncertainty_si = models.FloatField()
    after_test = models.BooleanField(default=False)
    # Taken again to see the spread: it counts together with the ones before it.
    again = models.BooleanField(default=False)
    # Measured in a photograph: what each cause leaves open of it, in standard uncertainties [SI]; empty for all others.
    causes = models.JSONField(default=dict, db_default={})
    # What a device called it while it could not be sent, so that the same one sent twice is kept once.
    sent_as = models.UUIDField(null=True, unique=True, editable=False)
    taken_at = models.DateTimeField(default=timezone.now, editable=False)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"{self.key} of {self.design_id}"

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.repeats: list[Reading] = []
        """Earlier readings that it repeats; filled by ``Design.counting_readings``."""

    def quantity(self) -> Quantity:
        """What it stands for, together with those it repeats."""
        every = [*self.repeats, self]
        return repeated([Quantity(reading.value_si, reading.standard_uncertainty_si) for reading in every])

    def outline(self) -> Outline | None:
        """The shape that was typed, for an area; None for all else, and for a mean of several."""
        spec = self.design.run.core_family().reading_keys.get(self.key)
        if spec is None or spec.kind is not Kind.AREA or self.repeats:
            return None
        own = self.design.run.own_units(Kind.LENGTH)
        try:
            return outline(self.text, parse(self.resolution_text, Kind.LENGTH, "mm", own).si, own)
        except GirderError:
            # A file that was brought in may hold the area and not how it was measured.
            return None

    def spread_si(self) -> float:
        """From the least to the greatest of it and those it repeats; 0 for a single one."""
        values = [reading.value_si for reading in (*self.repeats, self)]
        return max(values) - min(values)

    def photographed(self) -> bool:
        """Whether it was measured in a photograph."""
        return bool(self.causes)

    def estimated(self) -> bool:
        """Whether the value was added up from materials instead of measured."""
        return bool(self.materials)


class TeamReading(models.Model):
    """A reading that a team took of its own design. It counts for nothing until the teacher takes it over; of each key
    the latest stands for the others."""

    design = models.ForeignKey(Design, on_delete=models.CASCADE, related_name="team_readings")
    key = models.CharField(max_length=24)
    text = models.CharField(max_length=400)
    zero_text = models.CharField(max_length=40, blank=True)
    tare_text = models.CharField(max_length=40, blank=True)
    resolution_text = models.CharField(max_length=40)
    value_si = models.FloatField()
    standard_uncertainty_si = models.FloatField()
    # When the reading was taken that the teacher made of it.
    counts_since = models.DateTimeField(null=True)
    taken_at = models.DateTimeField(default=timezone.now, editable=False)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"{self.key} of {self.design_id}, by its team"

    def typed(self) -> TypedReading:
        """What was typed."""
        return TypedReading(self.text, self.resolution_text, self.zero_text, self.tare_text)

    def quantity(self) -> Quantity:
        """What it stands for."""
        return Quantity(self.value_si, self.standard_uncertainty_si)


MEASURED, LAST = "measured", "last"
SENT_PHOTO_OF = [("design", "the design"), ("wreck", "the wreck")]
PHOTO_OF = [*SENT_PHOTO_OF, (MEASURED, "a measurement"), (LAST, "the last picture of a trial")]


class Photo(models.Model):
    """A photograph of a design or of its wreck, written out again without what the camera put in."""

    design = models.ForeignKey(Design, on_delete=models.CASCADE, related_name="photos")
    file = models.FileField(upload_to="photos/%Y/%m")
    what = models.CharField(max_length=8, choices=PHOTO_OF, default="design")
    # What was measured in it, and what that came to, in words; the latest of a trial has the trial's id as its name.
    caption = models.CharField(max_length=200, blank=True, db_default="")
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    # A team sent it, and its teacher has not seen it yet: till then the team and the teacher alone see it.
    waits = models.BooleanField(default=False)
    # What a tablet calls it, so that the same one sent twice is kept once.
    sent_as = models.UUIDField(null=True, unique=True, editable=False)
    taken_at = models.DateTimeField(default=timezone.now, editable=False)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"photo of {self.design}"


RELATIONS = [(relation.value, relation.value) for relation in Relation]


class TeamPrediction(models.Model):
    """What the team says its design will hold; given again, the latest before the trial counts."""

    design = models.ForeignKey(Design, on_delete=models.CASCADE, related_name="predictions")
    text = models.CharField(max_length=40)
    # A load, or where nothing is loaded the level, height or number that is foretold [SI].
    load_kg = models.FloatField(null=True)
    size = models.FloatField(null=True)
    # How what was said stands to that, and whose load it is: more, less or as much as another team held then.
    relation = models.CharField(max_length=8, choices=RELATIONS, default=Relation.AMOUNT.value)
    than = models.CharField(max_length=40, blank=True)
    said_at = models.DateTimeField(default=timezone.now, editable=False)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return self.text

    def foretold(self) -> Foretold:
        """What was said, as the core knows it."""
        amount = self.load_kg if self.size is None else self.size
        return Foretold(amount or 0.0, Relation(self.relation), self.than)

    def words(self) -> str:
        """It in words, in the units of the run's teacher."""
        run, foretold = self.design.run, self.foretold()
        told = foretells(run.core_family(), run.setup)
        return foretold.words(run.system(), told.words) if told else foretold.words(run.system())


class Draft(models.Model):
    """A design on paper, as it was kept, and what the model said of it; where it was kept again, the latest counts.

    Loads are the model's own, without a class's experience, so that experience can be learnt from them and taken back.
    """

    design = models.ForeignKey(Design, on_delete=models.CASCADE, related_name="drafts")
    kind = models.CharField(max_length=24)
    typed = models.JSONField(default=dict)
    moves = models.JSONField(default=dict)
    material = models.CharField(max_length=40)
    push = models.BooleanField(default=False)
    low_n = models.FloatField(null=True)
    typical_n = models.FloatField(null=True)
    high_n = models.FloatField(null=True)
    mass_kg = models.FloatField()
    governing = models.CharField(max_length=120, blank=True)
    mode = models.CharField(max_length=24, blank=True)
    drafted_at = models.DateTimeField(default=timezone.now, editable=False)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"{self.kind} of {self.design}"

    def estimate(self, correction: Calibration | None) -> LoadEstimate | None:
        """Where it is expected to give way, with the class's experience where it is applied; None without a load."""
        if self.push or self.low_n is None or self.typical_n is None or self.high_n is None:
            return None
        return modelled(self.low_n, self.typical_n, self.high_n, correction)
