"""A fair test: what is varied on purpose, who gets which level, and what is kept the same."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from girder_core.ground import GirderError


@dataclass(frozen=True)
class Factor:
    """What is varied on purpose, and its levels in order."""

    name: str
    levels: tuple[str, ...]

    def __post_init__(self) -> None:
        if not self.name.strip():
            raise GirderError("factor_without_name", "Say what is varied.", field="factor.name")
        cleaned = [level.strip().lower() for level in self.levels]
        if len(cleaned) < 2:
            raise GirderError(
                "factor_one_level", "To compare, a factor needs two levels or more.", field="factor.levels"
            )
        if "" in cleaned or len(set(cleaned)) != len(cleaned):
            raise GirderError("factor_level_twice", "Give every level a name of its own.", field="factor.levels")


@dataclass(frozen=True)
class Assignment:
    """The level of each team, in their order, and what to know about it."""

    levels: tuple[str, ...]
    notes: tuple[str, ...]


def assign_levels(factor: Factor, teams: int) -> Assignment:
    """Deal the levels out to teams, as evenly as can be.

    They go round in order, so teams that were listed side by side (and often sit side by side) differ, and the number
    of teams on any two levels differs by one at most.

    Args:
        factor: what is varied.
        teams: how many teams, >= 1.
    Returns:
        The level of each team; notes when a level has too few teams to say anything.
    Errors:
        ``no_teams``.
    Source:
        Replication and balance as in any text on designed experiments; two per level is the least with which the
        scatter within a level can be seen at all.
    """
    if teams < 1:
        raise GirderError("no_teams", "A class has at least one team.")
    n = len(factor.levels)
    notes = []
    if teams < n:
        left_out = ", ".join(factor.levels[teams:])
        notes.append(f"There are more levels than teams: nobody gets {left_out}.")
    elif teams < 2 * n:
        notes.append(
            f"Some levels have one team only, so luck and level cannot be told apart. {math.ceil(2 * n)} teams, or a "
            f"second trial of each, would show it."
        )
    return Assignment(tuple(factor.levels[i % n] for i in range(teams)), tuple(notes))


def tidy_controls(controls: Sequence[str]) -> tuple[str, ...]:
    """What is kept the same, each once.

    Args:
        controls: as typed.
    Returns:
        Trimmed, without empty ones and repeats, in order.
    """
    cleaned = [" ".join(control.split()) for control in controls]
    return tuple(dict.fromkeys(control for control in cleaned if control))
