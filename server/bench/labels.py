"""Buying a parcel's label, so that it is never paid twice and never lost.

First the asking is written down with its key, then the carrier is called outside any transaction, then the answer
is written. When no answer comes the asking stands: asking again uses the same key, and the carrier sells once.
"""

from dataclasses import replace
from uuid import uuid4

from django.db import transaction
from django.utils import timezone

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

__all__ = ["CARRIER", "buy_label", "live_label", "offers"]

CARRIER: Carrier = SimulatedCarrier()


def offers(workshop: Workshop, parcel: Parcel) -> tuple[tuple[Quote, ...], tuple[Refusal, ...]]:
    """Return what each service asks at the measured weight and the planned outer size, cheapest first."""
    if parcel.measured_mg is None:
        return (), ()
    candidate = part_of(parcel).candidate
    day = ship_day(workshop)
    asked = candidate.sending or Sending(destination=place_of(parcel.order), ship_on=day)
    return quote_all(
        core_tariffs(workshop),
        outer=candidate.outer_bulged,
        gross_mg=parcel.measured_mg,
        sending=replace(asked, ship_on=max(day, asked.ship_on)),
    )


def live_label(workshop: Workshop, parcel: Parcel) -> Label | None:
    """Return the label asked for or bought; refused ones do not count."""
    return Label.objects.of(workshop).filter(parcel=parcel).exclude(state=Label.State.REFUSED).first()


def buy_label(*, by: Member, parcel_id: int, service: str) -> Label:
    """Buy the label of a weighed parcel. Asked again, returns the label that was bought.

    Raises Refused: not_weighed, weight_not_settled, service_not_offered, carrier_refused, and carrier_no_answer
    (503: nothing is lost, ask again).
    """
    label = _ask(by, parcel_id, service)
    if label.state == Label.State.BOUGHT:
        return label
    try:
        sales = CARRIER.buy(by.workshop, key=label.key, service=label.service, price=label.price)
    except CarrierRefused as error:
        _answer(by.workshop, label, problem=str(error), tracking="")
        raise Refused(
            f"The carrier refused: {error} Nothing was paid. Choose another service, or try later.",
            code="carrier_refused",
        ) from None
    except NoAnswer as error:
        text = f"{error} Nothing is lost and nothing is paid twice: press again, and it is the same label."
        raise Refused(text, code="carrier_no_answer", status=503) from None
    return _answer(by.workshop, label, problem="", tracking=sales[0].tracking)


@transaction.atomic
def _ask(by: Member, parcel_id: int, service: str) -> Label:
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
        if standing.service != service and standing.state == Label.State.ASKED:
            raise Refused(
                f"{standing.service_name} was asked and has not answered yet. Ask it again first: it may have sold the label.",
                code="label_in_flight",
            )
        return standing
    if parcel.state != Parcel.State.PACKING:
        raise Refused("This parcel is closed.", code="already_closed")
    check = weight_check_of(parcel)
    if check is None or parcel.measured_mg is None:
        raise Refused("Weigh the parcel first: the label is bought at its real weight.", code="not_weighed")
    if not check.fine and not parcel.weight_settled:
        raise Refused(f"Settle the weight first. {check.message}", code="weight_not_settled")
    quotes, refusals = offers(by.workshop, parcel)
    quote = next((q for q in quotes if q.service == service), None)
    if quote is None:
        why = next(
            (r.message for r in refusals if r.service == service),
            f"There is no service {service[:30]} for this parcel.",
        )
        raise Refused(why, code="service_not_offered", status=422, field="service")
    return Label.objects.of(by.workshop).create(
        workshop=by.workshop,
        parcel=parcel,
        key=uuid4(),
        carrier=quote.carrier,
        service=quote.service,
        service_name=quote.service_name,
        weight_mg=parcel.measured_mg,
        price=quote.price,
        asked_at=timezone.now(),
    )


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
