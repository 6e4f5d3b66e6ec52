"""The trials and readings of a design to one score: under a school of scoring, a trial rule, and the breach policy."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace

from girder_core.ground import GirderError
from girder_core.measure import (
    COVERAGE_FACTOR,
    Quantity,
    format_mass,
    strength_to_weight,
)
from girder_core.results.rules import BreachPolicy, Rules, School, TrialRule, needs_trial
from girder_core.trial import Interval, Outcome, TrialResult

RULE_VERSION = "scoring-4"
"""Version of the rules by which trials become a score; it goes with every exported score."""


@dataclass(frozen=True)
class Facts:
    """What was measured of a design besides its trials and its own weight; None where it was not.

    Attributes:
        size: what the tallest is judged by: a height or a span [m].
        survived: the greatest level or drop height it came through [kind of the family].
        share_left: share left standing after an attack [-].
        spared: pieces left over of those there were [-].
        per_piece: what it did for each piece in it [-].
        whole: whether it did all that was asked.
    """

    size: Quantity | None = None
    survived: Quantity | None = None
    share_left: Quantity | None = None
    spared: Quantity | None = None
    per_piece: Quantity | None = None
    whole: bool | None = None


NOTHING_MEASURED = Facts()
"""A design of which nothing but its trials is known."""


@dataclass(frozen=True)
class Candidate:
    """A design to be scored.

    Attributes:
        trials: all of them, in order.
        self_mass: own weight [kg], if taken.
        breached: whether it breaks a rule.
        facts: what was measured of it besides.
        each: the same by each trial that counts alone, where trials measure.
    """

    trials: Sequence[TrialResult]
    self_mass: Quantity | None = None
    breached: bool = False
    facts: Facts = NOTHING_MEASURED
    each: Sequence[Facts] = ()


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
        broke_kg: load that was on when it broke, under the trial rule [kg]; None when a counted trial did not break.
        shares: for a mix, what each school contributes to the value.
    """

    value: float
    interval: Interval
    held_kg: float
    held_interval: Interval
    self_mass: Quantity | None
    trials: int
    at_least: bool
    penalised: bool
    broke_kg: float | None = None
    shares: Mapping[School, float] = field(default_factory=dict)


@dataclass(frozen=True)
class Unranked:
    """Why a design has no score: a stable code and a sentence."""

    code: str
    sentence: str


@dataclass(frozen=True)
class _Load:
    """A load held under a trial rule: the nominal value, its standard uncertainty, the bounds, and the load that was on
    when it broke, all [kg]."""

    held: Quantity
    interval: Interval
    trials: int
    broke_kg: float | None = None


def score_all(candidates: Sequence[Candidate], rules: Rules) -> list[Score | Unranked]:
    """The scores of a run's designs.

    Args:
        candidates: the designs.
        rules: the run's scoring.
    Returns:
        A score for each, or why there is none. In a mix each school's value is divided by the best of the run, then
        weighted; 100 points would be best in all of them.
    """
    if rules.school is not School.MIX:
        return [score(c.trials, c.self_mass, rules, c.breached, c.facts) for c in candidates]
    parts = {
        school: score_all(candidates, replace(rules, school=school))
        for school, weight in rules.weights.items()
        if weight > 0
    }
    return [
        _mixed({school: (column, column[i]) for school, column in parts.items()}, rules) for i in range(len(candidates))
    ]


def _mixed(
    parts: Mapping[School, tuple[Sequence[Score | Unranked], Score | Unranked]], rules: Rules
) -> Score | Unranked:
    total = math.fsum(rules.weights[school] for school in parts)
    shares: dict[School, float] = {}
    low = high = 0.0
    first: Score | None = None
    for school, (column, own) in parts.items():
        if isinstance(own, Unranked):
            return own
        best = max(score.value for score in column if isinstance(score, Score))
        unit = 100 * rules.weights[school] / total / best if best > 0 else 0.0
        shares[school] = unit * own.value
        low, high = low + unit * own.interval.low, high + (unit * own.interval.high if unit else 0.0)
        first = first or own
    if first is None:
        raise GirderError("weights_sum_to_zero", "The weights of the mix sum to zero. Give at least one a weight.")
    open_above = math.isinf(high)
    return replace(
        first, value=math.fsum(shares.values()), interval=Interval(low, high), at_least=open_above, shares=shares
    )


