"""What lies ready: the load, the coins it may be made of, and what has to be bought.

The map of the room, and its only door: what others use is imported from here.

    loading  load items, containers, the kit and what is left of it
    foretold what a team says beforehand
    lasting  where structures are expected to give way, and whether the kit lasts
    steps    the load plan
    coins    published masses of coins
    pile     the load on a structure weighed as one pile
    origins  how the figures of a kit came about
    quotas   quotas for each team to what has to be bought
    stuffs   what things are built of, by their names
"""

from girder_core.kit.coins import COINS, coin
from girder_core.kit.foretold import RELATION_WORDS, Foretold, Relation, read_foretold, read_size
from girder_core.kit.lasting import (
    Cover,
    LoadEstimate,
    estimate_from,
    estimate_from_kit,
    kit_covers,
    runs_out,
    strongest_needs,
)
from girder_core.kit.loading import PLATFORM, Container, Fill, Kit, LoadItem, fills, side_by_side
from girder_core.kit.origins import (
    CHANCE,
    NEEDED,
    PACKS,
    Known,
    counted_origin,
    cover_origins,
    estimate_origin,
    item_origin,
    line_origins,
)
from girder_core.kit.pile import PileCheck, pile_check
from girder_core.kit.quotas import Line, Material, kit_list, materials_problems
from girder_core.kit.steps import PLAN_END_WORDS, LoadPlan, PlanEnd, load_plan
from girder_core.kit.stuffs import Stuff, stuff_of, unit_of

__all__ = [
    "CHANCE",
    "COINS",
    "NEEDED",
    "PACKS",
    "PLAN_END_WORDS",
    "PLATFORM",
    "RELATION_WORDS",
    "Container",
    "Cover",
    "Fill",
    "Foretold",
    "Kit",
    "Known",
    "Line",
    "LoadEstimate",
    "LoadItem",
    "LoadPlan",
    "Material",
    "PileCheck",
    "PlanEnd",
    "Relation",
    "Stuff",
    "coin",
    "counted_origin",
    "cover_origins",
    "estimate_from",
    "estimate_from_kit",
    "estimate_origin",
    "fills",
    "item_origin",
    "kit_covers",
    "kit_list",
    "line_origins",
    "load_plan",
    "materials_problems",
    "pile_check",
    "read_foretold",
    "read_size",
    "runs_out",
    "side_by_side",
    "strongest_needs",
    "stuff_of",
    "unit_of",
]
