"""What becomes known on the desk of the relation search: reasons, taking back, distances, and sets
that are recalled.
"""

import random
import unittest

import numpy as np

from core.packing.kernel.desk import (
    BASE,
    CAUSE,
    DEPTH,
    FACT,
    FACTS,
    FOLLOWED,
    FULL,
    HIGH,
    KEYS,
    LATEST,
    LEAST,
    LENGTH,
    LEVEL,
    MARK,
    MOST,
    MOST_FACTS,
    MOST_PARTS,
    MOST_REASONS,
    MOST_SETS,
    MOST_UNITS,
    OFF_FLOOR,
    ON_FLOOR,
    PAIR,
    PARTS,
    REASONS,
    REST,
    SET_BEGIN,
    SETS,
    SIZE,
    WANTED,
    WAYS,
    WHY,
    lay_out,
    under,
)
from core.packing.kernel.facts import (
    FROM,
    KNOWN_AT,
    PREVIOUS,
    TO,
    because_absent,
    because_least,
    because_low,
    because_settled,
    choose,
    fix,
    is_nearer,
    keep_distance,
    lower_start,
    raise_start,
    strike,
    take_back,
)
from core.packing.kernel.no_goods import AT_ONCE, KEPT, NO_WAY_OUT, learn, recall
from core.packing.kernel.problem import Row, problem_of
from core.packing.kernel.relations import FOUND, NONE, UNKNOWN, Relations
from core.packing.model import PackRules
from tests.core.samples import box, unit

RULES = PackRules(gap_um=2_000, support_percent=75)
#: What can be compared before and after: all that is known and what is drawn from the ways.
KNOWN = SIZE
AXIS, MM = 0, 1000


def desk_of(*sizes: tuple[float, float, float]) -> Row:
    """Return the desk for units that may lie on any side in a container of 300 x 200 x 150 mm."""
    units = tuple(unit(f"u{k}", size_mm=size, up_axes=(0, 1, 2)) for k, size in enumerate(sizes))
    desk = np.empty(LENGTH, dtype=np.int64)
    lay_out(problem_of(box(300, 200, 150), units, RULES), desk)
    return desk


def reasons_of(desk: Row, begin: int, end: int) -> list[tuple[int, int]]:
    """Return the reasons written from one number to another: key and what was needed of it."""
    rows = [(int(desk[WHY + 2 * at]), int(desk[WHY + 2 * at + 1])) for at in range(begin, end)]
    return [(int(desk[FACT + 8 * fact]), needed) for fact, needed in rows]


def last_reasons(desk: Row, key: int) -> list[tuple[int, int]]:
    row = FACT + 8 * int(desk[LATEST + key])
    return reasons_of(desk, int(desk[row + FROM]), int(desk[row + TO]))


class LaidOut(unittest.TestCase):
    def test_windows_and_extents_by_hand(self) -> None:
        desk = desk_of((100, 60, 40))
        self.assertEqual([int(desk[a]) for a in range(3)], [0, 0, 0])
        # 300 inside and the gap of 2, less the shortest side with its gap.
        self.assertEqual([int(desk[HIGH + a]) for a in range(3)], [260 * MM, 160 * MM, 110 * MM])
        self.assertEqual(int(desk[LEAST]), 42 * MM)
        self.assertEqual(int(desk[MOST]), 102 * MM)
        self.assertEqual(int(desk[BASE]), 60 * MM * 40 * MM)

    def test_under_is_told_from_either_side(self) -> None:
        self.assertEqual(under(1, 4), (PAIR + MOST_UNITS + 4, 4))
        self.assertEqual(under(4, 1), (PAIR + MOST_UNITS + 4, 32))

    def test_a_way_struck_out_makes_a_unit_no_shorter(self) -> None:
        desk = desk_of((100, 60, 40))
        choose(desk, WAYS, 1)
        self.assertEqual(int(desk[LEAST]), int(desk[SIZE]))
        self.assertEqual(int(desk[MOST]), int(desk[SIZE]))
        take_back(desk, 0)
        self.assertEqual((int(desk[LEAST]), int(desk[MOST])), (42 * MM, 102 * MM))


