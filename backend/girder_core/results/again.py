"""Would they win again: how strong designs truly are, how far the next trial may land, and what chance follows.

One model stands behind every chance. The logarithm of a design's strength lies around the class's middle (normal, its
spread not known); the logarithm of each trial lies around the design's (normal, the scatter not known). A trial tells
an interval: it held the one load and not the other; a run-out has no upper end, a design that broke on its first step
no lower one. What all trials share, such as a kit whose nuts are all a little heavier than it says, moves all designs
alike and so changes no order.

Scatter, spread and middle are added up over a grid, each design over a grid of strengths; draws are then taken from
that, seeded, so that the same results give the same chances anywhere.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtr

from girder_core.ground import GirderError
from girder_core.trial import Interval

RULE_VERSION = "chances-1"
USUAL_SCATTER = 0.22
"""Scatter of trials of one hand-made design, as a standard deviation of the logarithm [-], while nobody has tested one
twice; order of magnitude, common practice, no source."""
SCATTER_UNSURE_LOG = 0.6
"""How unsure that is, as a standard deviation of its logarithm [-]: 0.22 may as well be 0.12 or 0.40."""
SPREAD_SCALE = 0.7
"""Scale of the half-normal that says how far designs of a class may truly lie apart, as a standard deviation of the
logarithm [-]; order of magnitude, common practice, no source."""
BETWEEN_CLASSES_LOG, BETWEEN_KINDS_LOG = 0.2, 0.35
"""How far the scatter of one class may lie from that of others in the same kind of challenge, and from that in other
kinds, as standard deviations of its logarithm [-]; order of magnitude, no source."""
DRAWS = 3200
"""How many draws a chance rests on: it is known to about one in a hundred."""

_NODES, _NODES_OF_MANY, _MANY = 160, 40, 40
_SCATTERS = np.exp(np.linspace(math.log(0.03), math.log(0.9), 15))
_SPREADS = np.exp(np.linspace(math.log(0.025), math.log(1.6), 16))
_MIDDLES, _MIDDLES_OF_GROUPS = 27, 61
_LARGEST = 1_000_000
"""Most numbers that are held at a time while drawing."""

Numbers = NDArray[np.float64]


@dataclass(frozen=True)
class Scatter:
    """How much repeated trials of one design differ.

    Attributes:
        cv: pooled within-design coefficient of variation [-].
        degrees_of_freedom: how many independent differences it rests on.
        designs: how many designs were tested more than once to a failure.
    """

    cv: float
    degrees_of_freedom: int
    designs: int


def pooled_cv(groups: Sequence[Sequence[float]]) -> Scatter | None:
    """Scatter of repeats, pooled over designs.

    Args:
        groups: for each design the loads of its trials to failure; run-outs left out. All > 0.
    Returns:
        sqrt(sum (n_i - 1) cv_i² / sum (n_i - 1)) over the groups of two or more; None when there is no such group.
    Source:
        Pooled variance of relative deviations, as in JCGM 100:2008, H.3.6 for variances.
    """
    squares, freedom, designs = 0.0, 0, 0
    for group in groups:
        n = len(group)
        if n < 2 or min(group) <= 0:
            continue
        mean = math.fsum(group) / n
        squares += math.fsum((value / mean - 1) ** 2 for value in group)
        freedom += n - 1
        designs += 1
    return Scatter(math.sqrt(squares / freedom), freedom, designs) if freedom else None


@dataclass(frozen=True)
class ScatterBelief:
    """What is thought of the scatter of trials before those of a run are looked at.

    Attributes:
        typical: standard deviation of the logarithm of trials of one design [-].
        unsure_log: standard deviation of the logarithm of ``typical`` [-].
        basis: where it comes from, to go after "from".
    """

    typical: float = USUAL_SCATTER
    unsure_log: float = SCATTER_UNSURE_LOG
    basis: str = "what is usual for hand-made structures"


def belief_from(own: Scatter | None, others: Scatter | None = None) -> ScatterBelief:
    """What is thought of the scatter of trials, from what a teacher's earlier repeats showed.

    Args:
        own: repeats in this kind of challenge, if there were any.
        others: repeats in other kinds.
    Returns:
        The usual belief, moved by how much each of them tells: a class differs from the next, a kind from the other.
    """
    sources = [(math.log(USUAL_SCATTER), SCATTER_UNSURE_LOG)]
    for repeats, between in ((own, BETWEEN_CLASSES_LOG), (others, BETWEEN_KINDS_LOG)):
        if repeats is not None and repeats.cv > 0:
            sources.append((math.log(repeats.cv), math.hypot(between, 1 / math.sqrt(2 * repeats.degrees_of_freedom))))
    weights = [1 / unsure**2 for _, unsure in sources]
    middle = math.fsum(w * value for w, (value, _) in zip(weights, sources, strict=True)) / math.fsum(weights)
    basis = "this kind of challenge in your earlier runs" if own else "your earlier runs" if others else None
    unsure = 1 / math.sqrt(math.fsum(weights))
    return ScatterBelief(math.exp(middle), unsure, basis) if basis else ScatterBelief()


@dataclass(frozen=True)
class Strengths:
    """Draws of how strong designs may truly be, given their trials.

    Attributes:
        log_strength: logarithm of each design's strength, a row for each draw [-].
        scatter: standard deviation of the logarithm of its trials, one for each draw [-].
    """

    log_strength: Numbers
    scatter: Numbers

    def tested_again(self, trials: int, seed: int = 0) -> Numbers:
        """What trials of the same designs would show.

        Args:
            trials: how many each design gets.
            seed: of the dice.
        Returns:
            Logarithm of the outcome, [draw, design, trial].
        """
        dice = np.random.default_rng((seed, 1)).standard_normal((*self.log_strength.shape, trials))
        return np.asarray(self.log_strength[:, :, None] + self.scatter[:, None, None] * dice)


def strengths(trials: Sequence[Sequence[Interval]], belief: ScatterBelief | None = None, seed: int = 0) -> Strengths:
    """How strong designs may truly be.

    Args:
        trials: for each design what each of its trials says: between what it held, zero where it broke on its first
            step, and what was too much, infinite where it ran out; in any unit that all share.
        belief: what is thought of the scatter beforehand.
        seed: of the dice.
    Returns:
        Draws from the posterior.
    Errors:
        ``no_trials`` when a design has none.
    Source:
        Hierarchical normal model with interval-censored data, Gelman et al., Bayesian Data Analysis, chapters 5 and 8
        (from memory); summed over a grid in place of a chain.
    """
    if not trials or not all(trials):
        raise GirderError("no_trials", "A design without a trial says nothing about its strength.")
    remembered = _remembered if len(trials) <= _MANY else _strengths
    return remembered(tuple(tuple(own) for own in trials), belief or ScatterBelief(), seed)


def _strengths(trials: tuple[tuple[Interval, ...], ...], belief: ScatterBelief, seed: int) -> Strengths:
    low, high, owner = _log_bounds(trials)
    strength, middles = _grids(low, high, len(trials))
    around = _around(strength, middles)
    likelihoods = [_likelihood(low, high, owner, strength, scatter) for scatter in _SCATTERS]
    weight = np.stack([_log(likely @ around).sum(0) + scale for likely, scale in likelihoods])
    weight += np.tile(_beforehand(belief), len(middles))
    share = np.exp(weight - weight.max()).ravel()
    return _drawn([likely for likely, _ in likelihoods], around, share / share.sum(), strength, seed)


_remembered = lru_cache(maxsize=32)(_strengths)
"""The same results are asked for by the comparison, its reasons and its board; great classes are not kept."""


@dataclass(frozen=True)
class Middles:
    """Where the middles of groups of designs may truly lie.

    Attributes:
        log_middle: logarithms of strength, evenly spaced [-].
        weight: how likely each of them is, [scatter and spread, group, logarithm]; adds up to one for each group.
        share: how likely each pair of scatter and spread is [-].
    """

    log_middle: Numbers
    weight: Numbers
    share: Numbers

    def compared(self, upper: int, lower: int, within: float) -> tuple[float, Interval]:
        """How sure it is that the designs of one group are stronger than those of another, and by how much.

        Args:
            upper: the one group's place in the list.
            lower: the other's.
            within: share of what may be true that the bounds hold [-].
        Returns:
            Chance that its middle truly lies higher [-], and bounds of the one over the other [-].
        """
        points = len(self.log_middle)
        joint = np.einsum("n,na,nb->ab", self.share, self.weight[:, upper], self.weight[:, lower])
        apart = np.array([np.trace(joint, -k) for k in range(1 - points, points)])
        # What is a whole number of cells apart may be up to half a cell more or less.
        steps, below = np.arange(-points, points) + 0.5, np.concatenate([[0.0], apart.cumsum()])
        ends = np.interp([(1 - within) / 2, (1 + within) / 2], below, steps)
        low, high = np.exp(ends * (self.log_middle[1] - self.log_middle[0]))
        return float(apart[points:].sum() + apart[points - 1] / 2), Interval(float(low), float(high))


def middles(groups: Sequence[Sequence[Sequence[Interval]]], belief: ScatterBelief | None = None) -> Middles:
    """Where the middles of groups of designs may truly lie, such as those that share a level of what is varied.

    Args:
        groups: for each group its designs, for each design what each of its trials says.
        belief: what is thought of the scatter of trials beforehand.
    Returns:
        The posterior on a grid. Nothing draws the groups together beforehand; that designs of a group differ as much
        as those of another is taken for granted.
    Errors:
        ``no_trials`` when a group has no design or a design no trial.
    Source:
        As ``strengths``, with a middle for each group (analysis of variance by a hierarchical model, Gelman et al.).
    """
    trials = [own for group in groups for own in group]
    if not all(groups) or not all(trials):
        raise GirderError("no_trials", "A group without a trial says nothing about its designs.")
    low, high, owner = _log_bounds(trials)
    strength, _ = _grids(low, high, len(trials))
    grid = np.linspace(strength[0], strength[-1], _MIDDLES_OF_GROUPS)
    around, first = _around(strength, grid), np.cumsum([0, *(len(group) for group in groups[:-1])])
    weights = []
    for scatter in _SCATTERS:
        likely, scale = _likelihood(low, high, owner, strength, scatter)
        each = np.add.reduceat(_log(likely @ around), first, axis=0) + scale / len(groups)
        weights.append(each.reshape(len(groups), len(grid), -1).transpose(2, 0, 1))
    weight = np.concatenate(weights)
    most = weight.max(2, keepdims=True)
    weight = np.exp(weight - most)
    share = (np.log(weight.sum(2)) + most[:, :, 0]).sum(1) + _beforehand(belief or ScatterBelief()).ravel()
    share = np.exp(share - share.max())
    return Middles(grid, weight / weight.sum(2, keepdims=True), share / share.sum())


def _log(chance: Numbers) -> Numbers:
    return np.log(np.maximum(chance, 1e-300))


def _beforehand(belief: ScatterBelief) -> Numbers:
    """Logarithm of how likely each pair of scatter and spread is before a trial is looked at, up to a constant."""
    scatter = -0.5 * (np.log(_SCATTERS / belief.typical) / belief.unsure_log) ** 2
    return np.asarray(scatter[:, None] + np.log(_SPREADS) - 0.5 * (_SPREADS / SPREAD_SCALE) ** 2)


def _around(strength: Numbers, middles: Numbers) -> Numbers:
    """How likely each strength is around each middle with each spread: [strength, middle and spread]."""
    step = strength[1] - strength[0]
    off = ((strength[:, None, None] - middles[:, None]) / np.maximum(_SPREADS, 0.7 * step)) ** 2
    around = np.exp(-0.5 * (off - off.min(0)))
    return np.asarray((around / around.sum(0, keepdims=True)).reshape(len(strength), -1))


def _log_bounds(trials: Sequence[Sequence[Interval]]) -> tuple[Numbers, Numbers, NDArray[np.intp]]:
    """Logarithms of both ends of every trial, and whose it is."""
    owner = np.repeat(np.arange(len(trials)), [len(own) for own in trials])
    low = np.array([max(0.0, trial.low) for own in trials for trial in own])
    high = np.array([trial.high for own in trials for trial in own])
    with np.errstate(divide="ignore"):
        low, high = np.log(low), np.log(high)
    # What was read off an instrument has no width; a grid of strengths needs a little.
    with np.errstate(invalid="ignore"):
        narrow = high - low < 0.005
    return np.where(narrow, low - 0.0025, low), np.where(narrow, low + 0.0025, high), owner


def _grids(low: Numbers, high: Numbers, designs: int) -> tuple[Numbers, Numbers]:
    """Where strengths and the class's middle are looked for: around what was seen, further where an end is open."""
    above, below = ~np.isfinite(high), ~np.isfinite(low)
    with np.errstate(invalid="ignore"):
        about = np.where(above, low + 0.1, np.where(below, high - 0.3, (low + high) / 2))
    about = about[np.isfinite(about)]
    if about.size == 0:
        about = np.zeros(1)
    first = about.min() - 0.7 - 0.8 * below.any()
    last = about.max() + 0.7 + 1.0 * above.any()
    strength = np.linspace(first, last, int(np.clip((last - first) / 0.02, 80, 360)))
    reach = 4.8 * max(float(about.std()), 0.12) / math.sqrt(designs)
    centre = float(about.mean())
    middles = np.linspace(
        max(first, centre - reach - 0.8 * below.mean()), min(last, centre + reach + above.mean()), _MIDDLES
    )
    return strength, middles


