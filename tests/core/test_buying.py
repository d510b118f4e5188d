"""What runs out when and what to buy: the worked numbers of rules 14.1 to 14.6, days by hand, breaks, budgets."""

import unittest
from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal
from itertools import product

from core.buying.exact import run_outs, solve
from core.buying.needs import Line, Need, Shop, line_of, watched
from core.buying.offers import Buying, Offer, PriceBreak, Supplier, amounts, arrives_on, best_amount, yearly_cost
from core.buying.outlook import Arrival, outlook, runs_out_with
from core.buying.plan import buy
from core.buying.reorder import reorder, reorder_point, safety_stock
from core.buying.use import ALL_ALIKE, UseRate, WeekUse, use_rate, weeks_before
from core.buying.workdays import WorkDays
from tests.core.cupboards import random_cupboard, random_problem

D = Decimal
MONDAY = date(2026, 11, 23)
WEEK = WorkDays(weekdays=(0, 1, 2, 3, 4))
SHOP = Shop(today=MONDAY, calendar=WEEK)
MARLPIT = Supplier(code="marlpit", name="Marlpit Board", lead_days=4, delivery=D("6.50"), free_from=D(90))


def weeks(*used: int) -> tuple[WeekUse, ...]:
    """Return the last weeks, the latest last."""
    return tuple(
        WeekUse(first_day=day, used=D(many)) for day, many in zip(weeks_before(MONDAY)[-len(used) :], used, strict=True)
    )


def offer(supplier: Supplier = MARLPIT, *, pack: int = 25, least: int = 0, **breaks: str) -> Offer:
    """Return an offer; breaks as ``from_50="0.76"``."""
    prices = [(D(name.removeprefix("from_")), D(price)) for name, price in breaks.items()]
    found = tuple(PriceBreak(from_quantity=many, price=price) for many, price in prices)
    return Offer(supplier=supplier, pack=D(pack), least=D(least), breaks=found)


def need(code: str = "C-14", *, on_hand: int = 34, used: tuple[int, ...] = (17, 17, 17, 17), **more: object) -> Need:
    """Return a supply with four alike weeks behind it."""
    values: dict[str, object] = {"needed": {}, "weeks": weeks(*used), "offers": (offer(from_0="0.82"),)}
    return Need(code=code, on_hand=D(on_hand), **{**values, **more})  # type: ignore[arg-type]


class Days(unittest.TestCase):
    def test_working_days_pass_over_weekends_and_closures(self) -> None:
        closed = WorkDays(weekdays=(0, 1, 2, 3, 4), closed=frozenset({date(2026, 11, 25)}))
        self.assertEqual(closed.add(MONDAY, 2), date(2026, 11, 26))
        self.assertEqual(closed.add(date(2026, 11, 26), -2), MONDAY)
        self.assertEqual(WEEK.add(date(2026, 11, 27), 1), date(2026, 11, 30))
        self.assertEqual(WEEK.between(MONDAY, date(2026, 11, 30)), 5)
        self.assertEqual(WEEK.between(date(2026, 11, 30), MONDAY), -5)
        self.assertEqual(WEEK.days(date(2026, 11, 28), 2), (date(2026, 11, 30), date(2026, 12, 1)))

    def test_a_calendar_without_a_day_is_refused(self) -> None:
        with self.assertRaises(ValueError):
            WorkDays(weekdays=())
        never = WorkDays(weekdays=(0,), closed=frozenset(MONDAY + timedelta(weeks=n) for n in range(500)))
        with self.assertRaises(ValueError):
            never.add(MONDAY, 1)


