"""What a team's page shows, put together from the apps below. Nothing here writes."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any

from django.http import HttpRequest
from django.utils import timezone

from bench.selectors import DesignCard, TrialCard, design_card
from challenges.models import Run
from challenges.shown import ShownPlan, shown_terms
from designs.models import Design, Photo, Reading
from designs.team_services import Offered, offered_by_team
from doorstep.codes import rows_of
from drafting.selectors import kind_shown
from drafting.shelf import shelf
from evengirder.reached import address_for_others
from girder_core.drafting import kinds_for
from girder_core.families import ReadingSpec, TeamStage, foretells, team_stage
from girder_core.ground import Drawing
from girder_core.planning import BuildClock, Task, at_a_tablet, tasks
from live.kept import at_bench_kept
from live.selectors import BenchShown, bench_shown
from people.models import Team
from results.services import answers_of
from runs.drafted import begun_with
from tablets.models import Door, Tablet, TeamsMay
from tablets.services import may

CHOOSE = "choose"
STAGES = [CHOOSE, *(stage.value for stage in TeamStage)]


@dataclass(frozen=True)
class WayIn:
    """How tablets come into a lesson: its code as it is read out, the address to open, and that for cameras."""

    code: str
    address: str

    @property
    def picture(self) -> list[str]:
        """The address as rows of modules, a ``1`` for a dark one."""
        return rows_of(self.address)


def way_in(run: Run, request: HttpRequest) -> WayIn | None:
    """The way into a run's lesson; None while its door is shut."""
    door = Door.objects.filter(run=run).first()
    if door is None or not door.is_open:
        return None
    return WayIn(f"{door.code[:3]}-{door.code[3:]}", address_for_others(request, f"/join/{door.code}"))


@dataclass(frozen=True)
class OwnReading:
    """Something to measure of one's own design, and what the team measured."""

    spec: ReadingSpec
    own: Offered | None
    counts: Reading | None

    @property
    def measured(self) -> bool:
        """Whether something counts, by the teacher's word."""
        return self.counts is not None

    @property
    def counts_si(self) -> float | None:
        """What counts [SI]; kept from a team that has not measured itself, so that it measures and does not copy."""
        return self.counts.quantity().value if self.counts is not None and self.own is not None else None


@dataclass(frozen=True)
class OwnTest:
    """A team that tests by itself: whether it may begin, and the test that is on or waits to be confirmed."""

    may_begin: bool
    trial: TrialCard | None

    @property
    def stopped(self) -> bool:
        """Whether the teacher has stopped the one that is on."""
        return self.trial is not None and not self.trial.result.ended and self.trial.trial.station().stopped


