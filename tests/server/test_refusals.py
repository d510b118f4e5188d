"""Every answer of the API is a problem in JSON, whoever asks and however badly, and never a 500."""

import os
import subprocess
import sys
import threading
from typing import Any
from unittest import mock

from django.core.management import call_command
from django.db import OperationalError, close_old_connections, connection, transaction
from django.test import Client, SimpleTestCase, TransactionTestCase, override_settings
from psycopg.errors import DeadlockDetected, LockNotAvailable

from server.config import headers
from server.workshops.models import Workshop
from tests.server.base import FAST, DemoCase, Shop, fill_workshop, make_member, make_workshop

JSON = "application/json"


class AsProblems(DemoCase):
    def problem(self, answer: Any, status: int, code: str) -> dict[str, Any]:
        self.assertEqual(answer.status_code, status, answer.content[:300])
        self.assertEqual(answer.headers["Content-Type"], "application/problem+json")
        body: dict[str, Any] = answer.json()
        self.assertEqual((body["status"], body["code"]), (status, code))
        return body

    def test_json_nested_without_end_is_refused_to_a_stranger(self) -> None:
        self.client.logout()
        for depth in (41, 1_200, 100_000):
            nested = "[" * depth + "]" * depth
            for body in (nested, '{"username": ' + nested + "}"):
                answer = self.client.post("/api/session/sign-in", body, content_type=JSON)
                self.assertIn("nested too deep", self.problem(answer, 400, "parse_error")["detail"])

    def test_page_numbers_that_are_none(self) -> None:
        for given in ("²", "٣", "0", "-1", "1.5", "", "1e9", "9" * 400, "\x00", "1000001"):
            for name in ("page", "page_size"):
                answer = self.client.get("/api/orders", {name: given})
                self.assertEqual(self.problem(answer, 400, "not_valid")["field"], name)

    def test_ids_beyond_every_number_are_not_there(self) -> None:
        huge = 10**30
        self.problem(self.client.get(f"/api/orders/{huge}"), 404, "not_found")
        self.problem(self.client.get(f"/api/parcels/{huge}/label.pdf"), 404, "not_found")
        for path, body in (
            ("parcels/begin", {"order_id": huge}),
            ("recipes/propose", {"product_id": huge}),
            ("policies/plant_based/effect", {"recipe_ids": [huge]}),
        ):
            answer = self.client.post(f"/api/{path}", body, content_type=JSON)
            self.assertLess(answer.status_code, 500, (path, answer.content[:200]))

    def test_an_address_that_is_not_there(self) -> None:
        self.problem(self.client.get("/api/nothing/here"), 404, "not_found")
        self.client.logout()
        self.problem(self.client.get("/api/nothing/here"), 404, "not_found")
        self.assertEqual(self.client.get("/nothing/here").headers["Content-Type"].split(";")[0], "text/html")

    def test_another_method_another_kind_of_body_and_broken_json(self) -> None:
        self.problem(self.client.delete("/api/orders"), 405, "method_not_allowed")
        self.problem(
            self.client.post("/api/parcels/begin", "x=1", content_type="text/plain"), 415, "unsupported_media_type"
        )
        self.problem(self.client.post("/api/parcels/begin", "{", content_type=JSON), 400, "parse_error")
        self.problem(self.client.post("/api/parcels/begin", b"\xff\xfe{", content_type=JSON), 400, "parse_error")

    def test_more_than_is_read_at_once(self) -> None:
        with override_settings(DATA_UPLOAD_MAX_MEMORY_SIZE=1024 * 1024):
            answer = self.client.post("/api/orders/intake/preview", b" " * (1024 * 1024 + 1), content_type=JSON)
            self.assertIn("At most 1 MB", self.problem(answer, 413, "too_large")["detail"])
            # Declared as less than it is: reading stops at the limit all the same.
            answer = self.client.post(
                "/api/orders/intake/preview", b" " * (1024 * 1024 + 9), content_type=JSON, CONTENT_LENGTH="100"
            )
            self.assertIn(answer.status_code, (400, 413))

    def test_a_form_from_elsewhere(self) -> None:
        strict = Client(enforce_csrf_checks=True)
        self.problem(strict.post("/api/session/sign-in", {}, content_type=JSON), 403, "csrf")

    def test_a_fault_of_ours_says_so_and_names_its_line_in_the_log(self) -> None:
        self.client.raise_request_exception = False
        with mock.patch("server.overview.api._find", side_effect=ZeroDivisionError), self.assertLogs("django.request"):
            answer = self.client.get("/api/find?q=x")
        body = self.problem(answer, 500, "fault")
        self.assertIn(answer.headers["X-Request-Id"], body["detail"])

    def test_a_database_that_gave_up_waiting_is_busy(self) -> None:
        for cause in (LockNotAvailable(), DeadlockDetected()):
            error = OperationalError("canceling statement")
            error.__cause__ = cause
            with mock.patch("server.overview.api._find", side_effect=error):
                answer = self.client.get("/api/find?q=x")
            self.problem(answer, 503, "busy")
            self.assertEqual(answer.headers["Retry-After"], "2")

    def test_nothing_stays_in_a_cache_and_no_page_is_framed(self) -> None:
        for path in ("/api/orders", "/api/nothing", "/api/session"):
            self.assertEqual(self.client.get(path).headers["Cache-Control"], "no-store", path)
        self.assertEqual(self.client.get("/").headers["X-Frame-Options"], "DENY")


