"""Parcels packed ahead over HTTP: thin."""

from datetime import datetime
from typing import Annotated
from uuid import UUID

from drf_spectacular.utils import OpenApiParameter
from pydantic import BaseModel, Field

from server.api.bodies import Body
from server.api.operation import operation
from server.api.paging import Page
from server.api.problems import Refused
from server.api.views import MemberView
from server.bench import ready
from server.bench.models import ReadyParcel

__all__ = ["ReadyParcelsView", "UnpackView"]

_STATES = [state.value for state in ReadyParcel.State]


class ReadyOut(BaseModel):
    """One parcel packed ahead."""

    id: int
    product_id: int
    sku: str
    name: str
    units: int
    container: str
    version: int
    place: str
    state: str
    packed_at: datetime
    packed_by: str
    order: str | None  #: the number of the order that took it


class PackAheadIn(Body):
    """How many parcels of what, and where they will stand. ``request_key``: sent twice, they stand once."""

    product_id: int
    units: Annotated[int, Field(ge=1, le=500)]
    count: Annotated[int, Field(ge=1, le=100)]
    place: Annotated[str, Field(min_length=1, max_length=20)]
    request_key: UUID


class ReadyMadeOut(BaseModel):
    """What was packed."""

    parcels: list[ReadyOut]


class UnpackIn(Body):
    """Why it is taken apart."""

    reason: Annotated[str, Field(min_length=3, max_length=120)]


def _out(row: ReadyParcel) -> ReadyOut:
    parcel = getattr(row, "parcel", None)
    plain = ("product_id", "units", "container", "place", "state", "packed_at", "packed_by")
    return ReadyOut(
        **{name: getattr(row, name) for name in plain},
        id=row.pk,
        sku=row.product.sku,
        name=row.product.name,
        version=row.version.number,
        order=parcel.order.number if parcel else None,
    )


class ReadyParcelsView(MemberView):
    """GET and POST /api/ready-parcels"""

    @operation(
        "ready_parcels", parameters=[OpenApiParameter("state", str, enum=_STATES, description="ready when not given")]
    )
    def get(self) -> Page[ReadyOut]:
        """Parcels packed ahead, oldest first."""
        state = self.request.query_params.get("state", "ready")
        if state not in _STATES:
            raise Refused(
                f"state is one of {', '.join(_STATES)}; given: {state[:20]}.",
                code="not_valid",
                status=400,
                field="state",
            )
        rows = ReadyParcel.objects.of(self.workshop).filter(state=state)
        rows = rows.select_related("product", "version", "parcel__order")
        return self.paged(rows, lambda page: [_out(row) for row in page])

    @operation("pack_ahead", status=201)
    def post(self, body: PackAheadIn) -> ReadyMadeOut:
        """Pack parcels ahead: their supplies are drawn down now, an order that matches takes one."""
        made = ready.pack_ahead(by=self.member, **body.model_dump())
        return ReadyMadeOut(parcels=[_out(row) for row in made])


class UnpackView(MemberView):
    """POST /api/ready-parcels/{id}/unpack"""

    @operation("unpack_ready_parcel")
    def post(self, body: UnpackIn, ready_id: int) -> ReadyOut:
        """Take one apart: what it drew goes back on the shelf."""
        return _out(ready.unpack(by=self.member, ready_id=ready_id, reason=body.reason))
