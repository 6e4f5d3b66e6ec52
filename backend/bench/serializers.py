"""Shapes of the bench API. Everything is SI; an upper bound that is not known is null."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from bench.models import PHOTO_OF, Reading
from bench.reflection_serializers import ReflectionSerializer
from bench.selectors import DesignCard
from bench.trial_serializers import EstimateSerializer, RoundPlanSerializer, TrialSerializer
from challenges.entries import GoalSerializer
from challenges.models import GoalChange, Run, rules_of
from challenges.serializers import DrawingSerializer, TermsSerializer
from drafting.serializers import MovesField
from evengirder.fields import FiniteField
from girder_core.planning import goal_in_words
from girder_core.results import Rules, VerdictKind, changes_in
from people.serializers import TeamSerializer

VERDICT_KINDS = [(kind.value, kind.value) for kind in VerdictKind]
SURENESS = [(word, word) for word in ("clear", "likely", "too_close", "cannot_say")]
"""How sure it is that two things differ, where no rule for ties comes in."""


class RepeatSerializer(serializers.Serializer[Any]):
    """An earlier reading of the same thing that counts together with the latest."""

    text = serializers.CharField()
    value_si = serializers.FloatField()


class ReadingSerializer(serializers.ModelSerializer[Reading]):
    estimated = serializers.BooleanField(read_only=True)
    value_si = serializers.FloatField(source="quantity.value", read_only=True)
    standard_uncertainty_si = serializers.FloatField(source="quantity.standard_uncertainty", read_only=True)
    repeats = RepeatSerializer(many=True, read_only=True)
    spread_si = serializers.FloatField(read_only=True)

    class Meta:
        model = Reading
        fields = [
            "key", "text", "zero_text", "tare_text", "resolution_text", "value_si", "standard_uncertainty_si",
            "after_test", "estimated", "taken_at", "repeats", "spread_si",
        ]  # fmt: skip


class ConstraintSerializer(serializers.Serializer[Any]):
    key = serializers.CharField()
    label = serializers.CharField()
    status = serializers.ChoiceField(choices=["kept", "breached", "doubtful", "missing"])
    sentence = serializers.CharField()


class ScaleAdviceSerializer(serializers.Serializer[Any]):
    good = serializers.BooleanField()
    relative = serializers.FloatField()
    advice = serializers.CharField()


class PredictionSerializer(serializers.Serializer[Any]):
    text = serializers.CharField()
    load_kg = serializers.FloatField()
    said_at = serializers.DateTimeField()


class KeptDraftSerializer(serializers.Serializer[Any]):
    """A draft kept with a design."""

    kind = serializers.CharField()
    typed = serializers.DictField(child=serializers.CharField())
    moves = MovesField()
    material = serializers.CharField()
    mass_kg = serializers.FloatField()
    drafted_at = serializers.DateTimeField()


class GainSerializer(serializers.Serializer[Any]):
    """What a version gained; ``value`` is null when the one before scored nothing."""

    value = FiniteField()
    low = serializers.FloatField(source="bounds.low")
    high = FiniteField(source="bounds.high")
    at_least = serializers.BooleanField()
    kind = serializers.ChoiceField(choices=SURENESS)
    reason = serializers.CharField()


class ClassGainSerializer(serializers.Serializer[Any]):
    n = serializers.IntegerField()
    improved = serializers.IntegerField()
    typical = serializers.FloatField(allow_null=True)
    kind = serializers.ChoiceField(choices=SURENESS)
    says = serializers.CharField()


class PhotoSerializer(serializers.Serializer[Any]):
    """A photograph; its picture is at ``photos/{id}``."""

    id = serializers.IntegerField()
    what = serializers.ChoiceField(choices=PHOTO_OF)
    width = serializers.IntegerField()
    height = serializers.IntegerField()


class NewPhotoSerializer(serializers.Serializer[Any]):
    photo = serializers.FileField(allow_empty_file=True)
    what = serializers.ChoiceField(choices=PHOTO_OF, default="design")


class DesignSerializer(serializers.Serializer[DesignCard]):
    """A design with its readings, checks and trials."""

    id = serializers.IntegerField(source="design.id")
    version = serializers.IntegerField(source="design.version")
    changed = serializers.CharField(source="design.changed")
    level = serializers.CharField(source="design.level")
    note = serializers.CharField(source="design.note")
    team = TeamSerializer(source="design.team")
    state = serializers.ChoiceField(
        choices=["waiting", "checked_in", "on_bench", "broke", "ran_out", "done", "void", "measured"]
    )
    checked_in = serializers.SerializerMethodField()
    answers = serializers.DictField(source="design.answers", child=serializers.BooleanField())
    readings = serializers.SerializerMethodField()
    scale_advice = ScaleAdviceSerializer(allow_null=True)
    constraints = ConstraintSerializer(many=True)
    prediction = PredictionSerializer(allow_null=True)
    trials = TrialSerializer(many=True)
    draft = KeptDraftSerializer(allow_null=True)
    # The model's range and what it says goes first; null while it is kept back or where there is none.
    model = serializers.SerializerMethodField()
    model_goes_first = serializers.SerializerMethodField()
    veiled = serializers.BooleanField()
    said_first = serializers.BooleanField()
    practice_used = serializers.IntegerField(source="design.practice_used")
    photos = PhotoSerializer(many=True, source="design.photos")
    controls_broken = serializers.ListField(source="design.controls_broken", child=serializers.CharField())
    glued = serializers.SerializerMethodField()
    drying_left_s = serializers.FloatField()
    deck_places = serializers.ListField(child=serializers.ListField(child=serializers.FloatField()))
    wet_reasons = serializers.SerializerMethodField()
    gain = GainSerializer(allow_null=True)
    # What the team says it changed, parted into single changes.
    changes = serializers.SerializerMethodField()
    reflections = ReflectionSerializer(many=True, source="design.reflections")

    @extend_schema_field(EstimateSerializer(allow_null=True))
    def get_model(self, card: DesignCard) -> Any:
        return None if card.veiled or card.model is None else EstimateSerializer(card.model).data

    def get_model_goes_first(self, card: DesignCard) -> str:
        return "" if card.veiled or card.draft is None else card.draft.governing

    def get_glued(self, card: DesignCard) -> bool:
        return card.design.glued_at is not None

    def get_wet_reasons(self, card: DesignCard) -> list[str]:
        return [one.trial.wet_reason for one in card.trials if one.trial.wet_reason]

    def get_checked_in(self, card: DesignCard) -> bool:
        return card.design.checked_in_at is not None

    @extend_schema_field(ReadingSerializer(many=True))
    def get_readings(self, card: DesignCard) -> list[Any]:
        return list(ReadingSerializer(list(card.readings.values()), many=True).data)

    def get_changes(self, card: DesignCard) -> list[str]:
        return list(changes_in(card.design.changed))


class BaySerializer(serializers.Serializer[Any]):
    key = serializers.CharField()
    label = serializers.CharField()
    note = serializers.CharField()
    share = serializers.FloatField()


class FactorSerializer(serializers.Serializer[Any]):
    name = serializers.CharField()
    levels = serializers.ListField(child=serializers.CharField())


def change_rules(change: GoalChange, goal: Mapping[str, Any]) -> Rules:
    """The rules that a goal of this run stands for."""
    return rules_of(goal, change.run.setup, change.run.core_family())


class GoalChangeSerializer(serializers.Serializer[Any]):
    """A change of the goal after tests had begun."""

    before = serializers.SerializerMethodField()
    after = serializers.SerializerMethodField()
    reason = serializers.CharField()
    changed_at = serializers.DateTimeField()

    def get_before(self, change: GoalChange) -> str:
        return goal_in_words(change_rules(change, change.before))

    def get_after(self, change: GoalChange) -> str:
        return goal_in_words(change_rules(change, change.after))


class NewGoalSerializer(GoalSerializer):
    """A goal for a run, with the reason that is needed once tests have begun."""

    reason = serializers.CharField(max_length=300, allow_blank=True, default="")


class LevelSerializer(serializers.Serializer[Any]):
    level = serializers.CharField(max_length=60)


class CountedUnitSerializer(serializers.Serializer[Any]):
    """A unit that lengths are counted in, such as a cube."""

    name = serializers.CharField()
    text = serializers.CharField()
    size_m = serializers.FloatField()


class RunSerializer(TermsSerializer):
    """A run's own copy of the terms, with its class and day."""

    factor = FactorSerializer(allow_null=True)
    controls = serializers.ListField(child=serializers.CharField())
    class_name = serializers.CharField(source="school_class.name")
    class_id = serializers.IntegerField(source="school_class_id")
    recipe_id = serializers.IntegerField(allow_null=True)
    date = serializers.DateField()
    drying_minutes = serializers.IntegerField()
    young = serializers.BooleanField()
    hints_hidden = serializers.BooleanField()
    counted_unit = CountedUnitSerializer(allow_null=True)


