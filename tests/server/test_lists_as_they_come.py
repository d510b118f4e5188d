"""A price list of version 2 through the API: imported, read, tried, used by plans, exported as it was."""

import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

from server.carriers.models import TariffVersion
from server.commands.intake import import_kind
from server.recipes.models import Product
from server.workshops.clock import today
from tests.server.base import DemoCase

MARRAM = Path(__file__).resolve().parents[1] / "golden" / "marram-2026-10.json"


class ListsAsTheyCome(DemoCase):
    def document(self) -> dict[str, object]:
        return json.loads(MARRAM.read_text()) | {"currency": "Cr"}  # type: ignore[no-any-return]

    def imported(self, document: dict[str, object] | None = None) -> int:
        answer = self.ask("post", "tariffs", {"content": json.dumps(document or self.document())})
        return answer["row"]["id"]  # type: ignore[no-any-return]

    def services(self, number: str) -> set[str]:
        self.ask("post", "plans/wave", {})
        self.ask("get", f"orders/{self.order(number).pk}/plan")
        chosen = self.order(number).plan.document["chosen"]
        return {one["service"] for one in chosen["parcels"][0]["candidate"]["quotes"]}

    def test_it_is_imported_once_and_exported_as_it_was(self) -> None:
        pk = self.imported()
        again = self.ask("post", "tariffs", {"content": json.dumps(self.document())})
        self.assertFalse(again["new"])
        exported = self.client.get(f"/api/tariffs/{pk}/file")
        self.assertEqual(json.loads(exported.content), self.document())

    def test_its_step_tables_go_out_as_csv_and_come_back(self) -> None:
        pk = self.imported()
        text = self.client.get(f"/api/tariffs/{pk}/steps").content.decode()
        self.assertIn("MAR-DOOR,S,1,0 g,1.000 kg,4.00", text.replace("\r", ""))
        changed = text.replace(",4.00", ",4.20", 1)
        body = {"content": changed, "tariff_version": "2027", "valid_from": "2027-01-01"}
        made = self.ask("post", f"tariffs/{pk}/steps", body)
        row = TariffVersion.objects.of(self.workshop).get(pk=made["row"]["id"])
        service = row.document["services"][0]
        self.assertEqual(service["formats"][0]["zones"][0]["steps"][0]["price"], "4.20")
        self.assertEqual((row.document["version"], service["discount"]), (2, {"percent": "10"}))

    def test_it_is_tried_on_a_parcel_before_it_is_saved(self) -> None:
        parcel = {
            "outer_um": [200_000, 150_000, 100_000], "gross_weight_mg": 800_000,
            "destination": {"country": "ALM", "postcode": "DM21"}, "ship_on": "2026-10-12",
        }  # fmt: skip
        answer = self.ask("post", "tariffs/check", {"document": self.document(), "parcel": parcel})
        prices = {one["service"]: one["price"] for one in answer["quotes"]}
        self.assertEqual(prices["MAR-DOOR"], "4.75")

    def test_shops_are_used_only_where_the_rules_allow_them(self) -> None:
        self.imported({**self.document(), "valid_from": today(self.workshop).replace(day=1).isoformat()})
        self.assertNotIn("MAR-SHOP", self.services("1160"))
        rules = self.ask("get", "choosing")["rules"]
        self.ask("put", "choosing", {**rules, "delivers_to": ["door", "shop"]})
        self.assertIn("MAR-SHOP", self.services("1160"))
        self.assertEqual(self.ask("put", "choosing", {**rules, "delivers_to": []}, status=422)["code"], "not_valid")

    def test_goods_a_service_refuses_are_told_and_the_hands_are_cautioned(self) -> None:
        self.imported({**self.document(), "valid_from": today(self.workshop).replace(day=1).isoformat()})
        Product.objects.of(self.workshop).filter(sku="PRE-BLK").update(holds=["batteries"])
        self.ask("post", "plans/wave", {})
        order = self.order("1160")
        self.ask("post", f"orders/{order.pk}/plan/decisions", {"note": "again"})
        plan = self.ask("get", f"orders/{order.pk}/plan")
        told = json.dumps(plan)
        self.assertIn("Marram Air (Marram Post)" if "Marram Air (Marram Post)" in told else "Marram", told)
        self.assertIn("does not take batteries", told)
        self.assertIn("holds batteries: the carrier's and the local rules decide", told)

    def test_what_a_product_holds_comes_from_the_products_file(self) -> None:
        item = {"sku": "LAMP", "name": "Lamp", "holds": ["batteries", "liquids"]}
        file = {"format": "calm-cupboard/products", "version": 1, "products": [item]}
        import_kind(self.workshop, "products", json.dumps(file).encode(), by="t")
        self.assertEqual(Product.objects.of(self.workshop).get(sku="LAMP").holds, ["batteries", "liquids"])
        csv = b"sku,name,holds\nSPRAY,Spray,aerosols alcohol\n"
        import_kind(self.workshop, "products-csv", csv, by="t")
        self.assertEqual(Product.objects.of(self.workshop).get(sku="SPRAY").holds, ["aerosols", "alcohol"])
        bad = {**file, "products": [{**item, "holds": ["fireworks"]}]}
        with self.assertRaisesRegex(Exception, "1 error"):
            import_kind(self.workshop, "products", json.dumps(bad).encode(), by="t")

    def test_every_slip_of_the_new_fields_is_named(self) -> None:
        def slip(change: Callable[[Any], object]) -> list[str]:
            document = self.document()
            change(document["services"])
            refused = self.ask("post", "tariffs", {"content": json.dumps(document)}, status=422)
            return [fault["message"] for fault in refused["faults"]]

        def surcharges(services: Any) -> Any:
            return services[0]["surcharges"]

        cases = (
            (lambda s: surcharges(s)[0].update(until_on="2026-11-01"), "ends before"),
            (lambda s: surcharges(s)[5].update(least="9"), "the least, 9, is above the most"),
            (lambda s: surcharges(s)[0].update(each_mg=5), "each_mg is for a surcharge of kind per_weight"),
            (lambda s: surcharges(s)[0].update(of="base"), "of is for a surcharge of kind percent"),
            (lambda s: surcharges(s)[6].update(group="size"), "mixes percentages with amounts"),
            (lambda s: s[0]["extra_cover"].update(each="1", price="1"), "one of the three"),
            (lambda s: s[2]["extra_cover"]["tiers"].reverse(), "put them in rising order"),
            (lambda s: s[1].update(further={}), "leave it out"),
            (lambda s: s[0]["taxes"][0].pop("countries"), "name countries or zones"),
            (lambda s: s[0].update(default_zone="1"), "own zone_rules"),
            (lambda s: s[0]["volumetric"][0].update(formats=["XL"]), "volumetric names format XL"),
            (lambda s: s[1]["zones"][0].update(zone="1"), "zone 1 is not defined"),
            (lambda s: s[1].update(delivery_days=[5, 5]), "delivery_days: Saturday (5) appears twice"),
            (lambda s: s[1]["limits"].update(thickness_um=5_000), "the least thickness 10000 um is above the most"),
        )
        for change, words in cases:
            with self.subTest(words):
                self.assertIn(words, " ".join(slip(change)))
