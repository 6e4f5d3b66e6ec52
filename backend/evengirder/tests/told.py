"""What the core and the API say, written down for the interface's own tests: words, figures and states that the browser
must not tell otherwise."""

from __future__ import annotations

import random
from collections.abc import Iterable, Sequence
from typing import Any

from challenges.entries import PlanRequestSerializer
from challenges.plans import sheet
from challenges.shown import shown_sheet
from girder_core.drafting import KINDS, DraftKind, in_words, read_values, start_values
from girder_core.families import FAMILIES, family_of
from girder_core.ground import MARKS
from girder_core.kit import Kit
from girder_core.measure import Kind, System, format_length, format_mass, parse, plural
from girder_core.safety import AgeBand
from girder_core.tests.support import MOVES, Script, kit, setup
from girder_core.trial import (
    DROPPING,
    SHAKING,
    STANDING,
    THROWING,
    Event,
    EventKind,
    Outcome,
    TrialResult,
    TrialSetup,
    facts_of,
    replay,
)

Told = dict[str, Any]
FORMAT, PROJECTION, DRAFT_STATE = "shared/format.ts", "features/bench/projection.ts", "features/drafting/draftState.ts"


def told() -> Told:
    """All of it. ``agreements`` name a function of the interface, and for arguments what it must answer."""
    return {
        "agreements": [*_words(), *_projections(), *_facts(), *_drafting()],
        "loads": [
            {"load": load, "push": push, "says": in_words(load, push, System.METRIC)}
            for push in (False, True)
            for load in (0.0, 0.12, 1.0, 4.4, 11.8, 14.7, 99.4, 240.0, 1234.0)
        ],
        "typed": [
            {"value": value, "kind": kind, "units": units}
            for value, kind in (
                (0.0125, "length"), (0.3, "length"), (0.05, "mass"), (1.25, "mass"), (7, "count"), (1.4, "frequency"),
            )
            for units in ("metric", "us")
        ],
        "marks": {name: [{"path": part.path, "pen": part.pen} for part in parts] for name, parts in MARKS.items()},
        "drawings": [{"family": family.key, "box": list(family.draw(family.usual(AgeBand.AGES_11_13)).box())}
                     for family in FAMILIES.values()],
        "arch": {"kind": _shaped(KINDS["arch"]), "typed": {**start_values(KINDS["arch"], {}, {}), "layers": "3"}},
        "planner": {"plain": _filled({}), "own": OWN, "filled": _filled(OWN), "answers": ANSWERS},
    }  # fmt: skip


def reads_back(text: str, kind: str, value: float) -> bool:
    """Whether a text that the interface wrote is read by the core as the value, to within 0.3 %."""
    return abs(parse(text, Kind(kind)).si / value - 1) <= 0.003


def _agree(what: str, module: str, call: str, cases: Iterable[tuple[Sequence[Any], Any]], near: float = 0.0) -> Told:
    return {"what": what, "module": module, "call": call, "near": near,
            "cases": [{"args": list(args), "answer": answer} for args, answer in cases]}  # fmt: skip


def _words() -> list[Told]:
    masses = [0.0, 0.0005, 0.0384, 0.02834952, 0.1, 0.4535, 0.45359237, 0.9999, 1.0, 1.185, 2.132, 47.25]
    lengths = [0.0004, 0.0254, 0.036, 0.3048, 0.36, 0.3605, 1.12, 1.0005, 12.5, 1234.5]
    return [
        _agree("masses read the same", FORMAT, "formatMass",
               [((kg, system.value), format_mass(kg, system)) for system in System for kg in masses]),
        _agree("lengths read the same", FORMAT, "formatLength",
               [((m, system.value), format_length(m, system)) for system in System for m in lengths]),
        _agree("sizes of rounds read the same", "features/bench/roundWords.ts", "sizeWords",
               [((procedure.size_kind.value, size, system.value), procedure.size(size, system))
                for procedure in (STANDING, SHAKING, DROPPING, THROWING) for system in System
                for size in (1, 3, 0.2, 0.355, 1.4)
                if procedure.size_kind is not Kind.COUNT or size == round(size)]),
        _agree("plurals are formed the same way", FORMAT, "plural",
               [((noun, count), plural(noun, count)) for count in (0, 1, 2)
                for noun in ("nut", "penny", "tray", "box", "M12 hex nut, zinc", "torch")]),
    ]  # fmt: skip


