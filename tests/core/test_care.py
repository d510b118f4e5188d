"""Care: the worked numbers of rules 15.1 to 15.5, the way by the hour, the box against the formula, what goes in, what
is proposed.
"""

import unittest
from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from decimal import Decimal
from itertools import pairwise

from core.care.planning import HeldCare
from core.care.road import Leg, days_on_the_road, hours_of, legs_of
from core.care.thermal import (
    BOARD_U,
    Box,
    Limits,
    bound_packs,
    heat_flow_j,
    heat_packs_for,
    lasts,
    margin_c,
    need_of,
    simulate,
    u_of,
)
from core.care.weather import ANYWHERE, DayWeather, Weather
from core.judgements import ORDINARY
from core.parcels.facts import CareChoice, Facts, Overrides
from core.parcels.packed import ThermalWish
from core.parcels.plan import Blocked, PlannedOrder
from core.parcels.thermal import places_of
from core.recipes.model import BandThermal
from core.supplies.items import Liner, ThermalPack
from tests.core.caring import (
    FOAM,
    GEL,
    PADDED,
    WARMER,
    always,
    boxes_and_ways,
    cared,
    choice,
    cool_facts,
    gel,
    warm_pack,
)
from tests.core.samples import DAY, D, band, jar, order, recipe, service, size, tariff

WORKED = Box(inner=size(250, 200, 150), u_w_per_m2k=u_of(FOAM), goods_j_per_k=2_500, start_c=18)
HOT = [27.0] * 48
MIXED = [22.0] * 12 + [15.0] * 12 + [27.0] * 12 + [18.0] * 12
COLD = [-4.0] * 10 + [1.0] * 14 + [-2.0] * 12
UNDER_18 = Limits(high_c=18)


class WorkedNumbers(unittest.TestCase):
    def test_the_liner(self) -> None:
        self.assertAlmostEqual(WORKED.area_m2, 0.235)
        self.assertAlmostEqual(WORKED.u_w_per_m2k, 1.378, 3)
        self.assertAlmostEqual(WORKED.ua_w_per_k * (27 - 18), 2.92, 1)

    def test_the_formula(self) -> None:
        for outside, joule, packs in ((HOT, 504, 5), (MIXED, 181.9, 2)):
            heat, cold = heat_flow_j(WORKED, outside, UNDER_18)
            self.assertAlmostEqual(heat / 1_000, joule, delta=0.4)
            self.assertEqual((bound_packs(heat, GEL), cold), (packs, 0))
        self.assertAlmostEqual(heat_flow_j(WORKED, HOT, UNDER_18)[0] / (334_000 * 0.8), 1.89, 2)

    def test_the_simulation_asks_for_7_and_4_bare_5_and_3_padded(self) -> None:
        for pack, outside, packs in ((GEL, HOT, 7), (GEL, MIXED, 4), (PADDED, HOT, 5), (PADDED, MIXED, 3)):
            with self.subTest(pack=pack.code, packs=packs):
                found = need_of(lambda _: WORKED, outside, UNDER_18, pack)
                assert found is not None
                self.assertEqual(found.count, packs)
                self.assertLessEqual(found.run.high_c, 18.005)
                fewer = simulate(WORKED, outside, pack=pack, count=packs - 1)
                self.assertGreater(fewer.high_c, 18.005)

    def test_the_cold_case(self) -> None:
        limits = Limits(low_c=8)
        _, need = heat_flow_j(WORKED, COLD, limits)
        self.assertAlmostEqual(need / 1_000, 394.1, delta=0.1)
        self.assertAlmostEqual(need / (36 * 3600), 3.04, 2)
        self.assertAlmostEqual((8 + 4) * WORKED.ua_w_per_k, 3.89, 2)
        pack = WARMER.pack
        assert pack is not None
        self.assertEqual(heat_packs_for(WORKED, COLD, 8, pack), 3)  # 3.89 W by packs of 1.6 W
        for hours, long_enough in ((45, True), (44, False)):  # 36 h x 1.25
            self.assertEqual(lasts(replace(pack, rated_hours=D(hours)), 36), long_enough)
        found = need_of(lambda _: WORKED, COLD, limits, WARMER)
        assert found is not None
        self.assertGreaterEqual(found.count, 3)
        self.assertGreaterEqual(found.run.low_c, 7.995)
        self.assertIsNone(need_of(lambda _: WORKED, COLD, limits, warm_pack(hours=40)))

    def test_the_ice_test_gives_u(self) -> None:
        # 1 kg of ice in 12 hours at 20 degrees in 0.235 m2: 334 kJ / (43 200 s x 20 K x 0.235 m2).
        tested = Liner(tested_hours=D(12), tested_room_c=D(20), tested_inner=size(250, 200, 150))
        self.assertAlmostEqual(u_of(replace(FOAM, liner=tested)), 334_000 / (43_200 * 20 * 0.235))
        self.assertEqual(u_of(None), BOARD_U)


