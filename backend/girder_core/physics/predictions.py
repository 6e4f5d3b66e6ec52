"""Predictions: every way a design can fail, the weakest first, with an honest range; and what the class taught.

A limit state gives the load it allows for every sample of the materials. In each sample the weakest state governs; the
prediction's range is the 10th to 90th percentile of that. Samples are seeded by name, so that the same design gives
the same answer, and two designs differ by their design and not by luck.
"""

from __future__ import annotations

import math
import zlib
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from girder_core.ground import GRAVITY_M_S2, GirderError, Number, positive, refuse
from girder_core.kit import LoadEstimate
from girder_core.physics.materials import Bounds

SAMPLES = 2000
SEED = 1729
LOW, HIGH = 0.1, 0.9
"""Percentiles between which a prediction's range lies."""

Draws = NDArray[np.float64]


@lru_cache(maxsize=256)
def _uniform(name: str, seed: int, count: int) -> Draws:
    """Evenly spread numbers in (0, 1) in an order that belongs to the name: one from each of ``count`` strips."""
    order = np.random.default_rng([seed, zlib.crc32(name.encode())])
    numbers = (order.permutation(count) + 0.5) / count
    numbers.flags.writeable = False
    return numbers


@dataclass(frozen=True)
class Samples:
    """Seeded samples of uncertain inputs.

    Attributes:
        count: how many.
        seed: same seed, same samples.
    """

    count: int = SAMPLES
    seed: int = SEED

    def draw(self, bounds: Bounds, name: str) -> Draws:
        """Samples of a stated range: half of them below the typical value and half above, evenly on a logarithmic
        scale on each side.

        Args:
            bounds: the stated range, any unit.
            name: what it is of; equal names give equal samples, so shared causes stay shared.
        Returns:
            ``count`` numbers in the unit of the range.
        """
        u = _uniform(name, self.seed, self.count)
        low, middle, high = math.log(bounds.low), math.log(bounds.typical), math.log(bounds.high)
        return np.exp(np.where(u < 0.5, low + 2 * u * (middle - low), middle + (2 * u - 1) * (high - middle)))


@dataclass(frozen=True)
class State:
    """A way to fail, before the samples are summed up.

    Attributes:
        key: stable name within its model.
        name: what happens, in a few words.
        load_n: load at which it happens, one per sample, infinite where it never does [N].
        explanation: why, in words for older readers.
        young: the same in short words.
        source: formula or publication.
        mode: failure mode at the bench that it belongs to, by key; empty when there is none.
        part: which member, joint or layer, where one is meant.
    """

    key: str
    name: str
    load_n: Number
    explanation: str
    young: str
    source: str
    mode: str = ""
    part: str = ""


@dataclass(frozen=True)
class LimitState:
    """A way to fail and the load it allows.

    Attributes:
        name: what happens, in a few words.
        low_n: a tenth of the samples lie below [N].
        typical_n: half of the samples lie below [N].
        high_n: nine tenths lie below; infinite where it may never happen [N].
        explanation: why, in words for older readers.
        source: formula or publication.
        key, young, mode, part: as in ``State``.
        share: in what share of the samples it is the weakest [-].
    """

    name: str
    low_n: float
    typical_n: float
    high_n: float
    explanation: str
    source: str
    key: str = ""
    young: str = ""
    mode: str = ""
    part: str = ""
    share: float = 0.0


@dataclass(frozen=True)
class Help:
    """What one natural step of a parameter would do.

    Attributes:
        change: the step, in words.
        gain_n: change of the typical load [N].
        mass_kg: change of the design's own mass [kg].
        key: the parameter.
        value: its value after the step [SI].
    """

    change: str
    gain_n: float
    mass_kg: float
    key: str
    value: float


@dataclass(frozen=True)
class Prediction:
    """What a design is expected to hold.

    Attributes:
        limit_states: every way to fail that can happen, the governing one first.
        governing: the state that is weakest most often.
        low_n: a tenth of the samples hold less [N].
        typical_n: half of them hold less [N].
        high_n: nine tenths hold less [N].
        what_helps: single steps, the largest gain first.
        correction: what the class's calibration multiplied it with [-]; 1 without.
    """

    limit_states: tuple[LimitState, ...]
    governing: LimitState
    low_n: float
    typical_n: float
    high_n: float
    what_helps: tuple[Help, ...] = ()
    correction: float = 1.0

    @property
    def typical_kg(self) -> float:
        """The typical load as a mass [kg]."""
        return self.typical_n / GRAVITY_M_S2


