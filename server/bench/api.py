"""The bench over HTTP: thin."""

from decimal import Decimal
from typing import Annotated, Literal
from uuid import UUID

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from pydantic import BaseModel, Field
from rest_framework.request import Request

from core.bench.weighing import ScaleState, settle
from core.units import format_weight, parse_weight
from server.api.bodies import Body
from server.api.downloads import paper
from server.api.operation import PROBLEMS, operation
from server.api.paging import Page
from server.api.problems import Refused
from server.api.views import MemberView
from server.bench import labels, services
from server.bench.models import Parcel
from server.bench.papers import file_name, label_sheet, slip_sheet
from server.bench.screens import ParcelOut, ParcelRow, found_parcel, parcel_out, parcel_rows
from server.carriers.models import Label
from server.formats.pdf import label_pdf, slip_pdf
from server.orders.screens import OrderOut, order_out
from server.plans.services import plan_stale

__all__ = [
    "BeginView",
    "CloseView",
    "LabelPdfView",
    "LabelView",
    "ParcelView",
    "ParcelsView",
    "ProgressView",
    "RecordView",
    "ReopenView",
    "ScaleView",
    "SettleView",
    "SlipPdfView",
    "TakeOffView",
    "WeighView",
]

#: A carrier that does not answer: nothing is lost, ask again.
_NO_ANSWER = {(503, "application/problem+json"): PROBLEMS[(409, "application/problem+json")]}
_PDF = {(200, "application/pdf"): OpenApiTypes.BINARY, **PROBLEMS}


#: No scale of a packing table weighs more: a slip of units.
_MOST_MG = 1_000_000_000


class ScaleOut(BaseModel):
    """One look at the scale."""

    state: ScaleState
    reading_mg: int | None
    division_mg: int
    capacity_mg: int


class BeginIn(Body):
    """Which order comes to the bench."""

    order_id: int


class ProgressIn(Body):
    """Where the packer is."""

    step: Annotated[int, Field(ge=0, le=500)]
    ticked: Annotated[dict[str, Annotated[int, Field(ge=0, le=10_000)]], Field(max_length=500)]
    skipped: Annotated[list[Annotated[int, Field(ge=0, le=500)]], Field(max_length=500)] = []
    #: seconds hands took so far, by step
    spent: Annotated[
        dict[Annotated[int, Field(ge=0, le=500)], Annotated[int, Field(ge=0, le=86_400)]], Field(max_length=500)
    ] = {}


class ScaleIn(Body):
    """Take a reading; ``again``: the parcel was taken off and put on."""

    again: bool = False


class WeighIn(Body):
    """Take the scale's weight, or this text: ``1240 g``, ``2 lb 3 oz``; a bare number is in the unit
    the field shows.
    """

    typed: Annotated[str, Field(max_length=40)] | None = None
    shown_unit: Literal["g", "kg", "oz", "lb"] = "g"


class WordsIn(Body):
    """Words that are kept with what was done."""

    words: Annotated[str, Field(min_length=3, max_length=160)]


class LabelIn(Body):
    """Which service carries the parcel."""

    service: Annotated[str, Field(min_length=1, max_length=30)]
    agreed: Annotated[Decimal, Field(ge=0, max_digits=12, decimal_places=2)] | None = None  #: a price it asked instead


class CloseIn(Body):
    """Close the parcel; the key makes asking twice harmless."""

    request_key: UUID
    #: what the carrier will charge, agreed to when it weighs other than its label says
    agreed: Annotated[Decimal, Field(ge=0, max_digits=12, decimal_places=2)] | None = None


class TakeOffIn(Body):
    """Why the order leaves the bench, what cannot go back to its shelf, and whether the order is cancelled."""

    words: Annotated[str, Field(min_length=3, max_length=160)]
    spoiled: Annotated[list[Annotated[str, Field(max_length=30)]], Field(max_length=100)] = []
    cancel: bool = False


