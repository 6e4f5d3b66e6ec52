"""What everything stands on: refusals in a sentence, and shapes to draw with.

The map of the room, and its only door: what others use is imported from here.

    errors   one error class: a stable code, data, and a sentence a teacher can read
    domain   what a formula accepts: refusals in a sentence
    drawing  set-ups to scale, as shapes in metres
    marks    the marks of teams
    origins  where a figure comes from
    sound_json  JSON from outside that can be kept
"""

from girder_core.ground.domain import (
    GRAVITY_M_S2,
    Number,
    finite,
    not_negative,
    positive,
    refuse,
    two_figures,
    typical,
    whole,
)
from girder_core.ground.drawing import (
    Drawing,
    Film,
    Frame,
    Point,
    Role,
    Shape,
    area,
    arrow,
    block,
    circle,
    label,
    line,
    measure,
)
from girder_core.ground.errors import GirderError, NeedsConfirmation
from girder_core.ground.marks import FIELD, MARKS, MarkPart
from girder_core.ground.origins import NOBODY, Entered, Origin, Rule
from girder_core.ground.sound_json import sound_json

__all__ = [
    "FIELD",
    "GRAVITY_M_S2",
    "MARKS",
    "NOBODY",
    "Drawing",
    "Entered",
    "Film",
    "Frame",
    "GirderError",
    "MarkPart",
    "NeedsConfirmation",
    "Number",
    "Origin",
    "Point",
    "Role",
    "Rule",
    "Shape",
    "area",
    "arrow",
    "block",
    "circle",
    "finite",
    "label",
    "line",
    "measure",
    "not_negative",
    "positive",
    "refuse",
    "sound_json",
    "two_figures",
    "typical",
    "whole",
]
