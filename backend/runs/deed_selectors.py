"""Who did what in a class, in words. Nothing here writes."""

from __future__ import annotations

from collections import defaultdict
from typing import Any

from bench.models import Trial
from challenges.models import Run
from designs.models import Design, Photo
from people.models import Deed, SchoolClass, Team

MOST = 200
"""Deeds that are shown at once, the latest first."""
WORDS = {
    "ClassTeamsView.POST": "added a team",
    "TeamListView.POST": "added teams from a list",
    "TeamView.PATCH": "renamed a team or changed who is in it",
    "GroupsView.POST": "parted the class into teams",
    "TeamRemovalView.PUT": "deleted a team, or brought it back",
    "ClassRemovalView.PUT": "deleted the class, or brought it back",
    "ColleaguesView.POST": "invited a colleague",
    "ColleaguesView.DELETE": "left the class",
    "ColleagueView.PUT": "gave a colleague another part",
    "ColleagueView.DELETE": "took a colleague out of the class",
    "InvitationView.DELETE": "took an invitation back",
    "ClassOwnerView.PUT": "gave the class away",
    "RunListView.POST": "opened a run",
    "RunRemovalView.PUT": "deleted the run, or brought it back",
    "RunTeamsView.POST": "added teams that came later",
    "BuildClockView.PUT": "set the build clock",
    "BenchEndView.PUT": "set when the tests end",
    "QueueView.PUT": "changed the order at the bench",
    "YoungView.PUT": "changed how the run is shown for a young class",
    "RunGoalView.PUT": "changed what wins",
    "TryoutView.PUT": "said whether the run only tries things out",
    "StepView.PUT": "chose the step of load",
    "LoadView.POST": "added a load that the plan forgot",
    "HintsView.PUT": "hid hints or showed them",
    "RubricView.PUT": "changed the rubric",
    "ExperienceView.PUT": "applied the class’s experience, or took it back",
    "RunBoardView.PUT": "changed what the board shows",
    "RunDoorView.PUT": "let teams’ tablets in, or put them out",
    "ResultsTableView.POST": "brought results in from a table",
    "ReadingsView.POST": "took a reading",
    "TeamReadingsView.POST": "took over what the team measured",
    "SelfMassEstimateView.POST": "added the own weight up from materials",
    "LevelView.PUT": "changed the level of the fair test",
    "AnswersView.PUT": "answered the questions of check-in",
    "ControlsView.PUT": "noted what was not kept the same",
    "PredictionView.POST": "wrote down what the team says",
    "AwayView.PUT": "said who is away",
    "CheckInView.POST": "checked in",
    "KeptCheckInView.POST": "sent what was typed at check-in without a network",
    "DesignView.PATCH": "wrote what the team tries",
    "NextVersionView.POST": "opened the next version",
    "DesignDraftView.PUT": "kept a draft",
    "ShowModelView.POST": "showed the model",
    "PracticeView.PUT": "counted practice pieces",
    "GlueView.PUT": "set the drying clock",
    "PhotosView.POST": "kept a photograph",
    "PhotoReadingsView.POST": "took a reading in a picture",
    "FollowView.POST": "followed a test in pictures",
    "BenchPictureView.POST": "measured in a picture at the bench",
    "CountedPictureView.POST": "counted loose pieces in a picture",
    "PhotoView.PUT": "let all see a photograph",
    "PhotoView.DELETE": "took a photograph away",
    "DesignRemovalView.PUT": "deleted a design, or brought it back",
    "ReflectionView.PUT": "wrote what the team answers",
    "RubricMarkView.PUT": "gave a level by hand",
    "TrialListView.POST": "began a test",
    "TakeOverView.POST": "took a test over",
    "TrialStationView.PUT": "stopped a team’s own test, let it go on, or confirmed it",
    "RunStationsView.PUT": "stopped all tests that teams make by themselves",
    "MoveView.POST": "moved a test to another team",
}
"""What each change is called."""


def deeds_of(school_class: SchoolClass) -> list[dict[str, Any]]:
    """The latest deeds in a class, each with what it was about, in a constant number of queries."""
    deeds = list(Deed.objects.filter(school_class=school_class)[:MOST])
    keys: dict[str, set[str]] = defaultdict(set)
    for deed in deeds:
        keys[deed.model].add(deed.key)
    about: dict[tuple[str, str], str] = {}
    for label, named in _NAMED.items():
        if keys[label]:
            about |= {(label, str(key)): text for key, text in named(keys[label])}
    return [
        {
            "name": deed.name, "words": WORDS.get(deed.what, "changed something"), "at": deed.at,
            "about": about.get((deed.model, deed.key), ""),
        }
        for deed in deeds
    ]  # fmt: skip


def _runs(keys: set[str]) -> Any:
    return Run.with_removed.filter(pk__in=keys).values_list("pk", "name")


def _teams(keys: set[str]) -> Any:
    return Team.with_removed.filter(pk__in=keys).values_list("pk", "name")


def _designs(keys: set[str]) -> Any:
    found = Design.with_removed.filter(pk__in=keys).values_list("pk", "team__name", "run__name")
    return [(pk, f"{team}, {run}") for pk, team, run in found]


def _photos(keys: set[str]) -> Any:
    found = Photo.objects.filter(pk__in=keys).values_list("pk", "design__team__name", "design__run__name")
    return [(pk, f"{team}, {run}") for pk, team, run in found]


def _trials(keys: set[str]) -> Any:
    found = Trial.with_rehearsals.filter(pk__in=keys).values_list("pk", "design__team__name", "design__run__name")
    return [(pk, f"{team}, {run}") for pk, team, run in found]


_NAMED = {
    "challenges.Run": _runs, "people.Team": _teams, "designs.Design": _designs, "designs.Photo": _photos,
    "bench.Trial": _trials,
}  # fmt: skip
