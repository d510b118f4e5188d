"""The design desk over HTTP: products, proposals, new recipes, files and cards, tests, policies, readiness."""

import base64
import json
from typing import Any
from uuid import uuid4

from django.db import connection
from django.test.utils import CaptureQueriesContext

from server.formats.recipe_card import read_recipe_card
from server.recipes.models import Product, RecipeVersion, Trial
from tests.server.base import DemoCase
from tests.server.test_papers import read_back

PNG = b"\x89PNG\r\n\x1a\n a picture"
NEW = {
    "sku": "JAM-FIG",
    "name": "Fig jam, 300 ml",
    "size": {"length_um": 76_000, "width_um": 76_000, "height_um": 104_000},
    "weight_mg": 505_000,
    "goods_cost": "2.40",
    "fragility": "delicate",
    "food": True,
    "glass": True,
}


def file(content: bytes | str) -> dict[str, str]:
    raw = content.encode() if isinstance(content, str) else content
    return {"name": "a file", "content": base64.b64encode(raw).decode()}


class Desk(DemoCase):
    def recipe_id(self, code: str) -> int:
        return next(int(r["id"]) for r in self.ask("get", "recipes?page_size=100")["results"] if r["code"] == code)

    def product(self, sku: str) -> Any:
        return next(p for p in self.ask("get", "products?page_size=100")["results"] if p["sku"] == sku)

    def ready(self, sku: str) -> Any:
        return next(r for r in self.ask("get", "readiness?page_size=100")["results"] if r["sku"] == sku)


class Products(Desk):
    def test_a_product_is_added_changed_and_found_and_its_sku_stays(self) -> None:
        made = self.ask("post", "products", {"product": NEW}, status=201)
        self.assertEqual((made["sku"], made["weight_mg"], made["recipe_id"]), ("JAM-FIG", 505_000, None))
        self.assertEqual(self.ask("post", "products", {"product": NEW}, status=409)["code"], "sku_taken")
        changed = self.ask("put", f"products/{made['id']}", {"product": {**NEW, "weight_mg": 510_000}})
        self.assertEqual(changed["weight_mg"], 510_000)
        self.assertEqual(
            self.ask("put", f"products/{made['id']}", {"product": {**NEW, "sku": "OTHER"}}, status=422)["field"], "sku"
        )
        self.assertEqual([p["sku"] for p in self.ask("get", "products?find=fig")["results"]], ["JAM-FIG"])

    def test_faults_of_a_product_name_field_value_and_limit_and_change_nothing(self) -> None:
        bad = {**NEW, "weight_mg": -5, "fragility": "glassy", "size": {"length_um": 1}}
        answer = self.ask("post", "products", {"product": bad}, status=422)
        paths = {fault["path"] for fault in answer["faults"]}
        self.assertGreaterEqual(len(paths), 4)
        self.assertFalse(Product.objects.of(self.workshop).filter(sku="JAM-FIG").exists())

    def test_both_files_read_back_as_the_same_products(self) -> None:
        before = self.ask("get", "products/file")
        csv = self.ask("get", "products/file?as=csv").content
        for content in (csv, json.dumps(before)):
            done = self.ask("post", "products/file", file(content))
            self.assertEqual((done["new"], done["known"]), (0, len(before["products"])))
            self.assertEqual(self.ask("get", "products/file"), before)

    def test_a_csv_with_faults_names_each_by_line_and_column_and_takes_nothing_in(self) -> None:
        text = (
            "sku,name,length,width,height,weight,food\nA-1,One,10 cm,9 cm,8 cm,300 g,yes\nA-2,Two,wide,9 "
            "cm,8 cm,heavy,perhaps\nA-1,Again,,,,,\n"
        )
        answer = self.ask("post", "products/file", file(text), status=422)
        self.assertEqual(
            {f["path"] for f in answer["faults"]}, {"line 3, length", "line 3, weight", "line 3, food", "line 4, sku"}
        )
        self.assertFalse(Product.objects.of(self.workshop).filter(sku__startswith="A-").exists())
        for rubbish in (b"\xff\xfe\x00", b'"open', b"sku;name\n1;2", b"sku,name,name\nA-9,b,c"):
            self.ask("post", "products/file", file(rubbish), status=422)

    def test_a_photo_is_kept_and_only_pictures_are(self) -> None:
        path = f"products/{self.product('PRE-BLK')['id']}/photo"
        self.ask("get", path, status=404)
        self.ask("put", path, {"photo": base64.b64encode(PNG).decode()})
        self.assertEqual(self.ask("get", path).content, PNG)
        self.assertTrue(self.product("PRE-BLK")["has_photo"])
        self.assertEqual(self.to_bench("1160")["photos"], {"PRE-BLK": self.product("PRE-BLK")["id"]})
        self.assertEqual(
            self.ask("put", path, {"photo": base64.b64encode(b"GIF89a....").decode()}, status=422)["field"], "photo"
        )
        self.ask("put", path, {"photo": "no base64!"}, status=422)

    def test_a_variant_without_a_weight_is_planned_by_the_heaviest_of_its_family_and_says_so(self) -> None:
        heavy = self.product("PRE-QUI")
        keys = {"id", "recipe_id", "recipe_name", "has_photo", "retired"}
        plain = {name: value for name, value in heavy.items() if name not in keys}
        self.ask("put", f"products/{heavy['id']}", {"product": {**plain, "family": "preserve"}})
        light = self.product("PRE-BLK")
        bare = {name: value for name, value in light.items() if name not in keys}
        self.ask("put", f"products/{light['id']}", {"product": {**bare, "family": "preserve", "weight_mg": None}})
        plan = self.ask("get", f"orders/{self.order('1163').pk}/plan")["plan"]
        self.assertTrue(any("has no weight of its own" in words for words in plan["warnings"]), plan["warnings"])


