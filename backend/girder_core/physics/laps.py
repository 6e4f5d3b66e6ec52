"""Glued laps: shear over their area, and the peel that comes from pulls beside each other."""

from __future__ import annotations

from girder_core.ground import Number, positive

PEEL = 2.0
"""Strength of a glue in shear over its strength in peel [-]; order of magnitude."""


def lap_strength_n(shear_pa: Number, width_m: float, lap_m: float, thickness_m: float) -> Number:
    """What a glued lap of two pieces holds in pull.

    Args:
        shear_pa: strength of the glue in shear, over the whole lap [Pa], > 0.
        width_m: width in which they touch [m], > 0.
        lap_m: how far they lie on each other, along the pull [m], > 0.
        thickness_m: of a piece [m], > 0: pull in one is that far beside the pull in the other, which peels it open.
    Returns:
        τ b l/(1 + 3 p t/l) [N] with p the strength in shear over that in peel.
    Errors:
        ``out_of_domain``.
    Source:
        N/(b l) in shear and 6 M/(b l²) in peel, added up to what the glue bears. M = N t/2 where a piece lies flat on
        others that do not turn; spread as under stiff ones (from memory; Goland & Reissner 1944 for bending ones).
    """
    positive("shear_pa", shear_pa, "The glue's strength")
    positive("width_m", width_m, "The width")
    positive("lap_m", lap_m, "The lap")
    positive("thickness_m", thickness_m, "The thickness")
    return shear_pa * width_m * lap_m / (1 + 3 * PEEL * thickness_m / lap_m)


USUAL_LAP_M = 0.01
"""Two craft sticks crossed: as far as they are wide [m]."""
