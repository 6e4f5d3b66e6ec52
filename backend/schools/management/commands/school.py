"""``manage.py school``: what whoever runs the server does with schools."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.utils import timezone

from girder_core.ground import GirderError
from people import accounts, schools
from people.models import School, Teacher
from runs.removal_services import delete_school
from schools import export
from schools.selectors import counted


class Command(BaseCommand):
    help = "Makes, lists, writes to a file, and deletes schools, and appoints who administers them."

    def add_arguments(self, parser: CommandParser) -> None:
        parts = parser.add_subparsers(dest="what", required=True)
        parts.add_parser("list", help="all schools, with their keys")
        made = parts.add_parser("add", help="make a school, and print a code for its administrator's account")
        made.add_argument("name")
        made.add_argument("--district", default="", help="schools of a district share a library of recipes")
        appointed = parts.add_parser("administrator", help="appoint somebody, or print a code for a new account")
        appointed.add_argument("key")
        appointed.add_argument("email", nargs="?", default="")
        written = parts.add_parser("export", help="write a school to one file, with the work of all its teachers")
        written.add_argument("key")
        written.add_argument("--to", type=Path, required=True, help="the folder it goes into")
        gone = parts.add_parser("delete", help="delete a school now, with all its accounts; there is no way back")
        gone.add_argument("key")
        gone.add_argument("--yes", action="store_true", help="do not ask")

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            getattr(self, f"_{options['what']}")(argparse.Namespace(**options))
        except GirderError as error:
            raise CommandError(error.sentence) from None

    def _list(self, _: argparse.Namespace) -> None:
        for school in School.objects.select_related("district"):
            within = f", {school.district}" if school.district else ""
            asked = ", ".join(one.email for one in school.administrators()) or "nobody administers it"
            self.stdout.write(f"{school.key}: {school.name}{within}, {school.teachers.count()} accounts; {asked}")

    def _add(self, given: argparse.Namespace) -> None:
        school = schools.add_school(given.name, given.district)
        self.stdout.write(f"{school.key} is made. A code for its administrator, once, within two weeks:")
        self.stdout.write(accounts.invitation(school, administers=True))

    def _administrator(self, given: argparse.Namespace) -> None:
        school = self._school(given.key)
        if not given.email:
            self.stdout.write(accounts.invitation(school, administers=True))
            return
        teacher = Teacher.objects.filter(email=given.email.strip().lower(), is_active=True).first()
        if teacher is None or teacher.school_id not in (None, school.pk):
            raise CommandError(f"{given.email} has no account in {school.name}, nor one that is in no school.")
        schools.settle(teacher, school, administers=True)
        self.stdout.write(f"{teacher.name} administers {school.name}.")

    def _export(self, given: argparse.Namespace) -> None:
        school = self._school(given.key)
        path = given.to / f"{school.key}-{timezone.now():%Y-%m-%d}.zip"
        with path.open("xb") as file:
            # What is in it is children's work; nobody else on this machine reads it.
            path.chmod(0o600)
            export.write(school, file, whole=True)
        self.stdout.write(str(path))

    def _delete(self, given: argparse.Namespace) -> None:
        school = self._school(given.key)
        teachers = list(counted(school))
        runs = sum(one.run_count for one in teachers)
        if not given.yes:
            said = input(f"{school.name}: {len(teachers)} accounts, {runs} runs. Gone for good? Type {school.key}: ")
            if said.strip() != school.key:
                raise CommandError("Nothing was deleted.")
        delete_school(school)
        self.stdout.write(f"{school.name} is gone, with {len(teachers)} accounts and {runs} runs.")

    def _school(self, key: str) -> School:
        found = School.objects.filter(key=key).first()
        if found is None:
            raise CommandError(f"There is no school {key}. Those there are: say “school list”.")
        return found