class RecordIn(Body):
    """What the carrier said of a label whose answer never came, and how that is known."""

    answer: labels.Answer
    tracking: Annotated[str, Field(max_length=40)] = ""
    words: Annotated[str, Field(min_length=3, max_length=200)]


class ParcelsView(MemberView):
    """GET /api/parcels"""

    @operation("parcels", parameters=[OpenApiParameter("state", str, enum=["packing", "closed"])])
    def get(self) -> Page[ParcelRow]:
        """Parcels at the bench, or closed ones, newest first."""
        state = self.request.query_params.get("state", "packing")
        if state not in ("packing", "closed"):
            raise Refused("state is packing or closed.", code="not_valid", status=400, field="state")
        rows = Parcel.objects.of(self.workshop).filter(state=state).select_related("order")
        rows = rows.order_by("-closed_at", "-id") if state == "closed" else rows.order_by("begun_at", "id")
        return self.paged(rows, parcel_rows)


class BeginView(MemberView):
    """POST /api/parcels/begin"""

    @operation("begin_parcel")
    def post(self, body: BeginIn) -> ParcelOut:
        """Bring a planned order to the bench."""
        return parcel_out(self.workshop, services.begin(by=self.member, order_id=body.order_id).pk)


class ParcelView(MemberView):
    """GET /api/parcels/{id}"""

    @operation("parcel")
    def get(self, parcel_id: int) -> ParcelOut:
        """One parcel."""
        return parcel_out(self.workshop, parcel_id)


class ProgressView(MemberView):
    """POST /api/parcels/{id}/progress"""

    @operation("parcel_progress")
    def post(self, body: ProgressIn, parcel_id: int) -> ParcelOut:
        """Keep where the packer is."""
        services.save_progress(
            by=self.member,
            parcel_id=parcel_id,
            step=body.step,
            ticked=body.ticked,
            skipped=body.skipped,
            spent=body.spent,
        )
        return parcel_out(self.workshop, parcel_id)


class ScaleView(MemberView):
    """POST /api/parcels/{id}/scale"""

    @operation("read_scale")
    def post(self, body: ScaleIn, parcel_id: int) -> ScaleOut:
        """Take one reading of the scale with this parcel on it."""
        row = found_parcel(self.workshop, parcel_id)
        reading = services.SCALE.read(self.workshop, services.load_of(row), again=body.again)
        last = reading.readings_mg[-1] if reading.readings_mg else None
        return ScaleOut(
            state=settle(reading), reading_mg=last, division_mg=reading.division_mg, capacity_mg=reading.capacity_mg
        )


class WeighView(MemberView):
    """POST /api/parcels/{id}/weigh"""

    @operation("weigh_parcel")
    def post(self, body: WeighIn, parcel_id: int) -> ParcelOut:
        """Take the weight and compare it with the plan."""
        typed_mg = None
        if body.typed is not None:
            typed_mg = parse_weight(body.typed, body.shown_unit)
            if not 0 < typed_mg <= _MOST_MG:
                raise Refused(
                    "A parcel weighs more than 0 and at most "
                    f"{format_weight(_MOST_MG, self.workshop.unit_system)}; given: {body.typed}.",
                    code="not_valid",
                    status=422,
                    field="typed",
                )
        services.weigh(by=self.member, parcel_id=parcel_id, typed_mg=typed_mg)
        return parcel_out(self.workshop, parcel_id)


class SettleView(MemberView):
    """POST /api/parcels/{id}/settle"""

    @operation("settle_weight")
    def post(self, body: WordsIn, parcel_id: int) -> ParcelOut:
        """Accept a difference in weight with a note."""
        services.settle_weight(by=self.member, parcel_id=parcel_id, words=body.words)
        return parcel_out(self.workshop, parcel_id)


