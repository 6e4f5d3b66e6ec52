"""A reading as it was taken, with zero offset, tare and resolution, to the quantity it stands for."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from girder_core.ground import GirderError, NeedsConfirmation
from girder_core.measure import units
from girder_core.measure.areas import outline
from girder_core.measure.uncertainty import Quantity, resolution_uncertainty
from girder_core.measure.units import Kind, System, TypedValue, format_value


@dataclass(frozen=True)
class TypedReading:
    """One reading, exactly as the teacher typed it.

    Attributes:
        text: the reading with its unit, such as ``"37 cm"``.
        zero_text: for a length, where on the tape the measurement started (``"1 cm"``); empty for zero.
        tare_text: for a mass, what the scale showed empty or with the holder on it; empty for none.
        resolution_text: the instrument's step, such as ``"1 mm"`` or ``"0.1 g"``.
    """

    text: str
    resolution_text: str
    zero_text: str = ""
    tare_text: str = ""


@dataclass(frozen=True)
class Measured:
    """What a typed reading means: the quantity in SI, and the reading's own unit for the record."""

    quantity: Quantity
    typed: TypedValue


@dataclass(frozen=True)
class Plausible:
    """The range in which a reading needs no second look, in SI, and what it is a reading of.

    ``agreed`` says in a sentence what everybody was to build, where the range is about that.
    """

    low: float
    high: float
    what: str
    agreed: str = ""


def measure(
    reading: TypedReading,
    kind: Kind,
    plausible: Plausible,
    confirmed: bool = False,
    own: Mapping[str, float] | None = None,
) -> Measured:
    """Turn a typed reading into a quantity.

    Value = reading - zero offset - tare. The step leaves resolution / sqrt(12); where the start was read off the
    instrument too, that counts twice (in quadrature).

    Args:
        reading: what was typed.
        kind: what it measures.
        plausible: the range in which the value is taken without asking.
        confirmed: true when the teacher was asked and says the value is right.
        own: further units by name, each with its size [m, kg or s].
    Returns:
        The quantity [SI unit of its kind] and the typed value.
    Errors:
        ``not_positive`` for less than zero, and for zero where the plausible range does not begin there;
        ``resolution_not_positive``; ``unlikely_reading`` (asks) outside the plausible range;
        all errors of ``units.parse``.
    Source:
        JCGM 100:2008, F.2.2.1.
    """
    if kind is Kind.AREA:
        return _area(reading, plausible, confirmed, own)
    typed = units.parse(reading.text, kind, own=own)
    resolution = units.parse(reading.resolution_text, kind, typed.unit, own).si
    if not resolution > 0:
        raise GirderError("resolution_not_positive", "The instrument's step must be more than zero.")
    start_texts = [text for text in (reading.zero_text, reading.tare_text) if text.strip()]
    start = math.fsum(units.parse(text, kind, typed.unit, own).si for text in start_texts)
    value = typed.si - start
    if value < 0 or (value == 0 and plausible.low > 0):
        raise GirderError(
            "not_positive",
            f"{plausible.what.capitalize()} comes out as {format_value(value, kind)}; it must be more than zero. "
            "Check the reading and where the instrument started.",
            value=value,
        )
    _ask_about(value, _as_typed(typed), kind, plausible, confirmed)
    # A count has no instrument whose last digit would be in doubt.
    doubt = 0.0 if kind is Kind.COUNT else resolution_uncertainty(resolution) * (math.sqrt(2) if start_texts else 1)
    return Measured(Quantity(value, doubt), typed)


def plausibly(
    quantity: Quantity, kind: Kind, plausible: Plausible, confirmed: bool = False, system: System | None = None
) -> Quantity:
    """A quantity that an instrument gave with an uncertainty of its own, asked about where it is unlikely.

    Args:
        quantity: it [SI].
        kind: what it measures.
        plausible: the range in which the value is taken without asking.
        confirmed: true when the teacher was asked and says the value is right.
        system: the reader's units.
    Returns:
        The same quantity.
    Errors:
        ``unlikely_reading`` (asks) outside the plausible range.
    """
    _ask_about(quantity.value, format_value(quantity.value, kind, system), kind, plausible, confirmed)
    return quantity


def _area(reading: TypedReading, plausible: Plausible, confirmed: bool, own: Mapping[str, float] | None) -> Measured:
    """An area from the lengths of a shape; the step is that of the ruler."""
    step = units.parse(reading.resolution_text, Kind.LENGTH, "mm", own).si
    if not step > 0:
        raise GirderError("resolution_not_positive", "The ruler's step must be more than zero.")
    area = outline(reading.text, step, own, nothing=plausible.low <= 0).area
    unit = "cm²"
    typed = TypedValue(reading.text, area.value / units.si_per(unit, Kind.AREA), unit, area.value)
    _ask_about(area.value, format_value(area.value, Kind.AREA), Kind.AREA, plausible, confirmed)
    return Measured(area, typed)


def _ask_about(value: float, words: str, kind: Kind, plausible: Plausible, confirmed: bool) -> None:
    """Ask about a value that lies outside what is likely."""
    if plausible.low <= value <= plausible.high or confirmed:
        return
    known = plausible.agreed or (
        f"Most are between {format_value(plausible.low, kind)} and {format_value(plausible.high, kind)}."
    )
    raise NeedsConfirmation(
        "unlikely_reading",
        f"{words} for {plausible.what}? {known} Check the unit, or say that it is right.",
        value=value,
    )


def weighed_unit(batch_kg: float, batch_amount: float, step_kg: float) -> Quantity:
    """What one unit of a material weighs, from a batch of it on a scale.

    Args:
        batch_kg: what the scale showed [kg].
        batch_amount: how much lay on it, in units of the material (sheets, metres, sticks).
        step_kg: the scale's step [kg].
    Returns:
        The mass of one unit [kg].
    Errors:
        ``amount_negative`` where the batch or the step is not more than zero.
    """
    if not (0 < batch_amount < math.inf and 0 < step_kg < math.inf):
        raise GirderError("amount_negative", "The weighed batch and the scale's step must be more than zero.")
    return Quantity(batch_kg, resolution_uncertainty(step_kg)) / batch_amount


def repeated(readings: Sequence[Quantity]) -> Quantity:
    """One reading, or several of the same thing taken one after the other.

    Args:
        readings: each with the uncertainty of its instrument, in one SI unit; at least one.
    Returns:
        Their mean. Its uncertainty is the standard error of the mean and the instrument's own, which repeating
        does not lessen, in quadrature.
    Errors:
        ``no_readings``.
    Source:
        JCGM 100:2008, 4.2.3 (type A) and 4.3.7 (type B).
    """
    if not readings:
        raise GirderError("no_readings", "There is no reading yet.")
    if len(readings) == 1:
        return readings[0]
    n = len(readings)
    mean = math.fsum(reading.value for reading in readings) / n
    scatter = math.fsum((reading.value - mean) ** 2 for reading in readings) / (n - 1) / n
    instrument = max(reading.standard_uncertainty for reading in readings)
    return Quantity(mean, math.sqrt(scatter + instrument**2))


def _as_typed(typed: TypedValue) -> str:
    return f"{typed.value:,.6g} {typed.unit}".replace(",", " ").strip()
