"""A plain sheet on the water: what the water's skin holds back at its edges before it floods."""

from __future__ import annotations

import math

import numpy as np

from girder_core.ground import GRAVITY_M_S2, GirderError, Number, not_negative, positive, refuse
from girder_core.physics.boats import BESIDE
from girder_core.physics.flotation import FRESH_WATER_KG_M3
from girder_core.physics.materials import Bounds, Stock
from girder_core.physics.predictions import Prediction, Samples, State, predict

SKIN_N_M = 0.0728
"""Surface tension of clean water at 20 °C [N/m] (from memory); a trace of soap halves it."""
EDGE_DEG = Bounds(55.0, 80.0, 105.0, "order of magnitude: water against the upper side of foil and card [°]")
BORNE = Bounds(0.25, 0.4, 0.7, "order of magnitude: volume that a sagging sheet pushes aside, over a stiff one's")


def edge_depth_m(
    angle_deg: Number, water_density_kg_m3: float = FRESH_WATER_KG_M3, skin_n_m: float = SKIN_N_M
) -> Number:
    """How far below the water a dry edge may lie before the water runs over it.

    Args:
        angle_deg: at which water advances over the edge [°], above 0 to 180.
        water_density_kg_m3: [kg/m³], > 0.
        skin_n_m: surface tension [N/m], > 0.
    Returns:
        2 √(γ/ρg) sin(θ/2) [m].
    Errors:
        ``out_of_domain``.
    Source:
        Young and Laplace for a straight edge; de Gennes, Brochard-Wyart & Quéré, Capillarity and Wetting Phenomena, 2.3
        (from memory).
    """
    if not bool(np.all((np.asarray(angle_deg) > 0) & (np.asarray(angle_deg) <= 180))):
        raise refuse("angle_deg", "Water meets an edge at an angle between 0 and 180°.")
    positive("water_density_kg_m3", water_density_kg_m3, "The water's density")
    positive("skin_n_m", skin_n_m, "The surface tension")
    length = math.sqrt(skin_n_m / water_density_kg_m3 / GRAVITY_M_S2)
    return 2 * length * np.sin(np.radians(angle_deg) / 2)


def plain_raft(
    length_m: float,
    beam_m: float,
    sheet_m: float,
    material: Stock,
    offset_m: float = 0.0,
    water_density_kg_m3: float = FRESH_WATER_KG_M3,
    samples: Samples | None = None,
) -> Prediction:
    """What a plain sheet without any walls carries on the water.

    Args:
        length_m: of the sheet [m], > 0.
        beam_m: its width [m], > 0.
        sheet_m: its thickness [m], > 0.
        material: the sheet's stock.
        offset_m: typical distance of the cargo's centre from the middle [m], >= 0.
        water_density_kg_m3: [kg/m³], > 0.
        samples: seeded samples; the usual ones when left out.
    Returns:
        The prediction: water runs over all edges, or over the nearest one because the cargo lies to a side.
    Errors:
        ``sinks`` when its own weight is more than that; ``out_of_domain``.
    Source:
        Weight of the water pushed aside by sheet and meniscus, ρ g A h + γ P sin θ (Keller 1998, from memory), times
        what a limp sheet bears of it (ours); a load at e lowers the edge at L/2 by 6e/L of the mean depth.
    """
    positive("length_m", length_m, "The sheet's length")
    positive("beam_m", beam_m, "The sheet's width")
    positive("sheet_m", sheet_m, "The sheet's thickness")
    not_negative("offset_m", offset_m, "The cargo's offset")
    if offset_m > min(length_m, beam_m) / 2:
        raise refuse("offset_m", "Cargo that far from the middle lies beside the sheet.")
    draws = samples or Samples()
    angle = draws.draw(EDGE_DEG, "water over the edge")
    own_n = material.density_kg_m3.typical * sheet_m * length_m * beam_m * GRAVITY_M_S2
    borne = draws.draw(BORNE, "limp sheet")
    held = water_density_kg_m3 * GRAVITY_M_S2 * length_m * beam_m * edge_depth_m(angle, water_density_kg_m3)
    skin = SKIN_N_M * 2 * (length_m + beam_m) * np.sin(np.radians(angle))
    level = borne * (held + skin) - own_n
    if float(np.median(level)) <= 0:
        words = "The sheet is too heavy for the water’s skin: it sinks without walls."
        raise GirderError("sinks", words, field="sheet_m", fields={"sheet_m": words}, most_kg=0.0)
    aside = offset_m * draws.draw(BESIDE, "cargo offset")
    tilts = borne * (held / (1 + 6 * aside / min(length_m, beam_m)) + skin) - own_n
    return predict(
        [
            State("swamp", "Water runs over the edges", np.maximum(level, 0.0),
                  "Without walls, the water's skin holds back a few millimetres of water at a dry edge, and no more. "
                  "Turn the edges up.",
                  "Water slips over the edge.", "Young and Laplace", "swamped"),
            State("heel", "One edge dips under", np.maximum(tilts, 0.0),
                  "Cargo beside the middle presses one edge down first.",
                  "One side goes under.", "equilibrium", "swamped"),
        ]
    )  # fmt: skip
