"""Photographs in a store that speaks S3: kept, shown, taken away, backed up and brought back as in a folder; and told
as away where it does not answer. The store is a stand-in on loopback.
"""

from __future__ import annotations

from typing import Any, ClassVar

import boto3
from django.test import override_settings, tag
from moto.server import ThreadedMotoServer

from designs.models import Photo
from designs.photo_services import drop_photo, keep_photo
from e2e.served import free_port
from people.models import Teacher
from people.tests.support import Api
from upkeep.backups import check, make
from upkeep.doctor import LOOKS, Level
from upkeep.restoring import restore, verify
from upkeep.tests.test_backups import WithBackups, photo

BUCKET = "photographs"


def kept_at(address: str, **more: str) -> dict[str, Any]:
    """The setting of where photographs are, as the environment's variables make it."""
    options = {"bucket": BUCKET, "address": address, "region": "us-east-1", "key": "rehearsal", "secret": "a secret"}
    plain = {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"}
    store = {"BACKEND": "evengirder.photographs.Store", "OPTIONS": {**options, **more}}
    return {"default": store, "staticfiles": plain}


@tag("slow")
class InAStore(WithBackups):
    server: ClassVar[ThreadedMotoServer]
    address: ClassVar[str]

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        port = free_port()
        cls.server = ThreadedMotoServer(ip_address="127.0.0.1", port=port, verbose=False)
        cls.server.start()
        cls.addClassCleanup(cls.server.stop)
        cls.address = f"http://127.0.0.1:{port}"

    def setUp(self) -> None:
        own = {"aws_access_key_id": "rehearsal", "aws_secret_access_key": "a secret", "region_name": "us-east-1"}
        self.bucket = boto3.resource("s3", endpoint_url=self.address, **own).Bucket(BUCKET)
        self.bucket.create()
        self.addCleanup(self.empty)
        self.enterContext(override_settings(STORAGES=kept_at(self.address)))
        super().setUp()

    def empty(self) -> None:
        for each in self.bucket.objects.all():
            each.delete()

    def there(self) -> dict[str, bytes]:
        return {each.key: each.get()["Body"].read() for each in self.bucket.objects.all()}

    def test_one_is_kept_shown_to_whom_the_policy_lets_and_taken_away(self) -> None:
        kept = keep_photo(self.tern, photo(3), "design")
        name = str(kept.file.name)
        self.assertIn(name, self.there())
        self.assertFalse(self.photos.exists())
        owner = Api(Teacher.objects.get())
        answer = owner.client.get(f"/api/photos/{kept.pk}")
        self.assertEqual((answer.status_code, b"".join(answer)), (200, self.there()[name]))
        self.assertEqual(self.client.get(f"/api/photos/{kept.pk}").status_code, 403)
        drop_photo(kept)
        self.assertNotIn(name, self.there())

    def test_a_backup_holds_them_and_brings_them_back(self) -> None:
        before, rows = self.there(), self.rows()
        self.assertEqual(len(before), 2)
        path = make(self.to)
        verify(path)
        self.empty()
        restore(path, name=self.elsewhere)
        self.assertEqual((self.there(), self.rows(self.elsewhere)), (before, rows))
        # Another picture of the same name is set aside, not lost.
        name = sorted(before)[0]
        self.bucket.Object(name).put(Body=b"another picture")
        restore(path, name=self.elsewhere, over=True)
        self.assertEqual(self.there()[name], before[name])
        self.assertIn(b"another picture", self.there().values())

    def test_one_that_is_missing_is_named_in_a_backup_and_nowhere_a_stumble(self) -> None:
        lost = Photo.objects.all()[0]
        self.bucket.Object(lost.file.name).delete()
        self.assertEqual(check(make(self.to)).missing, [lost.file.name])
        owner = Api(Teacher.objects.get())
        self.assertEqual(owner.client.get(f"/api/photos/{lost.pk}").status_code, 404)

    def test_two_of_one_name_are_two(self) -> None:
        names = {keep_photo(self.tern, photo(number), "design").file.name for number in (4, 5)}
        self.assertEqual(len(names), 2)

    def test_a_store_that_is_away_or_lets_nobody_in_is_told_and_nothing_is_lost(self) -> None:
        photos, rows = self.there(), Photo.objects.count()
        owner = Api(Teacher.objects.get())
        shown = Photo.objects.all()[0]
        with override_settings(STORAGES=kept_at(f"http://127.0.0.1:{free_port()}")), self.assertLogs("evengirder"):
            for method, path in (("get", f"/api/photos/{shown.pk}"), ("post", f"/api/designs/{self.tern.pk}/photos")):
                data = {"photo": photo(6), "what": "design"} if method == "post" else None
                answer = getattr(owner.client, method)(path, data)
                with self.subTest(method):
                    self.assertEqual((answer.status_code, answer.json()["code"]), (503, "photographs_away"))
        with override_settings(STORAGES=kept_at(self.address, bucket="not-ours")), self.assertLogs("evengirder"):
            answer = owner.client.post(f"/api/designs/{self.tern.pk}/photos", {"photo": photo(6), "what": "design"})
            self.assertEqual(answer.json()["code"], "photographs_away")
        self.assertEqual((self.there(), Photo.objects.count()), (photos, rows))

    def test_the_doctor_tries_it(self) -> None:
        look = dict(LOOKS)["photographs"]
        self.assertEqual([level for level, _ in look()], [Level.GOOD])
        self.assertEqual(len(self.there()), 2)
        with override_settings(STORAGES=kept_at(f"http://127.0.0.1:{free_port()}")), self.assertRaises(OSError):
            list(look())
