"""The one page that is the interface, as it is built."""

import base64
import io
import json
import re
import shutil
import tempfile
from http.client import HTTPConnection
from urllib.request import urlopen

from django.db import connection
from django.test import Client, TestCase, TransactionTestCase
from PIL import Image

from designs.models import Photo
from e2e.served import Server, shared_servers
from evengirder.headers import HEADERS
from live.tests.test_streams import Through
from people.identity import IDENTITIES
from people.tests.support import run, teacher
from records.run_file import exported


class Page(TestCase):
    def test_every_address_of_the_interface_is_the_one_page(self) -> None:
        for path in ("/", "/runs/3/bench", "/no/such/page"):
            response = Client().get(path)
            self.assertContains(response, '<div id="root">')
            self.assertEqual(response["Cache-Control"], "no-cache")
            self.assertIn("csrftoken", response.cookies)

    def test_nothing_from_elsewhere_may_be_loaded(self) -> None:
        response = Client().get("/")
        policy = dict(HEADERS)[b"content-security-policy"].decode()
        self.assertIn("default-src 'self'", policy)
        self.assertIn("frame-ancestors 'none'", policy)
        self.assertNotIn("http://", response.content.decode())
        self.assertNotIn("https://", response.content.decode())


class Served(TransactionTestCase):
    """Through a real server process."""

    def test_page_files_and_api_have_the_same_headers(self) -> None:
        address = shared_servers(1)[0].address
        with urlopen(f"{address}/") as page:
            file = re.search(r'src="(/static/[^"]+)"', page.read().decode())
            assert file is not None
            answers = [page, urlopen(f"{address}{file[1]}"), urlopen(f"{address}/api/session")]
        for answer in answers:
            for name, value in HEADERS:
                self.assertEqual(answer.headers[name.decode()], value.decode(), answer.url)
            answer.close()
        kept = [answer.headers["Cache-Control"] for answer in answers]
        self.assertEqual((kept[0], kept[2]), ("no-cache", "no-store"))
        self.assertIn("immutable", kept[1])

    def test_a_run_of_120_megabytes_goes_out_and_comes_back_and_a_body_without_end_does_not(self) -> None:
        media = tempfile.mkdtemp(prefix="girder-media-")
        self.addCleanup(shutil.rmtree, media, ignore_errors=True)
        server = Server(str(connection.settings_dict["NAME"]), pool=True, GIRDER_MEDIA_ROOT=media)
        server.start()
        self.addCleanup(server.stop)
        ada = teacher()
        client = Client()
        client.force_login(ada)
        through = Through(server.port, f"sessionid={client.cookies['sessionid'].value}", timeout=300)
        data = exported(run(ada, tuple(identity.name for identity in IDENTITIES[:8])))
        noise = Image.merge("RGB", [Image.effect_noise((1600, 1200), 90) for _ in range(3)])
        picture = io.BytesIO()
        noise.save(picture, "JPEG", quality=93)
        shot = {"what": "design", "caption": "", "taken_at": "2026-11-03T10:00:00+00:00", "waits": False,
                "jpeg": base64.b64encode(picture.getvalue()).decode()}  # fmt: skip
        each = 118 * 2**20 // len(json.dumps(shot))
        for n in range(each):
            data["designs"][n % 8]["photos"].append(shot)
        text = json.dumps(data)
        self.assertGreater(len(text), 110 * 2**20)
        self.assertLessEqual(each, 48)
        status, made = through.call("POST", "runs/import", {"text": text})
        self.assertEqual(status, 201, made)
        self.assertEqual(Photo.objects.filter(design__run=made["run"]).count(), each)
        status, back = through.call("GET", f"runs/{made['run']}/run.json")
        self.assertEqual(status, 200)
        self.assertTrue([row["photos"] for row in back["designs"]] == [row["photos"] for row in data["designs"]])
        # One byte too many is refused by its length alone; the server goes on.
        line = HTTPConnection("127.0.0.1", server.port, timeout=60)
        line.putrequest("POST", "/api/runs/import")
        line.putheader("Cookie", through.cookie)
        line.putheader("Content-Length", str(160 * 2**20 + 1))
        line.endheaders(b"{")
        with line.getresponse() as answer:
            self.assertEqual((answer.status, json.loads(answer.read())["code"]), (413, "too_large"))
        line.close()
        # As much to an address that takes little, and nobody signed in: refused, and the server goes on.
        nobody = Through(server.port, "")
        status, refused = nobody.call("POST", "session", {"email": "x" * 3_000_000})
        self.assertEqual((status, refused["code"]), (413, "too_large"))
        # A connection on which nobody speaks for long is not kept.
        through.connection.close()
        self.assertEqual(through.call("GET", "session")[0], 200)
