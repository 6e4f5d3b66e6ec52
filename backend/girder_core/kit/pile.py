"""The pile put on a scale afterwards, held against the count: which of the two is likely wrong, and why."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from girder_core.kit.loading import PLATFORM, Kit
from girder_core.measure import COVERAGE_FACTOR, Quantity, System, format_mass


class Suspect(StrEnum):
    """What is likely wrong when scale and count disagree."""

    NOTHING = "nothing"
    COUNT = "count"
    PLATFORM = "platform"
    UNIT = "unit"
    ITEMS = "items"
    UNCLEAR = "unclear"


@dataclass(frozen=True)
class PileCheck:
    """Whether pile and count agree, what is likely wrong, and why in a sentence."""

    suspect: Suspect
    sentence: str

    @property
    def agrees(self) -> bool:
        """Whether they agree within their uncertainty."""
        return self.suspect is Suspect.NOTHING


MISCOUNTED = 4
"""More objects of one kind than this are not miscounted, something else is wrong (ours)."""

UNLIKE = 0.25
"""Objects of one kind can differ by this share in mass (coins of different years; common practice, no source)."""

_UNITS = {1000.0: "grams and kilograms", 28.349523125: "grams and ounces", 16.0: "ounces and pounds"}


def pile_check(kit: Kit, placed: Mapping[str, int], weighed: Quantity, system: System = System.METRIC) -> PileCheck:
    """Hold the weighed pile against the count.

    Args:
        kit: the load at the bench.
        placed: what was counted onto the structure, by item key.
        weighed: what the scale showed [kg].
        system: units for the sentence.
    Returns:
        What is likely wrong: nothing, the count, the platform left off the scale or put on it unseen, the unit, the
        mass given for the objects, or what cannot be told.
    Errors:
        ``unknown_item``.
    Source:
        Two results differ when their difference exceeds twice its standard uncertainty (JCGM 100:2008, 6.3.3).
    """
    counted = kit.mass(placed)
    difference = weighed - counted
    doubt = COVERAGE_FACTOR * difference.standard_uncertainty
    off = difference.value
    if abs(off) <= doubt:
        return PileCheck(
            Suspect.NOTHING,
            f"Scale and count agree: {format_mass(weighed.value, system)} weighed, "
            f"{format_mass(counted.value, system)} counted.",
        )
    by = f"The pile weighs {format_mass(abs(off), system)} {'more' if off > 0 else 'less'} than was counted. "
    if kit.has_platform():
        platform = kit.item(PLATFORM)
        if placed.get(PLATFORM) and abs(off + platform.mass.value) <= doubt + 0.02 * platform.mass.value:
            return PileCheck(
                Suspect.PLATFORM,
                f"{by}That is just the {platform.name}: it was probably left off the scale. Weigh again with it on.",
            )
    best: tuple[float, int, str] | None = None
    for key, count in placed.items():
        item = kit.item(key)
        if key == PLATFORM or not count:
            continue
        wrong = round(off / item.mass.value)
        rest = abs(off - wrong * item.mass.value)
        near = rest <= doubt + 0.1 * item.mass.value
        if 0 < abs(wrong) <= MISCOUNTED and near and (best is None or rest < best[0]):
            best = (rest, wrong, item.name)
    if best is not None:
        _, wrong, name = best
        return PileCheck(
            Suspect.COUNT,
            f"{by}That is {abs(wrong)} × {name}: the count is probably {abs(wrong)} too "
            f"{'low' if wrong > 0 else 'high'}. The scale’s figure is taken.",
        )
    ratio = weighed.value / counted.value if counted.value > 0 else 0.0
    for factor, names in _UNITS.items():
        if ratio and min(abs(ratio / factor - 1), abs(ratio * factor - 1)) < 0.05:
            return PileCheck(Suspect.UNIT, f"{by}Were {names} mixed up? Look at the scale’s unit.")
    if abs(off) <= UNLIKE * counted.value:
        return PileCheck(
            Suspect.ITEMS,
            f"{by}No whole number of objects is missing, so they are probably not all as heavy as the kit says. "
            "The scale is right; weigh a batch again.",
        )
    return PileCheck(
        Suspect.UNCLEAR,
        f"{by}Neither a miscount nor the {'platform' if kit.has_platform() else 'tare'} explains it. Is all of it on "
        "the scale, and did the scale start at zero?",
    )
