"""What a trial is made of: its events as they are written, what it is judged by, and what they come to.

How events become a result is the ledger's business (``girder_core.trial.ledger``), which may be written down that of
``girder_core.trial.admission``.
"""

from __future__ import annotations

import math
from collections.abc import Collection, Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any

from girder_core.ground import GirderError
from girder_core.kit import Kit
from girder_core.measure import Quantity
from girder_core.trial.rounds import BenchMeasure, RoundPlan

NOTHING = Quantity(0.0)
"""No load at all [kg]."""
OUT_OF_LOAD = "no_more_load"
"""Why a trial ended without a failure: nothing was left to place."""
AT_BENCH_LIMIT = "bench_limit"
"""Why a trial ended without a failure: more would not have been safe."""


class EventKind(StrEnum):
    """What can happen in a trial."""

    PLACE = "place"
    REMOVE = "remove"
    SETTLE = "settle"
    OBSERVE = "observe"
    MEASURE = "measure"
    FAIL = "fail"
    RUN_OUT = "run_out"
    VOID = "void"
    LOAD_READING = "load_reading"
    PILE_READING = "pile_reading"
    ROUND = "round"
    FINISH = "finish"
    UNDO = "undo"
    CORRECT = "correct"
    NOTE = "note"
    MOVE = "move"


class Outcome(StrEnum):
    """How a trial stands."""

    RUNNING = "running"
    BROKE = "broke"
    RAN_OUT = "ran_out"
    VOID = "void"
    DONE = "done"


class StepState(StrEnum):
    """What became of a placed step."""

    WAITING = "waiting"
    HELD = "held"
    BROKE = "broke"
    NOT_COUNTED = "not_counted"


LONGEST_TEXT, GREATEST = 2000, 1e9
"""What an event may hold: texts of so many signs, numbers up to so much [-] (ours)."""


@dataclass(frozen=True)
class Event:
    """One event of a trial.

    Attributes:
        id: made by the client, unique; the same id twice is the same event.
        sequence: place in the trial, from 1 without gaps.
        kind: what happened.
        data: by kind: ``item``, ``count`` and for a hull ``seat`` (place, remove), ``waited_s`` (settle), ``sign``
            (observe), ``key``, ``text``, ``zero`` and ``resolution`` as typed, ``source`` and ``confirmed`` (measure;
            ledgers of the first rules hold ``sag`` alone), ``mass`` and ``resolution`` as typed, a mass or a force,
            ``held`` and ``source`` (load_reading), ``mode``, ``note`` and ``after_s`` (fail), ``reason`` and ``note``
            (run_out, void), ``mass`` and ``resolution`` as typed texts and ``covers`` = ``all`` or ``held``
            (pile_reading), ``height`` as typed for a drop off the plan and ``hit`` for a throw (round), ``note``
            (finish), ``event`` (undo), ``event`` with ``gone`` or what that should have said, and ``why`` (correct),
            ``text`` (note), ``from`` and ``to`` as words and ``why`` (move).
    """

    id: str
    sequence: int
    kind: EventKind
    data: Mapping[str, Any] = field(default_factory=dict)


@dataclass(frozen=True)
class TrialSetup:
    """What a trial is judged by: the kit, the limits, the agreed wait [s], and the names that events may use.

    ``rounds`` is the plan of a test that puts no load on, ``measures`` what may be measured at the bench, ``needs_all``
    whether all that tells the result is needed or one of it will do, ``seats`` whether places in a hull are told apart.
    """

    kit: Kit
    hold_s: float
    bench_limit_kg: float | None
    failure_modes: frozenset[str]
    loading_errors: frozenset[str]
    run_out_reasons: frozenset[str]
    observations: frozenset[str]
    rounds: RoundPlan | None = None
    measures: Mapping[str, BenchMeasure] = field(default_factory=dict)
    needs_all: bool = False
    seats: bool = False

    def wait_s(self, in_round: bool) -> float:
        """How long what is under way has to be waited for [s]: a round, or a step of load."""
        return self.rounds.hold_s if in_round and self.rounds else self.hold_s

    def measure(self, key: str) -> BenchMeasure:
        """What may be measured by this key; ``unknown_measure`` where nothing is."""
        spec = self.measures.get(key)
        if spec is None:
            raise GirderError("unknown_measure", "That is not measured at the bench in this kind of challenge.")
        return spec

    def told(self, taken: Collection[str]) -> bool:
        """Whether what was measured tells the result: all that is needed, or any of it. ``taken`` has the keys."""
        needed = [measure.key in taken for measure in self.measures.values() if measure.needed]
        return not needed or (all(needed) if self.needs_all else any(needed))


@dataclass(frozen=True)
class Interval:
    """Bounds of a strength; ``high`` is infinite when the load ran out."""

    low: float
    high: float

    def __post_init__(self) -> None:
        if not self.low <= self.high:
            raise GirderError("interval_reversed", "The lower bound of an interval lies above the upper bound.")

    @property
    def open_above(self) -> bool:
        """Whether nothing is known of the upper bound."""
        return math.isinf(self.high)


@dataclass(frozen=True)
class Step:
    """A placement as the strip at the bench shows it: the event, what, how heavy, and what became of it."""

    event_id: str
    kind: EventKind
    item: str
    count: int
    mass_kg: float
    state: StepState
    signs: tuple[str, ...] = ()


