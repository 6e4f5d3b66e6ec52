"""Drafting: a design on paper, every way it can fail, and what would help.

``draft(kind, typed, …)`` is the way in: typed values, a material per choice, and back come the ladder of limit states,
drawings to scale, figures and sentences. A draft knows nothing of teams, runs or trials.

    films         what can be seen of it in motion
    model         parameters, views, facts, curves: what every kind fills
    origins       how a prediction came about
    engine        reading typed values, headline, what helps, a class's experience
    sheet_bridge … drop  one kind each
"""

from __future__ import annotations

from collections.abc import Mapping

from girder_core.drafting.boat import BOAT
from girder_core.drafting.column import COLUMN
from girder_core.drafting.corbel import ARCH, WALL
from girder_core.drafting.drop import DROP
from girder_core.drafting.engine import (
    Worked,
    draft,
    expectation,
    gives_way,
    material_of,
    read_values,
    start_values,
    summary,
)
from girder_core.drafting.films import film, films_of
from girder_core.drafting.furniture import FURNITURE
from girder_core.drafting.hanging import HANGING
from girder_core.drafting.model import DraftKind, in_words
from girder_core.drafting.origins import draft_origins
from girder_core.drafting.plank import PLANK
from girder_core.drafting.ring import RING
from girder_core.drafting.sheet_bridge import SHEET_BRIDGE
from girder_core.drafting.strip_arch import STRIP_ARCH
from girder_core.drafting.tower import TOWER
from girder_core.drafting.tripod import TRIPOD
from girder_core.drafting.truss import TRUSS
from girder_core.ground import GirderError

KINDS: Mapping[str, DraftKind] = {
    drafting_kind.key: drafting_kind
    for drafting_kind in (
        SHEET_BRIDGE,
        TRUSS,
        HANGING,
        STRIP_ARCH,
        PLANK,
        COLUMN,
        BOAT,
        TOWER,
        TRIPOD,
        RING,
        ARCH,
        WALL,
        FURNITURE,
        DROP,
    )
}


def draft_kind(key: str) -> DraftKind:
    """The kind of draft of this key.

    Args:
        key: its stable name.
    Returns:
        The kind.
    Errors:
        ``unknown_draft``.
    """
    if key not in KINDS:
        raise GirderError("unknown_draft", "There is no such kind of draft.")
    return KINDS[key]


def kinds_for(family: str) -> tuple[DraftKind, ...]:
    """The kinds of draft that serve a family of challenge.

    Args:
        family: its key.
    Returns:
        The kinds, the usual one first.
    """
    return tuple(kind for kind in KINDS.values() if family in kind.families)


__all__ = [
    "KINDS",
    "DraftKind",
    "Worked",
    "draft",
    "draft_kind",
    "draft_origins",
    "expectation",
    "film",
    "films_of",
    "gives_way",
    "in_words",
    "kinds_for",
    "material_of",
    "read_values",
    "start_values",
    "summary",
]
