"""Photographs: only pictures, only the picture, only for those who may see it."""

from __future__ import annotations

import io
import tempfile
import uuid
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.staticfiles.storage import StaticFilesStorage
from django.core.files.base import ContentFile
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase
from PIL import Image

from designs.models import Photo
from people.tests.support import Api, folder_for_photographs, run, teacher


def picture(width: int = 300, height: int = 200, form: str = "JPEG", **save: Any) -> bytes:
    data = io.BytesIO()
    Image.new("RGB", (width, height), (200, 30, 30)).save(data, form, **save)
    return data.getvalue()


class Photos(TestCase):
    def setUp(self) -> None:
        folder_for_photographs(self)
        self.ada = teacher()
        self.api = Api(self.ada)
        self.design = run(self.ada).designs.all()[0]

    def send(self, data: bytes, name: str = "bridge.jpg", what: str = "design") -> tuple[int, Any]:
        upload = SimpleUploadedFile(name, data)
        response = self.api.client.post(f"/api/designs/{self.design.pk}/photos", {"photo": upload, "what": what})
        return response.status_code, response.json()

    def kept(self) -> Image.Image:
        response = self.api.client.get(f"/api/photos/{Photo.objects.get().pk}")
        self.assertEqual(response.headers["Content-Type"], "image/jpeg")
        data = b"".join(response.streaming_content)  # type: ignore[attr-defined]
        return Image.open(io.BytesIO(data))

    def test_a_photo_is_kept_with_its_design_and_can_be_taken_away(self) -> None:
        status, design = self.send(picture())
        self.assertEqual((status, [photo["what"] for photo in design["photos"]]), (201, ["design"]))
        self.assertEqual(self.kept().size, (300, 200))
        self.assertEqual(self.api.send("DELETE", f"photos/{design['photos'][0]['id']}")["photos"], [])

    def test_sent_again_after_a_lost_answer_it_is_one(self) -> None:
        name = str(uuid.uuid4())
        for _ in range(2):
            body = {"photo": SimpleUploadedFile("a.jpg", picture()), "what": "wreck", "sent_as": name}
            answer = self.api.client.post(f"/api/designs/{self.design.pk}/photos", body)
            self.assertEqual([photo["what"] for photo in answer.json()["photos"]], ["wreck"])
        self.assertEqual(Photo.objects.count(), 1)

    def test_it_is_for_the_servers_user_alone_and_what_everybody_gets_is_not(self) -> None:
        self.send(picture())
        kept = Path(Photo.objects.get().file.path)
        self.assertEqual((kept.stat().st_mode & 0o777, kept.parent.stat().st_mode & 0o777), (0o600, 0o700))
        with tempfile.TemporaryDirectory() as folder:
            options: Any = settings.STORAGES["staticfiles"]["OPTIONS"]
            shown = StaticFilesStorage(location=folder, **options)
            shown.save("of/all.css", ContentFile(b""))
            modes = [path.stat().st_mode & 0o777 for path in (Path(folder, "of"), Path(folder, "of/all.css"))]
        self.assertEqual(modes, [0o755, 0o644])

    def test_what_the_camera_wrote_is_gone_and_the_picture_upright(self) -> None:
        exif = Image.Exif()
        exif[0x0112] = 6  # turned by a quarter
        exif[0x010F] = "Somebody's camera"
        exif.get_ifd(0x8825)[1] = "N"
        self.send(picture(exif=exif.tobytes()))
        kept = self.kept()
        self.assertEqual(dict(kept.getexif()), {})
        self.assertEqual(kept.size, (200, 300))
        self.assertNotIn(b"Somebody", Photo.objects.get().file.read())

    def test_a_picture_and_nothing_else_stays_to_the_last_byte(self) -> None:
        bare = picture()
        self.send(bare)
        self.assertEqual(Photo.objects.get().file.read(), bare)

    def test_whatever_else_hides_in_a_jpeg_is_gone(self) -> None:
        for n, data in enumerate((picture(comment=b"Somebody's yard"), picture() + b"Somebody's zip",
                                  picture(icc_profile=b"Somebody's screen"))):  # fmt: skip
            self.assertIn(b"Somebody", data)
            self.send(data)
            kept = Photo.objects.order_by("pk")[n].file.read()
            self.assertNotIn(b"Somebody", kept)
            self.assertEqual(Image.open(io.BytesIO(kept)).size, (300, 200))

    def test_forty_megapixels_are_made_smaller(self) -> None:
        self.assertEqual(self.send(picture(7300, 5500))[0], 201)
        self.assertEqual(max(self.kept().size), 1600)
        status, answer = self.send(picture(9000, 7000))
        self.assertEqual((status, answer["code"]), (400, "bad_photo"))

    def test_what_is_no_photo_is_refused(self) -> None:
        svg = b'<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>'
        for data in (b"%PDF-1.7 renamed", svg, b"", picture()[:300], picture(form="GIF")):
            self.assertEqual(self.send(data)[0], 400, data[:20])
        self.assertEqual(Photo.objects.count(), 0)

    def test_a_stranger_sees_none(self) -> None:
        self.send(picture())
        stranger = Api(teacher("Mallory"))
        path = f"photos/{Photo.objects.get().pk}"
        self.assertEqual(stranger.call("GET", path)[0], 404)
        self.assertEqual(stranger.call("DELETE", path)[0], 404)
        self.assertEqual(Api().call("GET", path)[0], 403)
