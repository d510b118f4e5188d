"""Zones, billable weight, quotes at each edge, price steps (rules 8.3 and 10.1)."""

import unittest
from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal
from typing import Any

from core.errors import OutsideTariff
from core.tariffs.billable import billable_weight, volumetric_mg
from core.tariffs.charges import Surcharge
from core.tariffs.model import (
    Increment,
    Limits,
    Packaging,
    Place,
    Tariff,
    VolumetricRule,
    WeightStep,
    ZoneRule,
    ZoneTable,
)
from core.tariffs.price_step import chance_to_pass, step_position
from core.tariffs.quote import Quote, quote_all, quote_service, tariff_in_force
from core.tariffs.zones import arrival_date, next_ship_day, plain_postcode, zone_of
from core.units import Size
from tests.core.samples import SENDING, service, size, tariff
from tests.said import said

D = Decimal
RULE = VolumetricRule(divisor_cm3_per_kg=5_000, round_up_um=10_000, above_cm3=0)
SMALL = size(200, 150, 100)


def quote(outer: Size = SMALL, gross_mg: int = 500_000, **changes: object) -> Quote:
    one = service(**changes)
    return quote_service(tariff(one), one, outer=outer, gross_mg=gross_mg, sending=SENDING)


class Billable(unittest.TestCase):
    def test_the_volumetric_weight_of_the_rules_is_2_381_kg(self) -> None:
        self.assertEqual(volumetric_mg(size(310, 240, 160), RULE), 2_380_800)
        self.assertEqual(billable_weight(size(310, 240, 160), 1_000_000, RULE).billable_mg, 2_380_800)
        self.assertEqual(quote(size(310, 240, 160)).step_mg, 3_000_000)

    def test_sides_are_rounded_up_to_whole_centimetres(self) -> None:
        self.assertEqual(volumetric_mg(Size(length_um=300_001, width_um=240_000, height_um=160_000), RULE), 2_380_800)

    def test_below_the_volume_size_does_not_count(self) -> None:
        rule = replace(RULE, above_cm3=11_904)
        self.assertIsNone(volumetric_mg(size(310, 240, 160), rule))
        self.assertEqual(billable_weight(size(310, 240, 160), 900_000, rule).billable_mg, 900_000)


class TheEdgesOfQuoting(unittest.TestCase):
    """The points of an independent check, lettered as there."""

    def test_4e_two_carriers_may_call_their_boxes_alike(self) -> None:
        def of(carrier: str, price: str) -> Tariff:
            step = (WeightStep(up_to_mg=2_000_000, price=D(price)),)
            one = service(zones=(ZoneTable(zone="1", transit_days=1, steps=step),), surcharges=())
            own = Packaging(code="BOX", name="Box", services=("TWO",), inner=SMALL)
            return replace(tariff(one), carrier=carrier, carrier_name=carrier.title(), packaging=(own,))

        sending = replace(SENDING, packaging=("BOX",))
        quotes, refusals = quote_all((of("one", "3.00"), of("two", "4.00")), outer=SMALL, gross_mg=1, sending=sending)
        self.assertEqual([(q.carrier, q.price) for q in quotes], [("one", D("3.00")), ("two", D("4.00"))])
        self.assertEqual(refusals, ())

    def test_4f_many_increments_are_computed(self) -> None:
        # 1 kg for 3.00 and 0.05 for each 50 g to 30 kg: 580 increments.
        rule = Increment(first_mg=1_000_000, base=D(3), each_mg=50_000, each=D("0.05"), max_mg=30_000_000)
        table = ZoneTable(zone="1", transit_days=1, steps=(), increment=rule)
        self.assertEqual(rule.count, 580)
        cases = (
            (1_000_000, "3.00"),
            (1_000_001, "3.05"),
            (1_050_000, "3.05"),
            (12_340_000, "14.35"),
            (30_000_000, "32"),
        )
        for mg, price in cases:
            step = table.step_for(mg)
            self.assertEqual(step and step.price, D(price), mg)
        self.assertIsNone(table.step_for(30_000_001))
        near = table.steps_near(12_340_000)
        self.assertIn(12_350_000, [step.up_to_mg for step in near])
        self.assertLess(len(near), 60)

    def test_4h_a_refusal_names_its_carrier_and_shows_the_digits_that_differ(self) -> None:
        one = service(limits=Limits(max_mg=500_000))
        _, (refusal,) = quote_all((tariff(one),), outer=SMALL, gross_mg=500_200, sending=SENDING)
        self.assertEqual(
            said(refusal.message), "Larkline, Two-day: takes up to 500 g; this parcel is 500.2 g, 0.2 g over."
        )
        self.assertEqual(refusal.carrier, "larkline")

    def test_4j_does_not_go_there_only_when_no_zone_covers_the_place(self) -> None:
        here = tariff(service())  # prices for zone 1 alone; zone 3 is the rest of the country
        texts = []
        for place in (Place(country="ALM", postcode="QH1"), Place(country="TOR", postcode="4410")):
            sending = replace(SENDING, destination=place)
            _, (refusal,) = quote_all((here,), outer=SMALL, gross_mg=1, sending=sending)
            texts.append(said(refusal.message))
        self.assertIn("in zone 3, for which this service has no prices", texts[0])
        self.assertNotIn("does not go there", texts[0])
        self.assertIn("does not go there", texts[1])

    def test_4m_of_forty_thousand_beginnings_only_those_that_speak_are_looked_at(self) -> None:
        codes = [f"{a}{b}{n}" for a in "ABCDEFGHIJ" for b in "ABCDEFGHIJ" for n in range(100, 500)]
        rules = tuple(ZoneRule(zone="2", country="ALM", prefix=code) for code in codes)
        many = replace(tariff(), zone_rules=(*tariff().zone_rules, *rules))
        self.assertEqual(len(codes), 40_000)
        for postcode, zone in (("AB123", "2"), ("AB1", "3"), ("DM46", "1"), ("JJ4999", "2")):
            self.assertEqual(zone_of(many, Place(country="ALM", postcode=postcode)), zone)


