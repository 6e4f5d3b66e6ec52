"""``manage.py load_demo``: build the made-up school, once, and only where nobody from elsewhere can sign in to it."""

from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandParser
from django.db import transaction

from demo.build import load
from demo.pictures import take_pictures
from demo.world import EVERYBODY, TEACHER_EMAIL, TEACHER_PASSWORD
from evengirder.reached import is_loopback
from girder_core.ground import GirderError
from people.models import Teacher


class Command(BaseCommand):
    # A command of the launcher, whose checks are made before it is ever shipped: they would load all of the interface.
    requires_system_checks = []
    help = "Builds the made-up school of Fennick Bay, unless it is there already; its password is known to everybody."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument(
            "--alone", action="store_true", help="one teacher, without colleague, neighbours and pictures"
        )

    def handle(self, *args: Any, **options: Any) -> None:
        elsewhere = [host for host in settings.ALLOWED_HOSTS if not is_loopback(host)]
        if elsewhere and not settings.SHARED:
            # One that was built before is shut; its password stands in the README.
            Teacher.objects.filter(email__in=EVERYBODY).update(is_active=False)
            self.stderr.write(
                f"The demo school is not there: its password is known to everybody, and this server is reached as "
                f"{', '.join(elsewhere)}."
            )
            return
        built_now = not Teacher.objects.filter(email=TEACHER_EMAIL).exists()
        teacher = load(neighbours=not options["alone"])
        if built_now and not options["alone"]:
            # Of a school that somebody has worked in since nothing is known.
            self._pictured(teacher)
        # Shared with a school's network, it opens on this machine alone.
        Teacher.objects.filter(email__in=EVERYBODY).update(is_active=True, is_demo=True)
        self.stdout.write(f"{TEACHER_EMAIL} {TEACHER_PASSWORD}")

    def _pictured(self, teacher: Teacher) -> None:
        """A machine with too much to do may give up on a picture; the school is there all the same."""
        try:
            with transaction.atomic():
                take_pictures(teacher)
        except GirderError as error:
            self.stderr.write(f"The demo school has measured nothing in pictures: {error.sentence}")
