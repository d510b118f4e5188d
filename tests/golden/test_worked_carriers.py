"""Worked quotes of the post and the heavy carrier: every rule of the tariff at its edge, each sum written out by hand.

Provenance: worked on paper from demo/carriers/wending-2026-04.json and oxgang-2026-02.json on 2026-11-25.

Wending Standard, zone A: letter to 240 x 165 x 5 mm and 100 g: 0.95 to 50 g, 1.30 to 100 g; large letter to 353 x
250 x 25 and 750 g: 1.75 / 2.10 / 2.55 / 2.95 to 100 / 250 / 500 / 750 g; packet 3.30 / 3.70 / 4.30 / 5.40 to 0.25 /
0.5 / 1 / 2 kg;
what does not bend pays 0.60 more as a letter or large letter. Parcel: 5.90 to 2 kg and 0.70 a begun kg (islands
8.40 and 0.95). Oxgang: 9.80 to 10 kg and 2.40 a begun 5 kg (far 13.60 and 3.30), fuel 8 % on base and fixed
surcharges.
"""

import unittest
from dataclasses import dataclass, field, replace
from datetime import date
from decimal import Decimal
from pathlib import Path
from typing import Any

from core.errors import OutsideTariff
from core.tariffs.model import Place, Sending, Tariff
from core.tariffs.quote import Quote, quote_all, quote_service
from core.units import Size
from server.formats.tariff import TariffFile
from tests.said import said, said_all

_FOLDER = Path(__file__).resolve().parents[2] / "demo" / "carriers"


def read(name: str) -> Tariff:
    return TariffFile.model_validate_json((_FOLDER / name).read_text()).core()


POST, HEAVY = read("wending-2026-04.json"), read("oxgang-2026-02.json")
MONDAY = date(2026, 11, 23)
HOME_BASE = Place(country="ALM", postcode="DM14")


@dataclass(frozen=True)
class Worked:
    """One case: what is sent where, and the price with its sum."""

    service: str
    postcode: str
    mm: tuple[float, float, float]
    gross_mg: int
    price: str
    worked: str
    more: dict[str, Any] = field(default_factory=dict)


STD, PAR, SWI, ECO = "WEND-STD", "WEND-PAR", "WEND-SWI", "OXG-ECO"
LETTER, LARGE, BOX = (240, 165, 5), (353, 250, 25), (300, 220, 160)
SOFT = {"rigid": False}
G, KG = 1_000, 1_000_000