class NewRecipes(Desk):
    def test_a_new_jar_is_proposed_kept_and_its_order_planned(self) -> None:
        made = self.ask("post", "products", {"product": NEW}, status=201)
        self.assertEqual(self.ready("JAM-FIG")["sizes"][0]["lacks"][0]["fix_at"], "recipe")
        found = self.ask("post", "recipes/propose", {"product_id": made["id"]})
        self.assertEqual(found["craft"], "glass-jar")
        self.assertEqual([one["units"] for one in found["sizes"]], list(range(1, len(found["sizes"]) + 1)))
        kept = self.ask(
            "post",
            "recipes",
            {"document": found["document"], "reason": "proposed", "product_ids": [made["id"]]},
            status=201,
        )
        self.assertTrue(self.ready("JAM-FIG")["ready"])
        again = {"document": found["document"], "reason": "proposed", "product_ids": []}
        self.assertEqual(self.ask("post", "recipes", again, status=409)["code"], "code_taken")
        self.assertEqual(self.ask("get", f"recipes/{kept['id']}")["version"]["number"], 1)

    def test_what_has_no_weight_is_not_proposed_for_and_nonsense_crafts_are_named(self) -> None:
        bare = self.product("START-LV")["id"]
        self.assertIn("no weight", self.ask("post", "recipes/propose", {"product_id": bare}, status=422)["detail"])
        some = self.product("PRE-BLK")["id"]
        self.assertIn(
            "glass-jar",
            self.ask("post", "recipes/propose", {"product_id": some, "craft": "nonsense"}, status=422)["detail"],
        )
        self.ask("post", "recipes/propose", {"product_id": 10**9}, status=404)

    def test_a_recipe_with_an_unknown_supply_is_refused_whole(self) -> None:
        document = self.ask("get", f"recipes/{self.recipe_id('textile')}")["document"]
        document = {**document, "code": "odd"}
        document["bands"][0]["fill"] = "F-NONE"
        answer = self.ask("post", "recipes", {"document": document, "reason": "why", "product_ids": []}, status=422)
        self.assertIn("F-NONE", json.dumps(answer))
        self.assertNotIn("odd", [r["code"] for r in self.ask("get", "recipes?page_size=100")["results"]])

    def test_two_versions_compare_with_every_difference(self) -> None:
        pk = self.recipe_id("textile")
        document = self.ask("get", f"recipes/{pk}")["document"]
        document["bands"][0]["minutes"]["per_parcel"] = "9"
        self.ask(
            "post",
            f"recipes/{pk}/versions",
            {"base_version": 1, "reason": "timed it", "document": document},
            status=201,
        )
        found = self.ask("get", f"recipes/{pk}/compare/1/2")
        self.assertEqual([(d["what"], d["after"]) for d in found["differences"]], [("Minutes per parcel", "9")])
        self.assertEqual(len(found["figures_before"]), len(found["figures_after"]))
        self.ask("get", f"recipes/{pk}/compare/1/7", status=404)

    def test_ways_are_compared_and_a_band_that_is_not_there_is_told(self) -> None:
        pk = self.recipe_id("small-stoneware")
        found = self.ask("post", f"recipes/{pk}/ways", {"band_first": 1})
        self.assertIn(found["winner"], [way["key"] for way in found["ways"]])
        self.assertEqual(set(found["bands"]), {way["key"] for way in found["ways"] if way["candidate"]})
        self.ask("post", f"recipes/{pk}/ways", {"band_first": 77}, status=404)


