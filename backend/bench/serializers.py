"""Shapes of the bench API. Everything is SI; an upper bound that is not known is null."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from bench.models import EVENT_KINDS, Design, Reading
from bench.selectors import ComparedRun, DesignCard, TrialCard
from challenges.entries import GoalSerializer
from challenges.models import SCHOOLS, TRIAL_RULES, GoalChange, rules_of
from challenges.serializers import DrawingSerializer, TermsSerializer
from drafting.serializers import MovesField
from evengirder.fields import FiniteField, QuantitySerializer
from girder_core.brief import goal_in_words
from girder_core.comparison import VerdictKind
from girder_core.ledger import Interval
from girder_core.scoring import Rules, amount
from girder_core.units import System
from people.serializers import TeamSerializer

VERDICT_KINDS = [(kind.value, kind.value) for kind in VerdictKind]
STEP_KINDS = [("place", "place"), ("remove", "remove")]


class IntervalSerializer(serializers.Serializer[Interval]):
    low = serializers.FloatField()
    high = FiniteField()


class StepSerializer(serializers.Serializer[Any]):
    event_id = serializers.CharField()
    kind = serializers.ChoiceField(choices=STEP_KINDS)
    item = serializers.CharField()
    count = serializers.IntegerField()
    mass_kg = serializers.FloatField()
    state = serializers.ChoiceField(choices=["waiting", "held", "broke", "not_counted"])
    signs = serializers.ListField(child=serializers.CharField())


class RefusalSerializer(serializers.Serializer[Any]):
    event_id = serializers.CharField()
    code = serializers.CharField()
    sentence = serializers.CharField()


class ResultSerializer(serializers.Serializer[Any]):
    """A trial's result as the ledger gives it."""

    outcome = serializers.ChoiceField(choices=["running", "broke", "ran_out", "void"])
    placed = serializers.DictField(child=serializers.IntegerField())
    load_on_kg = serializers.FloatField(source="load_on.value")
    held_kg = serializers.FloatField(source="held.value")
    broke_kg = serializers.FloatField(source="broke_at.value", allow_null=True, default=None)
    interval = IntervalSerializer(allow_null=True)
    step_waiting = serializers.BooleanField()
    last_step_kg = serializers.FloatField()
    last_sag_m = serializers.FloatField(allow_null=True)
    steps = StepSerializer(many=True)
    mode = serializers.CharField(allow_null=True)
    reason = serializers.CharField(allow_null=True)
    note = serializers.CharField()
    undoable = serializers.CharField(allow_null=True)
    next_sequence = serializers.IntegerField()
    late = serializers.ListField(child=serializers.CharField())
    pile_weighed = serializers.BooleanField()


class TrialSerializer(serializers.Serializer[TrialCard]):
    id = serializers.UUIDField(source="trial.id")
    number = serializers.IntegerField(source="trial.number")
    started_at = serializers.DateTimeField(source="trial.started_at")
    result = ResultSerializer()


