"""Parcels that were sent and how they arrived, over HTTP: thin."""

from datetime import date
from decimal import Decimal
from typing import Annotated, Literal, get_args

from django.http import Http404, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from pydantic import BaseModel, Field
from rest_framework.request import Request

from core.outcomes.model import Harm, HarmKind, Outcome, Place
from server.api.bodies import Body
from server.api.operation import PROBLEMS, operation
from server.api.paging import Page
from server.api.problems import Refused
from server.api.views import MemberView
from server.formats.photo import read_photo
from server.outcomes import answering
from server.outcomes.models import Arrival, ArrivalPhoto, VersionTrial
from server.outcomes.pictures import add_photo
from server.outcomes.screens import ArrivalOut, arrivals_out
from server.outcomes.selectors import Show, arrivals
from server.workshops.clock import today
from server.workshops.models import Workshop

__all__ = ["AnswerView", "ArrivalPhotoView", "ArrivalPhotosView", "ArrivalView", "ArrivalsView", "AskCarriersView"]


class HarmIn(Body):
    """Something that was hurt, and where."""

    kind: HarmKind
    place: Place | None = None
    spot: Annotated[str, Field(max_length=40, pattern=r"^[a-z-]*$")] = ""
    sku: Annotated[str, Field(max_length=40)] = ""
    units: Annotated[int, Field(ge=1, le=500)] = 1


class ArrivalAnswerIn(Body):
    """How a parcel arrived; "unknown" takes an answer back."""

    revision: Annotated[int, Field(ge=0)]
    outcome: Outcome
    harms: Annotated[list[HarmIn], Field(max_length=20)] = []
    note: Annotated[str, Field(max_length=500)] = ""
    message: Annotated[str, Field(max_length=4_000)] = ""
    gave_back: Literal["", "refund", "part_refund", "replacement"] = ""
    gave_amount: Annotated[Decimal, Field(ge=0, le=1_000_000, decimal_places=2)] = Decimal(0)
    delivered_on: date | None = None


class CarriersAskedOut(BaseModel):
    """What asking the carriers came to."""

    asked: int
    delivered: int
    whole: int  #: nobody complained of them until today
    problem: str


class ArrivalPhotoIn(Body):
    """A photo as base64."""

    photo: Annotated[str, Field(max_length=4_200_000)]


class ArrivalPhotoOut(BaseModel):
    """A photo that is kept."""

    id: int


class PhotosLeft(BaseModel):
    """The photos a parcel still has."""

    photos: list[int]


def questions_of(workshop: Workshop) -> dict[str, str]:
    """Return what running trials ask, by the key their picks are kept under."""
    return {trial.key: trial.question for trial in VersionTrial.objects.of(workshop).filter(ended_at=None)}


def _one(view: MemberView, row: Arrival) -> ArrivalOut:
    return arrivals_out(view.workshop, [row], today(view.workshop), questions_of(view.workshop))[0]


class ArrivalsView(MemberView):
    """GET /api/arrivals"""

    @operation(
        "arrivals",
        parameters=[
            OpenApiParameter("show", str, enum=list(get_args(Show)), description="Which of them; all without"),
            OpenApiParameter("find", str, description="Part of an order's number, a buyer's name or a tracking number"),
        ],
    )
    def get(self) -> Page[ArrivalOut]:
        """Parcels that have left: to ask about, on the way, told, or all."""
        show = self.request.query_params.get("show", "all")
        if show not in get_args(Show):
            raise Refused(
                f"show is {', '.join(get_args(Show))}; given: {show[:20]}.", code="not_valid", status=400, field="show"
            )
        day = today(self.workshop)
        rows = arrivals(self.workshop, show, day, self.sought)  # type: ignore[arg-type]
        questions = questions_of(self.workshop)
        return self.paged(rows, lambda page: arrivals_out(self.workshop, page, day, questions))


class ArrivalView(MemberView):
    """GET /api/arrivals/{id}"""

    @operation("arrival")
    def get(self, arrival_id: int) -> ArrivalOut:
        """One parcel that has left."""
        return _one(self, answering.found_arrival(self.workshop, arrival_id))


class AnswerView(MemberView):
    """PUT /api/arrivals/{id}/answer"""

    @operation("answer_arrival")
    def put(self, body: ArrivalAnswerIn, arrival_id: int) -> ArrivalOut:
        """Write down how a parcel arrived; said twice, it stands once."""
        told = answering.Told(
            **body.model_dump(exclude={"revision", "harms"}),
            harms=tuple(Harm(**one.model_dump()) for one in body.harms),
        )
        answering.answer(
            workshop=self.workshop, arrival_id=arrival_id, told=told, revision=body.revision, by=self.member.name,
            source=Arrival.Source.US,
        )  # fmt: skip
        return _one(self, answering.found_arrival(self.workshop, arrival_id))


class AskCarriersView(MemberView):
    """POST /api/arrivals/ask-carriers"""

    @operation("ask_carriers")
    def post(self) -> CarriersAskedOut:
        """Ask the carriers what came, and count whole what nobody complained of."""
        asked = answering.ask_carriers(self.workshop)
        whole = answering.assume_whole(self.workshop)
        return CarriersAskedOut(asked=asked.asked, delivered=asked.delivered, whole=whole, problem=asked.problem)


class ArrivalPhotosView(MemberView):
    """POST /api/arrivals/{id}/photos"""

    @operation("add_arrival_photo", status=201)
    def post(self, body: ArrivalPhotoIn, arrival_id: int) -> ArrivalPhotoOut:
        """Keep a photo of what arrived: made smaller, and without where and with what it was taken."""
        row = answering.found_arrival(self.workshop, arrival_id)
        photo = add_photo(self.workshop, row, read_photo(body.photo), by_buyer=False)
        return ArrivalPhotoOut(id=photo.pk)


class ArrivalPhotoView(MemberView):
    """GET and DELETE /api/arrival-photos/{id}"""

    @extend_schema(operation_id="arrival_photo", responses={(200, "image/*"): OpenApiTypes.BINARY, **PROBLEMS})
    def get(self, request: Request, photo_id: int) -> HttpResponse:
        """A photo of what arrived."""
        return HttpResponse(bytes(self._found(photo_id).content), content_type="image/jpeg")

    @operation("delete_arrival_photo")
    def delete(self, photo_id: int) -> PhotosLeft:
        """Delete a photo."""
        row = self._found(photo_id)
        row.delete()
        left = ArrivalPhoto.objects.of(self.workshop).filter(arrival=row.arrival_id)
        return PhotosLeft(photos=list(left.values_list("pk", flat=True)))

    def _found(self, photo_id: int) -> ArrivalPhoto:
        row = ArrivalPhoto.objects.of(self.workshop).filter(pk=photo_id).first()
        if row is None:
            raise Http404
        return row
