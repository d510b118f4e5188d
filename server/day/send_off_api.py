"""Send-off over HTTP: scanning, handing over, taking back, the sheet and the tracking files: thin."""

from typing import Annotated
from uuid import UUID

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, OpenApiResponse, extend_schema
from pydantic import BaseModel, Field
from rest_framework.request import Request

from server.api.bodies import Body
from server.api.downloads import paper, saved_file
from server.api.operation import PROBLEMS, operation
from server.api.views import MemberView
from server.bench.models import Parcel
from server.carriers.models import TariffVersion
from server.day import send_off
from server.day.models import SentParcel
from server.day.screens import HandOverRef, ref_of
from server.day.send_off_screens import SendOffsOut, rows_of_sheet, send_offs_out
from server.day.times import clock_of, times_of
from server.day.tracking import sent_with, tracking_of
from server.formats.send_off_sheet import SendOffSheet, send_off_pdf
from server.words import day_words

__all__ = [
    "HandOverView", "ScanView", "SendOffView", "SheetView", "TrackingFileView", "UndoHandOverView", "UndoScanView",
]  # fmt: skip

_PDF = {(200, "application/pdf"): OpenApiResponse(OpenApiTypes.BINARY), **PROBLEMS}


class ScanIn(Body):
    """A code that was scanned or typed."""

    hand_over: Annotated[str, Field(min_length=1, max_length=40)]
    code: Annotated[str, Field(min_length=1, max_length=80)]


class ScanOut(BaseModel):
    """What it came to."""

    verdict: send_off.Verdict
    code: str
    parcel_id: int | None
    order_id: int | None
    number: str
    buyer: str
    carrier_name: str
    goes_with: HandOverRef | None


class ParcelIn(Body):
    """A parcel."""

    parcel_id: int


class HandOverIn(Body):
    """Hand over what is counted. Sent again with the same key, the same is answered."""

    hand_over: Annotated[str, Field(min_length=1, max_length=40)]
    taken_by: Annotated[str, Field(max_length=80)] = ""
    request_key: UUID


class HandedOverOut(BaseModel):
    """The record."""

    id: int
    undone: bool


class SendOffView(MemberView):
    """GET /api/send-off"""

    @operation("send_off")
    def get(self) -> SendOffsOut:
        """Today's hand-overs: what is ready, what should be, what is counted, what has left."""
        return send_offs_out(self.workshop)


class ScanView(MemberView):
    """POST /api/send-off/scan"""

    @operation("scan_parcel")
    def post(self, body: ScanIn) -> ScanOut:
        """Count a parcel out, or say what is wrong with it."""
        found = send_off.scan(by=self.member, key=body.hand_over, code=body.code)
        names = dict(
            TariffVersion.objects.of(self.workshop)
            .filter(carrier=found.carrier)
            .values_list("carrier", "document__carrier_name")
        )
        times = times_of(self.workshop, clock_of(self.workshop)) if found.goes_with is not None else None
        parcel = found.parcel
        return ScanOut(
            verdict=found.verdict,
            code=body.code,
            parcel_id=parcel.pk if parcel else None,
            order_id=parcel.order_id if parcel else None,
            number=parcel.order.number if parcel else "",
            buyer=parcel.order.buyer if parcel else "",
            carrier_name=names.get(found.carrier, found.carrier),
            goes_with=ref_of(times, found.goes_with) if times is not None else None,
        )


class UndoScanView(MemberView):
    """POST /api/send-off/scan/undo"""

    @operation("undo_scan")
    def post(self, body: ParcelIn) -> SendOffsOut:
        """Take a parcel off the count."""
        send_off.undo_scan(by=self.member, parcel_id=body.parcel_id)
        return send_offs_out(self.workshop)


class HandOverView(MemberView):
    """POST /api/send-off/hand-over"""

    @operation("hand_over")
    def post(self, body: HandOverIn) -> HandedOverOut:
        """Record that what is counted has left."""
        record = send_off.hand_over(
            by=self.member, key=body.hand_over, taken_by=body.taken_by, request_key=body.request_key
        )
        return HandedOverOut(id=record.pk, undone=record.undone_at is not None)


class UndoHandOverView(MemberView):
    """POST /api/send-off/{id}/undo"""

    @operation("undo_hand_over")
    def post(self, send_off_id: int) -> HandedOverOut:
        """Take a hand-over back within the hour."""
        record = send_off.undo_hand_over(by=self.member, send_off_id=send_off_id)
        return HandedOverOut(id=record.pk, undone=record.undone_at is not None)


class SheetView(MemberView):
    """GET /api/send-off/sheet.pdf?hand_over=KEY or ?id=N"""

    @extend_schema(
        operation_id="send_off_sheet",
        parameters=[OpenApiParameter("hand_over", str), OpenApiParameter("id", int)],
        responses=_PDF,
    )
    def get(self, request: Request) -> HttpResponse:
        """The sheet of a hand-over: of what is counted for it now, or of what was handed over."""
        clock = clock_of(self.workshop)
        given = request.query_params.get("id", "")
        if given.isdecimal() and len(given) < 10:
            record, parcels = sent_with(self.workshop, int(given))
            title = f"{record.name}, {day_words(record.day)}, {record.planned_at.astimezone(clock.now.tzinfo):%H:%M}"
            at = record.at.astimezone(clock.now.tzinfo)
            note = f"Handed over at {at:%H:%M} by {record.by}, as counted here"
            sheet = self._sheet(title, f"SO-{record.pk}", record.taken_by, note, parcels)
        else:
            times = times_of(self.workshop, clock)
            hand_over = send_off.known_hand_over(times, request.query_params.get("hand_over", "")[:40])
            title = f"{times.name_of(hand_over)}, {day_words(hand_over.day)}, {clock.moment(hand_over.at_s):%H:%M}"
            rows = SentParcel.objects.of(self.workshop).filter(
                key=hand_over.key, send_off=None, parcel__state=Parcel.State.CLOSED
            )
            parcels = [one.parcel for one in rows.select_related("parcel__order")]
            sheet = self._sheet(title, hand_over.key, "", "As counted here, not handed over yet", parcels)
        return paper(send_off_pdf(sheet), f"send-off-{sheet.code}.pdf")

    def _sheet(self, title: str, code: str, taken_by: str, note: str, parcels: list[Parcel]) -> SendOffSheet:
        workshop = self.workshop
        return SendOffSheet(
            title=title,
            workshop=workshop.name,
            sender=", ".join((*workshop.address, workshop.postcode)),
            code=code,
            taken_by=taken_by,
            note=note,
            rows=tuple(rows_of_sheet(workshop, parcels)),
            unit_system=workshop.unit_system,
        )


class TrackingFileView(MemberView):
    """GET /api/send-off/{id}/tracking.csv?channel=NAME"""

    @extend_schema(
        operation_id="tracking_file",
        parameters=[OpenApiParameter("channel", str, required=True)],
        responses={(200, "text/csv"): OpenApiResponse(OpenApiTypes.BINARY), **PROBLEMS},
    )
    def get(self, request: Request, send_off_id: int) -> HttpResponse:
        """The tracking numbers of one channel's orders, in the columns they came in."""
        channel = request.query_params.get("channel", "")[:30]
        content = tracking_of(self.workshop, clock_of(self.workshop), send_off_id, channel)
        return saved_file(content, "text/csv", f"tracking-{channel}-{send_off_id}.csv")
