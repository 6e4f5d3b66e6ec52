"""A structure to practise on: it leans, cracks and breaks where the dice say, and is never a result.

What it does follows from a seed and the load alone, so every device that follows the rehearsal sees the same.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from girder_core.ground import GirderError, positive
from girder_core.trial.rounds import RoundPlan


@dataclass(frozen=True)
class Specimen:
    """A made-up structure: where it gives way [kg, or size of a round], how, and the signs it shows before.

    Attributes:
        breaks_at: the first load or size that is too much.
        mode: key of the way in which it fails.
        signs: each with the load or size at which it first shows, rising.
    """

    breaks_at: float
    mode: str
    signs: tuple[tuple[float, str], ...]


@dataclass(frozen=True)
class Behaviour:
    """What a specimen does now: whether it has given way, and how; the latest sign, if any; in a sentence."""

    broke: bool
    mode: str | None
    sign: str | None
    says: str


def specimen(low: float, high: float, modes: Sequence[str], signs: Sequence[str], seed: int) -> Specimen:
    """Draw a structure to practise on.

    Args:
        low: it breaks seldom below this [kg, or size of a round], > 0.
        high: and seldom above this [same unit], > low.
        modes: ways to fail, by key; one is drawn.
        signs: what may be seen before, by key; up to two are drawn.
        seed: the same seed draws the same structure.
    Returns:
        The specimen. Its strength is log-normal with one in ten below ``low`` and one in ten above ``high``.
    Errors:
        ``out_of_domain``; ``no_modes``.
    """
    positive("low", low, "The low end")
    if high < low:
        raise GirderError("interval_reversed", "The lower bound of an interval lies above the upper bound.")
    if not modes:
        raise GirderError("no_modes", "There is no way for it to fail.")
    dice = np.random.default_rng(seed)
    middle, width = (math.log(low) + math.log(high)) / 2, (math.log(high) - math.log(low)) / 2
    breaks_at = math.exp(middle + width / TEN_PERCENT * float(dice.standard_normal()))
    mode = modes[int(dice.integers(len(modes)))]
    count = min(len(signs), 2)
    drawn = [signs[int(i)] for i in dice.permutation(len(signs))[:count]]
    shares = np.sort(dice.uniform(0.45, 0.92, count))
    return Specimen(breaks_at, mode, tuple((float(s) * breaks_at, key) for s, key in zip(shares, drawn, strict=True)))


TEN_PERCENT = 1.2815515655446004
"""Quantile of the standard normal distribution at nine tenths (scipy.stats.norm.ppf(0.9))."""


def round_range(plan: RoundPlan) -> tuple[float, float]:
    """Between which sizes of a round a made-up structure gives way.

    Args:
        plan: the rounds of the test.
    Returns:
        The low and the high end for ``specimen``, in the unit of ``PlannedRound.size``.
    """
    low, high = plan.procedure.gives_way
    return low * plan.most, high * plan.most


def behave(piece: Specimen, on: float, words: dict[str, str]) -> Behaviour:
    """What a specimen does under a load, or in a round of a size.

    Args:
        piece: the specimen.
        on: what is on it [kg], or the size of the round.
        words: label of each mode and sign by key.
    Returns:
        Its behaviour.
    """
    if on >= piece.breaks_at:
        return Behaviour(True, piece.mode, None, f"It gives way: {words.get(piece.mode, piece.mode).lower()}.")
    shown = [key for at, key in piece.signs if on >= at]
    if shown:
        return Behaviour(False, None, shown[-1], f"You see: {words.get(shown[-1], shown[-1]).lower()}.")
    return Behaviour(False, None, None, "Nothing to see; it stands.")
