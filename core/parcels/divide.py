"""Dividing an order between parcels: when one cannot take it, when two cost less, or as many as a person wants.

What goes together is a *kind*: one unit of a sku, or one whole set, which is never divided (rules 4.5 and 5.1). A share
is so many of each kind. Which shares are worth trying is decided here; what one costs is asked of ``Shareout``, which
remembers and stops after so many, so that the work is bounded by a count and the answer is the same everywhere.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from decimal import Decimal
from functools import cache
from itertools import islice, product

from core.recipes.expand import OrderLine, apart, merged

__all__ = ["MOST_PARCELS", "MOST_TRIES", "Amount", "Kind", "Share", "Shareout", "cheaper_shares", "divided", "kinds_of"]

#: Nobody sends one order in more parcels than this.
MOST_PARCELS = 12
#: Shares tried in full for one order.
MOST_TRIES = 120
#: Two-part divisions looked at before the floors choose among them.
_MOST_PAIRS = 96

#: With more kinds than this, filling kind by kind would use up the tries.
_MANY_KINDS = 4

Share = tuple[int, ...]  #: so many of each kind


@dataclass(frozen=True, slots=True, kw_only=True)
class Kind:
    """What travels together: one unit, or one set with everything in it."""

    lines: tuple[OrderLine, ...]  #: quantity: in one of this kind
    count: int
    weight_mg: int  #: of one


def kinds_of(lines: tuple[OrderLine, ...]) -> tuple[Kind, ...]:
    """Return what an order may be divided into, heaviest first."""
    sets: dict[str, list[OrderLine]] = {}
    for line in lines:
        if line.bundle:
            sets.setdefault(line.bundle, []).append(line)
    found = [_kind((line,), each=1) for line in merged(tuple(line for line in lines if not line.bundle))]
    found += [_kind(tuple(group), each=None) for group in sets.values()]
    return tuple(sorted(found, key=lambda kind: (-kind.weight_mg, kind.lines[0].sku)))


def _kind(lines: tuple[OrderLine, ...], each: int | None) -> Kind:
    """So many of each line go together: ``each``, or as many as the set holds."""
    one = tuple(replace(line, quantity=each or line.per_bundle) for line in lines)
    weight = sum((line.product.weight_mg or 0) * line.quantity for line in one if line.product)
    return Kind(lines=one, count=lines[0].quantity // one[0].quantity, weight_mg=weight)


#: What a share comes to as a parcel of its own, None when there is no such parcel.
Amount = Callable[[tuple[OrderLine, ...]], Decimal | None]


class Shareout:
    """Shares of one order and what each costs as a parcel of its own; asked once each, and not for ever.

    ``floor`` and ``close_floor`` are what a share costs at the least: cheap to ask, and nearer to the cost but slower.
    """

    def __init__(self, kinds: tuple[Kind, ...], cost: Amount, floor: Amount, close_floor: Amount) -> None:
        self.kinds = kinds
        self.whole: Share = tuple(kind.count for kind in kinds)
        self._cost = cost
        self._costs: dict[Share, Decimal | None] = {}
        self.floor: Callable[[Share], Decimal | None] = cache(lambda share: floor(self.lines(share)))
        self.close_floor: Callable[[Share], Decimal | None] = cache(lambda share: close_floor(self.lines(share)))

    def lines(self, share: Share) -> tuple[OrderLine, ...]:
        """Return a share as lines of an order."""
        return tuple(
            replace(line, quantity=line.quantity * count)
            for kind, count in zip(self.kinds, share, strict=True)
            for line in kind.lines
            if count
        )

    def cost(self, share: Share) -> Decimal | None:
        """Return what the share costs as one parcel, None when no parcel takes it or the tries are used up."""
        if self.close_floor(share) is None:  # no container is large and strong enough, or nothing carries it
            return None
        if share not in self._costs:
            if len(self._costs) >= MOST_TRIES:
                return None
            self._costs[share] = self._cost(self.lines(share))
        return self._costs[share]

    def total(self, shares: list[Share]) -> Decimal | None:
        """Return what all the parcels cost together, None when one of them does not go."""
        return _sum([self.cost(share) for share in shares])

    def weight_mg(self, share: Share) -> int:
        """Return the weight of the goods in a share."""
        return sum(kind.weight_mg * count for kind, count in zip(self.kinds, share, strict=True))


def _sum(parts: list[Decimal | None]) -> Decimal | None:
    """Return the sum, None when one part is not to be had."""
    known = [part for part in parts if part is not None]
    return sum(known, Decimal(0)) if len(known) == len(parts) else None


def divided(out: Shareout, parcels: int | None) -> list[Share] | None:
    """Return the cheapest division found: in the fewest parcels that go, or in as many as asked for.

    Goods that may not share a parcel are apart in every one. None: none was found.
    """
    groups = _may_share(out.kinds)
    if groups is None:
        return None
    apart_shares = [tuple(n if i in group else 0 for i, n in enumerate(out.whole)) for group in groups]
    if parcels is None:
        found: list[Share] = []
        for share in apart_shares:
            parts = [share] if out.cost(share) is not None else _best(out, share, None)
            if parts is None:
                return None
            found += parts
        return found
    if len(apart_shares) == 1:
        return _best(out, apart_shares[0], parcels)
    if parcels < len(apart_shares):
        return None
    while len(apart_shares) < parcels:
        heaviest = max(apart_shares, key=out.weight_mg)
        halves = _best(out, heaviest, 2)
        if halves is None:
            return None
        apart_shares.remove(heaviest)
        apart_shares += halves
    return apart_shares if out.total(apart_shares) is not None else None


def cheaper_shares(out: Shareout, share: Share, than: Decimal) -> list[Share] | None:
    """Return a division that costs less than the share as one parcel does, None when none is found.

    Only those whose floors leave room for a saving are tried: nearly always none, since each parcel has its base price.
    """
    hopeful = [(floor, pair) for floor, pair in _by_floor(out, share) if floor < than]
    best, best_total = None, than
    for floor, pair in hopeful[:12]:
        if floor >= best_total:
            break
        near = _sum([out.close_floor(part) for part in pair])
        if near is None or near >= best_total:
            continue
        total = out.total(list(pair))
        if total is not None and total < best_total:
            best, best_total = list(pair), total
    return best


def _best(out: Shareout, share: Share, parcels: int | None) -> list[Share] | None:
    """The cheapest of several ways to divide one share; with fewest parcels first when no number is asked for."""
    options: list[list[Share]] = []
    if parcels is None:
        filled = _filled(out, share)
        if not filled:
            return None
        options += [filled, _evenly(share, len(filled)), _by_kinds(out, share, len(filled))]
        if len(filled) == 2:
            options += [list(pair) for pair in islice(_pairs(share), 6)]
    elif parcels == 2:
        options += [_evenly(share, 2), _by_kinds(out, share, 2), *(list(pair) for _, pair in _by_floor(out, share)[:8])]
    else:
        options += [_evenly(share, parcels), _by_kinds(out, share, parcels)]
    best = None
    for option in options:
        if any(not any(part) for part in option):
            continue  # fewer goods than parcels
        total = out.total(option)
        if total is not None and (best is None or total < best[0]):
            best = (total, option)
    return best[1] if best else None


def _by_floor(out: Shareout, share: Share) -> list[tuple[Decimal, tuple[Share, Share]]]:
    """Return two-part divisions that can be carried at all, what may be cheapest first."""
    pairs = [(_sum([out.floor(part) for part in pair]), pair) for pair in islice(_pairs(share), _MOST_PAIRS)]
    return sorted((floor, pair) for floor, pair in pairs if floor is not None)


def _may_share(kinds: tuple[Kind, ...]) -> list[list[int]] | None:
    """Return groups of kinds that may share a parcel, few of them; None when a set holds goods that may not."""
    groups: list[list[int]] = []
    for index, kind in enumerate(kinds):
        if _clash(kind, kind):
            return None
        home = next((g for g in groups if not any(_clash(kind, kinds[other]) for other in g)), None)
        if home is None:
            groups.append([index])
        else:
            home.append(index)
    return groups


def _clash(one: Kind, other: Kind) -> bool:
    return any(
        apart(a.product, b.product) is not None or _schools(a).isdisjoint(_schools(b))
        for a in one.lines
        for b in other.lines
        if a.product is not None and b.product is not None and a.sku != b.sku
    )


def _schools(line: OrderLine) -> set[str]:
    """How the goods may be held, in any order size: those held in no common way go apart (rules 4.5)."""
    return {band.school for band in line.recipe.bands} if line.recipe else {"fill_tight", "base_fixed"}


def _filled(out: Shareout, share: Share) -> list[Share]:
    """Fill one parcel after the other with as much as goes in, the heaviest goods first; empty: far too many.

    What is left at the end may go in nothing alone: it stands as a part of its own, and other divisions may place it.
    """
    parts: list[Share] = []
    rest = share
    while any(rest):
        if len(parts) == MOST_PARCELS:
            return []
        part = rest if out.cost(rest) is not None else _as_much(out, rest)
        if not any(part):
            return [*parts, rest]
        parts.append(part)
        rest = tuple(have - taken for have, taken in zip(rest, part, strict=True))
    return parts


def _as_much(out: Shareout, rest: Share) -> Share:
    """Return as much of the rest as one parcel takes: kind by kind, or for many kinds the heaviest units in a row."""
    if sum(1 for count in rest if count) > _MANY_KINDS:
        return _longest_row(out, rest)
    part = [0] * len(rest)
    for index, have in enumerate(rest):
        fits, fails = 0, have + 1
        while fails - fits > 1:
            # All of them first: lines stay together where they can.
            middle = have if fails == have + 1 else (fits + fails) // 2
            part[index] = middle
            if out.cost(tuple(part)) is not None:
                fits = middle
            else:
                fails = middle
        part[index] = fits
    return tuple(part)


def _longest_row(out: Shareout, rest: Share) -> Share:
    fits, fails = 0, sum(rest) + 1
    while fails - fits > 1:
        middle = (fits + fails) // 2
        if out.cost(_row(rest, middle)) is not None:
            fits = middle
        else:
            fails = middle
    return _row(rest, fits)


def _row(rest: Share, units: int) -> Share:
    """Return so many units of the rest, the heaviest kinds first."""
    part = []
    for count in rest:
        part.append(min(count, units))
        units -= part[-1]
    return tuple(part)


def _evenly(share: Share, parcels: int) -> list[Share]:
    """Deal every kind out in turn; what is left over of one kind goes on where the last one stopped."""
    parts = [[0] * len(share) for _ in range(parcels)]
    turn = 0
    for index, count in enumerate(share):
        each, left = divmod(count, parcels)
        for number in range(parcels):
            parts[number][index] = each
        for _ in range(left):
            parts[turn % parcels][index] += 1
            turn += 1
    return [tuple(part) for part in parts]


def _by_kinds(out: Shareout, share: Share, parcels: int) -> list[Share]:
    """Keep lines together: each whole kind to the lightest parcel so far, the heaviest first."""
    parts = [[0] * len(share) for _ in range(parcels)]
    order = sorted(range(len(share)), key=lambda i: (-out.kinds[i].weight_mg * share[i], i))
    for index in order:
        lightest = min(range(parcels), key=lambda p: (out.weight_mg(tuple(parts[p])), p))
        parts[lightest][index] = share[index]
    return [tuple(part) for part in parts]


def _pairs(share: Share) -> Iterator[tuple[Share, Share]]:
    """Two-part divisions, each once: every count of every kind when these are few, else whole kinds and halves."""
    counts = [n for n in share if n]
    combinations = 1
    for n in counts:
        combinations *= n + 1
    choices = [range(n + 1) if combinations <= 2 * _MOST_PAIRS else sorted({0, n // 2, n}) for n in share]
    seen: set[Share] = set()
    for part in product(*choices):
        rest = tuple(n - p for n, p in zip(share, part, strict=True))
        if any(part) and any(rest) and part not in seen and rest not in seen:
            seen.add(part)
            yield (rest, part) if rest >= part else (part, rest)
