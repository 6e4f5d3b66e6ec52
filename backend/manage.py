#!/usr/bin/env python
"""Django's command line for this project; `girder` in the folder above sets the environment that it needs."""

import os
import sys

from django.core.management import execute_from_command_line
from django.db import OperationalError

if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "evengirder.settings")
    try:
        execute_from_command_line(sys.argv)
    except OperationalError as error:
        sys.exit(f"The database does not answer: {str(error).strip()}\n./girder start brings it up.")
