"""How long the comparison of a great run takes: 200 designs, 2,000 trials, 40,000 events.

    ./girder start                                   (in another terminal, so that its database is there)
    ./girder measure comparison [DESIGNS] [TRIALS_EACH] [STEPS_EACH]

The first comparison reads every ledger, later ones remember what they came to. Builds the run inside a transaction that
is rolled back, asks for the comparison and its reasons as the API does, and prints the first and the median time, the
number of queries and the most memory that Python held, next to a run of a tenth of the size: the ratio says how it
grows.
"""

from __future__ import annotations

import statistics
import sys
import time
import tracemalloc
import uuid
from datetime import date

import django

django.setup()

from django.db import connection, transaction  # noqa: E402
from django.test.utils import CaptureQueriesContext  # noqa: E402
from django.utils import timezone  # noqa: E402

from bench.models import LedgerEvent, Trial  # noqa: E402
from challenges.library import take  # noqa: E402
from challenges.models import Run  # noqa: E402
from challenges.services import start_run  # noqa: E402
from designs.models import Design, Reading  # noqa: E402
from girder_core.measure import System  # noqa: E402
from people.accounts import sign_up  # noqa: E402
from people.models import SchoolClass, Team  # noqa: E402
from results.comparison_serializers import DrawnComparisonSerializer  # noqa: E402
from results.drawn import ranking_charts, reason_charts  # noqa: E402
from results.reason_serializers import ReasonsSerializer  # noqa: E402
from results.reasons import reasons_of  # noqa: E402
from results.selectors import compared  # noqa: E402
from results.shown import shown_comparison, shown_reasons  # noqa: E402


def build(designs: int, trials: int, steps: int) -> Run:
    """A bridge run with so many checked-in designs, trials each, and placements each (two events a placement)."""
    name = uuid.uuid4().hex[:10]
    teacher = sign_up(f"{name}@bench.example", "Bench", "slip-and-net-loft")
    school_class = SchoolClass.objects.create(owner=teacher, name=name)
    teams = Team.objects.bulk_create(
        Team(school_class=school_class, name=f"T{i}", mark="disc", colour="#25705c", position=i) for i in range(designs)
    )
    run = start_run(take(teacher, "slip-gangway"), school_class, date(2026, 11, 3))
    now = timezone.now()
    built = Design.objects.bulk_create(Design(run=run, team=team, checked_in_at=now) for team in teams)
    Reading.objects.bulk_create(
        Reading(design=design, key="self_mass", value_si=0.03 + 0.0001 * i, standard_uncertainty_si=3e-5)
        for i, design in enumerate(built)
    )
    made = Trial.objects.bulk_create(Trial(design=design, number=n + 1) for design in built for n in range(trials))
    nut = next(item.key for item in run.core_kit().items if item.shape == "nut")
    events = []
    for i, trial in enumerate(made):
        placed: list[tuple[str, dict[str, object]]] = [
            ("place", {"item": nut, "count": 1 + (i + k) % 3}) for k in range(steps)
        ]
        whole = [event for entry in placed for event in (entry, ("settle", {"waited_s": 6}))]
        end: tuple[str, dict[str, object]] = ("fail", {"mode": "crimp"})
        whole[-1] = end
        events += [
            LedgerEvent(id=uuid.uuid4(), trial=trial, sequence=n, kind=kind, data=data, happened_at=now)
            for n, (kind, data) in enumerate(whole, start=1)
        ]
    LedgerEvent.objects.bulk_create(events, batch_size=5000)
    print(f"{designs} designs, {len(made)} trials, {len(events)} events")
    return run


def measure(run: Run) -> tuple[float, float]:
    """Median seconds for the comparison and for its reasons; prints both with queries and memory."""
    words, rules, system = run.core_family().words(), run.rules(), System.METRIC

    def comparison() -> None:
        ranking = compared(run, rules, system)
        charts = ranking_charts(run, ranking, rules, system)
        shown = shown_comparison(ranking, rules, True, words, system)
        _ = DrawnComparisonSerializer({**shown, "ranking": charts.ranking, "rays": charts.rays}).data

    def reasons() -> None:
        ranking = compared(run, rules, system)
        behind = reasons_of(run, ranking, rules)
        charts = reason_charts(run, ranking, behind, rules, system)
        _ = ReasonsSerializer({**shown_reasons(behind, "", words), "charts": charts}).data

    medians = []
    for name, ask in (("comparison", comparison), ("reasons", reasons)):
        began = time.perf_counter()
        with CaptureQueriesContext(connection) as captured:
            ask()
        first = time.perf_counter() - began
        times = []
        for _ in range(5):
            began = time.perf_counter()
            ask()
            times.append(time.perf_counter() - began)
        tracemalloc.start()
        ask()
        most = tracemalloc.get_traced_memory()[1] / 1e6
        tracemalloc.stop()
        medians.append(statistics.median(times))
        figures = f"first {1000 * first:.0f} ms, then median {1000 * medians[-1]:.0f} ms"
        print(f"  {name:>10}: {figures}, {len(captured)} queries, {most:.0f} MB")
    return medians[0], medians[1]


def main() -> None:
    designs, trials, steps = (int(given) for given in (sys.argv[1:] + ["200", "10", "10"][len(sys.argv) - 1 :]))
    with transaction.atomic():
        small = measure(build(max(2, designs // 10), trials, steps))
        large = measure(build(designs, trials, steps))
        print(f"ratio of the times: comparison {large[0] / small[0]:.1f}, reasons {large[1] / small[1]:.1f}")
        transaction.set_rollback(True)


if __name__ == "__main__":
    main()
