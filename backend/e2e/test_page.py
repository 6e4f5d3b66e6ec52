"""The one page that is the interface, as it is built."""

from django.test import Client, TestCase


class Page(TestCase):
    def test_every_address_of_the_interface_is_the_one_page(self) -> None:
        for path in ("/", "/runs/3/bench", "/no/such/page"):
            response = Client().get(path)
            self.assertContains(response, '<div id="root">')
            self.assertEqual(response["Cache-Control"], "no-cache")
            self.assertIn("csrftoken", response.cookies)

    def test_nothing_from_elsewhere_may_be_loaded(self) -> None:
        response = Client().get("/")
        policy = response["Content-Security-Policy"]
        self.assertIn("default-src 'self'", policy)
        self.assertIn("frame-ancestors 'none'", policy)
        self.assertNotIn("http://", response.content.decode())
        self.assertNotIn("https://", response.content.decode())
