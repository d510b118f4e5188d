"""A wave at the bench over HTTP: thin."""

from typing import Annotated

from drf_spectacular.utils import OpenApiParameter
from pydantic import BaseModel, Field

from server.api.bodies import Body
from server.api.operation import operation
from server.api.problems import Refused
from server.api.views import MemberView
from server.bench.together import TogetherOut, done_together, together

__all__ = ["TogetherDoneView", "TogetherView"]


class TogetherIn(Body):
    """Parcels of a wave."""

    parcel_ids: Annotated[list[int], Field(min_length=1, max_length=30)]


class TogetherDoneOut(BaseModel):
    """In the order they are packed."""

    parcel_ids: list[int]


class TogetherView(MemberView):
    """GET /api/bench/together?parcels=1,2"""

    @operation("bench_together", parameters=[OpenApiParameter("parcels", str, required=True)])
    def get(self) -> TogetherOut:
        """What these parcels begin with, done for all at once."""
        text = self.request.query_params.get("parcels", "")[:400]
        parts = [part for part in text.split(",") if part]
        if not all(part.isascii() and part.isdecimal() and len(part) < 10 for part in parts):
            raise Refused("parcels: numbers with a comma between them.", code="not_valid", status=400, field="parcels")
        return together(self.workshop, [int(part) for part in parts])


class TogetherDoneView(MemberView):
    """POST /api/bench/together/done"""

    @operation("done_together")
    def post(self, body: TogetherIn) -> TogetherDoneOut:
        """The shared steps are done; each parcel goes on with its own."""
        return TogetherDoneOut(parcel_ids=[one.pk for one in done_together(by=self.member, ids=body.parcel_ids)])
