"""Who is at a tablet, and what of the run is theirs: the one place that says it.

A tablet has a pass, in a cookie that no script reads. It is of one team of one run, and gets designs by ``own_design``
and never otherwise: the latest of that team in that run; and tests by ``own_trial``, those that it made by itself. All
else of the API does not know tablets at all.
"""

from __future__ import annotations

import uuid
from typing import Any

from django.contrib.auth.models import AnonymousUser
from django.http import Http404, HttpRequest
from django.utils import timezone
from drf_spectacular.extensions import OpenApiAuthenticationExtension
from rest_framework.authentication import BaseAuthentication, SessionAuthentication
from rest_framework.permissions import BasePermission
from rest_framework.request import Request
from rest_framework.views import APIView

from bench.models import Trial
from designs.models import Design
from girder_core.ground import GirderError
from tablets.models import Tablet
from tablets.services import mixed, saw

COOKIE = "girder-tablet"


def tablet_of(request: HttpRequest) -> Tablet | None:
    """The tablet that asks, if it is in a lesson that is not over, of a run and a teacher that are there."""
    own = request.COOKIES.get(COOKIE, "")
    if not own:
        return None
    found = Tablet.objects.select_related("door__run__school_class__owner", "team").filter(
        mixed=mixed(own), door__until__gt=timezone.now(), door__run__removed_at__isnull=True,
        door__run__school_class__owner__leaving_at=None,
    )  # fmt: skip
    return found.first()


def is_in(own: str) -> bool:
    """Whether this is the pass of a tablet that is in a lesson; asked before much is read of what it sends."""
    return Tablet.objects.filter(mixed=mixed(own), door__until__gt=timezone.now()).exists()


class TabletAuthentication(BaseAuthentication):
    """Knows a tablet by its pass; pages of other sites cannot write in its name."""

    def authenticate(self, request: Request) -> tuple[Any, Tablet] | None:
        """The tablet as ``request.auth``; nobody is signed in."""
        tablet = tablet_of(request)
        if tablet is None:
            return None
        SessionAuthentication().enforce_csrf(request)
        saw(tablet)
        return AnonymousUser(), tablet


class AtATablet(BasePermission):
    """Lets in who is at a tablet that is in a lesson."""

    def has_permission(self, request: Request, view: Any) -> bool:
        """Whether the one who asks is."""
        return isinstance(request.auth, Tablet)


class TabletView(APIView):
    """What is open to a tablet, and to nobody else."""

    authentication_classes = [TabletAuthentication]
    permission_classes = [AtATablet]


def tablet_in(request: Request) -> Tablet:
    """The tablet that asks; for views with ``AtATablet``."""
    assert isinstance(request.auth, Tablet)
    return request.auth


def own_design(tablet: Tablet) -> Design:
    """The latest design of the tablet's team in its run; ``no_team`` before it has said which team it is of."""
    found = (
        Design.objects.select_related("run__school_class__owner", "team")
        .filter(run=tablet.door.run_id, team=tablet.team_id)
        .order_by("-version")
        .first()
    )
    if tablet.team_id is None or found is None:
        raise GirderError("no_team", "Choose your team first.")
    return found


def own_trial(tablet: Tablet, pk: uuid.UUID) -> Trial:
    """A test that the tablet's team made by itself in its run, of whichever version; of others there is none."""
    trials = Trial.objects.select_related("design__run__school_class__owner", "design__team")
    own = trials.filter(pk=pk, by_team=True, design__run=tablet.door.run_id, design__removed_at__isnull=True)
    found = own.filter(design__team=tablet.team_id).first() if tablet.team_id is not None else None
    if found is None:
        raise Http404
    return found


class TabletScheme(OpenApiAuthenticationExtension):  # type: ignore[no-untyped-call]
    """How the API's schema tells of it."""

    target_class = TabletAuthentication
    name = "tablet"

    def get_security_definition(self, auto_schema: Any) -> dict[str, str]:
        """The cookie that holds the pass."""
        return {"type": "apiKey", "in": "cookie", "name": COOKIE}
