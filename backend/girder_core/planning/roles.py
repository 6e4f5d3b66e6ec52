"""Who does what at a test: four tasks that go round, so that everybody has had each of them."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from girder_core.ground import GirderError

LOADED = ("puts the load on", "watches for the first sign", "reads and writes down", "keeps the time")
IN_ROUNDS = ("sets it off", "watches for the first sign", "reads and writes down", "keeps the time")
"""What there is to do at a test that is loaded, and at one in rounds (common practice, no source)."""
MOST_PEOPLE, LONGEST_NAME = 8, 30


@dataclass(frozen=True)
class Task:
    """A task at the bench and who has it; nobody by name where no name was given."""

    words: str
    name: str


def at_a_tablet(text: str) -> tuple[str, ...]:
    """The first names that were typed at a tablet.

    Args:
        text: names with commas, semicolons, line breaks, "and" or "&" between them; only the first word of each is
            kept. Empty for nobody.
    Returns:
        The names in order, each once.
    Errors:
        ``bad_names`` for more than ``MOST_PEOPLE`` names, or one of more than ``LONGEST_NAME`` letters.
    """
    typed = [part.split()[0] for part in re.split(r"[,;\n&]|\band\b", text) if part.strip()]
    first: dict[str, str] = {}
    for name in typed:
        first.setdefault(name.casefold(), name)
    names = tuple(first.values())
    if len(names) > MOST_PEOPLE:
        raise _bad(f"{MOST_PEOPLE} at one tablet are the most. First names only, with commas between them.")
    for name in names:
        if len(name) > LONGEST_NAME:
            raise _bad(f"“{name[:20]}…” is too long for a name. Put commas between the names.")
    return names


def _bad(sentence: str) -> GirderError:
    return GirderError("bad_names", sentence, fields={"who": sentence})


def tasks(people: Sequence[str], turn: int, loaded: bool) -> tuple[Task, ...]:
    """Who does what at a team's test.

    With n people the task i of test t is that of person (i + t) mod n, so over n tests everybody has each task once,
    and who has several because the team is small has others at the next one.

    Args:
        people: first names of who is there; empty where nobody said.
        turn: how many tests the team has had before, >= 0.
        loaded: whether the structure is loaded, and not shaken, dropped or looked at in rounds.
    Returns:
        The tasks, each with a name; in a team of more than four, the rest hands things over.
    """
    named = LOADED if loaded else IN_ROUNDS
    if not people:
        return tuple(Task(words, "") for words in named)
    given = [Task(words, people[(i + turn) % len(people)]) for i, words in enumerate(named)]
    busy = {task.name for task in given}
    return (*given, *(Task("hands things over", name) for name in people if name not in busy))
