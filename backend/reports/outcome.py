"""What stands on paper after the tests: the run report, the results board for the wall, a summary for each team."""

from __future__ import annotations

import base64
import math
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from bench.selectors import DesignCard, cards_of
from challenges.kits import material_of
from challenges.models import Run
from designs.models import Photo
from designs.photo_services import bytes_of
from girder_core.measure import System, format_mass
from girder_core.results import (
    Chart,
    FactorEffect,
    Place,
    School,
    after_penalty,
    again,
    amount,
    best_load,
    class_gain_of,
    counts_as,
    footnotes,
    gain_in_words,
    like_with_like,
    places_text,
    retests,
    scoring,
    with_doubt,
)
from girder_core.trial import ledger, with_mark
from people.models import Team
from reports.chart_svg import chart_svg
from reports.drawing_svg import fitted
from reports.footnotes import Footnote, footnoted
from reports.sheets import Context
from results.drawn import RankingCharts, gains_chart, ranking_charts, reason_charts
from results.reasons import reasons_of
from results.selectors import ComparedRun, compared, with_gains

MOST_PHOTOS = 12
PAPER_ROW = 47.0
"""Height of a design in the ranking on paper, in the units of the chart."""


@dataclass(frozen=True)
class Outcome:
    """A run that is written up: what was compared, and the units in which it is told."""

    run: Run
    ranking: ComparedRun
    cards: list[DesignCard]
    system: System


def outcome_of(run: Run, system: System) -> Outcome:
    """A run as its papers need it, under its official rules."""
    cards = with_gains(cards_of(run), run.rules())
    return Outcome(run, compared(run, run.rules(), system, cards), cards, system)


def _row(about: Outcome, place: Place) -> dict[str, Any]:
    card = about.ranking.card(place)
    best = best_load(card.results())
    return {
        "places": places_text(place),
        "team": card.design.team,
        "version": card.design.version,
        "words": place.words(about.run.rules(), about.system),
        "penalty": after_penalty(place.score, place.entry.breaches, about.run.rules(), about.system),
        "counts_as": counts_as(place.score, about.run.rules(), about.system),
        "held": format_mass(best.held_kg, about.system) if best else "–",
        "between": _between(best.interval.low, best.interval.high, about.system) if best else "–",
        "own": _own_weight(about, card),
        "trials": place.score.trials,
        "how": card.how,
        "against": place.against_next.reason if place.against_next else "",
    }


def _between(low: float, high: float, system: System) -> str:
    return f"above {format_mass(low, system)}" if math.isinf(high) else (
        f"{format_mass(low, system)} to {format_mass(high, system)}"
    )  # fmt: skip


def _own_weight(about: Outcome, card: DesignCard) -> str:
    return with_doubt(card.self_mass, about.system) if card.self_mass else "not taken"


def _teams(about: Outcome) -> dict[str, Team]:
    """The team of each design, by key."""
    return {str(card.design.pk): card.design.team for card in about.cards}


def _drawn(about: Outcome, chart: Chart | None, width: float = 178.0, most: float = 400.0) -> str:
    return chart_svg(chart, _teams(about), width, most) if chart else ""


def _charts(about: Outcome) -> RankingCharts:
    return ranking_charts(about.run, about.ranking, about.run.rules(), about.system, PAPER_ROW)


def _levels(about: Outcome, effect: FactorEffect | None) -> list[dict[str, Any]]:
    return [
        {
            "name": level.name,
            "who": ", ".join(member.name for member in level.members),
            "count": len(level.members),
            "mean": ("at least " if level.at_least else "") + amount(level.mean.mean, about.run.rules(), about.system)
            if level.mean
            else "–",
        }
        for level in (effect.levels if effect else ())
    ]


def _pictured(photos: Iterable[Photo], most: int) -> list[dict[str, str]]:
    """Photographs as they stand in a document; one whose file is gone is left out."""
    shown: list[dict[str, str]] = []
    for photo in photos:
        data = bytes_of(photo) if len(shown) < most else None
        if data is not None:
            source = f"data:image/jpeg;base64,{base64.b64encode(data).decode()}"
            what = photo.caption[:1].lower() + photo.caption[1:] or photo.get_what_display()
            shown.append({"data": source, "of": photo.design.team.name, "what": what})
    return shown


