"""``manage.py reset_password ADDRESS``: a code by which a teacher sets another password."""

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from people.accounts import reset_code
from people.models import Teacher


class Command(BaseCommand):
    help = "Prints a code by which the teacher of this address sets another password, once, within an hour."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("address")

    def handle(self, *args: Any, **options: Any) -> None:
        teacher = Teacher.objects.filter(email=options["address"].strip().lower()).first()
        if teacher is None:
            raise CommandError(f"There is no account with the address {options['address']}.")
        self.stdout.write(reset_code(teacher))
