"""Shapes of a compared run. Everything is SI; an upper bound that is not known is null."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from bench.serializers import IntervalSerializer
from challenges.models import SCHOOLS, TRIAL_RULES
from evengirder.fields import QuantitySerializer
from girder_core.results import OPEN_VERDICTS, VERDICT_WORDS, Prospect, Verdict
from people.serializers import TeamSerializer
from results.chart_serializers import ChartSerializer
from results.serializers import VERDICT_KINDS


class RankRangeSerializer(serializers.Serializer[Any]):
    best = serializers.IntegerField()
    worst = serializers.IntegerField()


class VerdictSerializer(serializers.Serializer[Verdict]):
    kind = serializers.ChoiceField(choices=VERDICT_KINDS)
    reason = serializers.CharField()
    # In few words, and whether it leaves the order open.
    told = serializers.SerializerMethodField()
    open = serializers.SerializerMethodField()

    def get_told(self, verdict: Verdict) -> str:
        return VERDICT_WORDS[verdict.kind]

    def get_open(self, verdict: Verdict) -> bool:
        return verdict.kind in OPEN_VERDICTS


class ScoreSerializer(serializers.Serializer[Any]):
    value = serializers.FloatField()
    interval = IntervalSerializer()
    held_kg = serializers.FloatField()
    held_interval = IntervalSerializer()
    self_mass = QuantitySerializer(allow_null=True)
    trials = serializers.IntegerField()
    at_least = serializers.BooleanField()
    penalised = serializers.BooleanField()
    broke_kg = serializers.FloatField(allow_null=True)
    shares = serializers.DictField(child=serializers.FloatField())


class ProspectSerializer(serializers.Serializer[Prospect]):
    """What is to be expected if all were built and tested again; chances from 0 to 1."""

    first = serializers.FloatField()
    best = serializers.FloatField()
    ranks = RankRangeSerializer()
    better = serializers.FloatField(allow_null=True)
    ahead = serializers.FloatField(allow_null=True)
    # To hold the target again, where one decides.
    passes = serializers.FloatField(allow_null=True)


class RankedSerializer(serializers.Serializer[Any]):
    design = serializers.IntegerField()
    version = serializers.IntegerField()
    team = TeamSerializer()
    place = serializers.IntegerField()
    places = serializers.CharField()
    shared = serializers.BooleanField()
    ranks = RankRangeSerializer()
    score = ScoreSerializer()
    # What it came to, whatever a penalty takes off; and the penalty with its reason, in a sentence and in few words.
    words = serializers.CharField()
    penalty = serializers.CharField()
    counts_as = serializers.CharField()
    mode = serializers.CharField(allow_null=True)
    against_next = VerdictSerializer(allow_null=True)
    prospect = ProspectSerializer()


class UnrankedSerializer(serializers.Serializer[Any]):
    design = serializers.IntegerField()
    team = TeamSerializer()
    code = serializers.CharField()
    sentence = serializers.CharField()


class VoidSerializer(serializers.Serializer[Any]):
    team = TeamSerializer()
    design = serializers.IntegerField()
    trial = serializers.UUIDField()
    version = serializers.IntegerField()
    number = serializers.IntegerField()
    reason = serializers.CharField()
    load_on_kg = serializers.FloatField()


class ScatterSerializer(serializers.Serializer[Any]):
    cv = serializers.FloatField()
    degrees_of_freedom = serializers.IntegerField()
    designs = serializers.IntegerField()


class DifferenceSerializer(serializers.Serializer[Any]):
    """What was not like with like: which design, whether it could have decided the win, what to do about it."""

    design = serializers.IntegerField()
    says = serializers.CharField()
    decides = serializers.BooleanField()
    mend = serializers.CharField(allow_blank=True)


class ComparisonSerializer(serializers.Serializer[Any]):
    """A run compared under the rules named in it."""

    school = serializers.ChoiceField(choices=SCHOOLS)
    trial_rule = serializers.ChoiceField(choices=TRIAL_RULES)
    official = serializers.BooleanField()
    # Who won today, and whether they would win again.
    headline = serializers.CharField()
    again = serializers.CharField(allow_blank=True)
    explanation = serializers.CharField()
    ranked = RankedSerializer(many=True)
    unranked = UnrankedSerializer(many=True)
    voids = VoidSerializer(many=True)
    differences = DifferenceSerializer(many=True)
    retests = serializers.ListField(child=serializers.CharField())
    scatter = ScatterSerializer(allow_null=True)
    # Whether it could make a difference which trials of a design count.
    rule_matters = serializers.BooleanField()


class DrawnComparisonSerializer(ComparisonSerializer):
    """A comparison with its charts."""

    ranking = ChartSerializer()
    rays = ChartSerializer(allow_null=True)
