"""The one page that is the interface, as it is built."""

import re
from urllib.request import urlopen

from django.test import Client, TestCase, TransactionTestCase

from e2e.served import shared_servers
from evengirder.headers import HEADERS


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
