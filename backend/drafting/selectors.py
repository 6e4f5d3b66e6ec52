"""What the drafting table shows. Nothing here writes."""

from __future__ import annotations

import json
from functools import lru_cache
from typing import Any

from challenges.models import Run
from girder_core.drafting import DraftKind, Worked, expectation, film, kinds_for, read_values, start_values
from girder_core.families import family_of
from girder_core.ground import Film, GirderError
from girder_core.measure import System, typed_text


def film_of(run: Run) -> Film | None:
    """What a run's kind of challenge looks like in motion, under its set-up: a usual design, drawn from the model."""
    return _film(run.family, json.dumps(run.setup, sort_keys=True), run.system())


@lru_cache(maxsize=64)
def _film(family: str, setup: str, system: System) -> Film | None:
    terms: dict[str, float | None] = json.loads(setup)
    own = family_of(family).film
    if own is not None:
        return own(terms)
    kind = kinds_for(family)[0]
    # A set-up that the model does not reach is shown at the model's own sizes.
    for begun in (terms, {}):
        typed = start_values(kind, begun, {}, system)
        try:
            return film(kind, read_values(kind, typed), expectation(kind, typed), system, tells=False)
        except GirderError:
            continue
    return None


def kind_shown(kind: DraftKind) -> dict[str, Any]:
    """A kind of draft as the serializer reads it, but for what a draft of it begins with."""
    return {
        name: getattr(kind, name) for name in ("key", "name", "about", "families", "load_words", "params", "lessons")
    }


def shown_draft(kind: DraftKind, worked: Worked, system: System) -> dict[str, Any]:
    """A worked draft as the serializer reads it."""
    prediction = worked.expected.prediction
    shown = None
    if prediction:
        helps = []
        for change in prediction.what_helps:
            param = kind.param(change.key)
            assert param is not None
            typed = typed_text(change.value, param.kind, system) if param.kind is not None else change.choice
            helps.append(
                {
                    "change": change.change,
                    "gain_n": change.gain_n,
                    "mass_kg": change.mass_kg,
                    "key": change.key,
                    "typed": typed,
                }
            )
        shown = {
            "limit_states": prediction.limit_states, "low_n": prediction.low_n, "typical_n": prediction.typical_n,
            "high_n": prediction.high_n, "what_helps": helps, "correction": prediction.correction,
        }  # fmt: skip
    page = worked.shown
    return {
        "kind": kind.key, "headline": worked.headline, "note": worked.note, "push": kind.pushes(worked.values.words),
        "load_words": kind.words_for(worked.values.words),
        "mass_kg": worked.expected.mass_kg, "prediction": shown, "views": page.views,
        "facts": page.facts, "curves": page.curves, "says": page.says, "mark_n": page.mark_n,
        "mark_words": page.mark_words, "values": worked.values.numbers,
    }  # fmt: skip
