"""The day request and its result: a script interface (docs/formats/day-request.md). No database."""

from datetime import date, datetime, time, timedelta
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import AfterValidator, BaseModel, BeforeValidator, ConfigDict, Field, model_validator

from core.day.hand_overs import (
    HandOver,
    HandOverKind,
    HandOverRule,
    TableHours,
    due_at,
    hand_overs_between,
    moment_s,
)
from core.day.model import seconds_of
from core.day.schedule import LateWhy, why_late
from core.day.today import DayParcel, DayPlan, WayOut, jobs_of, moved, plan_day, waves_of_day, ways_of_day
from core.day.waves import Wave
from server.formats.base import Day
from server.formats.script_interface import as_json, twice, validated
from server.formats.text import exact_number

__all__ = ["DayRequest", "DayWork", "read_request", "result_document", "worked_out"]

#: So many days ahead hand-overs are looked for.
_DAYS = 28

_Code = Annotated[str, Field(min_length=1, max_length=60, strict=True)]
_Weekdays = Annotated[list[Annotated[int, Field(ge=0, le=6, strict=True)]], Field(min_length=1, max_length=7)]
_Whole = Annotated[int, Field(strict=True)]


def _plain_time(value: time) -> time:
    if value.tzinfo is not None:
        raise ValueError("a time of the workshop's own clock, without a time zone")
    return value.replace(microsecond=0)


_Clock = Annotated[time, AfterValidator(_plain_time)]


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class HoursDoc(_Part):
    """When one person packs."""

    who: _Code
    days: _Weekdays
    begins: _Clock
    ends: _Clock

    @model_validator(mode="after")
    def _forwards(self) -> "HoursDoc":
        if self.ends <= self.begins:
            raise ValueError(f"ends at {self.ends:%H:%M}, which is not after {self.begins:%H:%M}")
        return self

    def core(self) -> TableHours:
        """Return the core's hours."""
        return TableHours(who=self.who, days=tuple(self.days), begins=self.begins, ends=self.ends)


class HandOverDoc(_Part):
    """A hand-over that comes again."""

    code: _Code
    carriers: Annotated[list[_Code], Field(max_length=20)] = []
    kind: HandOverKind = "collection"
    days: _Weekdays
    at: _Clock
    way_minutes: Annotated[_Whole, Field(ge=0, le=600)] = 0
    most_parcels: Annotated[_Whole, Field(ge=1, le=10_000)] | None = None
    who: Annotated[str, Field(max_length=60)] = ""
    closed_on: Annotated[list[Day], Field(max_length=400)] = []

    def core(self) -> HandOverRule:
        """Return the core's rule."""
        return HandOverRule(
            code=self.code,
            carriers=tuple(self.carriers),
            kind=self.kind,
            days=tuple(sorted(set(self.days))),
            at=self.at,
            way_minutes=self.way_minutes,
            most_parcels=self.most_parcels,
            who=self.who,
            closed_on=tuple(self.closed_on),
        )


class ServiceDoc(_Part):
    """A service that may take a parcel."""

    carrier: _Code
    cut_off: _Clock
    service: Annotated[str, Field(max_length=60)] = ""


class ParcelDoc(_Part):
    """One parcel to pack."""

    code: _Code
    minutes: Annotated[Decimal, BeforeValidator(exact_number), Field(gt=0, le=1440, decimal_places=3)]
    alike: Annotated[str, Field(max_length=120)] = ""
    services: Annotated[list[ServiceDoc], Field(min_length=1, max_length=20)]
    ship_on: Day | None = None
    ready: _Clock | None = None
    hand_over: Annotated[str, Field(max_length=80)] = ""
    things: Annotated[list[_Code], Field(max_length=200)] = []
    full_strength_minutes: Annotated[_Whole, Field(ge=0, le=20_160)] = 0


class DayRequest(_Part):
    """The whole request."""

    format: Literal["calm-cupboard/day-request"]
    version: Annotated[Literal[1], BeforeValidator(exact_number)]
    now: datetime
    hours: Annotated[list[HoursDoc], Field(max_length=200)]
    hand_overs: Annotated[list[HandOverDoc], Field(max_length=100)]
    parcels: Annotated[list[ParcelDoc], Field(max_length=1000)]
    closed: Annotated[list[Day], Field(max_length=400)] = []
    holidays: Annotated[dict[_Code, Annotated[list[Day], Field(max_length=400)]], Field(max_length=50)] = {}
    saving_percent: Annotated[_Whole, Field(ge=0, le=90)] = 15
    wave_parcels: Annotated[_Whole, Field(ge=1, le=50)] = 6
    wage_per_hour: Annotated[Decimal, BeforeValidator(exact_number), Field(ge=0, le=10_000)] = Decimal(0)

    @model_validator(mode="after")
    def _own_clock(self) -> "DayRequest":
        if self.now.tzinfo is not None:
            raise ValueError("now is a moment of the workshop's own clock, without a time zone")
        return self


class DayWork(_Part):
    """The day worked out, and what it was worked out from."""

    model_config = ConfigDict(frozen=True, arbitrary_types_allowed=True)

    request: DayRequest
    hand_overs: tuple[HandOver, ...]
    parcels: tuple[DayParcel, ...]
    plan: DayPlan
    ways: tuple[WayOut, ...]
    waves: tuple[Wave, ...]

    @property
    def today(self) -> date:
        """Return the day."""
        return self.request.now.date()

    @property
    def now_s(self) -> int:
        """Return now as a moment of the day."""
        return moment_s(self.today, self.request.now.time(), self.today)


