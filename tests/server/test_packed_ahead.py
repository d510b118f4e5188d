"""Parcels packed ahead: supplies become finished parcels, an order that matches takes one, nothing is drawn twice."""

from decimal import Decimal
from typing import Any
from uuid import uuid4

from server.bench.models import Parcel, ReadyParcel
from server.plans.models import Plan
from server.plans.waves import run_wave
from server.recipes.models import Product
from server.supplies.models import Entry, Supply
from server.upkeep.invariants import broken
from tests.server.base import DemoCase


class PackedAheadCase(DemoCase):
    def ahead(self, sku: str = "CLO-LIN", units: int = 2, count: int = 3, status: int = 201, **more: Any) -> Any:
        product = Product.objects.of(self.workshop).get(sku=sku)
        body = {
            "product_id": product.pk,
            "units": units,
            "count": count,
            "place": "N1",
            "request_key": str(uuid4()),
            **more,
        }
        return self.ask("post", "ready-parcels", body, status=status)

    def on_hand(self, code: str) -> Decimal:
        return Decimal(self.stock(code)["on_hand"])


class PackedAhead(PackedAheadCase):
    def test_their_supplies_are_drawn_once_and_the_label_is_left_for_the_order(self) -> None:
        key = str(uuid4())
        mailers, labels = self.on_hand("M-2"), self.on_hand("L-100")
        made = self.ahead(request_key=key)["parcels"]
        self.assertEqual(
            [(one["units"], one["container"], one["place"], one["state"]) for one in made],
            [(2, "M-2", "N1", "ready")] * 3,
        )
        self.ahead(request_key=key)
        self.assertEqual((self.on_hand("M-2"), self.on_hand("L-100")), (mailers - 3, labels))
        self.assertEqual(self.ask("get", "ready-parcels")["count"], 3)
        entries = Entry.objects.of(self.workshop).filter(kind="converted")
        self.assertTrue(
            entries and all(entry.quantity < 0 and "packed ahead: 3 of 2 CLO-LIN" in entry.note for entry in entries)
        )

    def test_a_matching_order_takes_the_oldest_and_draws_only_what_is_its_own(self) -> None:
        made = self.ahead()["parcels"]
        mailers, labels = self.on_hand("M-2"), self.on_hand("L-100")
        parcel = self.to_bench("1162")  # two linen cloths
        self.assertEqual(parcel["steps"][1]["title"], "Take the parcel packed ahead from N1")
        self.assertEqual([s["kind"] for s in parcel["steps"]][-3:], ["weigh", "label", "hand_over"])
        self.assertNotIn("wrap", [s["kind"] for s in parcel["steps"]])
        grams = parcel["candidate"]["weight"]["gross_mg"] // 1000
        self.ask("post", f"parcels/{parcel['id']}/weigh", {"typed": f"{grams} g"})
        offer = self.ask("get", f"parcels/{parcel['id']}")["offers"][0]["service"]
        self.ask("post", f"parcels/{parcel['id']}/label", {"service": offer})
        self.ask("post", f"parcels/{parcel['id']}/close", {"request_key": str(uuid4())})
        self.assertEqual((self.on_hand("M-2"), self.on_hand("L-100")), (mailers, labels - 1))
        taken = self.ask("get", "ready-parcels?state=taken")["results"]
        self.assertEqual([(one["id"], one["order"]) for one in taken], [(made[0]["id"], "1162")])
        self.ask("post", f"parcels/{parcel['id']}/reopen", {"words": "look again"})
        self.assertEqual((self.on_hand("M-2"), self.on_hand("L-100")), (mailers, labels))

    def test_while_it_lies_at_the_bench_only_the_label_is_promised(self) -> None:
        self.ahead()
        before = Decimal(self.stock("M-2")["reserved"])
        self.to_bench("1162")
        self.assertEqual(Decimal(self.stock("M-2")["reserved"]), before - 1)

    def test_an_order_taken_off_the_bench_gives_its_parcel_back(self) -> None:
        made = self.ahead(count=1)["parcels"][0]
        parcel = self.to_bench("1162")
        self.assertEqual(self.ask("get", "ready-parcels")["count"], 0)
        self.ask("post", f"parcels/{parcel['id']}/hold", {"words": "buyer called"})
        self.assertEqual([one["id"] for one in self.ask("get", "ready-parcels")["results"]], [made["id"]])
        self.assertFalse(Parcel.objects.of(self.workshop).filter(ready__isnull=False).exists())

    def test_another_number_or_an_older_version_is_not_taken(self) -> None:
        self.ahead(units=1, count=1)
        self.assertEqual(self.to_bench("1162")["steps"][1]["title"], "Gather the goods and the container")
        pk = Product.objects.of(self.workshop).get(sku="PRE-BLK").recipe_id
        self.ahead(sku="PRE-BLK", units=4, count=1)
        document = self.ask("get", f"recipes/{pk}")["document"]
        document["bands"][2]["minutes"]["per_parcel"] = "9"
        self.ask(
            "post", f"recipes/{pk}/versions", {"base_version": 1, "reason": "timed", "document": document}, status=201
        )
        self.assertEqual(self.to_bench("1163")["steps"][1]["title"], "Gather the goods and the container")

    def test_unpacking_puts_everything_back_and_works_once(self) -> None:
        mailers = self.on_hand("M-2")
        made = self.ahead(count=1)["parcels"][0]
        self.ask("post", f"ready-parcels/{made['id']}/unpack", {"reason": "damp shelf"})
        self.assertEqual(self.on_hand("M-2"), mailers)
        self.assertEqual(
            self.ask("post", f"ready-parcels/{made['id']}/unpack", {"reason": "again"}, status=409)["code"], "not_ready"
        )
        self.assertEqual(ReadyParcel.objects.of(self.workshop).get().state, "unpacked")

    def test_too_little_stock_no_recipe_and_nonsense_draw_nothing(self) -> None:
        mailers = self.on_hand("M-2")
        answer = self.ahead(count=90, status=422)
        self.assertEqual(answer["code"], "no_stock")
        self.assertIn("is free in stock", answer["detail"])
        self.assertEqual(self.ahead(sku="HAMPER-1", status=422)["code"], "no_recipe")
        self.assertEqual(self.ahead(sku="START-LV", status=422)["code"], "blocked")
        self.ahead(count=0, status=422)
        self.assertEqual(self.ask("get", "ready-parcels?state=lost", status=400)["field"], "state")
        self.assertEqual((self.on_hand("M-2"), ReadyParcel.objects.of(self.workshop).count()), (mailers, 0))


