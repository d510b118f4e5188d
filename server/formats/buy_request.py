"""The buying request and its result: a script interface (docs/formats/buy-request.md). No database."""

from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, model_validator

from core.buying.needs import Line, Need, Shop, Watched, watched
from core.buying.offers import Buying, Offer, PriceBreak, Supplier
from core.buying.outlook import Arrival
from core.buying.plan import BuyingPlan, SupplierOrder, buy
from core.buying.use import WeekUse
from core.buying.workdays import WorkDays
from server.formats.base import Day
from server.formats.script_interface import as_json, twice, validated
from server.formats.text import exact_number

__all__ = ["BuyRequest", "BuyWork", "read_request", "result_document", "worked_out"]

_Code = Annotated[str, Field(min_length=1, max_length=60, strict=True)]
_Number = Annotated[Decimal, BeforeValidator(exact_number), Field(ge=0, le=10_000_000, decimal_places=6)]
_Above = Annotated[Decimal, BeforeValidator(exact_number), Field(gt=0, le=10_000_000, decimal_places=6)]
_Whole = Annotated[int, Field(strict=True)]
_Weekdays = Annotated[list[Annotated[int, Field(ge=0, le=6, strict=True)]], Field(max_length=7)]


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class SupplierDoc(_Part):
    """Who sells."""

    code: _Code
    lead_days: Annotated[_Whole, Field(ge=0, le=250)]
    delivers_on: _Weekdays = []
    delivery: _Number = Decimal(0)
    free_from: _Number | None = None


class BreakDoc(_Part):
    """From so much on one stock unit costs so much."""

    quantity: _Number
    price: _Number


class OfferDoc(_Part):
    """One supply at one supplier."""

    supplier: _Code
    pack: _Above = Decimal(1)
    least: _Number = Decimal(0)
    prices: Annotated[list[BreakDoc], Field(min_length=1, max_length=20)]

    @model_validator(mode="after")
    def _rising(self) -> "OfferDoc":
        quantities = [one.quantity for one in self.prices]
        if quantities != sorted(set(quantities)):
            raise ValueError("prices: each from a larger quantity than the one before")
        return self


class ArrivalDoc(_Part):
    """Ordered, and not there yet."""

    day: Day
    quantity: _Above


class NeededDoc(_Part):
    """What open orders need on a day."""

    day: Day
    quantity: _Above


class WeekDoc(_Part):
    """What a week used; ``worked``: it had a working day."""

    first_day: Day
    used: _Number
    worked: bool = True


class SupplyDoc(_Part):
    """One supply."""

    code: _Code
    on_hand: Annotated[Decimal, BeforeValidator(exact_number), Field(ge=-10_000_000, le=10_000_000, decimal_places=6)]
    arriving: Annotated[list[ArrivalDoc], Field(max_length=100)] = []
    needed: Annotated[list[NeededDoc], Field(max_length=400)] = []
    weeks: Annotated[list[WeekDoc], Field(max_length=60)] = []
    offers: Annotated[list[OfferDoc], Field(max_length=20)] = []
    room: _Number | None = None
    mark: _Number | None = None
    wanted: _Above | None = None
    leave_out: bool = False


class SettingsDoc(_Part):
    """What is judged; rules 14.3, 14.4."""

    z: _Number = Decimal("1.645")
    cover_weeks: Annotated[_Whole, Field(ge=1, le=52)] = 6
    longest_weeks: Annotated[_Whole, Field(ge=1, le=104)] = 26
    within_days: Annotated[_Whole, Field(ge=0, le=60)] = 3
    anyway_days: Annotated[_Whole, Field(ge=0, le=120)] = 10
    interest_percent: Annotated[_Whole, Field(ge=0, le=200)] = 20
    money_digits: Annotated[_Whole, Field(ge=0, le=4)] = 2


class BuyRequest(_Part):
    """The whole request."""

    format: Literal["calm-cupboard/buy-request"]
    version: Annotated[Literal[1], BeforeValidator(exact_number)]
    today: Day
    working_days: Annotated[_Weekdays, Field(min_length=1)]
    closed: Annotated[list[Day], Field(max_length=400)] = []
    season: Annotated[list[Annotated[_Above, Field(le=100)]], Field(min_length=12, max_length=12)] = [Decimal(1)] * 12
    suppliers: Annotated[list[SupplierDoc], Field(max_length=60)]
    supplies: Annotated[list[SupplyDoc], Field(max_length=500)]
    budget: _Number | None = None
    settings: SettingsDoc = SettingsDoc()


@dataclass(frozen=True, slots=True, kw_only=True)
class BuyWork:
    """What was worked out."""

    supplies: tuple[Watched, ...]
    plan: BuyingPlan


def read_request(text: str) -> BuyRequest:
    """Return the request in a text. Raises WrongRequest with every error."""
    value = as_json(text)
    found = [*twice(value, "supplies"), *twice(value, "suppliers"), *_unknown(value)]
    return validated(BuyRequest, value, found)


