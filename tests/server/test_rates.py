"""Tariffs in and out, comparing, what a coming list changes, and the choosing rules."""

import copy
import json
from datetime import UTC, date, datetime, time, timedelta
from decimal import Decimal
from typing import Any
from unittest import mock

from django.db import connection
from django.test.utils import CaptureQueriesContext

from server.carriers.models import TariffVersion
from server.orders.models import Order
from server.plans.models import Plan
from server.plans.waves import run_wave
from server.workshops.clock import today
from tests.server.base import DEMO, DemoCase

D = Decimal
LARK = json.loads((DEMO / "tariffs" / "larkline-2026-07.json").read_text())
POST = json.loads((DEMO / "carriers" / "wending-2026-04.json").read_text())


def changed(document: Any, **values: Any) -> Any:
    return {**copy.deepcopy(document), **values}


class RatesCase(DemoCase):
    def take(self, document: Any, status: int = 200, **more: object) -> Any:
        return self.ask("post", "tariffs", {"content": json.dumps(document), **more}, status=status)

    def rows(self) -> list[Any]:
        found: list[Any] = self.ask("get", "tariffs")["results"]
        return found

    def lark(self) -> int:
        return TariffVersion.objects.of(self.workshop).get(carrier="larkline").pk

    def coming(self, days: int = 7, percent: int = 110) -> Any:
        document = changed(LARK, tariff_version="next", valid_from=f"{today(self.workshop) + timedelta(days=days)}")
        for service in document["services"]:
            for table in service["zones"]:
                for step in table["steps"]:
                    step["price"] = str((D(step["price"]) * percent / 100).quantize(D("0.01")))
        return document


class InAndOut(RatesCase):
    def test_every_demo_tariff_comes_out_as_the_file_it_went_in(self) -> None:
        for path in sorted((DEMO / "carriers").rglob("*.json")):
            with self.subTest(path.name):
                document = json.loads(path.read_text())
                taken = self.take(document)
                self.assertTrue(taken["new"])
                answer = self.client.get(f"/api/tariffs/{taken['row']['id']}/file")
                self.assertEqual(json.loads(answer.content), document)
                self.assertFalse(self.take(document)["new"])

    def test_versions_stand_side_by_side_and_one_is_in_force(self) -> None:
        self.take(self.coming())
        past = changed(LARK, tariff_version="old", valid_from="2025-01-01")
        self.take(past)
        self.assertEqual([row["state"] for row in self.rows()], ["coming", "current", "past"])

    def test_every_fault_is_named_and_nothing_is_kept(self) -> None:
        broken = changed(POST)
        broken["services"][0]["formats"][0]["zones"][0]["steps"][1]["up_to_mg"] = 10
        broken["services"][1]["zones"][0]["zone"] = "Q"
        broken["services"][2]["days_moved"] = [9]
        told = self.take(broken, status=422)
        said = " ".join(f"{fault['path']} {fault['message']}" for fault in told["faults"])
        self.assertIn("does not come after", said)
        self.assertIn("days_moved", said)
        del broken["services"][2]["days_moved"]
        broken["services"][2]["days_moved"] = [1]
        broken["services"][0]["formats"][0]["zones"][0]["steps"][1]["up_to_mg"] = 100_000
        self.assertIn("zone Q is not defined", self.take(broken, status=422)["faults"][0]["message"])
        self.assertEqual(len(self.rows()), 1)

    def test_gaps_and_overlaps_are_faults_and_what_may_be_meant_is_told(self) -> None:
        steps = [{"up_to_mg": 500_000, "price": "3"}, {"above_mg": 600_000, "up_to_mg": 700_000, "price": "2"}]
        odd = changed(POST)
        odd["services"][1]["zones"][0] = {"zone": "A", "transit_days": 1, "steps": steps}
        self.assertIn("gap: the step to 700000 mg", self.take(odd, status=422)["faults"][0]["message"])
        steps[1]["above_mg"] = 400_000
        self.assertIn("overlap: the step to 700000 mg", self.take(odd, status=422)["faults"][0]["message"])
        del steps[1]["above_mg"]
        notes = " ".join(self.take(odd)["notes"])
        self.assertIn("the price falls from 3 to 2 above 500 g", notes)
        self.assertIn("gap, the limit is 20.000 kg but prices end at 700 g", notes)
        twice = changed(POST, tariff_version="z")
        twice["zone_rules"].append({"zone": "X", "country": "ALM", "ranges": [["OK5", "OK7"]]})
        self.assertIn(
            "overlap: ALM OK6 is in zone I and in zone X", self.take(twice, status=422)["faults"][0]["message"]
        )

    def test_a_version_a_parcel_went_by_cannot_be_changed_or_taken_away(self) -> None:
        other = changed(LARK)
        other["services"][0]["zones"][0]["steps"][0]["price"] = "2.41"
        self.assertEqual(self.take(other, status=409)["code"], "version_exists")
        self.assertTrue(self.take(other, replace=True)["new"])
        self.take(LARK, replace=True)
        self.closed("1160")
        for told in (
            self.take(other, status=409, replace=True),
            self.ask("delete", f"tariffs/{self.lark()}", status=409),
        ):
            self.assertEqual(told["code"], "version_used")
        self.assertEqual(self.ask("get", f"tariffs/{self.lark()}")["labels"], 1)

    def test_a_version_nobody_used_is_taken_away_and_plans_follow(self) -> None:
        row = self.take(changed(POST))["row"]
        self.ask("delete", f"tariffs/{row['id']}", status=204)
        self.assertEqual(len(self.rows()), 1)
        self.assertTrue(Plan.objects.of(self.workshop).filter(stale=True).exists())


