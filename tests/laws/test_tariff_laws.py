"""Laws of quoting, over made-up tariffs with every kind of rule (rules 10.1 and 11.1)."""

import unittest
from dataclasses import replace
from datetime import date, time, timedelta
from decimal import Decimal
from itertools import product

from hypothesis import given, settings
from hypothesis import strategies as st

from core.errors import OutsideTariff
from core.tariffs.charges import (
    CoverTier,
    Discount,
    ExtraCover,
    Further,
    Surcharge,
    TaxRule,
    TotalRounding,
)
from core.tariffs.model import (
    Format,
    Increment,
    Limits,
    Place,
    Service,
    Tariff,
    VolumetricRule,
    WeightStep,
    ZoneRule,
    ZoneTable,
)
from core.tariffs.oddities import oddities_of
from core.tariffs.quote import Quote, least_price, quote_all, quote_service, tariff_in_force
from core.tariffs.zones import arrival_date, overlaps, zone_of
from core.units import Size
from tests.core.samples import SENDING, service, tariff
from tests.said import said

D = Decimal
NOTHING = D(0)
MANY = settings(max_examples=60, deadline=None)

grams = st.integers(1, 30_000)
#: One plain table.
STEPS = (ZoneTable(zone="1", steps=(WeightStep(up_to_mg=3_000_000, price=D(5)),), transit_days=2),)
sides_mm = st.tuples(st.integers(20, 900), st.integers(20, 900), st.integers(2, 900))


COVERS = (
    ExtraCover(each=D(100), price=D("0.7"), most=D(900)),
    ExtraCover(percent=D("1.5"), least=D(1), most=D(900)),
    ExtraCover(percent=D(2), of="excess", most=D(900), tax_percent=D(0)),
    ExtraCover(
        tiers=(
            CoverTier(up_to=D(50), price=D(1)),
            CoverTier(up_to=D(100), price=D(3)),
            CoverTier(up_to=D(150), price=D(4)),
        ),
        most=D(140),
    ),
)
ROUNDINGS = (
    None,
    TotalRounding(to=D("0.05")),
    TotalRounding(to=D("0.10"), rounding="up"),
    TotalRounding(to=D(1), rounding="down"),
)


@st.composite
def tables(draw: st.DrawFn, floor: Decimal = NOTHING) -> ZoneTable:
    if draw(st.booleans()):
        rule = Increment(
            first_mg=draw(st.integers(1, 5)) * 500_000,
            base=floor + draw(st.integers(1, 900)) / D(100),
            each_mg=draw(st.integers(1, 4)) * 250_000,
            each=draw(st.integers(0, 300)) / D(100),
            max_mg=40_000_000,
        )
        return ZoneTable(zone="1", steps=(), transit_days=2, increment=rule)
    weights = sorted(draw(st.sets(st.integers(1, 39_000), min_size=1, max_size=8)) | {40_000})
    prices = sorted(floor + draw(st.integers(0, 4000)) / D(100) for _ in weights)
    steps = tuple(WeightStep(up_to_mg=g * 1000, price=p) for g, p in zip(weights, prices, strict=True))
    return ZoneTable(zone="1", steps=steps, transit_days=2)


