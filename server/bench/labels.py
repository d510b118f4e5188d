"""Buying a parcel's label, so that it is never paid twice and never lost.

First the asking is written down with its key, then the carrier is called outside any transaction, then the answer
is written. When no answer comes the asking stands: asking again uses the same key, and the carrier sells once.

A label's state follows what the carrier has under its key, and two people may hear different things of it: one is
refused while the other's call sells. So a refusal is believed only after the carrier was asked what it has; a sale and
a cancellation are believed always, whatever was heard before; and what stays in doubt is asked again by the worker
(``reconcile``), or written down by the owner who has telephoned (``record_answer``).
"""

from datetime import timedelta
from decimal import Decimal
from typing import Literal
from uuid import uuid4

from django.db import transaction
from django.utils import timezone

from core.messages import Text
from server.api.problems import Refused
from server.bench.changed import refuse_changed
from server.bench.models import Parcel
from server.bench.offers import offers
from server.bench.selectors import weight_check_of
from server.carriers.models import Label
from server.standins.carrier import Carrier, CarrierRefused, NoAnswer, SimulatedCarrier, Standing
from server.workshops.models import Member, Workshop

__all__ = [
    "CARRIER",
    "Answer",
    "buy_label",
    "live_label",
    "offers",
    "reconcile",
    "record_answer",
    "refresh_tracking",
    "track_label",
    "void_label",
]

CARRIER: Carrier = SimulatedCarrier()
#: What the owner may write down of what the carrier said.
Answer = Literal["sold", "not_sold", "cancelled", "not_cancelled"]
#: An asking that is older than this has nobody waiting for its answer any more.
_OLD = timedelta(minutes=2)
#: So long after a refusal the carrier is asked once more whether it sold the label after all.
_LATE = timedelta(days=3)


def live_label(workshop: Workshop, parcel: Parcel) -> Label | None:
    """Return the label asked for or bought; refused ones and those cancelled do not count."""
    return Label.objects.of(workshop).filter(parcel=parcel, state__in=Label.LIVE).first()


def buy_label(*, by: Member, parcel_id: int, service: str, agreed: Decimal | None = None) -> Label:
    """Buy the label of a weighed parcel. Asked again, returns the label that was bought.

    ``agreed``: the price a person agreed to when the carrier asked another one than its list says.
    Raises Refused: not_weighed, weight_not_settled, service_not_offered, carrier_refused, price_changed, and
    carrier_no_answer (503: nothing is lost, ask again).
    """
    try:
        price = _asked_price(by, parcel_id, service, agreed)
        label, standing = _ask(by, parcel_id, service, price)
    except CarrierRefused as error:
        raise _nothing_paid(error) from None
    except NoAnswer as error:
        raise _press_again(error) from None
    if label.state == Label.State.BOUGHT:
        return label
    try:
        sales = CARRIER.buy(
            by.workshop,
            key=label.key,
            service=label.service,
            price=label.price,
            weight_mg=label.weight_mg,
            transit_days=label.transit_days,
        )
    except CarrierRefused as error:
        return _after_refusal(by.workshop, label, error, standing=standing)
    except NoAnswer as error:
        raise _press_again(error) from None
    return _sold(by.workshop, label, sales[0].tracking)


def _after_refusal(workshop: Workshop, label: Label, error: CarrierRefused, *, standing: bool) -> Label:
    """A refusal is one answer; what the carrier has under the key is the truth."""
    found = _what_it_has(workshop, label)
    if found is not None and found.state == "sold":
        return _sold(workshop, label, found.tracking)
    if found is None and standing:
        # Refused now says nothing of the asking before, which was not answered: it may have sold the label.
        raise Refused(
            f"The carrier refused: {error} It may have sold this label when it was asked before "
            "and did not answer, and does not say, so "
            "it stays asked for. Ask again when they answer, or call them: the owner can write down what they say.",
            code="carrier_refused",
        ) from None
    _move(workshop, label, Label.State.REFUSED, only_from=(Label.State.ASKED,), problem=str(error))
    raise _nothing_paid(error) from None


def _what_it_has(workshop: Workshop, label: Label) -> Standing | None:
    """Ask the carrier what it has under the label's key; None when it does not say."""
    try:
        found = CARRIER.status(workshop, key=label.key)
    except (CarrierRefused, NoAnswer):
        return None
    Label.objects.of(workshop).filter(pk=label.pk).update(checked_at=timezone.now())
    return found


def _nothing_paid(error: CarrierRefused) -> Refused:
    return Refused(
        f"The carrier refused: {error} Nothing was paid. Choose another service, or try later.",
        code="carrier_refused",
    )


