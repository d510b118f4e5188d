"""Orders over HTTP: thin."""

from typing import Annotated, Literal

from django.db.models import Max, Q
from django.http import Http404
from drf_spectacular.utils import OpenApiParameter
from pydantic import BaseModel, Field

from server.api.operation import operation
from server.api.problems import Refused
from server.api.uploads import uploaded_bytes
from server.api.views import Body, MemberView, Page
from server.formats.orders import ReadFile, read_orders
from server.orders import services
from server.orders.models import Order
from server.orders.screens import OrderOut, order_out, orders_out
from server.workshops.clock import today

__all__ = ["CancelView", "FileIn", "HoldView", "OrderView", "OrdersView", "PreviewView"]

_STATES = [*(state.value for state in Order.State), "open"]


class FileIn(Body):
    """An orders file: its text, or its bytes as base64, so that the encoding is found here."""

    name: Annotated[str, Field(max_length=200)]
    content: Annotated[str, Field(max_length=10_000_000)] = ""
    content_base64: Annotated[str, Field(max_length=14_000_000)] = ""

    def bytes_of(self) -> bytes:
        """Return the bytes of the file. Raises Refused when neither, both or a broken one is given."""
        if bool(self.content) == bool(self.content_base64):
            raise Refused(
                "Give the file as content (its text) or as content_base64 (its bytes).",
                code="not_valid",
                status=400,
                field="content",
            )
        return self.content.encode() if self.content else uploaded_bytes(self.name, self.content_base64)


class FaultOut(BaseModel):
    """One error of a file."""

    line: int
    column: str
    value: str
    allowed: str


class PreviewLine(BaseModel):
    """One line of the file as it was read."""

    line: int
    order: str
    buyer: str
    sku: str
    quantity: str
    verdict: Literal["new", "known", "fault", "left_out"]
    words: str


class PreviewOut(BaseModel):
    """What importing the file would do."""

    lines: list[PreviewLine]
    more_lines: int  #: lines beyond those shown
    faults: list[FaultOut]
    new_orders: int
    known_orders: int
    left_out_orders: int
    encoding: Literal["utf-8", "utf-16", "windows-1252"]


class HoldIn(Body):
    """Why an order is set aside."""

    reason: Annotated[str, Field(min_length=3, max_length=300)]


_SHOWN_LINES = 2_000


def _preview(intake: services.Intake, read: ReadFile) -> PreviewOut:
    by_line = {row.line: order for order in intake.orders for row in order.rows}
    faults: dict[int, list[str]] = {}
    for fault in intake.faults:
        faults.setdefault(fault.line, []).append(f"{fault.column}: {fault.value or 'empty'} (allowed: {fault.allowed})")
    lines = []
    for number, cells in read.raw[:_SHOWN_LINES]:
        order = by_line.get(number)
        verdict: Literal["new", "known", "fault", "left_out"] = "new"
        words = ""
        if number in faults:
            verdict, words = "fault", "; ".join(faults[number])
        elif order is None or order.fault:
            verdict, words = "left_out", "another line of this order has an error"
        elif order.known:
            verdict = "known"
        lines.append(
            PreviewLine(
                line=number,
                order=cells.get("order", "")[:40],
                buyer=cells.get("buyer", "")[:80],
                sku=cells.get("sku", "")[:40],
                quantity=cells.get("quantity", "")[:12],
                verdict=verdict,
                words=words,
            )
        )
    good = [order for order in intake.orders if order.fault is None]
    seen = {(cells.get("channel") or "file", cells.get("order", "")) for _, cells in read.raw}
    return PreviewOut(
        lines=lines,
        more_lines=max(0, len(read.raw) - _SHOWN_LINES),
        faults=[
            FaultOut(line=f.line, column=f.column, value=f.value, allowed=f.allowed)
            for f in intake.faults[:_SHOWN_LINES]
        ],
        new_orders=sum(1 for order in good if not order.known),
        known_orders=sum(1 for order in good if order.known),
        left_out_orders=len(seen) - len(good) if read.raw else 0,
        encoding=read.encoding,
    )


class OrdersView(MemberView):
    """GET /api/orders"""

    @operation(
        "orders",
        parameters=[
            OpenApiParameter(
                "state", str, enum=_STATES, description="Only orders in this state; open: all but packed and cancelled"
            ),
            OpenApiParameter("find", str, description="Order number, buyer or sku begins with or holds this"),
        ],
    )
    def get(self) -> Page[OrderOut]:
        """Orders, oldest first; the packed ones newest first."""
        rows = Order.objects.of(self.workshop).select_related("plan").prefetch_related("parcels")
        state, find = self.request.query_params.get("state"), self.sought
        if state is not None and state not in _STATES:
            raise Refused(
                f"state is one of {', '.join(_STATES)}; given: {state[:20]}.",
                code="not_valid",
                status=400,
                field="state",
            )
        if state == "open":
            rows = rows.exclude(state__in=(Order.State.PACKED, Order.State.CANCELLED))
        elif state:
            rows = rows.filter(state=state)
        if find:
            rows = rows.filter(
                Q(number__icontains=find) | Q(buyer__icontains=find) | Q(lines__sku__iexact=find)
            ).distinct()
        rows = (
            rows.alias(last_closed=Max("parcels__closed_at")).order_by("-last_closed", "-id")
            if state == Order.State.PACKED
            else rows.order_by("placed_on", "id")
        )
        return self.paged(rows, lambda page: orders_out(self.workshop, page))


class OrderView(MemberView):
    """GET /api/orders/{id}"""

    @operation("order")
    def get(self, order_id: int) -> OrderOut:
        """One order."""
        row = Order.objects.of(self.workshop).filter(pk=order_id).first()
        if row is None:
            raise Http404
        return order_out(self.workshop, row)


class PreviewView(MemberView):
    """POST /api/orders/intake/preview"""

    @operation("preview_orders")
    def post(self, body: FileIn) -> PreviewOut:
        """Read a file line by line; nothing is saved."""
        read = read_orders(body.bytes_of(), today=today(self.workshop))
        return _preview(services.group(self.workshop, read), read)


class HoldView(MemberView):
    """POST /api/orders/{id}/hold"""

    @operation("hold_order")
    def post(self, body: HoldIn, order_id: int) -> OrderOut:
        """Set an order aside."""
        return order_out(self.workshop, services.hold(by=self.member, order_id=order_id, reason=body.reason))


class CancelView(MemberView):
    """POST /api/orders/{id}/cancel"""

    @operation("cancel_order")
    def post(self, body: HoldIn, order_id: int) -> OrderOut:
        """The buyer does not want it any more."""
        return order_out(self.workshop, services.cancel(by=self.member, order_id=order_id, reason=body.reason))
