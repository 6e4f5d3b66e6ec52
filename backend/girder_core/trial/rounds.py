"""Tests that put no load on: a stand, levels of shaking, drops, throws. Each single go of one is a round."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from girder_core.ground import GRAVITY_M_S2, positive, whole
from girder_core.measure import Kind, Plausible, System
from girder_core.photo import Way
from girder_core.physics import peak_acceleration_m_s2
from girder_core.trial.procedures import DROPPING, SHAKING, STANDING, THROWING, Procedure


class Loose(StrEnum):
    """What loose pieces tell: their own number, or how many of all still stand."""

    THEMSELVES = "themselves"
    THE_REST = "the_rest"


@dataclass(frozen=True)
class BenchMeasure:
    """Something that is measured at the bench while a trial goes on or at its end.

    Attributes:
        key: name that ledger events and readings share.
        label: what it is called.
        kind: what it measures.
        how: how it is taken.
        plausible: where it needs no second look [SI unit of its kind].
        needed: whether it tells the result: a trial ends as planned once those so marked are taken, or one of them.
        letter: its key on the keyboard.
        short: what its key at the bench says.
        lead: words before it as the large figure of a trial, for one that tells the result.
        unit: words after it there, for a count.
        result: it as a result in few words; ``{}`` the value.
        beside: words beside it as a second figure; empty where it is none.
        most: more than this cannot be, whatever somebody confirms [SI unit of its kind]; None without such a bound.
        yes_no: whether it is answered by yes or no: 1 or 0.
        all_unless_hit: whether it is ``most`` when no round was a hit, and less when one was.
        way: in which direction something went since nothing was on it, for what can be followed in pictures; else None.
        sign: the sign that is proposed when it has grown since the step before; empty for none.
        loose: how it follows from loose pieces that are counted in a picture; None where it does not.
        before: the reading of check-in that has the same before an attack; empty where none has.
    """

    key: str
    label: str
    kind: Kind
    how: str
    plausible: Plausible
    needed: bool = False
    letter: str = "m"
    short: str = ""
    lead: str = ""
    unit: str = ""
    result: str = "{}"
    beside: str = ""
    most: float | None = None
    yes_no: bool = False
    all_unless_hit: bool = False
    way: Way | None = None
    sign: str = ""
    loose: Loose | None = None
    before: str = ""

    @property
    def pictured(self) -> bool:
        """Whether it can be measured in one picture; what moves needs two."""
        return self.kind in (Kind.LENGTH, Kind.AREA) and self.way is None


@dataclass(frozen=True)
class PlannedRound:
    """One round as planned.

    Attributes:
        number: from 1.
        size: what surviving it counts for: seconds stood [s], level [-], drop height [m], number of the throw [-].
        frequency_hz: of a level of shaking [Hz]; 0 otherwise.
        acceleration_m_s2: peak acceleration of the base at it [m/s²]; 0 otherwise.
        stroke_m: how far the base travels at it, from end to end [m]; 0 otherwise.
        name: what it is called, where it has a name.
    """

    number: int
    size: float
    frequency_hz: float = 0.0
    acceleration_m_s2: float = 0.0
    stroke_m: float = 0.0
    name: str = ""


@dataclass(frozen=True)
class ShownRound:
    """A planned round in words: what its key says and the line below, and the second figure beside the first."""

    round: PlannedRound
    title: str
    note: str
    beside: str
    beside_says: str


@dataclass(frozen=True)
class RoundPlan:
    """The rounds of a test.

    Attributes:
        procedure: what is done in each.
        planned: the rounds in order.
        hold_s: how long each lasts [s]; 0 where it is over at once.
        most: the greatest size there is, as ``PlannedRound.size``.
        attack_s: for throws against the clock, how long the attack lasts [s]; None for a set number.
    """

    procedure: Procedure
    planned: tuple[PlannedRound, ...]
    hold_s: float
    most: float
    attack_s: float | None = None

    def after(self, size: float) -> PlannedRound | None:
        """The planned round that comes after one of this size; None when that was the last."""
        return next((round_ for round_ in self.planned if round_.size > size + 1e-9), None)

    @property
    def out_of(self) -> str:
        """Words after the large figure; ``{made}`` stands in it for the rounds made so far, where that is asked."""
        said = self.procedure.out_of if self.attack_s is None else self.procedure.clock_out_of
        return said.replace("{most}", str(len(self.planned)))

    def shown(self, system: System = System.METRIC) -> tuple[ShownRound, ...]:
        """The rounds as keys and rules name them, in the reader's units."""
        return tuple(self._shown(round_, system) for round_ in self.planned)

    def _shown(self, round_: PlannedRound, system: System) -> ShownRound:
        procedure, g = self.procedure, round_.acceleration_m_s2 / GRAVITY_M_S2
        words = {
            "n": round_.number, "name": round_.name, "most": len(self.planned), "hold": f"{self.hold_s:g}",
            "g": f"{g:.2f}",
            "size": procedure.size(round_.size, system), "hertz": f"{round(round_.frequency_hz, 2):g}",
        }  # fmt: skip
        note = procedure.next_note if self.attack_s is None else procedure.clock_note or procedure.next_note
        shaken = (f"{words['hertz']} Hz", f"{words['g']} g at its peak") if round_.frequency_hz else ("", "")
        return ShownRound(round_, procedure.next.format(**words), note.format(**words), *shaken)


