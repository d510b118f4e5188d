"""Signing in, throttling, CSRF, CSP, scoping, and the shape of problems."""

import json
import tempfile
from pathlib import Path

from django.core.cache import cache
from django.test import Client, override_settings

from server.api.spa import _page
from server.bench.models import Parcel
from server.orders.models import Order
from server.workshops.models import UnscopedQuery
from tests.server.base import DemoCase


class SigningIn(DemoCase):
    def setUp(self) -> None:
        cache.clear()
        self.client.logout()

    def sign_in(self, password: str, client: Client | None = None):  # type: ignore[no-untyped-def]
        body = json.dumps({"username": "maren", "password": password})
        return (client or self.client).post("/api/session/sign-in", body, content_type="application/json")

    def test_the_right_password_opens_and_signing_out_closes(self) -> None:
        self.assertEqual(self.sign_in("a-long-password").json()["role"], "owner")
        self.assertEqual(self.ask("get", "session")["workshop"], "Hollin Row Pantry & Clay")
        self.assertEqual(self.client.delete("/api/session").status_code, 204)
        self.ask("get", "session", status=401)

    def test_a_wrong_password_is_said_and_the_fifth_rests_the_name(self) -> None:
        for _ in range(4):
            answer = self.sign_in("wrong")
            self.assertEqual((answer.status_code, answer.json()["code"]), (401, "wrong_password"))
        self.assertEqual(self.sign_in("wrong").status_code, 429)
        rested = self.sign_in("a-long-password")
        self.assertEqual((rested.status_code, rested.json()["code"]), (429, "too_many_tries"))

    def test_a_flood_of_tries_is_throttled(self) -> None:
        codes = {
            self.client.post(
                "/api/session/sign-in",
                json.dumps({"username": f"u{i}", "password": "x"}),
                content_type="application/json",
            ).status_code
            for i in range(40)
        }
        self.assertIn(429, codes)

    def test_writing_without_the_token_is_refused(self) -> None:
        strict = Client(enforce_csrf_checks=True)
        self.assertEqual(self.sign_in("a-long-password", strict).status_code, 403)
        strict.force_login(self.owner.user, backend="django.contrib.auth.backends.ModelBackend")
        refused = strict.post(
            f"/api/orders/{self.order('1160').pk}/hold", json.dumps({"reason": "wait"}), content_type="application/json"
        )
        self.assertEqual(refused.status_code, 403)

    def test_asking_who_is_signed_in_brings_the_token_that_signing_in_needs(self) -> None:
        strict = Client(enforce_csrf_checks=True)
        self.assertEqual(strict.get("/api/session").status_code, 401)
        token = strict.cookies["csrftoken"].value
        body = json.dumps({"username": "maren", "password": "a-long-password"})
        answer = strict.post(
            "/api/session/sign-in", body, content_type="application/json", headers={"X-CSRFToken": token}
        )
        self.assertEqual(answer.status_code, 200)

    def test_a_user_without_a_workshop_comes_nowhere(self) -> None:
        self.owner.delete()
        self.assertEqual(self.sign_in("a-long-password").status_code, 401)


class Doors(DemoCase):
    def test_the_page_carries_a_strict_policy_and_this_requests_nonce(self) -> None:
        page = self.client.get("/orders")
        policy = page.headers["Content-Security-Policy"]
        self.assertIn("script-src 'self'", policy)
        self.assertNotIn("unsafe", policy)
        nonce = policy.split("'nonce-")[1].split("'")[0]
        self.assertIn(nonce, page.content.decode())

    def test_a_new_build_does_not_change_the_page_of_a_running_app(self) -> None:
        with tempfile.TemporaryDirectory() as folder, override_settings(STATIC_ROOT=Path(folder)):
            (Path(folder) / "index.html").write_text("<p>collected __SIGNED_IN__</p>")
            _page.cache_clear()
            self.addCleanup(_page.cache_clear)
            self.assertEqual(self.client.get("/orders").content.decode(), "<p>collected yes</p>")

    def test_a_query_that_names_no_workshop_is_an_error(self) -> None:
        for ask in (Order.objects.all, lambda: Order.objects.filter(number="1160"), Order.objects.count):
            with self.assertRaises(UnscopedQuery):
                ask()

    def test_only_a_column_that_names_one_row_is_asked_before_anybody_is_known(self) -> None:
        self.assertIsNone(Parcel.objects.by_key(buyer_code="no-such-code").first())
        for key in ({"state": "closed"}, {"buyer_code": ""}):
            with self.assertRaises(UnscopedQuery):
                Parcel.objects.by_key(**key)

    def test_a_problem_names_code_field_and_every_fault(self) -> None:
        problem = self.ask(
            "post",
            f"supplies/{self.supply('C-14').pk}/receive",
            {"quantity": "-3", "total_cost": "x", "colour": "red"},
            status=422,
        )
        self.assertEqual(problem["code"], "not_valid")
        self.assertEqual(
            {fault["path"] for fault in problem["faults"]}, {"quantity", "total_cost", "colour", "request_key"}
        )

    def test_what_is_not_json_or_a_page_that_is_none_is_a_400(self) -> None:
        answer = self.client.post("/api/orders/intake/preview", "{", content_type="application/json")
        self.assertEqual(answer.status_code, 400)
        for page in ("0", "-1", "x", "99999999999"):
            self.assertEqual(self.ask("get", f"orders?page={page}", status=400)["field"], "page")
