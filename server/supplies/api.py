"""The cupboard over HTTP: thin."""

from collections.abc import Callable
from datetime import date, datetime
from decimal import Decimal
from typing import Annotated, Any, Literal
from uuid import UUID

from django.db.models import Q, Sum
from django.http import Http404, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from pydantic import BaseModel, Field
from rest_framework.request import Request

from core.errors import BadMeasure
from core.supplies.estimates import board_area_m2, carton_load_mg, carton_tare_mg
from core.supplies.expiry import Dated
from core.supplies.items import Board
from core.units import Size, format_length, format_weight, parse_length, parse_weight
from server.api.bodies import Body
from server.api.downloads import paper
from server.api.operation import PROBLEMS, operation
from server.api.paging import Page
from server.api.problems import Refused
from server.api.views import MemberView
from server.formats.place_labels import PlaceLabel, place_labels_pdf
from server.formats.supplies import STOCK_UNITS, Facts, SupplyItem, facts_of
from server.supplies import services, shelf
from server.supplies.models import Balance, Entry, Supply
from server.supplies.selectors import dated_of, slots_of, supplies_with_stock
from server.workshops.models import Workshop

__all__ = [
    "ArrangeView",
    "BringBackView",
    "CountView",
    "EntriesView",
    "EstimateView",
    "PlaceLabelsView",
    "ReceiveView",
    "ReclaimView",
    "ShelfView",
    "ShelvesView",
    "SuppliesView",
    "SupplyView",
]


class SupplyOut(BaseModel):
    """One slot of the cupboard."""

    id: int
    code: str
    name: str
    kind: str
    shelf: str
    slot: int
    unit: Literal["pieces", "m2", "l", "m"]
    on_hand: Decimal
    reserved: Decimal
    free: Decimal
    expired: Decimal  #: of what is on hand: it counts as none
    good_until: date | None  #: the last day of what expires next
    average_cost: Decimal
    reorder_at: Decimal | None
    facts: Facts
    estimated: list[str]  #: facts nobody has measured yet
    retired: bool


class EntryOut(BaseModel):
    """One ledger entry."""

    id: int
    kind: str
    quantity: Decimal
    unit_cost: Decimal | None
    average_after: Decimal
    balance: Decimal | None
    note: str
    by: str
    at: datetime
    order_number: str | None


class ReceiveIn(Body):
    """Stock received."""

    quantity: Annotated[Decimal, Field(gt=0, max_digits=14, decimal_places=6)]
    total_cost: Annotated[Decimal, Field(ge=0, max_digits=12, decimal_places=2)]
    note: Annotated[str, Field(max_length=120)] = ""
    good_until: date | None = None
    request_key: UUID


def _read(parse: Callable[[str, Any], int], text: str, unit: str, field: str) -> int:
    """Read a measure as it was typed; what cannot be read is refused by its field."""
    try:
        return parse(text, unit)
    except BadMeasure as error:
        raise Refused(str(error), code="bad_measure", status=422, field=field) from None


class ReclaimIn(Body):
    """A second-hand carton: inside sizes and weight as measured, with units (``31 cm``, ``12 1/4 in``, ``240 g``)."""

    length: Annotated[str, Field(max_length=40)]
    width: Annotated[str, Field(max_length=40)]
    height: Annotated[str, Field(max_length=40)]
    weight: Annotated[str, Field(max_length=40)]
    board: Literal["single", "double"]
    shelf: Annotated[str, Field(pattern=r"^[A-Z]$")]
    note: Annotated[str, Field(max_length=120)] = ""
    request_key: UUID

    def side_um(self, name: Literal["length", "width", "height"], system: str) -> int:
        """Return one side in um. Raises Refused when it is no carton's."""
        given = getattr(self, name)
        side = _read(parse_length, given, "in" if system == "imperial" else "mm", name)
        if not 30_000 <= side <= 2_000_000:
            raise Refused(
                f"The {name} inside is from {format_length(30_000, system)} to "
                f"{format_length(2_000_000, system)}; given: {given}.",
                code="not_valid",
                status=422,
                field=name,
            )
        return side

    def tare_mg(self, system: str) -> int:
        """Return the empty carton's weight in mg. Raises Refused when it is no carton's."""
        tare = _read(parse_weight, self.weight, "oz" if system == "imperial" else "g", "weight")
        if not 5_000 <= tare <= 10_000_000:
            raise Refused(
                f"An empty carton weighs from {format_weight(5_000, system)} to "
                f"{format_weight(10_000_000, system)}; given: {self.weight}.",
                code="not_valid",
                status=422,
                field="weight",
            )
        return tare


