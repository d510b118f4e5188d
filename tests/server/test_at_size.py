"""Beside thousands of closed orders the screens of every day read none of the tables that grow from end to end."""

from typing import ClassVar

from django.db import connection
from django.test import TestCase

from bench.explained import TRADE, read_whole
from bench.scale_fill import fill
from server.commands.demo import load_demo
from server.orders.models import Order
from server.recipes.models import Recipe
from server.upkeep.invariants import broken
from server.workshops.models import Member, Workshop
from tests.kept_rows import begin_with
from tests.server.base import FAST

#: Twenty times the sample's ten weeks.
_COPIES = 20


@FAST
class AtSize(TestCase):
    workshop: ClassVar[Workshop]

    @classmethod
    def setUpTestData(cls) -> None:
        begin_with("whole sample", load_demo)
        cls.workshop = Workshop.objects.get()
        fill(cls.workshop.pk, _COPIES)
        with connection.cursor() as cursor:
            cursor.execute("analyze")

    def setUp(self) -> None:
        owner = Member.objects.select_related("user").get(user__username="maren")
        self.client.force_login(owner.user, backend="django.contrib.auth.backends.ModelBackend")

    def test_what_is_used_all_day_goes_by_indexes(self) -> None:
        # Searches and arrivals are not among them: a few thousand rows are quicker read. bench/scale asks 50 000.
        recipe = Recipe.objects.of(self.workshop).get(code="preserve-250").pk
        order = Order.objects.of(self.workshop).filter(state="planned").values_list("pk", flat=True)[0]
        self.assertGreater(Order.objects.of(self.workshop).filter(state="packed").count(), 5_000)
        for path in (
            "rail", "day", "send-off", "orders", "orders?state=open", "orders?state=packed",
            f"orders/{order}/plan", "parcels?state=packing", "supplies", "buying/cover", "recipes",
            f"recipes/{recipe}", "holds",
        ):  # fmt: skip
            self.assertEqual(read_whole(self.client, f"/api/{path}"), [], path)

    def test_a_query_without_an_index_would_be_told(self) -> None:
        # What the test above rests on: the planner reads such a table whole, and it is seen.
        with connection.cursor() as cursor:
            cursor.execute("drop index parcels_gone")
            cursor.execute("drop index parcels_to_hand_over")
        told = read_whole(self.client, "/api/day")
        self.assertTrue(any(one.startswith("bench_parcel") for one in told), told)
        self.assertIn("bench_parcel", TRADE)

    def test_what_was_copied_holds_like_what_was_done(self) -> None:
        self.assertEqual([(one.code, rows[:2]) for one, _, rows in broken() if rows], [])
