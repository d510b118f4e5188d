"""The buyer's page: without signing in, by the code of the slip, how this one parcel arrived; thin.

Whoever has the code sees what is in the parcel and nothing else; every other code is answered alike. Off unless the
workshop gives the address the page is reached at.
"""

from datetime import date, timedelta
from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field
from rest_framework.permissions import AllowAny
from rest_framework.throttling import ScopedRateThrottle
from rest_framework.views import APIView

from core.outcomes.model import Harm, Outcome, Place
from server.api.bodies import Body
from server.api.operation import operation
from server.api.problems import Refused
from server.bench.models import Parcel
from server.formats.photo import read_photo
from server.outcomes.answering import Told, buyer_told
from server.outcomes.models import Arrival
from server.outcomes.pictures import MOST_PHOTOS, keep_photo, made_again
from server.workshops.clock import today

__all__ = ["OPEN_DAYS", "BuyerPageView"]

#: So long after it came, or should have, the page takes an answer.
OPEN_DAYS = 60


class BuyerGoods(BaseModel):
    """Goods in the parcel."""

    name: str
    units: int


class BuyerPageOut(BaseModel):
    """What the buyer of a parcel is asked."""

    state: Literal["open", "answered", "closed"]
    number: str
    goods: list[BuyerGoods]
    outer_um: tuple[int, int, int]


class BuyerAnswerIn(Body):
    """How the parcel arrived, in the buyer's words."""

    outcome: Literal["whole", "marked", "broken", "spoiled"]
    place: Place | None = None
    spot: Annotated[str, Field(max_length=40, pattern=r"^[a-z-]*$")] = ""
    message: Annotated[str, Field(max_length=2_000)] = ""
    photo: Annotated[str, Field(max_length=4_200_000)] = ""


def _unknown() -> Refused:
    return Refused("There is no such page. Check the code on your slip.", code="not_found", status=404)


def _found(code: str) -> Arrival:
    parcel = Parcel.objects.by_key(buyer_code=code).select_related("workshop").first()
    if parcel is None or not parcel.workshop.buyer_page_at:
        raise _unknown()
    row = Arrival.objects.of(parcel.workshop).select_related("parcel__order", "workshop").filter(parcel=parcel).first()
    if row is None:
        raise _unknown()
    return row


def _state(row: Arrival) -> Literal["open", "answered", "closed"]:
    came: date = row.delivered_on or row.promised_on
    if today(row.workshop) > came + timedelta(days=OPEN_DAYS):
        return "closed"
    return "answered" if row.source == Arrival.Source.BUYER else "open"


def _page(row: Arrival) -> BuyerPageOut:
    length, width, height = row.outer_um
    return BuyerPageOut(
        state=_state(row),
        number=row.parcel.order.number,
        goods=[BuyerGoods(name=one.name, units=one.units) for one in row.goods.order_by("id")],
        outer_um=(length, width, height),
    )


class BuyerPageView(APIView):
    """GET and POST /api/arrived/{code}"""

    authentication_classes: list[Any] = []
    permission_classes = [AllowAny]
    throttle_classes = [ScopedRateThrottle]
    throttle_scope = "buyer_page"

    @operation("buyer_page", auth=[])
    def get(self, code: str) -> BuyerPageOut:
        """What the buyer of one parcel is asked."""
        return _page(_found(code))

    @operation("buyer_answer", auth=[])
    def post(self, body: BuyerAnswerIn, code: str) -> BuyerPageOut:
        """Take the buyer's answer, once; sent twice it stands once."""
        row = _found(code)
        state = _state(row)
        if state == "closed":
            raise Refused(
                f"This page was open for {OPEN_DAYS} days. Please write to the shop.", code="closed", status=410
            )
        if state == "answered":
            return _page(row)
        content = made_again(read_photo(body.photo)) if body.photo else None
        kind = body.outcome if body.outcome != "whole" else None
        place = body.place if kind not in (None, "spoiled") else None
        outcome: Outcome = body.outcome
        harms = (Harm(kind=kind, place=place, spot=body.spot if place else ""),) if kind is not None else ()
        told = Told(outcome=outcome, harms=harms, message=body.message)
        buyer_told(workshop=row.workshop, arrival_id=row.pk, told=told)
        if content is not None and row.photos.count() < MOST_PHOTOS:
            keep_photo(row.workshop, row, content, by_buyer=True)
        return _page(_found(code))
