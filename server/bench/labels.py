"""Buying a parcel's label, so that it is never paid twice and never lost.

First the asking is written down with its key, then the carrier is called outside any transaction, then the answer
is written. When no answer comes the asking stands: asking again uses the same key, and the carrier sells once.
"""

from dataclasses import replace
from decimal import Decimal
from uuid import uuid4

from django.db import transaction
from django.utils import timezone

from core.messages import Text
from core.tariffs.model import Sending
from core.tariffs.quote import Quote, Refusal, quote_all
from server.api.problems import Refused
from server.bench.models import Parcel
from server.bench.services import part_of, weight_check_of
from server.carriers.models import Label
from server.carriers.selectors import core_tariffs
from server.plans.facts import place_of, ship_day
from server.standins.carrier import Carrier, CarrierRefused, NoAnswer, SimulatedCarrier
from server.workshops.models import Member, Workshop

__all__ = ["CARRIER", "buy_label", "live_label", "offers", "refresh_tracking", "void_label"]

CARRIER: Carrier = SimulatedCarrier()
_GONE = (Label.State.REFUSED, Label.State.VOID)


def offers(workshop: Workshop, parcel: Parcel) -> tuple[tuple[Quote, ...], tuple[Refusal, ...]]:
    """Return what each service asks at the measured weight and the planned outer size, cheapest first."""
    if parcel.measured_mg is None:
        return (), ()
    candidate = part_of(parcel).candidate
    day = ship_day(workshop)
    asked = candidate.sending or Sending(destination=place_of(parcel.order), ship_on=day)
    quotes, refusals = quote_all(
        core_tariffs(workshop),
        outer=candidate.outer_bulged,
        gross_mg=parcel.measured_mg,
        sending=replace(asked, ship_on=max(day, asked.ship_on)),
    )
    # What the plan would not take for these goods or by the workshop's rules is not offered at the bench either.
    ruled = {
        one.service: one for one in candidate.refusals if one.limit_name in ("days in transit", "arrive by", "choosing")
    }
    kept = tuple(quote for quote in quotes if quote.service not in ruled)
    return kept, (*refusals, *(ruled[quote.service] for quote in quotes if quote.service in ruled))


def live_label(workshop: Workshop, parcel: Parcel) -> Label | None:
    """Return the label asked for or bought; refused ones and those cancelled do not count."""
    return Label.objects.of(workshop).filter(parcel=parcel).exclude(state__in=_GONE).first()


def buy_label(*, by: Member, parcel_id: int, service: str, agreed: Decimal | None = None) -> Label:
    """Buy the label of a weighed parcel. Asked again, returns the label that was bought.

    ``agreed``: the price a person agreed to when the carrier asked another one than its list says.
    Raises Refused: not_weighed, weight_not_settled, service_not_offered, carrier_refused, price_changed, and
    carrier_no_answer (503: nothing is lost, ask again).
    """
    label: Label | None = None
    standing = False
    try:
        price = _asked_price(by, parcel_id, service, agreed)
        label, standing = _ask(by, parcel_id, service, price)
        if label.state == Label.State.BOUGHT:
            return label
        sales = CARRIER.buy(
            by.workshop,
            key=label.key,
            service=label.service,
            price=label.price,
            weight_mg=label.weight_mg,
            transit_days=label.transit_days,
        )
    except CarrierRefused as error:
        if standing:
            # Refused now says nothing of the asking before, which was not answered: it may have sold the label.
            raise Refused(
                f"The carrier refused: {error} It may have sold this label when it was asked before "
                "and did not answer, so "
                "it stays asked for. Ask again when they answer, or call them.",
                code="carrier_refused",
            ) from None
        if label is not None:
            _answer(by.workshop, label, problem=str(error), tracking="")
        raise Refused(
            f"The carrier refused: {error} Nothing was paid. Choose another service, or try later.",
            code="carrier_refused",
        ) from None
    except NoAnswer as error:
        text = f"{error} Nothing is lost and nothing is paid twice: press again, and it is the same label."
        raise Refused(text, code="carrier_no_answer", status=503) from None
    return _answer(by.workshop, label, problem="", tracking=sales[0].tracking)