def predict(states: Sequence[State]) -> Prediction:
    """Sum up limit states over their samples.

    Args:
        states: every way to fail; at least one must be possible.
    Returns:
        The prediction. States that never happen in any sample are left out.
    Errors:
        ``nothing_fails`` when no state can happen; ``not_computable`` when a state has no number.
    """
    loads = [np.maximum(np.broadcast_to(np.asarray(state.load_n, float), (_length(states),)), 0) for state in states]
    for state, load in zip(states, loads, strict=True):
        if np.isnan(load).any():
            raise GirderError("not_computable", f"“{state.name}” cannot be worked out for these values. Change them.")
    weakest = np.min(loads, axis=0)
    first = np.argmin(loads, axis=0)
    if np.isinf(weakest).all():
        raise GirderError("nothing_fails", "Nothing in this design can fail under load. Check the values.")
    summed = []
    for index, (state, load) in enumerate(zip(states, loads, strict=True)):
        if np.isinf(load).all():
            continue
        low, middle, high = _percentiles(load)
        share = float(np.mean(first == index))
        summed.append(
            LimitState(
                state.name, low, middle, high, state.explanation, state.source, state.key, state.young, state.mode,
                state.part, share,
            )
        )  # fmt: skip
    governing = max(summed, key=lambda state: (state.share, -state.typical_n))
    ladder = (
        governing,
        *sorted((state for state in summed if state is not governing), key=lambda state: state.typical_n),
    )
    low, middle, high = _percentiles(weakest)
    return Prediction(ladder, governing, low, middle, high)


def _length(states: Sequence[State]) -> int:
    return max((np.size(state.load_n) for state in states), default=1)


def _percentiles(load: Draws) -> tuple[float, float, float]:
    """10th, 50th and 90th percentile; by rank, because infinite loads cannot be interpolated."""
    ordered = np.sort(load)
    last = len(ordered) - 1
    low, middle, high = (float(ordered[min(last, math.floor(q * len(ordered)))]) for q in (LOW, 0.5, HIGH))
    return low, middle, high


def rank_helps(helps: Sequence[Help]) -> tuple[Help, ...]:
    """Single steps in the order of what they gain.

    Args:
        helps: the steps.
    Returns:
        Those that gain something, the largest first.
    """
    return tuple(sorted((change for change in helps if change.gain_n > 0), key=lambda change: -change.gain_n))


PRIOR_LOG = math.log(2)
"""How far off a model may be before anything was measured: a factor of two, as one standard deviation of the log."""
USUAL_SCATTER_LOG = 0.35
"""Scatter of hand-made designs about their own class's correction, taken while a class has fewer than four trials;
order of magnitude."""
TOGETHER = 1.2816
"""Standard normal deviate of the 90th percentile."""


@dataclass(frozen=True)
class Calibration:
    """What a class's trials say about the model.

    Attributes:
        count: how many pairs of measured and predicted.
        measured: geometric mean of measured ÷ predicted [-].
        correction: the same, shrunk towards 1 when there are few [-].
        scatter_log: standard deviation of the logarithms within the class [-].
        doubt_log: standard deviation of the next design's logarithm about the correction [-].
    """

    count: int
    measured: float
    correction: float
    scatter_log: float
    doubt_log: float

    def narrowed(self, low_n: float, typical_n: float, high_n: float) -> tuple[float, float]:
        """Low and high end of a moved range [N]: the model's or the class's own scatter, whichever is narrower."""
        own = math.exp(TOGETHER * self.doubt_log)
        return max(low_n, typical_n / own), min(high_n, typical_n * own)

    def says(self, things: str) -> str:
        """The finding in a sentence, such as "Your class's tubes held 0.6 times what the model said, over 7 trials."

        Args:
            things: what was tested, in the plural.
        Returns:
            The sentence.
        """
        trials = "1 trial" if self.count == 1 else f"{self.count} trials"
        sentence = f"Your class’s {things} held {self.measured:.2g} times what the model said, over {trials}."
        if abs(self.correction / self.measured - 1) > 0.02:
            sentence += f" From so few, only part of that is used: times {self.correction:.2g}."
        return sentence