@st.composite
def services(draw: st.DrawFn) -> Service:
    """Return a service whose prices rise: larger formats start above what smaller ones end with."""
    formats: tuple[Format, ...] = ()
    zones: tuple[ZoneTable, ...] = (draw(tables()),)
    if draw(st.booleans()):
        small = Format(
            code="s",
            name="Small",
            limits=Limits(longest_um=350_000, second_um=250_000, thickness_um=25_000, max_mg=750_000),
            zones=zones,
        )
        top = zones[0].step_for(zones[0].top_mg).price  # type: ignore[union-attr]
        formats, zones = (small, Format(code="l", name="Large", limits=Limits(), zones=(draw(tables(top)),))), ()
    volumetric = VolumetricRule(
        divisor_cm3_per_kg=draw(st.sampled_from([4000, 5000, 6000])),
        round_up_um=draw(st.sampled_from([10_000, 25_400])),
        above_cm3=draw(st.sampled_from([0, 20_000, 60_000])),
        rounding=draw(st.sampled_from(["up", "nearest"])),
    )
    surcharges = tuple(
        replace(one, amount=draw(st.integers(0, 900)) / D(100))
        for one in (
            Surcharge(code="L", name="Long", kind="fixed", amount=D(1), zones=(), longest_above_um=600_000),
            Surcharge(
                code="G",
                name="Girth",
                kind="fixed",
                amount=D(1),
                zones=(),
                longest_above_um=None,
                girth_above_um=900_000,
            ),
            Surcharge(
                code="V",
                name="Bulk",
                kind="fixed",
                amount=D(1),
                zones=(),
                longest_above_um=None,
                volume_above_cm3=50_000,
            ),
            Surcharge(
                code="W",
                name="Heavy",
                kind="fixed",
                amount=D(1),
                zones=(),
                longest_above_um=None,
                weight_above_mg=15_000_000,
            ),
            Surcharge(code="F", name="Fuel", kind="percent", amount=D(1), zones=(), longest_above_um=None),
            Surcharge(
                code="K",
                name="Each kilogram",
                kind="per_weight",
                amount=D(1),
                zones=(),
                longest_above_um=None,
                each_mg=500_000,
                least=D("0.50"),
                most=D(40),
            ),
            Surcharge(
                code="S",
                name="Sum of sides",
                kind="fixed",
                amount=D(1),
                zones=(),
                longest_above_um=None,
                sum_of_sides_above_um=1_200_000,
                group="size",
            ),
            Surcharge(
                code="T", name="Two", kind="fixed", amount=D(1), zones=(), longest_above_um=700_000, group="size"
            ),
            Surcharge(
                code="B",
                name="Base",
                kind="percent",
                amount=D(1),
                zones=(),
                longest_above_um=None,
                of="base",
                most=D(9),
            ),
        )
        if draw(st.booleans())
    )
    return service(
        limits=Limits(),
        volumetric=(volumetric,) if draw(st.booleans()) else (),
        zones=zones,
        formats=formats,
        surcharges=surcharges,
        weight_round_mg=draw(st.sampled_from([1, 1_000, 500_000])),
        weight_rounding=draw(st.sampled_from(["up", "nearest"])),
        extra_cover=draw(st.sampled_from(COVERS)),
        tax_percent=draw(st.sampled_from([D(0), D(20)])),
        taxes=draw(st.sampled_from([(), (TaxRule(percent=D(7), countries=("ALM",)),)])),
        least_billable_mg=draw(st.sampled_from([0, 1_000_000, 2_500_000])),
        discount=draw(st.sampled_from([None, Discount(percent=D(12)), Discount(percent=D(5), of="all")])),
        further=draw(st.sampled_from([None, Further(percent=D(60)), Further(off=D(2))])),
        round_total=draw(st.sampled_from(ROUNDINGS)),
    )


def ask(one: Service, mm: tuple[int, int, int], g: int, **more: object) -> Quote | None:
    size = Size(length_um=mm[0] * 1000, width_um=mm[1] * 1000, height_um=mm[2] * 1000)
    try:
        return quote_service(tariff(one), one, outer=size, gross_mg=g * 1000, sending=replace(SENDING, **more))  # type: ignore[arg-type]
    except OutsideTariff:
        return None


