"""The child of ``evengirder.aside``: it has limits, reads one file, and answers. Nothing of the framework is in it."""

from __future__ import annotations

import json
import os
import resource
import sys
from collections.abc import Callable

from girder_core.ground import GirderError

MEMORY_BYTES = 640 * 1024 * 1024
SECONDS = 20
TIME = "GIRDER_ASIDE_SECONDS"
REFUSED = 3
"""How it ends where the file is refused; what it wrote is then the code, the sentence and the data."""


def answer(read: Callable[[bytes], bytes], memory_bytes: int = MEMORY_BYTES) -> None:
    """The child's whole life, with so much memory."""
    resource.setrlimit(resource.RLIMIT_AS, (memory_bytes, memory_bytes))
    seconds = int(os.environ.get(TIME, SECONDS))
    resource.setrlimit(resource.RLIMIT_CPU, (seconds, seconds))
    # It writes nothing anywhere but to its parent.
    resource.setrlimit(resource.RLIMIT_FSIZE, (0, 0))
    ends = 0
    try:
        made = read(sys.stdin.buffer.read())
    except GirderError as error:
        made, ends = json.dumps([error.code, error.sentence, error.data]).encode(), REFUSED
    sys.stdout.buffer.write(made)
    sys.stdout.flush()
    sys.exit(ends)
