"""Hanging and stayed bridges: pull of the cable, push on the towers, and the anchors that hold it all."""

from __future__ import annotations

import math
from dataclasses import dataclass

from girder_core.ground import GRAVITY_M_S2, Number, not_negative, positive, refuse, whole
from girder_core.measure import format_length
from girder_core.physics.columns import column_load_n
from girder_core.physics.materials import ON_TABLE, Bounds, Form, Stock
from girder_core.physics.members import BETWEEN, CROOKED, bending_moment_nm, member_of
from girder_core.physics.predictions import Prediction, Samples, State, predict

KNOT = Bounds(0.45, 0.65, 0.85, "order of magnitude: a knotted string against a plain one")
TOWER_ENDS = Bounds(0.8, 1.2, 2.0, "order of magnitude: effective length of a tower over its height")


def tied_n(line: Stock) -> Bounds:
    """What one length of a line with its knots holds.

    Args:
        line: the string.
    Returns:
        The range [N]: its strength times what a usual knot leaves.
    Errors:
        ``out_of_domain`` for a stock that is no line.
    """
    if line.form is not Form.LINE:
        raise refuse("cable", f"{line.name.capitalize()} is no cable. Choose a string.")
    return line.tension_pa.scaled_to(line.tension_pa.typical * KNOT.typical * member_of(line).area_m2)


@dataclass(frozen=True)
class CablePull:
    """What a cable does under its load.

    Attributes:
        level_n: its pull along the span, the same everywhere [N].
        most_n: its largest pull, at the steeper end [N].
        slope: how steep it is at that end [-].
    """

    level_n: float
    most_n: float
    slope: float


def hung_evenly(load_n: float, span_m: float, sag_m: float) -> CablePull:
    """A cable from tower to tower whose load hangs evenly along the span.

    Args:
        load_n: the whole load [N], >= 0.
        span_m: between the towers [m], > 0.
        sag_m: of the cable at its middle [m], > 0.
    Returns:
        A parabola's pulls: H = W L/(8 f), slope 4 f/L, T = √(H² + (W/2)²).
    Errors:
        ``out_of_domain``.
    Source:
        Hibbeler, Structural Analysis, 5.3 (from memory).
    """
    not_negative("load_n", load_n, "The load")
    positive("span_m", span_m, "The span")
    positive("sag_m", sag_m, "The sag")
    level = load_n * span_m / (8 * sag_m)
    return CablePull(level, math.hypot(level, load_n / 2), 4 * sag_m / span_m)


def hung_at_one_place(load_n: float, span_m: float, sag_m: float, at: float = 0.5) -> CablePull:
    """A light cable with its load at one place, where it makes a corner.

    Args:
        load_n: the load [N], >= 0.
        span_m: between the towers [m], > 0.
        sag_m: of the corner [m], > 0.
        at: where along the span [-], above 0 and below 1.
    Returns:
        H = W L k(1 − k)/f; the largest pull is in the shorter, steeper half.
    Errors:
        ``out_of_domain``.
    Source:
        Equilibrium of the corner.
    """
    not_negative("load_n", load_n, "The load")
    positive("span_m", span_m, "The span")
    positive("sag_m", sag_m, "The sag")
    if not 0 < at < 1:
        raise refuse("at", "The load hangs between the towers.")
    level = load_n * span_m * at * (1 - at) / sag_m
    slope = sag_m / (span_m * min(at, 1 - at))
    return CablePull(level, level * math.hypot(1, slope), slope)


def cable_length_m(span_m: float, sag_m: float) -> float:
    """Length of a parabola from tower to tower.

    Args:
        span_m: [m], > 0.
        sag_m: at its middle [m], > 0.
    Returns:
        (L/2) (√(1 + s²) + asinh(s)/s) with s = 4 f/L [m].
    Errors:
        ``out_of_domain``.
    Source:
        Arc length of a parabola (any handbook of mathematics).
    """
    positive("span_m", span_m, "The span")
    positive("sag_m", sag_m, "The sag")
    slope = 4 * sag_m / span_m
    return span_m / 2 * (math.hypot(1, slope) + math.asinh(slope) / slope)


def corner_sag_m(span_m: float, length_m: float, at: float = 0.5) -> float:
    """How deep the corner of a cable lies that is pulled tight at one place.

    Args:
        span_m: between the towers [m], > 0.
        length_m: of the cable [m], more than the span.
        at: where along the span [-], above 0 and below 1.
    Returns:
        The depth below the towers' tops [m]: the corner lies on an ellipse about them.
    Errors:
        ``out_of_domain``.
    Source:
        The ellipse by its string (Euclidean geometry).
    """
    positive("span_m", span_m, "The span")
    positive("length_m", length_m, "The cable")
    if not 0 < at < 1:
        raise refuse("at", "The load hangs between the towers.")
    if length_m <= span_m:
        raise refuse("length_m", "The cable is no longer than the gap. Take a longer one.")
    half, focus, x = length_m / 2, span_m / 2, abs(at - 0.5) * span_m
    return math.sqrt((half**2 - focus**2) * (1 - (x / half) ** 2))