class CountIn(Body):
    """A count of the shelf."""

    counted: Annotated[Decimal, Field(ge=0, max_digits=14, decimal_places=6)]
    note: Annotated[str, Field(max_length=120)] = ""
    request_key: UUID


class SupplyIn(Body):
    """A supply as in the supplies file; stock on hand counts for a new one only."""

    supply: SupplyItem


class SlotIn(Body):
    """A place on a shelf."""

    shelf: Annotated[str, Field(pattern=r"^[A-Z]$")]
    slot: Annotated[int, Field(ge=1, le=99)]


class ShelfIn(Body):
    """What stands on a shelf."""

    name: Annotated[str, Field(max_length=60)]


class ShelvesOut(BaseModel):
    """Names of shelves, by letter."""

    names: dict[str, str]


class EstimateIn(Body):
    """A carton's inside and board."""

    length_um: Annotated[int, Field(gt=0, le=3_000_000)]
    width_um: Annotated[int, Field(gt=0, le=3_000_000)]
    height_um: Annotated[int, Field(gt=0, le=3_000_000)]
    board: Board


class EstimateOut(BaseModel):
    """What it probably weighs and bears (rules 13.7)."""

    tare_mg: int
    max_load_mg: int
    board_m2: Decimal


def _shown(workshop: Workshop, rows: list[Any]) -> list[SupplyOut]:
    expiring = dated_of(workshop, rows)
    return [_show(row, expiring.get(row.pk)) for row in rows]


def _show(row: Any, expiring: Dated | None) -> SupplyOut:
    expired = expiring.expired if expiring is not None else Decimal(0)
    return SupplyOut(
        id=row.pk,
        code=row.code,
        name=row.name,
        kind=row.kind,
        shelf=row.shelf,
        slot=row.slot,
        unit=STOCK_UNITS[row.kind],
        on_hand=row.on_hand,
        reserved=row.reserved,
        free=row.free - expired,
        expired=expired,
        good_until=expiring.next_day if expiring is not None else None,
        average_cost=row.average_cost,
        reorder_at=row.reorder_at,
        facts=facts_of(row.facts),
        estimated=row.estimated,
        retired=row.retired_at is not None,
    )


def _one(workshop: Workshop, supply_id: int) -> SupplyOut:
    row = supplies_with_stock(workshop).filter(pk=supply_id).first()
    if row is None:
        raise Http404
    return _shown(workshop, [row])[0]


class SuppliesView(MemberView):
    """GET and POST /api/supplies"""

    owner_only = frozenset({"POST"})

    @operation(
        "supplies",
        parameters=[
            OpenApiParameter("find", str, description="Part of its name, code or place"),
            OpenApiParameter("retired", bool, description="The retired ones instead"),
        ],
    )
    def get(self) -> Page[SupplyOut]:
        """Every supply with its stock, in shelf order."""
        retired = supplies_with_stock(self.workshop).exclude(retired_at=None)
        rows, find = retired if self.wants_retired else slots_of(self.workshop), self.sought
        if find:
            rows = rows.filter(Q(name__icontains=find) | Q(code__icontains=find) | Q(shelf__iexact=find))
        return self.paged(rows, lambda page: _shown(self.workshop, page))

    @operation("add_supply", status=201)
    def post(self, body: SupplyIn) -> SupplyOut:
        """Put a new supply on its shelf."""
        return _one(self.workshop, shelf.add_supply(by=self.member, item=body.supply).pk)


class EstimateView(MemberView):
    """POST /api/supplies/estimate"""

    @operation("estimate_carton")
    def post(self, body: EstimateIn) -> EstimateOut:
        """What a carton of that size and board probably weighs and bears, until it is measured."""
        inner = Size(length_um=body.length_um, width_um=body.width_um, height_um=body.height_um)
        return EstimateOut(
            tare_mg=carton_tare_mg(inner, body.board),
            max_load_mg=carton_load_mg(inner, body.board),
            board_m2=board_area_m2(inner).quantize(Decimal("0.001")),
        )


class ReclaimView(MemberView):
    """POST /api/supplies/reclaimed"""

    @operation("reclaim_carton")
    def post(self, body: ReclaimIn) -> SupplyOut:
        """Put one second-hand carton away with its own measured size."""
        system = self.workshop.unit_system
        sides = [body.side_um(name, system) for name in ("length", "width", "height")]
        inner = Size(length_um=sides[0], width_um=sides[1], height_um=sides[2])
        supply = services.reclaim(
            by=self.member,
            inner=inner,
            tare_mg=body.tare_mg(system),
            board=body.board,
            shelf=body.shelf,
            note=body.note,
            request_key=body.request_key,
        )
        return _one(self.workshop, supply.pk)


