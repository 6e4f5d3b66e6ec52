"""Readings and answers of a design held against the limits that a recipe sets."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from girder_core.measure import COVERAGE_FACTOR, Kind, Quantity, format_value


@dataclass(frozen=True)
class Question:
    """A yes-or-no check that no instrument can make; ``good`` is the answer that obeys the rule.

    Where the wrong answer ``blocks``, there is nothing to test.
    """

    key: str
    text: str
    good: bool
    breach: str
    blocks: bool = False


@dataclass(frozen=True)
class Limit:
    """A reading that has to reach (``at_least``) or not to pass a set-up quantity; ``what`` names the quantity.

    What is ``agreed`` is the same for everybody, so a reading far from it is asked about.
    """

    reading: str
    field: str
    at_least: bool
    what: str
    agreed: bool = False


class Status(StrEnum):
    """What a constraint check found."""

    KEPT = "kept"
    BREACHED = "breached"
    DOUBTFUL = "doubtful"
    MISSING = "missing"


@dataclass(frozen=True)
class ConstraintResult:
    """One constraint held against the readings: what was found, in a sentence."""

    key: str
    label: str
    status: Status
    sentence: str


def check_limits(
    limits: Sequence[Limit],
    questions: Sequence[Question],
    kinds: Mapping[str, Kind],
    labels: Mapping[str, str],
    setup: Mapping[str, float | None],
    readings: Mapping[str, Quantity],
    answers: Mapping[str, bool],
) -> list[ConstraintResult]:
    """Hold a design's readings and answers against the recipe.

    Args:
        limits: the family's limits.
        questions: the family's questions.
        kinds: what each reading measures.
        labels: what each reading is called.
        setup: the run's set-up, SI by field key.
        readings: the readings that count, by reading key [SI].
        answers: answers to the questions.
    Returns:
        One result per constraint the recipe makes; a reading with two limits that is not taken yet is said once. A
        reading within its expanded uncertainty of the limit is ``doubtful``: the uncertainty is the instrument's, so it
        does not count as a breach.
    """
    results: list[ConstraintResult] = []
    missing: set[str] = set()
    both = {limit.reading for limit in limits if sum(two.reading == limit.reading for two in limits) > 1}
    for limit in limits:
        value, measured = setup.get(limit.field), readings.get(limit.reading)
        if value is None or (measured is None and limit.reading in missing):
            continue
        key = f"{limit.reading}_{'min' if limit.at_least else 'max'}" if limit.reading in both else limit.reading
        label = labels[limit.reading]
        if measured is None:
            missing.add(limit.reading)
            results.append(ConstraintResult(key, label, Status.MISSING, "Not measured yet."))
        else:
            results.append(_held_against(limit, key, label, measured, value, kinds[limit.reading]))
    for question in questions:
        answer = answers.get(question.key)
        if answer is None:
            status, sentence = Status.MISSING, question.text
        elif answer is question.good:
            status, sentence = Status.KEPT, "Checked."
        else:
            status, sentence = Status.BREACHED, question.breach
        results.append(ConstraintResult(question.key, question.text, status, sentence))
    return results


def _held_against(limit: Limit, key: str, label: str, measured: Quantity, value: float, kind: Kind) -> ConstraintResult:
    compared = f"{format_value(measured.value, kind)} against {limit.what}, {format_value(value, kind)}."
    short = (1 if limit.at_least else -1) * (value - measured.value)
    if short <= 1e-9:
        return ConstraintResult(key, label, Status.KEPT, f"Measured {compared}")
    if short <= COVERAGE_FACTOR * measured.standard_uncertainty:
        instrument = "tape" if kind is Kind.LENGTH else "instrument"
        return ConstraintResult(
            key, label, Status.DOUBTFUL, f"Too close for this {instrument}: {compared} Taken as kept."
        )
    words = "Below" if limit.at_least else "Over"
    return ConstraintResult(key, label, Status.BREACHED, f"{words} the limit: {compared}")
