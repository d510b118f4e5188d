"""Orders of a what-if planned by two processes side by side: a core each, since planning is nothing but computing.

The processes know the core alone, no database. They end with the run, and when the worker that began them is gone.
"""

import multiprocessing
import os
import threading
import time
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor, as_completed
from itertools import groupby

from core.money.changes import Change, World
from core.money.what_if import PeriodOrder, TriedOrder, tried
from server.config.env import ENV

__all__ = ["tried_side_by_side"]

#: Fewer orders are planned sooner than another process begins.
_FEW = 30
#: Contents one process takes at a time: between them somebody may cancel.
_CONTENTS = 6
_Given = tuple[World, World, tuple[Change, ...]]
_given: list[_Given] = []


def tried_side_by_side(
    orders: Sequence[PeriodOrder], before: World, after: World, changes: Sequence[Change], alive: Callable[[int], bool]
) -> list[TriedOrder] | None:
    """Return each order planned before and after, in the orders' order; None when ``alive`` says no.

    ``alive`` is told how many are done, again and again.
    """
    processes = ENV.planning_processes
    done: dict[str, TriedOrder] = {}
    if processes < 2 or len(orders) < _FEW:
        for one in tried(orders, before, after, changes):
            done[one.order.key] = one
            if not alive(len(done)):
                return None
        return [done[order.key] for order in orders]
    context = multiprocessing.get_context("spawn")
    given: _Given = (before, after, tuple(changes))
    with ProcessPoolExecutor(processes, mp_context=context, initializer=_begin, initargs=(given, os.getpid())) as pool:
        try:
            for future in as_completed([pool.submit(_handful, part) for part in _parts(orders)]):
                done.update({one.order.key: one for one in future.result()})
                if not alive(len(done)):
                    return None
        finally:
            pool.shutdown(wait=True, cancel_futures=True)
    return [done[order.key] for order in orders]


def _parts(orders: Sequence[PeriodOrder]) -> Iterator[list[PeriodOrder]]:
    """Yield orders a few contents at a time; alike ones stay together, the largest, which take longest, come first."""

    def content(order: PeriodOrder) -> tuple[int, tuple[tuple[str, int], ...]]:
        return -order.units, tuple((line.sku, line.quantity) for line in order.lines)

    groups = [list(mine) for _, mine in groupby(sorted(orders, key=lambda one: (content(one), one.key)), key=content)]
    for at in range(0, len(groups), _CONTENTS):
        yield [order for group in groups[at : at + _CONTENTS] for order in group]


def _begin(given: _Given, parent: int) -> None:
    """In a new process: take what all orders are planned by, and end when the worker is gone."""
    _given.append(given)
    os.nice(5)  # people at their screens come first

    def watch() -> None:
        while os.getppid() == parent:
            time.sleep(1)
        os._exit(1)

    threading.Thread(target=watch, daemon=True).start()


def _handful(orders: list[PeriodOrder]) -> list[TriedOrder]:
    return list(tried(orders, *_given[0]))