def _press_again(error: NoAnswer) -> Refused:
    text = f"{error} Nothing is lost and nothing is paid twice: press again, and it is the same label."
    return Refused(text, code="carrier_no_answer", status=503)


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
        return _after_no(by.workshop, label, error, asked_before=asked_before)
    except NoAnswer as error:
        text = f"{error} It may or may not have been cancelled: press again, it is never done twice."
        raise Refused(text, code="carrier_no_answer", status=503) from None
    return _cancelled(by.workshop, label)


def _after_no(workshop: Workshop, label: Label, error: CarrierRefused, *, asked_before: bool) -> Label:
    found = _what_it_has(workshop, label)
    if found is not None and found.state == "cancelled":
        return _cancelled(workshop, label)
    if found is None and asked_before:
        text = (
            f"The carrier refused: {error} It may have cancelled the label when it was asked before "
            "and did not answer: do not use it. Ask again, or call them: the owner can write down what they say."
        )
        raise Refused(text, code="carrier_refused") from None
    _move(workshop, label, Label.State.BOUGHT, only_from=(Label.State.VOIDING,))
    text = f"The carrier does not cancel it: {error} The label is still yours; use it, or ask them."
    raise Refused(text, code="carrier_refused") from None


@transaction.atomic
def _to_give_back(by: Member, parcel_id: int) -> tuple[Label, bool]:
    """Write down that the label is to go back; return it, and whether that was asked before."""
    parcel = _locked(by.workshop, parcel_id)
    if parcel.state != Parcel.State.PACKING:
        raise Refused("This parcel is closed. Reopen it first, then cancel the label.", code="already_closed")
    label = live_label(by.workshop, parcel)
    if label is None or label.state == Label.State.ASKED:
        raise Refused("No label was bought for this parcel.", code="no_label")
    asked_before = label.state == Label.State.VOIDING
    label.state = Label.State.VOIDING
    label.save(update_fields=["state"])
    return label, asked_before


def _locked(workshop: Workshop, parcel_id: int) -> Parcel:
    rows = Parcel.objects.of(workshop).select_for_update(of=("self",)).select_related("order", "kept")
    parcel = rows.filter(pk=parcel_id).first()
    if parcel is None:
        raise Refused("There is no such parcel in your workshop.", code="not_found", status=404)
    return parcel


@transaction.atomic
def _move(
    workshop: Workshop, label: Label, state: Label.State, *, only_from: tuple[Label.State, ...], problem: str = ""
) -> Label:
    """Move a label that is still in one of these states; one that has gone on stays where it is."""
    row = Label.objects.of(workshop).select_for_update().get(pk=label.pk)
    if row.state in only_from:
        row.state, row.problem = state, problem[:300]
        row.save(update_fields=["state", "problem"])
    return row


@transaction.atomic
def _sold(workshop: Workshop, label: Label, tracking: str) -> Label:
    """The carrier sold it: believed whatever was heard before. Returns the label the parcel goes by.

    When another was bought for the parcel meanwhile, or the parcel was undone, this one is surplus and is given back.
    """
    if label.parcel_id is not None:
        Parcel.objects.of(workshop).select_for_update(of=("self",)).filter(pk=label.parcel_id).first()
    row = Label.objects.of(workshop).select_for_update(of=("self",)).select_related("parcel").get(pk=label.pk)
    if row.state not in (Label.State.ASKED, Label.State.REFUSED):
        return row  # the other of two people wrote it first, or it was cancelled since
    live = Label.objects.of(workshop).filter(parcel=row.parcel_id, state__in=Label.LIVE).exclude(pk=row.pk).first()
    wanted = live is None and row.parcel is not None and row.parcel.state == Parcel.State.PACKING
    row.state = Label.State.BOUGHT if wanted else Label.State.SURPLUS
    row.tracking, row.problem, row.bought_at = tracking, "", timezone.now()
    row.save(update_fields=["state", "tracking", "problem", "bought_at"])
    return live or row


@transaction.atomic
def _cancelled(workshop: Workshop, label: Label) -> Label:
    """The carrier took it back: believed whatever was heard before."""
    row = Label.objects.of(workshop).select_for_update().get(pk=label.pk)
    if row.state != Label.State.VOID:
        row.state, row.void_at = Label.State.VOID, timezone.now()
        row.save(update_fields=["state", "void_at"])
    return row


def reconcile(workshop: Workshop) -> int:
    """Ask the carrier about every label in doubt and believe what it has. Returns how many moved. For the worker.

    In doubt: asked for or to be cancelled without an answer, sold besides another, and refused lately but not looked
    at since: somebody else's call may have sold it.
    """
    now = timezone.now()
    rows = Label.objects.of(workshop)
    waiting = rows.filter(state__in=(Label.State.ASKED, Label.State.VOIDING), asked_at__lt=now - _OLD)
    refused = rows.filter(state=Label.State.REFUSED, asked_at__range=(now - _LATE, now - _OLD), checked_at=None)
    moved = 0
    for label in [*waiting, *refused, *rows.filter(state=Label.State.SURPLUS)]:
        before = label.state
        _settle(workshop, label)
        label.refresh_from_db(fields=["state"])
        moved += label.state != before
    return moved


