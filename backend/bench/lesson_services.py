"""What a teacher sets for a whole lesson at the bench: the order of teams, the minutes left, young-class mode."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import timedelta
from typing import Any

from django.db import transaction
from django.utils import timezone

from bench.models import Trial
from bench.selectors import in_queue
from challenges.kits import read_kit
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


def add_load(run: Run, typed: Mapping[str, Any]) -> Run:
    """Put a load object that the plan forgot into the kit of a run; what was placed before stays as it was.

    Errors: ``bad_kit`` with the bad fields, such as a name that is in the kit already; ``platform_too_late`` for a
    platform once something was tested, because all that was tested stood without it.
    """
    with transaction.atomic():
        run = Run.objects.select_for_update(of=("self",)).select_related("school_class__owner").get(pk=run.pk)
        if typed["shape"] == "platform" and Trial.objects.filter(design__run=run).exists():
            raise GirderError("platform_too_late", "Trials were made without a platform, so none can go on first now.")
        try:
            added = read_kit([typed], loaded=False)
        except GirderError as error:
            fields = error.data.get("fields", {})
            raise GirderError(
                error.code, error.sentence, fields={name.removeprefix("kit.0."): says for name, says in fields.items()}
            ) from None
        have = {entry["key"] for entry in run.kit}
        taken = next((entry for entry in added if entry["key"] in have), None)
        if taken is not None:
            sentence = f"“{taken['name']}” is in the kit already. Give this one another name."
            raise GirderError("bad_kit", "The load kit needs another look.", fields={"name": sentence})
        run.kit = [*added, *run.kit] if typed["shape"] == "platform" else [*run.kit, *added]
        run.save(update_fields=["kit"])
    return run


def pin_step(run: Run, item: str, count: int) -> Run:
    """Make every step of every team so many of an item, or with nothing named let the plan go by where it is expected.

    Errors: ``unknown_item``, ``count_not_positive``.
    """
    if item:
        run.core_kit().item(item)
        if count < 1:
            raise GirderError("count_not_positive", "Place a whole number of objects, at least one.")
    run.pinned_step = {"item": item, "count": count} if item else None
    run.save(update_fields=["pinned_step"])
    return run


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
