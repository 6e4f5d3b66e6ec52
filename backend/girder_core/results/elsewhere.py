"""What a challenge came to in other classes, told without anybody's name, and what that lets a next class expect."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import special

from girder_core.ground import not_negative, positive, two_figures
from girder_core.kit import LoadEstimate, Material
from girder_core.measure import format_about, plural
from girder_core.results.history import past_run
from girder_core.results.samples import survival
from girder_core.trial import Interval

FEWEST = 5
"""Below so many designs nothing is told (ours): with fewer, whoever knows the class would know whose each was."""
USUAL_SCATTER, SCATTER_UNSURE = 0.35, 0.5
"""Scatter of hand-made designs of a class, standard deviation of the logarithm, and how sure that is as one of its own
logarithm; order of magnitude, no source."""
USUAL_BETWEEN = 0.35
"""How far apart classes usually are, as the scale of a half-normal; order of magnitude, no source."""
EIGHT_IN_TEN = 1.2816
"""Standard normal deviate of the 90th percentile."""
ALIKE = 0.01
"""A length that was typed in other units, and so rounded, is the same still [share]."""
_POINTS = 241

Terms = tuple[Mapping[str, float | None], Mapping[str, float]]
"""A set-up [SI], and how much of each material a team builds with."""


def amounts(materials: Sequence[Material]) -> dict[str, float]:
    """How much of each material a team builds with.

    Args:
        materials: the kit list's lines.
    Returns:
        The amount of each by its key; tools and what is the teacher's are no part of it.
    """
    return {material.key: material.final for material in materials if material.buildable}


def same_terms(one: Terms, other: Terms) -> bool:
    """Whether two challenges ask for the same structure, so that loads of the one tell of the other.

    Args:
        one: set-up and amounts of the one.
        other: those of the other.
    Returns:
        Whether both have the same quantities, each the same within a hundredth (ours).
    """
    return all(_alike(mine, theirs) for mine, theirs in zip(one, other, strict=True))


def _alike(one: Mapping[str, float | None], other: Mapping[str, float | None]) -> bool:
    def same(a: float | None, b: float | None) -> bool:
        return a is b if a is None or b is None else math.isclose(a, b, rel_tol=ALIKE)

    return one.keys() == other.keys() and all(same(one[key], other[key]) for key in one)


@dataclass(frozen=True)
class SharedHistory:
    """What designs of a challenge came to, all classes together.

    Attributes:
        designs, runs: how many designs, in how many runs.
        best: the best of them, to two figures [kg, or the unit of the score].
        best_at_least: whether it could have been more.
        median: half came to it or less [same unit]; None where more than half could have been more.
        low, high: a quarter came to so much or less, and three quarters did [same unit]; ``high`` None where a quarter
            or more could have been more.
    """

    designs: int
    runs: int
    best: float
    best_at_least: bool
    median: float | None
    low: float | None
    high: float | None


def shared_history(runs: Sequence[Sequence[Interval]]) -> SharedHistory | None:
    """What the runs of a challenge came to, as others may know it.

    Args:
        runs: what each run's designs came to, in one unit; open above where it could have been more.
    Returns:
        Best, median and middle half, each to two figures; None below five designs.
    Source:
        Kaplan and Meier, as in ``survival``.
    """
    every = [bound for bounds in runs for bound in bounds]
    if len(every) < FEWEST:
        return None
    whole = past_run(every)
    curve = survival([bound.low for bound in every], [not bound.open_above for bound in every])

    def share_left(share: float) -> float | None:
        found = next((step.load_kg for step in curve.steps if step.share <= share + 1e-9), None)
        return None if found is None else two_figures(found)

    return SharedHistory(
        whole.designs, sum(bool(bounds) for bounds in runs), two_figures(whole.best_kg or 0.0), whole.best_at_least,
        share_left(0.5), share_left(0.75), share_left(0.25),
    )  # fmt: skip


def history_in_words(told: SharedHistory, words: Callable[[float], str]) -> str:
    """What a challenge came to in other classes, in a sentence's middle.

    Args:
        told: what may be known of it.
        words: a load, or a value of the score, in words.
    Returns:
        Such as "the best at least 2.1 kg, half 750 g or less; the middle half between 580 g and 1.1 kg".
    """
    best = f"the best {'at least ' if told.best_at_least else ''}{words(told.best)}"
    half = f"half {words(told.median)} or less" if told.median is not None else "more than half all there was"
    middle = ""
    if told.low is not None and told.high is not None and told.low < told.high:
        middle = f"; the middle half between {words(told.low)} and {words(told.high)}"
    return f"{best}, {half}{middle}"


@dataclass(frozen=True)
class Elsewhere:
    """What the designs of other classes held, as what a next class may expect.

    Attributes:
        designs, runs: how many designs it rests on, in how many runs.
        typical_kg: what a middle design of a middle class holds [kg], > 0.
        unsure_log: how sure that is, standard deviation of its logarithm [-], > 0.
        between_log: how far classes are apart, standard deviation of the logarithm [-], > 0.
        scatter_log: how far designs of one class are apart, the same [-], > 0.
    """

    designs: int
    runs: int
    typical_kg: float
    unsure_log: float
    between_log: float
    scatter_log: float

    def __post_init__(self) -> None:
        not_negative("designs", self.designs, "How many designs")
        not_negative("runs", self.runs, "How many runs")
        positive("typical_kg", self.typical_kg, "What a middle design holds")
        positive("unsure_log", self.unsure_log, "How sure that is")
        positive("between_log", self.between_log, "How far classes are apart")
        positive("scatter_log", self.scatter_log, "How far designs are apart")


def told_elsewhere(runs: Sequence[Sequence[Interval]]) -> Elsewhere | None:
    """What runs of a challenge let a class elsewhere expect.

    Args:
        runs: between what each run's designs held and what broke them [kg]; open above for a run-out.
    Returns:
        The middle of all classes and how far classes, and designs of one class, are apart; None below five designs, or
        where nothing was held.
    Source:
        Designs normal about their class, classes about a common middle, both in the logarithm of the load: the
        hierarchical normal model, Gelman et al., Bayesian Data Analysis, 5.4 (from memory). Bounds count as what they
        are (interval and right censoring). Summed over a grid, so there is nothing that could fail to settle.
    """
    told = [list(bounds) for bounds in runs if bounds]
    every = [bound for bounds in told for bound in bounds]
    if len(every) < FEWEST or max(bound.low for bound in every) <= 0:
        return None
    at = _grid(every)
    scatters, betweens = np.geomspace(0.1, 1.5, 16), np.geomspace(0.04, 1.5, 13)
    by_scatter = [[_of_run(bounds, at, float(scatter)) for bounds in told] for scatter in scatters]
    weights, middles, squares = [], [], []
    for between in betweens:
        about = _about(at, float(between))
        for scatter, of_runs in zip(scatters, by_scatter, strict=True):
            log_mu = _of_middle(of_runs, about)
            top = log_mu.max()
            mu = np.exp(log_mu - top)
            # Each as wide as it stands for on the grid, which is even in the logarithm of both.
            prior = -0.5 * (math.log(scatter / USUAL_SCATTER) / SCATTER_UNSURE) ** 2
            prior += -0.5 * (between / USUAL_BETWEEN) ** 2 + math.log(between)
            weights.append(top + math.log(mu.sum()) + prior)
            mean = float((mu * at).sum() / mu.sum())
            middles.append(mean)
            squares.append(float((mu * (at - mean) ** 2).sum() / mu.sum()))
    weight = np.exp(np.array(weights) - max(weights))
    weight /= weight.sum()
    middle = float(weight @ np.array(middles))
    unsure = math.sqrt(float(weight @ (np.array(squares) + (np.array(middles) - middle) ** 2)))
    table = weight.reshape(len(betweens), len(scatters))
    between_log = math.sqrt(float(table.sum(axis=1) @ betweens**2))
    scatter_log = math.sqrt(float(table.sum(axis=0) @ scatters**2))
    return Elsewhere(len(every), len(told), math.exp(middle), unsure, between_log, scatter_log)


def expected_after(elsewhere: Elsewhere, own: Sequence[Sequence[Interval]] = ()) -> LoadEstimate:
    """Where designs of a next class are expected to give way.

    Args:
        elsewhere: what other classes held.
        own: the bounds of the designs of one's own earlier runs [kg].
    Returns:
        A range that holds eight designs in ten. The more runs of one's own, the more it goes by them.
    Source:
        As ``told_elsewhere``, with its middle and its spreads as what is known beforehand.
    """
    told = [list(bounds) for bounds in own if bounds]
    middle, unsure = _middle_after(elsewhere, told) if told else (math.log(elsewhere.typical_kg), elsewhere.unsure_log)
    doubt = math.hypot(unsure, elsewhere.between_log, elsewhere.scatter_log)
    typical, out = math.exp(middle), math.exp(EIGHT_IN_TEN * doubt)
    basis = f"{elsewhere.designs} designs in other classes"
    if count := sum(len(bounds) for bounds in told):
        basis += f" and {count} {plural('design', count)} in earlier runs"
    return LoadEstimate(typical / out, typical, typical * out, basis)


def _middle_after(elsewhere: Elsewhere, own: Sequence[Sequence[Interval]]) -> tuple[float, float]:
    """The middle of all classes once one's own runs are known, and how sure it is."""
    prior = math.log(elsewhere.typical_kg)
    far = 5 * elsewhere.unsure_log
    at = _grid([bound for bounds in own for bound in bounds], prior - far, prior + far)
    of_runs = [_of_run(bounds, at, elsewhere.scatter_log) for bounds in own]
    log_mu = -0.5 * ((at - prior) / elsewhere.unsure_log) ** 2 + _of_middle(of_runs, _about(at, elsewhere.between_log))
    mu = np.exp(log_mu - log_mu.max())
    mu /= mu.sum()
    middle = float(mu @ at)
    return middle, math.sqrt(float(mu @ (at - middle) ** 2))


