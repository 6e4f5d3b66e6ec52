"""Shapes of trials in the bench API: events as they come, results as they stand. Everything is SI."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from bench.models import EVENT_KINDS
from bench.selectors import TrialCard
from challenges.serializers import BenchMeasureSerializer, ProcedureSerializer
from evengirder.fields import FiniteField, MomentField, QuantitySerializer, ValueSerializer
from girder_core.kit import PLAN_END_WORDS, LoadPlan, PlanEnd
from girder_core.trial import EventKind, Fact, Fate, Interval, Outcome, StepState

STEP_KINDS = [(kind, kind) for kind in ("place", "remove", "load_reading")]
FATES = [(fate.value, fate.value) for fate in Fate]
FACTS = [(fact.value, fact.value) for fact in Fact]
PLAN_ENDS = [(end.value, end.value) for end in PlanEnd]
MOST_SEQUENCE = 100_000
"""The last place in a ledger."""
MOST_TRIALS = 10_000
"""Of one design."""
STEP_STATES = [(state.value, state.value) for state in StepState]


class IntervalSerializer(serializers.Serializer[Interval]):
    low = serializers.FloatField()
    high = FiniteField()


class StepSerializer(ValueSerializer):
    """A step as it went."""

    event_id = serializers.CharField()
    kind = serializers.ChoiceField(choices=STEP_KINDS)
    item = serializers.CharField()
    count = serializers.IntegerField()
    mass_kg = serializers.FloatField()
    state = serializers.ChoiceField(choices=STEP_STATES)
    signs = serializers.ListField(child=serializers.CharField())


class RoundSerializer(serializers.Serializer[Any]):
    """A round as it went."""

    event_id = serializers.CharField()
    number = serializers.IntegerField()
    size = serializers.FloatField()
    state = serializers.ChoiceField(choices=STEP_STATES)
    hit = serializers.BooleanField(allow_null=True)
    lasted_s = serializers.FloatField(allow_null=True)


class TakenSerializer(serializers.Serializer[Any]):
    """A measurement at the bench."""

    key = serializers.CharField()
    load_kg = serializers.FloatField()
    rounds = serializers.IntegerField()
    value_si = serializers.FloatField(source="quantity.value")
    standard_uncertainty_si = serializers.FloatField(source="quantity.standard_uncertainty")


class RefusalSerializer(serializers.Serializer[Any]):
    event_id = serializers.CharField()
    code = serializers.CharField()
    sentence = serializers.CharField()
    # Whether it is taken when it is sent again as confirmed.
    confirm = serializers.BooleanField()


class ResultSerializer(serializers.Serializer[Any]):
    """A trial's result as the ledger gives it."""

    outcome = serializers.ChoiceField(choices=[outcome.value for outcome in Outcome])
    placed = serializers.DictField(child=serializers.IntegerField())
    read_kg = serializers.FloatField(source="read.value")
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
    rounds = RoundSerializer(many=True)
    round_waiting = serializers.BooleanField()
    survived = IntervalSerializer(allow_null=True)
    stood = serializers.BooleanField()
    hits = serializers.IntegerField()
    taken = TakenSerializer(many=True)
    seats = serializers.DictField(child=serializers.IntegerField())
    pieces_on = serializers.IntegerField()
    pieces_held = serializers.IntegerField()
    # Ids of entries that say something else than was written at first, and what was noted beside the result.
    corrected = serializers.ListField(child=serializers.CharField())
    notes = serializers.ListField(child=serializers.CharField())


class TrialSerializer(serializers.Serializer[TrialCard]):
    id = serializers.UUIDField(source="trial.id")
    number = serializers.IntegerField(source="trial.number")
    started_at = serializers.DateTimeField(source="trial.started_at")
    arrangement = serializers.CharField(source="trial.arrangement")
    result = ResultSerializer()
    # Whether it counts, what it came to, how it stands in a line, its result in a sentence, and how it ended.
    counts = serializers.BooleanField(source="result.scored")
    came_to = serializers.CharField()
    line = serializers.CharField()
    headline = serializers.CharField()
    how = serializers.CharField()
    # Whether its team made it by itself, and whether nobody has confirmed what that found.
    by_team = serializers.BooleanField(source="trial.by_team")
    unconfirmed = serializers.BooleanField()
    confirmed_by = serializers.CharField(source="trial.confirmed_by")
    # Who wrote in its ledger, and when last.
    authors = serializers.ListField(child=serializers.CharField())
    latest_at = serializers.DateTimeField(allow_null=True)


