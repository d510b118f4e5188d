"""The script interfaces of buying, ./calm buy and ./calm cartons: a case by hand of each, their errors, many."""

import contextlib
import io
import json
import subprocess
import tempfile
import unittest
from pathlib import Path
from typing import Any

from server.commands import buy, cartons
from server.config.env import ROOT
from server.formats.buy_request import BuyRequest
from server.formats.cartons_request import CartonsRequest
from server.formats.script_interface import WrongRequest

MARLPIT = {"code": "marlpit", "lead_days": 4, "delivery": "6.50", "free_from": "90"}
WEEKS = [{"first_day": f"2026-11-{day:02}", "used": "17"} for day in (2, 9, 16)]


def supply(code: str = "C-14", **changes: Any) -> dict[str, Any]:
    offers = [{"supplier": "marlpit", "pack": "25", "prices": [{"quantity": "0", "price": "0.82"}]}]
    return {"code": code, "on_hand": "22", "weeks": WEEKS, "offers": offers, **changes}


def request(*supplies: Any, **changes: Any) -> dict[str, Any]:
    return {
        "format": "calm-cupboard/buy-request",
        "version": 1,
        "today": "2026-11-23",
        "working_days": [0, 1, 2, 3, 4],
        "suppliers": [MARLPIT],
        "supplies": list(supplies) or [supply()],
        **changes,
    }


def bought(asked: dict[str, Any]) -> Any:
    return buy.answer(json.dumps(asked))


class Buying(unittest.TestCase):
    def test_a_line_by_hand(self) -> None:
        (order,) = bought(request())["orders"]
        (line,) = order["lines"]
        # 3.4 a day; 22 last until Monday 30; four working days before is Tuesday 24.
        self.assertEqual((line["runs_out"], line["order_by"]), ("2026-12-01", "2026-11-25"))
        # Friday has 8.4 left, six weeks use 102: 93.6, in packs of 25. 82.00 and the delivery.
        self.assertEqual((line["quantity"], order["goods"], order["total"]), ("100", "82.00", "88.50"))

    def test_a_budget_leaves_out_and_the_rule_of_thumb_stands_beside_it(self) -> None:
        found = bought(request(supply("A", on_hand="9"), supply("B"), budget="30"))
        self.assertEqual((found["outcome"], [one["code"] for one in found["left_out"]]), ("exact", ["B"]))
        self.assertEqual((found["left_out"][0]["missed_from"], found["rule_of_thumb"]["lines"]), ("2026-12-01", []))

    def test_the_example_in_the_docs_is_the_best_there_is(self) -> None:
        text = (ROOT / "docs" / "formats" / "buy-request.md").read_text(encoding="utf-8")
        found = bought(json.loads(text.split("## Example")[1].split("```json\n")[1].split("```")[0]))
        (order,) = found["orders"]
        # 53.50 for goods: 41.00 for 50 cartons, 3 rolls at 3.96 each; a fourth roll or another pack would be too much.
        lines = [(line["code"], line["quantity"]) for line in order["lines"]]
        self.assertEqual(lines, [("C-14", "50"), ("TAPE", "198")])
        self.assertEqual((found["outcome"], found["total"]), ("exact", "59.38"))
        self.assertEqual(found["run_outs"], ["2026-12-18", "2026-12-23"])

    def test_every_error_is_named(self) -> None:
        wrong = request(supply(on_hand="many"), supply("B", offers=[{"supplier": "nobody", "prices": []}]), season=[1])
        with self.assertRaises(WrongRequest) as caught:
            bought(wrong)
        text = "\n".join(caught.exception.faults)
        for part in ("supplies[0].on_hand", "nobody is not among the suppliers", "season", "prices"):
            self.assertIn(part, text)
        with self.assertRaises(WrongRequest) as caught:
            bought(request(supply("A"), supply("A")))
        self.assertIn("supplies[1].code: A appears more than once", caught.exception.faults)

    def test_from_the_command_line_nothing_but_the_result_is_written(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "ask.json"
            path.write_text(json.dumps(request(budget="10")))
            ran = subprocess.run(
                [ROOT / "calm", "buy", path.name], cwd=folder, capture_output=True, text=True, check=True
            )
        self.assertEqual(json.loads(ran.stdout)["format"], "calm-cupboard/buy-result")

    def test_many_answers_a_wrong_line_in_its_place(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "many"
            path.write_text(f"{json.dumps(request())}\n{{}}\n")
            out = Path(folder) / "out"
            with contextlib.redirect_stderr(io.StringIO()):
                self.assertEqual(buy.main(["--many", str(path), "--out", str(out)]), 2)
            first, second = (json.loads(line) for line in out.read_text().splitlines())
        self.assertEqual((first["outcome"], "error" in second), ("all", True))


class Cartons(unittest.TestCase):
    ASKED = {
        "format": "calm-cupboard/cartons-request",
        "version": 1,
        "kinds": [{"code": "small", "keeping": "2.00"}, {"code": "large", "keeping": "1.00"}],
        "contents": [
            {"code": "one jar", "count": 10, "costs": {"small": "0.50", "large": "0.80"}},
            {"code": "platter", "count": 2, "costs": {"large": "1.20"}},
            {"code": "oar", "count": 1, "costs": {}},
        ],
        "at_most": 1,
    }

    def test_a_case_by_hand(self) -> None:
        found: Any = cartons.answer(json.dumps(self.ASKED))
        self.assertEqual((found["total"], found["proven"], found["in_none"]), ("11.4", True, ["oar"]))
        self.assertEqual(found["assigned"], {"one jar": "large", "platter": "large", "oar": None})
        self.assertEqual([(one["kinds"], one["total"]) for one in found["curve"]], [(1, "11.4"), (2, "10.4")])

    def test_every_error_is_named(self) -> None:
        for change, part in (
            ({"at_most": 0}, "at_most"),
            ({"contents": [{"code": "a", "count": 1, "costs": {"round": "1"}}]}, "round: not among the kinds"),
            ({"kinds": [{"code": "a"}, {"code": "a"}]}, "kinds[1].code: a appears more than once"),
        ):
            with self.subTest(part), self.assertRaises(WrongRequest) as caught:
                cartons.answer(json.dumps({**self.ASKED, **change}))
            self.assertIn(part, "\n".join(caught.exception.faults))


class Described(unittest.TestCase):
    def test_the_schemas_in_the_docs_are_what_is_read(self) -> None:
        for name, model in (("buy-request", BuyRequest), ("cartons-request", CartonsRequest)):
            text = (ROOT / "docs" / "formats" / f"{name}.md").read_text(encoding="utf-8")
            written = json.loads(text.split("```json\n")[1].split("```")[0])
            self.assertEqual(written, model.model_json_schema(), name)
