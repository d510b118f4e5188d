"""A buyer who cancels late: what was begun, labelled or closed is taken back; nothing is lost or left over."""

from decimal import Decimal
from typing import Any
from uuid import uuid4

from server.bench.models import Parcel
from server.carriers.models import Label
from server.orders.models import Order
from server.plans.models import Plan, PlanDocument, PlannedUse
from server.supplies.models import Entry
from server.upkeep.invariants import broken
from tests.server.test_carrier import CarrierCase

D = Decimal


class TakingBack(CarrierCase):
    def hold(self, parcel: Any, status: int = 200, **more: object) -> Any:
        return self.ask("post", f"parcels/{parcel['id']}/hold", {"words": "buyer rang", **more}, status=status)

    def on_hand(self, *codes: str) -> dict[str, Decimal]:
        return {code: D(self.stock(code)["on_hand"]) for code in codes}

    def free(self, *codes: str) -> dict[str, Decimal]:
        return {code: D(self.stock(code)["free"]) for code in codes}

    def codes(self, parcel: Any) -> list[str]:
        return sorted({use["supply"] for use in parcel["candidate"]["uses"]})

    def tearDown(self) -> None:
        self.assertEqual([(one.code, rows) for one, _, rows in broken()], [])
        super().tearDown()

    def test_closed_reopened_label_given_back_and_held(self) -> None:
        begun = self.to_bench("1160")
        before = self.on_hand(*self.codes(begun))
        parcel = self.closed("1160")
        self.ask("post", f"parcels/{parcel['id']}/reopen", {"words": "forgot the card"})
        self.void(parcel)
        order = self.hold(parcel)
        self.assertEqual((order["state"], order["parcel_id"]), ("held", None))
        self.assertEqual(self.on_hand(*before), before)
        row = Parcel.objects.of(self.workshop).get(pk=parcel["id"])
        self.assertEqual(row.state, Parcel.State.UNDONE)
        self.assertTrue(Entry.objects.of(self.workshop).filter(parcel=row).exists(), "the ledger keeps what it tells")
        self.assertEqual(Label.objects.of(self.workshop).get(parcel=row).state, Label.State.VOID)

    def test_after_that_it_is_packed_anew(self) -> None:
        first = self.closed("1160")
        self.ask("post", f"parcels/{first['id']}/reopen", {"words": "forgot the card"})
        self.void(first)
        self.hold(first)
        self.ask("post", f"orders/{self.order('1160').pk}/release")
        second = self.closed("1160")
        self.assertNotEqual(second["id"], first["id"])
        self.assertEqual(self.order("1160").state, Order.State.PACKED)
        self.ask("get", f"parcels/{first['id']}", status=404)
        self.assertEqual(
            self.ask("post", f"parcels/{first['id']}/weigh", {"typed": "1 kg"}, status=409)["code"], "undone"
        )

    def test_what_cannot_go_back_leaves_the_stock_as_spoiled(self) -> None:
        parcel = self.weighed("1160")
        carton = parcel["candidate"]["container"]
        others = [code for code in self.codes(parcel) if code != carton]
        before, untouched = self.on_hand(carton), self.on_hand(*others)
        self.hold(parcel, spoiled=[carton])
        self.assertEqual(self.on_hand(carton)[carton], before[carton] - 1)
        self.assertEqual(self.on_hand(*others), untouched)
        entry = Entry.objects.of(self.workshop).get(kind="spoiled")
        self.assertEqual((entry.quantity, entry.note, entry.by), (D(-1), "undone: buyer rang", "Maren"))

    def test_spoiled_names_what_the_parcel_uses_and_nothing_else(self) -> None:
        parcel = self.to_bench("1160")
        told = self.hold(parcel, 422, spoiled=["C-30"])
        self.assertEqual((told["code"], told["field"]), ("unknown", "spoiled"))
        self.assertIn(parcel["candidate"]["container"], told["detail"])
        self.assertEqual(self.order("1160").state, Order.State.BENCH)

    def test_cancelled_at_the_bench(self) -> None:
        parcel = self.to_bench("1160")
        codes = self.codes(parcel)
        promised = self.free(*codes)
        order = self.hold(parcel, cancel=True, spoiled=[parcel["candidate"]["container"]])
        self.assertEqual((order["state"], order["reason"]), ("cancelled", "buyer rang"))
        self.assertFalse(Plan.objects.of(self.workshop).filter(order__number="1160").exists())
        freed = self.free(*codes)
        self.assertTrue(all(freed[code] >= promised[code] for code in codes))
        self.assertTrue(any(freed[code] > promised[code] for code in codes))

    def test_one_with_a_label_or_a_closed_part_is_not_taken_off(self) -> None:
        labelled = self.labelled("1160")
        self.assertEqual(self.hold(labelled, 409, cancel=True)["code"], "label_bought")
        first = self.to_bench("1183")
        grams = first["candidate"]["weight"]["gross_mg"] // 1000
        self.ask("post", f"parcels/{first['id']}/weigh", {"typed": f"{grams} g"})
        bought = self.ask("get", f"parcels/{first['id']}")["offers"][0]["service"]
        self.ask("post", f"parcels/{first['id']}/label", {"service": bought})
        self.ask("post", f"parcels/{first['id']}/close", {"request_key": str(uuid4())})
        second = next(part for part in first["parts"] if part["id"] != first["id"])
        self.assertEqual(self.hold(second, 409)["code"], "already_closed")

    def test_an_open_order_is_cancelled_and_opened_again(self) -> None:
        order = self.order("1163")
        documents = PlanDocument.objects.of(self.workshop).count()
        told = self.ask("post", f"orders/{order.pk}/cancel", {"reason": "changed her mind"})
        self.assertEqual((told["state"], told["reason"]), ("cancelled", "changed her mind"))
        self.assertEqual(PlannedUse.objects.of(self.workshop).filter(plan__order=order).count(), 0)
        self.assertEqual(PlanDocument.objects.of(self.workshop).count(), documents - 1)
        open_ones = self.ask("get", "orders?state=open&page_size=200")["results"]
        self.assertNotIn("1163", [row["number"] for row in open_ones])
        found = self.ask("get", "orders?state=cancelled")["results"]
        self.assertEqual([row["number"] for row in found], ["1163"])
        self.assertEqual(
            self.ask("post", f"orders/{order.pk}/hold", {"reason": "wait"}, status=409)["code"], "cancelled"
        )
        self.ask("post", "parcels/begin", {"order_id": order.pk}, status=409)
        self.assertEqual(self.ask("post", f"orders/{order.pk}/release")["state"], "planned")

    def test_a_packed_order_is_not_cancelled(self) -> None:
        self.closed("1160")
        order = self.order("1160")
        self.assertEqual(
            self.ask("post", f"orders/{order.pk}/cancel", {"reason": "too late"}, status=409)["code"], "not_open"
        )


