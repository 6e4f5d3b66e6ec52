"""Shapes of a run and of its designs as its screens show them. Everything is SI."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from bench.models import EVENT_KINDS
from bench.selectors import DesignCard
from bench.serializers import ActSerializer, EstimateSerializer, RoundPlanSerializer, TrialSerializer
from challenges.models import SCHOOLS, Run
from challenges.serializers import QUANTITY_KINDS, DrawingSerializer, TermsSerializer
from designs.models import AWAY
from designs.serializers import (
    ConstraintSerializer,
    KeptDraftSerializer,
    OfferedSerializer,
    PhotoSerializer,
    PredictionSerializer,
    ReadingSerializer,
    ScaleAdviceSerializer,
)
from evengirder.fields import DayField
from girder_core.families import DesignState, Does, Look
from girder_core.planning import ClockAct
from girder_core.results import changes_in
from people.serializers import TeamSerializer
from results.chart_serializers import ChartSerializer
from results.reflection_serializers import ReflectionSerializer
from results.serializers import ClassGainSerializer, GainSerializer, GoalChangeSerializer
from runs.removal_services import KINDS

DESIGN_STATES = [(state.value, state.value) for state in DesignState]


class WorkedOutSerializer(serializers.Serializer[Any]):
    """A figure that follows from readings, and how."""

    key = serializers.CharField()
    label = serializers.CharField()
    kind = serializers.ChoiceField(choices=QUANTITY_KINDS)
    value_si = serializers.FloatField(source="quantity.value")
    how = serializers.CharField()


class DesignSerializer(serializers.Serializer[DesignCard]):
    """A design with its readings, checks and trials."""

    id = serializers.IntegerField(source="design.id")
    version = serializers.IntegerField(source="design.version")
    changed = serializers.CharField(source="design.changed")
    level = serializers.CharField(source="design.level")
    note = serializers.CharField(source="design.note")
    team = TeamSerializer(source="design.team")
    state = serializers.ChoiceField(choices=DESIGN_STATES)
    # Why it is not tested today; empty for one that is.
    away = serializers.ChoiceField(choices=AWAY, allow_blank=True, source="design.away")
    # Whether it has a result, and what check-in still waits for.
    tested = serializers.BooleanField()
    checked_in = serializers.SerializerMethodField()
    still_to_do = serializers.ListField(child=serializers.CharField())
    worked_out = WorkedOutSerializer(many=True)
    answers = serializers.DictField(source="design.answers", child=serializers.BooleanField())
    readings = ReadingSerializer(many=True, source="counting")
    # What its team measured itself.
    offered = OfferedSerializer(many=True)
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
    # What its picture is drawn with [m]: as measured, else as asked for, else a usual size.
    sizes = serializers.DictField(child=serializers.FloatField())
    deck_places = serializers.ListField(child=serializers.ListField(child=serializers.FloatField()))
    wet_reasons = serializers.SerializerMethodField()
    gain = GainSerializer(allow_null=True)
    # What the team says it changed, parted into single changes.
    changes = serializers.SerializerMethodField()
    reflections = ReflectionSerializer(many=True, source="design.reflections")
    # What the team may ask itself for the next version.
    ways_on = serializers.ListField(child=serializers.CharField())

    @extend_schema_field(EstimateSerializer(allow_null=True))
    def get_model(self, card: DesignCard) -> Any:
        return None if card.veiled or card.model is None else EstimateSerializer(card.model).data

    def get_model_goes_first(self, card: DesignCard) -> str:
        return "" if card.veiled or card.draft is None else card.draft.governing

    def get_glued(self, card: DesignCard) -> bool:
        return card.design.glued_at is not None

    def get_wet_reasons(self, card: DesignCard) -> list[str]:
        return [trial.trial.wet_reason for trial in card.trials if trial.trial.wet_reason]

    def get_checked_in(self, card: DesignCard) -> bool:
        return card.design.checked_in_at is not None

    def get_changes(self, card: DesignCard) -> list[str]:
        return list(changes_in(card.design.changed))


REMOVABLE = [(what, what) for what in KINDS]


class BaySerializer(serializers.Serializer[Any]):
    key = serializers.CharField()
    label = serializers.CharField()
    note = serializers.CharField()
    share = serializers.FloatField()


class FactorSerializer(serializers.Serializer[Any]):
    name = serializers.CharField()
    levels = serializers.ListField(child=serializers.CharField())


class PinnedStepSerializer(serializers.Serializer[Any]):
    """The step that the teacher chose instead of the planned ones; no item for none."""

    item = serializers.CharField(max_length=60, allow_blank=True)
    count = serializers.IntegerField(min_value=0, max_value=1000)


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
    tryout = serializers.BooleanField()
    pinned_step = PinnedStepSerializer(allow_null=True)
    counted_unit = CountedUnitSerializer(allow_null=True)


class RunListedSerializer(serializers.Serializer[Any]):
    id = serializers.IntegerField()
    name = serializers.CharField()
    family = serializers.CharField()
    class_name = serializers.CharField(source="school_class.name")
    class_id = serializers.IntegerField(source="school_class_id")
    date = serializers.DateField()
    tryout = serializers.BooleanField()
    designs = serializers.IntegerField(source="design_count")
    tested = serializers.SerializerMethodField()

    def get_tested(self, run: Run) -> int:
        tested: int = self.context["tested"][run.pk]
        return tested


class HomeRunSerializer(RunListedSerializer):
    """A run as home lists it, with its set-up drawn."""

    drawing = serializers.SerializerMethodField()

    @extend_schema_field(DrawingSerializer())
    def get_drawing(self, run: Run) -> Any:
        return DrawingSerializer(self.context["sketches"][run.pk]).data


class OnTheBenchSerializer(serializers.Serializer[Any]):
    """A run that is being tested now, and whose structure is on."""

    run = serializers.IntegerField(source="run.pk")
    team = serializers.CharField()


class ToBuySerializer(serializers.Serializer[Any]):
    """Something that a lesson still needs."""

    name = serializers.CharField(source="material.name")
    buy = serializers.CharField(source="buy_words")


class NextLessonSerializer(serializers.Serializer[Any]):
    """The next run that nobody was tested in yet, and what has to be bought for it."""

    run = serializers.IntegerField(source="run.pk")
    to_come = serializers.BooleanField()
    to_buy = ToBuySerializer(many=True)


class HomeAskedSerializer(serializers.Serializer[Any]):
    """The day by the clock of whoever asks; the server's own without it."""

    today = DayField(required=False)