class TheBox(unittest.TestCase):
    def test_heat_adds_up_to_a_thousandth(self) -> None:
        for box, outside, _ in boxes_and_ways(15, 100):
            for pack, count in ((None, 0), (GEL, 4), (PADDED, 9), (WARMER, 2), (_dry_ice(), 3)):
                seen = simulate(box, outside, pack=pack, count=count)
                into = seen.through_walls_j + seen.by_heat_packs_j
                self.assertAlmostEqual(into, seen.taken_up_j, delta=max(abs(into), 1_000) / 1_000)

    def test_it_never_says_less_than_the_formula_and_half_the_step_says_the_same(self) -> None:
        asked = 0
        for box, outside, limits in boxes_and_ways(15, 500):
            found = need_of(lambda _, box=box: box, outside, limits, GEL)  # type: ignore[misc]
            half = need_of(lambda _, box=box: box, outside, limits, GEL, finer=2)  # type: ignore[misc]
            self.assertEqual(found and found.count, half and half.count)
            if found is not None:
                asked += found.count > 0
                self.assertGreaterEqual(found.count, bound_packs(heat_flow_j(box, outside, limits)[0], GEL))
        self.assertGreater(asked, 150)

    def test_warmer_longer_and_thinner_never_need_less(self) -> None:
        for box, outside, limits in boxes_and_ways(15, 120):
            need = _count(box, outside, limits)
            self.assertGreaterEqual(_count(box, [one + 2 for one in outside], limits), need)
            self.assertGreaterEqual(_count(box, [*outside, *outside[-6:]], limits), need)
            self.assertGreaterEqual(_count(replace(box, u_w_per_m2k=box.u_w_per_m2k * 1.3), outside, limits), need)

    def test_bare_frozen_packs_can_freeze_goods(self) -> None:
        limits = Limits(low_c=4, high_c=18)
        self.assertIsNone(need_of(lambda _: WORKED, MIXED, limits, GEL))
        padded = need_of(lambda _: WORKED, MIXED, limits, PADDED)
        near = need_of(lambda _: WORKED, MIXED, limits, gel("PCM", melts_c=D(8), start_c=D(5), kind="phase_change"))
        self.assertTrue(padded is not None or near is not None)
        assert near is not None
        self.assertGreaterEqual(near.run.touch_c, 4)

    def test_a_pack_that_melts_above_the_limit_is_of_no_use(self) -> None:
        self.assertIsNone(need_of(lambda _: WORKED, HOT, UNDER_18, gel(melts_c=D(18), start_c=D(10))))

    def test_frozen_goods_need_dry_ice(self) -> None:
        frozen = replace(WORKED, start_c=-18.0)
        limits = Limits(high_c=-12)
        self.assertIsNone(need_of(lambda _: frozen, HOT[:24], limits, GEL))
        found = need_of(lambda _: frozen, HOT[:24], limits, _dry_ice(1_000))
        assert found is not None
        self.assertGreater(found.count, 0)
        self.assertLessEqual(found.run.high_c, -11.99)

    def test_the_margin_is_where_it_turns(self) -> None:
        margin = margin_c(WORKED, HOT, UNDER_18, pack=GEL, count=8)
        assert margin is not None
        for by_c, kept in ((margin, True), (margin + 0.2, False)):
            seen = simulate(WORKED, [one + by_c for one in HOT], pack=GEL, count=8)
            self.assertEqual(seen.keeps(UNDER_18), kept)
        self.assertIsNone(margin_c(WORKED, HOT, UNDER_18, pack=GEL, count=6))


