"""Counting shelves, converting and spoiling over HTTP: thin."""

from datetime import datetime
from decimal import Decimal
from typing import Annotated
from uuid import UUID

from django.db.models import Prefetch
from django.http import Http404, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from pydantic import BaseModel, Field
from rest_framework.request import Request

from server.api.bodies import Body
from server.api.downloads import paper
from server.api.operation import PROBLEMS, operation
from server.api.paging import Page
from server.api.problems import Refused
from server.api.views import MemberView
from server.formats.count_sheet import CountRow, count_sheet_pdf
from server.supplies import converting, counting
from server.supplies.models import CountLine, CountSession, Supply
from server.supplies.selectors import slots_of, supplies_with_stock
from server.workshops.models import Workshop

__all__ = [
    "CloseCountView", "ConvertView", "CountLineView", "CountSessionView", "CountSessionsView", "CountSheetView",
    "SpoilView",
]  # fmt: skip

_Amount = Annotated[Decimal, Field(gt=0, le=1_000_000, max_digits=14, decimal_places=6)]


class BeginCountIn(Body):
    """A shelf."""

    shelf: Annotated[str, Field(pattern=r"^[A-Z]$")]


class CountLineIn(Body):
    """What is there of one supply. Sent again with the same key, the same is answered."""

    supply_id: int
    counted: Annotated[Decimal, Field(ge=0, le=1_000_000, max_digits=14, decimal_places=6)]
    request_key: UUID


class CountRowOut(BaseModel):
    """One slot of the shelf, counted or not. What the ledger says is told once it was counted."""

    supply_id: int
    code: str
    name: str
    place: str
    unit: str
    counted: Decimal | None
    difference: Decimal | None  #: to the ledger; None: not counted, or to be looked at once more
    second_look: bool
    by: str


class CountSessionOut(BaseModel):
    """A count of one shelf."""

    id: int
    shelf: str
    by: str
    begun_at: datetime
    closed_at: datetime | None
    done: int
    of: int
    rows: list[CountRowOut]


class ConvertPartIn(Body):
    """What goes out."""

    supply_id: int
    quantity: _Amount


class ConvertIn(Body):
    """Supplies that become another. Sent again with the same key, the same is answered."""

    inputs: Annotated[list[ConvertPartIn], Field(min_length=1, max_length=12)]
    output_id: int
    made: _Amount
    waste_percent: Annotated[Decimal, Field(ge=0, lt=100, max_digits=5, decimal_places=2)] = Decimal(0)
    note: Annotated[str, Field(max_length=120)] = ""
    request_key: UUID


class ConvertedOut(BaseModel):
    """What came in."""

    supply_id: int
    quantity: Decimal
    unit_cost: Decimal
    on_hand: Decimal


class SpoilIn(Body):
    """What is spoiled, torn or lost. Sent again with the same key, the same is answered."""

    quantity: _Amount
    note: Annotated[str, Field(max_length=120)] = ""
    request_key: UUID


class SpoiledOut(BaseModel):
    """What is left."""

    supply_id: int
    on_hand: Decimal


def _sessions_out(workshop: Workshop, page: list[CountSession]) -> list[CountSessionOut]:
    """Show counts; the slots of all their shelves are read at once."""
    slots: dict[str, list[Supply]] = {}
    for slot in slots_of(workshop).filter(shelf__in={row.shelf for row in page}):
        slots.setdefault(slot.shelf, []).append(slot)
    return [_session_out(row, slots.get(row.shelf, [])) for row in page]


def _session_out(row: CountSession, slots: list[Supply]) -> CountSessionOut:
    lines = {line.supply_id: line for line in row.lines.all()}
    rows = [
        CountRowOut(
            supply_id=slot.pk,
            code=slot.code,
            name=slot.name,
            place=slot.place,
            unit=slot.unit,
            counted=line.counted if line else None,
            difference=line.counted - line.ledger if line and line.entry_id else None,
            second_look=line is not None and line.entry_id is None,
            by=line.by if line else "",
        )
        for slot in slots
        for line in [lines.get(slot.pk)]
    ]
    return CountSessionOut(
        id=row.pk,
        shelf=row.shelf,
        by=row.by,
        begun_at=row.begun_at,
        closed_at=row.closed_at,
        done=sum(1 for one in rows if one.difference is not None),
        of=len(rows),
        rows=rows,
    )


