"""Seeded families of packing orders (bench): cut boxes, pinwheels, equal units, mixed shop orders of many cushions or
one, large orders.

Each order is the core's own values: offered containers, units, rules. Families (a) and (b) are cut from one of the
containers, so a packing is known to exist in it (``witness``); for the others the best is not known beforehand.
"""

import random
from collections.abc import Callable
from dataclasses import dataclass, replace
from decimal import Decimal

from core.packing.cheapest import Offered
from core.packing.model import Box, PackRules, PackUnit
from core.recipes.model import Cushion

__all__ = ["FAMILIES", "Order", "orders"]

_ANY = 10**12
_NONE = Cushion(bottom_um=0, top_um=0, side_um=0)
_Piece = tuple[int, int, int]


@dataclass(frozen=True, slots=True, kw_only=True)
class Order:
    """One packing order and, where it is known, the container that certainly takes it."""

    name: str
    offered: tuple[Offered, ...]
    units: tuple[PackUnit, ...]
    rules: PackRules
    witness: str | None


def _cartons(chance: random.Random, count: int) -> tuple[Offered, ...]:
    found = []
    for number in range(count):
        inner = sorted((chance.randrange(120, 520) * 1000 for _ in range(2)), reverse=True)
        height = chance.randrange(80, 400) * 1000
        volume = inner[0] * inner[1] * height
        cost = Decimal(20 + round(volume / 10**15 * 4) + chance.randrange(-8, 9)) / 100
        load = chance.choice((5, 10, 15, 20, 30)) * 1_000_000
        box = Box(code=f"C-{number + 1:02}", inner_um=(inner[0], inner[1], height), max_load_mg=load)
        found.append(Offered(box=box, cost=max(cost, Decimal("0.10"))))
    return tuple(found)


def _split(chance: random.Random, size: _Piece, pieces: int) -> list[_Piece]:
    """Cut a box by random guillotine cuts, the largest piece first."""
    found = [size]
    while len(found) < pieces:
        found.sort(key=lambda s: s[0] * s[1] * s[2])
        piece = found.pop()
        axis = chance.choices((0, 1, 2), weights=piece)[0]
        at = int(piece[axis] * chance.uniform(0.25, 0.75))
        one, other = list(piece), list(piece)
        one[axis], other[axis] = at, piece[axis] - at
        found += [(one[0], one[1], one[2]), (other[0], other[1], other[2])]
    return found


def _pinwheel(chance: random.Random, size: _Piece, pieces: int) -> list[_Piece]:
    """Cut a box into four round a fifth, across a random axis, then pieces further by guillotine or pinwheel."""
    found = [size]
    first = True
    while len(found) < pieces:
        found.sort(key=lambda s: s[0] * s[1] * s[2])
        piece = found.pop()
        if not first and (len(found) + 5 > pieces or chance.random() < 0.5):
            found += _split(chance, piece, 2)
            continue
        first = False
        up = chance.randrange(3)
        a, b = (axis for axis in range(3) if axis != up)
        x1, x2 = sorted(int(piece[a] * chance.uniform(0.25, 0.75)) for _ in range(2))
        y1, y2 = sorted(int(piece[b] * chance.uniform(0.25, 0.75)) for _ in range(2))
        if x2 - x1 < 8000 or y2 - y1 < 8000:
            found.append(piece)
            continue
        w, d = piece[a], piece[b]
        for wide, deep in ((x2, y1), (w - x2, y2), (w - x1, d - y2), (x1, d - y1), (x2 - x1, y2 - y1)):
            part = [0, 0, 0]
            part[up], part[a], part[b] = piece[up], wide, deep
            found.append((part[0], part[1], part[2]))
    return found


def _cut(seed: str, number: int, away: int, cutter: Callable[[random.Random, _Piece, int], list[_Piece]]) -> Order:
    chance = random.Random(seed)
    offered = _cartons(chance, 40)
    chosen = chance.choice(offered)
    pieces = cutter(chance, chosen.box.inner_um, chance.randrange(4, 17))
    chance.shuffle(pieces)
    whole = chosen.box.inner_um[0] * chosen.box.inner_um[1] * chosen.box.inner_um[2]
    # Taken off each piece along a random axis in even orders; whole pieces left out in odd ones. Support is off, since
    # what lies on a piece that is gone would hang in the air.
    shaved = []
    if number % 2 == 0:
        for piece in pieces:
            axis = chance.randrange(3)
            part = list(piece)
            part[axis] = max(1000, int(part[axis] * (100 - away) / 100))
            shaved.append((part[0], part[1], part[2]))
    else:
        gone = 0
        for piece in pieces:
            volume = piece[0] * piece[1] * piece[2]
            if (gone + volume) * 100 <= away * whole:
                gone += volume
            else:
                shaved.append(piece)
    units = tuple(
        PackUnit(code=f"u{n:02}", name=f"piece {n}", quantity=1, size_um=_turned(chance, s), weight_mg=100_000,
                 up_axes=(0, 1, 2), clearance=_NONE, load_on_top_mg=None)
        for n, s in enumerate(shaved, start=1)
    )  # fmt: skip
    return Order(name=seed, offered=offered, units=units, rules=PackRules(gap_um=0, support_percent=0),
                 witness=chosen.box.code)  # fmt: skip


