"""A whole run as one documented JSON file, out and in: docs/run-file.md says what stands in it.

Everything is in it: terms, teams, designs, readings, drafts, predictions, trials with every event, answers, marks,
photographs. What comes in is checked as a whole before anything is kept: every field by its model or its shape, every
ledger by the core, and the run by opening each of its screens once.
"""

from __future__ import annotations

import base64
import logging
import uuid
from collections.abc import Iterable, Mapping, Sequence
from datetime import date, datetime
from typing import Any

from django.core.exceptions import ValidationError
from django.core.files.base import ContentFile
from django.db import IntegrityError, models, transaction
from rest_framework.exceptions import ValidationError as NotOurTime

from bench.models import LedgerEvent, Trial, core_event
from bench.remembered import remember
from bench.selectors import designs_of
from challenges.exchange import parsed_json
from challenges.models import GoalChange, Run, Terms
from designs.models import Design, Draft, Photo, Reading, TeamPrediction, TeamReading
from designs.photo_services import bytes_of, keep_photo
from evengirder.errors import flatten
from evengirder.fields import in_our_time
from evengirder.lane import Stopped, Told, quietly
from girder_core.families import FAMILIES
from girder_core.ground import GirderError
from girder_core.measure import System
from girder_core.results import again, scoring
from girder_core.trial import OpenLedger, ledger
from people.identity import IDENTITIES
from people.models import SchoolClass, Teacher, Team
from records.earlier import brought_up_to_date, rows_of
from records.every_screen import open_all
from records.run_file_shapes import unfit
from results.models import Reflection, RubricMark
from results.selectors import compared
from tablets.models import LatePrediction

FORMAT = "even-girder-run"
VERSION = 3
_log = logging.getLogger(__name__)
LARGEST_BYTES = 120 * 1024 * 1024

RUN = [
    *Terms.COPIED, "date", "trial_seconds", "resolution", "build_started_at", "build_paused_at", "build_paused_seconds",
    "build_extra_seconds", "young", "hints_hidden", "rubric", "counted_unit", "tryout", "pinned_step",
]  # fmt: skip
GOAL_CHANGE = ["before", "after", "reason", "author", "changed_at"]
TEAM = ["name", "mark", "colour", "members"]
DESIGN = [
    "version", "changed", "level", "note", "answers", "checked_in_at", "practice_used", "glued_at", "model_shown_at",
    "controls_broken", "queue_place", "created_at", "away", "away_since",
]  # fmt: skip
READING = [
    "key", "text", "zero_text", "tare_text", "resolution_text", "materials", "value_si", "standard_uncertainty_si",
    "after_test", "again", "causes", "taken_at",
]  # fmt: skip
TEAM_READING = [
    "key", "text", "zero_text", "tare_text", "resolution_text", "value_si", "standard_uncertainty_si", "counts_since",
    "taken_at",
]  # fmt: skip
PREDICTION = ["text", "load_kg", "size", "relation", "than", "said_at"]
LATE_PREDICTION = ["text", "typed_at", "came_at"]
DRAFT = ["kind", "typed", "moves", "material", "push", "low_n", "typical_n", "high_n", "mass_kg", "governing", "mode",
         "drafted_at"]  # fmt: skip
REFLECTION = ["question", "text", "written_at"]
MARK = ["criterion", "level"]
PHOTO = ["what", "caption", "taken_at", "waits"]
TRIAL = ["id", "number", "estimate", "wet_reason", "arrangement", "started_at", "by_team", "confirmed_at",
         "confirmed_by"]  # fmt: skip
