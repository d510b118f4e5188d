"""The day (rules 20.3): the worked numbers, hand-overs, order of packing, ways out."""

import unittest
from dataclasses import replace
from datetime import UTC, date, datetime, time, timedelta
from decimal import Decimal
from itertools import combinations
from zoneinfo import ZoneInfo

from core.day.cutting import SheetNeed, cut_offs
from core.day.hand_overs import (
    DAY_S,
    HandOverRule,
    TableHours,
    due_at,
    hand_overs_between,
    share_out,
    tables_on,
)
from core.day.model import Job, Span, Table, saved_seconds, seconds_of
from core.day.prepare import Lead, earlier_by, ready_at, tasks_of
from core.day.schedule import latest_start, schedule, soon_in_time
from core.day.today import DayParcel, DayPlan, jobs_of, moved, plan_day, ways_out
from core.day.verify import faults_of_schedule
from core.day.waves import Gathered, needed_by, waves_of

MONDAY = date(2026, 11, 23)
HOUR = 3600


def table(*spans: tuple[int, int], who: str = "Maren") -> Table:
    return Table(who=who, spans=tuple(Span(from_s=a, to_s=b) for a, b in spans))


def job(code: str, minutes: str, due_s: int, alike: str = "", ready_s: int = 0) -> Job:
    return Job(code=code, seconds=seconds_of(Decimal(minutes)), alike=alike, due_s=due_s, ready_s=ready_s)


class WorkedNumbers(unittest.TestCase):
    """Rule 20, as written there."""

    def test_three_alike_of_eight_minutes_take_21_6(self) -> None:
        each = seconds_of(Decimal(8))
        self.assertEqual(each + 2 * saved_seconds(each, 15), seconds_of(Decimal("21.6")))
        found = schedule([job(str(n), "8", HOUR, "A") for n in range(3)], [table((0, HOUR))])
        self.assertEqual(found.ends_s, seconds_of(Decimal("21.6")))

    def test_a_row_crosses_dues_where_all_still_end_in_time(self) -> None:
        jobs = [
            job("A1", "10", 1800, "A"),
            job("B1", "10", 1800, "B"),
            job("A2", "10", 2250, "A"),
            job("B2", "10", 2250, "B"),
        ]
        found = schedule(jobs, [table((0, 2 * HOUR))])
        self.assertEqual([slot.code for slot in found.slots], ["A1", "A2", "B1", "B2"])
        self.assertEqual((found.outcome, found.ends_s), ("all", seconds_of(Decimal("37.0"))))

    def test_the_latest_start_counts_later_hand_overs_in(self) -> None:
        jobs = [job("1", "60", 10 * HOUR), job("2", "60", 10 * HOUR + 1800)]
        self.assertEqual(latest_start(jobs, [table((0, DAY_S))]), 8 * HOUR + 1800)
        self.assertEqual(latest_start(jobs[1:], [table((0, DAY_S))]), 9 * HOUR + 1800)

    def test_one_person_56_minutes_two_29_three_21(self) -> None:
        jobs = [job(str(n), str(m), 16 * HOUR) for n, m in enumerate((8, 12, 6, 15, 6, 9))]
        for people, minutes in ((1, 56), (2, 29), (3, 21)):
            start = latest_start(jobs, [table((0, DAY_S))] * people)
            self.assertEqual(16 * HOUR - (start or 0), minutes * 60)


