"""Published masses of circulating coins, for kits that are counted and never weighed.

A coin of one kind is made to a nominal mass within a tolerance, and wears. The standard uncertainty given here is 1 %
of the nominal mass (an order of magnitude, from memory); weighing a batch does better.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from girder_core.ground import GirderError
from girder_core.measure import Quantity

TOLERANCE = 0.01
"""Relative standard uncertainty of one coin's nominal mass [-]."""

US_MINT = "United States Mint, coin specifications (from memory)"
EU_COUNCIL = "Council Regulation (EU) 729/2014, annex I (from memory)"
ROYAL_MINT = "The Royal Mint, UK coin specifications (from memory)"


@dataclass(frozen=True)
class Coin:
    """A kind of coin: key, name, nominal mass [kg], diameter and thickness [m], coins in a roll or bag, source."""

    key: str
    name: str
    mass_kg: float
    diameter_m: float
    thickness_m: float
    roll_of: int
    source: str

    @property
    def mass(self) -> Quantity:
        """Mass of one [kg] with the tolerance of its making."""
        return Quantity(self.mass_kg, TOLERANCE * self.mass_kg)


def _coin(key: str, name: str, gram: float, wide_mm: float, thick_mm: float, roll_of: int, source: str) -> Coin:
    return Coin(key, name, gram / 1000, wide_mm / 1000, thick_mm / 1000, roll_of, source)


COINS: Mapping[str, Coin] = {
    coin.key: coin
    for coin in (
        _coin("us-cent-1983", "US cent, 1983 and later", 2.500, 19.05, 1.52, 50, US_MINT),
        _coin("us-cent-1981", "US cent, 1981 and earlier", 3.11, 19.05, 1.52, 50, US_MINT),
        _coin("us-5-cent", "US five cents", 5.000, 21.21, 1.95, 40, US_MINT),
        _coin("us-dime", "US dime", 2.268, 17.91, 1.35, 50, US_MINT),
        _coin("us-quarter", "US quarter", 5.670, 24.26, 1.75, 40, US_MINT),
        _coin("euro-1-cent", "1 euro cent", 2.30, 16.25, 1.67, 50, EU_COUNCIL),
        _coin("euro-2-cent", "2 euro cent", 3.06, 18.75, 1.67, 50, EU_COUNCIL),
        _coin("euro-5-cent", "5 euro cent", 3.92, 21.25, 1.67, 50, EU_COUNCIL),
        _coin("euro-10-cent", "10 euro cent", 4.10, 19.75, 1.93, 40, EU_COUNCIL),
        _coin("euro-20-cent", "20 euro cent", 5.74, 22.25, 2.14, 40, EU_COUNCIL),
        _coin("euro-50-cent", "50 euro cent", 7.80, 24.25, 2.38, 40, EU_COUNCIL),
        _coin("euro-1", "1 euro", 7.50, 23.25, 2.33, 25, EU_COUNCIL),
        _coin("euro-2", "2 euro", 8.50, 25.75, 2.20, 25, EU_COUNCIL),
        _coin("uk-1-penny", "UK penny, 1992 and later", 3.56, 20.3, 1.65, 100, ROYAL_MINT),
        _coin("uk-2-pence", "UK two pence, 1992 and later", 7.12, 25.9, 2.03, 50, ROYAL_MINT),
        _coin("uk-5-pence", "UK five pence, 1990 and later", 3.25, 18.0, 1.7, 100, ROYAL_MINT),
        _coin("uk-10-pence", "UK ten pence, 1992 and later", 6.50, 24.5, 1.85, 50, ROYAL_MINT),
        _coin("uk-20-pence", "UK twenty pence", 5.00, 21.4, 1.7, 50, ROYAL_MINT),
        _coin("uk-50-pence", "UK fifty pence, 1997 and later", 8.00, 27.3, 1.78, 20, ROYAL_MINT),
    )
}  # fmt: skip


def coin(key: str) -> Coin:
    """The coin of this key.

    Args:
        key: such as ``"euro-20-cent"``.
    Returns:
        The coin.
    Errors:
        ``unknown_coin``.
    Source:
        Named in ``Coin.source``; all from memory.
    """
    if key not in COINS:
        raise GirderError("unknown_coin", "There is no published mass of this coin here. Weigh a batch instead.")
    return COINS[key]
