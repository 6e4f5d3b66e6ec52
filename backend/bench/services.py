"""What can be done at the bench: one verb per change, each in one transaction."""

from __future__ import annotations

import math
import uuid
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from datetime import datetime, timedelta
from typing import Any

from django.db import IntegrityError, transaction
from django.utils import timezone

from bench.history import past_of
from bench.models import LedgerEvent, Trial, core_event, core_events
from bench.remembered import results_in
from challenges.models import Run
from designs.models import Design
from designs.services import set_away
from drafting.shelf import in_force
from evengirder import metrics
from girder_core.families import aim_kg
from girder_core.ground import GirderError, NeedsConfirmation
from girder_core.kit import estimate_from
from girder_core.planning import drying_left_s
from girder_core.trial import EventKind, OpenLedger, TrialResult, admit, admit_at_station


@dataclass(frozen=True)
class Beforehand:
    """How a trial began at a bench that could not ask: which of its design it was taken for, when, by our clock, and
    whether it is one more all the same."""

    number: int
    began_at: datetime
    confirmed: bool


def start_trial(
    design: Design,
    trial_id: uuid.UUID,
    bench: uuid.UUID,
    wet_reason: str = "",
    arrangement: str = "",
    rehearsal: bool = False,
    by_team: bool = False,
    beforehand: Beforehand | None = None,
) -> Trial:
    """Start a trial, or find it again when it was started with the same id.

    A team that tests ``by_team`` alone waits till its test before is confirmed. A rehearsal asks for neither check-in
    nor dry joints: what it tests is made up. One that began ``beforehand``, at a bench without a network, is asked
    about where its design was tested elsewhere meanwhile: ``tested_meanwhile``.
    Errors: ``not_checked_in``, ``trial_open`` when another trial of the design has not ended, ``still_drying`` without
    a reason to test it all the same; the reason is kept and shown with the result; ``unknown_arrangement``;
    ``not_confirmed``.
    """
    wet_reason = " ".join(wet_reason.split())
    with transaction.atomic():
        design = (
            Design.objects.select_for_update(of=("self",)).select_related("run__school_class", "team").get(pk=design.pk)
        )
        trials = list(Trial.with_rehearsals.filter(design=design, rehearsal=rehearsal).prefetch_related("events"))
        for trial in trials:
            if trial.pk == trial_id:
                return trial
        if Trial.with_rehearsals.filter(pk=trial_id).exists():
            raise _of_another()
        family = design.run.core_family()
        arrangements = [known.key for known in family.bench.arrangements]
        if arrangement and arrangement not in arrangements:
            raise GirderError("unknown_arrangement", "This kind of challenge is not set up in that way.")
        if design.checked_in_at is None and not rehearsal:
            raise GirderError("not_checked_in", f"{design.team.name} is not checked in yet.")
        setup = design.run.trial_setup()
        if not rehearsal and any(not trial.result(setup).ended for trial in trials):
            raise GirderError("trial_open", "A trial of this design is still open. End it or mark it void first.")
        if beforehand and not beforehand.confirmed and beforehand.number != len(trials) + 1:
            named, number = _named(design), len(trials) + 1
            sentence = f"{named} was tested at another bench meanwhile. Is this its trial {number}, after that one?"
            raise NeedsConfirmation("tested_meanwhile", sentence)
        if by_team and any(trial.unconfirmed for trial in trials):
            raise GirderError("not_confirmed", "Your teacher looks at your last test first.")
        began_at = beforehand.began_at if beforehand else timezone.now()
        left = drying_left_s(60.0 * design.run.drying_minutes, design.glued_for_s(began_at))
        if left > 0 and not wet_reason and not rehearsal:
            then = "Test it then." if by_team else "Say why to test it now."
            sentence = f"{design.team.name}’s joints dry for {math.ceil(left / 60)} more minutes. {then}"
            raise GirderError("still_drying", sentence, fields={"wet_reason": sentence}, left_s=left)
        factors = in_force(design.run.school_class, design.run.family)
        kept = design.drafts.order_by("-id").first()
        model = kept.estimate(factors.get(kept.material)) if kept else None
        past = past_of(design.run, before_only=True).estimate if model is None else None
        held = _held_in(design.run)
        estimate = estimate_from(held, aim_kg(design.run.setup), _latest_prediction_kg(design), model, past)
        if design.away and not rehearsal:
            set_away(design, "")
        made = Trial(
            id=trial_id,
            design=design,
            number=len(trials) + 1,
            bench=bench,
            estimate=asdict(estimate) if estimate else None,
            wet_reason=wet_reason if left > 0 and not rehearsal else "",
            arrangement=arrangement or family.usual_arrangement([]),
            rehearsal=rehearsal,
            by_team=by_team,
            started_at=began_at,
        )
        try:
            with transaction.atomic():
                made.save(force_insert=True)
        except IntegrityError:
            # Another design took the id since it was looked for.
            raise _of_another() from None
        return made