class StepTables(RatesCase):
    def csv(self) -> str:
        return str(self.client.get(f"/api/tariffs/{self.lark()}/steps").content.decode())

    def take_steps(self, content: str, status: int = 200) -> Any:
        day = str(today(self.workshop) + timedelta(days=9))
        body = {"content": content, "tariff_version": "csv", "valid_from": day}
        return self.ask("post", f"tariffs/{self.lark()}/steps", body, status=status)

    def test_the_tables_written_as_csv_read_back_as_the_same(self) -> None:
        row = self.take_steps(self.csv())["row"]
        answer = json.loads(self.client.get(f"/api/tariffs/{row['id']}/file").content)
        self.assertEqual(answer["services"], LARK["services"])
        self.assertEqual((row["version"], row["state"]), ("csv", "coming"))

    def test_only_the_tables_named_are_replaced(self) -> None:
        row = self.take_steps("service,zone,up_to,price\nLARK-PKT,1,250 g,2.60\nLARK-PKT,1,2 kg,5.10\n")["row"]
        services = self.ask("get", f"tariffs/{row['id']}")["file"]["services"]
        self.assertEqual([step["price"] for step in services[0]["zones"][0]["steps"]], ["2.60", "5.10"])
        self.assertEqual(services[0]["zones"][1]["steps"][0]["price"], "2.55")

    def test_faults_are_named_by_line_and_column(self) -> None:
        told = self.take_steps(
            "service,zone,above,up_to,price\nLARK-PKT,1,,250 g,2.60\nLARK-PKT,1,300 g,heavy,2\nLARK-PKT,9,,1 kg,2\n"
            "LARK-PKT,1,300 g,1 kg,-2\nLARK-PKT,1,300 g,1 kg,3\n",
            status=422,
        )
        said = [f"{fault['path']}: {fault['message']}" for fault in told["faults"]]
        for words in ("line 3, up_to: 'heavy' is not a weight", "line 4, zone: there is no table LARK-PKT 9",
                      "line 5, price: '-2'", "line 6, above: gap: the step before ends at 250 g"):  # fmt: skip
            self.assertTrue(any(one.startswith(words) for one in said), said)
        self.assertEqual(len(self.rows()), 1)
        for content in ("", "a,b\n1,2\n", "service,zone,up_to,price\n", 'service,zone,up_to,price\n"x'):
            self.assertIn(self.take_steps(content, status=422)["code"], ("not_csv", "file_faults"))


