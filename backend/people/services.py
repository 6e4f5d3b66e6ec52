"""What can be done with classes and teams: one verb per change."""

from __future__ import annotations

import re
from collections.abc import Sequence

from django.db import IntegrityError, transaction
from django.utils import timezone

from girder_core.ground import GirderError
from girder_core.planning import first_names
from people.identity import suggest
from people.models import SchoolClass, Teacher, Team


def add_class(teacher: Teacher, name: str) -> SchoolClass:
    """A new class of this teacher; ``name_taken`` when there is one of that name."""
    name = _clean(name, "class")
    try:
        with transaction.atomic():
            return SchoolClass.objects.create(owner=teacher, name=name)
    except IntegrityError:
        raise _taken("You have a class of that name already.") from None


def add_team(school_class: SchoolClass, name: str = "") -> Team:
    """A new team; without a name it is called after the next free sea bird, and it gets the next free mark."""
    with transaction.atomic():
        SchoolClass.objects.select_for_update().get(pk=school_class.pk)
        # Asked again: what the class brought along is from before its turn.
        teams = list(Team.objects.filter(school_class=school_class))
        free = suggest([team.name for team in teams], [team.mark for team in teams])
        name = _clean(name, "team") if name.strip() else free.name
        if name.lower() in {team.name.lower() for team in teams}:
            raise _taken("This class has a team of that name already.")
        return Team.objects.create(
            school_class=school_class, name=name, mark=free.mark, colour=free.colour, position=len(teams) + 1
        )


MOST_TEAMS = 40
"""Teams that a list may add at once."""
LONGEST_NAME = 40
"""Letters of a team's name."""


def add_teams(school_class: SchoolClass, text: str) -> list[Team]:
    """Add the teams of a list: a name a line, or the first column of a pasted table; all of them, or none.

    Errors: ``bad_list`` with a sentence for each line that cannot be taken.
    """
    lines = [(n, _first_cell(line)) for n, line in enumerate(text.splitlines(), start=1)]
    names = [(n, name) for n, name in lines if name]
    if names and names[0][1].lower() in _HEADINGS:
        names = names[1:]
    if not names:
        raise GirderError("bad_list", "There is no name in this list. Write one name on each line.")
    if len(names) > MOST_TEAMS:
        raise GirderError("bad_list", f"This list has {len(names)} names; {MOST_TEAMS} at once is the most.")
    problems: list[str] = []
    made: list[Team] = []
    with transaction.atomic():
        for n, name in names:
            if len(name) > LONGEST_NAME:
                problems.append(f"Line {n}, “{name[:20]}…”: a name has at most {LONGEST_NAME} letters.")
                continue
            try:
                made.append(add_team(school_class, name))
            except GirderError as error:
                problems.append(f"Line {n}, “{name[:40]}”: {error.sentence}")
        if problems:
            transaction.set_rollback(True)
    if problems:
        raise GirderError("bad_list", " ".join(problems), fields={"text": " ".join(problems)})
    return made


_HEADINGS = {"team", "teams", "name", "names", "group", "groups"}


def _first_cell(line: str) -> str:
    """The first cell of a line that has something in it, without a number or a dash that lists begin with."""
    cells = re.split(r"[\t;,]", line)
    words = [re.sub(r"^\s*(?:\d+[.)]\s*|[-*•]\s+)", "", cell).strip().strip('"').strip() for cell in cells]
    return next((word for word in words if word and not word.isdigit()), "")


def prefer_units(teacher: Teacher, units: str) -> Teacher:
    """Show figures in this system of units from now on."""
    teacher.units = units
    teacher.save(update_fields=["units"])
    return teacher


def rename_team(team: Team, name: str, members: str | None = None) -> Team:
    """Give a team another name, and say who is in it; ``name_taken`` when its class has one of that name.

    ``members`` are first names with commas between them; unless given, they stay as they are. Errors: those of
    ``planning.first_names``.
    """
    team.name = _clean(name, "team")
    if members is not None:
        lines = members.replace(",", "\n")
        try:
            team.members = list(first_names(lines)) if lines.strip() else []
        except GirderError as error:
            raise GirderError(error.code, error.sentence, fields={"members": error.sentence}) from None
    try:
        with transaction.atomic():
            team.save(update_fields=["name", "members"])
    except IntegrityError:
        raise _taken("This class has a team of that name already.") from None
    return team


def form_teams(school_class: SchoolClass, groups: Sequence[Sequence[str]]) -> list[Team]:
    """Make as many teams as there are groups, and put the students into them. Teams that are there already are kept in
    their order, with their names and marks.

    Of the teams that are too many, those that have built something stay without students; the others go, and can be
    brought back. Errors: ``too_many_teams``.
    """
    if len(groups) > MOST_TEAMS:
        sentence = f"That would be {len(groups)} teams; {MOST_TEAMS} is the most. Make the groups larger."
        raise GirderError("too_many_teams", sentence, fields={"size": sentence})
    with transaction.atomic():
        SchoolClass.objects.select_for_update().get(pk=school_class.pk)
        # Asked again: what the class brought along is from before its turn.
        teams = list(Team.objects.filter(school_class=school_class))
        while len(teams) < len(groups):
            teams.append(add_team(school_class))
        for i, team in enumerate(teams):
            team.members = list(groups[i]) if i < len(groups) else []
            if i >= len(groups) and not team.designs.exists():
                team.removed_at = timezone.now()
        Team.objects.bulk_update(teams, ["members", "removed_at"])
    return [team for team in teams if team.removed_at is None]


def _clean(name: str, what: str) -> str:
    cleaned = " ".join(name.split())
    if not cleaned:
        sentence = f"Give the {what} a name."
        raise GirderError("name_missing", sentence, fields={"name": sentence})
    return cleaned


def _taken(sentence: str) -> GirderError:
    return GirderError("name_taken", sentence, fields={"name": sentence})
