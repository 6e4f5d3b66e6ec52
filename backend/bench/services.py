"""What can be done at check-in and at the bench: one verb per change, each in one transaction."""

from __future__ import annotations

import math
import uuid
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from datetime import date, datetime, timedelta
from typing import Any

from django.db import IntegrityError, transaction
from django.utils import timezone

from bench.build_services import show_model
from bench.history import past_of
from bench.models import Design, LedgerEvent, Reading, TeamPrediction, Trial, core_event, core_events
from bench.selectors import tested_by_run
from challenges import services as challenges
from challenges.models import GoalChange, Recipe, Run
from challenges.plans import goal_problems
from drafting.shelf import in_force
from girder_core.families import SELF_MASS, aim_kg
from girder_core.ground import GirderError, NeedsConfirmation
from girder_core.kit import estimate_from
from girder_core.measure import (
    Kind,
    MaterialUse,
    Quantity,
    TypedReading,
    measure,
    resolution_uncertainty,
    self_mass_from_materials,
    units,
)
from girder_core.planning import Factor, assign_levels, drying_left_s
from girder_core.results import BreachPolicy
from girder_core.trial import TrialResult, admit, replay
from people.models import SchoolClass


def open_run(recipe: Recipe, school_class: SchoolClass, day: date) -> Run:
    """Give a recipe to a class, with version 1 of every team's design; ``no_teams`` when the class has none."""
    if not school_class.teams.exists():
        raise GirderError("no_teams", "This class has no teams yet. Add its teams first.")
    if recipe.retired:
        raise GirderError("recipe_retired", "This recipe is retired. Put it back on the list first.")
    with transaction.atomic():
        run = challenges.start_run(recipe, school_class, day)
        add_missing_teams(run)
    return run


def add_missing_teams(run: Run) -> None:
    """Version 1 for each team of the class that has no design in this run."""
    have = run.designs.filter(version=1).count()
    missing = list(run.school_class.teams.exclude(designs__run=run))
    levels = [""] * (have + len(missing))
    if run.factor:
        factor = Factor(run.factor["name"], tuple(run.factor["levels"]))
        levels = list(assign_levels(factor, max(1, have + len(missing))).levels)
    Design.objects.bulk_create(
        [Design(run=run, team=team, level=level) for team, level in zip(missing, levels[have:], strict=False)],
        ignore_conflicts=True,
    )


def set_level(design: Design, level: str) -> Design:
    """Give a design another level of the run's factor; ``unknown_level``, ``level_too_late`` once it was tested."""
    if not design.run.factor or level not in design.run.factor["levels"]:
        raise GirderError("unknown_level", "This run's fair test has no such level.")
    if design.trials.exists():
        raise GirderError("level_too_late", "This design has been tested, so its level cannot change any more.")
    design.level = level
    design.save(update_fields=["level"])
    return design


def change_goal(run: Run, goal: Mapping[str, Any], reason: str) -> Run:
    """Change what wins. Once a trial has started, that needs a reason, which is kept and shown with every result.

    Errors: ``goal_locked`` without a reason; ``bad_goal`` for a goal that the family does not offer or that does not
    hold together.
    """
    problems = goal_problems(run.core_family(), goal, run.setup)
    if problems:
        raise GirderError("bad_goal", next(iter(problems.values())), fields=problems)
    with transaction.atomic():
        run = Run.objects.select_for_update(of=("self",)).select_related("school_class").get(pk=run.pk)
        before, reason = run.goal(), " ".join(reason.split())
        if before == {**goal}:
            return run
        started = Trial.objects.filter(design__run=run).exists() or tested_by_run([run])[run.pk] > 0
        if started and not reason:
            sentence = (
                "Tests have begun, so the goal is locked. Say why it changes; the reason is shown with every result."
            )
            raise GirderError("goal_locked", sentence, fields={"reason": sentence})
        for field, value in goal.items():
            setattr(run, field, value)
        run.save(update_fields=list(goal))
        if started:
            GoalChange.objects.create(run=run, before=before, after=run.goal(), reason=reason)
    return run


