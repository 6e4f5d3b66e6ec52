"""What lies ready: the load, the coins it may be made of, and what has to be bought.

The map of the room, and its only door: what others use is imported from here.

    loading  load items, containers, what is left of the kit, whether it lasts, the load plan
    coins    published masses of coins
    pile     the load on a structure weighed as one pile
    quotas   quotas for each team to what has to be bought
"""

from girder_core.kit.coins import COINS, coin
from girder_core.kit.loading import (
    PLAN_END_WORDS,
    PLATFORM,
    Container,
    Cover,
    Fill,
    Kit,
    LoadEstimate,
    LoadItem,
    LoadPlan,
    PlanEnd,
    estimate_from,
    estimate_from_kit,
    fills,
    kit_covers,
    load_plan,
    side_by_side,
)
from girder_core.kit.pile import PileCheck, pile_check
from girder_core.kit.quotas import Line, Material, kit_list, materials_problems

__all__ = [
    "COINS",
    "PLAN_END_WORDS",
    "PLATFORM",
    "Container",
    "Cover",
    "Fill",
    "Kit",
    "Line",
    "LoadEstimate",
    "LoadItem",
    "LoadPlan",
    "Material",
    "PileCheck",
    "PlanEnd",
    "coin",
    "estimate_from",
    "estimate_from_kit",
    "fills",
    "kit_covers",
    "kit_list",
    "load_plan",
    "materials_problems",
    "pile_check",
    "side_by_side",
]
