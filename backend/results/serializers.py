"""Shapes of what a run came to. Everything is SI; an upper bound that is not known is null."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from challenges.entries import GoalSerializer
from challenges.models import GoalChange, rules_of
from evengirder.fields import FiniteField
from girder_core.planning import goal_in_words
from girder_core.results import Gain, Rules, VerdictKind, gain_in_words

VERDICT_KINDS = [(kind.value, kind.value) for kind in VerdictKind]


SURENESS = [(word, word) for word in ("clear", "likely", "too_close", "cannot_say")]
"""How sure it is that two things differ, where no rule for ties comes in."""


class GainSerializer(serializers.Serializer[Any]):
    """What a version gained; ``value`` is null when the one before scored nothing."""

    value = FiniteField()
    low = serializers.FloatField(source="bounds.low")
    high = FiniteField(source="bounds.high")
    at_least = serializers.BooleanField()
    kind = serializers.ChoiceField(choices=SURENESS)
    reason = serializers.CharField()
    words = serializers.SerializerMethodField()

    def get_words(self, gain: Gain) -> str:
        return gain_in_words(gain)


class ClassGainSerializer(serializers.Serializer[Any]):
    n = serializers.IntegerField()
    improved = serializers.IntegerField()
    typical = serializers.FloatField(allow_null=True)
    kind = serializers.ChoiceField(choices=SURENESS)
    says = serializers.CharField()


def change_rules(change: GoalChange, goal: Mapping[str, Any]) -> Rules:
    """The rules that a goal of this run stands for."""
    return rules_of(goal, change.run.setup, change.run.core_family())


class GoalChangeSerializer(serializers.Serializer[Any]):
    """A change of the goal after tests had begun."""

    before = serializers.SerializerMethodField()
    after = serializers.SerializerMethodField()
    reason = serializers.CharField()
    author = serializers.CharField()
    changed_at = serializers.DateTimeField()

    def get_before(self, change: GoalChange) -> str:
        return goal_in_words(change_rules(change, change.before))

    def get_after(self, change: GoalChange) -> str:
        return goal_in_words(change_rules(change, change.after))


class NewGoalSerializer(GoalSerializer):
    """A goal for a run, with the reason that is needed once tests have begun."""

    reason = serializers.CharField(max_length=300, allow_blank=True, default="")


class LearntSerializer(serializers.Serializer[Any]):
    count = serializers.IntegerField()
    measured = serializers.FloatField()
    correction = serializers.FloatField()


class PairSerializer(serializers.Serializer[Any]):
    team = serializers.CharField()
    measured_kg = serializers.FloatField()
    predicted_kg = serializers.FloatField()


class ExperienceSerializer(serializers.Serializer[Any]):
    """What a class's designs of one material held of the model, and whether it is applied."""

    material = serializers.CharField()
    name = serializers.CharField()
    says = serializers.CharField()
    calibration = LearntSerializer(allow_null=True)
    applied = LearntSerializer(allow_null=True)
    pairs = serializers.SerializerMethodField()

    @extend_schema_field(PairSerializer(many=True))
    def get_pairs(self, experience: Any) -> list[dict[str, Any]]:
        return [{"team": team, "measured_kg": m, "predicted_kg": p} for team, m, p in experience.pairs]


class UseExperienceSerializer(serializers.Serializer[Any]):
    material = serializers.CharField(max_length=40)
    applied = serializers.BooleanField()


class PastRunSerializer(serializers.Serializer[Any]):
    """A run of a challenge in a line of its history."""

    id = serializers.IntegerField()
    date = serializers.DateField()
    class_name = serializers.CharField()
    designs = serializers.IntegerField(source="line.designs")
    # The best and the median in words; empty without a result, and where fewer than half came to an end.
    best = serializers.CharField()
    median = serializers.CharField()
    ran_out_share = serializers.FloatField(source="line.ran_out_share")


class HistorySerializer(serializers.Serializer[Any]):
    """A challenge over the years, and what that says of the next."""

    runs = PastRunSerializer(many=True)
    says = serializers.CharField()
