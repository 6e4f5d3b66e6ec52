"""What a structure is loaded with: load items, the container that takes them, the kit and what is left of it."""

from __future__ import annotations

import math
from collections.abc import Collection, Mapping
from dataclasses import dataclass

from girder_core.ground import GirderError
from girder_core.measure import Quantity

PLATFORM = "platform"
"""Key of the load item that carries the others: the platform, cup or card. It is load too."""


@dataclass(frozen=True)
class LoadItem:
    """One kind of load object.

    Attributes:
        name: what one of it is called ("hex nut").
        mass: mass of one [kg].
        count: how many the kit holds.
        roll_of: for a roll, bag or bundle, how many single objects it holds; 1 for a single object.
        diameter_m: outer diameter or greatest width of one, for drawing and for containers [m]; 0 unknown.
        thickness_m: thickness or height of one [m]; 0 unknown.
        key: name that ledger events use.
        shape: what the drawing shows: ``nut``, ``disc``, ``tile``, ``ball``, ``bag`` or ``platform``.
        order: for numbered unlike objects, the place in the order in which every team loads them, from 1; 0 for
            objects that are all alike.
    """

    name: str
    mass: Quantity
    count: int
    roll_of: int = 1
    diameter_m: float = 0.0
    thickness_m: float = 0.0
    key: str = ""
    shape: str = "disc"
    order: int = 0

    def __post_init__(self) -> None:
        if not self.name.strip():
            raise GirderError("item_without_name", "Give every load item a name.")
        if not self.mass.value > 0:
            raise GirderError("item_without_mass", f"“{self.name}” has no mass. Weigh a batch of it first.")
        if self.count < 1:
            raise GirderError("item_without_count", f"How many of “{self.name}” are there? At least one.")
        if self.roll_of < 1:
            raise GirderError("roll_of_not_positive", f"A roll of “{self.name}” holds at least one object.")
        if self.diameter_m < 0 or self.thickness_m < 0:
            raise GirderError("item_size_negative", f"The size of “{self.name}” cannot be negative.")


@dataclass(frozen=True)
class Kit:
    """All the load on one bench. The platform, if there is one, is among the items."""

    items: tuple[LoadItem, ...]

    def __post_init__(self) -> None:
        keys = [item.key for item in self.items]
        if len(set(keys)) != len(keys):
            twice = next(key for key in keys if keys.count(key) > 1)
            raise GirderError("item_twice", "Two load items have the same name. Give each its own.", item=twice)

    def item(self, key: str) -> LoadItem:
        """The item of this key; ``unknown_item`` when the kit has none such."""
        for item in self.items:
            if item.key == key:
                return item
        raise GirderError("unknown_item", f"“{key}” is not in this run's load kit.", item=key)

    def has_platform(self) -> bool:
        """Whether something carries the load objects and counts as load itself."""
        return any(item.key == PLATFORM for item in self.items)

    @property
    def platform_kg(self) -> float:
        """Mass of what carries the load objects [kg]; nothing where the kit has none."""
        return math.fsum(item.mass.value for item in self.items if item.key == PLATFORM)

    def remaining(self, placed: Mapping[str, int]) -> dict[str, int]:
        """How many of each item are still off the structure."""
        return {item.key: item.count - placed.get(item.key, 0) for item in self.items}

    def mass(self, placed: Mapping[str, int]) -> Quantity:
        """Mass of the placed objects [kg].

        The error of an item's mass is the same for each object of that item, so it grows with the count; errors of
        different items are independent (JCGM 100:2008, 5.2.2 and 5.1.2).
        """
        total = Quantity(0.0)
        for key, count in placed.items():
            total = total + self.item(key).mass * count
        return total

    def pieces(self, placed: Mapping[str, int]) -> int:
        """How many single objects the placed ones are: a roll of ten is ten; the platform is none."""
        return sum(count * self.item(key).roll_of for key, count in placed.items() if key != PLATFORM)

    def smallest(self, among: Collection[str]) -> LoadItem | None:
        """The lightest object of these keys, or of all where none of them is an object; the platform is none.

        None when the kit has no objects at all.
        """
        singles = [item for item in self.items if item.key != PLATFORM]
        chosen = [item for item in singles if item.key in among] or singles
        return min(chosen, key=lambda item: item.mass.value, default=None)

    def total_kg(self) -> float:
        """Mass of everything in the kit [kg]."""
        return math.fsum(item.mass.value * item.count for item in self.items)


