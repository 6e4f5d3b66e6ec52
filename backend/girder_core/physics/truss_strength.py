"""What a truss carries, alone or with others under a deck: its first member, joint or loaded piece, and its top."""

from __future__ import annotations

import math
from collections.abc import Mapping
from itertools import pairwise

import numpy as np

from girder_core.ground import Number, finite, positive, refuse, whole
from girder_core.measure import format_length
from girder_core.physics.beams import FURTHER_BEAM
from girder_core.physics.columns import column_load_n
from girder_core.physics.materials import Bounds, Stock
from girder_core.physics.members import (
    BETWEEN,
    CROOKED,
    JOINT_SCATTER,
    MemberStock,
    bending_moment_nm,
    chord_sway_n,
    member_of,
)
from girder_core.physics.predictions import Prediction, Samples, State, predict
from girder_core.physics.trusses import PlaneTruss


def trusses_share(trusses: int, apart_m: float, aside_m: float) -> float:
    """Share of the load that the most loaded of several trusses bears.

    Args:
        trusses: how many, evenly apart [-], at least 1.
        apart_m: between the outer ones [m], > 0.
        aside_m: from their middle line to the load [m], 0 to half of that.
    Returns:
        1/n + e y/Σy² [-], of a stiff deck; all of it for a single truss.
    Errors:
        ``out_of_domain``.
    Source:
        Moments about the middle line, as for a group of bolts (any text on steel construction).
    """
    whole("trusses", trusses, 1, "The number of trusses")
    positive("apart_m", apart_m, "The deck's width")
    if not 0 <= aside_m <= apart_m / 2:
        raise refuse("aside_m", f"The trusses stand {format_length(apart_m)} apart: the load must stand between them.")
    if trusses == 1:
        return 1.0
    places = [apart_m * (i / (trusses - 1) - 0.5) for i in range(trusses)]
    return 1 / trusses + aside_m * places[-1] / math.fsum(y * y for y in places)


def alike_bear(count: int, further: Number, heaviest_share: float | None = None) -> Number:
    """How many times the load of one alone several alike bear side by side.

    Args:
        count: how many [-], at least 1.
        further: what each further one adds [-].
        heaviest_share: share of the load on the most loaded one, where it stands aside [-]; see ``trusses_share``.
    Returns:
        1 + (n − 1) f; divided by n times that share, where the load stands aside [-].
    """
    even = 1 + (count - 1) * further
    return even if heaviest_share is None else even / (count * heaviest_share)


POSTS_HOLD = Bounds(0.02, 0.12, 0.4, "order of magnitude: how firmly pieces stand in their deck; 1 is clamped")
PEAKED = 0.7
"""Effective length of a chord over its length, when its squeeze is largest in the middle and fades to its ends as a
parabola: 0.696 (Timoshenko & Gere, Theory of Elastic Stability, 2.11, from memory)."""


def _top_path(truss: PlaneTruss) -> list[str]:
    """Joints from support to support over the top."""
    deck = sorted((x, name) for name, (x, y) in truss.joints.items() if name[0] == "B")
    tops = sorted((x, name) for name, (x, y) in truss.joints.items() if name[0] != "B")
    return [deck[0][1], *(name for _, name in tops), deck[-1][1]]


