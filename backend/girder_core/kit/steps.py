"""What to place in a trial, step by step: quick while far from failure, fine where it matters."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from enum import StrEnum
from itertools import groupby

from girder_core.ground import GirderError, not_negative, refuse
from girder_core.kit.lasting import LoadEstimate, bench_limit
from girder_core.kit.loading import PLATFORM, Container, Kit, LoadStep, fills


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
        says: the steps up to where failure is expected, in a line; empty where there are none.
        warnings: sentences on what will not work out.
    """

    steps: tuple[LoadStep, ...]
    expected_seconds: float
    expected_resolution: float
    end: PlanEnd
    warnings: tuple[str, ...] = field(default=())
    says: str = ""


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
    pinned: tuple[str, int] | None = None,
) -> LoadPlan:
    """Plan the steps of a trial: quick while far from failure, fine where it matters.

    The platform comes first. Below half of the low estimate whole rolls go on, or handfuls of single objects, so that
    no one step takes it far: a step is one roll, or at most a quarter of the low estimate. From there each step
    adds at most ``resolution_goal`` of what is on (or one smallest object), past the expected range too: a structure
    may be stronger than anybody thought. When the time is too short, the goal is made coarser until the steps up to
    the typical estimate fit, and a warning says so.

    Args:
        kit: the load at this bench.
        estimate: where failure is expected [kg].
        seconds_available: time for this trial [s]; infinite where it may take as long as it likes.
        place_s: time to set down one object, whether single or a bag [s].
        hold_s: agreed wait after each step [s].
        resolution_goal: largest step wanted as a share of what is on [-], 0 < goal < 1.
        placed: what is on already, by item key.
        bench_limit_kg: most the bench may carry [kg].
        container: what the objects go into; those of unknown size are taken to find room.
        read_kg: what is on besides, as one figure [kg].
        pinned: the step that the teacher chose, an item and how many of it; while any of it is left, all steps are so,
            however long that takes.
    Returns:
        The plan, to the end of the kit, the container or the bench limit, whichever comes first. Replan by calling
            again with ``placed``.
    Errors:
        ``goal_out_of_range``.
    """
    if not 0 < resolution_goal < 1:
        raise GirderError("goal_out_of_range", "The wanted resolution is a share between 0 and 1.")
    if math.isnan(seconds_available):
        raise refuse("seconds_available", "The time for a trial must be a number.")
    not_negative("place_s", place_s, "The time for a step")
    not_negative("hold_s", hold_s, "The wait")
    not_negative("read_kg", read_kg, "The load that was read")
    limit = bench_limit(bench_limit_kg)
    takes = {fill.item: fill.count for fill in fills(container, kit)} if container else {}
    on = placed or {}

    def steps(goal: float) -> LoadPlan:
        return _steps(kit, estimate, place_s, hold_s, goal, on, limit, takes, read_kg, pinned)

    goal, plan = resolution_goal, steps(resolution_goal)
    while plan.expected_seconds > seconds_available and goal < 0.5 and pinned is None:
        goal = min(0.5, goal * 1.25)
        plan = steps(goal)
    warnings = list(plan.warnings)
    if plan.expected_seconds > seconds_available:
        coarse = "Even with coarse steps" if pinned is None else "With the step that you chose"
        warnings.append(f"{coarse} this trial will run over its time.")
    elif goal > resolution_goal:
        warnings.append(f"To fit the time, steps grow to {goal:.0%} of the load instead of {resolution_goal:.0%}.")
    return replace(plan, warnings=tuple(warnings), says=_in_a_line(kit, plan.steps, estimate))


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
    pinned: tuple[str, int] | None,
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
        step = _next_step(kit, fitting, on, estimate, goal, limit_kg, pinned)
        if step is None:
            if any(count > 0 for count in fitting.values()):
                end = PlanEnd.LIMIT
            elif any(count > 0 for count in left.values()):
                end = PlanEnd.CONTAINER
            break
        step = replace(step, then_kg=on + step.mass_kg, far=on + step.mass_kg <= estimate.low_kg / 2 + 1e-12)
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
    kit: Kit,
    left: Mapping[str, int],
    on: float,
    estimate: LoadEstimate,
    goal: float,
    limit_kg: float,
    pinned: tuple[str, int] | None,
) -> LoadStep | None:
    """The heaviest kind of object that fits what is allowed now, as many as fit: whole bags before singles; or the step
    that the teacher chose."""
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
    chosen = next((item for item in available if pinned and item.key == pinned[0]), None)
    if chosen is not None and pinned is not None:
        most = left[chosen.key]
        if limit_kg < math.inf:
            most = min(most, math.floor((limit_kg - on) / chosen.mass.value + 1e-9))
        count = min(pinned[1], most)
        return LoadStep(chosen.key, count, count * chosen.mass.value)
    allowed = min(max(estimate.low_kg / 2 - on, goal * on), limit_kg - on)
    fitting = [item for item in available if item.mass.value <= allowed + 1e-12]
    if not fitting:
        smallest = min(available, key=lambda item: item.mass.value)
        return LoadStep(smallest.key, 1, smallest.mass.value)
    item = max(fitting, key=lambda item: item.mass.value)
    most = min(left[item.key], math.floor(allowed / item.mass.value + 1e-9))
    fine = math.floor(goal * on / item.mass.value + 1e-9)
    if most > max(fine, 1):
        quarter = math.floor(estimate.low_kg / 4 / item.mass.value + 1e-9)
        most = max(fine, _handful(min(most, quarter)))
    return LoadStep(item.key, most, most * item.mass.value)


def _handful(count: int) -> int:
    """As many as are counted easily: one, a few, then fives and tens; at least one."""
    if count < 5:
        return max(1, count)
    return count // 5 * 5 if count < 20 else count // 10 * 10


def _in_a_line(kit: Kit, steps: Sequence[LoadStep], estimate: LoadEstimate) -> str:
    """The steps till failure is likely, as one would say them: "cup, then 2 × roll, then coin by coin"."""
    till = next((i for i, step in enumerate(steps) if step.then_kg > estimate.high_kg), len(steps) - 1)
    parts: list[str] = []
    for key, group in groupby(steps[: till + 1], key=lambda step: (step.item, step.far)):
        item, counts = kit.item(key[0]), [step.count for step in group]
        if item.key == PLATFORM:
            parts.append(item.name)
        elif item.order:
            parts.append("the numbered objects in their order")
        elif key[1] or item.roll_of > 1:
            parts.append(f"{sum(counts)} × {item.name}")
        else:
            least, most = min(counts), max(counts)
            size = str(most) if least == most else f"{least} to {most}"
            parts.append(f"{item.name} by {item.name}" if most == 1 else f"{size} × {item.name} at a time")
    return ", then ".join(dict.fromkeys(parts))