def _likelihood(
    low: Numbers, high: Numbers, owner: NDArray[np.intp], strength: Numbers, scatter: float
) -> tuple[Numbers, float]:
    """How likely each design's trials are at each strength, up to a scale of its own; and the logarithm of the scale.

    Trials that came to the same are worked out once; loads go on in steps, so many do.
    """
    kinds, which = np.unique(np.stack([low, high]), axis=1, return_inverse=True)
    from_low, to_high = ((kinds[i][:, None] - strength) / scatter for i in (0, 1))
    # From the side on which the difference of two small tails is not lost.
    upper = from_low > 0
    chance = ndtr(np.where(upper, -from_low, to_high)) - ndtr(np.where(upper, -to_high, from_low))
    starts = np.flatnonzero(np.diff(owner, prepend=-1))
    most_trials = int(np.diff(starts, append=len(owner)).max())
    chance = np.maximum(chance, 1e-280 ** (1 / most_trials))
    together = np.multiply.reduceat(chance[which.ravel()], starts, axis=0)
    most = together.max(1, keepdims=True)
    return together / most, float(np.log(most).sum())


def _drawn(likelihoods: Sequence[Numbers], around: Numbers, share: Numbers, strength: Numbers, seed: int) -> Strengths:
    """Draws: first scatter, spread and middle by their weight, then the strength of each design given those."""
    dice = np.random.default_rng((seed, 0))
    designs, points, step = len(likelihoods[0]), len(strength), strength[1] - strength[0]
    # The more designs, the better scatter, spread and middle are known, and the fewer of them stand for all.
    nodes = _NODES if designs <= _MANY else _NODES_OF_MANY
    each = DRAWS // nodes
    picked = np.searchsorted(np.cumsum(share), (np.arange(nodes) + dice.random(nodes)) / nodes)
    of_scatter, of_around = np.divmod(np.minimum(picked, share.size - 1), around.shape[1])
    chunk = max(1, _LARGEST // (designs * points))
    parts = []
    for start in range(0, nodes, chunk):
        pairs = zip(of_scatter[start : start + chunk], of_around[start : start + chunk], strict=True)
        summed = np.stack([likelihoods[i] * around[:, j] for i, j in pairs]).cumsum(2)
        rows = (summed / summed[:, :, -1:]).reshape(-1, points)
        # One search through all rows: each is lifted by its number, so that they follow each other.
        lift = np.arange(len(rows))[:, None]
        hit = np.searchsorted((rows + lift).ravel(), (dice.random((len(rows), each)) + lift).ravel())
        place = np.clip(hit.reshape(len(rows), each) - lift * points, 0, points - 1)
        drawn = strength[place] + (dice.random(place.shape) - 0.5) * step
        parts.append(drawn.reshape(-1, designs, each).transpose(0, 2, 1).reshape(-1, designs))
    return Strengths(np.concatenate(parts), np.repeat(_SCATTERS[of_scatter], each))
