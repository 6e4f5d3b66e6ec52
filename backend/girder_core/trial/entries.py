"""What one entry of a ledger does to a trial.

Which entries stand, and what they come to together, is the business of ``girder_core.trial.ledger``.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import replace

from girder_core.ground import GirderError
from girder_core.kit import PLATFORM
from girder_core.measure import (
    Kind,
    Quantity,
    TypedReading,
    measure,
    plural,
    resolution_uncertainty,
    step_of,
    units,
)
from girder_core.trial.acts import require
from girder_core.trial.result import (
    GREATEST,
    Event,
    EventKind,
    Outcome,
    Round,
    Step,
    StepState,
    Taken,
    TrialResult,
    TrialSetup,
)
from girder_core.trial.rounds import SEATS, BenchMeasure, RoundPlan


def apply(result: TrialResult, event: Event, setup: TrialSetup) -> TrialResult:
    """What an entry makes of a trial.

    Args:
        result: what the entries before it came to.
        event: the entry; it takes nothing back and corrects nothing.
        setup: what the trial is judged by.
    Returns:
        The result with it.
    Errors:
        The error by which the rules refuse it.
    """
    return _APPLY[event.kind](result, event, setup)


def _count(event: Event) -> int:
    count = event.data.get("count")
    if isinstance(count, bool) or not isinstance(count, int) or count < 1:
        raise GirderError("count_not_positive", "Place a whole number of objects, at least one.")
    return count


def _within_limit(load: Quantity, setup: TrialSetup) -> Quantity:
    if setup.bench_limit_kg is not None and load.value > setup.bench_limit_kg + 1e-9:
        raise GirderError("over_bench_limit", "That is more than this bench may carry. End with “bench limit”.")
    return load


def _place(result: TrialResult, event: Event, setup: TrialSetup) -> TrialResult:
    require(EventKind.PLACE, result, setup)
    count, item = _count(event), setup.kit.item(str(event.data.get("item")))
    if setup.kit.has_platform() and item.key != PLATFORM and not result.placed.get(PLATFORM):
        raise GirderError("platform_first", "The platform goes on first; it is load too.")
    left = setup.kit.remaining(result.placed)[item.key]
    if count > left:
        raise GirderError("kit_exceeded", f"Only {left} of “{item.name}” left in the kit.", left=left, item=item.key)
    placed = {**result.placed, item.key: result.placed.get(item.key, 0) + count}
    load = _within_limit(setup.kit.mass(placed) + result.read, setup)
    mass_kg = item.mass.value * count
    step = Step(event.id, event.kind, item.key, count, mass_kg, StepState.WAITING)
    return replace(
        result,
        placed=placed,
        pieces_on=setup.kit.pieces(placed),
        load_on=load,
        step_waiting=True,
        steps=(*result.steps, step),
        last_step_kg=(result.last_step_kg if result.step_waiting else 0.0) + mass_kg,
        seats=_seated(result, event, setup, count),
    )


def _seated(result: TrialResult, event: Event, setup: TrialSetup, count: int) -> Mapping[str, int]:
    seat = event.data.get("seat")
    if seat is None or event.data.get("item") == PLATFORM:
        return result.seats
    if not setup.seats or seat not in SEATS:
        raise GirderError("unknown_seat", "There is no such place in a hull.")
    left = result.seats.get(seat, 0) + count
    if left < 0:
        raise GirderError("not_that_many_on", "There are not so many at this place.")
    return {**{k: n for k, n in result.seats.items() if k != seat}, **({seat: left} if left else {})}


def _remove(result: TrialResult, event: Event, setup: TrialSetup) -> TrialResult:
    require(EventKind.REMOVE, result, setup)
    count, item = _count(event), setup.kit.item(str(event.data.get("item")))
    if count > result.placed.get(item.key, 0):
        raise GirderError("not_that_many_on", f"There are not {count} of “{item.name}” on it.")
    placed = {**result.placed, item.key: result.placed[item.key] - count}
    if item.key == PLATFORM and any(placed.values()):
        raise GirderError("platform_last", "Take everything off the platform first.")
    load = setup.kit.mass(placed) + result.read
    step = Step(event.id, event.kind, item.key, count, -item.mass.value * count, StepState.NOT_COUNTED)
    return replace(
        result,
        placed=placed,
        pieces_on=setup.kit.pieces(placed),
        load_on=load,
        step_waiting=result.step_waiting and load.value > 0,
        last_step_kg=max(0.0, load.value - result.held.value),
        steps=(*result.steps, step),
        seats=_seated(result, event, setup, -count),
    )


def _load_reading(result: TrialResult, event: Event, setup: TrialSetup) -> TrialResult:
    """A load as one figure: the greatest that an instrument showed, or a paper says, besides what was counted."""
    require(EventKind.LOAD_READING, result, setup)
    read = _weighed(event)
    if read.value <= result.read.value:
        raise GirderError("load_not_more", "A load that is read has to be more than the one before it.")
    load = _within_limit(setup.kit.mass(result.placed) + read, setup)
    held = event.data.get("held", True) is not False
    mass_kg = read.value - result.read.value
    step = Step(event.id, event.kind, "", 1, mass_kg, StepState.HELD if held else StepState.WAITING)
    if not held:
        last_kg = (result.last_step_kg if result.step_waiting else 0.0) + mass_kg
        return replace(
            result, read=read, load_on=load, step_waiting=True, steps=(*result.steps, step), last_step_kg=last_kg
        )
    return replace(
        _holds(replace(result, load_on=load)),
        read=read,
        steps=(*_steps_become(result.steps, StepState.HELD), step),
        # It grew without steps, as far as the instrument can tell.
        last_step_kg=step_of(read),
    )


def _weighed(event: Event) -> Quantity:
    mass_kg, step_kg = (units.parse_load(str(event.data.get(name, ""))).si for name in ("mass", "resolution"))
    if not (mass_kg > 0 and step_kg > 0):
        raise GirderError("mass_not_positive", "The mass and the scale's step must be more than zero.")
    return Quantity(mass_kg, resolution_uncertainty(step_kg))


def _settle(result: TrialResult, event: Event, setup: TrialSetup) -> TrialResult:
    require(EventKind.SETTLE, result, setup)
    hold_s = setup.wait_s(result.round_waiting)
    waited_s = event.data.get("waited_s")
    if isinstance(waited_s, bool) or not isinstance(waited_s, (int, float)) or not waited_s >= 0.9 * hold_s:
        raise GirderError("wait_too_short", f"It counts as held after {hold_s:g} s. Wait and watch.")
    if result.round_waiting:
        return replace(result, rounds=_round_becomes(result.rounds, StepState.HELD))
    return replace(_holds(result), steps=_steps_become(result.steps, StepState.HELD))


def _holds(result: TrialResult) -> TrialResult:
    """What is on has stayed up."""
    heavier = result.load_on if result.load_on.value > result.held.value else result.held
    pieces = max(result.pieces_held, result.pieces_on)
    return replace(result, held=heavier, pieces_held=pieces, step_waiting=False)


_WAITING = (StepState.WAITING,)
_UNDECIDED = (StepState.WAITING, StepState.BROKE)
"""What a void trial leaves without a verdict: the step that waits, and that under which it went."""


def _round_becomes(
    rounds: tuple[Round, ...],
    state: StepState,
    lasted_s: float | None = None,
    among: Collection[StepState] = _WAITING,
) -> tuple[Round, ...]:
    if not rounds or rounds[-1].state not in among:
        return rounds
    return (*rounds[:-1], replace(rounds[-1], state=state, lasted_s=lasted_s))


def _round(result: TrialResult, event: Event, setup: TrialSetup) -> TrialResult:
    require(EventKind.ROUND, result, setup)
    plan = setup.rounds
    assert plan is not None
    procedure, number = plan.procedure, len(result.rounds) + 1
    last = result.rounds[-1].size if result.rounds else 0.0
    ahead = plan.after(last)
    typed = event.data.get("height")
    if procedure.any_size and typed is not None:
        size = _typed_size(str(typed), last, plan)
    elif ahead is None:
        raise GirderError("rounds_over", procedure.all_made)
    else:
        size = ahead.size
    state = StepState.HELD if procedure.hit_or_miss else StepState.WAITING
    hit = bool(event.data.get("hit")) if procedure.hit_or_miss else None
    return replace(result, rounds=(*result.rounds, Round(event.id, number, size, state, hit)))


def _typed_size(text: str, last: float, plan: RoundPlan) -> float:
    """The size of a round off the plan, greater than the last and no greater than the bench goes."""
    procedure = plan.procedure
    size = units.parse(text, procedure.size_kind).si
    if size <= last + 1e-9:
        before = units.format_value(last, procedure.size_kind)
        raise GirderError("drop_not_higher", procedure.rises.format(before))
    if size > plan.most + 1e-9:
        highest = units.format_value(plan.most, procedure.size_kind)
        raise GirderError("drop_too_high", procedure.highest.format(highest))
    return size


def _finish(result: TrialResult, event: Event, setup: TrialSetup) -> TrialResult:
    require(EventKind.FINISH, result, setup)
    return replace(result, outcome=Outcome.DONE, note=str(event.data.get("note", "")))


def _steps_become(
    steps: tuple[Step, ...], state: StepState, among: Collection[StepState] = _WAITING
) -> tuple[Step, ...]:
    # All that came before one that held was decided when it was.
    first = len(steps)
    while first and steps[first - 1].state is not StepState.HELD:
        first -= 1
    return (*steps[:first], *(replace(step, state=state) if step.state in among else step for step in steps[first:]))


def _observe(result: TrialResult, event: Event, setup: TrialSetup) -> TrialResult:
    require(EventKind.OBSERVE, result, setup)
    sign = str(event.data.get("sign"))
    if sign not in setup.observations:
        raise GirderError("unknown_sign", "That is not a sign this kind of challenge watches for.")
    steps = result.steps
    if steps:
        steps = (*steps[:-1], replace(steps[-1], signs=(*steps[-1].signs, sign)))
    return replace(result, steps=steps, signs=(*result.signs, (sign, result.load_on.value)))


def _measure(result: TrialResult, event: Event, setup: TrialSetup) -> TrialResult:
    require(EventKind.MEASURE, result, setup, str(event.data.get("key", "")))
    if "key" not in event.data:
        # Ledgers of the first rules knew the sag of a bridge and nothing else.
        sag_m = units.parse(str(event.data.get("sag", "")), Kind.LENGTH).si
        if not 0 <= sag_m <= 5:
            raise GirderError("sag_out_of_range", "A sag is a length between zero and five metres.")
        return _with_measure(result, "sag", Quantity(sag_m))
    spec = setup.measure(str(event.data["key"]))
    typed = TypedReading(*(str(event.data.get(name, "")) for name in ("text", "resolution", "zero")))
    reading = measure(typed, spec.kind, spec.plausible, bool(event.data.get("confirmed")))
    value = reading.quantity.value
    if spec.most is not None and value > spec.most:
        most = units.format_value(spec.most, spec.kind)
        raise GirderError("measure_too_great", f"{spec.label}: {most} is the most there can be.")
    if spec.all_unless_hit and (value == spec.most) is bool(result.hits):
        raise GirderError("does_not_agree", _disagreement(spec, result, setup))
    if spec.yes_no and value not in (0, 1):
        raise GirderError("not_yes_or_no", f"{spec.label}: 1 for yes, 0 for no.")
    return _with_measure(result, spec.key, reading.quantity)


def _disagreement(spec: BenchMeasure, result: TrialResult, setup: TrialSetup) -> str:
    """Why a count does not go with the rounds."""
    assert setup.rounds is not None and spec.most is not None
    all_of_them, struck = units.format_value(spec.most, spec.kind), setup.rounds.procedure.hit
    if result.hits:
        times = f"{result.hits} {plural(setup.rounds.procedure.struck, result.hits)}"
        return f"{spec.label}: {times} said “{struck}”, so it is less than {all_of_them}. Count or look again."
    return f"{spec.label}: no {setup.rounds.procedure.struck} said “{struck}”, so it is {all_of_them}. Look again."


def _with_measure(result: TrialResult, key: str, quantity: Quantity) -> TrialResult:
    taken = Taken(key, result.load_on.value, len(result.rounds), quantity)
    return replace(result, taken=(*result.taken, taken))


def _fail(result: TrialResult, event: Event, setup: TrialSetup) -> TrialResult:
    mode = str(event.data.get("mode"))
    if mode in setup.loading_errors:
        raise GirderError("loading_error_is_void", "That spoils the trial but is no failure: mark it void.")
    if mode not in setup.failure_modes:
        raise GirderError("unknown_mode", "Say how it failed, with one of the ways listed.")
    require(EventKind.FAIL, result, setup)
    after_s = event.data.get("after_s")
    lasted_s = None
    if isinstance(after_s, (int, float)) and not isinstance(after_s, bool) and 0 <= after_s <= GREATEST:
        lasted_s = float(after_s)
    # What broke it after it had held the same load for the wait is that load itself.
    broke_at = result.load_on if result.load_on.value > result.held.value else result.held
    return replace(
        result,
        outcome=Outcome.BROKE,
        broke_at=broke_at if result.load_on.value > 0 else None,
        mode=mode,
        note=str(event.data.get("note", "")),
        step_waiting=False,
        steps=_steps_become(result.steps, StepState.BROKE),
        rounds=_round_becomes(result.rounds, StepState.BROKE, lasted_s),
    )


def _run_out(result: TrialResult, event: Event, setup: TrialSetup) -> TrialResult:
    reason = str(event.data.get("reason"))
    if reason not in setup.run_out_reasons:
        raise GirderError("unknown_reason", "Say why the load ran out, with one of the reasons listed.")
    require(EventKind.RUN_OUT, result, setup)
    return replace(result, outcome=Outcome.RAN_OUT, reason=reason, note=str(event.data.get("note", "")))


def _void(result: TrialResult, event: Event, setup: TrialSetup) -> TrialResult:
    require(EventKind.VOID, result, setup)
    reason = str(event.data.get("reason"))
    if reason not in setup.loading_errors:
        raise GirderError("unknown_reason", "Say what spoiled the trial, with one of the reasons listed.")
    return replace(
        result,
        outcome=Outcome.VOID,
        mode=None,
        reason=reason,
        note=str(event.data.get("note", "")),
        broke_at=None,
        step_waiting=False,
        steps=_steps_become(result.steps, StepState.NOT_COUNTED, _UNDECIDED),
        rounds=_round_becomes(result.rounds, StepState.NOT_COUNTED, among=_UNDECIDED),
    )


def _pile_reading(result: TrialResult, event: Event, setup: TrialSetup) -> TrialResult:
    require(EventKind.PILE_READING, result, setup)
    weighed = _weighed(event)
    if event.data.get("covers", "all") == "held" or result.broke_at is None:
        last = None if result.broke_at is None else result.broke_at - result.held
        return replace(
            result,
            held=weighed,
            broke_at=None if last is None else Quantity(weighed.value + last.value, weighed.standard_uncertainty),
            pile_weighed=True,
            pile=weighed,
        )
    last_kg = result.broke_at.value - result.held.value
    if weighed.value <= last_kg:
        raise GirderError("pile_too_light", "The pile weighs less than its last step. Is all of it on the scale?")
    held = Quantity(weighed.value - last_kg, weighed.standard_uncertainty)
    return replace(result, held=held, broke_at=weighed, pile_weighed=True, pile=weighed)


_APPLY = {
    EventKind.PLACE: _place,
    EventKind.REMOVE: _remove,
    EventKind.SETTLE: _settle,
    EventKind.OBSERVE: _observe,
    EventKind.MEASURE: _measure,
    EventKind.FAIL: _fail,
    EventKind.RUN_OUT: _run_out,
    EventKind.VOID: _void,
    EventKind.LOAD_READING: _load_reading,
    EventKind.PILE_READING: _pile_reading,
    EventKind.ROUND: _round,
    EventKind.FINISH: _finish,
}
