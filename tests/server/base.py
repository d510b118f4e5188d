"""A workshop for the server's tests: the demo's files through the real intake, and an empty second workshop."""

import json
import multiprocessing
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any
from unittest import mock
from uuid import uuid4

from django.contrib.auth.models import User
from django.test import TestCase, override_settings
from django.utils import timezone

from server.bench.services import hand_over
from server.commands.intake import dated_up_to_today, import_kind, import_orders
from server.formats.base import read_file
from server.formats.orders import read_orders
from server.formats.workshop import WorkshopFile
from server.orders.models import Order
from server.supplies.models import Supply
from server.workshops.clock import today
from server.workshops.models import Member, Workshop
from server.workshops.services import import_workshop
from tests.kept_rows import begin_with

DEMO = Path(__file__).resolve().parent.parent.parent / "demo"
FAST = override_settings(PASSWORD_HASHERS=["django.contrib.auth.hashers.MD5PasswordHasher"])


def make_workshop(code: str) -> Workshop:
    document = json.loads((DEMO / "workshop.json").read_text())
    document["code"] = code
    return import_workshop(read_file(WorkshopFile, json.dumps(document), what="workshop file"))


def make_member(workshop: Workshop, name: str, role: str) -> Member:
    with FAST:
        user = User.objects.create_user(name, password="a-long-password", first_name=name.title())
    return Member.objects.create(user=user, workshop=workshop, role=role)


def fill_workshop(workshop: Workshop, *, orders: bool = True) -> None:
    """Import the demo's files."""
    import_kind(workshop, "supplies", (DEMO / "supplies.json").read_bytes(), by="test")
    import_kind(workshop, "tariff", (DEMO / "tariffs" / "larkline-2026-07.json").read_bytes(), by="test")
    for path in sorted((DEMO / "recipes").glob("*.json")):
        import_kind(workshop, "recipe", path.read_bytes(), by="test")
    import_kind(workshop, "products", (DEMO / "products.json").read_bytes(), by="test")
    if orders:
        read = read_orders((DEMO / "orders.csv").read_bytes(), today=today(workshop))
        import_orders(workshop, dated_up_to_today(read, workshop))


@contextmanager
def may_have_children() -> Iterator[None]:
    """Let a test begin processes of its own: those of a parallel test run are marked as not allowed to."""
    with mock.patch.dict(multiprocessing.current_process()._config, {"daemon": False}):  # type: ignore[attr-defined]
        yield


class Shop:
    """Short ways to ask the API and to look into the database; mixed into test cases."""

    workshop: Workshop
    owner: Member
    packer: Member
    client: Any

    def as_(self, member: Member) -> None:
        self.client.force_login(member.user, backend="django.contrib.auth.backends.ModelBackend")

    def ask(self, method: str, path: str, body: Any = None, status: int = 200) -> Any:
        call = getattr(self.client, method)
        response = (
            call(f"/api/{path}")
            if body is None and method == "get"
            else call(f"/api/{path}", data=json.dumps(body or {}), content_type="application/json")
        )
        self.assertEqual(response.status_code, status, f"{method} {path}: {response.content[:600]!r}")  # type: ignore[attr-defined]
        return response.json() if "json" in response.headers.get("Content-Type", "") else response

    def order(self, number: str) -> Order:
        return Order.objects.of(self.workshop).get(number=number)

    def supply(self, code: str) -> Supply:
        return Supply.objects.of(self.workshop).get(code=code)

    def stock(self, code: str) -> Any:
        return self.ask("get", f"supplies/{self.supply(code).pk}")

    def to_bench(self, number: str) -> Any:
        return self.ask("post", "parcels/begin", {"order_id": self.order(number).pk})

    def weighed(self, number: str) -> Any:
        parcel = self.to_bench(number)
        grams = parcel["candidate"]["weight"]["gross_mg"] // 1000
        return self.ask("post", f"parcels/{parcel['id']}/weigh", {"typed": f"{grams} g"})

    def labelled(self, number: str, service: str = "LARK-TWO") -> Any:
        parcel = self.weighed(number)
        return self.ask("post", f"parcels/{parcel['id']}/label", {"service": service})

    def closed(self, number: str) -> Any:
        parcel = self.labelled(number)
        return self.ask("post", f"parcels/{parcel['id']}/close", {"request_key": str(uuid4())})

    def sent(self, number: str) -> Any:
        """Close an order's parcel and let it leave."""
        parcel = self.closed(number)
        hand_over(workshop=self.workshop, parcel_ids=[parcel["id"]], at=timezone.now())
        return parcel


def _shop() -> None:
    workshop = make_workshop("hollin-row")
    make_member(workshop, "maren", "owner")
    make_member(workshop, "oswin", "packer")
    fill_workshop(workshop)


def demo_shop() -> tuple[Workshop, Member, Member]:
    """Make the demo workshop with its orders in an empty database; return it, its owner and its packer."""
    begin_with("shop", _shop)
    members = Member.objects.select_related("user", "workshop")
    owner, packer = (members.get(user__username=name) for name in ("maren", "oswin"))
    return owner.workshop, owner, packer


@FAST
class DemoCase(Shop, TestCase):
    """The demo workshop with its orders, an owner and a packer; signed in as the owner."""

    @classmethod
    def setUpTestData(cls) -> None:
        cls.workshop, cls.owner, cls.packer = demo_shop()

    def setUp(self) -> None:
        self.as_(self.owner)
