"""The shapes of a run file's free parts (JSON Schema, draft 2020-12): what the fields of the models leave open.

Whether what fits its shape also holds together (a kit's objects have weight, a set-up belongs to its family) is found
out by putting the run together and opening its screens.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.db import models
from jsonschema import Draft202012Validator

from bench.models import Trial
from challenges.entries import HAZARD_KEYS
from challenges.models import BREACH_POLICIES, SCHOOLS, TIE_RULES, TRIAL_RULES, GoalChange, Run
from designs.models import Design, Draft, Reading
from girder_core.photo import CAUSES
from girder_core.results import Source
from people.models import Team

MOST = 200
"""No list in a run is longer."""
Schema = dict[str, Any]


def _text(most: int = 300, least: int = 0) -> Schema:
    return {"type": "string", "minLength": least, "maxLength": most}


def _object(needed: Mapping[str, Schema], free: Mapping[str, Schema] | None = None) -> Schema:
    parts = {**needed, **(free or {})}
    return {"type": "object", "required": [*needed], "properties": parts, "additionalProperties": False}


def _list(of: Schema, most: int = MOST) -> Schema:
    return {"type": "array", "items": of, "maxItems": most}


def _by_name(of: Schema) -> Schema:
    return {"type": "object", "additionalProperties": of, "propertyNames": _text(60), "maxProperties": MOST}


def _one_of(choices: list[tuple[str, str]]) -> Schema:
    return {"enum": [key for key, _ in choices]}


def _or_null(schema: Schema) -> Schema:
    return {"anyOf": [{"type": "null"}, schema]}


NUMBER: Schema = {"type": "number"}
AMOUNT: Schema = {"type": "number", "minimum": 0}
POSITIVE: Schema = {"type": "number", "exclusiveMinimum": 0}
FLAG: Schema = {"type": "boolean"}
WHOLE: Schema = {"type": "integer", "minimum": 0, "maximum": 100_000}
SIZE = {"type": "number", "minimum": 0, "maximum": 100}
KIT = _list(
    _object(
        {
            "key": _text(80, 1), "name": _text(80, 1), "mass_kg": AMOUNT, "mass_u_kg": AMOUNT, "count": WHOLE,
            "roll_of": {**WHOLE, "minimum": 1}, "diameter_m": SIZE, "thickness_m": SIZE, "shape": _text(20, 1),
        },
        {
            "order": WHOLE, "known_by": _text(20), "batch_count": WHOLE, "batch_mass_kg": AMOUNT,
            "scale_resolution_kg": AMOUNT, "coin": _text(60),
        },
    )
)  # fmt: skip
MATERIALS = _list(
    _object(
        {"key": _text(80, 1), "name": _text(80, 1)},
        {
            "unit": _text(40), "final": AMOUNT, "practice": AMOUNT, "per_bench": AMOUNT, "per_class": AMOUNT,
            "spare_share": AMOUNT, "pack_size": POSITIVE, "owned": AMOUNT, "size_m": SIZE,
            "buildable": FLAG, "hazards": _list(_one_of(HAZARD_KEYS)),
        },
    )
)  # fmt: skip
WEIGHTS: Schema = {
    "type": "object", "propertyNames": _one_of(SCHOOLS), "additionalProperties": {**AMOUNT, "maximum": 1000},
}  # fmt: skip
GOAL = _object({
    "school": _one_of(SCHOOLS), "weights": WEIGHTS, "trial_rule": _one_of(TRIAL_RULES), "tie_rule": _one_of(TIE_RULES),
    "breach_policy": _one_of(BREACH_POLICIES), "penalty": {**AMOUNT, "maximum": 1},
})  # fmt: skip
CRITERION = _object({
    "key": _text(80, 1), "name": _text(200, 1), "source": {"enum": [source.value for source in Source]},
    "levels": {**_list(_text(300, 1), 6), "minItems": 2}, "weight": {**AMOUNT, "maximum": 1000},
})  # fmt: skip
USE = _object(
    {"amount": AMOUNT, "batch_amount": AMOUNT, "batch_mass": _text(40), "scale_resolution": _text(40)},
    {"name": _text(60)},
)

SHAPES: Mapping[tuple[type[models.Model], str], Schema] = {
    (Run, "setup"): _by_name(_or_null(NUMBER)),
    (Run, "kit"): KIT,
    (Run, "materials"): MATERIALS,
    (Run, "container"): _or_null(_object({"diameter_m": POSITIVE, "height_m": POSITIVE})),
    (Run, "weights"): WEIGHTS,
    (Run, "factor"): _or_null(_object({"name": _text(60, 1), "levels": {**_list(_text(60, 1), 20), "minItems": 2}})),
    (Run, "controls"): _list(_text()),
    (Run, "declared"): _list(_one_of(HAZARD_KEYS)),
    (Run, "confirmed"): _list(_text(80)),
    (Run, "rubric"): _list(CRITERION),
    (Run, "counted_unit"): _or_null(_object({"name": _text(40, 1), "text": _text(40, 1), "size_m": POSITIVE})),
    (Run, "pinned_step"): _or_null(_object({"item": _text(80, 1), "count": {**WHOLE, "minimum": 1}})),
    (GoalChange, "before"): GOAL,
    (GoalChange, "after"): GOAL,
    (Team, "members"): _list(_text(40), 60),
    (Design, "answers"): _by_name(FLAG),
    (Design, "controls_broken"): _list(_text()),
    (Reading, "materials"): _list(USE),
    (Reading, "causes"): _object({}, dict.fromkeys(CAUSES, AMOUNT)),
    (Draft, "typed"): _by_name(_text(200)),
    (Draft, "moves"): _by_name({**_list(NUMBER, 2), "minItems": 2}),
    (Trial, "estimate"): _or_null(
        _object({"low_kg": POSITIVE, "typical_kg": POSITIVE, "high_kg": POSITIVE, "basis": _text(500)})
    ),
}
"""By model and field. What an entry of a ledger can say is the core's (``girder_core.trial.shapes``)."""
_VALIDATORS = {place: Draft202012Validator(schema) for place, schema in SHAPES.items()}


def unfit(model: type[models.Model], field: str, value: Any) -> tuple[str, str] | None:
    """What does not fit in a free part: where in it, as a path that begins with a dot or is empty, and a sentence."""
    error = next(iter(_VALIDATORS[model, field].iter_errors(value)), None)
    if error is None:
        return None
    while error.context:
        # Of several shapes the last is the one that is more than null.
        error = max(error.context, key=lambda inner: (inner.schema_path[0], len(inner.absolute_path)))
    return "".join(f".{part}" for part in error.absolute_path), _sentence(error)


def _sentence(error: Any) -> str:
    wants = error.validator_value
    words: Mapping[str, str] = {
        "type": f"This has to be {_KINDS.get(str(wants), 'something else')}.",
        "required": "Something is missing here.",
        "additionalProperties": "A run file has no such entry.",
        "enum": "This word is not known here.",
        "minimum": f"This is less than {wants}.",
        "exclusiveMinimum": f"This has to be more than {wants}.",
        "maximum": f"This is more than {wants}.",
        "maxItems": f"There are more than {wants} here.",
        "minItems": f"There are fewer than {wants} here.",
        "maxLength": f"This text is longer than {wants} letters.",
        "minLength": "A text is missing here.",
    }
    return words.get(error.validator, "This does not belong here.")


_KINDS = {
    "object": "an object", "array": "a list", "string": "a text", "number": "a number", "integer": "a whole number",
    "boolean": "true or false", "null": "null",
}  # fmt: skip