@dataclass(frozen=True)
class Round:
    """A round as it went: the event, its number, its size as in ``PlannedRound``, what became of it.

    ``hit`` says of a throw whether it struck; ``lasted_s`` how far into a failing round it came [s], if that was told.
    """

    event_id: str
    number: int
    size: float
    state: StepState
    hit: bool | None = None
    lasted_s: float | None = None


@dataclass(frozen=True)
class Taken:
    """A measurement at the bench: its key, the load on [kg] and the rounds made at that moment, and the quantity."""

    key: str
    load_kg: float
    rounds: int
    quantity: Quantity


@dataclass(frozen=True)
class Refusal:
    """An event that the rules leave out: its id, the error's code and sentence, and whether they only ask."""

    event_id: str
    code: str
    sentence: str
    asks: bool = False


@dataclass(frozen=True)
class TrialResult:
    """What the events of a trial say.

    Attributes:
        outcome: running, broke, ran out, void, or done: ended as planned, neither broken nor cut short.
        placed: what is on the structure now, by item key; what was on it at the end, once it has ended.
        read: load that was not counted but read off an instrument or a paper, besides what was counted [kg].
        load_on: its mass [kg].
        held: greatest load that stayed up for the agreed wait [kg]; zero when none did.
        pieces_on: pieces on it now, what carries them left out; a roll or bag counts as what is in it.
        pieces_held: most of them that stayed up together for the agreed wait.
        broke_at: load that broke it [kg], when it broke.
        interval: bounds of the strength as a load [kg], each widened by the mass uncertainty; None when void.
        step_waiting: true when something was placed that has not settled yet.
        steps: the placements in order.
        signs: observation keys in order, each with the load that was on [kg].
        taken: what was measured at the bench, in order.
        rounds: the rounds in order, where the test has rounds.
        survived: bounds of the greatest size survived, in the unit of ``PlannedRound.size``; None where no round was
            made or it is void.
        seats: pieces by place in a hull, as far as places were told.
        mode: how it failed, when it broke.
        reason: why it ran out or is void.
        note: what was written with the end.
        last_step_kg: mass of the last step placed [kg]; its size is the resolution of the result.
        undoable: the event that ``undo`` would take back, if any.
        next_sequence: the sequence number the next event must have.
        late: ids of events that wait for an earlier one to arrive.
        refused: events that the rules leave out.
        pile_weighed: true when the load was taken from the scale and not from the count.
        pile: what the scale showed of the pile [kg], if it was weighed.
        corrected: ids of the entries that stand but say something else than was written at first.
        notes: what was noted beside the result.
    """

    outcome: Outcome = Outcome.RUNNING
    placed: Mapping[str, int] = field(default_factory=dict)
    read: Quantity = NOTHING
    load_on: Quantity = NOTHING
    held: Quantity = NOTHING
    pieces_on: int = 0
    pieces_held: int = 0
    broke_at: Quantity | None = None
    interval: Interval | None = None
    step_waiting: bool = False
    steps: tuple[Step, ...] = ()
    signs: tuple[tuple[str, float], ...] = ()
    taken: tuple[Taken, ...] = ()
    rounds: tuple[Round, ...] = ()
    survived: Interval | None = None
    seats: Mapping[str, int] = field(default_factory=dict)
    mode: str | None = None
    reason: str | None = None
    note: str = ""
    last_step_kg: float = 0.0
    undoable: str | None = None
    next_sequence: int = 1
    late: tuple[str, ...] = ()
    refused: tuple[Refusal, ...] = ()
    pile_weighed: bool = False
    pile: Quantity | None = None
    corrected: tuple[str, ...] = ()
    notes: tuple[str, ...] = ()

    @property
    def loaded(self) -> bool:
        """Whether a load was put on at all, counted or read; it may have been taken off since."""
        return bool(self.placed) or self.read.value > 0

    @property
    def begun(self) -> bool:
        """Whether anything was on it, or a round was made: what is foretold comes before that."""
        return self.loaded or bool(self.rounds)

    @property
    def measures(self) -> dict[str, Quantity]:
        """The latest measurement of each key."""
        return {measure.key: measure.quantity for measure in self.taken}

    @property
    def last_sag_m(self) -> float | None:
        """The latest sag reading [m], if any was taken."""
        sag = self.measures.get("sag")
        return sag.value if sag else None

    @property
    def round_waiting(self) -> bool:
        """Whether a round is going on."""
        return bool(self.rounds) and self.rounds[-1].state is StepState.WAITING

    @property
    def hits(self) -> int:
        """How many throws struck."""
        return sum(bool(round_.hit) for round_ in self.rounds)

    @property
    def stood(self) -> bool:
        """Whether a round was come through."""
        return any(round_.state is StepState.HELD for round_ in self.rounds)

    @property
    def ended(self) -> bool:
        """Whether nothing more can be placed."""
        return self.outcome is not Outcome.RUNNING

    @property
    def scored(self) -> bool:
        """Whether the trial counts: it broke, it ran out, or it was done as planned."""
        return self.outcome in (Outcome.BROKE, Outcome.RAN_OUT, Outcome.DONE)