def stays_level_n(
    load_n: float, span_m: float, tower_m: float, stays: int, placement: str, at: float = 0.5
) -> tuple[float, float]:
    """Pulls of a deck on straight stays from the towers' tops, evenly spaced.

    Args:
        load_n: the whole load [N], >= 0.
        span_m: between the towers [m], > 0.
        tower_m: of the towers above the deck [m], > 0.
        stays: on each side [-], at least 1; the longest ones of both sides meet at midspan.
        placement: ``centre`` or ``uniform``.
        at: where along the span a load in one place stands [-], 0 to 1.
    Returns:
        Level pull at the top of the tower that is pulled more, and the pull in the stay that is pulled most [N].
    Errors:
        ``out_of_domain``.
    Source:
        Equilibrium: each stay lifts what lies halfway to its neighbours, of a load in one place by the lever; T = V/sin
        θ, H = Σ V x/h.
    """
    not_negative("load_n", load_n, "The load")
    positive("span_m", span_m, "The span")
    positive("tower_m", tower_m, "The towers")
    whole("stays", stays, 1, "The number of stays")
    if not 0 <= at <= 1:
        raise refuse("at", "The load hangs between the towers.")
    half = span_m / 2
    if placement == "centre":
        # From the nearer tower: its stays, and the longest of the other side that meets its own at midspan.
        place = min(at, 1 - at) * 2 * stays
        outer = min(int(place), stays - 1)
        far = place - outer
        lifts = {i: load_n * share for i, share in ((outer, 1 - far), (outer + 1, far)) if i > 0 and share > 0}
        if stays in lifts:
            lifts[stays] /= 2
    else:
        # The deck next to the tower rests on the tower.
        each = load_n / 2 / stays
        lifts = {i: each * (0.5 if i == stays else 1.0) for i in range(1, stays + 1)}
    level = math.fsum(lift * half * i / stays / tower_m for i, lift in lifts.items())
    pulls = [lift * math.hypot(half * i / stays, tower_m) / tower_m for i, lift in lifts.items()]
    return level, max(pulls, default=0.0)


def anchor_slides_n(weight_n: Number, friction: Number, slope: float) -> Number:
    """Pull of a cable at which the weight that anchors it slides.

    Args:
        weight_n: of the anchor [N], > 0.
        friction: of the anchor on its ground [-], > 0.
        slope: how steeply the cable comes down to it [-], >= 0.
    Returns:
        μ W/(cos β + μ sin β) [N]: the cable pulls it along and lifts it a little.
    Errors:
        ``out_of_domain``.
    Source:
        Coulomb friction.
    """
    positive("weight_n", weight_n, "The anchor")
    positive("friction", friction, "The friction")
    not_negative("slope", slope, "The slope")
    steep = math.hypot(1, slope)
    return friction * weight_n * steep / (1 + friction * slope)


def anchor_lifts_n(weight_n: Number, slope: float) -> Number:
    """Pull of a cable at which it lifts its anchor.

    Args:
        weight_n: of the anchor [N], > 0.
        slope: how steeply the cable comes down to it [-], > 0.
    Returns:
        W/sin β [N].
    Errors:
        ``out_of_domain``.
    Source:
        Equilibrium.
    """
    positive("weight_n", weight_n, "The anchor")
    positive("slope", slope, "The slope")
    return weight_n * math.hypot(1, slope) / slope


@dataclass(frozen=True)
class CableBridge:
    """A deck held from two towers.

    Attributes:
        span_m: between the towers [m].
        tower_m: of the towers above the deck [m].
        back_m: from a tower's foot to its anchor [m].
        anchor_kg: mass of each anchor [kg].
        cables: how many side by side [-].
        posts: of each tower [-].
        sag_m: of a hanging cable [m]; None where straight stays hold the deck.
        stays: on each side, where stays hold it [-].
        hangers: along a hanging cable [-].
        deck_pieces: how many pieces lie side by side along the deck [-].
    """

    span_m: float
    tower_m: float
    back_m: float
    anchor_kg: float
    cables: int
    posts: int
    sag_m: float | None = None
    stays: int = 3
    hangers: int = 5
    deck_pieces: int = 2

    def __post_init__(self) -> None:
        positive("span_m", self.span_m, "The span")
        positive("tower_m", self.tower_m, "The towers")
        positive("back_m", self.back_m, "The way to the anchor")
        positive("anchor_kg", self.anchor_kg, "The anchor")
        for field, value in (("cables", self.cables), ("posts", self.posts), ("stays", self.stays),
                             ("hangers", self.hangers), ("deck_pieces", self.deck_pieces)):  # fmt: skip
            whole(field, value, 1, "Their number")
        if self.sag_m is not None:
            positive("sag_m", self.sag_m, "The sag")
            if self.sag_m > self.tower_m:
                raise refuse("sag_m", f"The cable would hang below the deck: the towers stand only "
                             f"{format_length(self.tower_m)} above it.")  # fmt: skip

    @property
    def back_slope(self) -> float:
        """How steeply the cable goes down to its anchor [-]."""
        return self.tower_m / self.back_m

    @property
    def free_deck_m(self) -> float:
        """Deck between what holds it [m]."""
        return self.span_m / ((self.hangers + 1) if self.sag_m is not None else 2 * self.stays)

    def pulls(self, placement: str, off_m: float = 0.0) -> tuple[float, float]:
        """Level pull at the towers and largest pull in one cable or stay, for a load of 1 N [N]."""
        at = 0.5 + abs(off_m) / self.span_m
        if not at < 1:
            raise refuse("off_m", "The load hangs between the towers. Move it nearer the middle.")
        if self.sag_m is None:
            return stays_level_n(1.0, self.span_m, self.tower_m, self.stays, placement, at)
        if placement == "centre":
            tight = corner_sag_m(self.span_m, cable_length_m(self.span_m, self.sag_m), at)
            made = hung_at_one_place(1.0, self.span_m, tight, at)
        else:
            made = hung_evenly(1.0, self.span_m, self.sag_m)
        return made.level_n, made.most_n


