"""How a reading, a mass of one and a mass added up from materials came about."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from girder_core.ground import NOBODY, Entered, Origin, Rule
from girder_core.measure import units
from girder_core.measure.readings import TypedReading
from girder_core.measure.uncertainty import COVERAGE_FACTOR, Quantity
from girder_core.measure.units import Kind, System, format_value

READ = Rule("what was read, less where the instrument began", "x = r − z", "One reading")
MEAN = Rule("the mean of all readings of it", "x = Σ xᵢ / n", "One reading")
ADDED = Rule("how much of each material is in it, times what one unit of that weighs", "w = Σ aᵢ · mᵢ", "Quantities")
BATCH = Rule("what a batch weighs, divided by how many lay on the scale", "m = M / N", "Quantities")


@dataclass(frozen=True)
class Take:
    """One time that something was read: as typed, what it means in SI, and whose entry it is.

    ``by`` says how, where it was neither tape nor scale, and ``why`` what leaves it open, where that is no step.
    """

    typed: TypedReading
    quantity: Quantity
    entered: Entered = NOBODY
    by: str = ""
    why: str = ""


def in_doubt(quantity: Quantity, kind: Kind, system: System = System.METRIC) -> str:
    """How far off a quantity may be.

    Args:
        quantity: it [SI].
        kind: what it measures.
        system: the reader's units.
    Returns:
        A sentence; empty where nothing is in doubt.
    """
    if not quantity.standard_uncertainty > 0:
        return ""
    return f"Known to ± {format_value(COVERAGE_FACTOR * quantity.standard_uncertainty, kind, system)}."


def reading_origin(
    name: str, takes: Sequence[Take], total: Quantity, kind: Kind, system: System = System.METRIC, symbol: str = "x",
    own: Mapping[str, float] | None = None,
) -> Origin:  # fmt: skip
    """How a reading came about.

    Args:
        name: what was read.
        takes: the times it was read, one or more that repeat each other.
        total: what they come to [SI].
        kind: what it measures.
        system: the reader's units.
        symbol: what formulas call it.
        own: further units by name, each with its size [m, kg or s].
    Returns:
        Its origin: one reading, less where the instrument began; or the mean of several.
    """
    if len(takes) == 1:
        return _single(name, takes[0], kind, system, symbol, own)
    each = tuple(_single(f"Reading {i}", take, kind, system, f"x{i}", own) for i, take in enumerate(takes, start=1))
    value = format_value(total.value, kind, system)
    return Origin(name, value, symbol, total.value, MEAN, each, note=in_doubt(total, kind, system))


def _single(name: str, take: Take, kind: Kind, system: System, symbol: str, own: Mapping[str, float] | None) -> Origin:
    value = format_value(take.quantity.value, kind, system)
    note = " ".join(part for part in (in_doubt(take.quantity, kind, system), take.why) if part)
    if take.by:
        return Origin(name, value, symbol, take.quantity.value, source=take.by, entered=take.entered, note=note)
    step = take.typed.resolution_text.strip()
    source = f"read as {take.typed.text.strip()}" + (f", in steps of {step}" if step else "")
    start = take.typed.zero_text.strip() or take.typed.tare_text.strip()
    if not start:
        return Origin(name, value, symbol, take.quantity.value, source=source, entered=take.entered, note=note)
    began = "where the tape began" if take.typed.zero_text.strip() else "what the scale showed before"
    unit = units.parse(take.typed.text, kind, own=own).unit
    read, zero = (units.parse(text, kind, unit, own).si for text in (take.typed.text, start))
    inputs = (
        Origin("What was read", format_value(read, kind, system), "r", read, source=source, entered=take.entered),
        Origin(began.capitalize(), format_value(zero, kind, system), "z", zero, source=f"read as {start}",
               entered=take.entered),
    )  # fmt: skip
    return Origin(name, value, symbol, take.quantity.value, READ, inputs, note=note)


def added_origin(
    name: str, uses: Sequence[tuple[str, float, Quantity]], total: Quantity, system: System = System.METRIC,
    entered: Entered = NOBODY, symbol: str = "w",
) -> Origin:  # fmt: skip
    """How an own weight that was added up from materials came about.

    Args:
        name: what it is.
        uses: of each material its name, how much of it [-], and the mass of one unit [kg].
        total: what they come to [kg].
        system: the reader's units.
        entered: whose entry it is.
        symbol: what formulas call it.
    Returns:
        Its origin.
    """
    inputs = []
    for i, (material, amount, unit) in enumerate(uses, start=1):
        weighs = f"One unit of {material}"
        inputs += [
            Origin(f"How much {material}", f"{amount:g}", f"a{i}", amount, source="counted", entered=entered),
            Origin(weighs, format_value(unit.value, Kind.MASS, system), f"m{i}", unit.value, source="weighed or known",
                   entered=entered, note=in_doubt(unit, Kind.MASS, system)),
        ]  # fmt: skip
    value = format_value(total.value, Kind.MASS, system)
    return Origin(name, value, symbol, total.value, ADDED, tuple(inputs), note=in_doubt(total, Kind.MASS, system))


def batch_origin(
    name: str, mass: Quantity, count: int, batch_kg: float, step_kg: float, system: System = System.METRIC,
    symbol: str = "m",
) -> Origin:  # fmt: skip
    """How the mass of one object of a weighed batch came about.

    Args:
        name: what one is called.
        mass: of one [kg].
        count: how many lay on the scale.
        batch_kg: what it showed [kg].
        step_kg: its step [kg].
        system: the reader's units.
        symbol: what formulas call it.
    Returns:
        Its origin.
    """
    shown, step = (format_value(kg, Kind.MASS, system) for kg in (batch_kg, step_kg))
    inputs = (
        Origin("A batch", shown, "M", batch_kg, source=f"on a scale with steps of {step}"),
        Origin("Objects on the scale", str(count), "N", float(count), source="counted"),
    )
    value = format_value(mass.value, Kind.MASS, system)
    return Origin(name, value, symbol, mass.value, BATCH, inputs, note=in_doubt(mass, Kind.MASS, system))


def said_origin(
    name: str, quantity: Quantity, kind: Kind, source: str, system: System = System.METRIC, symbol: str = "",
    entered: Entered = NOBODY,
) -> Origin:  # fmt: skip
    """A quantity that nobody worked out.

    Args:
        name: what it is.
        quantity: it [SI].
        kind: what it measures.
        source: how it was come by.
        system: the reader's units.
        symbol: what formulas call it.
        entered: whose entry it is.
    Returns:
        Its origin.
    """
    value = format_value(quantity.value, kind, system)
    return Origin(name, value, symbol, quantity.value, source=source, entered=entered,
                  note=in_doubt(quantity, kind, system))  # fmt: skip
