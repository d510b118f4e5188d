"""The door for scripts of care: what it answers, every error by its path, the schema and the example of its page."""

import json
import unittest
from typing import Any

from server.commands.care import answer
from server.formats.care_request import CareRequest
from server.formats.script_interface import WrongRequest
from tests.server.base import DEMO

PAGE = (DEMO.parent / "docs" / "formats" / "care-request.md").read_text(encoding="utf-8")
SCHEMA, ASKED, ANSWERED = (json.loads(part.split("```")[0]) for part in PAGE.split("```json\n")[1:])


class CareDoor(unittest.TestCase):
    def test_the_page_says_what_is_read_and_answered(self) -> None:
        self.assertEqual(SCHEMA, CareRequest.model_json_schema())
        self.assertEqual(answer(json.dumps(ASKED)), ANSWERED)

    def test_the_worked_case(self) -> None:
        found: Any = answer(json.dumps(ASKED))
        first = found["ways"][0]
        self.assertEqual((first["heat_above_kj"], first["days"], first["allowed"]), (181.9, 2, True))
        self.assertEqual([(one["count"], one["by_formula"]) for one in first["packs"]], [(4, 2), (3, 2)])
        self.assertEqual(found["ways"][1]["reasons"], ["too_long"])
        self.assertEqual(found["ship_days"], ["2026-07-07", "2026-07-13"])
        self.assertEqual(found["without_packs"], ["2026-07-13"])

    def test_what_no_pack_keeps_is_not_allowed(self) -> None:
        hot = {**ASKED, "packs": [{**ASKED["packs"][0], "on_hand": 2}]}
        first: Any = answer(json.dumps(hot))["ways"][0]  # type: ignore[index]
        self.assertEqual(
            (first["allowed"], first["reasons"], first["packs"][0]["count"]), (False, ["outside_limits"], None)
        )

    def test_an_ice_test_goes_before_the_material(self) -> None:
        liner = {"thickness_um": 20_000, "tested_hours": 12, "tested_inner_um": [250_000, 200_000, 150_000]}
        found: Any = answer(json.dumps({**ASKED, "box": {**ASKED["box"], "liner": liner}}))
        self.assertEqual(found["u_w_per_m2k"], 1.645)  # 334 kJ / (43 200 s x 20 K x 0.235 m2)

    def test_every_error_is_named(self) -> None:
        goods = ASKED["goods"]
        for change, part in (
            ({"goods": {**goods, "low_c": 20}}, "goods: low_c is not under high_c"),
            ({"packs": [{"code": "h", "kind": "heat", "weight_mg": 1}]}, "packs[0]: a heat pack needs power_mw"),
            ({"packs": [ASKED["packs"][0]] * 2}, "packs[1].code: gel appears more than once"),
            ({"ways": []}, "ways: needs at least 1"),
            ({"ways": [{**ASKED["ways"][0], "arrives_on": "2026-01-01"}]}, "ways[0]: arrives_on is before ship_on"),
            ({"box": {"inner_um": [1, 2, -3]}}, "box.inner_um[2]"),
            ({"unheard": 1}, "unheard: is not a field here"),
        ):
            with self.subTest(part), self.assertRaises(WrongRequest) as caught:
                answer(json.dumps({**ASKED, **change}))
            self.assertIn(part, "\n".join(caught.exception.faults))
