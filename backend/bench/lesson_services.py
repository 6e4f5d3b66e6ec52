"""What a teacher sets for a whole lesson at the bench: the order of teams, the minutes left, young-class mode."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import timedelta

from django.db import transaction
from django.utils import timezone

from bench.models import Trial
from bench.selectors import in_queue
from challenges.models import Run
from designs.models import Design
from girder_core.ground import GirderError
from girder_core.measure import own_unit
from girder_core.planning import Turn, fair_order


def set_queue(run: Run, order: Sequence[int]) -> None:
    """Put the designs of a run in this order at the bench; ``unknown_design`` unless each is named once."""
    with transaction.atomic():
        designs = {design.pk: design for design in Design.objects.select_for_update(of=("self",)).filter(run=run)}
        if sorted(order) != sorted(designs):
            raise GirderError("unknown_design", "The order has to name every design of this run once.")
        for place, pk in enumerate(order, start=1):
            designs[pk].queue_place = place
        Design.objects.bulk_update(designs.values(), ["queue_place"])


def queue_fairly(run: Run) -> None:
    """Whoever was last at the bench in this class's run before comes first."""
    before = Run.objects.filter(school_class=run.school_class, designs__trials__isnull=False).exclude(pk=run.pk)
    last = before.filter(date__lte=run.date).order_by("-date", "-id").first()
    times: dict[int, int] = {}
    if last is not None:
        starts = Trial.objects.filter(design__run=last).order_by("started_at", "pk")
        teams = dict.fromkeys(starts.values_list("design__team_id", flat=True))
        times = {team: place for place, team in enumerate(teams, start=1)}
    designs = in_queue(list(run.designs.select_related("team").prefetch_related("trials")))
    turns = [Turn(str(d.team), bool(d.trials.all()), times.get(d.team_id, 0)) for d in designs]
    set_queue(run, [designs[i].pk for i in fair_order(turns)])


def set_bench_end(run: Run, minutes: float | None) -> Run:
    """Say how many minutes are left for tests, or that nobody counts; ``bad_minutes`` outside 1 to 240."""
    if minutes is not None and not 1 <= minutes <= 240:
        sentence = "Between 1 and 240 minutes."
        raise GirderError("bad_minutes", sentence, fields={"minutes": sentence})
    run.bench_ends_at = None if minutes is None else timezone.now() + timedelta(minutes=minutes)
    run.save(update_fields=["bench_ends_at"])
    return run


def set_young(run: Run, young: bool, name: str, size: str) -> Run:
    """Switch pictures, counts and bigger words on or off, and give the unit that lengths are counted in, if any.

    Errors: those of ``units.own_unit``.
    """
    counted = None
    if name.strip():
        unit = own_unit(name, size)
        counted = {"name": unit.name, "text": size, "size_m": unit.size_m}
    run.young, run.counted_unit = young, counted
    run.save(update_fields=["young", "counted_unit"])
    return run
