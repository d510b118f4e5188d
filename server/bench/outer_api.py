"""A closed or closing parcel measured outside, over HTTP: thin."""

from typing import Annotated

from pydantic import BaseModel, Field

from core.errors import BadMeasure
from core.units import parse_length
from server.api.bodies import Body
from server.api.operation import operation
from server.api.problems import Refused
from server.api.views import MemberView
from server.bench.services import measure_outer

__all__ = ["OuterView"]

_Length = Annotated[str, Field(min_length=1, max_length=40)]


class OuterIn(Body):
    """The outside as it was measured: texts with their unit; a bare number is in mm."""

    length: _Length
    width: _Length
    height: _Length


class OuterOut(BaseModel):
    """The outside as it is kept, and as it was planned."""

    measured_um: tuple[int, int, int]
    planned_um: tuple[int, int, int]


class OuterView(MemberView):
    """PUT /api/parcels/{id}/outer"""

    @operation("measure_outer")
    def put(self, body: OuterIn, parcel_id: int) -> OuterOut:
        """Keep how large the closed parcel is outside: five of a fill teach how far it bulges."""
        sides = []
        for name, text in body.model_dump().items():
            try:
                sides.append(parse_length(text))
            except BadMeasure as error:
                raise Refused(
                    f"{name}: {text[:40]} is no length. Write 262 mm, or 10 1/4 in.",
                    code="not_valid", status=422, field=name,
                ) from error  # fmt: skip
        length, width, height = sides
        measured, planned = measure_outer(by=self.member, parcel_id=parcel_id, outer_um=(length, width, height))
        return OuterOut(measured_um=measured, planned_um=planned)
