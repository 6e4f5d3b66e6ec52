"""Tables for people: headers in words, figures in the reader's units with the places they deserve, times as here."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, tzinfo
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from django.utils import timezone

from challenges.models import Run
from girder_core.measure import Kind, System, units

WORDS: Mapping[str, str] = {
    "held_kg": "Held", "held_standard_uncertainty_kg": "Held, standard uncertainty", "broke_at_kg": "Went at",
    "strength_low_kg": "Strength, from", "strength_high_kg": "Strength, to", "last_step_kg": "Last step",
    "pieces_held": "Pieces held", "survived_low": "Came through", "survived_high": "Too much for it",
    "measured_at_bench": "Measured at the bench", "failure_or_reason": "How it ended",
    "self_mass_standard_uncertainty_kg": "Own weight, standard uncertainty",
    "self_mass_after_test": "Own weight taken after the test", "times_own_weight": "Times its own weight",
    "team_prediction_kg": "The team said", "team_prediction_size": "The team said (level, metres or number)",
    "breaches": "Broken rules", "design_score": "Score of the design", "design_score_school": "Scored by",
    "place_best": "Place, at best", "place_worst": "Place, at worst", "wins_again_share": "Would win again",
    "true_place_best": "True place, at best", "true_place_worst": "True place, at worst",
    "ahead_of_next_again_share": "Ahead of the next again", "passes_again_share": "Would hold the target again",
    "goal_changed_because": "The goal was changed because", "factor_level": "Varied on purpose",
    "step_kg": "The step weighs", "happened_at": "When", "received_at": "Written down", "taken_at": "Taken",
    "points_of_100": "Points of 100", "one_weighs_kg": "One weighs", "per_team_final": "Each team, final",
    "per_team_practice": "Each team, practice", "all_teams_final": "All teams, final",
    "all_teams_practice": "All teams, practice", "benches_and_class": "Benches and class",
    "packs_to_buy": "Packs to buy",
    "pack_size": "In a pack", "owned": "There", "value_si": "Value (SI)",
    "standard_uncertainty_si": "Standard uncertainty (SI)", "starts_at_or_tare": "Starts at, or tare",
    "resolution": "Instrument’s step", "repeats_the_one_before": "Repeats the one before", "rule_version": "Rules",
}  # fmt: skip
"""What a column is called, where its name with spaces would not do."""


NAMED = frozenset({"outcome", "kind", "stands", "design_score_school"})
"""Columns whose values are names for programs, such as ``ran_out``."""


@dataclass(frozen=True)
class _Form:
    """How a column is shown: its unit, and what makes of its values what is written."""

    unit: str
    write: Callable[[float], float]


def _scaled(unit: str, kind: Kind, places: int) -> _Form:
    size = units.si_per(unit, kind)
    return _Form(unit, lambda value: round(value / size, places))


def _form(key: str, system: System) -> _Form | None:
    """How a column of this name is shown; None for one that stays as it is."""
    us = system is System.US
    for suffix, form in (
        ("_share", _Form("%", lambda value: round(100 * value, 1))),
        ("_m2", _scaled("in²" if us else "cm²", Kind.AREA, 1)),
        ("_m3", _scaled("in³" if us else "cm³", Kind.VOLUME, 1)),
        ("_kg", _scaled("oz" if us else "g", Kind.MASS, 2)),
        ("_hz", _Form("Hz", lambda value: round(value, 2))),
        ("_m", _scaled("in" if us else "mm", Kind.LENGTH, 2 if us else 1)),
        ("_s", _Form("s", lambda value: round(value, 1))),
    ):
        if key.endswith(suffix):
            return form
    if key in ("times_own_weight", "design_score"):
        return _Form("", lambda value: round(value, 2))
    return None


def zone_of(name: str) -> tzinfo:
    """The time zone of this name; the server's own for one that nobody knows."""
    try:
        return ZoneInfo(name) if name else timezone.get_default_timezone()
    except (ZoneInfoNotFoundError, ValueError, OSError):
        return timezone.get_default_timezone()


def worded(
    run: Run | None, header: Sequence[str], rows: Iterable[Sequence[object]], system: System, zone: tzinfo
) -> tuple[list[str], Iterator[list[object]]]:
    """A table for people.

    ``run`` gives readings their labels. Dates and times are in ``zone``; what is no figure, date or known name stays.
    """
    labels = _labels(run) if run else {}
    forms = [_form(key, system) for key in header]
    named = [key in NAMED for key in header]
    told = []
    for key, form in zip(header, forms, strict=True):
        bare = re.sub(r"_(kg|m2|m3|hz|m|s|share)$", "", key) if form else key
        words = WORDS.get(key) or labels.get(bare) or bare.replace("_", " ").capitalize()
        told.append(f"{words} ({form.unit})" if form and form.unit else words)
    return told, (
        [str(cell).replace("_", " ") if name and cell else _cell(cell, form, zone)
         for cell, form, name in zip(row, forms, named, strict=True)]
        for row in rows
    )  # fmt: skip


def _labels(run: Run) -> dict[str, str]:
    family = run.core_family()
    return {spec.key: spec.label for spec in family.readings} | {each.key: each.label for each in family.derived}


_MOMENT = re.compile(r"^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}")


def _cell(cell: object, form: _Form | None, zone: tzinfo) -> object:
    if form and isinstance(cell, (int, float)) and not isinstance(cell, bool):
        return form.write(float(cell))
    if isinstance(cell, str) and _MOMENT.match(cell):
        return datetime.fromisoformat(cell).astimezone(zone).strftime("%Y-%m-%d %H:%M:%S")
    return cell
