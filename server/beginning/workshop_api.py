"""The workshop itself over HTTP: who it is, where it sends from, which label, who sees costs. Thin."""

from typing import Annotated, Literal
from zoneinfo import available_timezones

from django.db import transaction
from pydantic import BaseModel, Field, field_validator

from server.api.bodies import Body
from server.api.operation import operation
from server.api.problems import Refused
from server.api.views import MemberView
from server.supplies.models import Supply
from server.workshops.happened import tell_anything
from server.workshops.models import Workshop, lock_workshop

__all__ = ["WorkshopView"]


class WorkshopIn(Body):
    """What may be changed of a workshop; its currency stays: prices are in it."""

    name: Annotated[str, Field(min_length=1, max_length=80)]
    address: Annotated[list[Annotated[str, Field(min_length=1, max_length=80)]], Field(min_length=1, max_length=6)]
    postcode: Annotated[str, Field(min_length=1, max_length=12)]
    country: Annotated[str, Field(pattern=r"^[A-Z]{2,3}$")]
    time_zone: str
    unit_system: Literal["metric", "imperial"]
    label_supply: Annotated[str, Field(max_length=30)]  #: code of an insert; empty: none is drawn down
    packers_see_costs: bool
    #: Where buyers reach this program; empty: slips carry no code and there is no page.
    buyer_page_at: Annotated[str, Field(max_length=120, pattern=r"^(https?://[A-Za-z0-9.:/_-]+)?$")] = ""

    @field_validator("time_zone")
    @classmethod
    def _known_zone(cls, value: str) -> str:
        if value not in available_timezones():
            raise ValueError("is not a time zone, such as UTC")
        return value


class LabelChoice(BaseModel):
    """An insert that may be the label."""

    code: str
    name: str


class WorkshopOut(BaseModel):
    """The workshop as it is."""

    name: str
    address: list[str]
    postcode: str
    country: str
    time_zone: str
    unit_system: Literal["metric", "imperial"]
    label_supply: str
    packers_see_costs: bool
    buyer_page_at: str
    currency: str
    sample: bool
    labels: list[LabelChoice]


class WorkshopView(MemberView):
    """GET and PUT /api/workshop"""

    owner_only = frozenset({"PUT"})

    @operation("workshop")
    def get(self) -> WorkshopOut:
        """The workshop as it is."""
        return _out(self.workshop)

    @operation("change_workshop")
    def put(self, body: WorkshopIn) -> WorkshopOut:
        """Change it; open orders are planned again."""
        _change(self.workshop, body)
        return _out(self.workshop)


@transaction.atomic
def _change(workshop: Workshop, body: WorkshopIn) -> None:
    lock_workshop(workshop)
    inserts = Supply.objects.of(workshop).filter(kind="insert", retired_at=None)
    if body.label_supply and not inserts.filter(code=body.label_supply).exists():
        raise Refused(
            f"There is no insert {body.label_supply} in the cupboard.", code="unknown", status=422, field="label_supply"
        )
    Workshop.objects.filter(pk=workshop.pk).update(**body.model_dump())
    workshop.refresh_from_db()
    tell_anything(workshop)


def _out(workshop: Workshop) -> WorkshopOut:
    inserts = Supply.objects.of(workshop).filter(kind="insert", retired_at=None).order_by("name")
    return WorkshopOut(
        name=workshop.name,
        address=workshop.address,
        postcode=workshop.postcode,
        country=workshop.country,
        time_zone=workshop.time_zone,
        unit_system="imperial" if workshop.unit_system == "imperial" else "metric",
        label_supply=workshop.label_supply,
        packers_see_costs=workshop.packers_see_costs,
        buyer_page_at=workshop.buyer_page_at,
        currency=workshop.currency,
        sample=workshop.sample,
        labels=[LabelChoice(code=row.code, name=row.name) for row in inserts],
    )
