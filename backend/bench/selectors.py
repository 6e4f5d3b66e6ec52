"""What the screens ask for, put together from the database and the core. Nothing here writes."""

from __future__ import annotations

import math
import uuid
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from django.db.models import Prefetch
from django.utils import timezone

from bench.models import Design, Draft, LedgerEvent, Reading, TeamPrediction, Trial
from bench.remembered import results_of, with_length
from challenges.models import GoalChange, Run
from drafting.shelf import in_force
from girder_core.families import SELF_MASS, ConstraintResult
from girder_core.ground import Drawing
from girder_core.kit import PLATFORM, LoadEstimate, side_by_side
from girder_core.measure import Quantity, ScaleAdvice, System, scale_good_enough
from girder_core.physics import Calibration
from girder_core.planning import BenchFit, BuildClock, bench_fit, drying_left_s
from girder_core.results import (
    NOTHING_MEASURED,
    Candidate,
    ClassGain,
    Comparison,
    Entry,
    Facts,
    Gain,
    Place,
    Rules,
    Score,
    TrialRule,
    class_gain,
    compare,
    failures,
    gain,
    needs_trial,
    pooled_cv,
    score_all,
    usual_way,
)
from girder_core.trial import Outcome, RoundPlan, TrialResult, TrialSetup


def designs_of(run: Run, whole: bool = True) -> list[Design]:
    """All designs of a run with everything that hangs on them, in a constant number of queries.

    Those that are not ``whole`` have what a comparison needs: no photographs, no answers, and of each trial how long
    its ledger is.
    """
    trials = Trial.objects.order_by("number")
    more = (
        [Prefetch("trials", trials), Prefetch("trials__events", LedgerEvent.objects.order_by("sequence")),
         "photos", "reflections"]
        if whole
        else [Prefetch("trials", with_length(trials.defer("estimate")))]
    )  # fmt: skip
    designs = list(
        Design.objects.filter(run=run)
        .select_related("team")
        .prefetch_related(
            Prefetch("readings", Reading.objects.order_by("id")),
            Prefetch("predictions", TeamPrediction.objects.order_by("id")),
            Prefetch("drafts", Draft.objects.order_by("id")),
            *more,
        )
    )
    for design in designs:
        design.run = run
    return designs


def in_queue(designs: Sequence[Design]) -> list[Design]:
    """Designs in the order at the bench; those without a place follow in the order of the class list."""
    return sorted(designs, key=lambda design: (design.queue_place is None, design.queue_place or 0))


def tested_by_run(runs: Sequence[Run]) -> dict[int, int]:
    """For each run how many of its designs have a result, in a constant number of queries."""
    by_id = {run.pk: run for run in runs}
    designs = list(
        Design.objects.filter(run__in=runs).prefetch_related(
            Prefetch("readings", Reading.objects.only("design_id", "key")),
            Prefetch("trials", with_length(Trial.objects.defer("estimate"))),
        )
    )
    for design in designs:
        design.run = by_id[design.run_id]
    results = results_of([trial for design in designs for trial in design.trials.all()])
    found = dict.fromkeys(by_id, 0)
    for design in designs:
        taken = {reading.key for reading in design.readings.all()} if design.checked_in_at else set()
        trials = [results[trial.pk] for trial in design.trials.all()]
        found[design.run_id] += design.run.core_family().has_result(trials, taken)
    return found


@dataclass(frozen=True)
class TrialCard:
    """A trial and its result."""

    trial: Trial
    result: TrialResult