def score(
    trials: Sequence[TrialResult],
    self_mass: Quantity | None,
    rules: Rules,
    breached: bool,
    facts: Facts = NOTHING_MEASURED,
) -> Score | Unranked:
    """One score from the trials and readings of a design.

    Args:
        trials: all its trials in order; those that are void or still running do not count.
        self_mass: own weight [kg], if it was taken.
        rules: the run's scoring; a mix needs the whole run, see ``score_all``.
        breached: whether a constraint is broken.
        facts: what else was measured.
    Returns:
        The score, or why there is none. With a run-out among counted trials the value is "at least".
    """
    if breached and rules.breach_policy is BreachPolicy.REFUSE:
        return Unranked("breach", "A constraint is broken, and this recipe does not rank such designs.")
    counted = [trial for trial in trials if trial.scored]
    if not counted and needs_trial(rules):
        if any(not trial.ended for trial in trials):
            return Unranked("running", "On the bench now.")
        if trials:
            return Unranked("void", "Its trial is void; test it again.")
        return Unranked("untested", "Not tested yet.")
    load = _TRIAL_RULES[rules.trial_rule](counted) if counted else _Load(Quantity(0.0), Interval(0.0, 0.0), 0)
    factor = 1 - rules.penalty if breached and rules.breach_policy is BreachPolicy.PENALTY else 1.0
    valued = _SCHOOLS[rules.school](_Case(load, counted, self_mass, facts, rules))
    if isinstance(valued, Unranked):
        return valued
    value, interval = valued
    return Score(
        value=value * factor,
        interval=Interval(interval.low * factor, interval.high * factor),
        held_kg=load.held.value,
        held_interval=load.interval,
        self_mass=self_mass,
        trials=max(load.trials, 1),
        at_least=interval.open_above,
        penalised=factor < 1,
        broke_kg=load.broke_kg,
    )


def _bounds(trial: TrialResult) -> Interval:
    if trial.interval is None:
        raise GirderError("void_not_scored", "A void trial has no bounds.")
    return trial.interval


def _best(trials: Sequence[TrialResult]) -> _Load:
    """The greatest load held; its bounds are the greatest lower and the greatest upper bound of all trials."""
    top = max(trials, key=lambda trial: trial.held.value)
    bounds = [_bounds(trial) for trial in trials]
    interval = Interval(max(b.low for b in bounds), max(b.high for b in bounds))
    return _Load(top.held, interval, len(trials), _broke_kg([top]))


def _broke_kg(trials: Sequence[TrialResult]) -> float | None:
    """The load that was on when they broke, the mean of several [kg]; None when one did not break."""
    broke = [trial.broke_at.value for trial in trials if trial.broke_at is not None]
    return math.fsum(broke) / len(broke) if len(broke) == len(trials) else None


@dataclass(frozen=True)
class BestLoad:
    """The most that a design held in those of its trials that were loaded to an end.

    Attributes:
        held_kg: load held [kg].
        interval: its bounds [kg]: the greatest lower and the greatest upper one of all trials.
        nominal: the same bounds, not widened by what the masses can be off [kg].
    """

    held_kg: float
    interval: Interval
    nominal: Interval

    @property
    def at_least(self) -> bool:
        """Whether a trial ran out, so that it could have held more."""
        return self.interval.open_above


