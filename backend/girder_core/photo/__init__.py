"""From a picture of a scale card to lengths, areas and angles with their uncertainties.

The map of the room, and its only door: what others use is imported from here.

    dictionary  the marks themselves
    calibrating  from several pictures to a tablet's lens
    cards  what is printed on a scale card, and by which marks it is known
    loose  loose pieces that are counted: which are sure, which have to be looked at
    looks  why a picture cannot be measured in, and what is worth knowing of one that can
    ends   where the ends of what is measured, and its corners, probably are
    frame  a picture, and the marks that were seen in it
    lens   what is known of a lens before a picture is looked at
    motion  how far a point of a structure went from one picture to a later one
    regions  which of several outlines add up, and which are holes
    outlines  rims and a grid, to be drawn over a picture
    sizes  from points of a picture to lengths, areas and angles
    telling  what a size is in words, and what would make it better
    view   where the camera stood: from points of its picture to points of the cards' plane
    fitting  from the marks of cards to the view, and how well it is known
"""

from girder_core.photo.calibrating import MOST_PICTURES, Calibration, calibrated
from girder_core.photo.cards import (
    BAR_M,
    BAR_OFF_M,
    BLANK_M,
    MARKS_PER_SET,
    PAPER_M,
    SETS,
    Card,
    Mark,
    cards,
    cards_seen,
    set_of,
)
from girder_core.photo.dictionary import DICTIONARY, FIELDS, fields_of
from girder_core.photo.ends import Run, proposed_corners, proposed_ends
from girder_core.photo.fitting import see
from girder_core.photo.frame import Frame, Seen
from girder_core.photo.lens import Lens
from girder_core.photo.looks import Hidden, Look, judged, notes_on, taken_as_it_is, unread
from girder_core.photo.loose import (
    LEAST_LEFT,
    LEAST_PIECE,
    LEAST_PLAIN,
    LEAST_RIM,
    MOST_PIECES,
    Doubt,
    Piece,
    Spot,
    Spread,
    counted_in,
    doubts_told,
    held_by_area,
    looked_over,
    may_be_one_more,
    sheet_told,
    told_apart,
)
from girder_core.photo.motion import Followed, Shaken, Way, camera_moved, shifted
from girder_core.photo.outlines import plane_grid, rim_of
from girder_core.photo.sizes import (
    IN_PLANE,
    POINTING_PX,
    UNMEASURED,
    Pointed,
    Size,
    angle,
    area,
    length,
    plane_said,
    printed_scale,
    size_of,
    with_another_card,
)
from girder_core.photo.telling import (
    CAUSES,
    better_told,
    causes_told,
    doubt_told,
    lens_told,
    moved_told,
    plainly_typed,
    size_told,
    tape_step_m,
    typed_as,
    went_as,
    went_told,
    went_typed,
)
from girder_core.photo.view import View

__all__ = [
    "BAR_M",
    "BAR_OFF_M",
    "BLANK_M",
    "CAUSES",
    "DICTIONARY",
    "FIELDS",
    "IN_PLANE",
    "LEAST_LEFT",
    "LEAST_PIECE",
    "LEAST_PLAIN",
    "LEAST_RIM",
    "MARKS_PER_SET",
    "MOST_PICTURES",
    "MOST_PIECES",
    "PAPER_M",
    "POINTING_PX",
    "SETS",
    "UNMEASURED",
    "Calibration",
    "Card",
    "Doubt",
    "Followed",
    "Frame",
    "Hidden",
    "Lens",
    "Look",
    "Mark",
    "Piece",
    "Pointed",
    "Run",
    "Seen",
    "Shaken",
    "Size",
    "Spot",
    "Spread",
    "View",
    "Way",
    "angle",
    "area",
    "better_told",
    "calibrated",
    "camera_moved",
    "cards",
    "cards_seen",
    "causes_told",
    "counted_in",
    "doubt_told",
    "doubts_told",
    "fields_of",
    "held_by_area",
    "judged",
    "length",
    "lens_told",
    "looked_over",
    "may_be_one_more",
    "moved_told",
    "notes_on",
    "plainly_typed",
    "plane_grid",
    "plane_said",
    "printed_scale",
    "proposed_corners",
    "proposed_ends",
    "rim_of",
    "see",
    "set_of",
    "sheet_told",
    "shifted",
    "size_of",
    "size_told",
    "taken_as_it_is",
    "tape_step_m",
    "told_apart",
    "typed_as",
    "unread",
    "went_as",
    "went_told",
    "went_typed",
    "with_another_card",
]
