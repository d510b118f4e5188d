"""Surcharges, flat rates, cover and refusals at their edges, each with its words (rules 10.1)."""

import unittest
from dataclasses import replace
from decimal import Decimal
from typing import Any

from core.errors import OutsideTariff
from core.messages import say
from core.tariffs.charges import ExtraCover, Surcharge
from core.tariffs.model import (
    FlatPrice,
    FlatRate,
    Marking,
    Packaging,
    Place,
    Sending,
    VolumetricRule,
)
from core.tariffs.quote import Quote, Refusal, quote_service, reasons_of
from core.tariffs.surcharges import conditions_of
from tests.core.samples import SENDING, service, size, tariff
from tests.said import said, said_all

D = Decimal
OUTER = size(300, 200, 100)  # girth 600, length plus girth 900, 6000 cm3
GROSS = 900_000


def surcharge(**conditions: Any) -> Surcharge:
    return Surcharge(
        code="S", name="Extra", kind="fixed", amount=D("1.50"), **{"zones": (), "longest_above_um": None, **conditions}
    )


def quote(
    *, sending: Sending = SENDING, gross_mg: int = GROSS, packaging: tuple[Packaging, ...] = (), **of: Any
) -> Quote:
    one = service(**of)
    return quote_service(
        replace(tariff(one), packaging=packaging), one, outer=OUTER, gross_mg=gross_mg, sending=sending
    )


class Conditions(unittest.TestCase):
    #: condition, whether it holds for the sample as it is, what makes it hold or not, its words
    CASES: tuple[tuple[dict[str, Any], bool, dict[str, Any], str], ...] = (
        ({}, True, {}, "always"),
        ({"longest_above_um": 299_999}, True, {}, "longest side above 300 mm"),
        ({"longest_above_um": 300_000}, False, {}, "longest side above 300 mm"),
        ({"second_above_um": 199_999}, True, {}, "second side above 200 mm"),
        ({"second_above_um": 200_000}, False, {}, "second side above 200 mm"),
        ({"thickness_above_um": 99_999}, True, {}, "thickness above 100 mm"),
        ({"thickness_above_um": 100_000}, False, {}, "thickness above 100 mm"),
        ({"girth_above_um": 599_999}, True, {}, "girth above 600 mm"),
        ({"girth_above_um": 600_000}, False, {}, "girth above 600 mm"),
        ({"length_plus_girth_above_um": 899_999}, True, {}, "length plus girth above 900 mm"),
        ({"length_plus_girth_above_um": 900_000}, False, {}, "length plus girth above 900 mm"),
        ({"volume_above_cm3": 5_999}, True, {}, "volume above 5999 cm3"),
        ({"volume_above_cm3": 6_000}, False, {}, "volume above 6000 cm3"),
        ({"weight_above_mg": GROSS - 1}, True, {}, "weight above 900 g"),
        ({"weight_above_mg": GROSS}, False, {}, "weight above 900 g"),
        ({"rigid": True}, True, {"rigid": False}, "does not bend"),
        ({"home": True}, False, {"home": True}, "to a home"),
        ({"signature": True}, False, {"signature": True}, "signed for"),
        ({"goods": ("live",)}, False, {"goods": frozenset({"live"})}, "goods: live"),
        ({"country": "ALM"}, True, {}, "to ALM "),
        ({"country": "ALM", "prefixes": ("DM4",)}, True, {}, "to ALM DM4"),
        ({"country": "ALM", "prefixes": ("QH", "TW")}, False, {}, "to ALM QH, TW"),
        ({"country": "TOR"}, False, {}, "to TOR "),
        ({"zones": ("1",)}, True, {}, "zone 1"),
        ({"zones": ("2", "3")}, False, {}, "zone 2, 3"),
    )

    def due(self, conditions: dict[str, Any], **sending: Any) -> bool:
        price = quote(surcharges=(surcharge(**conditions),), sending=replace(SENDING, **sending))
        return "Extra" in said_all([line.label for line in price.lines])

    def test_each_condition_holds_strictly_above_its_limit_and_says_so(self) -> None:
        for conditions, holds, turned, words in self.CASES:
            self.assertEqual(self.due(conditions), holds, conditions)
            self.assertEqual(said(conditions_of(surcharge(**conditions))), words, conditions)
            if turned:
                self.assertEqual(self.due(conditions, **turned), not holds, conditions)

    def test_all_conditions_that_are_named_must_hold(self) -> None:
        both = {"weight_above_mg": 1, "home": True}
        self.assertFalse(self.due(both))
        self.assertTrue(self.due(both, home=True))
        self.assertEqual(said(conditions_of(surcharge(**both))), "weight above 0 g; to a home")

    def test_percentages_are_of_the_base_and_the_fixed_ones_together(self) -> None:
        fuel = Surcharge(code="F", name="Fuel", kind="percent", amount=D(10), zones=(), longest_above_um=None)
        price = quote(surcharges=(fuel, surcharge()))
        base, fixed, percent = (line.amount for line in price.lines)
        self.assertEqual((fixed, percent), (D("1.50"), ((base + fixed) / 10).quantize(D("0.01"))))
        self.assertEqual(price.price, base + fixed + percent)

    def test_what_must_stand_on_the_parcel(self) -> None:
        marks = (
            Marking(text="Always"),
            Marking(text="Live", goods=("live",)),
            Marking(text="Heavy", weight_above_mg=GROSS),
            Marking(text="Long", longest_above_um=299_999),
        )
        self.assertEqual(quote(markings=marks).markings, ("Always", "Long"))
        live = replace(SENDING, goods=frozenset({"live"}))
        self.assertEqual(
            quote(markings=marks, sending=live, gross_mg=GROSS + 1).markings, ("Always", "Live", "Heavy", "Long")
        )


