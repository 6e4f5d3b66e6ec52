"""What a structure is loaded with: load items, the container that takes them, the kit, the plan of steps."""

from __future__ import annotations

import math
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field, replace
from enum import StrEnum
from statistics import median

from scipy.special import ndtr, ndtri

from girder_core.ground import GirderError
from girder_core.measure import Quantity, format_mass, times_in_ten

PLATFORM = "platform"
"""Key of the load item that carries the others: the platform, cup or card. It is load too."""


@dataclass(frozen=True)
class LoadItem:
    """One kind of load object.

    Attributes:
        name: what one of it is called ("hex nut").
        mass: mass of one [kg].
        count: how many the kit holds.
        roll_of: for a roll, bag or bundle, how many single objects it holds; 1 for a single object.
        diameter_m: outer diameter or greatest width of one, for drawing and for containers [m]; 0 unknown.
        thickness_m: thickness or height of one [m]; 0 unknown.
        key: name that ledger events use.
        shape: what the drawing shows: ``nut``, ``disc``, ``tile``, ``ball``, ``bag`` or ``platform``.
        order: for numbered unlike objects, the place in the order in which every team loads them, from 1; 0 for
            objects that are all alike.
    """

    name: str
    mass: Quantity
    count: int
    roll_of: int = 1
    diameter_m: float = 0.0
    thickness_m: float = 0.0
    key: str = ""
    shape: str = "disc"
    order: int = 0

    def __post_init__(self) -> None:
        if not self.name.strip():
            raise GirderError("item_without_name", "Give every load item a name.")
        if not self.mass.value > 0:
            raise GirderError("item_without_mass", f"“{self.name}” has no mass. Weigh a batch of it first.")
        if self.count < 1:
            raise GirderError("item_without_count", f"How many of “{self.name}” are there? At least one.")
        if self.roll_of < 1:
            raise GirderError("roll_of_not_positive", f"A roll of “{self.name}” holds at least one object.")
        if self.diameter_m < 0 or self.thickness_m < 0:
            raise GirderError("item_size_negative", f"The size of “{self.name}” cannot be negative.")


@dataclass(frozen=True)
class Kit:
    """All the load on one bench. The platform, if there is one, is among the items."""

    items: tuple[LoadItem, ...]

    def __post_init__(self) -> None:
        keys = [item.key for item in self.items]
        if len(set(keys)) != len(keys):
            twice = next(key for key in keys if keys.count(key) > 1)
            raise GirderError("item_twice", "Two load items have the same name. Give each its own.", item=twice)

    def item(self, key: str) -> LoadItem:
        """The item of this key; ``unknown_item`` when the kit has none such."""
        for item in self.items:
            if item.key == key:
                return item
        raise GirderError("unknown_item", f"“{key}” is not in this run's load kit.", item=key)

    def has_platform(self) -> bool:
        """Whether something carries the load objects and counts as load itself."""
        return any(item.key == PLATFORM for item in self.items)

    def remaining(self, placed: Mapping[str, int]) -> dict[str, int]:
        """How many of each item are still off the structure."""
        return {item.key: item.count - placed.get(item.key, 0) for item in self.items}

    def mass(self, placed: Mapping[str, int]) -> Quantity:
        """Mass of the placed objects [kg].

        The error of an item's mass is the same for each object of that item, so it grows with the count; errors of
        different items are independent (JCGM 100:2008, 5.2.2 and 5.1.2).
        """
        total = Quantity(0.0)
        for key, count in placed.items():
            total = total + self.item(key).mass * count
        return total

    def smallest(self, among: Collection[str]) -> LoadItem | None:
        """The lightest object of these keys, or of all where none of them is an object; the platform is none.

        None when the kit has no objects at all.
        """
        singles = [item for item in self.items if item.key != PLATFORM]
        chosen = [item for item in singles if item.key in among] or singles
        return min(chosen, key=lambda item: item.mass.value, default=None)

    def total_kg(self) -> float:
        """Mass of everything in the kit [kg]."""
        return math.fsum(item.mass.value * item.count for item in self.items)


@dataclass(frozen=True)
class Container:
    """A cup, box or platform with a rim: inner diameter and inner height [m]."""

    diameter_m: float
    height_m: float


def container_capacity(container: Container, item: LoadItem, packing: float = 0.6) -> int:
    """How many loose objects a round container takes, level with its rim.

    Args:
        container: inner size of the container [m].
        item: the object, with its diameter and thickness [m].
        packing: share of the volume that loose objects fill [-], 0 < packing <= 0.91; about 0.6 for poured objects.
    Returns:
        The count, rounded down. An object wider than the container does not fit at all: 0.
    Errors:
        ``size_unknown``, ``packing_out_of_range``.
    Source:
        Loose packing of monosized objects fills 55 to 64 % (from memory, order of magnitude).
    """
    if not (container.diameter_m > 0 and container.height_m > 0 and item.diameter_m > 0 and item.thickness_m > 0):
        raise GirderError("size_unknown", "Give the container's and the object's size to work out how many fit.")
    if not 0 < packing <= 0.91:
        raise GirderError("packing_out_of_range", "The filled share of a container lies between 0 and 0.91.")
    if item.diameter_m > container.diameter_m:
        return 0
    volume = container.diameter_m**2 * container.height_m
    return math.floor(packing * volume / (item.diameter_m**2 * item.thickness_m) + 1e-9)


