"""What a small boat carries until water comes in or it goes over, with all that a hand-made hull leaves in doubt."""

from __future__ import annotations

import numpy as np

from girder_core.ground import GRAVITY_M_S2, not_negative
from girder_core.measure import format_length
from girder_core.physics.flotation import FRESH_WATER_KG_M3, draft_m, payload_to_rim_kg
from girder_core.physics.hulls import Hull
from girder_core.physics.materials import Bounds
from girder_core.physics.predictions import Prediction, Samples, State, predict
from girder_core.physics.stability import rim_angle_deg

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
    draws = samples or Samples()
    low_rim = draws.draw(RIM_UNEVEN, "rim") + draws.draw(RIPPLE, "ripple")
    offset = offset_m * draws.draw(BESIDE, "cargo offset")
    # Everything by draft, so that no load has to be searched for.
    drafts = np.linspace(hull.depth_m / 400, hull.depth_m * 0.9999, 200)
    displaced = np.asarray(hull.displaced_m3(drafts))
    total = water_density_kg_m3 * displaced
    loads = total - hull.mass_kg
    afloat_at = loads > most / 1000
    drafts, displaced, total, loads = (series[afloat_at] for series in (drafts, displaced, total, loads))
    level = np.interp(hull.depth_m - low_rim, drafts, loads)
    bm = np.asarray(hull.waterplane_second_moment_m4(drafts) / displaced)
    gm = hull.buoyancy_centre_m(drafts) + bm - (hull.mass_kg * hull.mass_centre_m + loads * cargo_height_m) / total
    rim = np.tan(np.radians([rim_angle_deg(hull, float(t)) for t in drafts]))
    # Offset that brings the rim under at each load, by the wall-sided formula; more load never makes it steadier again.
    limit_offset = np.minimum.accumulate((gm + 0.5 * bm * rim**2) * rim * total / loads)
    tips = np.interp(-offset, -limit_offset, loads, left=0.0, right=np.inf)
    unstable = loads[int(np.argmax(limit_offset <= 0))] if (limit_offset <= 0).any() else np.inf
    doubt = draws.draw(Bounds(0.9, 1.0, 1.1, "order of magnitude"), "capsize")
    return predict(
        [
            State("swamp", "Swamped over the rim", np.maximum(level, 0) * GRAVITY_M_S2,
                  "Hull and cargo weigh what they push aside. When the lowest point of the rim meets the water, it "
                  "fills.",
                  "Water comes in over the edge.", "Archimedes", "swamped"),
            State("heel", "Heels until the rim is under", np.minimum(tips, unstable) * GRAVITY_M_S2,
                  "Cargo beside the middle lays the hull over; the low side takes water long before it is full.",
                  "The load is on one side. It tips.", "wall-sided formula", "capsized"),
            State("capsize", "Rolls over", unstable * doubt * GRAVITY_M_S2,
                  "The cargo's weight is so high, or the floor so narrow, that it is not stable upright.",
                  "Too tall and thin. It rolls over.", "GM < 0", "capsized"),
        ]
    )  # fmt: skip


def says_wall(best_m: float, wall_m: float) -> str:
    """How a wall compares with the best one.

    Args:
        best_m: the best height [m].
        wall_m: the height at hand [m].
    Returns:
        A sentence.
    """
    off = wall_m / best_m - 1
    if abs(off) < 0.1:
        return f"The wall is near the best height, {format_length(best_m)}."
    return f"The best wall from this sheet is {format_length(best_m)}: yours is {'higher' if off > 0 else 'lower'}."
