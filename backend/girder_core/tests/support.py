"""Small builders that several core tests share."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from girder_core.families import Family, family_of
from girder_core.kit import PLATFORM, Kit, LoadItem
from girder_core.measure import Quantity
from girder_core.planning import Proposal
from girder_core.trial import Event, EventKind, TrialResult, TrialSetup, replay

NUT_KG = 0.016


def kit(platform_kg: float = 0.020, nuts: int = 50, bags: int = 2) -> Kit:
    """A platform of 20 g, 50 nuts of 16 g and two bags of 320 g, all masses exact."""
    items = [
        LoadItem("nut", Quantity(NUT_KG), nuts, key="nut", diameter_m=0.02, thickness_m=0.01, shape="nut"),
        LoadItem("bag", Quantity(20 * NUT_KG), bags, roll_of=20, key="bag", shape="bag"),
    ]
    if platform_kg:
        items.insert(0, LoadItem("platform", Quantity(platform_kg), 1, key=PLATFORM, shape="platform"))
    return Kit(tuple(items))


def setup(load: Kit | None = None, bench_limit_kg: float | None = None) -> TrialSetup:
    return family_of("bridge").trial_setup({"hold_s": 5.0, "bench_limit_kg": bench_limit_kg}, load or kit())


class Script:
    """Writes a ledger as one would work at the bench."""

    def __init__(self) -> None:
        self.events: list[Event] = []

    def add(self, kind: EventKind, **data: Any) -> Script:
        number = len(self.events) + 1
        self.events.append(Event(f"e{number}", number, kind, data))
        return self

    def place(self, item: str = "nut", count: int = 1) -> Script:
        return self.add(EventKind.PLACE, item=item, count=count)

    def settle(self) -> Script:
        return self.add(EventKind.SETTLE, waited_s=5)

    def hold(self, item: str = "nut", count: int = 1) -> Script:
        return self.place(item, count).settle()

    def read(self, mass: str, held: bool = True, resolution: str = "1 g") -> Script:
        return self.add(EventKind.LOAD_READING, mass=mass, resolution=resolution, held=held)

    def fail(self, mode: str = "crimp") -> Script:
        return self.add(EventKind.FAIL, mode=mode)

    def run_out(self, reason: str = "no_more_load") -> Script:
        return self.add(EventKind.RUN_OUT, reason=reason)

    def void(self, reason: str = "pile_toppled") -> Script:
        return self.add(EventKind.VOID, reason=reason)

    def undo(self, event: str) -> Script:
        return self.add(EventKind.UNDO, event=event)

    def result(self, rules: TrialSetup | None = None) -> TrialResult:
        return replay(self.events, rules or setup())


MOVES: dict[str, Callable[[Script], Script]] = {
    "nut": Script.place,
    "three": lambda script: script.place(count=3),
    "bag": lambda script: script.place("bag"),
    "settle": Script.settle,
    "fail": Script.fail,
    "run_out": Script.run_out,
    "void": Script.void,
    "remove": lambda script: script.add(EventKind.REMOVE, item="nut", count=1),
    # Each reads more than the one before it.
    "read": lambda script: script.read(f"{len(script.events) + 1}0 g"),
    "read_waiting": lambda script: script.read(f"{len(script.events) + 1}0 g", held=False),
    "crack": lambda script: script.add(EventKind.OBSERVE, sign="crack"),
}
"""What can be done at a bench, by a short name, for ledgers that are drawn at random."""


def broke(held_nuts: int, step: int = 1) -> TrialResult:
    """A trial without platform that held so many nuts and broke on a step of ``step`` more."""
    script = Script()
    if held_nuts:
        script.hold(count=held_nuts)
    return script.place(count=step).fail().result(setup(kit(0, nuts=1000)))


def ran_out(held_nuts: int, reason: str = "no_more_load") -> TrialResult:
    return Script().hold(count=held_nuts).run_out(reason).result(setup(kit(0, nuts=1000)))


def kit_of_proposal(family: Family, proposal: Proposal) -> Kit | None:
    """The kit that a proposal stands for, every mass taken as exact."""
    if not proposal.load:
        return None
    items = [
        LoadItem(p.name, Quantity(p.mass_kg), p.count, p.roll_of, p.idea.diameter_m if p.roll_of == 1 else 0.0,
                 p.idea.thickness_m if p.roll_of == 1 else 0.0, f"item-{i}", p.shape)
        for i, p in enumerate(proposal.load)
    ]  # fmt: skip
    if proposal.platform_kg:
        items.insert(0, LoadItem(family.platform, Quantity(proposal.platform_kg), 1, key=PLATFORM, shape="platform"))
    return Kit(tuple(items))
