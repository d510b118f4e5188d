"""Trials over real orders: picked fairly, packed as picked, looked at once, ended; suggestions made versions."""

from collections import Counter
from typing import Any
from uuid import uuid4

from server.outcomes.answering import Told, answer
from server.outcomes.models import Arrival, VersionTrial
from server.plans.models import Plan, TrialPick
from server.plans.waves import run_wave
from server.recipes.models import Recipe, RecipeVersion
from tests.server.base import DemoCase


class TrialCase(DemoCase):
    """The demo's preserves, with a second version made for a trial."""

    def setUp(self) -> None:
        super().setUp()
        self.recipe = Recipe.objects.of(self.workshop).get(code="preserve-250")
        body = {"cause": "between_units", "code": "gap", "base_version": 1, "for_trial": True}
        self.ask("post", f"recipes/{self.recipe.pk}/suggestions", body, status=201)

    def trial(self, status: int = 201, **more: Any) -> Any:
        body = {
            "request_key": str(uuid4()), "recipe_id": self.recipe.pk, "versions": [1, 2], "kind": "orders",
            "question": "Does more room help?", "rate": "0.08", "hoped": "0.02", **more,
        }  # fmt: skip
        return self.ask("post", "version-trials", body, status=status)

    def plans(self) -> list[Plan]:
        rows = Plan.objects.of(self.workshop).filter(recipe_versions__has_key="preserve-250", status="planned")
        return list(rows.select_related("order").order_by("order__number"))

    def arrive(self, number: str, outcome: str) -> None:
        parcel = self.sent(number)
        row = Arrival.objects.of(self.workshop).get(parcel_id=parcel["id"])
        told = Told(outcome=outcome)  # type: ignore[arg-type]
        answer(
            workshop=self.workshop, arrival_id=row.pk, told=told, revision=0, by="test", source=Arrival.Source.US
        )  # fmt: skip


class AVersionForATrial(TrialCase):
    def test_it_is_not_in_force_and_open_orders_go_on_as_before(self) -> None:
        run_wave(workshop=self.workshop)
        self.assertEqual({plan.recipe_versions["preserve-250"] for plan in self.plans()}, {1})
        found = self.ask("get", f"recipes/{self.recipe.pk}")
        self.assertEqual(found["version"]["number"], 1)

    def test_the_next_version_is_numbered_after_it(self) -> None:
        document = self.ask("get", f"recipes/{self.recipe.pk}")["document"]
        document["buyer_note"] = "Keep the paper."
        body = {"base_version": 1, "reason": "a note", "document": document}
        made = self.ask("post", f"recipes/{self.recipe.pk}/versions", body, status=201)
        self.assertEqual(made["version"]["number"], 3)

    def test_it_can_be_tested_at_the_table_beside_the_current_one(self) -> None:
        body = {"request_key": str(uuid4()), "version": 2, "kind": "drop", "units": 1, "passed": True, "drop_mm": 760}
        self.ask("post", f"recipes/{self.recipe.pk}/trials", body, status=201)
        trial = self.trial(kind="drop", each=5)
        body["request_key"] = str(uuid4())
        self.ask("post", f"recipes/{self.recipe.pk}/trials", {**body, "passed": False}, status=201)
        (found,) = self.ask("get", "version-trials")["results"]
        arms = {arm["version"]: (arm["counted"]["damaged"], arm["counted"]["known"]) for arm in found["arms"]}
        self.assertEqual((found["id"], arms), (trial["id"], {1: (0, 0), 2: (1, 1)}))


