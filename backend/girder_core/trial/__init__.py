"""A test at the bench: its ledger of events, and what follows from it.

The map of the room, and its only door: what others use is imported from here.

    result     events, and what a trial came to
    shapes     what an entry of each kind can say
    entries    what one entry does to a trial
    ledger     which entries stand, and what they come to: the events of a trial to its result
    acts       what may be done now, and why something may not
    procedures how a structure is tested, as data
    admission  whether one more event may be written down, or is asked about first
    counted    loose pieces that were counted, held against the ledger
    noticed    what pictures can follow; signs that measurements speak for, to be asked about
    rounds     tests that are shaken, thrown at or dropped, round by round
    rehearsal  what a made-up structure does
    standins   made-up instruments
    stations   tests that a team makes by itself, and its teacher confirms
    origins    how the load came about that a trial held
"""

from girder_core.trial import ledger
from girder_core.trial.acts import Act, Fact, Need, acts, facts_of
from girder_core.trial.admission import OpenLedger, admit
from girder_core.trial.counted import Lay, Recount, counted_as, recount
from girder_core.trial.ledger import BESIDE, MAY_CHANGE, MAY_SAY, Fate, Line, lines, middle_kg, replay
from girder_core.trial.noticed import Noticed, noticed, to_be_followed, to_be_pictured
from girder_core.trial.origins import counts_held, held_origin
from girder_core.trial.procedures import DROPPING, LOADING, SHAKING, STANDING, THROWING, Procedure, Shows
from girder_core.trial.rehearsal import Behaviour, behave, round_range, specimen
from girder_core.trial.result import (
    AT_BENCH_LIMIT,
    OUT_OF_LOAD,
    Event,
    EventKind,
    Interval,
    Outcome,
    StepState,
    TrialResult,
    TrialSetup,
)
from girder_core.trial.rounds import (
    BenchMeasure,
    Loose,
    RoundPlan,
    ShownRound,
    counted_rounds,
    drop_rounds,
    named_rounds,
    off_centre,
    seat_offset,
    shake_rounds,
    stand_round,
    throw_rounds,
)
from girder_core.trial.shapes import Part, parts_of
from girder_core.trial.standins import distance_lines, force_lines, hopper_trace, scale_lines, table_lines
from girder_core.trial.stations import (
    UNCONFIRMED,
    Station,
    StationState,
    admit_at_station,
    confirm_at_station,
    held_at_station,
    station_state,
    with_mark,
)

__all__ = [
    "AT_BENCH_LIMIT",
    "BESIDE",
    "DROPPING",
    "LOADING",
    "MAY_CHANGE",
    "MAY_SAY",
    "OUT_OF_LOAD",
    "SHAKING",
    "STANDING",
    "THROWING",
    "UNCONFIRMED",
    "Act",
    "Behaviour",
    "BenchMeasure",
    "Event",
    "EventKind",
    "Fact",
    "Fate",
    "Interval",
    "Lay",
    "Line",
    "Loose",
    "Need",
    "Noticed",
    "OpenLedger",
    "Outcome",
    "Part",
    "Procedure",
    "Recount",
    "RoundPlan",
    "ShownRound",
    "Shows",
    "Station",
    "StationState",
    "StepState",
    "TrialResult",
    "TrialSetup",
    "acts",
    "admit",
    "admit_at_station",
    "behave",
    "confirm_at_station",
    "counted_as",
    "counted_rounds",
    "counts_held",
    "distance_lines",
    "drop_rounds",
    "facts_of",
    "force_lines",
    "held_at_station",
    "held_origin",
    "hopper_trace",
    "ledger",
    "lines",
    "middle_kg",
    "named_rounds",
    "noticed",
    "off_centre",
    "parts_of",
    "recount",
    "replay",
    "round_range",
    "scale_lines",
    "seat_offset",
    "shake_rounds",
    "specimen",
    "stand_round",
    "station_state",
    "table_lines",
    "throw_rounds",
    "to_be_followed",
    "to_be_pictured",
    "with_mark",
]
