"""The script interface of the day: ./calm day, a day worked by hand, its errors, many at once."""

import json
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path
from typing import Any

from server.commands.day import answer, main
from server.config.env import ROOT
from server.formats.day_request import DayRequest
from server.formats.script_interface import WrongRequest

LARK = {"carrier": "larkline", "cut_off": "16:00"}
QUILL = {"carrier": "quillpost", "cut_off": "17:30"}


def parcel(code: str, minutes: str = "10", *services: Any, **more: Any) -> dict[str, Any]:
    return {"code": code, "minutes": minutes, "services": list(services) or [LARK], **more}


def request(*parcels: Any, **changes: Any) -> dict[str, Any]:
    return {
        "format": "calm-cupboard/day-request",
        "version": 1,
        "now": "2026-11-23T13:00:00",
        "hours": [{"who": "Maren", "days": [0, 1, 2, 3, 4], "begins": "13:00", "ends": "17:00"}],
        "hand_overs": [
            {"code": "lark", "carriers": ["larkline"], "days": [0, 1, 2, 3, 4], "at": "15:40"},
            {
                "code": "counter",
                "carriers": ["quillpost"],
                "kind": "trip",
                "days": [0, 1, 2, 3, 4],
                "at": "17:00",
                "way_minutes": 15,
                "who": "Maren",
            },
        ],
        "parcels": list(parcels),
        "wage_per_hour": "18",
        **changes,
    }


def worked(*parcels: Any, **changes: Any) -> Any:
    return answer(json.dumps(request(*parcels, **changes)))


class Answers(unittest.TestCase):
    def test_a_day_worked_by_hand(self) -> None:
        jars = {"alike": "jars", "things": ["jar", "C-14"]}
        day = worked(parcel("1", "8", **jars), parcel("2", "8", **jars), parcel("3", "20", QUILL, things=["loaf"]))
        # 8 + 6.8 minutes before 15:40 and, of the trip, 20 before we leave at 16:45.
        self.assertEqual((day["outcome"], day["exact"], day["begin_by"]), ("all", True, "2026-11-23T15:25:12"))
        self.assertEqual([one["begin_by"] for one in day["hand_overs"]], ["2026-11-23T15:25:12", "2026-11-23T16:25:00"])
        (table,) = day["tables"]
        self.assertEqual([one["code"] for one in table["parcels"]], ["1", "2", "3"])
        self.assertEqual([one["in_row"] for one in table["parcels"]], [False, True, False])
        self.assertEqual([one["parcels"] for one in day["waves"]], [["1", "2"], ["3"]])

    def test_what_cannot_make_it_says_why_and_what_would_help(self) -> None:
        day = worked(parcel("1", "100"), parcel("2", "100", LARK, QUILL))
        (late,) = day["late"]
        self.assertEqual((day["outcome"], late["code"], late["why"]), ("cannot", "2", "too_much"))
        self.assertEqual(
            [(one["hand_over"], one["makes_it"]) for one in late["services"]],
            [("lark@2026-11-24", True), ("counter@2026-11-23", True)],
        )
        self.assertEqual(
            day["ways"],
            [{"kind": "person", "from": "2026-11-23T14:00:00", "until": "2026-11-23T15:40:00", "cost": "30.00"}],
        )

    def test_each_reason_is_told_apart(self) -> None:
        def why(one: Any, **changes: Any) -> str:
            return str(worked(one, **changes)["late"][0]["why"])

        self.assertEqual(why(parcel("1", "161")), "too_long")
        self.assertEqual(why(parcel("1", "30", ready="15:30")), "not_ready")
        self.assertEqual(why(parcel("1"), hours=[]), "nobody")

    def test_who_has_gone_home_has_no_table(self) -> None:
        hours = [
            {"who": "Oswin", "days": [0], "begins": "08:00", "ends": "12:00"},
            {"who": "Maren", "days": [0], "begins": "13:00", "ends": "17:00"},
        ]
        (table,) = worked(parcel("1"), hours=hours)["tables"]
        self.assertEqual((table["who"], [one["code"] for one in table["parcels"]]), ("Maren", ["1"]))

    def test_closures_holidays_and_full_hand_overs_move_parcels(self) -> None:
        self.assertEqual(worked(parcel("1"), closed=["2026-11-23"])["other_days"], {"1": "lark@2026-11-24"})
        moved = worked(parcel("1"), holidays={"larkline": ["2026-11-23", "2026-11-24"]})
        self.assertEqual(moved["other_days"], {"1": "lark@2026-11-25"})
        full = request(parcel("1"), parcel("2"))
        full["hand_overs"][0]["most_parcels"] = 1
        self.assertEqual(answer(json.dumps(full))["other_days"], {"2": "lark@2026-11-24"})
        self.assertEqual(worked(parcel("1", "5", {"carrier": "drover", "cut_off": "12:00"}))["nowhere"], ["1"])


class Faults(unittest.TestCase):
    def faults(self, document: Any) -> list[str]:
        with self.assertRaises(WrongRequest) as caught:
            answer(document if isinstance(document, str) else json.dumps(document))
        return [fault.split(":")[0] for fault in caught.exception.faults]

    def test_every_fault_is_named_by_its_path(self) -> None:
        wrong = request(parcel("1", "0"), parcel("1"), {"code": "3", "minutes": "5", "services": []})
        wrong["hours"][0]["ends"] = "12:00"
        wrong["hand_overs"][0]["at"] = "25:00"
        self.assertEqual(
            self.faults(wrong),
            ["hours[0]", "hand_overs[0].at", "parcels[0].minutes", "parcels[2].services", "parcels[1].code"],
        )
        self.assertEqual(self.faults(request(now="2026-11-23T13:00:00+01:00")), ["$"])
        self.assertEqual(self.faults("[]"), ["$"])

    def test_a_wrong_line_of_many_loses_none_of_the_others(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            many = Path(folder) / "many.jsonl"
            many.write_text(f"{json.dumps(request(parcel('1')))}\n{{\n")
            out = Path(folder) / "out.jsonl"
            self.assertEqual(main(["--many", str(many), "--out", str(out)]), 2)
            first, second = map(json.loads, out.read_text().splitlines())
        self.assertEqual((first["outcome"], second["format"]), ("all", "calm-cupboard/day-result"))
        self.assertIn("error", second)

    def test_it_runs_without_settings_or_database(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            asked = Path(folder) / "day.json"
            asked.write_text(json.dumps(request(parcel("1"))))
            ran = subprocess.run(
                [sys.executable, "-m", "server.commands.day", str(asked)],
                cwd=ROOT,
                env={"PATH": "/usr/bin:/bin"},
                capture_output=True,
                text=True,
                check=True,
            )
        self.assertEqual(json.loads(ran.stdout)["outcome"], "all")

    def test_the_documented_schema_is_the_one_in_force(self) -> None:
        text = (ROOT / "docs" / "formats" / "day-request.md").read_text()
        documented = json.loads(text.split("```json\n")[1].split("```")[0])
        self.assertEqual(documented, DayRequest.model_json_schema())