class Order(unittest.TestCase):
    def test_ending_at_the_time_is_in_time_and_a_second_more_is_not(self) -> None:
        self.assertEqual(schedule([job("1", "10", 600)], [table((0, HOUR))]).outcome, "all")
        late = schedule([job("1", "10", 599)], [table((0, HOUR))])
        self.assertEqual((late.outcome, late.late), ("cannot", ("1",)))

    def test_a_row_lasts_over_a_pause_but_a_parcel_is_not_left_in_the_middle(self) -> None:
        jobs = [job("1", "8", DAY_S, "A"), job("2", "8", DAY_S, "A")]
        found = schedule(jobs, [table((0, 600), (900, 1800))])
        self.assertEqual([(slot.start_s, slot.end_s) for slot in found.slots], [(0, 480), (900, 1308)])

    def test_nothing_is_begun_before_it_is_ready(self) -> None:
        found = schedule([job("1", "5", HOUR, ready_s=1200), job("2", "5", HOUR)], [table((0, HOUR))])
        self.assertEqual([(slot.code, slot.start_s) for slot in found.slots], [("2", 0), ("1", 1200)])

    def test_as_few_as_can_be_are_left_behind(self) -> None:
        jobs = [job("long", "50", HOUR), *(job(str(n), "15", HOUR) for n in range(4))]
        self.assertEqual(schedule(jobs, [table((0, HOUR))]).late, ("long",))

    def test_nobody_at_the_table_leaves_all_behind(self) -> None:
        found = schedule([job("1", "5", HOUR)], [])
        self.assertEqual((found.outcome, found.late, latest_start([job("1", "5", HOUR)], [])), ("cannot", ("1",), None))

    def test_an_empty_day_is_done(self) -> None:
        self.assertEqual(schedule([], [table((0, HOUR))]).outcome, "all")
        self.assertIsNone(latest_start([], [table((0, HOUR))]))

    def test_too_much_for_many_is_proven(self) -> None:
        jobs = [job(str(n), "10", HOUR) for n in range(40)]
        found = schedule(jobs, [table((0, DAY_S))])
        self.assertEqual((found.outcome, len(found.late), found.exact), ("cannot", 34, False))

    def test_the_checker_sees_each_fault(self) -> None:
        jobs, tables = [job("1", "10", HOUR), job("2", "10", HOUR)], [table((0, HOUR))]
        good = schedule(jobs, tables)
        self.assertEqual(faults_of_schedule(good, jobs, tables, saving_percent=15), ())
        for change, code in (
            ({"start_s": 10}, "wrong_length"),
            ({"start_s": 3300, "end_s": 3900}, "ends_late"),
            ({"start_s": -600, "end_s": 0}, "nobody_there"),
            ({"start_s": 300, "end_s": 900}, "two_at_once"),
            ({"table": 3}, "no_such_table"),
            ({"code": "3"}, "not_each_once"),
        ):
            bad = replace(good, slots=(replace(good.slots[0], **change), good.slots[1]))
            self.assertIn(code, [one.code for one in faults_of_schedule(bad, jobs, tables, saving_percent=15)])


COLLECTION = HandOverRule(code="lark", carriers=("larkline",), kind="collection", days=(0, 1, 2, 3, 4), at=time(15, 40))
TRIP = HandOverRule(
    code="quill", carriers=("quillpost",), kind="trip", days=(0, 2, 4), at=time(17, 0), way_minutes=15, who="Maren"
)


