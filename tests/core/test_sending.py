"""What carriers are asked besides size and weight, and whose service is taken (rules 5.1 and 10.1)."""

import unittest
from dataclasses import replace
from decimal import Decimal

from core.parcels.facts import Facts, Overrides
from core.parcels.plan import Blocked, plan_order
from core.recipes.goods import goods_words
from core.recipes.model import Occasion
from core.supplies.items import Container
from core.tariffs.charges import ExtraCover, Surcharge
from core.tariffs.choosing import Choosing
from core.tariffs.model import (  # fmt: skip
    FlatPrice,
    FlatRate,
    Limits,
    Packaging,
    Tariff,
    WeightStep,
    ZoneTable,
)
from tests.core.samples import (
    C08,
    C14,
    DAY,
    HERE,
    MAILER,
    NO_CUSHION,
    band,
    facts,
    jar,
    order,
    planned,
    recipe,
    service,
    size,
    tariff,
)
from tests.said import said

D = Decimal
ZONES = (ZoneTable(zone="1", transit_days=1, steps=(WeightStep(up_to_mg=25_000_000, price=D(5)),)),)


def listed(carrier: str, code: str, price: str, days: int = 1, **changes: object) -> Tariff:
    zones = (ZoneTable(zone="1", transit_days=days, steps=(WeightStep(up_to_mg=25_000_000, price=D(price)),)),)
    values = {"code": code, "name": code, "zones": zones, "volumetric": (), "surcharges": (), "limits": Limits()}
    return replace(tariff(service(**{**values, **changes})), carrier=carrier, carrier_name=carrier)


def chosen(known: Facts, **rules: object) -> str:
    settings = replace(known.settings, choosing=Choosing(**rules))  # type: ignore[arg-type]
    return planned(order(2), replace(known, settings=settings)).chosen.only.quote.service


class Chosen(unittest.TestCase):
    def setUp(self) -> None:
        tariffs = (listed("a", "SLOW", "4.00", days=5), listed("b", "FAST", "5.00"), listed("c", "DEAR", "7.00"))
        self.known = facts(containers=(C08,), tariffs=tariffs)

    def test_the_cheapest_unless_it_is_too_late_and_the_soonest_when_all_are(self) -> None:
        self.assertEqual(chosen(self.known), "SLOW")
        self.assertEqual(chosen(self.known, arrive_within_days=3), "FAST")
        later = replace(self.known, tariffs=(listed("a", "SLOW", "4.00", days=9), listed("b", "LATE", "5.00", days=7)))
        self.assertEqual(chosen(later, arrive_within_days=3), "LATE")

    def test_the_trusted_carrier_unless_another_saves_more_than_the_amount(self) -> None:
        self.assertEqual(chosen(self.known, trusted="b", unless_saves=D("1.00")), "FAST")
        self.assertEqual(chosen(self.known, trusted="b", unless_saves=D("0.99")), "SLOW")
        self.assertEqual(chosen(self.known, trusted="nobody", unless_saves=D(9)), "SLOW")

    def test_only_services_that_are_used_and_the_others_say_so(self) -> None:
        self.assertEqual(chosen(self.known, services=("DEAR",)), "DEAR")
        settings = replace(self.known.settings, choosing=Choosing(services=("DEAR",)))
        told = planned(order(2), replace(self.known, settings=settings)).chosen.only.refusals
        self.assertIn("SLOW would take it for 4.00, but your rules do not use it.", [said(one.message) for one in told])

    def test_a_persons_service_is_taken_and_one_that_refuses_leaves_no_way(self) -> None:
        plan = planned(order(2), self.known, overrides=Overrides(service="DEAR"))
        self.assertEqual((plan.chosen.only.quote.service, plan.overridden), ("DEAR", True))
        small = (*self.known.tariffs, listed("d", "SMALL", "1.00", limits=Limits(max_mg=100_000)))
        blocked = plan_order(
            order(2),
            replace(self.known, tariffs=small),
            destination=HERE,
            ship_on=DAY,
            overrides=Overrides(service="SMALL"),
        )
        self.assertIsInstance(blocked, Blocked)
        self.assertIn("SMALL: takes up to 100 g", said(blocked.missing[0].message))  # type: ignore[union-attr]


class Asked(unittest.TestCase):
    def covered(self) -> Facts:
        one = listed(
            "a", "ONE", "5.00", cover_included=D(10), extra_cover=ExtraCover(each=D(10), price=D(1), most=D(900))
        )
        known = facts(tariffs=(one,))
        return replace(known, settings=replace(known.settings, cover_goods=True, signature_above=D(50)))

    def test_each_parcel_is_covered_for_its_share_of_the_order(self) -> None:
        plan = planned(order(4), self.covered(), overrides=Overrides(parcels=2), occasion=Occasion(value=D(60)))
        sendings = [one.sending for one in plan.chosen.candidates]
        self.assertEqual([one.cover for one in sendings if one], [D(30), D(30)])
        # 30 is two steps above the 10 that are included.
        self.assertEqual([str(one.quote.price) for one in plan.chosen.candidates], ["7.00", "7.00"])
        self.assertTrue(all(one.signature for one in sendings if one), "60 is above 50")

    def test_the_words_for_the_goods_come_from_what_they_are(self) -> None:
        starter = jar(live=True, food=True, glass=True, fragility="fragile", keeps_days=5)
        self.assertEqual(goods_words(starter), frozenset({"live", "food", "glass", "fragile", "perishable"}))
        self.assertEqual(goods_words(jar()), frozenset())
        known = facts(tariffs=(listed("a", "NOT", "1.00", refuses=("live",)), listed("b", "YES", "5.00")))
        plan = planned(order(2, product=replace(starter, food=False)), known)
        self.assertEqual(plan.chosen.only.quote.service, "YES")
        self.assertIn("NOT: does not take live goods", said(plan.chosen.only.refusals[0].message))

    def test_a_carton_is_stiff_and_a_mailer_is_not(self) -> None:
        stiff = Surcharge(
            code="S", name="Stiff", kind="fixed", amount=D(3), zones=(), longest_above_um=None, rigid=True
        )
        known = facts(containers=(C08, MAILER), tariffs=(listed("a", "ONE", "5.00", surcharges=(stiff,)),))
        cloth = jar(size=size(200, 150, 20), weight_mg=300_000, orientation="any")
        for outer, price in (("C-08", "8.00"), ("M", "5.00")):
            way = recipe(band(1, 2, layers=(), outers=(outer,), cushion=NO_CUSHION, gap_um=0))
            self.assertEqual(str(planned(order(1, product=cloth, how=way), known).chosen.only.quote.price), price)

    def test_a_carriers_own_carton_goes_with_its_service_at_its_price(self) -> None:
        flat = Packaging(
            code="C-14",
            name="Flat",
            services=("ONE",),
            inner=size(320, 230, 170),
            flat_rate=FlatRate(max_mg=9_000_000, prices=(FlatPrice(zones=(), price=D("3.30")),)),
        )
        known = facts(
            containers=(C14,),
            tariffs=(replace(listed("a", "ONE", "9.00"), packaging=(flat,)), listed("b", "TWO", "1.00")),
        )
        one = planned(order(4), known).chosen.only
        self.assertEqual((one.quote.service, str(one.quote.price)), ("ONE", "3.30"))
        self.assertIn("C-14; Flat may go with ONE only", said(one.refusals[0].message))
        self.assertIsInstance(C14, Container)
