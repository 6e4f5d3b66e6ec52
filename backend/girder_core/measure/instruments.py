"""What an instrument sends over a serial line, to a reading: parsed, settled, or refused in words."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass

from girder_core.ground import GRAVITY_M_S2, GirderError
from girder_core.measure import units
from girder_core.measure.units import Kind, format_value

_READING = re.compile(r"([-+−]?)\s*(\d+(?:[.,]\d+)?)\s*([A-Za-z\"″]+)")
_STEADY, _MOVING = {"st", "s", "stable"}, {"us", "u", "sd", "d", "unstable", "motion"}
_FORCES = {"n": 1 / GRAVITY_M_S2, "kn": 1000 / GRAVITY_M_S2}
"""Force gauges are read as the mass that weighs as much [kg per unit]."""

WINDOW_S = 1.0
"""A reading has settled when it stood still for this long [s] (ours)."""
STILL_STEPS = 2
"""Standing still means to move by no more than so many of the instrument's steps (ours)."""


@dataclass(frozen=True)
class Sent:
    """One line as it came: when [s], and its text."""

    at_s: float
    text: str


@dataclass(frozen=True)
class Sample:
    """A line that holds a reading: when [s], the value and the last digit's worth [SI unit of its kind].

    ``stable`` is what the instrument says of itself; None where it says nothing.
    """

    at_s: float
    value: float
    step: float
    stable: bool | None


@dataclass(frozen=True)
class Steady:
    """What came of reading an instrument.

    Attributes:
        value: mean of the last second [SI unit of its kind].
        step: the instrument's last digit [same unit].
        spread: from the least to the greatest of the last second [same unit].
        settled: whether it stood still.
        samples: lines that held a reading.
        garbled: lines that did not.
        says: in a sentence.
    """

    value: float
    step: float
    spread: float
    settled: bool
    samples: int
    garbled: int
    says: str


def parse_line(line: Sent, kind: Kind) -> Sample | None:
    """The reading in a line: its last number with a unit of this kind.

    Args:
        line: as it came.
        kind: what the instrument measures: a mass or a length.
    Returns:
        The sample; None when the line holds none.
    """
    reading = None
    for sign, digits, unit in _READING.findall(line.text):
        try:
            factor = units.si_per(unit, kind)
        except GirderError:
            if kind is not Kind.MASS or unit.lower() not in _FORCES:
                continue
            factor = _FORCES[unit.lower()]
        decimals = len(digits.replace(",", ".").partition(".")[2])
        value = float(digits.replace(",", ".")) * factor
        reading = (-value if sign in ("-", "−") else value, 10.0**-decimals * factor)
    if reading is None or not math.isfinite(reading[0]):
        return None
    words = {word.lower() for word in re.findall(r"[A-Za-z]+", line.text)}
    stable = False if words & _MOVING else True if words & _STEADY else None
    return Sample(line.at_s, reading[0], reading[1], stable)


def _step(values: Sequence[float], digit: float) -> float:
    """What the instrument counts in: its last digit, or twice or five times that, as its readings show."""
    apart = [abs(a - b) for a in values for b in values if abs(a - b) > 0.5 * digit]
    least = min(apart, default=digit)
    return max(k * digit for k in (1, 2, 5) if k * digit <= least * (1 + 1e-6) or k == 1)


def steady(lines: Sequence[Sent], kind: Kind) -> Steady:
    """Read an instrument from the lines it sent.

    Args:
        lines: in order of time.
        kind: what it measures.
    Returns:
        The mean of the last second, and whether it stood still: within two of its steps, for a whole second, and by
        its own word where it gives one.
    Errors:
        ``instrument_silent`` when nothing came, ``instrument_garbage`` when nothing made sense,
        ``instrument_negative`` when it settled clearly below zero.
    """
    if not lines:
        raise GirderError(
            "instrument_silent", "Nothing comes from it. Is it plugged in, switched on and set to send its readings?"
        )
    samples = [sample for line in lines if (sample := parse_line(line, kind)) is not None]
    garbled = len(lines) - len(samples)
    if not samples:
        raise GirderError(
            "instrument_garbage",
            f"{len(lines)} lines came from it, and none holds a {kind.value}. Is it the right instrument, and is its "
            "speed set right?",
        )
    last = samples[-1].at_s
    window = [sample for sample in samples if last - sample.at_s <= WINDOW_S]
    values = [sample.value for sample in window]
    mean, spread = math.fsum(values) / len(values), max(values) - min(values)
    step = _step(values, samples[-1].step)
    long_enough = last - samples[0].at_s >= WINDOW_S - 1e-9
    # A step is a decimal fraction, so a hair is granted to its sums.
    still = spread <= STILL_STEPS * step * (1 + 1e-9) and long_enough and samples[-1].stable is not False
    if still and mean < -step:
        raise GirderError(
            "instrument_negative",
            f"It shows {format_value(mean, kind)}, less than zero. Tare it with nothing on it, then read again.",
        )
    shown = format_value(mean, kind)
    says = f"{shown}, standing still." if still else (
        f"It has not settled: it swings by {format_value(spread, kind)} around {shown}. A draught, or a hand on the "
        "table? Wait, or take it as uncertain as that."
    )  # fmt: skip
    return Steady(mean, step, spread, still, len(samples), garbled, says)