def capacity(
    truss: PlaneTruss,
    load_pattern: Mapping[str, float],
    member_stock: Stock,
    joint_strength_n: Bounds,
    doubled: int = 1,
    samples: Samples | None = None,
    bonded: bool = False,
    between_joints: bool = False,
    braced: bool = True,
    trusses: int = 1,
    heaviest_share: float | None = None,
) -> Prediction:
    """What a truss, or several side by side, carry until the first member or joint gives way.

    Args:
        truss: the truss.
        load_pattern: share of a unit load by joint, downwards [-].
        member_stock: what the members are.
        joint_strength_n: what the end of one member holds in its joint [N].
        doubled: how many pieces lie side by side in each member [-].
        samples: seeded samples; the usual ones when left out.
        bonded: whether these pieces are glued along their whole length.
        between_joints: whether the load also stands on pieces of the deck between their joints.
        braced: whether pieces across hold every joint of the top sideways.
        trusses: how many alike share the deck [-], at least 1.
        heaviest_share: share of the load on the most loaded one, where it stands aside [-]; see ``trusses_share``.
    Returns:
        The prediction: buckling, crushing and breaking of the member that is first to do so, and the weakest joint;
        a piece of the deck that is bent, and the top that sways, where that can happen. Joints share the stock's range
        and scatter one by one, so a truss of many joints is weaker than one joint.
    Errors:
        ``mechanism``; ``out_of_domain``; ``no_load``.
    Source:
        Euler and Johnson for compression members, pinned ends; beam tables and Brazier for the deck; a bar on an
        elastic foundation for the top; ranges as named in the code.
    """
    whole("trusses", trusses, 1, "The number of trusses")
    if not load_pattern or not sum(load_pattern.values()) > 0:
        raise refuse("load_pattern", "Load at least one joint.", "no_load")
    forces = truss.solve({name: (0.0, -share) for name, share in load_pattern.items()}).member_forces_n
    draws = samples or Samples()
    member = member_of(member_stock, doubled, bonded)
    modulus = draws.draw(member_stock.elastic_modulus_pa, f"{member_stock.key} modulus")
    squeeze = draws.draw(member_stock.compression_pa, f"{member_stock.key} compression")
    pull = draws.draw(member_stock.tension_pa, f"{member_stock.key} tension")
    crooked = draws.draw(CROOKED, "crooked")
    joint = draws.draw(joint_strength_n, "joint")
    further = draws.draw(FURTHER_BEAM, "further trusses") if trusses > 1 else 1.0
    shared = alike_bear(trusses, further, heaviest_share)
    never = np.inf
    squeezed = {
        name: (-f, length) for (name, f), length in zip(forces.items(), truss.lengths_m, strict=True) if f < -1e-9
    }
    pulled = {name: f for name, f in forces.items() if f > 1e-9}

    worst, buckles = "", np.full(draws.count, never)
    if squeezed:
        # Shared material, so the member with the largest F L² comes first unless it is stocky; try the worst few.
        order = sorted(squeezed, key=lambda name: -squeezed[name][0] * squeezed[name][1] ** 2)
        loads = {
            name: crooked
            * column_load_n(squeeze, modulus, member.area_m2, member.least_m4, squeezed[name][1])
            / squeezed[name][0]
            for name in {*order[:3], max(squeezed, key=lambda n: squeezed[n][0])}
        }
        worst = min(loads, key=lambda name: float(np.median(loads[name])))
        buckles = np.min(list(loads.values()), axis=0)
    tight = max(pulled, key=lambda name: pulled[name]) if pulled else ""
    snaps = pull * member.area_m2 / pulled[tight] if pulled else np.full(draws.count, never)
    joints = np.full(draws.count, never)
    weakest_joint, most = "", 0.0
    for name, force in forces.items():
        if abs(force) <= 1e-9:
            continue
        # Glue under a squeezed member is pressed together and rarely opens; it is taken as three times as strong.
        needed = abs(force) * (1.0 if force > 0 else 1 / 3)
        scatter = draws.draw(JOINT_SCATTER, f"joint {name}")
        joints = np.minimum(joints, joint * scatter * doubled / needed)
        if needed > most:
            weakest_joint, most = name, needed
    states = [
        State("buckle", f"{worst or 'A member'} buckles", shared * buckles,
              "A squeezed member bows out. Its load falls with the square of its length: shorten it, brace it, or "
              "double it.", "A thin stick that is pushed bends out.", "Euler, Johnson", "snap", worst),
        State("snap", f"{tight or 'A member'} is pulled apart", shared * snaps,
              "A pulled member breaks when its material does. It does not matter how long it is.",
              "A stick is pulled until it tears.", "σ A", "snap", tight),
        State("joint", f"Joint at an end of {weakest_joint} opens", shared * joints,
              "Joints usually go before members. A pulled member hangs on its two joints.",
              "The glue lets go.", "equilibrium", "joint", weakest_joint),
    ]  # fmt: skip
    if between_joints:
        piece, bends = _deck_bends(truss, load_pattern, forces, member_stock, doubled, draws)
        states.append(
            State("bend", f"{piece} is bent between its joints", shared * bends,
                  "Triangles carry loads that stand on their joints. A load in the middle of a piece bends it like a "
                  "plank: lay pieces across from joint to joint.",
                  "The load stands where no joint is. The stick bends.", "beam tables, Brazier", "snap", piece)
        )  # fmt: skip
    if not braced:
        sways = crooked * _sways(truss, forces, member, modulus, draws)
        states.append(
            State("sway", "The top sways sideways", shared * sways,
                  "The squeezed top is long and nothing but its posts holds it sideways. Pieces across from top to top "
                  "hold it at every joint.", "The top falls over to the side.", "bar on an elastic foundation", "twist")
        )  # fmt: skip
    return predict(states)


