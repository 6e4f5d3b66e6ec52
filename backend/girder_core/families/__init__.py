"""The families of challenge, one module each, all with the interface of ``families.model``.

``family_of(key)`` is the way in. A family knows what is planned, measured and forbidden, and how a test can end; it
knows nothing of teams, trials or ranks.

    model        the interface
    constraints  readings held against limits
    standing     where a design stands: checked in, tested, which version counts
    keys         the keys of the bench, as data
    telling      a result in words
    foretelling  what a team can foretell where nothing is loaded
    origins      how what else wins was measured
    derived      figures that follow from the readings
    common       fields, modes and gear that several share
    curriculum   performance expectations by code
    bridge … wall  one family each
"""

from __future__ import annotations

from collections.abc import Mapping

from girder_core.families.arch import ARCH
from girder_core.families.boat import BOAT
from girder_core.families.bridge import BRIDGE
from girder_core.families.bucket_tower import BUCKET_TOWER
from girder_core.families.capacity_table import CAPACITY_TABLE
from girder_core.families.column import COLUMN
from girder_core.families.common import TAPE_ROLL, key
from girder_core.families.constraints import ConstraintResult, Status
from girder_core.families.curriculum import Standard
from girder_core.families.derived import WorkedOut, worked_out
from girder_core.families.drop_house import DROP_HOUSE
from girder_core.families.foretelling import Foretells, foretells
from girder_core.families.furniture import FURNITURE
from girder_core.families.hideout import HIDEOUT
from girder_core.families.keys import Does, Key, Look, keys_of
from girder_core.families.model import (
    SELF_MASS,
    Family,
    LoadIdea,
    Picture,
    Quota,
    Range,
    ReadingSpec,
    Saying,
    Setup,
    SetupField,
    Way,
    aim_kg,
)
from girder_core.families.origins import fact_origin
from girder_core.families.ring import RING
from girder_core.families.shake_tower import SHAKE_TOWER
from girder_core.families.standing import (
    AWAY_WORDS,
    TO_BE_TESTED,
    Away,
    DesignState,
    Standing,
    TeamStage,
    counting_version,
    let_to_bench,
    still_to_do,
    team_stage,
)
from girder_core.families.telling import (
    Aim,
    aims,
    ended_in_words,
    headline,
    how_it_ended,
    result_in_words,
    sizes_drawn,
    strength_in_words,
    trial_line,
    ways_on,
)
from girder_core.families.tower import TOWER
from girder_core.families.wall import WALL
from girder_core.ground import GirderError
from girder_core.measure import format_value

FAMILIES: Mapping[str, Family] = {
    kind.key: kind
    for kind in (
        BRIDGE, COLUMN, TOWER, BUCKET_TOWER, BOAT, SHAKE_TOWER, WALL, CAPACITY_TABLE, DROP_HOUSE, ARCH, RING, FURNITURE,
        HIDEOUT,
    )
}  # fmt: skip


def family_of(key: str) -> Family:
    """The family of this key.

    Args:
        key: stable name, such as ``"bridge"``.
    Returns:
        The family.
    Errors:
        ``unknown_family``.
    """
    if key not in FAMILIES:
        raise GirderError("unknown_family", f"There is no kind of challenge called “{key}”.", family=key)
    return FAMILIES[key]


def check_setup(key: str, values: Mapping[str, object]) -> dict[str, float | None]:
    """Hold a recipe's set-up against its family.

    Args:
        key: the family.
        values: set-up quantities in SI by field key.
    Returns:
        The complete set-up, with defaults where nothing was given.
    Errors:
        ``bad_setup`` whose data maps each bad field to a sentence; ``unknown_family``.
    """
    specs = {spec.key: spec for spec in family_of(key).setup}
    problems = {name: "This kind of challenge has no such setting." for name in values if name not in specs}
    setup: dict[str, float | None] = {}
    for name, spec in specs.items():
        value = values.get(name, spec.default)
        if value is None and spec.optional:
            setup[name] = None
        elif isinstance(value, bool) or not isinstance(value, (int, float)):
            problems[name] = f"{spec.label} is needed."
        elif not spec.low <= value <= spec.high:
            problems[name] = f"{spec.label} must lie between {format_value(spec.low, spec.kind)} and " + (
                f"{format_value(spec.high, spec.kind)}; {format_value(float(value), spec.kind)} was given."
            )
        else:
            setup[name] = float(value)
    problems |= {} if problems else _minimum_above_maximum(setup)
    if problems:
        raise GirderError("bad_setup", "Some settings need another look.", fields=problems)
    return setup


def _minimum_above_maximum(setup: Mapping[str, float | None]) -> dict[str, str]:
    """Pairs of fields whose names differ by ``min`` and ``max`` only, the wrong way round."""
    problems = {}
    for name, low in setup.items():
        high = setup.get(name.replace("_min_", "_max_"))
        if "_min_" in name and low is not None and high is not None and low > high:
            thing = name.split("_min_")[0]
            problems[name] = f"The least {thing} is larger than the most {thing}."
    return problems


__all__ = [
    "AWAY_WORDS",
    "FAMILIES",
    "SELF_MASS",
    "TAPE_ROLL",
    "TO_BE_TESTED",
    "Aim",
    "Away",
    "ConstraintResult",
    "DesignState",
    "Does",
    "Family",
    "Foretells",
    "Key",
    "LoadIdea",
    "Look",
    "Picture",
    "Quota",
    "Range",
    "ReadingSpec",
    "Saying",
    "Setup",
    "SetupField",
    "Standard",
    "Standing",
    "Status",
    "TeamStage",
    "Way",
    "WorkedOut",
    "aim_kg",
    "aims",
    "check_setup",
    "counting_version",
    "ended_in_words",
    "fact_origin",
    "family_of",
    "foretells",
    "headline",
    "how_it_ended",
    "key",
    "keys_of",
    "let_to_bench",
    "result_in_words",
    "sizes_drawn",
    "still_to_do",
    "strength_in_words",
    "team_stage",
    "trial_line",
    "ways_on",
    "worked_out",
]
