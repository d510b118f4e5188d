"""Laws of the day (rules 20.3): what is shown can be done, nothing is late that need not be, people never harm."""

import random
import unittest
from dataclasses import replace

from core.day.model import Span, Table
from core.day.schedule import latest_of_many, latest_start, schedule, soon_in_time
from core.day.verify import faults_of_schedule
from tests.core.days import SAVING, brute_force, random_day, random_tables

#: ./calm bench day looks at 10 000.
DAYS = 600
FAR = 1 << 40


class DayLaws(unittest.TestCase):
    def test_every_schedule_can_be_walked_with_hands_and_a_clock(self) -> None:
        outcomes = set()
        for seed in range(DAYS):
            jobs, tables = random_day(random.Random(seed))
            found = schedule(jobs, tables)
            outcomes.add(found.outcome)
            kept = tuple(table for table in tables if table.spans)
            self.assertEqual(faults_of_schedule(found, jobs, kept, saving_percent=SAVING), (), seed)
        self.assertEqual(outcomes, {"all", "cannot", "not_found"})

    def test_a_day_that_can_be_done_can_be_done_with_another_person(self) -> None:
        for seed in range(DAYS):
            rng = random.Random(seed)
            jobs, tables = random_day(rng)
            if len(tables) < 3 and not schedule(jobs, tables).late:
                self.assertFalse(schedule(jobs, (*tables, *random_tables(rng, 1))).late, seed)

    def test_never_late_where_trying_every_order_is_not(self) -> None:
        for seed in range(400):
            jobs, tables = random_day(random.Random(seed), most=6 if seed % 8 else 7)
            found = schedule(jobs, tables[:2])
            self.assertEqual(len(found.late), brute_force(jobs, tables[:2]), seed)

    def test_what_is_proven_for_many_is_so_for_the_few_that_prove_it(self) -> None:
        """A day of many that is said to be impossible stays so with a person or a minute less."""
        proven = 0
        for seed in range(DAYS):
            jobs, tables = random_day(random.Random(seed), most=20)
            found = schedule(jobs, tables)
            if found.outcome == "cannot" and len(jobs) > 9:
                proven += 1
                self.assertNotEqual(schedule(jobs, tables[:-1]).outcome, "all", seed)
                self.assertNotEqual(schedule([replace(j, due_s=j.due_s - 60) for j in jobs], tables).outcome, "all")
        self.assertGreater(proven, 20)

    def test_a_latest_start_can_be_kept_and_a_second_later_of_few_cannot(self) -> None:
        for seed in range(DAYS):
            jobs, tables = random_day(random.Random(seed), most=9)
            start = latest_start(jobs, tables)
            if start is None:
                self.assertTrue(not jobs or not soon_in_time(jobs, tables), seed)
                continue
            self.assertTrue(soon_in_time(jobs, [table.within(start, FAR) for table in tables]), seed)
            self.assertFalse(soon_in_time(jobs, [table.within(start + 1, FAR) for table in tables]), seed)

    def test_a_latest_start_of_many_comes_with_an_order_that_can_be_walked(self) -> None:
        for seed in range(DAYS // 10):
            jobs, tables = random_day(random.Random(seed))
            kept = tuple(table for table in tables if table.spans)
            found = latest_of_many(jobs, kept) if len(jobs) > 9 else None
            if found is not None:
                start, shown = found
                self.assertEqual((shown.late, min(slot.start_s for slot in shown.slots) >= start), ((), True), seed)
                self.assertEqual(faults_of_schedule(shown, jobs, kept, saving_percent=SAVING), (), seed)
                self.assertEqual(latest_start(jobs, tables), start)

    def test_the_same_day_gives_the_same_order(self) -> None:
        for seed in range(50):
            jobs, tables = random_day(random.Random(seed))
            self.assertEqual(schedule(jobs, tables), schedule(jobs, tables))

    def test_longer_hours_never_leave_more_of_few_behind(self) -> None:
        for seed in range(300):
            jobs, tables = random_day(random.Random(seed), most=9)
            longer = [
                Table(who=t.who, spans=(*t.spans[:-1], Span(from_s=t.spans[-1].from_s, to_s=t.spans[-1].to_s + 900)))
                for t in tables
                if t.spans
            ]
            self.assertLessEqual(len(schedule(jobs, longer).late), len(schedule(jobs, tables).late), seed)