class Files(Desk):
    def test_every_recipe_goes_out_and_in_unchanged(self) -> None:
        whole = self.ask("get", "recipes/file")
        done = self.ask("post", "recipes/file", file(json.dumps(whole)))
        self.assertEqual((done["new"], done["known"]), (0, len(whole["recipes"])))
        one = {**whole["recipes"][0], "code": "copy"}
        self.assertEqual(self.ask("post", "recipes/file", file(json.dumps(one)))["new"], 1)

    def test_a_file_with_one_fault_takes_in_nothing(self) -> None:
        whole = self.ask("get", "recipes/file")
        whole["recipes"] = [
            {**whole["recipes"][0], "code": "fine"},
            {**whole["recipes"][1], "code": "broken", "bands": []},
        ]
        self.ask("post", "recipes/file", file(json.dumps(whole)), status=422)
        self.assertFalse(RecipeVersion.objects.of(self.workshop).filter(recipe__code="fine").exists())
        for rubbish in ("{", "[]", "%PDF-1.4 no card", "null"):
            self.ask("post", "recipes/file", file(rubbish + "    "), status=422)

    def test_the_card_read_back_is_the_same_recipe(self) -> None:
        pk = self.recipe_id("preserve-250")
        pdf = self.ask("get", f"recipes/{pk}/card.pdf").content
        self.assertEqual(read_recipe_card(pdf).model_dump(mode="json"), self.ask("get", f"recipes/{pk}")["document"])
        self.assertEqual(self.ask("post", "recipes/file", file(pdf))["known"], 1)


class OnPaper(Desk):
    def test_the_buyers_note_of_the_version_a_parcel_was_begun_with_stands_on_its_slip(self) -> None:
        pk = self.recipe_id("textile")
        document = {**self.ask("get", f"recipes/{pk}")["document"], "buyer_note": "Wash it cold the first time."}
        self.ask(
            "post", f"recipes/{pk}/versions", {"base_version": 1, "reason": "asked", "document": document}, status=201
        )
        parcel = self.to_bench("1162")
        later = {**document, "buyer_note": "Iron it damp."}
        self.ask(
            "post", f"recipes/{pk}/versions", {"base_version": 2, "reason": "again", "document": later}, status=201
        )
        _, text, _ = read_back(self.ask("get", f"parcels/{parcel['id']}/slip.pdf").content)
        self.assertIn("Wash it cold the first time.", text)
        self.assertNotIn("Iron it damp.", text)


class Trying(Desk):
    def trial(self, **changes: Any) -> dict[str, Any]:
        return {
            "request_key": str(uuid4()),
            "version": 1,
            "kind": "drop",
            "units": 2,
            "passed": True,
            "place": "bottom",
            "drop_mm": 760,
            **changes,
        }

    def tried(self, code: str) -> bool:
        return next(bool(r["tried"]) for r in self.ask("get", "recipes?page_size=100")["results"] if r["code"] == code)

    def test_tried_is_the_last_trial_of_the_version_in_force_and_sent_twice_it_stands_once(self) -> None:
        pk = self.recipe_id("textile")
        self.assertFalse(self.tried("textile"))
        body = self.trial(note="whole", photo=base64.b64encode(PNG).decode())
        made = self.ask("post", f"recipes/{pk}/trials", body, status=201)
        self.ask("post", f"recipes/{pk}/trials", body, status=201)
        self.assertEqual(Trial.objects.of(self.workshop).count(), 1)
        self.assertEqual(self.ask("get", f"trials/{made['id']}/photo").content, PNG)
        self.assertTrue(self.tried("textile"))
        self.ask("post", f"recipes/{pk}/trials", self.trial(passed=False), status=201)
        self.assertFalse(self.tried("textile"))
        self.assertEqual(
            self.ask("post", f"recipes/{pk}/trials", self.trial(version=4), status=409)["code"], "version_moved"
        )

    def test_a_recipe_that_needs_a_trial_holds_its_orders_until_one_is_passed(self) -> None:
        pk = self.recipe_id("textile")
        document = {**self.ask("get", f"recipes/{pk}")["document"], "trial_needed": True}
        self.ask(
            "post",
            f"recipes/{pk}/versions",
            {"base_version": 1, "reason": "first try it", "document": document},
            status=201,
        )
        lacks = self.ready("CLO-LIN")["sizes"][0]["lacks"]
        self.assertEqual((lacks[0]["fix_at"], lacks[0]["stops"]), ("trial", True))
        view = self.ask("get", f"orders/{self.order('1162').pk}/plan")["plan"]
        self.assertEqual(view["status"], "blocked")
        self.assertEqual(view["missing"][0]["message"], lacks[0]["words"])  # the same words on both screens
        self.ask("post", f"recipes/{pk}/trials", self.trial(version=2), status=201)
        self.assertTrue(self.ready("CLO-LIN")["ready"])
        self.assertEqual(self.ask("get", f"orders/{self.order('1162').pk}/plan")["plan"]["status"], "planned")