def _turned(chance: random.Random, size: _Piece) -> _Piece:
    found = list(size)
    chance.shuffle(found)
    return (found[0], found[1], found[2])


def _equal(seed: str, _number: int) -> Order:
    chance = random.Random(seed)
    offered = _cartons(chance, 40)
    size = tuple(chance.randrange(30, 160) * 1000 for _ in range(3))
    keep = chance.choice((0, 10_000, 20_000, 25_000))
    unit = PackUnit(
        code="jar", name="jar", quantity=chance.randrange(1, 25), size_um=(size[0], size[1], size[2]),
        weight_mg=chance.randrange(100, 900) * 1000, up_axes=chance.choice(((2,), (2,), (0, 1, 2))),
        clearance=Cushion(bottom_um=keep, top_um=keep, side_um=keep),
        load_on_top_mg=None if chance.random() < 0.8 else 1_000_000,
    )  # fmt: skip
    return Order(name=seed, offered=offered, units=(unit,), witness=None,
                 rules=PackRules(gap_um=chance.choice((0, 3000)), support_percent=75))  # fmt: skip


def _shop_units(chance: random.Random, total: int) -> tuple[PackUnit, ...]:
    kinds = chance.randrange(1, min(total, 6) + 1)
    cuts = sorted(chance.sample(range(1, total), kinds - 1)) if kinds > 1 else []
    counts = [b - a for a, b in zip([0, *cuts], [*cuts, total], strict=True)]
    units = []
    for number, count in enumerate(counts, start=1):
        size = tuple(chance.randrange(40, 200) * 1000 for _ in range(3))
        side, bottom, top = (chance.choice((0, 10_000, 20_000, 30_000)) for _ in range(3))
        units.append(
            PackUnit(
                code=f"u{number}",
                name=f"unit {number}",
                quantity=count,
                size_um=(size[0], size[1], size[2]),
                weight_mg=chance.randrange(80, 1500) * 1000,
                up_axes=chance.choice(((2,), (2,), (0, 1, 2), (0, 1, 2), (1, 2))),
                clearance=Cushion(bottom_um=bottom, top_um=top, side_um=side),
                load_on_top_mg=chance.choice((None, None, None, 0, 0, 2_000_000)),
            )
        )
    return tuple(units)


def _shop(seed: str, _number: int) -> Order:
    return _mixed(seed, 1, 15)


def _one_recipe(seed: str, _number: int) -> Order:
    """As mixed shop orders, but all goods of an order keep the same distances: the cushion is the recipe's."""
    order = _mixed(seed, 1, 15)
    cushion = order.units[0].clearance
    return replace(order, units=tuple(replace(unit, clearance=cushion) for unit in order.units))


def _mixed(seed: str, least: int, most: int) -> Order:
    chance = random.Random(seed)
    offered = _cartons(chance, chance.randrange(20, 41))
    units = _shop_units(chance, chance.randrange(least, most + 1))
    rules = PackRules(gap_um=chance.choice((0, 0, 3000, 5000)), support_percent=75)
    return Order(name=seed, offered=offered, units=units, rules=rules, witness=None)


def _large(seed: str, _number: int) -> Order:
    order = _mixed(seed, 16, 60)
    big = tuple(
        Offered(box=Box(code=f"X-{n}", inner_um=tuple(v * k // 10 for v in (600_000, 400_000, 400_000)),  # type: ignore[arg-type]
                        max_load_mg=_ANY), cost=Decimal(150 + 20 * n) / 100)
        for n, k in enumerate((8, 9, 10, 11, 12, 14, 16), start=1)
    )  # fmt: skip
    return Order(name=seed, offered=order.offered + big, units=order.units, rules=order.rules, witness=None)


FAMILIES: dict[str, Callable[[str, int], Order]] = {
    **{f"a{away}": (lambda seed, number, away=away: _cut(seed, number, away, _split)) for away in (0, 5, 10, 20)},  # type: ignore[misc]
    **{f"b{away}": (lambda seed, number, away=away: _cut(seed, number, away, _pinwheel)) for away in (0, 10)},  # type: ignore[misc]
    "c": _equal,
    "d": _shop,
    "e": _one_recipe,
    "f": _large,
}


def orders(family: str, count: int) -> list[Order]:
    """Return the first ``count`` orders of a family; the same ones every time."""
    return [FAMILIES[family](f"{family}-{number}", number) for number in range(count)]
