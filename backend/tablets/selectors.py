"""What a team's page shows, put together from the apps below. Nothing here writes."""

from __future__ import annotations

from functools import cached_property

from django.utils import timezone

from bench.selectors import DesignCard, TrialCard, design_card
from challenges.shown import ShownPlan, shown_terms
from designs.models import Design
from girder_core.families import TeamStage, foretells, team_stage
from girder_core.ground import Drawing
from girder_core.planning import BuildClock
from girder_core.safety import Caution
from live.selectors import BenchShown, bench_shown
from people.models import Team
from tablets.models import Tablet
from tablets.policy import own_design

CHOOSE = "choose"
STAGES = [CHOOSE, *(stage.value for stage in TeamStage)]


class TeamPage:
    """What a tablet shows: the teams to choose from, or what its team is at; in the units of the run's teacher."""

    def __init__(self, tablet: Tablet) -> None:
        self.tablet, self.run, self.team = tablet, tablet.door.run, tablet.team
        self._system = self.run.system()

    @cached_property
    def card(self) -> DesignCard | None:
        """The latest design of the team; None before it is known which team that is."""
        if self.team is None:
            return None
        design: Design = own_design(self.tablet)
        design.run = self.run
        return design_card(design, self.run.trial_setup())

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

    @cached_property
    def plan(self) -> ShownPlan:
        """The terms with what follows from them."""
        return shown_terms(self.run, self.run.school_class.teams.count(), self._system)

    @property
    def drawing(self) -> Drawing:
        """The kind of challenge, with its measures."""
        return self.run.core_family().draw(self.run.setup)

    @property
    def cautions(self) -> list[Caution]:
        """What can hurt someone here."""
        sheet = self.plan.follows.safety
        return list(sheet.cautions) if sheet else list(self.run.core_family().cautions)

    @property
    def clock(self) -> BuildClock:
        """How long is left to build."""
        return self.run.build_clock(timezone.now())

    @property
    def asks(self) -> dict[str, str]:
        """What the team is asked to foretell, and an example of an answer."""
        told = foretells(self.run.core_family(), self.run.setup)
        if told:
            return {"ask": told.ask, "example": told.example(self._system)}
        counts = self.run.young or self.run.core_family().bench.counts_pieces
        return {"ask": "How much will it hold?", "example": "40 nuts" if counts else "400 g"}

    @property
    def may_predict(self) -> bool:
        """Whether a prediction still comes before the test."""
        return self.card is not None and not any(
            trial.result.loaded or trial.result.rounds for trial in self.card.trials
        )

    @property
    def live(self) -> BenchShown | None:
        """The team's own trial while it is on, else None."""
        open_ = [trial for trial in self.trials if not trial.result.ended]
        return bench_shown(open_[-1].trial, open_[-1].result, self._system) if open_ else None

    @property
    def trials(self) -> list[TrialCard]:
        """The trials of the team's latest design."""
        return self.card.trials if self.card else []

    @property
    def words(self) -> dict[str, str]:
        """The words of ends and signs, by key."""
        return self.run.core_family().words()

    @property
    def counts_pieces(self) -> bool:
        """Whether the answer is a number of pieces."""
        return self.run.core_family().bench.counts_pieces or self.run.young
