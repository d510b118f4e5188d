"""The script interface of quotes: ./calm quote, its answers worked by hand, its errors, many at once."""

import contextlib
import copy
import io
import json
import os
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path
from typing import Any

from server.commands.quote import answer, main
from server.config.env import ROOT
from server.formats.quote_request import QuoteRequest
from server.formats.script_interface import WrongRequest
from server.formats.tariff import TariffFile

TARIFF = json.loads((ROOT / "demo" / "tariffs" / "larkline-2026-07.json").read_text())


def parcel(code: str = "P1", sides: tuple[int, int, int] = (310_000, 240_000, 160_000), mg: int = 1_200_000) -> Any:
    return {"code": code, "outer_um": list(sides), "gross_weight_mg": mg}


def request(*parcels: Any, **changes: Any) -> dict[str, Any]:
    return {
        "format": "calm-cupboard/quote-request",
        "version": 1,
        "tariffs": [TARIFF],
        "parcels": list(parcels) or [parcel()],
        "destination": {"country": "ALM", "postcode": "DM4 6"},
        "ship_on": "2026-11-24",
        **changes,
    }


def run(*arguments: str) -> tuple[int, str, str]:
    out, err = io.StringIO(), io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
        code = main(list(arguments))
    return code, out.getvalue(), err.getvalue()


class Answers(unittest.TestCase):
    def test_the_worked_parcel_of_the_rules(self) -> None:
        # 31 x 24 x 16 cm / 5000 = 2.3808 kg, billed to 3 kg: 5.40, fuel 6.5 % 0.35, in all 5.75.
        result: Any = answer(json.dumps(request()))
        (one,) = result["parcels"][0]["quotes"]
        self.assertEqual((one["service"], one["zone"], one["price"]), ("LARK-TWO", "1", "5.75"))
        self.assertEqual([line["amount"] for line in one["lines"]], ["5.40", "0.35"])
        self.assertEqual((one["volumetric_weight_mg"], one["billable_weight_mg"]), (2_380_800, 2_380_800))
        refusal = result["parcels"][0]["refusals"][0]
        self.assertEqual((refusal["service"], refusal["limit"]), ("LARK-PKT", "thickness"))
        self.assertIn("80 mm over", refusal["message"])

    def test_several_parcels_cost_the_sum_and_one_that_nobody_takes_leaves_none(self) -> None:
        both: Any = answer(json.dumps(request(parcel(), parcel("P2"))))
        self.assertEqual(both["cheapest_total"], "11.50")
        long = parcel("P2", (1_300_000, 100_000, 100_000))
        none: Any = answer(json.dumps(request(parcel(), long)))
        self.assertEqual((none["cheapest_total"], none["parcels"][1]["quotes"]), (None, []))

    def test_the_version_in_force_is_that_of_the_ship_date(self) -> None:
        coming = json.loads(json.dumps(TARIFF))
        coming |= {"valid_from": "2026-12-01", "tariff_version": "2026-12"}
        for day, version in (("2026-11-30", "2026-07"), ("2026-12-01", "2026-12")):
            result: Any = answer(json.dumps(request(tariffs=[coming, TARIFF], ship_on=day)))
            self.assertEqual(result["parcels"][0]["quotes"][0]["tariff_version"], version)

    def test_4d_a_ship_date_before_every_version_gives_the_reason(self) -> None:
        before: Any = answer(json.dumps(request(ship_on="2026-01-05")))
        (parcel_,) = before["parcels"]
        self.assertEqual((parcel_["quotes"], before["cheapest_total"]), ([], None))
        self.assertEqual([r["limit"] for r in parcel_["refusals"]], ["ship date"] * len(TARIFF["services"]))
        self.assertIn(TARIFF["tariff_version"], parcel_["refusals"][0]["message"])

    def test_4b_lists_in_two_currencies_are_refused_and_both_named(self) -> None:
        other = {**copy.deepcopy(TARIFF), "carrier": "OTHER", "carrier_name": "Otherway", "currency": "Fl"}
        with self.assertRaises(WrongRequest) as caught:
            answer(json.dumps(request(tariffs=[TARIFF, other])))
        (fault,) = caught.exception.faults
        for word in ("Larkline", "Otherway", TARIFF["currency"], "Fl"):
            self.assertIn(word, fault)
        result: Any = answer(json.dumps(request()))
        self.assertEqual(result["parcels"][0]["quotes"][0]["currency"], TARIFF["currency"])


