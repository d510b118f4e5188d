"""Plans of orders that are alike: made once, and only where the whole answer would be the same."""

import unittest
from dataclasses import replace
from decimal import Decimal
from unittest import mock

from hypothesis import given, settings
from hypothesis import strategies as st

from core.parcels import remembered
from core.parcels.facts import Facts, Overrides
from core.parcels.plan import Blocked, PlannedOrder, plan_order
from core.parcels.remembered import Remembered
from core.recipes.expand import OrderLine, amounts_of
from core.recipes.model import Occasion
from core.supplies.stock_asked import Asked, Watched, covers, without
from core.tariffs.charges import Surcharge
from core.tariffs.model import Place
from core.tariffs.zones import seen_alike
from tests.core.samples import DAY, HERE, facts, order, service, tariff

D = Decimal
NEXT_DOOR = Place(country="ALM", postcode="DM47")


def ask(memory: Remembered, lines: tuple[OrderLine, ...], there: Facts, **changes: object) -> PlannedOrder | Blocked:
    given = {"destination": HERE, "ship_on": DAY, "overrides": Overrides(), "occasion": Occasion(), **changes}
    return memory.plan_order(lines, there, **given)  # type: ignore[arg-type]


class Shelf(unittest.TestCase):
    def test_what_was_asked_tells_between_which_amounts_the_answers_stay(self) -> None:
        asked = Asked()
        shelf = Watched({"A": D(5)}, asked)
        self.assertTrue(covers(shelf, "A", D(3)))
        self.assertFalse(covers(shelf, "A", D(7)))
        self.assertFalse(covers(shelf, "B", D(1)))
        alike = [n for n in range(10) if asked.answered_alike({"A": D(n)})]
        self.assertEqual(alike, [3, 4, 5, 6])
        self.assertFalse(asked.answered_alike({"A": D(5), "B": D(1)}))

    def test_what_another_parcel_took_counts(self) -> None:
        asked = Asked()
        left = without(Watched({"A": D(5)}, asked), [("A", D(1)), ("A", D(1))])
        self.assertTrue(covers(left, "A", D(3)))
        self.assertEqual([n for n in range(8) if asked.answered_alike({"A": D(n)})], [5, 6, 7])
        self.assertEqual(without({"A": D(5)}, [("A", D(2)), ("B", D(1))]), {"A": D(3), "B": D(-1)})

    def test_the_number_itself_counts_where_it_is_read(self) -> None:
        asked = Asked()
        shelf = Watched({"A": D(5)}, asked)
        self.assertEqual((shelf["A"], shelf.get("B", D(0)), dict(shelf)), (D(5), D(0), {"A": D(5)}))
        self.assertFalse(asked.answered_alike({"A": D(6)}))
        self.assertFalse(asked.answered_alike({"A": D(5), "B": D(1)}))
        self.assertTrue(asked.answered_alike({"A": D(5), "C": D(1)}))


class Places(unittest.TestCase):
    def test_places_in_a_zone_are_alike_unless_a_surcharge_names_one_of_them(self) -> None:
        far = Surcharge(
            code="FAR", name="Far", kind="fixed", amount=D(2), zones=(), longest_above_um=None, country="ALM",
            prefixes=("DM47",),
        )  # fmt: skip
        plain, named = (tariff(),), (tariff(service(surcharges=(far,))),)
        self.assertEqual(seen_alike(HERE, plain), seen_alike(NEXT_DOOR, plain))
        self.assertNotEqual(seen_alike(HERE, named), seen_alike(NEXT_DOOR, named))
        self.assertNotEqual(seen_alike(HERE, plain), seen_alike(Place(country="ALM", postcode="HW3"), plain))

    def test_where_a_carrier_does_not_go_each_place_is_its_own(self) -> None:
        there = [Place(country="TOR", postcode=code) for code in ("4410", "4411")]
        self.assertNotEqual(seen_alike(there[0], (tariff(),)), seen_alike(there[1], (tariff(),)))


