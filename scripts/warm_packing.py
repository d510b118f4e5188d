"""Compile the inner loops of packing, of the day and of heat once, so that nobody waits for them (lib.sh calls this).

warm_packing.py [fill|relate]: both, or each half by itself, on a core of its own.
"""

import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

import numpy as np

from core.care import thermal
from core.day.model import Job, Span, Table
from core.day.schedule import latest_start, schedule
from core.day.waves import Gathered, waves_of
from core.packing.canonical import canonical_units
from core.packing.kernel.chance import shuffled
from core.packing.kernel.problem import problem_of
from core.packing.kernel.relations import Relations
from core.packing.kernel.resting import loads_hold, supported
from core.packing.model import Box, PackRules, PackUnit
from core.packing.ruled_out import ruled_out
from core.packing.search import quick
from core.recipes.model import Cushion
from core.units import Size

_PIECES = ((60, 60, 45), (60, 60, 41), (45, 45, 45), (41, 60, 60), (40, 40, 99), (60, 41, 60), (70, 30, 30))


def fill() -> None:
    """Compile what fills: bounds, greedy fillings, supports and loads."""
    units, box, rules = _case()
    ruled_out(box, units, rules)
    quick(box, units, rules)
    problem = problem_of(box, units, rules)
    count = len(problem.kind)
    at, size = np.zeros((count, 3), dtype=np.int64), np.zeros((count, 3), dtype=np.int64)
    done = np.arange(count, dtype=np.int64)
    shuffled(1)
    supported(problem, done, count, at, size, 0, 0, 0, 1, 1)
    loads_hold(problem, done, count, at, size)
    _order()
    _warm()


def _warm() -> None:
    """Compile the box on its way."""
    inner = Size(length_um=9, width_um=9, height_um=9)
    thermal.simulate(thermal.Box(inner=inner, u_w_per_m2k=1.0, goods_j_per_k=9.0, start_c=9.0), [9.0])


def _order() -> None:
    """Compile what orders a day: few parcels, many, and waves."""
    tables = (Table(who="", spans=(Span(from_s=0, to_s=9_000),)),)
    jobs = tuple(Job(code=str(number), seconds=60, alike="", due_s=9_000) for number in range(12))
    for some in (jobs[:2], jobs):
        schedule(some, tables)
        latest_start(some, tables)
    waves_of([Gathered(code=job.code, hand_over="", things=frozenset("a")) for job in jobs])


def relate() -> None:
    """Compile the search over relations."""
    units, box, rules = _case()
    problem = problem_of(box, units, rules)
    count = len(problem.kind)
    at, size = np.zeros((count, 3), dtype=np.int64), np.zeros((count, 3), dtype=np.int64)
    Relations(problem).search(100, at, size)


def _case() -> tuple[tuple[PackUnit, ...], Box, PackRules]:
    units = canonical_units(tuple(_piece(number, size) for number, size in enumerate(_PIECES)))
    return units, _box(100_000), PackRules(gap_um=0, support_percent=75)


def _box(length_um: int) -> Box:
    return Box(code="box", inner_um=(length_um, 100_000, 100_000), max_load_mg=10**9)


def _piece(number: int, size: tuple[int, int, int]) -> PackUnit:
    return PackUnit(
        code=f"u{number}", name="piece", quantity=1, size_um=(size[0] * 1000, size[1] * 1000, size[2] * 1000),
        weight_mg=1000, up_axes=(0, 1, 2), clearance=Cushion(bottom_um=0, side_um=0, top_um=0), load_on_top_mg=None,
    )  # fmt: skip


if __name__ == "__main__":
    parts = {"fill": fill, "relate": relate}
    for part in sys.argv[1:] or parts:
        parts[part]()