class LabelledAtAnotherWeight(CarrierCase):
    def weigh(self, parcel: Any, mg: int) -> Any:
        self.ask("post", f"parcels/{parcel['id']}/weigh", {"typed": f"{mg / 1_000_000} kg"})
        return self.ask("post", f"parcels/{parcel['id']}/settle", {"words": "a stone for the doorstop"})

    def close(self, parcel: Any, status: int = 200, **more: object) -> Any:
        body = {"request_key": str(uuid4()), **more}
        return self.ask("post", f"parcels/{parcel['id']}/close", body, status=status)

    def test_it_is_not_closed_without_a_word(self) -> None:
        parcel = self.labelled("1160")
        shown = self.weigh(parcel, 4_314_000)
        told = self.close(parcel, 409)
        self.assertEqual(told["code"], "label_weight")
        self.assertIn("4.314 kg", told["detail"])
        self.assertGreater(D(told["facts"]["asked"]), D(told["facts"]["listed"]))
        self.assertEqual(shown["charge"]["asked"], told["facts"]["asked"])
        self.assertEqual(self.order("1160").state, Order.State.BENCH)

    def test_a_person_agrees_to_just_that_charge(self) -> None:
        parcel = self.labelled("1160")
        asked = self.weigh(parcel, 4_314_000)["charge"]["asked"]
        self.assertEqual(self.close(parcel, 409, agreed="0.01")["code"], "label_weight")
        closed = self.close(parcel, agreed=asked)
        self.assertEqual((closed["state"], closed["charge_agreed"]), ("closed", asked))
        self.assertEqual(closed["postage"], parcel["label"]["price"])

    def test_beyond_what_the_service_takes_nobody_can_agree(self) -> None:
        parcel = self.labelled("1160")
        charge = self.weigh(parcel, 80_000_000)["charge"]
        self.assertIsNone(charge["asked"])
        told = self.close(parcel, 409, agreed=charge["listed"])
        self.assertIn("does not take it. Cancel the label and buy another.", told["detail"])

    def test_within_the_same_step_nothing_is_asked(self) -> None:
        parcel = self.labelled("1160")
        again = self.ask("post", f"parcels/{parcel['id']}/weigh", {"typed": f"{parcel['measured_mg'] // 1000 + 1} g"})
        self.assertIsNone(again["charge"])
        self.assertEqual(self.close(parcel)["charge_agreed"], None)

    def test_a_new_label_at_the_new_weight_settles_it(self) -> None:
        parcel = self.labelled("1160")
        self.weigh(parcel, 4_314_000)
        self.void(parcel)
        self.assertIsNone(self.buy(parcel)["charge"])
        self.close(parcel)