class Reasons(unittest.TestCase):
    def setUp(self) -> None:
        self.desk = desk_of((100, 60, 40), (90, 50, 30), (80, 70, 20))

    def test_what_was_known_before_any_choice_needs_no_reason(self) -> None:
        raise_start(self.desk, 0, AXIS, 10 * MM, 0)
        choose(self.desk, LEVEL, ON_FLOOR)
        before = int(self.desk[REASONS])
        because_low(self.desk, 0, AXIS, 10 * MM)
        self.assertEqual(int(self.desk[REASONS]), before)

    def test_the_first_fact_that_says_enough_is_the_reason_with_what_was_needed(self) -> None:
        choose(self.desk, LEVEL, ON_FLOOR)
        for start in (10 * MM, 40 * MM, 70 * MM):
            raise_start(self.desk, 0, AXIS, start, int(self.desk[REASONS]))
        begin = int(self.desk[REASONS])
        because_low(self.desk, 0, AXIS, 25 * MM)
        fact = int(self.desk[WHY + 2 * begin])
        self.assertEqual(int(self.desk[FACT + 8 * fact + 1]), 40 * MM)
        self.assertEqual(int(self.desk[WHY + 2 * begin + 1]), 25 * MM)

    def test_what_is_struck_out_and_settled_names_what_struck_it(self) -> None:
        key = PAIR + 1
        choose(self.desk, LEVEL, ON_FLOOR)
        for bit in (1, 2, 4, 8, 16):
            begin = int(self.desk[REASONS])
            because_settled(self.desk, LEVEL)
            self.assertTrue(strike(self.desk, key, bit, begin))
        self.assertEqual(int(self.desk[key]), 32)
        # The last one struck leaves one: that it is settled follows from the five.
        self.assertEqual(last_reasons(self.desk, key), [(key, 0)] * 5)
        begin = int(self.desk[REASONS])
        because_absent(self.desk, key, 4)
        self.assertEqual(reasons_of(self.desk, begin, int(self.desk[REASONS])), [(key, 0)])

    def test_shorter_ways_that_are_gone_are_the_reason_for_a_length(self) -> None:
        choose(self.desk, WAYS, 1)
        begin = int(self.desk[REASONS])
        because_least(self.desk, 0, AXIS, int(self.desk[LEAST]))
        told = reasons_of(self.desk, begin, int(self.desk[REASONS]))
        self.assertTrue(told)
        self.assertEqual({key for key, _ in told}, {WAYS})

    def test_the_last_possibility_cannot_be_struck_out(self) -> None:
        choose(self.desk, LEVEL + 1, OFF_FLOOR)
        begin = int(self.desk[REASONS])
        self.assertFalse(strike(self.desk, LEVEL + 1, OFF_FLOOR, begin))
        self.assertEqual(int(self.desk[CAUSE]), begin)
        self.assertEqual(reasons_of(self.desk, begin, int(self.desk[REASONS])), [(LEVEL + 1, 0)])
        self.assertFalse(fix(self.desk, LEVEL + 1, ON_FLOOR, int(self.desk[REASONS])))

    def test_a_start_past_the_other_end_of_its_window_is_a_contradiction(self) -> None:
        choose(self.desk, HIGH, 50 * MM)
        begin = int(self.desk[REASONS])
        self.assertFalse(raise_start(self.desk, 0, AXIS, 50 * MM + 1, begin))
        self.assertEqual(reasons_of(self.desk, begin, int(self.desk[REASONS])), [(HIGH, 50 * MM)])
        self.assertTrue(raise_start(self.desk, 0, AXIS, 50 * MM, int(self.desk[REASONS])))
        self.assertFalse(lower_start(self.desk, 0, AXIS, 50 * MM - 1, int(self.desk[REASONS])))