class HandOvers(unittest.TestCase):
    def hand_overs(self, *rules: HandOverRule, closed: tuple[date, ...] = (), **more: object) -> tuple:  # type: ignore[type-arg]
        return hand_overs_between(rules, today=MONDAY, first=MONDAY, days=10, closed=closed, **more)  # type: ignore[arg-type]

    def due(self, hand_overs: tuple, ship_on: date, cut_off: time, now_s: int = 0, carrier: str = "larkline") -> str:  # type: ignore[type-arg]
        found = due_at(carrier, cut_off, ship_on, hand_overs, today=MONDAY, now_s=now_s)
        return found.key if found else ""

    def test_a_parcel_is_due_at_the_last_hand_over_before_its_cut_off(self) -> None:

        both = self.hand_overs(COLLECTION, replace(COLLECTION, code="late", at=time(18, 0)))
        self.assertEqual(self.due(both, MONDAY, time(16, 0)), "lark@2026-11-23")
        self.assertEqual(self.due(both, MONDAY, time(18, 0)), "late@2026-11-23")

    def test_a_cut_off_before_the_collection_makes_it_the_day_before(self) -> None:
        tuesday = MONDAY + timedelta(days=1)
        self.assertEqual(self.due(self.hand_overs(COLLECTION), tuesday, time(12, 0)), "lark@2026-11-23")

    def test_what_was_missed_goes_to_the_next_one(self) -> None:
        at = 15 * HOUR + 40 * 60
        self.assertEqual(self.due(self.hand_overs(COLLECTION), MONDAY, time(16, 0), at), "lark@2026-11-23")
        self.assertEqual(self.due(self.hand_overs(COLLECTION), MONDAY, time(16, 0), at + 1), "lark@2026-11-24")

    def test_closures_and_holidays_move_it(self) -> None:
        closed = self.hand_overs(COLLECTION, closed=(MONDAY, MONDAY + timedelta(days=1)))
        self.assertEqual(self.due(closed, MONDAY, time(16, 0)), "lark@2026-11-25")
        holidays = self.hand_overs(COLLECTION, holidays={"larkline": {MONDAY}})
        self.assertEqual(self.due(holidays, MONDAY, time(16, 0)), "lark@2026-11-24")
        friday = MONDAY + timedelta(days=4)
        self.assertEqual(
            self.due(self.hand_overs(COLLECTION), friday + timedelta(days=1), time(16, 0)), "lark@2026-11-30"
        )

    def test_an_own_trip_is_due_when_we_leave_and_nobody_else_takes_it(self) -> None:
        found = self.hand_overs(TRIP)
        self.assertEqual((found[0].due_s, found[0].back_s), (16 * HOUR + 2700, 17 * HOUR + 900))
        self.assertEqual(self.due(found, MONDAY, time(17, 0), carrier="larkline"), "")
        self.assertEqual(self.due(found, MONDAY, time(17, 0), 16 * HOUR + 2701, "quillpost"), "quill@2026-11-25")

    def test_a_full_hand_over_sends_the_rest_on(self) -> None:

        found = self.hand_overs(replace(COLLECTION, most_parcels=2))
        shared = share_out([(code, found[0]) for code in "abc"], found, dict.fromkeys("abc", "larkline"))
        self.assertEqual([shared[code].day.day for code in "abc"], [23, 23, 24])

    def test_who_is_on_the_way_does_not_pack(self) -> None:
        hours = [
            TableHours(who="Maren", days=(0,), begins=time(13), ends=time(17, 30)),
            TableHours(who="Oswin", days=(0,), begins=time(13), ends=time(15)),
            TableHours(who="Oswin", days=(0,), begins=time(15), ends=time(16)),
        ]
        maren, oswin = tables_on(MONDAY, hours, self.hand_overs(TRIP), today=MONDAY)
        self.assertEqual([(s.from_s, s.to_s) for s in maren.spans], [(46_800, 60_300), (62_100, 63_000)])
        self.assertEqual([(s.from_s, s.to_s) for s in oswin.spans], [(46_800, 57_600)])
        self.assertEqual(tables_on(MONDAY, hours, (), today=MONDAY, closed=(MONDAY,)), ())
        now = tables_on(MONDAY, hours, (), today=MONDAY, from_s=57_600)
        self.assertEqual([table.seconds for table in now], [5400, 0])


def parcel(code: str, minutes: str, carrier: str = "larkline", **more: object) -> DayParcel:
    return DayParcel(
        code=code,
        seconds=seconds_of(Decimal(minutes)),
        alike="",
        carrier=carrier,
        cut_off=time(23, 59),
        ship_on=MONDAY,
        **more,  # type: ignore[arg-type]
    )


