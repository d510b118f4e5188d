"""Advice in seeded scenarios whose answer is known beforehand (rules 11.3)."""

import unittest
from dataclasses import replace
from decimal import Decimal

from core.advising.advice import Advice, advice_for
from core.parcels.facts import Facts, Overrides
from core.recipes.expand import OrderLine, Shelf
from core.recipes.model import InsertAmount, Occasion, Sample
from core.supplies.items import CutDown, Insert
from core.tariffs.charges import Surcharge
from core.tariffs.choosing import Choosing
from core.tariffs.model import (
    FlatPrice,
    FlatRate,
    Format,
    Limits,
    Packaging,
    Service,
    Tariff,
    WeightStep,
    ZoneTable,
)
from tests.core.samples import (
    C08,
    C14,
    CARD,
    DAY,
    HERE,
    MAILER,
    NO_CUSHION,
    SHELF,
    band,
    carton,
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
WEEK = (0, 1, 2, 3, 4)
NOTHING = Overrides()


def steps(*pairs: tuple[int, str]) -> tuple[ZoneTable, ...]:
    return (ZoneTable(zone="1", transit_days=1, steps=tuple(WeightStep(up_to_mg=mg, price=D(p)) for mg, p in pairs)),)


def plain(zones: tuple[ZoneTable, ...], **changes: object) -> Service:
    return service(zones=zones, volumetric=(), surcharges=(), limits=Limits(), **changes)


ANY = steps((25_000_000, "5.00"))


def advised(
    lines: tuple[OrderLine, ...],
    known: Facts,
    overrides: Overrides = NOTHING,
    threshold: str = "0.30",
) -> tuple[Advice, ...]:
    return advice_for(
        planned(lines, known, overrides=overrides),
        lines,
        known,
        destination=HERE,
        ship_on=DAY,
        overrides=overrides,
        occasion=Occasion(),
        names={"K": "Kraft", "P": "Peanuts", "I": "Card"},
        ship_days=WEEK,
        threshold=D(threshold),
    )


def cloths(count: int = 1, outer: str = "C-08") -> tuple[OrderLine, ...]:
    cloth = jar(
        sku="CLOTH", name="cloth", size=size(200, 150, 20), weight_mg=300_000, fragility="sturdy", orientation="any"
    )
    way = recipe(band(1, 6, layers=(), outers=(outer,), cushion=NO_CUSHION, gap_um=0))
    return (OrderLine(sku="CLOTH", quantity=count, product=cloth, recipe=way),)  # fmt: skip


class KnownAnswers(unittest.TestCase):
    def best(self, found: tuple[Advice, ...], kind: str) -> Advice:
        self.assertTrue(found, "some advice was due")
        self.assertEqual(found[0].kind, kind, [said(one.sentence) for one in found])
        return found[0]

    def holds(self, lines: tuple[OrderLine, ...], known: Facts, one: Advice, before: Overrides = NOTHING) -> None:
        """What was promised is what planning with it gives, and the sum is made of its parts."""
        old, new = planned(lines, known, before), planned(lines, known, one.overrides)
        self.assertEqual(old.chosen.costs.total - new.chosen.costs.total, one.saves)
        labour = new.chosen.costs.labour - old.chosen.costs.labour
        self.assertEqual(one.saves, -(one.postage + one.materials + labour + one.expected_loss))

    def test_a_carton_20_mm_too_high_for_a_step_is_cut(self) -> None:
        # Outside the carton is 176 high and bulges by 6: 182. The service asks 5.00 more above 162 mm thickness.
        dear = Surcharge(
            code="T",
            name="Thick",
            kind="fixed",
            amount=D("5.00"),
            zones=(),
            longest_above_um=None,
            thickness_above_um=162_000,
        )
        low = replace(
            C08,
            inner=size(230, 160, 190),
            outer=size(236, 166, 196),
            cut=CutDown(heights_um=(), lowest_um=60_000, minutes=D(1)),
        )
        one = service(zones=ANY, volumetric=(), surcharges=(dear,), limits=Limits())
        flat_jar = jar(size=size(72, 72, 60))
        known, lines = facts(containers=(low,), tariffs=(tariff(one),)), order(2, product=flat_jar)
        best = self.best(advised(lines, known), "cut")
        # 60 + wraps 4 ends of 4 mm at 0.9 = 14.4, + 30 below + 20 above = 124.4, so 125 whole mm.
        self.assertTrue(said(best.sentence).startswith("Cut C-08 to 125 mm: "), said(best.sentence))
        self.assertEqual((best.postage, best.minutes), (D("-5.00"), D(1)))
        self.assertIn("with Two-day, 1 minute more", said(best.sentence))
        self.holds(lines, known, best)

    def test_a_fill_6_g_too_heavy_is_swapped_for_a_lighter_one(self) -> None:
        lines = order(2, how=recipe(band(1, 2, inserts=())))
        gross = planned(
            lines, facts(containers=(C08,), tariffs=(tariff(plain(ANY)),)), Overrides()
        ).chosen.only.weight.gross_mg
        zones = steps((gross - 6_000, "3.90"), (25_000_000, "5.90"))
        known = facts(containers=(C08,), tariffs=(tariff(plain(zones)),))
        best = self.best(advised(lines, known), "fill")
        self.assertTrue(said(best.sentence).startswith("Fill with Peanuts instead of Kraft: "), said(best.sentence))
        self.assertEqual((best.postage, best.overrides.substitutes), (D("-2.00"), (("K", "P"),)))
        self.assertLessEqual(best.gross_mg, gross - 6_000)
        self.holds(lines, known, best)

    def test_a_card_6_g_too_many_is_left_out_when_it_need_not_go_in(self) -> None:
        lines = order(2)
        gross = planned(
            lines, facts(containers=(C08,), tariffs=(tariff(plain(ANY)),)), Overrides()
        ).chosen.only.weight.gross_mg
        known = facts(
            containers=(C08,),
            free={"P": D(0)},
            tariffs=(tariff(plain(steps((gross - 6_000, "3.90"), (25_000_000, "5.90")))),),
        )
        best = self.best(advised(lines, known), "leave_out")
        self.assertTrue(said(best.sentence).startswith("Leave out Card: 2."), said(best.sentence))
        self.holds(lines, known, best)
        needed = band(1, 2, inserts=(InsertAmount(insert="I", amount=1, per="parcel", place="top", required=True),))
        self.assertEqual(advised(order(2, how=recipe(needed)), known), ())

    def test_a_lighter_sample_is_put_in_instead(self) -> None:
        light = Insert(code="S", name="Small", weight_mg=1_000, unit_cost=D("0.12"), thickness_um=100)
        shelf = replace(SHELF, inserts={**SHELF.inserts, "S": light, "I": CARD})
        either = InsertAmount(
            insert="I", amount=1, per="parcel", place="top", required=False,
            samples=(Sample(insert="I", sku="A"), Sample(insert="S", sku="B")),
        )  # fmt: skip
        lines = order(2, how=recipe(band(1, 2, inserts=(either,))))
        first = replace(facts(containers=(C08,), free={"P": D(0), "S": D(9)}), shelf=shelf)
        gross = planned(lines, replace(first, tariffs=(tariff(plain(ANY)),)), Overrides()).chosen.only.weight.gross_mg
        zones = steps((gross - 5_000, "3.90"), (25_000_000, "5.90"))
        found = advised(lines, replace(first, tariffs=(tariff(plain(zones)),)))
        self.assertEqual(sorted(one.kind for one in found), ["leave_out", "swap"])
        self.assertIn("Put S in instead of Card", said(next(one for one in found if one.kind == "swap").sentence))

    def test_a_packet_1_mm_too_thick_goes_in_the_thinner_mailer(self) -> None:
        # The cloth is 20 mm thick, the padded mailer 3 mm a wall: 26; the large letter takes 25. The bag has 1 mm.
        small = Format(
            code="L", name="Large letter", limits=Limits(thickness_um=25_000), zones=steps((2_000_000, "2.10"))
        )
        packet = Format(code="P", name="Packet", limits=Limits(), zones=steps((25_000_000, "4.20")))
        bag = replace(MAILER, code="B", name="Bag", wall_um=1_000, unit_cost=D("0.35"))
        one = plain((), formats=(small, packet))
        known, lines = facts(containers=(MAILER, bag), tariffs=(tariff(one),)), cloths(outer="M")
        best = self.best(advised(lines, known), "mailer")
        self.assertTrue(said(best.sentence).startswith("Use B Bag instead of M Mailer: "), said(best.sentence))
        self.assertEqual((best.postage, best.materials), (D("-2.10"), D("0.05")))
        self.holds(lines, known, best)

    def test_a_bag_that_beats_a_box(self) -> None:
        known = facts(
            containers=(C08, MAILER),
            tariffs=(tariff(plain((), formats=(
                Format(code="L", name="Large", limits=Limits(thickness_um=30_000), zones=steps((2_000_000, "2.10"))),
                Format(code="P", name="Packet", limits=Limits(), zones=steps((25_000_000, "4.20"))),
            ))),),
        )  # fmt: skip
        lines = cloths()
        best = self.best(advised(lines, known), "mailer")
        self.assertEqual((best.overrides.container, best.postage), ("M", D("-2.10")))
        self.holds(lines, known, best)
        fragile = jar(sku="CLOTH", size=size(200, 150, 20), weight_mg=300_000, fragility="fragile")
        self.assertEqual(advised((replace(lines[0], product=fragile),), known), (), "no bag for what needs a cushion")

    def test_a_flat_rate_package_that_beats_a_heavy_parcel(self) -> None:
        flat = Packaging(
            code="WF", name="Flat box", services=("TWO",), inner=size(310, 230, 170),
            flat_rate=FlatRate(max_mg=10_000_000, prices=(FlatPrice(zones=(), price=D("6.00")),)),
        )  # fmt: skip
        own = carton("WF", size(310, 230, 170), cost="0.00")
        tariffs: tuple[Tariff, ...] = (
            replace(tariff(plain(steps((1_000_000, "5.00"), (25_000_000, "14.00")))), packaging=(flat,)),
        )
        known, lines = facts(containers=(C14, own), tariffs=tariffs), order(4)
        best = self.best(advised(lines, known), "flat_rate")
        self.assertTrue(
            said(best.sentence).startswith(
                "Use WF Carton WF, one price whatever it weighs, instead of C-14 Carton C-14: "
            ),
            said(best.sentence),
        )
        self.assertEqual(best.postage, D("-8.00"))
        self.holds(lines, known, best)

    def test_two_parcels_cheaper_than_one(self) -> None:
        known = facts(tariffs=(tariff(plain(steps((1_500_000, "2.00"), (25_000_000, "14.00")))),))
        lines = order(4)
        best = self.best(advised(lines, known), "split")
        self.assertTrue(said(best.sentence).startswith("Send it in 2 parcels, "), said(best.sentence))
        self.assertEqual(best.postage, D("-10.00"))
        self.holds(lines, known, best)

    def test_one_parcel_cheaper_than_two(self) -> None:
        known, lines = facts(tariffs=(tariff(plain(ANY)),)), order(4)
        asked = Overrides(parcels=2)
        best = self.best(advised(lines, known, asked), "join")
        self.assertTrue(said(best.sentence).startswith("Send it in 1 parcel, C-14 "), said(best.sentence))
        self.assertEqual(best.postage, D("-5.00"))
        self.holds(lines, known, best, asked)

    def test_another_service_than_the_trusted_one(self) -> None:
        cheap = replace(tariff(plain(steps((25_000_000, "4.00")), code="WEN", name="Wending")), carrier="wending")
        known = facts(containers=(C08,), tariffs=(tariff(plain(ANY)), cheap))
        loyal = replace(
            known, settings=replace(known.settings, choosing=Choosing(trusted="larkline", unless_saves=D(2)))
        )
        self.assertEqual(planned(order(2), loyal, Overrides()).chosen.only.quote.service, "TWO")
        best = self.best(advised(order(2), loyal), "service")
        self.assertTrue(
            said(best.sentence).startswith("Send it with Wending instead of Two-day: "), said(best.sentence)
        )
        self.assertEqual(best.postage, D("-1.00"))
        self.holds(order(2), loyal, best)

    def test_another_day_when_a_cheaper_list_begins(self) -> None:
        coming = tariff(plain(steps((25_000_000, "3.00"))), valid_from=DAY.replace(day=25), version="next")
        known = facts(containers=(C08,), tariffs=(tariff(plain(ANY)), coming))
        best = self.best(advised(order(2), known), "ship_day")
        self.assertTrue(
            said(best.sentence).startswith("Send it on Wed 25 Nov instead of Mon 23 Nov: "), said(best.sentence)
        )
        self.assertIn("arrives 2 days later", said(best.sentence))
        self.holds(order(2), known, best)

    def test_a_step_that_is_barely_reached_says_how_likely_it_is_passed_all_the_same(self) -> None:
        lines = order(2, how=recipe(band(1, 2, inserts=())))
        bare = facts(containers=(C08,), tariffs=(tariff(plain(ANY)),))
        light = planned(lines, bare, Overrides(substitutes=(("K", "P"),))).chosen.only.weight
        known = facts(
            containers=(C08,),
            tariffs=(tariff(plain(steps((light.gross_mg + light.sigma_mg, "3.90"), (25_000_000, "5.90")))),),
        )
        best = self.best(advised(lines, known), "fill")
        self.assertEqual(best.risk, D("0.1587"))
        self.assertTrue(
            said(best.sentence).endswith("Note: 15.9 % chance that it weighs more than its step."), said(best.sentence)
        )

    def test_a_carton_and_a_fill_together_reach_what_neither_reaches_alone(self) -> None:
        how = recipe(band(1, 2, outers=("C-08", "C-06"), inserts=()))
        small = carton("C-06", size(225, 150, 165), cost="0.62", tare_mg=180_000)
        lines, bare = order(2, how=how), facts(containers=(C08, small), tariffs=(tariff(plain(ANY)),))

        def gross(**decided: object) -> int:
            return planned(lines, bare, Overrides(**decided)).chosen.only.weight.gross_mg  # type: ignore[arg-type]

        both = gross(container="C-06", substitutes=(("K", "P"),))
        self.assertLess(both, min(gross(container="C-06"), gross(substitutes=(("K", "P"),))))
        known = facts(containers=(C08, small), tariffs=(tariff(plain(steps((both, "3.00"), (25_000_000, "6.00")))),))
        best = self.best(advised(lines, known), "carton")
        self.assertTrue(
            said(best.sentence).startswith(
                "Use C-06 Carton C-06 instead of C-08 Carton C-08 and fill with Peanuts instead of Kraft: "
            ),
            said(best.sentence),
        )
        self.assertEqual(best.postage, D("-3.00"))
        self.holds(lines, known, best)

    def test_there_is_no_advice_where_none_pays(self) -> None:
        for lines in (order(1), order(2), cloths(outer="C-08")):
            self.assertEqual(advised(lines, facts(containers=(C08,), tariffs=(tariff(plain(ANY)),))), ())

    def test_what_saves_no_more_than_the_threshold_is_not_told(self) -> None:
        known = facts(tariffs=(tariff(plain(steps((1_500_000, "2.00"), (25_000_000, "14.00")))),))
        saves = advised(order(4), known)[0].saves
        self.assertTrue(advised(order(4), known, threshold=str(saves - D("0.01"))))
        self.assertEqual(advised(order(4), known, threshold=str(saves)), ())

    def test_the_shelf_of_a_fill_that_is_used_up_is_left_alone(self) -> None:
        self.assertIsInstance(SHELF, Shelf)
        lines = order(2)
        gross = planned(
            lines, facts(containers=(C08,), tariffs=(tariff(plain(ANY)),)), Overrides()
        ).chosen.only.weight.gross_mg
        known = facts(
            containers=(C08,),
            free={"P": D(0)},
            tariffs=(tariff(plain(steps((gross - 60_000, "3.90"), (25_000_000, "9.90")))),),
        )
        self.assertNotIn("fill", [one.kind for one in advised(lines, known)])
