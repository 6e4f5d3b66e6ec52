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
from scipy import special

from girder_core.ground import GRAVITY_M_S2, GirderError, Number, not_negative, positive, refuse
from girder_core.kit import LoadEstimate
from girder_core.measure import plural
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


NOTHING_N = 5e-4
"""A load below this is none [N]: a twentieth of a gram."""


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

    @property
    def by_itself(self) -> bool:
        """Whether its own weight is enough to bring it about."""
        return self.high_n <= NOTHING_N


@dataclass(frozen=True)
class Help:
    """What one natural step of a parameter would do.

    Attributes:
        change: the step, in words.
        gain_n: change of the typical load [N].
        mass_kg: change of the design's own mass [kg].
        key: the parameter.
        value: its value after the step [SI].
        choice: what is chosen instead, where it is a choice.
    """

    change: str
    gain_n: float
    mass_kg: float
    key: str
    value: float
    choice: str = ""


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
USUAL_SCATTER_LOG, WORTH, AS_SURE_AS = 0.35, 1, 6
"""Scatter of hand-made designs about their own class's correction, as a standard deviation of the logarithm; how many
independent differences of a class it is worth against what the class itself shows; and as sure as from how many it is.
Order of magnitude; chosen so that for classes that scatter by 0.15 to 0.5 a range holds about eight in ten."""
TOGETHER = 1.2816
"""Standard normal deviate of the 90th percentile."""
NEARLY = 1 - 1e-9
"""So that a range without width has a lower and an upper end."""


SHARED_BY_MATERIAL, SHARED_BY_KIND = 0.5, 0.25
"""Which share of what a model is off by is the same in a teacher's other classes with the same material, and with other
materials [share of the variance of the logarithm]; order of magnitude, no source."""


@dataclass(frozen=True)
class ModelBelief:
    """What is thought of a model's error before a class's own trials are looked at.

    Attributes:
        off_log: mean of the logarithm of measured over predicted [-].
        unsure_log: standard deviation of that [-].
        classes: how many other classes it rests on.
    """

    off_log: float
    unsure_log: float
    classes: int = 0


def model_belief(errs_log: float, material: str, told: Sequence[tuple[str, float, float]] = ()) -> ModelBelief:
    """What a teacher's other classes say of a model, for a class whose own trials are still to come.

    Args:
        errs_log: how far the model may be off beforehand, standard deviation of the logarithm [-], > 0.
        material: that of the class, by key.
        told: for each other class and material the material, the mean logarithm of measured over predicted there, and
            its standard error [-].
    Returns:
        Nothing off by ``errs_log``, moved by how much each of them tells: most by the same material, less by others.
    Errors:
        ``out_of_domain``.
    Source:
        Conditional mean and variance of jointly normal values (any statistics text); partial pooling, Gelman et al.,
        Bayesian Data Analysis, chapter 5 (from memory).
    """
    positive("errs_log", errs_log, "The model's error")
    if not told:
        return ModelBelief(0.0, errs_log)
    keys = [key for key, _, _ in told]
    alike = np.array([[_shared(one, other) for other in keys] for one in keys])
    np.fill_diagonal(alike, 1.0)
    known = errs_log**2 * alike + np.diag([error**2 for _, _, error in told])
    to_own = errs_log**2 * np.array([_shared(material, key) for key in keys])
    weights = np.linalg.solve(known, to_own)
    off = float(weights @ np.array([mean for _, mean, _ in told]))
    return ModelBelief(off, math.sqrt(errs_log**2 - float(weights @ to_own)), len(told))


def _shared(one: str, other: str) -> float:
    return SHARED_BY_MATERIAL if one == other else SHARED_BY_KIND


@dataclass(frozen=True)
class Calibration:
    """What a class's trials say about the model.

    Attributes:
        count: how many pairs of measured and predicted.
        measured: geometric mean of measured ÷ predicted [-].
        correction: the same, shrunk towards 1 when there are few [-].
        scatter_log: standard deviation of the logarithms within the class [-].
        doubt_log: how far the next design's logarithm may lie from the correction, so that 1.2816 times it holds eight
            in ten [-].
        classes: how many other classes of the teacher it rests on besides.
    """

    count: int
    measured: float
    correction: float
    scatter_log: float
    doubt_log: float
    classes: int = 0

    def around(self, typical_n: float) -> tuple[float, float]:
        """Low and high end of what eight of ten next designs hold [N], about a moved typical load."""
        own = math.exp(TOGETHER * self.doubt_log)
        return typical_n / own, typical_n * own

    def says(self, things: str) -> str:
        """The finding in a sentence, such as "Your class's tubes held 0.6 times what the model said, over 7 trials."

        Args:
            things: what was tested, in the plural.
        Returns:
            The sentence.
        """
        others = f"your other {plural('class', self.classes)}"
        if self.count == 0:
            return f"In {others} {things} held {self.measured:.2g} times what the model said."
        trials = "1 trial" if self.count == 1 else f"{self.count} trials"
        sentence = f"Your class’s {things} held {self.measured:.2g} times what the model said, over {trials}."
        if abs(self.correction / self.measured - 1) > 0.02:
            used = f"With what {others} showed, it is" if self.classes else "From so few, only part of that is used:"
            sentence += f" {used} times {self.correction:.2g}."
        return sentence


