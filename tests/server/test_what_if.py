"""What-ifs through the API and in the worker: begun, told, cancelled, kept, shared; a worker that is gone."""

import csv
import io
from datetime import timedelta
from decimal import Decimal
from typing import Any
from unittest import mock

from django.utils import timezone

from core.money.tipping import Tip
from server.money import side_by_side, trying, what_ifs
from server.money.changes import ASKED, said
from server.money.models import WhatIf
from server.money.tasks import what_if
from server.money.trying import run
from server.money.what_if_screens import WhatIfResult
from server.money.what_ifs import end_silent
from server.plans.models import Plan
from server.recipes.models import Recipe
from server.supplies.models import Entry
from server.words.render import METRIC
from tests.server.base import DemoCase, may_have_children

D = Decimal
WAGE = {"kind": "wage", "per_hour": "22"}


class WhatIfCase(DemoCase):
    def begin(self, *changes: dict[str, Any], status: int = 202, weeks: int = 10) -> Any:
        return self.ask("post", "money/what-ifs", {"changes": list(changes), "weeks": weeks}, status=status)

    def tried(self, *changes: dict[str, Any]) -> Any:
        made = self.begin(*changes)
        self.assertTrue(run(self.workshop, made["id"]))
        return self.ask("get", f"money/what-ifs/{made['id']}")


class Trying(WhatIfCase):
    def test_a_wage_costs_its_minutes_and_touches_no_order(self) -> None:
        plans = list(Plan.objects.of(self.workshop).order_by("pk").values_list("at", "kept_id", "stale"))
        entries = Entry.objects.of(self.workshop).count()
        found = self.tried(WAGE)
        result = found["result"]
        self.assertEqual((found["state"], found["done"]), ("done", found["of"]))
        more = D(result["after"]["labour"]) - D(result["before"]["labour"])
        self.assertAlmostEqual(more, D(result["before"]["minutes"]) * 7 / 60, delta=D("0.01") * result["both"])
        self.assertEqual(D(result["change"]), more)
        self.assertEqual(
            list(Plan.objects.of(self.workshop).order_by("pk").values_list("at", "kept_id", "stale")), plans
        )
        self.assertEqual(Entry.objects.of(self.workshop).count(), entries)

    def test_amounts_are_said_with_their_cents_and_a_tip_in_its_own_unit(self) -> None:
        asked = ASKED.validate_python({"changes": [
            WAGE, {"kind": "supply_price", "code": "C-08", "unit_cost": "0.9"},
            {"kind": "supply_price", "code": "W-HON", "unit_cost": "0.0465"},
        ]})  # fmt: skip
        changes = METRIC.all(said(asked, self.workshop))
        self.assertEqual(changes, ("the wage is 22.00 an hour", "C-08 costs 0.90", "W-HON costs 0.0465"))
        cases = {
            "Even at a wage of 18.40": Tip(kind="wage_even", at=D("18.40"), now=D("15.00")),
            "From 12.10 on orders are packed otherwise": Tip(kind="packed_otherwise", at=D("12.10"), now=D("15.00")),
            "From 85 % on orders are packed otherwise": Tip(
                kind="packed_otherwise", at=D("85.00"), now=D("100.00"), percent=True
            ),
            "5.31 from everybody covers the postage": Tip(kind="flat_fee", at=D("5.31"), now=D("4.90")),
            "It pays from 1 order a month": Tip(
                kind="orders_a_month", at=D(1), now=D("4.3"), keeping=D("2.00"), saves=D("2.10")
            ),
        }
        for words, tip in cases.items():
            told = WhatIfResult.model_construct(tip=tip).tip_words
            assert told is not None
            self.assertEqual(METRIC.of(told[0]), words)
            last = told
        self.assertIn("There are 4.3 a month.", METRIC.of(last[1]))
        self.assertIsNone(WhatIfResult.model_construct(tip=None).tip_words)

    def test_todays_wage_changes_nothing(self) -> None:
        result = self.tried({"kind": "wage", "per_hour": "15"})["result"]
        self.assertEqual((D(result["change"]), result["changed"], result["before"]), (0, 0, result["after"]))
        self.assertEqual((result["most_changed"], result["tip"]), ([], None))

    def test_a_carton_gone_says_from_how_many_orders_it_pays(self) -> None:
        found = self.tried({"kind": "without", "code": "C-08"})
        result = found["result"]
        self.assertEqual(found["changes"], ["C-08 is gone"])
        self.assertRegex(found["tip"][0], "It pays from [0-9]+ orders? a month")
        self.assertGreater(result["changed"], 0)
        self.assertGreater(D(result["change"]), 0)
        self.assertEqual(result["tip"]["kind"], "orders_a_month")
        needed = D(result["tip"]["keeping"]) / D(result["tip"]["saves"])
        self.assertLess(abs(D(result["tip"]["at"]) - needed), 1)

    def test_every_kind_of_change_can_be_tried(self) -> None:
        recipe = Recipe.objects.of(self.workshop).get(code="preserve-250").pk
        tariff = self.ask("get", "tariffs")["results"][0]["id"]
        policy = self.ask(
            "post", "money/policies", {"name": "F", "document": {"code": "f", "base": {"kind": "flat", "amount": "4"}}}
        )
        for change in (
            {"kind": "new_carton", "length_um": 200_000, "width_um": 150_000, "height_um": 150_000},
            {"kind": "price_list", "tariff_id": tariff},
            {"kind": "version", "recipe_id": recipe, "number": 1},
            {"kind": "instead", "old": "W-HON", "new": "W-TIS"},
            {"kind": "damage", "recipe_id": recipe, "percent": "5"},
            {"kind": "minutes", "recipe_id": recipe, "percent": "80"},
            {"kind": "supply_price", "code": "C-08", "unit_cost": "0.90"},
            {"kind": "send_days", "days": [0, 3]},
            {"kind": "services", "codes": ["LARK-TWO"]},
            {"kind": "charge", "policy_id": policy["id"]},
            {"kind": "charge", "flat": "3.79"},
        ):
            found = self.tried(change)
            self.assertEqual(found["state"], "done", change)
            self.assertGreater(found["result"]["orders"], 5, change)

    def test_what_it_is_about_must_be_there(self) -> None:
        for change, told in (
            ({"kind": "without", "code": "C-99"}, "C-99"),
            ({"kind": "without", "code": "W-HON"}, "carton"),
            ({"kind": "instead", "old": "W-HON", "new": "C-08"}, "wrap"),
            ({"kind": "price_list", "tariff_id": 999_999}, "price list"),
            ({"kind": "version", "recipe_id": 999_999, "number": 1}, "version"),
            ({"kind": "services", "codes": ["NO-SUCH"]}, "NO-SUCH"),
            ({"kind": "charge"}, "one of the two"),
        ):
            self.assertIn(told, self.begin(change, status=422)["detail"])
        self.begin({"kind": "wage", "per_hour": "-1"}, status=422)
        self.begin(status=422)
        self.assertFalse(WhatIf.objects.of(self.workshop).exists())


