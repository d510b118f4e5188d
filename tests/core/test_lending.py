"""Lent arrays are read and written as the arrays they come from, and only where their rows lie one after the other."""

import random
import unittest
from typing import Any

import numpy as np
from numba.core.errors import TypingError

from core.packing.kernel.compiled import compiled
from core.packing.kernel.lending import lent, lent_sixes, lent_threes, lent_ways


@compiled
def _row(row: Any, add: Any) -> Any:
    numbers, total = lent(row), lent(row)[0] - lent(row)[0]
    for i in range(len(row)):
        total += numbers[i] * (i + 1)
        numbers[i] += add
    return total


@compiled
def _threes(rows: Any, turn: int) -> int:
    numbers, total = lent_threes(rows), 0
    for i in range(len(rows)):
        for axis in range(3):
            total += numbers[i, axis] * (7 * i + axis + 1)
            numbers[i, axis] = numbers[i, axis] * 2 + turn
    return total


@compiled
def _sixes(rows: Any) -> int:
    numbers, total = lent_sixes(rows), 0
    for i in range(len(rows)):
        total += numbers[i, 0] - 3 * numbers[i, 5]
        numbers[i, 0], numbers[i, 5] = numbers[i, 5], numbers[i, 0]
    return total


@compiled
def _ways(rows: Any) -> int:
    numbers, total = lent_ways(rows), 0
    for i in range(len(rows)):
        for way in range(6):
            total += numbers[i, way, 0] * 5 - numbers[i, way, 2] * (way + 1)
            numbers[i, way, 1] = i
    return total


class Lent(unittest.TestCase):
    def numbers(self, *shape: int) -> Any:
        chance = random.Random(str(shape))
        return np.array([chance.randrange(-(10**9), 10**9) for _ in range(int(np.prod(shape)))]).reshape(shape)

    def test_a_row_of_whole_numbers_and_one_of_fractions(self) -> None:
        for row, add in ((self.numbers(9), 4), (self.numbers(9) / 7, 0.5), (self.numbers(9).astype(np.int32), 3)):
            before = row.copy()
            self.assertEqual(_row(row, add), sum(value * place for place, value in enumerate(before.tolist(), start=1)))
            self.assertEqual(row.tolist(), (before + add).tolist())

    def test_three_in_a_row(self) -> None:
        rows = self.numbers(8, 3)
        before = rows.copy()
        weights = np.array([[7 * i + axis + 1 for axis in range(3)] for i in range(8)])
        self.assertEqual(_threes(rows, 11), int((before * weights).sum()))
        self.assertEqual(rows.tolist(), (before * 2 + 11).tolist())

    def test_six_in_a_row(self) -> None:
        rows = self.numbers(5, 6)
        before = rows.copy()
        self.assertEqual(_sixes(rows), int((before[:, 0] - 3 * before[:, 5]).sum()))
        self.assertEqual(rows.tolist(), before[:, [5, 1, 2, 3, 4, 0]].tolist())

    def test_six_ways_of_three(self) -> None:
        rows = self.numbers(4, 6, 3)
        before = rows.copy()
        wanted = sum(int(before[i, w, 0]) * 5 - int(before[i, w, 2]) * (w + 1) for i in range(4) for w in range(6))
        self.assertEqual(_ways(rows), wanted)
        self.assertEqual(rows[:, :, 1].tolist(), [[i] * 6 for i in range(4)])
        self.assertEqual(rows[:, :, [0, 2]].tolist(), before[:, :, [0, 2]].tolist())

    def test_rows_that_do_not_lie_one_after_the_other_are_refused_and_so_are_other_shapes(self) -> None:
        rows = self.numbers(8, 3)
        for wrong in (np.asfortranarray(rows), rows[::2], rows[:, 0]):
            with self.assertRaisesRegex(TypingError, "is lent so"):
                _threes(wrong, 1)
        with self.assertRaisesRegex(TypingError, "only an array of 1 axes"):
            _row(rows, 1)


if __name__ == "__main__":
    unittest.main()
