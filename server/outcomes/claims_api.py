"""Claims and what carriers did, over HTTP: thin."""

from datetime import date
from decimal import Decimal
from typing import Annotated, Literal, get_args

from django.db.models import F
from drf_spectacular.utils import OpenApiParameter
from pydantic import BaseModel, Field

from core.outcomes.carriers import Delivered, OnTime, Reweighed, on_time, reweighed_by
from server.api.bodies import Body
from server.api.operation import operation
from server.api.paging import Page
from server.api.problems import Refused
from server.api.views import MemberView
from server.carriers.models import Label
from server.outcomes.api import questions_of
from server.outcomes.claims import ClaimTold, save_claim
from server.outcomes.models import Arrival, Claim
from server.outcomes.screens import ArrivalOut, arrivals_out
from server.workshops.clock import today

__all__ = ["CarriersReportView", "ClaimView", "ClaimsView"]

ClaimStateName = Literal["open", "made", "paid", "refused", "dropped"]
_Money = Annotated[Decimal, Field(ge=0, le=1_000_000, decimal_places=2)]
#: The report looks at the newest so many parcels.
_NEWEST = 2_000


class ClaimOut(BaseModel):
    """A claim with its parcel."""

    id: int
    state: ClaimStateName
    amount: Decimal
    paid: Decimal | None
    until: date | None
    made_on: date | None
    settled_on: date | None
    reference: str
    note: str
    by: str
    revision: int
    arrival: ArrivalOut


class ClaimIn(Body):
    """How a claim stands."""

    revision: Annotated[int, Field(ge=0)]
    state: ClaimStateName
    amount: _Money
    paid: _Money | None = None
    made_on: date | None = None
    reference: Annotated[str, Field(max_length=60)] = ""
    note: Annotated[str, Field(max_length=400)] = ""


def _claims_out(view: MemberView, rows: list[Claim]) -> list[ClaimOut]:
    shown = arrivals_out(
        view.workshop, [row.arrival for row in rows], today(view.workshop), questions_of(view.workshop)
    )
    plain = (
        "state", "amount", "paid", "until", "made_on", "settled_on", "reference", "note", "by", "revision",
    )  # fmt: skip
    return [
        ClaimOut(**{name: getattr(row, name) for name in plain}, id=row.pk, arrival=arrival)
        for row, arrival in zip(rows, shown, strict=True)
    ]


class ClaimsView(MemberView):
    """GET /api/claims"""

    @operation(
        "claims",
        parameters=[OpenApiParameter("state", str, enum=list(get_args(ClaimStateName)), description="Only those")],
    )
    def get(self) -> Page[ClaimOut]:
        """Every claim: those still to be made first, by their last day."""
        rows = Claim.objects.of(self.workshop).select_related("arrival__parcel__order", "arrival__claim")
        state = self.request.query_params.get("state")
        if state is not None:
            if state not in get_args(ClaimStateName):
                raise Refused(
                    f"state is one of {', '.join(get_args(ClaimStateName))}; given: {state[:20]}.",
                    code="not_valid", status=400, field="state",
                )  # fmt: skip
            rows = rows.filter(state=state)
        rows = rows.order_by(F("settled_on").desc(nulls_first=True), F("until").asc(nulls_last=True), "id")
        return self.paged(rows, lambda page: _claims_out(self, page))


class ClaimView(MemberView):
    """PUT /api/claims/{id}"""

    owner_only = frozenset({"PUT"})

    @operation("save_claim")
    def put(self, body: ClaimIn, claim_id: int) -> ClaimOut:
        """Write down how a claim stands."""
        told = ClaimTold(**body.model_dump(exclude={"revision"}))
        row = save_claim(by=self.member, claim_id=claim_id, told=told, revision=body.revision)
        return _claims_out(self, [row])[0]


class CarriersReport(BaseModel):
    """What carriers did."""

    on_time: list[OnTime]
    charged_more: list[Reweighed]
    parcels: int


class CarriersReportView(MemberView):
    """GET /api/arrivals/carriers"""

    shows_costs = True

    @operation("carriers_report")
    def get(self) -> CarriersReport:
        """Days promised and taken by service and zone, and what was charged afterwards."""
        came = list(
            Arrival.objects.of(self.workshop)
            .exclude(delivered_on=None)
            .order_by("-sent_on", "-id")
            .values_list("carrier", "service_name", "zone", "sent_on", "promised_on", "delivered_on")[:_NEWEST]
        )
        parcels = [
            Delivered(
                carrier=carrier, service=service, zone=zone, sent_on=sent, promised_on=promised, delivered_on=delivered
            )
            for carrier, service, zone, sent, promised, delivered in came
            if delivered is not None
        ]
        labels = Label.objects.of(self.workshop).filter(state=Label.State.BOUGHT).order_by("-id")
        later = labels.values_list("carrier", "weight_mg", "measured_mg", "charged_more")[:_NEWEST]
        return CarriersReport(
            on_time=list(on_time(parcels)), charged_more=list(reweighed_by(later)), parcels=len(parcels)
        )