def _report(page: Context, about: Outcome) -> Context:
    comparison, rules = about.ranking.comparison, about.run.rules()
    reasons = reasons_of(about.run, about.ranking, rules)
    photos = [photo for card in about.cards for photo in card.design.seen_photos()]
    drawn = reason_charts(about.run, about.ranking, reasons, rules, about.system)
    compared_charts = _charts(about)
    return {
        "drawing": fitted(page["_shown"].drawing, 150, 70, about.system),
        "headline": comparison.headline,
        "again": comparison.again,
        "explanation": comparison.explanation,
        "rows": [_row(about, place) for place in comparison.places],
        "unranked": [(entry.name, reason.sentence) for entry, reason in comparison.unranked],
        "ranking": _drawn(about, compared_charts.ranking if comparison.places else None),
        "ranking_means": compared_charts.ranking.legend,
        "rays": _drawn(about, compared_charts.rays, 115.0),
        "rays_mean": compared_charts.rays.legend if compared_charts.rays else "",
        "factor": reasons.factor,
        "levels": _levels(about, reasons.factor),
        "strip": _drawn(about, drawn.factor if reasons.factor and reasons.factor.best else None),
        "strip_means": drawn.factor.legend if drawn.factor else "",
        "charts": [
            (chart, _drawn(about, chart, 150.0)) for chart in (drawn.foresight, drawn.endings, drawn.survival) if chart
        ],
        "class_gain": class_gain_of([card.gain for card in about.cards if card.gain]).says,
        "gains": _gains(about),
        "factor_name": about.run.factor["name"] if about.run.factor else "",
        "chosen": [chosen.trend.says for chosen in reasons.chosen],
        "versions": _drawn(about, gains_chart(about.cards), 95.0),
        "differences": like_with_like(comparison, about.system),
        "retests": retests(comparison, rules, about.system),
        "photos": _pictured(photos, MOST_PHOTOS),
        "photos_left": max(0, len(photos) - MOST_PHOTOS),
        "scatter": comparison.scatter,
        "belief_basis": comparison.belief.basis,
        "belief_percent": round(100 * comparison.belief.typical),
        "footnotes": _footnotes(about),
        "rules": f"{ledger.RULE_VERSION}, {scoring.RULE_VERSION}, {again.RULE_VERSION}",
        "goal_changes": [change.reason for change in about.run.goal_changes.all()],
        "loaded": about.run.core_family().loaded,
    }


def _board(page: Context, about: Outcome) -> Context:
    return {
        "headline": about.ranking.comparison.headline,
        "again": about.ranking.comparison.again,
        "explanation": about.ranking.comparison.explanation,
        "ranking": _drawn(about, _charts(about).ranking if about.ranking.comparison.places else None, 255.0, 98.0),
        "gains": _gains(about),
        "footnotes": _footnotes(about),
        "passes": about.run.rules().school is School.THRESHOLD,
    }


def _footnotes(about: Outcome) -> list[Footnote]:
    return footnoted(footnotes(about.run.rules()))


def _gains(about: Outcome) -> list[dict[str, Any]]:
    """What each later version gained."""
    return [
        {
            "name": card.design.team.name,
            "version": card.design.version,
            "changed": card.design.changed,
            "words": with_mark(gain_in_words(card.gain), card.unconfirmed),
        }
        for card in about.cards
        if card.gain
    ]


def _summaries(page: Context, about: Outcome) -> Context:
    places = {about.ranking.card(place).design.team_id: place for place in about.ranking.comparison.places}
    by_team: dict[int, list[DesignCard]] = {}
    for card in about.cards:
        by_team.setdefault(card.design.team_id, []).append(card)
    sheets = []
    for team, versions in by_team.items():
        place = places.get(team)
        sheets.append(
            {
                "team": versions[0].design.team,
                "row": _row(about, place) if place else None,
                "versions": [_version(about, card) for card in versions],
                "answers": [answer for card in versions for answer in card.design.reflections.all()],
                "photos": _pictured((photo for card in versions for photo in card.design.seen_photos()[:2]), 4),
            }
        )
    saying = about.run.core_family().saying([material_of(kept) for kept in about.run.materials])
    return {
        "sheets": sheets,
        "headline": about.ranking.comparison.headline,
        "hints": not about.run.hints_hidden,
        # It answers the question of the day, so it stands on the sheets for after the test, and on no other.
        "why_so": saying.young if about.run.young else saying.older,
    }


def _version(about: Outcome, card: DesignCard) -> dict[str, Any]:
    modes = {mode.key: mode for mode in about.run.core_family().failure_modes}
    ended = [trial.result for trial in card.trials if trial.result.scored]
    last = modes.get(ended[-1].mode or "") if ended else None
    return {
        "number": card.design.version,
        "changed": card.design.changed,
        "note": card.design.note,
        "gain": with_mark(gain_in_words(card.gain), card.unconfirmed) if card.gain else "",
        "own": _own_weight(about, card),
        "said": card.prediction.words() if card.prediction else "",
        "trials": [
            {
                "number": trial.trial.number,
                "held": ("at least " if trial.result.interval and trial.result.interval.open_above else "")
                + format_mass(trial.result.held.value, about.system)
                if trial.result.loaded
                else "",
                "how": with_mark(trial.how or trial.result.outcome.value, trial.unconfirmed),
            }
            for trial in card.trials
        ],
        "questions": last.redesign if last else (),
    }


OUTCOMES: Mapping[str, Callable[[Context, Outcome], Context]] = {
    "report": _report,
    "board": _board,
    "summaries": _summaries,
}
"""Every paper that a run has once it is tested, and what it needs besides the common context."""
