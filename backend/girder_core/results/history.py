"""A challenge over the years: what it held before, and what next year's bench should have."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from girder_core.kit import LoadEstimate
from girder_core.measure import System, format_mass
from girder_core.results.samples import survival
from girder_core.trial import Interval

SPARE = 1.3
"""How much more than the best so far a bench should have (ours): someone will be better."""


@dataclass(frozen=True)
class PastRun:
    """What a run of a challenge held.

    Attributes:
        designs: how many designs were loaded to an end.
        best_kg: the most that was held [kg], or the best score in its own unit; None without a result.
        best_at_least: whether the best ran out.
        median_kg: half of the designs failed at or below it [kg]; None when fewer than half broke.
        ran_out_share: share of the designs that outlasted the load [-].
    """

    designs: int
    best_kg: float | None
    best_at_least: bool
    median_kg: float | None
    ran_out_share: float


def past_run(bounds: Sequence[Interval]) -> PastRun:
    """A run in a line of its history.

    Args:
        bounds: between what each design held and what broke it [kg], or what it came to in the unit of its score; open
            above for a run-out.
    Returns:
        The line; its median counts run-outs for as long as they were loaded (Kaplan-Meier).
    """
    if not bounds:
        return PastRun(0, None, False, None, 0.0)
    best = max(bounds, key=lambda interval: (interval.low, interval.open_above))
    middle = survival([bound.low for bound in bounds], [not bound.open_above for bound in bounds]).median_kg
    open_ = sum(bound.open_above for bound in bounds)
    return PastRun(len(bounds), best.low, best.open_above, middle, open_ / len(bounds))


@dataclass(frozen=True)
class Outlook:
    """What the years say of the next one: where designs may be expected to fail, the load to bring [kg], a sentence."""

    estimate: LoadEstimate | None
    bring_kg: float | None
    says: str


def years_in_words(runs: Sequence[Sequence[Interval]], words: Callable[[float], str]) -> str:
    """What all years say of a challenge that is not decided by a load.

    Args:
        runs: what each run's designs came to, in the unit of the score; open above where it could have been more.
        words: such a value in words.
    Returns:
        A sentence: the median of all designs and the best.
    """
    every = [bound for bounds in runs for bound in bounds]
    if len(every) < 3:
        return "Too few designs so far to say what next year may bring."
    lows = [interval.low for interval in every]
    middle = survival(lows, [not interval.open_above for interval in every]).median_kg
    best = max(every, key=lambda interval: (interval.low, interval.open_above))
    most = f"the best came to {'at least ' if best.open_above else ''}{words(best.low)}."
    if middle is None:
        return f"More than half of {len(every)} designs came through all there was; {most}"
    return f"Half of {len(every)} designs came to {words(middle)} or less; {most}"


def outlook(runs: Sequence[Sequence[Interval]], system: System = System.METRIC) -> Outlook:
    """Next year's kit and expectation from all years.

    Args:
        runs: the bounds of each run's designs [kg].
        system: units for the sentence.
    Returns:
        From the weakest to the strongest of all designs with their median between, and 1.3 times the best as the load
        to bring to a bench (ours); nothing below three designs.
    """
    every = [bound for bounds in runs for bound in bounds if bound.low > 0]
    if len(every) < 3:
        return Outlook(None, None, "Too few designs so far to say what next year needs.")
    lows = [interval.low for interval in every]
    middle = survival(lows, [not interval.open_above for interval in every]).median_kg
    best = max(lows)
    bring = SPARE * best
    estimate = LoadEstimate(min(lows), middle or best, bring, f"{len(every)} designs in earlier runs")
    half = f"Half of {len(every)} designs failed at or below {format_mass(middle, system)}" if middle else (
        f"More than half of {len(every)} designs ran out of load"
    )  # fmt: skip
    return Outlook(
        estimate,
        bring,
        f"{half}; the best held {format_mass(best, system)}. For next time bring {format_mass(bring, system)} of load "
        "to each bench.",
    )