def take_reading(design: Design, key: str, typed: TypedReading, confirmed: bool, again: bool = False) -> Reading:
    """Record a reading; after the design was tested it is taken too, and marked.

    One taken ``again`` counts together with those before it, any other counts instead of them.
    """
    spec = design.run.core_family().reading_keys.get(key)
    if spec is None:
        raise GirderError("unknown_reading", "This kind of challenge takes no such reading.")
    counted = design.run.counted_unit
    own = {counted["name"]: counted["size_m"]} if counted and spec.kind is Kind.LENGTH else {}
    measured = measure(typed, spec.kind, spec.plausible, confirmed, own)
    return _record(design, key, measured.quantity, again=again, **asdict(typed))


def estimate_self_mass(design: Design, uses: Sequence[Mapping[str, Any]], confirmed: bool) -> Reading:
    """Record an own weight that is added up from materials.

    Each use names a material, an amount, and a weighed batch of it: ``batch_amount`` units weigh ``batch_mass``.
    """
    spec = design.run.core_family().reading_keys.get(SELF_MASS)
    if spec is None:
        raise GirderError("unknown_reading", "This kind of challenge takes no own weight.")
    materials, kept = [], []
    for index, use in enumerate(uses):
        try:
            batch_kg = units.parse(use["batch_mass"], Kind.MASS).si
            step_kg = units.parse(use["scale_resolution"], Kind.MASS).si
        except GirderError as error:
            raise GirderError(error.code, error.sentence, fields={f"uses.{index}.batch_mass": error.sentence}) from None
        if not use["batch_amount"] > 0 or not step_kg > 0:
            raise GirderError("amount_negative", "The weighed batch and the scale's step must be more than nothing.")
        unit_mass = Quantity(batch_kg, resolution_uncertainty(step_kg)) / use["batch_amount"]
        materials.append(MaterialUse(use["amount"], unit_mass))
        kept.append(dict(use))
    mass = self_mass_from_materials(materials)
    plausible = spec.plausible
    if not plausible.low <= mass.value <= plausible.high and not confirmed:
        raise NeedsConfirmation(
            "unlikely_reading", f"{units.format_mass(mass.value)} for {plausible.what}? Check amounts and units."
        )
    return _record(design, SELF_MASS, mass, materials=kept)


def _record(design: Design, key: str, value: Quantity, **typed: Any) -> Reading:
    with transaction.atomic():
        setup = design.run.trial_setup()
        tested = any(trial.result(setup).scored for trial in design.trials.prefetch_related("events"))
        return Reading.objects.create(
            design=design,
            key=key,
            value_si=value.value,
            standard_uncertainty_si=value.standard_uncertainty,
            after_test=tested,
            **typed,
        )


def answer(design: Design, answers: Mapping[str, bool]) -> Design:
    """Record answers to the family's yes-or-no checks; those not named stay as they were."""
    known = {question.key for question in design.run.core_family().questions}
    if unknown := set(answers) - known:
        raise GirderError("unknown_question", f"This kind of challenge does not ask “{sorted(unknown)[0]}”.")
    with transaction.atomic():
        locked = Design.objects.select_for_update().get(pk=design.pk)
        locked.answers = {**locked.answers, **answers}
        locked.save(update_fields=["answers"])
    design.answers = locked.answers
    return design


def note_controls(design: Design, broken: Sequence[str]) -> Design:
    """Note which of the fair test's controls were not kept; ``unknown_control`` for one the run does not name."""
    if unknown := set(broken) - set(design.run.controls):
        raise GirderError("unknown_control", f"This run does not keep “{sorted(unknown)[0]}” the same.")
    design.controls_broken = [one for one in design.run.controls if one in broken]
    design.save(update_fields=["controls_broken"])
    return design


def predict(design: Design, text: str) -> TeamPrediction:
    """Record what the team says; refused once a trial has something on it, or it would be no prediction."""
    load = units.parse(text, Kind.MASS)
    if not load.si > 0:
        raise GirderError("not_positive", "A prediction is more than nothing.")
    setup = design.run.trial_setup()
    if any(trial.result(setup).loaded for trial in design.trials.prefetch_related("events")):
        raise GirderError("prediction_too_late", "Loading has begun; a prediction comes before the load.")
    said = TeamPrediction.objects.create(design=design, text=text, load_kg=load.si)
    if design.drafts.exists():
        # From now on the model's range stands beside it.
        show_model(design)
    return said


