"""Photographs of a design: kept, shown, taken away."""

from __future__ import annotations

import uuid
from datetime import datetime

from django.core.files.base import ContentFile, File
from django.db import transaction

from designs.models import LAST, MEASURED, Design, Photo
from designs.picture_file import bad_photo, unpacked
from evengirder.aside import read_aside
from girder_core.ground import GirderError

LARGEST_BYTES = 25_000_000
MOST_PHOTOS, MOST_MEASURED = 6, 12
TOO_MUCH = bad_photo("That picture takes more memory or time than a photo does. Send a smaller one.")


def keep_photo(
    design: Design,
    upload: File[bytes],
    what: str,
    taken_at: datetime | None = None,
    waits: bool = False,
    sent_as: uuid.UUID | None = None,
    caption: str = "",
) -> Photo:
    """Keep a photograph of a design or its wreck, as ``designs.picture_file`` makes it; one that ``waits`` is for its
    team and its teacher alone. One that is here already, by the name it was ``sent_as``, stays the one.

    Errors: ``bad_photo`` for what is no picture or far too large, ``too_many_photos``.
    """
    if sent_as is not None and (there := Photo.objects.filter(sent_as=sent_as).first()) is not None:
        return there
    _room_for_one_more(design, what)
    picture = unpacked(read_aside("designs.picture_file", bytes_sent(upload), too_much=TOO_MUCH))
    photo = Photo(design=design, what=what, waits=waits, sent_as=sent_as, caption=caption)
    photo.taken_at = taken_at or photo.taken_at
    return keep_made(photo, *picture)


def bytes_sent(upload: File[bytes]) -> bytes:
    """The file that somebody sends; ``bad_photo`` for one that is too large to be a photo."""
    if upload.size > LARGEST_BYTES:
        raise bad_photo("That file is larger than 25 MB. Send a photo.")
    upload.seek(0)
    data: bytes = upload.read()
    return data


def keep_made(photo: Photo, jpeg: bytes, width: int, height: int) -> Photo:
    """Keep a picture that is as it is kept: small, and stripped of what the camera wrote.

    Errors: ``too_many_photos``.
    """
    photo.width, photo.height = width, height
    with transaction.atomic():
        # Others may have sent theirs meanwhile, or a tablet this one twice.
        Design.objects.select_for_update(of=("self",)).get(pk=photo.design_id)
        if photo.sent_as is not None and (there := Photo.objects.filter(sent_as=photo.sent_as).first()) is not None:
            return there
        _room_for_one_more(photo.design, photo.what)
        photo.file.save("photo.jpg", ContentFile(jpeg), save=True)
    return photo


def _room_for_one_more(design: Design, what: str) -> None:
    """Pictures that something was measured in are counted by themselves: each belongs to a reading. Of those that were
    taken at the bench there is one for each trial."""
    if what == MEASURED:
        if design.photos.filter(what=MEASURED).count() >= MOST_MEASURED:
            sentence = f"{MOST_MEASURED} pictures with a measurement of one design are enough. Take one away first."
            raise GirderError("too_many_photos", sentence)
    elif what != LAST and design.photos.exclude(what__in=(MEASURED, LAST)).count() >= MOST_PHOTOS:
        raise GirderError("too_many_photos", f"{MOST_PHOTOS} photos of one design are enough. Take one away first.")


def bytes_of(photo: Photo) -> bytes | None:
    """The picture's bytes; None for one whose file somebody took away."""
    try:
        with photo.file.open("rb") as picture:
            data: bytes = picture.read()
            return data
    except OSError:
        return None


def nod(photo: Photo) -> None:
    """Let all see a photograph that a team sent: it waits no more."""
    photo.waits = False
    photo.save(update_fields=["waits"])


def drop_photo(photo: Photo) -> None:
    """Take a photograph away, file and all."""
    photo.file.delete(save=False)
    photo.delete()