def _settle(workshop: Workshop, label: Label) -> None:
    found = _what_it_has(workshop, label)
    if found is None:
        return
    if found.state == "cancelled":
        _cancelled(workshop, label)
    elif found.state == "sold" and label.state in (Label.State.VOIDING, Label.State.SURPLUS):
        try:
            CARRIER.void(workshop, key=label.key)
        except CarrierRefused as error:
            stays = Label.State.BOUGHT if label.state == Label.State.VOIDING else Label.State.SURPLUS
            _move(workshop, label, stays, only_from=(Label.State(label.state),), problem=str(error))
        except NoAnswer:
            return
        else:
            _cancelled(workshop, label)
    elif found.state == "sold":
        _sold(workshop, label, found.tracking)
    else:
        said = "The carrier has no label under this number."
        _move(workshop, label, Label.State.REFUSED, only_from=(Label.State.ASKED,), problem=said)


@transaction.atomic
def record_answer(*, by: Member, parcel_id: int, answer: Answer, words: str, tracking: str = "") -> Label:
    """Write down what the carrier said of a label whose answer never came: the way out when it does not answer at all.

    Raises Refused: no_label, nothing_in_doubt, not_valid (a sale has a tracking number).
    """
    parcel = _locked(by.workshop, parcel_id)
    label = live_label(by.workshop, parcel)
    if label is None:
        raise Refused("No label was asked for.", code="no_label")
    possible: dict[str, tuple[Answer, ...]] = {
        Label.State.ASKED: ("sold", "not_sold"),
        Label.State.VOIDING: ("cancelled", "not_cancelled"),
    }
    if answer not in possible.get(label.state, ()):
        raise Refused(
            "The carrier has answered for this label; there is nothing to write down."
            if label.state == Label.State.BOUGHT
            else f"This label is {'asked for' if label.state == Label.State.ASKED else 'being cancelled'}; "
            f"possible: {' or '.join(possible[label.state])}.",
            code="nothing_in_doubt",
        )
    if answer == "sold" and not tracking.strip():
        raise Refused("Give the tracking number the carrier named.", code="not_valid", status=422, field="tracking")
    now = timezone.now()
    label.recorded = f"{by.name}: {words}"[:300]
    if answer in ("sold", "not_cancelled"):
        label.state = Label.State.BOUGHT
        label.tracking, label.bought_at = label.tracking or tracking.strip()[:40], label.bought_at or now
    elif answer == "cancelled":
        label.state, label.void_at = Label.State.VOID, now
    else:
        label.state, label.problem = Label.State.REFUSED, "The carrier says it sold no label."
    label.save()
    return label


def refresh_tracking(*, by: Member, parcel_id: int) -> Label:
    """Ask the carrier about a parcel and keep what it tells: events, and what it measured and charged since.

    Raises Refused: no_label, carrier_refused, carrier_no_answer (503).
    """
    label = live_label(by.workshop, _found(by.workshop, parcel_id))
    if label is None or label.state != Label.State.BOUGHT:
        raise Refused("No label was bought for this parcel.", code="no_label")
    try:
        return track_label(by.workshop, label)
    except CarrierRefused as error:
        raise Refused(f"The carrier refused: {error}", code="carrier_refused") from None
    except NoAnswer as error:
        text = f"{error} What it told before is kept; ask again later."
        raise Refused(text, code="carrier_no_answer", status=503) from None


def track_label(workshop: Workshop, label: Label) -> Label:
    """Ask the carrier how a parcel fares and keep what it tells. Raises NoAnswer, CarrierRefused; nothing changed."""
    progress = CARRIER.track(workshop, key=label.key)
    with transaction.atomic():
        row = Label.objects.of(workshop).select_for_update().get(pk=label.pk)
        row.events = [
            {"on": event.on.isoformat(), "kind": event.kind, "words": event.words} for event in progress.events
        ]
        row.told_at = timezone.now()
        if progress.charged_more != row.charged_more:  # it is of the month it was told in, however often it is told
            row.charged_at = row.told_at
        row.measured_mg, row.charged_more = progress.measured_mg, progress.charged_more
        row.save(update_fields=["events", "measured_mg", "charged_more", "charged_at", "told_at"])
    return row


def _found(workshop: Workshop, parcel_id: int) -> Parcel:
    parcel = Parcel.objects.of(workshop).select_related("order", "kept").filter(pk=parcel_id).first()
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
    refuse_changed(by.workshop, parcel.order_id)
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
    parcel = _locked(by.workshop, parcel_id)
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
