"""Beams: moments and deflections of single spans, and what a folded sheet carries over a gap."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from girder_core.ground import GRAVITY_M_S2, Number, finite, not_negative, positive, refuse, typical, whole
from girder_core.measure import format_length
from girder_core.physics.materials import Bounds, Stock
from girder_core.physics.predictions import Prediction, Samples, State, predict
from girder_core.physics.sections import FREE_EDGE, Section
from girder_core.physics.thin_walls import cylinder_buckling_stress_pa, plate_buckling_stress_pa, shell_knockdown

PLACEMENTS = ("centre", "patch", "uniform", "two_point")


@dataclass(frozen=True)
class BeamResponse:
    """How a span answers to its load.

    Attributes:
        max_moment_nm: largest bending moment, either sign [N·m].
        max_shear_n: largest shear force; each reaction by symmetry [N].
        deflection_coefficient: c in δ = c W L³/(E I), at midspan or at a cantilever's tip [-].
        mid_moment_nm: moment at midspan, sagging positive [N·m].
        end_moment_nm: moment at the ends, sagging positive [N·m]; 0 where they turn freely.
    """

    max_moment_nm: float
    max_shear_n: float
    deflection_coefficient: float
    mid_moment_nm: float
    end_moment_nm: float


def _patch(span: float, placement: str, patch: float) -> float:
    positive("span_m", span, "The span")
    if placement not in PLACEMENTS:
        raise refuse("placement", "A load stands at the centre, on a patch, uniformly, or at two points.")
    width = {"centre": 0.0, "uniform": span}.get(placement, patch)
    if not 0 <= width <= span:
        raise refuse("patch_m", "The loaded patch must lie within the span.")
    return width


def simply_supported(span_m: float, load_n: float, placement: str, patch_m: float = 0.0) -> BeamResponse:
    """A span on two supports, loaded symmetrically.

    Args:
        span_m: clear span [m], > 0.
        load_n: total load [N].
        placement: ``centre``, ``patch`` (evenly on a centred stretch), ``uniform`` or ``two_point`` (half at each
            third).
        patch_m: length of the loaded stretch [m], 0 to the span; for ``patch`` only.
    Returns:
        The response. Patch of width w: M = W(2L − w)/8, δ = W(8L³ − 4Lw² + w³)/(384 E I).
    Errors:
        ``out_of_domain``.
    Source:
        Gere & Timoshenko, Mechanics of Materials, appendix "Deflections and slopes of beams"; Roark's Formulas, ch. 8
        (from memory); the patch by integration, with both limits among them.
    """
    w = _patch(span_m, placement, patch_m)
    finite("load_n", load_n, "The load")
    if placement == "two_point":
        moment, coefficient = load_n * span_m / 6, 23 / 1296
    else:
        moment = load_n * (2 * span_m - w) / 8
        coefficient = (8 * span_m**3 - 4 * span_m * w**2 + w**3) / (384 * span_m**3)
    return BeamResponse(abs(moment), abs(load_n) / 2, coefficient, moment, 0.0)


def loaded_aside(span_m: float, load_n: float, off_m: float, patch_m: float = 0.0) -> BeamResponse:
    """A span on two supports whose load stands off its middle.

    Args:
        span_m: clear span [m], > 0.
        load_n: total load [N].
        off_m: how far the load's middle lies from the span's [m]; with half the patch, less than half the span.
        patch_m: length of the loaded stretch [m], 0 to the span.
    Returns:
        The response: M = R (a + R w/(2 W)) where the shear is nothing, the larger reaction as shear, and the sag
        under a load in one spot, a²b²/(3 L⁴) of W L³/(E I), which a patch makes a little less.
    Errors:
        ``out_of_domain``.
    Source:
        Gere & Timoshenko, Mechanics of Materials, appendix (from memory); the patch by equilibrium.
    """
    w = _patch(span_m, "patch", patch_m)
    finite("load_n", load_n, "The load")
    aside = abs(off_m)
    if not aside + w / 2 < span_m / 2 + 1e-12 or not math.isfinite(off_m):
        raise refuse("off_m", "The load must stand between the supports. Move it nearer the middle.")
    before, after = span_m / 2 + aside, span_m / 2 - aside
    far = after / span_m
    moment = load_n * far * (before - w / 2 + far * w / 2)
    straight = simply_supported(span_m, load_n, "patch", w)
    spot = (before * after) ** 2 / (3 * span_m**4)
    coefficient = spot * straight.deflection_coefficient * 48
    return BeamResponse(abs(moment), abs(load_n) * before / span_m, coefficient, moment, 0.0)


def aside_share(width_m: float, aside_m: float) -> float:
    """What an open section bears under a load off its middle line, over what it bears under one on it.

    Args:
        width_m: of the section [m], > 0.
        aside_m: from its middle line to the load's [m], 0 to less than half the width.
    Returns:
        1/(1 + 6 e/b) up to b/6 and ¾(1 − 2 e/b) beyond [-]: the near edge is loaded most, for nothing stiffens it
        against twisting.
    Errors:
        ``out_of_domain``.
    Source:
        Pressure under a platform that turns, as under a footing (any text on foundations).
    """
    positive("width_m", width_m, "The width")
    if not 0 <= aside_m < width_m / 2:
        raise refuse("aside_m", f"The bridge is {format_length(width_m)} wide: the load must stand on it.")
    share = aside_m / width_m
    return 1 / (1 + 6 * share) if share <= 1 / 6 else 0.75 * (1 - 2 * share)


def fixed_ended(span_m: float, load_n: float, placement: str, patch_m: float = 0.0) -> BeamResponse:
    """A span whose ends cannot turn, loaded symmetrically.

    Args:
        span_m: clear span [m], > 0.
        load_n: total load [N].
        placement: as in ``simply_supported``.
        patch_m: length of the loaded stretch [m], 0 to the span; for ``patch`` only.
    Returns:
        The response. End moments are the mean of the simple span's moment; patch: −W(3L² − w²)/(24L).
    Errors:
        ``out_of_domain``.
    Source:
        As ``simply_supported``.
    """
    w = _patch(span_m, placement, patch_m)
    free = simply_supported(span_m, load_n, placement, patch_m)
    end = load_n * (span_m / 9 if placement == "two_point" else (3 * span_m**2 - w**2) / (24 * span_m))
    coefficient = free.deflection_coefficient - end / load_n / span_m / 8 if load_n else free.deflection_coefficient
    mid = free.mid_moment_nm - end
    return BeamResponse(max(abs(mid), abs(end)), abs(load_n) / 2, coefficient, mid, -end)


def cantilever(length_m: float, load_n: float, placement: str) -> BeamResponse:
    """A beam held at one end.

    Args:
        length_m: how far it sticks out [m], > 0.
        load_n: total load [N].
        placement: ``tip`` or ``uniform``.
    Returns:
        The response; its end moment is at the root, its deflection at the tip.
    Errors:
        ``out_of_domain``.
    Source:
        As ``simply_supported``.
    """
    positive("length_m", length_m, "The length")
    finite("load_n", load_n, "The load")
    if placement not in ("tip", "uniform"):
        raise refuse("placement", "A cantilever is loaded at its tip or uniformly.")
    moment = load_n * length_m * (1.0 if placement == "tip" else 0.5)
    return BeamResponse(abs(moment), abs(load_n), 1 / 3 if placement == "tip" else 1 / 8, -moment / 2, -moment)


def deflection_m(
    response: BeamResponse, load_n: Number, span_m: float, elastic_modulus_pa: Number, second_moment_m4: Number
) -> Number:
    """How far a span sags.

    Args:
        response: its answer to this kind of load.
        load_n: total load [N].
        span_m: clear span [m], > 0.
        elastic_modulus_pa: stiffness [Pa], > 0.
        second_moment_m4: second moment [m⁴], > 0.
    Returns:
        c W L³/(E I) [m]; small deflections, bending only.
    Errors:
        ``out_of_domain``.
    """
    finite("load_n", load_n, "The load")
    positive("span_m", span_m, "The span")
    positive("elastic_modulus_pa", elastic_modulus_pa, "The stiffness")
    positive("second_moment_m4", second_moment_m4, "The second moment")
    return response.deflection_coefficient * load_n * span_m**3 / (elastic_modulus_pa * second_moment_m4)


SAG_SHARE = 0.1
"""Sag at which a bridge counts as failed where the challenge sets none: a tenth of the gap."""


FURTHER_BEAM = Bounds(0.7, 0.85, 1.0, "order of magnitude: how evenly alike beams share a deck")
"""What each further beam or truss under a deck adds, over what the first would hold alone [-]."""
SPREAD = Bounds(0.6, 0.78, 0.95, "order of magnitude: folds spring open under a load; depth left over depth folded")
"""Nothing but the folds and the supports' friction keeps pleats and turned-up edges from flattening."""


