"""What other classes held under the terms of a recipe that was taken over, as long as those terms stand."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict, fields
from typing import Any

from girder_core.kit import LoadEstimate, Material
from girder_core.results import Elsewhere, amounts, expected_after, same_terms

_TOLD = [field.name for field in fields(Elsewhere)]


def kept(told: Elsewhere, setup: Mapping[str, float | None], materials: Sequence[Material]) -> dict[str, Any]:
    """As a recipe keeps it, with the terms that it was found under."""
    return {**asdict(told), "setup": dict(setup), "materials": amounts(materials)}


def prior_of(
    kept: Mapping[str, Any] | None, setup: Mapping[str, float | None], materials: Sequence[Material]
) -> Elsewhere | None:
    """What is known from elsewhere for these terms: nothing where none was taken over, or the terms were changed
    since."""
    if not kept or not same_terms((kept["setup"], kept["materials"]), (setup, amounts(materials))):
        return None
    return Elsewhere(**{name: kept[name] for name in _TOLD})


def expected(
    kept: Mapping[str, Any] | None, setup: Mapping[str, float | None], materials: Sequence[Material]
) -> LoadEstimate | None:
    """Where designs are expected to give way before any of one's own was tested; None where nobody knows."""
    prior = prior_of(kept, setup, materials)
    return expected_after(prior) if prior else None
