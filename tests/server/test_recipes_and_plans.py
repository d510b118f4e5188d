"""Recipe versions, plans that follow them, overrides, and what packed parcels keep."""

import copy
import json
from collections.abc import Callable
from typing import Any

from django.test import TestCase

from server.api.problems import Refused
from server.commands.intake import import_kind
from server.commands.management.commands.export_file import supplies_document
from server.designing.files import products_file
from server.formats.recipe import RecipeFile
from server.formats.supplies import SuppliesFile
from server.formats.tariff import TariffFile
from server.plans.mapping import plan_from_json, plan_to_json
from server.plans.models import Plan
from server.plans.tasks import plan_stale_orders
from server.recipes.models import Recipe, RecipeVersion
from tests.server.base import DEMO, DemoCase, fill_workshop, make_workshop


class Versions(DemoCase):
    def setUp(self) -> None:
        super().setUp()
        self.recipe = self.ask("get", f"recipes/{Recipe.objects.of(self.workshop).get(code='preserve-250').pk}")

    def keep(self, document: object, *, base: int = 1, status: int = 201):  # type: ignore[no-untyped-def]
        return self.ask(
            "post",
            f"recipes/{self.recipe['id']}/versions",
            {"base_version": base, "reason": "more below", "document": document},
            status=status,
        )

    def changed(self, **changes: object):  # type: ignore[no-untyped-def]
        document = copy.deepcopy(self.recipe["document"])
        document["bands"][1].update(changes)
        return document

    def test_a_change_makes_a_version_and_open_orders_follow_it_packed_ones_keep_theirs(self) -> None:
        packed = self.closed("1160")  # two jars in C-08
        self.keep(self.changed(outers=["C-14"]))
        plan = self.ask("get", f"orders/{self.order('1172').pk}/plan")
        self.assertEqual(plan["plan"]["recipe_versions"]["preserve-250"], 2)
        still = self.ask("get", f"parcels/{packed['id']}")
        self.assertEqual((still["recipe_versions"], still["candidate"]["container"]), ({"preserve-250": 1}, "C-08"))

    def test_the_worker_plans_what_a_new_version_touched(self) -> None:
        self.keep(self.changed(outers=["C-14"]))
        self.assertTrue(Plan.objects.of(self.workshop).filter(stale=True).exists())
        plan_stale_orders(workshop_id=self.workshop.pk)
        self.assertFalse(Plan.objects.of(self.workshop).filter(stale=True).exists())
        self.assertEqual(Plan.objects.of(self.workshop).get(order__number="1160").container, "C-14")

    def test_a_change_made_on_an_old_version_is_told_not_overwritten(self) -> None:
        self.keep(self.changed(gap_um=9000))
        problem = self.keep(self.changed(gap_um=10000), status=409)
        self.assertEqual((problem["code"], problem["facts"]), ("version_moved", {"newest": 2, "by": "Maren"}))
        self.assertEqual(RecipeVersion.objects.of(self.workshop).filter(recipe_id=self.recipe["id"]).count(), 2)

    def test_no_change_bad_bands_and_unknown_supplies_are_refused(self) -> None:
        self.assertEqual(self.keep(self.recipe["document"], status=422)["code"], "nothing_changed")
        self.assertIn("No order size covers 2 to 3", self.keep(self.changed(first=4, last=4), status=422)["detail"])
        problem = self.keep(self.changed(fill="GONE", outers=["F-KRA"]), status=422)
        self.assertEqual({f["path"] for f in problem["faults"]}, {"bands[1].fill", "bands[1].outers[0]"})

    def test_the_figures_follow_a_draft_without_keeping_it(self) -> None:
        figures = self.ask("post", f"recipes/{self.recipe['id']}/preview", {"document": self.changed(outers=["C-14"])})[
            "figures"
        ]
        self.assertEqual([f["container"] for f in figures], ["C-05", "C-14", "C-14", "C-18"])
        self.assertLess(float(figures[1]["postage_nearest"]), float(figures[1]["postage_farthest"]))
        impossible = self.ask(
            "post", f"recipes/{self.recipe['id']}/preview", {"document": self.changed(outers=["C-05"])}
        )["figures"][1]
        self.assertIn("No container takes this order", impossible["problem"])


