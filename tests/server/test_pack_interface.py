"""The script interface of packing: ./calm pack, its errors, its answers, many at once."""

import contextlib
import io
import json
import tempfile
import unittest
from pathlib import Path
from typing import Any

from core.packing.model import Packing, Placement
from core.packing.verify import faults_of
from server.commands.pack import answer, main
from server.config.env import ROOT
from server.formats.pack_request import PackRequest, read_request
from server.formats.script_interface import WrongRequest


def jars(quantity: int = 9, **changes: Any) -> dict[str, Any]:
    unit = {
        "code": "jar",
        "quantity": quantity,
        "size_um": [86400, 86400, 112400],
        "weight_mg": 430000,
        "up_axes": [2],
        "clearance_um": {"side": 20000, "bottom": 30000, "top": 20000},
        "max_load_on_top_mg": None,
    }
    containers = [
        {"code": "C-20", "inner_um": [400000, 330000, 270000], "max_load_mg": 12000000, "cost": "1.20"},
        {"code": "C-12", "inner_um": [300000, 230000, 150000], "max_load_mg": 12000000, "cost": "0.62"},
        {"code": "C-16", "inner_um": [400000, 330000, 170000], "max_load_mg": 12000000, "cost": 0.92},
    ]
    return {
        "format": "calm-cupboard/pack-request",
        "version": 1,
        "rules": {"gap_um": 0, "support_percent": 75},
        "containers": containers,
        "units": [unit],
        **changes,
    }


def run(*arguments: str) -> tuple[int, str, str]:
    out, err = io.StringIO(), io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
        code = main(list(arguments))
    return code, out.getvalue(), err.getvalue()


class Answers(unittest.TestCase):
    def test_the_cheapest_that_holds_all_is_chosen_and_every_container_gets_its_reason(self) -> None:
        result: Any = answer(json.dumps(jars()))
        self.assertEqual((result["container"], result["proven"], len(result["placements"])), ("C-16", True, 9))
        self.assertEqual(
            [(c["container"], c["outcome"]) for c in result["considered"]],
            [("C-20", "dearer"), ("C-12", "no"), ("C-16", "chosen")],
        )
        self.assertEqual(
            result["considered"][1]["reason"], "C-12 is 12 mm too low for jar with 30 mm below and 20 mm on top."
        )
        self.assertEqual(result["considered"][0]["reason"], "costs 0.28 more than C-16")

    def test_the_answer_passes_the_independent_checker(self) -> None:
        document = jars(7)
        document["units"].append(
            {
                "code": "tin",
                "quantity": 2,
                "size_um": [150000, 90000, 60000],
                "weight_mg": 300000,
                "up_axes": [0, 1, 2],
                "max_load_on_top_mg": 0,
            }
        )
        result: Any = answer(json.dumps(document))
        offered, units, rules = read_request(json.dumps(document)).core()
        box = next(o.box for o in offered if o.box.code == result["container"])
        placed = Packing(
            box=box.code,
            placements=tuple(
                Placement(unit=p["unit"], at_um=tuple(p["at_um"]), size_um=tuple(p["size_um"]))
                for p in result["placements"]
            ),
        )
        self.assertEqual(faults_of(placed, box, units, rules), ())

    def test_what_nothing_takes_is_null_and_proven_when_it_is(self) -> None:
        heavy: Any = answer(json.dumps(jars(40)))
        self.assertEqual((heavy["container"], heavy["placements"], heavy["proven"]), (None, [], True))

    def test_equal_costs_prefer_the_smaller_inside(self) -> None:
        document = jars(1)
        for container in document["containers"]:
            container["cost"] = "1"
        self.assertEqual(answer(json.dumps(document))["container"], "C-16")

    def test_the_same_request_has_the_same_answer(self) -> None:
        self.assertEqual(answer(json.dumps(jars(12))), answer(json.dumps(jars(12))))


class Faults(unittest.TestCase):
    def faults(self, document: Any) -> list[str]:
        with self.assertRaises(WrongRequest) as caught:
            read_request(document if isinstance(document, str) else json.dumps(document))
        return [fault.split(":")[0] for fault in caught.exception.faults]

    def test_every_fault_is_named_by_its_path(self) -> None:
        document = jars(extra=1, version=True)
        document["containers"][0].update(inner_um=[0, 1.5, -2], cost="x")
        document["containers"][1].update(code="C-20", max_load_mg=True)
        document["units"][0].update(quantity=0, up_axes=[2, 2], weight_mg=None, size_um=[1, 2])
        document["units"].append({"code": "jar"})
        found = self.faults(document)
        for path in (
            "version",
            "extra",
            "containers[0].inner_um[0]",
            "containers[0].inner_um[1]",
            "containers[0].inner_um[2]",
            "containers[0].cost",
            "containers[1].max_load_mg",
            "containers[1].code",
            "units[0].quantity",
            "units[0].weight_mg",
            "units[0].size_um",
            "units[1].quantity",
            "units[1].size_um",
            "units[1].code",
        ):
            self.assertIn(path, found)

    def test_absurd_amounts_and_no_json_are_refused(self) -> None:
        self.assertIn("units[0].quantity", self.faults(jars(10**9)))
        two = jars(1500)
        two["units"].append({**two["units"][0], "code": "other"})
        self.assertEqual(self.faults(two), ["units"])
        for text in ("", "{", "[]", "null", "7", '"x"', "[" * 100_000):
            self.assertTrue(self.faults(text))


class TheCommand(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def write(self, name: str, text: str) -> None:
        (self.folder / name).write_text(text)

    def test_a_request_goes_in_and_a_result_comes_out(self) -> None:
        self.write("r.json", json.dumps(jars()))
        code, out, err = run("--folder", str(self.folder), "r.json", "--out", "result.json")
        self.assertEqual((code, out, err), (0, "", ""))
        self.assertEqual(json.loads((self.folder / "result.json").read_text())["container"], "C-16")

    def test_a_wrong_request_exits_2_with_its_faults_and_writes_nothing(self) -> None:
        self.write("r.json", json.dumps(jars(0)))
        code, out, err = run("--folder", str(self.folder), "r.json", "--out", "result.json")
        self.assertEqual((code, out), (2, ""))
        self.assertTrue(err.startswith("units[0].quantity: "))
        self.assertFalse((self.folder / "result.json").exists())
        self.assertEqual(run("--folder", str(self.folder), "none.json")[0], 2)

    def test_many_requests_give_one_line_each_and_a_wrong_one_does_not_stop_the_rest(self) -> None:
        self.write("many", "\n".join(json.dumps(d) for d in (jars(1), jars(0), jars(9))) + "\n")
        code, out, err = run("--folder", str(self.folder), "--many", "many")
        lines = [json.loads(line) for line in out.splitlines()]
        self.assertEqual((code, [line.get("container") for line in lines]), (2, ["C-16", None, "C-16"]))
        self.assertIn("error", lines[1])
        self.assertTrue(err.startswith("line 2: units[0].quantity"))

    def test_the_documented_schema_is_the_one_in_force(self) -> None:
        text = (ROOT / "docs" / "formats" / "pack-request.md").read_text()
        documented = json.loads(text.split("```json\n")[1].split("```")[0])
        self.assertEqual(documented, PackRequest.model_json_schema())