def truss_sag_m(
    truss: PlaneTruss,
    load_pattern: Mapping[str, float],
    load_n: float,
    trusses: int = 1,
    heaviest_share: float | None = None,
) -> float:
    """How far the middle of the deck of a truss comes down, its members as stiff as the truss has them.

    Args:
        truss: the truss, with its members' stiffness.
        load_pattern: share of a unit load by joint, downwards [-].
        load_n: load [N].
        trusses: how many alike share the deck [-].
        heaviest_share: share of the load on the most loaded one, where it stands aside [-]; see ``trusses_share``.
    Returns:
        The way down of the deck's joint at midspan [m], or the mean of both where two are as near. What joints give is
        not in it.
    Errors:
        ``mechanism``; ``out_of_domain``.
    Source:
        Direct stiffness, as ``PlaneTruss.solve``.
    """
    finite("load_n", load_n, "The load")
    whole("trusses", trusses, 1, "The number of trusses")
    if heaviest_share is not None:
        positive("heaviest_share", heaviest_share, "The share of the nearest truss")
    went = truss.solve({name: (0.0, -share * load_n) for name, share in load_pattern.items()}).displacements_m
    deck = sorted((x, name) for name, (x, _) in truss.joints.items() if name[0] == "B")
    middle = (deck[0][0] + deck[-1][0]) / 2
    near = min(abs(x - middle) for x, _ in deck)
    down = [-went[name][1] for x, name in deck if abs(x - middle) < near + 1e-9]
    return float(np.mean(down) / alike_bear(trusses, FURTHER_BEAM.typical, heaviest_share))


def _deck_bends(
    truss: PlaneTruss, load_pattern: Mapping[str, float], forces: Mapping[str, float], stock: Stock, doubled: int,
    draws: Samples,
) -> tuple[str, Number]:  # fmt: skip
    """The loaded piece of the deck that is bent most, and the load that it bears with the pull along it."""
    pieces = [
        (f"{a}-{b}", float(length), load_pattern.get(a, 0.0) / 2 + load_pattern.get(b, 0.0) / 2)
        for (a, b), length in zip(truss.members, truss.lengths_m, strict=True)
        if a[0] == b[0] == "B"
    ]
    # A load in the middle may stand on one piece beside its joint; spread over the deck, each piece bears its own.
    alone = len(load_pattern) <= 2
    name, length, share = max(pieces, key=lambda piece: piece[1] * piece[2])
    share = 1.0 if alone else share
    holds = bending_moment_nm(stock, doubled, draws)
    bent = draws.draw(BETWEEN, "between joints") * length * share / holds
    pull = draws.draw(stock.tension_pa, f"{stock.key} tension") * member_of(stock, doubled).area_m2
    return name, 1 / (bent + max(0.0, forces.get(name, 0.0)) / pull)


def _sways(
    truss: PlaneTruss, forces: Mapping[str, float], member: MemberStock, modulus: Number, draws: Samples
) -> Number:
    """Load at which the top sways, held by posts and diagonals that stand in the deck."""
    path = _top_path(truss)
    over = {frozenset(pair) for pair in pairwise(path)}
    long, most, posts = 0.0, 0.0, 0.0
    for (a, b), length in zip(truss.members, truss.lengths_m, strict=True):
        force = forces[f"{a}-{b}"]
        if frozenset((a, b)) in over:
            long, most = long + float(length), max(most, -force)
        elif (a[0] == "B") != (b[0] == "B"):
            posts += 3 / float(length) ** 3
    if most <= 1e-9 or long == 0:
        return np.full(draws.count, np.inf)
    stiff = modulus * member.out_of_plane_m4
    held = draws.draw(POSTS_HOLD, "posts hold") * posts * stiff / long
    return chord_sway_n(stiff, PEAKED * long, held) / most
