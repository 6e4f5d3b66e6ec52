"""Whether every screen of a run opens: asked once before a run from outside is kept.

The screens are what the API shows of a run, its designs and its trials; a new address is among them by itself. Paper
and files are made of the same states.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from typing import Any

from django.http import HttpRequest, HttpResponseBase
from django.urls import URLPattern, URLResolver, get_resolver
from rest_framework.renderers import JSONRenderer
from rest_framework.response import Response

from challenges.models import Run
from girder_core.ground import GirderError
from people.models import Teacher

_SHOWS = re.compile(r"(runs/<int:pk>|designs/<int:pk>|trials/<uuid:pk>)(/[a-z-]+)?")
"""An object or one of its states; what ends like a file (``ledger.csv``) or has a document's name is none."""


def screens() -> dict[str, list[Callable[..., HttpResponseBase]]]:
    """What shows a run, a design and a trial, by ``runs``, ``designs`` and ``trials``."""
    found: dict[str, list[Callable[..., HttpResponseBase]]] = {"runs": [], "designs": [], "trials": []}
    for pattern in _patterns(get_resolver().url_patterns):
        route = str(pattern.pattern)
        # A stream is no view of the framework's, and has none of its methods.
        if _SHOWS.fullmatch(route) and hasattr(getattr(pattern.callback, "cls", None), "get"):
            found[route.partition("/")[0]].append(pattern.callback)
    return found


def _patterns(patterns: Iterable[URLPattern | URLResolver]) -> Iterable[URLPattern]:
    for pattern in patterns:
        if isinstance(pattern, URLResolver):
            yield from _patterns(pattern.url_patterns)
        else:
            yield pattern


def open_all(run: Run, teacher: Teacher, before_each: Callable[[], None]) -> None:
    """Show everything of a run once to its teacher; whatever a screen stumbles over is raised.

    ``before_each`` is called before an object is shown.
    """
    shown = screens()
    rows: list[tuple[str, Any]] = [("runs", run.pk)]
    for design in run.designs.all():
        rows.append(("designs", design.pk))
        rows += [("trials", trial.pk) for trial in design.trials.all()]
    for kind, key in rows:
        before_each()
        for view in shown[kind]:
            _open(view, key, teacher)


def _open(view: Callable[..., HttpResponseBase], key: Any, teacher: Teacher) -> None:
    request = HttpRequest()
    request.method = "GET"
    request.META["SERVER_NAME"], request.META["SERVER_PORT"] = "localhost", "0"
    request.user = teacher
    answer = view(request, pk=key)
    if isinstance(answer, Response):
        # As the answer goes out: a number that is none shows only there.
        JSONRenderer().render(answer.data)
    # A refusal is an answer too: of a film where nothing moves.
    if answer.status_code >= 500:
        raise GirderError("no_screen", "One of its screens does not open.")
