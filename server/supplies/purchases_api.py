"""Suppliers, offers and orders to them over HTTP: thin."""

from datetime import date, datetime
from decimal import Decimal
from typing import Annotated, Any
from uuid import UUID

from django.db.models import Q
from django.http import Http404, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, OpenApiResponse, extend_schema
from pydantic import BaseModel, Field, model_validator
from rest_framework.request import Request

from server.api.bodies import Body
from server.api.downloads import paper, saved_file
from server.api.operation import PROBLEMS, operation
from server.api.paging import Page
from server.api.views import MemberView
from server.formats.purchase_sheet import PurchaseRow, PurchaseSheet, purchase_csv, purchase_pdf, purchase_text
from server.supplies import purchasing
from server.supplies.models import Offer, Purchase, PurchaseLine, Supplier
from server.supplies.purchasing import Received, Wanted
from server.words.render import Words, words_of
from server.workshops.clock import today
from server.workshops.models import Workshop

__all__ = [
    "CancelPurchaseView", "ExpectView", "OfferView", "PurchaseCsvView", "PurchasePdfView", "PurchaseView",
    "PurchasesView", "ReceivePurchaseView", "SupplierView", "SuppliersView",
]  # fmt: skip

_Money = Annotated[Decimal, Field(ge=0, max_digits=12, decimal_places=2)]
_Price = Annotated[Decimal, Field(ge=0, max_digits=14, decimal_places=6)]
_Amount = Annotated[Decimal, Field(gt=0, le=1_000_000, max_digits=14, decimal_places=6)]
_PDF = {(200, "application/pdf"): OpenApiResponse(OpenApiTypes.BINARY), **PROBLEMS}


class SupplierDoc(Body):
    """Who sells, and how it comes."""

    name: Annotated[str, Field(min_length=1, max_length=80, pattern=r"\S")]
    lead_days: Annotated[int, Field(ge=0, le=250)]
    delivers_on: Annotated[list[Annotated[int, Field(ge=0, le=6)]], Field(max_length=7)] = []
    delivery: _Money = Decimal(0)
    free_from: _Money | None = None
    contact: Annotated[str, Field(max_length=200)] = ""
    note: Annotated[str, Field(max_length=200)] = ""


class SupplierOut(BaseModel):
    """A supplier."""

    id: int
    name: str
    lead_days: int
    delivers_on: list[int]
    delivery: Decimal
    free_from: Decimal | None
    contact: str
    note: str
    retired: bool
    supplies: list[str]  #: codes of what it offers


class OfferPriceDoc(Body):
    """From so much on one stock unit costs so much."""

    quantity: Annotated[Decimal, Field(ge=0, le=1_000_000, max_digits=14, decimal_places=6)]
    price: _Price


class SupplyOfferDoc(Body):
    """What a supplier asks for a supply; quantities in its stock unit."""

    their_code: Annotated[str, Field(max_length=40)] = ""
    pack: _Amount
    pack_name: Annotated[str, Field(max_length=40)] = ""
    least: Annotated[Decimal, Field(ge=0, le=1_000_000, max_digits=14, decimal_places=6)] = Decimal(0)
    prices: Annotated[list[OfferPriceDoc], Field(min_length=1, max_length=12)]

    @model_validator(mode="after")
    def _rising(self) -> "SupplyOfferDoc":
        quantities = [one.quantity for one in self.prices]
        if quantities != sorted(set(quantities)):
            raise ValueError("prices: each from a larger quantity than the one before")
        return self


class OfferSavedOut(BaseModel):
    """An offer as it is kept."""

    supplier_id: int
    supply_id: int
    pack: Decimal


class PurchaseWantedDoc(Body):
    """One line to order."""

    supply_id: int
    quantity: _Amount
    price: _Price


class PurchaseIn(Body):
    """An order to a supplier. Sent again with the same key, the same is answered."""

    supplier_id: int
    lines: Annotated[list[PurchaseWantedDoc], Field(max_length=100)]
    delivery: _Money
    expected_on: date
    note: Annotated[str, Field(max_length=200)] = ""
    request_key: UUID


