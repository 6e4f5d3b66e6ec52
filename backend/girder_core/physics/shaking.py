"""What an accelerometer on a shaking base says: how fast it really shakes, how far, and whether that was agreed."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from girder_core.ground import GRAVITY_M_S2, GirderError, positive
from girder_core.measure import Sent

_ACCELERATION = re.compile(r"([-+−]?)\s*(\d+(?:[.,]\d+)?)\s*(m/s2|m/s²|m/s\^2|g\b)", re.IGNORECASE)
_TIME = re.compile(r"(\d+(?:[.,]\d+)?)\s*s\b")

LEAST_SAMPLES = 24
"""Fewer lines tell no frequency (ours)."""
LEAST_PERIODS = 2.0
"""It has to go there and back so often while it is listened to (ours)."""
RUN_UP_S = 0.6
"""What comes so early is left out: a table that was just started runs up (ours) [s]."""
EVEN = 0.8
"""Shaking is even when a single frequency explains this share of what the sensor saw (ours) [-]."""
AGREED = 0.05
"""Frequency and stroke are as agreed within this share (ours) [-]."""


@dataclass(frozen=True)
class Shaking:
    """How a base shakes.

    Attributes:
        frequency_hz: how often it goes there and back [Hz].
        acceleration_m_s2: peak acceleration [m/s²].
        stroke_m: travel from end to end [m].
        even: share of what the sensor saw that this one frequency explains [-].
        samples: lines that held an acceleration and came after the running up.
        garbled: lines that did not.
    """

    frequency_hz: float
    acceleration_m_s2: float
    stroke_m: float
    even: float
    samples: int
    garbled: int


@dataclass(frozen=True)
class Agreement:
    """Whether a base shakes as was agreed, and in a sentence."""

    as_agreed: bool
    says: str


def _number(text: str) -> float:
    return float(text.replace(",", "."))


def _sample(line: Sent) -> tuple[float, float] | None:
    """Time [s] and acceleration [m/s²] of a line; by its own clock when it tells one, else by when it came."""
    match = _ACCELERATION.search(line.text)
    if match is None:
        return None
    value = _number(match[2]) * (GRAVITY_M_S2 if match[3].lower() == "g" else 1.0)
    stamp = _TIME.search(line.text[: match.start()])
    return (_number(stamp[1]) if stamp else line.at_s, -value if match[1] in ("-", "−") else value)


def _sines(times: NDArray[np.float64], frequency_hz: float) -> NDArray[np.float64]:
    angle = 2 * math.pi * frequency_hz * times
    return np.column_stack([np.cos(angle), np.sin(angle), np.ones_like(times)])


def _left_over(times: NDArray[np.float64], seen: NDArray[np.float64], frequency_hz: float) -> float:
    columns = _sines(times, frequency_hz)
    fitted = columns @ np.linalg.lstsq(columns, seen, rcond=None)[0]
    return float(((seen - fitted) ** 2).sum())


def fit_sine(times_s: Sequence[float], seen: Sequence[float]) -> tuple[float, float, float]:
    """The sine that fits best, of unknown frequency, amplitude, phase and offset.

    Args:
        times_s: when each sample was taken, rising [s].
        seen: the samples, in any unit.
    Returns:
        Frequency [Hz], amplitude (unit of the samples), and the share of the scatter that it explains [-].
    Errors:
        ``shaking_too_short`` below 24 samples or two whole periods; ``shaking_nothing`` when the samples are all alike.
    Source:
        Four-parameter least-squares sine fit, IEEE Std 1057: a search over frequencies, then Newton steps.
    """
    times, values = np.asarray(times_s, float), np.asarray(seen, float)
    if times.size < LEAST_SAMPLES or not times[-1] > times[0]:
        raise GirderError("shaking_too_short", "Too few readings came to tell how it shakes. Let it run, then read.")
    times = times - times[0]
    scatter = float(((values - values.mean()) ** 2).sum())
    if not scatter > 1e-12 * max(1.0, float((values**2).sum())):
        raise GirderError("shaking_nothing", "It stands still. Start the table, then read.")
    length = float(times[-1])
    fastest = 0.5 * (times.size - 1) / length
    tried = np.arange(0.5 / length, fastest, 0.2 / length)
    frequency = float(min(tried, key=lambda shift: _left_over(times, values, float(shift))))
    for _ in range(12):
        columns = _sines(times, frequency)
        cosine, sine, _offset = np.linalg.lstsq(columns, values, rcond=None)[0]
        slope = 2 * math.pi * times * (-cosine * columns[:, 1] + sine * columns[:, 0])
        step = float(np.linalg.lstsq(np.column_stack([columns, slope]), values, rcond=None)[0][3])
        frequency = min(max(frequency + step, 0.25 / length), fastest)
        if abs(step) < 1e-9 * frequency:
            break
    columns = _sines(times, frequency)
    cosine, sine, _offset = np.linalg.lstsq(columns, values, rcond=None)[0]
    if frequency * length < LEAST_PERIODS:
        raise GirderError("shaking_too_short", "It did not go there and back twice. Let it run longer, then read.")
    return frequency, math.hypot(cosine, sine), 1 - _left_over(times, values, frequency) / scatter


def read_shaking(lines: Sequence[Sent]) -> Shaking:
    """Read the accelerometer of a shaking base.

    Args:
        lines: as they came, each with an acceleration in m/s² or g, and a time in s before it if the sensor tells one.
    Returns:
        Frequency, peak acceleration and stroke of the motion.
    Errors:
        ``instrument_silent``, ``instrument_garbage``, and those of ``fit_sine``.
    Source:
        Harmonic motion: half the stroke is the peak acceleration over (2 π f)².
    """
    if not lines:
        raise GirderError(
            "instrument_silent", "Nothing comes from it. Is it plugged in, switched on and set to send its readings?"
        )
    samples = [sample for line in lines if (sample := _sample(line)) is not None]
    if not samples:
        raise GirderError("instrument_garbage", f"{len(lines)} lines came from it, and none holds an acceleration.")
    garbled = len(lines) - len(samples)
    samples.sort(key=lambda sample: sample[0])
    samples = [sample for sample in samples if sample[0] >= samples[0][0] + RUN_UP_S]
    frequency, peak, even = fit_sine([t for t, _ in samples], [a for _, a in samples])
    stroke = 2 * peak / (2 * math.pi * frequency) ** 2
    return Shaking(frequency, peak, stroke, even, len(samples), garbled)


def shaking_agrees(shaking: Shaking, frequency_hz: float, stroke_m: float) -> Agreement:
    """Whether a base shakes as was agreed for this level.

    Args:
        shaking: how it shakes.
        frequency_hz: what was agreed [Hz].
        stroke_m: what was agreed, from end to end [m].
    Returns:
        Yes within 5 % of both and when it shakes evenly; and a sentence.
    Errors:
        ``out_of_domain``.
    """
    positive("frequency_hz", frequency_hz, "The agreed frequency")
    positive("stroke_m", stroke_m, "The agreed stroke")
    shown = f"{shaking.frequency_hz:.2f} Hz and {1000 * shaking.stroke_m:.0f} mm from end to end"
    if shaking.even < EVEN:
        return Agreement(False, f"It shakes unevenly, around {shown}. Does the drive slip, or does something knock?")
    off = [
        f"{name} is {abs(share):.0%} too {'high' if share > 0 else 'low'}"
        for name, share in (
            ("the frequency", shaking.frequency_hz / frequency_hz - 1),
            ("the stroke", shaking.stroke_m / stroke_m - 1),
        )
        if abs(share) > AGREED
    ]
    if off:
        return Agreement(False, f"It shakes at {shown}: {' and '.join(off)}. Set it right before the tower goes on.")
    return Agreement(True, f"It shakes at {shown}, as agreed.")
