"""How a prediction and the own weight of a draft came about."""

from __future__ import annotations

import math

from girder_core.drafting.engine import Worked
from girder_core.drafting.model import DraftKind, Param, in_words
from girder_core.ground import Origin, Rule
from girder_core.measure import Kind, System, format_mass, format_value
from girder_core.physics import Bounds, Calibration, LimitState, Samples, Stock

PREDICTED = Rule(
    "in each sample of what is not known exactly, the load at which the first thing gives way; the model's own error "
    "widens it, and eight in ten lie between the ends",
    "F = min(F₁, F₂, …)",
    "Predictions",
)
WEIGHED = Rule("what goes into it, by its size, thickness and density", "w = Σ ρᵢ · Vᵢ", "Drafting")
_MEGA, _GIGA = 1e6, 1e9


def draft_origins(
    kind: DraftKind, worked: Worked, calibration: Calibration | None = None, system: System = System.METRIC
) -> dict[str, Origin]:
    """How the figures of a draft came about.

    Args:
        kind: the kind of draft.
        worked: the draft, worked out.
        calibration: the class's experience, where it was applied.
        system: the reader's units.
    Returns:
        By name: ``prediction``, where there is one, and ``mass``.
    """
    params = tuple(_param(param, worked, system) for param in kind.params if param.counts(worked.values.words))
    stocks = tuple(origin for stock in worked.values.stocks.values() for origin in _stock(stock, system))
    mass = worked.expected.mass_kg
    origins = {"mass": Origin("Own weight", format_mass(mass, system), "w", mass, WEIGHED, (*params, *stocks))}
    prediction = worked.expected.prediction
    if prediction is None:
        return origins
    push = kind.pushes(worked.values.words)
    states = tuple(
        _state(state, f"F{i}", push, system) for i, state in enumerate(prediction.limit_states, start=1)
    )  # fmt: skip
    low, typical, high = (
        in_words(load, push, system) for load in (prediction.low_n, prediction.typical_n, prediction.high_n)
    )
    origins["prediction"] = Origin(
        "It gives way", f"{low} to {high}, typically {typical}", "F", prediction.typical_n, PREDICTED,
        (*states, _error(kind, prediction.correction, calibration), *params, *stocks, _samples()),
        note=f"The weakest is first: {prediction.governing.name}.",
    )  # fmt: skip
    return origins


def _state(state: LimitState, symbol: str, push: bool, system: System) -> Origin:
    low, typical, high = (in_words(load, push, system) for load in (state.low_n, state.typical_n, state.high_n))
    first = f" It comes first in {state.share:.0%} of the samples." if state.share > 0 else ""
    return Origin(
        state.name, f"{low} to {high}, typically {typical}", symbol, state.typical_n,
        source=f"formula: {state.source}", note=f"{state.explanation}{first}",
    )  # fmt: skip


def _samples() -> Origin:
    count = Samples().count
    return Origin(
        "Samples", f"{count:,}".replace(",", " "), "", float(count), source="by dice that fall alike each time"
    )


def _error(kind: DraftKind, correction: float, calibration: Calibration | None) -> Origin:
    if calibration is None:
        return Origin("The model's own error", f"{math.exp(kind.errs_log):.2g} times too much or too little", "e",
                      kind.errs_log, source="for this kind of draft; order of magnitude")  # fmt: skip
    whose = f"from {calibration.count} of your designs" if calibration.count else "from your other classes"
    return Origin("What designs in your classes held of the model", f"{correction:.2f} times", "e", correction,
                  source=whose, note=calibration.says("designs"))  # fmt: skip


def _param(param: Param, worked: Worked, system: System) -> Origin:
    values = worked.values
    if param.forms:
        stock = values.stocks[param.key]
        return Origin(param.label, stock.name, source="measured here" if stock.measured else "from its card")
    if param.kind is None:
        label = next(option.label for option in param.options if option.key == values.words[param.key])
        return Origin(param.label, label, source="as chosen")
    figure = values.numbers[param.key]
    source = "the usual" if figure == param.default else "as typed or measured"
    return Origin(param.label, format_value(figure, param.kind, system), "", figure, source=source)


def _stock(stock: Stock, system: System) -> tuple[Origin, ...]:
    def ranged(name: str, bounds: Bounds, per: float, unit: str) -> Origin:
        low, typical, high = (f"{value / per:.3g}" for value in (bounds.low, bounds.typical, bounds.high))
        return Origin(f"{name} of {stock.name}", f"{low} to {high} {unit}, typically {typical}", "", bounds.typical,
                      source=bounds.source or "measured here")  # fmt: skip

    thick = [
        format_value(value, Kind.LENGTH, system)
        for value in (stock.thickness_m.low, stock.thickness_m.typical, stock.thickness_m.high)
    ]
    return (
        Origin(f"Thickness of {stock.name}", f"{thick[0]} to {thick[2]}, typically {thick[1]}", "",
               stock.thickness_m.typical, source=stock.thickness_m.source or "measured here"),
        ranged("Density", stock.density_kg_m3, 1.0, "kg/m³"),
        ranged("Stiffness", stock.elastic_modulus_pa, _GIGA, "GPa"),
        ranged("Strength squeezed", stock.compression_pa, _MEGA, "MPa"),
        ranged("Strength pulled", stock.tension_pa, _MEGA, "MPa"),
    )  # fmt: skip
