"""Plans beyond the choice of a carton: room to spare, the pack card, a carton cut down, planning in waves."""

import subprocess
import tempfile
from pathlib import Path
from typing import Any
from unittest import mock

from django.test import TestCase

from core.parcels import remembered
from core.parcels.plan import plan_order
from server.formats.recipe import RecipeFile
from server.formats.supplies import SuppliesFile
from server.orders.models import Order, OrderLine
from server.plans import facts, services, waves
from server.plans.models import Plan, Wave
from server.plans.tasks import plan_stale_orders
from server.workshops.happened import tell_stock
from tests.server.base import DEMO, DemoCase


class RoomToSpare(DemoCase):
    def test_it_says_how_many_more_jars_the_chosen_carton_takes(self) -> None:
        room = self.ask("get", f"orders/{self.order('1174').pk}/plan/room")
        # Nine jars in C-18, three layers never: it holds twelve standing.
        self.assertEqual([line["more"] for line in room["parcels"][0]["lines"]], [3])
        self.assertIn("at most 12 of 13", room["parcels"][0]["lines"][0]["limit"])

    def test_an_order_without_a_plan_is_told_so(self) -> None:
        held = Order.objects.of(self.workshop).filter(plan__status="blocked").first()
        assert held is not None
        self.assertEqual(self.ask("get", f"orders/{held.pk}/plan/room", status=409)["code"], "blocked")
        self.assertEqual(self.ask("get", f"orders/{held.pk}/plan/card.pdf", status=409)["code"], "blocked")


class PackCard(DemoCase):
    def test_it_prints_every_layer_and_amount_of_the_plan(self) -> None:
        order = self.order("1174")
        plan = self.ask("get", f"orders/{order.pk}/plan")["plan"]
        response = self.client.get(f"/api/orders/{order.pk}/plan/card.pdf")
        self.assertEqual((response.status_code, response["Content-Type"]), (200, "application/pdf"))
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "card.pdf"
            path.write_bytes(response.content)
            done = subprocess.run(["pdftotext", "-layout", str(path), "-"], capture_output=True, text=True, check=True)
        text = done.stdout
        self.assertIn("Pack card, order 1174", text)
        for layer in plan["ways"][0]["parcels"][0]["layers"]:
            self.assertIn(layer["title"][:24], text)
        for ref in plan["supplies"]:
            if any(use["supply"] == ref["code"] for use in plan["ways"][0]["parcels"][0]["candidate"]["uses"]):
                self.assertIn(ref["name"][:16], text)
        self.assertEqual(response.content, self.client.get(f"/api/orders/{order.pk}/plan/card.pdf").content)


class CutDown(DemoCase):
    def test_a_person_may_choose_the_carton_cut_down_and_the_bench_is_told_to_cut_it(self) -> None:
        order = self.order("1174")
        ways = self.ask("get", f"orders/{order.pk}/plan")["plan"]["ways"]
        cut = next(c for way in ways if (c := way["parcels"][0]["candidate"])["change"])
        self.assertEqual(cut["key"], f"C-30/{cut['change']['cut_to_um'] // 1000}")
        chosen = self.ask("post", f"orders/{order.pk}/plan/container", {"container": cut["key"]})["plan"]
        self.assertEqual((chosen["overridden"], chosen["ways"][0]["key"]), (True, cut["key"]))
        parcel = self.ask("post", "parcels/begin", {"order_id": order.pk})
        titles = [step["title"] for step in parcel["steps"]]
        self.assertTrue(any(title.startswith("Cut C-30 down to") for title in titles), titles)

    def test_a_height_that_nobody_offered_is_refused(self) -> None:
        path = f"orders/{self.order('1174').pk}/plan/container"
        self.assertEqual(self.ask("post", path, {"container": "C-30/5"}, status=409)["code"], "override_refused")


