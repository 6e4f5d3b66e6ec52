"""Quantities with a standard uncertainty, and what a scale, a batch or a few repeats can tell.

First-order propagation of independent inputs, after JCGM 100:2008 (the GUM).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from scipy import special

from girder_core.ground import GirderError

COVERAGE_FACTOR = 2.0
"""How many standard uncertainties an interval is widened by at each end (about 95 %; JCGM 100:2008, 6.3.3)."""


@dataclass(frozen=True)
class Quantity:
    """A value and its standard uncertainty, both in the same SI unit.

    Sums and differences add uncertainties in quadrature, products and ratios add relative ones
    (JCGM 100:2008, 5.1.2 and 5.1.6, independent inputs).
    """

    value: float
    standard_uncertainty: float = 0.0

    def __post_init__(self) -> None:
        if not (math.isfinite(self.value) and math.isfinite(self.standard_uncertainty)):
            raise GirderError("not_finite", "A quantity needs a finite value and uncertainty.")
        if self.standard_uncertainty < 0:
            raise GirderError("negative_uncertainty", "An uncertainty cannot be negative.")

    def __add__(self, other: Quantity) -> Quantity:
        return Quantity(self.value + other.value, math.hypot(self.standard_uncertainty, other.standard_uncertainty))

    def __sub__(self, other: Quantity) -> Quantity:
        return Quantity(self.value - other.value, math.hypot(self.standard_uncertainty, other.standard_uncertainty))

    def __mul__(self, other: Quantity | float) -> Quantity:
        if not isinstance(other, Quantity):
            return Quantity(self.value * other, self.standard_uncertainty * abs(other))
        return Quantity(
            self.value * other.value,
            math.hypot(self.standard_uncertainty * other.value, other.standard_uncertainty * self.value),
        )

    __rmul__ = __mul__

    def __truediv__(self, other: Quantity | float) -> Quantity:
        divisor = other if isinstance(other, Quantity) else Quantity(other)
        if divisor.value == 0:
            raise GirderError("division_by_zero", "Nothing can be divided by a quantity of zero.")
        ratio = self.value / divisor.value
        return Quantity(
            ratio,
            math.hypot(self.standard_uncertainty / divisor.value, ratio * divisor.standard_uncertainty / divisor.value),
        )

    @property
    def relative(self) -> float:
        """Standard uncertainty as a share of the value [-]; infinite for a value of zero."""
        return self.standard_uncertainty / abs(self.value) if self.value else math.inf


def resolution_uncertainty(resolution: float) -> float:
    """Standard uncertainty of one reading of a display that steps by ``resolution``.

    Args:
        resolution: the last digit's step, in the unit of the reading, >= 0.
    Returns:
        resolution / sqrt(12), in the same unit.
    Errors:
        ``negative_resolution``.
    Source:
        JCGM 100:2008, F.2.2.1 (0.29 times the step).
    """
    if not 0 <= resolution < math.inf:
        raise GirderError("negative_resolution", "A scale's step must be zero or more.")
    return resolution / math.sqrt(12)


def step_of(quantity: Quantity) -> float:
    """The step of a display whose one reading would leave the same doubt.

    Args:
        quantity: a value with its standard uncertainty.
    Returns:
        Its standard uncertainty times √12, in the same unit; the reverse of ``resolution_uncertainty``.
    Source:
        JCGM 100:2008, F.2.2.1.
    """
    return quantity.standard_uncertainty * math.sqrt(12)


def item_mass_kg(batch_mass_kg: float, count: int, scale_resolution_kg: float) -> Quantity:
    """Mass of one object from a weighed batch of alike objects.

    Args:
        batch_mass_kg: what the scale shows for the batch [kg], > 0.
        count: how many objects lie on the scale [-], >= 1.
        scale_resolution_kg: the scale's step [kg], >= 0.
    Returns:
        Mass of one [kg] with the uncertainty that the scale's step leaves.
    Errors:
        ``mass_not_positive``, ``count_not_positive``.
    Source:
        JCGM 100:2008, 4.3.7 and F.2.2.1.
    """
    if not 0 < batch_mass_kg < math.inf:
        raise GirderError("mass_not_positive", "A batch must weigh more than zero.")
    if count < 1:
        raise GirderError("count_not_positive", "Count at least one object in the batch.")
    return Quantity(batch_mass_kg, resolution_uncertainty(scale_resolution_kg)) / count


def stated_mass(mass_kg: float, within_kg: float) -> Quantity:
    """A mass that somebody states, with how far off it may be.

    Args:
        mass_kg: the stated mass [kg], > 0.
        within_kg: half-width of the range in which it surely lies [kg], >= 0.
    Returns:
        The mass; u = half-width / √3, because nothing is known of where in the range it lies.
    Errors:
        ``mass_not_positive``, ``doubt_out_of_range`` when the range reaches down to nothing.
    Source:
        JCGM 100:2008, 4.3.7.
    """
    if not 0 < mass_kg < math.inf:
        raise GirderError("mass_not_positive", "A mass must be more than zero.")
    if not 0 <= within_kg < mass_kg:
        raise GirderError("doubt_out_of_range", "The uncertainty must be smaller than the mass itself.")
    return Quantity(mass_kg, within_kg / math.sqrt(3))


def strength_to_weight(load: Quantity, self_mass: Quantity) -> Quantity:
    """How many times its own weight a structure carried.

    Args:
        load: load as a mass [kg], >= 0.
        self_mass: mass of the structure itself [kg], > 0.
    Returns:
        load / self_mass [-] with its uncertainty.
    Errors:
        ``self_mass_not_positive``.
    Source:
        JCGM 100:2008, 5.1.6.
    """
    if not self_mass.value > 0:
        raise GirderError("self_mass_not_positive", "The structure's own weight must be more than zero.")
    return load / self_mass


@dataclass(frozen=True)
class MaterialUse:
    """Some of one material in a structure: how much of it, and the mass of one unit of it [kg]."""

    amount: float
    unit_mass: Quantity


def self_mass_from_materials(uses: Sequence[MaterialUse]) -> Quantity:
    """Own weight of a structure added up from what went into it.

    Args:
        uses: amounts (sheets, metres of tape, sticks), each with the mass of one unit [kg].
    Returns:
        The sum [kg]. The error of a unit mass is shared by all units of it, so it grows with the amount.
    Errors:
        ``no_materials``, ``amount_negative``, ``mass_not_positive``.
    """
    if not uses:
        raise GirderError("no_materials", "Name at least one material to estimate the own weight.")
    total = Quantity(0.0)
    for use in uses:
        if not use.amount >= 0:
            raise GirderError("amount_negative", "An amount of material cannot be negative.")
        if not use.unit_mass.value > 0:
            raise GirderError("mass_not_positive", "One unit of a material must weigh more than zero.")
        total = total + use.unit_mass * use.amount
    if not total.value > 0:
        raise GirderError("self_mass_not_positive", "The structure's own weight must be more than zero.")
    return total


@dataclass(frozen=True)
class ScaleAdvice:
    """Whether a scale is fine enough for a mass.

    Attributes:
        good: true when the reading's expanded uncertainty is at most 5 % of it.
        relative: expanded uncertainty (coverage factor 2) as a share of the mass [-].
        advice: what to do about it, in a sentence; empty when the scale is good enough.
    """

    good: bool
    relative: float
    advice: str


def scale_good_enough(mass_kg: float, resolution_kg: float) -> ScaleAdvice:
    """Judge a scale's step against the mass to be weighed on it.

    Args:
        mass_kg: the mass [kg], > 0.
        resolution_kg: the scale's step [kg], >= 0.
    Returns:
        The advice; a ratio taken with this mass is uncertain by at least ``relative``.
    Errors:
        ``mass_not_positive``.
    Source:
        JCGM 100:2008, F.2.2.1 and 6.2; the limit of 5 % is ours.
    """
    if not 0 < mass_kg < math.inf:
        raise GirderError("mass_not_positive", "The mass must be more than zero.")
    relative = COVERAGE_FACTOR * resolution_uncertainty(resolution_kg) / mass_kg
    if relative <= 0.05:
        return ScaleAdvice(True, relative, "")
    return ScaleAdvice(
        False,
        relative,
        f"On this scale the own weight is uncertain by {relative:.0%}, and so is every ratio taken with it. Weigh "
        "several alike together and divide, use a finer scale, or add up the materials.",
    )


@dataclass(frozen=True)
class Spread:
    """Repeats of one measurement: how many, their mean, sample standard deviation, standard error, 95 % interval."""

    count: int
    mean: float
    standard_deviation: float
    standard_error: float
    low: float
    high: float


def spread(values: Sequence[float]) -> Spread:
    """Mean and scatter of repeated readings.

    Args:
        values: the readings, all in one unit; at least two.
    Returns:
        The spread; the interval is Student's t at 95 %, two-sided.
    Errors:
        ``too_few_repeats`` for fewer than two: one reading says nothing about scatter.
    Source:
        JCGM 100:2008, 4.2.2, 4.2.3 and G.3.
    """
    n = len(values)
    if n < 2:
        raise GirderError("too_few_repeats", "One reading cannot say how much readings scatter. Take another.")
    mean = math.fsum(values) / n
    deviation = math.sqrt(math.fsum((v - mean) ** 2 for v in values) / (n - 1))
    error = deviation / math.sqrt(n)
    half = float(special.stdtrit(n - 1, 0.975)) * error
    return Spread(n, mean, deviation, error, mean - half, mean + half)
