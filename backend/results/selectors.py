"""What a run came to, put together from its designs' cards and the core. Nothing here writes."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass, replace

from bench.history import scatter_belief
from bench.selectors import DesignCard, TrialCard, arrangements_used, cards_of
from challenges.models import Run
from girder_core.families import AWAY_WORDS, SELF_MASS, Status, counting_version
from girder_core.measure import System
from girder_core.results import (
    Candidate,
    Circumstances,
    Comparison,
    Entry,
    Facts,
    Gain,
    Place,
    Rules,
    ScatterBelief,
    Score,
    TrialRule,
    Varied,
    circumstantial,
    compare,
    gain,
    own_weight_note,
    pairs_compared,
    score_all,
    usual_arrangement,
    varied_on_purpose,
)
from girder_core.trial import Outcome


def with_gains(cards: list[DesignCard], rules: Rules) -> list[DesignCard]:
    """The cards, each later version with what it gained over the one before."""
    candidates = [
        Candidate(card.results(), card.self_mass, False, card.facts(rules.trial_rule), _each(card, rules.trial_rule))
        for card in cards
    ]
    scores = score_all(candidates, rules)
    # All versions stand in one model: it is the class that says how far designs lie apart and trials scatter.
    told = [i for i, score in enumerate(scores) if isinstance(score, Score)]
    place = {cards[i].design.pk: n for n, i in enumerate(told)}
    pairs = [
        (place[card.design.pk], place[card.design.parent_id])
        for card in cards
        if card.design.pk in place and card.design.parent_id in place
    ]
    if not pairs:
        return cards
    belief = scatter_belief(cards[0].design.run)
    chances = dict(zip(pairs, pairs_compared([candidates[i] for i in told], pairs, rules, belief), strict=True))
    gains: dict[int, Gain] = {}
    for (after, before), (better, ahead) in chances.items():
        parent, child = scores[told[before]], scores[told[after]]
        if isinstance(parent, Score) and isinstance(child, Score):
            gains[cards[told[after]].design.pk] = gain(parent, child, better, ahead)
    return [replace(card, gain=gains.get(card.design.pk, card.gain)) for card in cards]


def _each(card: DesignCard, rule: TrialRule) -> tuple[Facts, ...]:
    """What was measured in each trial that counts, by itself."""
    return tuple(card.facts(rule, (result,)) for result in card.results() if result.scored)


@dataclass(frozen=True)
class ComparedRun:
    """A run compared, with the cards behind each entry's key."""

    comparison: Comparison
    cards: Mapping[str, DesignCard]
    voids: list[tuple[DesignCard, TrialCard]]

    def card(self, place: Place) -> DesignCard:
        return self.cards[place.entry.key]


def compared(
    run: Run,
    rules: Rules,
    system: System,
    cards: list[DesignCard] | None = None,
    belief: ScatterBelief | None = None,
) -> ComparedRun:
    """Compare a run under given rules, each team by its latest version that was tested; pass what is at hand."""
    cards = cards_of(run, whole=False) if cards is None else cards
    by_team: dict[int, list[DesignCard]] = {}
    for card in cards:
        by_team.setdefault(card.design.team_id, []).append(card)
    counting = [versions[counting_version([card.tested for card in versions])] for versions in by_team.values()]
    current = {str(card.design.pk): card for card in counting}
    varied = on_purpose(run)
    usual = _usual_by_level(counting, varied)
    entries = [_entry(key, card, rules.trial_rule, usual[card.design.level], varied) for key, card in current.items()]
    return ComparedRun(
        comparison=compare(entries, rules, system, belief or scatter_belief(run)),
        cards=current,
        voids=[(card, t) for card in cards for t in card.trials if t.result.outcome is Outcome.VOID],
    )


def on_purpose(run: Run) -> frozenset[Varied]:
    """What the run's fair test varies that would else be a difference besides the designs."""
    if not run.factor:
        return frozenset()
    ways = {way.key: f"{way.label} {way.explanation}" for way in run.core_family().bench.arrangements}
    return varied_on_purpose(run.factor["name"], run.factor["levels"], ways)


def _usual_by_level(cards: Iterable[DesignCard], varied: Collection[Varied]) -> dict[str, str]:
    """How most trials were set up, for each level: of all designs, or of that level's where it is varied on purpose."""
    together = list(cards)
    levels = {card.design.level for card in together}
    if Varied.ARRANGEMENT not in varied:
        return dict.fromkeys(levels, usual_arrangement(arrangements_used(together)))
    return {
        level: usual_arrangement(arrangements_used(card for card in together if card.design.level == level))
        for level in levels
    }


def _entry(key: str, card: DesignCard, rule: TrialRule, usual: str, varied: Collection[Varied]) -> Entry:
    mass, design = card.readings.get(SELF_MASS), card.design
    names = {known.key: known.label.lower() for known in design.run.core_family().bench.arrangements}
    circumstances = Circumstances(
        [trial.trial.wet_reason for trial in card.trials if trial.trial.wet_reason],
        [trial.trial.arrangement for trial in card.trials if trial.result.scored],
        design.controls_broken,
        card.unconfirmed,
    )
    return Entry(
        key=key,
        name=design.team.name,
        trials=card.results(),
        self_mass=card.self_mass,
        breaches=tuple(result.sentence for result in card.constraints if result.status is Status.BREACHED),
        gap=card.readings["gap"].quantity() if "gap" in card.readings else None,
        gap_of=design.level if Varied.GAP in varied else "",
        self_mass_note=own_weight_note(mass.after_test, mass.estimated()) if mass else "",
        facts=card.facts(rule),
        each=_each(card, rule),
        remarks=circumstantial(circumstances, usual, names),
        away=AWAY_WORDS[card.standing.away] if card.standing.away else "",
        unconfirmed=card.unconfirmed,
    )
