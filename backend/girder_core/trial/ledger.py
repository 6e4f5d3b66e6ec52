"""The events of a trial to the trial's result: the only place that turns a trial into numbers.

A trial is a list of immutable events in sequence. ``replay`` reads them from the first; an event that the rules do not
allow at its place is left out and named in ``TrialResult.refused``, so a ledger can always be read, whatever it holds.
What is let in is the business of ``girder_core.trial.admission``, what one entry does that of
``girder_core.trial.entries``.
Nothing is ever changed or taken away. ``undo`` is an event too, and takes back the latest event that still stands.
So is ``correct``: it names an earlier entry, says what that should have said or that it never was, and all is worked
out again as if it had been written so. ``lines`` tells what became of each.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum
from typing import Any

from girder_core.ground import GirderError, NeedsConfirmation
from girder_core.measure import COVERAGE_FACTOR
from girder_core.trial.entries import apply
from girder_core.trial.result import (
    Event,
    EventKind,
    Interval,
    Outcome,
    Refusal,
    StepState,
    TrialResult,
    TrialSetup,
)

RULE_VERSION = "ledger-4"
"""Version of the rules by which events become a result; it goes with every exported result."""

BESIDE = frozenset({EventKind.NOTE, EventKind.MOVE})
"""Entries that say something beside the result: a note, and that the trial is another team's."""
MAY_SAY: Mapping[EventKind, frozenset[str]] = {
    EventKind.PLACE: frozenset({"item", "count", "seat"}),
    EventKind.REMOVE: frozenset({"item", "count", "seat"}),
    EventKind.OBSERVE: frozenset({"sign"}),
    EventKind.MEASURE: frozenset({"text", "resolution", "zero", "confirmed"}),
    EventKind.LOAD_READING: frozenset({"mass", "resolution"}),
    EventKind.PILE_READING: frozenset({"mass", "resolution", "covers"}),
    EventKind.FAIL: frozenset({"mode", "note", "after_s"}),
    EventKind.RUN_OUT: frozenset({"reason", "note"}),
    EventKind.VOID: frozenset({"reason", "note"}),
    EventKind.ROUND: frozenset({"height", "hit"}),
    EventKind.SETTLE: frozenset(),
    EventKind.FINISH: frozenset({"note"}),
}
"""Entries that can be corrected, and what of them can be changed; all of them can be struck out."""


class Fate(StrEnum):
    """What became of an entry."""

    STANDS = "stands"
    CORRECTED = "corrected"
    STRUCK = "struck"
    LEFT_OUT = "left_out"
    WAITS = "waits"


@dataclass(frozen=True)
class Line:
    """An entry of the ledger as a reader finds it.

    Attributes:
        event: as it was written.
        fate: what became of it.
        by: the entry that struck it out or corrected it; empty for one that stands as it was written.
        says: what counts now; as it was written unless it was corrected.
        correctable: whether it can be corrected or struck out.
        why: why the rules leave it out; else empty.
        after_end: whether the trial had ended when it was written.
    """

    event: Event
    fate: Fate
    by: str
    says: Mapping[str, Any]
    correctable: bool
    why: str = ""
    after_end: bool = False

    @property
    def changes(self) -> bool:
        """Whether it changed after the fact what was written, or says something beside it."""
        kind, afterwards = self.event.kind, self.after_end and self.fate is not Fate.LEFT_OUT
        return kind in _CHANGING or (afterwards and kind in _CHANGING_AFTERWARDS)

    @property
    def about(self) -> str:
        """The entry that it takes back or corrects, by id; empty for any other."""
        kinds = (EventKind.CORRECT, EventKind.UNDO)
        return str(self.event.data.get("event", "")) if self.event.kind in kinds else ""


_FROM_WHERE = ("source", "says")
_CHANGING = (EventKind.CORRECT, *BESIDE)
_CHANGING_AFTERWARDS = (EventKind.VOID, EventKind.UNDO)
MAY_CHANGE = (*_CHANGING, *_CHANGING_AFTERWARDS)
"""Kinds of entries of which one may change after the fact what was written; a ledger without them has no such line."""
_Former = tuple[list[Event], dict[str, str | None]]


