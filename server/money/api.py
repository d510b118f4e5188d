"""Money over HTTP: months, records, fees, closing: thin."""

import re
from datetime import date
from decimal import Decimal
from typing import Annotated, Literal

from django.http import Http404, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from pydantic import BaseModel, Field
from rest_framework.request import Request

from core.money.months import month_of
from server.api.bodies import Body
from server.api.downloads import saved_file
from server.api.operation import PROBLEMS, operation
from server.api.paging import Page
from server.api.problems import Refused
from server.api.views import MemberView
from server.money import services
from server.money.exporting import record_csv, record_json
from server.money.models import FeeRow
from server.money.per_unit import UnitsLeftOut, units_left
from server.money.screens import MoneyMonth, MoneyOrder, MonthsOut, found_order, month_out, months_out, order_out
from server.workshops.clock import today

__all__ = [
    "CloseMonthView", "FeeView", "FeesView", "MoneyOrderView", "MonthView", "MonthsView", "RecordCsvView",
    "RecordJsonView", "UnitsLeftView",
]  # fmt: skip

_MONTH = re.compile(r"20[0-9]{2}-(0[1-9]|1[0-2])")


class FeeIn(Body):
    """What a channel or payment takes, or tax, of orders placed from a day on."""

    kind: Literal["channel", "payment", "tax"]
    channel: Annotated[str, Field(max_length=30)] = ""
    percent: Annotated[Decimal, Field(ge=0, le=100, decimal_places=2)] = Decimal(0)
    fixed: Annotated[Decimal, Field(ge=0, le=10_000, decimal_places=2)] = Decimal(0)
    of_postage: bool = True
    from_day: date


class FeeOut(BaseModel):
    """A fee."""

    id: int
    kind: Literal["channel", "payment", "tax"]
    channel: str
    percent: Decimal
    fixed: Decimal
    of_postage: bool
    from_day: date


class UnitsLeftIn(Body):
    """At which price, up to how many."""

    price: Annotated[Decimal, Field(ge=0, le=100_000, decimal_places=2)] | None = None
    most: Annotated[int, Field(ge=1, le=24)] = 12


class ClosedOut(BaseModel):
    """A month that is closed, or open again."""

    month: str
    closed: bool
    left: Decimal
    orders: int


def _month(view: MemberView, month: str) -> str:
    """Return a month that is asked for: not of another form, and none that is to come."""
    if not _MONTH.fullmatch(month):
        raise Refused(f"A month is written as 2026-10; given: {month[:20]}.", code="not_valid", status=400)
    if month > month_of(today(view.workshop)):
        raise Refused(f"{month} has not begun.", code="not_valid", status=400)
    return month


class MonthsView(MemberView):
    """GET /api/money/months"""

    shows_costs = True

    @operation("money_months")
    def get(self) -> MonthsOut:
        """The last months and what was left in each."""
        return months_out(self.workshop)


class MonthView(MemberView):
    """GET /api/money/months/{month}"""

    shows_costs = True

    @operation("money_month")
    def get(self, month: str) -> MoneyMonth:
        """A month: what was left, by order, size, channel, product and zone."""
        return month_out(self.workshop, _month(self, month))


class CloseMonthView(MemberView):
    """POST, DELETE /api/money/months/{month}/closed"""

    owner_only = frozenset({"POST", "DELETE"})
    shows_costs = True

    @operation("close_month")
    def post(self, month: str) -> ClosedOut:
        """Close a month: its lines are kept as they are."""
        row = services.close_month(by=self.member, month=_month(self, month))
        return ClosedOut(month=row.month, closed=True, left=row.left, orders=row.orders)

    @operation("open_month")
    def delete(self, month: str) -> ClosedOut:
        """Open the month that was closed last, within a day."""
        row = services.open_month(by=self.member, month=_month(self, month))
        return ClosedOut(month=row.month, closed=False, left=row.left, orders=row.orders)


class MoneyOrderView(MemberView):
    """GET /api/money/orders/{id}"""

    shows_costs = True

    @operation("money_order")
    def get(self, order_id: int) -> MoneyOrder:
        """An order's record: every line with its day and source."""
        found = found_order(self.workshop, order_id)
        if found is None:
            raise Http404
        return order_out(found)


class RecordCsvView(MemberView):
    """GET /api/money/months/{month}/record.csv"""

    shows_costs = True

    @extend_schema(operation_id="record_csv", responses={(200, "text/csv"): OpenApiTypes.STR, **PROBLEMS})
    def get(self, request: Request, month: str) -> HttpResponse:
        """A month's lines as CSV."""
        asked = _month(self, month)
        return saved_file(record_csv(self.workshop, asked), "text/csv", f"record-{asked}.csv")


class RecordJsonView(MemberView):
    """GET /api/money/months/{month}/record.json"""

    shows_costs = True

    @extend_schema(operation_id="record_json", responses={(200, "application/json"): OpenApiTypes.OBJECT, **PROBLEMS})
    def get(self, request: Request, month: str) -> HttpResponse:
        """A month's lines as JSON."""
        asked = _month(self, month)
        return saved_file(record_json(self.workshop, asked), "application/json", f"record-{asked}.json")


def _fee(row: FeeRow) -> FeeOut:
    return FeeOut(
        id=row.pk, kind=row.kind, channel=row.channel, percent=row.percent, fixed=row.fixed,  # type: ignore[arg-type]
        of_postage=row.of_postage, from_day=row.from_day,
    )  # fmt: skip


class UnitsLeftView(MemberView):
    """GET /api/money/products/{id}/left"""

    shows_costs = True

    @operation(
        "units_left",
        parameters=[
            OpenApiParameter("price", str, description="Of a unit; what it was sold for last where it is not said"),
            OpenApiParameter("most", int, description="Up to so many units, 12 where it is not said"),
        ],
    )
    def get(self, product_id: int) -> UnitsLeftOut:
        """What is left per unit when 1, 2, 3 ... are ordered."""
        asked = UnitsLeftIn.model_validate(self.request.query_params.dict())
        return units_left(self.workshop, product_id, asked.price, asked.most)


class FeesView(MemberView):
    """GET, POST /api/money/fees"""

    owner_only = frozenset({"POST"})
    shows_costs = True

    @operation("fees")
    def get(self) -> Page[FeeOut]:
        """What channels and payments take, and taxes; the newest of each first."""
        return self.paged(FeeRow.objects.of(self.workshop), lambda rows: map(_fee, rows))

    @operation("add_fee")
    def post(self, body: FeeIn) -> FeeOut:
        """Say what is taken from a day on."""
        return _fee(services.add_fee(by=self.member, values=body.model_dump()))


class FeeView(MemberView):
    """DELETE /api/money/fees/{id}"""

    owner_only = frozenset({"DELETE"})
    shows_costs = True

    @operation("delete_fee")
    def delete(self, fee_id: int) -> FeeOut:
        """Take a fee away."""
        return _fee(services.delete_fee(by=self.member, fee_id=fee_id))
