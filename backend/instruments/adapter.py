"""The one way in which lines come from an instrument: pyserial on a port, whether a real one or a stand-in's."""

from __future__ import annotations

import time
from dataclasses import dataclass

import serial
from serial.tools import list_ports

from evengirder.database import let_go
from girder_core.ground import GirderError
from girder_core.measure import Kind, Sent

BAUD = 9600
LISTEN_S = 3.0
LONGEST_LINE = 200


@dataclass(frozen=True)
class Instrument:
    """Something that can be read: its address, what people call it, what it measures, whether it is simulated."""

    address: str
    name: str
    kinds: tuple[Kind, ...]
    simulated: bool


def plugged_in() -> list[Instrument]:
    """The serial ports of the machine that the server runs on."""
    return [
        Instrument(port.device, port.description or port.device, (Kind.MASS, Kind.LENGTH, Kind.FREQUENCY), False)
        for port in sorted(list_ports.comports())
        if port.vid is not None
    ]


TARE = b"T\r\n"
"""What sets a scale to nothing."""


def listen(device: str, seconds: float = LISTEN_S, baud: int = BAUD, command: bytes = b"") -> list[Sent]:
    """The lines that come from a port; the first, which may have begun before, is left out when others follow.

    A ``command`` is sent first.
    Errors: ``instrument_unplugged`` when the port is not there, or goes away meanwhile.
    """
    lines: list[Sent] = []
    # Others have use for the database's connection meanwhile.
    let_go()
    try:
        with serial.Serial(device, baud, timeout=0.2) as port:
            port.write(command)
            began = time.monotonic()
            held = b""
            while (now := time.monotonic() - began) < seconds:
                held += port.read(max(1, min(port.in_waiting, LONGEST_LINE)))
                *whole, held = held.replace(b"\r", b"\n").split(b"\n")
                held = held[-LONGEST_LINE:]
                lines += [Sent(now, text) for line in whole if (text := line.decode("ascii", "replace").strip())]
    except (serial.SerialException, OSError):
        raise GirderError(
            "instrument_unplugged", "It is not there any more. Plug it in again, or type what it shows."
        ) from None
    return lines[1:] if len(lines) > 1 else lines
