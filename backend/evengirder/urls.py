"""All addresses: the API under /api/, everything else is the interface."""

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.urls import include, path, re_path

from evengirder.errors import body, server_error
from evengirder.formulas import formulas
from evengirder.health import lives, ready
from evengirder.page import page
from upkeep.watched import read


def no_such_endpoint(request: HttpRequest) -> JsonResponse:
    """A mistyped API address gets an error in the API's shape, not the interface's page."""
    return JsonResponse(body("not_found", "There is no such address in the API."), status=404)


def stumbled(request: HttpRequest) -> HttpResponse:
    """What should not have happened, in the API's shape, or as a page that says the same."""
    said = server_error()
    if request.path.startswith("/api/"):
        return JsonResponse(said, status=500)
    return HttpResponse(said["sentence"], content_type="text/plain; charset=utf-8", status=500)


handler500 = stumbled

urlpatterns = [
    path("api/", include("people.urls")),
    path("api/", include("challenges.urls")),
    path("api/", include("drafting.urls")),
    path("api/", include("bench.urls")),
    path("api/", include("results.urls")),
    path("api/", include("runs.urls")),
    path("api/", include("instruments.urls")),
    path("api/", include("camera.urls")),
    path("api/", include("live.urls")),
    path("api/", include("tablets.urls")),
    path("api/", include("reports.urls")),
    path("api/", include("records.urls")),
    path("api/", include("schools.urls")),
    re_path(r"^api/", no_such_endpoint),
    path("", include("people.sign_on")),
    path("formulas", formulas),
    path("healthz", lives),
    path("readyz", ready),
    path("metrics", read),
    re_path(r"^(?!static/)", page),
]
