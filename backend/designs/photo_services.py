"""Photographs of a design: looked at, stripped of all that a camera writes into them, made smaller, and kept."""

from __future__ import annotations

import io
import warnings
from datetime import datetime

from django.core.files.base import ContentFile, File
from PIL import Image, ImageOps, UnidentifiedImageError
from PIL.JpegImagePlugin import JpegImageFile

from designs.models import Design, Photo
from girder_core.ground import GirderError

LARGEST_BYTES = 25_000_000
LARGEST_PIXELS = 60_000_000
LONGEST_SIDE = 1600
MOST_PHOTOS = 6


def keep_photo(design: Design, upload: File[bytes], what: str, taken_at: datetime | None = None) -> Photo:
    """Keep a photograph of a design or its wreck.

    It is read as a picture, whatever its name says, and written out again: no place, time or camera stays in it. One
    that is small enough already and holds a picture and nothing else stays as it is, to the last byte.
    Errors: ``bad_photo`` for what is no picture or far too large, ``too_many_photos``.
    """
    if design.photos.count() >= MOST_PHOTOS:
        raise GirderError("too_many_photos", f"{MOST_PHOTOS} photos of one design are enough. Take one away first.")
    if upload.size > LARGEST_BYTES:
        raise _bad("That file is larger than 25 MB. Send a photo.")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            with Image.open(upload, formats=["JPEG", "PNG", "WEBP"]) as picture:
                if picture.width * picture.height > LARGEST_PIXELS:
                    raise _bad("That picture has more than 60 million pixels. Send a smaller one.")
                as_it_is = _bare(picture, upload)
                picture.draft("RGB", (LONGEST_SIDE, LONGEST_SIDE))
                upright = ImageOps.exif_transpose(picture).convert("RGB")
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombWarning,
            Image.DecompressionBombError):  # fmt: skip
        raise _bad("That is no photo that can be read here. Send a JPEG, PNG or WebP picture.") from None
    upright.thumbnail((LONGEST_SIDE, LONGEST_SIDE))
    photo = Photo(design=design, what=what, width=upright.width, height=upright.height)
    photo.taken_at = taken_at or photo.taken_at
    photo.file.save("photo.jpg", ContentFile(as_it_is or _written_anew(upright)), save=True)
    return photo


def _written_anew(picture: Image.Image) -> bytes:
    # A new picture with the same pixels: nothing else of the old file comes along.
    bare = Image.new("RGB", picture.size)
    bare.paste(picture)
    data = io.BytesIO()
    bare.save(data, "JPEG", quality=85)
    return data.getvalue()


def _bare(picture: Image.Image, upload: File[bytes]) -> bytes | None:
    """The bytes of a JPEG of our size that holds its picture, the 14 bytes of a JFIF header, and nothing else."""
    if not isinstance(picture, JpegImageFile) or picture.mode != "RGB" or max(picture.size) > LONGEST_SIDE:
        return None
    if [(name, len(content)) for name, content in picture.applist] != [("APP0", 14)]:
        return None
    place = upload.tell()
    upload.seek(0)
    data = upload.read()
    upload.seek(place)
    # Nothing after the end of the picture either.
    return data if data.find(_END) == len(data) - len(_END) else None


_END = b"\xff\xd9"


def bytes_of(photo: Photo) -> bytes | None:
    """The picture's bytes; None for one whose file somebody took away."""
    try:
        with photo.file.open("rb") as picture:
            data: bytes = picture.read()
            return data
    except OSError:
        return None


def drop_photo(photo: Photo) -> None:
    """Take a photograph away, file and all."""
    photo.file.delete(save=False)
    photo.delete()


def _bad(sentence: str) -> GirderError:
    return GirderError("bad_photo", sentence, fields={"photo": sentence})
