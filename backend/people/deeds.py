"""Who did what in a class that several have a part in: noted for what went well, one line a change."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta
from typing import Any

from django.db.models import QuerySet
from django.http import HttpRequest, HttpResponse
from django.utils import timezone

from people.models import Deed

KEPT = timedelta(days=400)
"""How long deeds are kept: a school year and a summer."""


def touch(request: HttpRequest, queryset: QuerySet[Any], path: str, pk: Any) -> None:
    """Remember what a request is about to change, if its class has or had colleagues; ``path`` leads to the class."""
    whole = "" if path == "pk" else f"{path}__"
    shared = queryset.model._base_manager.filter(pk=pk, **{f"{whole}colleagues__isnull": False})
    found = shared.values_list(path, flat=True).first()
    if found is not None:
        # The framework's own request, which the middleware has too.
        inner: Any = getattr(request, "_request", request)
        inner.touched = [*getattr(inner, "touched", ()), (found, queryset.model._meta.label, str(pk))]


class Noted:
    """Notes what was touched, once it went well. What a ledger notes itself is left to it."""

    sync_capable = True
    async_capable = False

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        touched = getattr(request, "touched", ())
        if touched and response.status_code < 400:
            view = getattr(getattr(request.resolver_match, "func", None), "view_class", None)
            what = f"{view.__name__}.{request.method}" if view else ""
            if what not in NOT_NOTED:
                Deed.objects.bulk_create(
                    Deed(school_class_id=of, name=getattr(request.user, "name", ""), what=what, model=model, key=key)
                    for of, model, key in touched[:1]
                )
        return response


NOT_NOTED = {
    "TrialEventsView.POST", "DesignDraftView.POST", "DraftView.POST", "DraftFilmView.POST", "DraftWhyView.POST",
    "ContainerView.POST", "PictureView.POST", "PictureSizeView.POST", "FirstPictureView.POST",
    "LoosePictureView.POST", "RecountView.POST",
}  # fmt: skip
"""Entries of a trial, which say themselves whose they are, and what only works something out."""


def forget_old() -> None:
    """Forget deeds of long ago."""
    Deed.objects.filter(at__lt=timezone.now() - KEPT).delete()
