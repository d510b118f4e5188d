"""What the API says and does for hands: days, steps left open, numbers, encodings, advice told once, imports at once.

The numbers in the names are those of the points the tests stand for.
"""

import json
from base64 import b64encode
from datetime import timedelta
from typing import Any

from procrastinate.contrib.django.models import ProcrastinateJob

from core.messages import say
from server.commands.intake import import_kind
from server.orders.models import Order
from server.plans.mapping import texts_to_json
from server.plans.models import AdviceSeen
from server.recipes.models import Product
from server.workshops.clock import today
from tests.server.base import DEMO, DemoCase
from tests.server.test_orders import GOOD, HEAD


class Weighing(DemoCase):
    def test_1_a_missing_jar_of_a_mixed_order_is_asked_about(self) -> None:
        parcel = self.to_bench("1172")
        grams = parcel["candidate"]["weight"]["gross_mg"] // 1000
        weighed = self.ask("post", f"parcels/{parcel['id']}/weigh", {"typed": f"{grams - 430} g"})
        check = weighed["weight_check"]
        self.assertFalse(check["fine"])
        self.assertEqual(check["explanations"][0]["slip"]["kind"], "unit_missing")
        self.assertIn("is missing", check["message"])

    def test_1_readiness_names_a_recipe_whose_uncertainty_hides_a_whole_unit(self) -> None:
        def codes() -> set[str]:
            rows = self.ask("get", "readiness?page_size=100")["results"]
            row = next(row for row in rows if row["sku"] == "PRE-BLK")
            return {lack["code"] for size in row["sizes"] for lack in size["lacks"]}

        self.assertNotIn("unit_hidden", codes())
        Product.objects.of(self.workshop).filter(sku="PRE-BLK").update(weight_mg=9_000, weight_spread_mg=0)
        self.assertIn("unit_hidden", codes())


class Advice(DemoCase):
    def test_4_the_same_advice_on_order_after_order_is_told_once_at_the_recipe(self) -> None:
        recipe = Product.objects.of(self.workshop).get(sku="PRE-BLK").recipe
        assert recipe is not None
        for order in Order.objects.of(self.workshop).order_by("number")[:3]:
            AdviceSeen.objects.of(self.workshop).create(
                workshop=self.workshop,
                order=order,
                recipe=recipe.code,
                recurs="fill:F-KRA:F-AIR",
                words=texts_to_json((say("fill_with", fill="Air", now="Kraft"),))[0],
                saves="0.40",
            )
        told = self.ask("get", f"recipes/{recipe.pk}/steps")["recurring"]
        self.assertEqual([(one["orders"], one["saves"]) for one in told], [(3, "1.20")])
        self.assertEqual(told[0]["recipe"], recipe.name)


class Bench(DemoCase):
    def test_7_the_slip_comes_first_and_closing_before_what_is_turned_over(self) -> None:
        kinds = [step["kind"] for step in self.to_bench("1172")["steps"]]
        self.assertEqual(kinds[:2], ["print", "gather"])
        order = [kind for kind in dict.fromkeys(kinds) if kind in ("prove", "close", "prove_closed", "weigh", "label")]
        self.assertEqual(
            order, [kind for kind in ("prove", "close", "prove_closed", "weigh", "label") if kind in order]
        )

    def test_10_steps_gone_past_stay_open_and_are_kept(self) -> None:
        parcel = self.to_bench("1160")
        weigh = next(n for n, step in enumerate(parcel["steps"]) if step["kind"] == "weigh")
        path = f"parcels/{parcel['id']}/progress"
        kept = self.ask("post", path, {"step": weigh, "ticked": {}, "skipped": [0, 2]})
        self.assertEqual((kept["step"], kept["skipped"]), (weigh, [0, 2]))
        self.assertEqual(self.ask("get", f"parcels/{parcel['id']}")["skipped"], [0, 2])
        done = self.ask("post", path, {"step": weigh, "ticked": {}, "skipped": [2, 99]})
        self.assertEqual(done["skipped"], [2])

    def test_11_numbers_with_comma_point_and_no_unit_are_read_as_the_field_shows(self) -> None:
        parcel = self.to_bench("1160")
        path = f"parcels/{parcel['id']}/weigh"
        for typed, unit, grams in (
            ("1,24", "kg", 1240),
            ("1.24", "kg", 1240),
            ("1240", "g", 1240),
            ("1240 g", "kg", 1240),
        ):
            weighed = self.ask("post", path, {"typed": typed, "shown_unit": unit})
            self.assertEqual(weighed["measured_mg"], grams * 1000, typed)
        asked = self.ask("post", path, {"typed": "1,200", "shown_unit": "kg"}, status=422)
        self.assertIn("'1,200' may be 1.2 or 1200", asked["detail"])
        self.assertEqual(self.ask("get", f"parcels/{parcel['id']}")["measured_mg"], 1_240_000)


