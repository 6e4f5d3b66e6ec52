"""Where structures are expected to give way, and whether a kit lasts for the strongest of a class."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median

from scipy.special import ndtr, ndtri

from girder_core.ground import GirderError, positive
from girder_core.kit.loading import PLATFORM, Kit, LoadStep
from girder_core.measure import format_mass, times_in_ten


@dataclass(frozen=True)
class LoadEstimate:
    """Where a structure is expected to give way, as a mass [kg], and what the expectation rests on."""

    low_kg: float
    typical_kg: float
    high_kg: float
    basis: str

    def __post_init__(self) -> None:
        known = all(math.isfinite(load) and load >= 0 for load in (self.low_kg, self.typical_kg))
        # It may be that nothing is known of the upper end.
        if not known or not self.high_kg >= 0:
            raise GirderError("bad_estimate", "An expected load must be a number of zero or more.")


def estimate_from(
    held_kg: Sequence[float],
    target_kg: float | None,
    predicted_kg: float | None,
    model: LoadEstimate | None = None,
    past: LoadEstimate | None = None,
) -> LoadEstimate | None:
    """Where a structure is expected to give way, from the best that is known.

    Args:
        held_kg: what other structures of this run held [kg].
        target_kg: the challenge's target load [kg], if it has one.
        predicted_kg: the team's own prediction [kg], if there is one.
        model: the model's range for this design's draft, if it has one.
        past: what earlier runs of this challenge say, if there were any.
    Returns:
        The model's range; else from at least two held loads their range, widened by half each way; else what earlier
        runs say; else half to double the target; else half to double the team's prediction; else None.
    """
    if model is not None and model.typical_kg > 0:
        return model
    if len(held_kg) >= 2 and min(held_kg) > 0:
        return LoadEstimate(
            0.5 * min(held_kg), median(held_kg), 1.5 * max(held_kg), f"{len(held_kg)} tested in this run"
        )
    if past is not None:
        return past
    if target_kg:
        return LoadEstimate(0.5 * target_kg, target_kg, 2 * target_kg, "the target of the challenge")
    if predicted_kg:
        return LoadEstimate(0.5 * predicted_kg, predicted_kg, 2 * predicted_kg, "the team's prediction")
    return None


def estimate_from_kit(kit: Kit) -> LoadEstimate:
    """A stand-in expectation when nothing at all is known, so that a plan has something to start from.

    Args:
        kit: the load at this bench.
    Returns:
        A tenth, a third and the whole of the kit's mass.
    """
    total = kit.total_kg()
    return LoadEstimate(total / 10, total / 3, total, "the load in the kit")


RUNS_OUT = 0.1
"""A kit lasts when the strongest of a class outlasts it in no more than about one class in ten (ours) [-]."""
COARSE = 0.15
"""A smallest object above this share of what is expected is a coarse step (ours) [-]."""


def runs_out(load_kg: float, estimate: LoadEstimate, teams: int) -> float:
    """How likely it is that the strongest of a class holds all of a load.

    Args:
        load_kg: all that can be placed [kg].
        estimate: where each of the designs is expected to give way, eight times in ten between its ends [kg].
        teams: how many designs are tested.
    Returns:
        Chance that at least one of them holds it all [-].
    Source:
        Largest of n independent values of a log-normal distribution, F(x)ⁿ (any statistics text).
    """
    if not load_kg > 0:
        return 1.0
    return 1 - float(ndtr(math.log(load_kg / estimate.typical_kg) / spread_log(estimate))) ** teams


def strongest_needs(estimate: LoadEstimate, teams: int) -> float:
    """How much load the strongest of a class needs, in all but one class in ten.

    Args:
        estimate: where each of the designs is expected to give way, eight times in ten between its ends [kg].
        teams: how many designs are tested.
    Returns:
        The load that lasts, ``runs_out`` being one in ten [kg]. The more teams, the more: the best of twelve is
        stronger than the best of four.
    """
    return estimate.typical_kg * math.exp(spread_log(estimate) * float(ndtri((1 - RUNS_OUT) ** (1 / teams))))


def spread_log(estimate: LoadEstimate) -> float:
    """How far designs may lie apart that are expected in a range.

    Args:
        estimate: the range, of which the high end is what one design in ten exceeds [kg].
    Returns:
        Standard deviation of the logarithm [-].
    """
    return max(math.log(estimate.high_kg / estimate.typical_kg) / float(ndtri(0.9)), 1e-6)


@dataclass(frozen=True)
class Cover:
    """Whether a kit lasts for the strongest team.

    Attributes:
        enough: whether it does, in all but about one class in ten; true where nobody can say.
        chance: how likely the strongest team outlasts what can be placed [-]; None where nobody can say.
        total_kg: mass of everything in the kit [kg].
        needed_kg: what would last, or all that the bench carries where that is less [kg]; 0 where nobody can say.
        short_kg: how much is missing [kg]; 0 when enough.
        more: which items would fill the gap: whole rolls or bags first, then singles.
        sentence: all of it in words.
        coarse: empty, or that the smallest object is a coarse step.
    """

    enough: bool
    chance: float | None
    total_kg: float
    needed_kg: float
    short_kg: float
    more: tuple[LoadStep, ...]
    sentence: str
    coarse: str


def bench_limit(bench_limit_kg: float | None) -> float:
    """Most that a bench may carry, as a number.

    Args:
        bench_limit_kg: as agreed [kg], > 0; None for none.
    Returns:
        The same [kg]; infinite where there is none.
    Errors:
        ``out_of_domain``.
    """
    if bench_limit_kg is None:
        return math.inf
    positive("bench_limit_kg", bench_limit_kg, "The most that the bench may carry")
    return bench_limit_kg


def kit_covers(kit: Kit, estimate: LoadEstimate | None, teams: int, bench_limit_kg: float | None = None) -> Cover:
    """Will the strongest team run out of load?

    Args:
        kit: the load at one bench.
        estimate: where each design is expected to give way [kg]; None where nothing is known of that.
        teams: how many designs are tested.
        bench_limit_kg: most the bench may carry [kg].
    Returns:
        How likely it runs out, and what to bring if that is more often than in one class in ten: as many whole rolls
        or bags as fit into the gap, then singles, rounded up, and never more than the bench carries. A kit of numbered
        objects alone is filled up with more of its heaviest.
    Errors:
        ``kit_empty`` when nothing but a platform is in it.
    """
    if not any(item.key != PLATFORM for item in kit.items):
        raise GirderError("kit_empty", "There is no load in the kit yet.")
    total = kit.total_kg()
    if estimate is None:
        unknown = f"{format_mass(total)} of load. Without a target nobody can say whether it lasts."
        return Cover(True, None, total, 0.0, 0.0, (), unknown, "")
    limit = bench_limit(bench_limit_kg)
    strongest, needed = _strongest(teams), strongest_needs(estimate, teams)
    chance, coarse = runs_out(min(total, limit), estimate, teams), _coarse(kit, estimate)
    often = times_in_ten(chance)
    # What is said in tenths is judged in tenths: nobody is sent for a single nut.
    if round(10 * chance) <= round(10 * RUNS_OUT):
        sentence = f"The kit lasts: {format_mass(total)}. {strongest} would outlast it {often}."
        return Cover(True, chance, total, min(needed, limit), 0.0, (), sentence, coarse)
    short = max(0.0, min(needed, limit) - total)
    more = _to_bring(kit, short, limit - total) if short > 1e-9 else ()
    listed = " and ".join(f"{step.count} × {kit.item(step.item).name}" for step in more)
    sentence = f"{strongest} would outlast {format_mass(min(total, limit))} {often}."
    if listed:
        after = runs_out(min(total + math.fsum(step.mass_kg for step in more), limit), estimate, teams)
        sentence += f" Bring {listed} more: then {times_in_ten(after)}."
    if needed > limit:
        sentence += f" This bench carries no more than {format_mass(limit)}."
    return Cover(False, chance, total, min(needed, limit), short, more, sentence, coarse)


def _strongest(teams: int) -> str:
    return f"The strongest of {teams} teams" if teams > 1 else "The team"


def _to_bring(kit: Kit, gap: float, room: float) -> tuple[LoadStep, ...]:
    """What fills the gap and still goes onto the bench."""
    items = [item for item in kit.items if item.key != PLATFORM]
    rolls = sorted((item for item in items if item.roll_of > 1), key=lambda item: -item.mass.value)
    singles = sorted((item for item in items if item.roll_of == 1), key=lambda item: item.mass.value)
    more: list[LoadStep] = []
    for roll in rolls[:1]:
        mass = roll.mass.value
        count = math.floor(gap / mass + 1e-9) if singles else _up_to(gap, room, mass)
        if count > 0:
            more.append(LoadStep(roll.key, count, count * mass))
            gap, room = gap - count * mass, room - count * mass
    if singles and gap > 1e-9:
        single = singles[-1] if all(item.order for item in singles) else singles[0]
        count = _up_to(gap, room, single.mass.value)
        if count > 0:
            more.append(LoadStep(single.key, count, count * single.mass.value))
    return tuple(more)


def _up_to(gap: float, room: float, mass: float) -> int:
    """How many fill the gap, or as many as there is room for."""
    enough = math.ceil(gap / mass - 1e-9)
    return enough if enough * mass <= room + 1e-9 else math.floor(room / mass + 1e-9)


def _coarse(kit: Kit, estimate: LoadEstimate) -> str:
    smallest = kit.smallest(())
    # Numbered objects are what they are; nothing smaller was meant to be there.
    if smallest is None or smallest.order or smallest.mass.value <= COARSE * estimate.typical_kg:
        return ""
    low, high, step = (format_mass(kg) for kg in (estimate.low_kg, estimate.high_kg, smallest.mass.value))
    finer = format_mass(float(f"{COARSE / 3 * estimate.typical_kg:.1g}"))
    return (
        f"“{smallest.name}” weighs {step}, a coarse step where {low} to {high} is expected: designs that truly differ "
        f"may come out alike. Bring something of about {finer} as well."
    )
