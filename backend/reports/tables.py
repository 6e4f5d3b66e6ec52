"""The tables of a run: results, one row per trial, and the ledger, one row per event. SI units in the headers."""

from __future__ import annotations

import math
from collections.abc import Iterator

from bench.selectors import design_card, designs_of
from challenges.models import Run
from challenges.shown import ShownPlan
from girder_core.measure import Kind, System, strength_to_weight
from girder_core.results import Candidate, Place, Score, again, score_all, scoring
from girder_core.trial import ledger, lines
from results.selectors import compared

RESULTS_HEADER = [
    "run", "class", "date", "team", "version", "trial", "outcome", "held_kg", "held_standard_uncertainty_kg",
    "broke_at_kg", "strength_low_kg", "strength_high_kg", "last_step_kg", "pieces_held", "survived_low",
    "survived_high", "throws", "hits", "measured_at_bench", "arrangement", "confirmed", "failure_or_reason", "signs",
    "self_mass_standard_uncertainty_kg", "self_mass_after_test", "times_own_weight", "team_prediction_kg",
    "team_prediction_size", "breaches",
    "design_score", "design_score_school", "place_best", "place_worst", "wins_again_share", "true_place_best",
    "true_place_worst", "ahead_of_next_again_share", "passes_again_share", "goal_changed_because", "factor_level",
    "what_changed", "note",
    "rule_version",
]  # fmt: skip
_READINGS_BEFORE = RESULTS_HEADER.index("self_mass_standard_uncertainty_kg")
_UNITS = {Kind.LENGTH: "_m", Kind.MASS: "_kg", Kind.TIME: "_s", Kind.FREQUENCY: "_hz", Kind.COUNT: "",
          Kind.AREA: "_m2", Kind.VOLUME: "_m3"}  # fmt: skip
LEDGER_HEADER = ["run", "class", "team", "version", "trial", "sequence", "event", "kind", "item", "count", "step_kg",
                 "detail", "note", "stands", "author", "happened_at", "received_at"]  # fmt: skip


def results_header(run: Run) -> list[str]:
    """The columns of the results: those of every run, with the readings of its family among them."""
    family = run.core_family()
    named = [(spec.key, spec.kind) for spec in family.readings] + [(each.key, each.kind) for each in family.derived]
    readings = [f"{key}{_UNITS[kind]}" for key, kind in named]
    return [*RESULTS_HEADER[:_READINGS_BEFORE], *readings, *RESULTS_HEADER[_READINGS_BEFORE:]]


def result_rows(run: Run) -> Iterator[list[object]]:
    """One row per trial; a design without a trial has one row with its readings."""
    setup, rules, words = run.trial_setup(), run.rules(), run.core_family().words()
    arrangements = {known.key: known.label for known in run.core_family().bench.arrangements}
    cards = [design_card(design, setup) for design in designs_of(run)]
    broken = [[result.sentence for result in card.constraints if result.status == "breached"] for card in cards]
    scores = score_all(
        [
            Candidate(card.results(), card.self_mass, bool(breaches), card.facts(rules.trial_rule))
            for card, breaches in zip(cards, broken, strict=True)
        ],
        rules,
    )
    ranking = compared(run, rules, System.METRIC, cards).comparison
    places = {place.entry.key: place for place in ranking.places}
    changed = "; ".join(change.reason for change in run.goal_changes.all())
    keys = [spec.key for spec in run.core_family().readings]
    for card, breaches, scored in zip(cards, broken, scores, strict=True):
        design = card.design
        readings = {key: reading.quantity().value for key, reading in card.readings.items()}
        worked = {figure.key: figure.quantity.value for figure in card.worked_out}
        mass = card.readings.get("self_mass")
        before = [run.name, run.school_class.name, run.date.isoformat(), design.team.name, design.version]
        after = [
            *(readings.get(key) for key in keys),
            *(worked.get(each.key) for each in run.core_family().derived),
            card.self_mass.standard_uncertainty if card.self_mass else None,
            "yes" if mass and mass.after_test else "no" if mass else None,
        ]
        end = [
            card.prediction.load_kg if card.prediction else None,
            card.prediction.size if card.prediction else None,
            "; ".join(breaches),
            scored.value if isinstance(scored, Score) else None,
            rules.school.value,
            *_standing(places.get(str(design.pk))),
            changed,
            design.level,
            design.changed,
            design.note,
            f"{ledger.RULE_VERSION} {scoring.RULE_VERSION} {again.RULE_VERSION}",
        ]
        if not card.trials:
            yield [*before, None, card.state, *[None] * 16, *after, None, *end]
        for trial in card.trials:
            result = trial.result
            loaded = result.scored and result.loaded
            bounds = result.interval if loaded else None
            levels = result.survived if result.scored else None
            thrown = any(round_.hit is not None for round_ in result.rounds)
            ratio = strength_to_weight(result.held, card.self_mass).value if card.self_mass and loaded else None
            yield [
                *before,
                trial.trial.number,
                result.outcome.value,
                result.held.value if loaded else None,
                result.held.standard_uncertainty if loaded else None,
                result.broke_at.value if result.broke_at else None,
                bounds.low if bounds else None,
                bounds.high if bounds and math.isfinite(bounds.high) else None,
                result.last_step_kg if loaded else None,
                result.pieces_held if loaded else None,
                levels.low if levels else None,
                levels.high if levels and math.isfinite(levels.high) else None,
                len(result.rounds) if thrown else None,
                result.hits if thrown else None,
                "; ".join(f"{key} {quantity.value:.6g}" for key, quantity in result.measures.items()),
                arrangements.get(trial.trial.arrangement),
                None if not trial.trial.by_team else "no" if trial.trial.unconfirmed else "yes",
                words.get(result.mode or result.reason or ""),
                "; ".join(f"{words.get(sign, sign)} at {load:.4f} kg" for sign, load in result.signs),
                *after,
                ratio,
                *end,
            ]