CASES = (
    # Formats: one um over is the next, and so is one mg over a format's own weight.
    Worked(STD, "DM21", LETTER, 50 * G, "0.95", "letter, on both edges", SOFT),
    Worked(STD, "DM21", LETTER, 50 * G + 1, "1.30", "letter, 1 mg over 50 g", SOFT),
    Worked(STD, "DM21", LETTER, 100 * G, "1.30", "letter, on its last step", SOFT),
    Worked(STD, "DM21", LETTER, 100 * G + 1, "2.10", "1 mg too heavy for a letter: large letter to 250 g", SOFT),
    Worked(STD, "DM21", (240, 165, 5.001), 50 * G, "1.75", "1 um too thick for a letter", SOFT),
    Worked(STD, "DM21", (240.001, 165, 5), 50 * G, "1.75", "1 um too long for a letter", SOFT),
    Worked(STD, "DM21", (240, 165.001, 5), 50 * G, "1.75", "1 um too wide for a letter", SOFT),
    Worked(STD, "DM21", LETTER, 50 * G, "1.55", "0.95 + 0.60: it does not bend"),
    Worked(STD, "DM21", LARGE, 750 * G, "2.95", "large letter, every edge met", SOFT),
    Worked(STD, "DM21", LARGE, 500 * G, "3.15", "2.55 + 0.60: it does not bend"),
    Worked(STD, "DM21", LARGE, 750 * G + 1, "4.30", "too heavy for a large letter: packet to 1 kg", SOFT),
    Worked(STD, "DM21", (353, 250, 25.001), 400 * G, "3.70", "packet to 0.5 kg"),
    Worked(STD, "DM21", (353, 250, 25.001), 400 * G, "3.70", "a packet may be as stiff as it likes", {"rigid": True}),
    Worked(STD, "DM21", (450, 350, 160), 2 * KG, "5.40", "the service's limits met exactly"),
    Worked(STD, "QH72", BOX, 250 * G, "3.30", "islands cost the same in this service"),
    Worked(STD, "VEL:3300", LETTER, 50 * G, "1.80", "abroad: 0.95 x 1.9 as listed", SOFT),
    Worked(STD, "VEL:3300", BOX, KG, "8.17", "abroad: 4.30 x 1.9 as listed"),
    # Base and increment; ranges of postcodes; volume, signature, cover.
    Worked(PAR, "DM21", BOX, 2 * KG, "5.90", "base"),
    Worked(PAR, "DM21", BOX, 2 * KG + 1, "6.60", "rounded up to 2.001 kg: 5.90 + 0.70"),
    Worked(PAR, "DM21", BOX, 7_500 * G, "10.10", "6 begun kg above 2: 5.90 + 6 x 0.70"),
    Worked(PAR, "DM21", BOX, 20 * KG, "18.50", "5.90 + 18 x 0.70"),
    Worked(PAR, "OK51", BOX, 5 * KG, "8.00", "OK5 is not in the range: 5.90 + 3 x 0.70"),
    Worked(PAR, "OK61", BOX, 5 * KG, "11.25", "OK6, the first of the range: 8.40 + 3 x 0.95"),
    Worked(PAR, "OK99", BOX, 5 * KG, "11.25", "OK9, the last of the range"),
    Worked(PAR, "QH71", BOX, 2 * KG, "8.40", "islands by a beginning"),
    Worked(PAR, "QH61", BOX, 2 * KG, "5.90", "QH6 is mainland"),
    Worked(PAR, "DM21", (500, 400, 300), 2 * KG, "5.90", "60 000 cm3 is not above 60 000"),
    Worked(PAR, "DM21", (500, 400, 300.001), 2 * KG, "8.40", "a begun cm3 more: 5.90 + bulky 2.50"),
    Worked(PAR, "DM21", BOX, 2 * KG, "7.10", "5.90 + signed for 1.20", {"signature": True}),
    Worked(PAR, "DM21", BOX, 2 * KG, "5.90", "50 is included", {"cover": Decimal(50)}),
    Worked(PAR, "DM21", BOX, 2 * KG, "6.70", "0.01 more: one step of cover 0.80", {"cover": Decimal("50.01")}),
    Worked(PAR, "DM21", BOX, 2 * KG, "7.50", "200 above 50: 2 x 0.80", {"cover": Decimal(250)}),
    Worked(PAR, "DM21", BOX, 2 * KG, "12.30", "never above 850: 8 x 0.80", {"cover": Decimal(2000)}),
    Worked(
        PAR,
        "DM21",
        BOX,
        2 * KG,
        "5.90",
        "live goods are not covered, so no cover is bought",
        {"cover": Decimal(250), "goods": frozenset({"live"})},
    ),
    # A carrier's own cartons and flat rates.
    Worked(SWI, "DM21", (236, 166, 106), 480 * G, "6.80", "its own carton, by weight", {"packaging": ("WS-1",)}),
    Worked(SWI, "DM21", (306, 236, 176), 9 * KG, "10.60", "flat rate, not 18.90", {"packaging": ("WF-M",)}),
    Worked(SWI, "DM21", (306, 236, 176), 10 * KG, "10.60", "flat rate, on its limit", {"packaging": ("WF-M",)}),
    Worked(SWI, "QH71", (306, 236, 176), 300 * G, "13.90", "flat rate to the islands", {"packaging": ("WF-M",)}),
    Worked(SWI, "DM21", (320, 240, 30), 5 * KG, "6.20", "flat-rate envelope", {"packaging": ("WF-E",)}),
    Worked(
        SWI,
        "DM21",
        (306, 236, 176),
        KG,
        "12.10",
        "10.60 + care of live goods 1.50",
        {"packaging": ("WF-M",), "goods": frozenset({"live"})},
    ),
    # The heavy one: origin and destination, whole kg, percent, volumetric to the nearest cm above a volume.
    Worked(ECO, "HW32", BOX, 10 * KG, "10.58", "near, from DM: 9.80 + 8 % 0.784 -> 0.78"),
    Worked(ECO, "HW32", BOX, 10_400 * G, "13.18", "counts as 11 kg: 12.20 + 0.976 -> 0.98"),
    Worked(ECO, "HW32", BOX, 10 * KG, "14.69", "from nowhere told: far, 13.60 + 1.088 -> 1.09", {"origin": None}),
    Worked(ECO, "HW32", BOX, 10 * KG, "14.69", "from TW: far", {"origin": Place(country="ALM", postcode="TW11")}),
    Worked(ECO, "QH14", BOX, 20 * KG, "21.82", "far: 13.60 + 2 x 3.30 = 20.20; 1.616 -> 1.62"),
    Worked(ECO, "HW32", BOX, 10 * KG, "12.96", "9.80 + house 2.20 = 12.00; 0.96", {"home": True}),
    Worked(ECO, "HW32", BOX, 30 * KG, "20.95", "9.80 + 4 x 2.40 = 19.40; 1.552 -> 1.55; 30 kg is no case for two"),
    Worked(ECO, "HW32", BOX, 31 * KG, "36.50", "9.80 + 5 x 2.40 + two people 12.00 = 33.80; 2.704 -> 2.70"),
    Worked(
        ECO, "HW32", (1200, 300, 200), 10 * KG, "15.77", "72 000 / 4000 = 18 kg: 9.80 + 2 x 2.40 = 14.60; 1.168 -> 1.17"
    ),
    Worked(
        ECO,
        "HW32",
        (1200.001, 300, 200),
        10 * KG,
        "23.87",
        "still 120 cm, but long: 14.60 + 7.50 = 22.10; 1.768 -> 1.77",
    ),
    Worked(ECO, "HW32", (644, 404, 234), 10 * KG, "10.58", "64 x 40 x 23 = 58 880 cm3, not above 60 000"),
    Worked(
        ECO,
        "HW32",
        (644, 405, 234),
        10 * KG,
        "15.77",
        "64 x 41 x 23 = 60 352 / 4000 = 15.088, counts as 16 kg: 14.60 + 1.17",
    ),
    Worked(ECO, "HW32", BOX, 10 * KG, "12.58", "9.80 + 0.78, then one step of cover 2.00", {"cover": Decimal(400)}),
)