class HomeSerializer(serializers.Serializer[Any]):
    """A teacher's first page."""

    runs = HomeRunSerializer(many=True)
    on_the_bench = OnTheBenchSerializer(many=True)
    go_on = serializers.IntegerField(source="go_on.pk", allow_null=True, default=None)
    next_lesson = NextLessonSerializer(allow_null=True)


class RemovalSerializer(serializers.Serializer[Any]):
    """Whether it is to be deleted, or brought back."""

    removed = serializers.BooleanField()


class RemovedSerializer(serializers.Serializer[Any]):
    """Something that was deleted, where it was, and till when it can be brought back."""

    what = serializers.ChoiceField(choices=REMOVABLE)
    id = serializers.IntegerField()
    name = serializers.CharField()
    of = serializers.CharField()
    removed_at = serializers.DateTimeField()
    until = serializers.DateTimeField()


class TryoutSerializer(serializers.Serializer[Any]):
    tryout = serializers.BooleanField()


class NewRunSerializer(serializers.Serializer[Any]):
    recipe = serializers.IntegerField()
    school_class = serializers.IntegerField()
    date = DayField()


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


DOES = [(does.value, does.value) for does in Does]
LOOKS = [(look.value, look.value) for look in Look]


class KeySerializer(serializers.Serializer[Any]):
    """A key of the bench: what it does and says, and what has to be so for it to be there, or for Enter to press it."""

    does = serializers.ChoiceField(choices=DOES)
    act = serializers.ChoiceField(choices=EVENT_KINDS, allow_null=True)
    letter = serializers.CharField()
    title = serializers.CharField()
    note = serializers.CharField()
    look = serializers.ChoiceField(choices=LOOKS)
    measure = serializers.CharField()
    reason = serializers.CharField()
    shown = serializers.DictField(child=serializers.BooleanField())
    enter = serializers.DictField(child=serializers.BooleanField(), allow_null=True)
    small = serializers.BooleanField()
    grow = serializers.FloatField()
    grown_up = serializers.BooleanField()


class AimSerializer(serializers.Serializer[Any]):
    label = serializers.CharField()
    kg = serializers.FloatField()


class ForetellsSerializer(serializers.Serializer[Any]):
    """What a team is asked to foretell where nothing is loaded."""

    kind = serializers.ChoiceField(choices=QUANTITY_KINDS)
    ask = serializers.CharField()
    example = serializers.CharField()


class RunStateSerializer(serializers.Serializer[Any]):
    """Everything a run's screens show."""

    run = RunSerializer()
    deck = BaySerializer(many=True)
    designs = DesignSerializer(many=True)
    missing_teams = serializers.IntegerField()
    best_held = BestHeldSerializer(allow_null=True)
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
    foretells = ForetellsSerializer(allow_null=True)
    keys = KeySerializer(many=True)
    acts = ActSerializer(many=True)
    # What designs are made for.
    aims = AimSerializer(many=True)
    # How long a structure has to stand by itself at check-in.
    stand_s = serializers.FloatField()
    # How long a step has to stay up; 0 where nothing is loaded.
    hold_s = serializers.FloatField()
    # By which of the ways that its kind offers it can be scored.
    schools = serializers.ListField(child=serializers.ChoiceField(choices=SCHOOLS))
    class_gain = ClassGainSerializer()
    # From version to version, a line for each team; null before there is one.
    versions = ChartSerializer(allow_null=True)


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
    action = serializers.ChoiceField(choices=[act.value for act in ClockAct])
    minutes = serializers.FloatField(default=0.0)


class NewOwnerSerializer(serializers.Serializer[Any]):
    """The colleague to whom a class goes."""

    colleague = serializers.IntegerField(min_value=1, max_value=2**63 - 1)


class DeedSerializer(serializers.Serializer[Any]):
    """Who did what, about what, and when."""

    name = serializers.CharField()
    words = serializers.CharField()
    about = serializers.CharField(allow_blank=True)
    at = serializers.DateTimeField()