def spread_section(section: Section, left: Number) -> Section:
    """An open section, pleats or turned-up edges, once its folds have sprung open under a load.

    Args:
        section: as folded.
        left: depth left over depth folded [-], above 0 to 1.
    Returns:
        The section for bending: depth and neutral axis times ``left``, second moment times its square; others as they
        were, for closed sections do not spread.
    Errors:
        ``out_of_domain``.
    Source:
        Of a zigzag I goes with the square of its depth at the same area, ``sections.pleated``.
    """
    positive("left", left, "The depth that is left")
    if section.walls is None or not section.walls.spreads:
        return section
    return replace(
        section, second_moment_m4=section.second_moment_m4 * left**2, depth_m=section.depth_m * left,
        neutral_axis_m=section.neutral_axis_m * left,
    )  # fmt: skip


def working_width_m(section: Section, span_m: float, across_m: float) -> Number:
    """How wide a stretch of a pleated sheet works under a load that is narrower than the sheet.

    Args:
        section: the pleated sheet.
        span_m: clear span [m], > 0.
        across_m: width of the load across the sheet [m], >= 0.
    Returns:
        b/(1 − exp(−λb/2) cos(λb/2)) with λ = (π/L)(D_l/(4 D_t))^¼, at most the sheet's width [m]: D_l is the pleats'
        stiffness along the span, D_t that of the sheet unfolding across it. Other sections work as a whole.
    Errors:
        ``out_of_domain``.
    Source:
        A plate that bends like a beam along the span and is a beam on an elastic foundation across it, its middle
        deflection (Hetényi, Beams on Elastic Foundation; for plates Guyon and Massonnet; from memory).
    """
    positive("span_m", span_m, "The span")
    not_negative("across_m", across_m, "The load's width")
    walls, whole_m = section.walls, section.width_m
    if walls is None or not walls.pleats:
        return whole_m
    folded_out = section.area_m2 / walls.thickness_m
    unfolding = walls.thickness_m**3 / 12 * whole_m / folded_out
    along = section.second_moment_m4 / whole_m
    fades = math.pi / span_m * (along / (4 * unfolding)) ** 0.25
    half = np.maximum(across_m, 1e-6 * whole_m) / 2
    return np.asarray(np.minimum(whole_m, 2 * half / (1 - np.exp(-fades * half) * np.cos(fades * half))))


