"""Arrivals counted: rates, planning rates, places that lead (rules 17.1, 17.2, 17.3)."""

import unittest
from datetime import date
from decimal import Decimal

from core.outcomes.model import Arrived, Harm, PackedGoods, Place, season_of
from core.outcomes.places import leads, where_of
from core.outcomes.rates import Counted, planning_rate, rates_by, wilson
from tests.core.arriving import arrived, broken_at

JAR, POT = (PackedGoods(sku=sku, units=1, recipe=sku.lower(), version=1, band="1") for sku in ("JAR", "POT"))


class Rates(unittest.TestCase):
    def test_the_worked_intervals(self) -> None:
        self.assertEqual([f"{100 * one:.1f}" for one in wilson(2, 40)], ["1.4", "16.5"])
        self.assertEqual([f"{100 * one:.1f}" for one in wilson(0, 30)], ["0.0", "11.4"])

    def test_the_worked_planning_rates(self) -> None:
        self.assertEqual(planning_rate(Decimal("0.015"), 2, 40), Decimal("0.035"))
        self.assertEqual(planning_rate(Decimal("0.04"), 0, 30), Decimal("0.02"))

    def test_with_nothing_known_the_prior_holds_and_anything_is_possible(self) -> None:
        self.assertEqual(planning_rate(Decimal("0.03"), 0, 0), Decimal("0.03"))
        self.assertEqual(wilson(0, 0), (Decimal(0), Decimal(1)))
        self.assertIsNone(Counted(damaged=0, known=0).share)

    def test_more_damaged_than_known_is_refused(self) -> None:
        for count in (lambda: wilson(3, 2), lambda: planning_rate(Decimal(0), 3, 2)):
            self.assertRaises(ValueError, count)

    def test_lost_and_unknown_tell_nothing_of_damage_late_and_marked_do(self) -> None:
        parcels = [arrived(n, outcome=one) for n, one in enumerate(("lost", "unknown", "late", "marked", "broken"))]
        self.assertEqual(rates_by(parcels, "carrier"), {"oxgang": Counted(damaged=1, known=3)})

    def test_what_was_assumed_is_said(self) -> None:
        parcels = [arrived(1, assumed=True), arrived(2)]
        self.assertEqual(rates_by(parcels, "zone")["oxgang/near"], Counted(damaged=0, known=2, assumed=1))

    def test_by_product_only_the_goods_that_were_hurt_count_as_damaged(self) -> None:
        hurt = Arrived(
            parcel="1", goods=(JAR, POT), outcome="broken", harms=(Harm(kind="broken", place="corner", sku="POT"),)
        )
        rates = rates_by([hurt], "product")
        self.assertEqual([(key, one.damaged) for key, one in rates.items()], [("JAR", 0), ("POT", 1)])
        unsaid = Arrived(parcel="2", goods=(JAR, POT), outcome="broken")
        self.assertEqual([one.damaged for one in rates_by([unsaid], "version").values()], [1, 1])

    def test_each_group_has_its_own_keys(self) -> None:
        one = arrived(1, sent_on=date(2026, 1, 5))
        keys = {group: list(rates_by([one], group)) for group in ("service", "season", "month", "container", "band")}
        wanted = {
            "service": ["oxgang/box"], "season": ["12-02"], "month": ["2026-01"], "container": ["C-11"],
            "band": ["stone/1"],
        }  # fmt: skip
        self.assertEqual(keys, wanted)
        self.assertEqual(season_of(date(2026, 7, 1)), "06-08")


_FIVE_OF_SEVEN: list[Place] = [*["corner"] * 5, "lid", "between_units"]  # type: ignore[list-item]


class Places(unittest.TestCase):
    def test_a_place_leads_with_three_more_than_half_and_rarely_by_chance(self) -> None:
        self.assertEqual([leads(*one) for one in ((2, 2), (3, 3), (3, 4), (3, 5), (3, 6), (4, 7), (4, 8), (5, 7))],
                         [False, True, True, False, False, True, False, True])  # fmt: skip

    def test_corners_five_of_seven(self) -> None:
        parcels = [broken_at(n, place) for n, place in enumerate(_FIVE_OF_SEVEN)]
        where = where_of([*parcels, arrived(99)])
        self.assertEqual((where.leading, where.placed, where.broken), ("corner", 7, 7))
        self.assertEqual([(one.place, one.count) for one in where.places[:3]],
                         [("corner", 5), ("between_units", 1), ("lid", 1)])  # fmt: skip
        self.assertEqual(len(where.places), 11)
        self.assertEqual([f"{one:.2f}" for one in (where.places[0].low, where.places[0].high)], ["0.36", "0.92"])

    def test_spots_of_a_place_are_counted(self) -> None:
        near = "bottom-front-left"
        parcels = [broken_at(1, "corner", near), broken_at(2, "corner", near), broken_at(3, "corner", "top-back-right")]
        self.assertEqual(where_of(parcels).places[0].spots, ((near, 2), ("top-back-right", 1)))

    def test_a_place_nobody_told_says_nothing(self) -> None:
        parcels = [arrived(n, outcome="broken") for n in range(6)]
        where = where_of(parcels)
        self.assertEqual((where.leading, where.placed, where.broken, where.by_chance), (None, 0, 6, None))

    def test_what_spoils_leads_among_all_damage(self) -> None:
        parcels = [arrived(n, outcome="spoiled") for n in range(4)] + [broken_at(9, "top")]
        self.assertEqual(where_of(parcels).leading, "spoiled")

    def test_marked_goods_are_no_breakage(self) -> None:
        marked = arrived(1, outcome="marked", harms=(Harm(kind="marked", place="top"),))
        self.assertEqual(where_of([marked] * 5).placed, 0)