class Comparing(RatesCase):
    def compare(self, **more: Any) -> Any:
        body = {
            "outer_um": [300_000, 220_000, 160_000],
            "gross_weight_mg": 2_840_000,
            "destination": {"country": "ALM", "postcode": "DM4 6"},
        }
        return self.ask("post", "rates/compare", {**body, **more})

    def test_prices_stairs_and_crossings_agree(self) -> None:
        self.take(POST)
        found = self.compare()
        prices = [D(one["quote"]["price"]) for one in found["offers"]]
        self.assertEqual(prices, sorted(prices))
        for one in found["offers"]:
            here = next(step for step in one["stairs"] if step["up_to"] >= 2_840_000)
            self.assertEqual(here["price"], one["quote"]["price"], one["name"])
        best = [run for run in found["crossings"] if run["above"] < 2_840_000][-1]
        self.assertEqual(best["key"], found["offers"][0]["key"])
        self.assertIn("Wending Standard", [one["name"] for one in found["refusals"]])

    def test_a_flat_rate_package_is_offered_when_the_parcel_goes_into_it(self) -> None:
        self.take(POST)
        keys = [one["key"] for one in self.compare()["offers"]]
        self.assertIn("WEND-SWI/WF-M", keys)
        self.assertNotIn(
            "WEND-SWI/WF-M", [o["key"] for o in self.compare(outer_um=[310_000, 220_000, 160_000])["offers"]]
        )

    def test_stairs_over_a_side_end_where_the_service_refuses(self) -> None:
        found = self.compare(over="height")
        two = next(one for one in found["offers"] if one["key"] == "LARK-TWO")
        self.assertEqual(two["stairs"][-1]["up_to"], found["high"])
        packet = next(one for one in found["refusals"] if one["key"] == "LARK-PKT")
        self.assertIn("thickness up to 80 mm", packet["message"])

    def test_bad_questions_are_answered_with_the_field(self) -> None:
        for wrong in (
            {"outer_um": [1, 2]},
            {"ship_on": "9999-12-31"},
            {"gross_weight_mg": 0},
            {"over": "smell"},
            {"destination": {"country": "Alm"}},
        ):
            body = {"outer_um": [1, 1, 1], "gross_weight_mg": 1, "destination": {"country": "ALM"}, **wrong}
            self.assertTrue(self.ask("post", "rates/compare", body, status=422)["faults"])


class ComingList(RatesCase):
    def test_the_effect_is_the_sum_of_what_each_order_would_pay(self) -> None:
        self.take(self.coming(percent=110))
        row = next(one for one in self.rows() if one["state"] == "coming")
        found = self.ask("get", f"tariffs/{row['id']}/effect")
        planned = Plan.objects.of(self.workshop).filter(status="planned")
        self.assertEqual(found["orders"], planned.count())
        paid = sum(
            D(p["candidate"]["costs"]["postage"]) for plan in planned for p in plan.document["chosen"]["parcels"]
        )
        self.assertEqual(D(found["before"]), paid)
        self.assertEqual(found["dearer"], found["orders"])
        self.assertGreater(D(found["after"]), paid * D("1.07"))
        self.assertLess(D(found["after"]), paid * D("1.12"))
        changes = [D(one["change"]) for one in found["most"]]
        self.assertEqual((len(changes), changes), (10, sorted(changes, reverse=True)))

    def test_what_would_be_taken_is_only_what_the_workshop_uses(self) -> None:
        cheap = changed(POST, tariff_version="cheap", valid_from=str(today(self.workshop) + timedelta(days=7)))
        cheap["services"][1]["zones"][0]["increment"].update(base="0.50", each="0.10")
        row = self.take(cheap)["row"]
        best = D(self.ask("get", f"tariffs/{row['id']}/effect")["best"])
        rules = self.ask("get", "choosing")["rules"]
        self.ask("put", "choosing", {**rules, "services": ["LARK-TWO", "LARK-PKT"]})
        kept = self.ask("get", f"tariffs/{row['id']}/effect")
        self.assertLess(best, D(kept["best"]))
        self.assertEqual(kept["best"], kept["before"])

    def test_a_service_that_is_gone_is_told_with_what_would_be_taken(self) -> None:
        document = self.coming()
        document["services"] = [one for one in document["services"] if one["code"] == "LARK-TWO"]
        self.take(document)
        row = next(one for one in self.rows() if one["state"] == "coming")
        found = self.ask("get", f"tariffs/{row['id']}/effect")
        gone = [one for one in found["most"] if one["after"] is None]
        self.assertEqual(found["refused"] > 0, bool(gone))
        for one in gone:
            self.assertEqual(one["best_service"], "Larkline Two-day")


