"""Several parcels weighed against the same parcels in other containers: seen, offered, chosen, never taken unasked."""

import unittest
from dataclasses import replace
from decimal import Decimal

from core.parcels.exchanged import exchanged
from core.parcels.way import Way
from core.recipes.expand import OrderLine
from core.recipes.model import Recipe
from tests.core.samples import band, carton, facts, jar, order, recipe, size
from tests.core.test_several import planned
from tests.said import said

D = Decimal
#: Room for two jars and for six, for twice the money, and a snug one for two that costs less.
WIDE, SNUG = carton("C-20", size(330, 240, 175), cost="2.10"), carton("C-07", size(230, 150, 170), cost="0.40")


def apart(how: Recipe) -> tuple[OrderLine, ...]:
    """Two soaps and three jams: they may not share a parcel."""
    soap = order(2, product=jar(sku="SOAP", name="soap", scented=True), how=how)
    return (*soap, *order(3, product=jar(sku="JAM", name="jam", food=True), how=replace(how, code="f")))


def known(**free: int) -> object:
    """The sample cupboard with two cartons more."""
    base = facts()
    return replace(
        base,
        containers=(*base.containers, WIDE, SNUG),
        free={**base.free, "C-20": D(9), "C-07": D(9), **{code.replace("_", "-"): D(n) for code, n in free.items()}},
    )


NAMED = recipe(band(1, 6, outers=("C-14",), layers=()), code="s")
ANY = recipe(band(1, 6, outers=("C-14",), any_outer=True, layers=()), code="s")


class OtherContainers(unittest.TestCase):
    def test_each_parcel_is_weighed_against_other_containers(self) -> None:
        plan = planned(apart(NAMED), known())
        self.assertEqual(plan.chosen.key, "C-14+C-14")
        keys = {way.key for way in plan.others}
        self.assertIn("C-14+C-07", keys)  # the soaps in the snug one
        self.assertIn("C-20+C-14", keys)  # the jams in the wide one
        for way in plan.others:
            self.assertEqual(way.costs.total, sum((one.costs.total for one in way.candidates), D(0)))
            self.assertEqual([p.goods for p in way.parcels], [p.goods for p in plan.chosen.parcels])
            self.assertFalse(way.in_recipe)

    def test_what_would_take_a_parcel_is_told_of_its_own_goods(self) -> None:
        plan = planned(apart(NAMED), known())
        jams, soaps = (parcel.goods for parcel in plan.chosen.parcels)
        self.assertEqual((jams[0][0], soaps[0][0]), ("JAM", "SOAP"))
        self.assertEqual(plan.would_take(jams), {"C-14", "C-20"})
        self.assertEqual(plan.would_take(soaps), {"C-07", "C-08", "C-14", "C-20"})

    def test_what_the_recipe_does_not_name_is_seen_but_not_offered(self) -> None:
        plan = planned(apart(NAMED), known())
        self.assertIsNone(plan.offer)
        self.assertIn("C-14 Carton C-14 and C-07 Carton C-07 would cost", said(plan.why))

    def test_where_any_container_will_do_the_cheapest_is_offered_and_not_taken(self) -> None:
        plan = planned(apart(ANY), known())
        self.assertEqual(plan.chosen.key, "C-14+C-14")
        assert plan.offer is not None
        self.assertEqual(plan.offer.key, "C-14+C-07")
        self.assertEqual(plan.offer.saves, plan.chosen.costs.total - plan.others[0].costs.total)
        taken = planned(apart(ANY), known(), container=plan.offer.key)
        self.assertEqual((taken.chosen.key, taken.chosen.costs.total), ("C-14+C-07", plan.others[0].costs.total))
        self.assertIn("C-14+C-14", {way.key for way in taken.others})

    def test_parcels_alike_change_together(self) -> None:
        plan = planned(order(30), known())
        self.assertEqual(plan.chosen.key, "+".join(["C-14"] * 5))
        self.assertEqual([way.key for way in plan.others], ["+".join(["C-20"] * 5)])
        self.assertNotIn("Nothing else in the cupboard", said(plan.why))

    def test_a_container_of_which_there_are_too_few_is_left_out(self) -> None:
        self.assertEqual(planned(order(30), known(C_20=4)).others, ())
        self.assertEqual(len(planned(order(30), known(C_20=5)).others), 1)

    def test_the_cheapest_for_every_parcel_is_one_of_them(self) -> None:
        plan = planned((*apart(ANY)[:1], *order(2, product=jar(sku="JAM", name="jam", food=True), how=ANY)), known())
        self.assertEqual(plan.others[0].key, "C-07+C-07")

    def test_what_goes_in_once_an_order_stays_in_the_first_parcel(self) -> None:
        plan = planned(apart(NAMED), known())
        once = [use.supply for use in plan.chosen.candidates[0].uses if use.role == "insert"]
        for way in plan.others:
            self.assertEqual([use.supply for use in way.candidates[0].uses if use.role == "insert"], once)

    def test_what_each_parcel_does_not_go_in_is_told(self) -> None:
        plan = planned(apart(NAMED), known())
        self.assertTrue(all(said(out.reason).startswith("Parcel 1: ") for out in plan.ruled_out), plan.ruled_out)
        self.assertEqual({out.container for out in plan.ruled_out}, {"C-07", "C-08"})  # the jams are three
        many = planned(order(30), known())
        told = {out.container: said(out.reason) for out in many.ruled_out}
        self.assertEqual(told["C-08"], "Parcels 1, 2, 3, 4 and 5: C-08 holds at most 2 of 6 standing this way.")

    def test_nothing_is_found_for_parcels_that_go_in_one_container_only(self) -> None:
        way = planned(order(30)).chosen
        self.assertEqual(exchanged(Way(parcels=way.parcels), [(one,) for one in way.candidates], facts().free), ())
