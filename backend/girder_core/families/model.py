"""The interface that every family of challenge fills: what is measured, forbidden, watched for, and how it ends."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from enum import StrEnum

from girder_core.readings import Plausible
from girder_core.safety import Caution
from girder_core.uncertainty import Quantity
from girder_core.units import Kind

SELF_MASS = "self_mass"
"""Key of the reading of the own weight, in every family that is weighed."""


@dataclass(frozen=True)
class ReadingSpec:
    """A reading that check-in takes: its key, label, kind, how to take it, and its plausible range.

    ``needed`` says whether check-in asks for it; one that ``may_follow`` can also be taken after the test.
    """

    key: str
    label: str
    kind: Kind
    how: str
    plausible: Plausible
    needed: bool = True
    may_follow: bool = False


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
class Mode:
    """A named way in which a trial ends or a sign that is seen; ``letter`` is its key on the keyboard."""

    key: str
    letter: str
    label: str
    explanation: str


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


@dataclass(frozen=True)
class SetupField:
    """A quantity that the recipe sets: key with its unit, label, kind, allowed range [SI], whether it may be empty."""

    key: str
    label: str
    kind: Kind
    low: float
    high: float
    default: float | None
    why: str
    optional: bool = False


CheckConstraints = Callable[
    [Mapping[str, float | None], Mapping[str, Quantity], Mapping[str, bool]], list[ConstraintResult]
]


@dataclass(frozen=True)
class Family:
    """A kind of challenge.

    Attributes:
        key: stable name.
        name: what people call it.
        built: what is built, in a sentence.
        setup: the quantities a recipe sets.
        readings: what check-in measures, in a good order.
        questions: what check-in asks.
        failure_modes: how the structure can fail; its letters are unique.
        loading_errors: what spoils a trial without telling anything of the structure: the trial is void.
        run_out_reasons: why a test can end with the structure still standing.
        observations: signs worth noting before failure.
        check: holds readings and answers against the set-up.
        cautions: what can hurt someone.
    """

    key: str
    name: str
    built: str
    setup: tuple[SetupField, ...]
    readings: tuple[ReadingSpec, ...]
    questions: tuple[Question, ...]
    failure_modes: tuple[Mode, ...]
    loading_errors: tuple[Mode, ...]
    run_out_reasons: tuple[Mode, ...]
    observations: tuple[Mode, ...]
    check: CheckConstraints
    cautions: tuple[Caution, ...]
    reading_keys: Mapping[str, ReadingSpec] = field(init=False, repr=False, compare=False)

    def __post_init__(self) -> None:
        object.__setattr__(self, "reading_keys", {spec.key: spec for spec in self.readings})

    def words(self) -> dict[str, str]:
        """Label of every mode, sign and reason by its key, for sentences and exports."""
        groups = (self.failure_modes, self.loading_errors, self.run_out_reasons, self.observations)
        return {mode.key: mode.label for group in groups for mode in group}