class Policies(Desk):
    def test_turning_one_on_marks_recipes_and_changes_none_of_them(self) -> None:
        before = self.ask("get", "recipes/file")
        effect = self.ask("get", "policies/two_cartons_for_glass/effect")
        self.assertEqual(effect["effects"], [])  # nothing is marked as glass yet
        jam = self.product("PRE-BLK")
        plain = {n: v for n, v in jam.items() if n not in {"id", "recipe_id", "recipe_name", "has_photo", "retired"}}
        self.ask("put", f"products/{jam['id']}", {"product": {**plain, "glass": True}})
        effect = self.ask("get", "policies/two_cartons_for_glass/effect")["effects"]
        self.assertEqual([e["recipe"] for e in effect], ["Preserves, 250 ml jar"])
        self.assertTrue(any(band["cost"] and float(band["cost"]) > 0 for band in effect[0]["bands"]), effect)
        self.ask("put", "policies", {"policies": ["two_cartons_for_glass"]})
        self.assertEqual(self.ask("get", "recipes/file"), before)
        words = [lack["words"] for size in self.ready("PRE-BLK")["sizes"] for lack in size["lacks"]]
        self.assertTrue(any("Two cartons for glass" in text for text in words))
        figures = self.ask("get", f"recipes/{self.recipe_id('preserve-250')}")["figures"]
        self.assertTrue(figures[0]["marked"])

    def test_obeying_makes_new_versions_with_the_reason(self) -> None:
        done = self.ask(
            "post", "policies/fragile_marks_never/effect", {"recipe_ids": [self.recipe_id("small-stoneware")]}
        )
        self.assertEqual(len(done["made"]), 1)
        found = self.ask("get", f"recipes/{self.recipe_id('small-stoneware')}")
        self.assertIn("never a fragile mark", found["version"]["reason"])
        self.assertTrue(all("Fragile" not in band["marks"] for band in found["document"]["bands"]))

    def test_always_and_never_together_and_unknown_ones_are_refused(self) -> None:
        both = ["fragile_marks_always", "fragile_marks_never"]
        self.ask("put", "policies", {"policies": both}, status=422)
        self.ask("put", "policies", {"policies": ["no_boxes"]}, status=422)
        self.ask("get", "policies/no_boxes/effect", status=404)


class FewQueries(Desk):
    """However many products and parcels there are, a list takes the same number of queries."""

    def queries(self, path: str) -> int:
        with CaptureQueriesContext(connection) as seen:
            self.ask("get", path)
        return len(seen.captured_queries)

    def test_lists_of_the_desk_take_no_query_a_row(self) -> None:
        paths = ("readiness?page_size=100", "ready-parcels", "products/file")
        self.ask("get", "readiness")  # what is remembered between requests is remembered now
        before = {path: self.queries(path) for path in paths}
        recipe = self.ask("get", "recipes/file")["recipes"][0]
        many = {
            "format": "calm-cupboard/recipes",
            "version": 1,
            "recipes": [{**recipe, "code": f"copy-{n}"} for n in range(8)],
        }
        self.ask("post", "recipes/file", file(json.dumps(many)))
        for n in range(8):
            product = {**NEW, "sku": f"JAM-{n}", "recipe": f"copy-{n}", "food": False}
            self.ask("post", "products", {"product": product}, status=201)
        body = {
            "product_id": self.product("CLO-LIN")["id"],
            "units": 2,
            "count": 6,
            "place": "N1",
            "request_key": str(uuid4()),
        }
        self.ask("post", "ready-parcels", body, status=201)
        self.assertEqual({path: self.queries(path) for path in paths}, before)
