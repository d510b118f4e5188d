"""A plan is made without a lock; it is promised only when what it rests on is still so."""

import threading
from decimal import Decimal
from typing import Any
from unittest import mock
from uuid import uuid4

from django.db import close_old_connections, connection
from django.test import Client, TransactionTestCase

from server.orders.models import Order
from server.plans import services, waves, writing
from server.plans.models import Plan, PlannedUse
from server.supplies.services import receive
from server.workshops.happened import tell_anything
from server.workshops.models import lock_workshop
from tests.server.base import FAST, DemoCase, Shop, demo_shop


class Promised(DemoCase):
    def drafted(self, number: str) -> writing.Draft:
        Plan.objects.of(self.workshop).filter(order__number=number).update(stale=True)
        return writing.draft(self.workshop, [self.order(number)])

    def promise(self, drafted: writing.Draft) -> list[Plan] | None:
        return writing.promise(self.workshop, drafted, changes=lock_workshop(self.workshop))

    def test_a_draft_writes_nothing_and_its_promise_all(self) -> None:
        before = list(PlannedUse.objects.of(self.workshop).order_by("id").values_list("id", "quantity"))
        drafted = self.drafted("1160")
        self.assertEqual(
            list(PlannedUse.objects.of(self.workshop).order_by("id").values_list("id", "quantity")), before
        )
        (plan,) = self.promise(drafted) or []
        self.assertFalse(Plan.objects.of(self.workshop).get(pk=plan.pk).stale)

    def test_after_any_change_it_is_made_again(self) -> None:
        drafted = self.drafted("1160")
        tell_anything(self.workshop)
        self.assertIsNone(self.promise(drafted))

    def test_after_somebody_elses_decision_for_the_order_it_is_made_again(self) -> None:
        drafted = self.drafted("1160")
        services.choose_container(workshop=self.workshop, order_id=self.order("1160").pk, container="C-14")
        self.assertIsNone(self.promise(drafted))

    def test_stock_that_was_promised_to_another_meanwhile_is_not_promised_again(self) -> None:
        drafted = self.drafted("1160")
        code, needed = next(iter(drafted.orders[0].needed.items()))
        free = self.stock(code)["free"]
        other = Plan.objects.of(self.workshop).exclude(order__number="1160").filter(status="planned").first()
        assert other is not None
        supply = self.supply(code)
        PlannedUse.objects.of(self.workshop).update_or_create(
            plan=other, supply=supply, defaults={"workshop": self.workshop, "quantity": float(free) + float(needed) + 1}
        )
        self.assertIsNone(self.promise(drafted))

    def test_an_order_that_went_to_the_bench_meanwhile_keeps_its_plan(self) -> None:
        drafted = self.drafted("1160")
        services.plan_stale(workshop=self.workshop, orders=[self.order("1160").pk])
        self.to_bench("1160")
        self.assertIsNone(self.promise(drafted))

    def test_a_hold_set_meanwhile_stays(self) -> None:
        drafted = self.drafted("1160")
        self.ask("post", f"orders/{self.order('1160').pk}/hold", {"reason": "buyer rang"})
        self.assertIsNotNone(self.promise(drafted))
        row = self.order("1160")
        self.assertEqual((row.state, row.hold_code), (Order.State.HELD, "by_hand"))

    def test_what_changes_at_every_try_ends_with_the_lock_held(self) -> None:
        Plan.objects.of(self.workshop).filter(order__number="1160").update(stale=True)
        draft, calls = writing.draft, []

        def changing(*args: Any, **given: Any) -> Any:
            drafted = draft(*args, **given)
            calls.append(1)
            if len(calls) < 3:
                tell_anything(self.workshop)
            return drafted

        with mock.patch.object(services, "draft", side_effect=changing):
            services.plan_stale(workshop=self.workshop, orders=[self.order("1160").pk])
        self.assertEqual(len(calls), 3)
        self.assertFalse(Plan.objects.of(self.workshop).get(order__number="1160").stale)

    def test_opening_one_order_plans_that_one(self) -> None:
        Plan.objects.of(self.workshop).update(stale=True)
        before = services.due_orders(self.workshop).count()
        self.ask("get", f"orders/{self.order('1160').pk}/plan")
        self.assertEqual(services.due_orders(self.workshop).count(), before - 1)


D = Decimal


@FAST
class WhileOneIsPlanned(Shop, TransactionTestCase):
    def test_others_are_not_kept_waiting(self) -> None:
        """In the midst of the search somebody receives stock: done at once, and the plan is made anew with it."""
        self.workshop, self.owner, _ = demo_shop()
        waves.run_wave(workshop=self.workshop)
        Plan.objects.of(self.workshop).filter(order__number="1160").update(stale=True)
        supply = self.supply("C-14")
        draft, received, calls = writing.draft, threading.Event(), []

        def receive_meanwhile() -> None:
            close_old_connections()
            receive(by=self.owner, supply_id=supply.pk, quantity=D(1), total_cost=D(1), note="", request_key=uuid4())
            received.set()
            connection.close()

        def slow(*args: Any, **given: Any) -> Any:
            drafted = draft(*args, **given)
            calls.append(1)
            if len(calls) == 1:
                thread = threading.Thread(target=receive_meanwhile)
                thread.start()
                self.assertTrue(received.wait(10), "kept waiting by somebody's plan")
                thread.join()
            return drafted

        client = Client()
        client.force_login(self.owner.user, backend="django.contrib.auth.backends.ModelBackend")
        with mock.patch.object(services, "draft", side_effect=slow):
            answer = client.get(f"/api/orders/{self.order('1160').pk}/plan")
        self.assertEqual((answer.status_code, len(calls)), (200, 2))
