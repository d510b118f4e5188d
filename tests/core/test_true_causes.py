"""Seeded worlds with a true cause: after 400 parcels the right place leads, and none does without one (rules 17.3)."""

import unittest

from core.outcomes.places import where_of
from tests.core.arriving import WORLDS, world

_WORLDS = 200


class TrueCauses(unittest.TestCase):
    def test_the_right_place_leads_in_95_of_100_worlds(self) -> None:
        for cause in WORLDS:
            led = [where_of(world(cause, seed)).leading for seed in range(_WORLDS)]
            with self.subTest(cause=cause):
                if cause is not None:
                    self.assertGreaterEqual(led.count(cause), 0.95 * _WORLDS, led)
                else:
                    self.assertLessEqual(_WORLDS - led.count(None), 0.05 * _WORLDS, led)