def calibrate(pairs: Sequence[tuple[float, float]]) -> Calibration:
    """Learn from a class: how much its designs hold of what the model says.

    Args:
        pairs: measured and predicted load of each trial that broke, in one unit, both > 0. Trials that ran out are not
            failures and must be left out.
    Returns:
        The calibration; the correction is a normal-normal posterior mean of the logarithms with prior 0 ± ln 2.
    Errors:
        ``no_pairs``; ``out_of_domain`` for loads that are not positive.
    Source:
        Gelman et al., Bayesian Data Analysis, 2.5 (normal mean with known variance; from memory); scatter and prior
        are ours.
    """
    if not pairs:
        raise GirderError("no_pairs", "Calibration needs at least one trial that broke and had a prediction.")
    if any(not (math.isfinite(m) and math.isfinite(p) and m > 0 and p > 0) for m, p in pairs):
        raise refuse("pairs", "Measured and predicted loads must be more than zero.")
    logs = [math.log(m / p) for m, p in pairs]
    n = len(logs)
    mean = math.fsum(logs) / n
    scatter = USUAL_SCATTER_LOG
    if n >= 4:
        own = math.sqrt(math.fsum((log - mean) ** 2 for log in logs) / (n - 1))
        scatter = max(own, 0.1)
    weight = n / (n + scatter**2 / PRIOR_LOG**2)
    left = PRIOR_LOG * math.sqrt(1 - weight)
    return Calibration(n, math.exp(mean), math.exp(weight * mean), scatter, math.hypot(scatter, left))


def scaled(prediction: Prediction, factor: float) -> Prediction:
    """A prediction with all its loads multiplied.

    Args:
        prediction: as it was.
        factor: what every load is multiplied with [-], > 0.
    Returns:
        The same ladder at other loads.
    Errors:
        ``out_of_domain``.
    """
    positive("factor", factor, "The factor")
    states = tuple(
        replace(state, low_n=state.low_n * factor, typical_n=state.typical_n * factor, high_n=state.high_n * factor)
        for state in prediction.limit_states
    )
    return replace(
        prediction,
        limit_states=states,
        governing=states[0],
        low_n=prediction.low_n * factor,
        typical_n=prediction.typical_n * factor,
        high_n=prediction.high_n * factor,
        what_helps=tuple(replace(change, gain_n=change.gain_n * factor) for change in prediction.what_helps),
    )


def calibrated(prediction: Prediction, calibration: Calibration) -> Prediction:
    """A prediction with the class's experience in it.

    Args:
        prediction: the model's own.
        calibration: what the class's trials say.
    Returns:
        All loads times the correction; the range is the model's or the class's own, whichever is narrower.
    """
    moved = scaled(prediction, calibration.correction)
    low_n, high_n = calibration.narrowed(moved.low_n, moved.typical_n, moved.high_n)
    return replace(moved, low_n=low_n, high_n=high_n, correction=calibration.correction)


def modelled(low_n: float, typical_n: float, high_n: float, calibration: Calibration | None = None) -> LoadEstimate:
    """A kept range of the model as an expectation for the bench.

    Args:
        low_n: a tenth hold less [N].
        typical_n: half hold less [N].
        high_n: nine tenths hold less [N].
        calibration: the class's experience, where it is applied.
    Returns:
        The expectation in masses [kg], moved and narrowed as in ``calibrated``.
    """
    basis = "the model"
    if calibration is not None:
        low_n, typical_n, high_n = (calibration.correction * force_n for force_n in (low_n, typical_n, high_n))
        low_n, high_n = calibration.narrowed(low_n, typical_n, high_n)
        basis = f"the model times {calibration.correction:.2g}, as the class held"
    return LoadEstimate(low_n / GRAVITY_M_S2, typical_n / GRAVITY_M_S2, high_n / GRAVITY_M_S2, basis)
