"""What is to be expected if the same designs were built and tested again: for every way of scoring, from one model.

What a trial showed is a fact, and the comparison tells it. Here stands the other question: would they come out like
that again? ``prospects`` answers it for each design, ``worth_testing`` says which next trial would tell most.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from statistics import median

import numpy as np

from girder_core.measure import Kind
from girder_core.results.again import Numbers, ScatterBelief, Strengths, strengths
from girder_core.results.rules import BreachPolicy, Rules, School, TrialRule
from girder_core.results.scoring import FULL, Candidate, Facts, Score
from girder_core.trial import Interval, TrialResult

CLEAR, LIKELY = 0.975, 0.88
"""How probable it must be that one design is the better, to call it clearly (two-sided 5 %) or probably
better (seven times in eight)."""
RANGE = 0.9
"""Which share of what may be true the range of places holds."""

_BY_LOAD = frozenset({School.MOST_HELD, School.STRENGTH_TO_WEIGHT, School.THRESHOLD})
_IN_THE_RUNNING, _MOST_IN_THE_RUNNING = 0.05, 6
_MOST_ROUNDS = 3
_WORLDS = 64


@dataclass(frozen=True)
class RankRange:
    """The best and the worst place that a design may have."""

    best: int
    worst: int


@dataclass(frozen=True)
class Prospect:
    """What is to be expected of a design.

    Attributes:
        first: chance that it would come first if all were built and tested again, each as often as was usual here [-].
        best: chance that it is truly the best of them [-].
        ranks: the places that its true strength may have; nine times in ten the true one is among them.
        better: chance that it is truly better than the next one down [-]; None for the last.
        ahead: chance that it would come out ahead of the next one down if both were built and tested again [-]; None
            for the last.
        passes: chance that it would hold the target if it were built and tested again [-]; None where no target
            decides.
    """

    first: float
    best: float
    ranks: RankRange
    better: float | None
    ahead: float | None
    passes: float | None = None


@dataclass(frozen=True)
class Worth:
    """What more trials would tell.

    Attributes:
        design: place in the list of the design whose next trial would tell most.
        now: chance of naming the truly best design from what is known [-].
        then: the same after that one trial, as is to be expected [-].
        running: places in the list of the designs that may be the best.
        rounds: how many more trials each of those would get.
        after: chance of naming the best after those, as is to be expected [-].
        settled: chance that the best is likely or clear after those [-].
    """

    design: int
    now: float
    then: float
    running: tuple[int, ...]
    rounds: int
    after: float
    settled: float


@dataclass(frozen=True)
class _Played:
    """Scores by draw and design: as the designs truly are, and as one more contest would show them."""

    true: Numbers
    again: Numbers


def prospects(
    candidates: Sequence[Candidate], rules: Rules, belief: ScatterBelief | None = None
) -> tuple[Prospect, ...]:
    """What is to be expected of designs if all were built and tested again.

    Args:
        candidates: designs that have a score under the rules, in the order of the comparison.
        rules: the run's scoring.
        belief: what is thought of the scatter of trials beforehand.
    Returns:
        One for each. A design that was tested often gets nothing for it: all are taken to be tested equally often.
    """
    if not candidates:
        return ()
    played, n = _played(candidates, rules, belief), len(candidates)
    first = np.bincount(played.again.argmax(1), minlength=n) / len(played.again)
    best = np.bincount(played.true.argmax(1), minlength=n) / len(played.true)
    places = (-played.true).argsort(1).argsort(1) + 1
    tail = (1 - RANGE) / 2
    low = np.quantile(places, tail, axis=0, method="lower")
    high = np.quantile(places, 1 - tail, axis=0, method="higher")
    better = (played.true[:, :-1] > played.true[:, 1:]).mean(0)
    ahead = (played.again[:, :-1] > played.again[:, 1:]).mean(0)
    decides = rules.school is School.THRESHOLD and rules.minimum_kg is not None
    passes = (played.again >= (rules.minimum_kg or 0.0)).mean(0)
    return tuple(
        Prospect(
            float(first[i]), float(best[i]), RankRange(int(low[i]), int(high[i])),
            float(better[i]) if i + 1 < n else None, float(ahead[i]) if i + 1 < n else None,
            float(passes[i]) if decides else None,
        )
        for i in range(n)
    )  # fmt: skip


def pairs_compared(
    candidates: Sequence[Candidate], pairs: Sequence[tuple[int, int]], rules: Rules, belief: ScatterBelief | None = None
) -> tuple[tuple[float, float], ...]:
    """How sure it is that one design is better than another, pair by pair.

    Args:
        candidates: designs that have a score under the rules.
        pairs: places in the list of the one and of the other.
        rules: the run's scoring.
        belief: what is thought of the scatter of trials beforehand.
    Returns:
        For each pair the chance that the first is truly better, and that it would be ahead again [-].
    """
    if not pairs:
        return ()
    played = _played(candidates, rules, belief)
    return tuple(
        (float((played.true[:, i] > played.true[:, j]).mean()), float((played.again[:, i] > played.again[:, j]).mean()))
        for i, j in pairs
    )


def in_the_score(candidate: Candidate, score: Score, rules: Rules) -> tuple[Interval, ...]:
    """What each trial of a design says of its score, for comparing groups of designs.

    Args:
        candidate: the design.
        score: what it came to.
        rules: the run's scoring.
    Returns:
        An interval for each trial that counts [unit of the score]; of a mix, which no trial has by itself, the score.
    """
    if rules.school is School.MIX:
        return (Interval(score.value, math.inf if score.at_least else score.value),)
    counts = _penalty(candidate, rules)
    if rules.school is School.STRENGTH_TO_WEIGHT and candidate.self_mass is not None:
        counts /= candidate.self_mass.value
    return tuple(Interval(said.low * counts, said.high * counts) for said in _trials_of(candidate, rules))


def worth_testing(candidates: Sequence[Candidate], rules: Rules, belief: ScatterBelief | None = None) -> Worth | None:
    """Which next trial would tell most about which design is truly the best.

    Args:
        candidates: designs that have a score under the rules, in the order of the comparison.
        rules: the run's scoring.
        belief: what is thought of the scatter of trials beforehand.
    Returns:
        The trial, and what a round or more for all that may be the best would tell; None where there is nothing to
        tell apart.
    Source:
        Expected value of sample information, Raiffa and Schlaifer, Applied Statistical Decision Theory (from memory);
        draws weighted by how likely they make what a made-up trial showed.
    """
    if len(candidates) < 2:
        return None
    leading = _played(candidates, rules, belief).true.argmax(1)
    best = np.bincount(leading, minlength=len(candidates)) / len(leading)
    order = np.argsort(-best, kind="stable")[:_MOST_IN_THE_RUNNING]
    running = tuple(int(i) for i in order if best[i] > _IN_THE_RUNNING)
    if len(running) < 2:
        return None
    told = strengths(_trials(candidates, _main(rules)), belief)
    singles = [_naming(told, leading, (i,), 1)[0] for i in running]
    most = max(range(len(running)), key=singles.__getitem__)
    now = float(best.max())
    for rounds in range(1, _MOST_ROUNDS + 1):
        after, settled = _naming(told, leading, running, rounds)
        if settled >= 0.5:
            break
    return Worth(running[most], now, max(now, singles[most]), running, rounds, max(now, after), settled)


def _naming(told: Strengths, leading: Numbers, tested: Sequence[int], rounds: int) -> tuple[float, float]:
    """Chance of naming the best after more trials, as is to be expected, and chance that it is then likely."""
    dice = np.random.default_rng((len(tested), rounds, 2))
    worlds = dice.integers(0, len(leading), _WORLDS)
    strength, scatter = told.log_strength[:, list(tested)], told.scatter
    shown = strength[worlds] + (scatter[worlds] / math.sqrt(rounds))[:, None] * dice.standard_normal(
        (_WORLDS, len(tested))
    )
    named = []
    for mean in shown:
        off = ((mean - strength) * math.sqrt(rounds) / scatter[:, None]) ** 2
        fit = -0.5 * off.sum(1) - len(tested) * np.log(scatter)
        weight = np.exp(fit - fit.max())
        named.append(float((np.bincount(leading, weights=weight) / weight.sum()).max()))
    return float(np.mean(named)), float(np.mean([chance >= LIKELY for chance in named]))


def _played(candidates: Sequence[Candidate], rules: Rules, belief: ScatterBelief | None) -> _Played:
    if rules.school is not School.MIX:
        return _by_one_school(candidates, rules, belief)
    total = math.fsum(weight for weight in rules.weights.values() if weight > 0)
    parts = [
        (weight / total, _by_one_school(candidates, replace(rules, school=school), belief))
        for school, weight in rules.weights.items()
        if weight > 0
    ]
    # As in the score of a mix: each part over the best of the class in it.
    true = sum(share * part.true / part.true.max(1, keepdims=True) for share, part in parts)
    again = sum(share * part.again / part.again.max(1, keepdims=True) for share, part in parts)
    return _Played(np.asarray(true), np.asarray(again))


def _by_one_school(candidates: Sequence[Candidate], rules: Rules, belief: ScatterBelief | None) -> _Played:
    trials = _trials(candidates, rules)
    told = strengths(trials, belief)
    usual = max(1, round(median(len(own) for own in trials)))
    shown = told.tested_again(usual)
    if rules.trial_rule is TrialRule.MEAN:
        again = np.exp(shown).mean(2)
    else:
        again = np.exp(shown.max(2) if rules.trial_rule is TrialRule.BEST else shown[:, :, -1])
    counts = _counts(candidates, rules, len(again))
    return _Played(np.exp(told.log_strength) * counts, again * counts)


def _counts(candidates: Sequence[Candidate], rules: Rules, draws: int) -> Numbers:
    """What a strength is multiplied by to be a score, by draw and design: one over its own weight, a penalty."""
    counts = np.ones((draws, len(candidates)))
    for i, candidate in enumerate(candidates):
        if rules.school is School.STRENGTH_TO_WEIGHT and candidate.self_mass is not None:
            own = candidate.self_mass
            dice = np.random.default_rng((i, 3)).standard_normal(draws)
            counts[:, i] /= np.maximum(own.value + own.standard_uncertainty * dice, 0.01 * own.value)
        counts[:, i] *= _penalty(candidate, rules)
    return counts


def _penalty(candidate: Candidate, rules: Rules) -> float:
    return 1 - rules.penalty if candidate.breached and rules.breach_policy is BreachPolicy.PENALTY else 1.0


def _main(rules: Rules) -> Rules:
    """The way of scoring whose trials tell most: itself, and of a mix the heaviest part."""
    if rules.school is not School.MIX:
        return rules
    return replace(rules, school=max(rules.weights, key=lambda school: rules.weights[school]))


def _trials(candidates: Sequence[Candidate], rules: Rules) -> tuple[tuple[Interval, ...], ...]:
    return tuple(_trials_of(candidate, rules) for candidate in candidates)


def _trials_of(candidate: Candidate, rules: Rules) -> tuple[Interval, ...]:
    """What each trial of a design says of what counts. Masses are taken as they are: what they are off by is shared."""
    counted = [trial for trial in candidate.trials if trial.scored]
    if rules.school in _BY_LOAD:
        return tuple(_load(trial) for trial in counted) or (Interval(0.0, math.inf),)
    if rules.school is School.CAPACITY:
        return tuple(_pieces(trial) for trial in counted) or (Interval(0.0, math.inf),)
    if rules.school is School.SURVIVED:
        rounds = tuple(trial.survived for trial in counted if trial.survived)
        if rounds:
            return rounds
    facts = list(candidate.each) or [candidate.facts]
    said = [bounds for measured in facts if (bounds := _measured(measured, rules)) is not None]
    # What was read at check-in is one reading, however many trials there were.
    return tuple(said if len(set(said)) > 1 else said[:1]) or (Interval(0.0, math.inf),)


def _load(trial: TrialResult) -> Interval:
    return Interval(trial.held.value, math.inf if trial.broke_at is None else trial.broke_at.value)


def _pieces(trial: TrialResult) -> Interval:
    """Between the pieces that held and those that were too many; a full deck is the end of the count."""
    held = float(trial.pieces_held)
    ran_out = trial.broke_at is None and trial.reason != FULL
    return Interval(held, math.inf if ran_out else max(held + 1, float(trial.pieces_on)))


def _measured(facts: Facts, rules: Rules) -> Interval | None:
    """What a measurement says: as far as it can be off, and to its end where that is the end of the scale."""
    if rules.school is School.TALLEST:
        size = facts.size
        if size is None:
            return None
        return Interval(size.value - size.standard_uncertainty, size.value + size.standard_uncertainty)
    if rules.school is School.SURVIVED:
        level = facts.survived
        if level is None:
            return None
        return Interval(level.value, level.value + 1 if rules.survived_kind is Kind.COUNT else 1.2 * level.value)
    if rules.school in (School.SPARED, School.FOR_ITS_PIECES):
        counted = facts.per_piece if rules.school is School.FOR_ITS_PIECES else facts.spared if facts.whole else None
        return None if counted is None else Interval(counted.value, counted.value)
    share = facts.share_left
    if share is None:
        return None
    off = share.standard_uncertainty
    return Interval(max(0.0, share.value - off), math.inf if share.value >= 1 else share.value + off)
