"""A wave's parcels gathered in one walk, and what they have in common done once at the bench (rules 20.6, step 6)."""

import unittest
from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from core.bench.steps import BenchStep, steps_of
from core.bench.together import SHARED, own_begins, shared_steps
from core.day.gather import Carried, Needed, gather_list, short_of
from core.parcels.candidate import PlannedParcel
from core.parcels.facts import Facts
from core.parcels.layers import pack_layers
from core.recipes.model import Recipe
from tests.core.samples import BUBBLE, D, facts, jar, order, planned, recipe
from tests.said import said


def parcel(units: int, known: Facts | None = None, how: Recipe | None = None, sku: str = "JAR") -> PlannedParcel:
    return planned(order(units, product=jar(sku=sku, name=sku.lower()), how=how), known or facts()).chosen.parcels[0]


def steps(units: int, how: Recipe | None = None, sku: str = "JAR") -> tuple[BenchStep, ...]:
    one = parcel(units, how=how, sku=sku)
    return tuple(steps_of(one, (how or recipe(),), pack_layers(one, {}), {"W": "Bubble"}))


class OneWalk(unittest.TestCase):
    def test_everything_is_summed_and_told_parcel_by_parcel(self) -> None:
        found = gather_list([Needed(code="a", parcel=parcel(2)), Needed(code="b", parcel=parcel(1))])
        (jars,) = found.goods
        self.assertEqual((jars.code, jars.quantity, jars.per), ("JAR", 3, (("a", D(2)), ("b", D(1)))))
        self.assertEqual({one.code for one in found.containers}, {"C-08"})
        self.assertEqual([one.per for one in found.containers], [(("a", D(1)), ("b", D(1)))])
        self.assertEqual([(one.code, one.quantity, said(one.amount)) for one in found.cards], [("I", 2, "2")])
        # What is put on at the label printer is not carried.
        self.assertNotIn("label", {one.role for one in (*found.supplies, *found.containers, *found.cards)})

    def test_quantities_are_those_of_the_plans(self) -> None:
        waves = [Needed(code=str(units), parcel=parcel(units)) for units in (1, 2, 2, 4)]
        # Two of one code are one parcel: its quantities add up.
        waves[2] = replace(waves[2], code="2b")
        found = gather_list(waves)
        for one in (*found.containers, *found.supplies, *found.cards):
            planned_of = [
                use.quantity
                for need in waves
                for use in need.parcel.candidate.uses
                if (use.supply, use.role) == (one.code, one.role)
            ]
            self.assertEqual(one.quantity, sum(planned_of), one.code)
            self.assertEqual(one.quantity, sum(quantity for _, quantity in one.per), one.code)

    def test_lengths_side_by_side_are_cut_once_for_two_parcels(self) -> None:
        # A sheet is 684 x 210 mm: a roll of 430 mm gives two beside each other.
        wide = replace(BUBBLE, roll_width_um=430_000)
        known = facts()
        known = replace(known, shelf=replace(known.shelf, wraps={**known.shelf.wraps, "W": wide}))
        found = gather_list([Needed(code=code, parcel=parcel(1, known)) for code in ("a", "b")])
        (cut,) = found.cuts
        self.assertEqual((cut.supply, cut.alone, cut.parcels), ("W", 2, ("a", "b")))
        self.assertEqual([(one.count, one.length_um) for one in cut.cuts], [(1, 683_600)])
        # Its metres are told as lengths to cut, not as an amount to fetch.
        self.assertEqual([one.amount for one in found.supplies if one.code == "W"], [""])

    def test_an_empty_wave_needs_nothing(self) -> None:
        found = gather_list([])
        self.assertEqual((found.goods, found.containers, found.supplies, found.cards, found.cuts), ((), (), (), (), ()))


