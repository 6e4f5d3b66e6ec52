"""Why a figure of a run is what it is: what was read, counted and agreed, gathered for the core. Nothing writes."""

from __future__ import annotations

import uuid
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from datetime import datetime
from functools import cached_property
from typing import Any

from bench.models import Trial
from bench.selectors import DesignCard, TrialCard, design_card
from challenges.kits import known_of
from challenges.models import Run
from challenges.shown import shown_terms
from designs.models import Design, Reading
from girder_core.families import SELF_MASS, ReadingSpec, fact_origin
from girder_core.ground import Entered, GirderError, Origin
from girder_core.kit import Kit, Known, estimate_origin, item_origin
from girder_core.measure import (
    Kind,
    Quantity,
    System,
    Take,
    TypedReading,
    added_origin,
    reading_origin,
    said_origin,
    units,
    weighed_unit,
)
from girder_core.photo import causes_told
from girder_core.planning import plan_origins
from girder_core.results import (
    BreachPolicy,
    Parts,
    Rules,
    School,
    Score,
    TrialRule,
    score,
    score_origin,
    standing_origins,
)
from girder_core.trial import held_origin
from results.selectors import compared


@dataclass(frozen=True)
class Asked:
    """What figure of a run is asked about, and of what: a design, a trial, a load object, a line of the kit list."""

    run: Run
    figure: str
    of: str
    rules: Rules
    system: System

    @cached_property
    def kit(self) -> Kit:
        return self.run.core_kit()

    @cached_property
    def known(self) -> dict[str, Known]:
        """How the mass of each load object is known."""
        return known_of(self.run.kit)

    @property
    def by(self) -> str:
        """Whose entries they are: a class is one teacher's."""
        return self.run.school_class.owner.name


def _entered(asked: Asked, at: datetime) -> Entered:
    return Entered(asked.by, at.isoformat())


def origin_of(asked: Asked) -> Origin:
    """How the figure came about; ``unknown_figure`` where there is none of that name, or it is not known yet."""
    found = _FIGURES.get(asked.figure, _planned)(asked)
    if found is None:
        raise GirderError("unknown_figure", "There is no such figure here, or it is not known yet.")
    return found


def _standing(asked: Asked) -> Origin | None:
    """Of a ranked design: its result, its place today, and what is expected of it."""
    comparison = compared(asked.run, asked.rules, asked.system)
    places = comparison.comparison.places
    at = next((i for i, place in enumerate(places) if place.entry.key == asked.of), None)
    if at is None:
        return None
    if asked.figure == "result":
        card = comparison.card(places[at])
        return score_origin(places[at].score, asked.rules, _parts(card, asked), asked.system)
    origins = standing_origins(comparison.comparison, at, asked.rules, asked.system)
    return dict(zip(("today", "again", "places", "ahead"), origins, strict=False)).get(asked.figure)


def _parts(card: DesignCard, asked: Asked) -> Parts:
    readings = _readings(card, asked)
    counted = [trial for trial in card.trials if trial.result.scored]
    entered = [_entered(asked, trial.trial.started_at) for trial in counted]
    school = asked.rules.school
    measured = [_measured(trial, asked) for trial in counted if not trial.result.rounds or trial.result.stood]
    return Parts(
        [_held(trial, asked) for trial in counted],
        readings.get(SELF_MASS),
        fact_origin(asked.run.core_family(), school, asked.rules.trial_rule, readings, measured, asked.run.setup),
        [trial.result for trial in counted],
        entered,
    )


def _held(card: TrialCard, asked: Asked) -> Origin:
    entered = _entered(asked, card.trial.started_at)
    return held_origin(f"Trial {card.trial.number}", card.result, asked.kit, asked.known, entered, asked.system)


def _measured(card: TrialCard, asked: Asked) -> dict[str, Origin]:
    """What was measured at the bench in a trial."""
    specs, entered = asked.run.core_family().reading_keys, _entered(asked, card.trial.started_at)
    return {
        key: said_origin(specs[key].label, quantity, specs[key].kind, f"at the bench, trial {card.trial.number}",
                         asked.system, "x", entered)
        for key, quantity in card.result.measures.items()
        if key in specs
    }  # fmt: skip