class Day(unittest.TestCase):
    def setUp(self) -> None:
        self.hand_overs = hand_overs_between([COLLECTION, TRIP], today=MONDAY, first=MONDAY, days=10)
        self.now = 13 * HOUR
        self.tables = [table((self.now, 17 * HOUR))]
        self.hours = [TableHours(who="Oswin", days=(0,), begins=time(13), ends=time(17))]

    def plan(self, *parcels: DayParcel) -> DayPlan:
        return plan_day(parcels, self.hand_overs, self.hours, today=MONDAY, now_s=self.now)

    def test_each_post_has_its_parcels_and_when_to_begin(self) -> None:
        plan = self.plan(parcel("1", "30"), parcel("2", "40"), parcel("3", "60", "quillpost"))
        lark, quill = plan.posts
        self.assertEqual((lark.parcels, quill.parcels, plan.schedule.outcome), (("1", "2"), ("3",), "all"))
        self.assertEqual(lark.latest_start_s, 15 * HOUR + 40 * 60 - 70 * 60)
        self.assertEqual(quill.latest_start_s, 16 * HOUR + 45 * 60 - 60 * 60)
        self.assertEqual(plan.latest_start_s, lark.latest_start_s)

    def test_what_lies_on_the_table_is_finished_first(self) -> None:
        plan = self.plan(parcel("1", "30"), parcel("2", "40"), parcel("3", "20", "quillpost", begun=True))
        self.assertEqual(plan.schedule.slots[0].code, "3")
        self.assertEqual(
            faults_of_schedule(
                plan.schedule, jobs_of([parcel("1", "30"), parcel("2", "40"), parcel("3", "20", "quillpost")], plan.due,
                                       MONDAY), plan.tables, saving_percent=15), ())  # fmt: skip

    def test_but_not_where_that_would_leave_another_behind(self) -> None:
        # 150 minutes before 15:40 and 20 begun for the counter: the begun one waits.
        plan = self.plan(parcel("1", "150"), parcel("2", "20", "quillpost", begun=True))
        self.assertEqual(([slot.code for slot in plan.schedule.slots], plan.schedule.outcome), (["1", "2"], "all"))

    def test_what_is_too_much_is_late_and_ways_out_are_costed(self) -> None:
        parcels = [parcel("1", "100"), parcel("2", "100"), parcel("3", "10", "quillpost")]
        plan = self.plan(*parcels)
        self.assertEqual((plan.schedule.outcome, plan.posts[0].late), ("cannot", ("2",)))

        (way,) = ways_out(
            jobs_of(parcels, plan.due, MONDAY),
            self.tables,
            now_s=self.now,
            closes_s=17 * HOUR,
            wage_per_hour=Decimal(18),
        )
        # 100 minutes before 15:40 is 14:00; 100 minutes at 18 an hour.
        self.assertEqual((way.kind, way.at_s, way.cost), ("person", 14 * HOUR, Decimal("30.00")))

    def test_beginning_earlier_is_offered_before_the_table_opens(self) -> None:

        parcels = [parcel("1", "100"), parcel("2", "100")]
        plan = self.plan(*parcels)
        ways = ways_out(
            jobs_of(parcels, plan.due, MONDAY),
            self.tables,
            now_s=9 * HOUR,
            closes_s=17 * HOUR,
            wage_per_hour=Decimal(18),
        )
        earlier = next(way for way in ways if way.kind == "earlier")
        # 200 minutes before 15:40 is 12:20, 40 minutes before opening.
        self.assertEqual((earlier.at_s, earlier.until_s, earlier.cost), (44_400, self.now, Decimal("12.00")))

    def test_a_glue_that_needs_its_time_is_packed_so_much_earlier(self) -> None:
        # 60 minutes of hot glue before 15:40: packed by 14:40.
        plan = self.plan(parcel("1", "30"), parcel("2", "40", settle_s=3600))
        self.assertEqual([slot.code for slot in plan.schedule.slots], ["2", "1"])
        self.assertEqual(plan.latest_start_s, 14 * HOUR)
        late = self.plan(parcel("2", "110", settle_s=3600))
        self.assertEqual((late.schedule.outcome, late.posts[0].late), ("cannot", ("2",)))

    def test_what_cannot_hold_by_todays_hand_over_goes_with_the_first_at_which_it_does(self) -> None:
        # Double-sided tape takes 48 hours: the collection of Wednesday 15:40, packed today, as nobody packs tomorrow.
        hours = [*self.hours, TableHours(who="Oswin", days=(2,), begins=time(13), ends=time(17))]
        plan = plan_day(
            [parcel("1", "30"), parcel("2", "40", settle_s=48 * HOUR)],
            self.hand_overs, hours, today=MONDAY, now_s=self.now,
        )  # fmt: skip
        self.assertEqual((plan.due["2"].key, plan.ahead), ("lark@2026-11-25", frozenset({"2"})))
        ahead = next(post for post in plan.posts if post.hand_over.key == "lark@2026-11-25")
        self.assertEqual(ahead.parcels, ("2",))
        slot = next(one for one in plan.schedule.slots if one.code == "2")
        self.assertLessEqual(slot.end_s, 15 * HOUR + 40 * 60)
        # Where somebody packs on the next morning, before its time, it can wait until then.
        every = [TableHours(who="Oswin", days=(0, 1, 2), begins=time(13), ends=time(17))]
        for hours_s, ahead_now in ((2 * HOUR, frozenset[str]()), (3 * HOUR, frozenset({"2"}))):
            one = replace(parcel("2", "40", settle_s=hours_s), ship_on=date(2026, 11, 24))
            waits = plan_day([one], self.hand_overs, every, today=MONDAY, now_s=self.now)
            self.assertEqual((waits.due["2"].key, waits.ahead), ("lark@2026-11-24", ahead_now))

    def test_a_parcel_moved_is_worked_out_before_it_is_done(self) -> None:
        parcels = [parcel("1", "100"), parcel("2", "100")]
        plan = self.plan(*parcels)
        tomorrow = next(one for one in self.hand_overs if one.key == "lark@2026-11-24")
        found = moved(plan, parcels, "2", tomorrow, today=MONDAY, saving_percent=15)
        self.assertEqual((found.makes_it, found.late, found.latest_start_s), (True, (), 14 * HOUR))

    def test_a_persons_choice_of_hand_over_stands_while_it_can_be_made(self) -> None:
        plan = self.plan(parcel("1", "10", hand_over="lark@2026-11-25"))
        self.assertEqual(plan.due["1"].key, "lark@2026-11-25")
        self.assertEqual(self.plan(parcel("1", "10", hand_over="quill@2026-11-23")).due["1"].key, "lark@2026-11-23")

    def test_what_no_hand_over_takes_is_told(self) -> None:
        self.assertEqual(self.plan(parcel("1", "10", "drover")).nowhere, ("1",))