def _unknown(value: object) -> list[str]:
    """Return the offers of suppliers that are not in the request."""
    if not isinstance(value, dict):
        return []
    suppliers, supplies = value.get("suppliers"), value.get("supplies")
    if not isinstance(suppliers, list) or not isinstance(supplies, list):
        return []
    known = {one.get("code") for one in suppliers if isinstance(one, dict)}
    return [
        f"supplies[{at}].offers[{number}].supplier: {offer.get('supplier')} is not among the suppliers"
        for at, supply in enumerate(supplies)
        if isinstance(supply, dict) and isinstance(supply.get("offers"), list)
        for number, offer in enumerate(supply["offers"])
        if isinstance(offer, dict) and isinstance(offer.get("supplier"), str) and offer["supplier"] not in known
    ]


def worked_out(request: BuyRequest) -> BuyWork:
    """Return the buying list of a request."""
    suppliers = {
        one.code: Supplier(
            code=one.code,
            name=one.code,
            lead_days=one.lead_days,
            delivers_on=tuple(one.delivers_on),
            delivery=one.delivery,
            free_from=one.free_from,
        )
        for one in request.suppliers
    }
    shop = Shop(
        today=request.today,
        calendar=WorkDays(weekdays=tuple(sorted(set(request.working_days))), closed=frozenset(request.closed)),
        season=tuple(request.season),
        buying=Buying(**request.settings.model_dump()),
    )
    supplies = watched([_need(one, suppliers) for one in request.supplies], shop)
    plan = buy(
        supplies,
        shop,
        budget=request.budget,
        quantities={one.code: one.wanted for one in request.supplies if one.wanted is not None},
        without=frozenset(one.code for one in request.supplies if one.leave_out),
    )
    return BuyWork(supplies=supplies, plan=plan)


def _need(one: SupplyDoc, suppliers: dict[str, Supplier]) -> Need:
    needed: dict[date, Decimal] = {}
    for asked in one.needed:
        needed[asked.day] = needed.get(asked.day, Decimal(0)) + asked.quantity
    return Need(
        code=one.code,
        on_hand=one.on_hand,
        arrivals=tuple(Arrival(day=arrival.day, quantity=arrival.quantity) for arrival in one.arriving),
        needed=needed,
        weeks=tuple(WeekUse(first_day=w.first_day, used=w.used, worked=w.worked) for w in one.weeks),
        offers=tuple(
            Offer(
                supplier=suppliers[offer.supplier],
                pack=offer.pack,
                least=offer.least,
                breaks=tuple(PriceBreak(from_quantity=b.quantity, price=b.price) for b in offer.prices),
            )
            for offer in one.offers
        ),
        room=one.room,
        mark=one.mark,
    )


def result_document(work: BuyWork) -> dict[str, object]:
    """Return the result as it is written."""
    plan = work.plan
    return {
        "format": "calm-cupboard/buy-result",
        "version": 1,
        "outcome": plan.outcome,
        "total": _text(plan.total),
        "orders": [_order(order) for order in plan.orders],
        "left_out": [
            {
                "code": one.line.code,
                "supplier": one.line.offer.supplier.code,
                "quantity": _text(one.line.chosen.quantity),
                "goods": _text(one.line.chosen.goods),
                "missed_from": _day(one.misses_from),
            }
            for one in plan.left_out
        ],
        "run_outs": [_day(day) for day in plan.run_outs],
        "rule_of_thumb": {
            "lines": list(plan.thumb),
            "total": _text(plan.thumb_total),
            "run_outs": [_day(day) for day in plan.thumb_run_outs],
        },
        "supplies": [
            {
                "code": one.need.code,
                "use_a_day": _text(one.outlook.mean_now),
                "sd_a_day": _text(one.rate.sd.quantize(Decimal("0.000001"))),
                "runs_out": _day(one.outlook.runs_out),
                "runs_out_between": [_day(one.outlook.early), _day(one.outlook.late)],
            }
            for one in work.supplies
        ],
    }


def _order(order: SupplierOrder) -> dict[str, object]:
    return {
        "supplier": order.supplier.code,
        "order_by": _day(order.order_by),
        "arrives": _day(order.arrives_on),
        "goods": _text(order.goods),
        "delivery": _text(order.delivery),
        "total": _text(order.total),
        "lines": [_line(line) for line in order.lines],
        "to_free_delivery": {
            "adds": {code: _text(more) for code, more in order.to_free.adds},
            "goods": _text(order.to_free.goods),
            "saves": _text(order.to_free.saves),
        }
        if order.to_free
        else None,
    }


def _line(line: Line) -> dict[str, object]:
    return {
        "code": line.code,
        "why": line.why,
        "quantity": _text(line.chosen.quantity),
        "price": _text(line.chosen.price),
        "goods": _text(line.chosen.goods),
        "runs_out": _day(line.runs_out),
        "order_by": _day(line.reorder.order_by),
        "safety_stock": _text(line.reorder.safety.quantize(Decimal("0.000001"))),
        "reorder_point": _text(line.reorder.point.quantize(Decimal("0.000001"))),
        "lasts_until": _day(line.lasts_until),
        "too_late": line.too_late,
        "amounts": [
            {
                "quantity": _text(one.quantity),
                "price": _text(one.price),
                "yearly": _text(one.yearly) if one.yearly is not None else None,
                "cover_days": one.cover_days,
                "barred": one.barred,
            }
            for one in line.amounts
        ],
    }


def _text(number: Decimal) -> str:
    return f"{number:f}"


def _day(day: date | None) -> str | None:
    return day.isoformat() if day is not None else None