class Edges(unittest.TestCase):
    def test_a_step_holds_up_to_and_with_its_weight(self) -> None:
        base = [quote(gross_mg=mg).lines[0].amount for mg in (1_000_000, 1_000_001, 2_000_000, 2_000_001)]
        self.assertEqual(base, [D("3.90"), D("4.60"), D("4.60"), D("5.40")])

    def test_each_limit_holds_and_one_more_is_refused_by_name(self) -> None:
        cases = [
            (
                Limits(longest_um=200_000),
                size(200, 150, 100),
                Size(length_um=200_001, width_um=150_000, height_um=100_000),
                "longest side",
            ),
            (
                Limits(second_um=150_000),
                size(200, 150, 100),
                Size(length_um=200_000, width_um=150_001, height_um=100_000),
                "second side",
            ),
            (
                Limits(thickness_um=100_000),
                size(200, 150, 100),
                Size(length_um=200_000, width_um=150_000, height_um=100_001),
                "thickness",
            ),
            (
                Limits(girth_um=500_000),
                size(200, 150, 100),
                Size(length_um=200_000, width_um=150_000, height_um=100_001),
                "girth",
            ),
            (
                Limits(length_plus_girth_um=700_000),
                size(200, 150, 100),
                Size(length_um=200_001, width_um=150_000, height_um=100_000),
                "length plus girth",
            ),
            (
                Limits(volume_cm3=3_000),
                size(200, 150, 100),
                Size(length_um=200_000, width_um=150_000, height_um=100_001),
                "volume",
            ),
        ]
        for limits, at, over, name in cases:
            with self.subTest(name):
                self.assertIsInstance(quote(at, limits=limits), Quote)
                with self.assertRaises(OutsideTariff) as caught:
                    quote(over, limits=limits)
                self.assertEqual(caught.exception.limit_name, name)
                self.assertGreater(caught.exception.value, caught.exception.limit)

    def test_weight_limits_hold_at_both_ends(self) -> None:
        limits = Limits(min_mg=100_000, max_mg=2_000_000)
        quote(gross_mg=2_000_000, limits=limits)
        quote(gross_mg=100_000, limits=limits)
        for mg, name in ((2_000_001, "weight"), (99_999, "least weight")):
            with self.assertRaises(OutsideTariff) as caught:
                quote(gross_mg=mg, limits=limits)
            self.assertEqual(caught.exception.limit_name, name)

    def test_above_the_last_step_there_is_no_price(self) -> None:
        with self.assertRaises(OutsideTariff) as caught:
            quote(gross_mg=25_000_001, limits=Limits())
        self.assertEqual(caught.exception.limit_name, "billable weight")


