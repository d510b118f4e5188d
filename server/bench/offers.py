"""What the services ask for a weighed parcel, and what a label bought at another weight will cost in the end."""

from dataclasses import dataclass, replace
from decimal import Decimal

from core.messages import Text
from core.parcels.candidate import RULE_LIMITS
from core.tariffs.model import Sending
from core.tariffs.quote import Quote, Refusal, quote_all
from server.bench.models import Parcel
from server.bench.selectors import part_of
from server.carriers.models import Label
from server.carriers.selectors import core_tariffs
from server.plans.facts import place_of, ship_day
from server.workshops.models import Workshop

__all__ = ["Charge", "charge_at_weight", "offers"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Charge:
    """What a label's service asks by its list: at the weight it was bought for, and at the weight now."""

    bought_mg: int
    now_mg: int
    listed: Decimal
    asked: Decimal | None  #: None: the service does not take it at this weight
    reason: Text = ""  #: then why


def offers(
    workshop: Workshop, parcel: Parcel, *, weight_mg: int | None = None
) -> tuple[tuple[Quote, ...], tuple[Refusal, ...]]:
    """Return what each service asks at the measured weight (or this) and the planned outer size, cheapest first."""
    gross_mg = parcel.measured_mg if weight_mg is None else weight_mg
    if gross_mg is None:
        return (), ()
    candidate = part_of(parcel).candidate
    day = ship_day(workshop)
    asked = candidate.sending or Sending(destination=place_of(parcel.order), ship_on=day)
    quotes, refusals = quote_all(
        core_tariffs(workshop),
        outer=candidate.outer_bulged,
        gross_mg=gross_mg,
        sending=replace(
            asked, ship_on=max(day, asked.ship_on), further_of=_beside(workshop, parcel) or asked.further_of
        ),
    )
    # What the plan would not take for these goods or by the workshop's rules is not offered at the bench either.
    ruled = {one.service: one for one in candidate.refusals if one.limit_name in RULE_LIMITS}
    kept = tuple(quote for quote in quotes if quote.service not in ruled)
    return kept, (*refusals, *(ruled[quote.service] for quote in quotes if quote.service in ruled))


def _beside(workshop: Workshop, parcel: Parcel) -> tuple[str, str] | None:
    """Return carrier and service of the label that was bought for the order's first parcel; None: there is none yet.

    A further parcel costs less by that service only, whatever was planned.
    """
    if parcel.part == 1:
        return None
    first = (
        Label.objects.of(workshop)
        .filter(parcel__order_id=parcel.order_id, parcel__part=1, state=Label.State.BOUGHT)
        .order_by("-id")
        .first()
    )
    return (first.carrier, first.service) if first is not None else None


def charge_at_weight(workshop: Workshop, parcel: Parcel, label: Label) -> Charge | None:
    """Return what carrying the parcel will cost when it weighs other than its label says; None: just what was paid.

    A list that is no longer there, or does not take the label's own weight any more, tells nothing: then what was paid
    stands for it.
    """
    now_mg = parcel.measured_mg
    if now_mg is None or now_mg == label.weight_mg:
        return None
    then = next((q for q in offers(workshop, parcel, weight_mg=label.weight_mg)[0] if q.service == label.service), None)
    quotes, refusals = offers(workshop, parcel)
    now = next((q for q in quotes if q.service == label.service), None)
    listed = then.price if then else label.price
    if now is not None and now.price == listed:
        return None
    why: Text = next((one.message for one in refusals if one.service == label.service), "")
    return Charge(bought_mg=label.weight_mg, now_mg=now_mg, listed=listed, asked=now.price if now else None, reason=why)
