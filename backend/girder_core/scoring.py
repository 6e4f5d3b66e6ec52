"""The trials of a design to one score: under a school of scoring, a trial rule, and the recipe's breach policy."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from girder_core.errors import GirderError
from girder_core.ledger import Interval, TrialResult
from girder_core.uncertainty import COVERAGE_FACTOR, Quantity, strength_to_weight

RULE_VERSION = "scoring-1"
"""Version of the rules by which trials become a score; it goes with every exported score."""


class School(StrEnum):
    """What wins."""

    MOST_HELD = "most_held"
    STRENGTH_TO_WEIGHT = "strength_to_weight"


class TrialRule(StrEnum):
    """Which trials of a design count."""

    BEST = "best"
    MEAN = "mean"
    LAST = "last"


class BreachPolicy(StrEnum):
    """What a broken constraint does."""

    REFUSE = "refuse"
    PENALTY = "penalty"
    NOTE = "note"


@dataclass(frozen=True)
class Rules:
    """How a run is scored; ``penalty`` is the share taken off per design with a breach [-]."""

    school: School
    trial_rule: TrialRule
    breach_policy: BreachPolicy
    penalty: float = 0.0

    def __post_init__(self) -> None:
        if not 0 <= self.penalty < 1:
            raise GirderError("penalty_out_of_range", "A penalty takes off between nothing and less than all.")


@dataclass(frozen=True)
class Score:
    """What a design counts for.

    Attributes:
        value: the scored value: what it held, or that over its own weight.
        interval: bounds of it, in the same unit.
        held_kg: load held under the trial rule [kg].
        held_interval: its bounds [kg].
        self_mass: own weight [kg], when known.
        trials: how many trials counted.
        at_least: true when a counted trial ran out, so the value is a lower bound.
        penalised: true when the value was reduced for a breach.
    """

    value: float
    interval: Interval
    held_kg: float
    held_interval: Interval
    self_mass: Quantity | None
    trials: int
    at_least: bool
    penalised: bool


@dataclass(frozen=True)
class Unranked:
    """Why a design has no score: a stable code and a sentence."""

    code: str
    sentence: str


@dataclass(frozen=True)
class _Load:
    """A load held under a trial rule: the nominal value, its standard uncertainty and the bounds, all [kg]."""

    held: Quantity
    interval: Interval
    trials: int


def score(trials: Sequence[TrialResult], self_mass: Quantity | None, rules: Rules, breached: bool) -> Score | Unranked:
    """One score from the trials of a design.

    Args:
        trials: all its trials in order; those that are void or still running do not count.
        self_mass: own weight [kg], if it was taken.
        rules: the run's scoring.
        breached: whether a constraint is broken.
    Returns:
        The score, or why there is none. With a run-out among counted trials the value is "at least".
    """
    if breached and rules.breach_policy is BreachPolicy.REFUSE:
        return Unranked("breach", "A constraint is broken, and this recipe does not rank such designs.")
    counted = [trial for trial in trials if trial.scored]
    if not counted:
        if any(not trial.ended for trial in trials):
            return Unranked("running", "On the bench now.")
        if trials:
            return Unranked("void", "Its trial is void; test it again.")
        return Unranked("untested", "Not tested yet.")
    load = _TRIAL_RULES[rules.trial_rule](counted)
    factor = 1 - rules.penalty if breached and rules.breach_policy is BreachPolicy.PENALTY else 1.0
    valued = _SCHOOLS[rules.school](load, self_mass)
    if isinstance(valued, Unranked):
        return valued
    value, interval = valued
    return Score(
        value=value * factor,
        interval=Interval(interval.low * factor, interval.high * factor),
        held_kg=load.held.value,
        held_interval=load.interval,
        self_mass=self_mass,
        trials=load.trials,
        at_least=interval.open_above,
        penalised=factor < 1,
    )


def _bounds(trial: TrialResult) -> Interval:
    if trial.interval is None:
        raise GirderError("void_not_scored", "A void trial has no bounds.")
    return trial.interval


def _best(trials: Sequence[TrialResult]) -> _Load:
    """The greatest load held; its bounds are the greatest lower and the greatest upper bound of all trials."""
    top = max(trials, key=lambda trial: trial.held.value)
    bounds = [_bounds(trial) for trial in trials]
    return _Load(top.held, Interval(max(b.low for b in bounds), max(b.high for b in bounds)), len(trials))


def _mean(trials: Sequence[TrialResult]) -> _Load:
    """The mean of what was held; with a run-out among the trials, at least that."""
    n, bounds = len(trials), [_bounds(trial) for trial in trials]
    held = math.fsum(trial.held.value for trial in trials) / n
    # All trials are loaded from one kit, so their mass errors are shared and do not average out.
    doubt = math.fsum(trial.held.standard_uncertainty for trial in trials) / n
    interval = Interval(math.fsum(b.low for b in bounds) / n, math.fsum(b.high for b in bounds) / n)
    return _Load(Quantity(held, doubt), interval, n)


def _last(trials: Sequence[TrialResult]) -> _Load:
    return _Load(trials[-1].held, _bounds(trials[-1]), 1)


def _most_held(load: _Load, self_mass: Quantity | None) -> tuple[float, Interval] | Unranked:
    return load.held.value, load.interval


def _times_own_weight(load: _Load, self_mass: Quantity | None) -> tuple[float, Interval] | Unranked:
    """Load over own weight; the bounds are the load's, each widened by the doubt in the own weight."""
    if self_mass is None:
        return Unranked("no_self_mass", "Own weight was not taken, so there is no ratio.")
    low = strength_to_weight(Quantity(load.interval.low), self_mass)
    high = math.inf
    if not load.interval.open_above:
        top = strength_to_weight(Quantity(load.interval.high), self_mass)
        high = top.value + COVERAGE_FACTOR * top.standard_uncertainty
    low_value = max(0.0, low.value - COVERAGE_FACTOR * low.standard_uncertainty)
    return strength_to_weight(load.held, self_mass).value, Interval(low_value, high)


_TRIAL_RULES: Mapping[TrialRule, Callable[[Sequence[TrialResult]], _Load]] = {
    TrialRule.BEST: _best,
    TrialRule.MEAN: _mean,
    TrialRule.LAST: _last,
}
_SCHOOLS: Mapping[School, Callable[[_Load, Quantity | None], tuple[float, Interval] | Unranked]] = {
    School.MOST_HELD: _most_held,
    School.STRENGTH_TO_WEIGHT: _times_own_weight,
}
