"""What a team's page shows, put together from the apps below. Nothing here writes."""

from __future__ import annotations

from django.utils import timezone

from bench.selectors import DesignCard, TrialCard
from challenges.models import Run
from challenges.shown import ShownPlan, shown_terms
from girder_core.families import TeamStage, foretells, team_stage
from girder_core.ground import Drawing
from girder_core.planning import BuildClock
from live.kept import at_bench_kept
from live.selectors import BenchShown, bench_shown
from people.models import Team
from tablets.models import Tablet

CHOOSE = "choose"
STAGES = [CHOOSE, *(stage.value for stage in TeamStage)]


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
        open_ = [trial for trial in self.trials if not trial.result.ended]
        return bench_shown(open_[-1].trial, open_[-1].result, self._system) if open_ else None

    @property
    def trials(self) -> list[TrialCard]:
        """The trials of the team's latest design."""
        return self.card.trials if self.card else []

    @property
    def counts_pieces(self) -> bool:
        """Whether the answer is a number of pieces."""
        return self.run.core_family().bench.counts_pieces or self.run.young
