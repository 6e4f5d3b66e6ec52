"""A photograph as it comes from a camera: looked at, stripped of all that a camera writes into it, and made smaller.

Runs in a process of its own (``evengirder.aside``): what few bytes unfold to is not known before.
"""

from __future__ import annotations

import io
import struct
import warnings
from collections.abc import Iterator
from contextlib import contextmanager

from PIL import Image, ImageOps, UnidentifiedImageError
from PIL.JpegImagePlugin import JpegImageFile

from girder_core.ground import GirderError

LONGEST_SIDE = 1600
MOST_PIXELS = {"JPEG": 60_000_000, "PNG": 30_000_000, "WEBP": 16_000_000}
"""A JPEG can be made smaller while it is read; the others unfold whole."""


def small_picture(data: bytes) -> tuple[bytes, int, int]:
    """A picture as JPEG, upright, with no side longer than 1600 pixels, and its width and height.

    It is read as a picture, whatever its name says, and written out again: no place, time or camera stays in it. One
    that is small enough already and holds a picture and nothing else stays as it is, to the last byte.
    Errors: ``bad_photo`` for what is no picture or has too many pixels.
    """
    with opened(data) as picture:
        as_it_is = data if _bare(picture, data) else None
        picture.draft("RGB", (LONGEST_SIDE, LONGEST_SIDE))
        # Made smaller before anything else is done with all its pixels.
        plain = picture if picture.mode in _PLAIN else picture.convert("RGBA")
        plain.thumbnail((LONGEST_SIDE, LONGEST_SIDE))
        upright = ImageOps.exif_transpose(plain).convert("RGB")
    return as_it_is or written_anew(upright), upright.width, upright.height


@contextmanager
def opened(data: bytes) -> Iterator[Image.Image]:
    """A picture to be read; whatever is wrong with it, here or while it is read, is ``bad_photo``."""
    try:
        with warnings.catch_warnings():
            # How many pixels are too many is said here, for each format.
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            # This format unfolds as it is opened, so it is asked before.
            _not_too_many("WEBP", *_webp_size(data))
            with Image.open(io.BytesIO(data), formats=[*MOST_PIXELS]) as picture:
                _not_too_many(str(picture.format), *picture.size)
                yield picture
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError,
            struct.error, IndexError, KeyError, TypeError, OverflowError) as error:  # fmt: skip
        if isinstance(error, GirderError):
            raise
        raise bad_photo("That is no photo that can be read here. Send a JPEG, PNG or WebP picture.") from None


def bad_photo(sentence: str) -> GirderError:
    return GirderError("bad_photo", sentence, fields={"photo": sentence})


def _not_too_many(form: str, width: int, height: int) -> None:
    most = MOST_PIXELS[form]
    if width * height > most:
        raise bad_photo(
            f"That picture has more than {most // 1_000_000} million pixels, too many for one of its format. Send a "
            "smaller one, or a JPEG."
        )


def _webp_size(data: bytes) -> tuple[int, int]:
    """Width and height as the head of a WebP says (RFC 9649, sections 2.5 to 2.7); nothing for anything else."""
    kind, head = data[12:16], data[20:30]
    if data[:4] + data[8:12] != b"RIFFWEBP" or len(head) < 10:
        return 0, 0
    if kind == b"VP8X":
        return 1 + int.from_bytes(head[4:7], "little"), 1 + int.from_bytes(head[7:10], "little")
    if kind == b"VP8L":
        bits = int.from_bytes(head[1:5], "little")
        return 1 + (bits & 0x3FFF), 1 + (bits >> 14 & 0x3FFF)
    return int.from_bytes(head[6:8], "little") & 0x3FFF, int.from_bytes(head[8:10], "little") & 0x3FFF


def written_anew(picture: Image.Image) -> bytes:
    """A picture as JPEG, with nothing of the file that it came from."""
    # A new picture with the same pixels: nothing else of the old file comes along.
    bare = Image.new("RGB", picture.size)
    bare.paste(picture)
    data = io.BytesIO()
    bare.save(data, "JPEG", quality=85)
    return data.getvalue()


def _bare(picture: Image.Image, data: bytes) -> bool:
    """Whether this is a JPEG of our size that holds its picture, the 14 bytes of a JFIF header, and nothing else."""
    if not isinstance(picture, JpegImageFile) or picture.mode != "RGB" or max(picture.size) > LONGEST_SIDE:
        return False
    if [(name, len(content)) for name, content in picture.applist] != [("APP0", 14)]:
        return False
    # Nothing after the end of the picture either.
    return data.find(_END) == len(data) - len(_END)


_END = b"\xff\xd9"
_PLAIN = ("RGB", "RGBA", "L", "CMYK")


def packed(data: bytes) -> bytes:
    """The picture with its size before it, as ``unpacked`` reads it."""
    jpeg, width, height = small_picture(data)
    return struct.pack(">HH", width, height) + jpeg


def unpacked(answer: bytes) -> tuple[bytes, int, int]:
    """The picture, its width and its height."""
    width, height = struct.unpack_from(">HH", answer)
    return answer[4:], width, height


if __name__ == "__main__":
    from evengirder.aside_child import answer

    answer(packed)
