"""Designs with their trials, put together from the database and the core. Nothing here writes."""

from __future__ import annotations

import math
import uuid
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cached_property
from typing import Any

from django.db.models import Prefetch
from django.utils import timezone

from bench.models import LedgerEvent, Trial
from bench.remembered import results_of, with_length, with_writers
from challenges.models import Run
from designs.models import Design, Draft, Reading, TeamPrediction
from designs.team_services import Offered, offered_by_team
from drafting.shelf import in_force
from girder_core.families import (
    SELF_MASS,
    Away,
    ConstraintResult,
    DesignState,
    Standing,
    WorkedOut,
    headline,
    how_it_ended,
    result_in_words,
    sizes_drawn,
    still_to_do,
    trial_line,
    ways_on,
    worked_out,
)
from girder_core.kit import PLATFORM, LoadEstimate, side_by_side
from girder_core.measure import Quantity, ScaleAdvice, System, scale_good_enough, sentences
from girder_core.physics import Calibration
from girder_core.planning import drying_left_s
from girder_core.results import (
    NOTHING_MEASURED,
    Facts,
    Gain,
    TrialRule,
)
from girder_core.trial import (
    UNCONFIRMED,
    BenchMeasure,
    Outcome,
    RoundPlan,
    ShownRound,
    TrialResult,
    TrialSetup,
    with_mark,
)


def designs_of(run: Run, whole: bool = True, ledgers: bool = True) -> list[Design]:
    """All designs of a run with everything that hangs on them, in a constant number of queries.

    Those that are not ``whole`` have what a comparison needs: no photographs, no answers. Without their ``ledgers``
    they have of each trial how long its ledger is, and whole ones who wrote in it.
    """
    trials = Trial.objects.order_by("number")
    more: list[Any] = ["photos", "reflections", "team_readings"] if whole else []
    if ledgers:
        more += [Prefetch("trials", trials), Prefetch("trials__events", LedgerEvent.objects.order_by("sequence"))]
    else:
        more += [Prefetch("trials", with_writers(with_length(trials)) if whole else with_length(trials))]
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


def standing_of(design: Design, taken: Collection[str], trials: Sequence[TrialResult]) -> Standing:
    """Where a design stands, from the keys of its readings and the results of its trials."""
    away = Away(design.away) if design.away else None
    return Standing(design.run.core_family(), design.checked_in_at is not None, taken, trials, away)


RECENT = timedelta(minutes=20)
"""A trial in which nothing happened for longer is not on the bench any more."""


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
    tested = dict.fromkeys(by_id, 0)
    for design in designs:
        taken = {reading.key for reading in design.readings.all()}
        trials = [results[trial.pk] for trial in design.trials.all()]
        tested[design.run_id] += standing_of(design, taken, trials).tested
    return tested


@dataclass(frozen=True)
class TrialCard:
    """A trial and its result."""

    trial: Trial
    result: TrialResult

    @property
    def unconfirmed(self) -> bool:
        """Whether it is over, its team made it by itself, and nobody has confirmed what it found."""
        return self.result.ended and self.trial.unconfirmed

    @property
    def came_to(self) -> str:
        """What it came to, in few words; empty for one that does not count."""
        run = self.trial.design.run
        if not self.result.scored:
            return ""
        return result_in_words(run.core_family(), run.setup, self.result, run.system(), run.young)

    @property
    def line(self) -> str:
        """How it stands, in a line."""
        run = self.trial.design.run
        line = trial_line(run.core_family(), run.setup, self.result, run.system(), run.young)
        return with_mark(line, self.unconfirmed)

    @property
    def headline(self) -> str:
        """What it came to, in a sentence; empty while it runs, and of one that is void."""
        run, team = self.trial.design.run, self.trial.design.team.name
        if not self.result.scored:
            return ""
        said = headline(run.core_family(), run.setup, team, self.result, run.system(), run.young)
        return sentences(said, f"{UNCONFIRMED.capitalize()}." if self.unconfirmed else "")

    @property
    def authors(self) -> list[str]:
        """Who wrote in its ledger, in order."""
        known = vars(self.trial)
        writers = known["writers"] if "writers" in known else [event.author for event in self.trial.events.all()]
        return [author for author in dict.fromkeys(writers or ()) if author]

    @property
    def latest_at(self) -> datetime | None:
        """When its latest entry was made."""
        known = vars(self.trial)
        if "made_at" in known:
            made_at: datetime | None = known["made_at"]
            return made_at
        return max((event.happened_at for event in self.trial.events.all()), default=None)

    @property
    def how(self) -> str:
        """How it ended, or that it is void and what spoiled it."""
        how = how_it_ended(self.trial.design.run.core_family(), self.result)
        return ": ".join(part for part in ("Void", how.lower()) if part) if self.result.outcome is Outcome.VOID else how


@dataclass(frozen=True)
class ShownRounds:
    """The rounds of a test as its screens name them, and what is measured in them."""

    plan: RoundPlan
    planned: tuple[ShownRound, ...]
    measures: tuple[BenchMeasure, ...]