class Decisions(DemoCase):
    def decide(self, number: str, status: int = 200, **what: object) -> Any:
        body = {"forbidden": [], "may_lie_down": [], "note": "", **what}
        return self.ask("post", f"orders/{self.order(number).pk}/plan/overrides", body, status=status)

    def test_a_forbidden_container_is_not_used_and_may_be_again(self) -> None:
        before = self.ask("get", f"orders/{self.order('1160').pk}/plan")["plan"]["ways"][0]["containers"][0]
        self.assertEqual(before, "C-08")
        # The recipe names C-08 alone for two jars: without it another must be chosen, or the wish is refused.
        refused = self.decide("1160", status=409, forbidden=["C-08"])
        self.assertEqual(refused["code"], "override_refused")
        self.assertEqual(self.ask("get", f"orders/{self.order('1160').pk}/plan")["overrides"]["forbidden"], [])
        mixed = self.decide("1172", forbidden=["C-16"])
        self.assertNotEqual(mixed["plan"]["ways"][0]["containers"][0], "C-16")
        self.assertTrue(mixed["plan"]["overridden"])
        reasons = {one["container"]: one["code"] for one in mixed["plan"]["ruled_out"]}
        self.assertEqual(reasons["C-16"], "forbidden")
        again = self.decide("1172")
        self.assertEqual((again["plan"]["overridden"], again["overrides"]["forbidden"]), (False, []))

    def test_goods_laid_down_may_lie_on_any_side_and_the_note_stays(self) -> None:
        order = self.order("1172")
        sku = order.lines.first().sku  # type: ignore[union-attr]
        kept = self.decide("1172", may_lie_down=[sku], note="  Ring before you close it. ")
        self.assertEqual(kept["overrides"]["note"], "Ring before you close it.")
        tell_stock(self.workshop, [self.supply("C-16").pk])
        waves.run_wave(workshop=self.workshop)
        self.assertEqual(self.ask("get", f"orders/{order.pk}/plan")["overrides"]["may_lie_down"], [sku])

    def test_the_note_reaches_the_bench_before_the_cautions(self) -> None:
        self.decide("1160", note="Ring before you close it.")
        first = self.to_bench("1160")["steps"][1]
        self.assertEqual((first["kind"], first["cautions"][0]), ("gather", "Ring before you close it."))

    def test_what_is_not_there_and_what_contradicts_itself_is_refused(self) -> None:
        self.assertEqual(self.decide("1160", status=409, forbidden=["C-99"])["field"], "forbidden")
        self.assertEqual(self.decide("1160", status=409, may_lie_down=["NOPE"])["field"], "may_lie_down")
        self.decide("1160", status=422, note="x" * 301)
        path = f"orders/{self.order('1160').pk}/plan/container"
        self.ask("post", path, {"container": "C-14"})
        self.assertIn("undo that first", str(self.decide("1160", status=409, forbidden=["C-14"])["detail"]))

    def test_at_the_bench_nothing_is_decided_any_more(self) -> None:
        self.to_bench("1160")
        self.assertEqual(self.decide("1160", status=409, note="late")["code"], "not_open")


class Occasions(DemoCase):
    def test_an_insert_for_first_orders_waits_for_one(self) -> None:
        loaded = facts.load(self.workshop, list(Order.objects.of(self.workshop)))
        order = self.order("1174")
        self.assertTrue(loaded.occasion_of(order).first_order)
        Order.objects.of(self.workshop).create(
            workshop=self.workshop,
            channel="shop",
            number="1990",
            placed_on=order.placed_on,
            buyer=order.buyer,
            postcode=order.postcode,
            country=order.country,
            postage_charged=0,
            goods_value=0,
            taken_in_at=order.taken_in_at,
        )
        self.assertFalse(facts.load(self.workshop, [order]).occasion_of(order).first_order)
        self.assertEqual(loaded.occasion_of(order).value, order.goods_value)


def alone(_: remembered.Remembered, *asked: object, **given: object) -> object:
    """Plan as if nothing were remembered."""
    return plan_order(*asked, **given)  # type: ignore[arg-type]


