"""Two who measured the same thing: how far apart they are, and whether that is more than their instruments explain."""

from __future__ import annotations

import math
from dataclasses import dataclass

from girder_core.measure.uncertainty import COVERAGE_FACTOR, Quantity
from girder_core.measure.units import Kind, System, format_value


@dataclass(frozen=True)
class Apart:
    """How one reading stands to another one of the same thing.

    Attributes:
        difference: the one less the other [SI], with its standard uncertainty.
        agree: whether the difference is no more than both uncertainties explain.
        words: the same in a few words, beginning with the difference.
    """

    difference: Quantity
    agree: bool
    words: str


def apart(one: Quantity, other: Quantity, kind: Kind, system: System | None = None) -> Apart:
    """Hold one reading against another one of the same thing.

    They agree where the difference is at most twice its own standard uncertainty, u² = u₁² + u₂² (a zeta score of 2 or
    less), or what both can be off when each is a display that rounds, √3 (u₁ + u₂), if that is more: two who read the
    same last digit's neighbours disagree about nothing. Counts have no uncertainty, so they agree when they are equal.

    Args:
        one: the reading that is judged [SI].
        other: what it is held against [SI].
        kind: what both measure.
        system: which units the reader wants; without it those of ``reader``.
    Returns:
        The difference, the judgement, and words such as "12 mm more; the instruments explain 1 mm at most".
    Source:
        ISO 13528:2022, 9.6 (zeta score); JCGM 100:2008, 5.1.2, and 4.3.7 for limits a = u √3.
    """
    difference = one - other
    rounded = math.sqrt(3) * (one.standard_uncertainty + other.standard_uncertainty)
    explained = max(COVERAGE_FACTOR * difference.standard_uncertainty, rounded)
    # Two readings that end in the same digit may differ by what a sum of binary fractions leaves.
    rounding = 1e-9 * max(abs(one.value), abs(other.value))
    agree = abs(difference.value) <= explained + rounding
    if abs(difference.value) <= rounding:
        return Apart(difference, agree, "the same")
    amount = format_value(abs(difference.value), kind, system)
    words = f"{amount} {'more' if difference.value > 0 else 'less'}"
    if agree:
        return Apart(difference, agree, f"{words}, as two readings may differ")
    if explained == 0:
        return Apart(difference, agree, f"{words}; one of the two is a slip")
    return Apart(difference, agree, f"{words}; the instruments explain {format_value(explained, kind, system)} at most")