class TeamPage:
    """What a tablet shows: the teams to choose from, or what its team is at; in the units of the run's teacher."""

    def __init__(self, tablet: Tablet) -> None:
        self.tablet, self.team = tablet, tablet.team
        # Kept while nobody changes them, because thirty tablets ask every few seconds.
        cards = at_bench_kept(tablet.door.run).cards
        self.run: Run = cards[0].design.run if cards else tablet.door.run
        self._own = [card for card in cards if card.design.team_id == tablet.team_id]
        self._system = self.run.system()

    @property
    def card(self) -> DesignCard | None:
        """The latest design of the team; None before it is known which team that is."""
        return max(self._own, key=lambda card: card.design.version, default=None)

    @property
    def teams(self) -> list[Team]:
        """The teams to choose from, before one is chosen."""
        return [] if self.team else list(self.run.school_class.teams.all())

    @property
    def taken(self) -> list[int]:
        """Those of them that another tablet is of."""
        chosen = self.tablet.door.tablets.exclude(team=None).values_list("team_id", flat=True)
        return [] if self.team else sorted({pk for pk in chosen if pk is not None})

    @property
    def stage(self) -> str:
        """What the team is at."""
        if self.card is None:
            return CHOOSE
        design = self.card.design
        building = self.run.build_started_at is not None or bool(design.note) or design.practice_used > 0
        # A later version is built, whatever the clock of the first said.
        return team_stage(self.card.state, building or design.version > 1).value

    @property
    def plan(self) -> ShownPlan:
        """The terms with what follows from them; kept with the run as long as that is kept."""
        kept = vars(self.run)
        if "shown_to_teams" not in kept:
            kept["shown_to_teams"] = shown_terms(self.run, self.run.school_class.teams.count(), self._system)
        shown: ShownPlan = kept["shown_to_teams"]
        return shown

    @property
    def drawing(self) -> Drawing:
        """The kind of challenge, with its measures."""
        return self.run.core_family().draw(self.run.setup)

    @property
    def clock(self) -> BuildClock:
        """How long is left to build."""
        return self.run.build_clock(timezone.now())

    @property
    def late(self) -> list[str]:
        """What the team typed before its test, and came too late to count."""
        return [late.text for late in self.card.design.late_predictions.all()] if self.card and self.card.trials else []

    @property
    def asks(self) -> dict[str, str]:
        """What the team is asked to foretell, and an example of an answer."""
        told = foretells(self.run.core_family(), self.run.setup)
        if told:
            return {"ask": told.ask, "example": told.example(self._system)}
        return {"ask": "How much will it hold?", "example": "40 nuts" if self.counts_pieces else "400 g"}

    @property
    def may_predict(self) -> bool:
        """Whether a prediction still comes before the test."""
        return self.card is not None and not any(trial.result.begun for trial in self.card.trials)

    @property
    def live(self) -> BenchShown | None:
        """The team's own trial while it is on, else None."""
        open_ = self.open_trials
        return bench_shown(open_[-1].trial, open_[-1].result, self._system) if open_ else None

    @property
    def open_trials(self) -> list[TrialCard]:
        """The trials of the team's latest design that are on."""
        return [trial for trial in self.trials if not trial.result.ended]

    @property
    def own_test(self) -> OwnTest:
        """What the team may do at a station of its own."""
        open_ = self.open_trials
        waits = [trial for trial in self.trials if trial.unconfirmed]
        own = next((trial for trial in [*open_, *waits] if trial.trial.by_team), None)
        ready = self.card is not None and self.card.design.checked_in_at is not None
        return OwnTest(self.may.test and ready and not open_ and not waits, own)

    @cached_property
    def _who(self) -> dict[int, str]:
        """Who is at each tablet of the team, by the tablet's number, as it stands now."""
        return dict(self.tablet.door.tablets.filter(team=self.team).values_list("pk", "who"))

    @property
    def who(self) -> str:
        """Who is at this one."""
        return self._who.get(self.tablet.pk, "")

    @property
    def tasks(self) -> tuple[Task, ...]:
        """Who does what at the next test, or at the one that is on."""
        people = tuple(dict.fromkeys(name for who in self._who.values() for name in at_a_tablet(who)))
        ended = sum(trial.result.ended for card in self._own for trial in card.trials)
        return tasks(people, ended, self.run.core_family().loaded)

    @cached_property
    def may(self) -> TeamsMay:
        """What the teacher has opened to teams."""
        return may(self.run)

    @property
    def readings(self) -> list[OwnReading]:
        """What there is to measure now: before the test what check-in asks for, after it what follows."""
        card = self.card
        if card is None or not self.may.measure:
            return []
        offered = {one.spec.key: one for one in offered_by_team(card.design)}
        specs = [spec for spec in self.run.core_family().readings if spec.needed]
        if card.trials:
            specs = [spec for spec in specs if spec.may_follow and spec.key not in card.readings]
        return [OwnReading(spec, offered.get(spec.key), card.readings.get(spec.key)) for spec in specs]

    @property
    def ideas(self) -> tuple[str, ...]:
        """What others have tried, where the teacher lets teams read it."""
        return self.plan.saying.ideas if self.may.ideas else ()

    @property
    def ways_on(self) -> tuple[str, ...]:
        """What the team may ask itself for its next version, unless hints are hidden."""
        return self.card.ways_on if self.card and not self.run.hints_hidden else ()

    @property
    def questions(self) -> list[dict[str, str]]:
        """What is asked when a test is over, with the team's answers."""
        if self.card is None or not self.card.tested:
            return []
        given = answers_of(self.card.design)
        return [{"question": question, "text": given.get(question, "")} for question in self.run.core_family().reflect]

    @property
    def photos(self) -> list[Photo]:
        """The photographs of the team's latest design."""
        return list(Photo.objects.filter(design=self.card.design.pk)) if self.card else []

    @property
    def can_draft(self) -> bool:
        """Whether there is something to draft, and the teacher lets teams do so."""
        return self.may.draft and bool(kinds_for(self.run.family))

    @property
    def trials(self) -> list[TrialCard]:
        """The trials of the team's latest design."""
        return self.card.trials if self.card else []

    @property
    def counts_pieces(self) -> bool:
        """Whether the answer is a number of pieces."""
        return self.run.core_family().bench.counts_pieces or self.run.young


def draft_table(design: Design) -> dict[str, Any]:
    """What a team's drafting table begins with."""
    card = design_card(design, design.run.trial_setup())
    return {
        "kinds": [{**kind_shown(kind), "start": start} for kind, start in begun_with(design, design.run.system())],
        "stocks": list(shelf(design.run.school_class.owner).values()),
        "kept": card.draft,
        "veiled": card.veiled,
        "begun": any(trial.result.begun for trial in card.trials),
    }
