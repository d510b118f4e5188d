"""Settings: every figure has an effect somewhere, bad ones are named, a change is tried before it is kept and written
down; costs that are kept from packers are nowhere in what they are shown.
"""

import json
from collections.abc import Iterator
from dataclasses import replace
from decimal import Decimal
from typing import Any
from unittest import mock

from core.judgements import ORDINARY
from core.parcels.plan import PlannedOrder
from server.care.services import freezer_of
from server.day.closing import air_of
from server.day.selectors import read_day
from server.orders.models import Order
from server.plans.facts import load
from server.plans.settings import SETTINGS, values_of
from server.plans.writing import draft
from server.workshops.models import Workshop
from tests.server.base import DemoCase
from tests.server.test_day import tuesday_at

#: Values at which each setting is seen to change something in the demo's orders, papers or proposals.
OTHER: dict[str, str] = {
    "wage_per_hour": "60", "like_saving_percent": "50", "wave_parcels": "2", "strap_minutes": "30",
    "look_minutes": "30", "slip_one_in": "2",
    "scale_division_mg": "50000", "fill_by_eye_percent": "60", "fill_counted_percent": "40",
    "fill_weighed_percent": "40", "damage_sturdy": "0.2", "damage_delicate": "0.2", "damage_fragile": "0.4",
    "whole_after_days": "3",
    "unprotected_factor": "20", "support_percent": "100", "fold_um": "90000", "single_walls_um": "40000",
    "double_walls_um": "60000", "safety_factor": "20", "stack_um": "5000000", "lift_mg": "5000000",
    "lift_two_mg": "1500000", "compression": "0.5", "sheet_overlap_um": "200000", "floating_um": "60000",
    "proud_percent": "30", "humidity_percent": "80", "tape_overhang_um": "200000",
    "melts_highest_c": "20", "frozen_highest_c": "-20", "room_c": "10", "goods_heat_j_per_gk": "4",
    "contact_bare_mw_per_k": "100", "contact_padded_mw_per_k": "20", "touch_bare_percent": "90",
    "touch_padded_percent": "80", "van_warmer_c": "12", "depot_warmer_c": "8", "doorstep_hours": "12",
    "forecast_error_c": "5", "spoiled_percent": "10", "wait_day_cost": "9", "freezer_l": "12",
    "out_of_freezer_minutes": "8",
}  # fmt: skip


class EverySetting(DemoCase):
    def test_the_table_names_every_judgement_and_a_value_to_try(self) -> None:
        names = {one.name for one in SETTINGS}
        self.assertLessEqual(set(ORDINARY.__dataclass_fields__), names)
        self.assertEqual(set(OTHER), names)
        for one in SETTINGS:
            with self.subTest(one.name):
                self.assertTrue(one.reason and one.where and one.rule)
                self.assertEqual(values_of(self.workshop)[one.name], one.default)
                self.assertTrue(one.least <= one.default <= one.most)

    def test_each_changes_something(self) -> None:
        # Some parcels of the demo are heavy then, and one fill is weighed.
        facts = {**self.supply("F-STA").facts, "measure": {"unit": "gram", "loose_l": "1"}}
        rest = {"code": "F-GRM", "name": "Shred", "shelf": "C", "slot": 90, "unit_cost": "1"}
        self.ask("post", "supplies", {"supply": {**rest, "facts": facts}}, status=201)
        base = {"lift_mg": "1000000"}
        self.ask("put", "settings", {"values": base})
        before = {"orders": self.orders(), "recipes": self.proposals()}
        for one in SETTINGS:
            with self.subTest(one.name):
                self.ask("put", "settings", {"values": {one.name: OTHER[one.name]}})
                # What counts in new recipes is seen in proposals, everything else where orders are planned.
                which = "recipes" if one.group == "recipes" else "orders"
                now = self.proposals() if which == "recipes" else self.orders()
                self.assertNotEqual(now, before[which], f"{one.name} changes nothing")
                self.ask("put", "settings", {"values": {one.name: base.get(one.name, str(one.default))}})
        self.workshop.refresh_from_db()
        self.assertEqual(self.workshop.judgements, base)

    def orders(self) -> str:
        """Every open order's plan, and what the scale and strapped cartons go by."""
        workshop = Workshop.objects.get(pk=self.workshop.pk)
        orders = list(Order.objects.of(workshop).filter(state__in=("planned", "held")).order_by("number"))
        found: dict[str, Any] = {}
        for one in draft(workshop, orders).orders:
            if isinstance(one.result, PlannedOrder):
                way = one.result.chosen
                found[one.order.number] = [
                    (
                        str(parcel.candidate.costs),
                        parcel.candidate.weight.sigma_mg,
                        str(parcel.candidate.outer),
                        str(parcel.candidate.stacking),
                        str(parcel.cautions),
                        str([(use.supply, use.quantity) for use in parcel.candidate.uses]),
                    )
                    for parcel in way.parcels
                ]
                found[f"{one.order.number} others"] = [str(other.costs) for other in one.result.others]
        with mock.patch("django.utils.timezone.now", return_value=tuesday_at(10)):
            day = read_day(workshop)
        found["day"] = [day.plan.schedule.ends_s, [wave.parcels for wave in day.waves]]
        facts = load(workshop, orders).facts
        found["fills"] = [(fill.code, fill.spread_percent) for fill in facts.shelf.fills.values()]
        # What each of them changes in a plan: tests/core/test_care_fields.
        care = [one.name for one in SETTINGS if one.group == "care"]
        found["care"] = [str(getattr(facts.settings.judgements, name)) for name in care]
        found["whole_after"] = facts.settings.judgements.whole_after_days  # seen in test_arrivals
        found["freezer"] = str(freezer_of(workshop).room_l)
        found["strap"] = str(facts.settings.judgements.strap_minutes)
        found["look"] = [str(facts.settings.look_cost), facts.settings.slip_one_in]
        found["air"] = air_of(workshop).humidity_percent
        found["support"] = facts.settings.support_percent
        found["exposed"] = str(facts.settings.unprotected_factor)
        return json.dumps(found, sort_keys=True)

    def proposals(self) -> str:
        """First recipes of a jar: as it is proposed, and in two cartons."""
        product = next(row for row in self.ask("get", "products")["results"] if row["sku"] == "PRE-BLK")
        asked = [{"product_id": product["id"], "craft": craft, "up_to": 2} for craft in (None, "flat-plate")]
        return json.dumps([self.ask("post", "recipes/propose", one)["document"] for one in asked])


