"""Plane pin-jointed trusses: ready patterns, whether they stand, and their forces by direct stiffness."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import pairwise
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from girder_core.ground import Point, positive, refuse, whole

Support = Literal["xy", "x", "y"]
Kind = Literal["mechanism", "determinate", "indeterminate"]
RANK_TOLERANCE = 1e-9
"""Singular values below this share of the largest count as zero; directions are unit vectors, so sizes
do not matter."""


@dataclass(frozen=True)
class Determinacy:
    """Whether a truss stands by its shape alone.

    Attributes:
        kind: mechanism, determinate or indeterminate (stands, with members to spare).
        joints, members, reactions: j, m and r [-].
        rank: of the equilibrium matrix, 2j × (m + r) [-].
        mechanisms: ways in which it can move, 2j − rank [-].
        self_stress_states: ways in which it can be stressed without load, m + r − rank [-].
        moving_joint: a joint that can move; empty when it stands.
    """

    kind: Kind
    joints: int
    members: int
    reactions: int
    rank: int
    mechanisms: int
    self_stress_states: int
    moving_joint: str = ""


@dataclass(frozen=True)
class TrussForces:
    """What a truss does under its loads.

    Attributes:
        member_forces_n: by "A-B", tension positive [N].
        reactions_n: by joint and direction, such as "Ay"; forces of the support on the truss [N].
        displacements_m: by joint, (x, y) [m].
    """

    member_forces_n: Mapping[str, float]
    reactions_n: Mapping[str, float]
    displacements_m: Mapping[str, Point]


@dataclass(frozen=True)
class PlaneTruss:
    """Straight members between frictionless joints, loaded at the joints; small displacements.

    Attributes:
        joints: positions by name [m], x to the right and y up.
        members: pairs of joint names.
        supports: by joint: ``xy`` a pin, ``y`` a roller free in x, ``x`` a roller free in y.
        axial_stiffness_n: E A of the members, one for all or one each [N].
    """

    joints: Mapping[str, Point]
    members: Sequence[tuple[str, str]]
    supports: Mapping[str, Support]
    axial_stiffness_n: float | Sequence[float] = 1e5

    def __post_init__(self) -> None:
        if len(self.joints) < 2 or not self.members:
            raise refuse("members", "A truss needs at least two joints and a member.", "empty_truss")
        points = np.array([self.joints[name] for name in self.joints], float)
        if not np.isfinite(points).all():
            raise refuse("joints", "Every joint needs a place.", "bad_joint")
        size = float(np.ptp(points, axis=0).max())
        names = list(self.joints)
        apart = np.linalg.norm(points[:, None] - points[None], axis=2) + np.eye(len(names)) * (size + 1)
        if apart.min() <= 1e-6 * max(size, 1e-9):
            a, b = np.unravel_index(int(apart.argmin()), apart.shape)
            raise refuse(
                "joints", f"Joints {names[a]} and {names[b]} lie on each other. Move one of them.", "joints_meet",
                joints=[names[a], names[b]],
            )  # fmt: skip
        seen = set()
        for a_name, b_name in self.members:
            if a_name not in self.joints or b_name not in self.joints:
                raise refuse("members", f"Member {a_name}-{b_name} ends at no joint.", "unknown_joint")
            if a_name == b_name or frozenset((a_name, b_name)) in seen:
                raise refuse("members", f"Member {a_name}-{b_name} is there twice or has no length.", "bad_member")
            seen.add(frozenset((a_name, b_name)))
        for name, support in self.supports.items():
            if name not in self.joints or support not in ("x", "y", "xy"):
                raise refuse("supports", f"There is no joint {name} to support.", "unknown_joint")
        stiffness = np.broadcast_to(np.asarray(self.axial_stiffness_n, float), (len(self.members),))
        positive("axial_stiffness_n", stiffness, "The members' stiffness")

    @cached_property
    def _index(self) -> dict[str, int]:
        return {name: i for i, name in enumerate(self.joints)}

    @cached_property
    def _ends(self) -> NDArray[np.int64]:
        return np.array([(self._index[a], self._index[b]) for a, b in self.members], np.int64)

    @cached_property
    def _points(self) -> NDArray[np.float64]:
        return np.array(list(self.joints.values()), float)

    @cached_property
    def lengths_m(self) -> NDArray[np.float64]:
        """Length of each member [m]."""
        span = self._points[self._ends[:, 1]] - self._points[self._ends[:, 0]]
        return np.asarray(np.hypot(span[:, 0], span[:, 1]))

    @cached_property
    def _held(self) -> NDArray[np.int64]:
        """Degrees of freedom that supports hold, in the order of the supports."""
        held = [2 * self._index[n] + (axis == "y") for n, s in self.supports.items() for axis in s]
        return np.array(held, np.int64)

    @cached_property
    def _directions(self) -> NDArray[np.float64]:
        """Per member the pull of a unit tension on the degrees of freedom of its ends: 2j × m."""
        span = self._points[self._ends[:, 1]] - self._points[self._ends[:, 0]]
        unit = span / self.lengths_m[:, None]
        matrix = np.zeros((2 * len(self.joints), len(self.members)))
        columns = np.arange(len(self.members))
        for axis in (0, 1):
            matrix[2 * self._ends[:, 0] + axis, columns] = -unit[:, axis]
            matrix[2 * self._ends[:, 1] + axis, columns] = unit[:, axis]
        return matrix

    def determinacy(self) -> Determinacy:
        """Whether the truss stands, by the rank of its equilibrium matrix.

        Returns:
            The finding. Counting m + r = 2j is necessary and not sufficient, so it is not used.
        Source:
            Pellegrino & Calladine, Matrix analysis of statically and kinematically indeterminate frameworks, Int. J.
            Solids Structures 22 (1986) 409 (from memory).
        """
        j, m, r = len(self.joints), len(self.members), len(self._held)
        free = np.setdiff1d(np.arange(2 * j), self._held)
        # A reaction carries its own row, so the rank is r plus that of the free rows.
        bars = self._directions[free]
        if len(free) == 0:
            rank, moving = r, ""
        else:
            left, values, _ = np.linalg.svd(bars, full_matrices=True)
            own = int((values > RANK_TOLERANCE * max(1.0, values[0])).sum())
            rank, moving = r + own, ""
            if own < len(free):
                motion = np.zeros(2 * j)
                motion[free] = np.abs(left[:, own:]).max(axis=1)
                moving = list(self.joints)[int(np.hypot(motion[0::2], motion[1::2]).argmax())]
        mechanisms, spare = 2 * j - rank, m + r - rank
        kind: Kind = "mechanism" if mechanisms else "indeterminate" if spare else "determinate"
        return Determinacy(kind, j, m, r, rank, mechanisms, spare, moving)

    def solve(self, loads: Mapping[str, Point]) -> TrussForces:
        """Forces, reactions and displacements under loads at joints.

        Args:
            loads: by joint, (x, y) [N]; down is negative y.
        Returns:
            The forces, by direct stiffness; holds for determinate and indeterminate trusses.
        Errors:
            ``mechanism``, naming a joint that can move; ``unknown_joint``.
        Source:
            Any text of matrix structural analysis, such as Kassimali, Matrix Analysis of Structures, ch. 3 (from
            memory).
        """
        force = np.zeros(2 * len(self.joints))
        for name, (x, y) in loads.items():
            if name not in self._index:
                raise refuse("loads", f"There is no joint {name} to load.", "unknown_joint")
            force[2 * self._index[name]] += x
            force[2 * self._index[name] + 1] += y
        free = np.setdiff1d(np.arange(force.size), self._held)
        bars = self._directions[free]
        stiffness = np.broadcast_to(np.asarray(self.axial_stiffness_n, float), (len(self.members),)) / self.lengths_m
        moves = np.zeros(force.size)
        if free.size:
            if self._shaky(bars):
                counted = self.determinacy()
                if counted.kind == "mechanism":
                    raise mechanism(counted)
            moves[free] = np.linalg.solve((bars * stiffness) @ bars.T, force[free])
        tension = stiffness * (self._directions.T @ moves)
        # What supports give is what members need beyond the load.
        reactions = self._directions @ tension - force
        names = [f"{n}{axis}" for n, s in self.supports.items() for axis in s]
        return TrussForces(
            {f"{a}-{b}": float(t) for (a, b), t in zip(self.members, tension, strict=True)},
            {name: float(reactions[dof]) for name, dof in zip(names, self._held, strict=True)},
            {name: (float(moves[2 * i]), float(moves[2 * i + 1])) for i, name in enumerate(self.joints)},
        )

    @staticmethod
    def _shaky(bars: NDArray[np.float64]) -> bool:
        """Whether the truss may be a mechanism: cheap, and wrong only towards caution."""
        if bars.shape[1] < bars.shape[0]:
            return True
        try:
            pivots = np.diag(np.linalg.cholesky(bars @ bars.T))
        except np.linalg.LinAlgError:
            return True
        return bool(pivots.min() < 1e-4 * pivots.max())


def mechanism(counted: Determinacy) -> ValueError:
    """The refusal of a truss that cannot stand.

    Args:
        counted: its determinacy.
    Returns:
        The error, naming a joint that can move.
    """
    return refuse(
        "members",
        f"Joint {counted.moving_joint} can move: this is a mechanism, not a truss. Make triangles; add a member there "
        "or a support.",
        "mechanism",
        joint=counted.moving_joint,
    )


PATTERNS = ("king post", "queen post", "Warren", "Warren with verticals", "Pratt", "Howe", "bowstring")


def pattern(name: str, span_m: float, depth_m: float, panels: int = 4) -> PlaneTruss:
    """A ready truss on a pin and a roller.

    Args:
        name: one of ``PATTERNS``.
        span_m: between its supports [m], > 0.
        depth_m: of the truss at its deepest [m], > 0.
        panels: fields of the bottom chord [-]; 2 for king post and 3 for queen post, whatever is asked.
    Returns:
        The truss; bottom joints B0, B1, … from the left, top joints T….
    Errors:
        ``out_of_domain``.
    """
    positive("span_m", span_m, "The span")
    positive("depth_m", depth_m, "The depth")
    if name not in PATTERNS:
        raise refuse("pattern", "There is no such pattern of truss.")
    if name == "king post":
        panels = 2
    elif name == "queen post":
        panels = 3
    whole("panels", panels, 2, "The number of panels")
    if panels > 40:
        raise refuse("panels", "More than 40 panels is no classroom truss.")
    if name in ("Pratt", "Howe", "bowstring") and panels % 2:
        raise refuse("panels", f"A {name} truss is symmetric: choose an even number of panels.")
    step = span_m / panels
    joints: dict[str, Point] = {f"B{i}": (i * step, 0.0) for i in range(panels + 1)}
    members = [(f"B{i}", f"B{i + 1}") for i in range(panels)]
    if name.startswith("Warren"):
        joints |= {f"T{i}": ((i + 0.5) * step, depth_m) for i in range(panels)}
        members += [(f"T{i}", f"T{i + 1}") for i in range(panels - 1)]
        for i in range(panels):
            members += [(f"B{i}", f"T{i}"), (f"T{i}", f"B{i + 1}")]
        if name == "Warren with verticals":
            # Posts stand below the top chord's middles, so the deck is carried at every half panel.
            joints |= {f"M{i}": ((i + 1) * step, depth_m) for i in range(panels - 1)}
            members = [m for m in members if not (m[0][0] == "T" and m[1][0] == "T")]
            for i in range(panels - 1):
                members += [(f"T{i}", f"M{i}"), (f"M{i}", f"T{i + 1}"), (f"M{i}", f"B{i + 1}")]
    else:

        def height(i: int) -> float:
            return depth_m * 4 * i * (panels - i) / panels**2 if name == "bowstring" else depth_m

        top = range(1, panels)
        joints |= {f"T{i}": (i * step, height(i)) for i in top}
        members += [(f"T{i}", f"T{i + 1}") for i in range(1, panels - 1)]
        members += [(f"B{i}", f"T{i}") for i in top]
        members += [("B0", "T1"), (f"B{panels}", f"T{panels - 1}")]
        if name == "queen post":
            members.append(("B1", "T2"))
        middle = panels / 2
        for i in range(1, panels - 1):
            towards = i < middle
            if name in ("Pratt", "bowstring"):
                members.append((f"T{i}", f"B{i + 1}") if towards else (f"B{i}", f"T{i + 1}"))
            elif name == "Howe":
                members.append((f"B{i}", f"T{i + 1}") if towards else (f"T{i}", f"B{i + 1}"))
    return PlaneTruss(joints, tuple(members), {"B0": "xy", f"B{panels}": "y"})


def deck_load(truss: PlaneTruss, placement: str, off_m: float = 0.0) -> dict[str, float]:
    """How a unit load on the deck goes to the joints.

    Args:
        truss: with its deck joints at y = 0.
        placement: ``centre`` or ``uniform``.
        off_m: how far a load in one place stands from midspan [m].
    Returns:
        Share by joint, adding up to 1: at the joints nearest to midspan, or evenly on the joints between supports; off
        midspan, on the two joints beside it by the law of the lever.
    Errors:
        ``out_of_domain`` when no joint lies on the deck between the supports.
    """
    held = set(truss.supports)
    deck = sorted((x, name) for name, (x, y) in truss.joints.items() if name[0] == "B" and name not in held)
    if not deck:
        raise refuse("joints", "There is no joint on the deck between the supports to carry the load.")
    if placement == "uniform":
        return {name: 1 / len(deck) for _, name in deck}
    ends = [truss.joints[name][0] for name in held]
    middle = (min(ends) + max(ends)) / 2
    if off_m:
        return _between(truss, middle + off_m)
    near = min(abs(x - middle) for x, _ in deck)
    chosen = [name for x, name in deck if abs(abs(x - middle) - near) < 1e-9 + 1e-6 * abs(near)]
    return {name: 1 / len(chosen) for name in chosen}


def _between(truss: PlaneTruss, at_m: float) -> dict[str, float]:
    """Shares of a load at a place of the deck, on the joints beside it."""
    deck = sorted((x, name) for name, (x, _) in truss.joints.items() if name[0] == "B")
    for (left, first), (right, second) in pairwise(deck):
        if left <= at_m <= right:
            share = (at_m - left) / (right - left)
            return {name: part for name, part in ((first, 1 - share), (second, share)) if part > 0}
    raise refuse("off_m", "The load must stand between the supports. Move it nearer the middle.")


def moved(truss: PlaneTruss, joint: str, to: Point) -> PlaneTruss:
    """The same truss with one joint elsewhere.

    Args:
        truss: as it was.
        joint: name of the joint to move.
        to: where to [m].
    Returns:
        The new truss.
    Errors:
        ``unknown_joint``; ``joints_meet`` when it lands on another.
    """
    if joint not in truss.joints:
        raise refuse("joints", f"There is no joint {joint}.", "unknown_joint")
    return replace(truss, joints={**truss.joints, joint: to})


def total_length_m(truss: PlaneTruss) -> float:
    """How much stick the truss takes.

    Args:
        truss: the truss.
    Returns:
        Lengths of all members [m].
    """
    return math.fsum(float(length) for length in truss.lengths_m)
