"""``manage.py doctor``: whether all is as it should be."""

from __future__ import annotations

import json
from argparse import ArgumentParser
from typing import Any

from django.core.management.base import BaseCommand

from upkeep.doctor import Level, findings, told

MARKS = {Level.GOOD: "✓", Level.CAUTION: "!", Level.PROBLEM: "✗"}


class Command(BaseCommand):
    help = "Looks at all that the server stands on. Ends with 1 where something is a problem."
    # It looks at the framework's own checks itself, and says all that they say.
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("--json", action="store_true", help="for programs that read")

    def handle(self, *args: Any, **options: Any) -> None:
        found = list(findings())
        if options["json"]:
            self.stdout.write(json.dumps([told(one) for one in found], indent=1))
        else:
            for one in found:
                self.stdout.write(f"{MARKS[one.level]} {one.about}: {one.sentence}")
        if any(one.level is Level.PROBLEM for one in found):
            raise SystemExit(1)
