#!/usr/bin/env python
"""Django's command line for this project; `girder` in the folder above sets the environment that it needs."""

import os
import sys

from django.core.management import execute_from_command_line

if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "evengirder.settings")
    execute_from_command_line(sys.argv)
