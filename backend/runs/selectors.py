"""What a run's screens ask for, put together from the apps below. Nothing here writes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from django.utils import timezone

from bench.selectors import DesignCard, ShownRounds, arrangements_used, cards_of, in_queue, shown_rounds
from challenges.models import GoalChange, Run
from girder_core.families import TO_BE_TESTED, Aim, Key, aim_kg, aims, foretells, keys_of
from girder_core.ground import Drawing
from girder_core.measure import plural
from girder_core.planning import BenchFit, BuildClock, bench_fit
from girder_core.results import (
    BestLoad,
    Chart,
    ClassGain,
    School,
    best_load,
    class_gain_of,
    possible_schools,
)
from girder_core.trial import Act, TrialResult, acts
from results.drawn import gains_chart
from results.selectors import with_gains


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
    best_held: BestLoad | None
    drawing: Drawing
    goal_changes: list[GoalChange]
    goal_locked: bool
    clock: BuildClock
    practice_pieces: int
    queue: list[int]
    bench_left_s: float | None
    bench_fit: BenchFit | None
    round_plan: ShownRounds | None
    keys: tuple[Key, ...]
    acts: tuple[Act, ...]
    aims: tuple[Aim, ...]
    stand_s: float
    hold_s: float
    schools: list[School]
    class_gain: ClassGain
    usual_arrangement: str

    @property
    def foretells(self) -> dict[str, str] | None:
        """What a team is asked to foretell where nothing is loaded."""
        told = foretells(self.run.core_family(), self.run.setup)
        return {"kind": told.kind, "ask": told.ask, "example": told.example(self.run.system())} if told else None

    @property
    def versions(self) -> Chart | None:
        """From version to version, team by team; drawn only where it is asked for, which the board never does."""
        return gains_chart(self.designs)


def run_state(run: Run, cards: list[DesignCard] | None = None) -> RunState:
    """The state of a run, in a constant number of queries; pass its cards when they are at hand."""
    cards = with_gains(cards_of(run) if cards is None else cards, run.rules())
    bests = [best for card in cards if (best := best_load(card.results()))]
    teams = {card.design.team_id for card in cards}
    return RunState(
        run=run,
        deck=_deck(run, cards),
        designs=cards,
        missing_teams=run.school_class.teams.exclude(pk__in=teams).count(),
        best_held=max(bests, key=lambda best: best.held_kg, default=None),
        drawing=run.core_family().draw(run.setup),
        goal_changes=list(run.goal_changes.all()),
        goal_locked=any(card.trials or card.tested for card in cards),
        clock=run.build_clock(timezone.now()),
        practice_pieces=run.practice_pieces,
        queue=[design.pk for design in in_queue([card.design for card in cards])],
        bench_left_s=bench_left_s(run),
        bench_fit=_bench_fit(run, cards),
        round_plan=shown_rounds(run, run.system()),
        acts=acts(TrialResult(), run.trial_setup()),
        keys=keys_of(run.core_family(), run.setup),
        aims=aims(run.setup, run.system()),
        schools=possible_schools(
            [school.school for school in run.core_family().schools], run.rules().weights, aim_kg(run.setup)
        ),
        stand_s=run.core_family().stand_s(run.setup),
        hold_s=run.trial_setup().hold_s,
        class_gain=class_gain_of([card.gain for card in cards if card.gain]),
        usual_arrangement=run.core_family().usual_arrangement(arrangements_used(cards)),
    )


def bench_left_s(run: Run) -> float | None:
    """How long is left to test [s]; None where no end is set."""
    return None if run.bench_ends_at is None else (run.bench_ends_at - timezone.now()).total_seconds()


def _bench_fit(run: Run, cards: Sequence[DesignCard]) -> BenchFit | None:
    left_s, pace = bench_left_s(run), run.core_family().pace
    if left_s is None:
        return None
    starts = sorted(trial.trial.started_at for card in cards for trial in card.trials)
    taken = [(after - before).total_seconds() for before, after in pairwise(starts)]
    latest = {card.design.team_id: card for card in cards}
    waiting = sum(card.state in TO_BE_TESTED for card in latest.values())
    loaded = run.core_family().loaded
    return bench_fit(
        left_s,
        waiting,
        pace.swap_s + (run.trial_seconds if loaded else pace.test_s),
        taken,
        run.benches,
        run.resolution if loaded else None,
    )


def _deck(run: Run, cards: list[DesignCard]) -> list[Bay]:
    first = [card for card in cards if card.design.version == 1]
    later = [card for card in cards if card.design.version > 1]
    expected = [card for card in cards if card.standing.expected]
    n = len(expected)
    checked = sum(card.design.checked_in_at is not None for card in expected)
    tested = sum(card.tested for card in expected)
    teams = len({card.design.team_id for card in cards if card.tested})
    built = checked == n and n > 0
    kit_kg = run.core_kit().total_kg()
    return [
        Bay("brief", "Brief", "ready", 1.0),
        Bay("kit", "Kit", f"{kit_kg:.1f} kg" if kit_kg else "list", 1.0),
        Bay("build", "Build", "done" if built else "running" if run.build_started_at else "to do", float(built)),
        Bay("check-in", "Check-in", f"{checked} of {n}", checked / n if n else 0.0),
        Bay("bench", "Bench", f"{tested} of {n}", tested / n if n else 0.0),
        Bay("compare", "Compare", f"{teams} {plural('team', teams)}" if teams else "–", tested / n if n else 0.0),
        Bay("next", "Next version", f"{len(later)} of {len(first)}" if later else "–", len(later) / max(1, len(first))),
    ]
