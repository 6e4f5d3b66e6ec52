"""Files from outside are read in a process of their own: it may use so much memory and so much time, knows neither the
database nor any secret, and is gone afterwards with whatever it held.

A few kilobytes can unfold to gigabytes or keep a reader busy for hours; here that ends a child, and a sentence says so.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
import threading
from pathlib import Path

from evengirder.aside_child import REFUSED, SECONDS, TIME
from evengirder.database import let_go
from girder_core.ground import GirderError

BACKEND = Path(__file__).resolve().parent.parent
AT_ONCE = 2
WAIT_S = 60
"""Files that are read at once in a server process, and how long one waits for its turn."""

_turns = threading.BoundedSemaphore(AT_ONCE)
_KEPT = ("PATH", "LANG", "LC_ALL", "TMPDIR", "VIRTUAL_ENV")


def read_aside(module: str, data: bytes, *words: str, too_much: GirderError, seconds: int = SECONDS) -> bytes:
    """What a module answers to a file, run as ``python -m module words`` with the file on its standard input.

    Args:
        module: its ``__main__`` calls ``evengirder.aside_child.answer``.
        data: the file.
        words: what else it has to know.
        too_much: is raised for a file that takes more memory or time than there is, or ends the process.
        seconds: of processor time; a little more may pass on the clock.

    Errors: whatever the module refuses, with its code and sentence; ``busy`` where the turn does not come.
    """
    let_go()
    if not _turns.acquire(timeout=WAIT_S):
        raise GirderError("busy", "Too many files are being read just now. Send it again in a minute.")
    try:
        done = subprocess.run(  # noqa: S603 — a module of ours, and words that are no command
            [sys.executable, "-s", "-m", module, *words],
            input=data,
            capture_output=True,
            cwd=BACKEND,
            # More threads would only take more memory.
            env={name: os.environ[name] for name in _KEPT if name in os.environ}
            | {"OPENBLAS_NUM_THREADS": "1", TIME: str(seconds)},
            timeout=4 * seconds,
            check=False,
        )
    except subprocess.TimeoutExpired:
        raise too_much from None
    finally:
        _turns.release()
    if done.returncode == REFUSED:
        code, sentence, more = json.loads(done.stdout)
        raise GirderError(code, sentence, **more)
    if done.returncode != 0:
        raise too_much
    return done.stdout