class TooLittle(unittest.TestCase):
    def carried(self, *quantities: int) -> Carried:
        per = tuple((str(number), D(quantity)) for number, quantity in enumerate(quantities))
        return Carried(code="C-08", role="outer", quantity=D(sum(quantities)), amount="", per=per)

    def test_what_is_short_holds_only_its_own_and_the_last_go_without(self) -> None:
        self.assertEqual(short_of([self.carried(2, 3, 1)], {"C-08": D(3)}), {"C-08": ("1",)})
        self.assertEqual(short_of([self.carried(2, 3, 1)], {"C-08": D(6)}), {})
        self.assertEqual(short_of([self.carried(2, 3, 1)], {}), {}, "what is not counted is not short")

    @given(st.lists(st.integers(1, 9), max_size=12), st.integers(0, 60))
    def test_who_is_served_never_needs_more_than_there_is_and_nobody_is_refused_who_could_be(
        self, quantities: list[int], there: int
    ) -> None:
        without = short_of([self.carried(*quantities)], {"C-08": D(there)}).get("C-08", ())
        served = [quantity for number, quantity in enumerate(quantities) if str(number) not in without]
        self.assertLessEqual(sum(served), there)
        for number in without:
            before = [q for at, q in enumerate(quantities) if at < int(number) and str(at) not in without]
            self.assertGreater(quantities[int(number)] + sum(before), there)


class LikeWithLike(unittest.TestCase):
    def test_what_says_the_same_is_one_step_with_the_numbers_of_all(self) -> None:
        found = shared_steps({1: steps(2), 2: steps(1)})
        self.assertEqual([one.step.kind for one in found], ["print", "check", "cut", "wrap"])
        wrap = found[-1]
        self.assertEqual((said(wrap.step.title), wrap.step.tick_units), ("Wrap 3 jar in Bubble", 3))
        self.assertEqual(wrap.parcels, ((1, 2), (2, 1)))
        (length,) = found[2].step.takes
        self.assertEqual(said(length.amount), "3 lengths of 684 mm")
        self.assertEqual([(take.code, take.quantity) for take in found[0].step.takes], [("I", 2)])

    def test_the_same_checks_are_done_together_and_other_goods_are_wrapped_apart(self) -> None:
        found = shared_steps({1: steps(1), 2: steps(1, recipe(code="loaves"), "LOAF")})
        checks = [one.parcels for one in found if one.step.kind == "check"]
        self.assertEqual(checks, [((1, 1), (2, 1))])
        wraps = [(said(one.step.title), one.parcels) for one in found if one.step.kind == "wrap"]
        self.assertEqual(wraps, [("Wrap 1 jar in Bubble", ((1, 1),)), ("Wrap 1 loaf in Bubble", ((2, 1),))])

    def test_checks_that_ask_otherwise_stay_apart(self) -> None:
        dated = replace(recipe(code="loaves"), goods_checks=("Date on it.",))
        found = shared_steps({1: steps(1), 2: steps(1, dated, "LOAF")})
        self.assertEqual([one.parcels for one in found if one.step.kind == "check"], [((1, 1),), ((2, 1),)])

    def test_a_parcel_goes_on_by_itself_after_its_last_shared_step(self) -> None:
        mine = steps(2)
        at = own_begins(mine)
        self.assertEqual(mine[at].kind, "pack")
        self.assertTrue(all(step.kind in SHARED for step in mine[:at]))
        self.assertEqual(own_begins(mine[:2]), 1, "with nothing but shared steps the last is its own")
        self.assertEqual(own_begins(()), 0)

    @given(st.lists(st.integers(1, 4), min_size=1, max_size=5))
    def test_no_tick_is_lost_or_done_twice(self, sizes: list[int]) -> None:
        parcels = {number: _STEPS[units] for number, units in enumerate(sizes)}
        found = shared_steps(parcels)
        for number, own in parcels.items():
            ticks = sum(step.tick_units for step in own[: own_begins(own)] if step.kind != "gather")
            self.assertEqual(ticks, sum(dict(one.parcels).get(number, 0) for one in found))
        for one in found:
            self.assertEqual(one.step.tick_units, sum(ticks for _, ticks in one.parcels))
        order_of = [SHARED.index(one.step.kind) for one in found]
        self.assertEqual(order_of, sorted(order_of))
        taken = sum(take.quantity for one in found for take in one.step.takes)
        asked = sum(
            take.quantity
            for own in parcels.values()
            for step in own[: own_begins(own)]
            if step.kind != "gather"
            for take in step.takes
        )
        self.assertEqual(taken, asked)


_STEPS = {units: steps(units) for units in range(1, 5)}