def read_request(text: str) -> DayRequest:
    """Return the request in a text. Raises WrongRequest with every error."""
    value = as_json(text)
    return validated(DayRequest, value, [*twice(value, "parcels"), *twice(value, "hand_overs")])


def worked_out(request: DayRequest) -> DayWork:
    """Return the day of a request."""
    today = request.now.date()
    now_s = moment_s(today, request.now.time(), today)
    hand_overs = hand_overs_between(
        [one.core() for one in request.hand_overs],
        today=today,
        first=today,
        days=_DAYS,
        closed=frozenset(request.closed),
        holidays={carrier: frozenset(days) for carrier, days in request.holidays.items()},
    )
    parcels = tuple(_parcel(one, today) for one in request.parcels)
    plan = plan_day(
        parcels,
        hand_overs,
        [one.core() for one in request.hours],
        today=today,
        now_s=now_s,
        closed=frozenset(request.closed),
        saving_percent=request.saving_percent,
    )
    ways = ways_of_day(
        plan,
        parcels,
        today=today,
        now_s=now_s,
        wage_per_hour=request.wage_per_hour,
        saving_percent=request.saving_percent,
    )
    things = {one.code: frozenset(one.things) for one in request.parcels}
    waves = waves_of_day(plan, things, most=request.wave_parcels)
    return DayWork(request=request, hand_overs=hand_overs, parcels=parcels, plan=plan, ways=ways, waves=waves)


def _parcel(one: ParcelDoc, today: date) -> DayParcel:
    return DayParcel(
        code=one.code,
        seconds=seconds_of(one.minutes),
        alike=one.alike,
        carrier=one.services[0].carrier,
        cut_off=one.services[0].cut_off,
        ship_on=one.ship_on or today,
        ready_s=moment_s(today, one.ready, today) if one.ready else 0,
        hand_over=one.hand_over,
        settle_s=one.full_strength_minutes * 60,
    )


def result_document(work: DayWork) -> dict[str, object]:
    """Return the result as it is written."""
    plan = work.plan
    return {
        "format": "calm-cupboard/day-result",
        "version": 1,
        "outcome": plan.schedule.outcome,
        "exact": plan.schedule.exact,
        "begin_by": _moment(work, plan.latest_start_s),
        "hand_overs": [
            {
                "key": post.hand_over.key,
                "at": _moment(work, post.hand_over.at_s),
                "packed_by": _moment(work, post.hand_over.due_s),
                "begin_by": _moment(work, post.latest_start_s),
                "parcels": list(post.parcels),
            }
            for post in plan.posts
        ],
        "tables": [
            {
                "who": table.who,
                "parcels": [
                    {
                        "code": slot.code,
                        "begins": _moment(work, slot.start_s),
                        "ends": _moment(work, slot.end_s),
                        "in_row": slot.in_row,
                    }
                    for slot in plan.schedule.of_table(number)
                ],
            }
            for number, table in enumerate(plan.tables)
        ],
        "late": [_late(work, code) for code in plan.schedule.late],
        "ways": [
            {
                "kind": way.kind,
                "from": _moment(work, way.at_s),
                "until": _moment(work, way.until_s),
                "cost": f"{way.cost:f}",
            }
            for way in work.ways
        ],
        "waves": [{"hand_over": wave.hand_over, "parcels": list(wave.parcels)} for wave in work.waves],
        "other_days": {
            code: one.key for code, one in plan.due.items() if one.day != work.today and code not in plan.ahead
        },
        "nowhere": list(plan.nowhere),
    }


def _late(work: DayWork, code: str) -> dict[str, object]:
    job = next(one for one in jobs_of(work.parcels, work.plan.due, work.today, work.plan.ahead) if one.code == code)
    why: LateWhy = why_late(job, work.plan.tables, work.plan.schedule.outcome, work.now_s)
    asked = next(one for one in work.request.parcels if one.code == code)
    services = []
    for service in asked.services:
        mine = work.plan.due[code] if service is asked.services[0] else None
        hand_over = _next_of(work, service, mine)
        if hand_over is not None:
            found = moved(
                work.plan,
                work.parcels,
                code,
                hand_over,
                today=work.today,
                saving_percent=work.request.saving_percent,
            )
            services.append(
                {
                    "carrier": service.carrier,
                    "service": service.service,
                    "hand_over": hand_over.key,
                    "makes_it": found.makes_it,
                    "late_then": list(found.late),
                }
            )
    return {"code": code, "hand_over": work.plan.due[code].key, "why": why, "services": services}


def _next_of(work: DayWork, service: ServiceDoc, after: HandOver | None) -> HandOver | None:
    """Return the hand-over a parcel would make by a service; ``after``: only one later than this."""
    later = [one for one in work.hand_overs if after is None or one.at_s > after.at_s]
    return due_at(service.carrier, service.cut_off, work.today, later, today=work.today, now_s=work.now_s)


def _moment(work: DayWork, at_s: int | None) -> str | None:
    if at_s is None:
        return None
    return (datetime.combine(work.today, time(0)) + timedelta(seconds=at_s)).isoformat()