EVENT = ["id", "sequence", "kind", "data", "happened_at", "received_at", "author"]
EXPORTED: Mapping[type[models.Model], Sequence[str]] = {
    Run: RUN, GoalChange: GOAL_CHANGE, Team: TEAM, Design: DESIGN, Reading: READING, TeamPrediction: PREDICTION,
    LatePrediction: LATE_PREDICTION, TeamReading: TEAM_READING,
    Draft: DRAFT, Reflection: REFLECTION, RubricMark: MARK, Photo: PHOTO, Trial: TRIAL, LedgerEvent: EVENT,
}  # fmt: skip
_SENT_AS = "what a device calls it till it is sent"
_DELETED = {"removed_at": "what was deleted is in no file"}
LEFT_OUT: Mapping[type[models.Model], Mapping[str, str]] = {
    Run: {
        **_DELETED,
        "recipe": "its terms are copied into the run",
        "elsewhere": "what other classes held is theirs; what was expected of each test is written with it",
        "school_class": "written as the class's name",
        "bench_ends_at": "when today's lesson ends means nothing later",
        "created_at": "when it came to this database",
    },
    Team: {
        **_DELETED,
        "school_class": "written once, as the class's name",
        "position": "the order in which teams are written",
    },
    Design: {**_DELETED, "parent": "written as the parent's version"},
    Reading: {"sent_as": _SENT_AS},
    Photo: {
        "file": "written as its bytes",
        "width": "read from the picture",
        "height": "read from the picture",
        "sent_as": _SENT_AS,
    },
    Trial: {
        "bench": "the tab that held it is gone",
        "stopped_at": "what is under way in a room means nothing later",
        "rehearsal": "rehearsals are no results, so none is written",
    },
}
"""Fields that are no part of the file, and why. A row's own number and the row it belongs to need no word: the file
says both by where things stand."""


def exported(run: Run) -> dict[str, Any]:
    """A run as it is written to a file."""
    designs = designs_of(run)
    teams = {design.team_id: design.team for design in designs}
    versions = {design.pk: design.version for design in designs}
    return {
        "format": FORMAT,
        "version": VERSION,
        "rules": f"{ledger.RULE_VERSION} {scoring.RULE_VERSION} {again.RULE_VERSION}",
        "came_to": _came_to(run),
        "class": run.school_class.name,
        "run": _written(run, RUN),
        "goal_changes": [_written(change, GOAL_CHANGE) for change in run.goal_changes.all()],
        "teams": [_written(team, TEAM) for team in sorted(teams.values(), key=lambda team: (team.position, team.pk))],
        "designs": [
            {
                "team": design.team.name,
                "parent_version": versions.get(design.parent_id or 0),
                **_written(design, DESIGN),
                "readings": [_written(reading, READING) for reading in design.readings.all()],
                "team_readings": [_written(reading, TEAM_READING) for reading in design.team_readings.all()],
                "predictions": [_written(prediction, PREDICTION) for prediction in design.predictions.all()],
                "late_predictions": [_written(late, LATE_PREDICTION) for late in design.late_predictions.all()],
                "drafts": [_written(draft, DRAFT) for draft in design.drafts.all()],
                "reflections": [_written(reflection, REFLECTION) for reflection in design.reflections.all()],
                "marks": [_written(mark, MARK) for mark in design.marks.all()],
                "photos": [
                    {**_written(photo, PHOTO), "jpeg": base64.b64encode(data).decode()}
                    for photo in design.photos.all()
                    if (data := bytes_of(photo)) is not None
                ],
                "trials": [
                    {**_written(trial, TRIAL), "events": [_written(event, EVENT) for event in trial.events.all()]}
                    for trial in design.trials.all()
                ],
            }
            for design in designs
        ],
    }


def _came_to(run: Run) -> dict[str, Any]:
    """What was measured, and what is to be expected again, for who reads the file elsewhere; here it is worked out
    again from the events."""
    rules = run.rules()
    ranking = compared(run, rules, System.METRIC)
    comparison = ranking.comparison
    return {
        "won_today": comparison.headline,
        "would_win_again": comparison.again,
        "designs": [
            {
                "team": place.entry.name,
                "version": ranking.card(place).design.version,
                "result": place.score.value,
                "at_least": place.score.at_least,
                "places": [place.ranks.best, place.ranks.worst],
                "wins_again": place.prospect.first,
                "passes_again": place.prospect.passes,
                "ahead_of_next_again": place.prospect.ahead,
                "true_places": [place.prospect.ranks.best, place.prospect.ranks.worst],
            }
            for place in comparison.places
        ],
    }


def _written(row: models.Model, fields: Iterable[str]) -> dict[str, Any]:
    def plain(value: Any) -> Any:
        if isinstance(value, (datetime, date)):
            return value.isoformat()
        return str(value) if isinstance(value, uuid.UUID) else value

    return {field: plain(getattr(row, field)) for field in fields}