class TheWay(unittest.TestCase):
    def legs(self, ship: date, arrives: date, holidays: tuple[date, ...] = ()) -> tuple[Leg, ...]:
        return legs_of(
            datetime(ship.year, ship.month, ship.day, 15, 40, tzinfo=UTC),
            arrives,
            moves_on=(0, 1, 2, 3, 4),
            holidays=holidays,
            origin="A",
            hub="H",
            destination="B",
        )

    def test_it_has_no_hole_and_ends_at_the_door(self) -> None:
        friday, tuesday = date(2026, 11, 27), date(2026, 12, 1)
        legs = self.legs(friday, tuesday)
        for before, after in pairwise(legs):
            self.assertEqual(before.ends, after.begins)
        self.assertEqual(legs[-1].kind, "doorstep")
        self.assertEqual(days_on_the_road(friday, tuesday), 4)
        waiting = sum((leg.ends - leg.begins for leg in legs if leg.kind == "waiting"), timedelta())
        self.assertEqual(waiting, timedelta(hours=48))  # Saturday and Sunday at the hub

    def test_a_holiday_across_the_year_end_is_spent_waiting(self) -> None:
        thursday, monday = date(2026, 12, 31), date(2027, 1, 4)
        legs = self.legs(thursday, monday, holidays=(date(2027, 1, 1),))
        days = {leg.begins.date() for leg in legs if leg.kind == "waiting"}
        self.assertEqual(days, {date(2027, 1, 1), date(2027, 1, 2), date(2027, 1, 3)})
        with self.assertRaises(ValueError):
            self.legs(monday, thursday)

    def test_the_cosine_between_low_and_high(self) -> None:
        day = date(2026, 7, 6)
        weather = Weather(days={("A", day + timedelta(days=n)): DayWeather(low_c=12, high_c=26) for n in (-1, 0, 1)})
        at = {hour: weather.at("A", datetime(2026, 7, 6, hour, tzinfo=UTC))[0] for hour in (0, 5, 10, 15, 22)}
        self.assertEqual((at[5], at[10], at[15]), (12, 19, 26))
        self.assertAlmostEqual(at[22], 19)
        self.assertEqual(weather.at("B", datetime(2026, 7, 6, 15, tzinfo=UTC)), (ANYWHERE.highs_c[6], "usual"))
        self.assertEqual(replace(weather, silent=True).at("A", datetime(2026, 7, 6, 15, tzinfo=UTC))[1], "usual")

    def test_hours_are_kept_where_they_are_known(self) -> None:
        known = DayWeather(low_c=0, high_c=9, hours_c=tuple(float(hour) for hour in range(24)))
        weather = Weather(days={("A", date(2026, 7, 6)): known})
        self.assertEqual(weather.at("A", datetime(2026, 7, 6, 7, 30, tzinfo=UTC)), (7.0, "forecast"))

    def test_a_van_by_day_is_warmer(self) -> None:
        legs = self.legs(date(2026, 7, 6), date(2026, 7, 7))
        for judged, more in ((ORDINARY, 3), (replace(ORDINARY, van_warmer_c=8), 8)):
            first = hours_of(legs, Weather(), judged)[0]
            self.assertAlmostEqual(first.outside_c - Weather().at("A", first.begins)[0], more)


