"""Practice: what the shelves play, what lies on the table, and minutes against the workshop's."""

import unittest
from collections import Counter
from dataclasses import replace

from core.bench.practice import lying_at, minutes_against, tricks_for
from core.bench.slips import slips_of
from core.bench.steps import BenchStep, StepKind, steps_of
from core.bench.weighing import check_weight
from core.messages import say
from core.parcels.candidate import PlannedParcel
from core.parcels.facts import Overrides
from core.parcels.layers import pack_layers
from core.parcels.plan import PlannedOrder, plan_order
from tests.core.caring import always, cared, choice, cool_facts, warm_pack
from tests.core.samples import DAY, HERE, D, band, facts, jar, order, recipe
from tests.said import said

CARTONS = {"Z": ("Carton Z", 400_000)}


def packed() -> tuple[PlannedParcel, tuple[BenchStep, ...]]:
    plan = plan_order(order(2), facts(), destination=HERE, ship_on=DAY)
    assert isinstance(plan, PlannedOrder)
    parcel = plan.chosen.parcels[0]
    return parcel, steps_of(parcel, (recipe(),), pack_layers(parcel, {}), {"W": "Bubble"})


class Tricks(unittest.TestCase):
    def setUp(self) -> None:
        self.parcel, self.steps = packed()

    def test_the_seed_decides_one_or_two_and_every_kind_comes_up(self) -> None:
        drawn = [tricks_for(self.steps, self.parcel, CARTONS, f"run {n}") for n in range(200)]
        self.assertEqual({len(tricks) for tricks in drawn}, {1, 2})
        kinds = Counter(one.kind for tricks in drawn for one in tricks)
        self.assertEqual(set(kinds), {"unit_missing", "other_container", "no_fill"})
        self.assertGreater(min(kinds.values()), 40)
        self.assertEqual(drawn[7], tricks_for(self.steps, self.parcel, CARTONS, "run 7"))
        for tricks in drawn:
            self.assertEqual(len({one.kind for one in tricks}), len(tricks))

    def test_a_trick_is_at_a_thing_that_is_taken_there(self) -> None:
        roles = {"unit_missing": "goods", "other_container": "outer", "no_fill": "fill"}
        for n in range(50):
            for one in tricks_for(self.steps, self.parcel, CARTONS, f"run {n}"):
                self.assertEqual(self.steps[one.step].takes[one.take].role, roles[one.kind])

    def test_without_another_carton_that_trick_is_not_played(self) -> None:
        drawn = [tricks_for(self.steps, self.parcel, {}, f"run {n}") for n in range(60)]
        self.assertNotIn("other_container", {one.kind for tricks in drawn for one in tricks})

    def test_nothing_to_take_plays_nothing(self) -> None:
        bare = tuple(replace(step, takes=()) for step in self.steps)
        self.assertEqual(tricks_for(bare, self.parcel, CARTONS, "any"), ())

    def test_what_the_scale_would_show_is_what_its_check_names(self) -> None:
        slips = slips_of(self.parcel, {}, {"Z": 400_000})
        settings = facts().settings
        seen = set()
        for n in range(80):
            for one in tricks_for(self.steps, self.parcel, CARTONS, f"run {n}"):
                weight = self.parcel.candidate.weight
                check = check_weight(
                    expected_mg=weight.gross_mg,
                    sigma_mg=weight.sigma_mg,
                    measured_mg=weight.gross_mg + one.effect_mg,
                    slips=slips,
                    look_cost=settings.look_cost,
                    slip_one_in=settings.slip_one_in,
                )
                kinds = [found.slip.kind for found in check.explanations]
                if abs(one.effect_mg) > 3 * weight.sigma_mg:
                    seen.add(one.kind)
                    self.assertIn(one.kind, kinds)
        self.assertIn("unit_missing", seen)


class Packs(unittest.TestCase):
    def lies(self, pack: str, count: int) -> str:
        """Return what a pack of an order for cool goods is like when its trick is played."""
        known = cool_facts()
        inserts = {**known.shelf.inserts, "HEAT": warm_pack()}
        known = replace(known, shelf=replace(known.shelf, inserts=inserts), free={**known.free, "HEAT": D(99)})
        lines = order(2, product=jar(lowest_c=2, highest_c=18), how=recipe(band(1, 6, outers=("C-20",))))
        made = cared(lines, always(4, 9), known, decided=Overrides(care=choice("FOAM", pack, count))).result
        assert isinstance(made, PlannedOrder)
        parcel = made.chosen.parcels[0]
        steps = steps_of(parcel, (recipe(),), pack_layers(parcel, {}), {})
        drawn = (one for n in range(60) for one in tricks_for(steps, parcel, {}, f"run {n}"))
        dud = next(one for one in drawn if one.kind == "dud_pack")
        self.assertEqual((steps[dud.step].kind, steps[dud.step].takes[dud.take].code), ("check", pack))
        self.assertEqual(dud.effect_mg, 0)  # no scale tells: it must be felt
        return said(dud.lies)

    def test_a_heat_pack_stays_cold_and_a_cold_one_is_soft(self) -> None:
        self.assertEqual(self.lies("HEAT", 1), "still cold to the touch")
        self.assertEqual(self.lies("GEL", 2), "soft: not frozen through")


class OnTheTable(unittest.TestCase):
    def setUp(self) -> None:
        self.parcel, self.steps = packed()

    def test_it_is_as_planned_but_for_the_trick(self) -> None:
        for n in range(40):
            tricks = tricks_for(self.steps, self.parcel, CARTONS, f"run {n}")
            places = {(one.step, one.take): one for one in tricks}
            for at, step in enumerate(self.steps):
                lying = lying_at(step, at, tricks)
                self.assertEqual(len(lying), len(step.takes))
                for number, (take, lies) in enumerate(zip(step.takes, lying, strict=True)):
                    as_planned = (lies.name, lies.amount) == (take.name, take.amount)
                    self.assertEqual(as_planned, (at, number) not in places)

    def test_one_of_two_units_is_left(self) -> None:
        runs = (tricks_for(self.steps, self.parcel, {}, f"run {n}") for n in range(40))
        one = next(one for tricks in runs for one in tricks if one.kind == "unit_missing")
        self.assertEqual(said(one.lies), "1")
        self.assertEqual(one.effect_mg, -self.parcel.pieces[0].weight_mg)


class Minutes(unittest.TestCase):
    KINDS: tuple[StepKind, ...] = ("wrap", "pack", "pack", "weigh")
    STEPS = tuple(BenchStep(kind=kind, title=say("step_weigh"), detail="") for kind in KINDS)

    def test_kinds_in_their_order_against_the_median_without_pauses(self) -> None:
        found = minutes_against(self.STEPS, {0: 90, 1: 30, 2: 60}, {"wrap": [60, 60, 66, 4_000], "pack": []})
        self.assertEqual(
            [(one.kind, one.minutes, one.usual) for one in found], [("wrap", 1.5, 1.0), ("pack", 0.75, None)]
        )

    def test_a_step_that_is_not_there_counts_for_nothing(self) -> None:
        self.assertEqual(minutes_against(self.STEPS, {99: 60}, {}), ())