def side_by_side(length_m: float, width_m: float, item_m: float) -> tuple[tuple[float, float], ...]:
    """Where items lie flat on a deck in rows and columns, without overlap.

    Args:
        length_m: of the deck [m].
        width_m: of the deck [m].
        item_m: greatest width of one item [m].
    Returns:
        The middle of each from the deck's middle [m], from the middle outwards, as a deck is filled. Round items packed
        in staggered rows can be a few more; items never lie over the edge.
    Errors:
        ``size_unknown``.
    """
    if not (length_m > 0 and width_m > 0 and item_m > 0):
        raise GirderError("size_unknown", "Give the deck's and the item's size to work out how many fit.")
    along, across = (math.floor(side / item_m + 1e-9) for side in (length_m, width_m))
    places = [
        ((x - (along - 1) / 2) * item_m, (y - (across - 1) / 2) * item_m) for y in range(across) for x in range(along)
    ]
    return tuple(sorted(places, key=lambda place: math.hypot(*place)))


@dataclass(frozen=True)
class Fill:
    """How many of an item fit into a container, and what they weigh together [kg]."""

    item: str
    count: int
    mass_kg: float


def fills(container: Container, kit: Kit) -> list[Fill]:
    """How far each kind of load object fills a container, one kind at a time.

    Args:
        container: inner size of the container [m].
        kit: the load kit; the platform and objects without a size are left out.
    Returns:
        One entry per remaining item, in the kit's order.
    Errors:
        ``size_unknown`` when the container has no size.
    """
    sized = [item for item in kit.items if item.key != PLATFORM and item.diameter_m > 0 and item.thickness_m > 0]
    counts = [(item, container_capacity(container, item)) for item in sized]
    return [Fill(item.key, count, count * item.mass.value) for item, count in counts]


@dataclass(frozen=True)
class LoadEstimate:
    """Where a structure is expected to give way, as a mass [kg], and what the expectation rests on."""

    low_kg: float
    typical_kg: float
    high_kg: float
    basis: str


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
    limit = math.inf if bench_limit_kg is None else bench_limit_kg
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


@dataclass(frozen=True)
class LoadStep:
    """So many of one item, placed at once; ``then_kg`` is what is on after it [kg]."""

    item: str
    count: int
    mass_kg: float
    then_kg: float = 0.0

    @property
    def share(self) -> float:
        """The step as a share of what is on after it [-]."""
        return self.mass_kg / self.then_kg if self.then_kg > 0 else 1.0


class PlanEnd(StrEnum):
    """Why nothing more can be placed."""

    KIT = "kit"
    CONTAINER = "container"
    LIMIT = "limit"


PLAN_END_WORDS: Mapping[PlanEnd, str] = {
    PlanEnd.KIT: "the whole kit is on it",
    PlanEnd.CONTAINER: "the container is full",
    PlanEnd.LIMIT: "this bench carries no more",
}
"""Why there is nothing to place any more, in few words."""


@dataclass(frozen=True)
class LoadPlan:
    """What to place, step by step.

    Attributes:
        steps: the steps from the present state on.
        expected_seconds: how long the steps take up to the typical estimate [s].
        expected_resolution: size of the step at the typical estimate as a share of what is on [-].
        end: what ends the plan: the kit is used up, nothing more fits, or the bench carries no more.
        warnings: sentences on what will not work out.
    """

    steps: tuple[LoadStep, ...]
    expected_seconds: float
    expected_resolution: float
    end: PlanEnd
    warnings: tuple[str, ...] = field(default=())


def load_plan(
    kit: Kit,
    estimate: LoadEstimate,
    seconds_available: float,
    place_s: float,
    hold_s: float,
    resolution_goal: float,
    placed: Mapping[str, int] | None = None,
    bench_limit_kg: float | None = None,
    container: Container | None = None,
    read_kg: float = 0.0,
) -> LoadPlan:
    """Plan the steps of a trial: quick while far from failure, fine where it matters.

    The platform comes first. Below half of the low estimate one step may fill up to that half; from there each step
    adds at most ``resolution_goal`` of what is on (or one smallest object), past the expected range too: a structure
    may be stronger than anybody thought. When the time is too short, the goal is made coarser until the steps up to
    the typical estimate fit, and a warning says so.

    Args:
        kit: the load at this bench.
        estimate: where failure is expected [kg].
        seconds_available: time for this trial [s].
        place_s: time to set down one object, whether single or a bag [s].
        hold_s: agreed wait after each step [s].
        resolution_goal: largest step wanted as a share of what is on [-], 0 < goal < 1.
        placed: what is on already, by item key.
        bench_limit_kg: most the bench may carry [kg].
        container: what the objects go into; those of unknown size are taken to find room.
        read_kg: what is on besides, as one figure [kg].
    Returns:
        The plan, to the end of the kit, the container or the bench limit, whichever comes first. Replan by calling
            again with ``placed``.
    Errors:
        ``goal_out_of_range``.
    """
    if not 0 < resolution_goal < 1:
        raise GirderError("goal_out_of_range", "The wanted resolution is a share between 0 and 1.")
    limit = math.inf if bench_limit_kg is None else bench_limit_kg
    takes = {fill.item: fill.count for fill in fills(container, kit)} if container else {}
    on = placed or {}
    goal, plan = resolution_goal, _steps(kit, estimate, place_s, hold_s, resolution_goal, on, limit, takes, read_kg)
    while plan.expected_seconds > seconds_available and goal < 0.5:
        goal = min(0.5, goal * 1.25)
        plan = _steps(kit, estimate, place_s, hold_s, goal, on, limit, takes, read_kg)
    warnings = list(plan.warnings)
    if plan.expected_seconds > seconds_available:
        warnings.append("Even with coarse steps this trial will run over its time.")
    elif goal > resolution_goal:
        warnings.append(f"To fit the time, steps grow to {goal:.0%} of the load instead of {resolution_goal:.0%}.")
    return replace(plan, warnings=tuple(warnings))


