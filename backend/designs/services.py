"""What can be done with designs up to the bench: one verb per change, each in one transaction."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import asdict
from datetime import date
from typing import Any

from django.db import transaction
from django.utils import timezone

from challenges import services as challenges
from challenges.models import Recipe, Run
from designs.build_services import show_model
from designs.models import Design, Reading, TeamPrediction
from girder_core.families import SELF_MASS, Away, ReadingSpec, Standing, foretells, let_to_bench
from girder_core.ground import GirderError, NeedsConfirmation
from girder_core.kit import read_foretold, read_size
from girder_core.measure import (
    Kind,
    MaterialUse,
    Measured,
    Quantity,
    TypedReading,
    measure,
    self_mass_from_materials,
    units,
    weighed_unit,
)
from girder_core.planning import Factor, assign_levels
from girder_core.results import BreachPolicy, best_load
from people.models import SchoolClass


def open_run(recipe: Recipe, school_class: SchoolClass, day: date) -> Run:
    """Give a recipe to a class, with version 1 of every team's design; ``no_teams`` when the class has none."""
    if not school_class.teams.exists():
        raise GirderError("no_teams", "This class has no teams yet. Add its teams first.")
    if recipe.retired:
        raise GirderError("recipe_retired", "This recipe is retired. Put it back on the list first.")
    with transaction.atomic():
        run = challenges.start_run(recipe, school_class, day)
        add_missing_teams(run)
    return run


def add_missing_teams(run: Run) -> None:
    """Version 1 for each team of the class that has no design in this run."""
    have = run.designs.filter(version=1).count()
    missing = list(run.school_class.teams.exclude(pk__in=run.designs.values("team")))
    levels = [""] * (have + len(missing))
    if run.factor:
        factor = Factor(run.factor["name"], tuple(run.factor["levels"]))
        levels = list(assign_levels(factor, max(1, have + len(missing))).levels)
    Design.objects.bulk_create(
        [Design(run=run, team=team, level=level) for team, level in zip(missing, levels[have:], strict=False)],
        ignore_conflicts=True,
    )


def set_level(design: Design, level: str) -> Design:
    """Give a design another level of the run's factor; ``unknown_level``, ``level_too_late`` once it was tested."""
    if not design.run.factor or level not in design.run.factor["levels"]:
        raise GirderError("unknown_level", "This run's fair test has no such level.")
    if design.trials.exists():
        raise GirderError("level_too_late", "This design has been tested, so its level cannot change any more.")
    design.level = level
    design.save(update_fields=["level"])
    return design


def take_reading(
    design: Design,
    key: str,
    typed: TypedReading,
    confirmed: bool,
    again: bool = False,
    sent_as: uuid.UUID | None = None,
) -> Reading:
    """Record a reading; after the design was tested it is taken too, and marked.

    One taken ``again`` counts together with those before it, any other counts instead of them. ``sent_as`` is the name
    that a device gave it while it could not be sent.
    """
    found = measured(design, key, typed, confirmed)
    return _record(design, key, found.quantity, again=again, sent_as=sent_as, **asdict(typed))


def take_photographed(
    design: Design, key: str, found: Quantity, typed: TypedReading, causes: Mapping[str, float], again: bool = False,
    sent_as: uuid.UUID | None = None,
) -> Reading:  # fmt: skip
    """Record a reading that was measured in a photograph, with what each cause leaves open of it."""
    return _record(design, key, found, again=again, sent_as=sent_as, causes=dict(causes), **asdict(typed))


def spec_of(design: Design, key: str) -> ReadingSpec:
    """The reading of this key that is taken of a design; ``unknown_reading`` where there is none."""
    spec = design.run.core_family().reading_keys.get(key)
    if spec is None:
        raise GirderError("unknown_reading", "This kind of challenge takes no such reading.")
    return spec


def measured(design: Design, key: str, typed: TypedReading, confirmed: bool) -> Measured:
    """What a typed reading of a design means. Errors: ``unknown_reading``, and those of ``measure``."""
    run, family, spec = design.run, design.run.core_family(), spec_of(design, key)
    return measure(typed, spec.kind, family.plausible(spec, run.setup), confirmed, run.own_units(spec.kind))


def estimate_self_mass(
    design: Design, uses: Sequence[Mapping[str, Any]], confirmed: bool, sent_as: uuid.UUID | None = None
) -> Reading:
    """Record an own weight that is added up from materials."""
    mass = added_up(design, uses, confirmed)
    return _record(design, SELF_MASS, mass, materials=[dict(use) for use in uses], sent_as=sent_as)


def added_up(design: Design, uses: Sequence[Mapping[str, Any]], confirmed: bool) -> Quantity:
    """An own weight, added up from materials.

    Each use names a material, an amount, and a weighed batch of it: ``batch_amount`` units weigh ``batch_mass``.
    Errors: ``unknown_reading``, ``unlikely_reading``, and those of units and batches.
    """
    spec = design.run.core_family().reading_keys.get(SELF_MASS)
    if spec is None:
        raise GirderError("unknown_reading", "This kind of challenge takes no own weight.")
    materials = []
    for index, use in enumerate(uses):
        try:
            batch_kg, step_kg = (units.parse(use[key], Kind.MASS).si for key in ("batch_mass", "scale_resolution"))
        except GirderError as error:
            raise GirderError(error.code, error.sentence, fields={f"uses.{index}.batch_mass": error.sentence}) from None
        materials.append(MaterialUse(use["amount"], weighed_unit(batch_kg, use["batch_amount"], step_kg)))
    mass = self_mass_from_materials(materials)
    plausible = spec.plausible
    if not plausible.low <= mass.value <= plausible.high and not confirmed:
        raise NeedsConfirmation(
            "unlikely_reading", f"{units.format_mass(mass.value)} for {plausible.what}? Check amounts and units."
        )
    return mass


