"""``manage.py invite``: a code by which somebody makes an account."""

from typing import Any

from django.core.management.base import BaseCommand

from people.accounts import invitation


class Command(BaseCommand):
    help = "Prints a code by which somebody makes an account, once, within two weeks."

    def handle(self, *args: Any, **options: Any) -> None:
        self.stdout.write(invitation())
