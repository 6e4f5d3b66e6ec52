"""A process that serves: a copy of one that has read all of the application (``--preload``), so that one that dies is
there again at once.
"""

from __future__ import annotations

import gc
from logging.config import dictConfig
from typing import Any

from django.conf import settings
from uvicorn_worker import UvicornWorker

from evengirder.trace import logging_settings


class Process(UvicornWorker):  # type: ignore[misc]
    """How a process listens and answers."""

    CONFIG_KWARGS: dict[str, Any] = {
        "loop": "uvloop",
        "http": "httptools",
        # What a proxy says of whom it speaks for is believed by ``people.throttle``, or not.
        "proxy_headers": False,
        "timeout_graceful_shutdown": 2,
        # Nobody asks whether it still lives: one that waits for a busy machine is not to be killed for that.
        "callback_notify": None,
    }

    def init_process(self) -> None:
        """Begin: with a log of its own, since several that wrote into one file would tear it apart."""
        # What was read before stays for good: to look through it for what can be thrown away takes 0.14 s each time.
        gc.freeze()
        dictConfig(logging_settings(settings.LOGS))
        super().init_process()
