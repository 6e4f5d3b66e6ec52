"""Stations at which teams test by themselves: what a team's bench is worked by, and all of them as their teacher sees
them. Nothing here writes."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from functools import cached_property

from django.utils import timezone

from bench.remembered import last_entry_at
from bench.selectors import DesignCard, TrialCard, design_card
from challenges.models import Run
from designs.models import Design
from girder_core.families import DesignState, Family
from girder_core.planning import Task, at_a_tablet, tasks
from girder_core.trial import Station, StationState, station_state
from live.kept import at_bench_kept
from live.selectors import BenchShown, bench_shown
from runs.selectors import RunState, run_state
from tablets.models import Door, Tablet
from tablets.services import may


@dataclass(frozen=True)
class StationTerms:
    """What a team's bench is worked by."""

    state: RunState
    family: Family


def station_terms(design: Design) -> StationTerms:
    """The run of a team's design as its bench needs it, with that design alone: no other team's result is in it."""
    return StationTerms(
        run_state(design.run, [design_card(design, design.run.trial_setup())]), design.run.core_family()
    )


@dataclass(frozen=True)
class AtStation:
    """A team among the stations: its latest design, and the tablets that are in for it."""

    card: DesignCard
    ended_before: int
    tablets_in: tuple[Tablet, ...]
    now: datetime

    @cached_property
    def own(self) -> TrialCard | None:
        """The test that it makes by itself, or made last."""
        return next((trial for trial in reversed(self.card.trials) if trial.trial.by_team), None)

    @property
    def state(self) -> StationState:
        """Where it stands."""
        at_bench = self.card.state is DesignState.ON_BENCH and (self.own is None or self.own.result.ended)
        station = self.own.trial.station() if self.own else Station()
        return station_state(
            self.card.design.checked_in_at is not None, self.card.tested, self.own.result if self.own else None,
            station, at_bench,
        )  # fmt: skip

    @property
    def live(self) -> BenchShown | None:
        """Its own test while that is on."""
        if self.own is None or self.own.result.ended:
            return None
        return bench_shown(self.own.trial, self.own.result, self.card.design.run.system())

    @property
    def line(self) -> str:
        """How that test stands in a line, or the latest one that its teacher made; empty before any."""
        latest = self.own or (self.card.trials[-1] if self.card.trials else None)
        return latest.line if latest else ""

    @property
    def signs(self) -> list[str]:
        """What was seen in it, in words."""
        words = self.card.design.run.core_family().words()
        return [words.get(sign, sign) for sign, _ in self.own.result.signs] if self.own else []

    @property
    def quiet_s(self) -> float | None:
        """How long ago something was entered in the test that is on [s]."""
        if self.own is None or self.own.result.ended:
            return None
        return max(0.0, (self.now - last_entry_at(self.own.trial)).total_seconds())

    @property
    def tasks(self) -> tuple[Task, ...]:
        """Who does what, where the team said who is there."""
        names = (name for tablet in self.tablets_in for name in at_a_tablet(tablet.who))
        people = tuple(dict.fromkeys(names))
        return tasks(people, self.ended_before, self.card.design.run.core_family().loaded) if people else ()

    @property
    def tablets(self) -> int:
        """How many tablets are in for it."""
        return len(self.tablets_in)

    @property
    def seen_s(self) -> float | None:
        """How long ago one of them asked for anything [s]."""
        latest = max((tablet.seen_at for tablet in self.tablets_in), default=None)
        return None if latest is None else max(0.0, (self.now - latest).total_seconds())


@dataclass(frozen=True)
class Stations:
    """All stations of a run."""

    opened: bool
    door_open: bool
    stations: list[AtStation]


def stations_of(run: Run) -> Stations:
    """Every team of a run as its teacher sees them while they test by themselves, in the order of the class."""
    door = Door.objects.filter(run=run).first()
    inside: dict[int | None, list[Tablet]] = {}
    for tablet in door.tablets.all() if door is not None and door.is_open else ():
        inside.setdefault(tablet.team_id, []).append(tablet)
    latest: dict[int, DesignCard] = {}
    ended: dict[int, int] = {}
    for card in at_bench_kept(run).cards:
        team = card.design.team_id
        if team not in latest or latest[team].design.version < card.design.version:
            latest[team] = card
        ended[team] = ended.get(team, 0) + sum(trial.result.ended for trial in card.trials)
    now = timezone.now()
    stations = [AtStation(card, ended[team], tuple(inside.get(team, ())), now) for team, card in latest.items()]
    return Stations(may(run).test, door is not None and door.is_open, stations)
