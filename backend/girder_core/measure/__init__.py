"""From what was typed or read to a quantity with its uncertainty.

The map of the room, and its only door: what others use is imported from here.

    apart        two who measured the same thing
    areas        areas and perimeters from lengths, corners or counted squares
    units        typed text such as "14 1/4 in" to SI and back to words
    uncertainty  quantities with a standard uncertainty; what a scale or a batch can tell
    readings     a typed reading with zero offset, tare and resolution, to a quantity
    instruments  what a scale, a gauge and a shaking table send, and what may be made of it
    origins      how a reading or a mass came about
    force_trace  what a sensor recorded: the largest force and where it dropped
"""

from girder_core.measure import units
from girder_core.measure.apart import Apart, apart
from girder_core.measure.areas import Outline, outline
from girder_core.measure.force_trace import Trace, TraceReading, analyse_trace, load_of, read_trace
from girder_core.measure.instruments import Sent, Steady, steady
from girder_core.measure.origins import Take, added_origin, batch_origin, in_doubt, reading_origin, said_origin
from girder_core.measure.readings import Measured, Plausible, TypedReading, measure, plausibly, repeated, weighed_unit
from girder_core.measure.uncertainty import (
    COVERAGE_FACTOR,
    MaterialUse,
    Quantity,
    ScaleAdvice,
    item_mass_kg,
    resolution_uncertainty,
    scale_good_enough,
    self_mass_from_materials,
    stated_mass,
    step_of,
    strength_to_weight,
)
from girder_core.measure.units import (
    Kind,
    System,
    format_about,
    format_length,
    format_mass,
    format_value,
    near_step,
    own_unit,
    parse,
    plural,
    read_in,
    reader,
    sentences,
    si_per,
    times_in_ten,
    typed_text,
)

__all__ = [
    "COVERAGE_FACTOR",
    "Apart",
    "Kind",
    "MaterialUse",
    "Measured",
    "Outline",
    "Plausible",
    "Quantity",
    "ScaleAdvice",
    "Sent",
    "Steady",
    "System",
    "Take",
    "Trace",
    "TraceReading",
    "TypedReading",
    "added_origin",
    "analyse_trace",
    "apart",
    "batch_origin",
    "format_about",
    "format_length",
    "format_mass",
    "format_value",
    "in_doubt",
    "item_mass_kg",
    "load_of",
    "measure",
    "near_step",
    "outline",
    "own_unit",
    "parse",
    "plausibly",
    "plural",
    "read_in",
    "read_trace",
    "reader",
    "reading_origin",
    "repeated",
    "resolution_uncertainty",
    "said_origin",
    "scale_good_enough",
    "self_mass_from_materials",
    "sentences",
    "si_per",
    "stated_mass",
    "steady",
    "step_of",
    "strength_to_weight",
    "times_in_ten",
    "typed_text",
    "units",
    "weighed_unit",
]
