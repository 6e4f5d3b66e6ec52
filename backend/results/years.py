"""A challenge over the years, for every kind: what was held, or what it was scored by. Nothing here writes."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from datetime import date

from bench.history import bounds_of_runs, past_of
from challenges.models import Recipe, Run
from girder_core.measure import System, format_mass
from girder_core.results import PastRun, Rules, amount, past_run, years_in_words
from girder_core.trial import Interval
from results.selectors import compared


@dataclass(frozen=True)
class Year:
    """A run of a challenge in a line of its history, with its figures in words."""

    id: int
    date: date
    class_name: str
    line: PastRun
    best: str
    median: str


@dataclass(frozen=True)
class Years:
    """A challenge over the years, the latest first, and what that says."""

    runs: list[Year]
    says: str


def years_of(run: Run, system: System) -> Years:
    """All runs of a run's challenge: by the load where one is held to the end, else by this run's rules."""
    past, rules = past_of(run, system), run.rules()
    if run.core_family().loaded:
        return Years(
            [_year(one, line, lambda kg: format_mass(kg, system)) for one, line in past.runs], past.outlook.says
        )

    def words(value: float) -> str:
        return amount(value, rules, system)

    bounds = {one.pk: _scores(one, rules, system) for one, _ in past.runs}
    rows = [_year(one, past_run(bounds[one.pk]), words) for one, _ in past.runs]
    return Years(rows, years_in_words(list(bounds.values()), words))


def bounds_of_recipe(recipe: Recipe) -> list[list[Interval]]:
    """What each run of a recipe's teacher came to under its terms as they are now: what was held [kg] where something
    is loaded, else by its rules."""
    runs = [
        run
        for run in recipe.runs.filter(tryout=False, school_class__owner=recipe.owner_id).select_related("school_class")
        if run.asks_for(recipe)
    ]
    if recipe.core_family().loaded:
        bounds = bounds_of_runs(runs)
        return [bounds[run.pk] for run in runs]
    rules = recipe.rules()
    return [_scores(run, rules, System.METRIC) for run in runs]


def _scores(run: Run, rules: Rules, system: System) -> list[Interval]:
    """What each ranked design of a run came to, in the unit of the score; open above where it could have been more."""
    scores = [place.score for place in compared(run, rules, system).comparison.places]
    return [
        Interval(score.value, math.inf if score.at_least else max(score.value, score.interval.high)) for score in scores
    ]


def _year(run: Run, line: PastRun, words: Callable[[float], str]) -> Year:
    best = "" if line.best_kg is None else words(line.best_kg)
    return Year(
        run.pk, run.date, run.school_class.name, line, f"at least {best}" if line.best_at_least and best else best,
        "" if line.median_kg is None else words(line.median_kg),
    )  # fmt: skip
