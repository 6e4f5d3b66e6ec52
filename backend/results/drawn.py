"""The charts of a run, for screen and paper, from its comparison, its reasons and its versions. Nothing here writes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from bench.models import Trial
from bench.remembered import result_of
from bench.selectors import DesignCard
from challenges.models import Run
from designs.models import Draft
from drafting.shelf import shelf
from girder_core.drafting import draft_kind, gives_way, kinds_for
from girder_core.families import foretells
from girder_core.measure import System
from girder_core.photo import Way
from girder_core.results import (
    Chain,
    Chart,
    Placed,
    Rules,
    Sized,
    Went,
    against_chart,
    endings_chart,
    factor_chart,
    foresight_chart,
    motion_chart,
    ranking_chart,
    rays_chart,
    repeats_line,
    survival_chart,
    versions_chart,
)
from people.models import Teacher
from results.reasons import Reasons
from results.selectors import ComparedRun

BESIDE, ALONE = 730.0, 1230.0
"""Width of the ranking beside the rays, and where it stands alone."""


def labels_of(cards: Sequence[DesignCard]) -> dict[str, str]:
    """What each design is called, by key: its team, and its version from the second on."""
    return {
        str(card.design.pk): card.design.team.name + (f" v{card.design.version}" if card.design.version > 1 else "")
        for card in cards
    }


@dataclass(frozen=True)
class RankingCharts:
    """The ranking, and beside it load against own weight where designs were loaded and weighed."""

    ranking: Chart
    rays: Chart | None


def ranking_charts(
    run: Run, compared_run: ComparedRun, rules: Rules, system: System, row: float | None = None
) -> RankingCharts:
    """The charts of a comparison under given rules; ``row`` is the height of a design where it is not the screen's."""
    family, count = run.core_family(), max(1, len(compared_run.comparison.places))
    labels = labels_of(list(compared_run.cards.values()))
    rays = rays_chart(compared_run.comparison, labels, system) if family.loaded else None
    row = row or (min(84.0, max(56.0, 470.0 / count)) if family.loaded else 56.0)
    width = BESIDE if rays else ALONE
    endings = {key: card.how for key, card in compared_run.cards.items()}
    ranking = ranking_chart(compared_run.comparison, rules, labels, endings, system, width, row)
    return RankingCharts(ranking, rays)


def motion_charts(trial: Trial, system: System) -> list[Chart]:
    """How far a structure came down, or leaned, under each load of a trial, beside what its kept draft says."""
    result, setup = result_of(trial), trial.design.run.trial_setup()
    draft = trial.design.drafts.order_by("-id").first()
    gives = _gives(draft, trial.design.run.school_class.owner) if draft else None
    may_draft = draft is None and any(kind.gives for kind in kinds_for(trial.design.run.family))
    charts = []
    for spec in setup.measures.values():
        went = [Went(taken.load_kg, taken.quantity) for taken in result.taken if taken.key == spec.key]
        # Of what goes aside no draft says anything.
        down = spec.way is Way.DOWN
        model = gives if down else None
        if spec.way and (chart := motion_chart(spec.key, spec.label, went, model, system, down and may_draft)):
            charts.append(chart)
    return charts


def _gives(draft: Draft, owner: Teacher) -> tuple[float, float, float] | None:
    placed = {name: (float(x), float(y)) for name, (x, y) in draft.moves.items()}
    return gives_way(draft_kind(draft.kind), draft.typed, shelf(owner), placed)


@dataclass(frozen=True)
class ReasonCharts:
    """The charts behind a ranking; None and empty where there is nothing to draw."""

    factor: Chart | None
    foresight: Chart | None
    against: tuple[Chart, ...]
    endings: Chart | None
    survival: Chart | None
    repeats: tuple[str, ...]


def reason_charts(run: Run, compared_run: ComparedRun, reasons: Reasons, rules: Rules, system: System) -> ReasonCharts:
    """The charts of the reasons behind a comparison."""
    names, words = labels_of(list(compared_run.cards.values())), run.core_family().words()
    factor = run.factor["name"] if run.factor else ""
    says = reasons.teams_in_all.says + (f" {reasons.model_in_all.says}" if reasons.model else "")
    told = foretells(run.core_family(), run.setup)
    return ReasonCharts(
        factor=factor_chart(reasons.factor, factor, rules, system) if reasons.factor else None,
        foresight=foresight_chart(
            reasons.teams, reasons.model, names, says, system, Sized(told.kind, told.words) if told else None
        ),
        against=tuple(
            against_chart(choice.key, choice.label, choice.kind,
                          [Placed(key, names[key], value, score, least) for key, value, score, least in choice.points],
                          choice.trend, rules, system)
            for choice in reasons.chosen
        ),
        endings=endings_chart(reasons.ways, words),
        repeats=tuple(
            repeats_line(names[again.key], again.marks, again.mean, rules, system) for again in reasons.repeated
        ),
        survival=survival_chart(reasons.survival, reasons.fit, reasons.fit_says, system) if reasons.survival else None,
    )  # fmt: skip


def gains_chart(cards: Sequence[DesignCard]) -> Chart | None:
    """From version to version, team by team; None before a second version can be compared."""
    by_team: dict[int, list[DesignCard]] = {}
    for card in cards:
        by_team.setdefault(card.design.team_id, []).append(card)
    chains = [
        Chain(str(versions[-1].design.pk), versions[0].design.team.name,
              [(card.design.version, card.gain) for card in versions[1:]])
        for versions in by_team.values()
    ]  # fmt: skip
    return versions_chart(chains)