class Days(DemoCase):
    def test_9_an_order_waits_for_its_day_and_the_plan_goes_by_it(self) -> None:
        order = self.order("1163")
        self.ask("get", f"orders/{order.pk}/plan")
        monday = today(self.workshop) + timedelta(days=21 - today(self.workshop).weekday())
        kept = self.ask("post", f"orders/{order.pk}/plan/overrides", {
            "forbidden": [], "may_lie_down": [], "note": "", "not_before": str(monday),
        })  # fmt: skip
        self.assertEqual(kept["ship_on"], str(monday))
        row = self.ask("get", f"orders/{order.pk}")
        self.assertEqual((row["state"], row["held_by"]), ("held", "until_day"))
        self.ask("post", "parcels/begin", {"order_id": order.pk}, status=409)


class Room(DemoCase):
    def test_12_what_ships_for_no_more_looks_at_every_way_the_order_may_go(self) -> None:
        order = self.order("1160")
        plan = self.ask("get", f"orders/{order.pk}/plan")["plan"]
        self.assertGreater(len(plan["ways"]), 1)
        (line,) = self.ask("get", f"orders/{order.pk}/plan/spare")["lines"]
        self.assertGreaterEqual(line["for_nothing"], 0)
        # What the next one would mean names a container that the order's recipe does not: all were looked at.
        self.assertIn("more postage", line["then"])


class Encodings(DemoCase):
    ROW = GOOD.replace("Ada Vell", "Ada Vérà").replace("2001", "2101")

    def preview(self, content: bytes) -> Any:
        body = {"name": "o.csv", "content_base64": b64encode(content).decode()}
        return self.ask("post", "orders/intake/preview", body)

    def test_14_a_windows_1252_file_is_read_and_said_to_be(self) -> None:
        for encoding, name in (
            ("utf-8", "utf-8"),
            ("utf-8-sig", "utf-8"),
            ("cp1252", "windows-1252"),
            ("utf-16", "utf-16"),
        ):
            read = self.preview(f"{HEAD}\n{self.ROW}\n".encode(encoding))
            self.assertEqual((read["encoding"], read["lines"][0]["buyer"], read["faults"]), (name, "Ada Vérà", []))

    def test_14_what_is_no_text_is_an_error_of_the_file(self) -> None:
        read = self.preview(b"order,\xff\x81\x00")
        self.assertEqual([one["column"] for one in read["faults"]], ["file"])
        self.ask("post", "orders/intake/preview", {"name": "o", "content_base64": "not base64!"}, status=422)
        self.ask("post", "orders/intake/preview", {"name": "o"}, status=400)

    def test_14_the_orders_imported_keep_their_accents(self) -> None:
        content = b64encode(f"{HEAD}\n{self.ROW}\n".encode("cp1252")).decode()
        self.ask("post", "orders/intake/accept", {"name": "o.csv", "content_base64": content})
        self.assertEqual(self.order("2101").buyer, "Ada Vérà")


