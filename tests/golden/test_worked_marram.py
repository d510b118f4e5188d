"""Sixty-two quotes of a list that uses all of format 2, each sum written out line by line.

Origin: worked from the prose of the list with a calculator of its own in whole cents, not with the program; a dozen were
gone over by hand. The list: base by class of size (sum of sides, least sizes), 10 % off it, peak season, the higher of two
island surcharges and of two for size, handling for each begun kilogram above 5 kg (1.50 to 3.00), fuel 8 % of the base,
2 % of base and surcharges, cover 1.5 % of the value (at least 1.00) free of tax, 20 % tax (none to VEL), up to 0.05. The
shop service: no parcel counts as less than 1 kg, further parcels 60 % less 0.10, Saturdays 2.50, to the nearest 0.10.
Air: divisor by zone, security for each begun half kilogram, fuel 12 % of all, 5 % off all, cover in tiers, tax by place.
"""
# ruff: noqa: E501 - a sum stands on one line

import json
import unittest
from dataclasses import replace
from datetime import date
from decimal import Decimal as D
from pathlib import Path
from typing import Any

from core.errors import OutsideTariff
from core.tariffs.model import Place, Sending
from core.tariffs.quote import Quote, quote_service
from core.units import Size
from server.formats.base import read_file
from server.formats.tariff import TariffFile
from tests.said import said, said_all

FILE = Path(__file__).parent / "marram-2026-10.json"
MARRAM = read_file(TariffFile, FILE.read_bytes(), what="tariff file").core()
DOOR, SHOP, AIR = ("MAR-DOOR", "MAR-SHOP", "MAR-AIR")
HOME = Place(country="ALM", postcode="DM14")

