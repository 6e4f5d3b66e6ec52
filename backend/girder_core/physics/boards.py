"""Corrugated card as furniture: legs of standing board, crushing at the edge and buckling of panels."""

from __future__ import annotations

import math

import numpy as np

from girder_core.ground import Number, positive, refuse, whole
from girder_core.physics.columns import euler_load_n
from girder_core.physics.materials import Bounds, Stock
from girder_core.physics.predictions import Prediction, Samples, State, predict
from girder_core.physics.sections import corrugated_board

MCKEE = 5.876
"""Constant of McKee's short formula in consistent metric units: the published 5.87 in pounds and inches has no unit
(McKee, Gander & Wachuta 1963, from memory)."""
ACROSS_EDGE = Bounds(0.3, 0.45, 0.6, "order of magnitude: edge crush across the flutes over along")
HANDMADE = Bounds(0.35, 0.6, 0.85, "order of magnitude: hand-cut and taped boxes against machine-made ones")


def edge_crush_n_m(liner_n_m: Number, medium_n_m: Number, take_up: float) -> Number:
    """What a metre of board edge carries when it stands on it, flutes upright.

    Args:
        liner_n_m: compression strength of each face [N/m], > 0.
        medium_n_m: of the wavy sheet [N/m], > 0.
        take_up: length of the wavy sheet per length of board [-], >= 1.
    Returns:
        0.7 (2 liner + take-up · medium) [N/m].
    Errors:
        ``out_of_domain``.
    Source:
        Maltenfort's additive rule, with a factor for what is lost in the board (from memory).
    """
    positive("liner_n_m", liner_n_m, "The faces' strength")
    positive("medium_n_m", medium_n_m, "The medium's strength")
    if not 1 <= take_up < math.inf:
        raise refuse("take_up", "The wavy sheet is at least as long as the board.")
    return 0.7 * (2 * liner_n_m + take_up * medium_n_m)


def box_compression_n(edge_crush_n_m: Number, thickness_m: Number, perimeter_m: float) -> Number:
    """What an upright box of board carries.

    Args:
        edge_crush_n_m: of its board [N/m], > 0.
        thickness_m: of the board [m], > 0.
        perimeter_m: around the box [m], > 0.
    Returns:
        5.876 ECT √(t P) [N].
    Errors:
        ``out_of_domain``.
    Source:
        McKee, Gander & Wachuta, Compression strength formula for corrugated boxes, Paperboard Packaging 48 (1963)
        (from memory).
    """
    positive("edge_crush_n_m", edge_crush_n_m, "The edge crush strength")
    positive("thickness_m", thickness_m, "The board's thickness")
    positive("perimeter_m", perimeter_m, "The perimeter")
    return MCKEE * edge_crush_n_m * np.sqrt(thickness_m * perimeter_m)


def board_leg(
    stock: Stock,
    side_m: float,
    walls: int,
    height_m: float,
    legs: int,
    nested: int = 0,
    flutes_upright: bool = True,
    samples: Samples | None = None,
) -> Prediction:
    """What a stool on folded prisms of corrugated card carries.

    Args:
        stock: the board.
        side_m: width of a wall of a prism [m], > 0.
        walls: walls of a prism [-], at least 3.
        height_m: height of the prisms [m], > 0.
        legs: how many prisms share the seat [-], at least 1.
        nested: smaller prisms inside each, of half its side [-], >= 0.
        flutes_upright: whether the flutes run up the walls.
        samples: seeded samples; the usual ones when left out.
    Returns:
        The prediction: walls fold (McKee), edges crush, a leg buckles as a whole, load on one leg alone.
    Errors:
        ``out_of_domain``.
    Source:
        Functions of this module; ranges of hand-made boxes are orders of magnitude.
    """
    if stock.board is None:
        raise refuse("stock", f"{stock.name} is no corrugated card.")
    positive("side_m", side_m, "The wall's width")
    positive("height_m", height_m, "The height")
    whole("walls", walls, 3, "The number of walls")
    whole("legs", legs, 1, "The number of prisms")
    whole("nested", nested, 0, "The number of prisms inside")
    draws = samples or Samples()
    liner, flute, medium, take_up = stock.board
    squeeze = draws.draw(stock.compression_pa, f"{stock.key} compression")
    modulus = draws.draw(stock.elastic_modulus_pa, f"{stock.key} modulus")
    made = draws.draw(HANDMADE, "hand-made box")
    edge = edge_crush_n_m(squeeze * liner, squeeze * medium, take_up)
    if not flutes_upright:
        edge = edge * draws.draw(ACROSS_EDGE, "edge across")
    depth = flute + 2 * liner
    perimeter = walls * side_m
    inner = nested * perimeter / 2
    folds = made * (box_compression_n(edge, depth, perimeter) + nested * box_compression_n(edge, depth, perimeter / 2))
    crush = made * edge * (perimeter + inner)
    board = corrugated_board(1.0, liner, flute, medium, take_up, flutes_upright)
    apothem = side_m / (2 * math.tan(math.pi / walls))
    second = perimeter * float(board.area_m2) * (apothem**2 + side_m**2 / 12) / 2
    column = made * euler_load_n(modulus * (1.0 if flutes_upright else stock.across), second, height_m, 0.8)
    share_m = draws.draw(Bounds(0.4, 0.7, 1.0, "order of magnitude: how evenly a sitter loads the legs"), "even seat")
    share = legs * (share_m if legs > 1 else 1.0)
    return predict(
        [
            State("fold", "Walls fold", folds * share,
                  "Wide walls of card buckle; edges and folds carry most. More folds, or prisms nested inside, help.",
                  "The wide side folds in.", "measured on many boxes (McKee 1963)", "leg"),
            State("crush", "Flutes crush" if flutes_upright else "Board crushes across its flutes", crush * share,
                  "The edge of the board is squashed. Flutes upright carry two to three times as much as flutes lying."
                  if not flutes_upright else "The edge of the board is squashed along its whole length.",
                  "The edge gets squashed.", "edge crush", "flutes"),
            State("column", "A leg buckles sideways", column * share,
                  "A tall narrow leg bows out. Wider prisms stand better.", "The leg bends.", "Euler", "leg"),
        ]
    )  # fmt: skip