def stand_round(hold_s: float) -> RoundPlan:
    """Standing free for the agreed time.

    Args:
        hold_s: how long [s].
    Returns:
        One round.
    Errors:
        ``out_of_domain``.
    """
    positive("hold_s", hold_s, "The time it has to stand")
    return RoundPlan(STANDING, (PlannedRound(1, hold_s),), hold_s, hold_s)


def shake_rounds(stroke_m: float, frequency_hz: float, step_hz: float, levels: int, hold_s: float) -> RoundPlan:
    """Levels of shaking, each faster than the one before.

    Args:
        stroke_m: travel of the base from end to end [m].
        frequency_hz: of level 1 [Hz].
        step_hz: how much faster each level is [Hz].
        levels: how many there are [-].
        hold_s: time at each level [s].
    Returns:
        The levels with their frequency and peak acceleration.
    Errors:
        ``out_of_domain``.
    Source:
        Peak acceleration of a harmonic motion, half the stroke times (2 π f)².
    """
    positive("stroke_m", stroke_m, "The stroke")
    positive("hold_s", hold_s, "The time at each level")
    whole("levels", levels, 1, "The number of levels")
    planned = []
    for n in range(1, levels + 1):
        f = frequency_hz + (n - 1) * step_hz
        planned.append(PlannedRound(n, float(n), f, peak_acceleration_m_s2(f, stroke_m / 2), stroke_m))
    return RoundPlan(SHAKING, tuple(planned), hold_s, float(levels))


def named_rounds(procedure: Procedure, names: Sequence[str]) -> RoundPlan:
    """Rounds that each have a name and are over at once: for a procedure of a family's own.

    Args:
        procedure: how it is tested.
        names: what they are called, in order.
    Returns:
        The rounds; the size of each is its number.
    Errors:
        ``out_of_domain``.
    """
    plan = counted_rounds(procedure, len(names), 0.0)
    named = tuple(replace(round_, name=name) for round_, name in zip(plan.planned, names, strict=True))
    return replace(plan, planned=named)


def counted_rounds(procedure: Procedure, most: int, hold_s: float) -> RoundPlan:
    """Rounds that are counted, each one more than the one before: for a procedure of a family's own.

    Args:
        procedure: how it is tested.
        most: how many there are [-].
        hold_s: how long each lasts [s]; 0 where it is over at once.
    Returns:
        The rounds; the size of each is its number.
    Errors:
        ``out_of_domain``.
    """
    whole("most", most, 1, "The number of rounds")
    return RoundPlan(procedure, tuple(PlannedRound(n, float(n)) for n in range(1, most + 1)), hold_s, float(most))


def drop_rounds(first_m: float, step_m: float, highest_m: float) -> RoundPlan:
    """Drops from rising heights.

    Args:
        first_m: first drop [m].
        step_m: how much higher each is [m].
        highest_m: the highest there is [m].
    Returns:
        The drops; the last is at or below the highest.
    Errors:
        ``out_of_domain``.
    """
    positive("first_m", first_m, "The first drop")
    positive("step_m", step_m, "The step between drops")
    positive("highest_m", highest_m, "The highest drop")
    count = max(1, math.floor((highest_m - first_m) / step_m + 1e-9) + 1)
    planned = tuple(PlannedRound(n + 1, round(first_m + n * step_m, 9)) for n in range(count))
    return RoundPlan(DROPPING, planned, 0.0, max(highest_m, first_m))


def throw_rounds(throws: int, attack_s: float | None) -> RoundPlan:
    """An attack by a set number of throws, or against the clock.

    Args:
        throws: how many there are [-]; against the clock, the balls at hand bound it loosely.
        attack_s: how long it lasts [s]; None for a set number of throws.
    Returns:
        The throws.
    Errors:
        ``out_of_domain``.
    """
    whole("throws", throws, 1, "The number of throws")
    if attack_s is not None:
        positive("attack_s", attack_s, "The time of the attack")
    most = throws if attack_s is None else MOST_THROWS
    return RoundPlan(THROWING, tuple(PlannedRound(n, float(n)) for n in range(1, most + 1)), 0.0, float(most), attack_s)


MOST_THROWS = 200
"""More throws than anybody makes in an attack against the clock [-] (ours)."""


def seat_offset(seats: Mapping[str, int]) -> tuple[float, float]:
    """Where the cargo of a boat sits as a whole.

    Args:
        seats: pieces by place; places are two letters, ``f`` fore, ``m`` middle, ``a`` aft, then ``p`` port, ``c``
            centre, ``s`` starboard.
    Returns:
        How far the middle of the cargo lies forward and to starboard, each as a share of the half length and half
        width [-], -1 to 1; pieces count alike.
    """
    along, across = {"f": 1, "m": 0, "a": -1}, {"p": -1, "c": 0, "s": 1}
    total = sum(seats.values())
    if total <= 0:
        return 0.0, 0.0
    forward = sum(along[seat[0]] * count for seat, count in seats.items())
    starboard = sum(across[seat[1]] * count for seat, count in seats.items())
    # The middle of an outer third lies two thirds of the half length out.
    return 2 * forward / (3 * total), 2 * starboard / (3 * total)


OFF_CENTRE = 0.25
"""Cargo further from the middle than this share of the half length or width sits off centre [-] (ours)."""


def off_centre(offset: tuple[float, float]) -> bool:
    """Whether a boat's cargo sits off centre.

    Args:
        offset: as from ``seat_offset`` [-].
    Returns:
        True beyond a quarter of the half length and width, taken together.
    """
    return math.hypot(*offset) > OFF_CENTRE


SEATS = tuple(f"{along}{across}" for along in "fma" for across in "pcs")
"""The places in a hull seen from above, from fore port to aft starboard."""
