"""How good and how fast the packing is, family by family, against a general-purpose library in the same run.

python -m bench.packing [ORDERS] [FAMILY,...]   (./calm bench packing): quality, milliseconds, ratios; nothing is
asserted.
python -m bench.packing best [ORDERS] [FAMILY,...] [EFFORT]   what was left open, asked of an exact model: how many
answers are best.
python -m bench.packing check [ORDERS]          every answer of random orders through the independent checker.
python -m bench.packing ablation [ORDERS] [PART,...] [FAMILY,...]   what each part of the search brings.
python -m bench.packing profile [FAMILY] [ORDERS]   which compiled function takes how much of the time.
"""

import statistics
import sys
import time
from collections import Counter
from decimal import Decimal

from bench.packing.ablation import PARTS, table
from bench.packing.families import FAMILIES, Order, orders
from bench.packing.libraries import Driven, Library, drive, libraries
from bench.packing.oracle import asked, oracle
from bench.packing.profile import profiled
from core.packing.cheapest import Cheapest, cheapest_container, forget_requests
from core.packing.verify import faults_of


def _timed(order: Order) -> tuple[Cheapest, float]:
    forget_requests()
    begun = time.perf_counter()
    found = cheapest_container(order.offered, order.units, order.rules)
    return found, time.perf_counter() - begun


def _cost(order: Order, container: str | None) -> Decimal | None:
    return next((one.cost for one in order.offered if one.box.code == container), None)


def _at(rising: list[float], percent: int) -> float:
    """Return the value that so many in a hundred do not exceed (nearest rank)."""
    return rising[-(-len(rising) * percent // 100) - 1]


def _line(family: str, count: int) -> str:
    given = orders(family, count)
    ours = [_timed(order) for order in given]
    took = sorted(seconds for _, seconds in ours)
    proven = sum(found.proven for found, _ in ours)
    words = [f"{family:4} {len(given):4} orders"]
    if given[0].witness:
        solved = sum(
            found.packing is not None and (_cost(o, found.packing.box) or 0) <= (_cost(o, o.witness) or 0)
            for o, (found, _) in zip(given, ours, strict=True)
        )
        words.append(f"solved {100 * solved / len(given):5.1f} %")
    words.append(f"proven {100 * proven / len(given):5.1f} %")
    words.append(
        f"median {took[len(took) // 2] * 1e3:6.1f} ms, 95th {_at(took, 95) * 1e3:7.1f} ms, most "
        f"{took[-1] * 1e3:7.1f} ms"
    )
    against = [_against(one, given, ours, [drive(one, order) for order in given]) for one in libraries()]
    return "\n       ".join(["; ".join(words), *against])


def _against(library: Library, given: list[Order], ours: list[tuple[Cheapest, float]], theirs: list[Driven]) -> str:
    better = worse = equal = 0
    extra: list[Decimal] = []
    for order, (found, _), other in zip(given, ours, theirs, strict=True):
        mine = _cost(order, found.packing.box if found.packing else None)
        its = _cost(order, other.container)
        better += mine is not None and (its is None or mine < its)
        worse += its is not None and (mine is None or its < mine)
        equal += its is not None and its == mine
        if mine and its:
            extra.append((its - mine) / mine * 100)
    ratio = statistics.median(d.seconds for d in theirs) / statistics.median(s for _, s in ours)
    invalid = sum(d.first_invalid for d in theirs)
    packed = max(1, sum(found.packing is not None for found, _ in ours))
    mean = sum(extra, Decimal(0)) / max(1, len(extra))
    return (
        f"{library.name}: our cost in {100 * equal / packed:.0f} %, more expensive or none in "
        f"{better}, cheaper in {worse}, "
        f"mean extra cost {mean:.1f} %, invalid first answers {100 * invalid / len(given):.0f} %, its "
        f"median is {ratio:.1f} x ours"
    )


def _best(family: str, count: int, effort: float) -> str:
    """Ask the exact model about every cheaper container that was left open."""
    cp = oracle()
    if cp is None:
        return "The exact model needs the dependency group 'bench' of pyproject.toml."
    told: Counter[str] = Counter()
    extra = Decimal(0)
    for order in orders(family, count):
        found, _ = _timed(order)
        cost = _cost(order, found.packing.box if found.packing else None)
        left_open = {
            c.container for c in found.considered if c.outcome == "no" and c.reason.code == "arrangement_not_found"
        }
        answers = [
            (o.cost, asked(cp, o.box, order.units, order.rules, effort))
            for o in order.offered
            if o.box.code in left_open and (cost is None or o.cost < cost)
        ]
        least = min((c for c, yes in answers if yes), default=None)
        if least is not None:
            below = all(yes is False for c, yes in answers if c < least)
            told["a cheaper one exists, proven best" if below else "a cheaper one exists"] += 1
            extra += (cost - least) / least * 100 if cost else 0
        elif cost is None:
            told["none known"] += 1
        else:
            told["unknown" if any(yes is None for _, yes in answers) else "best"] += 1
    best, proven = told["best"], told["a cheaper one exists, proven best"]
    known = best + proven + told["a cheaper one exists"]
    return (
        f"{family:4} {count:4} orders, {told['none known']} with no carton known: best for certain "
        f"{best}, a cheaper one exists "
        f"{known - best} ({proven} of them the best for certain), unknown {told['unknown']}; of those "
        "whose best is proven "
        f"{100 * best / max(1, best + proven):.1f} % best, of all known {100 * best / max(1, known):.1f} %, "
        f"mean extra cost {extra / max(1, known):.2f} %"
    )


def _check(count: int) -> str:
    faults = packed = 0
    for number in range(count):
        family = ("d", "c", "d", "a10", "b10")[number % 5]
        order = FAMILIES[family](f"check-{number}", number)
        found = cheapest_container(order.offered, order.units, order.rules)
        if found.packing is not None:
            box = next(o.box for o in order.offered if o.box.code == found.packing.box)
            faults += bool(faults_of(found.packing, box, order.units, order.rules))
            packed += 1
    return f"{count} random orders, {packed} packed, {faults} with errors"


def main(arguments: list[str]) -> None:
    """Print one line a family, or the check."""
    if arguments[:1] == ["check"]:
        print(_check(int(arguments[1]) if len(arguments) > 1 else 20_000))
        return
    if arguments[:1] == ["profile"]:
        family, number = (*arguments[1:3], *("d", "160")[len(arguments) - 1 :])
        print(profiled(family, int(number)))
        return
    if arguments[:1] == ["ablation"]:
        how_many, parts, families = (*arguments[1:4], *("640", ",".join(PARTS), "d,e,f")[len(arguments) - 1 :])
        for line in table(int(how_many), parts.split(","), families.split(",")):
            print(line, flush=True)
        return
    if arguments[:1] == ["best"]:
        how_many, families, effort = (*arguments[1:4], *("60", "d", "2")[len(arguments) - 1 :])
        for family in families.split(","):
            print(_best(family, int(how_many), float(effort)), flush=True)
        return
    count = int(arguments[0]) if arguments else 100
    chosen = arguments[1].split(",") if len(arguments) > 1 else list(FAMILIES)
    if not libraries():
        print("No library to compare with: install the dependency group 'bench' of pyproject.toml for the ratios.")
    # The compiled code is fetched when it is first called, which is no part of what is measured.
    for order in (*orders("a0", 10), *orders("d", 40)):
        _timed(order)
    for family in chosen:
        print(_line(family, count), flush=True)


if __name__ == "__main__":
    main(sys.argv[1:])
