"""The door for scripts of charges: its answers, every error by its path, the schema and example of its page."""

import json
import unittest
from typing import Any

from server.commands.charges import answer
from server.formats.charges_request import ChargesRequest
from server.formats.script_interface import WrongRequest
from tests.server.base import DEMO

PAGE = (DEMO.parent / "docs" / "formats" / "charges-request.md").read_text(encoding="utf-8")
SCHEMA, ASKED, ANSWERED = (json.loads(part.split("```")[0]) for part in PAGE.split("```json\n")[1:])
ORDER = ASKED["orders"][0]
FLAT = {"code": "flat", "base": {"kind": "flat", "amount": 4}}


class ChargesDoor(unittest.TestCase):
    def test_the_page_says_what_is_read_and_answered(self) -> None:
        self.assertEqual(SCHEMA, ChargesRequest.model_json_schema())
        self.assertEqual(answer(json.dumps(ASKED)), ANSWERED)

    def test_the_worked_fee(self) -> None:
        self.assertEqual((ANSWERED["orders"], ANSWERED["paid"], ANSWERED["break_even_fee"]), (7, "26.52", "3.79"))

    def test_a_weight_beyond_the_last_step_is_told_and_nothing_is_charged(self) -> None:
        weight: Any = ANSWERED["policies"][1]
        self.assertEqual([(one["order"], one["last_mg"]) for one in weight["refused"]], [("1164", 2_000_000)])
        self.assertNotIn("1164", [one["order"] for one in weight["orders"]])

    def test_without_orders_there_is_no_fee(self) -> None:
        found: Any = answer(json.dumps({**ASKED, "orders": [], "policies": [FLAT]}))
        self.assertIsNone(found["break_even_fee"])
        self.assertEqual(
            (found["policies"][0]["left"], found["policies"][0]["threshold"], found["table"]), ("0.00", None, [])
        )

    def test_every_error_is_named(self) -> None:
        for change, part in (
            ({"orders": [ORDER, ORDER]}, "order 1160 appears more than once"),
            ({"policies": [FLAT, FLAT]}, "policy flat appears more than once"),
            ({"orders": [{**ORDER, "paid": -1}]}, "orders[0].paid"),
            ({"orders": [{**ORDER, "weight_mg": 1.5}]}, "orders[0].weight_mg"),
            ({"policies": [{**FLAT, "base": {"kind": "by_weight", "steps": []}}]}, "policies[0].base"),
            (
                {"policies": [{**FLAT, "base": {"kind": "by_value", "steps": [{"from_value": 5, "amount": 1}]}}]},
                "the first step begins at 5, not at 0",
            ),
            (
                {"policies": [{**FLAT, "base": {"kind": "by_weight", "steps": [{"up_to_mg": 5, "amount": 1}] * 2}}]},
                "steps rise from one to the next",
            ),
            ({"policies": [{**FLAT, "endings": [1]}]}, "policies[0].endings[0]"),
            ({"policies": [{**FLAT, "base": {"kind": "lottery"}}]}, "policies[0].base"),
            ({"unheard": 1}, "unheard: is not a field here"),
        ):
            with self.subTest(part), self.assertRaises(WrongRequest) as caught:
                answer(json.dumps({**ASKED, **change}))
            self.assertIn(part, "\n".join(caught.exception.faults))
