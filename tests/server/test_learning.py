"""What the bench taught, through the API: offered, never taken silently, taken once, taken back."""

from decimal import Decimal
from typing import Any
from uuid import uuid4

from server.bench.models import Parcel, StepTime
from server.outcomes.models import Arrival, LearnedValue
from server.recipes.models import Product, RecipeVersion
from server.supplies.models import Entry
from server.upkeep.invariants import broken
from tests.server.base import DemoCase

__all__: list[str] = []


class LearningCase(DemoCase):
    """A parcel of preserves that left, copied: the same parcel ten times, each with its own times and weight."""

    times = 10

    def setUp(self) -> None:
        super().setUp()
        parcel_id = self.sent("1160")["id"]
        first = Arrival.objects.of(self.workshop).get(parcel_id=parcel_id)
        goods = first.goods.get()
        self.units = goods.units
        self.product = Product.objects.of(self.workshop).get(sku=goods.sku)
        row = Parcel.objects.of(self.workshop).select_related("kept").get(pk=parcel_id)
        plan = row.plan  # one plan for all: each copy is another part of it
        plan["chosen"]["parcels"] *= self.times
        row.kept.write(plan)
        row.kept.save()
        for number in range(2, self.times + 1):
            row.pk, row.part, row.buyer_code, row.close_key = None, number, None, uuid4()
            row.save()
            first.pk, first.parcel_id = None, row.pk
            first.save()
            goods.pk, goods.arrival_id = None, first.pk
            goods.save()

    def offers(self, kind: str) -> list[Any]:
        return [one for one in self.ask("get", "learned")["offers"] if one["kind"] == kind]

    def take(self, offer: Any, status: int = 201, key: str | None = None) -> Any:
        body = {
            "request_key": key or str(uuid4()), "kind": offer["kind"], "subject": offer["subject"],
            "after": {one["name"]: one["after"] for one in offer["figures"]},
        }  # fmt: skip
        return self.ask("post", "learned/taken", body, status=status)


class Weights(LearningCase):
    def setUp(self) -> None:
        super().setUp()
        for at, row in enumerate(Arrival.objects.of(self.workshop).order_by("id")):
            row.measured_mg = row.expected_mg + 20_000 * self.units + (at % 3 - 1) * 1_000
            row.save(update_fields=["measured_mg"])

    def test_a_weight_the_scale_says_otherwise_is_offered_and_nothing_is_changed(self) -> None:
        (offer,) = self.offers("weight")
        before = self.product.weight_mg or 0
        figure = offer["figures"][0]
        self.assertEqual((offer["subject"], offer["count"]), (self.product.sku, self.times))
        self.assertAlmostEqual(float(figure["after"]), before + 20_000, delta=1_500)
        self.product.refresh_from_db()
        self.assertEqual(self.product.weight_mg, before)

    def test_taken_it_is_in_plans_and_taken_back_it_is_as_before(self) -> None:
        (offer,) = self.offers("weight")
        before = self.product.weight_mg
        key = str(uuid4())
        taken, again = self.take(offer, key=key), self.take(offer, key=key)
        self.assertEqual(taken["id"], again["id"])
        self.product.refresh_from_db()
        self.assertEqual(self.product.weight_mg, int(float(offer["figures"][0]["after"])))
        self.assertEqual(self.offers("weight"), [])
        self.ask("post", f"learned/taken/{taken['id']}/undo")
        self.product.refresh_from_db()
        self.assertEqual(self.product.weight_mg, before)
        self.assertIsNotNone(LearnedValue.objects.of(self.workshop).get().undone_at)

    def test_what_somebody_changed_since_is_not_put_back(self) -> None:
        taken = self.take(self.offers("weight")[0])
        Product.objects.of(self.workshop).filter(pk=self.product.pk).update(weight_mg=123_000)
        self.assertEqual(self.ask("post", f"learned/taken/{taken['id']}/undo", status=409)["code"], "changed_since")

    def test_an_offer_that_has_moved_is_not_taken_as_it_was_seen(self) -> None:
        (offer,) = self.offers("weight")
        offer["figures"][0]["after"] = "1"
        self.assertEqual(self.take(offer, status=409)["code"], "changed")
        self.ask(
            "post", "learned/taken",
            {"request_key": str(uuid4()), "kind": "weight", "subject": "SALT-PIG", "after": {}}, status=404,
        )  # fmt: skip

    def test_what_it_changes_is_worked_out_for_every_order_size(self) -> None:
        (offer,) = self.offers("weight")
        found = self.ask("post", "learned/effects", {"kind": "weight", "subject": offer["subject"]})["effects"]
        self.assertEqual(float(found[0]["grams"]), round(20.0 * found[0]["units"], 1))

    def test_a_parcel_with_a_unit_missing_tells_of_the_parcel(self) -> None:
        row = Arrival.objects.of(self.workshop).order_by("id").first()
        assert row is not None
        with_it = self.offers("weight")[0]["count"]
        row.measured_mg = row.expected_mg - (self.product.weight_mg or 0) * self.units
        row.save(update_fields=["measured_mg"])
        self.assertEqual(self.offers("weight")[0]["count"], with_it - 1)