def _standing(place: Place | None) -> tuple[object, ...]:
    """What was measured, and what is to be expected again; nothing for a version that is not compared."""
    if place is None:
        return (None,) * 7
    prospect = place.prospect
    return (
        place.ranks.best, place.ranks.worst, prospect.first, prospect.ranks.best, prospect.ranks.worst, prospect.ahead,
        prospect.passes,
    )  # fmt: skip


def ledger_rows(run: Run) -> Iterator[list[object]]:
    """One row per event, in order, those taken back included: the record shows all that was written, and what of it
    stands. One that was corrected is told as it was written; the entry that corrects it follows."""
    kit, words, setup = run.core_kit(), run.core_family().words(), run.trial_setup()
    masses = {item.key: item.mass.value for item in kit.items}
    for design in designs_of(run):
        for trial in design.trials.all():
            fates = {line.event.id: line.fate.value for line in lines(trial.core_events(), setup)}
            for event in trial.events.all():
                data = event.data
                item, count = data.get("item"), data.get("count")
                key = data.get("mode") or data.get("reason") or data.get("sign")
                typed = next(
                    (str(data[name]) for name in ("event", "sag", "text", "mass", "height", "to") if name in data), ""
                )
                detail = words.get(key, key) if key else " ".join([data.get("key", ""), typed]).strip() or None
                yield [
                    run.name, run.school_class.name, design.team.name, design.version, trial.number, event.sequence,
                    str(event.id), event.kind, item, count,
                    masses[item] * count if item in masses and count else None,
                    detail, data.get("note") or data.get("says") or data.get("why"), fates[str(event.pk)], event.author,
                    event.happened_at.isoformat(), event.received_at.isoformat(),
                ]  # fmt: skip


KIT_HEADER = ["item", "unit", "per_team_final", "per_team_practice", "all_teams_final", "all_teams_practice",
              "benches_and_class", "spares", "needed", "owned", "pack_size", "packs_to_buy", "left_over",
              "one_weighs_kg"]  # fmt: skip


def kit_rows(shown: ShownPlan) -> Iterator[list[object]]:
    """The kit list, a row per material, then a row per load item with its mass."""
    for line in shown.follows.lines:
        material = line.material
        yield [material.name, material.unit, material.final, material.practice, line.final, line.practice, line.benches,
               line.spares, line.needed, material.owned, material.pack_size, line.packs, line.left_over,
               None]  # fmt: skip
    for item in shown.plan.kit.items if shown.plan.kit else ():
        total = item.count * shown.plan.benches
        yield [item.name, "load", None, None, None, None, total, 0, total, None, None, None, None, item.mass.value]