class ReceivedDoc(Body):
    """What came of a line."""

    line_id: int
    quantity: Annotated[Decimal, Field(ge=0, le=1_000_000, max_digits=14, decimal_places=6)]
    price: _Price | None = None
    last: bool = False
    good_until: date | None = None


class ReceivePurchaseIn(Body):
    """What came of an order. Sent again with the same key, nothing more happens."""

    lines: Annotated[list[ReceivedDoc], Field(max_length=100)]
    request_key: UUID


class ExpectIn(Body):
    """Another day."""

    expected_on: date


class PurchaseLineOut(BaseModel):
    """One line of an order."""

    id: int
    supply_id: int
    code: str
    name: str
    place: str
    unit: str
    quantity: Decimal
    received: Decimal
    open: Decimal
    price: Decimal
    goods_cost: Decimal
    closed: bool


class PurchaseOut(BaseModel):
    """An order to a supplier."""

    id: int
    number: int
    supplier_id: int
    supplier: str
    state: str
    ordered_on: date
    expected_on: date
    first_expected_on: date
    days_late: int  #: of what is expected, after the day it was promised for; 0: not late
    delivery_cost: Decimal
    total: Decimal
    note: str
    by: str
    at: datetime
    text: str  #: for a mail
    lines: list[PurchaseLineOut]


def _supplier_out(row: Supplier) -> SupplierOut:
    return SupplierOut(
        id=row.pk,
        name=row.name,
        lead_days=row.lead_days,
        delivers_on=row.delivers_on,
        delivery=row.delivery,
        free_from=row.free_from,
        contact=row.contact,
        note=row.note,
        retired=row.retired_at is not None,
        supplies=sorted(offer.supply.code for offer in row.offers.all()),
    )


def _one_supplier(workshop: Workshop, supplier_id: int) -> SupplierOut:
    return _supplier_out(Supplier.objects.of(workshop).prefetch_related("offers__supply").get(pk=supplier_id))


class SuppliersView(MemberView):
    """GET and POST /api/suppliers"""

    owner_only = frozenset({"POST"})
    shows_costs = True

    @operation(
        "suppliers",
        parameters=[
            OpenApiParameter("find", str, description="Part of its name"),
            OpenApiParameter("retired", bool, description="The retired ones instead"),
        ],
    )
    def get(self) -> Page[SupplierOut]:
        """Who sells packing supplies."""
        rows = Supplier.objects.of(self.workshop).filter(retired_at__isnull=not self.wants_retired)
        if self.sought:
            rows = rows.filter(name__icontains=self.sought)
        return self.paged(rows.prefetch_related("offers__supply"), lambda page: [_supplier_out(row) for row in page])

    @operation("add_supplier", status=201)
    def post(self, body: SupplierDoc) -> SupplierOut:
        """Write a supplier down."""
        row = purchasing.save_supplier(by=self.member, supplier_id=None, values=body.model_dump())
        return _one_supplier(self.workshop, row.pk)


class SupplierView(MemberView):
    """PUT and DELETE /api/suppliers/{id}"""

    owner_only = frozenset({"PUT", "DELETE"})
    shows_costs = True

    @operation("change_supplier")
    def put(self, body: SupplierDoc, supplier_id: int) -> SupplierOut:
        """Write a supplier down another way."""
        row = purchasing.save_supplier(by=self.member, supplier_id=supplier_id, values=body.model_dump())
        return _one_supplier(self.workshop, row.pk)

    @operation("retire_supplier")
    def delete(self, supplier_id: int) -> SupplierOut:
        """Buy nothing there any more; what was ordered still comes."""
        return _one_supplier(self.workshop, purchasing.retire_supplier(by=self.member, supplier_id=supplier_id).pk)


