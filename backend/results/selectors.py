"""What a run came to, put together from its designs' cards and the core. Nothing here writes."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from bench.selectors import DesignCard, TrialCard, arrangements_used, cards_by_memory
from challenges.models import Run
from girder_core.families import SELF_MASS, Status, counting_version
from girder_core.measure import System
from girder_core.results import (
    Candidate,
    Circumstances,
    Comparison,
    Entry,
    Place,
    Rules,
    Score,
    TrialRule,
    circumstantial,
    compare,
    failures,
    gain,
    needs_trial,
    own_weight_note,
    pooled_cv,
    score_all,
    usual_arrangement,
)
from girder_core.trial import Outcome


def with_gains(cards: list[DesignCard], rules: Rules) -> list[DesignCard]:
    """The cards, each later version with what it gained over the one before."""
    candidates = [Candidate(card.results(), card.self_mass, False, card.facts(rules.trial_rule)) for card in cards]
    scores = {card.design.pk: score for card, score in zip(cards, score_all(candidates, rules), strict=True)}
    loaded = needs_trial(rules)
    scatter = pooled_cv([failures(card.results()) for card in cards]) if loaded else None
    ordered = []
    for card in cards:
        before, after = scores.get(card.design.parent_id or 0), scores[card.design.pk]
        if isinstance(before, Score) and isinstance(after, Score):
            card = replace(card, gain=gain(before, after, scatter, not loaded))
        ordered.append(card)
    return ordered


@dataclass(frozen=True)
class ComparedRun:
    """A run compared, with the cards behind each entry's key."""

    comparison: Comparison
    cards: Mapping[str, DesignCard]
    voids: list[tuple[DesignCard, TrialCard]]

    def card(self, place: Place) -> DesignCard:
        return self.cards[place.entry.key]


def compared(run: Run, rules: Rules, system: System, cards: list[DesignCard] | None = None) -> ComparedRun:
    """Compare a run under given rules, each team by its latest version that was tested."""
    cards = cards_by_memory(run) if cards is None else cards
    by_team: dict[int, list[DesignCard]] = {}
    for card in cards:
        by_team.setdefault(card.design.team_id, []).append(card)
    counting = [versions[counting_version([card.tested for card in versions])] for versions in by_team.values()]
    current = {str(card.design.pk): card for card in counting}
    usual = usual_arrangement(arrangements_used(current.values()))
    entries = [_entry(key, card, rules.trial_rule, usual) for key, card in current.items()]
    return ComparedRun(
        comparison=compare(entries, rules, system),
        cards=current,
        voids=[(card, t) for card in cards for t in card.trials if t.result.outcome is Outcome.VOID],
    )


def _entry(key: str, card: DesignCard, rule: TrialRule, usual: str) -> Entry:
    mass, design = card.readings.get(SELF_MASS), card.design
    names = {known.key: known.label.lower() for known in design.run.core_family().bench.arrangements}
    circumstances = Circumstances(
        [trial.trial.wet_reason for trial in card.trials if trial.trial.wet_reason],
        [trial.trial.arrangement for trial in card.trials if trial.result.scored],
        design.controls_broken,
    )
    return Entry(
        key=key,
        name=design.team.name,
        trials=card.results(),
        self_mass=card.self_mass,
        breaches=tuple(result.sentence for result in card.constraints if result.status is Status.BREACHED),
        gap=card.readings["gap"].quantity() if "gap" in card.readings else None,
        self_mass_note=own_weight_note(mass.after_test, mass.estimated()) if mass else "",
        facts=card.facts(rule),
        remarks=circumstantial(circumstances, usual, names),
    )
