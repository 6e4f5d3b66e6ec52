"""Force traces: what a sensor recorded while something was loaded until it broke."""

from __future__ import annotations

import csv
import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from girder_core.ground import GRAVITY_M_S2, GirderError, positive, refuse
from girder_core.measure.uncertainty import Quantity

Samples = NDArray[np.float64]


@dataclass(frozen=True)
class Trace:
    """Time and force, sample by sample: ascending times [s], forces [N]; how many rows had a gap and were left out."""

    time_s: tuple[float, ...]
    force_n: tuple[float, ...]
    gaps: int = 0


@dataclass(frozen=True)
class TraceReading:
    """What a trace says.

    Attributes:
        peak_n: largest force, noise smoothed out [N].
        peak_at_s: when [s].
        broke: whether the force dropped for good or by more than the asked share of the peak.
        drop_n: size of the first such drop [N]; 0 when it never broke.
        broke_at_s: when it began [s]; None when it never broke.
        held_n: largest force before that drop [N].
        rate_n_s: slope of the straight part [N/s].
        stiffness_n_m: the same over the speed of the test [N/m]; None when no speed is known.
        work_j: work to the break [J]; None when no speed is known.
        noise_n: standard deviation of the noise [N].
        says: in a sentence.
    """

    peak_n: float
    peak_at_s: float
    broke: bool
    drop_n: float
    broke_at_s: float | None
    held_n: float
    rate_n_s: float
    stiffness_n_m: float | None
    work_j: float | None
    noise_n: float
    says: str


def read_trace(text: str) -> Trace:
    """Read time and force from CSV text with a header.

    Args:
        text: rows with the columns ``time_s`` and ``force_n``; commas or semicolons.
    Returns:
        The trace, in order of time.
    Errors:
        ``bad_trace`` naming the line.
    """
    lines = [line for line in text.lstrip("\ufeff").splitlines() if line.strip()]
    if len(lines) < 2:
        raise GirderError("bad_trace", "The file holds no samples.", line=1)
    separator = ";" if lines[0].count(";") > lines[0].count(",") else ","
    header = [name.strip().lower() for name in next(csv.reader([lines[0]], delimiter=separator))]
    if "time_s" not in header or "force_n" not in header:
        named = ", ".join(name for name in header if name)[:80] or "nothing"
        raise GirderError(
            "bad_trace", f"The first line must name the columns time_s and force_n; it names {named}.", line=1
        )
    if len(lines) - 1 > MOST_SAMPLES:
        raise GirderError(
            "bad_trace", f"{len(lines) - 1} samples are too many; send at most {MOST_SAMPLES}, or fewer a second."
        )
    time_column, force_column = header.index("time_s"), header.index("force_n")
    pairs, gaps = [], 0
    for number, row in enumerate(csv.reader(lines[1:], delimiter=separator), 2):
        if len(row) > max(time_column, force_column) and not (row[time_column].strip() and row[force_column].strip()):
            gaps += 1
            continue
        if separator == "," and len(row) > len(header):
            raise GirderError(
                "bad_trace",
                f"Line {number} has more commas than columns. With decimal commas, part the columns by semicolons.",
                line=number,
            )
        try:
            time, force = (float(row[i].strip().replace(",", ".")) for i in (time_column, force_column))
        except (ValueError, IndexError):
            raise GirderError("bad_trace", f"Line {number} holds no time and force.", line=number) from None
        if not (math.isfinite(time) and math.isfinite(force)):
            raise GirderError("bad_trace", f"Line {number} holds no time and force.", line=number)
        pairs.append((time, force))
    if gaps > len(pairs):
        raise GirderError("bad_trace", f"More than half of the rows have a gap ({gaps}); that is no trace.")
    pairs.sort()
    return Trace(tuple(t for t, _ in pairs), tuple(f for _, f in pairs), gaps)


MOST_SAMPLES = 2_000_000
IDLE_SHARE = 0.05
"""Below this share of its rise a force counts as not yet touching [-]; ours."""
FINE = 2000
"""The slope is looked for in no more points than this; longer traces are averaged to them first (ours)."""


def _averaged(values: Samples, to: int) -> Samples:
    """The means of equal stretches, at most ``to`` of them."""
    each = math.ceil(values.size / to)
    whole = values.size // each * each
    return values[:whole].reshape(-1, each).mean(axis=1) if each > 1 else values


