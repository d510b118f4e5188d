"""The bench over HTTP: the scale and its moods, the label and a misbehaving carrier, closing and reopening."""

import re
from decimal import Decimal
from unittest import mock
from uuid import uuid4

from server.bench.models import StepTime
from server.carriers.models import Label
from server.plans import mapping
from server.plans.mapping import plan_from_json
from server.plans.models import Plan, PlannedUse
from server.standins.models import CarrierSale
from server.supplies.models import Entry
from tests.server.base import DemoCase

D = Decimal


class BenchCase(DemoCase):
    def standin(self, device: str, mode: str) -> None:
        self.ask("put", f"standins/{device}", {"mode": mode})

    def readings(self, parcel_id: int, count: int):  # type: ignore[no-untyped-def]
        return [self.ask("post", f"parcels/{parcel_id}/scale", {"again": turn == 0}) for turn in range(count)]


class Scale(BenchCase):
    def test_readings_change_before_they_settle_near_the_expected_weight(self) -> None:
        parcel = self.to_bench("1160")
        seen = self.readings(parcel["id"], 16)
        self.assertGreater(len({r["reading_mg"] for r in seen}), 3)
        self.assertEqual([seen[0]["state"], seen[-1]["state"]], ["settling", "settled"])
        weighed = self.ask("post", f"parcels/{parcel['id']}/weigh")
        self.assertTrue(weighed["weight_check"]["fine"])
        self.assertFalse(weighed["weighed_by_hand"])

    def test_an_unsettled_absent_or_overloaded_scale_gives_no_weight_and_says_what_to_do(self) -> None:
        parcel = self.to_bench("1160")
        self.readings(parcel["id"], 2)
        self.assertEqual(self.ask("post", f"parcels/{parcel['id']}/weigh", status=409)["code"], "scale_settling")
        for mode, code in (
            ("drop_out", "scale_absent"),
            ("over_capacity", "scale_over_capacity"),
            ("restless", "scale_settling"),
        ):
            self.standin("scale", mode)
            self.readings(parcel["id"], 12)
            self.assertEqual(self.ask("post", f"parcels/{parcel['id']}/weigh", status=409)["code"], code)

    def test_a_missing_jar_is_explained_and_must_be_settled_before_the_label(self) -> None:
        parcel = self.to_bench("1160")
        self.standin("scale", "one_missing")
        self.readings(parcel["id"], 16)
        weighed = self.ask("post", f"parcels/{parcel['id']}/weigh")
        self.assertFalse(weighed["weight_check"]["fine"])
        self.assertIn("one Blackcurrant and bay preserve, 250 ml is missing", weighed["weight_check"]["message"])
        refused = self.ask("post", f"parcels/{parcel['id']}/label", {"service": "LARK-TWO"}, status=409)
        self.assertEqual(refused["code"], "weight_not_settled")
        settled = self.ask("post", f"parcels/{parcel['id']}/settle", {"words": "a smaller jar, meant so"})
        self.assertEqual(settled["weight_settled"], "Maren: a smaller jar, meant so")
        self.ask("post", f"parcels/{parcel['id']}/label", {"service": "LARK-TWO"})

    def test_only_a_container_that_would_take_the_goods_explains_a_weight(self) -> None:
        parcel = self.to_bench("1160")
        plan = plan_from_json(Plan.objects.of(self.workshop).get(order__number="1160").document)
        would_do = {code for way in (plan.chosen, *plan.others) for code in way.containers}  # type: ignore[union-attr]
        told = set()
        for typed in ("900 g", "1.05 kg", "1.4 kg", "1.8 kg"):
            weighed = self.ask("post", f"parcels/{parcel['id']}/weigh", {"typed": typed})
            told |= set(re.findall(r"it is in ([A-Z0-9-]+), not", str(weighed["weight_check"])))
        self.assertTrue(told)
        self.assertLessEqual(told, would_do)

    def test_a_weight_may_be_typed_in_and_is_marked(self) -> None:
        parcel = self.to_bench("1160")
        for typed in ("heavy", "0", "-3", "2000 kg"):
            self.ask("post", f"parcels/{parcel['id']}/weigh", {"typed": typed}, status=422)
        weighed = self.ask("post", f"parcels/{parcel['id']}/weigh", {"typed": "2 lb 11.6 oz"})
        self.assertEqual((weighed["weighed_by_hand"], weighed["measured_mg"]), (True, 1_236_039))