class PacksInTheBox(unittest.TestCase):
    def test_on_top_first_then_the_sides_then_a_second_layer(self) -> None:
        inner = size(320, 220, 200)
        found = {count: places_of(inner, GEL, count) for count in (1, 4, 6, 10, 11)}
        self.assertEqual([(p.top, p.sides) for p in found.values() if p], [(1, 0), (4, 0), (4, 2), (4, 6), (5, 6)])
        assert found[11] is not None
        self.assertEqual((found[11].top_um, found[11].side_um), (50_000, 25_000))
        self.assertIsNone(places_of(size(90, 90, 90), GEL, 1))
        low = places_of(inner, GEL, 4, sides_first=True)
        assert low is not None
        self.assertEqual((low.top, low.sides, low.top_um), (0, 4, 0))
        heat = places_of(inner, WARMER, 2)
        assert heat is not None
        self.assertEqual((heat.lid, heat.top_um), (2, 20_000))

    def test_the_parcel_is_packed_again_with_them(self) -> None:
        lines = order(4, product=jar(highest_c=18))
        known = cool_facts()
        plain = cared(lines, always(4, 9), known).result
        lined = cared(lines, always(4, 9), known, decided=Overrides(care=choice("FOAM", "GEL", 4))).result
        assert isinstance(plain, PlannedOrder)
        self.assertIsInstance(lined, Blocked)  # C-14 has no room for goods, liner and packs
        wide = order(4, product=jar(highest_c=18), how=recipe(band(1, 6, outers=("C-14", "C-20"))))
        lined = cared(wide, always(4, 9), known, decided=Overrides(care=choice("FOAM", "GEL", 4))).result
        assert isinstance(lined, PlannedOrder)
        one, bare = lined.chosen.only, plain.chosen.only
        self.assertEqual((bare.container, one.container), ("C-14", "C-20"))
        assert one.thermal is not None
        self.assertEqual((one.thermal.liner, one.thermal.count), ("FOAM", 4))
        self.assertEqual(one.inner, size(360, 260, 210))
        used = {use.supply: use for use in one.uses if use.role in ("liner", "pack")}
        self.assertEqual((used["GEL"].quantity, used["GEL"].weight_mg, used["GEL"].cost), (4, 1_600_000, D("3.20")))
        self.assertGreater(one.weight.gross_mg, bare.weight.gross_mg + 1_600_000)
        self.assertEqual(one.minutes, bare.minutes + 1 + D("0.8"))
        for placed in one.placements:  # the cushion of 20 mm below the packs of 25 mm
            self.assertLessEqual(placed.top_um, 210_000 - 45_000)

    def test_goods_without_a_limit_get_none(self) -> None:
        found = cared(order(2), always(30, 38), decided=Overrides(care=choice("FOAM", "GEL", 4)))
        assert isinstance(found.result, PlannedOrder)
        self.assertIsNone(found.result.chosen.only.thermal)
        self.assertIsNone(found.report)

    def test_dry_ice_goes_only_where_a_carrier_takes_it(self) -> None:
        known = cool_facts()
        inserts = {**known.shelf.inserts, "DRY": _dry_ice(1_000)}
        known = replace(known, shelf=replace(known.shelf, inserts=inserts), free={**known.free, "DRY": D(99)})
        lines = order(2, product=jar(frozen=True), how=recipe(band(1, 2, outers=("C-20",))))
        asked = Overrides(care=choice("FOAM", "DRY", 2))
        self.assertIsInstance(cared(lines, always(4, 9), known, decided=asked).result, Blocked)
        taking = replace(known, tariffs=(tariff(service(takes_dry_ice=True)),))
        self.assertIsInstance(cared(lines, always(4, 9), taking, decided=asked).result, PlannedOrder)


def _cool_jars(**thermal: object) -> tuple[object, ...]:
    named = BandThermal(liner="FOAM", packs=("PAD",), **thermal)  # type: ignore[arg-type]
    return order(2, product=jar(highest_c=18), how=recipe(band(1, 6, outers=("C-20",), thermal=named)))


