"""What a watcher counts and times: how it is asked, how it answers, what waits. Nothing here says who, or of which run.

Processes that serve write into files of one folder, and any of them tells the sum of all. The folder is new with each
start, so counts begin anew then, which a watcher expects of counts.
"""

from __future__ import annotations

import atexit
import os
import shutil
import tempfile
import time
from collections.abc import Callable, Iterator, MutableMapping
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from django.db import connection
from django.http import HttpRequest, HttpResponse

from evengirder.environment import told

WORD: str = told("GIRDER_METRICS")
FOLDER = "PROMETHEUS_MULTIPROC_DIR"


def _gather_in_one_place() -> None:
    """Make the folder for all processes, in the one of which they are copies; it goes with that one."""
    if not WORD or FOLDER in os.environ:
        return
    folder, made_by = tempfile.mkdtemp(prefix="girder-counted-"), os.getpid()
    os.environ[FOLDER] = folder

    def gone() -> None:
        if os.getpid() == made_by:
            shutil.rmtree(folder, ignore_errors=True)

    atexit.register(gone)


_gather_in_one_place()

# The library chooses where it counts when it is imported.
from prometheus_client import (  # noqa: E402
    CONTENT_TYPE_LATEST,
    REGISTRY,
    CollectorRegistry,
    Counter,
    Gauge,
    Histogram,
    generate_latest,
    multiprocess,
)
from prometheus_client.registry import Collector  # noqa: E402

ROUTE = "girder.route"
"""Where a request says, once that is known, which of our addresses it asks for."""
ELSEWHERE = "other"
METHODS = frozenset({"GET", "HEAD", "POST", "PUT", "PATCH", "DELETE", "OPTIONS"})
UNSENT = b"x-girder-unsent"
"""The header by which a browser says how old the oldest entry is that it keeps and could not send yet [s]."""
LOOK_S = 1.0
"""How often it is looked what waits in a process, at most."""
_QUICK = (0.005, 0.01, 0.025, 0.05, 0.1, 0.2, 0.3, 0.5, 1, 2, 5, 10)

requests = Counter("girder_requests", "Requests that were answered.", ["method", "route", "status"])
request_seconds = Histogram("girder_request_seconds", "Until an answer began.", ["method", "route"], buckets=_QUICK)
entries = Counter("girder_entries", "Entries of trials: kept, known already (sent again), or refused.", ["came"])
refusals = Counter("girder_refusals", "Refusals by their code.", ["code"])
unsent_seconds = Histogram(
    "girder_unsent_seconds", "How old the oldest entry was that a browser had kept, as browsers tell it.",
    buckets=(1, 5, 15, 60, 300, 900, 3600),
)  # fmt: skip
streams = Gauge("girder_streams", "Lines to boards and pages that are open.", multiprocess_mode="livesum")
lane = Gauge("girder_lane", "Long work: asked for and not done yet, and of that running.", ["what"],
             multiprocess_mode="livesum")  # fmt: skip
lane_seconds = Histogram("girder_lane_seconds", "How long long work took, its wait included.",
                         buckets=(0.3, 1, 3, 10, 30, 100))  # fmt: skip
pool = Gauge("girder_pool", "Connections to the database that are kept: open, free, and who waits for one.", ["what"],
             multiprocess_mode="livesum")  # fmt: skip
_looked = 0.0


def answered(scope: MutableMapping[str, Any], status: int, seconds: float) -> None:
    """Count a request that is being answered."""
    route = scope.get(ROUTE, ELSEWHERE)
    method = scope["method"] if scope["method"] in METHODS else ELSEWHERE
    requests.labels(method, route, str(status)).inc()
    request_seconds.labels(method, route).observe(seconds)
    _look()


class Routed:
    """Says of each request which of our addresses it asked for, once that is known."""

    sync_capable = True
    async_capable = False

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        scope = getattr(request, "scope", None)
        if scope is not None and request.resolver_match is not None:
            scope[ROUTE] = request.resolver_match.route
        return response


def told_unsent(text: str) -> None:
    """What a browser says of the oldest entry it keeps; nonsense is passed over."""
    if text.isascii() and text.isdecimal() and len(text) < 9:
        unsent_seconds.observe(int(text))


@contextmanager
def counted(gauge: Any) -> Iterator[None]:
    """One more, for as long as it lasts."""
    gauge.inc()
    try:
        yield
    finally:
        gauge.dec()


def _look() -> None:
    """Look at the connections that this process keeps, unless it was looked just now."""
    global _looked
    now = time.monotonic()
    if now - _looked < LOOK_S:
        return
    _looked = now
    own: Any = connection
    kept = own.pool.get_stats() if own.pool else {}
    for what, name in (("open", "pool_size"), ("free", "pool_available"), ("waiting", "requests_waiting")):
        pool.labels(what).set(kept.get(name, 0))


def exposed(*more: Collector) -> tuple[bytes, str]:
    """All that was counted, by all processes, and what else is found out when it is asked for: text and its kind."""
    folder = os.environ.get(FOLDER)
    registry = CollectorRegistry() if folder else REGISTRY
    if folder:
        _bury(Path(folder))
        multiprocess.MultiProcessCollector(registry)  # type: ignore[no-untyped-call]
    now = CollectorRegistry()
    for collector in more:
        now.register(collector)
    return generate_latest(registry) + generate_latest(now), CONTENT_TYPE_LATEST


def _bury(folder: Path) -> None:
    """What a process that ended had open is open no more."""
    for file in folder.glob("gauge_live*_*.db"):
        pid = int(file.stem.rpartition("_")[2])
        if not Path(f"/proc/{pid}").exists():
            multiprocess.mark_process_dead(pid)  # type: ignore[no-untyped-call]