class Waves(unittest.TestCase):
    def gathered(self, *things: str, hand_over: str = "a") -> list[Gathered]:
        return [
            Gathered(code=str(number), hand_over=hand_over, things=frozenset(one.split()))
            for number, one in enumerate(things)
        ]

    def test_what_shares_goods_and_containers_is_gathered_together(self) -> None:
        found = waves_of(self.gathered("jar C-14", "loaf M-3", "jar C-14", "loaf M-3", "jar C-14"), most=3)
        self.assertEqual([wave.parcels for wave in found], [("0", "2", "4"), ("1", "3")])

    def test_a_wave_is_for_one_hand_over(self) -> None:
        both = [*self.gathered("jar"), *(Gathered(code="x", hand_over="b", things=frozenset({"jar"})),)]
        self.assertEqual(len(waves_of(both)), 2)

    def test_no_sharing_out_of_twelve_needs_less(self) -> None:
        parcels = self.gathered("a b", "c d", "a e", "c f", "g", "h a", "b e", "d f")
        exact = waves_of(parcels, most=3)
        by_code = {one.code: one for one in parcels}
        cost = sum(needed_by([by_code[code] for code in wave.parcels]) for wave in exact)

        def best(left: tuple[Gathered, ...]) -> int:
            if not left:
                return 0
            first, *rest = left

            return min(
                needed_by([first, *more]) + best(tuple(one for one in rest if one not in more))
                for size in range(3)
                for more in combinations(rest, size)
            )

        self.assertEqual(cost, best(tuple(parcels)))

    def test_forty_are_all_in_a_wave_once_and_again_the_same(self) -> None:
        parcels = self.gathered(*(f"p{n % 7} c{n % 3}" for n in range(40)))
        found = waves_of(parcels)
        self.assertEqual(sorted(code for wave in found for code in wave.parcels), sorted(one.code for one in parcels))
        self.assertTrue(all(len(wave.parcels) <= 6 and not wave.exact for wave in found))
        self.assertEqual(found, waves_of(parcels))