def cable_bridge(
    bridge: CableBridge, cable: Stock, tower: Stock, deck: Stock, placement: str, samples: Samples | None = None,
    off_m: float = 0.0,
) -> Prediction:  # fmt: skip
    """What a hanging or stayed bridge carries.

    Args:
        bridge: its sizes.
        cable: a line.
        tower: a rod or straw, its posts.
        deck: a rod or straw, the pieces along the deck.
        placement: ``centre`` or ``uniform``.
        samples: seeded samples; the usual ones when left out.
        off_m: how far a load in one place stands from midspan [m].
    Returns:
        The prediction: an anchor slides or is lifted, the cable parts at a knot, a tower buckles, the deck is bent
        between what holds it.
    Errors:
        ``out_of_domain``.
    Source:
        Functions of this module; towers stand on feet that turn, so that the cable behind takes all of the level pull.
    """
    if cable.form is not Form.LINE:
        raise refuse("cable", f"{cable.name.capitalize()} is no cable. Choose a string.")
    if placement not in ("centre", "uniform"):
        raise refuse("placement", "The load lies in the middle or all along the deck.")
    draws = samples or Samples()
    level, most = bridge.pulls(placement, off_m)
    steep = math.hypot(1, bridge.back_slope)
    behind = level * steep
    weight = bridge.anchor_kg * GRAVITY_M_S2
    grip = draws.draw(ON_TABLE, "anchor friction")
    line = member_of(cable).area_m2 * bridge.cables
    strength = draws.draw(cable.tension_pa, f"{cable.key} tension") * draws.draw(KNOT, "knots") * line
    posts = member_of(tower)
    pushed = 0.5 + abs(off_m) / bridge.span_m + level * bridge.back_slope
    buckles = draws.draw(CROOKED, "crooked") * bridge.posts * column_load_n(
        draws.draw(tower.compression_pa, f"{tower.key} compression"),
        draws.draw(tower.elastic_modulus_pa, f"{tower.key} modulus"), posts.area_m2, posts.least_m4,
        bridge.tower_m * draws.draw(TOWER_ENDS, "tower ends"),
    )  # fmt: skip
    share = 1.0 if placement == "centre" else bridge.free_deck_m / bridge.span_m
    lever = share * bridge.free_deck_m * draws.draw(BETWEEN, "between hangers")
    bends = bending_moment_nm(deck, bridge.deck_pieces, draws, flat=True) / lever
    return predict(
        [
            State("anchor", "An anchor slides", anchor_slides_n(weight, grip, bridge.back_slope) / behind,
                  "The cable pulls its anchor along the table, and the flatter it hangs, the harder. More weight, more "
                  "sag or a rough mat helps.", "The weights at the end slide in.", "Coulomb friction", "slip"),
            State("lift", "An anchor is lifted", anchor_lifts_n(weight, bridge.back_slope) / behind,
                  "A steep cable lifts its anchor off the table. Put the anchor farther out.",
                  "The weights at the end are lifted.", "equilibrium", "slip"),
            State("cable", "The cable parts at a knot" if bridge.sag_m is not None else "A stay parts at its knot",
                  strength / max(most, behind),
                  "Knots take a third of a string's strength. The flatter the cable, the harder the pull.",
                  "The string breaks at its knot.", "statics of a cable", "joint"),
            State("tower", "A tower buckles", buckles / pushed,
                  "Cable and load together press the tower down. It bows out like a column.",
                  "The tower bends and falls.", "Euler, Johnson", "twist"),
            State("deck", "The deck is bent between what holds it", bends,
                  "Between its hangers or stays the deck is a plank. Hang it more often.",
                  "The deck snaps between two strings.", "beam tables", "snap"),
        ]
    )  # fmt: skip