@dataclass(frozen=True)
class DesignCard:
    """A design with all that follows from its rows."""

    design: Design
    readings: Mapping[str, Reading]
    self_mass: Quantity | None
    scale_advice: ScaleAdvice | None
    constraints: list[ConstraintResult]
    prediction: TeamPrediction | None
    trials: list[TrialCard]
    draft: Draft | None = None
    model: LoadEstimate | None = None
    drying_left_s: float = 0.0
    gain: Gain | None = None

    @property
    def veiled(self) -> bool:
        """Whether the model's range is kept back: the team has not said what it thinks, and nobody asked to see it."""
        return self.prediction is None and self.design.model_shown_at is None and not self.trials

    @property
    def said_first(self) -> bool:
        """Whether the team's prediction came before the model's range was shown."""
        shown = self.design.model_shown_at
        return self.prediction is not None and (shown is None or self.prediction.said_at <= shown)

    @property
    def open_trial(self) -> TrialCard | None:
        """The trial that has not ended, if any."""
        return next((card for card in self.trials if not card.result.ended), None)

    @property
    def scored(self) -> bool:
        """Whether there is a result: a trial that counts, or the readings that tell it where nothing is loaded."""
        taken = () if self.design.checked_in_at is None else tuple(self.readings)
        return self.design.run.core_family().has_result(self.results(), taken)

    @property
    def state(self) -> str:
        """Where the design stands: what the queue at the bench shows in a word."""
        if self.open_trial:
            return "on_bench"
        counted = [card.result.outcome for card in self.trials if card.result.scored]
        if counted:
            return counted[-1].value
        if self.scored:
            return "measured"
        if self.trials:
            return Outcome.VOID.value
        return "checked_in" if self.design.checked_in_at else "waiting"

    @property
    def deck_places(self) -> tuple[tuple[float, float], ...]:
        """Where items lie on its deck, for a table that counts them; empty where sizes are not known."""
        run = self.design.run
        length, width = (self.readings.get(key) for key in ("length", "width"))
        item_m = next((item.diameter_m for item in run.core_kit().items if item.key != PLATFORM), 0.0)
        if not run.core_family().bench.counts_pieces or length is None or width is None or item_m <= 0:
            return ()
        return side_by_side(length.quantity().value, width.quantity().value, item_m)

    def results(self) -> tuple[TrialResult, ...]:
        return tuple(card.result for card in self.trials)

    def facts(self, rule: TrialRule, results: Sequence[TrialResult] | None = None) -> Facts:
        """What scoring needs of the readings and of what the bench measured in its trials, or in some of them; nothing
        before check-in."""
        if self.design.checked_in_at is None:
            return NOTHING_MEASURED
        quantities = {key: reading.quantity() for key, reading in self.readings.items()}
        return self.design.run.core_family().facts(quantities, self.results() if results is None else results, rule)


def design_card(
    design: Design,
    setup: TrialSetup,
    factors: Mapping[str, Calibration] | None = None,
    known: Mapping[uuid.UUID, TrialResult] | None = None,
) -> DesignCard:
    """Put a design's card together; its related rows should be prefetched, and the class's factors be given.

    ``known`` has the results of its trials, where their events were not fetched.
    """
    if factors is None:
        factors = in_force(design.run.school_class, design.run.family)
    drafts = sorted(design.drafts.all(), key=lambda draft: draft.pk)
    draft = drafts[-1] if drafts else None
    readings = design.counting_readings()
    mass = readings.get(SELF_MASS)
    predictions = sorted(design.predictions.all(), key=lambda prediction: prediction.pk)
    return DesignCard(
        design=design,
        readings=readings,
        self_mass=mass.quantity() if mass else None,
        # The standard uncertainty of a plain reading is its step over the root of twelve.
        scale_advice=scale_good_enough(mass.value_si, mass.standard_uncertainty_si * math.sqrt(12)) if mass else None,
        constraints=design.constraints(),
        prediction=predictions[-1] if predictions else None,
        trials=[
            TrialCard(trial, trial.result(setup) if known is None else known[trial.pk]) for trial in design.trials.all()
        ],
        draft=draft,
        model=draft.estimate(factors.get(draft.material)) if draft else None,
        drying_left_s=drying_left_s(60.0 * design.run.drying_minutes, design.glued_for_s(timezone.now())),
    )


@dataclass(frozen=True)
class Bay:
    """A stage on the deck: how far it is in words, and as a share."""

    key: str
    label: str
    note: str
    share: float


@dataclass(frozen=True)
class RunState:
    """Everything a run's screens show."""

    run: Run
    deck: list[Bay]
    designs: list[DesignCard]
    missing_teams: int
    best_held: tuple[float, bool] | None
    drawing: Drawing
    goal_changes: list[GoalChange]
    goal_locked: bool
    clock: BuildClock
    practice_pieces: int
    queue: list[int]
    bench_left_s: float | None
    bench_fit: BenchFit | None
    round_plan: RoundPlan | None
    class_gain: ClassGain
    usual_arrangement: str