class Planning(unittest.TestCase):
    def test_safe_weather_changes_nothing(self) -> None:
        lines = order(2, product=jar(lowest_c=2, highest_c=18))
        found = cared(lines, always(6, 12))
        assert found.report is not None
        self.assertEqual((found.report.verdict, found.proposals), ("safe", ()))
        one = found.report.parcels[0]
        self.assertEqual((one.usual_hours, one.days, one.skus), (0, 1, ("JAR",)))
        self.assertGreater(one.warmer_c or 0, 1)
        self.assertGreater(one.colder_c or 0, 1)

    def test_a_recipe_puts_in_what_it_names_when_it_is_needed(self) -> None:
        lines = _cool_jars()
        mild = cared(lines, always(6, 12))  # type: ignore[arg-type]
        assert isinstance(mild.result, PlannedOrder)
        self.assertIsNone(mild.result.chosen.only.thermal)
        hot = cared(lines, always(19, 29))  # type: ignore[arg-type]
        assert isinstance(hot.result, PlannedOrder) and hot.report is not None
        self.assertEqual(hot.report.verdict, "safe")
        warm = hot.result.chosen.only.thermal
        assert warm is not None
        self.assertGreater(warm.count, 0)
        hotter = cared(lines, always(20, 31))  # type: ignore[arg-type]
        assert isinstance(hotter.result, PlannedOrder) and hotter.result.chosen.only.thermal is not None
        self.assertGreater(hotter.result.chosen.only.thermal.count, warm.count)

    def test_a_liner_alone_goes_in_where_it_does(self) -> None:
        limits = {"highest_c": 18, "weight_mg": 2_000_000}
        named = BandThermal(liner="FOAM", packs=("PAD",))
        lines = order(2, product=jar(**limits), how=recipe(band(1, 6, outers=("C-20",), thermal=named)))
        found = cared(lines, always(14, 21))
        assert found.report is not None and isinstance(found.result, PlannedOrder)
        thermal = found.result.chosen.only.thermal
        assert thermal is not None
        self.assertEqual((thermal.liner, found.report.verdict), ("FOAM", "safe"))
        none = cared(lines, always(6, 12), decided=Overrides(care=choice("FOAM", "PAD", 0)))
        assert isinstance(none.result, PlannedOrder) and none.result.chosen.only.thermal is not None
        self.assertEqual(none.result.chosen.only.thermal.pack, "")

    def test_always_means_in_mild_weather_too(self) -> None:
        found = cared(_cool_jars(when="always", least=1), always(6, 12))  # type: ignore[arg-type]
        assert isinstance(found.result, PlannedOrder) and found.result.chosen.only.thermal is not None
        self.assertEqual(found.result.chosen.only.thermal.count, 1)

    def test_where_no_recipe_says_anything_ways_out_are_proposed_cheapest_first(self) -> None:
        how = recipe(band(1, 6, outers=("C-20",)))
        lines = order(2, product=jar(highest_c=18, goods_cost=D(20)), how=how)
        weather = always(19, 29, days=4)
        cool = {
            (place, DAY + timedelta(days=ahead)): DayWeather(low_c=3, high_c=9)
            for place in ("ALM-DM", "hub of larkline")
            for ahead in range(4, 20)
        }
        found = cared(lines, replace(weather, days={**weather.days, **cool}))
        assert found.report is not None
        self.assertEqual(found.report.verdict, "danger")
        self.assertLess(found.report.parcels[0].warmer_c or 0, 0)
        kinds = [one.kind for one in found.proposals]
        self.assertIn("packs", kinds)
        self.assertIn("day", kinds)
        self.assertEqual([one.all_in for one in found.proposals], sorted(one.all_in for one in found.proposals))
        later = next(one for one in found.proposals if one.kind == "day")
        assert later.ship_on is not None
        self.assertGreaterEqual(later.ship_on, DAY + timedelta(days=4))
        packs = next(one for one in found.proposals if one.kind == "packs")
        again = cared(lines, weather, decided=Overrides(care=_chosen(packs.wish)))
        assert again.report is not None and isinstance(again.result, PlannedOrder)
        self.assertEqual(again.report.verdict, "safe")
        self.assertEqual(again.result.chosen.costs.total - packs.extra, _total(cared(lines, weather)))

    def test_consent_holds_for_what_was_told_and_no_further(self) -> None:
        lines = order(2, product=jar(highest_c=18))
        found = cared(lines, always(16, 22))
        assert found.report is not None
        told = str(found.report.parcels[0].high_c)
        agreed = Overrides(care=choice(high_c=told))
        for weather, verdict in ((always(16, 22), "agreed"), (always(17, 23), "agreed"), (always(25, 33), "danger")):
            again = cared(lines, weather, decided=agreed)
            assert again.report is not None
            self.assertEqual(again.report.verdict, verdict)

    def test_silence_releases_nothing(self) -> None:
        lines = order(2, product=jar(highest_c=18))
        silent = always(19, 29, silent=True)  # usual for November: 2 to 8
        self.assertEqual(_verdict(cared(lines, silent)), "safe")
        held = cared(lines, silent, held=HeldCare(danger=True))
        assert held.report is not None
        self.assertEqual((held.report.verdict, held.report.unsure), ("danger", True))
        self.assertEqual(held.report.parcels[0].usual_hours, len(held.report.parcels[0].hours))
        packed = cared(_cool_jars(), silent, held=HeldCare(danger=False, wish=ThermalWish(pack="PAD", count=3)))  # type: ignore[arg-type]
        assert isinstance(packed.result, PlannedOrder) and packed.result.chosen.only.thermal is not None
        self.assertEqual(packed.result.chosen.only.thermal.count, 3)
        heard = cared(lines, always(2, 8), held=HeldCare(danger=True))
        self.assertEqual(_verdict(heard), "safe")

    def test_frozen_and_melting_goods_have_ordinary_limits(self) -> None:
        self.assertEqual(jar(frozen=True).limits_c(), (None, -12))
        self.assertEqual(jar(meltable=True).limits_c(), (None, 25))
        self.assertEqual(jar(meltable=True, highest_c=22).limits_c(), (None, 22))
        self.assertEqual(jar().limits_c(), (None, None))

    def test_two_parcels_are_looked_at_each_for_itself(self) -> None:
        lines = order(6, product=jar(highest_c=18), how=recipe(band(1, 6, outers=("C-08",), any_outer=False)))
        found = cared(lines, always(19, 29), facts_of_two(), proposing=0)
        assert found.report is not None
        self.assertGreater(len(found.report.parcels), 1)
        self.assertEqual([one.part for one in found.report.parcels], list(range(1, len(found.report.parcels) + 1)))


def facts_of_two() -> Facts:
    known = cool_facts()
    return replace(known, containers=known.containers[:1])


def _chosen(wish: ThermalWish) -> CareChoice:
    return choice(wish.liner, wish.pack, wish.count)


def _total(found) -> Decimal:  # type: ignore[no-untyped-def]
    total: Decimal = found.result.chosen.costs.total
    return total


def _verdict(found) -> str:  # type: ignore[no-untyped-def]
    verdict: str = found.report.verdict
    return verdict


def _count(box: Box, outside: list[float], limits: Limits) -> int:
    found = need_of(lambda _: box, outside, limits, PADDED, most=60)
    return 61 if found is None else found.count


def _dry_ice(grams: int = 500):  # type: ignore[no-untyped-def]
    facts_ = ThermalPack(
        kind="dry_ice",
        length_um=120_000,
        width_um=100_000,
        melts_c=D("-78.5"),
        start_c=D("-78.5"),
        latent_j_per_g=571,
        freeze_hours=D(0),
    )
    return replace(GEL, code="DRY", name="Dry ice", weight_mg=grams * 1_000, pack=facts_)


if __name__ == "__main__":
    unittest.main()