def wall_stress_pa(buckling_pa: Number, free_buckling_pa: Number, squeeze_pa: Number, free_share: float) -> Number:
    """Mean stress that the flat walls of a bent section reach, for buckled walls go on carrying along held edges.

    Args:
        buckling_pa: at which a wall with two held edges begins to buckle [Pa], > 0.
        free_buckling_pa: the same of a wall with one free edge [Pa], > 0.
        squeeze_pa: the material's strength in compression [Pa], > 0.
        free_share: share of the walls with one free edge [-].
    Returns:
        Share by share, σ (σ_cr/σ)^½ with held edges and σ (σ_cr/σ)^⅜ with a free one, at most σ [Pa].
    Errors:
        ``out_of_domain``.
    Source:
        von Kármán 1932 for held edges; ρ = λ^−¾ for free ones, Bambach & Rasmussen, Effective widths of unstiffened
        elements with stress gradient, J. Struct. Eng. 130 (2004) (from memory).
    """
    positive("buckling_pa", buckling_pa, "The buckling stress")
    positive("free_buckling_pa", free_buckling_pa, "The buckling stress")
    positive("squeeze_pa", squeeze_pa, "The strength")
    if not 0 <= free_share <= 1:
        raise refuse("free_share", "The share of walls with a free edge lies between 0 and 1.")
    held = squeeze_pa * np.minimum(1.0, (buckling_pa / squeeze_pa) ** 0.5)
    free = squeeze_pa * np.minimum(1.0, (free_buckling_pa / squeeze_pa) ** 0.375)
    return (1 - free_share) * held + free_share * free


