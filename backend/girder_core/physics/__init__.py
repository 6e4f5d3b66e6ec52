"""From materials to a prediction of how a structure fails.

The map of the room, and its only door: what others use is imported from here.

    materials    ranges of what stocks weigh and withstand, and the shelf
    measuring    what a class measures of a stock
    laps         glued laps
    sections     cross-sections, their outline and their thin walls
    columns      buckling and crushing, several under a deck
    thin_walls   round shells and flat plates under a squeeze
    tubes        tubes made from a sheet, alone or in numbers
    beams        single spans, sheets over a gap
    members      pieces side by side, straws that kink, chords that sway
    trusses      plane trusses by direct stiffness, ready patterns
    truss_strength  what a truss carries, alone or with others
    hulls        shapes that float, and the best height of a wall
    flotation    how deep a loaded hull sits, what it carries, whether it rights itself
    righting     a hull that lies over, cut at the water
    stability    how far it lies over, and whether it stays up
    boats        what a boat carries until water comes in
    meniscus     a plain sheet on the water's skin
    towers       toppling, swinging, frames, walls
    swaying      towers on a shaking table
    cables       hanging and stayed decks, towers and anchors
    strip_arches arches bent from strips, and their thrust
    tripods      legs that lean together
    planks       rails over a gap, planks across them, and what fits
    rings        struts that carry each other
    arches       corbels
    boards       corrugated card as furniture
    impacts      sudden and dropped loads
    shaking      what a shaking table does
    predictions  limit states over seeded samples, and a class's experience
"""

from girder_core.physics.arches import corbel_load, corbel_stability, max_overhang_m
from girder_core.physics.beams import sag_curve, sheet_bridge, simply_supported, typical_sag_m
from girder_core.physics.boards import board_leg
from girder_core.physics.boats import boat, says_wall
from girder_core.physics.cables import (
    CableBridge,
    anchor_slides_n,
    cable_bridge,
    cable_length_m,
    tied_n,
)
from girder_core.physics.columns import FURTHER, supports_needed, together
from girder_core.physics.flotation import afloat, payload_in_items, payload_to_rim_kg, water_density_kg_m3
from girder_core.physics.hulls import Hull, best_open_box, dish, open_box, pressed_dish, raft, v_hull
from girder_core.physics.impacts import (
    FLOORS,
    drop_factor,
    drop_height_for,
    drop_house,
    landing_force_n,
    sudden_load_factor,
)
from girder_core.physics.materials import ON_TABLE, STOCKS, Bounds, Form, Stock
from girder_core.physics.measuring import (
    Droop,
    droop_stiffness,
    grammage_from_sheets,
    own_sheet,
    stated_grammage,
    thickness_from_stack,
    with_stiffness,
)
from girder_core.physics.members import joint_strength, member_of, member_section
from girder_core.physics.meniscus import edge_depth_m, plain_raft
from girder_core.physics.planks import (
    PlankBridge,
    deck_capacity,
    deck_full_n,
    falls_through,
    plank_bridge,
    plank_gap_m,
    plank_sag_m,
    plank_width_m,
)
from girder_core.physics.predictions import (
    NOTHING_N,
    PRIOR_LOG,
    Calibration,
    Help,
    LimitState,
    ModelBelief,
    Prediction,
    Samples,
    State,
    calibrate,
    calibrated,
    model_belief,
    modelled,
    predict,
    rank_helps,
    scaled,
    told_by_class,
    with_model_error,
)
from girder_core.physics.rings import (
    RingPlan,
    clear_circles_m,
    inner_radii_m,
    longest_fit_m,
    ring_load,
    ring_plan,
    ring_weight_n,
    strut_length_m,
)
from girder_core.physics.sections import Section, box, pleated, rectangle, round_tube, trough
from girder_core.physics.shaking import Agreement, Shaking, read_shaking, shaking_agrees
from girder_core.physics.stability import capsizes, heel_deg
from girder_core.physics.strip_arches import StripArch, arch_thrust_n, strip_arch
from girder_core.physics.swaying import TOWER_DAMPING, Isolation, shake_limits, shaken
from girder_core.physics.towers import (
    TowerShape,
    frame_tower,
    peak_acceleration_m_s2,
    rocking_threshold_g,
    smallest_half_base_m,
    toppling_angle_deg,
    transmissibility,
    wall_overturning,
)
from girder_core.physics.tripods import leg_forces_n, tripod
from girder_core.physics.truss_strength import capacity, truss_sag_m, trusses_share
from girder_core.physics.trusses import (
    PATTERNS,
    PlaneTruss,
    deck_load,
    mechanism,
    moved,
    pattern,
    total_length_m,
)
from girder_core.physics.tubes import half_width_m, tube_column

__all__ = [
    "FLOORS",
    "FURTHER",
    "NOTHING_N",
    "ON_TABLE",
    "PATTERNS",
    "PRIOR_LOG",
    "STOCKS",
    "TOWER_DAMPING",
    "Agreement",
    "Bounds",
    "CableBridge",
    "Calibration",
    "Droop",
    "Form",
    "Help",
    "Hull",
    "Isolation",
    "LimitState",
    "ModelBelief",
    "PlaneTruss",
    "PlankBridge",
    "Prediction",
    "RingPlan",
    "Samples",
    "Section",
    "Shaking",
    "State",
    "Stock",
    "StripArch",
    "TowerShape",
    "afloat",
    "anchor_slides_n",
    "arch_thrust_n",
    "best_open_box",
    "board_leg",
    "boat",
    "box",
    "cable_bridge",
    "cable_length_m",
    "calibrate",
    "calibrated",
    "capacity",
    "capsizes",
    "clear_circles_m",
    "corbel_load",
    "corbel_stability",
    "deck_capacity",
    "deck_full_n",
    "deck_load",
    "dish",
    "droop_stiffness",
    "drop_factor",
    "drop_height_for",
    "drop_house",
    "edge_depth_m",
    "falls_through",
    "frame_tower",
    "grammage_from_sheets",
    "half_width_m",
    "heel_deg",
    "inner_radii_m",
    "joint_strength",
    "landing_force_n",
    "leg_forces_n",
    "longest_fit_m",
    "max_overhang_m",
    "mechanism",
    "member_of",
    "member_section",
    "model_belief",
    "modelled",
    "moved",
    "open_box",
    "own_sheet",
    "pattern",
    "payload_in_items",
    "payload_to_rim_kg",
    "peak_acceleration_m_s2",
    "plain_raft",
    "plank_bridge",
    "plank_gap_m",
    "plank_sag_m",
    "plank_width_m",
    "pleated",
    "predict",
    "pressed_dish",
    "raft",
    "rank_helps",
    "read_shaking",
    "rectangle",
    "ring_load",
    "ring_plan",
    "ring_weight_n",
    "rocking_threshold_g",
    "round_tube",
    "sag_curve",
    "says_wall",
    "scaled",
    "shake_limits",
    "shaken",
    "shaking_agrees",
    "sheet_bridge",
    "simply_supported",
    "smallest_half_base_m",
    "stated_grammage",
    "strip_arch",
    "strut_length_m",
    "sudden_load_factor",
    "supports_needed",
    "thickness_from_stack",
    "tied_n",
    "together",
    "told_by_class",
    "toppling_angle_deg",
    "total_length_m",
    "transmissibility",
    "tripod",
    "trough",
    "truss_sag_m",
    "trusses_share",
    "tube_column",
    "typical_sag_m",
    "v_hull",
    "wall_overturning",
    "water_density_kg_m3",
    "with_model_error",
    "with_stiffness",
]
