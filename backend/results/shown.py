"""What Compare shows, put together for whoever serializes it. Nothing here writes."""

from __future__ import annotations

from typing import Any

from designs.models import Design
from girder_core.measure import System
from girder_core.results import (
    Rules,
    after_penalty,
    counts_as,
    like_with_like,
    places_text,
    retests,
    rule_matters,
)
from results.reasons import Reasons
from results.selectors import ComparedRun


def shown_comparison(
    compared_run: ComparedRun, rules: Rules, official: bool, words: dict[str, str], system: System
) -> dict[str, Any]:
    """A comparison as the screen and the board show it."""
    comparison = compared_run.comparison

    def head(design: Design) -> dict[str, Any]:
        return {"design": design.pk, "version": design.version, "team": design.team}

    return {
        "school": rules.school.value,
        "trial_rule": rules.trial_rule.value,
        "official": official,
        "headline": comparison.headline,
        "again": comparison.again,
        "explanation": comparison.explanation,
        "ranked": [
            {
                **head(compared_run.card(place).design),
                "place": place.place,
                "places": places_text(place),
                "shared": place.shared,
                "ranks": place.ranks,
                "score": place.score,
                "words": place.words(rules, system),
                "penalty": after_penalty(place.score, place.entry.breaches, rules, system),
                "counts_as": counts_as(place.score, rules, system),
                "mode": compared_run.card(place).how or None,
                "against_next": place.against_next,
                "prospect": place.prospect,
            }
            for place in comparison.places
        ],
        "unranked": [
            {**head(compared_run.cards[entry.key].design), "code": reason.code, "sentence": reason.sentence}
            for entry, reason in comparison.unranked
        ],
        "voids": [
            {
                **head(card.design),
                "trial": trial.trial.pk,
                "number": trial.trial.number,
                "reason": words.get(trial.result.reason or "", ""),
                "load_on_kg": trial.result.load_on.value,
            }
            for card, trial in compared_run.voids
        ],
        "differences": [
            {
                "design": int(difference.key),
                "says": difference.says,
                "decides": difference.decides,
                "mend": difference.mend,
            }
            for difference in like_with_like(comparison, system)
        ],
        "retests": retests(comparison, rules, system),
        "scatter": comparison.scatter,
        "rule_matters": rule_matters(rules, [card.results() for card in compared_run.cards.values()]),
    }


def shown_reasons(reasons: Reasons, factor_name: str, words: dict[str, str]) -> dict[str, Any]:
    """The reasons as the screen shows them; ways of ending by their names."""
    return {
        "factor_name": factor_name,
        "factor": reasons.factor,
        "chosen": [
            {
                "key": choice.key,
                "label": choice.label,
                "kind": choice.kind.value,
                "points": [
                    dict(zip(("design", "value", "score", "at_least"), point, strict=True)) for point in choice.points
                ],
                "says": choice.trend.says,
            }
            for choice in reasons.chosen
        ],
        "teams": reasons.teams,
        "teams_say": reasons.teams_in_all.says,
        "model": reasons.model,
        "model_says": reasons.model_in_all.says,
        "ways": [
            {"label": words.get(way.key, way.key), "count": way.count, "names": way.names} for way in reasons.ways
        ],
        "repeated": reasons.repeated,
        "survival": reasons.survival.steps if reasons.survival else [],
        "median_kg": reasons.survival.median_kg if reasons.survival else None,
        "fit": reasons.fit,
        "fit_says": reasons.fit_says,
    }