def check_in(design: Design) -> Design:
    """Let a design to the bench; every needed reading that cannot follow later, and all answers, must be there."""
    readings, one = design.quantities(), design.run.core_family()
    missing = [s.label for s in one.readings if s.needed and not s.may_follow and s.key not in readings]
    missing += [question.text for question in one.questions if question.key not in design.answers]
    if missing:
        raise GirderError("check_in_incomplete", f"Still to do: {'; '.join(missing)}.", missing=missing)
    for question in one.questions:
        if question.blocks and design.answers[question.key] is not question.good:
            raise GirderError("nothing_to_test", f"{question.breach} So there is nothing to test yet.")
    breaches = design.breaches()
    if breaches and design.run.breach_policy == BreachPolicy.REFUSE:
        raise GirderError(
            "breach_refused",
            f"{breaches[0].sentence} This recipe tests no design that breaks a rule. Mend it and measure again.",
        )
    if design.checked_in_at is None:
        design.checked_in_at = timezone.now()
        design.save(update_fields=["checked_in_at"])
    return design


def note(design: Design, text: str) -> Design:
    """Write down what the team tried."""
    design.note = " ".join(text.split())
    design.save(update_fields=["note"])
    return design


def next_version(design: Design, changed: str) -> Design:
    """Open the version after this one; it must be tested and say what changes."""
    changed = " ".join(changed.split())
    if not changed:
        sentence = "Say what changes. One thing at a time tells most."
        raise GirderError("change_missing", sentence, fields={"changed": sentence})
    setup = design.run.trial_setup()
    results = [trial.result(setup) for trial in design.trials.prefetch_related("events")]
    if not design.run.core_family().has_result(results, design.quantities()):
        raise GirderError("not_tested", "Test this version first; then there is something to improve.")
    with transaction.atomic():
        Run.objects.select_for_update().get(pk=design.run_id)
        latest = Design.objects.filter(run=design.run, team=design.team).order_by("-version")[0]
        if latest.pk != design.pk:
            raise GirderError("not_latest", "There is a later version of this team already.")
        return Design.objects.create(
            run=design.run, team=design.team, version=design.version + 1, parent=design, changed=changed,
            level=design.level,
        )  # fmt: skip


