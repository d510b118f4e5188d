"""The door for scripts of arrivals: its answers, every error by its path, the schema and example of its page."""

import json
import unittest
from typing import Any

from server.commands.outcomes import answer
from server.formats.outcomes_request import OutcomesRequest
from server.formats.script_interface import WrongRequest
from tests.server.base import DEMO

PAGE = (DEMO.parent / "docs" / "formats" / "outcomes-request.md").read_text(encoding="utf-8")
SCHEMA, ASKED, ANSWERED = (json.loads(part.split("```")[0]) for part in PAGE.split("```json\n")[1:])
PARCEL = ASKED["parcels"][0]


def _parcels(damaged: int, known: int) -> list[dict[str, Any]]:
    plain = {**PARCEL, "assumed": False}
    return [
        {**plain, "parcel": str(n), "outcome": "broken" if n < damaged else "whole", "harms": []} for n in range(known)
    ]


class OutcomesDoor(unittest.TestCase):
    def test_the_page_says_what_is_read_and_answered(self) -> None:
        self.assertEqual(SCHEMA, OutcomesRequest.model_json_schema())
        self.assertEqual(answer(json.dumps(ASKED)), ANSWERED)

    def test_the_worked_rates(self) -> None:
        for damaged, known, prior, low, high, rate in (
            (2, 40, "0.015", 1.4, 16.5, 0.035),
            (0, 30, "0.04", 0, 11.4, 0.02),
        ):
            priors = [{"recipe": "stone", "rate": prior}]
            found: Any = answer(json.dumps({**ASKED, "parcels": _parcels(damaged, known), "priors": priors}))
            row = found["rates"]["version"][0]
            self.assertEqual((round(100 * row["low"], 1), round(100 * row["high"], 1)), (low, high))
            self.assertEqual(found["planning"][0]["rate"], rate)

    def test_a_trial_asks_for_206_each_and_says_how_many_more(self) -> None:
        trial: Any = answer(json.dumps(ASKED))["trials"][0]  # type: ignore[index]
        self.assertEqual((trial["each"], trial["verdict"], trial["leads"]), (206, "not_yet", None))
        self.assertEqual(trial["more"], [{"version": 3, "parcels": 200}, {"version": 4, "parcels": 197}])

    def test_a_place_leads(self) -> None:
        where: Any = answer(json.dumps(ASKED))["where"]
        self.assertEqual([(one["key"], one["leading"]) for one in where], [("stone/4", "corner")])

    def test_every_error_is_named(self) -> None:
        for change, part in (
            ({"parcels": [PARCEL, PARCEL]}, f"parcel {PARCEL['parcel']} appears more than once"),
            ({"parcels": [{**PARCEL, "harms": [{"kind": "broken"}]}]}, "parcels[0]: harms are told of a parcel that"),
            (
                {"parcels": [{**PARCEL, "outcome": "late", "assumed": True}]},
                "parcels[0]: only a whole parcel is assumed",
            ),
            ({"parcels": [{**PARCEL, "outcome": "gone"}]}, "parcels[0].outcome"),
            ({"parcels": [{**PARCEL, "goods": []}]}, "parcels[0].goods: needs at least 1"),
            ({"priors": [{"recipe": "a", "rate": 1.5}]}, "priors[0].rate"),
            (
                {"trials": [{"recipe": "a", "versions": [1, 1], "each": 3}]},
                "trials[0]: a version appears more than once",
            ),
            ({"trials": [{"recipe": "a", "versions": [1, 2]}]}, "trials[0]: give each, or rate and hoped"),
            ({"by": ["weather"]}, "by[0]"),
            ({"unheard": 1}, "unheard: is not a field here"),
        ):
            with self.subTest(part), self.assertRaises(WrongRequest) as caught:
                answer(json.dumps({**ASKED, **change}))
            self.assertIn(part, "\n".join(caught.exception.faults))