class Choosing(RatesCase):
    def rules(self, status: int = 200, **more: object) -> Any:
        rules = self.ask("get", "choosing")["rules"]
        return self.ask("put", "choosing", {**rules, **more}, status=status)

    def service_of(self, number: str) -> str:
        plan = self.ask("get", f"orders/{self.order(number).pk}/plan")["plan"]
        return str(plan["ways"][0]["parcels"][0]["candidate"]["quote"]["service"])

    def test_every_rule_has_a_default_and_its_reason(self) -> None:
        found = self.ask("get", "choosing")
        self.assertEqual(found["rules"], found["defaults"])
        self.assertEqual(set(found["reasons"]), set(found["rules"]))

    def test_the_services_used_and_the_trusted_carrier_change_open_plans(self) -> None:
        cheap = changed(POST)
        cheap["services"][1]["zones"][0]["increment"].update(base="3.50", each="0.10")
        self.take(cheap)
        self.assertEqual(self.service_of("1160"), "WEND-PAR")
        self.rules(services=["LARK-TWO", "LARK-PKT"])
        self.assertEqual(self.service_of("1160"), "LARK-TWO")
        self.rules(services=[], trusted_carrier="larkline", trusted_unless_saves="5.00")
        self.assertEqual(self.service_of("1160"), "LARK-TWO")
        self.rules(services=[], trusted_unless_saves="0.10")
        self.assertEqual(self.service_of("1160"), "WEND-PAR")

    def test_ship_days_move_the_plans(self) -> None:
        for weekday in (0, 3):
            self.rules(ship_days=[weekday])
            order = self.order("1163")
            day = self.ask("get", f"orders/{order.pk}/plan")["ship_on"]
            self.assertEqual(date.fromisoformat(day).weekday(), weekday)

    def test_what_no_tariff_knows_is_refused_by_name(self) -> None:
        self.assertIn("LARK-TWO", self.rules(status=422, services=["FAST"])["detail"])
        self.assertIn("larkline", self.rules(status=422, trusted_carrier="nobody")["detail"])
        refused: list[dict[str, Any]] = [
            {"ship_days": []}, {"ship_days": [7]}, {"advice_threshold": "-1"}, {"arrive_within_days": 0},
        ]  # fmt: skip
        for wrong in refused:
            self.rules(status=422, **wrong)


