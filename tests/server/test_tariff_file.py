"""What can be wrong with a tariff file: each error names the thing and the values, and the place in the file."""

import copy
import json
import unittest
from collections.abc import Callable
from decimal import Decimal
from typing import Any

from pydantic import ValidationError

from server.formats.tariff import TariffFile
from tests.server.base import DEMO

WEND = json.loads((DEMO / "carriers" / "wending-2026-04.json").read_text())
LARK = json.loads((DEMO / "tariffs" / "larkline-2026-07.json").read_text())
STEPS = ("services", 0, "zones", 0, "steps")


def at(document: Any, *path: str | int) -> Any:
    for key in path:
        document = document[key]
    return document


class TariffFiles(unittest.TestCase):
    def faults(self, document: Any, change: Callable[[Any], object]) -> dict[tuple[str | int, ...], str]:
        """Return what is said of a document after a change, by the place it is said of."""
        changed = copy.deepcopy(document)
        change(changed)
        with self.assertRaises(ValidationError) as caught:
            TariffFile.model_validate(changed)
        return {error["loc"]: error["msg"] for error in caught.exception.errors()}

    def says(self, words: str, place: tuple[str | int, ...], change: Callable[[Any], object], of: Any = LARK) -> None:
        faults = self.faults(of, change)
        self.assertIn(place, faults)
        self.assertIn(words, faults[place])

    def test_zone_rules_say_of_which_postcodes_they_speak(self) -> None:
        rule, place = ("zone_rules", 0), ("zone_rules", 0)
        self.says(
            'name prefixes or ranges of postcodes; [""] is the whole country',
            place,
            lambda d: at(d, *rule).update(prefixes=[]),
        )
        for ends, words in (
            (["DM2", "DM1"], "range DM2 to DM1 runs backwards"),
            (["DM1", "DM22"], "range DM1 to DM22: both ends must be equally long"),
        ):
            self.says(words, place, lambda d, ends=ends: at(d, *rule).update(ranges=[ends]))  # type: ignore[misc]

    def test_two_rules_of_one_postcode_contradict_each_other(self) -> None:
        new = {"zone": "1", "country": "ALM", "prefixes": ["MB"]}
        words = "overlap: ALM MB is in zone 2 and in zone 1"
        self.says(words, (), lambda d: d["zone_rules"].append(new))
        whole = {"zone": "1", "country": "ALM", "prefixes": [""]}
        self.says(
            "overlap: ALM the whole country is in zone 3 and in zone 1", (), lambda d: d["zone_rules"].append(whole)
        )

    def test_no_more_than_fifty_overlaps_are_told_at_once(self) -> None:
        many = [f"{a}{b}" for a in "ABCDEFGHIJ" for b in "KLMNOPQRST"]
        rules = [{"zone": zone, "country": "TOR", "prefixes": many} for zone in ("1", "2")]
        found = self.faults(LARK, lambda d: d["zone_rules"].extend(rules))
        self.assertEqual(found[()].count("overlap:"), 50)

    def test_a_zone_nobody_leads_to_is_named_with_the_service_and_the_part(self) -> None:
        place = "service LARK-PKT, prices: zone 9 is not defined"
        self.says(place, (), lambda d: at(d, *STEPS[:-1]).update(zone="9"))
        self.says(
            "service LARK-PKT, surcharge REMOTE: zone 9 is not defined",
            (),
            lambda d: at(d, "services", 0, "surcharges", 0).update(zones=["9"]),
        )

    def test_limits_must_leave_something_between_them(self) -> None:
        self.says(
            "the least weight 3000000 mg is above the most, 2000000 mg",
            ("services", 0, "limits"),
            lambda d: at(d, "services", 0, "limits").update(min_mg=3_000_000),
        )

    def test_steps_rise_and_meet(self) -> None:
        table = STEPS[:-1]
        self.says(
            "step 250000 mg does not come after 500000 mg; put them in rising order",
            table,
            lambda d: (
                at(d, *STEPS).reverse()
                or at(d, *STEPS).sort(key=lambda s: -s["up_to_mg"] if s["up_to_mg"] < 600_000 else 0)
            ),
        )
        for above, kind in ((300_000, "gap"), (200_000, "overlap")):
            self.says(
                f"{kind}: the step to 500000 mg begins above {above} mg, the one before ends at 250000 mg",
                table,
                lambda d, above=above: at(d, *STEPS, 1).update(above_mg=above),  # type: ignore[misc]
            )

    def test_prices_are_steps_or_increments_and_stand_in_zones_or_formats(self) -> None:
        table, rule = (
            STEPS[:-1],
            {"first_mg": 1_000_000, "base": "3", "each_mg": 500_000, "each": "1", "max_mg": 5_000_000},
        )
        self.says(
            "give steps, or a base with increments, and not both", table, lambda d: at(d, *table).update(increment=rule)
        )
        self.says(
            "give steps, or a base with increments, and not both", table, lambda d: at(d, *table).update(steps=[])
        )
        both = "give zones with prices, or formats that have them, and not both"
        self.says(
            both, ("services", 0), lambda d: at(d, "services", 0).update(zones=at(LARK, "services", 0, "zones")), WEND
        )
        self.says(both, ("services", 0), lambda d: at(d, "services", 0).update(formats=[]), WEND)

    def test_increments_end_above_where_they_begin(self) -> None:
        rule = {"first_mg": 1_000_000, "base": "3", "each_mg": 500_000, "each": "1", "max_mg": 5_000_000}
        place = (*STEPS[:-1], "increment")
        for values, words in (({"max_mg": 500_000}, "the most, 500000 mg, is below the first weight, 1000000 mg"),):
            self.says(
                words,
                place,
                lambda d, values=values: at(d, *STEPS[:-1]).update(steps=[], increment={**rule, **values}),  # type: ignore[misc]
            )

    def test_what_stands_twice_is_named(self) -> None:
        def twice(*path: str | int) -> Callable[[Any], object]:
            return lambda d: at(d, *path).append(copy.deepcopy(at(d, *path, 0)))

        self.says("service LARK-PKT appears more than once", (), twice("services"))
        self.says("packaging WS-1 appears more than once", (), twice("packaging"), WEND)
        self.says("prices for zone 1 appears more than once", ("services", 0), twice("services", 0, "zones"))
        self.says("surcharge REMOTE appears more than once", ("services", 0), twice("services", 0, "surcharges"))
        self.says("format letter appears more than once", ("services", 0), twice("services", 0, "formats"), WEND)

    def test_4i_two_zoneless_flat_prices_cover_below_the_included_and_a_day_twice(self) -> None:
        prices = ("packaging", 2, "flat_rate", "prices")
        self.says(
            "two flat prices without zones",
            (),
            lambda d: at(d, *prices).extend([{"price": "9.00"}, {"price": "10.00"}]),
            WEND,
        )
        cover = {"each": "100", "price": "1.00", "most": "50"}
        self.says(
            "extra_cover: the most, 50, is below what is included, 100",
            ("services", 0),
            lambda d: at(d, "services", 0).update(extra_cover=cover, cover_included="100"),
        )
        self.says(
            "days_moved: Monday (0) appears twice",
            ("services", 0),
            lambda d: at(d, "services", 0).update(days_moved=[0, 0, 1]),
        )

    def test_4c_origin_prefixes_without_their_country_are_an_error(self) -> None:
        self.says(
            "origin_prefixes need the origin_country they are of",
            ("zone_rules", 0),
            lambda d: at(d, "zone_rules", 0).update(origin_prefixes=["DM"]),
        )

    def test_surcharges_name_what_there_is(self) -> None:
        surcharge = ("services", 0, "surcharges", 0)
        self.says(
            "prefixes need the country they are of", surcharge, lambda d: at(d, *surcharge).update(prefixes=["QH"])
        )
        self.says(
            "surcharge REMOTE names format letter, which this service does not have",
            ("services", 0),
            lambda d: at(d, *surcharge).update(formats=["letter"]),
        )

    def test_packaging_is_of_services_and_zones_that_are_here(self) -> None:
        flat = ("packaging", 2, "flat_rate", "prices")
        self.says(
            "packaging WS-1 is for service GONE, which is not here",
            (),
            lambda d: at(d, "packaging", 0).update(services=["GONE"]),
            WEND,
        )
        self.says("packaging WF-M: zone 9 is not defined", (), lambda d: at(d, *flat, 0).update(zones=["9"]), WEND)
        self.says(
            "flat price of WF-M for zone I appears more than once",
            (),
            lambda d: at(d, *flat, 1).update(zones=["I"]),
            WEND,
        )

    def test_every_fault_of_a_part_is_told_at_once(self) -> None:
        def change(d: Any) -> None:
            at(d, *STEPS, 0).update(price="-1")
            at(d, "services", 1).update(tax_percent="101")
            d.update(extra=1)

        found = self.faults(LARK, change)
        self.assertEqual(set(found), {(*STEPS, 0, "price"), ("services", 1, "tax_percent"), ("extra",)})

    def test_what_is_right_becomes_the_tariff_it_says(self) -> None:
        tariff = TariffFile.model_validate(WEND).core()
        self.assertEqual([s.code for s in tariff.services], ["WEND-STD", "WEND-PAR", "WEND-SWI"])
        letter = tariff.services[0].formats[0]
        self.assertEqual((letter.code, letter.limits.thickness_um), ("letter", 5_000))
        self.assertEqual(
            [(s.up_to_mg, s.price) for s in letter.zones[0].steps],
            [(50_000, Decimal("0.95")), (100_000, Decimal("1.30"))],
        )
        flat = next(item for item in tariff.packaging if item.code == "WF-M").flat_rate
        assert flat is not None
        self.assertEqual(
            [(p.zones, p.price) for p in flat.prices], [(("I",), Decimal("13.90")), ((), Decimal("10.60"))]
        )
