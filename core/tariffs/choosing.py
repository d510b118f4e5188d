"""Which of the services that take a parcel carries it: the workshop's rules, or a person's word (rules 5.6). Pure."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal

from core.messages import say
from core.tariffs.model import DeliversTo
from core.tariffs.quote import Quote, Refusal

__all__ = ["CHEAPEST", "Choosing", "allowed_only", "choose_quote"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Choosing:
    """How a workshop chooses among services. As it stands here: the cheapest of all."""

    services: tuple[str, ...] = ()  #: only these; empty: all
    trusted: str = ""  #: the carrier it stays with; empty: none
    unless_saves: Decimal = Decimal(0)  #: another carrier is taken only when it saves more than this
    arrive_within_days: int | None = None  #: from the ship date, weekends counted; None: whenever
    delivers_to: tuple[DeliversTo, ...] = ("door",)  #: where parcels may be handed over


CHEAPEST = Choosing()


def allowed_only(
    quotes: tuple[Quote, ...], choosing: Choosing, forced: str | None
) -> tuple[tuple[Quote, ...], tuple[Refusal, ...]]:
    """Return the quotes of services the workshop uses, and the others as refusals; a person's
    service is always used.
    """

    def used(q: Quote) -> bool:
        if q.service == forced:
            return True
        return (not choosing.services or q.service in choosing.services) and q.delivers_to in choosing.delivers_to

    kept = tuple(q for q in quotes if used(q))
    out = tuple(
        Refusal(
            carrier=q.carrier,
            carrier_name=q.carrier_name,
            service=q.service,
            service_name=q.service_name,
            limit_name="choosing",
            message=say("not_by_your_rules", service=q.service_name, price_money=q.price)
            if q.delivers_to in choosing.delivers_to
            else say(f"not_to_{q.delivers_to}", service=q.service_name, price_money=q.price),
        )
        for q in quotes
        if q not in kept
    )
    return kept, out


def choose_quote(
    quotes: Sequence[Quote], choosing: Choosing, *, ship_on: date, forced: str | None = None
) -> Quote | None:
    """Return the quote that is taken of several, cheapest first; None when a person's service is not among them.

    The cheapest that arrives in time, or the soonest when none does; the trusted carrier's unless another saves more
    than the set amount.
    """
    if forced:
        return next((quote for quote in quotes if quote.service == forced), None)
    good = _in_time(quotes, choosing, ship_on)
    if not good:
        return min(quotes, key=lambda q: (q.arrives_on, q.price, q.service), default=None)
    cheapest = good[0]
    trusted = next((quote for quote in good if quote.carrier == choosing.trusted), None)
    if trusted is not None and trusted.price - cheapest.price <= choosing.unless_saves:
        return trusted
    return cheapest


def _in_time(quotes: Sequence[Quote], choosing: Choosing, ship_on: date) -> list[Quote]:
    """Return the quotes that arrive within the days the workshop promises."""
    days = choosing.arrive_within_days
    if days is None:
        return list(quotes)
    return [quote for quote in quotes if quote.arrives_on <= ship_on + timedelta(days=days)]