class SupplyView(MemberView):
    """GET /api/supplies/{id}"""

    owner_only = frozenset({"PUT"})

    @operation("supply")
    def get(self, supply_id: int) -> SupplyOut:
        """One supply with its stock."""
        return _one(self.workshop, supply_id)

    @operation("change_supply")
    def put(self, body: SupplyIn, supply_id: int) -> SupplyOut:
        """Give a supply other facts, another name or place; its stock stays."""
        return _one(self.workshop, shelf.change_supply(by=self.member, supply_id=supply_id, item=body.supply).pk)


class PlaceLabelsView(MemberView):
    """GET /api/supplies/places.pdf"""

    @extend_schema(operation_id="place_labels", responses={(200, "application/pdf"): OpenApiTypes.BINARY, **PROBLEMS})
    def get(self, request: Request) -> HttpResponse:
        """Labels for the places of the shelves, with the supplies' codes to scan."""
        labels = [PlaceLabel(place=row.place, name=row.name, code=row.code) for row in slots_of(self.workshop)]
        return paper(place_labels_pdf(labels), "places.pdf")


class ShelfView(MemberView):
    """PUT /api/shelves/{letter}"""

    @operation("name_shelf")
    def put(self, body: ShelfIn, letter: str) -> ShelvesOut:
        """Say what stands on a shelf; empty: as it ordinarily is."""
        return ShelvesOut(names=shelf.name_shelf(by=self.member, letter=letter, name=body.name))


class ShelvesView(MemberView):
    """GET /api/shelves"""

    @operation("shelves")
    def get(self) -> ShelvesOut:
        """What stands on each shelf that was named."""
        return ShelvesOut(names=self.workshop.shelf_names)


class ArrangeView(MemberView):
    """POST /api/supplies/{id}/arrange"""

    @operation("arrange_supply")
    def post(self, body: SlotIn, supply_id: int) -> SupplyOut:
        """Put a supply on a place of a shelf; the others make room."""
        shelf.arrange(by=self.member, supply_id=supply_id, shelf=body.shelf, slot=body.slot)
        return _one(self.workshop, supply_id)


class BringBackView(MemberView):
    """POST /api/supplies/{id}/bring-back"""

    owner_only = frozenset({"POST"})

    @operation("bring_back_supply")
    def post(self, supply_id: int) -> SupplyOut:
        """Take a retired supply into use again."""
        return _one(self.workshop, shelf.bring_back(by=self.member, supply_id=supply_id).pk)


class EntriesView(MemberView):
    """GET /api/supplies/{id}/entries"""

    @operation("supply_entries")
    def get(self, supply_id: int) -> Page[EntryOut]:
        """The supply's ledger, newest first, each entry with the balance after it."""
        if not Supply.objects.of(self.workshop).filter(pk=supply_id).exists():
            raise Http404
        rows = (
            Entry.objects.of(self.workshop).filter(supply_id=supply_id).select_related("parcel__order").order_by("-id")
        )
        return self.paged(rows, lambda page: _entries(self.workshop, supply_id, page))


def _entries(workshop: Workshop, supply_id: int, page: list[Entry]) -> list[EntryOut]:
    """The balance after the newest entry of the page: what is there now without what came after; the others follow."""
    balance = Decimal(0)
    if page:
        now = Balance.objects.of(workshop).get(supply_id=supply_id).on_hand
        later = Entry.objects.of(workshop).filter(supply_id=supply_id, id__gt=page[0].pk)
        balance = now - (later.aggregate(total=Sum("quantity"))["total"] or 0)
    shown = []
    for row in page:
        number = row.parcel.order.number if row.parcel else None
        shown.append(
            EntryOut(
                id=row.pk,
                kind=row.kind,
                quantity=row.quantity,
                unit_cost=row.unit_cost,
                average_after=row.average_after,
                balance=balance,
                note=row.note,
                by=row.by,
                at=row.at,
                order_number=number,
            )
        )
        balance -= row.quantity
    return shown


class ReceiveView(MemberView):
    """POST /api/supplies/{id}/receive"""

    @operation("receive_supply")
    def post(self, body: ReceiveIn, supply_id: int) -> SupplyOut:
        """Put stock away."""
        services.receive(by=self.member, supply_id=supply_id, **body.model_dump())
        return _one(self.workshop, supply_id)


class CountView(MemberView):
    """POST /api/supplies/{id}/count"""

    @operation("count_supply")
    def post(self, body: CountIn, supply_id: int) -> SupplyOut:
        """State what is on the shelf."""
        services.count(by=self.member, supply_id=supply_id, **body.model_dump())
        return _one(self.workshop, supply_id)
