"""The keys at the foot of the bench, as data: what each does, says and is pressed by, and when it is there.

One list serves keyboard, touch and pointer. Whether a key can be pressed now follows from its act
(``girder_core.trial.acts``); whether it is shown, and whether Enter presses it, from the facts named with it. So the
bench goes on while entries wait for the network, and no key is listed in the browser.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum

from girder_core.families.model import Family, Setup
from girder_core.trial import EventKind, Fact, Procedure, RoundPlan

Facts = Mapping[Fact, bool]


class Does(StrEnum):
    """What a key does when it is pressed: it writes an entry down at once, or asks something first."""

    PLANNED = "planned"
    ITEMS = "items"
    TAKE_OFF = "take_off"
    MEASURE = "measure"
    GAUGE = "gauge"
    HELD = "held"
    WATCH = "watch"
    WENT = "went"
    STOP = "stop"
    CAME_THROUGH_ALL = "came_through_all"
    VOID = "void"
    UNDO = "undo"
    FINISH = "finish"
    ROUND = "round"
    HIT = "hit"
    MISS = "miss"
    CLOCK = "clock"
    OTHER_SIZE = "other_size"
    PILE = "pile"
    COUNT = "count"
    GO_ON = "go_on"


class Look(StrEnum):
    """How a key looks: what is next, what went well, what to watch, what went wrong, and all others."""

    NEXT = "place"
    HELD = "held"
    WATCH = "watch"
    WENT = "went"
    PLAIN = "plain"


@dataclass(frozen=True)
class Key:
    """A key of the bench.

    Attributes:
        does: what pressing it does.
        act: the entry it writes down, now or after asking; None for one that writes nothing.
        letter: its key on the keyboard; empty for none.
        title, note: what it says; empty where that follows from the moment, such as what is placed next.
        look: how it looks.
        measure: of a measurement, its key.
        reason: of an end without failure, its key.
        shown: what has to be so for it to be there.
        enter: what has to be so for Enter to press it; None where it never does.
        small: whether it stands in the row of small keys.
        grow: its share of the row's width.
        grown_up: whether a young class does without it.
    """

    does: Does
    act: EventKind | None
    letter: str
    title: str
    note: str = ""
    look: Look = Look.PLAIN
    measure: str = ""
    reason: str = ""
    shown: Facts = field(default_factory=dict)
    enter: Facts | None = None
    small: bool = False
    grow: float = 1.0
    grown_up: bool = False


_RUNNING: Facts = {Fact.RUNNING: True}
_ENDED: Facts = {Fact.RUNNING: False}
_LOADING: Facts = {Fact.RUNNING: True, Fact.LOADING: True}
_IN_ROUNDS: Facts = {Fact.RUNNING: True, Fact.LOADING: False}
_ALWAYS: Facts = {}
_LONG = 7
"""Words of so many letters need a wider key in a row of small ones."""


def keys_of(family: Family, setup: Setup) -> tuple[Key, ...]:
    """The keys of the bench for a kind of challenge.

    Args:
        family: the kind of challenge.
        setup: what the recipe sets [SI].
    Returns:
        All of them in the order in which they stand, the small ones in a row of their own above the others. No two
        that can be there at once have one letter.
    """
    plan = family.round_plan(setup)
    loaded = plan is None or plan.procedure.top_load
    return (
        *(_loading_small(family, plan) if loaded else ()),
        *(_rounds_small(family, plan) if plan else ()),
        *(_loading_large() if loaded else ()),
        *(_rounds_large(family, plan) if plan else ()),
        *_ended(family, loaded),
    )


def _measures(family: Family, shown: Facts, all_of_them: bool) -> list[Key]:
    return [
        Key(Does.MEASURE, EventKind.MEASURE, measure.letter.upper(), measure.short, measure=measure.key, shown=shown,
            small=True, grow=0.8 if len(measure.short) < _LONG else 1.1)
        for measure in family.bench.measures
        if all_of_them or not measure.needed
    ]  # fmt: skip


def _void(shown: Facts) -> Key:
    return Key(Does.VOID, EventKind.VOID, "V", "Void", shown=shown, small=True, grow=0.7)


def _count(shown: Facts) -> Key:
    # What it comes to is noted; a picture changes no load.
    return Key(Does.COUNT, None, "C", "Count", shown=shown, small=True, grow=0.8)


def _watch(shown: Facts) -> Key:
    return Key(Does.WATCH, EventKind.OBSERVE, "W", "Watch", "note a sign", Look.WATCH, shown=shown, grow=1.1)


def _undo(shown: Facts, title: str = "Undo", note: str = "") -> Key:
    return Key(Does.UNDO, EventKind.UNDO, "Z", title, note, shown=shown)


def _loading_small(family: Family, plan: RoundPlan | None) -> list[Key]:
    keys = [
        Key(Does.ITEMS, EventKind.PLACE, "", "", shown=_LOADING, small=True, grow=1.5),
        Key(Does.TAKE_OFF, EventKind.REMOVE, "T", "Take off", shown=_LOADING, small=True),
        *_measures(family, _LOADING, False),
        _count(_LOADING),
    ]
    if not family.bench.counts_pieces:
        # What is counted in pieces has no use for a load in one figure.
        keys.append(Key(Does.GAUGE, EventKind.LOAD_READING, "G", "Gauge", shown=_LOADING, small=True, grow=0.9,
                        grown_up=True))  # fmt: skip
    if plan is not None and plan.procedure.finish:
        # What is loaded after its round can also end without having failed.
        keys.append(Key(Does.FINISH, EventKind.FINISH, "D", "Done", shown=_LOADING, small=True, grow=0.7))
    if family.run_out_reasons:
        keys.append(Key(Does.STOP, EventKind.RUN_OUT, "R", "Ran out", shown=_LOADING, small=True, grow=0.9))
    return [*keys, _void(_LOADING)]


def _loading_large() -> list[Key]:
    return [
        Key(Does.PLANNED, EventKind.PLACE, "", "", look=Look.NEXT, shown=_LOADING, enter={Fact.STEP_WAITS: False},
            grow=2.3),
        Key(Does.HELD, EventKind.SETTLE, "H", "It held", look=Look.HELD, shown=_LOADING,
            enter={Fact.STEP_WAITS: True}, grow=1.4),
        _watch(_LOADING),
        Key(Does.WENT, EventKind.FAIL, "X", "It went", "say how", Look.WENT, shown=_LOADING, grow=1.1),
        _undo(_LOADING),
    ]  # fmt: skip


def _rounds_small(family: Family, plan: RoundPlan) -> list[Key]:
    keys, procedure = _measures(family, _IN_ROUNDS, True), plan.procedure
    if procedure.any_size:
        keys.append(Key(Does.OTHER_SIZE, EventKind.ROUND, "D", procedure.other, shown=_IN_ROUNDS, small=True, grow=0.8))
    if family.run_out_reasons and not procedure.finish:
        keys.append(Key(Does.STOP, EventKind.RUN_OUT, "R", "Stop here", shown=_IN_ROUNDS, small=True, grow=0.8))
    return [*keys, _void(_IN_ROUNDS)]


def _rounds_large(family: Family, plan: RoundPlan) -> list[Key]:
    procedure = plan.procedure
    after = [_watch(_IN_ROUNDS)]
    if procedure.went:
        after.append(Key(Does.WENT, EventKind.FAIL, "X", procedure.went, "say how", Look.WENT, shown=_IN_ROUNDS))
    after.append(_undo(_IN_ROUNDS))
    if procedure.hit_or_miss:
        return [*_throws(plan), *_ends(family, procedure, {Fact.ALL_MADE: True, Fact.STOOD: True}), *after]
    # Where a round come through is all there is, the end follows; else the next round, up to the last.
    going = {Fact.STOOD: False} if procedure.finish else {Fact.ROUND_AHEAD: True}
    keys = [
        Key(Does.ROUND, EventKind.ROUND, "", "", look=Look.NEXT, shown={**_IN_ROUNDS, **going},
            enter={Fact.ROUND_WAITS: False}, grow=2.2),
        Key(Does.HELD, EventKind.SETTLE, "H", procedure.came_through, look=Look.HELD, shown={**_IN_ROUNDS, **going},
            enter={Fact.ROUND_WAITS: True}, grow=1.5),
    ]  # fmt: skip
    if procedure.finish:
        keys += _ends(family, procedure, {Fact.STOOD: True})
    elif family.run_out_reasons:
        last = family.run_out_reasons[0]
        keys.append(
            Key(Does.CAME_THROUGH_ALL, EventKind.RUN_OUT, "", last.label, "counts as “at least”", Look.NEXT,
                reason=last.key, shown={**_IN_ROUNDS, Fact.ROUND_AHEAD: False}, enter=_ALWAYS, grow=2.2)
        )  # fmt: skip
    return [*keys, *after]


def _throws(plan: RoundPlan) -> list[Key]:
    procedure = plan.procedure
    hit, miss = (Look.WATCH, Look.HELD) if procedure.miss_is_well else (Look.HELD, Look.WATCH)
    # What a procedure has after its last round comes instead of another.
    shown = {**_IN_ROUNDS, Fact.ROUND_AHEAD: True} if procedure.went else _IN_ROUNDS
    keys = [
        Key(Does.HIT, EventKind.ROUND, "1", procedure.hit, look=hit, shown=shown, grow=1.4),
        Key(Does.MISS, EventKind.ROUND, "2", procedure.miss, look=miss, shown=shown, grow=1.4),
    ]
    if plan.attack_s is not None:
        keys.insert(0, Key(Does.CLOCK, None, "", "Start the clock", f"{plan.attack_s:g} s to throw", Look.NEXT,
                           shown={**_IN_ROUNDS, Fact.ROUND_MADE: False}, enter=_ALWAYS, grow=2.0))  # fmt: skip
    return keys


def _ends(family: Family, procedure: Procedure, when: Facts) -> list[Key]:
    """What is asked for before the end, and the end itself."""
    needed = [measure for measure in family.bench.measures if measure.needed]
    shown = {**_IN_ROUNDS, **when}
    finish = Key(Does.FINISH, EventKind.FINISH, "", procedure.finish, procedure.finish_note, Look.NEXT,
                 shown={**shown, Fact.TOLD: True}, enter=_ALWAYS, grow=2.2)  # fmt: skip
    if not needed:
        return [finish]
    title = procedure.count or f"Measure: {needed[0].label.lower()}"
    ask = Key(Does.MEASURE, EventKind.MEASURE, "", title, needed[0].how, Look.NEXT, measure=needed[0].key,
              shown={**shown, Fact.TOLD: False}, enter=_ALWAYS, grow=2.2)  # fmt: skip
    return [ask, finish]


def _ended(family: Family, loaded: bool) -> list[Key]:
    keys = [Key(Does.GO_ON, None, "N", "Go on", "the result, and the next team", Look.NEXT, shown=_ENDED, grow=2.0)]
    # What spoiled it may come to light when it is over.
    keys.insert(0, _void({**_ENDED, Fact.VOID: False}))
    undone = "it had not ended"
    if not loaded:
        return [*keys, _undo(_ENDED, "Undo the end", undone)]
    after = family.bench.weighs_after
    note = "that is how it is told here" if after else "instead of the count"
    for weighed in (False, True):
        look = Look.NEXT if after and not weighed else Look.WATCH
        shown = {**_ENDED, Fact.LOADING: True, Fact.PILE_WEIGHED: weighed}
        keys.append(Key(Does.PILE, EventKind.PILE_READING, "P", "Weigh the pile", note, look, shown=shown))
    return [
        *keys,
        _count({**_ENDED, Fact.LOADING: True}),
        _undo({**_ENDED, Fact.PILE_WEIGHED: False}, "Undo the end", undone),
        _undo({**_ENDED, Fact.PILE_WEIGHED: True}, "Undo the weighing", "back to the count"),
    ]
