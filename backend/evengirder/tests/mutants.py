"""Files that were changed by somebody who means no good, or by a disk: anything anywhere, from a seed."""

from __future__ import annotations

import copy
import os
from collections.abc import Iterator
from random import Random
from typing import Any

HOSTILE: tuple[Any, ...] = (
    None, True, False, 0, -1, 1, 2, 0.5, -0.0, 1e-300, 1e15, -1e15, 10**9, 2**31, 2**63, 10**400, "", " ", "x" * 5000,
    "\x00", "\ud800", "=1+1", "<b>", "NaN", "1e999", "-5", "9999-12-31", "0001-01-01T00:00:00Z", "2026-02-30", "inf",
    "💥", "\u202e", "\x1b[2J", "\r\n", [], {}, [[]], [None], {"": {}}, ["x"] * 500, float("nan"), float("inf"),
    "00000000-0000-0000-0000-000000000000", "../../etc/passwd",
)  # fmt: skip
SPLINTERS = (b"\x00", b"-", b'"', b",,", b"\xff", b"9" * 400, b"\n", b"e9", b"\xed\xa0\x80")
TRIES = int(os.environ.get("GIRDER_TRIES", "0"))
"""How many of each kind a drill asks for; the suite takes a few."""

BESIDE = int(os.environ.get("GIRDER_BESIDE", "0"))
"""How many changed twins of each request of the tests a drill sends before the request itself."""


def tries(few: int) -> range:
    return range(TRIES or few)


def changed(value: Any, seed: int) -> Any:
    """The value with one to three places in it changed."""
    chance = Random(seed)
    changed = [copy.deepcopy(value)]
    for _ in range(chance.choice((1, 1, 1, 2, 3))):
        _change(*chance.choice(list(_places(changed))), chance)
        if not changed:
            changed.append(None)
    return changed[0]


def _places(value: Any) -> Iterator[tuple[Any, Any]]:
    inner = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    for key, held in list(inner):
        yield value, key
        yield from _places(held)


def _change(within: Any, key: Any, chance: Random) -> None:
    way, old = chance.random(), within[key]
    if way < 0.5:
        within[key] = copy.deepcopy(chance.choice(HOSTILE))
    elif way < 0.6 and type(old) in (int, float) and abs(old) < 1e300:
        within[key] = chance.choice((old * 1e6, -old, old / 1e6, old + 1, 0))
    elif way < 0.7:
        # Something of another kind from the same file, or a neighbour.
        within[key] = copy.deepcopy(chance.choice(list(within.values()) if isinstance(within, dict) else within))
    elif way < 0.8 and isinstance(within, list):
        within.insert(key, copy.deepcopy(old))
    elif way < 0.9:
        del within[key]
    elif isinstance(within, dict):
        within[str(chance.choice(("", "pk", "id", "removed_at", "x")))] = old
    else:
        within.reverse()


def damaged(data: bytes, seed: int) -> bytes:
    """The bytes with some of them lost, doubled, turned over or replaced."""
    chance, at = Random(seed), bytearray(data)
    for _ in range(chance.choice((1, 1, 2, 5, 40))):
        place = chance.randrange(len(at) + 1)
        way = chance.random()
        if way < 0.3 and place < len(at):
            at[place] = chance.randrange(256)
        elif way < 0.5:
            del at[place : place + chance.choice((1, 5, 400))]
        elif way < 0.7:
            at[place:place] = at[place : place + chance.choice((1, 30))]
        elif way < 0.9:
            at[place:place] = chance.choice(SPLINTERS)
        else:
            del at[place:]
    return bytes(at)