def shown_rounds(run: Run, system: System) -> ShownRounds | None:
    """The rounds of a run's tests; None where they are loaded."""
    plan = run.core_family().round_plan(run.setup)
    return None if plan is None else ShownRounds(plan, plan.shown(system), run.core_family().bench.measures)


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
    def counting(self) -> list[Reading]:
        """The readings that count."""
        return list(self.readings.values())

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
    def unconfirmed(self) -> bool:
        """Whether something that counts was found by its team alone, and nobody has confirmed it."""
        return any(trial.unconfirmed for trial in self.trials if trial.result.scored)

    @cached_property
    def standing(self) -> Standing:
        """Where it stands."""
        return standing_of(self.design, self.readings.keys(), self.results())

    @property
    def how(self) -> str:
        """How its last trial that counts ended; empty before one, and where that was not told."""
        return next((trial.how for trial in reversed(self.trials) if trial.result.scored), "")

    @property
    def tested(self) -> bool:
        """Whether it has a result."""
        return self.standing.tested

    @property
    def state(self) -> DesignState:
        """Where it stands, in a word."""
        return self.standing.state

    @property
    def still_to_do(self) -> tuple[str, ...]:
        """What check-in still waits for."""
        return still_to_do(self.standing.family, self.readings, self.design.answers)

    @property
    def deck_places(self) -> tuple[tuple[float, float], ...]:
        """Where items lie on its deck, for a table that counts them; empty where sizes are not known."""
        run = self.design.run
        length, width = (self.readings.get(key) for key in ("length", "width"))
        item_m = next((item.diameter_m for item in run.core_kit().items if item.key != PLATFORM), 0.0)
        if not run.core_family().bench.counts_pieces or length is None or width is None or item_m <= 0:
            return ()
        return side_by_side(length.quantity().value, width.quantity().value, item_m)

    @property
    def worked_out(self) -> tuple[WorkedOut, ...]:
        """Figures that follow from its readings: an area, once round its edge, the room inside."""
        quantities = {key: reading.quantity() for key, reading in self.readings.items()}
        outlines = {key: shape for key, reading in self.readings.items() if (shape := reading.outline()) is not None}
        return worked_out(self.standing.family.derived, quantities, outlines)

    @property
    def offered(self) -> list[Offered]:
        """What its team measured itself."""
        return offered_by_team(self.design)

    @property
    def ways_on(self) -> tuple[str, ...]:
        """What its team may ask itself for the next version, by how its last test ended."""
        return ways_on(self.standing.family, self.results())

    @property
    def sizes(self) -> dict[str, float]:
        """What its picture at the bench is drawn with [m], by key of reading."""
        values = {key: reading.quantity().value for key, reading in self.readings.items()}
        return sizes_drawn(self.standing.family, self.design.run.setup, values)

    def results(self) -> tuple[TrialResult, ...]:
        return tuple(card.result for card in self.trials)

    def facts(self, rule: TrialRule, results: Sequence[TrialResult] | None = None) -> Facts:
        """What scoring needs of the readings and of what the bench measured in its trials, or in some of them; nothing
        before check-in."""
        if self.design.checked_in_at is None:
            return NOTHING_MEASURED
        quantities = {key: reading.quantity() for key, reading in self.readings.items()}
        return self.design.run.core_family().facts(
            quantities, self.results() if results is None else results, rule, self.design.run.setup
        )


def design_card(
    design: Design,
    setup: TrialSetup,
    corrections: Mapping[str, Calibration] | None = None,
    known: Mapping[uuid.UUID, TrialResult] | None = None,
) -> DesignCard:
    """Put a design's card together; its related rows should be prefetched, and the class's corrections be given.

    ``known`` has the results of its trials, where their events were not fetched.
    """
    if corrections is None:
        corrections = in_force(design.run.school_class, design.run.family)
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
        model=draft.estimate(corrections.get(draft.material)) if draft else None,
        drying_left_s=drying_left_s(60.0 * design.run.drying_minutes, design.glued_for_s(timezone.now())),
    )


def cards_of(run: Run, whole: bool = True) -> list[DesignCard]:
    """The cards of all designs of a run, in a constant number of queries; ledgers are read where they have grown. Those
    that are not ``whole`` have what a comparison needs."""
    setup, corrections = run.trial_setup(), in_force(run.school_class, run.family)
    designs = designs_of(run, whole, ledgers=False)
    known = results_of([trial for design in designs for trial in design.trials.all()])
    return [design_card(design, setup, corrections, known) for design in designs]


def arrangements_used(cards: Iterable[DesignCard]) -> list[str]:
    """How each trial that counts was set up, the latest last."""
    counted = [marked.trial for card in cards for marked in card.trials if marked.result.scored]
    return [trial.arrangement for trial in sorted(counted, key=lambda trial: (trial.started_at, trial.pk))]