class MinutesOfHands(LearningCase):
    def setUp(self) -> None:
        super().setUp()
        version = RecipeVersion.objects.of(self.workshop).get(recipe__code="preserve-250")
        minutes = version.document["bands"][0]["minutes"]
        self.planned = Decimal(minutes["per_unit"]) * self.units + Decimal(minutes["per_parcel"])
        StepTime.objects.of(self.workshop).all().delete()
        StepTime.objects.of(self.workshop).bulk_create(
            StepTime(
                workshop=self.workshop, parcel_id=parcel, step=0, kind="pack", units=self.units,
                seconds=int(self.planned * 60 * 2) + at,
            )
            for at, parcel in enumerate(Arrival.objects.of(self.workshop).values_list("parcel_id", flat=True))
        )  # fmt: skip

    def test_twice_the_minutes_are_offered_and_taken_as_a_new_version(self) -> None:
        (offer,) = self.offers("minutes")
        self.assertEqual(offer["count"], self.times)
        self.take(offer)
        newest = RecipeVersion.objects.of(self.workshop).filter(recipe__code="preserve-250").order_by("-number")[0]
        self.assertEqual((newest.number, newest.reason), (2, f"Minutes learned from {self.times} parcels"))
        after = newest.document["bands"][0]["minutes"]
        worked = Decimal(after["per_unit"]) * self.units + Decimal(after["per_parcel"])
        self.assertAlmostEqual(float(worked / self.planned), 2, delta=0.1)
        self.assertEqual(self.offers("minutes"), [])

    def test_minutes_protect_nothing_so_arrivals_of_the_version_before_count_on(self) -> None:
        row = Arrival.objects.of(self.workshop).order_by("id")[0]
        self.ask("put", f"arrivals/{row.pk}/answer", {"revision": 0, "outcome": "broken"})
        self.take(self.offers("minutes")[0])
        found = self.ask("get", f"recipes/{self.product.recipe_id}/arrivals")
        self.assertEqual([(run["first"], run["last"]) for run in found["runs"]], [(1, 2)])
        self.assertNotIn("arrivals_counted", [one.code for one, _, _ in broken()])

    def test_a_parcel_that_took_an_afternoon_is_a_pause(self) -> None:
        row = StepTime.objects.of(self.workshop).order_by("id")[0]
        StepTime.objects.of(self.workshop).filter(pk=row.pk).update(seconds=4 * 3_600)
        (offer,) = self.offers("minutes")
        self.assertEqual((offer["count"], offer["left_out"]), (self.times - 1, 1))


class BulgeAndFill(LearningCase):
    def test_five_measured_cartons_teach_how_far_the_fill_bulges(self) -> None:
        ids = list(Arrival.objects.of(self.workshop).order_by("id").values_list("parcel_id", flat=True))
        planned = self.ask("get", f"parcels/{ids[0]}")["candidate"]["outer"]
        sides = {name: f"{planned[f'{name}_um'] / 1000 + more} mm" for name, more in
                 (("length", 2), ("width", 2), ("height", 15))}  # fmt: skip
        for parcel in ids[:5]:
            self.ask("put", f"parcels/{parcel}/outer", sides)
        (offer,) = self.offers("bulge")
        self.assertEqual((offer["count"], float(offer["figures"][0]["after"])), (5, 15_000))
        self.take(offer)
        self.assertEqual(self.supply(offer["subject"]).facts["bulge_um"], 15_000)

    def test_a_side_that_is_far_off_is_a_slip_of_the_tape(self) -> None:
        parcel = Arrival.objects.of(self.workshop).order_by("id")[0].parcel_id
        told = self.ask("put", f"parcels/{parcel}/outer", {"length": "3 m", "width": "1", "height": "1"}, status=422)
        self.assertEqual(told["field"], "length")
        self.ask("put", f"parcels/{parcel}/outer", {"length": "wide", "width": "1", "height": "1"}, status=422)

    def test_two_counts_teach_how_much_fill_is_really_used(self) -> None:
        fill = self.supply("F-KRA")
        factor = Decimal(str(fill.facts["packing_factor"]))
        parcel = Arrival.objects.of(self.workshop).order_by("id")[0].parcel_id
        average = Entry.objects.of(self.workshop).filter(supply=fill).order_by("-id")[0].average_after
        Entry.objects.of(self.workshop).filter(supply=fill, kind="used").delete()
        for kind, quantity in (("used", -20), ("counted", -4), ("used", -30), ("counted", -6)):
            Entry.objects.of(self.workshop).create(
                workshop=self.workshop, supply=fill, kind=kind, quantity=quantity, average_after=average,
                by="test", at=fill.entries.order_by("-id")[0].at, parcel_id=parcel if kind == "used" else None,
            )  # fmt: skip
        (offer,) = self.offers("fill")
        self.assertEqual(float(offer["figures"][0]["after"]), float(round(factor * Decimal("1.2"), 2)))
        self.take(offer)
        self.assertEqual(Decimal(self.supply("F-KRA").facts["packing_factor"]), round(factor * Decimal("1.2"), 2))


class GoodsOfArrivals(LearningCase):
    times = 2

    def test_with_two_parcels_nothing_is_offered(self) -> None:
        self.assertEqual([one for one in self.ask("get", "learned")["offers"] if one["kind"] != "fill"], [])