#: service, place, size in mm, weight in g, month and day, the sum
CASES: tuple[tuple[Any, ...], ...] = (
    (DOOR, "DM21", (200, 150, 100), 800, (10, 12), "4.00 - 0.40 + 0.29 + 0.07 + 0.79 = 4.75"),
    (DOOR, "DM21", (200, 150, 100), 1000, (10, 12), "4.00 - 0.40 + 0.29 + 0.07 + 0.79 = 4.75"),
    (DOOR, "DM21", (200, 150, 100), 1001, (10, 12), "4.80 - 0.48 + 0.35 + 0.09 + 0.95 + 0.04 = 5.75"),
    (DOOR, "DM21", (250, 200, 150), 900, (10, 12), "4.00 - 0.40 + 0.29 + 0.07 + 0.79 = 4.75"),
    (DOOR, "DM21", (250, 200, 151), 900, (10, 12), "5.60 - 0.56 + 0.40 + 0.10 + 1.11 = 6.65"),
    (DOOR, "DM21", (150, 100, 20), 300, (10, 12), "4.00 - 0.40 + 0.29 + 0.07 + 0.79 = 4.75"),
    (DOOR, "DM21", (149, 100, 20), 300, (10, 12), "5.60 - 0.56 + 0.40 + 0.10 + 1.11 = 6.65"),
    (DOOR, "DM21", (150, 99, 20), 300, (10, 12), "5.60 - 0.56 + 0.40 + 0.10 + 1.11 = 6.65"),
    (DOOR, "DM21", (351, 100, 50), 500, (10, 12), "5.60 - 0.56 + 0.40 + 0.10 + 1.11 = 6.65"),
    (DOOR, "DM21", (300, 200, 100), 2001, (10, 12), "7.20 - 0.72 + 0.52 + 0.13 + 1.43 + 0.04 = 8.60"),
    (DOOR, "DM21", (400, 300, 200), 4000, (10, 12), "7.20 - 0.72 + 0.52 + 0.13 + 1.43 + 0.04 = 8.60"),
    (DOOR, "DM21", (400, 300, 201), 4000, (10, 12), "12.00 - 1.20 + 0.86 + 0.22 + 2.38 + 0.04 = 14.30"),
    (DOOR, "DM21", (400, 400, 400), 5000, (10, 12), "18.00 - 1.80 + 1.30 + 0.32 + 3.56 + 0.02 = 21.40"),
    (DOOR, "DM21", (200, 150, 100), 800, (11, 14), "4.00 - 0.40 + 0.29 + 0.07 + 0.79 = 4.75"),
    (DOOR, "DM21", (200, 150, 100), 800, (11, 16), "4.00 - 0.40 + 0.60 + 0.29 + 0.08 + 0.91 + 0.02 = 5.50"),
    (DOOR, "DM21", (200, 150, 100), 800, (12, 31), "4.00 - 0.40 + 0.60 + 0.29 + 0.08 + 0.91 + 0.02 = 5.50"),
    (DOOR, "OK12", (200, 150, 100), 800, (10, 12), "5.00 - 0.50 + 2.00 + 0.36 + 0.13 + 1.40 + 0.01 = 8.40"),
    (DOOR, "OK91", (200, 150, 100), 800, (10, 12), "5.00 - 0.50 + 3.50 + 0.36 + 0.16 + 1.70 + 0.03 = 10.25"),
    (DOOR, "QH35", (200, 150, 100), 800, (10, 12), "5.00 - 0.50 + 0.36 + 0.09 + 0.99 + 0.01 = 5.95"),
    (DOOR, "QH91", (200, 150, 100), 800, (10, 12), "5.00 - 0.50 + 3.50 + 0.36 + 0.16 + 1.70 + 0.03 = 10.25"),
    (DOOR, "DM21", (601, 200, 100), 3000, (10, 12), "9.00 - 0.90 + 3.00 + 0.65 + 0.22 + 2.39 + 0.04 = 14.40"),
    (DOOR, "DM21", (500, 400, 301), 8000, (10, 12), "18.00 - 1.80 + 4.50 + 2.60 + 1.30 + 0.47 + 5.01 + 0.02 = 30.10"),
    (DOOR, "DM21", (700, 400, 200), 8000, (10, 12), "18.00 - 1.80 + 4.50 + 2.40 + 1.30 + 0.46 + 4.97 + 0.02 = 29.85"),
    (
        DOOR,
        "OK91",
        (700, 400, 200),
        12000,
        (11, 16),
        "22.50 - 2.25 + 0.60 + 3.50 + 4.50 + 2.40 + 1.62 + 0.63 + 6.70 = 40.20",
    ),
    (DOOR, "DM21", (300, 250, 200), 5000, (10, 12), "7.20 - 0.72 + 0.52 + 0.13 + 1.43 + 0.04 = 8.60"),
    (DOOR, "DM21", (350, 300, 260), 5001, (10, 12), "12.00 - 1.20 + 1.50 + 0.86 + 0.25 + 2.68 + 0.01 = 16.10"),
    (DOOR, "DM21", (400, 350, 300), 7500, (10, 12), "12.00 - 1.20 + 1.80 + 0.86 + 0.25 + 2.74 = 16.45"),
    (DOOR, "DM21", (400, 350, 300), 16000, (10, 12), "18.00 - 1.80 + 3.00 + 1.30 + 0.38 + 4.18 + 0.04 = 25.10"),
    (DOOR, "VEL:3300", (200, 150, 100), 800, (10, 12), "9.00 - 0.90 + 0.65 + 0.16 + 0.04 = 8.95"),
    (
        DOOR,
        "VEL:3300",
        (400, 350, 300),
        9000,
        (11, 16),
        "29.00 - 2.90 + 0.60 + 1.80 + 2.09 + 0.57 + 1.80 + 0.04 = 33.00",
        {"cover": D(120)},
    ),
    (DOOR, "DM21", (200, 150, 100), 800, (10, 12), "4.00 - 0.40 + 0.29 + 0.07 + 0.79 = 4.75", {"cover": D(50)}),
    (DOOR, "DM21", (200, 150, 100), 800, (10, 12), "4.00 - 0.40 + 0.29 + 0.07 + 1.00 + 0.79 = 5.75", {"cover": D(51)}),
    (DOOR, "DM21", (200, 150, 100), 800, (10, 12), "4.00 - 0.40 + 0.29 + 0.07 + 3.00 + 0.79 = 7.75", {"cover": D(200)}),
    (
        DOOR,
        "QH35",
        (300, 200, 150),
        1500,
        (11, 16),
        "7.00 - 0.70 + 0.60 + 0.50 + 0.14 + 5.00 + 1.51 = 14.05",
        {"cover": D(333)},
    ),
    (SHOP, "DM21", (200, 150, 100), 300, (10, 12), "3.00 + 0.60 = 3.60"),
    (SHOP, "DM21", (200, 150, 100), 1000, (10, 12), "3.00 + 0.60 = 3.60"),
    (SHOP, "DM21", (200, 150, 100), 1001, (10, 12), "3.40 + 0.68 + 0.02 = 4.10"),
    (SHOP, "OK12", (300, 200, 150), 2600, (10, 12), "4.60 + 0.92 - 0.02 = 5.50"),
    (SHOP, "DM21", (300, 200, 150), 15000, (10, 12), "14.20 + 2.84 - 0.04 = 17.00"),
    (SHOP, "DM21", (200, 150, 100), 300, (10, 12), "1.70 + 0.34 - 0.04 = 2.00", {"further_of": ("marram", "MAR-SHOP")}),
    (
        SHOP,
        "DM21",
        (300, 200, 150),
        2600,
        (10, 12),
        "2.66 + 0.53 + 0.01 = 3.20",
        {"further_of": ("marram", "MAR-SHOP")},
    ),
    (SHOP, "DM21", (200, 150, 100), 300, (10, 16), "3.00 + 2.50 + 1.10 = 6.60"),
    (SHOP, "DM21", (200, 150, 100), 300, (10, 17), "3.00 + 0.60 = 3.60"),
    (SHOP, "DM21", (200, 150, 100), 300, (12, 24), "3.00 + 0.60 = 3.60"),
    (
        SHOP,
        "QH91",
        (500, 300, 200),
        7100,
        (10, 16),
        "4.82 + 2.50 + 1.46 + 0.02 = 8.80",
        {"further_of": ("marram", "MAR-SHOP")},
    ),
    (SHOP, "DM21", (400, 300, 300), 14600, (10, 12), "14.20 + 2.84 - 0.04 = 17.00"),
    (AIR, "DM21", (200, 150, 100), 400, (10, 12), "10.00 + 0.15 + 1.22 - 0.57 + 2.16 = 12.96"),
    (AIR, "DM21", (300, 200, 160), 900, (10, 12), "14.00 + 0.60 + 1.75 - 0.82 + 3.11 = 18.64"),
    (AIR, "OK12", (300, 200, 160), 900, (10, 12), "17.00 + 0.60 + 2.11 - 0.99 + 1.87 = 20.59"),
    (AIR, "DM21", (310, 240, 160), 900, (10, 12), "14.00 + 0.60 + 1.75 - 0.82 + 3.11 = 18.64"),
    (AIR, "OK12", (310, 240, 160), 900, (10, 12), "17.00 + 0.75 + 2.13 - 0.99 + 1.89 = 20.78"),
    (AIR, "VEL:3300", (310, 240, 160), 900, (10, 12), "28.00 + 0.75 + 3.45 - 1.61 = 30.59"),
    (AIR, "DM21", (400, 300, 250), 2000, (10, 12), "24.00 + 1.50 + 3.06 - 1.43 + 5.43 = 32.56"),
    (AIR, "OK12", (400, 300, 250), 2000, (10, 12), "30.00 + 1.80 + 3.82 - 1.78 + 3.38 = 37.22"),
    (AIR, "DM21", (400, 300, 250), 9900, (10, 12), "24.00 + 1.80 + 3.10 - 1.45 + 5.49 = 32.94"),
    (AIR, "VEL:3300", (400, 300, 250), 9900, (10, 12), "48.00 + 1.80 + 5.98 - 2.79 = 52.99"),
    (
        AIR,
        "DM21",
        (200, 150, 100),
        400,
        (10, 12),
        "10.00 + 0.15 + 1.22 - 0.57 + 1.00 + 2.36 = 14.16",
        {"cover": D(100)},
    ),
    (
        AIR,
        "DM21",
        (200, 150, 100),
        400,
        (10, 12),
        "10.00 + 0.15 + 1.22 - 0.57 + 3.50 + 2.86 = 17.16",
        {"cover": D(101)},
    ),
    (
        AIR,
        "DM21",
        (200, 150, 100),
        400,
        (10, 12),
        "10.00 + 0.15 + 1.22 - 0.57 + 9.00 + 3.96 = 23.76",
        {"cover": D(1500)},
    ),
    (AIR, "VEL:3300", (200, 150, 100), 400, (10, 12), "20.00 + 0.30 + 2.44 - 1.14 + 9.00 = 30.60", {"cover": D(600)}),
    (
        AIR,
        "OK12",
        (200, 150, 100),
        400,
        (10, 12),
        "12.00 + 0.30 + 1.48 - 0.69 + 1.31 = 14.40",
        {"cover": D(300), "goods": frozenset({"alcohol"})},
    ),
    (
        AIR,
        "QH35",
        (305, 235, 155),
        2500,
        (10, 12),
        "17.00 + 0.75 + 2.13 - 0.99 + 1.00 + 1.99 = 21.88",
        {"cover": D(90)},
    ),
)