class Distances(unittest.TestCase):
    def test_both_windows_move_and_each_tells_its_own_reason(self) -> None:
        desk = desk_of((100, 60, 40), (90, 50, 30))
        choose(desk, 6, 200 * MM)  # a half chosen: unit 1 starts at 200 mm or more
        take_back(desk, 0)
        choose(desk, LEVEL, ON_FLOOR)
        raise_start(desk, 0, AXIS, 30 * MM, int(desk[REASONS]))
        self.assertTrue(is_nearer(desk, 0, 1, AXIS, 50 * MM))
        high = int(desk[6 + HIGH])
        begin = int(desk[REASONS])
        because_settled(desk, LEVEL)
        self.assertTrue(keep_distance(desk, 0, 1, AXIS, 50 * MM, begin))
        self.assertEqual(int(desk[6]), 80 * MM)
        self.assertEqual(int(desk[HIGH]), high - 50 * MM)
        self.assertEqual(last_reasons(desk, 6), [(LEVEL, 0), (0, 30 * MM)])
        self.assertEqual(last_reasons(desk, HIGH), [(LEVEL, 0)])
        self.assertFalse(is_nearer(desk, 0, 1, AXIS, 50 * MM))

    def test_a_negative_distance_lets_it_start_before(self) -> None:
        desk = desk_of((100, 60, 40), (90, 50, 30))
        choose(desk, LEVEL, ON_FLOOR)
        raise_start(desk, 0, AXIS, 100 * MM, int(desk[REASONS]))
        begin = int(desk[REASONS])
        because_settled(desk, LEVEL)
        self.assertTrue(keep_distance(desk, 0, 1, AXIS, -40 * MM, begin))
        self.assertEqual(int(desk[6]), 60 * MM)

    def test_no_room_is_a_contradiction_of_all_it_came_from(self) -> None:
        desk = desk_of((100, 60, 40), (90, 50, 30))
        choose(desk, LEVEL, ON_FLOOR)
        raise_start(desk, 0, AXIS, 100 * MM, int(desk[REASONS]))
        lower_start(desk, 1, AXIS, 120 * MM, int(desk[REASONS]))
        begin = int(desk[REASONS])
        because_settled(desk, LEVEL)
        self.assertFalse(keep_distance(desk, 0, 1, AXIS, 50 * MM, begin))
        told = reasons_of(desk, int(desk[CAUSE]), int(desk[REASONS]))
        self.assertEqual(told, [(LEVEL, 0), (0, 100 * MM), (6 + HIGH, 150 * MM - 1)])


class TakenBack(unittest.TestCase):
    def test_whatever_was_chosen_and_followed_the_desk_is_as_it_was(self) -> None:
        chance = random.Random("taken back")
        for _ in range(200):
            desk = desk_of((100, 60, 40), (90, 50, 30), (80, 70, 20))
            before = []
            for depth in range(chance.randrange(1, 12)):
                before.append(desk[:KNOWN].copy())
                self._choose_something(chance, desk)
                self.assertEqual(int(desk[DEPTH]), depth + 1)
                for _ in range(chance.randrange(6)):
                    self._conclude_something(chance, desk)
            to = chance.randrange(len(before))
            take_back(desk, to)
            self.assertEqual(int(desk[DEPTH]), to)
            np.testing.assert_array_equal(desk[:KNOWN], before[to])
            for fact in range(int(desk[FACTS])):
                self.assertLessEqual(int(desk[FACT + 8 * fact + KNOWN_AT]), to)
            self.assertTrue(all(int(desk[LATEST + key]) < int(desk[FACTS]) for key in range(KEYS)))

    def _open(self, chance: random.Random, desk: Row) -> int:
        keys = [WAYS + i for i in range(3)] + [LEVEL + i for i in range(3)]
        keys += [PAIR + MOST_UNITS * i + j for i in range(3) for j in range(i + 1, 3)] + [REST + 1, REST + MOST_UNITS]
        left = [key for key in keys if int(desk[key]).bit_count() > 1]
        return chance.choice(left) if left else -1

    def _choose_something(self, chance: random.Random, desk: Row) -> None:
        key = self._open(chance, desk)
        if key < 0:
            choose(desk, HIGH, int(desk[HIGH]))
            return
        bits = [1 << n for n in range(6) if int(desk[key]) >> n & 1]
        choose(desk, key, chance.choice(bits))

    def _conclude_something(self, chance: random.Random, desk: Row) -> None:
        begin, key = int(desk[REASONS]), self._open(chance, desk)
        because_settled(desk, LEVEL)
        if key >= 0 and chance.random() < 0.5:
            strike(desk, key, int(desk[key]) & -int(desk[key]), begin)
            return
        i, axis = chance.randrange(3), chance.randrange(3)
        low, high = int(desk[6 * i + axis]), int(desk[6 * i + HIGH + axis])
        if low < high:
            raise_start(desk, i, axis, chance.randrange(low + 1, high + 1), begin)


