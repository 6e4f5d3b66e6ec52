"""A design's draft as its team and its teacher see it. Nothing here writes."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from bench.selectors import design_card
from designs.models import Design
from drafting.selectors import shown_draft
from drafting.shelf import in_force, shelf
from girder_core.drafting import DraftKind, draft, draft_kind, kinds_for, material_of, start_values
from girder_core.measure import System


def begun_with(design: Design, system: System) -> list[tuple[DraftKind, dict[str, str]]]:
    """The kinds of draft that serve a design, each with a value for every parameter."""
    readings = {key: quantity.value for key, quantity in design.quantities().items()}
    return [
        (kind, start_values(kind, design.run.setup, readings, system)) for kind in kinds_for(design.run.family)
    ]  # fmt: skip


def drafted(design: Design, typed: Mapping[str, Any], system: System) -> tuple[dict[str, Any], bool]:
    """A design's draft worked out, and whether the model keeps its own back: until the team has said what it thinks."""
    kind = draft_kind(typed["kind"])
    moves = {name: (x, y) for name, (x, y) in typed["moves"].items()}
    corrections = in_force(design.run.school_class, design.run.family)
    correction = corrections.get(material_of(kind, typed["typed"]))
    worked = draft(kind, typed["typed"], shelf(design.run.school_class.owner), moves, system, correction)
    shown = shown_draft(kind, worked, system)
    veiled = design_card(design, design.run.trial_setup(), corrections).veiled
    if veiled:
        shown |= {
            "headline": "Say first what it will hold.", "prediction": None, "facts": [], "curves": [], "says": [],
            "note": "The model keeps its answer back until then.", "mark_n": None,
            "views": [replace(view, drawing=view.drawing.plain()) for view in worked.shown.views],
        }  # fmt: skip
    return shown, veiled


def drafted_for_team(design: Design, typed: Mapping[str, Any], system: System) -> tuple[dict[str, Any], bool]:
    """The same at the team's own tablet: what would help most is kept from it where hints are hidden."""
    shown, veiled = drafted(design, typed, system)
    if shown["prediction"] and design.run.hints_hidden:
        shown["prediction"] |= {"what_helps": []}
    return shown, veiled