class Use(unittest.TestCase):
    def test_a_hundred_a_week_at_one_point_eight_is_a_hundred_and_twenty_two_at_two_point_two(self) -> None:
        season = (*ALL_ALIKE[:10], D("1.8"), D("2.2"))
        november = tuple(WeekUse(first_day=date(2026, 11, 2) + timedelta(weeks=n), used=D(100)) for n in range(3))
        rate = use_rate(november, season=season, days_a_week=5)
        self.assertEqual((rate.mean * 5 * season[11]).quantize(D(1)), 122)

    def test_weeks_without_a_working_day_are_left_out(self) -> None:
        closed = WeekUse(first_day=date(2026, 10, 5), used=D(0), worked=False)
        self.assertEqual(use_rate((*weeks(20, 30), closed), season=ALL_ALIKE, days_a_week=5).mean, 5)

    def test_the_deviation_is_of_weekly_sums_over_the_root_of_the_days(self) -> None:
        # 20 and 30: mean 25, sd 7.07 a week; a day 7.07 / sqrt 5 = 3.162.
        rate = use_rate(weeks(20, 30), season=ALL_ALIKE, days_a_week=5)
        self.assertEqual((rate.sd.quantize(D("0.001")), rate.weeks), (D("3.162"), 2))
        self.assertEqual(use_rate(weeks(20), season=ALL_ALIKE, days_a_week=5).sd, 0)
        self.assertEqual(use_rate((), season=ALL_ALIKE, days_a_week=5), UseRate(mean=D(0), sd=D(0), weeks=0))


