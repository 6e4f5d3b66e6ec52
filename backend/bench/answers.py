"""What goes out of a trial, to a bench or to a team's tablet. Nothing here writes."""

from __future__ import annotations

from typing import Any

from bench.models import Trial
from bench.serializers import AppendedSerializer, TrialStateSerializer
from bench.services import Appended
from bench.trial_selectors import trial_state
from girder_core.ground import NeedsConfirmation
from girder_core.measure import System

# Built once: building their fields takes longer than filling them, and these are answers that must come at once.
_APPENDED, _STATE = AppendedSerializer(), TrialStateSerializer()


def state_shown(trial: Trial, system: System) -> dict[str, Any]:
    """The state of a trial, for a reader of these units."""
    shown: dict[str, Any] = _STATE.to_representation(trial_state(trial, system))
    return shown


def appended_shown(trial: Trial, done: Appended, system: System) -> dict[str, Any]:
    """What became of entries that were sent, and the trial's state after them."""
    refused = done.refused and {
        "event_id": done.refused_id, "code": done.refused.code, "sentence": done.refused.sentence,
        "confirm": isinstance(done.refused, NeedsConfirmation),
    }  # fmt: skip
    answer = {"accepted": done.accepted, "refused": refused, "state": trial_state(trial, system, done.result)}
    shown: dict[str, Any] = _APPENDED.to_representation(answer)
    return shown
