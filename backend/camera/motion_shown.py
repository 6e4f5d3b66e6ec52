"""What is shown of something that was followed, put together for the API. Nothing here writes."""

from __future__ import annotations

from typing import Any

from camera.motion_services import Went
from camera.shown import causes_shown
from girder_core.measure import COVERAGE_FACTOR


def went_shown(went: Went) -> dict[str, Any]:
    """How far it went, as it would have been typed, and what each cause leaves open."""
    quantity = went.size.quantity
    return {
        "value_si": quantity.value,
        "expanded_uncertainty_si": COVERAGE_FACTOR * quantity.standard_uncertainty,
        "text": went.text,
        "step_text": went.step_text,
        "told": went.told,
        "doubt": went.doubt,
        "causes": causes_shown(went.size),
        "moved": went.moved,
        "at": list(went.at),
    }
