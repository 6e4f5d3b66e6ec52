"""Tests that teams make by themselves, at stations: stopped and confirmed by their teacher."""

from __future__ import annotations

import uuid

from django.db import transaction
from django.utils import timezone

from bench.models import Trial
from challenges.models import Run
from girder_core.ground import GirderError
from girder_core.trial import confirm_at_station


def stop(trial: Trial) -> Trial:
    """Stop a team's test: it puts nothing more on, and what happened all the same it can still say. One that is stopped
    stays so from when it was. Errors: ``not_by_team``, ``trial_over``."""
    with transaction.atomic():
        locked = _locked(trial)
        if locked.result(locked.design.run.trial_setup()).ended:
            raise GirderError("trial_over", "This test is over already.")
        if locked.stopped_at is None:
            locked.stopped_at = timezone.now()
            locked.save(update_fields=["stopped_at"])
        return locked


def stop_all(run: Run) -> int:
    """Stop every test that a team of the run is making by itself; says how many these are."""
    with transaction.atomic():
        made = Trial.objects.select_for_update(of=("self",)).filter(design__run=run, by_team=True, stopped_at=None)
        setup = run.trial_setup()
        open_ = [trial for trial in made.prefetch_related("events") if not trial.result(setup).ended]
        for trial in open_:
            trial.stopped_at = timezone.now()
        Trial.objects.bulk_update(open_, ["stopped_at"])
        return len(open_)


def let_go_on(trial: Trial) -> Trial:
    """Let a team go on with its test, also after the teacher had taken it over: the team's bench has it again with its
    next entry. Errors: ``not_by_team``."""
    with transaction.atomic():
        locked = _locked(trial)
        locked.stopped_at = locked.bench = None
        locked.save(update_fields=["stopped_at", "bench"])
        return locked


def confirm(trial: Trial, seen: int, by: str) -> Trial:
    """Confirm what a team found by itself, as it was ``seen`` to stand. One that is confirmed stays so, by whom it was.
    Errors: ``not_by_team``, and as ``girder_core.trial.confirm_at_station``."""
    with transaction.atomic():
        locked = _locked(trial)
        if locked.confirmed_at is None:
            confirm_at_station(locked.result(locked.design.run.trial_setup()), seen)
            locked.confirmed_at, locked.confirmed_by = timezone.now(), by
            locked.save(update_fields=["confirmed_at", "confirmed_by"])
        return locked


def take_back(trial: Trial, bench: uuid.UUID) -> Trial:
    """Go on with a team's own test at another tablet of the team: ``stopped`` while its teacher holds it."""
    with transaction.atomic():
        locked = _locked(trial)
        if locked.station().stopped:
            raise GirderError("stopped", "Your teacher has stopped this test, or goes on with it at a bench.")
        locked.bench = bench
        locked.save(update_fields=["bench"])
        return locked


def _locked(trial: Trial) -> Trial:
    locked = Trial.objects.select_for_update(of=("self",)).select_related("design__run", "design__team")
    found = locked.get(pk=trial.pk)
    if not found.by_team:
        raise GirderError("not_by_team", "No team makes this test by itself.")
    return found
