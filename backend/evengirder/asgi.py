"""The ASGI entry that the server process runs."""

import os
import sys
import warnings
from typing import cast

from django.core.asgi import get_asgi_application

# WhiteNoise hands small built files over as plain iterators; that they are read whole is no concern here.
warnings.filterwarnings("ignore", message="StreamingHttpResponse must consume synchronous iterators")
# What works for long in one thread, like a look at a board, holds up an entry in another for no longer than this; the
# usual 5 ms is waited for at each of its turns.
sys.setswitchinterval(0.0005)
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "evengirder.settings")
inner = get_asgi_application()

# What the first request would read is read before there is one, and before processes are copied.
import evengirder.urls  # noqa: E402, F401 — Django first
from bench.quick import DOOR  # noqa: E402 — Django first
from evengirder.doors import App, Doors, is_signed_in  # noqa: E402 — Django first
from tablets.policy import COOKIE, is_in  # noqa: E402 — Django first

application = Doors(cast(App, inner), DOOR, {"sessionid": is_signed_in, COOKIE: is_in})