@dataclass
class Book:
    """A trial's ledger as far as it was read: the entries that stand, what they came to, and how to go back.

    It goes on from where it is: one more entry costs what that entry costs, however many came before it.
    ``before`` has an item for each entry that can be undone: its id, the result before it, and for a correction also
    the entries that stood before it, and what had corrected before it those that it touched. ``expected`` is the next
    place; what came before its turn waits under its own.
    """

    setup: TrialSetup
    so_far: TrialResult = field(default_factory=TrialResult)
    expected: int = 1
    waiting: dict[int, list[Event]] = field(default_factory=dict)
    refused: list[Refusal] = field(default_factory=list)
    standing: list[Event] = field(default_factory=list)
    before: list[tuple[str, TrialResult, _Former | None]] = field(default_factory=list)
    written: dict[str, Event] = field(default_factory=dict)
    undone: set[str] = field(default_factory=set)
    by: dict[str, str] = field(default_factory=dict)
    notes: list[str] = field(default_factory=list)
    after_end: set[str] = field(default_factory=set)

    def read(self, event: Event) -> None:
        """Take in an entry of the ledger in its turn; one that the rules refuse is named and keeps its place."""
        if event.sequence > self.expected:
            self.waiting.setdefault(event.sequence, []).append(event)
            return
        try:
            if event.sequence < self.expected:
                raise GirderError("sequence_taken", "Another entry already has this place in the trial.")
            self.add(event)
        except GirderError as error:
            self.refused.append(Refusal(event.id, error.code, error.sentence, isinstance(error, NeedsConfirmation)))
        self._go_on(event)

    def put(self, event: Event) -> None:
        """Write down one more entry; one that the rules refuse raises, and all stays as it was."""
        if event.sequence < self.expected or event.sequence in self.waiting:
            raise GirderError("sequence_taken", "Another entry already has this place in the trial.")
        if event.sequence > self.expected:
            self.waiting[event.sequence] = [event]
            return
        self.add(event)
        self._go_on(event)

    def _go_on(self, event: Event) -> None:
        self.expected = max(self.expected, event.sequence + 1)
        for late in self.waiting.pop(self.expected, ()):
            self.read(late)

    def result(self) -> TrialResult:
        """What the entries came to that were in turn, and which wait or were refused."""
        return replace(
            self.so_far,
            interval=_interval(self.so_far),
            survived=_survived(self.so_far),
            undoable=self.before[-1][0] if self.before else None,
            next_sequence=self.expected,
            late=tuple(event.id for place in sorted(self.waiting) for event in self.waiting[place]),
            refused=tuple(self.refused),
            corrected=tuple(entry.id for entry in self.standing if entry.id in self.by),
            notes=tuple(self.notes),
        )

    def add(self, event: Event) -> None:
        """Take in one more entry, or refuse it."""
        ended = self.so_far.ended
        if event.kind is EventKind.UNDO:
            self._undo(event)
        elif event.kind is EventKind.CORRECT:
            self._correct(event)
        elif event.kind in BESIDE:
            if event.kind is EventKind.NOTE:
                self.notes.append(_note(event))
        else:
            before, self.so_far = self.so_far, apply(self.so_far, event, self.setup)
            self.standing.append(event)
            self.before.append((event.id, before, None))
        self.written[event.id] = event
        if ended:
            self.after_end.add(event.id)

    def _undo(self, event: Event) -> None:
        target = str(event.data.get("event"))
        if target in self.undone:
            raise GirderError("already_undone", "That has been taken back already.")
        if not self.before or self.before[-1][0] != target:
            raise GirderError("undo_not_last", "Only the latest entry can be taken back.")
        self.undone.add(target)
        _, self.so_far, kept = self.before.pop()
        if kept is None:
            self.standing.pop()
        else:
            self.standing, by = kept
            for ident, former in by.items():
                self.by.pop(ident) if former is None else self.by.update({ident: former})
        self.by[target] = event.id

    def _correct(self, event: Event) -> None:
        target = self.written.get(str(event.data.get("event")))
        if target is None or target.kind not in MAY_SAY:
            raise GirderError("not_correctable", "There is no such entry to correct.")
        place = next((i for i, entry in enumerate(self.standing) if entry.id == target.id), None)
        if place is None:
            raise GirderError("already_undone", "That has been taken back already.")
        now = self.standing[place]
        gone = event.data.get("gone") is True
        said = {key: value for key, value in event.data.items() if key not in ("event", "gone", "why")}
        if gone == bool(said) or set(said) - MAY_SAY[now.kind]:
            raise GirderError("not_correctable", "Say what the entry should have said, or strike it out.")
        entries = list(self.standing)
        if gone:
            del entries[place]
        else:
            # What is typed again comes from no picture and no force log.
            gone_with = _FROM_WHERE if {"text", "mass"} & said.keys() else ()
            kept = {key: value for key, value in now.data.items() if key not in gone_with}
            entries[place] = replace(now, data={**kept, **said})
            if entries[place].data == now.data:
                raise GirderError("nothing_corrected", "That is what it says already.")
        result, stood, dropped = self._again(entries, now, gone)
        touched = (now.id, *dropped)
        self.before.append((event.id, self.so_far, (self.standing, {ident: self.by.get(ident) for ident in touched})))
        self.so_far, self.standing = result, stood
        self.by.update(dict.fromkeys(touched, event.id))

    def _again(self, entries: list[Event], target: Event, gone: bool) -> tuple[TrialResult, list[Event], list[str]]:
        """The result of the entries as they are to be, those that stand, and ids of those that went with the one that
        is struck out: the wait for it, and what came of an end that is none."""
        result = TrialResult()
        stood: list[Event] = []
        dropped: list[str] = []
        for entry in entries:
            try:
                result = apply(result, entry, self.setup)
            except GirderError as error:
                if gone and error.code in _GOES_WITH.get(entry.kind, frozenset()):
                    dropped.append(entry.id)
                    continue
                if entry.id == target.id:
                    raise
                raise GirderError(
                    "correction_breaks_later",
                    f"Then entry {entry.sequence} could not have been: {error.sentence} Correct that one first.",
                    entry=entry.id,
                ) from None
            stood.append(entry)
        return result, stood, dropped