def best_load(trials: Sequence[TrialResult]) -> BestLoad | None:
    """The best of a design's trials.

    Args:
        trials: all of them; those that are void, still running, or put no load on, do not count.
    Returns:
        The best; None when no trial was loaded to an end.
    """
    loaded = [trial for trial in trials if trial.scored and trial.loaded]
    if not loaded:
        return None
    best = _best(loaded)
    broke = max(math.inf if trial.broke_at is None else trial.broke_at.value for trial in loaded)
    held_kg = best.held.value
    return BestLoad(held_kg, best.interval, Interval(held_kg, max(held_kg, broke)))


def _mean(trials: Sequence[TrialResult]) -> _Load:
    """The mean of what was held; with a run-out among the trials, at least that."""
    n, bounds = len(trials), [_bounds(trial) for trial in trials]
    held = math.fsum(trial.held.value for trial in trials) / n
    # All trials are loaded from one kit, so their mass errors are shared and do not average out.
    doubt = math.fsum(trial.held.standard_uncertainty for trial in trials) / n
    interval = Interval(math.fsum(b.low for b in bounds) / n, math.fsum(b.high for b in bounds) / n)
    return _Load(Quantity(held, doubt), interval, n, _broke_kg(trials))


def _last(trials: Sequence[TrialResult]) -> _Load:
    return _Load(trials[-1].held, _bounds(trials[-1]), 1, _broke_kg(trials[-1:]))


@dataclass(frozen=True)
class _Case:
    """What a school looks at: the load under the trial rule, the counted trials, and what was measured."""

    load: _Load
    counted: Sequence[TrialResult]
    self_mass: Quantity | None
    facts: Facts
    rules: Rules


_Valued = tuple[float, Interval] | Unranked


def _widened(quantity: Quantity) -> Interval:
    doubt = COVERAGE_FACTOR * quantity.standard_uncertainty
    return Interval(quantity.value - doubt, quantity.value + doubt)


def _most_held(case: _Case) -> _Valued:
    return case.load.held.value, case.load.interval


def _times_own_weight(case: _Case) -> _Valued:
    """Load over own weight; the bounds are the load's, each widened by the uncertainty of the own weight."""
    load, self_mass = case.load, case.self_mass
    if self_mass is None:
        return Unranked("no_self_mass", "Own weight was not taken, so there is no ratio.")
    low = strength_to_weight(Quantity(load.interval.low), self_mass)
    high = math.inf
    if not load.interval.open_above:
        top = strength_to_weight(Quantity(load.interval.high), self_mass)
        high = top.value + COVERAGE_FACTOR * top.standard_uncertainty
    low_value = max(0.0, low.value - COVERAGE_FACTOR * low.standard_uncertainty)
    return strength_to_weight(load.held, self_mass).value, Interval(low_value, high)


def _threshold(case: _Case) -> _Valued:
    """The margin: load held over the target; at 1 and above it passes."""
    target = case.rules.minimum_kg or math.inf
    bounds = case.load.interval
    return case.load.held.value / target, Interval(bounds.low / target, bounds.high / target)


def _tallest(case: _Case) -> _Valued:
    if case.counted and all(trial.rounds and not trial.stood for trial in case.counted):
        return Unranked("fell", "It did not stand by itself for the agreed time, so it has no height.")
    if case.facts.size is None:
        return Unranked("not_measured", "Its size was not measured, so it cannot be ranked by it.")
    minimum = case.rules.minimum_kg
    if minimum is not None and case.load.held.value < minimum:
        return Unranked("below_minimum", f"It did not hold the {format_mass(minimum)} that every design has to hold.")
    return case.facts.size.value, _widened(case.facts.size)


def _capacity(case: _Case) -> _Valued:
    """How many pieces it took; a full deck is the end of the count, and not "at least"."""
    counts = [_pieces(trial) for trial in case.counted]
    if case.rules.trial_rule is TrialRule.LAST:
        counts = counts[-1:]
    if case.rules.trial_rule is TrialRule.MEAN:
        low, value, high = (math.fsum(column) / len(counts) for column in zip(*counts, strict=True))
    else:
        low, value, high = max(counts)
    return value, Interval(low, high)