class Running(TrialCase):
    def test_its_size_is_fixed_when_it_begins(self) -> None:
        self.assertEqual(self.trial()["each"], 206)

    def test_sent_twice_it_begins_once_and_a_second_one_waits(self) -> None:
        key = str(uuid4())
        one, two = self.trial(request_key=key), self.trial(request_key=key)
        self.assertEqual(one["id"], two["id"])
        self.assertEqual(self.trial(status=409)["code"], "trial_running")

    def test_what_cannot_be_compared_is_refused(self) -> None:
        for more, field in (({"versions": [1, 7]}, "versions"), ({"versions": [1, 1]}, "versions"),
                            ({"hoped": "0.08"}, "hoped"), ({"each": 2}, "each")):  # fmt: skip
            self.assertEqual(self.trial(status=422, **more)["field"], field)
        self.assertFalse(VersionTrial.objects.of(self.workshop).exists())

    def test_orders_are_picked_evenly_and_planned_as_picked(self) -> None:
        self.trial()
        run_wave(workshop=self.workshop)
        picks = {row.order_id: row for row in TrialPick.objects.of(self.workshop).select_related("version")}
        plans = [plan for plan in self.plans() if plan.order_id in picks]
        self.assertGreaterEqual(len(plans), 2)
        for plan in plans:
            self.assertEqual(plan.recipe_versions["preserve-250"], picks[plan.order_id].version.number)
        by_stratum: dict[str, Counter[int]] = {}
        for row in picks.values():
            by_stratum.setdefault(row.stratum, Counter())[row.version.number] += 1
        for counts in by_stratum.values():
            self.assertLessEqual(abs(counts[1] - counts[2]), 2)

    def test_an_order_of_two_recipes_is_not_picked(self) -> None:
        self.trial()
        run_wave(workshop=self.workshop)
        mixed = [plan.order_id for plan in self.plans() if len(plan.recipe_versions) > 1]
        self.assertFalse(TrialPick.objects.of(self.workshop).filter(order__in=mixed).exists())

    def test_the_bench_packs_it_as_picked_and_says_so(self) -> None:
        self.trial()
        run_wave(workshop=self.workshop)
        pick = TrialPick.objects.of(self.workshop).filter(version__number=2).select_related("order").first()
        assert pick is not None
        parcel = self.to_bench(pick.order.number)
        self.assertEqual(parcel["recipe_versions"], {"preserve-250": 2})
        self.assertEqual(parcel["trial"], {"question": "Does more room help?", "version": 2})

    def test_no_winner_is_named_before_the_end_and_the_look_is_kept(self) -> None:
        trial = self.trial(each=5)
        run_wave(workshop=self.workshop)
        picks = list(TrialPick.objects.of(self.workshop).select_related("order", "version").order_by("id"))
        one, other = (next(row for row in picks if row.version.number == number) for number in (1, 2))
        self.arrive(one.order.number, "broken")
        (found,) = self.ask("get", "version-trials")["results"]
        self.assertEqual((found["verdict"], found["leads"]), ("not_yet", None))
        self.assertEqual([arm["more"] for arm in found["arms"]], [4, 5])
        VersionTrial.objects.of(self.workshop).filter(pk=trial["id"]).update(each=1)
        self.arrive(other.order.number, "whole")
        kept = VersionTrial.objects.of(self.workshop).get().verdict
        assert kept is not None
        seen = [(arm["version"], arm["damaged"], arm["known"]) for arm in kept["arms"]]
        self.assertEqual(seen, [(1, 1, 1), (2, 0, 1)])
        # What is told after the look does not change it.
        row = Arrival.objects.of(self.workshop).get(parcel__order=one.order)
        answer(
            workshop=self.workshop, arrival_id=row.pk, told=Told(outcome="whole"), revision=row.revision, by="test",
            source=Arrival.Source.US,
        )  # fmt: skip
        self.assertEqual(VersionTrial.objects.of(self.workshop).get().verdict, kept)


