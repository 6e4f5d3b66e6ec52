"""What pictures can follow at the bench, and what measurements let one notice: asked, never written down by itself."""

from __future__ import annotations

import math
from dataclasses import dataclass

from girder_core.ground import GirderError
from girder_core.measure import COVERAGE_FACTOR, System, units
from girder_core.photo import Way
from girder_core.trial.acts import require
from girder_core.trial.result import EventKind, Taken, TrialResult, TrialSetup
from girder_core.trial.rounds import BenchMeasure


@dataclass(frozen=True)
class Noticed:
    """A sign that may be there: its key, and the sentence that says why."""

    sign: str
    sentence: str


def to_be_followed(result: TrialResult, setup: TrialSetup, key: str) -> tuple[BenchMeasure, Way]:
    """What is to be followed from picture to picture.

    Args:
        result: the trial as it stands.
        setup: what it is judged by.
        key: of the measure.
    Returns:
        The measure, and in which direction it goes.
    Errors:
        ``unknown_measure``; ``not_followed`` for what has no direction; ``trial_over``.
    """
    spec = setup.measure(key)
    if spec.way is None:
        raise GirderError("not_followed", "Only what comes down or leans can be followed in pictures.")
    if result.ended:
        raise GirderError("trial_over", "This trial has ended; what is photographed now is the wreck.")
    return spec, spec.way


def to_be_pictured(result: TrialResult, setup: TrialSetup, key: str) -> BenchMeasure:
    """What is to be measured in a picture at the bench.

    Args:
        result: the trial as it stands.
        setup: what it is judged by.
        key: of the measure.
    Returns:
        The measure.
    Errors:
        ``unknown_measure``; ``not_pictured`` for what is neither length nor area, or moves; ``trial_over``; those
        of ``require``.
    """
    spec = setup.measure(key)
    if not spec.pictured:
        raise GirderError("not_pictured", "Only lengths and areas that do not move can be measured in one picture.")
    if result.ended:
        raise GirderError("trial_over", "This trial has ended. Take its end back first, and measure then.")
    # What the ledger would not take is not photographed, either.
    require(EventKind.MEASURE, result, setup, key)
    return spec


def noticed(result: TrialResult, setup: TrialSetup, system: System | None = None) -> tuple[Noticed, ...]:
    """Signs that measurements speak for, and that nobody wrote down under this load.

    Args:
        result: the trial as it stands.
        setup: what it is judged by.
        system: which units the reader wants; without it those of ``measure.read_in``.
    Returns:
        One for each measure that has grown by more than both readings may be off since the last lighter load, or since
        nothing was on it; none once the trial has ended.
    Source:
        Ours; a difference is told from nothing by its expanded uncertainty (JCGM 100:2008, 6.2.1).
    """
    if result.ended:
        return ()
    found = []
    for spec in setup.measures.values():
        grown = _grown(result, spec.key) if spec.sign in setup.observations else None
        if grown is None:
            continue
        load_kg, by_m, off_m, before = grown
        if any(sign == spec.sign and seen_kg >= load_kg for sign, seen_kg in result.signs):
            continue
        since = "at the step before" if before else "with nothing on it"
        more, off = (units.format_value(value, spec.kind, system) for value in (by_m, off_m))
        found.append(Noticed(spec.sign, f"{spec.label}: {more} more than {since}, give or take {off}. Do you see it?"))
    return tuple(found)


def _grown(result: TrialResult, key: str) -> tuple[float, float, float, bool] | None:
    """The load, by how much it has grown, how far off that may be, and whether there was a reading before."""
    own = [taken for taken in result.taken if taken.key == key]
    if not own:
        return None
    latest = own[-1]
    before = next((taken for taken in reversed(own) if taken.load_kg < latest.load_kg - 1e-9), None)
    by = latest.quantity.value - (before.quantity.value if before else 0.0)
    off = COVERAGE_FACTOR * math.hypot(_off(latest), _off(before) if before else 0.0)
    return (latest.load_kg, by, off, before is not None) if by > off else None


def _off(taken: Taken) -> float:
    return taken.quantity.standard_uncertainty
