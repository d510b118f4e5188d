"""Practice: packed for the hands alone. Nothing is posted, each person's own, what was seen and what was not."""

from typing import Any

from server.bench.models import Parcel, PracticeRun
from server.carriers.models import Label
from server.orders.models import Order
from server.supplies.models import Entry
from tests.server.base import DemoCase


class PracticeCase(DemoCase):
    def begin(self, number: str = "1163") -> Any:
        return self.ask("post", "practice", {"order_id": self.order(number).pk}, status=201)

    def tricks(self, run: Any) -> list[Any]:
        return list(PracticeRun.objects.of(self.workshop).get(pk=run["id"]).tricks)

    def with_trick(self, *kinds: str) -> Any:
        """Begin until the shelves play exactly these."""
        for _ in range(80):
            run = self.begin()
            if sorted(one["kind"] for one in self.tricks(run)) == sorted(kinds):
                return run
        raise AssertionError(f"{kinds} were never played")

    def weigh(self, run: Any, **body: Any) -> Any:
        return self.ask("post", f"practice/{run['id']}/weigh", body)["check"]

    def end(self, run: Any, **spent: int) -> Any:
        return self.ask("post", f"practice/{run['id']}/end", {"spent": spent})["result"]


class NothingIsReal(PracticeCase):
    def test_no_stock_moves_no_label_is_bought_and_the_order_stays_as_it_is(self) -> None:
        before = self.counts()
        run = self.begin()
        trick = self.tricks(run)[0]
        self.ask("post", f"practice/{run['id']}/report", {"step": trick["step"], "take": trick["take"]})
        self.weigh(run)
        self.end(run)
        self.assertEqual(self.counts(), before)

    def counts(self) -> list[Any]:
        return [
            Entry.objects.of(self.workshop).count(),
            Label.objects.of(self.workshop).count(),
            Parcel.objects.of(self.workshop).count(),
            list(Order.objects.of(self.workshop).order_by("pk").values_list("pk", "state", "revision")),
        ]

    def test_what_is_packed_already_can_be_practised_too(self) -> None:
        self.closed("1163")
        run = self.begin("1163")
        self.assertEqual(run["number"], "1163")
        self.assertEqual(run["steps"][-1]["kind"], "hand_over")

    def test_an_order_without_a_plan_is_refused(self) -> None:
        self.ask("post", "practice", {"order_id": 999_999}, status=404)

    def test_its_way_is_that_of_the_bench(self) -> None:
        run = self.begin()
        real = self.to_bench("1163")
        self.assertEqual([s["kind"] for s in run["steps"]], [s["kind"] for s in real["steps"]])


class Tricks(PracticeCase):
    def test_one_told_at_its_step_is_put_right(self) -> None:
        run = self.with_trick("no_fill")
        (trick,) = self.tricks(run)
        at, take = trick["step"], trick["take"]
        self.assertEqual(run["lying"][at][take]["amount"], "nothing there")
        self.assertTrue(self.ask("post", f"practice/{run['id']}/report", {"step": at, "take": take})["right"])
        now = self.ask("get", f"practice/{run['id']}")
        self.assertEqual(now["lying"][at][take]["amount"], now["steps"][at]["takes"][take]["amount"])
        self.assertTrue(self.weigh(run)["fine"])
        result = self.end(run)
        self.assertEqual([(t["kind"], t["how"]) for t in result["tricks"]], [("no_fill", "seen")])
        self.assertEqual((result["tricks"][0]["words"], result["false_alarms"]), ("There was no fill", 0))

    def test_one_nobody_told_shows_on_the_scale(self) -> None:
        run = self.with_trick("unit_missing")
        check = self.weigh(run)
        self.assertFalse(check["fine"])
        self.assertLess(check["difference_mg"], 0)
        self.assertIn("unit_missing", [one["slip"]["kind"] for one in check["explanations"]])
        self.assertTrue(self.weigh(run, named="unit_missing")["fine"])
        self.assertEqual([t["how"] for t in self.end(run)["tricks"]], ["weighed"])

    def test_one_nobody_found_is_missed_and_told_at_the_end_only(self) -> None:
        run = self.with_trick("unit_missing")
        self.assertIsNone(self.ask("get", f"practice/{run['id']}")["result"])
        self.assertEqual([t["how"] for t in self.end(run)["tricks"]], ["missed"])

    def test_what_was_told_and_is_not_so_counts_once_as_a_false_alarm(self) -> None:
        run = self.with_trick("no_fill")
        (trick,) = self.tricks(run)
        step = next(at for at, step in enumerate(run["steps"]) if step["takes"] and at != trick["step"])
        for _ in range(2):
            self.assertFalse(self.ask("post", f"practice/{run['id']}/report", {"step": step, "take": 0})["right"])
        self.assertFalse(self.weigh(run, named="insert_missing")["difference_mg"] == 0)
        self.assertEqual(self.end(run)["false_alarms"], 2)

    def test_a_step_or_thing_that_is_not_there_is_refused(self) -> None:
        run = self.begin()
        for body in ({"step": 499, "take": 0}, {"step": 0, "take": 99}):
            self.ask("post", f"practice/{run['id']}/report", body, status=404)
        self.ask("post", f"practice/{run['id']}/report", {"step": -1, "take": 0}, status=422)

    def test_minutes_are_told_against_the_workshops(self) -> None:
        run = self.begin()
        result = self.end(run, **{"0": 30, "1": 60})
        self.assertEqual([one["kind"] for one in result["minutes"]], [s["kind"] for s in run["steps"][:2]])
        self.assertEqual([one["minutes"] for one in result["minutes"]], [0.5, 1.0])

    def test_one_that_is_over_takes_nothing_more_and_stays_as_it_ended(self) -> None:
        run = self.begin()
        first = self.end(run, **{"0": 30})
        self.assertEqual(self.end(run, **{"0": 900}), first)
        self.ask("post", f"practice/{run['id']}/weigh", {}, status=409)
        self.ask("post", f"practice/{run['id']}/report", {"step": 0, "take": 0}, status=409)


class OnesOwn(PracticeCase):
    def test_nobody_else_sees_it_and_it_is_deleted_when_its_person_likes(self) -> None:
        self.as_(self.packer)
        run = self.begin()
        self.assertEqual([row["id"] for row in self.ask("get", "practice")["results"]], [run["id"]])
        self.as_(self.owner)
        self.assertEqual(self.ask("get", "practice")["results"], [])
        for method, path in (("get", ""), ("post", "/weigh"), ("post", "/end"), ("delete", "")):
            self.ask(method, f"practice/{run['id']}{path}", status=404)
        self.as_(self.packer)
        self.assertEqual(self.ask("delete", f"practice/{run['id']}")["results"], [])
        self.assertFalse(PracticeRun.objects.of(self.workshop).filter(pk=run["id"]).exists())