class ReadOnce(BenchCase):
    def decoded(self, method: str, path: str) -> int:
        mapping._read.cache_clear()
        with mock.patch("server.plans.mapping.plan_from_json", wraps=plan_from_json) as reading:
            self.ask(method, path)
        return reading.call_count

    def test_an_answer_reads_the_plan_of_its_parcel_once_and_a_list_reads_none(self) -> None:
        parcel = self.to_bench("1160")
        self.readings(parcel["id"], 16)
        self.assertEqual(self.decoded("get", f"parcels/{parcel['id']}"), 1)
        self.assertEqual(self.decoded("post", f"parcels/{parcel['id']}/weigh"), 1)
        self.assertEqual(self.decoded("get", "parcels?state=packing"), 0)
        listed = self.ask("get", "parcels?state=packing")["results"]
        self.assertIn(parcel["candidate"]["name"], [row["container"] for row in listed])


class Labels(BenchCase):
    def test_the_label_is_bought_at_the_measured_weight_and_asking_again_changes_nothing(self) -> None:
        first = self.labelled("1160")
        again = self.ask("post", f"parcels/{first['id']}/label", {"service": "LARK-TWO"})
        self.assertEqual(first["label"], again["label"])
        self.assertEqual(CarrierSale.objects.of(self.workshop).count(), 1)

    def test_without_a_weight_there_is_no_label(self) -> None:
        parcel = self.to_bench("1160")
        self.assertEqual(
            self.ask("post", f"parcels/{parcel['id']}/label", {"service": "LARK-TWO"}, status=409)["code"],
            "not_weighed",
        )

    def test_a_service_that_does_not_take_it_says_why(self) -> None:
        parcel = self.weighed("1160")
        problem = self.ask("post", f"parcels/{parcel['id']}/label", {"service": "LARK-PKT"}, status=422)
        self.assertIn("takes thickness up to 80 mm", problem["detail"])

    def test_a_carrier_that_drops_out_after_the_work_sells_once(self) -> None:
        parcel = self.weighed("1160")
        self.standin("carrier", "drop_out_after")
        for _ in range(3):
            problem = self.ask("post", f"parcels/{parcel['id']}/label", {"service": "LARK-TWO"}, status=503)
            self.assertEqual(problem["code"], "carrier_no_answer")
        other = self.ask("post", f"parcels/{parcel['id']}/label", {"service": "LARK-PKT"}, status=409)
        self.assertEqual(other["code"], "label_in_flight")
        self.standin("carrier", "well")
        bought = self.ask("post", f"parcels/{parcel['id']}/label", {"service": "LARK-TWO"})["label"]
        sale = CarrierSale.objects.of(self.workshop).get()
        self.assertEqual((bought["tracking"], sale.times_asked), (sale.tracking, 4))
        self.assertEqual(Label.objects.of(self.workshop).count(), 1)

    def test_a_carrier_that_is_down_was_asked_for_nothing(self) -> None:
        parcel = self.weighed("1160")
        self.standin("carrier", "down")
        self.ask("post", f"parcels/{parcel['id']}/label", {"service": "LARK-TWO"}, status=503)
        self.assertIsNone(self.ask("get", f"parcels/{parcel['id']}")["label"])
        self.assertEqual(CarrierSale.objects.of(self.workshop).count(), 0)

    def test_a_refusal_is_passed_on_and_another_try_is_a_new_asking(self) -> None:
        parcel = self.weighed("1160")
        self.standin("carrier", "refuse")
        problem = self.ask("post", f"parcels/{parcel['id']}/label", {"service": "LARK-TWO"}, status=409)
        self.assertIn("Nothing was paid", problem["detail"])
        self.standin("carrier", "answer_twice")
        self.assertEqual(
            self.ask("post", f"parcels/{parcel['id']}/label", {"service": "LARK-TWO"})["label"]["state"], "bought"
        )
        self.assertEqual(CarrierSale.objects.of(self.workshop).count(), 1)


