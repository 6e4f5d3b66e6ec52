"""Stand-ins that can be opened like a real port: a pseudo-terminal at whose other end a simulated instrument talks."""

from __future__ import annotations

import contextlib
import os
import threading
import time
import tty
from collections.abc import Iterator, Sequence

from girder_core.instruments import Sent


@contextlib.contextmanager
def talking(lines: Sequence[Sent], garble: bool = False, pulled_after_s: float | None = None) -> Iterator[str]:
    """A port on which these lines come at their times; the name of its device.

    With ``garble`` every byte comes with its highest bit set, as at a wrong speed; ``pulled_after_s`` unplugs it then.
    """
    ours, theirs = os.openpty()
    tty.setraw(theirs)
    device = os.ttyname(theirs)
    stop = threading.Event()

    def talk() -> None:
        began = time.monotonic()
        for line in lines:
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


def _close(descriptor: int) -> None:
    with contextlib.suppress(OSError):
        os.close(descriptor)
