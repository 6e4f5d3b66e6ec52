"""Corbels: layers that step in until two sides meet, held by the weight on their tails."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from girder_core.ground import not_negative, positive, refuse, whole
from girder_core.measure import format_length
from girder_core.physics.materials import Bounds
from girder_core.physics.predictions import Prediction, Samples, State, predict


def max_overhang_m(block_length_m: float, blocks: int) -> float:
    """How far a stack of blocks can lean out over an edge, one per layer.

    Args:
        block_length_m: length of a block [m], > 0.
        blocks: how many stick out over the edge [-], at least 1.
    Returns:
        (l/2)(1 + 1/2 + … + 1/n) [m]: the limit, without any margin.
    Errors:
        ``out_of_domain``.
    Source:
        Graham, Knuth & Patashnik, Concrete Mathematics, 6.3 (from memory).
    """
    positive("block_length_m", block_length_m, "The block")
    whole("blocks", blocks, 1, "The number of blocks")
    return block_length_m / 2 * math.fsum(1 / i for i in range(1, blocks + 1))


@dataclass(frozen=True)
class Layer:
    """The joint under one layer of a corbel, counted from the top.

    Attributes:
        number: 1 for the top layer.
        inner_margin_m: from the edge that it would tip over to the centre of mass of all above [m]; below zero it tips
            into the opening.
        outer_margin_m: likewise towards the tail [m].
        above_n: weight of all above the joint [N].
        tip_m: how far the tip of the top layer lies beyond the edge of this joint [m].
    """

    number: int
    inner_margin_m: float
    outer_margin_m: float
    above_n: float
    tip_m: float


@dataclass(frozen=True)
class Corbel:
    """Whether half a corbelled arch stands.

    Attributes:
        layers: from the top.
        stable: whether no layer tips; no margin left counts as standing.
        tips: number from the top of the first layer that tips; 0 when it stands.
        worst: number of the layer with the least margin.
        overhang_m: how far the top layer reaches beyond the lowest [m].
        span_m: clear opening that two halves close [m].
        says: in a sentence.
    """

    layers: tuple[Layer, ...]
    stable: bool
    tips: int
    worst: int
    overhang_m: float
    span_m: float
    says: str


def corbel_stability(
    step_ins_m: Sequence[float],
    block_length_m: float,
    tail_load_n: float | Sequence[float] = 0.0,
    block_weight_n: float = 1.0,
    tail_at_m: float = 0.0,
) -> Corbel:
    """Whether each layer of a corbel stands on the one below.

    Args:
        step_ins_m: how far each layer reaches beyond the one below it, from the top down [m].
        block_length_m: length of a block [m], > 0.
        tail_load_n: weight put on the tails of the layers, one for the top layer alone or one per layer from the top
            [N], >= 0.
        block_weight_n: weight of a block [N], > 0.
        tail_at_m: distance of that weight from the block's outer end [m], 0 to the block's length.
    Returns:
        The finding. Each half stands by itself; the thrust of two touching halves is left out.
    Errors:
        ``step_too_long`` for a step-in of a block's length or more; ``out_of_domain``.
    Source:
        Equilibrium of all above each joint; Concrete Mathematics, 6.3, without tail loads (from memory).
    """
    positive("block_length_m", block_length_m, "The block")
    positive("block_weight_n", block_weight_n, "The block's weight")
    if not step_ins_m:
        raise refuse("step_ins_m", "A corbel needs at least one layer that steps in.")
    for number, step in enumerate(step_ins_m, 1):
        if not math.isfinite(step) or step < 0:
            raise refuse("step_ins_m", f"Layer {number} from the top steps the wrong way.")
        if step >= block_length_m:
            raise refuse(
                "step_ins_m",
                f"Layer {number} from the top steps in by {format_length(step)}, a block's length or more: it would "
                "not rest on the layer below.",
                "step_too_long",
                layer=number,
            )
    if not 0 <= tail_at_m <= block_length_m:
        raise refuse("tail_at_m", "The tail weight must lie on the block.")
    tails = [float(tail_load_n)] if isinstance(tail_load_n, (int, float)) else [float(load_n) for load_n in tail_load_n]
    tails += [0.0] * (len(step_ins_m) - len(tails))
    for tail in tails:
        not_negative("tail_load_n", tail, "The weight on the tail")
    # x = 0 at the outer end of the top layer, growing towards the opening; each lower layer starts further out.
    weight, moment, start = 0.0, 0.0, 0.0
    layers = []
    for number, (step, tail) in enumerate(zip(step_ins_m, tails, strict=False), 1):
        weight += block_weight_n + tail
        moment += block_weight_n * (start + block_length_m / 2) + tail * (start + tail_at_m)
        centre = moment / weight
        inner_edge = start + block_length_m - step
        layers.append(Layer(number, inner_edge - centre, centre - start, weight, block_length_m - inner_edge))
        start -= step
    tolerance = 1e-9 * block_length_m
    tips = next(
        (layer.number for layer in layers if layer.inner_margin_m < -tolerance or layer.outer_margin_m < -tolerance), 0
    )
    worst = min(layers, key=lambda layer: min(layer.inner_margin_m, layer.outer_margin_m)).number
    overhang = math.fsum(step_ins_m)
    says = (
        f"Layer {tips} from the top tips into the opening. Step in less above it, or put weight on its tail."
        if tips
        else f"It stands. Layer {worst} from the top has the least to spare."
    )
    return Corbel(tuple(layers), tips == 0, tips, worst, overhang, 2 * overhang, says)


SHARED = Bounds(0.55, 0.8, 1.0, "order of magnitude: a load on the crown never stands quite in the middle")
UNLIKE = Bounds(0.93, 1.0, 1.07, "order of magnitude: blocks are not all alike")
PLACED = Bounds(0.0005, 0.0015, 0.004, "order of magnitude [m]: how exactly a hand sets a block")


def corbel_load(
    step_ins_m: Sequence[float],
    block_length_m: float,
    block_weight_n: float,
    tail_load_n: float | Sequence[float] = 0.0,
    tail_at_m: float = 0.0,
    samples: Samples | None = None,
) -> Prediction:
    """What half a corbelled arch carries at its tip; two halves that meet carry twice that between them.

    Args:
        step_ins_m: from the top down [m].
        block_length_m: length of a block [m], > 0.
        block_weight_n: weight of a block [N], > 0.
        tail_load_n: weight on the tails, as in ``corbel_stability`` [N].
        tail_at_m: distance of that weight from the block's outer end [m].
        samples: seeded samples; the usual ones when left out.
    Returns:
        The prediction of the load on both tips together; one state per layer.
    Errors:
        ``corbel_tips`` when it does not stand unloaded; as ``corbel_stability``.
    Source:
        Moments about the edge of each joint.
    """
    stability = corbel_stability(step_ins_m, block_length_m, tail_load_n, block_weight_n, tail_at_m)
    if not stability.stable:
        raise refuse("step_ins_m", stability.says, "corbel_tips", layer=stability.tips)
    draws = samples or Samples()
    shared = draws.draw(SHARED, "shared") * draws.draw(UNLIKE, "unlike blocks")
    states = []
    for layer in stability.layers:
        slack = draws.draw(PLACED, f"placing {layer.number}") * math.sqrt(layer.number)
        margin = np.maximum(layer.inner_margin_m - slack, 0.0)
        # A tip that lies over its own support cannot tip it.
        load = 2 * shared * layer.above_n * margin / layer.tip_m if layer.tip_m > 0 else np.full(draws.count, np.inf)
        states.append(
            State(
                f"layer-{layer.number}", f"Layer {layer.number} from the top tips", load,
                "All above the joint turns about its edge: the load at the tip on one side, weight behind the edge on "
                "the other. Weight on the tail or a smaller step helps.",
                "The stones tip into the gap. Put weight at the back.", "moments about the edge", "rotated",
                str(layer.number),
            )
        )  # fmt: skip
    return predict(states)
