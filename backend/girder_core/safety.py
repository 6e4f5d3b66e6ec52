"""Cautions: short, and shown at the place where they matter. The school's own rules always come first."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from girder_core.ground import GirderError
from girder_core.kit import PLATFORM, LoadEstimate, LoadItem
from girder_core.trial import Procedure


class AgeBand(StrEnum):
    """Who builds."""

    AGES_5_7 = "5-7"
    AGES_8_10 = "8-10"
    AGES_11_13 = "11-13"
    AGES_14_18 = "14-18"

    @property
    def place(self) -> int:
        """0 for the youngest to 3 for the oldest."""
        return list(AgeBand).index(self)


@dataclass(frozen=True)
class Caution:
    """Something that can hurt someone.

    Attributes:
        key: stable name.
        title: in two or three words.
        text: what to do.
        stages: the stages that show it.
        condition: what the teacher has to confirm before a recipe may use it; empty where showing it is enough.
    """

    key: str
    title: str
    text: str
    stages: tuple[str, ...]
    condition: str = ""


SNAPPING = Caution(
    "snapping",
    "Stand behind the line",
    "Eye protection where parts can snap. No hands, feet or faces under or near a loaded structure.",
    ("brief", "bench"),
)
FALLING_LOAD = Caution(
    "falling_load",
    "Load will fall",
    "Keep the load low over a soft mat and feet clear of it. Place gently, from above.",
    ("brief", "kit", "bench"),
)
HEAVY_PIECES = Caution(
    "heavy_pieces",
    "Heavy pieces",
    "Tiles, books and masses are lifted one at a time with both hands, closed shoes on, toes back from the edge.",
    ("brief", "kit", "bench"),
)
SMALL_OBJECTS = Caution(
    "small_objects",
    "Small objects",
    "Pick nuts, coins and marbles off the floor: slips. Keep them from young children: choking.",
    ("brief", "kit"),
)
CHOKING = Caution(
    "choking",
    "Small parts, young children",
    "These load objects fit into a mouth. An adult hands them out counted and counts them back in.",
    ("brief", "kit", "bench"),
    "An adult counts the small load objects out and in again.",
)
SCISSORS = Caution(
    "scissors", "Cutting", "Cut away from the hand, on a board. A pencil goes through a cup on a board too.",
    ("brief", "build"),
)  # fmt: skip
HOT_GLUE = Caution(
    "hot_glue",
    "Hot glue burns",
    "Only an adult handles the gun, gloves on, at one marked table.",
    ("brief", "kit", "build"),
    "Only an adult uses the hot glue gun, with gloves, at a marked table.",
)
HEAT = Caution(
    "heat",
    "Heat and melted sugar",
    "Melted sugar sticks and burns deeply. An adult melts and pours, gloves and goggles on, cold water at hand.",
    ("brief", "kit", "build"),
    "Only an adult heats, melts and pours, with gloves and goggles, and cold water at hand.",
)
WATER = Caution(
    "water",
    "Water on the floor",
    "Wipe spills at once. Basins stand low, away from sockets and anything electrical.",
    ("brief", "bench"),
)
GLASS = Caution("glass", "Glass", "Chipped marbles go in the bin; broken glass is swept by an adult.", ("kit", "bench"))
ELASTIC = Caution(
    "elastic", "Rubber bands", "Eye protection on. A band is never stretched towards a face.", ("brief", "build")
)
FOOD = Caution(
    "food", "Food as material", "Ask about allergies first. Nothing is eaten once it was handled.", ("brief", "kit",
    "build")
)  # fmt: skip
WIRE = Caution("wire", "Wire ends", "Goggles on when wire is cut; hold both ends, bend them over.", ("brief", "build"))
THROWING = Caution(
    "throwing",
    "One throwing side",
    "Throw from behind the marked line only, soft balls only, and nobody beyond it until the thrower calls clear.",
    ("brief", "bench"),
)
LAUNCHER = Caution(
    "launcher",
    "Launcher",
    "One marked side, goggles on, nobody near the target, loaded only on the teacher's word.",
    ("brief", "kit", "bench"),
    "There is one marked launching side, everyone wears goggles, and nobody is near the target.",
)
CHAIR = Caution(
    "chair",
    "Out of reach",
    "No student stands on a chair or table. What is out of reach is measured and loaded by an adult on a step stool.",
    ("brief", "bench"),
    "Only an adult on a proper step measures or loads what students cannot reach from the floor.",
)
PERSON = Caution(
    "person_load",
    "A person as load",
    "Not recommended. Only a responsible adult, under the school's own risk rules, at ground level, with a spotter.",
    ("brief", "bench"),
    "The load is a responsible adult, the school's own risk rules allow it, it is at ground level, and there is a "
    "spotter.",
)
SHAKING = Caution(
    "shaking", "Fingers off the table", "Hands stay clear of the shaking base and its drive; stop it before touching.",
    ("brief", "bench"),
)  # fmt: skip
DROPPING = Caution(
    "dropping", "Drop zone", "Nobody's feet or hands in the drop zone; goggles on, pieces fly.", ("brief", "bench")
)
ALWAYS = Caution(
    "models_only",
    "Models only",
    "Results and predictions are for classroom models, never for anything people rely on. The school's own rules come "
    "first; real structures are for licensed engineers and local codes.",
    ("brief",),
)

HAZARDS: Mapping[str, Caution] = {
    hazard.key: hazard
    for hazard in (
        SNAPPING, FALLING_LOAD, HEAVY_PIECES, SMALL_OBJECTS, CHOKING, SCISSORS, HOT_GLUE, HEAT, WATER, GLASS, ELASTIC,
        FOOD, WIRE, THROWING, LAUNCHER, CHAIR, PERSON, SHAKING, DROPPING, ALWAYS,
    )
}  # fmt: skip
"""Every caution by its key."""

DECLARED = (HOT_GLUE.key, HEAT.key, LAUNCHER.key, PERSON.key)
"""What a teacher says is used; the rest follows from family, materials, load and set-up."""

HEAVY_KG, SMALL_M, OUT_OF_REACH_M = 0.4, 0.0317, 1.5
"""A piece that hurts a foot [kg] (ours); the small-parts cylinder of 16 CFR 1501 [m] (from memory); what a student
reaches from the floor [m] (ours)."""


@dataclass(frozen=True)
class SafetySheet:
    """The cautions of a recipe in the order in which they matter, and which conditions nobody has confirmed yet."""

    cautions: tuple[Caution, ...]
    to_confirm: tuple[Caution, ...]


def safety_sheet(
    family: Collection[Caution],
    materials: Sequence[str],
    load: Sequence[LoadItem],
    tallest_m: float,
    age: AgeBand,
    declared: Collection[str] = (),
    confirmed: Collection[str] = (),
) -> SafetySheet:
    """The cautions of a challenge, from all that is used in it.

    Args:
        family: what always goes with this kind of challenge.
        materials: hazards of the materials, by key.
        load: the load items.
        tallest_m: how high something may have to be reached [m].
        age: who builds.
        declared: what the teacher says is used, by key of ``DECLARED``.
        confirmed: keys of the cautions whose condition the teacher confirmed.
    Returns:
        The sheet; conditions come first, the note on models last.
    Errors:
        ``person_load_refused`` when students would be the load's age; ``unknown_hazard``.
    """
    keys = [caution.key for caution in family]
    for key in (*materials, *declared):
        if key not in HAZARDS:
            raise GirderError("unknown_hazard", f"“{key}” is no hazard that is known here.", hazard=key)
        keys.append(key)
    pieces = [item for item in load if item.key != PLATFORM]
    if pieces:
        keys.append(FALLING_LOAD.key)
    if any(item.mass.value >= HEAVY_KG for item in pieces):
        keys.append(HEAVY_PIECES.key)
    small = [item for item in pieces if 0 < item.diameter_m <= SMALL_M and item.roll_of == 1]
    if small:
        keys.append(CHOKING.key if age is AgeBand.AGES_5_7 else SMALL_OBJECTS.key)
    if tallest_m > OUT_OF_REACH_M:
        keys.append(CHAIR.key)
    if PERSON.key in keys and age is not AgeBand.AGES_14_18:
        raise GirderError(
            "person_load_refused",
            "A person is not a load for this age. Load it with objects whose mass you know.",
            field="declared",
        )
    if CHOKING.key in keys:
        keys = [key for key in keys if key != SMALL_OBJECTS.key]
    unique = [HAZARDS[key] for key in dict.fromkeys(keys) if key != ALWAYS.key]
    ordered = [*(c for c in unique if c.condition), *(c for c in unique if not c.condition), ALWAYS]
    return SafetySheet(tuple(ordered), tuple(c for c in ordered if c.condition and c.key not in confirmed))


def round_caution(procedure: Procedure, seen_signs: bool) -> str | None:
    """The caution for this moment of a test in rounds.

    Args:
        procedure: how the structure is tested.
        seen_signs: whether a sign of failure was noted in this trial.
    Returns:
        A sentence, sharper once something was seen; None for a structure that merely stands and shows nothing.
    """
    always = procedure.caution or None
    if not seen_signs:
        return always
    return f"{always} It may go at the next." if always else "It may fall. Everyone behind the line."


NEAR_END = "Near where it may break. Everyone behind the line."


def bench_caution(load_on_kg: float, estimate: LoadEstimate | None, near: str = NEAR_END) -> str | None:
    """The caution for this moment of a trial.

    Args:
        load_on_kg: what is on the structure now [kg].
        estimate: where it is expected to give way, if anything is known.
        near: what to say near the end of this kind of structure.
    Returns:
        A sentence once the load has come within a fifth of the lowest expected failure; else None.
    """
    if estimate is None or load_on_kg < 0.8 * estimate.low_kg:
        return None
    if load_on_kg > estimate.high_kg:
        return "Beyond anything expected. It can go without warning."
    return near
