"""What lies ready: the load, the coins it may be made of, and what has to be bought.

The map of the room, and its only door: what others use is imported from here.

    loading  load items, containers, what is left of the kit, whether it lasts, the load plan
    coins    published masses of coins
    pile     the load on a structure weighed as one pile
    origins  how the figures of a kit came about
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
    runs_out,
    side_by_side,
    strongest_needs,
)
from girder_core.kit.origins import (
    CHANCE,
    NEEDED,
    PACKS,
    Known,
    counted_origin,
    cover_origins,
    item_origin,
    line_origin,
)
from girder_core.kit.pile import PileCheck, pile_check
from girder_core.kit.quotas import Line, Material, kit_list, materials_problems

__all__ = [
    "CHANCE",
    "COINS",
    "NEEDED",
    "PACKS",
    "PLAN_END_WORDS",
    "PLATFORM",
    "Container",
    "Cover",
    "Fill",
    "Kit",
    "Known",
    "Line",
    "LoadEstimate",
    "LoadItem",
    "LoadPlan",
    "Material",
    "PileCheck",
    "PlanEnd",
    "coin",
    "counted_origin",
    "cover_origins",
    "estimate_from",
    "estimate_from_kit",
    "fills",
    "item_origin",
    "kit_covers",
    "kit_list",
    "line_origin",
    "load_plan",
    "materials_problems",
    "pile_check",
    "runs_out",
    "side_by_side",
    "strongest_needs",
]
