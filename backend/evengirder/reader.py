"""For each request: whose units its sentences are in."""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

from girder_core.measure import System, read_in


class ReadersUnits:
    """Sentences are in the units of whoever is signed in; nobody is looked up for an answer without a figure."""

    sync_capable = True
    async_capable = False

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        with read_in(lambda: System(getattr(request.user, "units", System.METRIC))):
            return self.get_response(request)
