"""Shapes of the reasons behind a ranking. Everything is SI; an upper bound that is not known is null."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from bench.serializers import IntervalSerializer
from challenges.serializers import QUANTITY_KINDS
from results.chart_serializers import ChartSerializer
from results.serializers import SURENESS

FORESIGHTS = [(word, word) for word in ("right", "too_high", "too_low", "open")]


class TrialMarkSerializer(serializers.Serializer[Any]):
    value = serializers.FloatField()
    at_least = serializers.BooleanField()


class SampleMeanSerializer(serializers.Serializer[Any]):
    n = serializers.IntegerField()
    mean = serializers.FloatField()
    sd = serializers.FloatField(allow_null=True)
    low = serializers.FloatField(allow_null=True)
    high = serializers.FloatField(allow_null=True)


class MemberSerializer(serializers.Serializer[Any]):
    design = serializers.IntegerField(source="key")
    value = serializers.FloatField()
    at_least = serializers.BooleanField()
    marks = TrialMarkSerializer(many=True)


class LevelSerializer(serializers.Serializer[Any]):
    name = serializers.CharField()
    members = MemberSerializer(many=True)
    mean = SampleMeanSerializer(allow_null=True)
    at_least = serializers.BooleanField()


class FactorEffectSerializer(serializers.Serializer[Any]):
    levels = LevelSerializer(many=True)
    best = serializers.CharField(allow_blank=True)
    sure = serializers.ChoiceField(choices=SURENESS)
    says = serializers.CharField()
    because = serializers.CharField(allow_blank=True)
    confounders = serializers.ListField(child=serializers.CharField())


class PointSerializer(serializers.Serializer[Any]):
    design = serializers.IntegerField()
    value = serializers.FloatField()
    score = serializers.FloatField()
    at_least = serializers.BooleanField()


class ChosenSerializer(serializers.Serializer[Any]):
    key = serializers.CharField()
    label = serializers.CharField()
    kind = serializers.ChoiceField(choices=QUANTITY_KINDS)
    points = PointSerializer(many=True)
    says = serializers.CharField()


class ForesightSerializer(serializers.Serializer[Any]):
    design = serializers.IntegerField(source="key")
    said = serializers.FloatField()
    came = serializers.FloatField()
    bounds = IntervalSerializer()
    error = serializers.FloatField(allow_null=True)
    verdict = serializers.ChoiceField(choices=FORESIGHTS)


class TallySerializer(serializers.Serializer[Any]):
    label = serializers.CharField()
    count = serializers.IntegerField()
    names = serializers.ListField(child=serializers.CharField())


class RepeatedSerializer(serializers.Serializer[Any]):
    design = serializers.IntegerField(source="key")
    marks = TrialMarkSerializer(many=True)
    mean = SampleMeanSerializer()


class SurvivalStepSerializer(serializers.Serializer[Any]):
    load_kg = serializers.FloatField()
    share = serializers.FloatField()


class FitSerializer(serializers.Serializer[Any]):
    mu = serializers.FloatField()
    sigma = serializers.FloatField()
    median_kg = serializers.FloatField()
    median_low_kg = serializers.FloatField()
    median_high_kg = serializers.FloatField()
    n = serializers.IntegerField()
    ran_out = serializers.IntegerField()


class ReasonChartsSerializer(serializers.Serializer[Any]):
    """The charts behind a ranking."""

    factor = ChartSerializer(allow_null=True)
    foresight = ChartSerializer(allow_null=True)
    against = ChartSerializer(many=True)
    endings = ChartSerializer(allow_null=True)
    survival = ChartSerializer(allow_null=True)
    # What designs that were tested more than once came to, a line each.
    repeats = serializers.ListField(child=serializers.CharField())


class ReasonsSerializer(serializers.Serializer[Any]):
    """What stands behind a ranking."""

    factor_name = serializers.CharField(allow_blank=True)
    factor = FactorEffectSerializer(allow_null=True)
    chosen = ChosenSerializer(many=True)
    teams = ForesightSerializer(many=True)
    teams_say = serializers.CharField()
    model = ForesightSerializer(many=True)
    model_says = serializers.CharField()
    ways = TallySerializer(many=True)
    repeated = RepeatedSerializer(many=True)
    survival = SurvivalStepSerializer(many=True)
    median_kg = serializers.FloatField(allow_null=True)
    fit = FitSerializer(allow_null=True)
    fit_says = serializers.CharField(allow_blank=True)
    charts = ReasonChartsSerializer()
