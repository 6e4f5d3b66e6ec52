"""``manage.py verify_backup``: whether a backup can be restored."""

from __future__ import annotations

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError

from upkeep.backups import BackupProblem
from upkeep.database import ToolProblem
from upkeep.restoring import verify


class Command(BaseCommand):
    help = (
        "Restores a backup beside everything else, holds it against what it says of itself, and throws it away again."
    )

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("file")
        parser.add_argument("--identity", type=Path, help="the file with the private key, for one that is encrypted")

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            manifest = verify(Path(options["file"]), options["identity"])
        except (BackupProblem, ToolProblem, OSError) as problem:
            raise CommandError(str(problem)) from None
        rows, photos = sum(manifest.tables.values()), len(manifest.parts) - 1
        self.stdout.write(
            f"good: of {manifest.made_at}, {rows} rows in {len(manifest.tables)} tables, {photos} photographs"
        )
        for name in manifest.missing:
            self.stdout.write(f"was missing already when it was made: {name}")
