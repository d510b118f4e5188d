"""A made-up year: the same seed gives the same year, every player gets the same orders, and the sums are sums."""

import unittest
from collections import Counter

from server.commands.simulate import document_of, main
from server.config.env import ROOT
from server.simulation.contents import Content, Packed, plan_contents
from server.simulation.habits import PLAYERS, habit_of
from server.simulation.playing import simulate
from server.simulation.shop import DAYS, SEASON, YEAR_BEGINS, load_shop, made_up_orders
from server.simulation.year import YearPlay, content_of
from tests.server.base import may_have_children

DEMO = ROOT / "demo"


class TheYear(unittest.TestCase):
    def test_a_seed_is_a_year(self) -> None:
        shop = load_shop(DEMO)
        first, truth = made_up_orders(shop, DEMO, seed=3, count=500)
        again, same = made_up_orders(shop, DEMO, seed=3, count=500)
        other, _ = made_up_orders(shop, DEMO, seed=4, count=500)
        self.assertEqual((first, truth), (again, same))
        self.assertNotEqual(first, other)
        self.assertEqual(len(first), 500)
        months = Counter((YEAR_BEGINS.toordinal() + one.day, one.day)[1] * 12 // DAYS for one in first)
        self.assertGreater(months[11], months[6])  # as the season has it
        self.assertEqual(len(SEASON), 12)

    def test_every_player_gets_the_same_orders_and_sums_are_sums(self) -> None:
        result = simulate(DEMO, seed=2, count=60, processes=1)
        self.assertEqual([one.player for one in result.outcomes], list(PLAYERS))
        for one in result.outcomes:
            self.assertEqual(one.orders + one.unsent, 60, one.player)
            self.assertGreater(one.orders, 30, one.player)  # so few orders, and shelves filled for an even year
            parts = one.materials + one.labour + one.postage + one.loss + one.holding
            self.assertAlmostEqual(one.all_in, parts)
            self.assertAlmostEqual(sum(one.paid), one.postage)
        self.assertEqual(result.saved, 1 - result.of("program").per_order / result.best_habit.per_order)
        document = document_of(result)
        self.assertNotIn("seconds", document)
        self.assertEqual(document["orders"], 60)

    def test_what_takes_longer_than_a_day_does_not_stop_the_rest(self) -> None:
        shop = load_shop(DEMO)
        orders, truth = made_up_orders(shop, DEMO, seed=5, count=8)
        carrier = shop.tariffs[0].carrier
        long = Packed(
            container="C-18", containers=("C-18",), in_recipe=True, inner_mm3=1e6, materials=1.0, minutes=500.0,
            uses=(), gross_mg=1_000_000, void=0.4, exposed=False, postage=5.0, service="S", carrier=carrier, days=1,
            services=(("S", carrier, 5.0, 1),),
        )  # fmt: skip
        contents = {content_of(one, shop, quarter=0): (long, (long,)) for one in orders}
        habit = habit_of("program", shop, contents, Counter(contents))
        play = YearPlay(shop, truth, 60.0, {})
        play.play(orders, habit, 0, DAYS)
        self.assertEqual(play.end().orders, 8)

    def test_two_processes_plan_what_one_does(self) -> None:
        shop = load_shop(DEMO)
        orders, _ = made_up_orders(shop, DEMO, seed=6, count=45)
        contents: list[Content] = [content_of(one, shop, quarter=0) for one in orders]
        few = contents[:41]
        with may_have_children():
            together = plan_contents(shop, few, {}, 2)
        self.assertEqual(plan_contents(shop, few, {}, 1), together)

    def test_bad_numbers_are_told(self) -> None:
        with self.assertRaises(SystemExit):
            main(["--orders", "7"])