class AtTheDoor(DemoCase):
    def test_tries_are_counted_whatever_the_request_says_of_where_it_comes_from(self) -> None:
        self.client.logout()
        statuses = [
            self.client.post(
                "/api/session/sign-in",
                {"username": f"nobody{number}", "password": "guess"},
                content_type=JSON,
                headers={"X-Forwarded-For": f"10.0.0.{number}"},
            ).status_code
            for number in range(31)
        ]
        self.assertEqual((statuses[:30], statuses[30]), ([401] * 30, 429))

    def test_behind_a_proxy_of_ours_the_last_address_it_wrote_counts(self) -> None:
        request = mock.Mock(META={"HTTP_X_FORWARDED_FOR": "6.6.6.6, 10.1.1.1", "REMOTE_ADDR": "127.0.0.1"})
        for proxies, told in ((0, "127.0.0.1"), (1, "10.1.1.1"), (2, "6.6.6.6"), (3, "127.0.0.1")):
            with mock.patch.object(headers, "ENV", mock.Mock(proxies=proxies)):
                self.assertEqual(headers.client_address(request), told)


@FAST
class Busy(Shop, TransactionTestCase):
    """Somebody holds the workshop's lock and does not let go."""

    def test_who_waits_too_long_is_told_to_try_again_and_nothing_is_saved(self) -> None:
        self.workshop = make_workshop("hollin-row")
        self.owner = make_member(self.workshop, "maren", "owner")
        fill_workshop(self.workshop, orders=False)
        self.as_(self.owner)
        held, done = threading.Event(), threading.Event()

        def hold() -> None:
            close_old_connections()
            with transaction.atomic():
                Workshop.objects.select_for_update().get(pk=self.workshop.pk)
                held.set()
                done.wait(20)
            connection.close()

        thread = threading.Thread(target=hold)
        thread.start()
        held.wait(10)
        with connection.cursor() as cursor:
            cursor.execute("set lock_timeout = '200ms'")
        supply = self.supply("C-14")
        body = {"counted": "1", "request_key": "00000000-0000-4000-8000-000000000001"}
        answer = self.ask("post", f"supplies/{supply.pk}/count", body, status=503)
        done.set()
        thread.join()
        self.assertEqual(answer["code"], "busy")
        self.ask("post", f"supplies/{supply.pk}/count", body)
        with connection.cursor() as cursor:
            cursor.execute("reset lock_timeout")


class Deployed(SimpleTestCase):
    """Served over https, Django has nothing to remark (docs/operate.md)."""

    def test_check_deploy_is_silent(self) -> None:
        key = "kept-in-.data-and-made-of-many-different-letters-1234567890"
        environment = {**os.environ, "CALM_HTTPS": "1", "CALM_DEBUG": "0", "CALM_SECRET_KEY": key}
        environment.pop("DJANGO_ALLOW_ASYNC_UNSAFE", None)
        ran = subprocess.run(
            [sys.executable, "manage.py", "check", "--deploy", "--fail-level", "INFO"],
            env=environment,
            capture_output=True,
            text=True,
            check=False,
        )
        self.assertEqual((ran.returncode, "0 silenced" in ran.stdout), (0, True), ran.stdout + ran.stderr)


class Counted(SimpleTestCase):
    databases = {"default"}

    def test_the_table_that_counts_tries_is_there_after_the_start(self) -> None:
        call_command("createcachetable", verbosity=0)
        with connection.cursor() as cursor:
            cursor.execute("select count(*) from calm_cache")
