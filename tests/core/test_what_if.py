"""What if: sixteen changes whose answers are known beforehand, where the balance tips, and laws (rules 22.1)."""

import unittest
from collections.abc import Sequence
from dataclasses import replace
from datetime import date
from decimal import Decimal
from unittest import mock

from hypothesis import given, settings
from hypothesis import strategies as st

from core.money.changes import (
    Change,
    ChargedBy,
    DamageRate,
    Instead,
    MinutesFactor,
    NewContainer,
    OtherVersion,
    PriceList,
    SendDays,
    Services,
    SupplyPrice,
    Wage,
    WithoutContainer,
    World,
    applied,
)
from core.money.policies import ByWeight, Flat, Policy, WeightStep
from core.money.tipping import Period, Tip, tipping
from core.money.what_if import Comparison, Figures, NotSent, PeriodOrder, compared, tried
from core.parcels import remembered
from core.parcels.facts import Facts
from core.parcels.plan import plan_order
from core.recipes.expand import OrderLine
from core.recipes.model import InsertAmount, Minutes, Occasion, Recipe
from core.supplies.items import Insert
from core.tariffs.model import WeightStep as PriceStep
from core.tariffs.model import ZoneTable
from tests.core.samples import C08, C14, DAY, HERE, SHELF, band, carton, facts, jar, recipe, service, size, tariff

D = Decimal
ANY = recipe(band(1, 12, outers=(), any_outer=True))
#: A card that is dear: what a version without it saves is plain.
DEAR = Insert(code="X", name="Box", weight_mg=1_000, unit_cost=D("10.00"), thickness_um=100)


def plain(price: str = "5.00", version: str = "2026-07", valid_from: date = date(2026, 7, 1)) -> object:
    """One service at one price, no surcharge, so that sums are worked in the head."""
    steps = (PriceStep(up_to_mg=25_000_000, price=D(price)),)
    one = service(zones=(ZoneTable(zone="1", transit_days=1, steps=steps),), volumetric=(), surcharges=())
    return tariff(one, version=version, valid_from=valid_from)


def orders(units: Sequence[int], how: Recipe | None = None, charged: str = "5.50") -> list[PeriodOrder]:
    product = jar()
    return [
        PeriodOrder(
            key=str(at),
            lines=(OrderLine(sku="JAR", quantity=n, product=product, recipe=how or recipe()),),
            destination=HERE,
            occasion=Occasion(),
            placed_on=date(2026, 11, 2),
            charged=D(charged),
            value=D(7) * n,
            zone="1",
            units=n,
        )
        for at, n in enumerate(units)
    ]


def world(known: Facts | None = None) -> World:
    known = known or facts(tariffs=(plain(),))  # type: ignore[arg-type]
    return World(facts=known, ship_on=DAY, send_days=(0, 1, 2, 3, 4))


def what_if(*changes: Change, of: list[PeriodOrder] | None = None, known: Facts | None = None) -> Comparison:
    of = of if of is not None else orders([2, 2, 2, 4])
    before, after = applied(world(known), changes)
    return compared(list(tried(of, before, after, changes)))