def _of_another() -> GirderError:
    return GirderError("trial_open", "This trial belongs to another design.")


def _held_in(run: Run) -> list[float]:
    """What each scored trial of the run held [kg]."""
    return [result.held.value for result in results_in(run).values() if result.scored]


def _latest_prediction_kg(design: Design) -> float | None:
    latest = design.predictions.order_by("-id").first()
    return latest.load_kg if latest else None


@dataclass(frozen=True)
class Appended:
    """What became of a batch of events: those kept, the first that was refused, and the trial's result."""

    accepted: list[str]
    refused: GirderError | None
    refused_id: str | None
    result: TrialResult


_HELD = ("bench", "started_at", "stopped_at", "confirmed_at")
"""What of a trial's row an entry is judged by."""
CLOCKS_AGREE_S = 30
"""A sender's clock further off than this is put right by the server's [s]."""
STOPS_AGREE_S = 2
"""The same where it matters whether something was put on before or after a stop [s]."""


def append_events(
    trial: Trial,
    bench: uuid.UUID,
    new: Sequence[Mapping[str, Any]],
    sent_at: datetime | None = None,
    only_known: bool = False,
    author: str = "",
    by_team: bool = False,
) -> Appended:
    """Add events to a trial's ledger; the same event again is harmless, whatever number it comes with.

    The batch is taken in order up to the first event the rules refuse; what comes after that is left to the sender.
    ``sent_at`` is the sender's clock when it sent them: where it is off, times are moved by as much. With
    ``only_known`` nothing is added: the first event that is not in the ledger is refused as ``not_written``. A trial
    that has ended is its last bench's no longer: who corrects it has it from then on. What a team writes ``by_team``
    itself goes by the rules of stations too.
    Errors: ``bench_busy`` when another bench has the trial, ``event_changed`` when an id comes with other contents.
    """
    with transaction.atomic():
        # Locked by its narrowest row: the rest of the trial does not change, and came with the caller's look-up.
        holder = Trial.with_rehearsals.select_for_update().only(*_HELD).get(pk=trial.pk)
        now = timezone.now()
        setup = trial.design.run.trial_setup()
        rows = list(trial.events.all())
        ledger = OpenLedger(setup, core_events(rows))
        if holder.bench != bench:
            if holder.bench is not None and not ledger.result.ended:
                raise GirderError(
                    "bench_busy",
                    "This trial is open at another bench. Follow it there, or take it over here if that bench is gone.",
                )
            holder.bench = bench
            holder.save(update_fields=["bench"])
        trial.bench = bench
        taken = {row.sequence for row in rows}
        events = {row.id: row for row in rows}
        accepted: list[str] = []
        fresh: list[LedgerEvent] = []
        refused: GirderError | None = None
        refused_id: str | None = None
        for entry in new:
            event = core_event(entry["id"], entry["sequence"], entry["kind"], entry["data"])
            known = events.get(entry["id"])
            if known is not None:
                # Its number is not asked: one that was sent before an answer was lost may have another number by now.
                if (known.kind, known.data) != (entry["kind"], entry["data"]):
                    raise GirderError("event_changed", "An entry that is written down cannot be changed.")
                accepted.append(event.id)
                continue
            happened_at = put_right(entry["happened_at"], sent_at, now)
            try:
                if only_known:
                    raise GirderError("not_written", "This is not in the ledger.")
                if by_team:
                    made_at = put_right(entry["happened_at"], sent_at, now, STOPS_AGREE_S)
                    admit_at_station(event.kind, holder.station(made_at))
                if event.sequence in taken:
                    raise GirderError("sequence_taken", "Another entry already has this place in the trial.")
                ledger.admit(event)
            except GirderError as error:
                refused, refused_id = error, event.id
                break
            row = LedgerEvent(
                trial=trial,
                happened_at=happened_at,
                author=author,
                **{k: entry[k] for k in ("id", "sequence", "kind", "data")},
            )
            fresh.append(row)
            events[row.id] = row
            taken.add(row.sequence)
            accepted.append(event.id)
        try:
            LedgerEvent.objects.bulk_create(fresh)
        except IntegrityError:
            # The trial is locked, so its places are its own; only the id can stand elsewhere.
            raise GirderError("event_changed", "Another trial has an entry with this id.") from None
    metrics.entries.labels("kept").inc(len(fresh))
    metrics.entries.labels("known").inc(len(accepted) - len(fresh))
    metrics.entries.labels("refused").inc(refused is not None)
    return Appended(accepted, refused, refused_id, ledger.result)