class Released(PackedAheadCase):
    """An order that is blocked for want of stock is released by a parcel packed ahead."""

    def setUp(self) -> None:
        super().setUp()
        run_wave(workshop=self.workshop)

    def state(self, number: str = "1162") -> str:
        return self.order(number).state

    def reserved(self, code: str) -> Decimal:
        return Decimal(self.stock(code)["reserved"])

    def test_it_is_held_for_want_of_a_mailer_and_free_when_one_stands_ready(self) -> None:
        made = self.ahead(count=1)["parcels"][0]
        self.gone_all()
        self.assertEqual((self.state(), self.reserved("M-2")), ("planned", 0))
        plan = Plan.objects.of(self.workshop).get(order__number="1162")
        self.assertEqual(plan.standing_id, made["id"])
        # The label is the order's own.
        self.assertGreater(plan.uses.get(supply__code="L-100").quantity, 0)
        self.gathered(f"{plan.order_id}-1")
        parcel = self.to_bench("1162")
        self.assertEqual(parcel["steps"][1]["title"], "Take the parcel packed ahead from N1")
        self.gathered(f"{plan.order_id}-1")
        self.assertEqual([(one.code, rows) for one, _, rows in broken()], [])

    def gathered(self, key: str) -> None:
        """It is fetched whole: nothing to make up, nothing short."""
        found = self.ask("get", f"day/gather?parcels={key}")
        self.assertEqual(
            [(one["name"], one["place"]) for one in found["goods"]], [("Packed ahead: 2 Linen cloth", "N1")]
        )
        self.assertEqual((found["containers"], found["rolls"], found["supplies"]), ([], [], []))

    def gone_all(self) -> None:
        """No container is left that takes two cloths."""
        for row in Supply.objects.of(self.workshop).filter(kind__in=("carton", "mailer")):
            self.ask("post", f"supplies/{row.pk}/count", {"counted": "0", "request_key": str(uuid4())})
        run_wave(workshop=self.workshop)

    def test_unpacked_the_order_is_planned_from_what_went_back(self) -> None:
        made = self.ahead(count=1)["parcels"][0]
        self.gone_all()
        self.ask("post", f"ready-parcels/{made['id']}/unpack", {"reason": "wrong tissue"})
        run_wave(workshop=self.workshop)
        plan = Plan.objects.of(self.workshop).get(order__number="1162")
        self.assertEqual((plan.standing_id, self.state(), self.reserved("M-2")), (None, "planned", 1))

    def test_one_parcel_is_counted_on_by_one_order_and_taken_by_no_other(self) -> None:
        self.ahead(count=1)
        again = self.order("1162")
        line = again.lines.get()
        again.pk, again.number = None, "1162-B"
        again.save()
        line.pk, line.order = None, again
        line.save()
        self.gone_all()
        states = sorted([self.state(), self.state("1162-B")])
        self.assertEqual(states, ["held", "planned"])

    def test_without_one_it_stays_held(self) -> None:
        self.ahead(units=1, count=1)
        self.gone_all()
        self.assertEqual(self.state(), "held")