class Ending(TrialCase):
    def end(self, trial: Any, take: int | None) -> Any:
        return self.ask("post", f"version-trials/{trial['id']}/end", {"take": take})

    def test_the_version_taken_is_current_and_open_orders_follow(self) -> None:
        trial = self.trial()
        run_wave(workshop=self.workshop)
        ended = self.end(trial, 2)
        self.assertEqual((ended["taken"], ended["ended_by"]), (2, "Maren"))
        run_wave(workshop=self.workshop)
        self.assertEqual({plan.recipe_versions["preserve-250"] for plan in self.plans()}, {2})
        self.assertFalse(TrialPick.objects.of(self.workshop).filter(order__state="planned").exists())
        self.assertEqual(self.end(trial, 1)["taken"], 2)  # asked again it does nothing more

    def test_without_taking_one_orders_are_packed_as_before(self) -> None:
        trial = self.trial()
        run_wave(workshop=self.workshop)
        self.end(trial, None)
        run_wave(workshop=self.workshop)
        self.assertEqual({plan.recipe_versions["preserve-250"] for plan in self.plans()}, {1})

    def test_a_version_that_is_older_by_now_is_made_again_as_the_newest(self) -> None:
        trial = self.trial()
        document = self.ask("get", f"recipes/{self.recipe.pk}")["document"]
        document["buyer_note"] = "Keep the paper."
        body = {"base_version": 1, "reason": "a note", "document": document}
        self.ask("post", f"recipes/{self.recipe.pk}/versions", body, status=201)
        self.assertEqual(self.end(trial, 2)["taken"], 4)
        newest = RecipeVersion.objects.of(self.workshop).get(recipe=self.recipe, number=4)
        older = RecipeVersion.objects.of(self.workshop).get(recipe=self.recipe, number=2)
        self.assertEqual((newest.document, newest.in_force), (older.document, True))

    def test_a_version_that_was_not_compared_cannot_be_taken(self) -> None:
        trial = self.trial()
        self.assertEqual(
            self.ask("post", f"version-trials/{trial['id']}/end", {"take": 9}, status=422)["field"], "take"
        )


class Suggesting(TrialCase):
    def test_what_is_known_and_what_would_help(self) -> None:
        number = self.plans()[0].order.number
        self.arrive(number, "broken")
        found = self.ask("get", f"recipes/{self.recipe.pk}/arrivals")
        self.assertEqual(found["headline"], "1 of 1 arrived damaged; no place stands out")
        told = self.ask("get", f"recipes/{self.recipe.pk}/suggestions?cause=corner")
        self.assertEqual((told["place"], told["leads"], told["base_version"]), ("Corners", False, 1))
        for one in told["suggestions"]:
            self.assertTrue(one["words"] and one["bands"])
            gain = round(float(one["saves_cost"]) - float(one["extra_cost"]), 2)
            self.assertEqual(float(one["gain_cost"]), gain)

    def test_one_taken_is_the_next_version_with_its_reason(self) -> None:
        body = {"cause": "between_units", "code": "gap", "base_version": 1}
        made = self.ask("post", f"recipes/{self.recipe.pk}/suggestions", body, status=201)
        self.assertEqual((made["version"], made["reason"][:18]), (3, "Unit against unit:"))
        self.assertEqual(self.ask("get", f"recipes/{self.recipe.pk}")["version"]["number"], 3)

    def test_what_changes_nothing_or_is_unknown_is_refused(self) -> None:
        url = f"recipes/{self.recipe.pk}/suggestions"
        self.ask("post", url, {"cause": "corner", "code": "thermal", "base_version": 1}, status=422)
        self.ask("post", url, {"cause": "corner", "code": "glue", "base_version": 1}, status=422)
        self.ask("post", url, {"cause": "between_units", "code": "gap", "base_version": 9}, status=409)
        self.ask("get", f"{url}?cause=inside", status=400)
        self.ask("get", "recipes/999999/arrivals", status=404)

    def test_recipes_that_were_sent_are_listed_most_damaged_first(self) -> None:
        self.arrive(self.plans()[0].order.number, "broken")
        (row,) = self.ask("get", "arrivals/recipes")["recipes"]
        self.assertEqual((row["name"], row["damaged"], row["known"]), ("Preserves, 250 ml jar", 1, 1))
