"""How far a structure came down, or leaned, under each load: what was measured beside what the model says."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from girder_core.ground import GRAVITY_M_S2
from girder_core.measure import COVERAGE_FACTOR, Kind, Quantity, System, format_mass, units
from girder_core.results.charting import Axis, Chart, Drawn, Ink, line, scale, ticks, write

_W, _H, _LEFT, _RIGHT, _TOP, _FOOT = 560.0, 330.0, 78.0, 22.0, 40.0, 24.0


@dataclass(frozen=True)
class Went:
    """How far something had gone under a load: the load [kg], and the way [m]."""

    load_kg: float
    way: Quantity


def motion_chart(
    key: str,
    label: str,
    went: Sequence[Went],
    gives: tuple[float, float, float] | None,
    system: System = System.METRIC,
    may_draft: bool = False,
) -> Chart | None:
    """Load against the way that something went, beside the model's line.

    Args:
        key: stable name of what was measured.
        label: what it is called.
        went: the readings in order.
        gives: how far the model says that it goes for each newton, with the loosest, usual and stiffest stock [m/N];
            None where it says nothing.
        system: units for masses and lengths.
        may_draft: whether a draft would say something, and none is kept.
    Returns:
        The chart; None where nothing was measured under a load.
    """
    loaded = [one for one in went if one.load_kg > 0]
    if not loaded:
        return None
    us = system is System.US
    loads = Axis(units.si_per("lb", Kind.MASS), "lb") if us else Axis(1.0, "kg")
    ways = Axis(units.si_per("in", Kind.LENGTH), "in") if us else Axis(0.001, "mm")
    most_kg = 1.1 * max(one.load_kg for one in loaded)
    reach = [one.way.value + COVERAGE_FACTOR * one.way.standard_uncertainty for one in loaded]
    most_m = 1.15 * max([*reach, most_kg * GRAVITY_M_S2 * gives[1] if gives else 0.0, 1e-6])

    def x(kg: float) -> float:
        return _LEFT + kg / most_kg * (_W - _LEFT - _RIGHT)

    def y(way: float) -> float:
        return _H - _FOOT - min(max(way, 0.0), most_m) / most_m * (_H - _FOOT - _TOP)

    drawn = scale(x, most_kg, loads, _TOP, _H - _FOOT)
    for tick in ticks(most_m / ways.unit, 4):
        at = y(tick * ways.unit)
        drawn.append(line(Ink.AXIS if tick == 0 else Ink.GRID, (_LEFT, at), (_W - _RIGHT, at)))
        drawn.append(write(Ink.SOFT, _LEFT - 8, at + 5, f"{tick:g} {ways.symbol}", anchor="end"))
    if gives:
        loosest, usual, stiffest = (_ends(give, most_kg, most_m) for give in gives)
        corner = [(most_kg, most_m)] if loosest[0] < most_kg <= stiffest[0] else []
        fan = [(0.0, 0.0), loosest, *corner, stiffest]
        drawn.append(Drawn("area", Ink.SPREAD, tuple((x(kg), y(way)) for kg, way in fan)))
        drawn.append(line(Ink.FITTED, (x(0), y(0)), (x(usual[0]), y(usual[1]))))
    for one in loaded:
        off = COVERAGE_FACTOR * one.way.standard_uncertainty
        drawn.append(line(Ink.AXIS, (x(one.load_kg), y(one.way.value - off)), (x(one.load_kg), y(one.way.value + off))))
        drawn.append(Drawn("circle", Ink.TRIAL, ((x(one.load_kg), y(one.way.value)),), 5.5))
    latest = loaded[-1]
    legend = "● measured, with how far off it may be."
    if gives:
        legend += " Dashed: the model with its usual stock; hatched: from its loosest to its stiffest."
    return Chart(
        key, f"{label} under each load", _says(label, latest, gives, system, may_draft), legend,
        f"{label} against the load",
        _W, _H, tuple(drawn), ("Load", label, *(("The model",) if gives else ())),
        tuple(
            (format_mass(one.load_kg, system), _told(one.way, system),
             *((_length(one.load_kg * GRAVITY_M_S2 * gives[1], system),) if gives else ()))
            for one in went
        ),
    )  # fmt: skip


def _ends(give: float, most_kg: float, most_m: float) -> tuple[float, float]:
    """Where a straight line leaves the chart: at its right edge, or at its top [kg, m]."""
    way = most_kg * GRAVITY_M_S2 * give
    return (most_kg, way) if way <= most_m else (most_kg * most_m / way, most_m)


def _length(way: float, system: System) -> str:
    return units.typed_text(round(way, 5), Kind.LENGTH, system)


def _told(way: Quantity, system: System) -> str:
    return f"{_length(way.value, system)} ± {_length(COVERAGE_FACTOR * way.standard_uncertainty, system)}"


def _says(label: str, latest: Went, gives: tuple[float, float, float] | None, system: System, may_draft: bool) -> str:
    said = f"{label}: {_told(latest.way, system)} under {format_mass(latest.load_kg, system)}."
    if gives is None and may_draft:
        return f"{said} Keep a draft of this design, and what the model says stands beside it."
    if gives is None:
        return said
    loosest, usual, stiffest = (latest.load_kg * GRAVITY_M_S2 * give for give in gives)
    off = COVERAGE_FACTOR * latest.way.standard_uncertainty
    if latest.way.value - off > loosest:
        return f"{said} That is more than the model says, {_length(usual, system)}: it is softer, or a joint gives."
    if latest.way.value + off < stiffest:
        return f"{said} That is less than the model says, {_length(usual, system)}: it is stiffer than its stock tells."
    return f"{said} The model says {_length(usual, system)}, and does not differ."
