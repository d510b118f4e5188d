"""The label printer and its queue over HTTP: thin."""

from datetime import datetime
from typing import Annotated

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from pydantic import BaseModel, Field
from rest_framework.request import Request

from server.api.bodies import Body
from server.api.downloads import paper
from server.api.operation import PROBLEMS, operation
from server.api.views import MemberView
from server.bench import printing
from server.bench.models import PrintJob
from server.formats.place_labels import key_codes_pdf
from server.standins.printer import PrinterState

__all__ = ["CancelPrintView", "KeyCodesView", "PrintView", "PrinterAgainView", "PrinterView"]

#: Jobs shown: what waits, and the last that were printed.
_SHOWN = 12


class PrintJobOut(BaseModel):
    """One label in the queue, or printed."""

    id: int
    parcel_id: int | None
    number: str
    tracking: str
    state: str
    copy_number: int  #: from 2 on it is marked as a copy
    problem: str  #: the printer's state that kept it; empty: none
    sheets: int
    asked_at: datetime
    asked_by: str


class PrinterOut(BaseModel):
    """The printer and its queue."""

    state: PrinterState
    waiting: int
    jobs: list[PrintJobOut]  #: waiting ones first, in their order, then the last printed


class PrintIn(Body):
    """Parcels whose labels shall be printed, in this order."""

    parcel_ids: Annotated[list[int], Field(min_length=1, max_length=100)]


def _out(view: MemberView) -> PrinterOut:
    rows = PrintJob.objects.of(view.workshop).select_related("label__parcel__order")
    waiting = list(rows.filter(state=PrintJob.State.WAITING).order_by("id")[:_SHOWN])
    printed = list(rows.filter(state=PrintJob.State.PRINTED).order_by("-id")[:_SHOWN])
    return PrinterOut(
        state=printing.PRINTER.state(view.workshop),
        waiting=PrintJob.objects.of(view.workshop).filter(state=PrintJob.State.WAITING).count(),
        jobs=[
            PrintJobOut(
                id=job.pk,
                parcel_id=job.label.parcel_id,
                number=job.label.parcel.order.number if job.label.parcel else "",
                tracking=job.label.tracking,
                state=job.state,
                copy_number=job.copy,
                problem=job.problem,
                sheets=job.sheets,
                asked_at=job.asked_at,
                asked_by=job.asked_by,
            )
            for job in (*waiting, *printed)
        ],
    )


class KeyCodesView(MemberView):
    """GET /api/bench/codes.pdf"""

    @extend_schema(operation_id="key_codes", responses={(200, "application/pdf"): OpenApiTypes.BINARY, **PROBLEMS})
    def get(self, request: Request) -> HttpResponse:
        """A sheet of codes for the keys of the bench, for a scanner."""
        return paper(key_codes_pdf(), "codes.pdf")


class PrinterView(MemberView):
    """GET /api/printer"""

    @operation("printer")
    def get(self) -> PrinterOut:
        """The printer's state and its queue."""
        return _out(self)


class PrintView(MemberView):
    """POST /api/printer/labels"""

    @operation("print_labels")
    def post(self, body: PrintIn) -> PrinterOut:
        """Print labels; what the printer does not take now waits in the queue."""
        printing.ask_print(by=self.member, parcel_ids=body.parcel_ids)
        printing.print_waiting(self.workshop)
        return _out(self)


class PrinterAgainView(MemberView):
    """POST /api/printer/again"""

    @operation("print_again")
    def post(self) -> PrinterOut:
        """The printer was seen to: print what waits."""
        printing.print_waiting(self.workshop)
        return _out(self)


class CancelPrintView(MemberView):
    """DELETE /api/printer/jobs/{id}"""

    @operation("cancel_print")
    def delete(self, job_id: int) -> PrinterOut:
        """Take a label out of the queue."""
        printing.cancel_print(by=self.member, job_id=job_id)
        return _out(self)