class Waves(DemoCase):
    def due(self) -> int:
        return services.due_orders(self.workshop).count()

    def test_planning_all_anew_marks_every_open_order_and_the_worker_plans_them(self) -> None:
        open_count = services.open_orders(self.workshop).count()
        answer = self.ask("post", "plans/wave", {})
        self.assertEqual((answer["running"], answer["due"]), (False, open_count))
        self.assertEqual(plan_stale_orders(workshop_id=self.workshop.pk), open_count)
        self.assertEqual(self.due(), 0)
        wave = Wave.objects.of(self.workshop).latest("id")
        self.assertEqual((wave.done, wave.total, wave.ended_at is not None), (open_count, open_count, True))
        self.assertFalse(self.ask("get", "plans/wave")["running"])

    def test_orders_that_are_alike_are_planned_once_and_get_what_each_would_get_alone(self) -> None:
        old = list(services.open_orders(self.workshop))
        for number, order in enumerate(old[:6] * 2):
            lines = list(OrderLine.objects.of(self.workshop).filter(order_id=order.pk))
            order.pk, order.number, order.buyer = None, f"A{number}", f"Buyer {number}"
            order.save(force_insert=True)
            for line in lines:
                line.pk, line.order = None, order
                line.save(force_insert=True)

        def documents() -> dict[str, object]:
            Plan.objects.of(self.workshop).update(stale=True)
            waves.run_wave(workshop=self.workshop)
            plans = Plan.objects.of(self.workshop).select_related("order", "kept")
            return {plan.order.number: plan.document for plan in plans}

        documents()  # now each has promised what it needs, and finds the same shelf from here on
        with mock.patch.object(remembered, "plan_order", side_effect=plan_order) as planned:
            together = documents()
        self.assertLess(planned.call_count, len(together) - 5)
        with mock.patch.object(remembered.Remembered, "plan_order", alone):
            apart = documents()
        self.assertEqual([number for number in together if together[number] != apart[number]], [])

    def test_a_stopped_wave_keeps_what_it_has_planned_and_another_goes_on(self) -> None:
        waves.run_wave(workshop=self.workshop)
        Plan.objects.of(self.workshop).update(stale=True)
        before = self.due()
        seen: list[dict[str, object]] = []

        def stop_after(**given: object) -> int:
            seen.append(self.ask("get", "plans/wave"))
            self.ask("post", "plans/wave/stop", {})
            return services.plan_stale(workshop=self.workshop, orders=list(given["orders"]))  # type: ignore[call-overload]

        with mock.patch.object(waves, "plan_stale", side_effect=stop_after), mock.patch.object(waves, "_HANDFUL", 3):
            self.assertEqual(waves.run_wave(workshop=self.workshop), 3)
        self.assertEqual((seen[0]["running"], seen[0]["done"], seen[0]["total"]), (True, 0, before))
        self.assertEqual(self.due(), before - 3)
        self.assertEqual(waves.run_wave(workshop=self.workshop), before - 3)

    def test_a_wave_left_open_by_a_dead_worker_is_taken_over(self) -> None:
        waves.run_wave(workshop=self.workshop)
        Plan.objects.of(self.workshop).update(stale=True)
        before = self.due()
        with (
            mock.patch.object(waves, "plan_stale", side_effect=SystemExit),
            mock.patch.object(waves, "_HANDFUL", 3),
            self.assertRaises(SystemExit),
        ):
            waves.run_wave(workshop=self.workshop)
        self.assertTrue(self.ask("get", "plans/wave")["running"])
        self.assertEqual(waves.run_wave(workshop=self.workshop), before)
        self.assertEqual(Wave.objects.of(self.workshop).filter(ended_at=None).count(), 0)

    def test_only_the_orders_that_use_a_supply_are_planned_again_when_it_moves(self) -> None:
        waves.run_wave(workshop=self.workshop)
        supply = self.supply("C-18")
        tell_stock(self.workshop, [supply.pk])
        stale = set(Plan.objects.of(self.workshop).filter(stale=True).values_list("order__number", flat=True))
        users = set(
            Plan.objects.of(self.workshop)
            .filter(uses__supply=supply, order__in=services.open_orders(self.workshop))
            .values_list("order__number", flat=True)
        )
        blocked = set(
            Plan.objects.of(self.workshop)
            .filter(status="blocked", order__in=services.open_orders(self.workshop))
            .values_list("order__number", flat=True)
        )
        self.assertTrue(users)
        self.assertEqual(stale, users | blocked)


class NewFields(TestCase):
    def recipe(self, **band: object) -> list[str]:
        document = RecipeFile.model_validate_json((DEMO / "recipes" / "preserve-250.json").read_bytes()).model_dump(
            mode="json"
        )
        document["bands"][0].update(band)
        try:
            RecipeFile.model_validate(document)
        except ValueError as error:
            return [".".join(str(part) for part in fault["loc"]) for fault in error.errors()]  # type: ignore[attr-defined]
        return []

    def test_amount_rules_and_conditions_are_read_and_their_faults_named(self) -> None:
        good = {"insert": "I-CARD", "amount": 1, "per": "group", "group_of": 3, "when": {"season": ["11-15", "01-06"]}}
        self.assertEqual(self.recipe(inserts=[good]), [])
        self.assertEqual(self.recipe(inserts=[{**good, "per": "mood"}]), ["bands.0.inserts.0.per"])
        self.assertEqual(self.recipe(inserts=[{**good, "group_of": 0}]), ["bands.0.inserts.0.group_of"])
        self.assertEqual(
            self.recipe(inserts=[{**good, "when": {"season": ["13-01", "01-06"]}}]), ["bands.0.inserts.0.when.season.0"]
        )
        self.assertEqual(self.recipe(inserts=[{**good, "when": {"moon": "full"}}]), ["bands.0.inserts.0.when.moon"])
        self.assertEqual(self.recipe(school="hope"), ["bands.0.school"])

    def test_a_cut_as_high_as_the_carton_is_refused(self) -> None:
        document = SuppliesFile.model_validate_json((DEMO / "supplies.json").read_bytes()).model_dump(mode="json")
        carton = next(item for item in document["supplies"] if item["code"] == "C-30")
        carton["facts"]["cut"]["lowest_um"] = carton["facts"]["inner"]["height_um"]
        with self.assertRaisesRegex(ValueError, "every height must be under the carton's own 300000 um"):
            SuppliesFile.model_validate(document)
