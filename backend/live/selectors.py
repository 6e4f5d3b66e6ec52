"""What the board shows, put together from the bench and the plan. Nothing here writes."""

from __future__ import annotations

import math
import time
import uuid
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from django.utils import timezone

from bench.history import scatter_belief
from bench.models import Trial
from bench.remembered import last_entry_at, received_at
from bench.selectors import RECENT, DesignCard, in_queue
from bench.trial_selectors import TrialState, trial_state
from challenges.models import Run
from challenges.shown import ShownPlan, shown_terms
from designs.models import Photo
from drafting.selectors import film_of
from girder_core.families import TO_BE_TESTED, Aim, aims
from girder_core.ground import Drawing, Film
from girder_core.measure import System
from girder_core.planning import BuildClock
from girder_core.results import ScatterBelief
from girder_core.trial import StepState, TrialResult
from live.kept import AtBench, at_bench_kept
from live.models import MOTION, Board
from results.selectors import compared
from results.shown import shown_comparison
from runs.selectors import bench_left_s

MOST_PHOTOS = 12
"""Photographs on one board."""
AT_ONCE = 2
"""Benches side by side on one board."""
BELIEF_S, MOST_BELIEFS = 60.0, 256


@dataclass(frozen=True)
class BenchShown:
    """A trial as the board shows it, with what is left of the wait [s] by the server's clock."""

    state: TrialState
    hold_s: float
    hold_left_s: float | None


PARTS: dict[str, frozenset[str]] = {
    "bench": frozenset({
        "question", "benches", "next_teams", "kit", "counts_pieces", "aims", "ranking", "words", "bench_left_s",
    }),
    "ranking": frozenset({"ranking"}),
    "brief": frozenset({"question", "brief", "drawing", "join"}),
    "clock": frozenset({"clock", "join"}),
    "cautions": frozenset({"cautions"}),
    "photos": frozenset({"photos"}),
    MOTION: frozenset({"film"}),
}  # fmt: skip
"""What each screen shows; nothing else is looked up, and nothing else goes out to whoever has the link."""


class BoardState:
    """What a board shows, in the units of the run's teacher; each part is put together when it is asked for."""

    def __init__(self, board: Board) -> None:
        self.board, self.run = board, board.run
        self._system = board.run.system()

    @cached_property
    def _bench(self) -> AtBench:
        return at_bench_kept(self.run)

    @property
    def _cards(self) -> list[DesignCard]:
        return self._bench.cards

    @property
    def aims(self) -> tuple[Aim, ...]:
        """What designs are made for."""
        return aims(self.run.setup, self._system)

    @property
    def clock(self) -> BuildClock:
        """How long is left to build."""
        return self.run.build_clock(timezone.now())

    @property
    def join(self) -> str:
        """The code by which teams' tablets come in; empty while their door is shut. The door is above, and asked for
        through the run's relation, which leads there."""
        is_open = Run.objects.filter(pk=self.run.pk, door__until__gt=timezone.now())
        return is_open.values_list("door__code", flat=True).first() or ""

    @property
    def bench_left_s(self) -> float | None:
        """How long is left to test [s]."""
        return bench_left_s(self.run)

    @property
    def drawing(self) -> Drawing:
        """The kind of challenge, with its measures."""
        return self.run.core_family().draw(self.run.setup)

    @cached_property
    def plan(self) -> ShownPlan:
        """The terms with what follows from them."""
        return shown_terms(self.run, self.run.school_class.teams.count(), self._system)

    @property
    def benches(self) -> list[BenchShown]:
        """What is on now, or was last."""
        return [bench_shown(trial, result, self._system) for trial, result in _on_the_bench(self._bench)]

    @property
    def words(self) -> dict[str, str]:
        """The words of ends and signs, by key."""
        return self.run.core_family().words()

    @property
    def ranking(self) -> dict[str, Any]:
        """Who won so far."""
        rules = self.run.rules()
        comparison = compared(self.run, rules, self._system, self._cards, _belief(self.run))
        return shown_comparison(comparison, rules, True, self.words, self._system)

    @property
    def film(self) -> Film | None:
        """The kind of challenge in motion."""
        return film_of(self.run)

    @property
    def counts_pieces(self) -> bool:
        """Whether the answer is a number of pieces."""
        return self.run.core_family().bench.counts_pieces

    @property
    def next_teams(self) -> list[str]:
        """Who comes next, in the order at the bench."""
        states = {card.design.pk: card.state for card in self._cards}
        waiting = [design for design in in_queue([card.design for card in self._cards])
                   if states[design.pk] in TO_BE_TESTED]  # fmt: skip
        return [design.team.name for design in waiting[:3]]

    @property
    def photos(self) -> list[dict[str, Any]]:
        """The photographs of the run that wait for no nod, the latest first, each with its address for whoever has the
        board's link."""
        shots = Photo.objects.filter(design__in=[card.design for card in self._cards], waits=False)
        return [
            {
                "address": f"/api/boards/{self.board.token}/photos/{photo.pk}",
                "team": photo.design.team,
                "version": photo.design.version,
                "what": photo.what,
            }
            for photo in shots.select_related("design__team").order_by("-taken_at", "-pk")[:MOST_PHOTOS]
        ]


_BELIEFS: dict[int, tuple[float, ScatterBelief]] = {}


def _belief(run: Run) -> ScatterBelief:
    """What its teacher's other runs say of how trials scatter in this one.

    That is not what changes while a board is looked at, so it is asked for once a minute at most.
    """
    now = time.monotonic()
    asked_at, belief = _BELIEFS.get(run.pk, (-math.inf, None))
    if belief is None or now - asked_at > BELIEF_S:
        if len(_BELIEFS) >= MOST_BELIEFS:
            _BELIEFS.clear()
        belief = scatter_belief(run)
        _BELIEFS[run.pk] = now, belief
    return belief


def _on_the_bench(bench: AtBench) -> list[tuple[Trial, TrialResult]]:
    """Open trials in which something happened lately, the latest first; without one, the last that ended."""
    now = timezone.now()
    known = {marked.trial: marked.result for card in bench.cards for marked in card.trials}
    known |= {trial: result for trial, result in bench.rehearsals if now - trial.started_at <= RECENT}
    latest = sorted(known, key=last_entry_at, reverse=True)
    lately = [trial for trial in latest if not known[trial].ended and now - last_entry_at(trial) <= RECENT]
    return [(trial, known[trial]) for trial in lately[:AT_ONCE] or latest[:1]]


def bench_shown(trial: Trial, result: TrialResult, system: System) -> BenchShown:
    """A trial as those see it who watch it."""
    hold_s = trial.design.run.trial_setup().wait_s(result.round_waiting)
    return BenchShown(trial_state(trial, system, result), hold_s, hold_left_s(result, hold_s))


def hold_left_s(result: TrialResult, hold_s: float) -> float | None:
    """What is left of the wait that is on, of so long a wait [s]; None where nothing is waited for."""
    waiting = None
    if result.round_waiting:
        waiting = result.rounds[-1].event_id
    elif result.step_waiting:
        waiting = [step for step in result.steps if step.state is StepState.WAITING][-1].event_id
    if waiting is None or result.ended:
        return None
    began = received_at(uuid.UUID(waiting))
    return max(0.0, hold_s - (timezone.now() - began).total_seconds())
