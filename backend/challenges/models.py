"""Recipes and runs."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from typing import Any

from django.db import models
from django.utils import timezone

from challenges.elsewhere import prior_of
from challenges.kits import kit_of, material_of
from girder_core.families import Family, aim_kg, family_of
from girder_core.kit import Container, Kit
from girder_core.measure import Kind, System
from girder_core.planning import BuildClock
from girder_core.results import (
    BREACH_WORDS,
    SCHOOL_WORDS,
    TIE_WORDS,
    TRIAL_RULE_WORDS,
    BreachPolicy,
    Elsewhere,
    Rules,
    School,
    TieRule,
    TrialRule,
    Words,
    amounts,
    same_terms,
)
from girder_core.safety import AgeBand
from girder_core.trial import TrialSetup
from people.models import Removable, SchoolClass, Teacher


def _choices(words: Mapping[Any, Words]) -> list[tuple[str, str]]:
    return [(str(key.value), word.label) for key, word in words.items()]


SCHOOLS = _choices(SCHOOL_WORDS)
TRIAL_RULES = _choices(TRIAL_RULE_WORDS)
BREACH_POLICIES = _choices(BREACH_WORDS)
TIE_RULES = _choices(TIE_WORDS)
AGE_BANDS = [(band.value, f"ages {band.value.replace('-', ' to ')}") for band in AgeBand]


class Terms(models.Model):
    """What a challenge is run by; a recipe has them and a run has its own copy."""

    name = models.CharField(max_length=120)
    question = models.CharField(max_length=300, blank=True)
    family = models.CharField(max_length=24, default="bridge")
    age_band = models.CharField(max_length=8, choices=AGE_BANDS, default=AgeBand.AGES_11_13.value)
    setup = models.JSONField()
    kit = models.JSONField()
    materials = models.JSONField(default=list)
    container = models.JSONField(null=True, blank=True)
    # The goal.
    school = models.CharField(max_length=24, choices=SCHOOLS, default=School.STRENGTH_TO_WEIGHT.value)
    weights = models.JSONField(default=dict, blank=True)
    trial_rule = models.CharField(max_length=8, choices=TRIAL_RULES, default=TrialRule.BEST.value)
    tie_rule = models.CharField(max_length=8, choices=TIE_RULES, default=TieRule.LIGHTER.value)
    breach_policy = models.CharField(max_length=8, choices=BREACH_POLICIES, default=BreachPolicy.NOTE.value)
    penalty = models.FloatField(default=0.0)
    # The lesson.
    minutes = models.PositiveSmallIntegerField(default=50)
    build_minutes = models.PositiveSmallIntegerField(default=20)
    benches = models.PositiveSmallIntegerField(default=1)
    two_lessons = models.BooleanField(default=False)
    drying_minutes = models.PositiveIntegerField(default=0)
    next_lesson_hours = models.FloatField(default=24.0)
    # The fair test and what may hurt.
    factor = models.JSONField(null=True, blank=True)
    controls = models.JSONField(default=list, blank=True)
    declared = models.JSONField(default=list, blank=True)
    confirmed = models.JSONField(default=list, blank=True)
    # What other classes held under these terms, where they were taken over (``challenges.elsewhere``).
    elsewhere = models.JSONField(null=True, blank=True)

    GOAL = ["school", "weights", "trial_rule", "tie_rule", "breach_policy", "penalty"]
    COPIED = [
        "name", "question", "family", "age_band", "setup", "kit", "materials", "container", *GOAL, "minutes",
        "build_minutes", "benches", "two_lessons", "drying_minutes", "next_lesson_hours", "factor", "controls",
        "declared", "confirmed",
    ]  # fmt: skip

    class Meta:
        abstract = True

    def terms(self) -> dict[str, Any]:
        """The terms by field name, as a run copies them."""
        return {field: getattr(self, field) for field in self.COPIED}

    def goal(self) -> dict[str, Any]:
        """What wins, by field name."""
        return {field: getattr(self, field) for field in self.GOAL}

    def core_family(self) -> Family:
        return family_of(self.family)

    def core_kit(self) -> Kit:
        return kit_of(self.kit)

    def core_container(self) -> Container | None:
        """What the load goes into, if it goes into anything."""
        return Container(**self.container) if self.container else None

    def rules(self) -> Rules:
        return rules_of(self.goal(), self.setup, self.core_family())

    def asks_for(self, other: Terms) -> bool:
        """Whether these terms and others ask for the same structure."""
        mine, theirs = ((one.setup, amounts([material_of(kept) for kept in one.materials])) for one in (self, other))
        return self.family == other.family and same_terms(mine, theirs)

    def prior(self) -> Elsewhere | None:
        """What is known of these terms from other classes, if they were taken over and not changed since."""
        if self.elsewhere is None:
            return None
        return prior_of(self.elsewhere, self.setup, [material_of(kept) for kept in self.materials])

    def trial_setup(self) -> TrialSetup:
        """What a trial under these terms is judged by."""
        return self.core_family().trial_setup(self.setup, self.core_kit())


def rules_of(goal: Mapping[str, Any], setup: Mapping[str, float | None], family: Family) -> Rules:
    """The core's rules from a goal's kept form; errors of ``Rules`` as they come."""
    return Rules(
        School(goal["school"]),
        TrialRule(goal["trial_rule"]),
        BreachPolicy(goal["breach_policy"]),
        goal["penalty"],
        TieRule(goal["tie_rule"]),
        {School(school): weight for school, weight in goal["weights"].items()},
        aim_kg(setup),
        family.survived_kind,
    )


class Recipe(Terms, Removable):
    """A challenge that can be run again."""

    owner = models.ForeignKey(Teacher, on_delete=models.CASCADE, related_name="recipes")
    # How many teams it was planned for; a run has the teams of its class.
    teams = models.PositiveSmallIntegerField(default=8)
    difficulty = models.SmallIntegerField(default=0)
    # Everything as it was typed, so that editing shows it again in the teacher's own units.
    typed = models.JSONField(default=dict)
    retired = models.BooleanField(default=False)
    edited_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["retired", "name", "id"]

    def __str__(self) -> str:
        return self.name


class Run(Terms, Removable):
    """A recipe given to one class."""

    recipe = models.ForeignKey(Recipe, null=True, on_delete=models.SET_NULL, related_name="runs")
    school_class = models.ForeignKey(SchoolClass, on_delete=models.CASCADE, related_name="runs")
    date = models.DateField()
    # What the lesson plan leaves for one trial, and the step size that buys: the load plan at the bench goes by them.
    trial_seconds = models.FloatField(default=240.0)
    resolution = models.FloatField(default=0.05)
    build_started_at = models.DateTimeField(null=True, blank=True)
    build_paused_at = models.DateTimeField(null=True, blank=True)
    build_paused_seconds = models.FloatField(default=0.0)
    build_extra_seconds = models.FloatField(default=0.0)
    # When the tests of this lesson must end, if somebody said so.
    bench_ends_at = models.DateTimeField(null=True, blank=True)
    # Pictures, counts and bigger words through check-in and bench.
    young = models.BooleanField(default=False)
    # Redesign questions and what would help most are kept from the teams.
    hints_hidden = models.BooleanField(default=False)
    # Criteria of the rubric, as ``girder_core.results.rubric`` has them; empty without one.
    rubric = models.JSONField(default=list)
    # A counted unit of length for young classes, such as a cube of 20 mm: {"name", "text", "size_m"}.
    counted_unit = models.JSONField(null=True, blank=True)
    # Tried out, such as by a colleague or before the lesson: left out of what is said over the years.
    tryout = models.BooleanField(default=False)
    # The step that the teacher chose instead of the planned ones, for every team: {"item", "count"}; null without one.
    pinned_step = models.JSONField(null=True, blank=True)
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-date", "-id"]

    def pinned(self) -> tuple[str, int] | None:
        """The step that the teacher chose: an item and how many of it."""
        return (self.pinned_step["item"], self.pinned_step["count"]) if self.pinned_step else None

    @property
    def practice_pieces(self) -> int:
        """How many pieces each team has to try things with."""
        return round(sum(float(material.get("practice") or 0) for material in self.materials))

    def own_units(self, kind: Kind) -> dict[str, float]:
        """Units that it measures in besides, each with its size in SI: a young class counts lengths in its own."""
        counted = self.counted_unit
        return {counted["name"]: counted["size_m"]} if counted and kind in (Kind.LENGTH, Kind.AREA) else {}

    def __str__(self) -> str:
        return f"{self.name}, {self.school_class}"

    def system(self) -> System:
        """The units of the run's teacher."""
        return System(self.school_class.owner.units)

    def build_clock(self, now: datetime) -> BuildClock:
        """The build clock at a moment."""

        def since(moment: datetime | None) -> float | None:
            return None if moment is None else (now - moment).total_seconds()

        return BuildClock(
            60.0 * self.build_minutes, self.build_extra_seconds, since(self.build_started_at),
            self.build_paused_seconds, since(self.build_paused_at),
        )  # fmt: skip


class GoalChange(models.Model):
    """A change of a run's goal after its first trial, with the reason; it is shown with every result."""

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="goal_changes")
    before = models.JSONField()
    after = models.JSONField()
    reason = models.CharField(max_length=300)
    author = models.CharField(max_length=80, blank=True)
    """Who changed it, by the name that stood there then; empty for what was changed before authors were kept."""
    changed_at = models.DateTimeField(default=timezone.now, editable=False)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return self.reason
