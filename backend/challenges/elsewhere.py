"""What other classes held under the terms of a recipe that was taken over, as long as those terms stand."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import asdict, fields
from typing import Any

from challenges.kits import material_of
from girder_core.kit import LoadEstimate, Material
from girder_core.results import Elsewhere, expected_after

ALIKE = 0.01
"""A length that was typed in other units, and so rounded, is the same still."""
_TOLD = [field.name for field in fields(Elsewhere)]


def kept(told: Elsewhere, setup: Mapping[str, float | None], materials: Sequence[Material]) -> dict[str, Any]:
    """As a recipe keeps it, with the terms that it was found under."""
    return {**asdict(told), "setup": dict(setup), "materials": _amounts(materials)}


def prior_of(
    kept: Mapping[str, Any] | None, setup: Mapping[str, float | None], materials: Sequence[Material]
) -> Elsewhere | None:
    """What is known from elsewhere for these terms: nothing where none was taken over, or the terms were changed
    since."""
    if not kept or not _alike(kept["setup"], setup) or not _alike(kept["materials"], _amounts(materials)):
        return None
    return Elsewhere(**{name: kept[name] for name in _TOLD})


def same_terms(one: Any, other: Any) -> bool:
    """Whether two of ``challenges.models.Terms`` ask for the same structure, so that loads of the one tell of the
    other."""
    setups = _alike(one.setup, other.setup) and one.family == other.family
    amounts = [_amounts([material_of(kept) for kept in terms.materials]) for terms in (one, other)]
    return setups and _alike(*amounts)


def expected(
    kept: Mapping[str, Any] | None, setup: Mapping[str, float | None], materials: Sequence[Material]
) -> LoadEstimate | None:
    """Where designs are expected to give way before any of one's own was tested; None where nobody knows."""
    prior = prior_of(kept, setup, materials)
    return expected_after(prior) if prior else None


def _amounts(materials: Sequence[Material]) -> dict[str, float]:
    """How much of each material a team builds with; tools and the teacher's own are no part of the terms."""
    return {material.key: material.final for material in materials if material.buildable}


def _alike(one: Mapping[str, float | None], other: Mapping[str, float | None]) -> bool:
    def same(a: float | None, b: float | None) -> bool:
        return a is b if a is None or b is None else math.isclose(a, b, rel_tol=ALIKE)

    return one.keys() == other.keys() and all(same(one[key], other[key]) for key in one)
