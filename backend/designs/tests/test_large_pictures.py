"""Pictures that unfold to more than they are: refused by their format, by a process that is gone afterwards."""

from __future__ import annotations

import io
import struct
import zlib

from django.test import SimpleTestCase
from PIL import Image

from designs.photo_services import TOO_MUCH
from designs.picture_file import MOST_PIXELS, unpacked
from designs.tests.test_photos import picture
from evengirder.aside import read_aside
from girder_core.ground import GirderError


def read(data: bytes) -> tuple[bytes, int, int]:
    return unpacked(read_aside("designs.picture_file", data, too_much=TOO_MUCH))


class Large(SimpleTestCase):
    def test_too_many_pixels_for_the_format(self) -> None:
        for form, (width, height) in {"WEBP": (5000, 5000), "PNG": (8000, 7000), "JPEG": (9000, 7000)}.items():
            self.assertGreater(width * height, MOST_PIXELS[form])
            with self.assertRaisesMessage(GirderError, f"more than {MOST_PIXELS[form] // 10**6} million pixels"):
                read(picture(width, height, form))

    def test_as_many_as_there_may_be_fit_into_the_memory_there_is(self) -> None:
        """The claim behind the limits, for the worst each format can be: colours with transparency, progressive."""
        for form, mode, save in (
            ("PNG", "RGBA", {}), ("PNG", "I;16", {}), ("PNG", "P", {}), ("WEBP", "RGBA", {"lossless": True}),
            ("JPEG", "RGB", {"progressive": True, "subsampling": 0}), ("JPEG", "CMYK", {}),
        ):  # fmt: skip
            height = MOST_PIXELS[form] // 6000
            data = io.BytesIO()
            Image.new(mode, (6000, height)).save(data, form, **save)
            jpeg, width, _ = read(data.getvalue())
            self.assertEqual(max(Image.open(io.BytesIO(jpeg)).size), 1600, (form, mode))
            self.assertLessEqual(width, 1600)

    def test_a_png_that_says_little_and_holds_much(self) -> None:
        def chunk(kind: bytes, data: bytes) -> bytes:
            return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

        head = chunk(b"IHDR", struct.pack(">IIBBBBB", 100, 100, 8, 2, 0, 0, 0))
        bomb = b"\x89PNG\r\n\x1a\n" + head + chunk(b"zTXt", b"a\0\0" + zlib.compress(b" " * 400_000_000)) + head
        with self.assertRaises(GirderError):
            read(bomb)
