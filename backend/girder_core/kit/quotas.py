"""What has to be on the tables: from quotas per team, bench and class to a list of what to buy."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from girder_core.ground import GirderError
from girder_core.measure import plural


@dataclass(frozen=True)
class Material:
    """Something that is needed, and how much of it.

    Attributes:
        key: name in the kit list.
        name: what people call it.
        unit: what one of it is: ``sheet``, ``stick``, ``m`` of tape, ``piece``.
        final: for the structure itself, per team.
        practice: to try things out with, per team, apart from the final pieces.
        per_bench: per test bench.
        per_class: once.
        spare_share: spares on top of what teams get [-].
        pack_size: how many are in a pack; 1 when sold singly.
        owned: how many are there already.
        size_m: length of one, where a structure must reach over something [m]; 0 where it does not matter.
        buildable: whether structures are built from it, so that a quota of none makes no sense.
        hazards: what about it can hurt someone, by key of ``safety.HAZARDS``.
    """

    key: str
    name: str
    unit: str = "piece"
    final: float = 0.0
    practice: float = 0.0
    per_bench: float = 0.0
    per_class: float = 0.0
    spare_share: float = 0.0
    pack_size: float = 1.0
    owned: float = 0.0
    size_m: float = 0.0
    buildable: bool = False
    hazards: tuple[str, ...] = ()

    def __post_init__(self) -> None:
        if not self.name.strip():
            raise GirderError("material_without_name", "Give every line of the kit list a name.", field="name")
        if not self.pack_size > 0:
            raise GirderError("pack_size_zero", f"A pack of “{self.name}” holds at least one.", field="pack_size")
        amounts = {
            "final": self.final, "practice": self.practice, "per_bench": self.per_bench,
            "per_class": self.per_class, "spare_share": self.spare_share, "owned": self.owned, "size_m": self.size_m,
        }  # fmt: skip
        for name, amount in amounts.items():
            if not 0 <= amount < 1e6:
                raise GirderError("amount_out_of_range", f"How much of “{self.name}”? Not less than zero.", field=name)


MEASURES = ("m", "cm", "g", "kg", "l", "ml")
"""Units that are measured and not counted."""


@dataclass(frozen=True)
class Line:
    """A line of the kit list.

    Attributes:
        material: what it is about.
        final: for all teams' structures.
        practice: for all teams to try out with.
        benches: for all benches and once per class.
        spares: kept back.
        needed: all of these.
        packs: whole packs to buy.
        bought: how many come with them.
        left_over: what remains after the lesson, if all is used as planned.
    """

    material: Material
    final: float
    practice: float
    benches: float
    spares: float
    needed: float
    packs: int
    bought: float
    left_over: float

    @property
    def for_teams(self) -> float:
        """Final and practice pieces of all teams together."""
        return self.final + self.practice

    @property
    def needed_words(self) -> str:
        """How much is needed, with its unit: "14 sheets", "2.3 m", "6"."""
        figure = f"{self.needed:.2f}".rstrip("0").rstrip(".")
        unit = self.material.unit
        if unit in ("", "piece"):
            return figure
        return f"{figure} {unit if unit in MEASURES else plural(unit, self.needed)}"

    @property
    def buy_words(self) -> str:
        """What to buy: "1 pack of 100", "6", or a dash."""
        if not self.packs:
            return "–"
        if self.material.pack_size == 1:
            return str(self.packs)
        holder = "roll" if self.material.unit in MEASURES else "pack"
        size = (
            f"{self.material.pack_size:g} {self.material.unit}" if holder == "roll" else f"{self.material.pack_size:g}"
        )
        return f"{self.packs} {plural(holder, self.packs)} of {size}"


def kit_list(materials: Sequence[Material], teams: int, benches: int) -> list[Line]:
    """What a class needs and what has to be bought.

    Args:
        materials: quotas and gear.
        teams: how many teams, >= 1.
        benches: how many test benches, >= 1.
    Returns:
        A line per material, in the given order. Spares are a share of what teams get, whole pieces rounded up; packs
        are rounded up after what is owned is taken off.
    Errors:
        ``no_teams``, ``no_benches``, ``material_twice``.
    """
    if teams < 1:
        raise GirderError("no_teams", "A class has at least one team.")
    if benches < 1:
        raise GirderError("no_benches", "There is at least one bench to test on.")
    names = [material.name.strip().lower() for material in materials]
    for name in names:
        if names.count(name) > 1:
            raise GirderError("material_twice", f"“{name}” is on the kit list twice. Put it on one line.")
    return [_line(material, teams, benches) for material in materials]


def _line(material: Material, teams: int, benches: int) -> Line:
    final, practice = material.final * teams, material.practice * teams
    fixed = material.per_bench * benches + material.per_class
    spares = math.ceil(material.spare_share * (final + practice) - 1e-9)
    needed = final + practice + fixed + spares
    short = max(0.0, needed - material.owned)
    packs = math.ceil(short / material.pack_size - 1e-9)
    bought = packs * material.pack_size
    return Line(material, final, practice, fixed, spares, needed, packs, bought, material.owned + bought - needed)


def materials_problems(materials: Sequence[Material]) -> list[str]:
    """What is wrong with the quotas as a whole.

    Args:
        materials: the quotas.
    Returns:
        Sentences: a quota of zero for everything that structures are built from. Empty when all is well.
    """
    built = [material for material in materials if material.buildable]
    if built and not any(material.final > 0 for material in built):
        return [f"The quota is zero: no team gets any {' or '.join(m.name for m in built)} to build with."]
    return []
