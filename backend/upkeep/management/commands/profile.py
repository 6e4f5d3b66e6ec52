"""``manage.py profile``: where the processes that serve spend their time."""

from __future__ import annotations

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError

from upkeep.profiling import ProfileProblem, longest, look, serving


class Command(BaseCommand):
    help = "Looks at the processes that serve on this machine, from outside, and says where their time goes."
    # A process that is slow is looked at whatever else is wrong.
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("--seconds", type=int, default=10, help="how long to look (10)")
        parser.add_argument("--to", default="profile", help="the folder for the stacks, one file a process (profile)")
        parser.add_argument("--pid", type=int, action="append", help="this process alone; may be given several times")

    def handle(self, *args: Any, **options: Any) -> None:
        pids = options["pid"] or serving()
        if not pids:
            raise CommandError("No process of Even Girder serves on this machine.")
        seconds = min(600, max(1, options["seconds"]))
        try:
            files = look(pids, seconds, Path(options["to"]))
        except (ProfileProblem, OSError) as problem:
            raise CommandError(str(problem)) from None
        for name, share in longest(files):
            self.stdout.write(f"{100 * share:5.1f} %  {name}")
        self.stdout.write(f"\nWhole stacks: {', '.join(str(file) for file in files)}")