def sheet_bridge(
    section: Section,
    span_m: float,
    overlap_m: float,
    material: Stock,
    placement: str,
    patch_m: float = 0.0,
    sag_limit_m: float | None = None,
    joint_n: Bounds | None = None,
    samples: Samples | None = None,
    across_m: float | None = None,
    off_m: float = 0.0,
    aside_m: float = 0.0,
    beside: int = 1,
) -> Prediction:
    """What a folded or flat sheet carries over a gap.

    Args:
        section: its cross-section; may be made of samples.
        span_m: clear gap [m], > 0.
        overlap_m: how much rests on each support [m], >= 0.
        material: the stock, as it runs along the span.
        placement: as in ``simply_supported``.
        patch_m: length of the platform under the load [m].
        sag_limit_m: sag that counts as failure [m]; a tenth of the gap when left out.
        joint_n: what a joint at the support or under the load holds in shear [N]; none when left out.
        samples: seeded samples; the usual ones when left out.
        across_m: width of the load across the bridge [m], such as a cup's; the whole bridge when left out.
        off_m: how far the load stands from midspan, for a load on a patch or in one line [m].
        aside_m: how far it stands from the bridge's middle line [m].
        beside: how many alike lie side by side under one deck [-], at least 1.
    Returns:
        The prediction: crimping of thin walls in compression, crushing, tearing, sag to the limit, sliding off the
        supports, and the joint. Own weight is taken off.
    Errors:
        ``out_of_domain``.
    Source:
        Beam formulas of this module; plate and shell buckling as in ``columns``; pleats that spread, ours; sliding
        from the slope of the ends
        and from how far a sagging span pulls its ends in (8δ²/3L), ours.
    """
    positive("span_m", span_m, "The gap")
    if not 0 <= overlap_m < 10 * span_m:
        raise refuse("overlap_m", "What rests on the supports cannot be less than zero.")
    limit = SAG_SHARE * span_m if sag_limit_m is None else sag_limit_m
    positive("sag_limit_m", limit, "The sag limit")
    draws = samples or Samples()
    modulus = draws.draw(material.elastic_modulus_pa, f"{material.key} modulus")
    squeeze = draws.draw(material.compression_pa, f"{material.key} compression")
    pull = draws.draw(material.tension_pa, f"{material.key} tension")
    density = draws.draw(material.density_kg_m3, f"{material.key} density")
    unit_load = (
        loaded_aside(span_m, 1.0, off_m, patch_m if placement == "patch" else 0.0)
        if off_m and placement in ("patch", "centre")
        else simply_supported(span_m, 1.0, placement, patch_m)
    )
    whole("beside", beside, 1, "The number side by side")
    works = _works(section, span_m, across_m, aside_m)
    if beside > 1:
        works = works * (1 + (beside - 1) * draws.draw(FURTHER_BEAM, "further beams"))
    section = spread_section(section, draws.draw(SPREAD, "folds spread"))
    second, bottom = section.second_moment_m4, section.neutral_axis_m
    top = section.depth_m - bottom
    own_n = density * section.area_m2 * span_m * GRAVITY_M_S2
    own_moment = own_n * span_m / 8
    stiff = modulus * second
    own_sag = 5 / 384 * own_n * span_m**3 / stiff

    def by_moment(stress: Number, arm: Number) -> Number:
        return works * (stress * second / arm - own_moment) / unit_load.max_moment_nm

    def by_sag(sag: Number) -> Number:
        return works * (sag - own_sag) * stiff / (unit_load.deflection_coefficient * span_m**3)

    states = [
        State("crush", "Top crushes", by_moment(squeeze, top),
              "The top fibre is squeezed beyond its strength. Thin folds crimp before that.",
              "The top gets squashed.", "M y/I", "crimp"),
        State("tear", "Tears underneath", by_moment(pull, bottom),
              "The bottom fibre is pulled beyond its strength. Paper is stronger pulled than squeezed.",
              "The bottom rips.", "M y/I", "snap"),
        State("sag", "Sags to the limit", by_sag(limit),
              f"It bends by {format_length(limit)}. Stiffness grows with the square of the depth, and falls with the "
              "cube of the gap.", "It bends too far.", "beam tables", "sag"),
        State("slide", "Slides off a support", by_sag(_slide_sag(span_m, overlap_m, material, placement, draws)),
              "Sagging tilts the ends until they slip, and pulls them in off the supports.",
              "An end slips off.", "geometry, friction", "slip"),
    ]  # fmt: skip
    walls = section.walls
    if walls is not None:
        if walls.coefficient is None:
            share = np.minimum(
                0.95,
                shell_knockdown(walls.flat_width_m, walls.thickness_m)
                * draws.draw(Bounds(0.9, 1.4, 2.0, "scatter of shell tests"), "shell scatter"),
            )
            buckling = share * cylinder_buckling_stress_pa(
                modulus, walls.thickness_m, walls.flat_width_m, material.poisson
            )
            stress = np.asarray(np.minimum(buckling, squeeze))
        else:
            k = draws.draw(Bounds(*walls.coefficient), "plate coefficient")
            flat = plate_buckling_stress_pa(modulus, walls.thickness_m, walls.flat_width_m, material.poisson, k)
            free = np.asarray(flat)
            if walls.coefficient != FREE_EDGE and walls.free_share:
                free = flat / k * draws.draw(Bounds(*FREE_EDGE), "free edge")
            stress = np.asarray(wall_stress_pa(flat, free, squeeze, walls.free_share))
        folds = draws.draw(Bounds(0.6, 0.85, 1.0, "order of magnitude: hand-made folds"), "folds")
        states.insert(
            0,
            State("crimp", "Folds crumple", by_moment(stress * folds, top),
                  "Thin walls under a squeeze buckle long before the material is crushed"
                  + (", and open folds spread and lose depth" if walls.spreads else "")
                  + ". Narrower walls, or two layers, hold more.",
                  "The thin top folds in.", "plate and shell buckling", "crimp"),
        )  # fmt: skip
    if joint_n is not None:
        states.append(
            State("joint", "Joint opens", draws.draw(joint_n, "bridge joint") / unit_load.max_shear_n - own_n,
                  "Half the load passes each joint as shear.", "The tape lets go.", "equilibrium", "joint")
        )  # fmt: skip
    return predict(states)