class OfferView(MemberView):
    """PUT and DELETE /api/suppliers/{id}/offers/{supply}"""

    owner_only = frozenset({"PUT", "DELETE"})
    shows_costs = True

    @operation("save_offer")
    def put(self, body: SupplyOfferDoc, supplier_id: int, supply_id: int) -> OfferSavedOut:
        """Write down what a supplier asks for a supply."""
        values: dict[str, Any] = body.model_dump(exclude={"prices"})
        values["prices"] = [{"quantity": f"{one.quantity:f}", "price": f"{one.price:f}"} for one in body.prices]
        row = purchasing.save_offer(by=self.member, supplier_id=supplier_id, supply_id=supply_id, values=values)
        return OfferSavedOut(supplier_id=supplier_id, supply_id=supply_id, pack=row.pack)

    @operation("drop_offer")
    def delete(self, supplier_id: int, supply_id: int) -> SupplierOut:
        """It sells that no more."""
        purchasing.drop_offer(by=self.member, supplier_id=supplier_id, supply_id=supply_id)
        return _one_supplier(self.workshop, supplier_id)


def _sheet(workshop: Workshop, row: Purchase) -> PurchaseSheet:
    offers = {offer.supply_id: offer for offer in row.supplier.offers.all()}
    words = words_of(workshop.unit_system)
    return PurchaseSheet(
        number=row.number,
        supplier=row.supplier.name,
        contact=row.supplier.contact,
        workshop=workshop.name,
        address=tuple(workshop.address),
        currency=workshop.currency,
        ordered_on=row.ordered_on,
        expected_on=row.expected_on,
        note=row.note,
        rows=tuple(
            PurchaseRow(
                their_code=offers[line.supply_id].their_code if line.supply_id in offers else "",
                code=line.supply.code,
                name=line.supply.name,
                amount=_amount(words, line, offers.get(line.supply_id)),
                quantity=line.quantity,
                unit=line.supply.unit,
                price=line.price,
                goods=(line.quantity * line.price).quantize(Decimal("0.01")),
            )
            for line in row.lines.all()
        ),
        delivery=row.delivery,
    )


def _amount(words: Words, line: PurchaseLine, offer: Offer | None) -> str:
    plain = words.quantity(line.quantity, line.supply.unit)
    if offer is None or not offer.pack_name or line.quantity % offer.pack:
        return plain
    packs = (line.quantity / offer.pack).normalize()
    return f"{packs:f} x {offer.pack_name} ({plain})"


def _purchase_out(workshop: Workshop, row: Purchase) -> PurchaseOut:
    sheet = _sheet(workshop, row)
    day = today(workshop)
    late = max(day, row.expected_on) if row.state == Purchase.State.ORDERED else row.expected_on
    return PurchaseOut(
        id=row.pk,
        number=row.number,
        supplier_id=row.supplier_id,
        supplier=row.supplier.name,
        state=row.state,
        ordered_on=row.ordered_on,
        expected_on=row.expected_on,
        first_expected_on=row.first_expected_on,
        days_late=max(0, (late - row.first_expected_on).days),
        delivery_cost=row.delivery,
        total=sheet.goods + row.delivery,
        note=row.note,
        by=row.by,
        at=row.at,
        text=purchase_text(sheet),
        lines=[
            PurchaseLineOut(
                id=line.pk,
                supply_id=line.supply_id,
                code=line.supply.code,
                name=line.supply.name,
                place=line.supply.place,
                unit=line.supply.unit,
                quantity=line.quantity,
                received=line.received,
                open=Decimal(0) if line.closed else line.quantity - line.received,
                price=line.price,
                goods_cost=(line.quantity * line.price).quantize(Decimal("0.01")),
                closed=line.closed,
            )
            for line in row.lines.all()
        ],
    )


def _found(workshop: Workshop, purchase_id: int) -> Purchase:
    rows = (
        Purchase.objects.of(workshop).select_related("supplier").prefetch_related("lines__supply", "supplier__offers")
    )
    row = rows.filter(pk=purchase_id).first()
    if row is None:
        raise Http404
    return row