class Ahead(unittest.TestCase):
    FLAT = UseRate(mean=D(4), sd=D(0), weeks=4)

    def test_it_runs_out_on_the_first_day_below_nought(self) -> None:
        # 10 on hand, 4 a day: 6, 2, -2 on Wednesday.
        found = outlook(D(10), (), {}, self.FLAT, season=ALL_ALIKE, days=WEEK.days(MONDAY, 10))
        self.assertEqual((found.runs_out, found.cover_days, found.level_on(1)), (date(2026, 11, 25), 2, 2))

    def test_open_orders_count_where_they_ask_for_more_than_the_mean(self) -> None:
        needed = {MONDAY - timedelta(days=3): D(5), MONDAY: D(2), date(2026, 11, 24): D(1)}
        found = outlook(D(30), (), needed, self.FLAT, season=ALL_ALIKE, days=WEEK.days(MONDAY, 3))
        self.assertEqual([used // 1_000_000 for used in found.use], [7, 4, 4])

    def test_a_supply_nobody_has_used_yet_counts_from_its_first_order(self) -> None:
        none = UseRate(mean=D(0), sd=D(0), weeks=0)
        found = outlook(D(1), (), {date(2026, 11, 26): D(2)}, none, season=ALL_ALIKE, days=WEEK.days(MONDAY, 9))
        self.assertEqual(found.runs_out, date(2026, 11, 26))

    def test_what_arrives_counts_on_its_day_and_what_is_overdue_tomorrow(self) -> None:
        days = WEEK.days(MONDAY, 6)
        on_its_day = outlook(D(5), [Arrival(day=days[2], quantity=D(8))], {}, self.FLAT, season=ALL_ALIKE, days=days)
        self.assertEqual([on_its_day.level_on(at) for at in range(4)], [1, -3, 1, -3])
        overdue = Arrival(day=MONDAY - timedelta(days=5), quantity=D(8))
        self.assertEqual(outlook(D(5), [overdue], {}, self.FLAT, season=ALL_ALIKE, days=days).level_on(1), 5)

    def test_nine_in_ten_lie_within_the_range(self) -> None:
        rate = UseRate(mean=D(4), sd=D(2), weeks=8)
        found = outlook(D(34), (), {}, rate, season=ALL_ALIKE, days=WEEK.days(MONDAY, 40))
        # Day 4: 34 - 16 = 18; 1.645 x 2 x sqrt 4 = 6.58.
        self.assertEqual(found.spread[3], 6_580_000)
        assert found.early and found.runs_out and found.late
        self.assertTrue(found.early < found.runs_out < found.late)

    def test_more_stock_lasts_longer_and_what_runs_out_before_it_comes_is_not_helped(self) -> None:
        found = outlook(D(10), (), {}, self.FLAT, season=ALL_ALIKE, days=WEEK.days(MONDAY, 20))
        self.assertEqual([runs_out_with(found, D(many), 1) for many in (0, 4, 20)], [2, 3, 7])
        self.assertEqual(runs_out_with(found, D(20), 5), 7)


class Reordering(unittest.TestCase):
    def test_worked_numbers(self) -> None:
        safety = safety_stock(z=D("1.645"), sd=D("3.1"), lead_days=7)
        self.assertEqual(safety.quantize(D("0.1")), D("13.5"))
        self.assertEqual(reorder_point(mean=D("6.2"), lead_days=7, safety=safety).quantize(D("0.1")), D("56.9"))

    def test_the_day_to_order_by_is_lead_time_and_safety_before_the_run_out(self) -> None:
        found = reorder(date(2026, 12, 18), mean=D("6.2"), sd=D("3.1"), lead_days=7, z=D("1.645"), calendar=WEEK)
        # 13.5 / 6.2 is 2.2, so three days; ten working days before Friday 18 December.
        self.assertEqual((found.safety_days, found.order_by), (3, date(2026, 12, 4)))


class Amounts(unittest.TestCase):
    BREAKS = offer(pack=50, from_0="0.82", from_100="0.76", from_250="0.69", from_500="0.66")

    def found(self, **more: object) -> tuple[tuple[str, ...], ...]:
        values: dict[str, object] = {
            "use_a_day": D("6.2"), "use_a_year": D("6.2") * 365, "room": None, "longest_days": 182, "buying": Buying()
        }  # fmt: skip
        alone = replace(self.BREAKS, supplier=replace(MARLPIT, free_from=None))
        got = amounts(alone, D(50), **{**values, **more})  # type: ignore[arg-type]
        return tuple((f"{one.quantity:f}", f"{one.yearly}", one.barred) for one in got)

    def test_worked_numbers_of_a_year(self) -> None:
        self.assertEqual(
            self.found(),
            (("50", "2153.95", ""), ("100", "1874.58", ""), ("250", "1637.56", ""), ("500", "1556.00", "")),
        )
        alone = replace(self.BREAKS, supplier=replace(MARLPIT, free_from=None))
        best = best_amount(
            amounts(alone, D(50), use_a_day=D("6.2"), use_a_year=D(2263), room=None, longest_days=182, buying=Buying())
        )
        self.assertEqual((best.quantity, best.cover_days), (500, 81))

    def test_what_lasts_too_long_or_has_no_room_is_barred(self) -> None:
        self.assertEqual([one[2] for one in self.found(room=D(120))], ["", "", "slot_full", "slot_full"])
        self.assertEqual([one[2] for one in self.found(longest_days=30)], ["", "", "too_long", "too_long"])
        # What is needed is never barred.
        self.assertEqual(self.found(room=D(10))[0][2], "")

    def test_delivery_counts_as_nothing_from_the_free_sum_on(self) -> None:
        paid, free = (
            yearly_cost(use_a_year=D(1000), price=D(1), quantity=D(100), delivery=D(d), interest_percent=20)
            for d in (6, 0)
        )
        self.assertEqual(paid - free, 60)
        got = amounts(
            offer(pack=100, from_0="0.80", from_200="0.79"), D(100), use_a_day=D(4), use_a_year=D(1000), room=None,
            longest_days=130, buying=Buying(),
        )  # fmt: skip
        self.assertEqual([one.delivery for one in got], [D("6.50"), 0])

    def test_packs_and_least_amounts(self) -> None:
        self.assertEqual([offer(pack=25, least=50).rounded_up(D(q)) for q in (0, 51, 75)], [50, 75, 75])

    def test_a_supplier_comes_on_its_days(self) -> None:
        tuesdays = replace(MARLPIT, lead_days=3, delivers_on=(1,))
        self.assertEqual(arrives_on(tuesdays, MONDAY, WEEK), date(2026, 12, 1))
        self.assertEqual(arrives_on(replace(tuesdays, delivers_on=(6,)), MONDAY, WEEK), date(2026, 11, 26))


class Listed(unittest.TestCase):
    def line(self, one: Need) -> Line | None:
        return line_of(watched([one], SHOP)[0], SHOP)

    def test_what_must_be_ordered_within_three_days_is_on_the_list(self) -> None:
        # 17 a week is 3.4 a day; 34 last ten days, to be ordered 4 days before.
        self.assertIsNone(self.line(need(on_hand=34)))
        listed = self.line(need(on_hand=22))
        assert listed is not None
        self.assertEqual((listed.why, listed.reorder.order_by), ("due", date(2026, 11, 25)))
        self.assertEqual(listed.arrives_on, date(2026, 11, 27))

    def test_the_amount_lasts_the_six_weeks_after_it_arrives(self) -> None:
        listed = self.line(need(on_hand=22, offers=(offer(pack=1, from_0="0.82"),)))
        assert listed is not None
        # Friday's 22 - 4 x 3.4 = 8.4 left; 30 days x 3.4 = 102; no deviation, so no safety stock.
        self.assertEqual(listed.chosen.quantity, 94)
        self.assertEqual(listed.lasts_until, WEEK.add(listed.arrives_on, 30))

    def test_at_its_mark_it_is_on_the_list_whatever_it_uses(self) -> None:
        quiet = need(on_hand=3, used=(0, 0), mark=D(5))
        listed = self.line(quiet)
        assert listed is not None
        self.assertEqual((listed.why, listed.chosen.quantity), ("mark", 25))
        self.assertIsNone(self.line(replace(quiet, arrivals=(Arrival(day=MONDAY, quantity=D(10)),))))

    def test_the_supplier_that_comes_in_time_goes_before_the_cheaper_one(self) -> None:
        slow = replace(MARLPIT, code="slow", lead_days=20)
        both = (offer(from_0="0.82"), offer(slow, from_0="0.40"))
        listed = self.line(need(on_hand=22, offers=both))
        assert listed is not None
        self.assertEqual(listed.offer.supplier.code, "marlpit")
        late = self.line(need(on_hand=1, offers=(offer(slow, from_0="0.40"),)))
        assert late is not None
        self.assertTrue(late.too_late)

    def test_without_an_offer_nothing_can_be_listed(self) -> None:
        self.assertIsNone(self.line(need(on_hand=0, offers=())))


class Together(unittest.TestCase):
    def test_lines_of_a_supplier_are_one_order_and_bring_along_what_is_due_within_ten_days(self) -> None:
        supplies = watched([need("A", on_hand=20), need("B", on_hand=40), need("C", on_hand=90)], SHOP)
        plan = buy(supplies, SHOP)
        (order,) = plan.orders
        self.assertEqual([(line.code, line.why) for line in order.lines], [("A", "due"), ("B", "with_it")])
        self.assertEqual(order.goods, sum(line.chosen.goods for line in order.lines))
        self.assertEqual((plan.outcome, plan.total), ("all", order.total))

    def test_nothing_is_brought_along_when_nothing_is_due(self) -> None:
        self.assertEqual(buy(watched([need(on_hand=40)], SHOP), SHOP).orders, ())

    def test_raising_to_the_free_sum_is_offered_when_it_is_used_up_in_time(self) -> None:
        one = need(on_hand=20, offers=(offer(pack=25, from_0="0.70"),))
        (order,) = buy(watched([one], SHOP), SHOP).orders
        assert order.to_free is not None
        # 100 for 70.00; 30 packs of 17.50 more: 25 + 25 come to 105.00.
        self.assertEqual((order.delivery, order.to_free.saves), (D("6.50"), D("6.50")))
        self.assertGreaterEqual(order.goods + order.to_free.goods, D(90))
        slow = need(on_hand=1, used=(1, 1, 1, 1), offers=(offer(pack=5, from_0="0.70"),))
        (small,) = buy(watched([slow], SHOP), SHOP).orders
        self.assertIsNone(small.to_free)

    def test_a_person_may_want_another_quantity_or_none(self) -> None:
        supplies = watched([need("A", on_hand=20), need("B", on_hand=20)], SHOP)
        plan = buy(supplies, SHOP, quantities={"A": D(30)}, without=frozenset({"B"}))
        (order,) = plan.orders
        self.assertEqual([(line.code, line.chosen.quantity) for line in order.lines], [("A", 50)])


class Budget(unittest.TestCase):
    def test_the_earliest_run_out_is_put_as_late_as_can_be(self) -> None:
        # Both run out; the money is enough for one whole line, or for a part of both.
        supplies = watched([need("A", on_hand=10), need("B", on_hand=14)], SHOP)
        whole = buy(supplies, SHOP)
        plan = buy(supplies, SHOP, budget=whole.total * D("0.6"))
        self.assertEqual((plan.outcome, plan.left_out), ("exact", ()))
        self.assertLessEqual(plan.total, whole.total * D("0.6"))
        self.assertEqual(len(plan.thumb), 1)
        self.assertGreater(plan.run_outs[0] or date.max, plan.thumb_run_outs[0] or date.max)

    def test_what_is_left_out_is_told_with_the_day_it_is_missed_from(self) -> None:
        supplies = watched([need("A", on_hand=10), need("B", on_hand=14)], SHOP)
        plan = buy(supplies, SHOP, budget=D(30))
        self.assertEqual([(one.line.code, one.misses_from) for one in plan.left_out], [("B", date(2026, 11, 27))])
        self.assertEqual(buy(supplies, SHOP, budget=D(0)).orders, ())

    def test_it_agrees_with_every_plan_there_is(self) -> None:
        for seed in range(200):
            problem, budget = random_problem(seed)
            by_line: list[list[int | None]] = [[None] for _ in problem.without]
            for at, one in enumerate(problem.options):
                by_line[one.line].append(at)
            ways = [way for way in product(*by_line) if problem.cost(way) <= budget and problem.allowed(way)]
            best = max(ways, key=lambda way: (run_outs(problem, way), -problem.cost(way)))
            found = solve(problem, budget, [None] * len(problem.without))
            self.assertTrue(found.proven)
            self.assertEqual(
                (run_outs(problem, found.chosen), problem.cost(found.chosen)),
                (run_outs(problem, best), problem.cost(best)),
                f"seed {seed}",
            )

    def test_of_more_than_forty_lines_it_is_bounded_and_no_worse_than_the_rule_of_thumb(self) -> None:
        supplies = watched([need(f"N{number:02}", on_hand=number % 23) for number in range(60)], SHOP)
        whole = buy(supplies, SHOP)
        plan = buy(supplies, SHOP, budget=(whole.total / 3).quantize(D("0.01")))
        self.assertEqual(plan.outcome, "bounded")
        self.assertLessEqual(plan.total, whole.total / 3)
        mine, thumb = ([one or date.max for one in found] for found in (plan.run_outs, plan.thumb_run_outs))
        self.assertGreaterEqual(mine, thumb)

    def test_it_is_never_worse_than_the_rule_of_thumb(self) -> None:
        for seed in range(500):
            supplies = watched(random_cupboard(seed, MONDAY, most=7), SHOP)
            whole = buy(supplies, SHOP)
            plan = buy(supplies, SHOP, budget=(whole.total * D(seed % 9 + 1) / 10).quantize(D("0.01")))
            mine, thumb = ([one or date.max for one in found] for found in (plan.run_outs, plan.thumb_run_outs))
            self.assertGreaterEqual(mine, thumb, f"seed {seed}")


if __name__ == "__main__":
    unittest.main()
