"""Beginning over HTTP: thin. Three doors are open to strangers: nobody can sign in before there is anybody."""

from decimal import Decimal
from typing import Annotated, Any, Literal
from zoneinfo import available_timezones

from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect, ensure_csrf_cookie
from drf_spectacular.utils import extend_schema
from pydantic import BaseModel, Field, field_validator
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.throttling import ScopedRateThrottle
from rest_framework.views import APIView

from server.api.bodies import Body
from server.api.operation import PROBLEMS, operation
from server.api.problems import Refused
from server.api.views import MemberView
from server.beginning import sample, setting_up
from server.beginning.first_parcel import Part, first_parcel
from server.beginning.starter import add_ticked, codes_there, starter_shelf
from server.commands.demo import SAMPLE_PEOPLE
from server.formats.supplies import SupplyItem
from server.workshops import people
from server.workshops.api import SessionOut, session_out
from server.workshops.models import Workshop

__all__ = ["BeginView", "FirstParcelView", "OwnSampleView", "SampleView", "SetUpView", "StarterView"]


class SamplePerson(BaseModel):
    """Somebody of the sample workshop."""

    name: str
    role: str
    username: str
    password: str


class BeginOut(BaseModel):
    """What the first page offers."""

    own: bool  #: there is a workshop besides the sample
    may_set_up: bool
    sample: sample.SampleState
    parts_loaded: int  #: of the sample, while it is coming
    parts: int
    people: list[SamplePerson]  #: of the sample, when it is ready


class SetUpIn(Body):
    """A workshop and its owner."""

    workshop: Annotated[str, Field(min_length=1, max_length=80)]
    address: Annotated[list[Annotated[str, Field(min_length=1, max_length=80)]], Field(min_length=1, max_length=6)]
    postcode: Annotated[str, Field(min_length=1, max_length=12)]
    country: Annotated[str, Field(pattern=r"^[A-Z]{2,3}$")]
    currency: Annotated[str, Field(min_length=1, max_length=8)]
    money_digits: Annotated[int, Field(ge=0, le=3)]
    unit_system: Literal["metric", "imperial"]
    time_zone: str
    ship_days: Annotated[list[Annotated[int, Field(ge=0, le=6)]], Field(min_length=1, max_length=7)]
    wage_per_hour: Annotated[Decimal, Field(ge=0, max_digits=10, decimal_places=2)]
    name: Annotated[str, Field(min_length=1, max_length=80)]
    username: Annotated[str, Field(pattern=r"^[A-Za-z0-9][A-Za-z0-9._-]{1,39}$")]
    password: Annotated[str, Field(min_length=1, max_length=200)]

    @field_validator("time_zone")
    @classmethod
    def _known_zone(cls, value: str) -> str:
        if value not in available_timezones():
            raise ValueError("is not a time zone, such as UTC")
        return value


class FirstPartOut(BaseModel):
    """One thing a first parcel needs."""

    code: str
    there: bool
    name: str
    id: int | None
    place: str
    lacks: str

    @classmethod
    def of(cls, part: Part) -> "FirstPartOut":
        """Return what is shown of a part."""
        return cls(code=part.code, there=part.there, name=part.name, id=part.id, place=part.place, lacks=part.lacks)


class FirstParcelOut(BaseModel):
    """What is still needed for the first parcel."""

    parts: list[FirstPartOut]
    left: int
    packed: bool


class StarterOut(BaseModel):
    """An ordinary supply to start from."""

    supply: SupplyItem
    there: bool  #: its code is in the cupboard already


class StarterPage(BaseModel):
    """The shelf to start from."""

    supplies: list[StarterOut]


class StarterIn(Body):
    """Supplies that are ticked, changed as they are."""

    supplies: Annotated[list[SupplyItem], Field(min_length=1, max_length=100)]


class AddedOut(BaseModel):
    """How many were new."""

    added: int


