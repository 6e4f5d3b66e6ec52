"""The load kit as it is typed, as it is kept, and as the core knows it.

Kept form, a list of: key, name, shape, count, roll_of, mass_kg, mass_u_kg, diameter_m, thickness_m, order, and
``known_by``, how the mass is known: ``batch`` with batch_count, batch_mass_kg and scale_resolution_kg; ``coin`` with
the coin's key; ``typed``; ``numbered`` for one of a row of unlike objects, each with its own mass and place in the
order.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from typing import Any

from girder_core.families import key as key_of
from girder_core.ground import GirderError
from girder_core.kit import PLATFORM, Kit, Known, LoadItem, Material, coin
from girder_core.measure import Kind, Quantity, item_mass_kg, resolution_uncertainty, stated_mass, units

SOURCES = ["batch", "coin", "typed", "numbered"]
DOUBT_OF_TYPED = 0.05
"""How far off a typed mass may be when nobody says [-]."""

Problems = dict[str, str]


def kit_of(kept: Sequence[Mapping[str, Any]]) -> Kit:
    """The core's kit from its kept form."""
    return Kit(tuple(_item(entry) for entry in kept))


def material_of(kept: Mapping[str, Any]) -> Material:
    """A line of the kit list from its kept form."""
    return Material(**{**kept, "hazards": tuple(kept["hazards"])})


def known_of(kept: Sequence[Mapping[str, Any]]) -> dict[str, Known]:
    """How the mass of each load object is known, by key, from the kit's kept form."""
    said = {"coin": "its published mass", "numbered": "weighed by itself"}
    return {
        entry["key"]: Known((entry["batch_count"], entry["batch_mass_kg"], entry["scale_resolution_kg"]))
        if entry.get("known_by") == "batch" and entry.get("batch_count")
        else Known(source=said.get(entry.get("known_by", ""), "as stated"))
        for entry in kept
    }


def _item(entry: Mapping[str, Any]) -> LoadItem:
    return LoadItem(
        name=entry["name"],
        mass=Quantity(entry["mass_kg"], entry["mass_u_kg"]),
        count=entry["count"],
        roll_of=entry["roll_of"],
        diameter_m=entry["diameter_m"],
        thickness_m=entry["thickness_m"],
        key=entry["key"],
        shape=entry["shape"],
        order=entry.get("order", 0),
    )


def read_kit(typed: Sequence[Mapping[str, Any]], loaded: bool = True) -> list[dict[str, Any]]:
    """The kept form from typed items; ``bad_kit`` names each bad field as ``kit.index.field``.

    A family that is not ``loaded`` may do without any item.
    """
    problems: Problems = {}
    kept: list[dict[str, Any]] = []
    places: list[int] = []
    for index, item in enumerate(typed):
        entries = _read_item(index, item, problems)
        kept += entries
        places += [index] * len(entries)
    keys = [entry["key"] for entry in kept]
    for place, entry in zip(places, kept, strict=True):
        if keys.count(entry["key"]) > 1 and place != places[keys.index(entry["key"])]:
            problems[f"{place}.name"] = f"“{entry['name']}” is in the kit already. Give this one another name."
    if loaded and not problems and not any(entry["key"] != PLATFORM for entry in kept):
        raise GirderError("bad_kit", "Add at least one kind of load item.", fields={"kit": "No load item yet."})
    if problems:
        raise GirderError(
            "bad_kit",
            "The load kit needs another look.",
            fields={f"kit.{path}": sentence for path, sentence in problems.items()},
        )
    return kept


def _read_item(index: int, item: Mapping[str, Any], problems: Problems) -> list[dict[str, Any]]:
    """The entries of one typed line; none when something in it is wrong, which is then in ``problems``."""
    before = len(problems)
    reader = _Reader(index, item, problems)
    sizes = {f"{name}_m": reader.si(name, Kind.LENGTH, needed=False) for name in ("diameter", "thickness")}
    masses = _SOURCES[item.get("known_by", "batch")](reader)
    if len(problems) > before:
        return []
    name = " ".join(item["name"].split())
    key = PLATFORM if item["shape"] == "platform" else key_of(name)
    entries = [
        {
            "key": f"{key}-{order}" if order else key,
            "name": f"{name} {order}" if order else name,
            "shape": item["shape"],
            "count": 1 if order else item["count"],
            "roll_of": item["roll_of"],
            "order": order,
            "known_by": item.get("known_by", "batch"),
            **(sizes if any(sizes.values()) else known.get("size", sizes)),
            "mass_kg": mass.value,
            "mass_u_kg": mass.standard_uncertainty,
            **{name: value for name, value in known.items() if name != "size"},
        }
        for order, mass, known in masses
    ]
    try:
        for entry in entries:
            _item(entry)
    except GirderError as error:
        field = {"item_without_name": "name", "item_without_count": "count", "roll_of_not_positive": "roll_of"}
        problems[f"{index}.{field.get(error.code, 'mass')}"] = error.sentence
        return []
    return entries