class Plans(DemoCase):
    def plan(self, number: str):  # type: ignore[no-untyped-def]
        return self.ask("get", f"orders/{self.order(number).pk}/plan")["plan"]

    def test_order_1160_by_hand(self) -> None:
        """Two jars in C-08, worked out on paper.

        Goods 860 g; C-08 158 g; tissue 2 x 0.0711 m2 x 20 g; honeycomb 2 x 0.1438 m2 x 82 g; kraft 4.624 l x 35 g;
        tape H on both faces of 236 x 166 mm: 1.916 m x 9.6 g; card 6.2, slip 5, label 2.1 g: 1238 g.
        24 x 17 x 19 cm / 5000 = 1.550 kg: step 2 kg, zone 2: 5.50; fuel 6.5 % of 5.50 = 0.36; 5.86.
        """
        way = self.plan("1160")["ways"][0]["parcels"][0]["candidate"]
        self.assertEqual(way["container"], "C-08")
        self.assertEqual(round(way["weight"]["gross_mg"] / 1000), 1238)
        self.assertEqual((way["quote"]["billable_mg"], way["quote"]["step_mg"]), (1_550_400, 2_000_000))
        self.assertEqual(
            [(line["label"], line["amount"]) for line in way["quote"]["lines"]],
            [("Base, zone 2", "5.50"), ("Fuel", "0.36")],
        )
        self.assertEqual(way["costs"]["postage"], "5.86")

    def test_an_override_is_kept_marked_checked_and_taken_back(self) -> None:
        path = f"orders/{self.order('1160').pk}/plan/container"
        chosen = self.ask("post", path, {"container": "C-14"})["plan"]
        self.assertEqual((chosen["overridden"], chosen["ways"][0]["containers"][0]), (True, "C-14"))
        refused = self.ask("post", path, {"container": "C-05"}, status=409)
        self.assertEqual(refused["code"], "override_refused")
        self.assertEqual(self.plan("1160")["ways"][0]["containers"][0], "C-14")
        self.assertFalse(self.ask("post", path, {"container": None})["plan"]["overridden"])

    def test_a_carton_the_recipe_does_not_name_may_be_used_once_by_a_person(self) -> None:
        blocked = self.plan("1175")
        offered = [r["container"] for r in blocked["ruled_out"] if r["code"] == "not_in_recipe"]
        self.assertEqual(offered, ["C-30"])
        order = self.order("1175")
        chosen = self.ask("post", f"orders/{order.pk}/plan/container", {"container": "C-30"})
        self.assertEqual((chosen["plan"]["overridden"], chosen["order"]["state"]), (True, "planned"))

    def test_other_ways_carry_their_difference_and_ruled_out_ones_their_reason(self) -> None:
        plan = self.plan("1160")
        self.assertTrue(all(float(way["difference"]) > 0 for way in plan["ways"][1:]))
        self.assertIn("22 mm too low", next(r["reason"] for r in plan["ruled_out"] if r["container"] == "C-11"))

    def test_a_plan_read_back_from_its_document_is_the_same_plan(self) -> None:
        for row in Plan.objects.of(self.workshop):
            document = row.document
            self.assertEqual(plan_to_json(plan_from_json(document)), document)


class Files(TestCase):
    def test_what_is_exported_reads_back_as_it_was(self) -> None:
        workshop = make_workshop("files")
        fill_workshop(workshop, orders=False)
        supplies, products = supplies_document(workshop), products_file(workshop)
        other = make_workshop("other")
        import_kind(other, "supplies", json.dumps(supplies).encode(), by="t")
        for path in (DEMO / "recipes").glob("*.json"):
            import_kind(other, "recipe", path.read_bytes(), by="t")
        import_kind(other, "products", products.model_dump_json().encode(), by="t")
        self.assertEqual(SuppliesFile.model_validate(supplies_document(other)), SuppliesFile.model_validate(supplies))
        self.assertEqual(products_file(other), products)

    def test_every_demo_recipe_and_tariff_survives_a_round_trip(self) -> None:
        for path in (DEMO / "recipes").glob("*.json"):
            file = RecipeFile.model_validate_json(path.read_text())
            self.assertEqual(RecipeFile.model_validate_json(file.model_dump_json()), file)
        for path in (DEMO / "tariffs").glob("*.json"):
            tariff = TariffFile.model_validate_json(path.read_text())
            self.assertEqual(TariffFile.model_validate_json(tariff.model_dump_json()), tariff)

    def test_a_tariff_that_skips_back_or_prices_an_unknown_zone_is_refused(self) -> None:
        workshop = make_workshop("tariffs")
        whole = json.loads((DEMO / "tariffs" / "larkline-2026-07.json").read_text())
        cases: tuple[tuple[Callable[[Any], object], str], ...] = (
            (lambda t: t["services"][0]["zones"][0]["steps"][1].update(up_to_mg=250_000), "does not come after"),
            (lambda t: t["services"][0]["zones"][0].update(zone="Z9"), "no zone rule leads to"),
            (lambda t: t.update(currency="Kr"), "counts in Cr"),
        )
        for change, words in cases:
            broken = copy.deepcopy(whole)
            change(broken)
            with self.subTest(words), self.assertRaises(Refused) as caught:
                import_kind(workshop, "tariff", json.dumps(broken).encode(), by="t")
            said = " ".join(map(str, (caught.exception.detail, *(f.message for f in caught.exception.faults))))
            self.assertIn(words, said)

    def test_another_tariff_under_the_same_version_is_refused(self) -> None:
        workshop = make_workshop("tariffs")
        whole = json.loads((DEMO / "tariffs" / "larkline-2026-07.json").read_text())
        import_kind(workshop, "tariff", json.dumps(whole).encode(), by="t")
        self.assertIn("unchanged", import_kind(workshop, "tariff", json.dumps(whole).encode(), by="t"))
        whole["services"][0]["zones"][0]["steps"][0]["price"] = "2.41"
        with self.assertRaises(Refused) as caught:
            import_kind(workshop, "tariff", json.dumps(whole).encode(), by="t")
        self.assertEqual(caught.exception.code, "version_exists")
