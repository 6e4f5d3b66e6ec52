"""Readers for the tests of ``evengirder.aside``: one takes all memory, one all time, one tells what it knows, and one
refuses."""

from __future__ import annotations

import json
import os
import sys
import tempfile

from evengirder.aside_child import answer
from girder_core.ground import GirderError


def refuse(data: bytes) -> bytes:
    raise GirderError("bad", data.decode(), fields={"file": "bad"})


def turn_for_ever(data: bytes) -> bytes:
    while True:
        data = data[::-1]


def write(data: bytes) -> bytes:
    with tempfile.TemporaryFile() as file:
        file.write(data)
    return b"written"


DOES = {
    "memory": lambda data: data * 10**9,
    "time": turn_for_ever,
    "environment": lambda _: json.dumps(dict(os.environ)).encode(),
    "refuse": refuse,
    "write": write,
}

if __name__ == "__main__":
    answer(DOES[sys.argv[1]])
