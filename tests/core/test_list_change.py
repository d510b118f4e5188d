"""What a coming price list changes, worked by hand for one parcel at a flat price a step."""

import unittest
from dataclasses import replace
from datetime import date
from decimal import Decimal

from core.advising.list_change import PostageChange, list_change, postage_change
from core.parcels.plan import PlannedOrder, plan_order
from core.tariffs.choosing import CHEAPEST, Choosing
from core.tariffs.model import Limits, Service, Tariff, WeightStep, ZoneTable
from tests.core.samples import DAY, HERE, facts, order, service, tariff

D = Decimal
NEW_YEAR = date(2027, 1, 1)


def at(price: str, **changes: object) -> Service:
    """Return a service that takes anything up to 25 kg at one price, without surcharges."""
    step = WeightStep(up_to_mg=25_000_000, price=D(price))
    zones = (ZoneTable(zone="1", transit_days=1, steps=(step,)),)
    return service(zones=zones, volumetric=(), surcharges=(), **{"limits": Limits(), **changes})


OLD = tariff(at("5.00"))


def planned(*tariffs: Tariff) -> PlannedOrder:
    plan = plan_order(order(2), facts(tariffs=tariffs), destination=HERE, ship_on=DAY)
    assert isinstance(plan, PlannedOrder), plan
    return plan


def changed(new: Tariff, choosing: Choosing = CHEAPEST, others: tuple[Tariff, ...] = ()) -> PostageChange:
    found = postage_change(
        planned(OLD), without=(OLD, *others), tariffs=(OLD, new, *others), choosing=choosing, on=NEW_YEAR
    )
    assert found is not None
    return found


def coming(*services: Service) -> Tariff:
    return tariff(*services, valid_from=NEW_YEAR, version="2027-01")


class OneOrder(unittest.TestCase):
    def test_the_same_service_at_its_new_price(self) -> None:
        found = changed(coming(at("5.60")))
        self.assertEqual((found.before, found.after, found.change), (D("5.00"), D("5.60"), D("0.60")))
        self.assertEqual((found.parcels, found.services, found.best), (1, ("Two-day",), D("5.60")))

    def test_what_the_rules_would_take_then(self) -> None:
        found = changed(coming(at("5.60"), at("4.10", code="SLOW", name="Slow")))
        self.assertEqual((found.change, found.best, found.best_services), (D("0.60"), D("4.10"), ("Slow",)))
        kept = changed(coming(at("5.60"), at("4.10", code="SLOW", name="Slow")), Choosing(services=("TWO",)))
        self.assertEqual((kept.best, kept.best_services), (D("5.60"), ("Two-day",)))

    def test_a_service_that_is_gone_counts_with_the_best_that_is_left(self) -> None:
        found = changed(coming(at("4.10", code="SLOW", name="Slow")))
        self.assertEqual((found.after, found.best, found.change), (None, D("4.10"), D("-0.90")))

    def test_where_none_takes_it_any_more_nothing_is_counted(self) -> None:
        light = at("4.10", code="SLOW", name="Slow", limits=Limits(max_mg=100_000))
        found = changed(coming(light))
        self.assertEqual((found.after, found.best, found.best_services, found.change), (None, None, (), D(0)))

    def test_another_list_of_the_same_day_does_not_count(self) -> None:
        other = replace(coming(at("9.00", code="W", name="Wending")), carrier="wending", carrier_name="Wending")
        self.assertEqual(changed(coming(at("5.00")), others=(other,)).change, D(0))

    def test_an_order_whose_service_had_no_price_is_not_looked_at(self) -> None:
        new = coming(at("5.60"))
        self.assertIsNone(postage_change(planned(OLD), without=(), tariffs=(new,), choosing=CHEAPEST, on=NEW_YEAR))


class ManyOrders(unittest.TestCase):
    def test_sums_and_counts(self) -> None:
        rows = [
            changed(coming(at("5.60"))),
            changed(coming(at("4.50"))),
            changed(coming(at("4.10", code="SLOW", name="Slow"))),
            changed(coming(at("4.10", code="SLOW", name="Slow", limits=Limits(max_mg=100_000)))),
        ]
        found = list_change(rows)
        self.assertEqual((found.before, found.after), (D("20.00"), D("5.60") + D("4.50") + D("4.10") + D("5.00")))
        self.assertEqual(found.best, D("5.60") + D("4.50") + D("4.10") + D("5.00"))
        self.assertEqual((found.dearer, found.cheaper, found.refused), (1, 2, 2))

    def test_no_orders_are_nought(self) -> None:
        self.assertEqual(list_change(()).before, D(0))
