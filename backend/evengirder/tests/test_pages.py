from django.conf import settings
from django.db import InterfaceError, OperationalError, connection
from django.test import Client, TestCase, TransactionTestCase, override_settings
from psycopg_pool import PoolTimeout

from evengirder import health
from evengirder.errors import handle
from girder_core.ground import GirderError
from people.tests.support import Api, teacher


class Page(TestCase):
    @override_settings(TEMPLATES=[{"BACKEND": "django.template.backends.django.DjangoTemplates", "DIRS": []}])
    def test_an_interface_that_is_not_built_is_said(self) -> None:
        response = Client().get("/")
        self.assertEqual(response.status_code, 503)
        self.assertContains(response, "./girder start", status_code=503)


class Health(TransactionTestCase):
    def asked(self, path: str) -> tuple[int, str]:
        response = Client().get(path)
        self.assertEqual(response.headers["Cache-Control"], "no-store")
        return response.status_code, response.content.decode().strip()

    def setUp(self) -> None:
        health._known.clear()

    def test_it_lives_and_is_ready(self) -> None:
        self.assertEqual((self.asked("/healthz"), self.asked("/readyz")), ((200, "lives"), (200, "ready")))
        # Not sent to an encrypted address, where everybody else is.
        with override_settings(SECURE_SSL_REDIRECT=True):
            self.assertEqual(self.asked("/readyz"), (200, "ready"))
            self.assertEqual(Client().get("/").status_code, 301)

    def test_without_its_database_it_lives_and_is_not_ready(self) -> None:
        def away(*asked: object) -> None:
            raise OperationalError("gone")

        with connection.execute_wrapper(away):
            self.assertEqual(self.asked("/readyz"), (503, "the database is away"))
            self.assertEqual(self.asked("/healthz"), (200, "lives"))

    def test_tables_of_another_version(self) -> None:
        with connection.cursor() as cursor:
            cursor.execute("DELETE FROM django_migrations WHERE app = 'designs' AND name LIKE '0008%'")
        self.assertEqual(self.asked("/readyz"), (503, "migrations wait"))
        with connection.cursor() as cursor:
            cursor.execute("INSERT INTO django_migrations (app, name, applied)"
                           " VALUES ('designs', '0008_measured_in_pictures', now())")  # fmt: skip
        self.assertEqual(self.asked("/readyz"), (200, "ready"))


class Errors(TestCase):
    def test_a_mistyped_api_address_answers_in_the_apis_shape(self) -> None:
        status, body = Api(teacher()).refused("GET", "no/such/thing")
        self.assertEqual((status, body["code"]), (404, "not_found"))

    def test_broken_json_and_a_wrong_method(self) -> None:
        client = Client()
        client.force_login(teacher())
        broken = client.post("/api/classes", "{not json", content_type="application/json")
        self.assertEqual((broken.status_code, broken.json()["code"]), (400, "not_json"))
        self.assertEqual(client.delete("/api/classes").json()["code"], "method_not_allowed")

    def test_figures_behind_a_core_error_reach_the_client(self) -> None:
        response = handle(GirderError("kit_exceeded", "Only 3 left.", left=3, fields={"count": "Too many."}), {})
        assert response is not None
        self.assertEqual(response.data["data"], {"left": 3})
        self.assertEqual(response.data["fields"], {"count": "Too many."})

    def test_a_database_that_is_away_is_nobody_s_fault(self) -> None:
        # A sender keeps what it has and asks again: 503 is never about the entry.
        for error in (OperationalError("gone"), InterfaceError("closed")):
            self.assertEqual(self.said(error), (503, "database_away"))

    def test_a_server_with_too_much_to_do_does_not_call_its_database_away(self) -> None:
        waited = OperationalError("none free")
        waited.__cause__ = PoolTimeout("none free")
        for error in (PoolTimeout("none free"), waited):
            self.assertEqual(self.said(error), (503, "busy"))
        # The pool tells the same when nobody answers at the database's door.
        place = settings.DATABASES["default"]
        self.addCleanup(place.__setitem__, "PORT", place["PORT"])
        place["PORT"] = "1"
        self.assertEqual(self.said(waited), (503, "database_away"))

    def said(self, error: Exception) -> tuple[int, str]:
        response = handle(error, {})
        assert response is not None
        return response.status_code, response.data["code"]

    def test_an_error_nobody_foresaw_is_not_dressed_up(self) -> None:
        self.assertIsNone(handle(RuntimeError("surprise"), {}))
