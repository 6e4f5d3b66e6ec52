"""Ledgers that nobody would write on purpose: any entries of any family, as far as the rules let them in."""

from __future__ import annotations

import math
from collections.abc import Sequence
from random import Random
from typing import Any

from girder_core.families import Family
from girder_core.ground import GirderError
from girder_core.kit import PLATFORM, Kit, LoadItem
from girder_core.measure import Quantity
from girder_core.trial import Event, EventKind, OpenLedger, TrialSetup

NUMBERS: tuple[Any, ...] = (0, -0.0, 1, 2, 3, 25, 24, 7.5, -3, 10**400, math.nan, math.inf, True, None, "4", [], {})
TEXTS = ("203 mm", "25", "24", "0 mm", "-0 mm", "1 m", "12 kg", "0.1 g", "1 kg", "5 N", "10^400 g", "", "ten", "1/0 mm")


def small_kit(draws: Random) -> Kit:
    """A few objects of any kind: all alike, numbered, with a platform or without."""
    items = [
        LoadItem("nut", Quantity(0.016, draws.choice((0.0, 0.001))), draws.randint(1, 30), key="nut"),
        LoadItem("bag", Quantity(0.3, 0.005), draws.randint(1, 3), roll_of=20, key="bag"),
    ]
    if draws.random() < 0.5:
        items.insert(0, LoadItem("tray", Quantity(0.04), 1, key=PLATFORM, shape="platform"))
    return Kit(tuple(items))


def any_event(
    family: Family, rules: TrialSetup, so_far: Sequence[Event], draws: Random
) -> tuple[EventKind, dict[str, Any]]:
    """An entry of any kind; mostly one that makes sense, at times with anything at all in it."""
    modes = [
        mode.key
        for mode in (*family.failure_modes, *family.loading_errors, *family.run_out_reasons, *family.observations)
    ]
    keys = [item.key for item in rules.kit.items] or ["nut"]
    likely: dict[EventKind, dict[str, Any]] = {
        EventKind.PLACE: {"item": draws.choice(keys), "count": draws.randint(1, 6), "seat": draws.choice(("mc", "fp"))},
        EventKind.REMOVE: {"item": draws.choice(keys), "count": draws.randint(1, 3)},
        EventKind.SETTLE: {"waited_s": rules.hold_s + 400},
        EventKind.OBSERVE: {"sign": draws.choice(modes)},
        EventKind.MEASURE: {
            "key": draws.choice([*rules.measures, "sag"]), "text": draws.choice(TEXTS), "zero": "",
            "resolution": draws.choice(("1 mm", "1")), "confirmed": True,
        },
        EventKind.FAIL: {"mode": draws.choice(modes), "after_s": draws.choice((1.5, 0))},
        EventKind.RUN_OUT: {"reason": draws.choice(modes), "confirmed": True},
        EventKind.VOID: {"reason": draws.choice(modes)},
        EventKind.LOAD_READING: {
            "mass": draws.choice(TEXTS), "resolution": "1 g", "held": draws.random() < 0.5, "source": "typed",
        },
        EventKind.PILE_READING: {
            "mass": draws.choice(TEXTS), "resolution": "1 g", "covers": draws.choice(("all", "held")),
        },
        EventKind.ROUND: {"hit": draws.random() < 0.5, **({"height": "2 m"} if draws.random() < 0.1 else {})},
        EventKind.FINISH: {},
        EventKind.UNDO: {"event": so_far[-1].id if so_far else ""},
        EventKind.CORRECT: {
            "event": draws.choice(so_far).id if so_far else "",
            **draws.choice(({"gone": True}, {"count": draws.randint(1, 6)}, {"mode": draws.choice(modes)})),
        },
        EventKind.NOTE: {"text": "The left support had moved."},
        EventKind.MOVE: {"from": "Tern", "to": "Auk"},
    }  # fmt: skip
    common = [EventKind.PLACE, EventKind.SETTLE, EventKind.ROUND, EventKind.MEASURE]
    kind = draws.choice([*common, *common, *EventKind])
    data = dict(likely[kind])
    if not so_far and any(item.key == PLATFORM for item in rules.kit.items) and rules.rounds is None:
        kind, data = EventKind.PLACE, {"item": PLATFORM, "count": 1}
    if data and draws.random() < 0.15:
        data[draws.choice(sorted(data))] = draws.choice(NUMBERS)
    return kind, data


def any_ledger(family: Family, rules: TrialSetup, draws: Random, name: str, tries: int = 30) -> list[Event]:
    """What the rules let in of many entries."""
    events: list[Event] = []
    ledger = OpenLedger(rules)
    for n in range(tries):
        kind, data = any_event(family, rules, events, draws)
        event = Event(f"{name}-{n}", len(events) + 1, kind, data)
        try:
            ledger.admit(event)
        except GirderError:
            continue
        events.append(event)
    return events