class PurchasesView(MemberView):
    """GET and POST /api/purchases"""

    owner_only = frozenset({"POST"})

    @operation(
        "purchases",
        parameters=[OpenApiParameter("state", str, description="ordered, received or cancelled; else all")],
    )
    def get(self) -> Page[PurchaseOut]:
        """Orders to suppliers, the last first."""
        rows = (
            Purchase.objects.of(self.workshop)
            .select_related("supplier")
            .prefetch_related("lines__supply", "supplier__offers")
        )
        state = self.request.query_params.get("state", "")
        if state in Purchase.State.values:
            rows = rows.filter(state=state)
        if self.sought:
            rows = rows.filter(Q(supplier__name__icontains=self.sought))
        return self.paged(rows, lambda page: [_purchase_out(self.workshop, row) for row in page])

    @operation("order_from_supplier", status=201)
    def post(self, body: PurchaseIn) -> PurchaseOut:
        """Write down what was ordered."""
        row = purchasing.order_from(
            by=self.member,
            supplier_id=body.supplier_id,
            lines=[Wanted(supply_id=one.supply_id, quantity=one.quantity, price=one.price) for one in body.lines],
            delivery=body.delivery,
            expected_on=body.expected_on,
            note=body.note,
            request_key=body.request_key,
        )
        return _purchase_out(self.workshop, _found(self.workshop, row.pk))


class PurchaseView(MemberView):
    """GET /api/purchases/{id}"""

    @operation("purchase")
    def get(self, purchase_id: int) -> PurchaseOut:
        """One order to a supplier."""
        return _purchase_out(self.workshop, _found(self.workshop, purchase_id))


class ReceivePurchaseView(MemberView):
    """POST /api/purchases/{id}/receive"""

    @operation("receive_purchase")
    def post(self, body: ReceivePurchaseIn, purchase_id: int) -> PurchaseOut:
        """Receive what came: all, in part, more, at another price."""
        row = purchasing.receive_purchase(
            by=self.member,
            purchase_id=purchase_id,
            lines=[
                Received(
                    line_id=one.line_id,
                    quantity=one.quantity,
                    price=one.price,
                    last=one.last,
                    good_until=one.good_until,
                )
                for one in body.lines
            ],
            request_key=body.request_key,
        )
        return _purchase_out(self.workshop, _found(self.workshop, row.pk))


class ExpectView(MemberView):
    """POST /api/purchases/{id}/expect"""

    @operation("expect_purchase")
    def post(self, body: ExpectIn, purchase_id: int) -> PurchaseOut:
        """It comes on another day."""
        row = purchasing.expect_on(by=self.member, purchase_id=purchase_id, day=body.expected_on)
        return _purchase_out(self.workshop, _found(self.workshop, row.pk))


class CancelPurchaseView(MemberView):
    """POST /api/purchases/{id}/cancel"""

    owner_only = frozenset({"POST"})

    @operation("cancel_purchase")
    def post(self, purchase_id: int) -> PurchaseOut:
        """Nothing more of it comes; what was received stays."""
        row = purchasing.cancel_purchase(by=self.member, purchase_id=purchase_id)
        return _purchase_out(self.workshop, _found(self.workshop, row.pk))


class PurchasePdfView(MemberView):
    """GET /api/purchases/{id}/order.pdf"""

    shows_costs = True

    @extend_schema(operation_id="purchase_pdf", responses=_PDF)
    def get(self, request: Request, purchase_id: int) -> HttpResponse:
        """The order on paper."""
        row = _found(self.workshop, purchase_id)
        return paper(purchase_pdf(_sheet(self.workshop, row)), f"order-P-{row.number}.pdf")


class PurchaseCsvView(MemberView):
    """GET /api/purchases/{id}/order.csv"""

    shows_costs = True

    @extend_schema(operation_id="purchase_csv", responses={(200, "text/csv"): OpenApiTypes.STR, **PROBLEMS})
    def get(self, request: Request, purchase_id: int) -> HttpResponse:
        """The order as CSV."""
        row = _found(self.workshop, purchase_id)
        return saved_file(purchase_csv(_sheet(self.workshop, row)), "text/csv", f"order-P-{row.number}.csv")
