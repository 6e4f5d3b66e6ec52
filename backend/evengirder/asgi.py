"""The ASGI entry that the server process runs."""

import os

from django.core.asgi import get_asgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "evengirder.settings")
application = get_asgi_application()
