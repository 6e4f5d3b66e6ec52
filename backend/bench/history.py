"""A recipe over the years: the runs that were made from it, and what they say of the next. Nothing here writes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from django.db.models import Count, Q

from bench.models import Trial
from bench.remembered import results_of, with_length
from challenges.models import Run
from designs.models import Design
from girder_core.kit import LoadEstimate
from girder_core.measure import System
from girder_core.results import (
    Outlook,
    PastRun,
    ScatterBelief,
    belief_from,
    best_load,
    expected_after,
    failures,
    outlook,
    past_run,
    pooled_cv,
)
from girder_core.trial import Interval, TrialResult


@dataclass(frozen=True)
class Past:
    """The runs of a challenge, the latest first, and what they say together."""

    runs: list[tuple[Run, PastRun]]
    outlook: Outlook
    estimate: LoadEstimate | None
    """Where the next designs are expected to give way: by these runs, and by what was taken over from elsewhere."""


def past_of(run: Run, system: System = System.METRIC, before_only: bool = False) -> Past:
    """All runs of this run's recipe by its teacher, with those of the same name and kind that have none; none that was
    only tried out.

    With ``before_only`` neither the run itself nor later ones count.
    """
    same = Q(name=run.name, family=run.family, recipe=None)
    if run.recipe_id:
        same |= Q(recipe=run.recipe_id)
    earlier = Run.objects.filter(same, school_class__owner=run.school_class.owner_id, tryout=False).select_related(
        "school_class"
    )
    if before_only:
        earlier = earlier.filter(date__lte=run.date).exclude(pk=run.pk)
    runs = list(earlier.order_by("-date", "-id"))
    bounds = bounds_of_runs(runs)
    told, prior = outlook([bounds[run.pk] for run in runs], system), run.prior()
    estimate = told.estimate
    if prior:
        estimate = expected_after(prior, [bounds[one.pk] for one in runs if one.asks_for(run)])
    return Past([(run, past_run(bounds[run.pk])) for run in runs], told, estimate)


def scatter_belief(run: Run) -> ScatterBelief:
    """What is thought of the scatter of trials in a run: by the repeats in its teacher's other runs, of this kind and
    of others, in two queries, or in one when their ledgers are remembered."""
    repeated = (
        Design.objects.filter(run__school_class__owner=run.school_class.owner_id, run__tryout=False)
        .exclude(run=run.pk)
        .annotate(tried=Count("trials"))
        .filter(tried__gte=2)
        .values("pk")
    )
    trials = list(with_length(Trial.objects.believed().filter(design__in=repeated)).select_related("design__run"))
    results = results_of(trials)
    by_kind: dict[bool, dict[int, list[TrialResult]]] = {True: {}, False: {}}
    for trial in trials:
        same = trial.design.run.family == run.family
        by_kind[same].setdefault(trial.design_id, []).append(results[trial.pk])
    own, others = (pooled_cv([failures(each) for each in by_kind[same].values()]) for same in (True, False))
    return belief_from(own, others)


def bounds_of_runs(runs: Sequence[Run]) -> dict[int, list[Interval]]:
    """For each run the bounds of every design that was loaded to an end: the best of its trials, in two queries, or in
    one when their ledgers are remembered."""
    if not runs:
        return {}
    designs = Design.objects.filter(run__in=runs)
    trials = list(with_length(Trial.objects.believed().filter(design__in=designs)).select_related("design__run"))
    results = results_of(trials)
    by_design: dict[tuple[int, int], list[TrialResult]] = {}
    for trial in trials:
        by_design.setdefault((trial.design.run_id, trial.design_id), []).append(results[trial.pk])
    bounds: dict[int, list[Interval]] = {run.pk: [] for run in runs}
    for (run, _), each in sorted(by_design.items()):
        best = best_load(each)
        if best is not None:
            bounds[run].append(best.nominal)
    return bounds
