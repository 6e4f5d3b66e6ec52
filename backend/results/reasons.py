"""Why a run came out as it did: what varied, what was foreseen, how trials ended, how loads scatter. Nothing writes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from bench.selectors import DesignCard
from challenges.models import Run
from girder_core.families import foretells
from girder_core.kit import Foretold
from girder_core.measure import Kind
from girder_core.results import (
    FactorEffect,
    Foresight,
    ForesightOfAll,
    LoadFit,
    Mark,
    Member,
    Rules,
    SampleMean,
    School,
    Score,
    Survival,
    Tally,
    Trend,
    TrialRule,
    Varied,
    best_load,
    differs,
    factor_effect,
    fit_in_words,
    fit_loads,
    foresee,
    foresight_of_all,
    in_the_score,
    mean_of,
    survival,
    tally,
    trend,
)
from girder_core.results import (
    score as score_of,
)
from results.selectors import ComparedRun, on_purpose


@dataclass(frozen=True)
class Chosen:
    """Something that teams chose or that came out differently, against what they scored."""

    key: str
    label: str
    kind: Kind
    points: tuple[tuple[str, float, float, bool], ...]
    trend: Trend


@dataclass(frozen=True)
class Repeated:
    """The trials of a design that was tested more than once."""

    key: str
    marks: tuple[Mark, ...]
    mean: SampleMean


@dataclass(frozen=True)
class Reasons:
    """What stands behind a ranking."""

    factor: FactorEffect | None
    chosen: tuple[Chosen, ...]
    teams: tuple[Foresight, ...]
    teams_in_all: ForesightOfAll
    model: tuple[Foresight, ...]
    model_in_all: ForesightOfAll
    ways: tuple[Tally, ...]
    repeated: tuple[Repeated, ...]
    survival: Survival | None
    fit: LoadFit | None
    fit_says: str


def reasons_of(run: Run, compared_run: ComparedRun, rules: Rules) -> Reasons:
    """The reasons behind a comparison, under its rules."""
    scored = [(compared_run.card(place), place.score) for place in compared_run.comparison.places]
    bounds = [result.held_interval for card, result in scored if best_load(card.results())]
    teams = _foresights(run, [(card, card.prediction.foretold()) for card, _ in scored if card.prediction])
    model = _foresights(
        run, [(card, Foretold(card.model.typical_kg)) for card, _ in scored if card.model and run.core_family().loaded]
    )
    return Reasons(
        factor=_factor(run, compared_run, rules),
        chosen=_chosen(run, scored),
        teams=teams,
        teams_in_all=foresight_of_all("The teams", teams),
        model=model,
        model_in_all=foresight_of_all("The model", model),
        ways=tally(
            [
                (trial.result.mode or trial.result.reason or trial.result.outcome.value, card.design.team.name)
                for card, _ in scored
                for trial in card.trials
                if trial.result.scored
            ]
        ),
        repeated=_repeated(scored, rules),
        survival=survival([bound.low for bound in bounds], [not bound.open_above for bound in bounds])
        if bounds
        else None,
        fit=(fit := fit_loads(bounds)),
        fit_says=fit_in_words(bounds, fit),
    )


def _marks(card: DesignCard, rules: Rules) -> tuple[Mark, ...]:
    """Every trial of a design by itself, in the unit of the score; a mix has none, so its load stands for it."""
    alone = replace(rules, trial_rule=TrialRule.BEST)
    if rules.school is School.MIX:
        alone = replace(alone, school=School.MOST_HELD)
    each = [
        score_of((result,), card.self_mass, alone, False, card.facts(rules.trial_rule, (result,)))
        for result in card.results()
    ]
    return tuple(Mark(score.value, score.at_least) for score in each if isinstance(score, Score))


def _factor(run: Run, compared_run: ComparedRun, rules: Rules) -> FactorEffect | None:
    if not run.factor:
        return None
    labels = run.core_family().reading_keys
    arrangements = {known.key: known.label.lower() for known in run.core_family().bench.arrangements}
    varied = on_purpose(run)
    members = []
    for place in compared_run.comparison.places:
        card, score = compared_run.card(place), place.score
        numbers = {labels[key].label: card.readings[key].quantity().value for key in card.readings if key in labels}
        last = next((trial.trial.arrangement for trial in reversed(card.trials) if trial.result.scored), "")
        if Varied.GAP in varied:
            numbers.pop(labels["gap"].label, None)
        words = {
            "set up": "" if Varied.ARRANGEMENT in varied else arrangements.get(last, ""),
            "version": str(card.design.version),
            "rules": "broken" if any(c.status == "breached" for c in card.constraints) else "kept",
        }
        members.append(
            Member(
                str(card.design.pk), card.design.team.name, card.design.level, score.value, score.at_least,
                _marks(card, rules), in_the_score(place.entry.candidate(), score, rules), numbers, words,
            )
        )  # fmt: skip
    return factor_effect(members, run.factor["levels"], compared_run.comparison.belief)


def _chosen(run: Run, scored: Sequence[tuple[DesignCard, Score]]) -> tuple[Chosen, ...]:
    """Readings that came out differently from team to team, each against the score."""
    differing = []
    for spec in run.core_family().readings:
        if spec.key in run.core_family().result_readings:
            continue
        having = [
            (card, score, card.readings[spec.key].quantity()) for card, score in scored if spec.key in card.readings
        ]
        if differs([quantity for _, _, quantity in having]):
            differing.append((spec, having))
    lines = []
    for spec, having in differing:
        values = [quantity.value for _, _, quantity in having]
        points = tuple((str(card.design.pk), q.value, score.value, score.at_least) for card, score, q in having)
        told = trend(spec.label, values, [score.value for _, score, _ in having], len(differing))
        lines.append(Chosen(spec.key, spec.label, spec.kind, points, told))
    return tuple(lines)


def _foresights(run: Run, said: Sequence[tuple[DesignCard, Foretold]]) -> tuple[Foresight, ...]:
    told, foresights = foretells(run.core_family(), run.setup), []
    for card, foretold in said:
        results = card.results()
        reached, best = (told.came_to(results) if told else None), best_load(results)
        bounds = reached if told else best.interval if best else None
        if bounds is None:
            continue
        came = best.held_kg if best and not told else bounds.low
        key, name = str(card.design.pk), card.design.team.name
        foresights.append(foresee(key, name, foretold.amount, came, bounds, foretold.relation))
    return tuple(foresights)


def _repeated(scored: Sequence[tuple[DesignCard, Score]], rules: Rules) -> tuple[Repeated, ...]:
    repeated = []
    for card, _ in scored:
        marks = _marks(card, rules)
        if len(marks) > 1:
            repeated.append(Repeated(str(card.design.pk), marks, mean_of([mark.value for mark in marks])))
    return tuple(repeated)
