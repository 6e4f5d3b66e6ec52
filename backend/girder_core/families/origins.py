"""How what else wins was measured: a height, a level that was survived, a share that was left standing."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from girder_core.families.model import Family
from girder_core.ground import Origin, Rule
from girder_core.results import School, TrialRule, of_trials_origin

SHARE = Rule("what is left, divided by what was there before", "s = a / b", "Score")


def fact_origin(
    family: Family, school: School, trial_rule: TrialRule, readings: Mapping[str, Origin],
    measured: Sequence[Mapping[str, Origin]],
) -> Origin | None:  # fmt: skip
    """How what wins besides a load was measured.

    Args:
        family: the kind of challenge.
        school: what wins.
        trial_rule: which trials count.
        readings: how each reading at check-in came about, by key.
        measured: for each trial that counts, the same of what was measured at the bench.
    Returns:
        Its origin: a reading, a share of two, or what the trial rule makes of several; None where nothing of the kind
        was measured.
    """
    each = [
        found
        for own in ([own for own in measured if own] if school is not School.SURVIVED else []) or [{}]
        if (found := _fact(family, school, {**readings, **own})) is not None
    ]
    if not each:
        return None
    best = max(each, key=lambda own: own.si or 0.0)
    return best if len(each) == 1 else of_trials_origin(each, trial_rule, best.name)


def _fact(family: Family, school: School, readings: Mapping[str, Origin]) -> Origin | None:
    if school is School.TALLEST:
        return readings.get(family.outcome.size)
    if school is School.SURVIVED:
        return readings.get(family.outcome.survived)
    if school is not School.LEFT_STANDING:
        return None
    for pair in (family.outcome.share, family.outcome.share_by_size):
        before, after = (readings.get(key) for key in pair)
        if before and after and before.si and after.si is not None:
            share = min(1.0, after.si / before.si)
            inputs = (replace(after, symbol="a"), replace(before, symbol="b"))
            return Origin("Left standing", f"{share:.0%}", "s", share, SHARE, inputs)
    return None
