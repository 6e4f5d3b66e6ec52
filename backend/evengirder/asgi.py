"""The ASGI entry that the server process runs."""

import os
import warnings

from django.core.asgi import get_asgi_application

# WhiteNoise hands small built files over as plain iterators; that they are read whole is no concern here.
warnings.filterwarnings("ignore", message="StreamingHttpResponse must consume synchronous iterators")
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "evengirder.settings")
application = get_asgi_application()