def void_label(*, by: Member, parcel_id: int) -> Label:
    """Cancel a bought label; then another may be bought.

    Written down before the carrier is asked, as with buying: while the answer is out the parcel cannot be closed with
    it, and asking again asks for the same. Raises Refused: no_label, already_closed, carrier_refused, carrier_no_answer
    (503: ask again).
    """
    label, asked_before = _to_give_back(by, parcel_id)
    try:
        CARRIER.void(by.workshop, key=label.key)
    except CarrierRefused as error:
        if asked_before:
            text = (
                f"The carrier refused: {error} It may have cancelled the label when it was asked before "
                "and did not answer: do not use it. Ask again, or call them."
            )
            raise Refused(text, code="carrier_refused") from None
        _given_back(by.workshop, label, Label.State.BOUGHT)
        text = f"The carrier does not cancel it: {error} The label is still yours; use it, or ask them."
        raise Refused(text, code="carrier_refused") from None
    except NoAnswer as error:
        text = f"{error} It may or may not have been cancelled: press again, it is never done twice."
        raise Refused(text, code="carrier_no_answer", status=503) from None
    return _given_back(by.workshop, label, Label.State.VOID)


@transaction.atomic
def _to_give_back(by: Member, parcel_id: int) -> tuple[Label, bool]:
    """Write down that the label is to go back; return it, and whether that was asked before."""
    parcel = Parcel.objects.of(by.workshop).select_for_update(of=("self",)).filter(pk=parcel_id).first()
    if parcel is None:
        raise Refused("There is no such parcel in your workshop.", code="not_found", status=404)
    if parcel.state != Parcel.State.PACKING:
        raise Refused("This parcel is closed. Reopen it first, then cancel the label.", code="already_closed")
    label = live_label(by.workshop, parcel)
    if label is None or label.state == Label.State.ASKED:
        raise Refused("No label was bought for this parcel.", code="no_label")
    asked_before = label.state == Label.State.VOIDING
    label.state = Label.State.VOIDING
    label.save(update_fields=["state"])
    return label, asked_before


@transaction.atomic
def _given_back(workshop: Workshop, label: Label, state: Label.State) -> Label:
    row = Label.objects.of(workshop).select_for_update().get(pk=label.pk)
    if row.state == Label.State.VOIDING:  # else the other of two people wrote the answer first
        row.state, row.void_at = state, timezone.now() if state == Label.State.VOID else None
        row.save(update_fields=["state", "void_at"])
    return row


def refresh_tracking(*, by: Member, parcel_id: int) -> Label:
    """Ask the carrier about a parcel and keep what it tells: events, and what it measured and charged since.

    Raises Refused: no_label, carrier_refused, carrier_no_answer (503).
    """
    label = live_label(by.workshop, _found(by.workshop, parcel_id))
    if label is None or label.state != Label.State.BOUGHT:
        raise Refused("No label was bought for this parcel.", code="no_label")
    try:
        progress = CARRIER.track(by.workshop, key=label.key)
    except CarrierRefused as error:
        raise Refused(f"The carrier refused: {error}", code="carrier_refused") from None
    except NoAnswer as error:
        text = f"{error} What it told before is kept; ask again later."
        raise Refused(text, code="carrier_no_answer", status=503) from None
    with transaction.atomic():
        row = Label.objects.of(by.workshop).select_for_update().get(pk=label.pk)
        row.events = [{"on": event.on.isoformat(), "words": event.words} for event in progress.events]
        row.measured_mg, row.charged_more = progress.measured_mg, progress.charged_more
        row.told_at = timezone.now()
        row.save(update_fields=["events", "measured_mg", "charged_more", "told_at"])
    return row


