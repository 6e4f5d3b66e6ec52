"""What a team is called and drawn as: a sea bird, a colour, and a mark that tells teams apart without colour."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass


@dataclass(frozen=True)
class Identity:
    """A suggestion for a team: name, mark (a drawing's key) and colour."""

    name: str
    mark: str
    colour: str


IDENTITIES = (
    Identity("Fulmar", "sash", "#1f5f99"),
    Identity("Guillemot", "gable", "#1f7a62"),
    Identity("Gannet", "porthole", "#7a4a92"),
    Identity("Skua", "portal", "#37474f"),
    Identity("Kittiwake", "disc", "#9e3d26"),
    Identity("Razorbill", "cross", "#5a6b1a"),
    Identity("Petrel", "lozenge", "#b3541a"),
    Identity("Dunlin", "planks", "#8a2d5c"),
    Identity("Puffin", "rivets", "#00697a"),
    Identity("Shearwater", "chevron", "#6b4f2a"),
    Identity("Turnstone", "half", "#4a5bb0"),
    Identity("Oystercatcher", "saltire", "#a8324a"),
)
MARKS = tuple(identity.mark for identity in IDENTITIES)


def suggest(taken_names: Collection[str], taken_marks: Collection[str]) -> Identity:
    """The next free bird and the next free mark with its colour.

    With more teams than birds the last bird gets a number; with more teams than marks they start again.
    """
    lowered = {name.lower() for name in taken_names}
    free_name = next((identity.name for identity in IDENTITIES if identity.name.lower() not in lowered), None)
    number = 2
    while free_name is None:
        candidate = f"{IDENTITIES[0].name} {number}"
        free_name = None if candidate.lower() in lowered else candidate
        number += 1
    drawn = next(
        (identity for identity in IDENTITIES if identity.mark not in taken_marks),
        IDENTITIES[len(lowered) % len(IDENTITIES)],
    )
    return Identity(free_name, drawn.mark, drawn.colour)