def calibrate(
    pairs: Sequence[tuple[float, float]], at_least: Sequence[tuple[float, float]] = (), errs_log: float = PRIOR_LOG,
    belief: ModelBelief | None = None,
) -> Calibration:  # fmt: skip
    """Learn from a class: how much its designs hold of what the model says.

    Args:
        pairs: measured and predicted load of each trial that broke, in one unit, both > 0.
        at_least: the same of trials that ran out: what they held at least.
        errs_log: how far the model may be off beforehand, standard deviation of the logarithm [-].
        belief: what other classes say of it; nothing, unless given.
    Returns:
        The calibration. The correction is the posterior mean of the class's logarithm, with prior 0 ± ``errs_log``, or
        what is believed; without a trial of its own, that alone. The scatter is the class's own and the usual one,
        pooled.
    Errors:
        ``no_pairs`` where no other class tells anything either; ``out_of_domain`` for loads that are not positive.
    Source:
        Gelman et al., Bayesian Data Analysis, 2.5 and 2.6 (normal mean with known variance; variance with a scaled
        inverse chi-square prior, so that the next design has Student's t; from memory); scatter and prior are ours.
    """
    belief = belief or ModelBelief(0.0, errs_log)
    positive("errs_log", errs_log, "The model's error")
    if not pairs and not belief.classes:
        raise GirderError("no_pairs", "Calibration needs at least one trial that broke and had a prediction.")
    if any(not (math.isfinite(m) and math.isfinite(p) and m > 0 and p > 0) for m, p in (*pairs, *at_least)):
        raise refuse("pairs", "Measured and predicted loads must be more than zero.")
    logs = [math.log(m / p) for m, p in pairs]
    n = len(logs)
    mean = math.fsum(logs) / n if n else belief.off_log
    freedom = WORTH + max(0, n - 1)
    scatter = math.sqrt((WORTH * USUAL_SCATTER_LOG**2 + math.fsum((log - mean) ** 2 for log in logs)) / freedom)
    weight = n / (n + scatter**2 / belief.unsure_log**2)
    moved = weight * mean + (1 - weight) * belief.off_log
    left = belief.unsure_log * math.sqrt(1 - weight)
    if at_least:
        moved, left = _with_run_outs(moved, left, [math.log(m / p) for m, p in at_least], scatter)
    wider = float(special.stdtrit(n + AS_SURE_AS, 0.9)) / TOGETHER
    doubt = wider * math.hypot(scatter, left)
    return Calibration(n, math.exp(mean), math.exp(moved), scatter, doubt, belief.classes)


def told_by_class(calibration: Calibration) -> tuple[float, float]:
    """What a class tells others of the model.

    Args:
        calibration: of its own trials, at least one.
    Returns:
        Mean of the logarithm of measured over predicted, and its standard error [-].
    """
    return math.log(calibration.measured), calibration.scatter_log / math.sqrt(calibration.count)


def _with_run_outs(mean: float, off: float, least: Sequence[float], scatter: float) -> tuple[float, float]:
    """Mean and standard deviation of a normal belief once some are known to lie above what they held."""
    at = mean + off * np.linspace(-5, 8, 1301)
    weight = np.exp(-0.5 * ((at - mean) / off) ** 2)
    for log in least:
        weight *= special.ndtr((at - log) / scatter)
    weight /= weight.sum()
    middle = float((weight * at).sum())
    return middle, math.sqrt(float((weight * (at - middle) ** 2).sum()))


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


def with_model_error(prediction: Prediction, errs_log: float) -> Prediction:
    """A prediction whose ranges hold eight in ten although the model itself may be off.

    Args:
        prediction: as the model's inputs scatter.
        errs_log: how far the model is off from one class to the next, standard deviation of the logarithm [-].
    Returns:
        The same typical loads; each end of each range moved out, as independent errors add up.
    Errors:
        ``out_of_domain``.
    """
    not_negative("errs_log", errs_log, "The model's error")

    def out(end: float, typical: float) -> float:
        if not (math.isfinite(end) and end > 0 and math.isfinite(typical) and typical > 0):
            return end
        far = math.hypot(math.log(end / typical), TOGETHER * errs_log)
        return typical * math.exp(-far if end < typical else far)

    def ends(low: float, typical: float, high: float) -> tuple[float, float]:
        return out(min(low, typical * NEARLY), typical), out(max(high, typical / NEARLY), typical)

    states = []
    for state in prediction.limit_states:
        low_n, high_n = ends(state.low_n, state.typical_n, state.high_n)
        states.append(replace(state, low_n=low_n, high_n=high_n))
    low_n, high_n = ends(prediction.low_n, prediction.typical_n, prediction.high_n)
    return replace(prediction, limit_states=tuple(states), governing=states[0], low_n=low_n, high_n=high_n)


def calibrated(prediction: Prediction, calibration: Calibration) -> Prediction:
    """A prediction with the class's experience in it.

    Args:
        prediction: as the model's inputs scatter, without its own error.
        calibration: what the class's trials say.
    Returns:
        All loads times the correction; the range is what the class shows of the next design: narrower than the
        model's, or wider.
    """
    moved = scaled(prediction, calibration.correction)
    low_n, high_n = calibration.around(moved.typical_n)
    return replace(moved, low_n=low_n, high_n=high_n, correction=calibration.correction)


def modelled(low_n: float, typical_n: float, high_n: float, calibration: Calibration | None = None) -> LoadEstimate:
    """A kept range of the model as an expectation for the bench.

    Args:
        low_n: a tenth hold less [N].
        typical_n: half hold less [N].
        high_n: nine tenths hold less [N].
        calibration: the class's experience, where it is applied.
    Returns:
        The expectation in masses [kg], moved and with the class's own range as in ``calibrated``.
    """
    basis = "the model"
    if calibration is not None:
        typical_n *= calibration.correction
        low_n, high_n = calibration.around(typical_n)
        basis = f"the model times {calibration.correction:.2g}, as the class held"
    return LoadEstimate(low_n / GRAVITY_M_S2, typical_n / GRAVITY_M_S2, high_n / GRAVITY_M_S2, basis)
