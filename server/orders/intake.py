"""Taking orders in: from a file, a channel or another program (orders; step 4 of the work).

Each is compared with what is here: new, the same as before, changed, cancelled. New ones are imported; a change of one
that is here is noted (``changes``) and applied when a person says so. Sent twice, also at the same moment, nothing is
taken in twice.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Any, Literal

from django.db import transaction
from django.utils import timezone

from server.formats.orders import FileFault, OrderRow, ReadFile, key_of
from server.orders.changes import note_change, waiting_changes, was_cancelled
from server.orders.documents import document_of, lines_alike
from server.orders.models import Order, OrderLine
from server.orders.naming import remember_names
from server.orders.reading import Opened, keep_channel
from server.recipes.models import Product
from server.workshops.models import Workshop, lock_workshop

__all__ = [
    "ORDINARY_RISK_ACTIONS",
    "GroupedOrder",
    "Intake",
    "RiskAction",
    "Taken",
    "accept",
    "group",
    "import_opened",
    "risk_action",
]

#: What taking an order in comes to. ``void``: cancelled or sent elsewhere before it was ever here.
Verdict = Literal["new", "known", "changed", "cancelled", "void"]
#: What is done with an order whose payment is at risk.
RiskAction = Literal["pack", "hold", "refuse"]


@dataclass(frozen=True, slots=True, kw_only=True)
class GroupedOrder:
    """The rows of one order, and what taking it in would do."""

    channel: str
    number: str
    rows: tuple[OrderRow, ...]
    verdict: Verdict
    document: dict[str, Any]  #: the order as it came
    here: int | None = None  #: the order it is, when it is here

    @property
    def known(self) -> bool:
        """Return whether it is here as it came."""
        return self.verdict == "known"


@dataclass(frozen=True, slots=True, kw_only=True)
class Intake:
    """What a file comes to for this workshop."""

    orders: tuple[GroupedOrder, ...]  #: whole good orders, in file order
    faults: tuple[FileFault, ...]

    def count(self, *verdicts: Verdict) -> int:
        """Return how many orders come to one of these."""
        return sum(order.verdict in verdicts for order in self.orders)


@dataclass(frozen=True, slots=True, kw_only=True)
class Taken:
    """What was done: ids of new orders, and how many were here, changed or cancelled."""

    new: tuple[int, ...]
    known: int
    changed: int
    cancelled: int


def group(workshop: Workshop, read: ReadFile) -> Intake:
    """Group good lines into orders and compare with what is here.

    An order with one faulty line is skipped whole: half an order is a wrong parcel.
    """
    bad_lines = {fault.line for fault in read.faults}
    bad = {key_of(cells) for line, cells in read.raw if line in bad_lines}
    grouped: dict[tuple[str, str], list[OrderRow]] = {}
    for row in read.rows:
        if (row.channel, row.order) not in bad:
            grouped.setdefault((row.channel, row.order), []).append(row)
    here = _here(workshop, list(grouped))
    return Intake(
        orders=tuple(_compared(key, rows, here.get(key)) for key, rows in grouped.items()), faults=read.faults
    )


@transaction.atomic
def import_opened(*, workshop: Workshop, file: Opened, names: Mapping[str, str]) -> tuple[Intake, Taken]:
    """Import what a file holds; keep how it is read, and which products its names mean. All of it or nothing.

    Raises Refused (unknown_product).
    """
    lock_workshop(workshop)
    remember_names(workshop=workshop, names=names)
    intake = group(workshop, file.read)
    taken = accept(workshop=workshop, intake=intake)
    if file.matching is not None and file.channel:
        keep_channel(workshop=workshop, name=file.channel, head=file.head, matching=file.matching)
    return intake, taken


@transaction.atomic
def accept(*, workshop: Workshop, intake: Intake) -> Taken:
    """Import every valid order that is not here yet, and note changes of those that are.

    The same file twice adds nothing, also when two people do it at once: the workshop's row is locked.
    """
    lock_workshop(workshop)
    # What was so when it was previewed may not be any more: compared again with the lock.
    here = _here(workshop, [(one.channel, one.number) for one in intake.orders])
    now = [_compared((one.channel, one.number), one.rows, here.get((one.channel, one.number))) for one in intake.orders]
    due = [one for one in now if one.verdict == "new"]
    products = {p.sku: p for p in Product.objects.of(workshop).filter(sku__in={r.sku for o in due for r in o.rows})}
    rows = Order.objects.of(workshop).bulk_create([_order(workshop, one) for one in due])
    OrderLine.objects.of(workshop).bulk_create(
        [
            OrderLine(
                workshop=workshop,
                order=row,
                position=at,
                sku=line.sku,
                product=products.get(line.sku),
                title=line.title or (products[line.sku].name if line.sku in products else ""),
                quantity=line.quantity,
                unit_price=line.unit_price,
            )
            for row, one in zip(rows, due, strict=True)
            for at, line in enumerate(one.rows, start=1)
        ]
    )
    waiting = waiting_changes(workshop, [one.here for one in now if one.here is not None])
    for one in now:
        # Most are here as they came: nothing is to be noted of those.
        if one.here is not None and (
            one.verdict != "known" or one.here in waiting or one.rows[0].mark > here[one.channel, one.number].mark
        ):
            note_change(
                workshop=workshop,
                order=here[one.channel, one.number],
                document=one.document,
                mark=one.rows[0].mark,
                kind=one.verdict if one.verdict in ("changed", "cancelled") else None,
            )
    return Taken(
        new=tuple(row.pk for row in rows),
        known=sum(one.verdict == "known" for one in now),
        changed=sum(one.verdict == "changed" for one in now),
        cancelled=sum(one.verdict == "cancelled" for one in now),
    )


def _here(workshop: Workshop, keys: Sequence[tuple[str, str]]) -> dict[tuple[str, str], Order]:
    rows = Order.objects.of(workshop).filter(number__in={number for _, number in keys}).prefetch_related("lines")
    return {(row.channel, row.number): row for row in rows}


def _compared(key: tuple[str, str], rows: Sequence[OrderRow], here: Order | None) -> GroupedOrder:
    document = document_of(rows)
    return GroupedOrder(
        channel=key[0],
        number=key[1],
        rows=tuple(rows),
        verdict=_verdict(rows[0], document, here),
        document=document,
        here=here.pk if here is not None else None,
    )


def _verdict(lead: OrderRow, document: dict[str, Any], here: Order | None) -> Verdict:
    if here is None:
        return "new" if lead.standing == "open" else "void"
    if lead.mark and here.mark and lead.mark < here.mark:
        return "known"  # a message that was overtaken by a later one
    if lead.standing == "sent":
        return "known"
    if lead.standing == "cancelled":
        return "known" if here.state == Order.State.CANCELLED or was_cancelled(here) else "cancelled"
    if here.came_as is None:
        return "known" if lines_alike(document, here.lines.all()) else "changed"
    return "known" if document == here.came_as else "changed"


def _order(workshop: Workshop, one: GroupedOrder) -> Order:
    lead = one.rows[0]
    code, text = _hold_at_intake(workshop, lead)
    return Order(
        workshop=workshop,
        channel=lead.channel,
        number=lead.order,
        state=Order.State.HELD if code else Order.State.NEW,
        placed_on=lead.placed_on,
        buyer=lead.buyer,
        address=list(lead.address_lines),
        postcode=lead.postcode,
        country=lead.country,
        note=lead.note,
        paid=lead.paid,
        risk=lead.risk,
        gift=lead.gift,
        postage_charged=lead.postage_charged,
        goods_value=sum((row.unit_price * row.quantity for row in one.rows), Decimal(0)),
        hold_code=code,
        hold_text=text,
        taken_in_at=timezone.now(),
        mark=lead.mark,
        came_as=one.document,
    )


#: What is done with a payment of a risk until the workshop says otherwise (a judgement).
ORDINARY_RISK_ACTIONS: dict[str, RiskAction] = {"low": "pack", "medium": "hold", "high": "hold"}


def risk_action(workshop: Workshop, risk: str) -> RiskAction:
    """Return what the workshop does with an order whose payment its channel marks so; no mark: it is packed."""
    actions: dict[str, RiskAction] = {**ORDINARY_RISK_ACTIONS, **workshop.risk_actions}
    return actions.get(risk, "pack")


def _hold_at_intake(workshop: Workshop, row: OrderRow) -> tuple[str, str]:
    """Orders not to pack yet: payment not in or at risk, or a note that asks something."""
    action = risk_action(workshop, row.risk)
    if action == "refuse":
        return "refused", f"The channel holds the payment to be a {row.risk} risk: you refuse those. Cancel the order."
    if action == "hold":
        return "risk", f"The channel holds the payment to be a {row.risk} risk. Look into it, then release the order."
    if not row.paid:
        return "not_paid", "The payment has not come in. Release it when it has."
    if "?" in row.note:
        return "note", "The buyer's note asks something. Answer it, then release the order."
    return "", ""