def ask(
    service: str, place: str, mm: tuple[int, int, int], grams: int, day: tuple[int, int], more: Any = None
) -> Quote:
    country, _, postcode = place.rpartition(":")
    sending = Sending(
        destination=Place(country=country or "ALM", postcode=postcode), ship_on=date(2026, *day), origin=HOME
    )
    one = next(s for s in MARRAM.services if s.code == service)
    length, width, height = (side * 1000 for side in mm)
    return quote_service(
        MARRAM,
        one,
        outer=Size(length_um=length, width_um=width, height_um=height),
        gross_mg=grams * 1000,
        sending=replace(sending, **(more or {})),
    )


def signed(amounts: list[D]) -> str:
    first, *rest = amounts
    return f"{first:.2f}" + "".join(f" - {-one:.2f}" if one < 0 else f" + {one:.2f}" for one in rest)


class WorkedMarram(unittest.TestCase):
    def test_every_worked_sum_is_met_line_by_line(self) -> None:
        for service, place, mm, grams, day, worked, *more in CASES:
            with self.subTest(f"{service} {place} {mm} {grams} {worked}"):
                found = ask(service, place, mm, grams, day, more[0] if more else None)
                told = [(said(line.label), str(line.amount), said(line.rule)) for line in found.lines]
                self.assertEqual(f"{signed([line.amount for line in found.lines])} = {found.price:.2f}", worked, told)

    def test_saturdays_holidays_and_days_of_handing_over_are_kept(self) -> None:
        arrivals = {(12, 24): "2026-12-28", (10, 16): "2026-10-17", (10, 17): "2026-10-19", (10, 12): "2026-10-13"}
        for day, arrives in arrivals.items():
            found = ask(SHOP, "DM21", (200, 150, 100), 300, day)
            self.assertEqual(found.arrives_on.isoformat(), arrives)
        # Handed over on Tuesdays and Thursdays only: sent on Tuesday it moves on Wednesday and waits for Thursday.
        self.assertEqual(ask(AIR, "DM21", (200, 150, 100), 400, (10, 13)).arrives_on, date(2026, 10, 15))

    def test_each_new_rule_is_told_in_words(self) -> None:
        words = {
            "Peak season": "sent from Sun 15 Nov to Thu 31 Dec",
            "Far islands": "the highest of place",
            "Bulky": "the highest of size",
            "Heavy handling": "at most 3.00",
            "Account discount": "10 % off 22.50",
            "Fuel": "8 % of 20.25",
            "Rounding": "up to a multiple of 0.05",
        }
        found = ask(DOOR, "OK91", (800, 400, 250), 16_000, (11, 16))
        rules = {said(line.label): said(line.rule) for line in found.lines}
        for label, rule in words.items():
            self.assertIn(rule, rules[label], rules)
        shop = ask(SHOP, "DM21", (200, 150, 100), 300, (10, 12), {"further_of": (MARRAM.carrier, SHOP)})
        self.assertIn("a further parcel of the order: 60 % of 3.00, less 0.10", said(shop.lines[0].rule))
        self.assertIn("no parcel counts as less than 1.000 kg", said(shop.lines[0].rule))
        self.assertEqual(said_all(shop.notes), ("Marram Shop: the buyer fetches it at a shop. Ask which one.",))

    def test_each_new_limit_is_refused_by_name(self) -> None:
        cases: tuple[tuple[Any, ...], ...] = (
            (DOOR, (600, 500, 401), 1_000, {}, "sum of sides"),
            (SHOP, (200, 150, 9), 300, {}, "least thickness"),
            (AIR, (200, 150, 100), 300, {"goods": frozenset({"batteries"})}, "goods"),
            (AIR, (200, 150, 100), 300, {"goods": frozenset({"aerosols", "liquids"})}, "goods"),
        )
        for service, mm, grams, more, limit in cases:
            with self.subTest(limit), self.assertRaises(OutsideTariff) as caught:
                ask(service, "DM21", mm, grams, (10, 12), more)
            self.assertEqual(caught.exception.limit_name, limit)
        with self.assertRaises(OutsideTariff) as caught:
            ask(SHOP, "VEL:3300", (200, 150, 100), 300, (10, 12))  # its own zones do not go there
        self.assertEqual(caught.exception.limit_name, "destination")

    def test_a_further_parcel_of_another_service_pays_the_whole(self) -> None:
        alone = ask(SHOP, "DM21", (200, 150, 100), 300, (10, 12))
        beside = ask(SHOP, "DM21", (200, 150, 100), 300, (10, 12), {"further_of": ("marram", "MAR-AIR")})
        self.assertEqual((alone.price, alone.further), (beside.price, beside.further))

    def test_the_file_comes_back_as_it_was(self) -> None:
        document = json.loads(FILE.read_text())
        file = read_file(TariffFile, FILE.read_bytes(), what="tariff file")
        self.assertEqual(file.model_dump(mode="json", exclude_unset=True), document)

    def test_version_1_does_not_know_what_is_new(self) -> None:
        document = json.loads(FILE.read_text()) | {"version": 1}
        with self.assertRaisesRegex(Exception, "1 error") as caught:
            read_file(TariffFile, json.dumps(document), what="tariff file")
        told = caught.exception.faults[0].message  # type: ignore[attr-defined]
        for field in ("holidays", "sum_of_sides_um", "zone_rules", "write version 2"):
            self.assertIn(field, told)
