"""Worked quotes: the demo tariff at its edges, each sum written out by hand from the price sheet.

Provenance: worked on paper from demo/tariffs/larkline-2026-07.json on 2026-11-23; steps in kg, sizes in mm. The
Packet has no volumetric weight; the Two-day charges max(gross, L x W x H / 5000) on sides rounded up to whole cm,
then fuel 6.5 % on base plus fixed surcharges, half up.
"""

import unittest
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from pathlib import Path

from core.errors import OutsideTariff
from core.tariffs.model import Place, Sending, Service, Tariff
from core.tariffs.quote import quote_service
from core.units import Size
from server.formats.tariff import TariffFile
from tests.said import said

TARIFF: Tariff = TariffFile.model_validate_json(
    (Path(__file__).resolve().parents[2] / "demo" / "tariffs" / "larkline-2026-07.json").read_text()
).core()
SERVICES: dict[str, Service] = {service.code: service for service in TARIFF.services}
MONDAY = date(2026, 11, 23)


@dataclass(frozen=True)
class Worked:
    """One case: what is sent where, and the price with its sum."""

    service: str
    postcode: str
    size_um: tuple[int, int, int]
    gross_mg: int
    price: str
    worked: str


def mm(length: float, width: float, height: float) -> tuple[int, int, int]:
    return round(length * 1000), round(width * 1000), round(height * 1000)


SMALL, FLAT = mm(200, 150, 60), mm(275, 225, 36)
PACKET, TWO = "LARK-PKT", "LARK-TWO"

CASES = (
    # The Packet: weight steps at each edge, every zone.
    Worked(PACKET, "DM21", FLAT, 1, "2.40", "zone 1, up to 0.25"),
    Worked(PACKET, "DM21", FLAT, 250_000, "2.40", "zone 1, on the 0.25 step"),
    Worked(PACKET, "DM21", FLAT, 250_001, "2.90", "zone 1, 1 mg over 0.25: up to 0.5"),
    Worked(PACKET, "DM21", FLAT, 500_000, "2.90", "zone 1, on the 0.5 step"),
    Worked(PACKET, "DM21", FLAT, 500_001, "3.60", "zone 1, up to 1"),
    Worked(PACKET, "DM21", FLAT, 1_000_001, "4.60", "zone 1, up to 2"),
    Worked(PACKET, "DM21", FLAT, 2_000_000, "4.60", "zone 1, on the limit of 2"),
    Worked(PACKET, "HW32", FLAT, 405_000, "3.10", "zone 2, up to 0.5"),
    Worked(PACKET, "MB17", SMALL, 999_999, "3.90", "zone 2, up to 1"),
    Worked(PACKET, "TW26", SMALL, 1_500_000, "4.95", "zone 2, up to 2"),
    Worked(PACKET, "QH14", SMALL, 250_000, "2.70", "zone 3 by the country's default"),
    Worked(PACKET, "OK23", SMALL, 540_000, "4.20", "zone 3, up to 1"),
    Worked(PACKET, "OK92", SMALL, 240_000, "3.90", "zone R: 2.70 + remote 1.20"),
    Worked(PACKET, "QH71", SMALL, 1_800_000, "6.50", "zone R: 5.30 + remote 1.20"),
    Worked(PACKET, "DM21", mm(450, 350, 80), 2_000_000, "4.60", "all three limits met exactly; size does not count"),
    # The Two-day: gross or volumetric, whichever is more; fuel on top.
    Worked(TWO, "DM21", mm(100, 100, 100), 1_000_000, "4.15", "0.2 kg by size; 3.90 + 6.5 % 0.2535 -> 0.25"),
    Worked(TWO, "DM21", mm(100, 100, 100), 1_000_001, "4.90", "4.60 + 0.299 -> 0.30"),
    Worked(
        TWO, "HW32", mm(239, 169, 182), 1_238_000, "5.86", "24 x 17 x 19 = 7752 / 5000 = 1.5504; 5.50 + 0.3575 -> 0.36"
    ),
    Worked(TWO, "HW32", mm(310, 240, 160), 1_000_000, "7.03", "2.3808 kg by size, up to 3: 6.60 + 0.429 -> 0.43"),
    Worked(TWO, "HW32", (310_001, 240_000, 160_000), 1_000_000, "7.03", "32 x 24 x 16 = 2.4576, still up to 3"),
    Worked(
        TWO,
        "TW26",
        mm(335, 245, 188),
        2_484_000,
        "8.73",
        "34 x 25 x 19 = 16150 / 5000 = 3.23, up to 5: 8.20 + 0.533 -> 0.53",
    ),
    Worked(TWO, "QH14", mm(291, 211, 156), 1_030_000, "7.88", "30 x 22 x 16 = 2.112, up to 3: 7.40 + 0.481 -> 0.48"),
    Worked(TWO, "DM46", mm(435, 345, 198), 4_226_000, "10.01", "44 x 35 x 20 = 6.16, up to 10: 9.40 + 0.611 -> 0.61"),
    Worked(TWO, "QH35", mm(435, 345, 198), 5_205_000, "13.74", "6.16, up to 10 in zone 3: 12.90 + 0.8385 -> 0.84"),
    Worked(
        TWO,
        "OK92",
        mm(159, 159, 182),
        548_000,
        "8.84",
        "16 x 16 x 19 = 0.9728, up to 1: 4.80 + 3.50 = 8.30; 0.5395 -> 0.54",
    ),
    Worked(
        TWO, "DM21", mm(600, 100, 100), 900_000, "4.90", "60 x 10 x 10 = 1.2, up to 2; 600 mm is not long: 4.60 + 0.30"
    ),
    Worked(
        TWO,
        "DM21",
        (600_001, 100_000, 100_000),
        900_000,
        "9.16",
        "61 x 10 x 10 = 1.22; 4.60 + long 4.00 = 8.60; 0.559 -> 0.56",
    ),
    Worked(
        TWO,
        "QH71",
        mm(700, 200, 200),
        4_000_000,
        "21.73",
        "70 x 20 x 20 = 5.6, up to 10: 12.90 + 3.50 + 4.00 = 20.40; 1.326 -> 1.33",
    ),
    Worked(TWO, "DM21", mm(300, 200, 200), 25_000_000, "20.77", "the limit of 25: 19.50 + 1.2675 -> 1.27"),
    Worked(TWO, "MB44", mm(300, 200, 200), 15_000_001, "20.66", "1 mg over 15: 19.40 + 1.261 -> 1.26"),
)

