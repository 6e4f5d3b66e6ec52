"""What to place in a trial, step by step: quick while far from failure, fine where it matters."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum

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
        seconds_available: time for this trial [s]; infinite where it may take as long as it likes.
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
    if math.isnan(seconds_available):
        raise refuse("seconds_available", "The time for a trial must be a number.")
    not_negative("place_s", place_s, "The time for a step")
    not_negative("hold_s", hold_s, "The wait")
    not_negative("read_kg", read_kg, "The load that was read")
    limit = bench_limit(bench_limit_kg)
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