class EstimateSerializer(serializers.Serializer[Any]):
    """Where failure is expected, and what that rests on."""

    low_kg = serializers.FloatField()
    typical_kg = serializers.FloatField()
    high_kg = serializers.FloatField()
    basis = serializers.CharField()


class NewTrialSerializer(serializers.Serializer[Any]):
    id = serializers.UUIDField()
    bench = serializers.UUIDField()
    # Why it is tested before its joints are dry.
    wet_reason = serializers.CharField(max_length=200, allow_blank=True, default="")
    arrangement = serializers.CharField(max_length=24, allow_blank=True, default="")
    rehearsal = serializers.BooleanField(default=False)
    # Of one that began at a bench without a network: which of its design it was taken for, how long ago it began [s],
    # and that it is one more all the same.
    number = serializers.IntegerField(required=False, min_value=1, max_value=MOST_TRIALS)
    began_ago_s = serializers.FloatField(min_value=0, max_value=7 * 24 * 3600, default=0)
    confirmed = serializers.BooleanField(default=False)


class BenchSerializer(serializers.Serializer[Any]):
    bench = serializers.UUIDField()


STATION_ACTIONS = [("stop", "stop"), ("go_on", "go on"), ("confirm", "confirm")]


class StationChangeSerializer(serializers.Serializer[Any]):
    """What a teacher does with a team's own test. To confirm it: the number that its next entry had when
    it was looked at."""

    action = serializers.ChoiceField(choices=STATION_ACTIONS)
    seen = serializers.IntegerField(min_value=0, max_value=MOST_SEQUENCE + 1, default=0)


class EventSerializer(serializers.Serializer[Any]):
    """A ledger event as the client made it."""

    id = serializers.UUIDField()
    sequence = serializers.IntegerField(min_value=1, max_value=MOST_SEQUENCE)
    # A move also changes whose the trial is, so it has an address of its own.
    kind = serializers.ChoiceField(choices=[kind for kind in EVENT_KINDS if kind[0] != EventKind.MOVE])
    data = serializers.DictField(default=dict)
    happened_at = MomentField()


class MoveSerializer(serializers.Serializer[Any]):
    """Whose a trial is after all; the id is that of the entry that says so."""

    id = serializers.UUIDField()
    design = serializers.IntegerField()
    why = serializers.CharField(max_length=300, allow_blank=True, default="")


class LedgerLineSerializer(serializers.Serializer[Any]):
    """An entry of a ledger, and what became of it."""

    id = serializers.UUIDField(source="row.id")
    sequence = serializers.IntegerField(source="row.sequence")
    kind = serializers.ChoiceField(choices=EVENT_KINDS, source="row.kind")
    data = serializers.DictField(source="row.data")
    # What counts now; as it was written unless it was corrected.
    says = serializers.DictField(source="line.says")
    fate = serializers.ChoiceField(choices=FATES, source="line.fate")
    # The entry that struck it out or corrected it.
    by = serializers.CharField(source="line.by")
    correctable = serializers.BooleanField(source="line.correctable")
    why = serializers.CharField(source="line.why")
    author = serializers.CharField(source="row.author")
    happened_at = serializers.DateTimeField(source="row.happened_at")


class ChangeSerializer(serializers.Serializer[Any]):
    """A line by which a trial was changed after the fact, and which trial it was."""

    trial = serializers.UUIDField(source="trial.id")
    team = serializers.CharField(source="trial.design.team.name")
    version = serializers.IntegerField(source="trial.design.version")
    number = serializers.IntegerField(source="trial.number")
    line = LedgerLineSerializer()
    # The entry that it is about; null for a note and a move.
    about = LedgerLineSerializer(allow_null=True)


class NewEventsSerializer(serializers.Serializer[Any]):
    bench = serializers.UUIDField()
    events = serializers.ListField(child=EventSerializer(), allow_empty=False, max_length=500)
    # The sender's clock when it sent them; where it is off, times are put right.
    sent_at = MomentField(required=False)
    # Add nothing; say which of them are in the ledger.
    only_known = serializers.BooleanField(default=False)


class PlannedStepSerializer(ValueSerializer):
    """A step that is proposed."""

    item = serializers.CharField()
    count = serializers.IntegerField()
    mass_kg = serializers.FloatField()
    then_kg = serializers.FloatField()
    share = serializers.FloatField()
    # Whether it stays far below where failure is expected.
    far = serializers.BooleanField()