def cards_of(run: Run) -> list[DesignCard]:
    """The cards of all designs of a run, in a constant number of queries."""
    setup, factors = run.trial_setup(), in_force(run.school_class, run.family)
    return [design_card(design, setup, factors) for design in designs_of(run)]


def _cards_by_memory(run: Run) -> list[DesignCard]:
    """The cards of a run whose ledgers are read only where they have grown."""
    setup, factors = run.trial_setup(), in_force(run.school_class, run.family)
    designs = designs_of(run, whole=False)
    known = results_of([trial for design in designs for trial in design.trials.all()])
    return [design_card(design, setup, factors, known) for design in designs]


def run_state(run: Run, cards: list[DesignCard] | None = None) -> RunState:
    """The state of a run, in a constant number of queries; pass its cards when they are at hand."""
    cards = with_gains(cards_of(run) if cards is None else cards, run.rules())
    held = [
        (card.held.value, card.outcome is Outcome.RAN_OUT)
        for design in cards
        for card in design.results()
        if card.scored
    ]
    teams = {card.design.team_id for card in cards}
    return RunState(
        run=run,
        deck=_deck(run, cards),
        designs=cards,
        missing_teams=run.school_class.teams.exclude(pk__in=teams).count(),
        best_held=max(held) if held else None,
        drawing=run.core_family().draw(run.setup),
        goal_changes=list(run.goal_changes.all()),
        goal_locked=any(card.trials or card.scored for card in cards),
        clock=run.build_clock(timezone.now()),
        practice_pieces=round(sum(float(one.get("practice") or 0) for one in run.materials)),
        queue=[design.pk for design in in_queue([card.design for card in cards])],
        bench_left_s=_bench_left_s(run),
        bench_fit=_bench_fit(run, cards),
        round_plan=run.core_family().round_plan(run.setup),
        class_gain=class_gain_of(cards),
        usual_arrangement=usual_way(_ways(cards)),
    )


def _ways(cards: Iterable[DesignCard]) -> list[str]:
    """How each trial that counts was set up, the latest last."""
    counted = [one.trial for card in cards for one in card.trials if one.result.scored]
    return [trial.arrangement for trial in sorted(counted, key=lambda trial: (trial.started_at, trial.pk))]


def _bench_left_s(run: Run) -> float | None:
    return None if run.bench_ends_at is None else (run.bench_ends_at - timezone.now()).total_seconds()


def _bench_fit(run: Run, cards: Sequence[DesignCard]) -> BenchFit | None:
    left_s, pace = _bench_left_s(run), run.core_family().pace
    if left_s is None:
        return None
    starts = sorted(one.trial.started_at for card in cards for one in card.trials)
    taken = [(after - before).total_seconds() for before, after in pairwise(starts)]
    latest = {card.design.team_id: card for card in cards}
    waiting = sum(card.state in ("waiting", "checked_in", "void") for card in latest.values())
    loaded = run.core_family().loaded
    return bench_fit(
        left_s,
        waiting,
        pace.swap_s + (run.trial_seconds if loaded else pace.test_s),
        taken,
        run.benches,
        run.resolution if loaded else None,
    )


def with_gains(cards: list[DesignCard], rules: Rules) -> list[DesignCard]:
    """The cards, each later version with what it gained over the one before."""
    candidates = [Candidate(card.results(), card.self_mass, False, card.facts(rules.trial_rule)) for card in cards]
    scores = {card.design.pk: one for card, one in zip(cards, score_all(candidates, rules), strict=True)}
    loaded = needs_trial(rules)
    scatter = pooled_cv([failures(card.results()) for card in cards]) if loaded else None
    told = []
    for card in cards:
        before, after = scores.get(card.design.parent_id or 0), scores[card.design.pk]
        if isinstance(before, Score) and isinstance(after, Score):
            card = replace(card, gain=gain(before, after, scatter, not loaded))
        told.append(card)
    return told


