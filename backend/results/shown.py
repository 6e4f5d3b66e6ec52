"""What Compare shows, put together for whoever serializes it. Nothing here writes."""

from __future__ import annotations

from typing import Any

from designs.models import Design
from girder_core.measure import System
from girder_core.results import Rules, amount, like_with_like, places_text, retests, rule_matters
from results.reasons import Reasons
from results.selectors import ComparedRun


def shown_comparison(
    found: ComparedRun, rules: Rules, official: bool, words: dict[str, str], system: System
) -> dict[str, Any]:
    """A comparison as the screen and the board show it."""
    comparison = found.comparison

    def head(design: Design) -> dict[str, Any]:
        return {"design": design.pk, "version": design.version, "team": design.team}

    return {
        "school": rules.school.value,
        "trial_rule": rules.trial_rule.value,
        "official": official,
        "headline": comparison.headline,
        "explanation": comparison.explanation,
        "ranked": [
            {
                **head(found.card(place).design),
                "place": place.place,
                "places": places_text(place),
                "shared": place.shared,
                "ranks": place.ranks,
                "score": place.score,
                "words": amount(place.score.value, rules, system),
                "mode": found.card(place).how or None,
                "against_next": place.against_next,
            }
            for place in comparison.places
        ],
        "unranked": [
            {**head(found.cards[entry.key].design), "code": reason.code, "sentence": reason.sentence}
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
            for card, trial in found.voids
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
        "rule_matters": rule_matters(rules, [card.results() for card in found.cards.values()]),
    }


def shown_reasons(found: Reasons, factor_name: str, words: dict[str, str]) -> dict[str, Any]:
    """The reasons as the screen shows them; ways of ending by their names."""
    return {
        "factor_name": factor_name,
        "factor": found.factor,
        "chosen": [
            {
                "key": one.key,
                "label": one.label,
                "kind": one.kind.value,
                "points": [
                    dict(zip(("design", "value", "score", "at_least"), point, strict=True)) for point in one.points
                ],
                "says": one.trend.says,
            }
            for one in found.chosen
        ],
        "teams": found.teams,
        "teams_say": found.teams_in_all.says,
        "model": found.model,
        "model_says": found.model_in_all.says,
        "ways": [{"label": words.get(way.key, way.key), "count": way.count, "names": way.names} for way in found.ways],
        "repeated": found.repeated,
        "survival": found.survival.steps if found.survival else [],
        "median_kg": found.survival.median_kg if found.survival else None,
        "fit": found.fit,
        "fit_says": found.fit_says,
    }