class FlatRates(unittest.TestCase):
    def own(self, *prices: FlatPrice, services: tuple[str, ...] = ("TWO",), max_mg: int = 5_000_000) -> Packaging:
        return Packaging(
            code="BOX",
            name="Flat box",
            services=services,
            inner=OUTER,
            flat_rate=FlatRate(max_mg=max_mg, prices=prices),
        )

    SENT = replace(SENDING, packaging=("BOX",))

    def refused(self, own: Packaging, *, gross_mg: int = GROSS, sending: Sending = SENT) -> OutsideTariff:
        with self.assertRaises(OutsideTariff) as caught:
            quote(packaging=(own,), sending=sending, gross_mg=gross_mg)
        return caught.exception

    def test_one_price_waives_size_and_weight_but_not_place_and_goods(self) -> None:
        own = self.own(FlatPrice(zones=(), price=D("9.90")))
        due = (
            surcharge(weight_above_mg=1),
            replace(surcharge(home=True), code="H", name="Home"),
        )
        price = quote(packaging=(own,), sending=replace(self.SENT, home=True), surcharges=due)
        self.assertEqual(said_all([line.label for line in price.lines])[1:], ("Home",))
        self.assertEqual((price.lines[0].amount, price.billed, price.volumetric_mg), (D("9.90"), "flat_rate", None))
        self.assertEqual(said(price.why), "flat rate")

    def test_the_price_of_the_zone_goes_before_that_of_all_others(self) -> None:
        own = self.own(FlatPrice(zones=(), price=D(12)), FlatPrice(zones=("1",), price=D(8)))
        self.assertEqual(quote(packaging=(own,), sending=self.SENT).lines[0].amount, D(8))

    def test_its_limit_holds_with_its_weight_and_one_more_is_refused(self) -> None:
        own = self.own(FlatPrice(zones=(), price=D(8)), max_mg=GROSS)
        self.assertEqual(quote(packaging=(own,), sending=self.SENT).step_mg, GROSS)
        over = self.refused(own, gross_mg=GROSS + 1)
        self.assertEqual((over.limit_name, over.value, over.limit), ("weight", GROSS + 1, GROSS))
        self.assertIn("900.001 g, 0.001 g over", said(over.message))

    def test_another_service_a_zone_without_price_and_a_place_without_zone(self) -> None:
        other = self.refused(self.own(FlatPrice(zones=(), price=D(8)), services=("ELSE",)))
        self.assertEqual(
            (other.limit_name, said(other.message)), ("packaging", "Larkline, Two-day: does not take Flat box.")
        )
        unpriced = self.refused(self.own(FlatPrice(zones=("9",), price=D(8))))
        self.assertEqual(said(unpriced.message), "Larkline: Flat box has no price for zone 1.")
        far = replace(self.SENT, destination=Place(country="TOR", postcode="4410"))
        self.assertEqual(self.refused(self.own(FlatPrice(zones=(), price=D(8))), sending=far).limit_name, "destination")


