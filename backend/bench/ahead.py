"""Trials that have not begun, as they would begin. Nothing here writes."""

from __future__ import annotations

import uuid
from dataclasses import asdict

from bench.history import past_of
from bench.models import Trial
from bench.selectors import cards_of
from bench.trial_selectors import TrialState, trial_state
from challenges.models import Run
from girder_core.families import aim_kg
from girder_core.kit import estimate_from
from girder_core.measure import System
from girder_core.trial import replay

NO_TRIAL = uuid.UUID(int=0)


def trials_ahead(run: Run, system: System) -> list[TrialState]:
    """The next trial of each design that has none open, in a constant number of queries; also of those that are to be
    checked in first, which can happen without a network too."""
    cards = cards_of(run, whole=False)
    ready = [card for card in cards if all(result.ended for result in card.results())]
    if not ready:
        return []
    marked = [trial for card in cards for trial in card.trials]
    held = [trial.result.held.value for trial in marked if trial.result.scored and not trial.unconfirmed]
    past = past_of(run, before_only=True).estimate
    nothing_yet = replay([], run.trial_setup())
    ahead = []
    for card in ready:
        said = card.prediction.load_kg if card.prediction else None
        estimate = estimate_from(held, aim_kg(run.setup), said, card.model, past if card.model is None else None)
        trial = Trial(
            id=NO_TRIAL,
            design=card.design,
            number=len(card.trials) + 1,
            estimate=asdict(estimate) if estimate else None,
        )
        ahead.append(trial_state(trial, system, nothing_yet))
    return ahead
