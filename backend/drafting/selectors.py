"""What the drafting table shows. Nothing here writes."""

from __future__ import annotations

from typing import Any

from girder_core.drafting import DraftKind, Worked
from girder_core.measure import System, typed_text


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
