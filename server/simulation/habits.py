"""How players choose: the program's plan, one carton per order size and one service, the smallest box by eye."""

from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from core.supplies.items import Container
from server.simulation.contents import Content, Packed
from server.simulation.shop import Shop

__all__ = ["PLAYERS", "Chooser", "Habit", "Player", "habit_of"]

Player = Literal["program", "one_carton", "by_eye"]
PLAYERS: tuple[Player, ...] = ("program", "one_carton", "by_eye")
#: Whoever goes by eye leaves so much of a box for wrap and fill, and finds out in two minutes that it does not do.
_EYE_FILL, _EYE_MINUTES = 0.42, 2.0
#: Order sizes a person has a carton for.
_SIZES = ((1, 1), (2, 2), (3, 4), (5, 8), (9, 99))


#: How an order is sent, and how else, best first, when a container is not there; nothing: it cannot be.
Chooser = Callable[[Content], tuple[Packed, ...]]
_Contents = Mapping[Content, tuple[Packed | None, tuple[Packed, ...]]]


@dataclass(frozen=True, slots=True, kw_only=True)
class Habit:
    """How a player works."""

    player: Player
    choose: Chooser
    by_expected_use: bool  #: orders supplies by what is used, its spread and the lead time; else at fixed levels
    like_with_like: bool  #: packs alike parcels in a row, those due first first; else as they came


def habit_of(player: Player, shop: Shop, contents: _Contents, often: Counter[Content]) -> Habit:
    """Return how a player works; what it settles once, it settles on how often each content comes."""
    if player == "program":

        def program(one: Content) -> tuple[Packed, ...]:
            mine, by_hand = contents[one]
            if mine is None:
                return ()
            rest = sorted((w for w in by_hand if w.in_recipe), key=lambda w: w.materials + w.postage + w.minutes / 4)
            return (mine, *(w for w in rest if w.container != mine.container))

        return Habit(player=player, choose=program, by_expected_use=True, like_with_like=True)
    service = _usual_service(contents, often)
    if player == "one_carton":
        cartons = _one_a_size(shop, contents, often)

        def one_carton(one: Content) -> tuple[Packed, ...]:
            _, by_hand = contents[one]
            if not by_hand:
                return ()
            units = sum(n for _, n in one.goods)
            recipe = shop.recipes[one.goods[0][0]].code
            fixed = cartons.get((recipe, _size(units)), "")
            ways = sorted(by_hand, key=lambda w: (w.container != fixed, w.inner_mm3))
            if ways[0].container != fixed:  # it does not go into that one: the next larger
                ways = sorted(by_hand, key=lambda w: w.inner_mm3)
            return tuple(_by(service, way) for way in ways)

        return Habit(player=player, choose=one_carton, by_expected_use=False, like_with_like=False)

    def by_eye(one: Content) -> tuple[Packed, ...]:
        _, by_hand = contents[one]
        if not by_hand:
            return ()
        goods = sum(_volume_mm3(shop, sku) * units for sku, units in one.goods)
        fitting = {way.container: way for way in by_hand}
        ways, missed = [], 0
        for code, inner in sorted(_boxes(shop), key=lambda pair: pair[1]):
            if goods / inner > _EYE_FILL:
                continue
            way = fitting.get(code)
            if way is None:  # it looked as if it would go
                missed += 1
            else:
                ways.append(replace(way, minutes=way.minutes + _EYE_MINUTES * min(missed, 2)))
        found = ways or sorted(by_hand, key=lambda w: w.inner_mm3)
        return tuple(_by(service, way) for way in found)

    return Habit(player=player, choose=by_eye, by_expected_use=False, like_with_like=False)


def _by(service: str, way: Packed) -> Packed:
    """Return the way sent by the usual service; where it does not take it, by the cheapest that does."""
    mine = next((one for one in way.services if one[0] == service), None)
    code, carrier, price, days = mine or min(way.services, key=lambda one: (one[2], one[0]))
    return replace(way, service=code, carrier=carrier, postage=price, days=days)


def _usual_service(contents: _Contents, often: Counter[Content]) -> str:
    """The service that takes at least nine of ten orders for the least: what a person settles on after a month."""
    taken: Counter[str] = Counter()
    cost: dict[str, float] = {}
    for one, count in often.items():
        _, by_hand = contents[one]
        if not by_hand:
            continue
        way = min(by_hand, key=lambda w: w.inner_mm3)
        for code, _, price, _ in way.services:
            taken[code] += count
            cost[code] = cost.get(code, 0.0) + price * count
    most = max(taken.values(), default=0)
    wide = [code for code, count in taken.items() if count >= 0.9 * most]
    return min(wide, key=lambda code: (cost[code] / taken[code], code), default="")


def _one_a_size(shop: Shop, contents: _Contents, often: Counter[Content]) -> dict[tuple[str, int], str]:
    """For each recipe and order size the smallest carton that takes every such order of the year's first half."""
    fits: dict[tuple[str, int], list[set[str]]] = {}
    volume: dict[str, float] = {}
    for one in often:
        if len(one.goods) > 1:
            continue
        _, by_hand = contents[one]
        key = (shop.recipes[one.goods[0][0]].code, _size(one.goods[0][1]))
        fits.setdefault(key, []).append({way.container for way in by_hand})
        volume.update({way.container: way.inner_mm3 for way in by_hand})
    found = {}
    for key, sets in fits.items():
        every = set.intersection(*sets) if sets else set()
        if every:
            found[key] = min(every, key=lambda code: (volume[code], code))
    return found


def _size(units: int) -> int:
    return next(at for at, (low, high) in enumerate(_SIZES) if low <= units <= high)


def _volume_mm3(shop: Shop, sku: str) -> float:
    size = shop.products[sku].size
    return size.volume_um3 / 1e9 if size else 0.0


def _boxes(shop: Shop) -> Sequence[tuple[str, float]]:
    return [(one.code, one.inner.volume_um3 / 1e9) for one in shop.facts.containers if isinstance(one, Container)]
