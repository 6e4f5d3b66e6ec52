"""``manage.py upgrade``: tables as this version has them."""

from __future__ import annotations

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError

from evengirder.environment import told
from upkeep.backups import BackupProblem
from upkeep.database import ToolProblem
from upkeep.upgrading import UpgradeProblem, upgrade


class Command(BaseCommand):
    help = "Brings the tables to this version: one at a time, a backup before, while the version before goes on."

    def add_arguments(self, parser: ArgumentParser) -> None:
        helps = "for changes with which the version before cannot go on: all its processes are stopped"
        parser.add_argument("--alone", action="store_true", help=helps)
        helps = "a public key of age (age1…) that can read the backup; may be given several times"
        parser.add_argument("--for", action="append", dest="recipients", default=[], help=helps)
        helps = "how long to wait for somebody else who upgrades just now, in seconds (600)"
        parser.add_argument("--wait", type=float, default=600, help=helps)

    def handle(self, *args: Any, **options: Any) -> None:
        folder = told("GIRDER_BACKUPS")
        try:
            done = upgrade(Path(folder) if folder else None, options["recipients"], options["alone"], options["wait"])
        except (UpgradeProblem, BackupProblem, ToolProblem, OSError) as problem:
            raise CommandError(str(problem)) from None
        if not done.ran:
            self.stdout.write("The tables are as this version has them.")
            return
        self.stdout.write(f"{len(done.ran)} migrations, {done.ran[-1]} last.")
        if done.backup is not None:
            self.stdout.write(
                "The way back: the version before goes on with these tables as they are; and as all was before, it is "
                f"in {done.backup} (restore, --over)."
            )
