"""The one HTML page: the built interface, which finds its way by the address."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.template import TemplateDoesNotExist
from django.views.decorators.csrf import ensure_csrf_cookie


@ensure_csrf_cookie
def page(request: HttpRequest) -> HttpResponse:
    """Serve the interface, with the cookie that its writes need."""
    try:
        response = render(request, "index.html")
    except TemplateDoesNotExist:
        return HttpResponse("The interface is not built yet. Run ./girder start.", status=503)
    response["Cache-Control"] = "no-cache"
    return response
