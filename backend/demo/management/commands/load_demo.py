"""``manage.py load_demo``: build the made-up school, once, and only where nobody from elsewhere can sign in to it."""

import ipaddress
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand

from demo.build import load
from demo.world import TEACHER_EMAIL, TEACHER_PASSWORD
from people.models import Teacher


class Command(BaseCommand):
    help = "Builds the made-up school of Fennick Bay, unless it is there already; its password is known to everybody."

    def handle(self, *args: Any, **options: Any) -> None:
        elsewhere = [host for host in settings.ALLOWED_HOSTS if not is_loopback(host)]
        if elsewhere:
            # One that was built before is shut; its password stands in the README.
            Teacher.objects.filter(email=TEACHER_EMAIL).update(is_active=False)
            self.stderr.write(
                f"The demo school is not there: its password is known to everybody, and this server is reached as "
                f"{', '.join(elsewhere)}."
            )
            return
        load()
        Teacher.objects.filter(email=TEACHER_EMAIL).update(is_active=True)
        self.stdout.write(f"{TEACHER_EMAIL} {TEACHER_PASSWORD}")


def is_loopback(host: str) -> bool:
    """Whether a host's name leads to this machine alone."""
    if host == "localhost":
        return True
    try:
        return ipaddress.ip_address(host.strip("[]")).is_loopback
    except ValueError:
        return False
