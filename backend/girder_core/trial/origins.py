"""How the load came about that a trial held."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from girder_core.ground import Entered, Origin, Rule
from girder_core.kit import Kit, Known, counted_origin
from girder_core.measure import Kind, System, format_mass, in_doubt, said_origin, sentences
from girder_core.trial.ledger import RULE_VERSION
from girder_core.trial.result import EventKind, Outcome, StepState, TrialResult

COUNTED = Rule(
    "the most that was on it while it stayed up for the agreed wait: how many of each, times what one weighs",
    "h = Σ nᵢ · mᵢ",
    "A trial",
    RULE_VERSION,
)
PILE = Rule("what the pile weighed, less the step that broke it", "h = p − s", "A trial", RULE_VERSION)


def held_origin(
    name: str, result: TrialResult, kit: Kit, known: Mapping[str, Known], entered: Entered,
    system: System = System.METRIC, symbol: str = "h",
) -> Origin:  # fmt: skip
    """How the load came about that a trial held.

    Args:
        name: what it is.
        result: of the trial.
        kit: the load kit.
        known: how the mass of each object is known, by key.
        entered: whose trial it is, and when it began.
        system: the reader's units.
        symbol: what formulas call it.
    Returns:
        Its origin: what was counted, or the pile on the scale, or what was read off an instrument. The note says what
        broke it.
    """
    ended = _ended(result, system)
    if result.pile_weighed and result.pile is not None:
        pile = said_origin("The pile", result.pile, Kind.MASS, "on the scale after the test", system, "p", entered)
        last_kg = result.pile.value - result.held.value
        if last_kg <= 1e-12:
            return replace(pile, name=name, symbol=symbol, note=sentences(pile.note, ended))
        step = Origin("The step that broke it", format_mass(last_kg, system), "s", last_kg, source="counted",
                      entered=entered)  # fmt: skip
        value, note = format_mass(result.held.value, system), in_doubt(result.held, Kind.MASS, system)
        return Origin(name, value, symbol, result.held.value, PILE, (pile, step), note=sentences(note, ended))
    counts = counts_held(result, kit)
    if counts is None:
        shown = said_origin(name, result.held, Kind.MASS, "read off an instrument while it stayed up", system, symbol,
                            entered)  # fmt: skip
    else:
        shown = counted_origin(name, counts, kit, known, system, symbol, COUNTED, entered)
    return replace(shown, note=sentences(shown.note, ended))


def counts_held(result: TrialResult, kit: Kit) -> dict[str, int] | None:
    """How many of each object were on it when it held the most.

    Args:
        result: of the trial.
        kit: the load kit.
    Returns:
        Counts by key; None where the load was not counted.
    """
    counts: dict[str, int] = {}
    found: dict[str, int] | None = {} if result.held.value == 0 else None
    for step in result.steps:
        if step.kind is EventKind.LOAD_READING:
            return None
        if step.state is not StepState.HELD:
            continue
        counts[step.item] = counts.get(step.item, 0) + (step.count if step.kind is EventKind.PLACE else -step.count)
        if abs(kit.mass(counts).value - result.held.value) < 1e-9:
            found = dict(counts)
    return found


def _ended(result: TrialResult, system: System) -> str:
    if result.broke_at is not None:
        return f"It broke at {format_mass(result.broke_at.value, system)}."
    return "It ran out of load, so it may have held more." if result.outcome is Outcome.RAN_OUT else ""
