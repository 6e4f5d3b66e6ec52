"""What a teacher finds at home: who is on the bench now, what to go on with, the next lesson and what it needs."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime

from django.db.models import Count, Exists, OuterRef, Q

from bench.models import LedgerEvent, Trial
from bench.remembered import results_of, with_length
from bench.selectors import RECENT, tested_by_run
from challenges.models import Run
from challenges.shown import shown_terms
from girder_core.families import family_of
from girder_core.ground import Drawing
from girder_core.kit import Line
from people.models import Teacher
from people.policy import owned


@dataclass(frozen=True)
class OnTheBench:
    """A run that is being tested now, and whose structure is on."""

    run: Run
    team: str


@dataclass(frozen=True)
class NextLesson:
    """A run that nobody was tested in yet: whether its day is still to come, and what has to be bought for it."""

    run: Run
    to_come: bool
    to_buy: Sequence[Line]


@dataclass(frozen=True)
class Home:
    """What stands at the top of a teacher's first page, and all runs below, each kind with its drawing."""

    runs: Sequence[Run]
    tested: Mapping[int, int]
    on_the_bench: Sequence[OnTheBench]
    go_on: Run | None
    next_lesson: NextLesson | None
    sketches: Mapping[int, Drawing]


def home_of(teacher: Teacher, today: date, now: datetime) -> Home:
    """A teacher's first page, in a constant number of queries.

    Args:
        teacher: whose it is.
        today: the day by the teacher's clock.
        now: the moment, for what is on the bench.
    Returns:
        All of it; the latest run first.
    """
    present = Count("designs", filter=Q(designs__removed_at__isnull=True))
    begun = Exists(Trial.objects.filter(design__run=OuterRef("pk")))
    # Grouping for the counts takes the model's own order away.
    listed = list(
        owned(Run.objects.select_related("school_class__owner"), teacher)
        .annotate(design_count=present, begun=begun)
        .order_by("-date", "-id")
    )
    tested = tested_by_run(listed)
    on_the_bench = _on_the_bench(listed, now)
    busy = {now.run.pk for now in on_the_bench}
    open_runs = [run for run in listed if run.begun and tested[run.pk] < run.design_count and run.pk not in busy]
    return Home(
        listed,
        tested,
        on_the_bench,
        next(iter(open_runs), None),
        _next_lesson([run for run in listed if not run.begun and not run.tryout], today),
        {run.pk: family_of(run.family).draw(run.setup) for run in listed},
    )


def _on_the_bench(runs: Sequence[Run], now: datetime) -> list[OnTheBench]:
    """Whose structure is on: of each run the open trial in which something happened last."""
    by_id = {run.pk: run for run in runs}
    lately = LedgerEvent.objects.filter(trial=OuterRef("pk"), received_at__gte=now - RECENT)
    trials = list(
        with_length(Trial.objects.filter(Exists(lately), design__run__in=by_id))
        .select_related("design__team")
        .order_by("-started_at")
    )
    for trial in trials:
        trial.design.run = by_id[trial.design.run_id]
    results = results_of(trials)
    latest: dict[int, Trial] = {}
    for trial in trials:
        if not results[trial.pk].ended:
            latest.setdefault(trial.design.run_id, trial)
    return [OnTheBench(by_id[run], trial.design.team.name) for run, trial in latest.items()]


def _next_lesson(waiting: Sequence[Run], today: date) -> NextLesson | None:
    """The earliest one still to come; without one, the latest that was put off. ``waiting`` has the latest first."""
    coming = [run for run in waiting if run.date >= today]
    run = coming[-1] if coming else next(iter(waiting), None)
    if run is None:
        return None
    plan = shown_terms(run, run.school_class.teams.count(), run.system())
    return NextLesson(run, bool(coming), [line for line in plan.follows.lines if line.packs])