class ReadingSerializer(serializers.ModelSerializer[Reading]):
    estimated = serializers.BooleanField(read_only=True)

    class Meta:
        model = Reading
        fields = [
            "key", "text", "zero_text", "tare_text", "resolution_text", "value_si", "standard_uncertainty_si",
            "after_test", "estimated", "taken_at",
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


class EstimateSerializer(serializers.Serializer[Any]):
    """Where failure is expected, and what that rests on."""

    low_kg = serializers.FloatField()
    typical_kg = serializers.FloatField()
    high_kg = serializers.FloatField()
    basis = serializers.CharField()


class KeptDraftSerializer(serializers.Serializer[Any]):
    """A draft kept with a design."""

    kind = serializers.CharField()
    typed = serializers.DictField(child=serializers.CharField())
    moves = MovesField()
    material = serializers.CharField()
    mass_kg = serializers.FloatField()
    drafted_at = serializers.DateTimeField()


class GainSerializer(serializers.Serializer[Any]):
    value = FiniteField()
    low = serializers.FloatField()
    high = FiniteField()


class DesignSerializer(serializers.Serializer[DesignCard]):
    """A design with its readings, checks and trials."""

    id = serializers.IntegerField(source="design.id")
    version = serializers.IntegerField(source="design.version")
    changed = serializers.CharField(source="design.changed")
    level = serializers.CharField(source="design.level")
    note = serializers.CharField(source="design.note")
    team = TeamSerializer(source="design.team")
    state = serializers.ChoiceField(
        choices=["waiting", "checked_in", "on_bench", "broke", "ran_out", "void", "measured"]
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
    glued = serializers.SerializerMethodField()
    drying_left_s = serializers.FloatField()
    wet_reasons = serializers.SerializerMethodField()
    gain = serializers.SerializerMethodField()

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

    @extend_schema_field(GainSerializer(allow_null=True))
    def get_gain(self, card: DesignCard) -> Any:
        if card.gain is None:
            return None
        return GainSerializer(dict(zip(("value", "low", "high"), card.gain, strict=True))).data


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


class RunSerializer(TermsSerializer):
    """A run's own copy of the terms, with its class and day."""

    factor = FactorSerializer(allow_null=True)
    controls = serializers.ListField(child=serializers.CharField())
    class_name = serializers.CharField(source="school_class.name")
    class_id = serializers.IntegerField(source="school_class_id")
    recipe_id = serializers.IntegerField(allow_null=True)
    date = serializers.DateField()
    drying_minutes = serializers.IntegerField()


class RunListedSerializer(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    name = serializers.CharField()
    family = serializers.CharField()
    class_name = serializers.CharField(source="school_class.name")
    class_id = serializers.IntegerField(source="school_class_id")
    date = serializers.DateField()
    designs = serializers.IntegerField(source="design_count")
    tested = serializers.IntegerField(source="tested_count")


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

    @extend_schema_field(BestHeldSerializer(allow_null=True))
    def get_best_held(self, state: Any) -> Any:
        if state.best_held is None:
            return None
        return {"held_kg": state.best_held[0], "at_least": state.best_held[1]}


class TypedContainerSerializer(serializers.Serializer[Any]):
    """Inner size of a cup or box, as typed."""

    diameter = serializers.CharField(max_length=40)
    height = serializers.CharField(max_length=40)


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


class TypedPredictionSerializer(serializers.Serializer[Any]):
    text = serializers.CharField(max_length=40)


class NoteSerializer(serializers.Serializer[Any]):
    note = serializers.CharField(max_length=300, allow_blank=True)


class NextVersionSerializer(serializers.Serializer[Any]):
    changed = serializers.CharField(max_length=300, allow_blank=True)


class NewTrialSerializer(serializers.Serializer[Any]):
    id = serializers.UUIDField()
    bench = serializers.UUIDField()
    # Why it is tested before its joints are dry.
    wet_reason = serializers.CharField(max_length=200, allow_blank=True, default="")


class BenchSerializer(serializers.Serializer[Any]):
    bench = serializers.UUIDField()


class EventSerializer(serializers.Serializer[Any]):
    """A ledger event as the client made it."""

    id = serializers.UUIDField()
    sequence = serializers.IntegerField(min_value=1, max_value=100_000)
    kind = serializers.ChoiceField(choices=EVENT_KINDS)
    data = serializers.DictField(default=dict)
    happened_at = serializers.DateTimeField()


class NewEventsSerializer(serializers.Serializer[Any]):
    bench = serializers.UUIDField()
    events = serializers.ListField(child=EventSerializer(), allow_empty=False, max_length=500)


class PlannedStepSerializer(serializers.Serializer[Any]):
    item = serializers.CharField()
    count = serializers.IntegerField()
    mass_kg = serializers.FloatField()


class PlanSerializer(serializers.Serializer[Any]):
    steps = PlannedStepSerializer(many=True)
    expected_seconds = serializers.FloatField()
    expected_resolution = serializers.FloatField()
    warnings = serializers.ListField(child=serializers.CharField())


class TrialStateSerializer(serializers.Serializer[Any]):
    """Everything the bench shows of one trial."""

    id = serializers.UUIDField(source="trial.id")
    design = serializers.IntegerField(source="trial.design_id")
    number = serializers.IntegerField(source="trial.number")
    bench = serializers.UUIDField(source="trial.bench", allow_null=True)
    result = ResultSerializer()
    remaining = serializers.DictField(child=serializers.IntegerField())
    plan = PlanSerializer()
    estimate = EstimateSerializer(source="trial.estimate", allow_null=True)
    caution = serializers.CharField(allow_null=True)
    ratio = QuantitySerializer(allow_null=True)
    self_mass = QuantitySerializer(allow_null=True)
    prediction_kg = serializers.FloatField(allow_null=True)


class AppendedSerializer(serializers.Serializer[Any]):
    """What became of the events that were sent, and the trial's state after them."""

    accepted = serializers.ListField(child=serializers.CharField())
    refused = RefusalSerializer(allow_null=True)
    state = TrialStateSerializer()


class RankRangeSerializer(serializers.Serializer[Any]):
    best = serializers.IntegerField()
    worst = serializers.IntegerField()


class VerdictSerializer(serializers.Serializer[Any]):
    kind = serializers.ChoiceField(choices=VERDICT_KINDS)
    reason = serializers.CharField()


class ScoreSerializer(serializers.Serializer[Any]):
    value = serializers.FloatField()
    interval = IntervalSerializer()
    held_kg = serializers.FloatField()
    held_interval = IntervalSerializer()
    self_mass = QuantitySerializer(allow_null=True)
    trials = serializers.IntegerField()
    at_least = serializers.BooleanField()
    penalised = serializers.BooleanField()
    shares = serializers.DictField(child=serializers.FloatField())


class RankedSerializer(serializers.Serializer[Any]):
    design = serializers.IntegerField()
    version = serializers.IntegerField()
    team = TeamSerializer()
    place = serializers.IntegerField()
    shared = serializers.BooleanField()
    ranks = RankRangeSerializer()
    score = ScoreSerializer()
    words = serializers.CharField()
    mode = serializers.CharField(allow_null=True)
    against_next = VerdictSerializer(allow_null=True)


class UnrankedSerializer(serializers.Serializer[Any]):
    design = serializers.IntegerField()
    team = TeamSerializer()
    code = serializers.CharField()
    sentence = serializers.CharField()


class VoidSerializer(serializers.Serializer[Any]):
    team = TeamSerializer()
    version = serializers.IntegerField()
    number = serializers.IntegerField()
    reason = serializers.CharField()
    load_on_kg = serializers.FloatField()


class ScatterSerializer(serializers.Serializer[Any]):
    cv = serializers.FloatField()
    degrees_of_freedom = serializers.IntegerField()
    designs = serializers.IntegerField()


class ComparisonSerializer(serializers.Serializer[Any]):
    """A run compared under the rules named in it."""

    school = serializers.ChoiceField(choices=SCHOOLS)
    trial_rule = serializers.ChoiceField(choices=TRIAL_RULES)
    official = serializers.BooleanField()
    headline = serializers.CharField()
    explanation = serializers.CharField()
    ranked = RankedSerializer(many=True)
    unranked = UnrankedSerializer(many=True)
    voids = VoidSerializer(many=True)
    differences = serializers.ListField(child=serializers.CharField())
    scatter = ScatterSerializer(allow_null=True)


def comparison_data(found: ComparedRun, rules: Rules, official: bool, words: dict[str, str], system: System) -> Any:
    """A comparison in the API's shape."""
    comparison = found.comparison

    def ended(card: DesignCard) -> str | None:
        modes = [trial.result.mode or trial.result.reason for trial in card.trials if trial.result.scored]
        return words.get(modes[-1] or "") if modes else None

    def head(design: Design) -> dict[str, Any]:
        return {"design": design.pk, "version": design.version, "team": design.team}

    return ComparisonSerializer(
        {
            "school": rules.school.value,
            "trial_rule": rules.trial_rule.value,
            "official": official,
            "headline": comparison.headline,
            "explanation": comparison.explanation,
            "ranked": [
                {
                    **head(found.card(place).design),
                    "place": place.place,
                    "shared": place.shared,
                    "ranks": place.ranks,
                    "score": place.score,
                    "words": amount(place.score.value, rules, system),
                    "mode": ended(found.card(place)),
                    "against_next": place.against_next,
                }
                for place in comparison.places
            ],
            "unranked": [
                {**head(found.cards[entry.key].design), "code": reason.code, "sentence": reason.sentence}
                for entry, reason in comparison.unranked
            ],
            "voids": [
                {
                    "team": card.design.team,
                    "version": card.design.version,
                    "number": trial.trial.number,
                    "reason": words.get(trial.result.reason or "", ""),
                    "load_on_kg": trial.result.load_on.value,
                }
                for card, trial in found.voids
            ],
            "differences": list(comparison.differences),
            "scatter": comparison.scatter,
        }
    ).data
