"""What fits: the most of a product that each container takes (rules 18.6)."""

import unittest
from dataclasses import replace

from core.designing.cupboard import Desk
from core.designing.fits import goods_fitting
from core.parcels.facts import Aim, Facts, Overrides
from core.parcels.single import try_all
from core.recipes.expand import OrderLine
from core.recipes.model import Occasion
from tests.core.samples import DAY, HERE, D, band, carton, facts, jar, order, recipe, size, tariff
from tests.said import said, said_all

SMALL, LARGE = carton("C-08", size(230, 160, 170)), carton("C-14", size(320, 230, 170), cost="1.05")


def desk(known: Facts | None = None) -> Desk:
    return Desk(facts=known or facts(), materials={}, names={}, usual=HERE, ship_on=DAY)


def lines(last: int = 12, **changes: object) -> tuple[OrderLine, ...]:
    return order(1, product=jar(**changes), how=recipe(band(1, last, outers=("C-08", "C-14"))))


def takes(how: tuple[OrderLine, ...], units: int, container: str) -> bool:
    """Tell whether so many go into the container, asked of the planner alone."""
    aim = Aim(destination=HERE, ship_on=DAY, overrides=Overrides(parcels=1), occasion=Occasion())
    many = tuple(replace(line, quantity=units) for line in how)
    tried = try_all(many, desk().plenty, aim, forced=None, thorough=False)
    return any(one.container == container for one in tried.found)


class WhatFits(unittest.TestCase):
    def test_the_most_is_what_the_planner_packs_and_one_more_is_not(self) -> None:
        how = lines()
        found = goods_fitting(how, desk())
        most = {fit.packed.container: fit.most for fit in found.fits}
        self.assertEqual(set(most), {"C-08", "C-14"})
        self.assertLess(most["C-08"], most["C-14"])
        for container, units in most.items():
            self.assertTrue(takes(how, units, container), container)
            for more in range(units + 1, found.looked_to + 1):
                self.assertFalse(takes(how, more, container), (container, more))

    def test_why_no_more_go_in_is_told_and_the_least_cost_each_comes_first(self) -> None:
        found = goods_fitting(lines(), desk())
        for fit in found.fits:
            self.assertTrue(said(fit.why_no_more), fit.packed.container)
            self.assertTrue(fit.goods_percent is not None and 0 < fit.goods_percent <= 100)
        each = [fit.packed.costs.total / fit.most for fit in found.fits]
        self.assertEqual(each, sorted(each))

    def test_a_recipe_that_ends_at_three_takes_no_more_than_three(self) -> None:
        found = goods_fitting(lines(3), desk())
        self.assertEqual({fit.most for fit in found.fits if fit.packed.container == "C-14"}, {3})

    def test_stock_does_not_count(self) -> None:
        empty = facts(free={"C-08": D(0), "C-14": D(0)})
        self.assertEqual(
            [(fit.packed.container, fit.most) for fit in goods_fitting(lines(), desk(empty)).fits],
            [(fit.packed.container, fit.most) for fit in goods_fitting(lines(), desk()).fits],
        )

    def test_a_set_of_two_products_goes_in_whole_sets(self) -> None:
        how = recipe(band(1, 12, outers=("C-08", "C-14")))
        one = (*order(1, how=how), *order(1, product=jar(sku="LID", name="lid", size=size(60, 60, 30)), how=how))
        found = goods_fitting(one, desk())
        self.assertTrue(found.fits)
        for fit in found.fits:
            codes = [one.unit for one in fit.packed.placements]
            self.assertEqual((codes.count("JAR"), codes.count("LID")), (fit.most, fit.most))


class WhatDoesNot(unittest.TestCase):
    def test_what_is_larger_than_every_container_fits_nowhere_and_says_why(self) -> None:
        found = goods_fitting(lines(size=size(900, 900, 900)), desk())
        self.assertEqual(found.fits, ())
        self.assertLessEqual(found.looked_to, 2)
        self.assertTrue(any("C-08" in text for text in said_all(found.none)), said_all(found.none))

    def test_what_was_never_measured_says_so(self) -> None:
        found = goods_fitting(lines(size=None), desk())
        self.assertEqual(found.fits, ())
        self.assertTrue(found.none)

    def test_without_a_price_list_nothing_can_be_costed(self) -> None:
        found = goods_fitting(lines(), desk(facts(tariffs=())))
        self.assertEqual(found.fits, ())
        self.assertTrue(found.none)
        self.assertTrue(goods_fitting(lines(), desk(facts(tariffs=(tariff(),)))).fits)
