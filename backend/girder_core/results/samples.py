"""What a small sample can say, and when it is too small to say anything: means, differences, censored loads, ranks."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache
from itertools import permutations

import numpy as np
import scipy
from numpy.typing import NDArray
from scipy import optimize, special

from girder_core.ground import GirderError
from girder_core.trial import Interval

CONFIDENCE = 0.95
"""Confidence of every interval here [-]."""
EXACT_UP_TO = 8
"""Up to so many pairs every order is tried for the p-value of a rank correlation; above, the t approximation."""


@dataclass(frozen=True)
class SampleMean:
    """A mean with its scatter.

    Attributes:
        n: how many values.
        mean: their mean [their unit].
        sd: standard deviation with n - 1 [same unit]; None for a single value.
        low: lower 95 % bound of the mean [same unit]; None for a single value.
        high: upper bound [same unit]; None for a single value.
    """

    n: int
    mean: float
    sd: float | None
    low: float | None
    high: float | None


def mean_of(values: Sequence[float]) -> SampleMean:
    """The mean of a sample and where the true mean is likely to lie.

    Args:
        values: at least one, all in one unit.
    Returns:
        Mean, standard deviation and Student's t interval; a single value has no scatter and no interval.
    Errors:
        ``sample_empty``.
    Source:
        Student's t interval, any statistics text.
    """
    n = len(values)
    if n == 0:
        raise GirderError("sample_empty", "There is no value to take a mean of.")
    # Values that are all alike have no scatter, not the rounding of their sum.
    mean = values[0] if min(values) == max(values) else math.fsum(values) / n
    if n == 1:
        return SampleMean(1, mean, None, None, None)
    sd = math.sqrt(math.fsum((value - mean) ** 2 for value in values) / (n - 1))
    half = float(special.stdtrit(n - 1, 0.5 + CONFIDENCE / 2)) * sd / math.sqrt(n)
    return SampleMean(n, mean, sd, mean - half, mean + half)


@dataclass(frozen=True)
class Proportion:
    """A share of successes with its 95 % bounds [-]."""

    share: float
    low: float
    high: float


def wilson(successes: int, n: int) -> Proportion:
    """A share and where the true share is likely to lie; good for small n and for none or all.

    Args:
        successes: how many succeeded, 0 <= successes <= n.
        n: out of how many, n > 0.
    Returns:
        The share with its Wilson score interval.
    Errors:
        ``sample_empty``, ``count_out_of_range``.
    Source:
        E. B. Wilson 1927, Probable inference, the law of succession, and statistical inference.
    """
    if n <= 0:
        raise GirderError("sample_empty", "There is nothing to take a share of.")
    if not 0 <= successes <= n:
        raise GirderError("count_out_of_range", "There cannot be more successes than tries, nor fewer than none.")
    z = float(special.ndtri(0.5 + CONFIDENCE / 2))
    share = successes / n
    middle = (share + z * z / (2 * n)) / (1 + z * z / n)
    half = z / (1 + z * z / n) * math.sqrt(share * (1 - share) / n + z * z / (4 * n * n))
    return Proportion(share, max(0.0, middle - half), min(1.0, middle + half))


@dataclass(frozen=True)
class Correlation:
    """How well two orders agree: rho from -1 to 1, how often chance alone gives as much, and whether that is exact."""

    rho: float
    p: float
    exact: bool


def rank_correlation(first: Sequence[float], second: Sequence[float]) -> Correlation | None:
    """Whether more of one goes with more of the other.

    Args:
        first: one value a design.
        second: the other value of the same design.
    Returns:
        Spearman's rho on average ranks with its two-sided p: of all orders up to eight pairs, by the t approximation
        above; None below four pairs or when either is the same throughout.
    Errors:
        ``lengths_differ``.
    Source:
        Spearman's rank correlation; exact permutation distribution (any text on nonparametric statistics).
    """
    if len(first) != len(second):
        raise GirderError("lengths_differ", "Each design needs both values.")
    n = len(first)
    if n < 4 or len(set(first)) == 1 or len(set(second)) == 1:
        return None
    # Only here: all of scipy.stats takes long to load.
    x, y = (scipy.stats.rankdata(column) for column in (first, second))
    x, y = x - x.mean(), y - y.mean()
    size = math.sqrt(float((x**2).sum() * (y**2).sum()))
    rho = float((x * y).sum()) / size
    if n <= EXACT_UP_TO:
        every = (y[_orders(n)] @ x) / size
        return Correlation(rho, float(np.mean(np.abs(every) >= abs(rho) - 1e-9)), True)
    if abs(rho) >= 1 - 1e-12:
        return Correlation(rho, 0.0, False)
    t = rho * math.sqrt((n - 2) / (1 - rho**2))
    return Correlation(rho, 2 * float(special.stdtr(n - 2, -abs(t))), False)


@lru_cache(maxsize=EXACT_UP_TO)
def _orders(n: int) -> NDArray[np.int8]:
    return np.array(list(permutations(range(n))), dtype=np.int8)


@dataclass(frozen=True)
class SurvivalStep:
    """From this load on [kg], the share of designs that stand [-]."""

    load_kg: float
    share: float


@dataclass(frozen=True)
class Survival:
    """The share that stands under rising load, and the load at which half have gone [kg], if half have."""

    steps: tuple[SurvivalStep, ...]
    median_kg: float | None


def survival(loads_kg: Sequence[float], failed: Sequence[bool]) -> Survival:
    """The share of designs that stand under rising load, with run-outs counted for as long as they were loaded.

    Args:
        loads_kg: what each held or ran out at [kg].
        failed: whether it failed there; else it ran out.
    Returns:
        The Kaplan-Meier steps; the median is the smallest load with a share of half or less, within rounding.
    Errors:
        ``lengths_differ``, ``sample_empty``.
    Source:
        E. L. Kaplan and P. Meier 1958, Nonparametric estimation from incomplete observations. A run-out at a load is
        still at risk there.
    """
    if len(loads_kg) != len(failed):
        raise GirderError("lengths_differ", "Each load needs to say whether it broke there.")
    if not loads_kg:
        raise GirderError("sample_empty", "There is no load to draw a curve from.")
    share, steps = 1.0, []
    for load in sorted({load for load, gone in zip(loads_kg, failed, strict=True) if gone}):
        at_risk = sum(loaded >= load for loaded in loads_kg)
        gone = sum(f and loaded == load for loaded, f in zip(loads_kg, failed, strict=True))
        share *= 1 - gone / at_risk
        steps.append(SurvivalStep(load, share))
    median = next((step.load_kg for step in steps if step.share <= 0.5 + 1e-9), None)
    return Survival(tuple(steps), median)


class Spread(StrEnum):
    """How loads scatter: by shares of the load, or by so and so many kilograms."""

    LOG_NORMAL = "log_normal"
    NORMAL = "normal"


@dataclass(frozen=True)
class LoadFit:
    """Loads to failure as a distribution that was fitted to bounds.

    Attributes:
        spread: log-normal or normal.
        mu: mean of the load [kg], or of its natural logarithm in kg [-].
        sigma: standard deviation of the same, maximum likelihood.
        median_kg: half of such designs fail below it [kg].
        median_low_kg: lower 95 % bound of the median [kg].
        median_high_kg: upper bound [kg].
        log_likelihood: of the fit [-].
        n: how many bounds went in.
        ran_out: how many of them were open above.
    """

    spread: Spread
    mu: float
    sigma: float
    median_kg: float
    median_low_kg: float
    median_high_kg: float
    log_likelihood: float
    n: int
    ran_out: int


LEAST_FAILURES = 3
"""A censored fit needs at least so many designs that broke (ours): two parameters and something left over."""


def fit_loads(bounds: Sequence[Interval], spread: Spread = Spread.LOG_NORMAL) -> LoadFit | None:
    """Fit what designs hold from what is known: between what they held and what broke them, or above a run-out.

    Args:
        bounds: of each [kg]; with ``low`` zero where it broke on its first step, ``high`` infinite for a run-out, and
            both equal where it is exact.
        spread: how loads are taken to scatter.
    Returns:
        The fit; None when fewer than three broke or all that broke could be alike, so that no scatter can be told.
    Source:
        Maximum likelihood for censored samples (Klein and Moeschberger, Survival Analysis, from memory):
        density for exact values, F(b) - F(a) for bounds, F(b) for what broke at once, 1 - F(c) for run-outs. Bounds of
        the median from the curvature of the likelihood, with Student's t and the spread of n - 1 for those that broke:
        for exact values that is the interval of a mean.
    """
    # From nothing to without end says nothing.
    usable = [bound for bound in bounds if bound.low > 0 or (bound.high > 0 and not bound.open_above)]
    broke = [interval for interval in usable if not interval.open_above]
    apart = max((interval.low for interval in broke), default=0.0) > min(
        (interval.high for interval in broke), default=math.inf
    )
    if len(broke) < LEAST_FAILURES or not apart:
        return None
    log = spread is Spread.LOG_NORMAL
    low, high = np.array([interval.low for interval in usable]), np.array([interval.high for interval in usable])
    if log:
        with np.errstate(divide="ignore"):
            low, high = np.log(low), np.log(high)
    exact = high - low < 1e-9

    def loss(at: NDArray[np.float64]) -> float:
        return -_log_likelihood(float(at[0]), math.exp(float(at[1])), low, high, exact)

    middles = np.where(np.isfinite(low), (low + high) / 2, high)[np.isfinite(high)]
    start = np.array([middles.mean(), math.log(max(float(middles.std()), 0.02 * abs(middles.mean()), 1e-6))])
    fitted = optimize.minimize(loss, start, method="Nelder-Mead",
                              options={"xatol": 1e-9, "fatol": 1e-12, "maxiter": 4000})  # fmt: skip
    mu, sigma = float(fitted.x[0]), math.exp(float(fitted.x[1]))
    if not fitted.success or sigma < 1e-4 * (1 if log else abs(mu)):
        return None
    few = float(special.stdtrit(len(broke) - 1, 0.5 + CONFIDENCE / 2)) * math.sqrt(len(broke) / (len(broke) - 1))
    half = few * math.sqrt(max(0.0, _covariance(loss, fitted.x)[0][0]))
    medians = [math.exp(estimate) if log else estimate for estimate in (mu, mu - half, mu + half)]
    jacobian = float(low[exact].sum()) if log else 0.0
    middle, below, above = medians
    return LoadFit(
        spread, mu, sigma, middle, below, above, -float(fitted.fun) - jacobian, len(usable), len(usable) - len(broke)
    )


def fit_in_words(bounds: Sequence[Interval], fit: LoadFit | None) -> str:
    """What a fit rests on, or why there is none.

    Args:
        bounds: what went in.
        fit: what ``fit_loads`` made of it.
    Returns:
        Sentences; nothing when there is nothing to fit.
    """
    if not bounds:
        return ""
    open_ = sum(bound.open_above for bound in bounds)
    silent = sum(bound.open_above and bound.low <= 0 for bound in bounds)
    counts = "counts up to what it held" if open_ == 1 else "count up to what they held"
    counted = f" {open_} ran out of load and {counts}." if open_ else ""
    if fit is not None:
        which = "all designs" if not silent else f"all designs but {silent} that held nothing and did not break"
        return f"A curve fitted to {which}, each between what it held and what broke it." + counted
    if open_ == len(bounds):
        return "All ran out of load, so nobody knows yet where designs of this class fail."
    return "Too few designs broke, or they broke at loads too much alike, to fit a curve." + counted


def _log_likelihood(
    mu: float, sigma: float, low: NDArray[np.float64], high: NDArray[np.float64], exact: NDArray[np.bool_]
) -> float:
    """Without the Jacobian of exact values that were made logarithms; differences of the finer tail."""
    a, b = (low - mu) / sigma, (high - mu) / sigma
    flipped = a > 0
    start, end = np.where(flipped, -b, a), np.where(flipped, -a, b)
    upper, lower = special.log_ndtr(end), special.log_ndtr(start)
    with np.errstate(divide="ignore", invalid="ignore"):
        between = upper + np.log1p(-np.exp(lower - upper))
    dense = -0.5 * a**2 - math.log(sigma * math.sqrt(2 * math.pi))
    return float(np.where(exact, dense, np.where(np.isnan(between), -1e9, between)).sum())


def _covariance(loss: Callable[[NDArray[np.float64]], float], at: NDArray[np.float64]) -> list[list[float]]:
    """Inverse of the curvature of the loss at its minimum, by central differences."""
    h = 1e-4

    def shifted(*steps: float) -> float:
        return loss(at + h * np.array(steps))

    middle = shifted(0, 0)
    a = (shifted(1, 0) - 2 * middle + shifted(-1, 0)) / h**2
    d = (shifted(0, 1) - 2 * middle + shifted(0, -1)) / h**2
    b = (shifted(1, 1) - shifted(1, -1) - shifted(-1, 1) + shifted(-1, -1)) / (4 * h**2)
    inverse: list[list[float]] = np.linalg.inv(np.array([[a, b], [b, d]])).tolist()
    return inverse