class Faults(unittest.TestCase):
    def faults(self, document: Any) -> list[str]:
        with self.assertRaises(WrongRequest) as caught:
            answer(document if isinstance(document, str) else json.dumps(document))
        return [fault.split(":")[0] for fault in caught.exception.faults]

    def test_every_fault_is_named_by_its_path(self) -> None:
        wrong = request(parcel(mg=0), parcel(sides=(1, 2, 2.5)))  # type: ignore[arg-type]
        wrong |= {"colour": "red", "ship_on": "tomorrow", "destination": {"country": "Almond"}}
        self.assertEqual(
            self.faults(wrong),
            [
                "parcels[0].gross_weight_mg",
                "parcels[1].outer_um[2]",
                "destination.country",
                "ship_on",
                "colour",
                "parcels[1].code",
            ],
        )

    def test_a_fault_in_a_tariff_is_named_where_it_stands_in_the_file(self) -> None:
        broken = json.loads(json.dumps(TARIFF))
        broken["services"][0]["zones"][0]["steps"][0]["price"] = "-1"
        self.assertEqual(self.faults(request(tariffs=[broken])), ["tariffs[0].services[0].zones[0].steps[0].price"])

    def test_two_versions_of_one_day_text_that_is_no_json_and_nothing_to_quote(self) -> None:
        self.assertEqual(self.faults(request(tariffs=[TARIFF, TARIFF])), ["tariffs[1].valid_from"])
        self.assertEqual(self.faults("{"), ["$"])
        self.assertEqual(self.faults("[]"), ["$"])
        self.assertEqual(self.faults(request(parcels=[])), ["parcels"])

    def said(self, document: Any) -> list[str]:
        with self.assertRaises(WrongRequest) as caught:
            answer(json.dumps(document))
        return caught.exception.faults

    def test_4c_origin_prefixes_need_their_country(self) -> None:
        broken = copy.deepcopy(TARIFF)
        broken["zone_rules"][0]["origin_prefixes"] = ["DM"]
        (fault,) = self.said(request(tariffs=[broken]))
        self.assertEqual(fault, "tariffs[0].zone_rules[0]: origin_prefixes need the origin_country they are of")

    def test_4g_a_misspelt_field_hides_no_other_error_and_each_has_its_line(self) -> None:
        broken = copy.deepcopy(TARIFF)
        broken["services"][0]["zones"][0]["zone"] = "Q"
        broken["services"][1]["zones"][0]["zone"] = "S"
        broken["sourse"] = "typed wrong"
        faults = self.said(request(tariffs=[broken]))
        self.assertEqual(len(faults), 3)
        self.assertTrue(faults[0].startswith("tariffs[0].sourse: is not a field here; did you mean source? Allowed: "))
        self.assertEqual(["zone Q" in faults[1], "zone S" in faults[2]], [True, True])

    def test_4k_numbers_and_days_are_written_plainly(self) -> None:
        for cover in ("1_000", "-0", "-0.0", "1e3", "0x10", "", "NaN"):
            self.assertEqual(self.faults(request(parcel() | {"cover": cover})), ["parcels[0].cover"], cover)
        for day in (1_795_478_400, "1795478400", "2026-11-24T00:00:00", "2026-11-24 10:00", "20261124"):
            self.assertEqual(self.faults(request(ship_on=day)), ["ship_on"], day)
        self.assertEqual(answer(json.dumps(request(parcel() | {"cover": "20.50"})))["version"], 1)

    def test_4l_what_is_allowed_is_named_and_no_class(self) -> None:
        faults = self.said(request(7, parcel() | {"colour": "red"}, destination="here"))
        self.assertEqual(
            faults,
            [
                "parcels[0]: must be an object with fields (given: '7')",
                "parcels[1].colour: is not a field here; allowed: code, outer_um, gross_weight_mg, packaging, rigid, "
                "goods, cover, signature, further",
                "destination: must be an object with fields (given: 'here')",
                "parcels[1].code: P1 appears more than once",
            ][: len(faults)],
        )
        for fault in faults:
            self.assertNotRegex(fault, "QuotedParcel|Destination|Input should|Extra inputs|instance of")