class TariffLaws(unittest.TestCase):
    @MANY
    @given(services(), sides_mm, grams, st.tuples(*[st.integers(0, 200)] * 3), st.integers(0, 5_000))
    def test_a_heavier_or_larger_parcel_never_costs_less(
        self, one: Service, mm: tuple[int, int, int], g: int, more: tuple[int, int, int], heavier: int
    ) -> None:
        small = ask(one, mm, g)
        large = ask(one, (mm[0] + more[0], mm[1] + more[1], mm[2] + more[2]), g + heavier)
        if large is not None:
            assert small is not None, "what takes the larger takes the smaller"
            self.assertLessEqual(small.price, large.price)
        self.assertEqual(
            [one for one in oddities_of(tariff(one)) if one.code in ("price_falls", "larger_format_cheaper")], []
        )

    @MANY
    @given(services(), sides_mm, grams)
    def test_a_price_is_the_sum_of_its_lines_and_turning_the_parcel_changes_nothing(
        self, one: Service, mm: tuple[int, int, int], g: int
    ) -> None:
        found, turned = ask(one, mm, g), ask(one, (mm[2], mm[0], mm[1]), g)
        if found is None:
            self.assertIsNone(turned)
            return
        self.assertEqual(found.price, sum(line.amount for line in found.lines))
        self.assertEqual(found.price, turned.price if turned else None)
        self.assertGreaterEqual(found.billable_mg, g * 1000 if one.weight_rounding == "up" else 1)
        self.assertLessEqual(found.billable_mg, found.step_mg)

    @MANY
    @given(services(), st.integers(0, 2_000), st.integers(1, 500))
    def test_more_cover_never_costs_less_and_is_never_more_than_was_asked_and_a_step(
        self, one: Service, cover: int, more: int
    ) -> None:
        less, dear = (ask(one, (200, 100, 50), 400, cover=D(amount)) for amount in (cover, cover + more))
        if less is None or dear is None:
            return
        self.assertLessEqual(less.price, dear.price)
        self.assertLessEqual(dear.cover, max(one.cover_included, D(cover + more + 100)))

    @MANY
    @given(st.integers(1, 999_999))
    def test_each_limit_is_exact_to_the_micrometre(self, limit: int) -> None:
        one = service(limits=Limits(longest_um=1_000_000 + limit), volumetric=())
        at = Size(length_um=1_000_000 + limit, width_um=1_000, height_um=1_000)
        quote_service(tariff(one), one, outer=at, gross_mg=1, sending=SENDING)
        with self.assertRaises(OutsideTariff) as caught:
            quote_service(tariff(one), one, outer=at.grown(1, 0, 0), gross_mg=1, sending=SENDING)
        self.assertEqual(caught.exception.value - caught.exception.limit, 1)

    @MANY
    @given(st.tuples(*[st.integers(2_000, 900_000)] * 3), st.integers(0, 2))
    def test_limits_of_several_sides_are_exact_however_the_parcel_lies(
        self, sides: tuple[int, int, int], turn: int
    ) -> None:
        long, second, short = sorted(sides, reverse=True)
        lies = sides[turn:] + sides[:turn]
        size = Size(length_um=lies[0], width_um=lies[1], height_um=lies[2])
        for name, value in (
            ("sum_of_sides_um", long + second + short),
            ("girth_um", 2 * (second + short)),
            ("length_plus_girth_um", long + 2 * (second + short)),
            ("second_um", second),
            ("thickness_um", short),
        ):
            fits = service(limits=Limits(**{name: value}), volumetric=())
            quote_service(tariff(fits), fits, outer=size, gross_mg=1, sending=SENDING)
            over = replace(fits, limits=Limits(**{name: value - 1}))
            with self.assertRaises(OutsideTariff) as caught:
                quote_service(tariff(over), over, outer=size, gross_mg=1, sending=SENDING)
            self.assertEqual((caught.exception.value, caught.exception.limit), (value, value - 1))

    @MANY
    @given(st.lists(st.integers(0, 700), min_size=1, max_size=6, unique=True), st.integers(0, 800))
    def test_the_latest_version_that_has_begun_is_in_force(self, begins: list[int], day: int) -> None:
        dated: tuple[Tariff, ...] = tuple(
            tariff(valid_from=date.fromordinal(738_000 + n), version=str(n)) for n in begins
        )
        found = tariff_in_force(dated, "larkline", date.fromordinal(738_000 + day))
        begun = [n for n in begins if n <= day]
        self.assertEqual(found.version if found else None, str(max(begun)) if begun else None)

    @MANY
    @given(services(), services(), sides_mm, grams)
    def test_quotes_come_cheapest_first_and_every_service_answers_once(
        self, one: Service, two: Service, mm: tuple[int, int, int], g: int
    ) -> None:
        both = tariff(replace(one, code="A"), replace(two, code="B"))
        size = Size(length_um=mm[0] * 1000, width_um=mm[1] * 1000, height_um=mm[2] * 1000)
        quotes, refusals = quote_all((both,), outer=size, gross_mg=g * 1000, sending=SENDING)
        self.assertEqual([q.price for q in quotes], sorted(q.price for q in quotes))
        least = least_price((both,), outer=size, gross_mg=g * 1000, sending=SENDING)
        self.assertEqual(least, quotes[0].price if quotes else None)
        self.assertEqual(sorted([q.service for q in quotes] + [r.service for r in refusals]), ["A", "B"])

    @MANY
    @given(services(), sides_mm, grams)
    def test_a_further_parcel_never_costs_more_than_the_first(
        self, one: Service, mm: tuple[int, int, int], g: int
    ) -> None:
        first = ask(one, mm, g)
        further = ask(one, mm, g, further_of=("larkline", one.code))
        if first is None or further is None:
            self.assertEqual(first, further)
            return
        self.assertLessEqual(further.price, first.price)
        self.assertEqual(further.further, one.further is not None)
        elsewhere = ask(one, mm, g, further_of=("larkline", "OTHER"))
        self.assertEqual(elsewhere.price if elsewhere else None, first.price)

    @MANY
    @given(services(), sides_mm, grams, st.integers(0, 100), st.integers(0, 100))
    def test_a_deeper_discount_never_costs_more(
        self, one: Service, mm: tuple[int, int, int], g: int, percent: int, more: int
    ) -> None:
        prices = [
            found.price
            for off in sorted((percent, more))
            if (found := ask(replace(one, discount=Discount(percent=D(off))), mm, g)) is not None
        ]
        self.assertEqual(prices, sorted(prices, reverse=True))

    @MANY
    @given(services(), sides_mm, grams, st.sampled_from(ROUNDINGS[1:]))
    def test_a_rounded_total_is_a_multiple_and_moves_by_less_than_one(
        self, one: Service, mm: tuple[int, int, int], g: int, rule: TotalRounding
    ) -> None:
        plain, found = (ask(replace(one, round_total=each), mm, g) for each in (None, rule))
        if plain is None or found is None:
            return
        self.assertEqual(found.price % rule.to, 0)
        self.assertLess(abs(found.price - plain.price), rule.to)
        if rule.rounding != "nearest":
            self.assertEqual(found.price >= plain.price, rule.rounding == "up" or found.price == plain.price)

    @MANY
    @given(services(), sides_mm, grams)
    def test_a_group_charges_what_its_dearest_member_alone_would(
        self, one: Service, mm: tuple[int, int, int], g: int
    ) -> None:
        grouped = [each for each in one.surcharges if each.group]
        rest = tuple(each for each in one.surcharges if not each.group)
        alone = [ask(replace(one, surcharges=(*rest, each)), mm, g) for each in grouped]
        none, found = ask(replace(one, surcharges=rest), mm, g), ask(one, mm, g)
        if found is None or none is None:
            return
        self.assertEqual(found.price, max([none.price, *(each.price for each in alone if each is not None)]))

    @MANY
    @given(services(), sides_mm, st.integers(1, 2_500))
    def test_below_the_least_billable_weight_weight_changes_nothing_but_what_names_it(
        self, one: Service, mm: tuple[int, int, int], g: int
    ) -> None:
        light = replace(one, least_billable_mg=2_500_000, volumetric=(), formats=(), zones=STEPS, weight_round_mg=1)
        plain = replace(light, surcharges=tuple(each for each in one.surcharges if each.code not in "WK"))
        a, b = ask(plain, mm, g), ask(plain, mm, 2_500)
        self.assertEqual(a.price if a else None, b.price if b else None)
        if a is not None:
            self.assertGreaterEqual(a.billable_mg, 2_500_000)

    @MANY
    @given(services(), sides_mm, grams, st.integers(0, 400))
    def test_out_of_season_a_surcharge_is_as_if_it_were_not_there(
        self, one: Service, mm: tuple[int, int, int], g: int, ahead: int
    ) -> None:
        begins, ends = date(2026, 11, 15), date(2026, 12, 31)
        peak = Surcharge(
            code="P",
            name="Peak",
            kind="fixed",
            amount=D(3),
            zones=(),
            longest_above_um=None,
            from_on=begins,
            until_on=ends,
        )
        day = date(2026, 9, 1) + timedelta(days=ahead)
        without, having = (ask(replace(one, surcharges=each), mm, g, ship_on=day) for each in ((), (peak,)))
        if without is None or having is None:
            return
        self.assertEqual(len(having.lines) > len(without.lines) or having.price > without.price, begins <= day <= ends)

    @MANY
    @given(
        st.sets(st.integers(0, 40), max_size=20),
        st.integers(0, 40),
        st.integers(0, 9),
        st.sets(st.integers(0, 6), max_size=6),
    )
    def test_nothing_arrives_on_a_holiday_and_a_holiday_more_never_makes_it_earlier(
        self, closed: set[int], sent: int, transit: int, hands_over: set[int]
    ) -> None:
        first = date(2026, 11, 30)
        holidays = {first + timedelta(days=n) for n in closed}
        one = replace(service(), delivery_days=tuple(sorted(hands_over & set(service().days_moved))))
        found = arrival_date(one, first + timedelta(days=sent), transit, holidays)
        self.assertNotIn(found, holidays)
        self.assertIn(found.weekday(), one.delivery_days or one.days_moved)
        self.assertLessEqual(arrival_date(one, first + timedelta(days=sent), transit), found)

    @MANY
    @given(st.integers(1, 999_999))
    def test_each_least_size_is_exact_to_the_micrometre(self, least: int) -> None:
        for name, at in (("longest_min_um", 0), ("second_min_um", 1), ("thickness_min_um", 2)):
            one = service(limits=Limits(**{name: 1_000_000 + least}), volumetric=())
            sides = [2_000_000, 2_000_000, 2_000_000]
            sides[at:] = [1_000_000 + least] * (3 - at)
            good = Size(length_um=sides[0], width_um=sides[1], height_um=sides[2])
            quote_service(tariff(one), one, outer=good, gross_mg=1, sending=SENDING)
            sides[at:] = [side - 1 for side in sides[at:]]
            small = Size(length_um=sides[0], width_um=sides[1], height_um=sides[2])
            with self.assertRaises(OutsideTariff) as caught:
                quote_service(tariff(one), one, outer=small, gross_mg=1, sending=SENDING)
            self.assertEqual(caught.exception.limit - caught.exception.value, 1)

    @MANY
    @given(services(), sides_mm, grams)
    def test_zones_of_a_service_are_as_if_the_whole_list_had_them(
        self, one: Service, mm: tuple[int, int, int], g: int
    ) -> None:
        size = Size(length_um=mm[0] * 1000, width_um=mm[1] * 1000, height_um=mm[2] * 1000)
        rules = (ZoneRule(zone="1", country="ALM", prefix=""),)
        own = replace(one, zone_rules=rules)
        lists = (tariff(own), replace(tariff(one), zone_rules=rules))
        prices = [quote_all((each,), outer=size, gross_mg=g * 1000, sending=SENDING)[0] for each in lists]
        self.assertEqual(*([quote.price for quote in quotes] for quotes in prices))

    def test_a_falling_price_is_told_when_the_file_says_so(self) -> None:
        steps = (WeightStep(up_to_mg=1_000_000, price=D(5)), WeightStep(up_to_mg=25_000_000, price=D(4)))
        one = service(zones=(ZoneTable(zone="1", steps=steps, transit_days=1),), cut_off=time(12))
        self.assertIn("the price falls from 5 to 4 above 1.000 kg", said(oddities_of(tariff(one))))