class Closing(BenchCase):
    def used(self, parcel_id: int) -> dict[str, Decimal]:
        rows = Entry.objects.of(self.workshop).filter(parcel_id=parcel_id).values_list("supply__code", "quantity")
        total: dict[str, Decimal] = {}
        for code, quantity in rows:
            total[code] = total.get(code, D(0)) + quantity
        return total

    def test_closing_posts_all_that_was_used_and_marks_the_order_packed(self) -> None:
        before = {code: D(self.stock(code)["on_hand"]) for code in ("C-08", "F-KRA", "T-PAP")}
        parcel = self.closed("1160")
        plan = {use["supply"]: D(use["quantity"]) for use in parcel["candidate"]["uses"]}
        self.assertEqual(self.used(parcel["id"]), {code: -quantity for code, quantity in plan.items()})
        for code, held in before.items():
            self.assertEqual(D(self.stock(code)["on_hand"]), held - plan[code])
        order = self.ask("get", f"orders/{self.order('1160').pk}")
        self.assertEqual((order["state"], order["tracking"]), ("packed", parcel["tracking"]))
        self.assertEqual(
            (parcel["postage"], parcel["measured_mg"] // 1000, parcel["closed_by"]), ("5.86", 1237, "Maren")
        )
        self.assertFalse(PlannedUse.objects.of(self.workshop).filter(plan__order__number="1160").exists())

    def test_the_same_closing_twice_posts_once_and_another_is_refused(self) -> None:
        parcel = self.labelled("1160")
        key = str(uuid4())
        for _ in range(2):
            self.ask("post", f"parcels/{parcel['id']}/close", {"request_key": key})
        other = self.ask("post", f"parcels/{parcel['id']}/close", {"request_key": str(uuid4())}, status=409)
        self.assertEqual(other["code"], "already_closed")
        self.assertEqual(self.used(parcel["id"])["C-08"], -1)

    def test_a_parcel_without_weight_or_label_is_not_closed(self) -> None:
        parcel = self.to_bench("1160")
        path, body = f"parcels/{parcel['id']}/close", {"request_key": str(uuid4())}
        self.assertEqual(self.ask("post", path, body, status=409)["code"], "not_weighed")
        self.weighed("1160")
        self.assertEqual(self.ask("post", path, body, status=409)["code"], "no_label")
        self.assertEqual(self.used(parcel["id"]), {})

    def test_reopening_reverses_and_closing_again_uses_the_label_it_has(self) -> None:
        parcel = self.closed("1160")
        again = self.ask("post", f"parcels/{parcel['id']}/reopen", {"words": "card left out"})
        self.assertEqual(
            (again["state"], again["order"]["state"], again["label"]["state"]), ("packing", "bench", "bought")
        )
        self.assertEqual(set(self.used(parcel["id"]).values()), {D(0)})
        self.assertTrue(PlannedUse.objects.of(self.workshop).filter(plan__order__number="1160").exists())
        self.ask("post", f"parcels/{parcel['id']}/close", {"request_key": str(uuid4())})
        self.assertEqual(self.used(parcel["id"])["C-08"], -1)
        self.assertEqual(CarrierSale.objects.of(self.workshop).count(), 1)

    def test_where_the_packer_is_survives_and_a_step_that_is_none_is_refused(self) -> None:
        parcel = self.to_bench("1160")
        self.ask("post", f"parcels/{parcel['id']}/progress", {"step": 3, "ticked": {"1": 2}})
        back = self.ask("get", f"parcels/{parcel['id']}")
        self.assertEqual((back["step"], back["ticked"]), (3, {"1": 2}))
        self.ask("post", f"parcels/{parcel['id']}/progress", {"step": 99, "ticked": {}}, status=422)

    def test_times_of_steps_are_kept_unseen_and_only_grow(self) -> None:
        parcel = self.to_bench("1160")
        for spent in ({"0": 12, "1": 40}, {"0": 9, "1": 55}, {"0": 12, "1": 55, "400": 7}):
            body = {"step": 2, "ticked": {}, "spent": spent}
            self.ask("post", f"parcels/{parcel['id']}/progress", body)
        rows = StepTime.objects.of(self.workshop).filter(parcel_id=parcel["id"]).order_by("step")
        self.assertEqual([(row.step, row.seconds) for row in rows], [(0, 12), (1, 55)])
        self.assertEqual(rows[0].kind, parcel["steps"][0]["kind"])
        self.ask("post", f"parcels/{parcel['id']}/progress", {"step": 2, "ticked": {}, "spent": {"0": -1}}, status=422)

    def test_a_step_the_close_overtook_keeps_its_time_and_changes_nothing_else(self) -> None:
        parcel = self.closed("1160")
        at = self.ask("get", f"parcels/{parcel['id']}")["step"]
        late = {"step": 1, "ticked": {"1": 1}, "spent": {"0": 21}}
        now = self.ask("post", f"parcels/{parcel['id']}/progress", late)
        self.assertEqual((now["state"], now["step"]), ("closed", at))
        self.assertEqual(StepTime.objects.of(self.workshop).get(parcel_id=parcel["id"], step=0).seconds, 21)

    def test_holding_at_the_bench_takes_the_parcel_off_unless_a_label_was_bought(self) -> None:
        parcel = self.to_bench("1160")
        held = self.ask("post", f"parcels/{parcel['id']}/hold", {"words": "jar is chipped"})
        self.assertEqual((held["state"], held["reason"]), ("held", "jar is chipped"))
        self.ask("get", f"parcels/{parcel['id']}", status=404)
        sold = self.labelled("1163")
        self.assertEqual(
            self.ask("post", f"parcels/{sold['id']}/hold", {"words": "wait"}, status=409)["code"], "label_bought"
        )

    def test_an_order_at_the_bench_keeps_its_plan(self) -> None:
        self.to_bench("1160")
        path = f"orders/{self.order('1160').pk}/plan/container"
        self.assertEqual(self.ask("post", path, {"container": "C-14"}, status=409)["code"], "not_open")
