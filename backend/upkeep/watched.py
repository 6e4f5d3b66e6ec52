"""What a watcher reads: counts of all processes, and what is looked at when it asks."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path

import django
from django.conf import settings
from django.http import Http404, HttpRequest, HttpResponse
from django.utils.crypto import constant_time_compare
from prometheus_client.core import GaugeMetricFamily, InfoMetricFamily, Metric
from prometheus_client.registry import Collector

from evengirder import metrics
from evengirder.environment import told
from evengirder.health import unready
from upkeep.backups import last_good


class Now(Collector):
    """What is found out when it is asked for."""

    def collect(self) -> Iterator[Metric]:
        """Whether this host can do its work, how old the last good backup is, and versions."""
        yield GaugeMetricFamily(
            "girder_ready", "Whether the database answers, takes writes and has this version’s tables.",
            value=float(not unready()),
        )  # fmt: skip
        folder = told("GIRDER_BACKUPS")
        made = last_good(Path(folder)) if folder else None
        if made is not None:
            age = (datetime.now(UTC) - made).total_seconds()
            yield GaugeMetricFamily("girder_backup_age_seconds", "How old the last good backup is.", value=age)
        version = settings.SPECTACULAR_SETTINGS["VERSION"]
        yield InfoMetricFamily("girder", "Versions.", value={"version": version, "django": django.get_version()})


def read(request: HttpRequest) -> HttpResponse:
    """All metrics as text, for whoever says the word of ``GIRDER_METRICS``; where there is none there is nothing."""
    if not metrics.WORD:
        raise Http404
    said = request.headers.get("Authorization", "")
    if not constant_time_compare(said, f"Bearer {metrics.WORD}"):
        return HttpResponse("Say the word.\n", status=401, content_type="text/plain",
                            headers={"WWW-Authenticate": "Bearer"})  # fmt: skip
    text, kind = metrics.exposed(Now())
    return HttpResponse(text, content_type=kind, headers={"Cache-Control": "no-store"})
