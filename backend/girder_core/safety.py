"""Cautions: short, and shown at the place where they matter. The school's own rules always come first."""

from __future__ import annotations

from dataclasses import dataclass

from girder_core.loading import LoadEstimate


@dataclass(frozen=True)
class Caution:
    """Something that can hurt someone: a stable key, a short title, what to do, and the stages that show it."""

    key: str
    title: str
    text: str
    stages: tuple[str, ...]


SNAPPING = Caution(
    "snapping",
    "Stand behind the line",
    "Eye protection where parts can snap. No hands, feet or faces under or near a loaded bridge.",
    ("brief", "bench"),
)
FALLING_LOAD = Caution(
    "falling_load",
    "Load will fall",
    "Keep the load low over a soft mat and feet clear of it. Place gently, from above.",
    ("brief", "kit", "bench"),
)
SMALL_OBJECTS = Caution(
    "small_objects",
    "Small objects",
    "Pick nuts and coins off the floor: slips. Keep them from young children: choking.",
    ("brief", "kit"),
)
SCISSORS = Caution("scissors", "Cutting", "Cut away from the hand, on a board.", ("brief", "build"))
ALWAYS = Caution(
    "models_only",
    "Models only",
    "Results and predictions are for classroom models, never for anything people rely on. The school's own rules come "
    "first; real structures are for licensed engineers and local codes.",
    ("brief",),
)


def bench_caution(load_on_kg: float, estimate: LoadEstimate | None) -> str | None:
    """The caution for this moment of a trial.

    Args:
        load_on_kg: what is on the structure now [kg].
        estimate: where it is expected to give way, if anything is known.
    Returns:
        A sentence once the load has come within a fifth of the lowest expected failure; else None.
    """
    if estimate is None or load_on_kg < 0.8 * estimate.low_kg:
        return None
    if load_on_kg > estimate.high_kg:
        return "Beyond anything expected. It can go without warning."
    return "Near where it may break. Everyone behind the line."
