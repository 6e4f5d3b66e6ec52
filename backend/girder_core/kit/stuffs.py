"""What things are built of, by their names: what one of it is called, and to which sort it belongs."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from enum import StrEnum

from girder_core.kit.quotas import Material


class Stuff(StrEnum):
    """Sorts of building material that are built with in the same way."""

    SHEET = "sheet"
    STICK = "stick"
    LUMP = "lump"
    BLOCK = "block"


_UNITS: Mapping[str, tuple[str, ...]] = {
    "sheet": ("sheet", "paper", "foil", "card", "cardboard", "board", "manila", "newspaper", "film"),
    "card": ("postcard",),
    "straw": ("straw",),
    "stick": ("stick", "dowel", "skewer", "splint", "toothpick", "craftstick", "rod", "cane"),
    "strand": ("spaghetti", "spaghetto", "pasta", "noodle", "macaroni"),
    "strut": ("strut",),
    "lump": ("clay", "plasticine", "dough", "putty", "lump"),
    "block": ("block", "brick", "cube"),
    "panel": ("panel",),
    "plank": ("plank", "slat"),
    "tube": ("tube", "roll"),
    "cup": ("cup",),
    "band": ("band",),
    "bag": ("bag",),
    "m": ("string", "thread", "twine", "yarn", "tape", "ribbon", "wire"),
    "marshmallow": ("marshmallow",),
}
_UNIT_OF = {word: unit for unit, words in _UNITS.items() for word in words}
_STUFF_OF = {
    "sheet": Stuff.SHEET, "card": Stuff.SHEET, "panel": Stuff.SHEET, "straw": Stuff.STICK, "stick": Stuff.STICK,
    "strand": Stuff.STICK, "strut": Stuff.STICK, "plank": Stuff.STICK, "lump": Stuff.LUMP, "block": Stuff.BLOCK,
}  # fmt: skip


def unit_of(name: str) -> str:
    """What one of a material is called, from what people call the material.

    Args:
        name: such as "paper straw, 210 mm", "aluminium foil".
    Returns:
        Such as "straw", "sheet", "lump"; "m" for what comes by length, "piece" where the name does not say.
    """
    # What stands before a comma or a figure names it, and its last word says what it is: a paper straw is a straw.
    said = re.split(r"[,(]|\d", name.lower())[0] or name.lower()
    words = [word for word in re.findall(r"[^\W\d_]+", said) if word]
    for word in reversed(words or re.findall(r"[^\W\d_]+", name.lower())):
        for form in (word, word.removesuffix("s"), word.removesuffix("es")):
            if form in _UNIT_OF:
                return _UNIT_OF[form]
    return "piece"


def stuff_of(materials: Sequence[Material]) -> Stuff | None:
    """What structures are built of, mostly.

    Args:
        materials: the kit list.
    Returns:
        The sort of the first material that teams build with and whose sort is known; None without one.
    """
    for material in materials:
        if material.buildable and material.final > 0:
            known = _STUFF_OF.get(unit_of(material.name)) or _STUFF_OF.get(material.unit)
            if known is not None:
                return known
    return None