def _result(result: TrialResult) -> Told:
    """A result as the API gives it, as far as the projection reads it."""
    return {
        "outcome": result.outcome.value, "placed": dict(result.placed), "load_on_kg": result.load_on.value,
        "held_kg": result.held.value, "step_waiting": result.step_waiting, "mode": result.mode, "reason": result.reason,
        "undoable": result.undoable, "pieces_on": result.pieces_on, "pieces_held": result.pieces_held,
        "round_waiting": result.round_waiting, "stood": result.stood, "hits": result.hits, "seats": dict(result.seats),
        "read_kg": result.read.value, "pile_weighed": result.pile_weighed,
        "taken": [{"key": t.key} for t in result.taken],
        "corrected": list(result.corrected), "notes": list(result.notes),
        "rounds": [
            {"event_id": r.event_id, "number": r.number, "size": r.size, "state": r.state.value, "hit": r.hit,
             "lasted_s": r.lasted_s} for r in result.rounds
        ],
        "steps": [
            {"event_id": s.event_id, "kind": s.kind.value, "item": s.item, "count": s.count, "mass_kg": s.mass_kg,
             "state": s.state.value, "signs": list(s.signs)} for s in result.steps
        ],
    }  # fmt: skip


def _pending(events: Sequence[Event]) -> list[Told]:
    return [
        {"id": e.id, "trial": "t", "sequence": e.sequence, "kind": e.kind.value, "data": dict(e.data),
         "happened_at": ""} for e in events
    ]  # fmt: skip


def _play(draws: random.Random) -> Script:
    """A lawful trial: what the bench's keys allow."""
    script = Script().hold("platform")
    for _ in range(draws.randint(2, 14)):
        now = script.result()
        if now.outcome is not Outcome.RUNNING:
            break
        moves = ["nut", "three", "bag"] if draws.random() < 0.8 else ["fail", "void"]
        if now.step_waiting and draws.random() < 0.7:
            moves = ["settle"]
        if now.placed.get("nut") and draws.random() < 0.15:
            moves = ["remove"]
        if not now.step_waiting and draws.random() < 0.05:
            moves = ["run_out"]
        if draws.random() < 0.1:
            moves = ["read", "read_waiting"]
        MOVES[draws.choice(moves)](script)
        if script.result().refused:
            script.events.pop()
    return script


_LOADED = ("outcome", "placed", "step_waiting", "undoable", "pieces_on", "pieces_held", "load_on_kg", "held_kg")
_RIGHTED = ("placed", "pieces_on", "pieces_held", "load_on_kg", "held_kg", "step_waiting")
_IN_ROUNDS = ("rounds", "round_waiting", "stood", "hits", "outcome", "undoable")


def _projections() -> list[Told]:
    """What the bench draws before the server answers must be what the server will say."""
    draws = random.Random(5)
    items = [{"key": i.key, "mass_kg": i.mass.value, "shape": i.shape, "roll_of": i.roll_of} for i in kit().items]
    loaded: list[tuple[Sequence[Any], Any]] = []
    for _ in range(120):
        events = _play(draws).events
        known = draws.randint(0, len(events))
        # How heavy a load is that was typed, only the server can tell.
        if any(event.kind is EventKind.LOAD_READING for event in events[known:]):
            continue
        before, after = (_result(replay(some, setup())) for some in (events[:known], events))
        states = [{"state": step["state"]} for step in after["steps"]]
        loaded.append(
            ((before, _pending(events[known:]), items), {**{key: after[key] for key in _LOADED}, "steps": states})
        )
    if len(loaded) < 60:
        raise AssertionError("too few lawful trials to compare")
    hidden = _result(Script().hold("platform").result())
    taken_back = [
        {"id": "a", "sequence": 3, "kind": "place", "data": {"item": "nut", "count": 2}},
        {"id": "b", "sequence": 4, "kind": "undo", "data": {"event": "a"}},
    ]
    heavy = _result(Script().hold("platform").place(count=2).result())
    read = [
        (
            (
                heavy,
                [{"id": "a", "sequence": 4, "kind": "load_reading", "data": {"mass": "1 kg", "held": held}}],
                items,
            ),
            {"step_waiting": not held, "undoable": "a", "placed": heavy["placed"]},
        )
        for held in (True, False)
    ]
    return [
        _agree("waiting entries show what the core will say", PROJECTION, "project", loaded, 1e-9),
        _agree(
            "a waiting undo hides what it takes back", PROJECTION, "project", [((hidden, taken_back, items), hidden)]
        ),
        _agree("a load that is read holds, and its figure is left to the server", PROJECTION, "project", read),
        _agree("a step put right shows what the core will say", PROJECTION, "project", _put_right(items), 1e-9),
        _agree("rounds show what the core will say", PROJECTION, "project", _rounds(), 1e-9),
    ]