class AdviceOnAPlan(RatesCase):
    def advice(self, order: Order) -> Any:
        return self.ask("get", f"orders/{order.pk}/plan/advice")

    def total(self, order: Order) -> Decimal:
        return D(self.ask("get", f"orders/{order.pk}/plan")["plan"]["ways"][0]["costs"]["total"])

    def test_what_is_advised_comes_true_when_applied_and_is_taken_back_whole(self) -> None:
        applied = 0
        for order in Order.objects.of(self.workshop).filter(state="planned"):
            found = self.advice(order)["advice"]
            before = self.ask("get", f"orders/{order.pk}/plan")
            for one in found[:2]:
                total = self.total(order)
                after = self.ask("post", f"orders/{order.pk}/plan/decisions", one["decisions"])
                self.assertEqual(total - self.total(order), D(one["saves"]), one["sentence"])
                self.assertTrue(after["plan"]["overridden"])
                back = self.ask("post", f"orders/{order.pk}/plan/decisions", before["overrides"])
                self.assertEqual(back["plan"]["ways"][0]["costs"], before["plan"]["ways"][0]["costs"])
                applied += 1
        self.assertGreater(applied, 2)

    def test_what_was_swapped_or_left_out_is_still_named(self) -> None:
        order = self.order("1163")
        decided = {"substitutes": [["F-KRA", "F-STA"]], "omitted": ["I-CARD"]}
        plan = self.ask("post", f"orders/{order.pk}/plan/decisions", decided)["plan"]
        names = {ref["code"]: ref["name"] for ref in plan["supplies"]}
        self.assertEqual((names["F-KRA"], names["I-CARD"]), ("Crumpled kraft", "Thank-you card"))
        uses = {use["supply"] for use in plan["ways"][0]["parcels"][0]["candidate"]["uses"]}
        self.assertTrue("F-STA" in uses and not uses & {"F-KRA", "I-CARD"}, uses)

    def test_nothing_is_advised_below_the_threshold(self) -> None:
        rules = self.ask("get", "choosing")["rules"]
        self.ask("put", "choosing", {**rules, "advice_threshold": "900.00"})
        for order in Order.objects.of(self.workshop).filter(state="planned"):
            self.assertEqual(self.advice(order)["advice"], [])

    def test_a_service_and_a_day_are_decided_kept_and_refused_when_they_cannot_be(self) -> None:
        order = self.order("1163")
        decide = f"orders/{order.pk}/plan/decisions"
        now = self.ask("post", decide, {"service": "LARK-TWO"})
        self.assertEqual(now["overrides"]["service"], "LARK-TWO")
        self.assertIn("LARK-TWO", self.ask("post", decide, {"service": "NONE"}, status=409)["detail"])
        refused = self.ask("post", decide, {"service": "LARK-PKT"}, status=409)
        self.assertEqual((refused["code"], "thickness up to 80 mm" in refused["detail"]), ("override_refused", True))
        self.assertIsNone(self.ask("post", decide, {"not_before": "2020-01-01"})["overrides"]["not_before"])
        saturday = today(self.workshop) + timedelta(days=(5 - today(self.workshop).weekday()) % 7 + 7)
        far = {"not_before": str(saturday + timedelta(days=200))}
        self.assertIn("too far", self.ask("post", decide, far, status=422)["detail"])
        # Nothing is handed over on a Saturday: it leaves on the Monday after, and is held until then.
        monday = saturday + timedelta(days=2)
        kept = self.ask("post", decide, {"not_before": str(saturday)})
        self.assertEqual((kept["ship_on"], kept["overrides"]["not_before"]), (str(monday), str(saturday)))
        self.assertEqual((kept["order"]["state"], kept["order"]["held_by"]), ("held", "until_day"))
        self.assertIn("Held until Mon", kept["order"]["reason"])
        held = self.ask("post", "parcels/begin", {"order_id": order.pk}, status=409)
        self.assertEqual((held["code"], "Held until Mon" in held["detail"]), ("held", True))
        back = self.ask("post", decide, {})
        self.assertEqual(back["order"]["state"], "planned")

    def test_a_day_to_arrive_by_rules_services_out_and_one_that_is_over_is_refused(self) -> None:
        order = self.order("1163")
        decide = f"orders/{order.pk}/plan/decisions"
        plan = self.ask("get", f"orders/{order.pk}/plan")
        arrives = plan["plan"]["ways"][0]["parcels"][0]["candidate"]["quote"]["arrives_on"]
        kept = self.ask("post", decide, {"arrive_by": arrives})
        self.assertEqual(kept["overrides"]["arrive_by"], arrives)
        day_before = str(date.fromisoformat(arrives) - timedelta(days=1))
        refused = self.ask("post", decide, {"arrive_by": plan["ship_on"]}, status=409)
        self.assertIn("it must arrive by", refused["detail"])
        wrong = {"not_before": arrives, "arrive_by": day_before}
        self.assertEqual(self.ask("post", decide, wrong, status=422)["field"], "arrive_by")
        self.assertEqual(self.ask("post", decide, {"arrive_by": "2020-01-01"}, status=422)["field"], "arrive_by")

    def test_an_order_held_for_a_day_is_free_when_the_day_has_come(self) -> None:
        order = self.order("1163")
        monday = today(self.workshop) + timedelta(days=14 - today(self.workshop).weekday())
        kept = self.ask("post", f"orders/{order.pk}/plan/decisions", {"not_before": str(monday)})
        self.assertEqual(kept["order"]["state"], "held")
        with mock.patch("server.workshops.clock.timezone.now", return_value=datetime.combine(monday, time(8), UTC)):
            # Two weeks on, the sign-in of today is over.
            self.as_(self.owner)
            self.assertEqual(self.ask("get", f"orders/{order.pk}/plan")["order"]["state"], "planned")

    def test_what_is_left_out_or_swapped_must_be_what_it_says(self) -> None:
        decide = f"orders/{self.order('1163').pk}/plan/decisions"
        for wrong in (
            {"omitted": ["C-08"]},
            {"substitutes": [["F-KRA", "I-CARD"]]},
            {"substitutes": [["F-KRA", "NONE"]]},
        ):
            self.assertEqual(self.ask("post", decide, wrong, status=409)["code"], "unknown")

    def test_room_to_spare_is_what_planning_more_gives(self) -> None:
        order = self.order("1160")
        line = self.ask("get", f"orders/{order.pk}/plan/spare")["lines"][0]
        self.assertGreaterEqual(line["for_little"], line["for_nothing"])
        self.assertTrue(line["then"])

    def test_steps_of_a_recipe_and_costs_per_unit_answer(self) -> None:
        recipe = next(r for r in self.ask("get", "recipes")["results"] if "reserve" in r["name"])
        steps = self.ask("get", f"recipes/{recipe['id']}/steps")
        self.assertGreater(steps["orders"], 2)
        for one in steps["steps"]:
            self.assertEqual(one["percent"], round(100 * one["orders"] / one["of"]))
        product = next(p for p in self.ask("get", "products")["results"] if p["sku"] == "PRE-BLK")
        costs = self.ask("get", f"products/{product['id']}/unit-costs?most=4&postcode=DM46")["costs"]
        self.assertEqual([one["units"] for one in costs], [1, 2, 3, 4])
        for one in costs:
            self.assertEqual(D(one["each"]), (D(one["total"]) / one["units"]).quantize(D("0.01")))
        self.ask("get", f"products/{product['id']}/unit-costs?most=400", status=422)