def class_gain_of(cards: Sequence[DesignCard]) -> ClassGain:
    """Over all pairs of versions whose earlier one came to an end, so that the gain is known."""
    told = [card.gain for card in cards if card.gain is not None and card.gain.bounds.low > -1]
    ratios = [1 + one.value for one in told if math.isfinite(one.value) and one.value > -1]
    return class_gain(ratios, sum(one.at_least for one in told))


def _deck(run: Run, cards: list[DesignCard]) -> list[Bay]:
    first = [card for card in cards if card.design.version == 1]
    later = [card for card in cards if card.design.version > 1]
    n = len(cards)
    checked = sum(card.design.checked_in_at is not None for card in cards)
    tested = sum(card.scored for card in cards)
    built = checked == n and n > 0
    kit_kg = run.core_kit().total_kg()
    return [
        Bay("brief", "Brief", "ready", 1.0),
        Bay("kit", "Kit", f"{kit_kg:.1f} kg" if kit_kg else "list", 1.0),
        Bay("build", "Build", "done" if built else "running" if run.build_started_at else "to do", float(built)),
        Bay("check-in", "Check-in", f"{checked} of {n}", checked / n if n else 0.0),
        Bay("bench", "Bench", f"{tested} of {n}", tested / n if n else 0.0),
        Bay("compare", "Compare", f"{tested} ranked" if tested else "–", tested / n if n else 0.0),
        Bay("next", "Next version", f"{len(later)} of {len(first)}" if later else "–", len(later) / max(1, len(first))),
    ]


@dataclass(frozen=True)
class ComparedRun:
    """A run compared, with the cards behind each entry's key."""

    comparison: Comparison
    cards: Mapping[str, DesignCard]
    voids: list[tuple[DesignCard, TrialCard]]

    def card(self, place: Place) -> DesignCard:
        return self.cards[place.entry.key]


def compared(run: Run, rules: Rules, system: System, cards: list[DesignCard] | None = None) -> ComparedRun:
    """Compare a run under given rules, each team by its latest version that was tested."""
    cards = _cards_by_memory(run) if cards is None else cards
    by_team: dict[int, DesignCard] = {}
    for card in cards:
        held = by_team.get(card.design.team_id)
        if held is None or card.scored or not held.scored:
            by_team[card.design.team_id] = card
    current = {str(card.design.pk): card for card in by_team.values()}
    usual = usual_way(_ways(current.values()))
    entries = [_entry(key, card, rules.trial_rule, usual) for key, card in current.items()]
    return ComparedRun(
        comparison=compare(entries, rules, system),
        cards=current,
        voids=[(card, t) for card in cards for t in card.trials if t.result.outcome is Outcome.VOID],
    )


def _entry(key: str, card: DesignCard, rule: TrialRule, usual: str) -> Entry:
    mass = card.readings.get(SELF_MASS)
    remark = ""
    if mass is not None and mass.after_test:
        remark = "was taken only after the test"
    elif mass is not None and mass.estimated():
        remark = "was added up from materials"
    return Entry(
        key=key,
        name=card.design.team.name,
        trials=card.results(),
        self_mass=card.self_mass,
        breaches=tuple(result.sentence for result in card.constraints if result.status == "breached"),
        gap=card.readings["gap"].quantity() if "gap" in card.readings else None,
        self_mass_note=remark,
        facts=card.facts(rule),
        remarks=(
            *(
                f"tested before its joints were dry ({one.trial.wet_reason})."
                for one in card.trials
                if one.trial.wet_reason
            ),
            *_set_up_otherwise(card, usual),
            *(f"not kept as agreed: {one}." for one in card.design.controls_broken),
        ),
    )


def _set_up_otherwise(card: DesignCard, usual: str) -> list[str]:
    """Trials that were not set up like most of the run."""
    labels = {way.key: way.label.lower() for way in card.design.run.core_family().bench.arrangements}
    found = dict.fromkeys(one.trial.arrangement for one in card.trials if one.result.scored)
    return [
        f"tested {labels.get(way, 'otherwise')}, most others {labels.get(usual, 'otherwise')}."
        for way in found
        if way != usual
    ]
