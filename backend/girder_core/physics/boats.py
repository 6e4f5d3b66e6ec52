"""What a small boat carries until water comes in or it goes over, with all that a hand-made hull leaves in doubt."""

from __future__ import annotations

import numpy as np

from girder_core.ground import GRAVITY_M_S2, not_negative, positive
from girder_core.measure import format_length
from girder_core.physics.flotation import FRESH_WATER_KG_M3, draft_m, payload_to_rim_kg
from girder_core.physics.hulls import Hull
from girder_core.physics.materials import Bounds
from girder_core.physics.predictions import Draws, Prediction, Samples, State, predict
from girder_core.physics.righting import reach_m, rim_level_m, wetted
from girder_core.physics.stability import FARTHEST_DEG

RIM_UNEVEN = Bounds(0.0008, 0.002, 0.005, "order of magnitude: lowest point of a hand-made rim below its mean")
RIPPLE = Bounds(0.0005, 0.001, 0.003, "order of magnitude: ripples when cargo is set in")
BESIDE = Bounds(0.3, 1.0, 2.0, "order of magnitude: how well cargo is centred, times the typical offset")


def boat(
    hull: Hull,
    cargo_height_m: float,
    offset_m: float,
    water_density_kg_m3: float = FRESH_WATER_KG_M3,
    samples: Samples | None = None,
) -> Prediction:
    """What a boat carries until water comes in or it goes over.

    Args:
        hull: the hull.
        cargo_height_m: centre of the cargo above the bottom [m], >= 0.
        offset_m: typical distance of the cargo's centre from the middle [m], >= 0.
        water_density_kg_m3: [kg/m³], > 0.
        samples: seeded samples; the usual ones when left out.
    Returns:
        The prediction: swamped over the rim when level, swamped by heel, capsized for want of stability.
    Errors:
        ``sinks`` when it does not float empty; ``out_of_domain``.
    Source:
        Functions of ``girder_core.physics.flotation`` and ``stability``; unevenness of rim and cargo as named there.
    """
    most = payload_to_rim_kg(hull, water_density_kg_m3)
    if most <= 0:
        draft_m(hull, 0.0, water_density_kg_m3)
    not_negative("offset_m", offset_m, "The cargo's offset")
    hull.holds_aside(offset_m)
    draws = samples or Samples()
    low_rim = draws.draw(RIM_UNEVEN, "rim") + draws.draw(RIPPLE, "ripple")
    offset = offset_m * draws.draw(BESIDE, "cargo offset")
    # Everything by draft, so that no load has to be searched for.
    drafts = np.linspace(hull.depth_m / 400, hull.depth_m * 0.9999, 200)
    total = water_density_kg_m3 * np.asarray(hull.displaced_m3(drafts))
    loads = total - hull.mass_kg
    afloat_at = loads > most / 1000
    drafts, total, loads = (series[afloat_at] for series in (drafts, total, loads))
    level = np.interp(hull.depth_m - low_rim, drafts, loads)
    centre = (hull.mass_kg * hull.mass_centre_m + loads * cargo_height_m) / total
    # The farthest offset that some heel short of the rim still balances. Load goes on bit by bit, so what has gone over
    # with less does not come back.
    limit_offset = np.minimum.accumulate(_farthest_m(hull, total / water_density_kg_m3, centre) * total / loads)
    tips = np.interp(-offset, -limit_offset, loads, left=0.0, right=np.inf)
    unstable = loads[int(np.argmax(limit_offset <= 0))] if (limit_offset <= 0).any() else np.inf
    doubt = draws.draw(Bounds(0.9, 1.0, 1.1, "order of magnitude"), "capsize")
    return predict(
        [
            State("sink", "Goes under", most * np.ones_like(low_rim) * GRAVITY_M_S2,
                  "It has no inside to fill: it carries until all of it is under water.",
                  "It is under water.", "Archimedes", "swamped")
            if hull.solid else
            State("swamp", "Swamped over the rim", np.maximum(level, 0) * GRAVITY_M_S2,
                  "Hull and cargo weigh what they push aside. When the lowest point of the rim meets the water, it "
                  "fills.",
                  "Water comes in over the edge.", "Archimedes", "swamped"),
            State("heel", "Tips over" if hull.solid else "Heels until the rim is under",
                  np.minimum(tips, unstable) * GRAVITY_M_S2,
                  "Cargo beside the middle lays it over until nothing turns it back." if hull.solid else
                  "Cargo beside the middle lays the hull over; the low side takes water long before it is full.",
                  "The load is on one side. It tips.", "section cut at the water", "capsized"),
            State("capsize", "Rolls over", unstable * doubt * GRAVITY_M_S2,
                  "The cargo's weight is so high, or the floor so narrow, that nothing turns it back.",
                  "Too tall and thin. It rolls over.", "section cut at the water", "capsized"),
        ]
    )  # fmt: skip


def _farthest_m(hull: Hull, volumes_m3: Draws, mass_centre_m: Draws) -> Draws:
    """How far the whole mass may lie beside the middle while some heel short of the rim balances it, by volume [m]."""
    heels = np.radians(np.concatenate([np.linspace(0.5, 20, 24), np.linspace(22, FARTHEST_DEG, 18)]))[:, None]
    low, high = reach_m(hull, heels)
    volume, aside, above = wetted(hull, heels, low + (high - low) * np.linspace(0, 1, 45)[1:])
    lever = (aside * np.cos(heels) + above * np.sin(heels)) / np.maximum(volume, 1e-30)
    dry = wetted(hull, heels, rim_level_m(hull, heels))[0][:, 0]
    kn = np.array([np.interp(volumes_m3, volume[i], lever[i]) for i in range(len(heels))])
    own = (kn - mass_centre_m * np.sin(heels)) / np.cos(heels)
    if hull.solid:
        return np.asarray(own.max(0))
    is_dry = volumes_m3 <= dry[:, None]
    # The rim goes under somewhere between two heels that were looked at; upright nothing is balanced but the middle.
    dry, balanced = np.concatenate([[hull.volume_m3], dry]), np.vstack([np.zeros_like(volumes_m3), own])
    last, column = is_dry.sum(0), np.arange(len(volumes_m3))
    beyond = np.minimum(last + 1, len(heels))
    part = np.clip((dry[last] - volumes_m3) / np.maximum(dry[last] - dry[beyond], 1e-30), 0.0, 1.0)
    at_rim = balanced[last, column] + part * (balanced[beyond, column] - balanced[last, column])
    return np.asarray(np.maximum(np.where(is_dry, own, -np.inf).max(0), at_rim))


def says_wall(best_m: float, wall_m: float) -> str:
    """How a wall compares with the best one.

    Args:
        best_m: the best height [m].
        wall_m: the height at hand [m].
    Returns:
        A sentence.
    """
    positive("best_m", best_m, "The best height")
    not_negative("wall_m", wall_m, "The wall")
    off = wall_m / best_m - 1
    if abs(off) < 0.1:
        return f"The wall is near the best height, {format_length(best_m)}."
    return f"The best wall from this sheet is {format_length(best_m)}: yours is {'higher' if off > 0 else 'lower'}."