@st.composite
def zone_rules(draw: st.DrawFn) -> tuple[ZoneRule, ...]:
    """Return a few rules over postcodes of the letters A to C: beginnings, ranges, the whole country, some with an
    origin.
    """
    found = []
    for _ in range(draw(st.integers(1, 7))):
        length = draw(st.integers(0, 2))
        one, other = sorted(draw(st.text("ABC", min_size=length, max_size=length)) for _ in range(2))
        ranged = length > 0 and draw(st.booleans())
        origin = draw(st.sampled_from(["", "", "A", "B"]))
        found.append(
            ZoneRule(
                zone=draw(st.sampled_from("12")), country="ALM",
                prefix="" if ranged else one, first=one if ranged else "", last=other if ranged else "",
                origin_country="ALM" if origin else "", origin_prefix=origin,
            )
        )  # fmt: skip
    return tuple(found)


class Zones(unittest.TestCase):
    POSTCODES = tuple("".join(letters) for letters in product("ABC", repeat=2))

    def zones(self, rules: tuple[ZoneRule, ...]) -> list[str | None]:
        one = replace(tariff(), zone_rules=rules)
        return [
            zone_of(one, Place(country="ALM", postcode=to), Place(country="ALM", postcode=origin))
            for to in self.POSTCODES
            for origin in self.POSTCODES
        ]

    @MANY
    @given(zone_rules())
    def test_without_an_overlap_the_order_of_the_rules_says_nothing(self, rules: tuple[ZoneRule, ...]) -> None:
        if not overlaps(rules):
            self.assertEqual(self.zones(rules), self.zones(rules[::-1]))

    @MANY
    @given(zone_rules())
    def test_two_rules_that_overlap_leave_a_postcode_to_their_order(self, rules: tuple[ZoneRule, ...]) -> None:
        for one, other, where in overlaps(rules):
            self.assertLess(rules.index(one), len(rules) - rules[::-1].index(other))
            pair = (one, other)
            self.assertNotEqual(self.zones(pair), self.zones(pair[::-1]), where)

    def test_twenty_thousand_beginnings_are_looked_at_at_once(self) -> None:
        rules = tuple(ZoneRule(zone="1", country="ALM", prefix=f"{n:05}") for n in range(20_000))
        self.assertEqual(overlaps(rules), [])
        again = ZoneRule(zone="2", country="ALM", prefix="", first="00777", last="00778")
        self.assertEqual([where for _, _, where in overlaps((*rules, again))], ["00777", "00778"])
