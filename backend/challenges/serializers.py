"""Shapes of the challenges API. Set-ups and kits come in as typed text and go out in SI."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from challenges.models import BREACH_POLICIES, SCHOOLS, TRIAL_RULES, Recipe
from girder_core.units import Kind

QUANTITY_KINDS = [(kind.value, kind.value) for kind in Kind]
SHAPES = ["nut", "disc", "tile", "bag", "platform"]


class ModeSerializer(serializers.Serializer[Any]):
    """A way to end, a sign or a reason, with its key on the keyboard."""

    key = serializers.CharField()
    letter = serializers.CharField()
    label = serializers.CharField()
    explanation = serializers.CharField()


class ReadingSpecSerializer(serializers.Serializer[Any]):
    key = serializers.CharField()
    label = serializers.CharField()
    kind = serializers.ChoiceField(choices=QUANTITY_KINDS)
    how = serializers.CharField()
    needed = serializers.BooleanField()


class QuestionSerializer(serializers.Serializer[Any]):
    key = serializers.CharField()
    text = serializers.CharField()
    good = serializers.BooleanField()
    breach = serializers.CharField()


class SetupFieldSerializer(serializers.Serializer[Any]):
    key = serializers.CharField()
    label = serializers.CharField()
    kind = serializers.ChoiceField(choices=QUANTITY_KINDS)
    default = serializers.FloatField(allow_null=True)
    why = serializers.CharField()
    optional = serializers.BooleanField()


class CautionSerializer(serializers.Serializer[Any]):
    key = serializers.CharField()
    title = serializers.CharField()
    text = serializers.CharField()
    stages = serializers.ListField(child=serializers.CharField())


class FamilySerializer(serializers.Serializer[Any]):
    """What a kind of challenge measures, asks, watches for and ends with."""

    key = serializers.CharField()
    name = serializers.CharField()
    built = serializers.CharField()
    setup = SetupFieldSerializer(many=True)
    readings = ReadingSpecSerializer(many=True)
    questions = QuestionSerializer(many=True)
    failure_modes = ModeSerializer(many=True)
    loading_errors = ModeSerializer(many=True)
    run_out_reasons = ModeSerializer(many=True)
    observations = ModeSerializer(many=True)
    cautions = CautionSerializer(many=True)


class KitItemSerializer(serializers.Serializer[Any]):
    """A load item as kept, in SI."""

    key = serializers.CharField()
    name = serializers.CharField()
    shape = serializers.ChoiceField(choices=SHAPES)
    count = serializers.IntegerField()
    roll_of = serializers.IntegerField()
    mass_kg = serializers.FloatField()
    mass_u_kg = serializers.FloatField()
    batch_count = serializers.IntegerField()
    batch_mass_kg = serializers.FloatField()
    scale_resolution_kg = serializers.FloatField()
    diameter_m = serializers.FloatField()
    thickness_m = serializers.FloatField()


class TypedKitItemSerializer(serializers.Serializer[Any]):
    """A load item as typed: the batch that was weighed, with units."""

    name = serializers.CharField(max_length=60)
    shape = serializers.ChoiceField(choices=SHAPES, default="disc")
    count = serializers.IntegerField(max_value=100_000)
    roll_of = serializers.IntegerField(default=1, max_value=10_000)
    batch_count = serializers.IntegerField(max_value=100_000)
    batch_mass = serializers.CharField(max_length=40, allow_blank=True)
    scale_resolution = serializers.CharField(max_length=40, allow_blank=True)
    diameter = serializers.CharField(max_length=40, allow_blank=True, default="")
    thickness = serializers.CharField(max_length=40, allow_blank=True, default="")


class TermsSerializer(serializers.Serializer[Any]):
    """What a recipe and a run have in common, in SI."""

    id = serializers.IntegerField()
    name = serializers.CharField()
    question = serializers.CharField()
    family = serializers.CharField()
    setup = serializers.DictField(child=serializers.FloatField(allow_null=True))
    kit = KitItemSerializer(many=True)
    school = serializers.ChoiceField(choices=SCHOOLS)
    trial_rule = serializers.ChoiceField(choices=TRIAL_RULES)
    breach_policy = serializers.ChoiceField(choices=BREACH_POLICIES)
    penalty = serializers.FloatField()
    build_minutes = serializers.IntegerField()


class RecipeSerializer(TermsSerializer):
    """A recipe in SI, and as it was typed."""

    typed_setup = serializers.DictField(source="typed.setup", child=serializers.CharField())
    typed_kit = TypedKitItemSerializer(source="typed.kit", many=True)
    retired = serializers.BooleanField()
    run_count = serializers.IntegerField()


class TypedRecipeSerializer(serializers.ModelSerializer[Recipe]):
    """A recipe as typed: every quantity is text with its unit."""

    family = serializers.ChoiceField(choices=["bridge"])
    setup = serializers.DictField(child=serializers.CharField(max_length=40, allow_blank=True))
    kit = TypedKitItemSerializer(many=True)
    penalty = serializers.FloatField(min_value=0, max_value=0.99, default=0.0)
    build_minutes = serializers.IntegerField(min_value=1, max_value=600, default=20)

    class Meta:
        model = Recipe
        fields = [
            "name", "question", "family", "setup", "kit", "school", "trial_rule", "breach_policy", "penalty",
            "build_minutes",
        ]  # fmt: skip


class RetireSerializer(serializers.Serializer[Any]):
    retired = serializers.BooleanField()
