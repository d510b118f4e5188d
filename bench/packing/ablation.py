"""What each part of the packing search brings: the same orders with one part taken out (docs/packing.md has the table).

python -m bench.packing ablation [ORDERS] [PART,...] [FAMILY,...]

Two efforts: one request over all containers, as the script interface asks it, and one container after another at the
effort a plan spends on each (``EFFORT_ONE``).
"""

import time
from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager
from decimal import Decimal
from unittest.mock import patch

from bench.packing.families import Order, orders
from core.packing import cheapest, ruled_out, search
from core.packing.cheapest import cheapest_container, forget_requests
from core.packing.kernel.relations import UNKNOWN
from core.packing.model import Packing

__all__ = ["PARTS", "table"]


def _never(*_: object, **__: object) -> bool:
    return False


def _nothing(*_: object, **__: object) -> None:
    return None


#: A part, and what stands in for it: module, name, replacement.
PARTS: dict[str, tuple[tuple[object, str, Callable[..., object]], ...]] = {
    "nothing": (),
    "fillings": ((search, "search_filled", _never),),
    "relations": ((search, "_relate", lambda *_: UNKNOWN),),
    "going_on": ((cheapest._Search, "_go_on", _nothing),),
    "reshaped_volumes": ((ruled_out, "_reshaped", _never),),
}


@contextmanager
def _without(part: str) -> Iterator[None]:
    with ExitStack() as stack:
        for module, name, instead in PARTS[part]:
            stack.enter_context(patch.object(module, name, instead))
        yield


def _over_all(order: Order) -> tuple[Decimal | None, bool]:
    found = cheapest_container(order.offered, order.units, order.rules)
    box = found.packing.box if found.packing else None
    return next((one.cost for one in order.offered if one.box.code == box), None), found.proven


def _one_by_one(order: Order) -> tuple[Decimal | None, bool]:
    proven = True
    for one in sorted(order.offered, key=lambda o: (o.cost, o.box.code)):
        found = search.find_packing(one.box, order.units, order.rules)
        if isinstance(found, Packing):
            return one.cost, proven
        proven = proven and found.proven
    return None, proven


_Asked = Callable[[Order], tuple[Decimal | None, bool]]


def _measured(part: str, family: str, count: int, asked: _Asked) -> tuple[list[Decimal | None], int, list[float]]:
    costs: list[Decimal | None] = []
    proven, took = 0, []
    with _without(part):
        for order in orders(family, count):
            forget_requests()
            search.forget()
            begun = time.perf_counter()
            cost, certain = asked(order)
            took.append(time.perf_counter() - begun)
            costs.append(cost)
            proven += certain
    return costs, proven, sorted(took)


def _line(part: str, family: str, asked: _Asked, whole: list[Decimal | None], count: int) -> str:
    costs, proven, took = _measured(part, family, count, asked)
    both = [(one, other) for one, other in zip(costs, whole, strict=True) if one is not None and other is not None]
    extra = 100 * (sum(c for c, _ in both) / sum(w for _, w in both) - 1)
    lost = sum(c is None and w is not None for c, w in zip(costs, whole, strict=True))
    dearer, cheaper = sum(c > w for c, w in both), sum(c < w for c, w in both)
    return (
        f"{family} without {part:17} cost {extra:+.2f} %, dearer {dearer}, cheaper {cheaper}, no answer {lost}, "
        f"proven {100 * proven / count:.1f} %, median {took[count // 2] * 1e3:.1f} ms, mean "
        f"{sum(took) / count * 1e3:.1f} ms"
    )


def table(count: int, parts: list[str], families: list[str]) -> Iterator[str]:
    """Yield a line for each family, effort and part; the first of each is the whole search."""
    for name, asked in (("one request", _over_all), ("as a plan asks", _one_by_one)):
        for family in families:
            yield f"-- {name}, {count} orders of {family}"
            whole, _, _ = _measured("nothing", family, count, asked)
            for part in parts:
                yield _line(part, family, asked, whole, count)
