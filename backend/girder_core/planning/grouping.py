"""Teams from a class: names as they are pasted, and who is dealt to which team."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence

from girder_core.ground import GirderError

MOST_STUDENTS = 120
"""Students that a list may have (ours)."""
LONGEST_NAME = 30
"""Letters of a name (ours)."""
_FIRST_NAME = ("first name", "firstname", "given name", "forename")
_NAME = ("name", "names", "student", "students", "pupil", "pupils")


def first_names(text: str) -> tuple[str, ...]:
    """First names from a pasted class list.

    Args:
        text: a name on each line, or a table with tabs, semicolons or commas between its columns. A header says which
            column has the first names; without one it is the first that has words in it. Of a name only the first word
            is kept.
    Returns:
        The names in the order of the list. Two of one name are told apart by the first letter of what follows, or by a
        number.
    Errors:
        ``bad_list`` for an empty list, one with more than ``MOST_STUDENTS`` names, or a name that is too long.
    """
    rows = [[_clean(cell) for cell in re.split(r"[\t;,]", line)] for line in text.splitlines()]
    rows = [row for row in rows if any(row)]
    column = None
    if rows:
        header = [cell.lower() for cell in rows[0]]
        column = next((header.index(word) for words in (_FIRST_NAME, _NAME) for word in words if word in header), None)
        rows = rows if column is None else rows[1:]
    whole = [name for row in rows if (name := _name_in(row, column))]
    if not whole:
        raise _bad("There is no name in this list. Write one first name on each line.")
    if len(whole) > MOST_STUDENTS:
        raise _bad(f"This list has {len(whole)} names; {MOST_STUDENTS} at once is the most. Is it more than one class?")
    for name in whole:
        if len(name.split()[0]) > LONGEST_NAME:
            raise _bad(f"“{name[:20]}…” is too long for a name: it has at most {LONGEST_NAME} letters.")
    return _told_apart(whole)


def _bad(sentence: str) -> GirderError:
    return GirderError("bad_list", sentence, fields={"text": sentence})


def _clean(cell: str) -> str:
    without = re.sub(r"^\s*(?:\d+[.)]\s*|[-*•]\s+)", "", cell)
    return " ".join(without.strip().strip('"').split())


def _name_in(row: Sequence[str], column: int | None) -> str:
    if column is not None:
        return row[column] if column < len(row) else ""
    return next((cell for cell in row if re.search(r"[^\W\d_]", cell)), "")


def _told_apart(whole: Sequence[str]) -> tuple[str, ...]:
    """First words; where several are alike, with a letter or a number that tells them apart."""
    often = Counter(name.split()[0].lower() for name in whole)
    taken: set[str] = set()
    told = []
    for name in whole:
        first, *rest = name.split()
        said = f"{first} {rest[0][0]}." if often[first.lower()] > 1 and rest else first
        number, unique = 1, said
        while unique.lower() in taken:
            number += 1
            unique = f"{said} {number}"
        taken.add(unique.lower())
        told.append(unique)
    return tuple(told)


def team_sizes(students: int, size: int) -> tuple[int, ...]:
    """How many students each team gets.

    Args:
        students: in the class, >= 1.
        size: wanted in a team, >= 1.
    Returns:
        As many teams as there are full ones; whoever is left over makes some of them larger by one or more, the first
        teams first. No team is smaller than wanted, unless the class is.
    Errors:
        ``no_students``, ``team_size`` for a size below one.
    """
    if students < 1:
        raise GirderError("no_students", "A class has at least one student.", fields={"students": "At least one."})
    if size < 1:
        raise GirderError("team_size", "A group has at least one student.", fields={"size": "At least one."})
    teams = max(1, students // size)
    each, more = divmod(students, teams)
    return tuple(each + (i < more) for i in range(teams))


def dealt(names: Sequence[str], sizes: Sequence[int]) -> tuple[tuple[str, ...], ...]:
    """Deal names out to teams, back and forth, so that who stands high in the order and who stands low come together.

    Args:
        names: in the order of dealing: by chance, or the strongest of last time first.
        sizes: how many each team gets; together as many as there are names.
    Returns:
        The names of each team. Rounds go forth and back over the teams that have room, so the sums of places differ
        little from team to team.
    Errors:
        ``sizes_do_not_fit``.
    """
    if sum(sizes) != len(names):
        raise GirderError("sizes_do_not_fit", "As many places as there are students are needed.")
    teams: list[list[str]] = [[] for _ in sizes]
    waiting = list(names)
    forth = True
    while waiting:
        turn = [i for i, size in enumerate(sizes) if len(teams[i]) < size]
        for i in turn if forth else reversed(turn):
            teams[i].append(waiting.pop(0))
        forth = not forth
    return tuple(tuple(team) for team in teams)