class KnownAnswers(unittest.TestCase):
    """Three orders of two jars (5 minutes) and one of four (7), sent for 5.00 each."""

    def test_01_nothing_changed_changes_nothing(self) -> None:
        found = what_if(Services(codes=("TWO",)))
        self.assertEqual((found.change, found.changed, found.before), (0, 0, found.after))
        self.assertEqual(found.before.postage, D("20.00"))
        self.assertEqual(found.before.minutes, 22)

    def test_02_a_wage(self) -> None:
        found = what_if(Wage(per_hour=D(18)))
        self.assertEqual(found.change, D("1.10"))  # 22 minutes x 3.00 / 60
        self.assertEqual(found.after.labour - found.before.labour, D("1.10"))

    def test_03_a_suppliers_price(self) -> None:
        found = what_if(SupplyPrice(code="C-08", unit_cost=D("0.92")))
        self.assertEqual(found.after.materials - found.before.materials, D("0.90"))  # three of them, 0.30 each

    def test_04_a_carton_gone_makes_room_for_the_next_that_fits(self) -> None:
        found = what_if(WithoutContainer(code="C-08"))
        self.assertEqual((found.changed, len(found.refused)), (3, 0))
        ways = {one.after.containers for one in found.orders if isinstance(one.after, Figures)}
        self.assertEqual(ways, {("C-14",)})
        self.assertGreater(found.change, 0)

    def test_05_the_only_carton_gone_refuses_and_sums_leave_those_out(self) -> None:
        only = facts(containers=(C14,), tariffs=(plain(),))  # type: ignore[arg-type]
        found = what_if(WithoutContainer(code="C-14"), of=orders([4, 4]), known=only)
        self.assertEqual((found.both, len(found.refused), found.after.total), (0, 2, 0))
        self.assertIsInstance(found.refused[0].after, NotSent)
        self.assertTrue(found.refused[0].after.reasons)  # type: ignore[union-attr]

    def test_06_a_new_carton_is_taken_where_it_is_cheaper(self) -> None:
        new = carton("NEW", size(230, 160, 170), cost="0.30", tare_mg=C08.tare_mg)
        found = what_if(NewContainer(container=new))
        self.assertEqual(found.changed, 3)
        self.assertEqual(found.before.materials - found.after.materials, D("0.96"))  # three times 0.62 - 0.30

    def test_07_a_price_list_on_the_day_it_begins(self) -> None:
        now, then = plain(), plain("5.60", "2027-01", date(2027, 1, 1))
        change = PriceList(without=(now,), tariffs=(now, then), on=date(2027, 1, 4))  # type: ignore[arg-type]
        found = what_if(change)
        self.assertEqual((found.before.postage, found.after.postage), (D("20.00"), D("22.40")))

    def test_08_another_version_takes_a_minute_more_each(self) -> None:
        slower = Minutes(per_unit=D(1), per_parcel=D(4))
        how = recipe(band(1, 2, minutes=slower), band(3, 6, outers=("C-14",), minutes=slower))
        found = what_if(OtherVersion(recipe=replace(how, version=2)))
        self.assertEqual(found.after.labour - found.before.labour, D("1.00"))

    def test_09_another_insert_instead(self) -> None:
        found = what_if(Instead(old="I", new="L"))
        self.assertEqual(found.before.materials - found.after.materials, D("0.32"))  # four times 0.12 - 0.04

    def test_10_a_rate_of_damage_is_the_rate(self) -> None:
        found = what_if(DamageRate(recipe="jars", rate=D("0.10")), of=orders([2]))
        one = found.orders[0]
        assert isinstance(one.after, Figures)
        at_risk = D("4.20") + one.after.postage + one.after.materials
        self.assertEqual(one.after.expected_loss, (at_risk / 10).quantize(D("0.01")))

    def test_11_twice_the_minutes(self) -> None:
        found = what_if(MinutesFactor(recipe="jars", factor=D(2)))
        self.assertEqual(found.after.labour, 2 * found.before.labour)

    def test_12_sent_on_mondays_only_it_comes_later_for_the_same_money(self) -> None:
        of = [replace(one, placed_on=date(2026, 11, 3)) for one in orders([2, 2])]  # a Tuesday
        found = what_if(SendDays(days=(0,)), of=of)
        self.assertEqual(found.change, 0)
        self.assertEqual((found.before.days, found.after.days), (4, 14))  # Wed to Thu: 2 days; Mon to Tue: 7

    def test_13_no_service_left(self) -> None:
        found = what_if(Services(codes=("NONE",)))
        self.assertEqual((found.both, len(found.refused)), (0, 4))

    def test_14_a_flat_fee(self) -> None:
        found = what_if(ChargedBy(policy=Policy(code="f", name="", base=Flat(amount=D("5.00")))))
        self.assertEqual((found.before.charged, found.after.charged, found.change), (D("22.00"), D("20.00"), D("2.00")))
        self.assertEqual(found.before.total, found.after.total)

    def test_15_a_policy_that_ends_before_the_weight_refuses(self) -> None:
        light = Policy(code="w", name="", base=ByWeight(steps=(WeightStep(up_to_mg=1_500_000, amount=D(5)),)))
        found = what_if(ChargedBy(policy=light))
        self.assertEqual(len(found.refused), 1)
        self.assertEqual(found.refused[0].order.units, 4)

    def test_16_two_changes_at_once(self) -> None:
        found = what_if(Wage(per_hour=D(30)), MinutesFactor(recipe="jars", factor=D("0.5")))
        self.assertEqual(found.after.labour, found.before.labour)  # twice the wage, half the minutes
        self.assertEqual(found.change, 0)


