"""What a team says beforehand: a load, so many objects, a level or a height, or more, less or as much as another."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from enum import StrEnum

from girder_core.ground import GirderError
from girder_core.kit.loading import PLATFORM, Kit
from girder_core.measure import Kind, System, format_mass, plural, units


class Relation(StrEnum):
    """How what was said stands to its load: it is that load, or more, less, or about as much."""

    AMOUNT = "amount"
    MORE = "more"
    LESS = "less"
    SAME = "same"


RELATION_WORDS: Mapping[Relation, str] = {
    Relation.MORE: "more than",
    Relation.LESS: "less than",
    Relation.SAME: "about the same as",
}


@dataclass(frozen=True)
class Foretold:
    """What a team says.

    Attributes:
        amount: the load [kg], or where nothing is loaded the size that is foretold [SI]; of a comparison, what the
            other team came to.
        relation: how what was said stands to it.
        than: the other team's name; empty without a comparison.
    """

    amount: float
    relation: Relation = Relation.AMOUNT
    than: str = ""

    def words(self, system: System = System.METRIC, told: Callable[[float, System], str] = format_mass) -> str:
        """As it is told: "850 g", "level 4", "more than Gannet, 974 g"; ``told`` gives the amount its words."""
        amount = told(self.amount, system)
        return amount if self.relation is Relation.AMOUNT else f"{RELATION_WORDS[self.relation]} {self.than}, {amount}"


_COMPARED = re.compile(
    r"^\s*(?:(?P<more>more|heavier|higher)\s+than|(?P<less>less|fewer|lower)\s+than"
    r"|(?P<same>(?:about\s+)?(?:the\s+same\s+as|as\s+much\s+as|like)))\s+(?P<name>.*?)\s*\.?\s*$",
    re.IGNORECASE,
)
_COUNTED = re.compile(r"^\s*(?P<count>\d+)\s*(?:[×x*]\s*)?(?P<name>[^\W\d].*?)\s*$")


def read_foretold(text: str, kit: Kit, held_kg: Mapping[str, float | None], counts: bool = False) -> Foretold:
    """Read what a team says beforehand.

    Args:
        text: as it was typed: "850 g", "12 N", "40 coins", "2 × bag", "more than Gannet".
        kit: the load of the run; what carries the objects is load too, and comes on top of so many objects.
        held_kg: what each other team held so far [kg], by name; None for one that was not tested.
        counts: whether a bare number is a number of load objects, as where pieces are counted.
    Returns:
        What it means.
    Errors:
        ``nobody_of_that_name``, ``not_tested_yet`` for a comparison with a team that is not there or has no result;
        ``no_such_object``; ``not_positive``; those of ``units.parse`` for a mass.
    """
    compared = _COMPARED.match(text)
    if compared:
        return _than(compared, held_kg)
    if counts and re.fullmatch(r"\s*\d+\s*", text):
        single = kit.smallest([item.key for item in kit.items if item.roll_of == 1 and item.key != PLATFORM])
        if single is not None:
            return _objects(int(text), single.key, kit)
    counted = _COUNTED.match(text)
    if counted:
        key = _object(counted["name"], kit)
        if key is not None:
            return _objects(int(counted["count"]), key, kit)
        if counted["name"].lower().rstrip(".") not in units.spellings(units.Kind.MASS):
            there = ", ".join(plural(item.name) for item in kit.items if item.key != PLATFORM) or "no load objects"
            raise GirderError(
                "no_such_object",
                f"There is no “{counted['name']}” in the load of this run; there are {there}. Or say a mass: 850 g.",
            )
    load = units.parse_load(text)
    if not load.si > 0:
        raise GirderError("not_positive", "A prediction has to be more than zero.")
    return Foretold(load.si)


def read_size(text: str, kind: Kind, example: str, came_to: Mapping[str, float | None]) -> Foretold:
    """Read what a team says beforehand where nothing is loaded: a level, a height, a number of pieces.

    Args:
        text: as it was typed: "level 4", "65 cm", "18 left", "less than Gannet".
        kind: what is foretold.
        example: how it is typed, for a refusal.
        came_to: what each other team came to so far [SI], by name; None for one that was not tested.
    Returns:
        What it means.
    Errors:
        ``nobody_of_that_name``, ``not_tested_yet``; ``no_such_size`` for what is no such thing; ``not_positive``.
    """
    compared = _COMPARED.match(text)
    if compared:
        return _than(compared, came_to)
    # A count may stand among the words that say what is counted.
    said = re.search(r"-?\d+", text) if kind is Kind.COUNT else None
    try:
        size = units.parse(said[0] if said else text, kind).si
    except GirderError as error:
        raise GirderError(
            "no_such_size", f"{error.sentence.split('. ')[0].rstrip('.')}. Say it like {example}."
        ) from None
    if size < 0:
        raise GirderError("not_positive", "A prediction cannot be below zero.")
    return Foretold(size)


def _than(compared: re.Match[str], held_kg: Mapping[str, float | None]) -> Foretold:
    relation = next(relation for relation in (Relation.MORE, Relation.LESS, Relation.SAME) if compared[relation.value])
    named = compared["name"]
    name = next((name for name in held_kg if name.lower() == named.lower()), None)
    if name is None:
        others = ", ".join(name for name, kg in held_kg.items() if kg is not None)
        tested = f"These were tested: {others}." if others else "Nobody was tested yet; say a load instead."
        raise GirderError("nobody_of_that_name", f"There is no other team called “{named}”. {tested}")
    kg = held_kg[name]
    if kg is None:
        raise GirderError("not_tested_yet", f"{name} has not been tested yet, so nobody can say. Say a load instead.")
    return Foretold(kg, relation, name)


def _object(named: str, kit: Kit) -> str | None:
    """The load object that is meant: its name, in the singular or the plural, or what only one of them begins with."""
    said = named.lower().strip()
    names = {item.key: item.name.lower() for item in kit.items if item.key != PLATFORM}
    for key, name in names.items():
        if said in (name, plural(name)):
            return key
    ends = [key for key, name in names.items() if any(said in (word, plural(word)) for word in name.split())]
    return ends[0] if len(ends) == 1 else None


def _objects(count: int, key: str, kit: Kit) -> Foretold:
    if count < 1:
        raise GirderError("not_positive", "A prediction has to be more than zero.")
    return Foretold(kit.platform_kg + count * kit.item(key).mass.value)
