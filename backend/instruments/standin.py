"""Stand-ins that can be opened like a real port: a pseudo-terminal at whose other end a simulated instrument talks."""

from __future__ import annotations

import contextlib
import os
import select
import threading
import time
import tty
from collections.abc import Iterator, Sequence

from girder_core.measure import Sent


@contextlib.contextmanager
def talking(
    lines: Sequence[Sent], garble: bool = False, pulled_after_s: float | None = None, tared: Sequence[Sent] = ()
) -> Iterator[str]:
    """A port on which these lines come at their times; the name of its device.

    Once it is told to tare it sends ``tared`` instead.
    With ``garble`` every byte comes with its highest bit set, as at a wrong speed; ``pulled_after_s`` unplugs it then.
    """
    ours, theirs = os.openpty()
    tty.setraw(theirs)
    device = os.ttyname(theirs)
    stop = threading.Event()

    def talk() -> None:
        began = time.monotonic()
        said = lines
        for n, usual in enumerate(lines):
            if _told_to_tare(ours):
                said = tared
            line = said[n] if n < len(said) else usual
            if stop.wait(max(0.0, line.at_s - (time.monotonic() - began))):
                return
            if pulled_after_s is not None and line.at_s >= pulled_after_s:
                break
            data = f"{line.text}\r\n".encode()
            with contextlib.suppress(OSError):
                os.write(ours, bytes(byte | 0x80 for byte in data) if garble else data)
        if pulled_after_s is not None:
            _close(ours)

    speaker = threading.Thread(target=talk, daemon=True)
    speaker.start()
    try:
        yield device
    finally:
        stop.set()
        speaker.join(2)
        _close(theirs)
        _close(ours)


def _told_to_tare(port: int) -> bool:
    with contextlib.suppress(OSError):
        return bool(select.select([port], [], [], 0)[0]) and b"T" in os.read(port, 64)
    return False


def _close(descriptor: int) -> None:
    with contextlib.suppress(OSError):
        os.close(descriptor)
