"""The families of challenge, one module each, all with the interface of ``families.model``.

``family(key)`` is the only way in. A family knows what is measured and how a test can end; it knows nothing of teams,
trials or ranks.
"""

from __future__ import annotations

from collections.abc import Mapping

from girder_core import units
from girder_core.errors import GirderError
from girder_core.families.bridge import BRIDGE
from girder_core.families.model import Family
from girder_core.units import Kind

FAMILIES: Mapping[str, Family] = {BRIDGE.key: BRIDGE}


def family(key: str) -> Family:
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
    specs = {spec.key: spec for spec in family(key).setup}
    problems = {name: "This family has no such setting." for name in values if name not in specs}
    setup: dict[str, float | None] = {}
    for name, spec in specs.items():
        value = values.get(name, spec.default)
        if value is None and spec.optional:
            setup[name] = None
        elif isinstance(value, bool) or not isinstance(value, (int, float)):
            problems[name] = f"{spec.label} is needed."
        elif not spec.low <= value <= spec.high:
            problems[name] = f"{spec.label} must lie between {_words(spec.low, spec.kind)} and " + (
                f"{_words(spec.high, spec.kind)}; {_words(float(value), spec.kind)} was given."
            )
        else:
            setup[name] = float(value)
    if not problems and (message := _minimum_above_maximum(setup)):
        problems["overlap_min_m"] = message
    if problems:
        raise GirderError("bad_setup", "Some settings need another look.", fields=problems)
    return setup


def _minimum_above_maximum(setup: Mapping[str, float | None]) -> str | None:
    low, high = setup.get("overlap_min_m"), setup.get("overlap_max_m")
    if low is not None and high is not None and low > high:
        return "The least overlap is larger than the most overlap."
    return None


def _words(value: float, kind: Kind) -> str:
    if kind is Kind.MASS:
        return units.format_mass(value)
    return units.format_length(value) if kind is Kind.LENGTH else f"{value:g} s"