def _steps(
    kit: Kit,
    estimate: LoadEstimate,
    place_s: float,
    hold_s: float,
    goal: float,
    placed: Mapping[str, int],
    limit_kg: float,
    takes: Mapping[str, int],
    read_kg: float,
) -> LoadPlan:
    on, left = kit.mass(placed).value + read_kg, kit.remaining(placed)
    # The part of the container that each object fills, and the part that is still free.
    part = {key: 1 / count if count else math.inf for key, count in takes.items()}
    room = 1 - math.fsum(count * part.get(key, 0) for key, count in placed.items() if count)
    steps: list[LoadStep] = []
    coarse_from: LoadStep | None = None
    seconds, resolution = 0.0, 1.0
    end = PlanEnd.KIT
    while True:
        fitting = {key: min(n, math.floor(room / part[key] + 1e-9)) if key in part else n for key, n in left.items()}
        step = _next_step(kit, fitting, on, estimate, goal, limit_kg)
        if step is None:
            if any(count > 0 for count in fitting.values()):
                end = PlanEnd.LIMIT
            elif any(count > 0 for count in left.values()):
                end = PlanEnd.CONTAINER
            break
        step = replace(step, then_kg=on + step.mass_kg)
        steps.append(step)
        if on < estimate.typical_kg:
            seconds += step.count * place_s + hold_s
            resolution = step.share
        coarse = step.mass_kg > max(2 * goal * on, estimate.low_kg / 2) and step.item != PLATFORM
        # Past the expected range only the step that comes next is worth a word.
        if coarse and coarse_from is None and (on < estimate.high_kg or len(steps) == 1):
            # Numbered objects are what they are; nothing smaller was meant to be there.
            coarse_from = step if not kit.item(step.item).order else None
        left[step.item] -= step.count
        room -= step.count * part.get(step.item, 0)
        on += step.mass_kg
    warnings = []
    if coarse_from is not None:
        warnings.append(
            f"Nothing small enough is left near the end: “{kit.item(coarse_from.item).name}” is a coarse step. "
            "Bring more single objects."
        )
    if on < estimate.typical_kg:
        warnings.append(_ENDS_EARLY[end])
    return LoadPlan(tuple(steps), seconds, resolution, end, tuple(warnings))


_ENDS_EARLY = {
    PlanEnd.KIT: "The kit will run out before this structure is expected to break. Bring more load.",
    PlanEnd.CONTAINER: "The container will be full before this structure is expected to break. Take a larger one, or "
    "heavier objects.",
    PlanEnd.LIMIT: "The bench limit will be reached before this structure is expected to break.",
}


def _next_step(
    kit: Kit, left: Mapping[str, int], on: float, estimate: LoadEstimate, goal: float, limit_kg: float
) -> LoadStep | None:
    """The heaviest kind of object that fits what is allowed now, as many as fit: whole bags before singles."""
    if left.get(PLATFORM):
        return LoadStep(PLATFORM, 1, kit.item(PLATFORM).mass.value)
    available = [item for item in kit.items if left[item.key] > 0 and on + item.mass.value <= limit_kg + 1e-12]
    if not available:
        return None
    numbered = [item for item in available if item.order]
    if numbered:
        # Unlike objects go on one by one in the same order for every team.
        first = min(numbered, key=lambda item: item.order)
        return LoadStep(first.key, 1, first.mass.value)
    allowed = min(max(estimate.low_kg / 2 - on, goal * on), limit_kg - on)
    fitting = [item for item in available if item.mass.value <= allowed + 1e-12]
    if not fitting:
        smallest = min(available, key=lambda item: item.mass.value)
        return LoadStep(smallest.key, 1, smallest.mass.value)
    item = max(fitting, key=lambda item: item.mass.value)
    count = min(left[item.key], math.floor(allowed / item.mass.value + 1e-9))
    return LoadStep(item.key, count, count * item.mass.value)
