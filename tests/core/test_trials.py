"""Trials: numbers needed, one look at the end, fair picks (rules 17.4)."""

import random
import unittest
from collections import Counter
from decimal import Decimal
from itertools import pairwise

from core.outcomes.rates import Counted
from core.outcomes.trials import Arm, most_apart, needed_each, p_value, picked, verdict_of


def _arms(*counts: tuple[int, int]) -> list[Arm]:
    return [Arm(version=3 + n, counted=Counted(damaged=hits, known=of)) for n, (hits, of) in enumerate(counts)]


def _hits(draw: random.Random, rate: float, of: int) -> int:
    return sum(draw.random() < rate for _ in range(of))


class Numbers(unittest.TestCase):
    def test_the_worked_numbers(self) -> None:
        self.assertEqual(needed_each(Decimal("0.08"), Decimal("0.02")), 206)
        self.assertEqual(needed_each(Decimal("0.04"), Decimal("0.015")), 671)

    def test_more_versions_need_more_of_each(self) -> None:
        self.assertGreater(needed_each(Decimal("0.08"), Decimal("0.02"), 3), 206)

    def test_what_cannot_be_told_apart_is_refused(self) -> None:
        for rates in ((Decimal("0.02"), Decimal("0.02")), (Decimal(2), Decimal(0))):
            with self.assertRaises(ValueError):
                needed_each(*rates)

    def test_with_nothing_damaged_nothing_differs(self) -> None:
        self.assertEqual(p_value(Counted(damaged=0, known=50), Counted(damaged=0, known=50)), 1.0)
        self.assertEqual(p_value(Counted(damaged=1, known=50), Counted(damaged=0, known=0)), 1.0)


class Verdicts(unittest.TestCase):
    def test_before_the_end_no_winner_is_named_however_clear_it_looks(self) -> None:
        verdict = verdict_of(_arms((30, 205), (0, 206)), 206)
        self.assertEqual((verdict.code, verdict.version, verdict.more), ("not_yet", None, ((3, 1), (4, 0))))

    def test_at_the_end_the_better_leads(self) -> None:
        verdict = verdict_of(_arms((16, 206), (4, 206)), 206)
        self.assertEqual((verdict.code, verdict.version), ("leads", 4))

    def test_a_small_difference_names_none(self) -> None:
        self.assertEqual(verdict_of(_arms((8, 206), (5, 206)), 206).code, "no_difference")

    def test_of_three_the_best_must_be_better_than_each(self) -> None:
        self.assertEqual(verdict_of(_arms((20, 200), (5, 200), (4, 200)), 200).code, "no_difference")
        self.assertEqual(verdict_of(_arms((30, 200), (25, 200), (4, 200)), 200).version, 5)

    def test_one_version_is_no_trial(self) -> None:
        with self.assertRaises(ValueError):
            verdict_of(_arms((1, 2)), 2)

    def test_in_a_thousand_trials_the_right_one_is_named_and_the_wrong_one_hardly_ever(self) -> None:
        draw = random.Random(17)
        each = needed_each(Decimal("0.08"), Decimal("0.02"))
        named = Counter(
            verdict_of(_arms((_hits(draw, 0.08, each), each), (_hits(draw, 0.02, each), each)), each).version
            for _ in range(1_000)
        )
        self.assertGreaterEqual(named[4], 800)
        self.assertLessEqual(named[3], 25)

    def test_between_equals_one_is_named_in_one_trial_of_twenty_at_most(self) -> None:
        draw = random.Random(18)
        each = 206
        named = Counter(
            verdict_of(_arms((_hits(draw, 0.05, each), each), (_hits(draw, 0.05, each), each)), each).code
            for _ in range(1_000)
        )
        self.assertLessEqual(named["leads"], 70)


class Picks(unittest.TestCase):
    def test_within_each_carrier_and_zone_versions_are_even(self) -> None:
        draw = random.Random(5)
        strata = ("oxgang/near", "oxgang/far", "wending/1")
        had: Counter[str] = Counter()
        picks = []
        for _ in range(500):
            stratum = draw.choice(strata)
            picks.append((stratum, picked((3, 4, 6), stratum, had[stratum], "trial 1")))
            had[stratum] += 1
            self.assertLessEqual(most_apart(picks, (3, 4, 6)), 2)

    def test_a_pick_is_the_same_asked_again_and_differs_by_trial(self) -> None:
        one = [picked((1, 2), "a", n, "t1") for n in range(64)]
        self.assertEqual(one, [picked((1, 2), "a", n, "t1") for n in range(64)])
        self.assertNotEqual(one, [picked((1, 2), "a", n, "t2") for n in range(64)])

    def test_the_next_pick_cannot_be_told_from_the_last(self) -> None:
        """Shuffled blocks of two and two have a third to a half of neighbours alike."""
        row = [picked((1, 2), "a", n, "t9") for n in range(4_000)]
        alike = sum(a == b for a, b in pairwise(row)) / (len(row) - 1)
        self.assertTrue(0.30 < alike < 0.45, alike)
