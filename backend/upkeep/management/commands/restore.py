"""``manage.py restore``: database and photographs out of a backup."""

from __future__ import annotations

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError
from django.db import connections

from upkeep.backups import BackupProblem
from upkeep.database import ToolProblem
from upkeep.restoring import restore


class Command(BaseCommand):
    help = "Restores a backup into an empty database, or with --over in place of one, which is set aside."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("file")
        parser.add_argument("--identity", type=Path, help="the file with the private key, for one that is encrypted")
        parser.add_argument("--over", action="store_true", help="take the place of a database in use; it is set aside")

    def handle(self, *args: Any, **options: Any) -> None:
        connections.close_all()
        try:
            kept = restore(Path(options["file"]), options["identity"], options["over"])
        except (BackupProblem, ToolProblem, OSError) as problem:
            raise CommandError(str(problem)) from None
        # One that an earlier version made is brought up to date.
        call_command("migrate", verbosity=0)
        self.stdout.write("restored" + (f"; what was there is kept in the database {kept}" if kept else ""))
