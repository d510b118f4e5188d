"""The day over HTTP: the day itself, moving an order, what was prepared, the workshop's times: thin."""

from datetime import date, time
from decimal import Decimal
from typing import Annotated

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, OpenApiResponse, extend_schema
from pydantic import BaseModel, Field
from rest_framework.request import Request

from core.day.hand_overs import HandOverKind
from core.messages import Message, Text
from core.parcels.closing import WeakWhenDamp
from core.supplies.items import ClosureGrade
from server.api.bodies import Body
from server.api.downloads import paper, saved_file
from server.api.operation import PROBLEMS, operation
from server.api.problems import Refused
from server.api.views import MemberView
from server.carriers.models import TariffVersion
from server.day import moves, services
from server.day.closing import closing_time
from server.day.gather import GatherOut, gather_sheet, gathered, parsed_keys
from server.day.models import Closure, HandOverTime, PackingHours
from server.day.preparing import calendar_of
from server.day.screens import DayOut, HandOverRef, day_out, ref_of
from server.day.times import ASSUMED_BEGINS, ASSUMED_ENDS, clock_of, times_of
from server.formats.gather_sheet import gather_pdf
from server.plans.facts import ship_days

__all__ = [
    "BeginWaveView", "CalendarView", "ClosingView", "DayView", "GatherPdfView", "GatherView", "MissingView",
    "MovesView", "PreparedView", "TimesView",
]  # fmt: skip

_Weekdays = Annotated[list[Annotated[int, Field(ge=0, le=6)]], Field(min_length=1, max_length=7)]


class PackingHoursDoc(Body):
    """When one person packs."""

    who: Annotated[str, Field(min_length=1, max_length=60, pattern=r"\S")]
    days: _Weekdays
    begins: time
    ends: time


class HandOverTimeDoc(Body):
    """A hand-over that comes again."""

    id: int | None = None
    name: Annotated[str, Field(min_length=1, max_length=60, pattern=r"\S")]
    kind: HandOverKind
    carriers: Annotated[list[Annotated[str, Field(max_length=30)]], Field(max_length=20)]
    days: _Weekdays
    at: time
    way_minutes: Annotated[int, Field(ge=0, le=600)] = 0
    most_parcels: Annotated[int, Field(ge=1, le=10_000)] | None = None
    who: Annotated[str, Field(max_length=60)] = ""


class ClosedDayDoc(Body):
    """A day the workshop is closed."""

    day: date
    reason: Annotated[str, Field(max_length=80)] = ""


class TimesIn(Body):
    """All of the workshop's times."""

    hours: Annotated[list[PackingHoursDoc], Field(max_length=60)]
    hand_overs: Annotated[list[HandOverTimeDoc], Field(max_length=40)]
    closures: Annotated[list[ClosedDayDoc], Field(max_length=400)]


class CarrierRef(BaseModel):
    """A carrier there is a price list of."""

    code: str
    name: str


class TimesOut(BaseModel):
    """The workshop's times, and what is assumed where nothing was entered."""

    hours: list[PackingHoursDoc]
    hand_overs: list[HandOverTimeDoc]
    closures: list[ClosedDayDoc]
    carriers: list[CarrierRef]
    assumed_hours: PackingHoursDoc | None
    assumed_hand_overs: list[HandOverTimeDoc]


class ClosingOut(BaseModel):
    """What is to be minded when a parcel is shut now."""

    wanted: ClosureGrade  #: what its goods ask of the closure
    full_strength_minutes: int
    full_strength_s: int
    hand_over: HandOverRef | None  #: the next it could leave with
    leaves_with: HandOverRef | None  #: the first at which it holds
    today: date
    humidity_percent: int
    from_sensor: bool
    weak: list[WeakWhenDamp]
    old_marks: bool


class MoveOut(BaseModel):
    """One hand-over an order could go with."""

    hand_over: HandOverRef
    service: str
    service_name: str
    carrier_name: str
    more: Decimal
    arrives_on: date
    days_later: int
    makes_it: bool
    late: list[str]  #: numbers of orders that would not make it then
    now: bool  #: as it is planned


class MovesOut(BaseModel):
    """Where an order could go."""

    number: str
    buyer: str
    moves: list[MoveOut]


class MoveIn(Body):
    """One of them."""

    hand_over: Annotated[str, Field(min_length=1, max_length=40)]
    service: Annotated[str, Field(min_length=1, max_length=30)]


class PreparedIn(Body):
    """Something was begun for these orders, or was not after all."""

    what: Annotated[str, Field(min_length=1, max_length=120)]
    order_ids: Annotated[list[int], Field(min_length=1, max_length=300)]
    done: bool


class PreparedOut(BaseModel):
    """For so many orders."""

    orders: int


