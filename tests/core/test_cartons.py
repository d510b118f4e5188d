"""Which cartons to keep: against every choice there is, what goes into none, the marginal kind, the curve."""

import random
import unittest
from itertools import combinations

from core.buying.cartons import CartonChoice, choose_cartons, cost_by_k


def made_up(seed: int, contents: int, cartons: int) -> CartonChoice:
    """Return contents of some size in cartons of some size; larger ones cost more and take more."""
    draw = random.Random(seed)
    rooms = [draw.uniform(1, 10) for _ in range(cartons)]
    sizes = [draw.uniform(0.5, 10.5) for _ in range(contents)]
    return CartonChoice(
        counts=tuple(draw.randint(1, 30) for _ in sizes),
        cost=tuple(
            tuple(
                None if room < size else round(300 + 40 * room + 60 * (room - size) + draw.uniform(0, 80))
                for room in rooms
            )
            for size in sizes
        ),
        keeping=tuple(draw.randint(500, 3000) for _ in rooms),
    )  # fmt: skip


def every_choice(asked: CartonChoice, k: int) -> tuple[int, int]:
    """Return the least parcels left over, and the least cost with that, of all choices of at most k kinds."""

    def worth(kinds: tuple[int, ...]) -> tuple[int, int]:
        left, total = 0, sum(asked.keeping[one] for one in kinds)
        for count, row in zip(asked.counts, asked.cost, strict=True):
            if all(one is None for one in row):
                continue
            fitting = [cost for one in kinds if (cost := row[one]) is not None]
            left += 0 if fitting else count
            total += min(fitting) * count if fitting else 0
        return left, total

    kinds = range(len(asked.keeping))
    return min(worth(chosen) for many in range(1, k + 1) for chosen in combinations(kinds, many))


class Choosing(unittest.TestCase):
    def test_it_agrees_with_every_choice_there_is(self) -> None:
        for seed in range(200):
            asked, k = made_up(seed, 7, 6), seed % 4 + 1
            found = choose_cartons(asked, k)
            left = sum(asked.counts[at] for at in found.left_over)
            self.assertTrue(found.proven)
            self.assertEqual((left, found.total), every_choice(asked, k), f"seed {seed}")
            self.assertLessEqual(len(found.kept), k)

    def test_a_case_by_hand(self) -> None:
        # Ten small parcels and two large ones; the small carton saves 0.30 each time and 2.00 to keep.
        asked = CartonChoice(counts=(10, 2), cost=((50, 80), (None, 120)), keeping=(200, 100))
        both, one = choose_cartons(asked, 2), choose_cartons(asked, 1)
        self.assertEqual((both.total, [kept.carton for kept in both.kept]), (10 * 50 + 2 * 120 + 300, [0, 1]))
        self.assertEqual((one.total, one.assigned), (10 * 80 + 2 * 120 + 100, (1, 1)))
        # Without the small one the ten cost 300 more and its keep of 200 is saved; without the large two go nowhere.
        self.assertEqual([kept.without_it for kept in both.kept], [100, None])

    def test_a_kind_that_pays_for_its_keep_never_is_not_kept(self) -> None:
        asked = CartonChoice(counts=(3,), cost=((50, 49),), keeping=(100, 400))
        self.assertEqual([kept.carton for kept in choose_cartons(asked, 2).kept], [0])

    def test_what_no_carton_takes_is_told_apart_from_what_so_few_kinds_leave_over(self) -> None:
        asked = CartonChoice(counts=(1, 5, 2), cost=((None, None), (40, None), (None, 60)), keeping=(0, 0))
        found = choose_cartons(asked, 1)
        self.assertEqual((found.in_none, found.left_over, found.assigned), ((0,), (2,), (None, 0, None)))

    def test_nothing_to_choose_from(self) -> None:
        self.assertEqual(choose_cartons(CartonChoice(counts=(), cost=(), keeping=()), 3).kept, ())
        with self.assertRaises(ValueError):
            choose_cartons(CartonChoice(counts=(), cost=(), keeping=()), 0)

    def test_the_curve_falls_and_stands_at_what_is_known(self) -> None:
        asked = made_up(3, 30, 12)
        known = choose_cartons(asked, 4)
        curve = cost_by_k(asked, 8, known=known)
        self.assertEqual([one.kinds for one in curve], list(range(1, 9)))
        self.assertEqual((curve[3].total, curve[3].proven), (known.total, True))
        worth = [(one.left_over, one.total) for one in curve]
        self.assertEqual(worth, sorted(worth, reverse=True))


if __name__ == "__main__":
    unittest.main()