class RunListedSerializer(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    name = serializers.CharField()
    family = serializers.CharField()
    class_name = serializers.CharField(source="school_class.name")
    class_id = serializers.IntegerField(source="school_class_id")
    date = serializers.DateField()
    designs = serializers.IntegerField(source="design_count")
    tested = serializers.SerializerMethodField()

    def get_tested(self, run: Run) -> int:
        tested: int = self.context["tested"][run.pk]
        return tested


class NewRunSerializer(serializers.Serializer[Any]):
    recipe = serializers.IntegerField()
    school_class = serializers.IntegerField()
    date = serializers.DateField()


class BuildClockStateSerializer(serializers.Serializer[Any]):
    """The build clock now: what is left, whether it runs, and what is left at each warning [s]."""

    left_s = serializers.FloatField()
    started = serializers.SerializerMethodField()
    running = serializers.BooleanField()
    extra_s = serializers.FloatField()
    warnings_s = serializers.ListField(child=serializers.FloatField())

    def get_started(self, clock: Any) -> bool:
        return clock.elapsed_s is not None


class BenchFitSerializer(serializers.Serializer[Any]):
    """Whether the teams that wait fit into what is left of the lesson."""

    waiting = serializers.IntegerField()
    fit = serializers.IntegerField()
    per_team_s = serializers.FloatField()
    basis = serializers.CharField()
    sentence = serializers.CharField()
    gives = serializers.ListField(child=serializers.CharField())


class BestHeldSerializer(serializers.Serializer[Any]):
    held_kg = serializers.FloatField()
    at_least = serializers.BooleanField()


class RunStateSerializer(serializers.Serializer[Any]):
    """Everything a run's screens show."""

    run = RunSerializer()
    deck = BaySerializer(many=True)
    designs = DesignSerializer(many=True)
    missing_teams = serializers.IntegerField()
    best_held = serializers.SerializerMethodField()
    drawing = DrawingSerializer()
    goal_changes = GoalChangeSerializer(many=True)
    goal_locked = serializers.BooleanField()
    clock = BuildClockStateSerializer()
    practice_pieces = serializers.IntegerField()
    queue = serializers.ListField(child=serializers.IntegerField())
    bench_left_s = serializers.FloatField(allow_null=True)
    # How most trials were set up; empty while none counts.
    usual_arrangement = serializers.CharField(allow_blank=True)
    bench_fit = BenchFitSerializer(allow_null=True)
    round_plan = RoundPlanSerializer(allow_null=True)
    class_gain = ClassGainSerializer()

    @extend_schema_field(BestHeldSerializer(allow_null=True))
    def get_best_held(self, state: Any) -> Any:
        if state.best_held is None:
            return None
        return {"held_kg": state.best_held[0], "at_least": state.best_held[1]}


class TypedContainerSerializer(serializers.Serializer[Any]):
    """Inner size of a cup or box, as typed."""

    diameter = serializers.CharField(max_length=40)
    height = serializers.CharField(max_length=40)


class QueueSerializer(serializers.Serializer[Any]):
    """The order at the bench: design ids, or the fair one."""

    order = serializers.ListField(child=serializers.IntegerField(), required=False)
    fair = serializers.BooleanField(default=False)


class BenchEndSerializer(serializers.Serializer[Any]):
    minutes = serializers.FloatField(allow_null=True)


class YoungSerializer(serializers.Serializer[Any]):
    """Young-class mode, and the unit that lengths are counted in: its name and the size of one, both as typed."""

    young = serializers.BooleanField()
    unit = serializers.CharField(max_length=20, allow_blank=True, default="")
    size = serializers.CharField(max_length=40, allow_blank=True, default="")


class BuildClockSerializer(serializers.Serializer[Any]):
    action = serializers.ChoiceField(choices=["start", "pause", "resume", "extend", "reset"])
    minutes = serializers.FloatField(default=0.0)


class KeepDraftSerializer(serializers.Serializer[Any]):
    """A draft to be worked out or kept: its kind, typed values by parameter, moved joints."""

    kind = serializers.CharField(max_length=24)
    typed = serializers.DictField(child=serializers.CharField(max_length=40, allow_blank=True), default=dict)
    moves = MovesField(default=dict)


class DraftStartSerializer(serializers.Serializer[Any]):
    """What a draft of a design begins with: per kind that serves its family, a value for every parameter."""

    kinds = serializers.ListField(child=serializers.CharField())
    start = serializers.DictField(child=serializers.DictField(child=serializers.CharField()))


class PracticeSerializer(serializers.Serializer[Any]):
    used = serializers.IntegerField()


class GlueSerializer(serializers.Serializer[Any]):
    glued = serializers.BooleanField()


class LearntSerializer(serializers.Serializer[Any]):
    count = serializers.IntegerField()
    measured = serializers.FloatField()
    factor = serializers.FloatField()


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
    def get_pairs(self, found: Any) -> list[dict[str, Any]]:
        return [{"team": team, "measured_kg": m, "predicted_kg": p} for team, m, p in found.pairs]


class UseExperienceSerializer(serializers.Serializer[Any]):
    material = serializers.CharField(max_length=40)
    applied = serializers.BooleanField()


class TypedReadingSerializer(serializers.Serializer[Any]):
    """A reading as typed."""

    key = serializers.CharField(max_length=24)
    text = serializers.CharField(max_length=40)
    zero_text = serializers.CharField(max_length=40, allow_blank=True, default="")
    tare_text = serializers.CharField(max_length=40, allow_blank=True, default="")
    resolution_text = serializers.CharField(max_length=40)
    confirmed = serializers.BooleanField(default=False)
    # Taken again to see the spread: it counts together with the ones before.
    again = serializers.BooleanField(default=False)


class MaterialUseSerializer(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=60)
    amount = serializers.FloatField(min_value=0)
    batch_amount = serializers.FloatField(min_value=0)
    batch_mass = serializers.CharField(max_length=40)
    scale_resolution = serializers.CharField(max_length=40)


class SelfMassEstimateSerializer(serializers.Serializer[Any]):
    uses = MaterialUseSerializer(many=True, allow_empty=False)
    confirmed = serializers.BooleanField(default=False)


class AnswersSerializer(serializers.Serializer[Any]):
    answers = serializers.DictField(child=serializers.BooleanField())


class ControlsSerializer(serializers.Serializer[Any]):
    """Which of the fair test's controls were not kept."""

    broken = serializers.ListField(child=serializers.CharField(max_length=200))


class TypedPredictionSerializer(serializers.Serializer[Any]):
    text = serializers.CharField(max_length=40)


class NoteSerializer(serializers.Serializer[Any]):
    note = serializers.CharField(max_length=300, allow_blank=True)


class NextVersionSerializer(serializers.Serializer[Any]):
    changed = serializers.CharField(max_length=300, allow_blank=True)


class PastRunSerializer(serializers.Serializer[Any]):
    """A run of a challenge in a line of its history."""

    id = serializers.IntegerField()
    date = serializers.DateField()
    class_name = serializers.CharField()
    designs = serializers.IntegerField()
    best_kg = serializers.FloatField(allow_null=True)
    best_at_least = serializers.BooleanField()
    median_kg = serializers.FloatField(allow_null=True)
    ran_out_share = serializers.FloatField()


class HistorySerializer(serializers.Serializer[Any]):
    """A challenge over the years, and what that says of the next."""

    runs = PastRunSerializer(many=True)
    says = serializers.CharField()