REFUSED = (
    (PACKET, "DM21", (450_001, 350_000, 80_000), 100_000, "longest side"),
    (PACKET, "DM21", (450_000, 350_001, 80_000), 100_000, "second side"),
    (PACKET, "DM21", (450_000, 350_000, 80_001), 100_000, "thickness"),
    (PACKET, "DM21", FLAT, 2_000_001, "weight"),
    (TWO, "DM21", (1_200_001, 100_000, 100_000), 100_000, "longest side"),
    (TWO, "DM21", (1_200_000, 450_000, 450_001), 100_000, "length plus girth"),
    (TWO, "DM21", SMALL, 25_000_001, "weight"),
    (TWO, "DM21", (900_000, 520_000, 520_000), 100_000, "billable weight"),
)


def ask(service: str, country: str, postcode: str, sides: tuple[int, int, int], gross_mg: int):  # type: ignore[no-untyped-def]
    size = Size(length_um=sides[0], width_um=sides[1], height_um=sides[2])
    place = Place(country=country, postcode=postcode)
    return quote_service(
        TARIFF, SERVICES[service], outer=size, gross_mg=gross_mg, sending=Sending(destination=place, ship_on=MONDAY)
    )


class WorkedQuotes(unittest.TestCase):
    def test_every_worked_price_is_met_to_the_cent(self) -> None:
        for case in CASES:
            with self.subTest(f"{case.service} {case.postcode} {case.worked}"):
                found = ask(case.service, "ALM", case.postcode, case.size_um, case.gross_mg)
                self.assertEqual(
                    found.price, Decimal(case.price), [(said(line.label), str(line.amount)) for line in found.lines]
                )
                self.assertEqual(found.price, sum(line.amount for line in found.lines))

    def test_every_refusal_names_the_first_limit_that_is_passed(self) -> None:
        for service, postcode, sides, gross_mg, limit in REFUSED:
            with self.subTest(f"{service} {limit}"), self.assertRaises(OutsideTariff) as caught:
                ask(service, "ALM", postcode, sides, gross_mg)
            self.assertEqual(caught.exception.limit_name, limit)

    def test_turning_the_parcel_changes_nothing(self) -> None:
        for case in CASES:
            x, y, z = case.size_um
            self.assertEqual(
                ask(case.service, "ALM", case.postcode, (z, x, y), case.gross_mg).price,
                Decimal(case.price),
                case.worked,
            )

    def test_other_countries_are_not_served(self) -> None:
        for service in (PACKET, TWO):
            with self.assertRaises(OutsideTariff) as caught:
                ask(service, "TOR", "4410", SMALL, 100_000)
            self.assertEqual(caught.exception.limit_name, "destination")

    def test_the_arrival_follows_the_zones_days(self) -> None:
        arrivals = [
            ask(TWO, "ALM", code, SMALL, 500_000).arrives_on.isoformat() for code in ("DM21", "HW32", "QH14", "OK92")
        ]
        self.assertEqual(arrivals, ["2026-11-24", "2026-11-25", "2026-11-25", "2026-11-27"])
