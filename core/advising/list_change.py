"""What a coming price list changes for parcels that were planned (advising; rules 11.6).

Each parcel is quoted without the list and with it, both on the day it begins to hold, so that another carrier's
list of the same day does not count.
"""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal

from core.parcels.candidate import Candidate
from core.parcels.plan import PlannedOrder
from core.tariffs.choosing import Choosing, allowed_only, choose_quote
from core.tariffs.model import Sending, Tariff
from core.tariffs.quote import Quote, quote_all

__all__ = ["ListChange", "PostageChange", "list_change", "postage_change"]


@dataclass(frozen=True, slots=True, kw_only=True)
class PostageChange:
    """What the postage of one order becomes. Only parcels count that their service takes without the list."""

    parcels: int
    services: tuple[str, ...]  #: names, each once
    before: Decimal
    after: Decimal | None  #: by the same services; None: one of them does not take its parcel any more
    best: Decimal | None  #: by the services the choosing rules take then; None: none takes one of the parcels
    best_services: tuple[str, ...]

    @property
    def change(self) -> Decimal:
        """Of the same services; of the best ones when those do not take the order any more; nought when none does."""
        then = self.after if self.after is not None else self.best
        return Decimal(0) if then is None else then - self.before


@dataclass(frozen=True, slots=True, kw_only=True)
class ListChange:
    """The sums over many orders."""

    before: Decimal
    after: Decimal  #: when everything stays with its service as long as that takes it
    best: Decimal  #: when the services are chosen again
    dearer: int
    cheaper: int
    refused: int  #: orders a service does not take any more


def postage_change(
    plan: PlannedOrder, *, without: tuple[Tariff, ...], tariffs: tuple[Tariff, ...], choosing: Choosing, on: date
) -> PostageChange | None:
    """Return what the lists with the new one among them change for an order, or None when none of its parcels has a
    price.

    ``without``: the lists that would hold without it; ``on``: the day it begins to hold.
    """
    pairs = [pair for one in plan.chosen.candidates if (pair := _quoted(one, without, tariffs, on)) is not None]
    if not pairs:
        return None
    olds = [old for old, _ in pairs]
    same = [next((quote for quote in quotes if quote.service == old.service), None) for old, quotes in pairs]
    bests = [choose_quote(allowed_only(quotes, choosing, None)[0], choosing, ship_on=on) for _, quotes in pairs]
    return PostageChange(
        parcels=len(pairs),
        services=tuple(dict.fromkeys(quote.service_name for quote in olds)),
        before=sum((quote.price for quote in olds), Decimal(0)),
        after=_sum(same),
        best=_sum(bests),
        best_services=tuple(dict.fromkeys(quote.service_name for quote in bests if quote is not None)),
    )


def list_change(changes: Iterable[PostageChange]) -> ListChange:
    """Return the sums. An order no service takes any more counts with what it costs now."""
    rows = tuple(changes)
    return ListChange(
        before=sum((one.before for one in rows), Decimal(0)),
        after=sum((one.before + one.change for one in rows), Decimal(0)),
        best=sum((one.before if one.best is None else one.best for one in rows), Decimal(0)),
        dearer=sum(1 for one in rows if one.change > 0),
        cheaper=sum(1 for one in rows if one.change < 0),
        refused=sum(1 for one in rows if one.after is None),
    )


def _quoted(
    one: Candidate, without: tuple[Tariff, ...], tariffs: tuple[Tariff, ...], on: date
) -> tuple[Quote, tuple[Quote, ...]] | None:
    """Return the quote of a parcel's service without the list, and all quotes with it."""
    if one.sending is None:
        return None
    then = replace(one.sending, ship_on=on)
    old = next((quote for quote in _quotes(one, without, then) if quote.service == one.quote.service), None)
    return None if old is None else (old, _quotes(one, tariffs, then))


def _quotes(one: Candidate, tariffs: tuple[Tariff, ...], sending: Sending) -> tuple[Quote, ...]:
    return quote_all(tariffs, outer=one.outer_bulged, gross_mg=one.weight.gross_mg, sending=sending)[0]


def _sum(quotes: list[Quote | None]) -> Decimal | None:
    known = [quote.price for quote in quotes if quote is not None]
    return sum(known, Decimal(0)) if len(known) == len(quotes) else None