class ManyAtOnce(DemoCase):
    def test_17_a_large_import_answers_before_its_orders_are_planned(self) -> None:
        lines = [GOOD.replace("2001", str(3000 + n)) for n in range(200)]
        done = self.ask("post", "orders/intake/accept", {"name": "o.csv", "content": "\n".join([HEAD, *lines])})
        self.assertEqual(done["new_orders"], 200)
        self.assertEqual(Order.objects.of(self.workshop).filter(state="new", number__startswith="3").count(), 200)
        jobs = ProcrastinateJob.objects.filter(queueing_lock=f"plan-{self.workshop.pk}", status="todo")
        self.assertEqual(jobs.count(), 1)

    def test_17_a_proposal_goes_on_from_the_sizes_it_has(self) -> None:
        row = Product.objects.of(self.workshop).get(sku="PRE-BLK")
        whole = self.ask("post", "recipes/propose", {"product_id": row.pk, "up_to": 4})
        first = self.ask("post", "recipes/propose", {"product_id": row.pk, "up_to": 2})
        self.assertEqual((len(first["sizes"]), first["whole"], first["most"]), (2, False, 24))
        then = self.ask("post", "recipes/propose", {"product_id": row.pk, "up_to": 4, "known": first["sizes"]})
        self.assertEqual((then["sizes"], then["document"]), (whole["sizes"], whole["document"]))
        wrong = {"product_id": row.pk, "up_to": 4, "known": first["sizes"][1:]}
        self.ask("post", "recipes/propose", wrong, status=422)


class Claims(DemoCase):
    def test_8_a_proposal_says_which_craft_it_took_and_why_and_makes_no_claim_unasked(self) -> None:
        made = self.ask(
            "post",
            "products",
            {
                "product": {
                    "sku": "WRAPS",
                    "name": "Beeswax wraps",
                    "weight_mg": 60_000,
                    "food": True,
                    "fragility": "sturdy",
                    "size": {"length_um": 200_000, "width_um": 180_000, "height_um": 4_000},
                }
            },
            status=201,
        )
        proposal = self.ask("post", "recipes/propose", {"product_id": made["id"], "up_to": 1})
        self.assertNotIn("bake", proposal["craft"])
        self.assertTrue(proposal["craft_why"])
        self.assertEqual(proposal["document"]["buyer_note"], "")
        fresh = Product.objects.of(self.workshop).get(sku="LOAF-GIN")
        loaf = {"product_id": fresh.pk, "craft": "soft-bake", "up_to": 1}
        plain, asked = (self.ask("post", "recipes/propose", {**loaf, "claims": c}) for c in ([], ["buyer-note"]))
        self.assertEqual(plain["document"]["buyer_note"], "")
        self.assertNotEqual(asked["document"]["buyer_note"], "")


class Notes(DemoCase):
    def test_an_import_on_the_command_line_tells_its_oddities_in_words(self) -> None:
        document = json.loads((DEMO / "carriers" / "wending-2026-04.json").read_text())
        told = import_kind(self.workshop, "tariff", json.dumps(document).encode(), by="test")
        lines = told.splitlines()
        self.assertEqual(lines[0], "tariff Wending Post 2026-04")
        for line in lines[1:]:
            self.assertTrue(line.startswith("  check: "), line)
            self.assertNotIn("Message(", line)
        self.assertEqual(
            import_kind(self.workshop, "tariff", json.dumps(document).encode(), by="test"),
            "tariff Wending Post 2026-04 was already imported, unchanged",
        )


class Settings(DemoCase):
    def test_1_readiness_goes_by_the_workshops_own_judgement_of_slips(self) -> None:
        """A look that takes an hour is never worth it: then more is hidden, and readiness says so."""

        def hidden() -> int:
            rows = self.ask("get", "readiness?page_size=100")["results"]
            return sum(lack["code"] == "unit_hidden" for row in rows for size in row["sizes"] for lack in size["lacks"])

        Product.objects.of(self.workshop).filter(sku="PRE-BLK").update(weight_mg=40_000, weight_spread_mg=0)
        before = hidden()
        self.workshop.look_minutes = 60
        self.workshop.save()
        self.assertGreater(hidden(), before)


class NoService(DemoCase):
    def test_services_that_do_not_go_there_are_told_together(self) -> None:
        reason = self.ask("get", f"orders/{self.order('1181').pk}")["reason"]
        self.assertEqual(reason.count("TOR"), 1)
        for name in ("Larkline Packet", "Larkline Two-day"):
            self.assertIn(name, reason)