def imported(teacher: Teacher, text: str, told: Told = quietly) -> Run:
    """Bring a run in from a file's text, with a class of its own, or nothing at all.

    Errors: ``file_too_large``, ``not_json``, ``not_a_run``, ``newer_version``, ``bad_run_file`` with the path of what
    is wrong.
    """
    if len(text.encode()) > LARGEST_BYTES:
        raise GirderError("file_too_large", "This file is larger than 120 MB, so it is no run. Nothing was changed.")
    data = parsed_json(text)
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise GirderError("not_a_run", "This file is not a run of Even Girder. Nothing was changed.")
    version = data.get("version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise GirderError("not_a_run", "The file does not say which version of the format it has.")
    if version > VERSION:
        raise GirderError(
            "newer_version",
            f"This file has version {version} of the format; here up to {VERSION} is known. It was written by a newer "
            "Even Girder: update this one.",
        )
    try:
        with transaction.atomic():
            return _Incoming(teacher, data, told).run()
    except IntegrityError:
        raise _refused("designs", "Two things in it stand at the same place.") from None


def _refused(path: str, sentence: str) -> GirderError:
    return GirderError("bad_run_file", f"{path}: {sentence} Nothing was changed.", fields={path: sentence})


class _Incoming:
    """A file on its way in."""

    def __init__(self, teacher: Teacher, data: Mapping[str, Any], told: Told) -> None:
        self.teacher, self.data, self.told = teacher, data, told
        self.ids: dict[str, str] = {}
        self.read = self.entries = 0
        self.kept: list[Photo] = []
        brought_up_to_date(data)

    def run(self) -> Run:
        self.new_ids()
        school_class = SchoolClass.objects.create(owner=self.teacher, name=self.class_name())
        teams = self.teams(school_class)
        values = self.values(Run, self.part("run", self.data.get("run"), RUN), "run")
        if values["family"] not in FAMILIES:
            raise _refused("run.family", f"There is no kind of challenge called “{values['family']}” here.")
        run = Run.objects.create(school_class=school_class, recipe=None, **values)
        try:
            setup, _ = run.trial_setup(), run.rules()
        except (GirderError, KeyError, TypeError, ValueError, AttributeError) as error:
            raise _refused("run", f"Its terms do not hold together{_told(error)}.") from None
        for path, change in self.listed("goal_changes", self.data.get("goal_changes"), GOAL_CHANGE):
            GoalChange.objects.create(run=run, **self.values(GoalChange, change, path))
        made: dict[tuple[str, int], Design] = {}
        extra = [
            "team",
            "parent_version",
            "readings",
            "predictions",
            "late_predictions",
            "team_readings",
            "drafts",
            "reflections",
            "marks",
            "photos",
            "trials",
        ]
        for path, row in self.listed("designs", self.data.get("designs"), [*DESIGN, *extra]):
            team = teams.get(str(row["team"]).lower())
            if team is None:
                raise _refused(f"{path}.team", f"The file has no team “{row['team']}”.")
            parent = made.get((team.name, row["parent_version"])) if row["parent_version"] is not None else None
            if row["parent_version"] is not None and parent is None:
                raise _refused(f"{path}.parent_version", "The version it came from does not stand before it.")
            values = self.values(Design, {key: row[key] for key in DESIGN}, path)
            design = Design(run=run, team=team, parent=parent, **values)
            if (team.name, design.version) in made:
                raise _refused(f"{path}.version", f"{team.name} has this version twice.")
            design.save()
            made[(team.name, design.version)] = design
            self.hanging(design, row, path)
            for where, trial in self.listed(f"{path}.trials", row["trials"], [*TRIAL, "events"]):
                self.trial(design, trial, where, setup)
        try:
            for path, row in self.listed("designs", self.data.get("designs"), [*DESIGN, *extra]):
                self.photos(made[(teams[str(row["team"]).lower()].name, row["version"])], row["photos"], path)
        except Exception:
            # A database takes back what it was told; a folder of files does not.
            self.drop_files()
            raise
        try:
            opening = "Opening every screen once"
            open_all(Run.objects.get(pk=run.pk), self.teacher, lambda: self.told(self.read, self.entries, opening))
        except Stopped:
            self.drop_files()
            raise
        except Exception as error:
            # Whatever a screen stumbles over, it is something that the file holds.
            self.drop_files()
            _log.info("a run's file is refused: a screen does not open", exc_info=True)
            raise _refused("designs", f"What they hold does not fit together{_told(error)}.") from None
        return run

    def drop_files(self) -> None:
        for photo in self.kept:
            photo.file.delete(save=False)

    def photos(self, design: Design, photos: Any, path: str) -> None:
        for where, photo in self.listed(f"{path}.photos", photos, [*PHOTO, "jpeg"]):
            self.told(self.read, self.entries, f"{design.team.name}, photographs")
            values = self.values(Photo, {key: photo[key] for key in PHOTO}, where)
            try:
                data = base64.b64decode(photo["jpeg"], validate=True)
                self.kept.append(keep_photo(design, ContentFile(data), **values))
            except (TypeError, ValueError):
                raise _refused(f"{where}.jpeg", "The picture did not arrive whole.") from None
            except GirderError as error:
                raise _refused(f"{where}.jpeg", error.sentence) from None

    def class_name(self) -> str:
        name = self.data.get("class")
        if not isinstance(name, str) or not name.strip():
            raise _refused("class", "The file does not say which class it was.")
        taken = set(SchoolClass.objects.filter(owner=self.teacher).values_list("name", flat=True))
        lower = {name.lower() for name in taken}
        wanted = name.strip()[:60]
        return next(
            free
            for n in range(1, len(taken) + 2)
            if (free := wanted if n == 1 else f"{wanted} ({n})").lower() not in lower
        )

    def teams(self, school_class: SchoolClass) -> dict[str, Team]:
        marks = {identity.mark for identity in IDENTITIES}
        teams: dict[str, Team] = {}
        for path, team in self.listed("teams", self.data.get("teams"), TEAM):
            values = self.values(Team, team, path)
            colour = values["colour"]
            if values["mark"] not in marks or not (colour.startswith("#") and len(colour) == 7 and _hex(colour[1:])):
                raise _refused(path, "Its mark or colour is not known here.")
            if values["name"].lower() in teams:
                raise _refused(path, f"The team “{values['name']}” is there twice.")
            teams[values["name"].lower()] = Team.objects.create(
                school_class=school_class, position=len(teams) + 1, **values
            )
        return teams

    def hanging(self, design: Design, owner: Mapping[str, Any], path: str) -> None:
        keys = design.run.core_family().reading_keys
        kinds: tuple[tuple[str, type[models.Model], list[str]], ...] = (
            ("readings", Reading, READING),
            ("predictions", TeamPrediction, PREDICTION),
            ("late_predictions", LatePrediction, LATE_PREDICTION),
            ("team_readings", TeamReading, TEAM_READING),
            ("drafts", Draft, DRAFT),
            ("reflections", Reflection, REFLECTION),
            ("marks", RubricMark, MARK),
        )
        for name, model, fields in kinds:
            rows = []
            for where, row in self.listed(f"{path}.{name}", owner[name], fields):
                values = self.values(model, row, where)
                if model is Reading and values["key"] not in keys:
                    raise _refused(f"{where}.key", "This kind of challenge takes no such reading.")
                rows.append(model(design=design, **values))
            model._default_manager.bulk_create(rows)

    def trial(self, design: Design, data: Mapping[str, Any], path: str, setup: Any) -> None:
        values = self.values(Trial, {key: data[key] for key in TRIAL}, path)
        values["id"] = self.new_id(values["id"])
        trial = Trial.objects.create(design=design, **values)
        open_ledger, places = OpenLedger(setup), set[int]()
        rows = []
        for where, entry in self.listed(f"{path}.events", data["events"], EVENT):
            self.told(self.read, self.entries, f"{design.team.name}, trial {trial.number}")
            self.read += 1
            row = self.values(LedgerEvent, entry, where)
            if not isinstance(row["data"], dict):
                raise _refused(f"{where}.data", "What happened has to be an object.")
            row["id"] = self.new_id(row["id"])
            row["data"] = {key: self.ids.get(value, value) if isinstance(value, str) else value
                           for key, value in row["data"].items()}  # fmt: skip
            if row["sequence"] in places:
                raise _refused(f"{where}.sequence", "Another entry already has this place in the trial.")
            places.add(row["sequence"])
            event = core_event(row["id"], row["sequence"], row["kind"], row["data"])
            try:
                open_ledger.admit(event, asking=False)
            except (GirderError, KeyError, TypeError, ValueError) as error:
                raise _refused(where, f"The rules do not allow this entry{_told(error)}.") from None
            rows.append(LedgerEvent(trial=trial, **row))
        LedgerEvent.objects.bulk_create(rows)
        remember(trial, rows, open_ledger.result)

    def new_ids(self) -> None:
        """Ids stay what they are, unless this database has one of them already: then all get new ones."""
        trials = [row for design in rows_of(self.data.get("designs")) for row in rows_of(design.get("trials"))]
        events = [event for trial in trials for event in rows_of(trial.get("events"))]
        self.entries = len(events)
        idents = [str(row.get("id")) for row in (*trials, *events)]
        if len(set(idents)) < len(idents):
            raise _refused("designs", "Two trials or entries have the same id.")
        known = [_uuid(ident) for ident in idents]
        free = not Trial.with_rehearsals.filter(pk__in=[ident for ident in known if ident]).exists()
        if free and not LedgerEvent.objects.filter(pk__in=[ident for ident in known if ident]).exists():
            return
        self.ids = {ident: str(uuid.uuid4()) for ident in idents}

    def new_id(self, ident: uuid.UUID) -> uuid.UUID:
        return uuid.UUID(self.ids.get(str(ident), str(ident)))

    def listed(self, path: str, value: Any, fields: Iterable[str]) -> Iterable[tuple[str, dict[str, Any]]]:
        if not isinstance(value, list):
            raise _refused(path, "A list is missing here.")
        for i, row in enumerate(value):
            yield f"{path}.{i}", self.part(f"{path}.{i}", row, fields)

    def part(self, path: str, value: Any, fields: Iterable[str]) -> dict[str, Any]:
        if not isinstance(value, dict):
            raise _refused(path, "An object is missing here.")
        if unknown := set(value) - set(fields):
            raise _refused(f"{path}.{sorted(unknown)[0]}", "A run file has no such entry.")
        if missing := set(fields) - set(value):
            raise _refused(f"{path}.{sorted(missing)[0]}", "This is missing.")
        return value

    def values(self, model: type[models.Model], part: Mapping[str, Any], path: str) -> dict[str, Any]:
        """The values of a part, each cleaned by the field of its model."""
        cleaned = {}
        for name, value in part.items():
            field = model._meta.get_field(name)
            assert isinstance(field, models.Field)
            if isinstance(field, models.JSONField):
                # What an entry can say is asked of the rules.
                if model is not LedgerEvent and (problem := unfit(model, name, value)):
                    raise _refused(f"{path}.{name}{problem[0]}", problem[1])
                cleaned[name] = value
                continue
            try:
                # What may be missing may be null.
                cleaned[name] = None if value is None and field.null else field.clean(value, None)
            except ValidationError as error:
                raise _refused(f"{path}.{name}", " ".join(error.messages)) from None
            except (TypeError, ValueError, OverflowError, AttributeError):
                # What a field cannot even begin to read.
                raise _refused(f"{path}.{name}", "This does not belong here.") from None
            if isinstance(cleaned[name], date):
                try:
                    in_our_time(cleaned[name])
                except NotOurTime as error:
                    raise _refused(f"{path}.{name}", flatten(error.detail)["all"]) from None
        return cleaned


def _uuid(text: str) -> uuid.UUID | None:
    try:
        return uuid.UUID(text)
    except ValueError:
        return None


def _hex(text: str) -> bool:
    return all(letter in "0123456789abcdefABCDEF" for letter in text)


def _told(error: Exception) -> str:
    """What the rules say in a refusal of theirs; what a program stumbles over says nothing to people."""
    return f" ({error.sentence.rstrip('.')})" if isinstance(error, GirderError) else ""