def _put_right(items: Sequence[Told]) -> list[tuple[Sequence[Any], Any]]:
    """A step of nuts that was put right while the network was away, in a trial that was loaded step by step."""
    draws = random.Random(8)
    cases: list[tuple[Sequence[Any], Any]] = []
    for _ in range(40):
        script = Script().hold("platform")
        for _ in range(draws.randint(1, 5)):
            script.hold(count=draws.randint(1, 4))
        if draws.random() < 0.5:
            script.place(count=2)
        before = replay(script.events, setup())
        step = draws.choice([step for step in before.steps if step.item == "nut"])
        change: dict[str, Any] = draws.choice([{"count": step.count + 1}, {"item": "bag", "count": 1}, {"gone": True}])
        script.add(EventKind.CORRECT, event=step.event_id, **change)
        after = _result(replay(script.events, setup()))
        if not replay(script.events, setup()).refused:
            expected = {
                key: after[key]
                for key in ("placed", "pieces_on", "pieces_held", "load_on_kg", "held_kg", "step_waiting")
            }
            cases.append(((_result(before), _pending(script.events[-1:]), items), expected))
    if len(cases) < 30:
        raise AssertionError("too few corrections to compare")
    return cases


def _rounds() -> list[tuple[Sequence[Any], Any]]:
    shaken = {"stroke_m": 0.03, "frequency_hz": 1.0, "frequency_step_hz": 0.5, "levels": 3, "hold_s": 5}
    stories: dict[str, tuple[dict[str, float], list[tuple[EventKind, dict[str, Any]]]]] = {
        "shake_tower": (shaken, [(EventKind.ROUND, {}), (EventKind.SETTLE, {"waited_s": 5}), (EventKind.ROUND, {}),
                                 (EventKind.FAIL, {"mode": "joint"})]),
        "wall": ({"throws": 3}, [(EventKind.ROUND, {"hit": hit}) for hit in (True, False, True)]),
        "drop_house": ({}, [(EventKind.ROUND, {}), (EventKind.VOID, {"reason": "tumbled"})]),
    }  # fmt: skip
    cases: list[tuple[Sequence[Any], Any]] = []
    for key, (terms, story) in stories.items():
        rules = family_of(key).trial_setup(terms, Kit(()))
        assert rules.rounds is not None
        plan = {
            "procedure": {"hit_or_miss": rules.rounds.procedure.hit_or_miss},
            "hold_s": rules.rounds.hold_s, "most": rules.rounds.most,
            "attack_s": None, "planned": [{"number": p.number, "size": p.size} for p in rules.rounds.planned],
        }  # fmt: skip
        events = [Event(f"e{n}", n, kind, data) for n, (kind, data) in enumerate(story, start=1)]
        for known in range(len(events) + 1):
            before, after = (_result(replay(some, rules)) for some in (events[:known], events))
            cases.append(((before, _pending(events[known:]), [], plan), {key: after[key] for key in _IN_ROUNDS}))
    return cases


