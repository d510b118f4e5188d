"""What a hostile or clumsy client sends: refused with words, never a 500, nothing half saved."""

import json
from typing import Any
from uuid import uuid4

from server.orders.models import Order
from server.supplies.models import Entry
from tests.server.base import DemoCase

ODD: tuple[Any, ...] = (
    "\x00",
    "a\x00b",
    "=1+1",
    "<script>",
    "x" * 100_000,
    -1,
    10**30,
    1e308,
    None,
    [],
    {},
    True,
    "NaN",
    "Infinity",
    "1e400",
    "٣",
)


class BadInput(DemoCase):
    def send(self, method: str, path: str, body: object) -> int:
        answer = getattr(self.client, method)(f"/api/{path}", data=json.dumps(body), content_type="application/json")
        self.assertLess(answer.status_code, 500, f"{path} {str(body)[:80]}: {answer.content[:200]!r}")
        if answer.status_code >= 400:
            self.assertTrue(answer.json()["detail"], path)
        status: int = answer.status_code
        return status

    def test_odd_values_in_every_field_are_refused_or_kept_as_text(self) -> None:
        supply, order = self.supply("C-14").pk, self.order("1163").pk
        parcel = self.to_bench("1160")["id"]
        bodies: dict[str, dict[str, Any]] = {
            f"supplies/{supply}/receive": {"quantity": "1", "total_cost": "1", "note": "", "request_key": str(uuid4())},
            f"supplies/{supply}/count": {"counted": "1", "note": "", "request_key": str(uuid4())},
            f"orders/{order}/hold": {"reason": "wait"},
            f"orders/{order}/plan/container": {"container": "C-14"},
            "orders/intake/preview": {"name": "f", "content": "x"},
            "orders/intake/accept": {"name": "f", "content": "x"},
            "parcels/begin": {"order_id": order},
            f"parcels/{parcel}/progress": {"step": 0, "ticked": {}},
            f"parcels/{parcel}/weigh": {"typed": "1 kg"},
            f"parcels/{parcel}/settle": {"words": "fine"},
            f"parcels/{parcel}/label": {"service": "LARK-TWO"},
            f"parcels/{parcel}/scale": {"again": False},
            "session/sign-in": {"username": "maren", "password": "x"},
        }
        for path, good in bodies.items():
            for field in good:
                for odd in ODD:
                    self.send("post", path, {**good, field: odd})
            wrong: tuple[Any, ...] = ([], "text", 7, None)
            for whole in wrong:
                self.send("post", path, whole)

    def test_odd_recipes_are_refused_by_their_path(self) -> None:
        recipe = self.ask("get", f"recipes/{self.ask('get', 'recipes')['results'][0]['id']}")
        for odd in ODD:
            for field in ("name", "goods_checks", "bands", "wrap_note"):
                document = {**recipe["document"], field: odd}
                self.send(
                    "post",
                    f"recipes/{recipe['id']}/versions",
                    {"base_version": 1, "reason": "why not", "document": document},
                )
                self.send("post", f"recipes/{recipe['id']}/preview", {"document": document})

    def test_odd_queries_are_refused_or_find_nothing(self) -> None:
        for path in (
            "orders?find=%00",
            "find?q=%00a",
            "find?q=" + "x" * 5000,
            "orders?state=%27",
            "supplies?page_size=100000",
            f"orders/{10**30}",
            f"orders/{10**30}/plan",
            "parcels?state=x",
        ):
            answer = self.client.get(f"/api/{path}")
            self.assertLess(answer.status_code, 500, path)

    def test_a_refused_request_leaves_nothing_behind(self) -> None:
        before = (Entry.objects.of(self.workshop).count(), Order.objects.of(self.workshop).filter(state="held").count())
        self.send(
            "post",
            f"supplies/{self.supply('C-14').pk}/receive",
            {"quantity": "1.5", "total_cost": "1", "request_key": str(uuid4())},
        )
        self.send("post", f"orders/{self.order('1163').pk}/hold", {"reason": ""})
        self.assertEqual(
            (Entry.objects.of(self.workshop).count(), Order.objects.of(self.workshop).filter(state="held").count()),
            before,
        )

    def test_an_order_of_ten_thousand_is_answered_in_words(self) -> None:
        head = "order,placed_on,buyer,town,postcode,country,sku,quantity,unit_price\n"
        content = (
            head + "8001,2026-11-20,Ada,Dunmere,DM1,ALM,SOAP-OAT,10000,1\n8002,2026-11-20,Ada,Dunmere,DM1,ALM,CLO-LIN,"
            "10000,1\n"
        )
        self.ask("post", "orders/intake/accept", {"name": "f", "content": content})
        self.assertEqual({self.order("8001").state, self.order("8002").state}, {"held"})
