"""How what else wins was measured: a height, a level that was survived, a share that was left standing."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from girder_core.families.model import Family, Setup
from girder_core.ground import Origin, Rule
from girder_core.results import School, TrialRule, of_trials_origin

SPARED = Rule("what there was, less what is in it", "d = n - p", "Score")
FOR_EACH = Rule("how many are hidden, divided by the blocks in it", "e = a / p", "Score")
SHARE = Rule("what is left, divided by what was there before", "s = a / b", "Score")


def fact_origin(
    family: Family, school: School, trial_rule: TrialRule, readings: Mapping[str, Origin],
    measured: Sequence[Mapping[str, Origin]], setup: Setup,
) -> Origin | None:  # fmt: skip
    """How what wins besides a load was measured.

    Args:
        family: the kind of challenge.
        school: what wins.
        trial_rule: which trials count.
        readings: how each reading at check-in came about, by key.
        measured: for each trial that counts, the same of what was measured at the bench.
        setup: what the recipe sets [SI].
    Returns:
        Its origin: a reading, a share of two, or what the trial rule makes of several; None where nothing of the kind
        was measured.
    """
    each = [
        found
        for own in ([own for own in measured if own] if school is not School.SURVIVED else []) or [{}]
        if (found := _fact(family, school, {**readings, **own}, setup)) is not None
    ]
    if not each:
        return None
    best = max(each, key=lambda own: own.si or 0.0)
    return best if len(each) == 1 else of_trials_origin(each, trial_rule, best.name)


def _fact(family: Family, school: School, readings: Mapping[str, Origin], setup: Setup) -> Origin | None:
    if school is School.TALLEST:
        return readings.get(family.outcome.size)
    if school is School.SURVIVED:
        return readings.get(family.outcome.survived)
    if school in (School.SPARED, School.FOR_ITS_PIECES):
        return _for_its_pieces(family, school, readings, setup)
    if school is not School.LEFT_STANDING:
        return None
    for pair in family.before_and_after:
        before, after = (readings.get(key) for key in pair)
        if before and after and before.si and after.si is not None:
            share = min(1.0, after.si / before.si)
            inputs = (replace(after, symbol="a"), replace(before, symbol="b"))
            return Origin("Left standing", f"{share:.0%}", "s", share, SHARE, inputs)
    return None


def _for_its_pieces(family: Family, school: School, readings: Mapping[str, Origin], setup: Setup) -> Origin | None:
    """How what was left over, or done for each piece, was worked out."""
    pieces, achieved = readings.get(family.outcome.pieces), readings.get(family.outcome.achieved)
    if pieces is None or achieved is None or not pieces.si or achieved.si is None:
        return None
    inputs = (replace(pieces, symbol="p"),)
    if school is School.SPARED:
        given = setup.get(family.outcome.given) or 0.0
        there_were = Origin(family.field(family.outcome.given).label, f"{given:g}", "n", given, source="as agreed")
        left = max(0.0, given - pieces.si)
        return Origin("Left over", f"{left:g}", "d", left, SPARED, (there_were, *inputs))
    each = achieved.si / pieces.si
    return Origin("For each block", f"{each:.3f}", "e", each, FOR_EACH, (replace(achieved, symbol="a"), *inputs))
