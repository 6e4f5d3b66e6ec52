"""What is shown of a picture and of a size, put together for the API. Nothing here writes."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np

from camera.selectors import printed_scale_of
from camera.services import Measured
from girder_core.families import ReadingSpec
from girder_core.measure import COVERAGE_FACTOR, Kind, System
from girder_core.photo import (
    CAUSES,
    UNMEASURED,
    Calibration,
    Look,
    Size,
    View,
    lens_told,
    notes_on,
    plane_grid,
    proposed_corners,
    proposed_ends,
    rim_of,
)
from girder_core.trial import BenchMeasure
from people.models import Teacher


def look_shown(
    look: Look, view: View, spec: ReadingSpec | BenchMeasure, asker: Teacher, owner: Teacher
) -> dict[str, Any]:
    """What was found in a picture, and where the ends or corners of what is measured probably are."""
    printed = printed_scale_of(view.set_number, asker, owner)
    step = 0.1 if System(owner.units) is System.METRIC else 4 * 0.0254
    return {
        "frame": look.frame,
        "marks": look.marks,
        "cards": [
            {"key": card.key, "name": card.name, "rim": _listed(rim_of(view, i))} for i, card in enumerate(view.cards)
        ],
        "set_number": view.set_number,
        "bar_measured": printed is not UNMEASURED,
        "lens_known": view.lens is not None,
        "notes": notes_on(look, view),
        "grid": [_listed(line) for line in plane_grid(view, step / printed.value)],
        "edges": [[segment[:2], segment[2:]] for segment in look.segments],
        "ends": list(_proposed(look, view, spec)),
    }


def lens_picture_shown(look: Look, view: View) -> dict[str, Any]:
    """What a picture shows that a lens is calibrated with."""
    return {
        "frame": look.frame,
        "marks": look.marks,
        "rims": [_listed(rim_of(view, i)) for i in range(len(view.cards))],
    }


def calibration_shown(told: Calibration) -> dict[str, Any]:
    """What pictures told of a lens."""
    return {"told": lens_told(told.lens) if told.lens else "", "wanted": told.wanted}


def _proposed(look: Look, view: View, spec: ReadingSpec | BenchMeasure) -> Sequence[tuple[float, float]]:
    if spec.kind is Kind.AREA:
        return proposed_corners(view, look.segments)
    # How a length of the bench runs, nobody said.
    return (proposed_ends(view, look.segments, spec.runs) or ()) if isinstance(spec, ReadingSpec) else ()


def _listed(points: Any) -> list[list[float]]:
    return [[round(float(x), 2), round(float(y), 2)] for x, y in np.asarray(points)]


def size_shown(measured: Measured) -> dict[str, Any]:
    """What was pointed at comes to, and what each cause leaves open."""
    quantity = measured.size.quantity
    return {
        "value_si": quantity.value,
        "expanded_uncertainty_si": COVERAGE_FACTOR * quantity.standard_uncertainty,
        "text": measured.text,
        "doubt": measured.doubt,
        "better": measured.better,
        "causes": causes_shown(measured.size),
    }


def causes_shown(size: Size) -> list[dict[str, Any]]:
    """What each cause leaves open of a size, the chief one first."""
    parts = sorted(size.parts.items(), key=lambda part: -part[1])
    return [
        {"key": key, "words": CAUSES[key], "expanded_uncertainty_si": COVERAGE_FACTOR * part}
        for key, part in parts
        if part > 0
    ]
