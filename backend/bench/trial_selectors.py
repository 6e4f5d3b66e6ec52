"""What the bench shows of one trial, put together from the ledger and the core. Nothing here writes."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from bench.models import Trial
from bench.remembered import result_of
from bench.selectors import ShownRounds, shown_rounds
from girder_core.families import SELF_MASS, Family, ended_in_words, strength_in_words
from girder_core.kit import Container, Kit, LoadEstimate, LoadPlan, PileCheck, estimate_from_kit, load_plan, pile_check
from girder_core.measure import Quantity, System, strength_to_weight
from girder_core.safety import bench_caution, round_caution
from girder_core.trial import (
    Behaviour,
    Noticed,
    RoundPlan,
    TrialResult,
    TrialSetup,
    acts,
    behave,
    held_at_station,
    noticed,
    off_centre,
    round_range,
    seat_offset,
    specimen,
    with_mark,
)


@dataclass(frozen=True)
class Cargo:
    """Where the cargo of a boat sits as a whole, as shares of the half length and half width."""

    forward: float
    starboard: float
    off_centre: bool


@dataclass(frozen=True)
class TrialState:
    """Everything the bench shows of one trial."""

    trial: Trial
    result: TrialResult
    remaining: Mapping[str, int]
    plan: LoadPlan
    caution: str | None
    ratio: Quantity | None
    self_mass: Quantity | None
    prediction_kg: float | None
    prediction_says: str
    round_plan: ShownRounds | None
    pile: PileCheck | None
    rehearsal: Behaviour | None
    cargo: Cargo | None
    hold_s: float
    refused: Mapping[str, str]
    held_back: Mapping[str, str]
    mark: str
    ended: str
    strength: str
    noticed: tuple[Noticed, ...]


@dataclass(frozen=True)
class TrialTerms:
    """What of a trial's state does not follow from its ledger: it holds while nobody changes run, design or team."""

    trial: Trial
    family: Family
    setup: TrialSetup
    kit: Kit
    container: Container | None
    pinned: tuple[str, int] | None
    estimate: LoadEstimate | None
    self_mass: Quantity | None
    prediction_kg: float | None
    prediction_says: str
    round_plan: ShownRounds | None
    system: System


def trial_terms(trial: Trial, system: System) -> TrialTerms:
    """What holds for a trial, for a reader of these units."""
    design = trial.design
    run = design.run
    mass = design.counting_readings().get(SELF_MASS)
    prediction = max(design.predictions.all(), key=lambda said: said.pk, default=None)
    return TrialTerms(
        trial=trial,
        family=run.core_family(),
        setup=run.trial_setup(),
        kit=run.core_kit(),
        container=run.core_container(),
        pinned=run.pinned(),
        estimate=trial.expectation(),
        self_mass=mass.quantity() if mass else None,
        prediction_kg=prediction.load_kg if prediction else None,
        prediction_says=prediction.words() if prediction else "",
        round_plan=shown_rounds(run, system),
        system=system,
    )


def trial_state(trial: Trial, system: System, result: TrialResult | None = None) -> TrialState:
    """The state of a trial; pass the result when it was just worked out."""
    terms = trial_terms(trial, system)
    return state_of(terms, result or result_of(trial))


def state_of(terms: TrialTerms, result: TrialResult) -> TrialState:
    """The state of a trial under its terms, with what its ledger came to."""
    trial, family, setup, kit = terms.trial, terms.family, terms.setup, terms.kit
    run, rounds = trial.design.run, setup.rounds
    self_mass = terms.self_mass
    return TrialState(
        trial=trial,
        result=result,
        remaining=kit.remaining(result.placed),
        plan=load_plan(
            kit,
            terms.estimate or estimate_from_kit(kit),
            run.trial_seconds,
            family.pace.place_s,
            setup.hold_s,
            run.resolution,
            result.placed,
            run.setup.get("bench_limit_kg"),
            terms.container,
            result.read.value,
            terms.pinned,
        ),
        caution=_caution(result, terms.estimate, rounds, family.bench.near_end),
        ratio=strength_to_weight(result.held, self_mass) if self_mass and result.held.value > 0 else None,
        self_mass=self_mass,
        prediction_kg=terms.prediction_kg,
        prediction_says=terms.prediction_says,
        round_plan=terms.round_plan,
        pile=pile_check(kit, result.placed, result.pile, terms.system) if result.pile else None,
        rehearsal=_behaviour(trial, result, rounds) if trial.rehearsal else None,
        cargo=_cargo(result),
        hold_s=setup.hold_s,
        refused={act.name: act.reason for act in acts(result, setup) if act.reason},
        held_back=held_at_station(trial.station()),
        mark=with_mark("", result.ended and trial.unconfirmed),
        ended=ended_in_words(family, run.setup, result) if rounds else "",
        strength=strength_in_words(family, run.setup, result, terms.system),
        noticed=noticed(result, setup, terms.system),
    )


def _cargo(result: TrialResult) -> Cargo | None:
    if not result.seats:
        return None
    offset = seat_offset(result.seats)
    return Cargo(*offset, off_centre(offset))


def _caution(result: TrialResult, estimate: LoadEstimate | None, rounds: RoundPlan | None, near: str) -> str | None:
    if result.ended:
        return None
    if rounds is not None and not result.load_on.value > 0:
        return round_caution(rounds.procedure, bool(result.signs))
    return bench_caution(result.load_on.value, estimate, near)


def _behaviour(trial: Trial, result: TrialResult, rounds: RoundPlan | None) -> Behaviour:
    """What the made-up structure of a rehearsal does now. It follows from the trial's id, so all devices agree."""
    family, seed = trial.design.run.core_family(), trial.pk.int & 0xFFFFFFFF
    modes, signs = [mode.key for mode in family.failure_modes], [sign.key for sign in family.observations]
    if rounds is not None and not result.loaded:
        drawn = specimen(*round_range(rounds), modes, signs, seed)
        return behave(drawn, result.rounds[-1].size if result.rounds else 0.0, family.words())
    expected = trial.expectation() or estimate_from_kit(trial.design.run.core_kit())
    drawn = specimen(expected.low_kg, expected.high_kg, modes, signs, seed)
    return behave(drawn, result.load_on.value, family.words())