_GOES_WITH: Mapping[EventKind, frozenset[str]] = {
    EventKind.SETTLE: frozenset({"nothing_to_settle"}),
    EventKind.PILE_READING: frozenset({"pile_too_early"}),
}
"""Entries that mean nothing without the one that is struck out, by the refusal that shows it."""


def _note(event: Event) -> str:
    text = event.data.get("text")
    words = " ".join(text.split()) if isinstance(text, str) else ""
    if not words:
        raise GirderError("note_missing", "Write the note first.", fields={"text": "Write the note first."})
    return words


def _in_order(events: Iterable[Event]) -> list[Event]:
    """Events by their places, each once."""
    by_id: dict[str, Event] = {}
    for event in events:
        by_id.setdefault(event.id, event)
    return sorted(by_id.values(), key=lambda event: (event.sequence, event.id))


def opened(events: Iterable[Event], setup: TrialSetup) -> Book:
    """The book of a ledger, read to its end.

    Args:
        events: the events in any order; repeats of an id are read once.
        setup: what the trial is judged by.
    Returns:
        The book, to go on with.
    """
    book = Book(setup)
    for event in _in_order(events):
        book.read(event)
    return book


def replay(events: Iterable[Event], setup: TrialSetup) -> TrialResult:
    """Turn the events of a trial into its result.

    Args:
        events: the events in any order; repeats of an id are read once.
        setup: what the trial is judged by.
    Returns:
        The result after the unbroken run of sequence numbers from 1. Later events are named in ``late``, events that
        the rules do not allow in ``refused``; neither changes the result.
    Errors:
        None: whatever the ledger holds, it can be read.
    """
    return opened(events, setup).result()


def lines(events: Iterable[Event], setup: TrialSetup) -> tuple[Line, ...]:
    """What became of every entry of a trial: all that was written, what was struck out and what was corrected.

    Args:
        events: the events in any order; repeats of an id are read once.
        setup: what the trial is judged by.
    Returns:
        A line per event, in sequence.
    """
    ordered = _in_order(events)
    book = opened(ordered, setup)
    result = book.result()
    now = {entry.id: entry.data for entry in book.standing}
    refused = {refusal.event_id: refusal.sentence for refusal in result.refused}
    told = []
    for event in ordered:
        by, stands = book.by.get(event.id, ""), event.id in now
        if event.id in refused:
            fate = Fate.LEFT_OUT
        elif event.id in result.late:
            fate = Fate.WAITS
        elif stands:
            fate = Fate.CORRECTED if by else Fate.STANDS
        else:
            fate = Fate.STRUCK if by else Fate.STANDS
        says, why = now.get(event.id, event.data), refused.get(event.id, "")
        told.append(Line(event, fate, by, says, stands, why, event.id in book.after_end))
    return tuple(told)


def _interval(result: TrialResult) -> Interval | None:
    if result.outcome is Outcome.VOID:
        return None
    if result.rounds and not result.loaded:
        # Nothing was loaded, so nothing is known of a load.
        return Interval(0.0, math.inf)
    low = max(0.0, result.held.value - COVERAGE_FACTOR * result.held.standard_uncertainty)
    if result.broke_at is None:
        return Interval(low, math.inf)
    return Interval(low, result.broke_at.value + COVERAGE_FACTOR * result.broke_at.standard_uncertainty)


def _survived(result: TrialResult) -> Interval | None:
    """From the greatest size come through to the one that was not; without end when none was too much."""
    if result.outcome is Outcome.VOID or not result.rounds:
        return None
    low = max((done.size for done in result.rounds if done.state is StepState.HELD), default=0.0)
    broke = [done.size for done in result.rounds if done.state is StepState.BROKE]
    if result.outcome is Outcome.BROKE:
        return Interval(low, max(low, *broke) if broke else low)
    return Interval(low, math.inf)


def middle_kg(result: TrialResult) -> float | None:
    """Where a trial that broke most likely gave way: the middle between the last load held and the one that broke it.

    Args:
        result: of the trial.
    Returns:
        The middle [kg]; None for a trial that did not break.
    """
    if result.outcome is not Outcome.BROKE or result.broke_at is None:
        return None
    return (result.held.value + result.broke_at.value) / 2
