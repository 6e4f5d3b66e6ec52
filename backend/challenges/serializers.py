"""Shapes of what the challenges API answers: everything in SI, drawings in metres, sentences ready to be shown."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from challenges.entries import FAMILY_KEYS, SHAPES, GoalSerializer, TypedRecipeSerializer
from challenges.kits import SOURCES
from challenges.models import AGE_BANDS, SCHOOLS, Recipe
from girder_core.families import Family, Picture, Way
from girder_core.ground import Role
from girder_core.measure import COVERAGE_FACTOR, Kind
from girder_core.results import expected_after, expected_in_words
from girder_core.safety import AgeBand
from girder_core.trial import BenchMeasure, Shows

SHOWS = [(shows.value, shows.value) for shows in Shows]
PICTURES = [(picture.value, picture.value) for picture in Picture]
QUANTITY_KINDS = [(kind.value, kind.value) for kind in Kind]
WAYS = [(way.value, way.value) for way in Way]
SHAPE_KINDS = ["area", "line", "circle", "measure", "label"]
ROLES = [role.value for role in Role]


class ModeSerializer(serializers.Serializer[Any]):
    """A way to end, a sign or a reason, with its key on the keyboard."""

    key = serializers.CharField()
    letter = serializers.CharField()
    label = serializers.CharField()
    explanation = serializers.CharField()
    redesign = serializers.ListField(child=serializers.CharField())


class ReadingSpecSerializer(serializers.Serializer[Any]):
    key = serializers.CharField()
    label = serializers.CharField()
    kind = serializers.ChoiceField(choices=QUANTITY_KINDS)
    how = serializers.CharField()
    needed = serializers.BooleanField()
    may_follow = serializers.BooleanField()
    aside = serializers.BooleanField()
    # Whether it can be measured in a photograph.
    pictured = serializers.BooleanField()
    way = serializers.ChoiceField(choices=WAYS)


class QuestionSerializer(serializers.Serializer[Any]):
    key = serializers.CharField()
    text = serializers.CharField()
    good = serializers.BooleanField()
    breach = serializers.CharField()
    blocks = serializers.BooleanField()


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
    condition = serializers.CharField()


class SchoolChoiceSerializer(serializers.Serializer[Any]):
    school = serializers.ChoiceField(choices=SCHOOLS)
    why = serializers.CharField()


class WordsSerializer(serializers.Serializer[Any]):
    """What a choice is called, and why one would make it."""

    key = serializers.CharField()
    label = serializers.CharField()
    why = serializers.CharField()


class TermSerializer(serializers.Serializer[Any]):
    word = serializers.CharField()
    meaning = serializers.CharField()


class MetricSerializer(serializers.Serializer[Any]):
    key = serializers.CharField()
    label = serializers.CharField()
    how = serializers.CharField()


class FactorIdeaSerializer(serializers.Serializer[Any]):
    name = serializers.CharField()
    levels = serializers.ListField(child=serializers.CharField())
    why = serializers.CharField()


class StandardSerializer(serializers.Serializer[Any]):
    code = serializers.CharField()
    text = serializers.CharField()


class ShapeSerializer(serializers.Serializer[Any]):
    """Part of a drawing to scale."""

    kind = serializers.ChoiceField(choices=SHAPE_KINDS)
    role = serializers.ChoiceField(choices=ROLES)
    points = serializers.ListField(child=serializers.ListField(child=serializers.FloatField()))
    radius_m = serializers.FloatField()
    text = serializers.CharField()
    key = serializers.CharField()
    length_m = serializers.SerializerMethodField()

    def get_length_m(self, shape: Any) -> float:
        return float(shape.length_m) if shape.kind == "measure" else 0.0


class DrawingSerializer(serializers.Serializer[Any]):
    shapes = ShapeSerializer(many=True)
    says = serializers.CharField()
    box = serializers.SerializerMethodField()

    @extend_schema_field(serializers.ListField(child=serializers.FloatField()))
    def get_box(self, drawing: Any) -> list[float]:
        """Left, bottom, right and top."""
        return list(drawing.box())


class BenchMeasureSerializer(serializers.Serializer[Any]):
    """Something that is measured at the bench."""

    key = serializers.CharField()
    label = serializers.CharField()
    kind = serializers.ChoiceField(choices=QUANTITY_KINDS)
    how = serializers.CharField()
    needed = serializers.BooleanField()
    short = serializers.CharField()
    lead = serializers.CharField()
    unit = serializers.CharField()
    beside = serializers.CharField()
    yes_no = serializers.BooleanField()
    # Whether it can be followed from picture to picture.
    followed = serializers.SerializerMethodField()
    # Whether it can be measured in one picture.
    pictured = serializers.BooleanField()
    # Whether it can be counted from a picture of loose pieces.
    counted_loose = serializers.SerializerMethodField()
    # The reading of check-in that has the same before an attack.
    before = serializers.CharField()

    def get_followed(self, measure: BenchMeasure) -> bool:
        return measure.way is not None

    def get_counted_loose(self, measure: BenchMeasure) -> bool:
        return measure.loose is not None


class ProcedureSerializer(serializers.Serializer[Any]):
    """How a structure is tested at the bench."""

    key = serializers.CharField()
    shows = serializers.ChoiceField(choices=SHOWS)
    lead = serializers.CharField()
    size_kind = serializers.ChoiceField(choices=QUANTITY_KINDS)
    ask = serializers.CharField()
    other = serializers.CharField()
    counted = serializers.CharField()
    hit_or_miss = serializers.BooleanField()
    hit = serializers.CharField()
    miss = serializers.CharField()
    miss_is_well = serializers.BooleanField()
    rehearses = serializers.BooleanField()
    top_load = serializers.BooleanField()


class BenchWaysSerializer(serializers.Serializer[Any]):
    """What the bench does with this kind of structure."""

    measures = BenchMeasureSerializer(many=True)
    arrangements = ModeSerializer(many=True)
    counts_pieces = serializers.BooleanField()
    seats = serializers.BooleanField()
    needs_all = serializers.BooleanField()
    picture = serializers.ChoiceField(choices=PICTURES)


class FamilySerializer(serializers.Serializer[Any]):
    """What a kind of challenge measures, asks, watches for, explains and ends with."""

    key = serializers.ChoiceField(choices=FAMILY_KEYS)
    name = serializers.CharField()
    built = serializers.CharField()
    tested = serializers.CharField()
    question = serializers.CharField()
    loaded = serializers.BooleanField()
    drafted = serializers.BooleanField()
    procedure = serializers.SerializerMethodField()
    bench = BenchWaysSerializer()
    setup = SetupFieldSerializer(many=True)
    readings = ReadingSpecSerializer(many=True)
    result_readings = serializers.ListField(child=serializers.CharField())
    questions = QuestionSerializer(many=True)
    failure_modes = ModeSerializer(many=True)
    loading_errors = ModeSerializer(many=True)
    run_out_reasons = ModeSerializer(many=True)
    observations = ModeSerializer(many=True)
    schools = SchoolChoiceSerializer(many=True)
    metrics = MetricSerializer(many=True)
    vocabulary = TermSerializer(many=True)
    young = serializers.CharField()
    older = serializers.CharField()
    ideas = serializers.ListField(child=serializers.CharField())
    factors = FactorIdeaSerializer(many=True)
    controls = serializers.ListField(child=serializers.CharField())
    reflect = serializers.ListField(child=serializers.CharField())
    cautions = CautionSerializer(many=True)
    sketch = serializers.SerializerMethodField()

    @extend_schema_field(ProcedureSerializer())
    def get_procedure(self, family: Family) -> Any:
        return ProcedureSerializer(family.procedure(family.usual(AgeBand.AGES_11_13))).data

    @extend_schema_field(DrawingSerializer())
    def get_sketch(self, family: Family) -> Any:
        """Its usual set-up, to scale."""
        return DrawingSerializer(family.draw(family.usual(AgeBand.AGES_11_13))).data


class KitItemSerializer(serializers.Serializer[Any]):
    """A load item as kept, in SI."""

    key = serializers.CharField()
    name = serializers.CharField()
    shape = serializers.ChoiceField(choices=SHAPES)
    count = serializers.IntegerField()
    roll_of = serializers.IntegerField()
    order = serializers.IntegerField(default=0)
    known_by = serializers.ChoiceField(choices=SOURCES, default="batch")
    coin = serializers.CharField(default="")
    mass_kg = serializers.FloatField()
    mass_u_kg = serializers.FloatField()
    # How far it can be off, coverage factor 2.
    mass_doubt_kg = serializers.SerializerMethodField()
    batch_count = serializers.IntegerField(default=0)
    batch_mass_kg = serializers.FloatField(default=0)
    scale_resolution_kg = serializers.FloatField(default=0)
    diameter_m = serializers.FloatField()
    thickness_m = serializers.FloatField()

    def get_mass_doubt_kg(self, item: Mapping[str, Any]) -> float:
        return COVERAGE_FACTOR * float(item["mass_u_kg"])


class TermsSerializer(GoalSerializer):
    """What a recipe and a run have in common, in SI."""

    id = serializers.IntegerField()
    name = serializers.CharField()
    question = serializers.CharField()
    family = serializers.ChoiceField(choices=FAMILY_KEYS)
    age_band = serializers.ChoiceField(choices=AGE_BANDS)
    setup = serializers.DictField(child=serializers.FloatField(allow_null=True))
    kit = KitItemSerializer(many=True)
    minutes = serializers.IntegerField()
    build_minutes = serializers.IntegerField()


class ElsewhereSerializer(serializers.Serializer[Any]):
    """What other classes held under the terms of a recipe that was taken over, and whether that counts: it does while
    the terms are as they were."""

    designs = serializers.IntegerField()
    runs = serializers.IntegerField()
    counts = serializers.BooleanField()
    says = serializers.CharField()


class RecipeSerializer(TermsSerializer):
    """A recipe in SI, and as it was typed."""

    teams = serializers.IntegerField()
    typed = TypedRecipeSerializer()
    retired = serializers.BooleanField()
    run_count = serializers.IntegerField()
    elsewhere = serializers.SerializerMethodField()

    @extend_schema_field(ElsewhereSerializer(allow_null=True))
    def get_elsewhere(self, recipe: Recipe) -> dict[str, Any] | None:
        if recipe.elsewhere is None:
            return None
        prior = recipe.prior()
        says = expected_in_words(expected_after(prior)) if prior else ""
        return {**{name: recipe.elsewhere[name] for name in ("designs", "runs")}, "counts": bool(prior), "says": says}


class LibraryEntrySerializer(serializers.Serializer[Any]):
    """A recipe that ships with the application."""

    slug = serializers.CharField()
    name = serializers.CharField()
    question = serializers.CharField()
    family = serializers.ChoiceField(choices=FAMILY_KEYS)
    age_band = serializers.ChoiceField(choices=AGE_BANDS)
    minutes = serializers.IntegerField()


class CoinSerializer(serializers.Serializer[Any]):
    """A published coin."""

    key = serializers.CharField()
    name = serializers.CharField()
    mass_kg = serializers.FloatField()
    diameter_m = serializers.FloatField()
    thickness_m = serializers.FloatField()
    roll_of = serializers.IntegerField()
    source = serializers.CharField()


class GoalWordsSerializer(serializers.Serializer[Any]):
    """What every choice of a goal is called, and what a teacher may say is used."""

    schools = WordsSerializer(many=True)
    trial_rules = WordsSerializer(many=True)
    tie_rules = WordsSerializer(many=True)
    breach_policies = WordsSerializer(many=True)
    declared = CautionSerializer(many=True)


class LineSerializer(serializers.Serializer[Any]):
    """A line of the kit list."""

    name = serializers.CharField(source="material.name")
    unit = serializers.CharField(source="material.unit")
    per_team_final = serializers.FloatField(source="material.final")
    per_team_practice = serializers.FloatField(source="material.practice")
    final = serializers.FloatField()
    practice = serializers.FloatField()
    benches = serializers.FloatField()
    spares = serializers.FloatField()
    needed = serializers.FloatField()
    owned = serializers.FloatField(source="material.owned")
    pack_size = serializers.FloatField(source="material.pack_size")
    packs = serializers.IntegerField()
    bought = serializers.FloatField()
    left_over = serializers.FloatField()
    needed_words = serializers.CharField()
    buy_words = serializers.CharField()


class MoreSerializer(serializers.Serializer[Any]):
    item = serializers.CharField()
    count = serializers.IntegerField()
    mass_kg = serializers.FloatField()


class CoverSerializer(serializers.Serializer[Any]):
    """Whether the load lasts for the strongest team."""

    enough = serializers.BooleanField()
    chance = serializers.FloatField(allow_null=True)
    total_kg = serializers.FloatField()
    needed_kg = serializers.FloatField()
    short_kg = serializers.FloatField()
    more = MoreSerializer(many=True)
    sentence = serializers.CharField()
    coarse = serializers.CharField()


class FillSerializer(serializers.Serializer[Any]):
    item = serializers.CharField()
    count = serializers.IntegerField()
    mass_kg = serializers.FloatField()


class SegmentSerializer(serializers.Serializer[Any]):
    key = serializers.CharField()
    label = serializers.CharField()
    start_min = serializers.FloatField()
    end_min = serializers.FloatField()
    note = serializers.CharField()


class TimelineSerializer(serializers.Serializer[Any]):
    """The lessons against the clock."""

    lessons = serializers.ListField(child=SegmentSerializer(many=True))
    minutes = serializers.FloatField()
    build_minutes = serializers.FloatField()
    warnings_min = serializers.ListField(child=serializers.FloatField())
    drying_minutes = serializers.FloatField()
    next_lesson_hours = serializers.FloatField(allow_null=True)
    test_seconds = serializers.FloatField()
    resolution = serializers.FloatField(allow_null=True)
    teams_that_fit = serializers.IntegerField()
    fits = serializers.BooleanField()
    gives = serializers.ListField(child=serializers.CharField())


class BriefLineSerializer(serializers.Serializer[Any]):
    term = serializers.CharField()
    text = serializers.CharField()


class SayingSerializer(serializers.Serializer[Any]):
    """What to explain, to try and to keep the same, by what is built with."""

    young = serializers.CharField()
    older = serializers.CharField()
    ideas = serializers.ListField(child=serializers.CharField())
    factors = FactorIdeaSerializer(many=True)
    controls = serializers.ListField(child=serializers.CharField())


class ConsequencesSerializer(serializers.Serializer[Any]):
    """What follows from a plan; shared by the planner's sheet and the pages of a run."""

    kit_list = LineSerializer(many=True, source="follows.lines")
    saying = SayingSerializer()
    cover = CoverSerializer(source="follows.cover", allow_null=True)
    fills = FillSerializer(source="follows.fills", many=True)
    timeline = TimelineSerializer(source="follows.timeline", allow_null=True)
    cautions = serializers.SerializerMethodField()
    levels = serializers.SerializerMethodField()
    notes = serializers.ListField(child=serializers.CharField(), source="follows.notes")
    brief = BriefLineSerializer(many=True)
    drawing = DrawingSerializer()
    standards = StandardSerializer(many=True)

    @extend_schema_field(CautionSerializer(many=True))
    def get_cautions(self, shown: Any) -> Any:
        sheet = shown.follows.safety
        return CautionSerializer(sheet.cautions if sheet else [], many=True).data

    @extend_schema_field(serializers.ListField(child=serializers.CharField()))
    def get_levels(self, shown: Any) -> list[str]:
        return list(shown.follows.assignment.levels) if shown.follows.assignment else []


class PlanSheetSerializer(ConsequencesSerializer):
    """A filled planner sheet."""

    entry = TypedRecipeSerializer()
    own = serializers.ListField(child=serializers.CharField())
    reasons = serializers.DictField(child=serializers.CharField())
    moved = serializers.DictField(child=serializers.IntegerField())
    problems = serializers.DictField(child=serializers.CharField())
    kit = KitItemSerializer(many=True)
