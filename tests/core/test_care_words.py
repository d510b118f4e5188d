"""What is said of heat and cold on the way (rules 15.4, 15.5)."""

import unittest
from dataclasses import replace
from datetime import timedelta

from core.care.planning import Proposal
from core.care.report import CareReport
from core.care.words import margin_words, proposal_words, why_waits, wish_words, worst_of
from core.parcels.facts import Overrides
from core.parcels.packed import ThermalWish
from tests.core.caring import always, cared
from tests.core.samples import DAY, D, jar, order
from tests.said import said, said_all

NAMES = {"JAR": "Fudge", "FOAM": "Foam liner", "GEL": "Gel pack"}


def report(low_c: float, high_c: float, units: int = 2, parcels: int | None = None, **limits: object) -> CareReport:
    product = jar(**{"highest_c": 22, **limits})
    decided = Overrides(parcels=parcels)
    found = cared(order(units, product=product), always(low_c, high_c), decided=decided, proposing=0).report
    assert found is not None
    return found


class WhyItWaits(unittest.TestCase):
    def test_too_warm_names_goods_limit_place_and_day(self) -> None:
        found = report(18, 33)
        told = said(why_waits(found, NAMES))
        one = worst_of(found)
        self.assertEqual(found.verdict, "danger")
        self.assertTrue(
            told.startswith(f"Fudge would get as warm as {round(one.high_c, 1):g} C; 22 C is the most."), told
        )
        hottest = max(one.hours, key=lambda hour: hour.outside_c)
        self.assertIn(f"{hottest.outside_c:g} C", told)
        self.assertIn(f"{hottest.begins:%a} {hottest.begins.day}", told)

    def test_too_cold_is_told_as_cold(self) -> None:
        found = report(-14, -6, highest_c=None, lowest_c=4)
        told = said(why_waits(found, NAMES))
        self.assertTrue(
            told.startswith(f"Fudge would get as cold as {round(worst_of(found).low_c, 1):g} C; 4 C is the "), told
        )

    def test_what_nobody_foretold_is_said(self) -> None:
        unsure = replace(report(10, 15), unsure=True)
        self.assertEqual(why_waits(unsure, NAMES).code, "care_unsure")
        found = report(18, 33)
        (one,) = found.parcels
        guessed = replace(found, parcels=(replace(one, usual_hours=len(one.hours)),))
        self.assertNotEqual(said(why_waits(guessed, NAMES)), said(why_waits(found, NAMES)))

    def test_goods_without_a_name_are_told_by_their_code(self) -> None:
        self.assertIn("JAR would get", said(why_waits(report(18, 33), {})))

    def test_the_worst_parcel_is_the_one_with_least_to_spare(self) -> None:
        (one,) = report(10, 15).parcels
        cool, warm = replace(one, part=1, warmer_c=6.0), replace(one, part=2, warmer_c=-1.5)
        cold = replace(one, part=3, warmer_c=None, colder_c=-3.0)
        none = replace(one, part=4, warmer_c=None, colder_c=None)
        self.assertEqual(worst_of(CareReport(verdict="danger", parcels=(none, cool, warm))).part, 2)
        self.assertEqual(worst_of(CareReport(verdict="danger", parcels=(cool, warm, cold))).part, 3)


class Margins(unittest.TestCase):
    def test_room_and_lack_are_told_in_kelvin_above_nought(self) -> None:
        (one,) = report(10, 15).parcels
        told = said_all(margin_words(replace(one, warmer_c=6.04, colder_c=-1.5)))
        self.assertEqual(told, ("6 C warmer would still be fine.", "It would have to be 1.5 C warmer."))
        self.assertEqual(margin_words(replace(one, warmer_c=None, colder_c=None)), ())
        self.assertEqual([m.code for m in margin_words(replace(one, warmer_c=0.0, colder_c=None))], ["may_be_warmer"])


class WhatIsProposed(unittest.TestCase):
    def test_a_liner_packs_or_both(self) -> None:
        both = ThermalWish(liner="FOAM", pack="GEL", count=2)
        told = [
            said(wish_words(one, NAMES))
            for one in (both, replace(both, liner=""), ThermalWish(liner="FOAM"), ThermalWish(pack="X", count=1))
        ]
        for text, parts in zip(
            told, (("Foam liner", "2 Gel pack"), ("2 Gel pack",), ("Foam liner",), ("1 X",)), strict=True
        ):
            for part in parts:
                self.assertIn(part, text)
        self.assertNotIn("Foam", told[1])

    def test_each_way_out_says_what_it_costs(self) -> None:
        plain = Proposal(kind="consent", all_in=D("9.00"), extra=D("3.20"), loss=D("8.40"))
        packs = replace(plain, kind="packs", wish=ThermalWish(pack="GEL", count=2))
        service = replace(plain, kind="service", service_name="Swift", arrives_on=DAY)
        later = replace(plain, kind="day", ship_on=DAY + timedelta(days=2), waits_days=2)
        for one, parts in (
            (packs, ("2 Gel pack", "3.20")),
            (service, ("Swift", "3.20", "Mon 23 Nov")),
            (later, ("Wed 25 Nov", "2 days")),
            (plain, ("8.40",)),
        ):
            told = said(proposal_words(one, NAMES))
            for part in parts:
                self.assertIn(part, told)