class BeginWaveIn(Body):
    """The orders of a wave, in the order of packing."""

    order_ids: Annotated[list[int], Field(min_length=1, max_length=50)]


class NotBegunOut(BaseModel):
    """An order that stays where it is."""

    order_id: int
    reason: list[Text]


class BeginWaveOut(BaseModel):
    """Their first parcels, and the orders that could not be begun."""

    parcel_ids: list[int]
    refused: list[NotBegunOut]


class MissingIn(Body):
    """What was not on its shelf."""

    order_id: int
    what: Annotated[str, Field(min_length=1, max_length=120)]


class DayView(MemberView):
    """GET /api/day"""

    @operation("day", parameters=[OpenApiParameter("day", OpenApiTypes.DATE, description="A later day, ahead")])
    def get(self) -> DayOut:
        """The day: hand-overs, the order of packing, when to begin, what is late, set aside, to be prepared."""
        return day_out(self.workshop, wanted_day(self.request.query_params.get("day")))


def wanted_day(text: str | None) -> date | None:
    """Return the day that is asked for, None: today. Raises Refused when it is no day."""
    if not text:
        return None
    try:
        return date.fromisoformat(text[:20])
    except ValueError:
        raise Refused(
            f"day: {text[:20]} is no day; write 2026-11-30.", code="not_valid", status=400, field="day"
        ) from None


class ClosingView(MemberView):
    """GET /api/day/closing/{parcel_id}"""

    @operation("closing_time")
    def get(self, parcel_id: int) -> ClosingOut:
        """When a parcel's closure holds, against its hand-over, and what damp air does to it."""
        found = closing_time(self.workshop, parcel_id)
        closing, times = found.closing, found.times
        return ClosingOut(
            wanted=closing.wanted,
            full_strength_minutes=closing.full_strength_minutes,
            full_strength_s=found.full_strength_s,
            hand_over=ref_of(times, found.hand_over) if found.hand_over else None,
            leaves_with=ref_of(times, found.leaves_with) if found.leaves_with else None,
            today=found.clock.today,
            humidity_percent=found.air.humidity_percent,
            from_sensor=found.air.from_sensor,
            weak=list(closing.weak_at(found.air.humidity_percent)),
            old_marks=closing.old_marks,
        )


class MovesView(MemberView):
    """GET and POST /api/day/orders/{id}/moves"""

    @operation("day_moves")
    def get(self, order_id: int) -> MovesOut:
        """Where an order could go instead, each quoted for its day."""
        return self._out(order_id)

    @operation("move_order")
    def post(self, order_id: int, body: MoveIn) -> MovesOut:
        """Put an order to a hand-over by a service; it is planned again for that day."""
        moves.move(by=self.member, order_id=order_id, hand_over=body.hand_over, service=body.service)
        return self._out(order_id, moved=True)

    def _out(self, order_id: int, *, moved: bool = False) -> MovesOut:
        number, buyer = moves.named(self.workshop, order_id)
        offers = () if moved else moves.moves_of(self.workshop, order_id)
        times = times_of(self.workshop, clock_of(self.workshop))
        return MovesOut(
            number=number,
            buyer=buyer,
            moves=[
                MoveOut(
                    hand_over=ref_of(times, one.hand_over),
                    service=one.service,
                    service_name=one.service_name,
                    carrier_name=one.carrier_name,
                    more=one.more,
                    arrives_on=one.arrives_on,
                    days_later=one.days_later,
                    makes_it=one.makes_it,
                    late=list(one.late),
                    now=one.now,
                )
                for one in offers
            ],
        )


class PreparedView(MemberView):
    """POST /api/day/prepared"""

    @operation("mark_prepared")
    def post(self, body: PreparedIn) -> PreparedOut:
        """Write that something was begun, or that it was not after all."""
        count = services.mark_prepared(by=self.member, order_ids=body.order_ids, what=body.what, done=body.done)
        return PreparedOut(orders=count)


class BeginWaveView(MemberView):
    """POST /api/day/begin"""

    @operation("begin_wave")
    def post(self, body: BeginWaveIn) -> BeginWaveOut:
        """Bring the orders of a wave to the bench."""
        parcels, refused = services.begin_wave(by=self.member, order_ids=body.order_ids)
        return BeginWaveOut(
            parcel_ids=[parcel.pk for parcel in parcels],
            refused=[
                NotBegunOut(
                    order_id=order_id,
                    reason=[why.detail] if isinstance(why.detail, str | Message) else list(why.detail),
                )
                for order_id, why in refused
            ],
        )