def _facts() -> list[Told]:
    """What is so of a trial, which the browser works out while entries wait, must be what the core says."""
    draws = random.Random(11)
    ledgers = [(setup(), script.events) for script in (_play(draws) for _ in range(60))]
    tower = family_of("tower").trial_setup({"hold_s": 5}, kit())
    stories: list[tuple[TrialSetup, list[tuple[str, dict[str, Any]]]]] = [
        (family_of("wall").trial_setup({"throws": 2}, Kit(())), [("round", {"hit": True}), ("round", {"hit": False}),
                                                              ("measure", {"key": "left", "text": "7"})]),
        (family_of("wall").trial_setup({"throws": 9, "attack_s": 20}, Kit(())), [("round", {"hit": True})]),
        (family_of("drop_house").trial_setup({}, Kit(())), [("round", {}), ("settle", {"waited_s": 0}), ("round", {}),
                                                         ("fail", {"mode": "joint"})]),
        (tower, [("round", {}), ("settle", {"waited_s": 5}), ("measure", {"key": "height", "text": "600 mm"}),
                 ("place", {"item": "platform", "count": 1}), ("settle", {"waited_s": 5}), ("finish", {})]),
    ]  # fmt: skip
    for terms, story in stories:
        events = [
            Event(f"e{n}", n, EventKind(kind), {"resolution": "1 mm" if "mm" in str(data) else "1", **data})
            for n, (kind, data) in enumerate(story, start=1)
        ]
        ledgers += [(terms, events[:n]) for n in range(len(events) + 1)]
    cases: list[tuple[Sequence[Any], Any]] = []
    for rules, events in ledgers:
        result = replay(events, rules)
        if result.refused:
            raise AssertionError(result.refused)
        plan = rules.rounds and {
            "planned": [{"size": planned.size} for planned in rules.rounds.planned], "attack_s": rules.rounds.attack_s,
            "procedure": {"top_load": rules.rounds.procedure.top_load},
            "measures": [{"key": measure.key, "needed": measure.needed} for measure in rules.measures.values()],
        }  # fmt: skip
        judged = {"kit": [{"key": item.key} for item in rules.kit.items], "plan": plan, "needsAll": rules.needs_all}
        cases.append(((_result(result), judged), sorted(facts_of(result, rules))))
    return [_agree("facts are the core's", "features/bench/facts.ts", "factsOf", cases)]


def _shaped(kind: DraftKind) -> Told:
    """A kind of draft as the interface gets it, as far as its arithmetic reads it."""
    params = [
        {
            "key": param.key, "kind": param.kind and param.kind.value, "only_key": param.only[0],
            "only_values": list(param.only[1]), "options": [{"key": option.key} for option in param.options],
            "forms": [form.value for form in param.forms],
        }
        for param in kind.params
    ]  # fmt: skip
    return {"key": kind.key, "params": params}


def _drafting() -> list[Told]:
    cases: list[tuple[Sequence[Any], Any]] = []
    for kind in KINDS.values():
        for choice in (param for param in kind.params if param.kind is None and not param.forms):
            for option in choice.options:
                words = read_values(kind, {choice.key: option.key}).words
                counting = [{"key": param.key} for param in kind.params if param.counts(words)]
                cases.append(((_shaped(kind), {**start_values(kind, {}, {}), choice.key: option.key}), counting))
    if len(cases) < 30:
        raise AssertionError("too few choices to compare")
    return [_agree("of what is typed into a draft, what counts for the core is shown", DRAFT_STATE, "counting", cases)]


ANSWERS = {"family": "bridge", "age_band": "11-13", "minutes": 50, "teams": 8, "students": None, "difficulty": 0}
OWN: Told = {"name": "Mine", "setup": {"gap_m": "41 cm"}, "benches": 3}


def _filled(own: Told) -> Told:
    """The entry of a filled planner sheet, as the API answers."""
    request = PlanRequestSerializer(data={**ANSWERS, "own": own})
    request.is_valid(raise_exception=True)
    asked = dict(request.validated_data)
    return shown_sheet(sheet(asked, asked.pop("own"), System.METRIC), System.METRIC).entry