def _record(design: Design, key: str, value: Quantity, sent_as: uuid.UUID | None, **typed: Any) -> Reading:
    """Write a reading down; one that is here already, by the name it was ``sent_as``, stays the one."""
    with transaction.atomic():
        tested = any(result.scored for result in design.results())
        row = {
            "design": design,
            "key": key,
            "value_si": value.value,
            "standard_uncertainty_si": value.standard_uncertainty,
            "after_test": tested,
            **typed,
        }
        if sent_as is None:
            return Reading.objects.create(**row)
        return Reading.objects.get_or_create(sent_as=sent_as, defaults=row)[0]


def answer(design: Design, answers: Mapping[str, bool]) -> Design:
    """Record answers to the family's yes-or-no checks; those not named stay as they were."""
    known = {question.key for question in design.run.core_family().questions}
    if unknown := set(answers) - known:
        raise GirderError("unknown_question", f"This kind of challenge does not ask “{sorted(unknown)[0]}”.")
    with transaction.atomic():
        locked = Design.objects.select_for_update().get(pk=design.pk)
        locked.answers = {**locked.answers, **answers}
        locked.save(update_fields=["answers"])
    design.answers = locked.answers
    return design


def note_controls(design: Design, broken: Sequence[str]) -> Design:
    """Note which of the fair test's controls were not kept; ``unknown_control`` for one the run does not name."""
    if unknown := set(broken) - set(design.run.controls):
        raise GirderError("unknown_control", f"This run does not keep “{sorted(unknown)[0]}” the same.")
    design.controls_broken = [control for control in design.run.controls if control in broken]
    design.save(update_fields=["controls_broken"])
    return design


def predict(design: Design, text: str) -> TeamPrediction:
    """Record what the team says; refused once a trial has something on it, or it would be no prediction."""
    run = design.run
    told, others = foretells(run.core_family(), run.setup), _came_to(design)
    if told:
        foretold = read_size(text, told.kind, told.example(run.system()), others)
    else:
        counts = run.young or run.core_family().bench.counts_pieces
        foretold = read_foretold(text, run.core_kit(), others, counts)
    if any(result.begun for result in design.results()):
        raise GirderError("prediction_too_late", "The test has begun; a prediction comes before it.")
    amount = {"size": foretold.amount} if told else {"load_kg": foretold.amount}
    said = TeamPrediction.objects.create(
        design=design, text=text, relation=foretold.relation.value, than=foretold.than, **amount
    )
    if design.drafts.exists():
        # From now on the model's range stands beside it.
        show_model(design)
    return said


def _came_to(design: Design) -> dict[str, float | None]:
    """The most that each other team of the run held so far [kg], or came to where nothing is loaded [SI]; None for one
    without a result."""
    run = design.run
    told, setup = foretells(run.core_family(), run.setup), run.trial_setup()
    others = run.designs.exclude(team=design.team_id).select_related("team").prefetch_related("trials__events")
    came: dict[str, float | None] = {}
    for other in others.order_by("version"):
        results = [trial.result(setup) for trial in other.trials.all()]
        reached, best = (told.came_to(results) if told else None), best_load(results)
        amount = reached.low if reached else best.held_kg if best and not told else None
        came[other.team.name] = came.get(other.team.name) if amount is None else amount
    return came


def check_in(design: Design) -> Design:
    """Let a design to the bench; errors as ``families.let_to_bench``."""
    run = design.run
    let_to_bench(run.core_family(), run.setup, design.quantities(), design.answers, BreachPolicy(run.breach_policy))
    if design.checked_in_at is None:
        design.checked_in_at = timezone.now()
        design.save(update_fields=["checked_in_at"])
    # Whoever is checked in is here.
    return set_away(design, "") if design.away else design


def set_away(design: Design, away: str) -> Design:
    """Say that a design's team is not here today, or does not go on with it; empty for one that is tested after all."""
    design.away = Away(away).value if away else ""
    design.away_since = timezone.now() if away else None
    design.save(update_fields=["away", "away_since"])
    return design


def note(design: Design, text: str) -> Design:
    """Write down what the team tried."""
    design.note = " ".join(text.split())
    design.save(update_fields=["note"])
    return design


def next_version(design: Design, changed: str) -> Design:
    """Open the version after this one; it must be tested and say what changes."""
    changed = " ".join(changed.split())
    if not changed:
        sentence = "Say what changes. One thing at a time tells most."
        raise GirderError("change_missing", sentence, fields={"changed": sentence})
    standing = Standing(
        design.run.core_family(), design.checked_in_at is not None, design.quantities(), design.results()
    )
    if not standing.tested:
        raise GirderError("not_tested", "Test this version first; then there is something to improve.")
    with transaction.atomic():
        Run.objects.select_for_update().get(pk=design.run_id)
        latest = Design.objects.filter(run=design.run, team=design.team).order_by("-version")[0]
        if latest.pk != design.pk:
            raise GirderError("not_latest", "There is a later version of this team already.")
        return Design.objects.create(
            run=design.run, team=design.team, version=design.version + 1, parent=design, changed=changed,
            level=design.level,
        )  # fmt: skip
