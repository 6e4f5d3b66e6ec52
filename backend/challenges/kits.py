"""The load kit as it is typed, as it is kept, and as the core knows it.

Kept form, a list of: key, name, shape, count, roll_of, mass_kg, mass_u_kg, batch_count, batch_mass_kg,
scale_resolution_kg, diameter_m, thickness_m. The batch is what was weighed; the mass of one follows from it.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from typing import Any

from girder_core import units
from girder_core.errors import GirderError
from girder_core.loading import PLATFORM, Kit, LoadItem
from girder_core.uncertainty import Quantity, item_mass_kg
from girder_core.units import Kind


def kit_of(kept: Sequence[Mapping[str, Any]]) -> Kit:
    """The core's kit from its kept form."""
    return Kit(tuple(_item(entry) for entry in kept))


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
    )


def read_kit(typed: Sequence[Mapping[str, Any]]) -> list[dict[str, Any]]:
    """The kept form from typed items; ``bad_kit`` names each bad field as ``index.field``."""
    problems: dict[str, str] = {}
    kept = [entry for index, item in enumerate(typed) if (entry := _read_item(index, item, problems)) is not None]
    if not problems:
        try:
            kit_of(kept)
        except GirderError as error:
            problems["0.name"] = error.sentence
    if not any(entry["key"] != PLATFORM for entry in kept) and not problems:
        raise GirderError("bad_kit", "Add at least one kind of load item.", fields={"kit": "No load item yet."})
    if problems:
        raise GirderError(
            "bad_kit",
            "The load kit needs another look.",
            fields={f"kit.{path}": sentence for path, sentence in problems.items()},
        )
    return kept


def _read_item(index: int, item: Mapping[str, Any], problems: dict[str, str]) -> dict[str, Any] | None:
    def si(field: str, kind: Kind, needed: bool) -> float:
        text = str(item.get(field) or "").strip()
        if not text:
            if needed:
                problems[f"{index}.{field}"] = "Type a value with its unit."
            return 0.0
        try:
            return units.parse(text, kind).si
        except GirderError as error:
            problems[f"{index}.{field}"] = error.sentence
            return 0.0

    before = len(problems)
    batch_kg = si("batch_mass", Kind.MASS, needed=True)
    resolution_kg = si("scale_resolution", Kind.MASS, needed=True)
    diameter_m = si("diameter", Kind.LENGTH, needed=False)
    thickness_m = si("thickness", Kind.LENGTH, needed=False)
    if len(problems) > before:
        return None
    try:
        mass = item_mass_kg(batch_kg, item["batch_count"], resolution_kg)
        entry = {
            "key": PLATFORM if item["shape"] == "platform" else _key(item["name"]),
            "name": " ".join(item["name"].split()),
            "shape": item["shape"],
            "count": item["count"],
            "roll_of": item["roll_of"],
            "mass_kg": mass.value,
            "mass_u_kg": mass.standard_uncertainty,
            "batch_count": item["batch_count"],
            "batch_mass_kg": batch_kg,
            "scale_resolution_kg": resolution_kg,
            "diameter_m": diameter_m,
            "thickness_m": thickness_m,
        }
        _item(entry)
    except GirderError as error:
        field = {"item_without_name": "name", "item_without_count": "count", "count_not_positive": "batch_count"}
        problems[f"{index}.{field.get(error.code, 'batch_mass')}"] = error.sentence
        return None
    return entry


def _key(name: str) -> str:
    """A stable key for ledger events from the item's name."""
    return re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-") or "item"
