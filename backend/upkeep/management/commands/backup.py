"""``manage.py backup``: an archive of database and photographs."""

from __future__ import annotations

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError

from evengirder.environment import told
from upkeep.backups import BackupProblem, make
from upkeep.database import ToolProblem


class Command(BaseCommand):
    help = "Makes a backup of database and photographs, of one moment, and reads it back."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("--to", help="the folder; without it that of GIRDER_BACKUPS")
        parser.add_argument("--keep", type=int, default=0, help="how many to keep there, the newest first; 0 for all")
        helps = "a public key of age (age1…) that can read it; may be given several times"
        parser.add_argument("--for", action="append", dest="recipients", default=[], help=helps)

    def handle(self, *args: Any, **options: Any) -> None:
        folder = options["to"] or told("GIRDER_BACKUPS")
        if not folder:
            raise CommandError("Say where to with --to, or set GIRDER_BACKUPS.")
        try:
            path = make(Path(folder).resolve(), options["recipients"], max(0, options["keep"]))
        except (BackupProblem, ToolProblem, OSError) as problem:
            raise CommandError(str(problem)) from None
        self.stdout.write(f"{path}  {path.stat().st_size / 1e6:.1f} MB, read back whole")