class LabelView(MemberView):
    """POST /api/parcels/{id}/label"""

    @operation("buy_label", also=_NO_ANSWER)
    def post(self, body: LabelIn, parcel_id: int) -> ParcelOut:
        """Buy the label; asking again is harmless."""
        labels.buy_label(by=self.member, parcel_id=parcel_id, service=body.service, agreed=body.agreed)
        return parcel_out(self.workshop, parcel_id)


class VoidLabelView(MemberView):
    """POST /api/parcels/{id}/label/void"""

    @operation("void_label", also=_NO_ANSWER)
    def post(self, parcel_id: int) -> ParcelOut:
        """Cancel the label; asking again is harmless."""
        labels.void_label(by=self.member, parcel_id=parcel_id)
        return parcel_out(self.workshop, parcel_id)


class RecordView(MemberView):
    """POST /api/parcels/{id}/label/record"""

    owner_only = frozenset({"POST"})

    @operation("record_label_answer")
    def post(self, body: RecordIn, parcel_id: int) -> ParcelOut:
        """Write down what the carrier said of a label when it does not answer itself."""
        labels.record_answer(by=self.member, parcel_id=parcel_id, **body.model_dump())
        return parcel_out(self.workshop, parcel_id)


class TrackView(MemberView):
    """POST /api/parcels/{id}/track"""

    @operation("track_parcel", also=_NO_ANSWER)
    def post(self, parcel_id: int) -> ParcelOut:
        """Ask the carrier how the parcel fares."""
        labels.refresh_tracking(by=self.member, parcel_id=parcel_id)
        return parcel_out(self.workshop, parcel_id)


class CloseView(MemberView):
    """POST /api/parcels/{id}/close"""

    @operation("close_parcel")
    def post(self, body: CloseIn, parcel_id: int) -> ParcelOut:
        """Close the parcel: stock is posted, the order is packed."""
        services.close(by=self.member, parcel_id=parcel_id, request_key=body.request_key, agreed=body.agreed)
        return parcel_out(self.workshop, parcel_id)


class ReopenView(MemberView):
    """POST /api/parcels/{id}/reopen"""

    owner_only = frozenset({"POST"})

    @operation("reopen_parcel")
    def post(self, body: WordsIn, parcel_id: int) -> ParcelOut:
        """Take a closed parcel back: what it used is reversed."""
        services.reopen(by=self.member, parcel_id=parcel_id, reason=body.words)
        return parcel_out(self.workshop, parcel_id)


class TakeOffView(MemberView):
    """POST /api/parcels/{id}/hold"""

    @operation("hold_parcel")
    def post(self, body: TakeOffIn, parcel_id: int) -> OrderOut:
        """Take a parcel off the bench, and hold or cancel its order."""
        order = services.take_off(
            by=self.member, parcel_id=parcel_id, reason=body.words, spoiled=body.spoiled, cancel=body.cancel
        )
        plan_stale(workshop=self.workshop, orders=[order.pk])
        return order_out(self.workshop, order)


class LabelPdfView(MemberView):
    """GET /api/parcels/{id}/label.pdf"""

    @extend_schema(operation_id="label_pdf", responses=_PDF)
    def get(self, request: Request, parcel_id: int) -> HttpResponse:
        """The label as PDF, 100 x 150 mm."""
        row = found_parcel(self.workshop, parcel_id)
        label = labels.live_label(self.workshop, row)
        if label is None or label.state != Label.State.BOUGHT:
            raise Refused("No label was bought for this parcel yet.", code="no_label")
        return paper(label_pdf(label_sheet(self.workshop, row, label)), f"label-{file_name(row)}.pdf")


class SlipPdfView(MemberView):
    """GET /api/parcels/{id}/slip.pdf"""

    @extend_schema(operation_id="slip_pdf", responses=_PDF)
    def get(self, request: Request, parcel_id: int) -> HttpResponse:
        """The packing slip as PDF, A5."""
        row = found_parcel(self.workshop, parcel_id)
        return paper(slip_pdf(slip_sheet(self.workshop, row)), f"slip-{file_name(row)}.pdf")
