"""Reading an instrument once, and reading a force log. Nothing is kept; whoever asked decides what to do with it."""

from __future__ import annotations

import random
from collections.abc import Callable, Sequence

from django.conf import settings

from girder_core.ground import GRAVITY_M_S2, GirderError
from girder_core.measure import Kind, Sent, Steady, TraceReading, analyse_trace, read_trace, steady, units
from girder_core.physics import Agreement, Shaking, read_shaking, shaking_agrees
from girder_core.trial import distance_lines, force_lines, hopper_trace, scale_lines, table_lines
from instruments.adapter import LISTEN_S, TARE, Instrument, listen, plugged_in
from instruments.standin import talking

STAND_INS = {
    "stand-in:scale": Instrument("stand-in:scale", "Practice scale (simulated)", (Kind.MASS,), True),
    "stand-in:draught": Instrument("stand-in:draught", "Practice scale in a draught", (Kind.MASS,), True),
    "stand-in:force": Instrument("stand-in:force", "Practice force gauge", (Kind.MASS,), True),
    "stand-in:distance": Instrument("stand-in:distance", "Practice distance gauge", (Kind.LENGTH,), True),
    "stand-in:loose": Instrument("stand-in:loose", "Practice scale, plug loose", (Kind.MASS,), True),
    "stand-in:table": Instrument("stand-in:table", "Practice shaking table", (Kind.FREQUENCY,), True),
    "stand-in:slipping": Instrument("stand-in:slipping", "Practice table, drive slips", (Kind.FREQUENCY,), True),
}


def instruments() -> list[Instrument]:
    """What can be read here: what is plugged into the server's machine, if it may be asked, and the stand-ins."""
    return [*(plugged_in() if settings.SERIAL_PORTS else []), *STAND_INS.values()]


def _instrument(address: str, kind: Kind) -> Instrument:
    device = next((instrument for instrument in instruments() if instrument.address == address), None)
    if device is None or kind not in device.kinds:
        raise GirderError("unknown_instrument", "There is no such instrument here.")
    return device


def read_instrument(address: str, kind: Kind, lies_on_it: str, tared_with: str = "", tare: bool = False) -> Steady:
    """Listen to an instrument for some seconds and say what it shows; with ``tare`` it is set to nothing first.

    What lies on a simulated one is told, and what lay on it when it was tared: nobody else remembers that.
    Errors: ``unknown_instrument``; those of ``adapter.listen`` and of the core.
    """
    if kind is Kind.FREQUENCY:
        raise GirderError("unknown_instrument", "How a table shakes is read at the bench, against its level.")
    instrument, command = _instrument(address, kind), TARE if tare else b""
    if not instrument.simulated:
        return steady(listen(instrument.address, command=command), kind)
    shown, vessel = (units.parse(text, kind).si if text.strip() else 0.0 for text in (lies_on_it, tared_with))
    if not (0 <= shown <= 100 and 0 <= vessel <= 100):
        raise GirderError("bad_load", "Show the practice instrument something between zero and 100 kg, or 100 m.")
    pulled, lines = (0.8 if address == "stand-in:loose" else None), _STAND_IN_LINES[address]
    with talking(lines(shown - vessel, _dice()), pulled_after_s=pulled, tared=lines(0.0, _dice())) as device:
        return steady(listen(device, command=command), kind)


def read_table(address: str, frequency_hz: float, stroke_m: float) -> tuple[Shaking, Agreement]:
    """How a shaking table shakes, and whether that is the level that was agreed.

    Errors: ``unknown_instrument``; those of ``adapter.listen`` and of the core.
    """
    instrument, seconds = _instrument(address, Kind.FREQUENCY), max(LISTEN_S, 1 + 3 / frequency_hz)
    if instrument.simulated:
        slip = 0.15 if address == "stand-in:slipping" else 0.0
        with talking(table_lines(stroke_m, frequency_hz, seconds + 1, _dice(), slip)) as device:
            lines = listen(device, seconds)
    else:
        lines = listen(instrument.address, seconds)
    shaking = read_shaking(lines)
    return shaking, shaking_agrees(shaking, frequency_hz, stroke_m)


_STAND_IN_LINES: dict[str, Callable[[float, int], Sequence[Sent]]] = {
    "stand-in:scale": lambda kg, seed: scale_lines(kg, LISTEN_S + 1, seed),
    "stand-in:draught": lambda kg, seed: scale_lines(kg, LISTEN_S + 1, seed, draught_kg=0.003 + 0.02 * kg),
    "stand-in:loose": lambda kg, seed: scale_lines(kg, LISTEN_S + 1, seed),
    "stand-in:force": lambda kg, seed: force_lines(kg * GRAVITY_M_S2, LISTEN_S + 1, seed),
    "stand-in:distance": lambda m, seed: distance_lines(m, LISTEN_S + 1, seed),
}


def _dice() -> int:
    # For a simulation; nothing that has to be kept secret.
    return random.randrange(2**31)  # noqa: S311


def practice_log() -> str:
    """A force log as a sand hopper would leave it, in the columns that are read."""
    trace = hopper_trace(random.uniform(6, 18), 1.5, _dice())  # noqa: S311
    rows = (f"{t:.3f},{f:.4f}" for t, f in zip(trace.time_s, trace.force_n, strict=True))
    return "time_s,force_n\n" + "\n".join(rows) + "\n"


def judge_lines(kind: Kind, lines: list[Sent]) -> Steady:
    """Lines that a browser read from its own port, judged by the same rules."""
    return steady(lines, kind)


def read_force_log(text: str, speed_m_s: float | None) -> tuple[TraceReading, int]:
    """What a force-time CSV says, and how many of its rows had a gap."""
    trace = read_trace(text)
    return analyse_trace(trace.time_s, trace.force_n, speed_m_s=speed_m_s), trace.gaps
