"""What must be prepared over HTTP, and its calendar with a private address: thin."""

from typing import Any
from uuid import UUID

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiResponse, extend_schema
from pydantic import BaseModel
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.throttling import AnonRateThrottle
from rest_framework.views import APIView

from server.api.bodies import Body
from server.api.downloads import saved_file
from server.api.operation import PROBLEMS, operation
from server.api.problems import Refused
from server.api.views import MemberView
from server.day.preparing import PreparationsOut, calendar_of, calendar_workshop, preparations, set_calendar

__all__ = ["CalendarAddressView", "PreparationsView", "SharedCalendarView"]


class CalendarIn(Body):
    """Whether there is a calendar with a private address; on again: a new address."""

    on: bool


class CalendarOut(BaseModel):
    """The path of the private address; empty: none."""

    path: str


class PreparationsView(MemberView):
    """GET /api/day/prepare"""

    @operation("preparations")
    def get(self) -> PreparationsOut:
        """What must be prepared, by time, and who did it."""
        return preparations(self.workshop)


class CalendarAddressView(MemberView):
    """POST /api/day/calendar"""

    owner_only = frozenset({"POST"})

    @operation("set_calendar")
    def post(self, body: CalendarIn) -> CalendarOut:
        """Make a new private address for the calendar, or none."""
        return CalendarOut(path=set_calendar(by=self.member, on=body.on))


class CalendarThrottle(AnonRateThrottle):
    """A calendar asks some times an hour; whoever guesses addresses is slowed down."""

    rate = "120/hour"


class SharedCalendarView(APIView):
    """GET /api/calendar/{key}.ics: without signing in, by its address alone"""

    permission_classes = [AllowAny]
    authentication_classes: list[Any] = []
    throttle_classes = [CalendarThrottle]

    @extend_schema(
        operation_id="shared_calendar",
        responses={(200, "text/calendar"): OpenApiResponse(OpenApiTypes.BINARY), **PROBLEMS},
    )
    def get(self, request: Request, key: UUID) -> HttpResponse:
        """What is to be prepared, for a calendar that subscribes to it."""
        workshop = calendar_workshop(key)
        if workshop is None:
            raise Refused("There is no such calendar.", code="not_found", status=404)
        return saved_file(calendar_of(workshop), "text/calendar", "prepare.ics")
