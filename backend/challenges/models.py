"""Recipes and runs."""

from __future__ import annotations

from typing import Any

from django.db import models

from challenges.kits import kit_of
from girder_core.families import family
from girder_core.families.model import Family
from girder_core.ledger import TrialSetup
from girder_core.loading import Kit
from girder_core.scoring import BreachPolicy, Rules, School, TrialRule
from people.models import SchoolClass, Teacher

SCHOOLS = [(School.MOST_HELD.value, "Most load held"), (School.STRENGTH_TO_WEIGHT.value, "Times its own weight")]
TRIAL_RULES = [
    (TrialRule.BEST.value, "Best trial counts"),
    (TrialRule.MEAN.value, "Mean of the trials counts"),
    (TrialRule.LAST.value, "Last trial counts"),
]
BREACH_POLICIES = [
    (BreachPolicy.REFUSE.value, "Not ranked"),
    (BreachPolicy.PENALTY.value, "Ranked with a penalty"),
    (BreachPolicy.NOTE.value, "Ranked, with a note"),
]


class Terms(models.Model):
    """What a challenge is run by; a recipe has them and a run has its own copy."""

    name = models.CharField(max_length=120)
    question = models.CharField(max_length=300, blank=True)
    family = models.CharField(max_length=24, default="bridge")
    setup = models.JSONField()
    kit = models.JSONField()
    school = models.CharField(max_length=24, choices=SCHOOLS, default=School.STRENGTH_TO_WEIGHT.value)
    trial_rule = models.CharField(max_length=8, choices=TRIAL_RULES, default=TrialRule.BEST.value)
    breach_policy = models.CharField(max_length=8, choices=BREACH_POLICIES, default=BreachPolicy.NOTE.value)
    penalty = models.FloatField(default=0.0)
    build_minutes = models.PositiveSmallIntegerField(default=20)

    COPIED = [
        "name", "question", "family", "setup", "kit", "school", "trial_rule", "breach_policy", "penalty",
        "build_minutes",
    ]  # fmt: skip

    class Meta:
        abstract = True

    def terms(self) -> dict[str, Any]:
        """The terms by field name, as a run copies them."""
        return {field: getattr(self, field) for field in self.COPIED}

    def core_family(self) -> Family:
        return family(self.family)

    def core_kit(self) -> Kit:
        return kit_of(self.kit)

    def rules(self) -> Rules:
        return Rules(School(self.school), TrialRule(self.trial_rule), BreachPolicy(self.breach_policy), self.penalty)

    def trial_setup(self) -> TrialSetup:
        """What a trial under these terms is judged by."""
        one = self.core_family()
        return TrialSetup(
            kit=self.core_kit(),
            hold_s=self.setup["hold_s"],
            bench_limit_kg=self.setup.get("bench_limit_kg"),
            failure_modes=frozenset(mode.key for mode in one.failure_modes),
            loading_errors=frozenset(mode.key for mode in one.loading_errors),
            run_out_reasons=frozenset(mode.key for mode in one.run_out_reasons),
            observations=frozenset(mode.key for mode in one.observations),
        )


class Recipe(Terms):
    """A challenge that can be run again."""

    owner = models.ForeignKey(Teacher, on_delete=models.CASCADE, related_name="recipes")
    # Set-up and kit as they were typed, so that editing shows them again in the teacher's own units.
    typed = models.JSONField(default=dict)
    retired = models.BooleanField(default=False)
    edited_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["retired", "name", "id"]

    def __str__(self) -> str:
        return self.name


class Run(Terms):
    """A recipe given to one class."""

    recipe = models.ForeignKey(Recipe, null=True, on_delete=models.SET_NULL, related_name="runs")
    school_class = models.ForeignKey(SchoolClass, on_delete=models.CASCADE, related_name="runs")
    date = models.DateField()
    build_started_at = models.DateTimeField(null=True, blank=True)
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-date", "-id"]

    def __str__(self) -> str:
        return f"{self.name}, {self.school_class}"