class Recalled(unittest.TestCase):
    """Three choices bring a contradiction about; the set is kept, the last denied, and recalled when two are true
    again.
    """

    def setUp(self) -> None:
        self.desk = desk_of((100, 60, 40), (90, 50, 30), (80, 70, 20))
        choose(self.desk, LEVEL, ON_FLOOR)
        choose(self.desk, LEVEL + 1, ON_FLOOR)
        choose(self.desk, PAIR + 1, 1)
        self.desk[CAUSE] = self.desk[REASONS]
        for key in (LEVEL, LEVEL + 1, PAIR + 1):
            because_settled(self.desk, key)

    def test_the_last_choice_is_denied_where_the_others_are_true(self) -> None:
        self.assertEqual(learn(self.desk), KEPT)
        self.assertEqual(int(self.desk[DEPTH]), 2)
        self.assertEqual(int(self.desk[PAIR + 1]), 63 & ~1)
        self.assertEqual(int(self.desk[SETS]), 1)
        self.assertEqual(last_reasons(self.desk, PAIR + 1), [(LEVEL, 0), (LEVEL + 1, 0)])

    def test_another_order_of_choices_meets_the_set_again(self) -> None:
        learn(self.desk)
        take_back(self.desk, 0)
        self.assertEqual(int(self.desk[PAIR + 1]), 63)
        choose(self.desk, PAIR + 1, 1)
        self.assertTrue(recall(self.desk, PAIR + 1))
        choose(self.desk, LEVEL + 1, ON_FLOOR)
        self.assertTrue(recall(self.desk, LEVEL + 1))
        self.assertEqual(int(self.desk[LEVEL]), OFF_FLOOR)
        # That it is off the floor alone follows from its not being on it, and that from the two.
        self.assertEqual(last_reasons(self.desk, LEVEL), [(LEVEL, 0)])
        struck = FACT + 8 * int(self.desk[FACT + 8 * int(self.desk[LATEST + LEVEL]) + PREVIOUS])
        told = reasons_of(self.desk, int(self.desk[struck + FROM]), int(self.desk[struck + TO]))
        self.assertEqual({key for key, _ in told}, {PAIR + 1, LEVEL + 1})

    def test_what_is_false_already_denies_nothing(self) -> None:
        learn(self.desk)
        take_back(self.desk, 0)
        choose(self.desk, PAIR + 1, 2)
        recall(self.desk, PAIR + 1)
        choose(self.desk, LEVEL + 1, ON_FLOOR)
        self.assertTrue(recall(self.desk, LEVEL + 1))
        self.assertEqual(int(self.desk[LEVEL]), ON_FLOOR | OFF_FLOOR)

    def test_a_start_is_denied_as_far_as_it_was_needed(self) -> None:
        desk = desk_of((100, 60, 40), (90, 50, 30))
        choose(desk, LEVEL, ON_FLOOR)
        choose(desk, LEVEL + 1, ON_FLOOR)
        begin = int(desk[REASONS])
        because_settled(desk, LEVEL + 1)
        raise_start(desk, 0, AXIS, 90 * MM, begin)
        desk[CAUSE] = desk[REASONS]
        because_settled(desk, LEVEL)
        because_low(desk, 0, AXIS, 60 * MM)
        self.assertEqual(learn(desk), KEPT)
        # Where unit 0 stands on the floor it starts below 60 mm; that it started at 90 was more than was needed.
        self.assertEqual(int(desk[DEPTH]), 1)
        self.assertEqual(int(desk[HIGH]), 60 * MM - 1)

    def test_a_contradiction_of_one_choice_is_denied_for_good(self) -> None:
        desk = desk_of((100, 60, 40), (90, 50, 30))
        choose(desk, LEVEL, ON_FLOOR)
        choose(desk, LEVEL + 1, ON_FLOOR)
        desk[CAUSE] = desk[REASONS]
        because_settled(desk, LEVEL)
        self.assertEqual(learn(desk), KEPT)
        self.assertEqual((int(desk[DEPTH]), int(desk[LEVEL])), (0, OFF_FLOOR))
        self.assertEqual(int(desk[FACT + 8 * int(desk[LATEST + LEVEL]) + KNOWN_AT]), 0)

    def test_a_contradiction_of_no_choice_is_the_end(self) -> None:
        desk = desk_of((100, 60, 40))
        desk[CAUSE] = desk[REASONS]
        self.assertEqual(learn(desk), NO_WAY_OUT)

    def test_both_possibilities_denied_is_a_contradiction_at_once(self) -> None:
        desk = desk_of((100, 60, 40), (90, 50, 30))
        for level in (ON_FLOOR, OFF_FLOOR):
            choose(desk, LEVEL, level) if int(desk[LEVEL]) == 3 else None
            desk[CAUSE] = desk[REASONS]
            because_settled(desk, LEVEL)
            outcome = learn(desk)
        self.assertIn(outcome, (AT_ONCE, NO_WAY_OUT))