class _Reader:
    """Reads the texts of one typed line and notes what is wrong with them."""

    def __init__(self, index: int, item: Mapping[str, Any], problems: Problems) -> None:
        self.index, self.item, self.problems = index, item, problems

    def problem(self, field: str, sentence: str) -> None:
        self.problems[f"{self.index}.{field}"] = sentence

    def si(self, field: str, kind: Kind, needed: bool = True) -> float:
        return self.text(field, str(self.item.get(field) or "").strip(), kind, needed)

    def text(self, field: str, text: str, kind: Kind, needed: bool = True) -> float:
        if not text:
            if needed:
                self.problem(field, "Type a value with its unit.")
            return 0.0
        try:
            return units.parse(text, kind).si
        except GirderError as error:
            self.problem(field, error.sentence)
            return 0.0


_Found = list[tuple[int, Quantity, dict[str, Any]]]
"""Per object of a line: its place in the order or 0, the mass of one, and what goes into the kept form besides."""


def _batch(reader: _Reader) -> _Found:
    batch_kg, step_kg = reader.si("batch_mass", Kind.MASS), reader.si("scale_resolution", Kind.MASS)
    if not batch_kg or not step_kg:
        if batch_kg == 0 and f"{reader.index}.batch_mass" not in reader.problems:
            reader.problem("batch_mass", "A batch must weigh more than zero.")
        return []
    count = reader.item.get("batch_count") or 0
    try:
        mass = item_mass_kg(batch_kg, count, step_kg)
    except GirderError as error:
        reader.problem("batch_count" if error.code == "count_not_positive" else "batch_mass", error.sentence)
        return []
    return [(0, mass, {"batch_count": count, "batch_mass_kg": batch_kg, "scale_resolution_kg": step_kg})]


def _coin(reader: _Reader) -> _Found:
    try:
        known = coin(str(reader.item.get("coin") or ""))
    except GirderError as error:
        reader.problem("coin", error.sentence)
        return []
    roll = reader.item["roll_of"]
    size = {"diameter_m": known.diameter_m, "thickness_m": known.thickness_m * roll}
    return [(0, known.mass * roll, {"coin": known.key, "size": size})]


def _stated(reader: _Reader) -> _Found:
    mass_kg = reader.si("mass", Kind.MASS)
    doubt_kg = reader.si("mass_doubt", Kind.MASS, needed=False) or DOUBT_OF_TYPED * mass_kg
    if f"{reader.index}.mass" in reader.problems:
        return []
    try:
        return [(0, stated_mass(mass_kg, doubt_kg), {})]
    except GirderError as error:
        reader.problem("mass_doubt" if error.code == "doubt_out_of_range" else "mass", error.sentence)
        return []


def _numbered(reader: _Reader) -> _Found:
    texts = [text.strip() for text in reader.item.get("masses") or [] if text.strip()]
    step_kg = reader.si("scale_resolution", Kind.MASS)
    if not texts:
        reader.problem("masses", "Weigh each object and type its mass, in the order in which they are loaded.")
    texts = _one_unit_for_all(texts)
    masses = [reader.text("masses", text, Kind.MASS) for text in texts]
    if any(not mass > 0 for mass in masses):
        reader.problem("masses", "Every numbered object must weigh more than zero.")
        return []
    doubt = resolution_uncertainty(step_kg)
    return [(i, Quantity(mass, doubt), {"scale_resolution_kg": step_kg}) for i, mass in enumerate(masses, start=1)]


def _one_unit_for_all(texts: Sequence[str]) -> list[str]:
    """Figures of which one has a unit, such as the last: "612, 845, 530 g"."""
    units_typed = {match[0].strip() for text in texts if (match := re.search(r"[^\W\d_]+\s*$", text))}
    if len(units_typed) != 1:
        return list(texts)
    (unit,) = units_typed
    return [text if re.search(r"[^\W\d_]", text) else f"{text} {unit}" for text in texts]


_SOURCES: Mapping[str, Callable[[_Reader], _Found]] = {
    "batch": _batch,
    "coin": _coin,
    "typed": _stated,
    "numbered": _numbered,
}
