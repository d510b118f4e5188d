"""Room to spare: how many more of each product go into a parcel as it is planned (parcels).

Asked of the packing itself: the same container and clearances, one unit more, two, four, ... then halving between the
last that went in and the first that did not. A quick look each time, without the long search: so many certainly
fit. Fill, postage and the price steps are not looked at here.
"""

from dataclasses import dataclass, replace

from core.messages import Text
from core.parcels.packed import Outer, Request, RuledOut, into
from core.recipes.expand import Piece

__all__ = ["MOST_MORE", "Room", "room_for_more"]

#: Nobody asks for more than this; it bounds the work.
MOST_MORE = 64


@dataclass(frozen=True, slots=True, kw_only=True)
class Room:
    """How many more of one product fit, and what stops the next one."""

    sku: str
    name: str
    more: int
    limit: Text  #: why one more than that does not go in; empty at MOST_MORE


def room_for_more(outer: Outer, request: Request) -> tuple[Room, ...]:
    """Return the room for each product of the order in turn, the others as they are."""
    request = replace(request, thorough=False)
    return tuple(_room(outer, request, piece) for piece in request.expansion.pieces)


def _room(outer: Outer, request: Request, piece: Piece) -> Room:
    fits, step = 0, 1
    reason: Text = ""
    while fits + step <= MOST_MORE:
        told = _with(outer, request, piece, fits + step)
        if told is None:
            fits += step
            step *= 2
            continue
        reason = told
        break
    else:
        return Room(sku=piece.sku, name=piece.called, more=fits, limit="")
    fails = fits + step
    while fails - fits > 1:
        middle = (fits + fails) // 2
        told = _with(outer, request, piece, middle)
        if told is None:
            fits = middle
        else:
            fails, reason = middle, told
    return Room(sku=piece.sku, name=piece.called, more=fits, limit=reason)


def _with(outer: Outer, request: Request, piece: Piece, more: int) -> Text | None:
    pieces = tuple(
        replace(one, quantity=one.quantity + more) if one.code == piece.code else one
        for one in request.expansion.pieces
    )
    packed = into(outer, replace(request, expansion=replace(request.expansion, pieces=pieces)))
    return packed.reason if isinstance(packed, RuledOut) else None
