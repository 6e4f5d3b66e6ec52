"""Shapes of what comes after the tests: answers, hints, the rubric."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from girder_core.results import SOURCE_WORDS
from people.serializers import TeamSerializer
from results.rubric import TeamMarks

RUBRIC_SOURCES = [(source.value, words) for source, words in SOURCE_WORDS.items()]


class ReflectionSerializer(serializers.Serializer[Any]):
    question = serializers.CharField(max_length=200)
    text = serializers.CharField(max_length=1000, allow_blank=True)


class HintsSerializer(serializers.Serializer[Any]):
    hidden = serializers.BooleanField()


class CriterionSerializer(serializers.Serializer[Any]):
    """One line of a rubric; levels from the lowest."""

    key = serializers.CharField(max_length=40, allow_blank=True, default="")
    name = serializers.CharField(max_length=80)
    source = serializers.ChoiceField(choices=RUBRIC_SOURCES)
    levels = serializers.ListField(child=serializers.CharField(max_length=120), min_length=2, max_length=6)
    weight = serializers.FloatField(min_value=0, max_value=100)


class NewRubricSerializer(serializers.Serializer[Any]):
    """The criteria of a run's rubric; none takes it away."""

    criteria = CriterionSerializer(many=True)


class RubricMarkSerializer(serializers.Serializer[Any]):
    """A level by hand; null leaves it to the results again."""

    criterion = serializers.CharField(max_length=40)
    level = serializers.IntegerField(min_value=0, max_value=5, allow_null=True)


class JudgedSerializer(serializers.Serializer[Any]):
    level = serializers.IntegerField(allow_null=True)
    by_hand = serializers.BooleanField()


class TeamMarksSerializer(serializers.Serializer[TeamMarks]):
    design = serializers.IntegerField(source="card.design.pk")
    team = TeamSerializer(source="card.design.team")
    levels = serializers.DictField(child=JudgedSerializer())
    points = serializers.FloatField(allow_null=True)


class RubricSourceSerializer(serializers.Serializer[Any]):
    """Where a level can come from, and in words."""

    source = serializers.ChoiceField(choices=RUBRIC_SOURCES)
    words = serializers.CharField()


class RubricSerializer(serializers.Serializer[Any]):
    """A run's rubric filled in; ``proposed`` is what to begin with while there is none.

    ``last`` is the rubric of an earlier run of the same kind, empty without one, and ``last_from`` says which.
    """

    criteria = CriterionSerializer(many=True)
    proposed = CriterionSerializer(many=True)
    last = CriterionSerializer(many=True)
    last_from = serializers.CharField(allow_blank=True)
    sources = RubricSourceSerializer(many=True)
    teams = TeamMarksSerializer(many=True)