def _begin() -> BeginOut:
    state = sample.sample_state()
    people_there = SAMPLE_PEOPLE if state == "ready" else ()
    return BeginOut(
        own=Workshop.objects.filter(sample=False).exists(),
        may_set_up=setting_up.may_set_up(),
        sample=state,
        parts_loaded=sample.parts_loaded() if state == "coming" else 0,
        parts=sample.PARTS,
        people=[SamplePerson(name=a, role=b, username=c, password=d) for a, b, c, d in people_there],
    )


class _Open(APIView):
    authentication_classes: list[Any] = []
    permission_classes = [AllowAny]


@method_decorator(ensure_csrf_cookie, name="dispatch")
class BeginView(_Open):
    """GET /api/begin"""

    @operation("begin", auth=[])
    def get(self) -> BeginOut:
        """What the first page offers: the sample workshop, or one's own."""
        return _begin()


@method_decorator(csrf_protect, name="dispatch")
class SetUpView(_Open):
    """POST /api/begin/workshop"""

    throttle_classes = [ScopedRateThrottle]
    throttle_scope = "sign_in"

    @operation("set_up", status=201, auth=[])
    def post(self, body: SetUpIn) -> SessionOut:
        """Set up a workshop with its owner, who is signed in then."""
        member = setting_up.set_up(
            new=setting_up.NewWorkshop(
                name=body.workshop,
                address=tuple(body.address),
                **body.model_dump(
                    include={
                        "postcode",
                        "country",
                        "currency",
                        "money_digits",
                        "unit_system",
                        "time_zone",
                        "wage_per_hour",
                    }
                ),
                ship_days=tuple(body.ship_days),
            ),
            username=body.username,
            name=body.name,
            password=body.password,
        )
        people.sign_in(self.request._request, member)
        return session_out(member)


@method_decorator(csrf_protect, name="dispatch")
class SampleView(_Open):
    """POST /api/begin/sample"""

    throttle_classes = [ScopedRateThrottle]
    throttle_scope = "sign_in"

    @operation("load_sample", auth=[])
    def post(self) -> BeginOut:
        """Load the sample workshop in the background. For a stranger only while there is no workshop of one's own."""
        if not setting_up.may_set_up():
            raise Refused("The owner loads the sample workshop under Settings.", code="set_up_already")
        sample.ask_for_sample()
        return _begin()


class OwnSampleView(MemberView):
    """POST and DELETE /api/sample"""

    closed_to_tokens = True

    owner_only = frozenset({"POST", "DELETE"})

    @operation("load_sample_again")
    def post(self) -> BeginOut:
        """Load the sample workshop beside one's own."""
        sample.ask_for_sample()
        return _begin()

    @extend_schema(operation_id="remove_sample", responses={204: None, **PROBLEMS})
    def delete(self, request: Request) -> Response:
        """Remove the sample workshop and everything in it."""
        sample.remove_sample()
        return Response(status=204)


class FirstParcelView(MemberView):
    """GET /api/first-parcel"""

    @operation("first_parcel")
    def get(self) -> FirstParcelOut:
        """What is still needed for the first parcel."""
        found = first_parcel(self.workshop)
        return FirstParcelOut(
            parts=[FirstPartOut.of(part) for part in found.parts], left=found.left, packed=found.packed
        )


class StarterView(MemberView):
    """GET and POST /api/supplies/starter"""

    owner_only = frozenset({"POST"})

    @operation("starter_shelf")
    def get(self) -> StarterPage:
        """Ordinary supplies to start from."""
        known = codes_there(self.workshop)
        return StarterPage(
            supplies=[
                StarterOut(supply=item, there=item.code.lower() in known) for item in starter_shelf(self.workshop)
            ]
        )

    @operation("add_starter")
    def post(self, body: StarterIn) -> AddedOut:
        """Put the ticked ones on their shelves; a shipping label is the label from then on."""
        return AddedOut(added=add_ticked(by=self.member, items=body.supplies))
