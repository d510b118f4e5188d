"""Made-up days, the same on every machine, and the best order of few parcels found by trying every one."""

import random
from collections.abc import Sequence
from functools import cache

from core.day.model import Job, Span, Table, saved_seconds

__all__ = ["brute_force", "random_day", "random_tables"]

SAVING = 15


def random_tables(rng: random.Random, most: int = 4) -> tuple[Table, ...]:
    """Return one to four people, some with a break."""
    tables = []
    for number in range(rng.randint(1, most)):
        begin = rng.choice((0, 0, 600, 1800, 3600))
        length = rng.randint(1200, 14_400)
        table = Table(who=str(number), spans=(Span(from_s=begin, to_s=begin + length),))
        if rng.random() < 0.3:
            away = begin + rng.randint(300, length)
            table = table.without(away, away + rng.randint(60, 2400))
        tables.append(table)
    return tuple(tables)


def random_day(rng: random.Random, most: int = 30) -> tuple[tuple[Job, ...], tuple[Table, ...]]:
    """Return parcels and people; about half of the days can be done."""
    tables = random_tables(rng)
    count = rng.randint(0, most)
    room = sum(table.seconds for table in tables)
    each = max(60, int(room * rng.uniform(0.4, 1.15) / max(1, count)))
    kinds = "ABCDE"[: rng.randint(1, 5)]
    ends = max((span.to_s for table in tables for span in table.spans), default=3600)
    dues = [int(ends * share) for share in (rng.uniform(0.3, 0.7), rng.uniform(0.6, 1.0), 1.0)]
    jobs = tuple(
        Job(
            code=str(number),
            seconds=max(30, int(each * rng.uniform(0.5, 1.5))) if rng.random() < 0.5 else max(30, each),
            alike=rng.choice((*kinds, *kinds, "")),
            due_s=rng.choice(dues),
            ready_s=rng.choice((0, 0, 0, 0, ends // 4)),
        )
        for number in range(count)
    )
    return jobs, tables


def brute_force(jobs: Sequence[Job], tables: Sequence[Table], saving_percent: int = SAVING) -> int:
    """Return the fewest parcels that are late, by trying every parcel next at every table; knows nothing of the core's
    search."""

    def begins(table: Table, at: int, seconds: int) -> int | None:
        return next((max(s.from_s, at) for s in table.spans if max(s.from_s, at) + seconds <= s.to_s), None)

    @cache
    def late(left: frozenset[int], state: tuple[tuple[int, str], ...]) -> int:
        fewest = len(left)
        for job in left:
            for number, (free, hands) in enumerate(state):
                one = jobs[job]
                alike = one.alike != "" and one.alike == hands
                takes = saved_seconds(one.seconds, saving_percent) if alike else one.seconds
                start = begins(tables[number], max(free, one.ready_s), takes)
                if start is None or start + takes > one.due_s:
                    continue
                after = (*state[:number], (start + takes, one.alike or f"only {job}"), *state[number + 1 :])
                fewest = min(fewest, late(left - {job}, after))
                if fewest == 0:
                    return 0
        return fewest

    return late(frozenset(range(len(jobs))), tuple((-(1 << 40), "") for _ in tables))
