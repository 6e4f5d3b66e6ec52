"""What a team can foretell where nothing is loaded: how far it comes through, how tall it stands, what is left."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from girder_core.families.model import Family, Setup
from girder_core.families.telling import measured_in_words
from girder_core.measure import Kind, System, typed_text
from girder_core.trial import BenchMeasure, Interval, Outcome, Procedure, Shows, TrialResult


@dataclass(frozen=True)
class Foretells:
    """What is foretold of a test that puts no load on.

    Attributes:
        procedure: how it is tested.
        measure: what is measured at its end, where that tells the result; None where it is the last round come through.
        most: the greatest size that its rounds go to.
    """

    procedure: Procedure
    measure: BenchMeasure | None
    most: float

    @property
    def kind(self) -> Kind:
        """What it measures."""
        return self.measure.kind if self.measure else self.procedure.size_kind

    @property
    def ask(self) -> str:
        """What a team is asked."""
        if self.measure is None:
            return "How far will it come through?"
        return f"{self.measure.label}: how {'many' if self.kind is Kind.COUNT else 'much'}?"

    def words(self, value: float, system: System = System.METRIC) -> str:
        """A size in words: "level 3", "65 cm", "18 left"."""
        if self.measure is None:
            return self.procedure.sized(value, system)
        return measured_in_words(self.measure, value, system)

    def example(self, system: System = System.METRIC) -> str:
        """How it is typed."""
        if self.kind is Kind.COUNT:
            return self.words(3, system)
        return typed_text(0.6 * self.most if self.measure is None else 0.8, self.kind, system)

    def came_to(self, trials: Sequence[TrialResult]) -> Interval | None:
        """What a design came to in the best of its trials, and what was too much for it; None without a result."""
        bounds = [found for trial in trials if trial.scored and (found := self._of(trial)) is not None]
        if not bounds:
            return None
        return Interval(max(bound.low for bound in bounds), max(bound.high for bound in bounds))

    def _of(self, trial: TrialResult) -> Interval | None:
        if self.measure is None:
            return trial.survived
        measured = trial.measures.get(self.measure.key)
        if not trial.stood or (self.procedure.hit_or_miss and trial.outcome is Outcome.BROKE):
            return Interval(0.0, 0.0)
        return None if measured is None else Interval(measured.value, measured.value)


def foretells(family: Family, setup: Setup) -> Foretells | None:
    """What a team can foretell besides a load.

    Args:
        family: the kind of challenge.
        setup: what the recipe sets [SI].
    Returns:
        What it is; None where the test is a load.
    """
    plan = family.round_plan(setup)
    if plan is None:
        return None
    measured = next((measure for measure in family.measures(setup) if measure.needed), None)
    return Foretells(plan.procedure, None if plan.procedure.shows is Shows.SURVIVED else measured, plan.most)