class Changing(DemoCase):
    def test_what_is_wrong_is_named_by_its_setting(self) -> None:
        for values, name in (
            ({"wage_per_hour": "-1"}, "wage_per_hour"),
            ({"slip_one_in": "2.5"}, "slip_one_in"),
            ({"compression": "two"}, "compression"),
            ({"nothing": "1"}, "nothing"),
            ({"lift_mg": "30000000", "lift_two_mg": "20000000"}, "lift_two_mg"),
            ({"wage_per_hour": "NaN"}, "wage_per_hour"),
            ({"damage_sturdy": "0.00001"}, "damage_sturdy"),
        ):
            with self.subTest(values):
                said = self.ask("put", "settings", {"values": values}, status=422)
                self.assertIn(name, [fault["path"] for fault in said["faults"]])
        self.assertEqual(self.ask("get", "settings/history")["count"], 0)

    def test_it_is_tried_before_and_written_down_after(self) -> None:
        before = self.total()
        tried = self.ask("post", "settings/effect", {"values": {"wage_per_hour": "30"}})
        self.assertGreater(tried["changed"], 5)
        self.assertGreater(Decimal(tried["after"]), Decimal(tried["before"]))
        self.assertEqual(self.total(), before)
        self.ask("put", "settings", {"values": {"wage_per_hour": "30"}})
        for order in Order.objects.of(self.workshop).filter(state="planned"):
            self.ask("get", f"orders/{order.pk}/plan")
        self.assertGreater(self.total(), before)
        row = self.ask("get", "settings/history")["results"][0]
        self.assertEqual(
            (row["name"], row["before"], row["after"], row["by"]), ("wage_per_hour", "15.00", "30", "Maren")
        )
        self.ask("put", "settings", {"values": {"wage_per_hour": "30"}})  # nothing new, nothing written
        self.assertEqual(self.ask("get", "settings/history")["count"], 1)

    def total(self) -> Decimal:
        rows = self.ask("get", "orders?state=planned&page_size=200")["results"]
        return sum((Decimal(row["total"]) for row in rows), Decimal(0))

    def test_what_is_heavy_is_marked_and_said_where_the_hands_are(self) -> None:
        self.ask("put", "settings", {"values": {"lift_mg": "1000000", "lift_two_mg": "1000000"}})
        order = Order.objects.of(self.workshop).filter(state="planned").first()
        assert order is not None
        parcel = self.ask("post", "parcels/begin", {"order_id": order.pk})
        said = json.dumps(parcel["steps"])
        self.assertIn("two people, or a trolley", said)
        self.assertIn("Heavy", said)

    def test_a_judgement_is_the_core_ones(self) -> None:
        self.assertEqual(replace(ORDINARY), ORDINARY)


class KeptFromPackers(DemoCase):
    """The owner says that packers see no costs."""

    def figures(self, value: Any, path: str = "") -> Iterator[tuple[str, str]]:
        if isinstance(value, dict):
            for key, one in value.items():
                yield from self.figures(one, f"{path}.{key}")
        elif isinstance(value, list):
            for one in value:
                yield from self.figures(one, path)
        elif isinstance(value, str) and value.replace(".", "", 1).replace("-", "", 1).isdigit():
            yield path, value

    def test_no_answer_has_a_figure_of_cost(self) -> None:
        parcel = self.weighed("1160")
        Workshop.objects.update(packers_see_costs=False)
        self.as_(self.packer)
        self.assertFalse(self.ask("get", "session")["sees_costs"])
        words = ("cost", "postage", "price", "total", "saves", "loss", "labour", "materials")
        allowed = ("postage_charged", "unit_price", "goods_value")
        order = self.order("1163").pk
        for path in ("orders", f"orders/{order}/plan", "supplies", f"parcels/{parcel['id']}", "products", "recipes"):
            with self.subTest(path):
                seen = [
                    (at, value)
                    for at, value in self.figures(self.ask("get", path))
                    if any(word in at.rsplit(".", 1)[-1] for word in words) and not at.endswith(allowed)
                ]
                self.assertEqual(seen, [])
        why = json.dumps(self.ask("get", f"orders/{order}/plan")["plan"]["why"])
        self.assertNotRegex(why, r"\d+\.\d\d (more|less)")
        for path in ("tariffs", "choosing", "settings", f"orders/{order}/plan/advice"):
            self.assertEqual(self.ask("get", path, status=403)["code"], "costs_hidden")

    def test_the_packer_packs_as_before_and_the_owner_sees_all(self) -> None:
        Workshop.objects.update(packers_see_costs=False)
        self.as_(self.packer)
        self.assertEqual(self.closed("1160")["state"], "closed")
        self.as_(self.owner)
        self.assertGreater(Decimal(self.stock("C-14")["average_cost"]), 0)
