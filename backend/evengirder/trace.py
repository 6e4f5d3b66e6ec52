"""What went wrong, written down so that it can be found again: each answer carries the number of its request, and so
does every line of the log. A line says what happened and where; what people typed, and who they are, is in none.
"""

from __future__ import annotations

import contextlib
import json
import logging
import os
import time
import uuid
from contextvars import ContextVar
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

KEPT_DAYS = 30
FILE_BYTES, FILES = 5_000_000, 4
_number: ContextVar[str] = ContextVar("request", default="")


def begin_request() -> str:
    """Number the request that begins here."""
    number = uuid.uuid4().hex[:12]
    _number.set(number)
    return number


def request_number() -> str:
    """The number of the request that is being answered; empty outside of one."""
    return _number.get()


class Lines(logging.Formatter):
    """A line of JSON for each thing that happened."""

    def format(self, record: logging.LogRecord) -> str:
        line: dict[str, Any] = {
            "at": datetime.fromtimestamp(record.created, UTC).isoformat(timespec="milliseconds"),
            "level": record.levelname.lower(), "where": record.name, "request": request_number(),
            "said": record.getMessage(),
        }  # fmt: skip
        if record.exc_info:
            line["error"] = self.formatException(record.exc_info)
        return json.dumps(line, ensure_ascii=False)


def logging_settings(folder: str) -> dict[str, Any]:
    """The framework's logging: warnings and worse to the console, and as lines to a file of this process in a folder,
    begun anew when it is large. Files of processes that are long gone go too."""
    handlers: dict[str, Any] = {"console": {"class": "logging.StreamHandler", "level": "ERROR"}}
    if folder:
        place = Path(folder)
        place.mkdir(parents=True, exist_ok=True)
        _drop_old(place)
        handlers["file"] = {
            "class": "logging.handlers.RotatingFileHandler", "filename": str(place / f"girder-{os.getpid()}.log"),
            "maxBytes": FILE_BYTES, "backupCount": FILES, "delay": True, "formatter": "lines", "encoding": "utf-8",
        }  # fmt: skip
    loud = {"handlers": [*handlers], "level": "WARNING", "propagate": False}
    return {
        "version": 1,
        "disable_existing_loggers": False,
        "formatters": {"lines": {"()": "evengirder.trace.Lines"}},
        "handlers": handlers,
        # A refusal is an answer like any other; what went wrong is an error.
        "loggers": {"django": loud, "django.request": {**loud, "level": "ERROR"}, "django.security": loud},
        "root": {"handlers": [*handlers], "level": "WARNING"},
    }


def _drop_old(folder: Path) -> None:
    for file in folder.glob("girder-*.log*"):
        with contextlib.suppress(OSError):
            if file.stat().st_mtime < time.time() - KEPT_DAYS * 86400:
                file.unlink()
