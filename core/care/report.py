"""What the way does to each parcel of a plan: hours, goods' temperature, how much warmer or colder it may be (care)."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime, tzinfo
from decimal import Decimal
from math import erf, sqrt
from typing import Literal

from core.care.road import Hour, days_on_the_road, hours_of, hub_of, legs_of, place_key
from core.care.thermal import Box, Limits, margin_c, simulate, u_of
from core.care.weather import Weather
from core.judgements import ORDINARY, Judgements
from core.parcels.candidate import Candidate, PlannedParcel
from core.parcels.facts import CareChoice
from core.parcels.packed import ThermalWish
from core.recipes.bodies import Shelf
from core.recipes.goods import Product
from core.tariffs.model import Place, Tariff
from core.tariffs.quote import Quote, service_of
from core.units import Size, round_money

__all__ = [
    "CareContext",
    "CareReport",
    "FeltHour",
    "ParcelCare",
    "Verdict",
    "box_of",
    "hours_with",
    "limits_of",
    "look_at",
    "loss_of",
    "outside_of",
]

#: safe: goods stay within their limits; danger: they do not; agreed: they do not and the buyer knows.
Verdict = Literal["safe", "danger", "agreed"]


@dataclass(frozen=True, slots=True, kw_only=True)
class CareContext:
    """What the way and the cupboard are, the same for every way to send one order."""

    weather: Weather
    zone: tzinfo
    origin: Place
    destination: Place
    tariffs: tuple[Tariff, ...]
    shelf: Shelf
    judged: Judgements
    products: Mapping[str, Product]
    free: Mapping[str, Decimal]
    wage_per_hour: Decimal
    money_digits: int
    ship_days: tuple[int, ...]
    today: date


@dataclass(frozen=True, slots=True, kw_only=True)
class FeltHour:
    """One hour of the way as the strip draws it; degrees to a tenth."""

    begins: datetime
    kind: str
    place: str
    outside_c: float
    inside_c: float
    forecast: bool  #: foretold, not merely usual


@dataclass(frozen=True, slots=True, kw_only=True)
class ParcelCare:
    """One parcel (one carton of a strapped pair) on its way."""

    part: int  #: of the order's parcels, from 1
    verdict: Verdict
    low_limit_c: float | None
    high_limit_c: float | None
    low_c: float  #: coldest the goods get
    high_c: float
    coldest_c: float  #: of the air
    warmest_c: float
    warmer_c: (
        float | None
    )  #: by so much the way may be warmer; less than nought: it is too warm by so much; None: no limit
    colder_c: float | None
    hours: tuple[FeltHour, ...]
    usual_hours: int  #: of them, those nobody foretold
    days: int
    days_limit: int | None
    wish: ThermalWish  #: liner and packs in it
    melted: float  #: share of the cold packs melted on arrival
    loss: Decimal  #: expected, of goods that leave their limits
    skus: tuple[str, ...]  #: of the goods that have a limit


@dataclass(frozen=True, slots=True, kw_only=True)
class CareReport:
    """All parcels of an order that hold goods with a limit."""

    verdict: Verdict
    parcels: tuple[ParcelCare, ...]
    unsure: bool = False  #: usual weather would do, but it was in danger when something was last foretold

    @property
    def loss(self) -> Decimal:
        """Return the expected loss of all parcels."""
        return sum((one.loss for one in self.parcels), Decimal(0))


def limits_of(products: list[Product], judged: Judgements = ORDINARY) -> Limits:
    """Return the strictest limits of goods that lie together."""
    lows = [low for low, _ in (one.limits_c(judged) for one in products) if low is not None]
    highs = [high for _, high in (one.limits_c(judged) for one in products) if high is not None]
    return Limits(low_c=max(lows, default=None), high_c=min(highs, default=None))


def start_c(products: list[Product], limits: Limits, judged: Judgements) -> float:
    """Return how warm goods are when they are packed: as the room, within their limits; frozen ones as the freezer."""
    if any(product.frozen for product in products):
        return min(-18.0, limits.high_c if limits.high_c is not None else -18.0)
    start = float(judged.room_c)
    if limits.high_c is not None:
        start = min(start, limits.high_c)
    return max(start, limits.low_c) if limits.low_c is not None else start


def box_of(
    inner: Size, liner: str, goods: Mapping[str, int], context: CareContext, limits: Limits | None = None
) -> Box | None:
    """Return a parcel as heat sees it; ``goods``: units by sku. None when none of them has a limit."""
    judged = context.judged
    held = [context.products[sku] for sku in goods if sku in context.products]
    limits = limits or limits_of(held, judged)
    if not limits.any:
        return None
    grams = sum((product.weight_mg or 0) * goods[product.sku] for product in held) / 1_000
    return Box(
        inner=inner,
        u_w_per_m2k=u_of(context.shelf.inserts.get(liner)),
        goods_j_per_k=grams * float(judged.goods_heat_j_per_gk),
        start_c=start_c(held, limits, judged),
    )


def hours_with(quote: Quote, ship_on: date, arrives_on: date, context: CareContext) -> tuple[Hour, ...]:
    """Return the way of a parcel by a service, hour by hour."""
    found = service_of(context.tariffs, quote, ship_on)
    moves = found[1].days_moved if found is not None else (0, 1, 2, 3, 4)
    holidays = found[0].holidays if found is not None else ()
    legs = legs_of(
        datetime.combine(ship_on, quote.cut_off, tzinfo=context.zone),
        arrives_on,
        moves_on=moves,
        holidays=holidays,
        origin=place_key(context.origin.country, context.origin.postcode),
        hub=hub_of(quote.carrier),
        destination=place_key(context.destination.country, context.destination.postcode),
        judged=context.judged,
    )
    return hours_of(legs, context.weather, context.judged)


def outside_of(hours: tuple[Hour, ...]) -> list[float]:
    """Return the temperatures round the parcel."""
    return [hour.outside_c for hour in hours]


def look_at(
    parcels: tuple[PlannedParcel, ...],
    ship_on: date,
    context: CareContext,
    choice: CareChoice | None,
    *,
    whole: bool = True,
) -> CareReport | None:
    """Return what the way does to the parcels, None when no goods have a limit of heat or cold.

    Not ``whole``: of what is in danger only that it is, without by how much: for ways that are passed over then.
    """
    found = []
    for part, parcel in enumerate(parcels, start=1):
        for carton in parcel.cartons:
            quote = parcel.candidate.quote
            one = _look_at_one(part, carton.candidate, dict(carton.goods), quote, ship_on, context, choice, whole)
            if one is not None:
                found.append(one)
    if not found:
        return None
    verdicts = {one.verdict for one in found}
    worst: Verdict = "danger" if "danger" in verdicts else "agreed" if "agreed" in verdicts else "safe"
    return CareReport(verdict=worst, parcels=tuple(found))


def _look_at_one(
    part: int,
    candidate: Candidate,
    goods: dict[str, int],
    quote: Quote,
    ship_on: date,
    context: CareContext,
    choice: CareChoice | None,
    whole: bool,
) -> ParcelCare | None:
    wish = candidate.wish or ThermalWish()
    held = [context.products[sku] for sku in goods if sku in context.products]
    limits = limits_of(held, context.judged)
    box = box_of(candidate.inner, wish.liner, goods, context, limits)
    if box is None:
        return None
    hours = hours_with(quote, ship_on, quote.arrives_on, context)
    outside = outside_of(hours)
    pack = context.shelf.inserts.get(wish.pack)
    seen = simulate(box, outside, pack=pack, count=wish.count, judged=context.judged)
    warmer = colder = None
    kept = seen.keeps(limits)
    if limits.high_c is not None and (whole or kept):
        warm = Limits(high_c=limits.high_c)
        warmer = signed_margin(box, outside, warm, context, wish, colder=False)
    if limits.low_c is not None and (whole or kept):
        colder = signed_margin(box, outside, Limits(low_c=limits.low_c), context, wish, colder=True)
    at_risk = sum(
        (context.products[sku].goods_cost * count for sku, count in goods.items() if sku in context.products),
        candidate.costs.postage + candidate.costs.materials,
    )
    usual = sum(1 for hour in hours if hour.source == "usual")
    if kept:
        verdict: Verdict = "safe"
    else:
        verdict = "agreed" if _agreed(choice, limits, seen.touch_c, seen.high_c) else "danger"
    return ParcelCare(
        part=part,
        verdict=verdict,
        low_limit_c=limits.low_c,
        high_limit_c=limits.high_c,
        low_c=_tenth(seen.touch_c),
        high_c=_tenth(seen.high_c),
        coldest_c=_tenth(min(outside)),
        warmest_c=_tenth(max(outside)),
        warmer_c=warmer,
        colder_c=colder,
        hours=tuple(
            FeltHour(
                begins=hour.begins,
                kind=hour.kind,
                place=hour.place,
                outside_c=_tenth(hour.outside_c),
                inside_c=_tenth(inside),
                forecast=hour.source == "forecast",
            )
            for hour, inside in zip(hours, seen.inside_c, strict=True)
        ),
        usual_hours=usual,
        days=days_on_the_road(ship_on, quote.arrives_on),
        days_limit=min((one.days_limit for one in held if one.days_limit is not None), default=None),
        wish=wish,
        melted=round(seen.melted, 3),
        loss=round_money(
            loss_of(warmer, colder, usual * 2 > len(hours), context.judged) * at_risk, context.money_digits
        ),
        skus=tuple(one.sku for one in held if one.limits_c(context.judged) != (None, None)),
    )


def signed_margin(
    box: Box, outside: list[float], limits: Limits, context: CareContext, wish: ThermalWish, *, colder: bool
) -> float:
    """Return by how much the way may be warmer (colder), less than nought: by how much it would have to be milder."""
    pack = context.shelf.inserts.get(wish.pack)
    found = margin_c(box, outside, limits, pack=pack, count=wish.count, judged=context.judged, colder=colder)
    if found is not None:
        return found
    sign = 1.0 if colder else -1.0
    low, high = 0.0, 40.0
    while high - low > 0.1:
        middle = (low + high) / 2
        moved = [one + sign * middle for one in outside]
        kept = simulate(box, moved, pack=pack, count=wish.count, judged=context.judged).keeps(limits)
        low, high = (low, middle) if kept else (middle, high)
    return -round(high, 1)


def loss_of(warmer: float | None, colder: float | None, usual: bool, judged: Judgements) -> Decimal:
    """Return the chance that goods are lost: that the weather is wrong by more than the margin, times the share of
    parcels outside their limits that are lost (rules 15.5).
    """
    deviation = float(judged.forecast_error_c) * (3 if usual else 1)
    chance = max((_beyond(one, deviation) for one in (warmer, colder) if one is not None), default=0.0)
    return Decimal(round(chance, 6)) * judged.spoiled_percent / 100


def _beyond(margin: float, deviation: float) -> float:
    if deviation <= 0:
        return 0.0 if margin >= 0 else 1.0
    return 0.5 * (1 - erf(margin / deviation / sqrt(2)))


def _agreed(choice: CareChoice | None, limits: Limits, low_c: float, high_c: float) -> bool:
    """The buyer agreed to goods as cold or warm as that; worse than told is another question."""
    if choice is None:
        return False
    cold = limits.low_c is None or low_c >= limits.low_c
    warm = limits.high_c is None or high_c <= limits.high_c
    if not cold:
        cold = choice.agreed_low_c is not None and low_c >= float(choice.agreed_low_c) - _TOLD_C
    if not warm:
        warm = choice.agreed_high_c is not None and high_c <= float(choice.agreed_high_c) + _TOLD_C
    return cold and warm


#: So much worse than the buyer was told is still what was agreed.
_TOLD_C = 2.0


def _tenth(value: float) -> float:
    return round(value, 1)