class Alike(unittest.TestCase):
    def setUp(self) -> None:
        self.memory, self.facts = Remembered(), facts()
        self.first = ask(self.memory, order(2), self.facts)

    def planned_anew(self, lines: tuple[OrderLine, ...], there: Facts, **changes: object) -> bool:
        """Ask; return whether it was planned and not remembered."""
        with mock.patch.object(remembered, "plan_order", wraps=plan_order) as anew:
            ask(self.memory, lines, there, **changes)
        return anew.call_count == 1

    def test_an_order_like_it_is_not_planned_again(self) -> None:
        used = amounts_of(self.first.chosen.uses) if isinstance(self.first, PlannedOrder) else {}
        fewer = facts(free={code: n - used.get(code, D(0)) for code, n in self.facts.free.items()})
        self.assertFalse(self.planned_anew(order(2), fewer))
        self.assertEqual(ask(self.memory, order(2), fewer), self.first)

    def test_it_is_sent_where_the_order_goes(self) -> None:
        self.assertFalse(self.planned_anew(order(2), self.facts, destination=NEXT_DOOR))
        alone = plan_order(order(2), self.facts, destination=NEXT_DOOR, ship_on=DAY)
        self.assertEqual(ask(self.memory, order(2), self.facts, destination=NEXT_DOOR), alone)
        self.assertNotEqual(alone, self.first)

    def test_two_cartons_strapped_together_are_sent_there_as_well(self) -> None:
        first = ask(self.memory, order(12), self.facts)
        assert isinstance(first, PlannedOrder)
        self.assertEqual(first.chosen.key, "C-14&C-14")
        alone = plan_order(order(12), self.facts, destination=NEXT_DOOR, ship_on=DAY)
        self.assertEqual(ask(self.memory, order(12), self.facts, destination=NEXT_DOOR), alone)

    def test_one_that_differs_in_anything_is_planned_itself(self) -> None:
        other_way = order(2, how=replace(order(2)[0].recipe, version=2))  # type: ignore[type-var]
        far = Place(country="ALM", postcode="HW3")
        self.assertTrue(self.planned_anew(order(1), self.facts))
        self.assertTrue(self.planned_anew(other_way, self.facts))
        self.assertTrue(self.planned_anew(order(2), self.facts, ship_on=DAY.replace(day=24)))
        self.assertTrue(self.planned_anew(order(2), self.facts, overrides=Overrides(forbidden=("C-08",))))
        self.assertTrue(self.planned_anew(order(2), self.facts, occasion=Occasion(gift=True)))
        self.assertTrue(self.planned_anew(order(2), self.facts, destination=far))
        self.assertTrue(self.planned_anew(order(2), facts(free={"C-08": D(0)})))
        self.assertTrue(self.planned_anew(order(2), facts(free={"I": D(0)})))
        self.assertFalse(self.planned_anew(order(2), self.facts))

    def test_when_anything_but_the_shelf_changes_all_is_forgotten(self) -> None:
        dearer = replace(self.facts, settings=replace(self.facts.settings, wage_per_hour=D(30)))
        self.assertTrue(self.planned_anew(order(2), dearer))
        self.assertTrue(self.planned_anew(order(2), self.facts))

    def test_it_keeps_no_more_than_so_many(self) -> None:
        with mock.patch.object(remembered, "_MOST", 3):
            for quantity in (1, 3, 4):
                ask(self.memory, order(quantity), self.facts)
            self.assertTrue(self.planned_anew(order(2), self.facts))

    @settings(max_examples=40, deadline=None)
    @given(
        st.lists(
            st.tuples(
                st.sampled_from([1, 2, 5, 9]),
                st.sampled_from([HERE, NEXT_DOOR]),
                st.fixed_dictionaries({code: st.integers(0, 6).map(D) for code in ("C-08", "C-14", "I", "W", "K")}),
            ),
            min_size=2,
            max_size=5,
        )
    )
    def test_whatever_the_shelf_holds_it_says_what_planning_says(
        self, asked: list[tuple[int, Place, dict[str, Decimal]]]
    ) -> None:
        memory = Remembered()
        for quantity, place, free in asked:
            there = facts(free=free)
            alone = plan_order(order(quantity), there, destination=place, ship_on=DAY)
            self.assertEqual(ask(memory, order(quantity), there, destination=place), alone)


if __name__ == "__main__":
    unittest.main()