def _found(workshop: Workshop, parcel_id: int) -> Parcel:
    parcel = Parcel.objects.of(workshop).select_related("order").filter(pk=parcel_id).first()
    if parcel is None:
        raise Refused("There is no such parcel in your workshop.", code="not_found", status=404)
    return parcel


def _asked_price(by: Member, parcel_id: int, service: str, agreed: Decimal | None) -> Decimal | None:
    """Return the price the carrier asks when a person agreed to it, None when it is that of its list.

    Asked before anything is written or sold, so that nothing is in flight when it differs; a label that was asked for
    already is not priced again: it may have been sold.
    """
    parcel = _found(by.workshop, parcel_id)
    if live_label(by.workshop, parcel) is not None:
        return None
    quote = next((one for one in offers(by.workshop, parcel)[0] if one.service == service), None)
    if quote is None:
        return None  # said by _ask, with the reason
    asked = CARRIER.check(by.workshop, service=service, price=quote.price)
    if asked == quote.price:
        return None
    if asked != agreed:
        raise Refused(
            f"{quote.service_name} asks {asked:f} now; its list says {quote.price:f}. Nothing was "
            "bought. Agree to it, or "
            "choose another service and import their new list.",
            code="price_changed",
            facts={"asked": f"{asked:f}", "listed": f"{quote.price:f}"},
        )
    return asked


@transaction.atomic
def _ask(by: Member, parcel_id: int, service: str, price: Decimal | None) -> tuple[Label, bool]:
    """Write the asking down; return it, and whether it stood already."""
    parcel = (
        Parcel.objects.of(by.workshop)
        .select_for_update(of=("self",))
        .select_related("order")
        .filter(pk=parcel_id)
        .first()
    )
    if parcel is None:
        raise Refused("There is no such parcel in your workshop.", code="not_found", status=404)
    standing = live_label(by.workshop, parcel)
    if standing is not None:
        if standing.state == Label.State.VOIDING:
            raise Refused(
                "The label is being cancelled and the carrier has not answered. Press that again first.",
                code="label_in_flight",
            )
        if standing.service != service and standing.state == Label.State.ASKED:
            raise Refused(
                f"{standing.service_name} was asked and has not answered yet. Ask it again first: it "
                "may have sold the label.",
                code="label_in_flight",
            )
        return standing, True
    if parcel.state != Parcel.State.PACKING:
        raise Refused("This parcel is closed.", code="already_closed")
    check = weight_check_of(parcel)
    if check is None or parcel.measured_mg is None:
        raise Refused("Weigh the parcel first: the label is bought at its real weight.", code="not_weighed")
    if not check.fine and not parcel.weight_settled:
        raise Refused(("The weight needs a reason first.", check.message), code="weight_not_settled")
    quotes, refusals = offers(by.workshop, parcel)
    quote = next((q for q in quotes if q.service == service), None)
    if quote is None:
        why: Text = next(
            (r.message for r in refusals if r.service == service),
            f"There is no service {service[:30]} for this parcel.",
        )
        raise Refused(why, code="service_not_offered", status=422, field="service")
    label = Label.objects.of(by.workshop).create(
        workshop=by.workshop,
        parcel=parcel,
        key=uuid4(),
        carrier=quote.carrier,
        service=quote.service,
        service_name=quote.service_name,
        weight_mg=parcel.measured_mg,
        tariff_version=quote.tariff_version,
        transit_days=quote.transit_days,
        price=quote.price if price is None else price,
        asked_at=timezone.now(),
    )
    return label, False


@transaction.atomic
def _answer(workshop: Workshop, label: Label, *, problem: str, tracking: str) -> Label:
    row = Label.objects.of(workshop).select_for_update().get(pk=label.pk)
    if row.state != Label.State.ASKED:  # the other of two people wrote the answer first
        return row
    row.state = Label.State.REFUSED if problem else Label.State.BOUGHT
    row.problem, row.tracking = problem[:300], tracking
    row.bought_at = None if problem else timezone.now()
    row.save()
    return row