def put_right(moment: datetime, sent_at: datetime | None, now: datetime, agree_s: float = CLOCKS_AGREE_S) -> datetime:
    """A moment by our clock: moved by as much as the sender's clock was off when it sent it, if that is much; one that
    no clock could show becomes now."""
    off = now - sent_at if sent_at else timedelta(0)
    try:
        return moment + off if abs(off.total_seconds()) > agree_s else moment
    except OverflowError:
        return now


def move_trial(trial: Trial, to: Design, event_id: uuid.UUID, why: str, author: str) -> Trial:
    """Make a trial another design's: the wrong team stood on the bench. Both designs' trials are numbered again, in the
    order in which they began; the ledger has a line that says so.

    Moving again with the same event is harmless. Errors: ``rehearsal_stays``, ``other_run``, ``same_design``,
    ``not_checked_in``, ``trial_open`` when both are under way.
    """
    with transaction.atomic():
        # Always in one order, so that two moves that cross do not wait for each other.
        wanted = sorted({trial.design_id, to.pk})
        designs = {
            design.pk: design
            for design in Design.objects.select_for_update(of=("self",))
            .select_related("run", "team")
            .filter(pk__in=wanted)
            .order_by("pk")
        }
        Trial.with_rehearsals.select_for_update().only("pk").get(pk=trial.pk)
        if LedgerEvent.objects.filter(pk=event_id).exists():
            return Trial.with_rehearsals.get(pk=trial.pk)
        source, target = designs[trial.design_id], designs[to.pk]
        if trial.rehearsal:
            raise GirderError("rehearsal_stays", "A rehearsal tests a made-up structure. It is no team's result.")
        if source.run_id != target.run_id:
            raise GirderError("other_run", "A trial can only go to another team of the same run.")
        if source.pk == target.pk:
            raise GirderError("same_design", f"This trial is {_named(target)}’s already.")
        if target.checked_in_at is None:
            raise GirderError(
                "not_checked_in",
                f"Check {_named(target)} in first. What can still be measured after the test is marked so.",
            )
        setup = source.run.trial_setup()
        result = trial.result(setup)
        if not result.ended and any(not other.result(setup).ended for other in target.trials.all()):
            raise GirderError(
                "trial_open", f"{_named(target)} has a trial open too. End one of the two or mark it void first."
            )
        data = {"from": _named(source), "to": _named(target), "why": " ".join(why.split())}
        event = core_event(event_id, result.next_sequence, EventKind.MOVE.value, data)
        admit(trial.core_events(), event, setup)
        LedgerEvent.objects.create(
            id=event_id, trial=trial, sequence=event.sequence, kind=event.kind.value, data=data,
            happened_at=timezone.now(), author=author,
        )  # fmt: skip
        # At a number that is free, until all are numbered.
        trial.design, trial.number = target, _FREE_NUMBER
        trial.save(update_fields=["design", "number"])
        for design in (source, target):
            _renumber(design)
        return Trial.with_rehearsals.get(pk=trial.pk)


_FREE_NUMBER = 30_000
"""More trials than this no design has."""


def _renumber(design: Design) -> None:
    trials = list(design.trials.order_by("started_at", "number"))
    for number, trial in enumerate(trials, start=1):
        Trial.objects.filter(pk=trial.pk).update(number=_FREE_NUMBER + number)
    for number, trial in enumerate(trials, start=1):
        Trial.objects.filter(pk=trial.pk).update(number=number)


def _named(design: Design) -> str:
    return design.team.name if design.version == 1 else f"{design.team.name}, version {design.version}"


def take_over(trial: Trial, bench: uuid.UUID) -> Trial:
    """Go on with a trial at another bench; the former one is refused from now on, and a team that made it by itself is
    stopped."""
    trial.bench = bench
    if trial.by_team and trial.stopped_at is None:
        trial.stopped_at = timezone.now()
    trial.save(update_fields=["bench", "stopped_at"])
    return trial


def release(trial: Trial) -> Trial:
    """Let a trial go: the next bench that adds an event has it."""
    trial.bench = None
    trial.save(update_fields=["bench"])
    return trial
