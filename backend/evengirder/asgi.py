"""The ASGI entry that the server process runs."""

import os
import warnings
from typing import cast

from django.core.asgi import get_asgi_application

# WhiteNoise hands small built files over as plain iterators; that they are read whole is no concern here.
warnings.filterwarnings("ignore", message="StreamingHttpResponse must consume synchronous iterators")
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "evengirder.settings")
inner = get_asgi_application()

from bench.quick import DOOR  # noqa: E402 — Django first
from evengirder.doors import App, Doors  # noqa: E402 — Django first

application = Doors(cast(App, inner), DOOR)