class Cover(unittest.TestCase):
    EXTRA = ExtraCover(each=D(50), price=D("0.80"), most=D(250))

    def covered(self, asked: str, **of: Any) -> Quote:
        return quote(sending=replace(SENDING, cover=D(asked), goods=of.pop("goods", frozenset())), surcharges=(), **of)

    def test_begun_steps_are_bought_up_to_the_most_the_included_counted_in(self) -> None:
        for asked, cover, cost in (
            ("0", "100", None),
            ("100", "100", None),
            ("100.01", "150", "0.80"),
            ("150", "150", "0.80"),
            ("151", "200", "1.60"),
            ("250", "250", "2.40"),
            ("900", "250", "2.40"),
        ):
            price = self.covered(asked, extra_cover=self.EXTRA)
            self.assertEqual(price.cover, D(cover), asked)
            bought = [line.amount for line in price.lines if said(line.label).startswith("Cover to")]
            self.assertEqual(bought, [D(cost)] if cost else [], asked)
            self.assertEqual(bool(price.notes), asked == "900", asked)

    def test_without_more_to_buy_it_says_what_is_not_covered(self) -> None:
        price = self.covered("180")
        self.assertEqual((price.cover, len(price.lines)), (D(100), 1))
        self.assertEqual(said_all(price.notes), ("Two-day covers up to 100; 180 was asked for.",))

    def test_goods_it_excludes_are_not_covered_at_all(self) -> None:
        goods = frozenset({"glass"})
        price = self.covered("180", cover_excludes=("glass",), goods=goods, extra_cover=self.EXTRA)
        self.assertEqual((price.cover, said_all(price.notes)), (D(0), ("Two-day does not cover glass goods.",)))

    def test_goods_it_refuses_are_named(self) -> None:
        with self.assertRaises(OutsideTariff) as caught:
            self.covered("0", refuses=("live", "frozen"), goods=frozenset({"live", "frozen", "glass"}))
        self.assertIn("does not take frozen or live goods", said(caught.exception.message))


class Billed(unittest.TestCase):
    def test_what_a_price_goes_by_is_a_code(self) -> None:
        rule = VolumetricRule(divisor_cm3_per_kg=5_000, round_up_um=10_000, above_cm3=0)
        self.assertEqual(quote(volumetric=(rule,)).billed, "size")  # 6000 / 5000 = 1.2 kg against 0.9
        self.assertEqual(quote(volumetric=(rule,), gross_mg=1_200_000).billed, "weight")
        self.assertEqual(quote(volumetric=()).billed, "weight")


class Reasons(unittest.TestCase):
    def refusal(self, service_name: str, code: str, **facts: Any) -> Refusal:
        message = say(code, carrier="Larkline", service=service_name, **facts)
        return Refusal(
            carrier="l",
            carrier_name="Larkline",
            service=service_name,
            service_name=service_name,
            limit_name="destination",
            message=message,
        )

    def test_services_that_do_not_go_there_are_told_together_and_others_once(self) -> None:
        gone = [self.refusal(name, "no_zone", place="TOR 4410") for name in ("Packet", "Two-day")]
        heavy = self.refusal("Packet", "packaging_not_taken", name="Box")
        told = said_all(reasons_of((*gone, heavy, heavy)))
        self.assertEqual(
            told,
            (
                "No price list covers TOR 4410, so none of these go there: Packet, Two-day.",
                "Larkline, Packet: does not take Box.",
            ),
        )

    def test_one_alone_says_it_as_it_is(self) -> None:
        (told,) = said_all(reasons_of((self.refusal("Packet", "no_zone", place="TOR 4410"),)))
        self.assertIn("so it does not go there", told)
        self.assertEqual(reasons_of(()), ())
