"""A wave at the bench: steps that say the same are one, and each parcel goes on with its own."""

from typing import Any

from tests.server.base import DemoCase


class Together(DemoCase):
    def wave(self, *numbers: str) -> tuple[Any, list[Any]]:
        parcels = [self.to_bench(number) for number in numbers]
        ids = ",".join(str(one["id"]) for one in parcels)
        return self.ask("get", f"bench/together?parcels={ids}"), parcels

    def test_alike_parcels_are_wrapped_together_and_nothing_is_lost(self) -> None:
        found, parcels = self.wave("1160", "1165", "1172")
        wraps = [one for one in found["steps"] if one["kind"] == "wrap"]
        own = [step for parcel in parcels for step in parcel["steps"] if step["kind"] == "wrap"]
        self.assertLess(len(wraps), len(own))
        self.assertEqual(sum(one["tick_units"] for one in wraps), sum(step["tick_units"] for step in own))
        for one in found["steps"]:
            self.assertEqual(sum(per["units"] for per in one["per"]), one["tick_units"])
        kinds = [one["kind"] for one in found["steps"]]
        self.assertEqual(kinds, sorted(kinds, key=["print", "check", "cut", "wrap"].index))
        taken: dict[str, float] = {}
        for step in found["steps"]:
            for take in step["takes"]:
                taken[take["code"]] = taken.get(take["code"], 0) + float(take["quantity"])
        wanted: dict[str, float] = {}
        for parcel in parcels:
            for step in parcel["steps"]:
                if step["kind"] in ("print", "check", "cut", "wrap"):
                    for take in step["takes"]:
                        wanted[take["code"]] = wanted.get(take["code"], 0) + float(take["quantity"])
        self.assertEqual({k: round(v, 6) for k, v in taken.items()}, {k: round(v, 6) for k, v in wanted.items()})

    def test_a_summed_step_says_the_sum(self) -> None:
        found, parcels = self.wave("1160", "1165")
        alone = [s for p in parcels for s in p["steps"] if s["kind"] == "wrap" and "Blackcurrant" in s["title"]]
        if len({step["title"].split(" in ")[-1] for step in alone}) == 1 and len(alone) > 1:
            total = sum(step["tick_units"] for step in alone)
            titles = [one["title"] for one in found["steps"] if one["kind"] == "wrap"]
            self.assertTrue(any(title.startswith(f"Wrap {total} ") for title in titles), titles)

    def test_done_together_each_goes_on_with_its_own_first_step(self) -> None:
        _, parcels = self.wave("1160", "1165")
        ids = [one["id"] for one in parcels]
        for _ in range(2):  # sent twice
            self.assertEqual(self.ask("post", "bench/together/done", {"parcel_ids": ids})["parcel_ids"], ids)
        for pk in ids:
            parcel = self.ask("get", f"parcels/{pk}")
            self.assertEqual(parcel["steps"][parcel["step"]]["kind"], "pack")
            self.assertTrue(all(s["kind"] != "pack" for s in parcel["steps"][: parcel["step"]]))
        left = self.ask("get", f"bench/together?parcels={ids[0]},{ids[1]}")
        self.assertEqual((left["steps"], len(left["parcels"])), ([], 2))

    def test_one_that_is_further_stays_where_it_is(self) -> None:
        _, parcels = self.wave("1160", "1165")
        far = len(parcels[0]["steps"]) - 2
        self.ask("post", f"parcels/{parcels[0]['id']}/progress", {"step": far, "ticked": {}})
        self.ask("post", "bench/together/done", {"parcel_ids": [one["id"] for one in parcels]})
        self.assertEqual(self.ask("get", f"parcels/{parcels[0]['id']}")["step"], far)

    def test_wrong_numbers_are_refused(self) -> None:
        self.ask("get", "bench/together?parcels=x", status=400)
        self.ask("get", "bench/together?parcels=", status=422)
        self.ask("get", "bench/together?parcels=999999", status=404)