def _readings(card: DesignCard, asked: Asked) -> dict[str, Origin]:
    """How each reading of a design came about, by key."""
    specs = asked.run.core_family().reading_keys
    return {key: _reading(specs[key], row, asked) for key, row in card.readings.items() if key in specs}


def _reading(spec: ReadingSpec, row: Reading, asked: Asked) -> Origin:
    if row.estimated():
        uses = [(use["name"], use["amount"], _unit_mass(use)) for use in row.materials]
        return added_origin(spec.label, uses, row.quantity(), asked.system, _entered(asked, row.taken_at))
    takes = [
        Take(
            TypedReading(each.text, each.resolution_text, each.zero_text, each.tare_text),
            Quantity(each.value_si, each.standard_uncertainty_si), _entered(asked, each.taken_at),
            "measured in a photo" if each.photographed() else "", causes_told(each.causes, spec.kind, asked.system),
        )
        for each in (*row.repeats, row)
    ]  # fmt: skip
    own = asked.run.own_units(spec.kind)
    return reading_origin(spec.label, takes, row.quantity(), spec.kind, asked.system, own=own)


def _unit_mass(use: Mapping[str, Any]) -> Quantity:
    """What one unit of a material weighs, from the batch as it was typed."""
    batch_kg, step_kg = (units.parse(use[key], Kind.MASS).si for key in ("batch_mass", "scale_resolution"))
    return weighed_unit(batch_kg, use["batch_amount"], step_kg)


def _of_reading(asked: Asked) -> Origin | None:
    design, _, key = asked.of.partition(".")
    card = _card(asked, design)
    return _readings(card, asked).get(key) if card else None


def _card(asked: Asked, design: str) -> DesignCard | None:
    row = Design.objects.select_related("team").filter(run=asked.run, pk=design).first() if design.isdigit() else None
    if row is None:
        return None
    row.run = asked.run
    return design_card(row, asked.run.trial_setup())


def _of_trial(asked: Asked) -> Origin | None:
    try:
        pk = uuid.UUID(asked.of)
    except ValueError:
        return None
    trial = Trial.with_rehearsals.select_related("design__team").filter(design__run=asked.run, pk=pk).first()
    if trial is None:
        return None
    trial.design.run = asked.run
    card = TrialCard(trial, trial.result(asked.run.trial_setup()))
    if asked.figure == "held":
        return replace(_held(card, asked), name=f"Held in trial {trial.number}")
    if asked.figure == "expected":
        return _expected(trial, asked)
    return _ratio(card, asked)


def _expected(trial: Trial, asked: Asked) -> Origin | None:
    estimate = trial.expectation()
    if estimate is None:
        return None
    return estimate_origin(estimate, _entered(asked, trial.started_at), asked.system)


def _ratio(card: TrialCard, asked: Asked) -> Origin | None:
    """What a trial held over the design's own weight, as the bench shows it."""
    design = design_card(card.trial.design, asked.run.trial_setup())
    rules = Rules(School.STRENGTH_TO_WEIGHT, TrialRule.LAST, BreachPolicy.NOTE)
    counted = score([card.result], design.self_mass, rules, False)
    if not isinstance(counted, Score):
        return None
    own = _readings(design, asked).get(SELF_MASS)
    return score_origin(counted, rules, Parts([_held(card, asked)], own), asked.system)


def _of_item(asked: Asked) -> Origin | None:
    items = {item.key: item for item in asked.kit.items}
    return item_origin(items[asked.of], asked.known[asked.of], asked.system) if asked.of in items else None


def _planned(asked: Asked) -> Origin | None:
    shown = shown_terms(asked.run, asked.run.school_class.teams.count(), asked.system)
    return plan_origins(shown.plan, shown.follows, asked.known, asked.system).get(asked.figure)


_FIGURES: Mapping[str, Callable[[Asked], Origin | None]] = {
    **dict.fromkeys(("result", "today", "again", "places", "ahead"), _standing),
    **dict.fromkeys(("held", "ratio", "expected"), _of_trial),
    "reading": _of_reading,
    "item": _of_item,
}