def _works(section: Section, span: float, across: float | None, aside: float) -> Number:
    """Share of the section that works under its load: the nearest pleats, and less towards an edge."""
    wide = typical(section.width_m)
    held = aside_share(wide, aside)
    if across is None:
        open_ = section.walls is not None and section.walls.spreads
        return held if open_ else 1.0
    reach = working_width_m(section, span, across) / 2
    return (np.minimum(reach, wide / 2 - aside) + np.minimum(reach, wide / 2 + aside)) / wide


def _slide_sag(span: float, overlap: float, material: Stock, placement: str, draws: Samples) -> Number:
    """Sag at which an end slips: too steep for friction, or pulled in by its overlap."""
    grip = draws.draw(material.friction, f"{material.key} friction")
    # Slope of the end over sag: 3/L under a load at the centre, 3.2/L under a uniform one.
    slope = 3.2 if placement == "uniform" else 3.0
    steep = grip * span / slope
    rough = draws.draw(Bounds(0.7, 1.0, 1.4, "order of magnitude"), "pulled in")
    pulled = math.sqrt(3 * span * 2 * max(overlap, 1e-4) / 8) * rough
    return np.minimum(steep, pulled)


def sag_curve(span_m: float, sag_m: float, points: int = 25) -> tuple[tuple[float, float], ...]:
    """Shape of a sagging span, for drawing.

    Args:
        span_m: clear span [m], > 0.
        sag_m: sag at midspan [m].
        points: how many points [-].
    Returns:
        Points (x, y) [m] from one support to the other, the deflection of a load at the centre.
    """
    positive("span_m", span_m, "The span")
    finite("sag_m", sag_m, "The sag")
    line = []
    for i in range(points):
        x = span_m * i / (points - 1)
        near = min(x, span_m - x) / span_m
        line.append((x, -sag_m * (3 * near - 4 * near**3)))
    return tuple(line)


def typical_sag_m(
    section: Section, span_m: float, material: Stock, placement: str, load_n: float, patch_m: float = 0.0
) -> float:
    """Sag at midspan under a load, with typical stiffness.

    Args:
        section: the cross-section.
        span_m: clear gap [m], > 0.
        material: the stock.
        placement: as in ``simply_supported``.
        load_n: load [N].
        patch_m: length of the platform [m].
    Returns:
        The sag [m].
    """
    response = simply_supported(span_m, 1.0, placement, patch_m)
    second = typical(spread_section(section, SPREAD.typical).second_moment_m4)
    return float(deflection_m(response, load_n, span_m, material.elastic_modulus_pa.typical, second))