def analyse_trace(
    time_s: Sequence[float] | Samples,
    force_n: Sequence[float] | Samples,
    drop_share: float = 0.2,
    speed_m_s: float | None = None,
) -> TraceReading:
    """Read peak, break, stiffness and work from a force trace.

    Args:
        time_s: ascending times [s], at least ten.
        force_n: forces at these times [N].
        drop_share: a drop of more than this share of the force reached so far counts as breaking [-], 0 to 1.
        speed_m_s: speed at which the structure was pushed [m/s]; without it there is no stiffness and no work.
    Returns:
        The reading. Single stray samples are taken out by a running median of five; a drop counts when the force stays
        down for three samples.
    Errors:
        ``bad_trace``; ``out_of_domain``.
    Source:
        Ours; the straight part is the steepest line fitted to two fifths of the samples from where the force leaves the
        twentieth part of its rise to the break.
    """
    times, forces = np.asarray(time_s, float), np.asarray(force_n, float)
    if times.size != forces.size or times.size < 10:
        raise GirderError("bad_trace", "A trace needs at least ten samples of time and force.")
    if not (np.isfinite(times).all() and np.isfinite(forces).all()) or np.any(np.diff(times) < 0):
        raise GirderError("bad_trace", "Times must go forward, and every sample must be a number.")
    if not 0 < drop_share < 1:
        raise refuse("drop_share", "The drop that counts as breaking is a share between 0 and 1.")
    if speed_m_s is not None:
        positive("speed_m_s", speed_m_s, "The speed")
    padded = np.pad(forces, 2, mode="edge")
    smooth = np.median(np.lib.stride_tricks.sliding_window_view(padded, 5), axis=1)
    # Second differences leave a steady rise out; the median of their size is 0.6745 √6 σ for normal noise.
    noise = float(np.median(np.abs(np.diff(forces, 2))) / 1.6521)
    reached = np.maximum.accumulate(smooth)
    if reached[-1] <= 3 * noise or reached[-1] <= 0:
        raise GirderError("bad_trace", "The trace shows no load above its noise.")
    gone = (reached - smooth > np.maximum(drop_share * reached, 4 * noise)) & (reached > 0.05 * reached[-1])
    stays = gone[:-2] & gone[1:-1] & gone[2:]
    broke = bool(stays.any())
    down = int(np.argmax(stays)) if broke else forces.size - 1
    top = int(np.argmax(smooth[: down + 1]))
    last = top if broke else forces.size - 1
    # Before it touched, nothing rose: the slope is looked for after the force last left where it began.
    began = float(np.median(smooth[:5]))
    idle = np.flatnonzero(smooth[: last + 1] <= began + IDLE_SHARE * (smooth[top] - began))
    first = min(int(idle[-1]) if idle.size else 0, max(0, last - 4))
    rising_t, rising_f = _averaged(times[first : last + 1], FINE), _averaged(smooth[first : last + 1], FINE)
    part = max(min(5, rising_t.size), 2 * rising_t.size // 5)
    rate = 0.0
    for start in range(0, max(1, rising_t.size + 1 - part)):
        window = slice(start, start + part)
        if window.stop <= rising_t.size and rising_t[window][-1] > rising_t[window][0]:
            rate = max(rate, float(np.polyfit(rising_t[window] - rising_t[start], rising_f[window], 1)[0]))
    held = float(smooth[top])
    work = None
    if speed_m_s is not None:
        work = float(np.trapezoid(np.maximum(smooth[: last + 1], 0), times[: last + 1]) * speed_m_s)
    drop = float(smooth[top] - smooth[down : down + 3].min()) if broke else 0.0
    says = (
        f"It held {held:.3g} N and broke at {times[top]:.3g} s."
        if broke
        else f"It never broke: the largest force was {held:.3g} N. Its strength is at least that."
    )
    return TraceReading(
        float(smooth.max()), float(times[int(np.argmax(smooth))]), broke, drop, float(times[top]) if broke else None,
        held, rate, rate / speed_m_s if speed_m_s else None, work, noise, says,
    )  # fmt: skip


CELL_SHARE = 0.001
"""A load cell is not better than this share of what it shows (ours; common practice, no source)."""


def load_of(reading: TraceReading) -> Quantity:
    """The load that a trace says was held, as a mass on the structure.

    Args:
        reading: of the trace.
    Returns:
        The mass that weighs as much as the greatest force before the break [kg], under standard gravity; its standard
        uncertainty is the noise of the trace, or a thousandth of the load where the trace is quieter than that.
    """
    held_kg = reading.held_n / GRAVITY_M_S2
    return Quantity(held_kg, max(reading.noise_n / GRAVITY_M_S2, CELL_SHARE * held_kg))
