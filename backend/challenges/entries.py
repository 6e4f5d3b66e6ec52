"""Shapes of what is typed into a plan. Every quantity is text with its unit; the core reads it."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from challenges.kits import SOURCES
from challenges.models import AGE_BANDS, BREACH_POLICIES, SCHOOLS, TIE_RULES, TRIAL_RULES
from girder_core.families import FAMILIES
from girder_core.planning import DIAL
from girder_core.safety import DECLARED, HAZARDS

SHAPES = ["nut", "disc", "tile", "ball", "bag", "platform"]
FAMILY_KEYS = [(key, family.name) for key, family in FAMILIES.items()]
HAZARD_KEYS = [(key, hazard.title) for key, hazard in HAZARDS.items()]


class TypedText(serializers.CharField):
    """A quantity as typed; may be left empty."""

    def __init__(self, **kwargs: Any) -> None:
        super().__init__(max_length=40, allow_blank=True, **{"default": "", **kwargs})


class TypedKitItemSerializer(serializers.Serializer[Any]):
    """A load item as typed: a batch that was weighed, a published coin, a stated mass, or a row of unlike objects."""

    name = serializers.CharField(max_length=60, allow_blank=True)
    shape = serializers.ChoiceField(choices=SHAPES, default="disc")
    count = serializers.IntegerField(max_value=100_000, default=1)
    roll_of = serializers.IntegerField(default=1, max_value=10_000)
    known_by = serializers.ChoiceField(choices=SOURCES, default="batch")
    batch_count = serializers.IntegerField(max_value=100_000, default=1)
    batch_mass = TypedText()
    scale_resolution = TypedText()
    mass = TypedText()
    mass_doubt = TypedText()
    coin = TypedText()
    masses = serializers.ListField(child=TypedText(), max_length=60, default=list)
    diameter = TypedText()
    thickness = TypedText()


class TypedMaterialSerializer(serializers.Serializer[Any]):
    """A line of the kit list."""

    name = serializers.CharField(max_length=80, allow_blank=True)
    unit = serializers.CharField(max_length=20, default="", allow_blank=True)
    final = serializers.FloatField(default=0)
    practice = serializers.FloatField(default=0)
    per_bench = serializers.FloatField(default=0)
    per_class = serializers.FloatField(default=0)
    spare_share = serializers.FloatField(default=0)
    pack_size = serializers.FloatField(default=1)
    owned = serializers.FloatField(default=0)
    buildable = serializers.BooleanField(default=False)
    size = TypedText()
    hazards = serializers.ListField(child=serializers.ChoiceField(choices=HAZARD_KEYS), default=list, max_length=20)


class TypedContainerSizeSerializer(serializers.Serializer[Any]):
    diameter = TypedText()
    height = TypedText()


class TypedFactorSerializer(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=60, allow_blank=True)
    levels = serializers.ListField(child=serializers.CharField(max_length=60, allow_blank=True), max_length=12)


class GoalSerializer(serializers.Serializer[Any]):
    """What wins."""

    school = serializers.ChoiceField(choices=SCHOOLS, default="strength_to_weight")
    weights = serializers.DictField(child=serializers.FloatField(max_value=1000), default=dict)
    trial_rule = serializers.ChoiceField(choices=TRIAL_RULES, default="best")
    tie_rule = serializers.ChoiceField(choices=TIE_RULES, default="lighter")
    breach_policy = serializers.ChoiceField(choices=BREACH_POLICIES, default="note")
    penalty = serializers.FloatField(min_value=0, max_value=0.99, default=0.0)

    def validate_weights(self, value: dict[str, float]) -> dict[str, float]:
        if unknown := set(value) - {key for key, _ in SCHOOLS if key != "mix"}:
            raise serializers.ValidationError(f"There is no way of scoring called “{sorted(unknown)[0]}”.")
        return value


class PlanAnswersSerializer(serializers.Serializer[Any]):
    """The four answers, and the dial."""

    family = serializers.ChoiceField(choices=FAMILY_KEYS)
    age_band = serializers.ChoiceField(choices=AGE_BANDS, default="11-13")
    minutes = serializers.IntegerField(min_value=0, max_value=10_000, default=50)
    teams = serializers.IntegerField(min_value=1, max_value=60, default=8)
    students = serializers.IntegerField(min_value=1, max_value=400, allow_null=True, default=None)
    difficulty = serializers.IntegerField(min_value=DIAL[0], max_value=DIAL[-1], default=0)


class TypedPartsSerializer(GoalSerializer):
    """What of a plan can be typed besides the answers."""

    name = serializers.CharField(max_length=120, allow_blank=True)
    question = serializers.CharField(max_length=300, allow_blank=True, default="")
    setup = serializers.DictField(child=TypedText())
    kit = TypedKitItemSerializer(many=True, default=list)
    materials = TypedMaterialSerializer(many=True, default=list)
    container = TypedContainerSizeSerializer(allow_null=True, default=None)
    build_minutes = serializers.IntegerField(min_value=1, max_value=600, default=20)
    benches = serializers.IntegerField(min_value=1, max_value=20, default=1)
    two_lessons = serializers.BooleanField(default=False)
    drying_minutes = serializers.IntegerField(min_value=0, max_value=100_000, default=0)
    next_lesson_hours = serializers.FloatField(min_value=0, max_value=2000, default=24)
    factor = TypedFactorSerializer(allow_null=True, default=None)
    controls = serializers.ListField(
        child=serializers.CharField(max_length=120, allow_blank=True), default=list, max_length=30
    )
    declared = serializers.ListField(child=serializers.ChoiceField(choices=DECLARED), default=list)
    confirmed = serializers.ListField(child=serializers.ChoiceField(choices=HAZARD_KEYS), default=list)


class TypedRecipeSerializer(PlanAnswersSerializer, TypedPartsSerializer):
    """A complete plan as typed; this is also what stands in a recipe file.

    ``proposed`` names the fields that the planner filled and nobody touched: they follow when an answer changes.
    """

    proposed = serializers.ListField(child=serializers.CharField(max_length=60), default=list, max_length=80)


class OwnPartsSerializer(TypedPartsSerializer):
    """What the teacher typed over the proposals; what is not here is proposed."""

    def get_fields(self) -> dict[str, Any]:
        fields = super().get_fields()
        for field in fields.values():
            field.required = False
            field.default = serializers.empty
        return fields


class PlanRequestSerializer(PlanAnswersSerializer):
    own = OwnPartsSerializer(default=dict)
    # Which recipe is edited, if it is kept already: what it knows from other classes goes on counting.
    recipe = serializers.IntegerField(required=False, allow_null=True, default=None)


class RetireSerializer(serializers.Serializer[Any]):
    retired = serializers.BooleanField()


class RecipeFileSerializer(serializers.Serializer[Any]):
    """The text of a recipe file."""

    text = serializers.CharField(max_length=4_000_000, trim_whitespace=False)


class LibraryTakeSerializer(serializers.Serializer[Any]):
    slug = serializers.SlugField(max_length=60)