def expected_in_words(estimate: LoadEstimate) -> str:
    """What is expected of a next class in a sentence, in the reader's units.

    Args:
        estimate: as ``expected_after`` gives it [kg].
    Returns:
        Such as "Expect about 1.1 kg; eight designs in ten hold between 600 g and 2.0 kg."
    """
    ends = (estimate.low_kg, estimate.typical_kg, estimate.high_kg)
    low, typical, high = (format_about(kg) for kg in ends)
    return f"Expect about {typical}; eight designs in ten hold between {low} and {high}."


def _grid(bounds: Sequence[Interval], low: float = math.inf, high: float = -math.inf) -> NDArray[np.float64]:
    """Logarithms of loads, even, from well below to well above all that was held."""
    logs = [math.log(load) for bound in bounds for load in (bound.low, bound.high) if 0 < load < math.inf]
    return np.linspace(min([low, *(log - 3 for log in logs)]), max([high, *(log + 3 for log in logs)]), _POINTS)


def _of_run(bounds: Sequence[Interval], at: NDArray[np.float64], scatter: float) -> NDArray[np.float64]:
    """Log-likelihood of a run's designs for each middle of its class."""
    with np.errstate(divide="ignore"):
        low = np.log([bound.low for bound in bounds])
        high = np.log([max(bound.high, bound.low * (1 + 1e-6)) for bound in bounds])
    a, b = (low - at[:, None]) / scatter, (high - at[:, None]) / scatter
    # In the upper tail the difference is taken below, where it is not lost.
    upper = a > 0
    a, b = np.where(upper, -b, a), np.where(upper, -a, b)
    below, above = special.log_ndtr(a), special.log_ndtr(b)
    with np.errstate(divide="ignore"):
        within = above + np.log(-np.expm1(below - above))
    return np.asarray(np.maximum(within, -1e6).sum(axis=1), dtype=np.float64)


def _about(at: NDArray[np.float64], between: float) -> NDArray[np.float64]:
    """How likely a class's own middle lies at each place, for each middle of all classes."""
    spread = np.exp(-0.5 * ((at[:, None] - at[None, :]) / between) ** 2)
    return np.asarray(spread / spread.sum(axis=1, keepdims=True), dtype=np.float64)


def _of_middle(of_runs: Sequence[NDArray[np.float64]], about: NDArray[np.float64]) -> NDArray[np.float64]:
    """Log-likelihood of all runs for each middle of all classes, whose own middles scatter about it."""
    total = np.zeros(len(about))
    for one in of_runs:
        top = one.max()
        total += top + np.log(np.maximum(about @ np.exp(one - top), 1e-300))
    return total