REFUSED: tuple[tuple[Any, ...], ...] = (
    (STD, "DM21", (450, 350, 160.001), KG, {}, "thickness"),
    (STD, "DM21", BOX, 2 * KG + 1, {}, "weight"),
    (STD, "DM21", BOX, KG, {"goods": frozenset({"restricted"})}, "goods"),
    (STD, "TOR:4410", BOX, KG, {}, "destination"),
    (SWI, "VEL:3300", BOX, KG, {}, "destination"),
    (SWI, "DM21", (306, 236, 176), 10 * KG + 1, {"packaging": ("WF-M",)}, "weight"),
    (ECO, "HW32", BOX, 5 * KG - 1, {}, "least weight"),
    (ECO, "HW32", (1800.001, 200, 200), 10 * KG, {}, "longest side"),
    (ECO, "HW32", BOX, 60 * KG + 1, {}, "weight"),
    (ECO, "HW32", BOX, 10 * KG, {"goods": frozenset({"frozen"})}, "goods"),
    (ECO, "HW32", (1500, 700, 700), 10 * KG, {}, "length plus girth"),
)


def sending(postcode: str, **more: Any) -> Sending:
    country, _, code = postcode.rpartition(":")
    place = Place(country=country or "ALM", postcode=code)
    return replace(Sending(destination=place, ship_on=MONDAY, origin=HOME_BASE), **more)