def _found(workshop: Workshop, session_id: int) -> CountSession:
    rows = CountSession.objects.of(workshop).prefetch_related(
        Prefetch("lines", CountLine.objects.of(workshop).order_by("id"))
    )
    row = rows.filter(pk=session_id).first()
    if row is None:
        raise Http404
    return row


def _one(workshop: Workshop, session_id: int) -> CountSessionOut:
    return _sessions_out(workshop, [_found(workshop, session_id)])[0]


class CountSessionsView(MemberView):
    """GET and POST /api/counts"""

    @operation("counts")
    def get(self) -> Page[CountSessionOut]:
        """Counts of shelves, the last first."""
        rows = CountSession.objects.of(self.workshop).prefetch_related(
            Prefetch("lines", CountLine.objects.of(self.workshop).order_by("id"))
        )
        return self.paged(rows, lambda page: _sessions_out(self.workshop, page))

    @operation("begin_count")
    def post(self, body: BeginCountIn) -> CountSessionOut:
        """Begin counting a shelf, or take up the count that is open there."""
        row = counting.begin_count(by=self.member, shelf=body.shelf)
        return _one(self.workshop, row.pk)


class CountSessionView(MemberView):
    """GET /api/counts/{id}"""

    @operation("count_session")
    def get(self, session_id: int) -> CountSessionOut:
        """One count."""
        return _one(self.workshop, session_id)


class CountLineView(MemberView):
    """POST /api/counts/{id}/lines"""

    @operation("count_line")
    def post(self, body: CountLineIn, session_id: int) -> CountSessionOut:
        """Count one supply; a large difference is posted when it was counted twice alike."""
        counting.count_line(
            by=self.member,
            session_id=session_id,
            supply_id=body.supply_id,
            counted=body.counted,
            request_key=body.request_key,
        )
        return _one(self.workshop, session_id)


class CloseCountView(MemberView):
    """POST /api/counts/{id}/close"""

    @operation("close_count")
    def post(self, session_id: int) -> CountSessionOut:
        """End a count."""
        row = counting.close_count(by=self.member, session_id=session_id)
        return _one(self.workshop, row.pk)


class CountSheetView(MemberView):
    """GET /api/counts/sheet.pdf"""

    @extend_schema(
        operation_id="count_sheet",
        parameters=[OpenApiParameter("shelf", str, description="A letter; else every shelf")],
        responses={(200, "application/pdf"): OpenApiTypes.BINARY, **PROBLEMS},
    )
    def get(self, request: Request) -> HttpResponse:
        """A sheet to count a shelf on with a pencil."""
        shelf = request.query_params.get("shelf", "")[:1]
        rows = slots_of(self.workshop)
        if shelf:
            rows = rows.filter(shelf=shelf)
        sheet = [CountRow(place=row.place, name=row.name, code=row.code, unit=row.unit) for row in rows]
        return paper(
            count_sheet_pdf(f"Count of shelf {shelf}" if shelf else "Count of all shelves", sheet), "count.pdf"
        )


class ConvertView(MemberView):
    """POST /api/supplies/convert"""

    @operation("convert_supplies")
    def post(self, body: ConvertIn) -> ConvertedOut:
        """Turn supplies into another one; it comes in with what they cost."""
        inputs = {one.supply_id: one.quantity for one in body.inputs}
        if len(inputs) != len(body.inputs):
            raise Refused("A supply is named twice.", code="not_valid", status=422, field="inputs")
        entry = converting.convert(
            by=self.member,
            inputs=inputs,
            output_id=body.output_id,
            made=body.made,
            waste_percent=body.waste_percent,
            note=body.note,
            request_key=body.request_key,
        )
        row = supplies_with_stock(self.workshop).get(pk=entry.supply_id)
        return ConvertedOut(
            supply_id=row.pk,
            quantity=entry.quantity,
            unit_cost=entry.unit_cost or Decimal(0),
            on_hand=row.on_hand,  # type: ignore[attr-defined]
        )


class SpoilView(MemberView):
    """POST /api/supplies/{id}/spoil"""

    @operation("spoil")
    def post(self, body: SpoilIn, supply_id: int) -> SpoiledOut:
        """Take out what is spoiled, torn or lost."""
        converting.spoil(
            by=self.member,
            supply_id=supply_id,
            quantity=body.quantity,
            note=body.note,
            request_key=body.request_key,
        )
        row = supplies_with_stock(self.workshop).get(pk=supply_id)
        return SpoiledOut(supply_id=row.pk, on_hand=row.on_hand)  # type: ignore[attr-defined]