def start_trial(
    design: Design,
    trial_id: uuid.UUID,
    bench: uuid.UUID,
    wet_reason: str = "",
    arrangement: str = "",
    rehearsal: bool = False,
) -> Trial:
    """Start a trial, or find it again when it was started with the same id.

    A rehearsal asks for neither check-in nor dry joints: what it tests is made up.
    Errors: ``not_checked_in``, ``trial_open`` when another trial of the design has not ended, ``still_drying`` without
    a reason to test it all the same; the reason is kept and shown with the result; ``unknown_arrangement``.
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
            raise GirderError("trial_open", "This trial belongs to another design.")
        ways = [way.key for way in design.run.core_family().bench.arrangements]
        if arrangement and arrangement not in ways:
            raise GirderError("unknown_arrangement", "This kind of challenge is not set up in that way.")
        if design.checked_in_at is None and not rehearsal:
            raise GirderError("not_checked_in", f"{design.team.name} is not checked in yet.")
        setup = design.run.trial_setup()
        if not rehearsal and any(not trial.result(setup).ended for trial in trials):
            raise GirderError("trial_open", "A trial of this design is still open. End it or mark it void first.")
        left = drying_left_s(60.0 * design.run.drying_minutes, design.glued_for_s(timezone.now()))
        if left > 0 and not wet_reason and not rehearsal:
            sentence = (
                f"{design.team.name}’s joints dry for {math.ceil(left / 60)} more minutes. Say why to test it now."
            )
            raise GirderError("still_drying", sentence, fields={"wet_reason": sentence}, left_s=left)
        factors = in_force(design.run.school_class, design.run.family)
        kept = design.drafts.order_by("-id").first()
        model = kept.estimate(factors.get(kept.material)) if kept else None
        past = past_of(design.run, before_only=True).outlook.estimate if model is None else None
        held = _held_in(design.run)
        estimate = estimate_from(held, aim_kg(design.run.setup), _latest_prediction_kg(design), model, past)
        return Trial.objects.create(
            id=trial_id,
            design=design,
            number=len(trials) + 1,
            bench=bench,
            estimate=asdict(estimate) if estimate else None,
            wet_reason=wet_reason if left > 0 and not rehearsal else "",
            arrangement=arrangement or next(iter(ways), ""),
            rehearsal=rehearsal,
        )


def _held_in(run: Run) -> list[float]:
    """What each scored trial of the run held [kg]."""
    setup = run.trial_setup()
    trials = Trial.objects.filter(design__run=run).prefetch_related("events")
    return [result.held.value for trial in trials if (result := trial.result(setup)).scored]


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


CLOCKS_AGREE_S = 30
"""A sender's clock further off than this is put right by the server's [s]."""


def append_events(
    trial: Trial,
    bench: uuid.UUID,
    new: Sequence[Mapping[str, Any]],
    sent_at: datetime | None = None,
    only_known: bool = False,
) -> Appended:
    """Add events to a trial's ledger; the same event again is harmless, whatever number it comes with.

    The batch is taken in order up to the first event the rules refuse; what comes after that is left to the sender.
    ``sent_at`` is the sender's clock when it sent them: where it is off, times are moved by as much. With
    ``only_known`` nothing is added: the first event that is not in the ledger is refused as ``not_written``.
    Errors: ``bench_busy`` when another bench has the trial, ``event_changed`` when an id comes with other contents.
    """
    with transaction.atomic():
        # Locked by its narrowest row: the rest of the trial does not change, and came with the caller's look-up.
        holder = Trial.with_rehearsals.select_for_update().only("bench").get(pk=trial.pk)
        off = timezone.now() - sent_at if sent_at else timedelta(0)
        moved = off if abs(off.total_seconds()) > CLOCKS_AGREE_S else timedelta(0)
        if holder.bench is None:
            holder.bench = bench
            holder.save(update_fields=["bench"])
        if holder.bench != bench:
            raise GirderError(
                "bench_busy",
                "This trial is open at another bench. Follow it there, or take it over here if that bench is gone.",
            )
        trial.bench = bench
        setup = trial.design.run.trial_setup()
        rows = list(trial.events.all())
        taken = {row.sequence for row in rows}
        events = {row.id: row for row in rows}
        ledger = core_events(rows)
        result: TrialResult | None = None
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
                    raise GirderError("event_changed", "An event that is written down cannot be changed.")
                accepted.append(event.id)
                continue
            try:
                if only_known:
                    raise GirderError("not_written", "This is not in the ledger.")
                if event.sequence in taken:
                    raise GirderError("sequence_taken", "Another event already stands at this place of the trial.")
                result = admit(ledger, event, setup)
            except GirderError as error:
                refused, refused_id = error, event.id
                break
            row = LedgerEvent(
                trial=trial,
                happened_at=_moved(entry["happened_at"], moved),
                **{k: entry[k] for k in ("id", "sequence", "kind", "data")},
            )
            fresh.append(row)
            events[row.id] = row
            taken.add(row.sequence)
            ledger.append(event)
            accepted.append(event.id)
        try:
            LedgerEvent.objects.bulk_create(fresh)
        except IntegrityError:
            # The trial is locked, so its places are its own; only the id can stand elsewhere.
            raise GirderError("event_changed", "An event of this id stands in another trial.") from None
    return Appended(accepted, refused, refused_id, result or replay(ledger, setup))


def _moved(moment: datetime, by: timedelta) -> datetime:
    """A moment put right; one that no clock could show becomes now."""
    try:
        return moment + by
    except OverflowError:
        return timezone.now()


def take_over(trial: Trial, bench: uuid.UUID) -> Trial:
    """Go on with a trial at another bench; the former one is refused from now on."""
    trial.bench = bench
    trial.save(update_fields=["bench"])
    return trial


def release(trial: Trial) -> Trial:
    """Let a trial go: the next bench that adds an event has it."""
    trial.bench = None
    trial.save(update_fields=["bench"])
    return trial


def set_build_clock(run: Run, action: str, minutes: float) -> Run:
    """Start, pause, go on, extend or reset the build clock now; errors as ``challenges.services.set_build_clock``."""
    with transaction.atomic():
        locked = Run.objects.select_for_update(of=("self",)).select_related("school_class").get(pk=run.pk)
        return challenges.set_build_clock(locked, action, minutes, timezone.now())