class FewQueries(RatesCase):
    """However many lists and orders there are, a screen takes the same number of queries."""

    def queries(self, path: str) -> int:
        with CaptureQueriesContext(connection) as seen:
            self.ask("get", path)
        return len(seen.captured_queries)

    def test_lists_effects_and_steps_take_no_query_a_row(self) -> None:
        self.take(self.coming())
        row = next(one for one in self.rows() if one["state"] == "coming")
        recipe = next(r for r in self.ask("get", "recipes")["results"] if "reserve" in r["name"])
        paths = ("tariffs", f"tariffs/{row['id']}/effect", f"recipes/{recipe['id']}/steps", "choosing")
        before = {path: self.queries(path) for path in paths}
        for path in (DEMO / "carriers").rglob("*.json"):
            self.take(json.loads(path.read_text()))
        orders = list(Order.objects.of(self.workshop).filter(lines__sku="PRE-BLK").distinct())
        for order in orders:
            lines = list(order.lines.all())
            order.pk, order.number, order.state = None, f"{order.number}-again", Order.State.NEW
            order.save()
            for line in lines:
                line.pk, line.order = None, order
                line.save()
        run_wave(workshop=self.workshop)
        self.assertGreater(len(orders), 3)
        self.assertEqual({path: self.queries(path) for path in paths}, before)