class Door(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def test_a_file_in_a_file_out_and_a_wrong_one_writes_nothing(self) -> None:
        (self.folder / "r.json").write_text(json.dumps(request()))
        self.assertEqual(run("--folder", str(self.folder), "r.json", "--out", "q.json"), (0, "", ""))
        self.assertEqual(json.loads((self.folder / "q.json").read_text())["cheapest_total"], "5.75")
        (self.folder / "w.json").write_text(json.dumps(request(parcel(mg=-1))))
        code, out, err = run("--folder", str(self.folder), "w.json", "--out", "none.json")
        self.assertEqual((code, out), (2, ""))
        self.assertTrue(err.startswith("parcels[0].gross_weight_mg: "))
        self.assertFalse((self.folder / "none.json").exists())

    def test_the_door_opens_in_a_process_that_has_no_settings(self) -> None:
        # The tests' own process has Django set up, which hid that the door needed it.
        bare = {name: value for name, value in os.environ.items() if not name.startswith("DJANGO_")}
        for wrong in (None, {"version": "x"}):
            with self.subTest(wrong=wrong):
                (self.folder / "r.json").write_text(json.dumps({**request(), **(wrong or {})}))
                command = [sys.executable, "-m", "server.commands.quote", "--folder", str(self.folder), "r.json"]
                done = subprocess.run(command, capture_output=True, text=True, cwd=ROOT, env=bare, check=False)
                if wrong is None:
                    self.assertEqual((done.returncode, done.stderr), (0, ""))
                    self.assertEqual(json.loads(done.stdout)["cheapest_total"], "5.75")
                else:
                    self.assertEqual((done.returncode, done.stdout), (2, ""))
                    self.assertTrue(done.stderr.startswith("version: "), done.stderr)

    def test_many_lines_are_answered_one_by_one(self) -> None:
        (self.folder / "many").write_text("\n".join(json.dumps(d) for d in (request(), request(parcel(mg=0)))) + "\n")
        code, out, err = run("--folder", str(self.folder), "--many", "many")
        good, bad = (json.loads(line) for line in out.splitlines())
        self.assertEqual((code, good["cheapest_total"], bad["format"]), (2, "5.75", "calm-cupboard/quote-result"))
        self.assertTrue(err.startswith("line 2: parcels[0].gross_weight_mg"))

    def test_4a_a_line_with_an_invalid_byte_gets_its_error_and_loses_no_other(self) -> None:
        line = json.dumps(request()).encode()
        (self.folder / "many").write_bytes(line + b"\n" + line[:40] + b"\xff" + line[40:] + b"\n" + line + b"\n")
        code, out, err = run("--folder", str(self.folder), "--many", "many")
        first, second, third = (json.loads(one) for one in out.splitlines())
        self.assertEqual((code, first["cheapest_total"], third["cheapest_total"]), (2, "5.75", "5.75"))
        self.assertEqual(second["error"], ["$: not UTF-8: byte 41 is 0xff"])
        self.assertEqual(err, "line 2: $: not UTF-8: byte 41 is 0xff\n")

    def test_the_documented_schema_is_the_one_in_force(self) -> None:
        text = (ROOT / "docs" / "formats" / "quote-request.md").read_text()
        documented = json.loads(text.split("```json\n")[1].split("```")[0])
        self.assertEqual(documented, QuoteRequest.model_json_schema())
        tariff = (ROOT / "docs" / "formats" / "tariff.md").read_text()
        self.assertEqual(json.loads(tariff.split("```json\n")[1].split("```")[0]), TariffFile.model_json_schema())
