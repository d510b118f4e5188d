"""What a parcel of some goods costs at the least, before it is packed (parcels; which divisions are worth trying).

Two bounds, the second nearer to the cost and slower. Neither is ever more than what the parcel comes to.
"""

from dataclasses import replace
from decimal import Decimal
from typing import NamedTuple

from core.parcels.facts import Aim, Facts
from core.parcels.packed import Outer
from core.recipes.expand import OrderLine, Piece, expand, merged
from core.recipes.model import band_for
from core.supplies.items import Container
from core.tariffs.base_price import ANY_SERVICE
from core.tariffs.model import Sending
from core.tariffs.quote import least_price
from core.units import Size

__all__ = ["closer_cost_floor", "cost_floor"]


def cost_floor(lines: tuple[OrderLine, ...], facts: Facts, aim: Aim) -> Decimal | None:
    """What a parcel of these goods costs at the least: bare goods in no box at all, carried and handled."""
    net_mg, minutes, largest = 0, Decimal(0), Size(length_um=1, width_um=1, height_um=1)
    per_parcel = Decimal(0)
    for line in merged(lines):
        product, recipe = line.product, line.recipe
        if product is None or recipe is None or product.size is None or product.weight_mg is None:
            return None
        net_mg += product.weight_mg * line.quantity
        if product.size.volume_um3 > largest.volume_um3:
            largest = product.size
        band = band_for(recipe, line.quantity)
        if band is not None:
            minutes += band.minutes.per_unit * line.quantity
            per_parcel = max(per_parcel, band.minutes.per_parcel)
    # Without packaging, goods and rigidity: no surcharge that may not be due.
    barely = Sending(
        destination=aim.destination,
        ship_on=aim.ship_on,
        origin=facts.settings.origin,
        rigid=False,
        further_of=ANY_SERVICE,
    )
    postage = least_price(facts.tariffs, outer=largest, gross_mg=net_mg, sending=barely)
    if postage is None:
        return None
    return postage + (minutes + per_parcel) * facts.settings.wage_per_hour / 60


def closer_cost_floor(lines: tuple[OrderLine, ...], facts: Facts, aim: Aim) -> Decimal | None:
    """As ``cost_floor``, with the wraps, in the container that comes cheapest of those large and strong enough,
    unfilled.
    """
    expansion = expand(lines, facts.shelf)
    if expansion.missing:
        return None
    pieces, uses = expansion.pieces, expansion.uses
    volume = sum(piece.size.volume_um3 * piece.quantity for piece in pieces)
    content_mg = sum(piece.weight_mg * piece.quantity for piece in pieces)
    carried = []
    enough = [o for o in facts.containers if o.max_load_mg >= content_mg and _most_room_um3(o) >= volume]
    for outer, size in _worth_asking(enough, pieces, facts):
        postage = least_price(
            facts.tariffs,
            outer=size,
            gross_mg=content_mg + outer.tare_mg,
            sending=Sending(
                destination=aim.destination,
                ship_on=aim.ship_on,
                origin=facts.settings.origin,
                packaging=(outer.code,),
                rigid=False,
                further_of=ANY_SERVICE,
            ),
        )
        if postage is not None:
            carried.append(postage + _least_cost(outer))
    if not carried:
        return None
    minutes = sum((piece.band.minutes.per_unit * piece.units for piece in pieces), Decimal(0))
    minutes += max(piece.band.minutes.per_parcel for piece in pieces)
    wraps = sum((use.cost for use in uses), Decimal(0))
    return min(carried) + wraps + minutes * facts.settings.wage_per_hour / 60


def _worth_asking(enough: list[Outer], pieces: tuple[Piece, ...], facts: Facts) -> list[tuple[Outer, Size]]:
    """Leave out containers that are larger, heavier and more expensive than another: what carries them carries that
    for less.

    A carrier's own is always asked and beats none: it goes with some services only, some at a price of its own.
    """
    own = {item.code for tariff in facts.tariffs for item in tariff.packaging}
    sized = [(outer, _least_outside(outer, pieces)) for outer in enough]
    marks = [
        _Marks(size.sorted_um, outer.tare_mg, _least_cost(outer)) for outer, size in sized if outer.code not in own
    ]

    def beaten(outer: Outer, size: Size) -> bool:
        mine = _Marks(size.sorted_um, outer.tare_mg, _least_cost(outer))
        return any(other != mine and other.within(mine) for other in marks)

    return [(outer, size) for outer, size in sized if outer.code in own or not beaten(outer, size)]


class _Marks(NamedTuple):
    """What a container's postage and cost depend on, for equal contents."""

    sides_um: tuple[int, int, int]
    tare_mg: int
    cost: Decimal

    def within(self, other: "_Marks") -> bool:
        smaller = all(a <= b for a, b in zip(self.sides_um, other.sides_um, strict=True))
        return smaller and self.tare_mg <= other.tare_mg and self.cost <= other.cost


def _most_room_um3(outer: Outer) -> int:
    """The inside a container can have at the most: two slid together, hardly over each other; a mailer, any."""
    if not isinstance(outer, Container):
        return 2**63
    return outer.inner.volume_um3 * (2 if outer.telescope else 1)


def _least_cost(outer: Outer) -> Decimal:
    return outer.unit_cost if isinstance(outer, Container) or not outer.halves else outer.unit_cost / 2


def _least_outside(outer: Outer, pieces: tuple[Piece, ...]) -> Size:
    """The outside a container can have at the least with these goods: cut down as low as it goes; a mailer, the
    goods.
    """
    if not isinstance(outer, Container):
        return max((piece.size for piece in pieces), key=lambda size: size.volume_um3)
    if outer.cut is None:
        return outer.outer
    lowest = max(outer.cut.lowest_um, min(min(piece.size.sorted_um) for piece in pieces))
    return replace(outer.outer, height_um=outer.outer.height_um - max(0, outer.inner.height_um - lowest))