class WhereItTips(unittest.TestCase):
    def found(
        self, *changes: Change, of: list[PeriodOrder], known: Facts | None = None, alive: bool = True
    ) -> Tip | None:
        worlds = applied(world(known), changes)
        found = compared(list(tried(of, *worlds, changes)))
        return tipping(found, worlds, changes, Period(weeks=10, keeping_a_month=D("1.00")), lambda: alive)

    def tip(self, *changes: Change, of: list[PeriodOrder], known: Facts) -> Decimal | None:
        tip = self.found(*changes, of=of, known=known)
        return tip.at if tip is not None else None

    def dear(self) -> tuple[Recipe, Recipe, Facts]:
        """A recipe with a dear insert; one without it that takes half an hour more: even at 20.00 an hour, nearly."""
        amount = InsertAmount(insert="X", amount=1, per="parcel", place="top", required=True)
        with_it = recipe(band(1, 2, inserts=(amount,)))
        slower = Minutes(per_unit=D(1), per_parcel=D(33))
        without = replace(recipe(band(1, 2, inserts=(), minutes=slower)), version=2)
        known = facts(tariffs=(plain(),), free={"X": D(100)})  # type: ignore[arg-type]
        shelf = replace(SHELF, inserts={**SHELF.inserts, "X": DEAR})
        return with_it, without, replace(known, shelf=shelf)

    def test_the_wage_at_which_both_cost_the_same_is_found_to_a_cent(self) -> None:
        with_it, without, known = self.dear()
        of = orders([2, 1], with_it)
        at = self.tip(OtherVersion(recipe=without), of=of, known=known)
        assert at is not None

        def difference(wage: Decimal) -> Decimal:
            paid = replace(known, settings=replace(known.settings, wage_per_hour=wage))
            return what_if(OtherVersion(recipe=without), of=of, known=paid).change

        self.assertLessEqual(difference(at - D("0.03")), 0)
        self.assertGreaterEqual(difference(at + D("0.03")), 0)
        self.assertAlmostEqual(at, D("20.3"), delta=D("0.2"))  # 10.00 and what of it is lost, by half an hour

    def test_the_price_from_which_another_carton_is_taken(self) -> None:
        other = carton("C-09", size(230, 160, 170), cost="0.80", tare_mg=C08.tare_mg)
        known = facts(containers=(C08, other), tariffs=(plain(),))  # type: ignore[arg-type]
        at = self.tip(SupplyPrice(code="C-08", unit_cost=D("2.00")), of=orders([2], ANY), known=known)
        assert at is not None
        self.assertAlmostEqual(at, D("0.80"), delta=D("0.02"))

    def test_it_does_not_tip_where_one_side_always_wins(self) -> None:
        _, _, known = self.dear()
        slower = replace(recipe(band(1, 2, minutes=Minutes(per_unit=D(2), per_parcel=D(3)))), version=2)
        self.assertIsNone(self.tip(OtherVersion(recipe=slower), of=orders([2]), known=known))

    def test_somebody_who_cancels_is_heard_between_tries(self) -> None:
        with_it, without, known = self.dear()
        self.assertIsNone(self.found(OtherVersion(recipe=without), of=orders([2], with_it), known=known, alive=False))

    def test_a_carton_pays_from_its_keeping_by_what_each_saves(self) -> None:
        tip = self.found(WithoutContainer(code="C-08"), of=orders([2, 2, 2, 4]))
        each = what_if(WithoutContainer(code="C-08")).change / 3
        assert tip is not None
        self.assertEqual((tip.kind, tip.saves), ("orders_a_month", each.quantize(D("0.01"))))
        self.assertLessEqual((tip.at - 1) * each, 1)
        self.assertGreaterEqual(tip.at * each, 1)
        self.assertEqual(tip.now, D("1.3"))  # three in ten weeks

    def test_a_charge_is_held_against_the_fee_that_covers_the_postage(self) -> None:
        tip = self.found(ChargedBy(policy=Policy(code="f", name="", base=Flat(amount=D(9)))), of=orders([2, 4]))
        assert tip is not None
        self.assertEqual((tip.kind, tip.at, tip.now), ("flat_fee", D("5.00"), D("5.50")))

    def test_what_takes_longer_everywhere_is_packed_as_before(self) -> None:
        other = carton("C-09", size(230, 160, 170), cost="0.80", tare_mg=C08.tare_mg)
        known = facts(containers=(C08, other), tariffs=(plain(),))  # type: ignore[arg-type]
        self.assertIsNone(self.found(MinutesFactor(recipe="jars", factor=D(2)), of=orders([2], ANY), known=known))


class Laws(unittest.TestCase):
    @settings(max_examples=12, deadline=None)
    @given(st.lists(st.integers(1, 6), min_size=1, max_size=6))
    def test_no_change_changes_nothing(self, units: list[int]) -> None:
        found = what_if(Wage(per_hour=D(15)), of=orders(units))
        self.assertEqual(found.before, found.after)
        for one in found.orders:
            self.assertEqual(one.before, one.after)

    @settings(max_examples=12, deadline=None)
    @given(st.lists(st.integers(1, 6), min_size=1, max_size=6), st.sampled_from(["9", "15", "21.5"]))
    def test_sums_are_the_sums_of_the_orders(self, units: list[int], wage: str) -> None:
        found = what_if(Wage(per_hour=D(wage)), WithoutContainer(code="C-08"), of=orders(units))
        both = [one for one in found.orders if isinstance(one.before, Figures) and isinstance(one.after, Figures)]
        self.assertEqual(found.change, sum((one.change for one in both), D(0)))
        self.assertEqual(found.both + len(found.refused) + len(found.gained) + found.neither, len(units))

    def test_alike_orders_are_planned_once(self) -> None:
        """A hundred orders take hardly longer than one: counted in plans, not in seconds."""
        real, calls = plan_order, list[int]()

        def counted(*given_values: object, **named: object) -> object:
            calls.append(1)
            return real(*given_values, **named)  # type: ignore[arg-type]

        with mock.patch.object(remembered, "plan_order", counted):
            what_if(Wage(per_hour=D(20)), of=orders([2] * 60 + [4] * 40))
        self.assertEqual(len(calls), 4)
