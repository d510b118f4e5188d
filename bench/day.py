"""The order of packing: how long it takes, and whether it holds over many made-up days: ./calm bench day [DAYS].

Timed: 60 parcels for 2 people and 300 for 3, schedule and latest start, against the wanted 50 ms. Checked: every
schedule is walked by ``core.day.verify``; up to 9 parcels and 2 people are compared with trying every order.
"""

import random
import statistics
import sys
import time

from core.day.model import Job, Span, Table
from core.day.schedule import latest_start, schedule
from core.day.verify import faults_of_schedule
from tests.core.days import SAVING, brute_force, random_day

WANTED_MS = 50.0


def timed_day(rng: random.Random, count: int, people: int) -> tuple[list[Job], list[Table]]:
    """Return parcels of eight kinds for three hand-overs that take about as long as there is."""
    room = count * 520 // people
    jobs = [
        Job(
            code=str(number),
            seconds=rng.randint(180, 900),
            alike=rng.choice("ABCDEFGH"),
            due_s=int(room * rng.choice((0.5, 0.8, 1.0))),
        )
        for number in range(count)
    ]
    return jobs, [Table(who=str(n), spans=(Span(from_s=0, to_s=room * 2),)) for n in range(people)]


def measure(count: int, people: int) -> None:
    """Print the median and worst of 20 days."""
    took: list[float] = []
    start_took: list[float] = []
    outcomes: dict[str, int] = {}
    for seed in range(20):
        jobs, tables = timed_day(random.Random(seed), count, people)
        began = time.perf_counter()
        outcome = schedule(jobs, tables).outcome
        took.append((time.perf_counter() - began) * 1000)
        outcomes[outcome] = outcomes.get(outcome, 0) + 1
        began = time.perf_counter()
        latest_start(jobs, tables)
        start_took.append((time.perf_counter() - began) * 1000)
    print(
        f"{count} parcels, {people} people: schedule {statistics.median(took):.1f} ms, worst {max(took):.1f} ms "
        f"({max(took) / WANTED_MS:.2f} of the wanted {WANTED_MS:.0f}); "
        f"latest start {statistics.median(start_took):.1f} ms, worst {max(start_took):.1f} ms; {outcomes}"
    )


def check(days: int) -> int:
    """Walk so many made-up days; return how many have a fault."""
    faulty, compared, late = 0, 0, 0
    outcomes: dict[str, int] = {}
    for seed in range(days):
        rng = random.Random(f"day {seed}")
        jobs, tables = random_day(rng, most=30 if seed % 2 else 9)
        kept = tuple(table for table in tables if table.spans)
        found = schedule(jobs, kept)
        outcomes[found.outcome] = outcomes.get(found.outcome, 0) + 1
        if faulty_of := faults_of_schedule(found, jobs, kept, saving_percent=SAVING):
            faulty += 1
            print(f"day {seed}: {[one.code for one in faulty_of]}")
        # Trying every order of nine takes seconds: each of those sizes is tried less often.
        few, two = jobs[:9], kept[:2]
        if len(few) <= 5 or (len(few) <= 7 and seed % 20 == 0) or seed % 500 == 0:
            compared += 1
            if len(schedule(few, two).late) != brute_force(few, two):
                late += 1
                print(f"day {seed}: another order leaves fewer behind")
    print(f"{days} days: {outcomes}; {faulty} with a fault; {compared} compared with every order, {late} worse")
    return faulty + late


if __name__ == "__main__":
    schedule(*timed_day(random.Random(0), 12, 2))
    latest_start(*timed_day(random.Random(0), 12, 2))
    schedule(*timed_day(random.Random(0), 3, 2))
    measure(60, 2)
    measure(300, 3)
    sys.exit(1 if check(int(sys.argv[1]) if len(sys.argv) > 1 else 10_000) else 0)
