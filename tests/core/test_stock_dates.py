"""Stock that expires, and counts that are looked at twice (rules 13.6)."""

import unittest
from datetime import date, timedelta
from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st

from core.supplies.counting import asks_second_look
from core.supplies.expiry import Batch, Dated, dated
from tests.core.samples import DAY, D


def batch(quantity: int, days: int | None) -> Batch:
    return Batch(quantity=D(quantity), good_until=None if days is None else DAY + timedelta(days=days))


_batches = st.lists(st.builds(batch, st.integers(1, 50), st.one_of(st.none(), st.integers(-30, 30))), max_size=6)


class Expiry(unittest.TestCase):
    def test_what_came_first_is_used_first(self) -> None:
        # 100 came in March (gone bad yesterday), 60 in May; 80 are left: all 60 of May and 20 of March.
        newest_first = [batch(60, 20), batch(100, -1)]
        self.assertEqual(dated(D(80), newest_first, today=DAY), Dated(expired=D(20), next_day=DAY + timedelta(20)))
        self.assertEqual(dated(D(60), newest_first, today=DAY).expired, 0)
        self.assertEqual(dated(D(30), newest_first, today=DAY), Dated(expired=D(0), next_day=DAY + timedelta(20)))

    def test_the_last_day_is_a_good_day(self) -> None:
        self.assertEqual(dated(D(5), [batch(5, 0)], today=DAY), Dated(expired=D(0), next_day=DAY))
        self.assertEqual(dated(D(5), [batch(5, -1)], today=DAY), Dated(expired=D(5), next_day=None))

    def test_less_than_nothing_and_nothing_known_expire_never(self) -> None:
        self.assertEqual(dated(D(-3), [batch(5, -1)], today=DAY), Dated(expired=D(0), next_day=None))
        self.assertEqual(dated(D(7), [], today=DAY), Dated(expired=D(0), next_day=None))
        self.assertEqual(dated(D(7), [batch(9, None)], today=DAY), Dated(expired=D(0), next_day=None))

    @given(st.integers(0, 200), _batches)
    def test_no_more_expires_than_there_is_and_waiting_never_makes_it_less(
        self, on_hand: int, batches: list[Batch]
    ) -> None:
        before = Decimal(0)
        for ahead in range(-31, 32, 7):
            found = dated(D(on_hand), batches, today=DAY + timedelta(days=ahead))
            self.assertLessEqual(found.expired, min(on_hand, sum(one.quantity for one in batches)))
            self.assertGreaterEqual(found.expired, before)
            self.assertTrue(found.next_day is None or found.next_day >= DAY + timedelta(days=ahead))
            before = found.expired

    @given(st.integers(1, 200), _batches)
    def test_the_next_day_is_when_more_expires(self, on_hand: int, batches: list[Batch]) -> None:
        found = dated(D(on_hand), batches, today=DAY)
        if found.next_day is None:
            self.assertEqual(dated(D(on_hand), batches, today=date(2099, 1, 1)).expired, found.expired)
        else:
            then = dated(D(on_hand), batches, today=found.next_day + timedelta(days=1))
            self.assertGreater(then.expired, found.expired)
            self.assertEqual(dated(D(on_hand), batches, today=found.next_day).expired, found.expired)


class SecondLook(unittest.TestCase):
    def test_a_tenth_or_five_units_whichever_is_less(self) -> None:
        asked = [asks_second_look(ledger=D(40), counted=D(counted)) for counted in (40, 44, 36, 45, 35)]
        self.assertEqual(asked, [False, False, False, True, True])
        asked = [asks_second_look(ledger=D(200), counted=D(counted)) for counted in (205, 195, 206, 194)]
        self.assertEqual(asked, [False, False, True, True])

    def test_a_ledger_of_nothing_or_less(self) -> None:
        self.assertFalse(asks_second_look(ledger=D(0), counted=D(0)))
        self.assertTrue(asks_second_look(ledger=D(0), counted=D(1)))
        self.assertTrue(asks_second_look(ledger=D(-2), counted=D(0)))

    @given(st.integers(0, 500), st.integers(0, 500))
    def test_being_further_off_is_never_taken_more_lightly(self, ledger: int, off: int) -> None:
        if asks_second_look(ledger=D(ledger), counted=D(ledger + off)):
            self.assertTrue(asks_second_look(ledger=D(ledger), counted=D(ledger + off + 1)))
        self.assertEqual(
            asks_second_look(ledger=D(ledger), counted=D(ledger + off)),
            asks_second_look(ledger=D(ledger), counted=D(ledger - off)),
        )
