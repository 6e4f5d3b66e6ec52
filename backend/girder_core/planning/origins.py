"""How the figures of a plan came about: what is needed, whether the load lasts, how long the tests take."""

from __future__ import annotations

import math
from collections.abc import Mapping

from girder_core.families import family_of
from girder_core.ground import Origin, Rule
from girder_core.kit import Known, cover_origins, line_origins
from girder_core.measure import System
from girder_core.planning.proposal import Consequences, Plan

TESTS = Rule("as many rounds as it takes all teams at the benches, times one test", "T = ⌈n / b⌉ · t", "The clock")
TEST = Rule("bringing a structure and clearing up, and its steps with their waits", "t = c + d", "The clock")


def plan_origins(
    plan: Plan, follows: Consequences, known: Mapping[str, Known], system: System = System.METRIC
) -> dict[str, Origin]:
    """How the figures of a plan came about.

    Args:
        plan: the plan.
        follows: what follows from it.
        known: how the mass of each load object is known, by key.
        system: the reader's units.
    Returns:
        By name: ``kit`` (its mass), ``outlast`` and ``lasts`` where something is expected, ``tests``, and
        ``line.<number>`` and, where something is bought, ``packs.<number>`` for each line of the kit list from 0.
    """
    teams = plan.answers.teams
    origins: dict[str, Origin] = {}
    if plan.kit is not None and follows.cover is not None:
        aim = plan.estimate()
        limit = plan.setup.get("bench_limit_kg")
        found = cover_origins(plan.kit, follows.cover, aim, teams, known, system, limit)
        origins.update(zip(("kit", "outlast", "lasts"), found, strict=False))
    for i, line in enumerate(follows.lines):
        names = (f"line.{i}", f"packs.{i}")
        origins.update(zip(names, line_origins(line, teams, plan.benches), strict=False))
    timeline = follows.timeline
    if timeline is not None:
        swap_s = family_of(plan.answers.family).pace.swap_s
        rounds = math.ceil(teams / plan.benches)
        one = Origin("One test", _time(timeline.test_seconds), "t", timeline.test_seconds, TEST, (
            Origin("Bringing and clearing", _time(swap_s), "c", swap_s, source="usual for this kind"),
            Origin("Steps and waits", _time(timeline.test_seconds - swap_s), "d", timeline.test_seconds - swap_s,
                   source="from the load plan, up to where structures are expected to give way"),
        ))  # fmt: skip
        origins["tests"] = Origin("All tests", _time(rounds * timeline.test_seconds), "T",
                                  rounds * timeline.test_seconds, TESTS, (
            Origin("Teams", str(teams), "n", float(teams), source="as planned"),
            Origin("Benches", str(plan.benches), "b", float(plan.benches), source="as planned"), one,
        ))  # fmt: skip
    return origins


def _time(seconds: float) -> str:
    return f"{seconds / 60:.1f} min" if seconds >= 90 else f"{seconds:.0f} s"
