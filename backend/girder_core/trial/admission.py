"""Whether one more event may be written down: what the rules refuse, and what looks like a slip and is asked about.

The rules of a trial themselves stand in ``girder_core.trial.ledger``; here an entry is held against them before it is
kept.
"""

from __future__ import annotations

import math
from collections.abc import Iterable

from girder_core.ground import GirderError, NeedsConfirmation
from girder_core.kit import PLATFORM
from girder_core.measure import units
from girder_core.trial.entries import apply
from girder_core.trial.ledger import opened
from girder_core.trial.result import (
    AT_BENCH_LIMIT,
    OUT_OF_LOAD,
    Event,
    EventKind,
    Outcome,
    TrialResult,
    TrialSetup,
)
from girder_core.trial.shapes import check_shape


class OpenLedger:
    """A trial's ledger that more is written into. What is let in goes on from there: nothing is read again.

    Attributes:
        setup: what the trial is judged by.
    """

    def __init__(self, setup: TrialSetup, events: Iterable[Event] = ()) -> None:
        """Open what is written so far.

        Args:
            setup: what the trial is judged by.
            events: what the ledger holds, in any order; repeats of an id are read once.
        """
        self.setup = setup
        self._book = opened(events, setup)

    @property
    def result(self) -> TrialResult:
        """The trial's result as of now, as ``replay`` of all that was let in would tell it."""
        return self._book.result()

    def read(self, event: Event) -> None:
        """Take in the next event that was written down already; nothing is asked, and nothing refused.

        Args:
            event: of the ledger, read in sequence; one that the rules do not allow is named in the result.
        """
        self._book.read(event)

    def admit(self, new: Event, asking: bool = True) -> None:
        """Let one more event in; one that is refused changes nothing.

        Args:
            new: the event that wants in, with an id that no other has.
            asking: whether what looks like a slip is asked about; not where events come from a record.
        Errors:
            The error by which the rules refuse it; an event that comes before its turn is let in and waits.
            ``sequence_taken`` for a place that another entry has. ``entry_not_plain`` for data that an entry of its
            kind cannot have; ``load_left`` (asks) for a load that is said to have run out, or a bench at its
            limit, where the count says otherwise.
        """
        try:
            check_shape(new.kind, new.data)
            if asking and new.kind is EventKind.RUN_OUT and new.sequence == self._book.expected:
                _ask_whether_it_ran_out(apply(self._book.so_far, new, self.setup), new, self.setup)
            self._book.put(new)
        except GirderError as error:
            error.data["event"] = new.id
            raise


def admit(events: Iterable[Event], new: Event, setup: TrialSetup, asking: bool = True) -> TrialResult:
    """Judge one more event against a trial.

    Args:
        events: what the ledger holds.
        new: the event that wants in.
        setup: what the trial is judged by.
        asking: whether what looks like a slip is asked about; not where events come from a record.
    Returns:
        The result with the new event.
    Errors:
        As of ``OpenLedger.admit``.
    """
    ledger = OpenLedger(setup, events)
    ledger.admit(new, asking)
    return ledger.result


def _ask_whether_it_ran_out(result: TrialResult, event: Event, setup: TrialSetup) -> None:
    """Whether an end without a failure says what the ledger says too; ``result`` is that with the end."""
    if result.outcome is not Outcome.RAN_OUT or event.data.get("confirmed"):
        return
    # What was read off a gauge does not come out of the kit.
    if result.read.value > 0 or not result.placed:
        return
    left = {key: count for key, count in setup.kit.remaining(result.placed).items() if key != PLATFORM and count > 0}
    there = [setup.kit.item(key) for key in left]
    if result.reason == OUT_OF_LOAD and there:
        words = " and ".join(f"{left[item.key]} × {item.name}" for item in there[:3])
        kg = math.fsum(item.mass.value * left[item.key] for item in there)
        raise NeedsConfirmation(
            "load_left",
            f"By the count there is load left: {words}, {units.format_mass(kg)} in all. Is the whole "
            "kit on it even so?",
            left=left,
        )
    limit_kg = setup.bench_limit_kg
    if result.reason == AT_BENCH_LIMIT and limit_kg is not None:
        room_kg = limit_kg - result.load_on.value
        if any(item.mass.value <= room_kg for item in there):
            raise NeedsConfirmation(
                "load_left",
                f"There is {units.format_mass(result.load_on.value)} on it, and this bench may carry "
                f"{units.format_mass(limit_kg)}. Is that the limit even so?",
                left=left,
            )
