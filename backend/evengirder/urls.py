"""All addresses: the API under /api/, everything else is the interface."""

from django.http import HttpRequest, JsonResponse
from django.urls import include, path, re_path

from evengirder.errors import body
from evengirder.formulas import formulas
from evengirder.page import page


def no_such_endpoint(request: HttpRequest) -> JsonResponse:
    """A mistyped API address gets an error in the API's shape, not the interface's page."""
    return JsonResponse(body("not_found", "There is no such address in the API."), status=404)


urlpatterns = [
    path("api/", include("people.urls")),
    path("api/", include("challenges.urls")),
    path("api/", include("drafting.urls")),
    path("api/", include("bench.urls")),
    path("api/", include("results.urls")),
    path("api/", include("runs.urls")),
    path("api/", include("instruments.urls")),
    path("api/", include("live.urls")),
    path("api/", include("reports.urls")),
    path("api/", include("records.urls")),
    re_path(r"^api/", no_such_endpoint),
    path("formulas", formulas),
    re_path(r"^(?!static/)", page),
]
