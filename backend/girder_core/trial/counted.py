"""Loose pieces that were counted, held against the ledger: what was on a structure or is left, and what fell."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from girder_core.ground import GirderError
from girder_core.kit import PLATFORM, Kit
from girder_core.measure import plural
from girder_core.trial.rounds import BenchMeasure, Loose


class Lay(StrEnum):
    """What the loose pieces are that were counted."""

    ON = "on"
    LEFT = "left"


@dataclass(frozen=True)
class Recount:
    """What a count says.

    Attributes:
        agrees: whether it is what the ledger has.
        sentence: that, and what to do where it is not.
        text: the measurement as it would be typed; empty for load.
    """

    agrees: bool
    sentence: str
    text: str = ""


def recount(kit: Kit, placed: Mapping[str, int], item: str, lay: Lay, counted: int) -> Recount:
    """Hold load that was counted against the ledger.

    Args:
        kit: the load at the bench.
        placed: what was counted onto the structure, by item key.
        item: the key of what was counted now.
        lay: whether it is what was on the structure, or what is left of the kit.
        counted: how many there are.
    Returns:
        Whether they agree, and what is likely where they do not. Nothing is decided: pieces roll away, too.
    Errors:
        ``unknown_item``; ``not_loose`` for what carries the others.
    """
    own = kit.item(item)
    if own.key == PLATFORM:
        raise GirderError("not_loose", "What carries the load is not counted in a picture.")
    on = placed.get(item, 0)
    expected = on if lay is Lay.ON else own.count - on
    what = f"{counted} × {own.name} counted of what {'was on it' if lay is Lay.ON else 'is left'}"
    if counted == expected:
        return Recount(True, f"{what}; the ledger has as many.")
    off = abs(counted - expected)
    fewer = counted < expected
    says = f"{what}; the ledger has {expected}, {off} {'more' if fewer else 'fewer'}."
    high = fewer is (lay is Lay.ON)
    step = f"a step was counted {off} too {'high' if high else 'low'}"
    if fewer:
        lost = "one rolled away" if off == 1 else f"{off} rolled away"
        other = "what is left" if lay is Lay.ON else "what was on it"
        return Recount(False, f"{says} Either {lost}, or {step}. Count {other} too: it tells which.")
    if lay is Lay.LEFT:
        kit_had = f"the kit had {off} more than it says"
        return Recount(False, f"{says} Either {step}, or {kit_had}. Count what was on it too: it tells which.")
    return Recount(False, f"{says} Probably {step}. Touch that step and correct it.")


def counted_as(spec: BenchMeasure, counted: int, before: int | None) -> Recount:
    """What pieces that lie loose come to as a measurement.

    Args:
        spec: what is measured.
        counted: how many lie there.
        before: how many there were before the test, if that is known.
    Returns:
        The measurement as it would be typed, and how it came about.
    Errors:
        ``not_counted_loose`` for what is no count of loose pieces; ``pieces_unknown`` and ``more_than_before`` where
        those that still stand follow from those that fell.
    """
    if spec.loose is None:
        raise GirderError("not_counted_loose", "Only loose pieces can be counted in a picture.")
    if spec.loose is Loose.THEMSELVES:
        return Recount(True, f"{counted} {plural('piece', counted)} counted.", str(counted))
    if before is None:
        raise GirderError("pieces_unknown", "Check-in does not say yet how many pieces stood in it. Count them there.")
    if counted > before:
        raise GirderError(
            "more_than_before", f"{counted} lie there, but only {before} stood in it. Take away the dots that are none."
        )
    left = before - counted
    return Recount(
        True, f"{before} stood in it, {counted} {'lies' if counted == 1 else 'lie'} there: {left} left.", str(left)
    )
