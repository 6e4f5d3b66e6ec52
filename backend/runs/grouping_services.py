"""Who is in which team: formed from a class list, by chance or mixed by last time's result."""

from __future__ import annotations

import random

from girder_core.ground import GirderError
from girder_core.measure import System
from girder_core.planning import dealt, first_names, team_sizes
from people.models import SchoolClass, Team
from people.services import form_teams
from results.selectors import compared


def group(school_class: SchoolClass, text: str, students: int, size: int, mixed: bool) -> list[Team]:
    """Part a class into teams of about ``size``.

    ``text`` is a class list; else it is so many ``students`` without names; else those who are in teams already. With
    ``mixed`` strong and weak come together, by the places of their teams in the class's last run; else chance decides.
    Errors: those of ``planning.first_names`` and ``team_sizes``; ``nobody_to_group``, ``too_many_teams``.
    """
    teams = list(school_class.teams.all())
    if text.strip():
        names = list(first_names(text))
    elif students:
        return form_teams(school_class, [()] * len(team_sizes(students, size)))
    else:
        names = [name for team in teams for name in team.members]
    if not names:
        sentence = "Paste the class list first, or say how many students there are."
        raise GirderError("nobody_to_group", sentence, fields={"text": sentence})
    random.shuffle(names)
    if mixed:
        places = _last_places(school_class)
        stood = {name: places.get(team.pk, len(teams) + 1) for team in teams for name in team.members}
        # Who was not there last time comes after those who were, in the order of chance.
        names.sort(key=lambda name: stood.get(name, len(teams) + 1))
    return form_teams(school_class, dealt(names, team_sizes(len(names), size)))


def _last_places(school_class: SchoolClass) -> dict[int, int]:
    """The place of each team in the latest run of the class that has a result."""
    for run in school_class.runs.order_by("-date", "-id"):
        ranking = compared(run, run.rules(), System.METRIC)
        if ranking.comparison.places:
            return {ranking.card(place).design.team_id: place.place for place in ranking.comparison.places}
    return {}