class Sums(unittest.TestCase):
    def test_base_then_fixed_then_percent_then_tax_each_a_line(self) -> None:
        surcharges = (
            Surcharge(code="F", name="Fuel", kind="percent", amount=D("6.5"), zones=(), longest_above_um=None),
            Surcharge(code="R", name="Remote", kind="fixed", amount=D("3.50"), zones=("1",), longest_above_um=None),
            Surcharge(code="O", name="Other zone", kind="fixed", amount=D("9"), zones=("3",), longest_above_um=None),
            Surcharge(code="L", name="Long", kind="fixed", amount=D("4"), zones=(), longest_above_um=600_000),
        )
        found = quote(surcharges=surcharges, tax_percent=D(20))
        # 3.90 + 3.50 = 7.40; 6.5 % is 0.481 -> 0.48; 7.88; tax 20 % is 1.576 -> 1.58
        self.assertEqual(
            [(said(line.label), line.amount) for line in found.lines],
            [("Base, zone 1", D("3.90")), ("Remote", D("3.50")), ("Fuel", D("0.48")), ("Tax", D("1.58"))],
        )
        self.assertEqual(found.price, D("9.46"))

    def test_the_long_surcharge_begins_one_micrometre_over(self) -> None:
        long = (Surcharge(code="L", name="Long", kind="fixed", amount=D(4), zones=(), longest_above_um=200_000),)
        self.assertEqual(len(quote(surcharges=long).lines), 1)
        self.assertEqual(
            len(quote(Size(length_um=200_001, width_um=100_000, height_um=50_000), surcharges=long).lines), 2
        )

    def test_all_services_are_quoted_cheapest_first_and_refusals_kept(self) -> None:
        dear = service(
            code="DEAR",
            name="Dear",
            surcharges=(Surcharge(code="X", name="X", kind="fixed", amount=D(5), zones=(), longest_above_um=None),),
        )
        small = service(code="SMALL", name="Small", limits=Limits(longest_um=100_000))
        quotes, refusals = quote_all((tariff(dear, service(), small),), outer=SMALL, gross_mg=500_000, sending=SENDING)
        self.assertEqual([q.service for q in quotes], ["TWO", "DEAR"])
        self.assertEqual([(r.service, r.limit_name) for r in refusals], [("SMALL", "longest side")])


class ZonesAndDays(unittest.TestCase):
    def test_the_longest_prefix_wins_and_other_countries_have_none(self) -> None:
        places = [Place(country=c, postcode=p) for c, p in (("ALM", "DM46"), ("ALM", "QH11"), ("TOR", "DM46"))]
        self.assertEqual([zone_of(tariff(), place) for place in places], ["1", "3", None])
        self.assertEqual(plain_postcode(" dm4 6 "), "DM46")

    def test_only_days_the_service_moves_are_counted(self) -> None:
        friday, saturday = date(2026, 11, 27), date(2026, 11, 28)
        self.assertEqual(arrival_date(service(), friday, 2), date(2026, 12, 1))
        self.assertEqual(arrival_date(service(), saturday, 1), date(2026, 12, 1))

    def test_parcels_are_handed_over_on_the_day_itself_or_the_next_working_day(self) -> None:
        friday = date(2026, 11, 27)
        days = [next_ship_day(friday + timedelta(days=n)) for n in range(4)]
        self.assertEqual(days, [friday, *[date(2026, 11, 30)] * 3])

    def test_the_version_in_force_is_by_ship_date(self) -> None:
        old, new = tariff(version="a"), tariff(version="b", valid_from=date(2026, 12, 1))
        chosen = [
            tariff_in_force((old, new), "larkline", day)
            for day in (date(2026, 11, 30), date(2026, 12, 1), date(2026, 6, 1))
        ]
        self.assertEqual([t.version if t else None for t in chosen], ["a", "b", None])


class Steps(unittest.TestCase):
    def test_the_chance_of_the_rules_is_3_5_percent(self) -> None:
        chance = chance_to_pass(expected_mg=221_000, sigma_mg=3_200, step_mg=226_800)
        self.assertEqual((chance * 100).quantize(D("0.1")), D("3.5"))

    def test_the_next_cheaper_step_and_the_distance(self) -> None:
        position = step_position(quote(gross_mg=2_009_000), sigma_mg=10_000)
        self.assertEqual(
            (position.cheaper_up_to_mg, position.over_by_mg, position.saves, position.near),
            (2_000_000, 9_000, D("0.80"), False),
        )
        first = step_position(quote(gross_mg=990_000), sigma_mg=10_000)
        self.assertEqual((first.cheaper_up_to_mg, first.near, first.room_mg), (None, True, 10_000))

    def test_the_distance_is_that_of_the_parcel_not_of_what_it_is_rounded_to(self) -> None:
        # 2.2924 kg, billed as 2.5 kg under the step of 3 kg: 707.6 g left, 292.4 g over the cheaper one.
        halves: dict[str, Any] = {"weight_round_mg": 500_000}
        position = step_position(quote(gross_mg=2_292_400, **halves), sigma_mg=10_000)
        self.assertEqual((position.room_mg, position.over_by_mg, position.near), (707_600, 292_400, False))
        # Billed as 3 kg, nothing under its step; the parcel itself is 400 g under it.
        full = step_position(quote(gross_mg=2_600_000, **halves), sigma_mg=10_000)
        self.assertEqual((full.room_mg, full.near), (400_000, False))

    def test_rounded_down_over_its_step_it_has_no_room_left(self) -> None:
        nearest = quote(gross_mg=2_100_000, weight_round_mg=500_000, weight_rounding="nearest")
        self.assertEqual((nearest.step_mg, step_position(nearest, sigma_mg=10_000).room_mg), (2_000_000, 0))
