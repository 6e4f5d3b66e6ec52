"""``manage.py first_account``: a code for the first teacher's account, where there is none."""

from typing import Any

from django.core.management.base import BaseCommand

from people.accounts import first_invitation


class Command(BaseCommand):
    help = "Prints a code by which the first teacher makes an account, or nothing where one is there."

    def handle(self, *args: Any, **options: Any) -> None:
        self.stdout.write(first_invitation())