class PlanSerializer(serializers.Serializer[Any]):
    steps = PlannedStepSerializer(many=True)
    expected_seconds = serializers.FloatField()
    expected_resolution = serializers.FloatField()
    end = serializers.ChoiceField(choices=PLAN_ENDS)
    # Why there is nothing to place once all of it is on.
    end_words = serializers.SerializerMethodField()
    warnings = serializers.ListField(child=serializers.CharField())
    # The steps up to where failure is expected, in a line.
    says = serializers.CharField()

    def get_end_words(self, plan: LoadPlan) -> str:
        return PLAN_END_WORDS[plan.end]


class NeedSerializer(serializers.Serializer[Any]):
    """A fact that has to be so, or must not be so, and why it is asked."""

    fact = serializers.ChoiceField(choices=FACTS)
    so = serializers.BooleanField()
    says = serializers.CharField()


class ActSerializer(serializers.Serializer[Any]):
    """Something that can be done in a trial, and what has to be so for it."""

    name = serializers.CharField()
    needs = NeedSerializer(many=True)


class PlannedRoundSerializer(serializers.Serializer[Any]):
    """A planned round, and how keys and rules name it."""

    number = serializers.IntegerField(source="round.number")
    size = serializers.FloatField(source="round.size")
    frequency_hz = serializers.FloatField(source="round.frequency_hz")
    acceleration_m_s2 = serializers.FloatField(source="round.acceleration_m_s2")
    stroke_m = serializers.FloatField(source="round.stroke_m")
    title = serializers.CharField()
    note = serializers.CharField()
    beside = serializers.CharField()
    beside_says = serializers.CharField()


class RoundPlanSerializer(serializers.Serializer[Any]):
    """The rounds of a test that puts no load on."""

    procedure = ProcedureSerializer(source="plan.procedure")
    planned = PlannedRoundSerializer(many=True)
    out_of = serializers.CharField(source="plan.out_of")
    hold_s = serializers.FloatField(source="plan.hold_s")
    most = serializers.FloatField(source="plan.most")
    attack_s = serializers.FloatField(allow_null=True, source="plan.attack_s")
    measures = BenchMeasureSerializer(many=True)


class PileCheckSerializer(serializers.Serializer[Any]):
    agrees = serializers.BooleanField()
    suspect = serializers.CharField()
    sentence = serializers.CharField()


class BehaviourSerializer(serializers.Serializer[Any]):
    broke = serializers.BooleanField()
    mode = serializers.CharField(allow_null=True)
    sign = serializers.CharField(allow_null=True)
    says = serializers.CharField()


class CargoSerializer(serializers.Serializer[Any]):
    """Where the cargo of a boat sits, as shares of the half length and half width."""

    forward = serializers.FloatField()
    starboard = serializers.FloatField()
    off_centre = serializers.BooleanField()


class NoticedSerializer(serializers.Serializer[Any]):
    """A sign that may be there, by its key, and why."""

    sign = serializers.CharField()
    sentence = serializers.CharField()


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
    # The same as it is told.
    prediction_says = serializers.CharField()
    arrangement = serializers.CharField(source="trial.arrangement")
    # Whether its team makes it by itself, what its teacher's stop holds back, by kind of entry with the reason, and how
    # it is marked while nobody has confirmed what came of it.
    by_team = serializers.BooleanField(source="trial.by_team")
    held_back = serializers.DictField(child=serializers.CharField())
    mark = serializers.CharField()
    round_plan = RoundPlanSerializer(allow_null=True)
    pile = PileCheckSerializer(allow_null=True)
    # What the made-up structure does; null unless it is a rehearsal.
    rehearsal = BehaviourSerializer(allow_null=True)
    cargo = CargoSerializer(allow_null=True)
    # How long a step of load has to stay up.
    hold_s = serializers.FloatField()
    # What cannot be done now, by the name of the act, and why.
    refused = serializers.DictField(child=serializers.CharField())
    # Of a test in rounds that has ended: what it is called, and between which sizes the strength lies.
    ended = serializers.CharField()
    strength = serializers.CharField()
    # Signs that measurements speak for, to be asked about.
    noticed = NoticedSerializer(many=True)


class AppendedSerializer(serializers.Serializer[Any]):
    """What became of the events that were sent, and the trial's state after them."""

    accepted = serializers.ListField(child=serializers.CharField())
    refused = RefusalSerializer(allow_null=True)
    state = TrialStateSerializer()