class NoRoom(unittest.TestCase):
    """Seven goods that do not go in, proven by about a hundred sets: with no room to write them down
    nothing is told.
    """

    SIZES = ((107, 102, 99), (102, 99, 70), (86, 63, 91), (80, 85, 72), (64, 77, 86), (89, 44, 101), (62, 102, 59))

    def _searched(self, *preset: tuple[int, int]) -> tuple[int, int]:
        units = tuple(unit(f"u{k}", size_mm=size) for k, size in enumerate(self.SIZES))
        at, size = np.zeros((7, 3), dtype=np.int64), np.zeros((7, 3), dtype=np.int64)
        search = Relations(problem_of(box(260, 200, 120), units, RULES))
        # What the counters claim to be there already must not be whatever was in the memory before.
        search.desk[FACT:] = 0
        for counter, value in preset:
            search.desk[counter] = value
        answer, _ = search.search(20_000, at, size)
        return answer, int(search.desk[FULL])

    def test_what_was_in_the_memory_before_changes_nothing(self) -> None:
        units = tuple(unit(f"u{k}", size_mm=size) for k, size in enumerate(self.SIZES))
        fits = units[:5]
        found = []
        for before in (0, 7, 123_456_789):
            for goods in (units, fits):
                at, size = np.zeros((len(goods), 3), dtype=np.int64), np.zeros((len(goods), 3), dtype=np.int64)
                search = Relations(problem_of(box(260, 200, 120), goods, RULES))
                # Facts, reasons and sets are written before they are read; marks and the first set's begin are not.
                search.desk[FACT:MARK] = before
                search.desk[WANTED:SET_BEGIN] = before
                search.desk[SET_BEGIN + 1 :] = before
                found.append((search.search(20_000, at, size), at.tolist(), size.tolist()))
        self.assertEqual([answer for (answer, _), _, _ in found[:2]], [NONE, FOUND])
        self.assertEqual(found[0::2], [found[0]] * 3)
        self.assertEqual(found[1::2], [found[1]] * 3)

    def test_what_cannot_be_written_down_proves_nothing(self) -> None:
        self.assertEqual(self._searched(), (NONE, 0))
        for counter, most in ((REASONS, MOST_REASONS), (FACTS, MOST_FACTS), (SETS, MOST_SETS), (PARTS, MOST_PARTS)):
            for left in (1, 10, 50):
                # Sets begin where those before them end.
                begins = (SET_BEGIN + most - left, 0) if counter == SETS else (SET_BEGIN, 0)
                followed = (FOLLOWED, most - left if counter == FACTS else 0)
                with self.subTest(counter=counter, left=left):
                    self.assertEqual(self._searched((counter, most - left), begins, followed), (UNKNOWN, 1))

    def test_what_is_given_up_stays_given_up(self) -> None:
        units = tuple(unit(f"u{k}", size_mm=size) for k, size in enumerate(self.SIZES))
        at, size = np.zeros((7, 3), dtype=np.int64), np.zeros((7, 3), dtype=np.int64)
        search = Relations(problem_of(box(260, 200, 120), units, RULES))
        search.desk[FACT:] = 0
        search.desk[REASONS] = MOST_REASONS - 50
        for _ in range(3):
            self.assertEqual(search.search(20_000, at, size)[0], UNKNOWN)