class MissingView(MemberView):
    """POST /api/day/missing"""

    @operation("gather_missing")
    def post(self, body: MissingIn) -> PreparedOut:
        """Hold one order because something of it is not there."""
        services.missing(by=self.member, order_id=body.order_id, what=body.what)
        return PreparedOut(orders=1)


class GatherView(MemberView):
    """GET /api/day/gather?parcels=KEY,KEY"""

    @operation("gather", parameters=[OpenApiParameter("parcels", str, required=True)])
    def get(self) -> GatherOut:
        """What to carry up for these parcels, by shelf."""
        return gathered(self.workshop, parsed_keys(self.request.query_params.get("parcels", "")[:1000]))


class GatherPdfView(MemberView):
    """GET /api/day/gather.pdf?parcels=KEY,KEY&paper=a4"""

    @extend_schema(
        operation_id="gather_sheet",
        parameters=[
            OpenApiParameter("parcels", str, required=True),
            OpenApiParameter("paper", str, enum=["a4", "label"], description="A4, or 100 x 150 mm"),
        ],
        responses={(200, "application/pdf"): OpenApiResponse(OpenApiTypes.BINARY), **PROBLEMS},
    )
    def get(self, request: Request) -> HttpResponse:
        """The same list on paper."""
        found = gathered(self.workshop, parsed_keys(request.query_params.get("parcels", "")[:1000]))
        small = request.query_params.get("paper") == "label"
        content = gather_pdf(gather_sheet(self.workshop, self.words, found), small=small)
        return paper(content, "gather.pdf")


class CalendarView(MemberView):
    """GET /api/day/tasks.ics"""

    @extend_schema(
        operation_id="tasks_calendar",
        responses={(200, "text/calendar"): OpenApiResponse(OpenApiTypes.BINARY), **PROBLEMS},
    )
    def get(self, request: Request) -> HttpResponse:
        """What is to be prepared, as a calendar file (RFC 5545)."""
        return saved_file(calendar_of(self.workshop), "text/calendar", "prepare.ics")


class TimesView(MemberView):
    """GET and PUT /api/day/times"""

    owner_only = frozenset({"PUT"})

    @operation("day_times")
    def get(self) -> TimesOut:
        """Hours, hand-overs and closures; what is assumed where nothing was entered."""
        return self._out()

    @operation("set_day_times")
    def put(self, body: TimesIn) -> TimesOut:
        """Write all of them down."""
        services.set_times(
            by=self.member,
            hours=[
                services.HoursIn(who=one.who, days=tuple(sorted(set(one.days))), begins=one.begins, ends=one.ends)
                for one in body.hours
            ],
            hand_overs=[
                services.HandOverIn(
                    id=one.id,
                    name=one.name,
                    kind=one.kind,
                    carriers=tuple(dict.fromkeys(one.carriers)),
                    days=tuple(sorted(set(one.days))),
                    at=one.at,
                    way_minutes=one.way_minutes,
                    most_parcels=one.most_parcels,
                    who=one.who,
                )
                for one in body.hand_overs
            ],
            closures=[(one.day, one.reason) for one in body.closures],
        )
        return self._out()

    def _out(self) -> TimesOut:
        clock = clock_of(self.workshop)
        times = times_of(self.workshop, clock)
        assumed = {one.code: one for one in reversed(times.hand_overs) if one.code in times.assumed}
        names = TariffVersion.objects.of(self.workshop).values_list("carrier", "document__carrier_name")
        return TimesOut(
            hours=[
                PackingHoursDoc(who=row.who, days=row.days, begins=row.begins, ends=row.ends)
                for row in PackingHours.objects.of(self.workshop)
            ],
            hand_overs=[
                HandOverTimeDoc(
                    id=row.pk,
                    name=row.name,
                    kind="trip" if row.kind == "trip" else "collection",
                    carriers=row.carriers,
                    days=row.days,
                    at=row.at,
                    way_minutes=row.way_minutes,
                    most_parcels=row.most_parcels,
                    who=row.who,
                )
                for row in HandOverTime.objects.of(self.workshop)
            ],
            closures=[ClosedDayDoc(day=row.day, reason=row.reason) for row in Closure.objects.of(self.workshop)],
            carriers=[CarrierRef(code=code, name=name) for code, name in sorted(dict(names).items())],
            assumed_hours=PackingHoursDoc(
                who="One person", days=list(ship_days(self.workshop)), begins=ASSUMED_BEGINS, ends=ASSUMED_ENDS
            )
            if times.hours_assumed
            else None,
            assumed_hand_overs=[
                HandOverTimeDoc(
                    name=times.name_of(one),
                    kind=one.kind,
                    carriers=list(one.carriers),
                    days=list(ship_days(self.workshop)),
                    at=clock.moment(one.at_s % 86_400).time(),
                )
                for one in assumed.values()
            ],
        )