def _pieces(trial: TrialResult) -> tuple[float, float, float]:
    """Pieces that held, the same as the value, and an upper bound: those on when it went, or none if load ran out."""
    held, on = trial.pieces_held, trial.pieces_on
    if trial.outcome is Outcome.RAN_OUT:
        return held, held, held if trial.reason == FULL else math.inf
    return held, held, max(held, on)


FULL = "container_full"
"""The run-out reason that ends a count of pieces for good: nothing more fits."""


def _survived(case: _Case) -> _Valued:
    """The greatest level or drop come through: at the bench between it and the one that was too much."""
    bounds = [trial.survived for trial in case.counted if trial.survived]
    if bounds:
        if case.rules.trial_rule is TrialRule.LAST:
            bounds = bounds[-1:]
        if case.rules.trial_rule is TrialRule.MEAN:
            n = len(bounds)
            low = math.fsum(bound.low for bound in bounds) / n
            return low, Interval(low, math.fsum(bound.high for bound in bounds) / n)
        low = max(bound.low for bound in bounds)
        return low, Interval(low, max(bound.high for bound in bounds))
    if case.facts.survived is None:
        return Unranked("not_measured", "What it survived is not written down yet.")
    # It came through this level and not the next, so the uncertainty is one-sided and stays with the level.
    return case.facts.survived.value, _widened(case.facts.survived)


def _left_standing(case: _Case) -> _Valued:
    if case.facts.share_left is None:
        return Unranked("not_measured", "What was left standing, or what stood before, is not written down.")
    bounds = _widened(case.facts.share_left)
    if bounds.low > 1:
        return Unranked("more_than_before", "More is left standing than there was before. Count or measure it again.")
    return min(1.0, case.facts.share_left.value), Interval(max(0.0, bounds.low), min(1.0, bounds.high))


def _spared(case: _Case) -> _Valued:
    """How many pieces were left over, of those that did all that was asked."""
    failed = _gave_way(case) or _uncounted(case)
    if failed is not None:
        return failed
    if not case.facts.whole:
        return Unranked("not_whole", "Not all were hidden, so what was left over does not count.")
    return _counted(case.facts.spared)


def _for_its_pieces(case: _Case) -> _Valued:
    return _gave_way(case) or _uncounted(case) or _counted(case.facts.per_piece)


def _counted(quantity: Quantity | None) -> _Valued:
    assert quantity is not None
    bounds = _widened(quantity)
    return quantity.value, Interval(max(0.0, bounds.low), bounds.high)


def _gave_way(case: _Case) -> Unranked | None:
    if case.counted and all(trial.outcome is Outcome.BROKE for trial in case.counted):
        return Unranked("fell", "It fell in, so what it hid before does not count.")
    return None


def _uncounted(case: _Case) -> Unranked | None:
    if case.facts.spared is None or case.facts.per_piece is None:
        return Unranked("not_measured", "Its blocks, or what it hides, are not counted yet.")
    return None


_TRIAL_RULES: Mapping[TrialRule, Callable[[Sequence[TrialResult]], _Load]] = {
    TrialRule.BEST: _best,
    TrialRule.MEAN: _mean,
    TrialRule.LAST: _last,
}
_SCHOOLS: Mapping[School, Callable[[_Case], _Valued]] = {
    School.MOST_HELD: _most_held,
    School.STRENGTH_TO_WEIGHT: _times_own_weight,
    School.THRESHOLD: _threshold,
    School.TALLEST: _tallest,
    School.CAPACITY: _capacity,
    School.SURVIVED: _survived,
    School.LEFT_STANDING: _left_standing,
    School.SPARED: _spared,
    School.FOR_ITS_PIECES: _for_its_pieces,
}
