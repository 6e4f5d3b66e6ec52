"""Run files that earlier versions wrote, brought to what this one reads. docs/run-file.md says what came when."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from girder_core.kit import Relation


def brought_up_to_date(data: Mapping[str, Any]) -> None:
    """Give a file of an earlier version what that version did not have yet."""
    version: int = data["version"]
    designs = rows_of(data.get("designs"))
    # Also files of this version from before a step could be chosen, teams had members and tablets of their own, and
    # said whatever they say of what they build.
    if isinstance(run := data.get("run"), dict):
        run.setdefault("pinned_step", None)
    for team in rows_of(data.get("teams")):
        team.setdefault("members", [])
    for design in designs:
        design.setdefault("late_predictions", [])
        design.setdefault("team_readings", [])
        for prediction in rows_of(design.get("predictions")):
            prediction.setdefault("relation", Relation.AMOUNT.value)
            prediction.setdefault("than", "")
            prediction.setdefault("size", None)
        for photo in rows_of(design.get("photos")):
            photo.setdefault("waits", False)
            photo.setdefault("caption", "")
        for reading in rows_of(design.get("readings")):
            reading.setdefault("causes", {})
        for trial in rows_of(design.get("trials")):
            for key, value in (("by_team", False), ("confirmed_at", None), ("confirmed_by", "")):
                trial.setdefault(key, value)
    if version < 2:
        # The first version left photographs out.
        for design in designs:
            design.setdefault("photos", [])
    if version < 3:
        # The second did not know who wrote, who was away, and which runs only tried things out.
        if isinstance(run := data.get("run"), dict):
            run.setdefault("tryout", False)
        for change in rows_of(data.get("goal_changes")):
            change.setdefault("author", "")
        for design in designs:
            design.setdefault("away", "")
            design.setdefault("away_since", None)
            for trial in rows_of(design.get("trials")):
                for event in rows_of(trial.get("events")):
                    event.setdefault("author", "")


def rows_of(value: Any) -> list[dict[str, Any]]:
    """The rows of a list in a file, whatever else stands there; none where it is no list."""
    return [row for row in value if isinstance(row, dict)] if isinstance(value, list) else []
