"""Laws of arrivals: a whole one never raises a rate, their order tells nothing, intervals hold the share."""

import unittest
from decimal import Decimal

from hypothesis import given, settings
from hypothesis import strategies as st

from core.outcomes.places import chance_of, leads, where_of
from core.outcomes.rates import planning_rate, rates_by, wilson
from core.outcomes.trials import needed_each, picked
from tests.core.arriving import arrived, world

COUNTS = st.integers(0, 400).flatmap(lambda known: st.tuples(st.integers(0, known), st.just(known)))
SHARE = st.decimals(min_value=0, max_value=1, places=3)


class OutcomeLaws(unittest.TestCase):
    @given(COUNTS, SHARE)
    def test_one_more_whole_arrival_never_raises_the_planning_rate(
        self, count: tuple[int, int], prior: Decimal
    ) -> None:
        damaged, known = count
        self.assertLessEqual(planning_rate(prior, damaged, known + 1), planning_rate(prior, damaged, known))
        self.assertGreaterEqual(planning_rate(prior, damaged + 1, known + 1), planning_rate(prior, damaged, known))

    @given(COUNTS, SHARE)
    def test_the_planning_rate_lies_between_prior_and_count(self, count: tuple[int, int], prior: Decimal) -> None:
        damaged, known = count
        share = Decimal(damaged) / known if known else prior
        rate = planning_rate(prior, damaged, known)
        tiny = Decimal("1e-20")
        self.assertTrue(min(prior, share) - tiny <= rate <= max(prior, share) + tiny)

    @given(COUNTS)
    def test_the_interval_holds_the_share_and_narrows_with_more_of_the_same(self, count: tuple[int, int]) -> None:
        damaged, known = count
        low, high = wilson(damaged, known)
        if known:
            share = Decimal(damaged) / known
            self.assertTrue(low <= share + Decimal("0.000001") and share - Decimal("0.000001") <= high)
        closer = wilson(damaged * 4, known * 4)
        self.assertLessEqual(closer[1] - closer[0], high - low)

    @settings(max_examples=30, deadline=None)
    @given(st.integers(0, 1_000), st.randoms(use_true_random=False))
    def test_the_order_of_arrivals_tells_nothing(self, seed: int, draw: object) -> None:
        parcels = world("corner", seed, 120)
        other = list(parcels)
        draw.shuffle(other)  # type: ignore[attr-defined]
        self.assertEqual(where_of(parcels), where_of(other))
        for group in ("version", "zone", "season"):
            self.assertEqual(rates_by(parcels, group), rates_by(other, group))

    @settings(max_examples=30, deadline=None)
    @given(st.integers(0, 1_000), st.integers(1, 50))
    def test_whole_arrivals_change_no_place(self, seed: int, more: int) -> None:
        parcels = world("bottom", seed, 100)
        self.assertEqual(where_of(parcels), where_of([*parcels, *(arrived(n) for n in range(more))]))

    @given(st.integers(1, 30).flatmap(lambda of: st.tuples(st.integers(0, of), st.just(of))))
    def test_a_lead_stays_when_one_more_breaks_there(self, count: tuple[int, int]) -> None:
        there, of = count
        if leads(there, of):
            self.assertTrue(leads(there + 1, of + 1))
        self.assertLessEqual(chance_of(there + 1, of + 1), chance_of(there, of))

    @given(SHARE, SHARE)
    def test_a_trial_needs_as_many_either_way_round(self, one: Decimal, other: Decimal) -> None:
        if one != other:
            self.assertEqual(needed_each(one, other), needed_each(other, one))

    @given(st.integers(2, 5), st.integers(0, 40), st.text(max_size=8))
    def test_every_block_holds_each_version_twice(self, versions: int, block: int, seed: str) -> None:
        size = 2 * versions
        row = sorted(picked(range(versions), "s", block * size + n, seed) for n in range(size))
        self.assertEqual(row, [version for version in range(versions) for _ in range(2)])