class UnderWay(WhatIfCase):
    def test_one_at_a_time_and_cancelled_it_goes_no_further(self) -> None:
        made = self.begin(WAGE)
        self.assertEqual(self.begin(WAGE, status=409)["code"], "under_way")
        self.ask("delete", f"money/what-ifs/{made['id']}", status=409)
        self.ask("post", f"money/what-ifs/{made['id']}/cancel")
        self.assertFalse(run(self.workshop, made["id"]))
        row = WhatIf.objects.of(self.workshop).get(pk=made["id"])
        self.assertEqual((row.state, row.result), ("cancelled", None))
        self.ask("put", f"money/what-ifs/{made['id']}/kept", {"name": "Mine"}, status=409)
        self.ask("get", f"money/what-ifs/{made['id']}/what-if.csv", status=409)
        self.begin(WAGE)

    def test_cancelled_in_the_middle(self) -> None:
        made = self.begin(WAGE)

        def cancelled(*given: Any) -> Any:
            self.ask("post", f"money/what-ifs/{made['id']}/cancel")
            return real(*given)

        real = side_by_side.tried_side_by_side
        with mock.patch.object(trying, "tried_side_by_side", cancelled):
            self.assertFalse(run(self.workshop, made["id"]))
        self.assertEqual(WhatIf.objects.of(self.workshop).get().state, "cancelled")

    def test_two_processes_plan_what_one_does(self) -> None:
        alone = self.tried(WAGE)["result"]
        with (
            may_have_children(),
            mock.patch("server.money.side_by_side._FEW", 2),
            mock.patch("server.money.side_by_side.ENV", mock.Mock(planning_processes=2)),
        ):
            together = self.tried(WAGE)["result"]
        self.assertEqual({**alone, "seconds": 0}, {**together, "seconds": 0})

    def test_a_worker_that_is_gone_is_told(self) -> None:
        made = self.begin(WAGE)
        WhatIf.objects.of(self.workshop).update(state="running", told_at=timezone.now() - timedelta(minutes=5))
        self.assertEqual(end_silent(), 1)
        found = self.ask("get", f"money/what-ifs/{made['id']}")
        self.assertEqual(found["state"], "failed")
        self.assertIn("Run it again", found["problem"])

    def test_what_it_is_about_is_removed_before_the_worker_comes(self) -> None:
        made = self.begin({"kind": "supply_price", "code": "C-08", "unit_cost": "1"})
        self.supply("C-08").__class__.objects.of(self.workshop).filter(code="C-08").update(retired_at=timezone.now())
        self.assertFalse(what_if(self.workshop.pk, made["id"]))
        found = self.ask("get", f"money/what-ifs/{made['id']}")
        self.assertEqual(found["state"], "failed")
        self.assertIn("C-08", found["problem"])


class Keeping(WhatIfCase):
    def test_kept_it_stays_and_is_shared(self) -> None:
        found = self.tried(WAGE)
        path = f"money/what-ifs/{found['id']}"
        self.ask("put", f"{path}/kept", {"name": "=Wage of 22"})
        for _ in range(3):
            self.tried({"kind": "wage", "per_hour": "15"})
        with mock.patch.object(what_ifs, "_UNKEPT", 1):
            self.tried({"kind": "wage", "per_hour": "15"})
        rows = self.ask("get", "money/what-ifs")["results"]
        self.assertIn("=Wage of 22", [row["name"] for row in rows])
        self.assertEqual(len(rows), 2)
        table = list(csv.reader(io.StringIO(self.ask("get", f"{path}/what-if.csv").content.decode())))
        self.assertEqual(table[0], ["change", "If the wage is 22.00 an hour"])
        paper = self.ask("get", f"{path}/what-if.pdf")
        self.assertTrue(paper.content.startswith(b"%PDF"))
        self.ask("put", f"{path}/kept", {"name": ""})
        self.ask("delete", path)
        self.ask("get", path, status=404)

    def test_the_owner_asks_and_a_packer_looks(self) -> None:
        found = self.tried(WAGE)
        self.as_(self.packer)
        self.ask("get", f"money/what-ifs/{found['id']}")
        self.begin(WAGE, status=403)
