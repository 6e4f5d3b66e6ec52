"""Simulated instruments that ship with the application, to practise with and to test against.

They send the same lines a real one would. Everything follows from a seed.
"""

from __future__ import annotations

import math

import numpy as np

from girder_core.ground import not_negative, positive
from girder_core.measure import Sent, Trace

RATE_HZ = 10.0
"""Lines a second."""


def scale_lines(
    lies_on_it_kg: float, seconds: float, seed: int, step_kg: float = 0.0001, draught_kg: float = 0.0
) -> tuple[Sent, ...]:
    """What a scale sends after something was put on it: it swings, settles, drifts, and never stands quite still.

    Args:
        lies_on_it_kg: what lies on it [kg]; below zero when something was taken off after taring.
        seconds: how long it is listened to [s].
        seed: the same seed, the same lines.
        step_kg: its last digit [kg].
        draught_kg: how far a draught moves it to and fro [kg]; with much of it, it never settles.
    Returns:
        The lines, ten a second, marked ST when it calls itself stable and US when not.
    Errors:
        ``out_of_domain``.
    """
    positive("step_kg", step_kg, "The scale's step")
    return _settling(1000 * lies_on_it_kg, 1000 * step_kg, "g", seconds, seed, 1000 * draught_kg)


def force_lines(force_n: float, seconds: float, seed: int) -> tuple[Sent, ...]:
    """What a force gauge sends that something pulls on steadily.

    Args:
        force_n: the pull [N].
        seconds: how long it is listened to [s].
        seed: the same seed, the same lines.
    Returns:
        The lines, ten a second, to a hundredth of a newton.
    Errors:
        ``out_of_domain``.
    """
    not_negative("force_n", force_n, "The pull")
    return _settling(force_n, 0.01, "N", seconds, seed, 0.0)


def distance_lines(distance_m: float, seconds: float, seed: int) -> tuple[Sent, ...]:
    """What a distance gauge sends that points at something.

    Args:
        distance_m: how far away it is [m].
        seconds: how long it is listened to [s].
        seed: the same seed, the same lines.
    Returns:
        The lines, ten a second, to half a millimetre.
    Errors:
        ``out_of_domain``.
    """
    not_negative("distance_m", distance_m, "The distance")
    return _settling(1000 * distance_m, 0.5, "mm", seconds, seed, 0.0)


def _settling(value: float, step: float, unit: str, seconds: float, seed: int, draught: float) -> tuple[Sent, ...]:
    """Lines of an instrument that swings into its reading; all in its own unit."""
    positive("seconds", seconds, "The time")
    dice = np.random.default_rng(seed)
    phase = float(dice.uniform(0, 2 * math.pi))
    lines, before = [], math.inf
    decimals = max(0, math.ceil(-math.log10(step) - 1e-9))
    for n in range(1, math.floor(seconds * RATE_HZ) + 1):
        t = n / RATE_HZ
        swing = value * math.exp(-t / 0.2) * math.cos(2 * math.pi * 1.8 * t)
        drift = 0.05 * step * t
        moved = draught * math.sin(2 * math.pi * 0.7 * t + phase) + 0.15 * step * float(dice.standard_normal())
        shown = round((value - swing + drift + moved) / step) * step
        stable = abs(shown - before) <= 1.5 * step
        before = shown
        lines.append(Sent(t, f"{'ST' if stable else 'US'} {shown:+.{decimals}f} {unit}"))
    return tuple(lines)


def hopper_trace(breaks_at_n: float, rate_n_s: float, seed: int, rate_hz: float = 50.0) -> Trace:
    """What a force gauge logs under a sand hopper: a steady rise, a break, and what is left.

    Args:
        breaks_at_n: force at which the structure gives way [N].
        rate_n_s: how fast sand runs in [N/s].
        seed: the same seed, the same trace.
        rate_hz: samples a second [Hz].
    Returns:
        The trace, with a hundredth of the break as noise.
    Errors:
        ``out_of_domain``.
    """
    positive("breaks_at_n", breaks_at_n, "The force at which it breaks")
    positive("rate_n_s", rate_n_s, "The rate")
    positive("rate_hz", rate_hz, "The samples a second")
    dice = np.random.default_rng(seed)
    breaks_s = breaks_at_n / rate_n_s
    times = np.arange(0.0, 1.25 * breaks_s + 1.0, 1 / rate_hz)
    clean = np.where(times < breaks_s, rate_n_s * times, 0.3 * breaks_at_n)
    noisy = clean + 0.01 * breaks_at_n * dice.standard_normal(times.size)
    return Trace(tuple(times.tolist()), tuple(noisy.tolist()))


def table_lines(
    stroke_m: float, frequency_hz: float, seconds: float, seed: int, slip: float = 0.0, rate_hz: float = 50.0
) -> tuple[Sent, ...]:
    """What the accelerometer of a shaking table sends: it runs up within half a second, then to and fro.

    Args:
        stroke_m: travel from end to end [m].
        frequency_hz: what it is set to [Hz].
        seconds: how long it is listened to [s].
        seed: the same seed, the same lines.
        slip: the share by which its drive lags behind [-].
        rate_hz: samples a second [Hz].
    Returns:
        The lines, each with its time and the acceleration; a fiftieth of the peak is noise.
    Errors:
        ``out_of_domain``.
    """
    positive("stroke_m", stroke_m, "The stroke")
    positive("frequency_hz", frequency_hz, "The frequency")
    positive("seconds", seconds, "The time")
    dice = np.random.default_rng(seed)
    turning = 2 * math.pi * frequency_hz * (1 - slip)
    peak = stroke_m / 2 * turning**2
    phase = float(dice.uniform(0, 2 * math.pi))
    times = np.arange(1, math.floor(seconds * rate_hz) + 1) / rate_hz
    run_up = np.minimum(1.0, times / 0.5)
    seen = run_up * peak * np.sin(turning * times + phase) + 0.02 * peak * dice.standard_normal(times.size)
    return tuple(Sent(float(t), f"{t:.3f} s {a:+.3f} m/s2") for t, a in zip(times, seen, strict=True))