class Cutting(unittest.TestCase):
    def test_sheets_of_several_parcels_share_a_length(self) -> None:
        needs = [
            SheetNeed(parcel="1", count=3, along_um=680_000, across_um=200_000),
            SheetNeed(parcel="2", count=3, along_um=680_000, across_um=200_000),
        ]
        (cut,) = cut_offs(needs, 500_000)
        self.assertEqual((cut.count, cut.length_um), (3, 680_000))
        self.assertEqual(cut.waste_um2, 3 * 680_000 * 100_000)

    def test_a_shorter_sheet_lies_beside_a_longer_one(self) -> None:
        needs = [
            SheetNeed(parcel="1", count=1, along_um=700_000, across_um=300_000),
            SheetNeed(parcel="2", count=1, along_um=400_000, across_um=200_000),
        ]
        (cut,) = cut_offs(needs, 500_000)
        self.assertEqual(cut.sheets, ((700_000, 300_000, 1), (400_000, 200_000, 1)))


class Preparing(unittest.TestCase):
    def lead(self, begins: datetime, what: str = "freeze the gel", hours: str = "12", parcel: str = "1") -> Lead:
        return Lead(what=what, hours_before=Decimal(hours), minutes=Decimal(2), parcel=parcel, begins=begins)

    def test_it_is_due_the_night_before_and_equal_tasks_are_put_together(self) -> None:
        zone = ZoneInfo("Europe/Vienna")
        nine = datetime(2026, 11, 24, 9, tzinfo=zone)
        leads = [
            replace(self.lead(nine, parcel="1"), goods=("Oat loaf",)),
            replace(self.lead(nine + timedelta(minutes=30), parcel="2"), goods=("Rye loaf", "Oat loaf")),
        ]
        (task,) = tasks_of(leads, now=datetime(2026, 11, 23, 12, tzinfo=zone))
        self.assertEqual(task.due, datetime(2026, 11, 23, 21, tzinfo=zone))
        self.assertEqual((task.parcels, task.minutes, task.state), (("1", "2"), Decimal(4), "due"))
        self.assertEqual(task.goods, ("Oat loaf", "Rye loaf"))

    def test_hours_that_pass_count_when_the_clocks_change(self) -> None:
        zone = ZoneInfo("Europe/Vienna")
        # On 25 October 2026 the night has an hour more: twelve hours before 9:00 is 22:00, not 21:00.
        self.assertEqual(
            earlier_by(datetime(2026, 10, 25, 9, tzinfo=zone), Decimal(12)), datetime(2026, 10, 24, 22, tzinfo=zone)
        )
        self.assertEqual(
            earlier_by(datetime(2026, 3, 29, 9, tzinfo=zone), Decimal(12)), datetime(2026, 3, 28, 20, tzinfo=zone)
        )

    def test_a_missed_task_blocks_its_parcels_and_says_until_when(self) -> None:
        now = datetime(2026, 11, 24, 8, tzinfo=UTC)
        tasks = tasks_of([self.lead(now + timedelta(hours=1))], now=now)
        self.assertEqual(tasks[0].state, "missed")
        self.assertEqual(tasks[0].ready, now + timedelta(hours=12))
        self.assertEqual(ready_at([(Decimal(12), None), (Decimal(1), None)], now=now), now + timedelta(hours=12))

    def test_what_was_begun_in_time_blocks_nothing(self) -> None:

        now = datetime(2026, 11, 24, 9, tzinfo=UTC)
        done = replace(self.lead(now), done_at=now - timedelta(hours=13))
        tasks = tasks_of([done], now=now)
        self.assertEqual(tasks[0].state, "done")
        self.assertEqual(ready_at([(Decimal(12), now - timedelta(hours=13))], now=now), now - timedelta(hours=1))
        self.assertIsNone(ready_at([], now=now))

    def test_a_moment_without_a_time_zone_is_refused(self) -> None:
        with self.assertRaises(ValueError):
            earlier_by(datetime(2026, 11, 24, 9), Decimal(1))  # noqa: DTZ001 - that is the point


class InTime(unittest.TestCase):
    def test_it_agrees_with_the_schedule(self) -> None:
        self.assertTrue(soon_in_time([job("1", "10", 600)], [table((0, 600))]))
        self.assertFalse(soon_in_time([job("1", "10", 600)], [table((1, 601))]))
