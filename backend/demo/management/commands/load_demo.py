"""``manage.py load_demo``: build the made-up school, once."""

from typing import Any

from django.core.management.base import BaseCommand

from demo.build import load
from demo.world import TEACHER_EMAIL, TEACHER_PASSWORD


class Command(BaseCommand):
    help = "Builds the made-up school of Fennick Bay, unless it is there already."

    def handle(self, *args: Any, **options: Any) -> None:
        load()
        self.stdout.write(f"{TEACHER_EMAIL} {TEACHER_PASSWORD}")