@dataclass(frozen=True)
class Container:
    """A cup, box or platform with a rim: inner diameter and inner height [m]."""

    diameter_m: float
    height_m: float


def container_capacity(container: Container, item: LoadItem, packing: float = 0.6) -> int:
    """How many loose objects a round container takes, level with its rim.

    Args:
        container: inner size of the container [m].
        item: the object, with its diameter and thickness [m].
        packing: share of the volume that loose objects fill [-], 0 < packing <= 0.91; about 0.6 for poured objects.
    Returns:
        The count, rounded down. An object wider than the container does not fit at all: 0.
    Errors:
        ``size_unknown``, ``packing_out_of_range``.
    Source:
        Loose packing of monosized objects fills 55 to 64 % (from memory, order of magnitude).
    """
    sizes = (container.diameter_m, container.height_m, item.diameter_m, item.thickness_m)
    if not all(0 < size < math.inf for size in sizes):
        raise GirderError("size_unknown", "Give the container's and the object's size to work out how many fit.")
    if not 0 < packing <= 0.91:
        raise GirderError("packing_out_of_range", "The filled share of a container lies between 0 and 0.91.")
    if item.diameter_m > container.diameter_m:
        return 0
    volume = container.diameter_m**2 * container.height_m
    return math.floor(packing * volume / (item.diameter_m**2 * item.thickness_m) + 1e-9)


def side_by_side(length_m: float, width_m: float, item_m: float) -> tuple[tuple[float, float], ...]:
    """Where items lie flat on a deck in rows and columns, without overlap.

    Args:
        length_m: of the deck [m].
        width_m: of the deck [m].
        item_m: greatest width of one item [m].
    Returns:
        The middle of each from the deck's middle [m], from the middle outwards, as a deck is filled. Round items packed
        in staggered rows can be a few more; items never lie over the edge.
    Errors:
        ``size_unknown``.
    """
    if not all(0 < size < math.inf for size in (length_m, width_m, item_m)):
        raise GirderError("size_unknown", "Give the deck's and the item's size to work out how many fit.")
    along, across = (math.floor(side / item_m + 1e-9) for side in (length_m, width_m))
    places = [
        ((x - (along - 1) / 2) * item_m, (y - (across - 1) / 2) * item_m) for y in range(across) for x in range(along)
    ]
    return tuple(sorted(places, key=lambda place: math.hypot(*place)))


@dataclass(frozen=True)
class Fill:
    """How many of an item fit into a container, and what they weigh together [kg]."""

    item: str
    count: int
    mass_kg: float


def fills(container: Container, kit: Kit) -> list[Fill]:
    """How far each kind of load object fills a container, one kind at a time.

    Args:
        container: inner size of the container [m].
        kit: the load kit; the platform and objects without a size are left out.
    Returns:
        One entry per remaining item, in the kit's order.
    Errors:
        ``size_unknown`` when the container has no size.
    """
    sized = [item for item in kit.items if item.key != PLATFORM and item.diameter_m > 0 and item.thickness_m > 0]
    counts = [(item, container_capacity(container, item)) for item in sized]
    return [Fill(item.key, count, count * item.mass.value) for item, count in counts]


@dataclass(frozen=True)
class LoadStep:
    """So many of one item, placed at once; ``then_kg`` is what is on after it [kg], and ``far`` says whether that is
    still far below where failure is expected."""

    item: str
    count: int
    mass_kg: float
    then_kg: float = 0.0
    far: bool = False

    @property
    def share(self) -> float:
        """The step as a share of what is on after it [-]."""
        return self.mass_kg / self.then_kg if self.then_kg > 0 else 1.0
