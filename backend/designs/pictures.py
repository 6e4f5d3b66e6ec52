"""A photograph as a response, for whoever was found to be allowed to see it."""

from __future__ import annotations

from django.http import FileResponse, Http404

from designs.models import Photo


def picture_of(photo: Photo) -> FileResponse:
    """A photograph itself; whoever calls this has made sure that the asker may see it."""
    try:
        picture = photo.file.open("rb")
    except FileNotFoundError:
        raise Http404 from None
    response = FileResponse(picture, content_type="image/jpeg")
    response["Cache-Control"] = "private, max-age=86400"
    return response