def ask(service: str, postcode: str, mm: tuple[float, float, float], gross_mg: int, more: dict[str, Any]) -> Quote:
    tariff = HEAVY if service == ECO else POST
    one = next(s for s in tariff.services if s.code == service)
    return quote_service(tariff, one, outer=in_um(mm), gross_mg=gross_mg, sending=sending(postcode, **more))


def in_um(mm: tuple[float, float, float]) -> Size:
    length, width, height = (round(side * 1000) for side in mm)
    return Size(length_um=length, width_um=width, height_um=height)


class WorkedCarriers(unittest.TestCase):
    def test_every_worked_price_is_met_to_the_cent(self) -> None:
        for case in CASES:
            with self.subTest(f"{case.service} {case.postcode} {case.worked}"):
                found = ask(case.service, case.postcode, case.mm, case.gross_mg, case.more)
                told = [(said(line.label), str(line.amount), said(line.rule)) for line in found.lines]
                self.assertEqual(found.price, Decimal(case.price), told)
                self.assertEqual(found.price, sum(line.amount for line in found.lines))

    def test_every_refusal_names_the_limit(self) -> None:
        for service, postcode, mm, gross_mg, more, limit in REFUSED:
            with self.subTest(f"{service} {limit}"), self.assertRaises(OutsideTariff) as caught:
                ask(service, postcode, mm, gross_mg, more)
            self.assertEqual(caught.exception.limit_name, limit)

    def test_a_parcel_outside_of_three_limits_is_told_all_three(self) -> None:
        with self.assertRaises(OutsideTariff) as caught:
            ask(STD, "DM21", (455, 355, 170), 2_100 * G, {})
        for words in (
            "longest side up to 450 mm",
            "5 mm over",
            "thickness up to 160 mm",
            "10 mm over",
            "2.000 kg",
            "100 g over",
        ):
            self.assertIn(words, said(caught.exception.message))

    def test_a_carriers_carton_goes_with_its_own_services_only(self) -> None:
        quotes, refusals = quote_all(
            (POST, HEAVY), outer=in_um((306, 236, 176)), gross_mg=9 * KG, sending=sending("HW32", packaging=("WF-M",))
        )
        self.assertEqual([(q.service, str(q.price)) for q in quotes], [(SWI, "10.60")])
        self.assertEqual(
            {r.service: r.limit_name for r in refusals}, {STD: "packaging", PAR: "packaging", ECO: "packaging"}
        )
        self.assertIn("Swift flat-rate carton may go with Wending Swift only", said(refusals[0].message))

    def test_markings_notes_and_claim_days_come_with_the_price(self) -> None:
        self.assertEqual(ask(ECO, "HW32", BOX, 31 * KG, {}).markings, ("HEAVY", "TWO PEOPLE"))
        live = ask(PAR, "DM21", BOX, KG, {"goods": frozenset({"live"}), "cover": Decimal(80)})
        self.assertEqual(
            (live.cover, said_all(live.notes)), (Decimal(0), ("Wending Parcel does not cover live goods.",))
        )
        short = ask(STD, "DM21", BOX, KG, {"cover": Decimal(80)})
        self.assertEqual(
            (short.cover, said(short.notes[0])), (Decimal(20), "Wending Standard covers up to 20.00; 80 was asked for.")
        )
        self.assertEqual(ask(ECO, "HW32", BOX, 10 * KG, {}).claim_days, 7)

    def test_the_heavy_one_moves_on_three_days_only(self) -> None:
        # Handed over on Monday: two of its days later is Friday.
        self.assertEqual(ask(ECO, "HW32", BOX, 10 * KG, {}).arrives_on, date(2026, 11, 27))

    def test_the_version_is_that_of_the_ship_date(self) -> None:
        both = (POST, read("coming/wending-2026-12.json"))
        for day, version, price in ((date(2026, 11, 30), "2026-04", "0.95"), (date(2026, 12, 1), "2026-12", "1.01")):
            quotes, _ = quote_all(
                both, outer=in_um(LETTER), gross_mg=50 * G, sending=replace(sending("DM21", rigid=False), ship_on=day)
            )
            self.assertEqual((quotes[0].tariff_version, str(quotes[0].price)), (version, price))
