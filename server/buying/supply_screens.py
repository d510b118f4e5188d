"""How long supplies last, as the screens read it: the cover of every one, one's page with its outlook (buying)."""

from datetime import date, timedelta
from decimal import Decimal
from zoneinfo import ZoneInfo

from django.http import Http404
from pydantic import BaseModel

from core.buying.needs import Line, ListWhy, Watched, best_line, lasts_until, line_at, line_of
from core.buying.offers import Amount, Barred
from core.buying.plan import lines_to_buy
from server.buying.asleep import NamingRecipe, named_by
from server.buying.costs import cost_effects, per_parcel
from server.buying.reading import BuyRead, read_buying
from server.supplies.arriving import open_lines
from server.supplies.models import Entry, Purchase, Supply
from server.workshops.models import Workshop

__all__ = ["BuyAmountOut", "CoversOut", "OutlookOut", "amount_out", "covers_out", "outlook_out"]

#: Days of the past that are drawn, and the most entries read for them.
_BACK_DAYS, _BACK_ENTRIES = 14, 600
#: So many days ahead are drawn at least.
_AHEAD_DAYS = 40


class CoverOut(BaseModel):
    """How long one supply lasts."""

    supply_id: int
    code: str
    per_day: Decimal
    cover_days: int | None  #: working days, today included; None: longer than anything is bought for
    runs_out: date | None
    early: date | None
    late: date | None
    order_by: date | None  #: at the supplier that would be taken; None: no offer, or not within the days
    listed: ListWhy | None
    arriving: Decimal
    arrives_on: date | None  #: the next
    late_arrival: bool  #: it was expected before today
    offers: int
    asleep: bool  #: lasts longer than anything is bought for
    room: Decimal | None
    successor: str  #: name of what takes its place; empty: nothing does


class CoversOut(BaseModel):
    """How long every supply lasts."""

    today: date
    to_buy: int
    orders_on_the_way: int
    late_orders: int
    rows: list[CoverOut]


class DayOfStock(BaseModel):
    """One day, at its end."""

    day: date
    level: Decimal
    low: Decimal
    high: Decimal
    reserved: Decimal  #: of what is left then, promised to open orders of later days


class PastDay(BaseModel):
    """One day that is over, at its end."""

    day: date
    level: Decimal


class OnTheWayOut(BaseModel):
    """On its way."""

    purchase_id: int
    number: int
    supplier: str
    day: date
    quantity: Decimal
    overdue: bool


class BuyAmountOut(BaseModel):
    """An amount that could be ordered."""

    quantity: Decimal
    each: Decimal
    goods_cost: Decimal
    delivery_cost: Decimal
    yearly_cost: Decimal | None
    lasts_until: date | None
    barred: Barred
    taken: bool


class SupplyOfferOut(BaseModel):
    """What one supplier asks, and what would be ordered there."""

    supplier_id: int
    supplier: str
    their_code: str
    pack: Decimal
    pack_name: str
    least: Decimal
    lead_days: int
    free_from: Decimal | None
    arrives_on: date
    too_late: bool
    amounts: list[BuyAmountOut]
    best: bool  #: the one that is taken
    prices: list[dict[str, Decimal]]


class DearerOut(BaseModel):
    """What a recipe's parcels cost more when a stock unit costs a tenth more."""

    recipe_id: int
    recipe: str
    quantity: Decimal | None
    more: Decimal | None


class OutlookOut(BaseModel):
    """One supply's page."""

    supply_id: int
    code: str
    today: date
    per_day: Decimal
    sd: Decimal
    weeks: int  #: of use this is taken from
    cover_days: int | None
    cover_orders: int | None  #: parcels of the kind that drew it lately; None: none did
    each_parcel: Decimal  #: what one parcel draws on average
    each_parcel_cost: Decimal
    runs_out: date | None
    early: date | None
    late: date | None
    mark: Decimal | None
    room: Decimal | None
    safety: Decimal | None
    point: Decimal | None
    order_by: date | None
    lead_days: int | None
    listed: ListWhy | None
    past: list[PastDay]
    days: list[DayOfStock]
    with_order: list[DayOfStock]  #: with what would be ordered today; empty: no offer
    arrivals: list[OnTheWayOut]
    offers: list[SupplyOfferOut]
    recipes: list[NamingRecipe]
    dearer: list[DearerOut]
    successor_id: int | None
    followed: list[str]  #: codes of supplies that are used up before it


def covers_out(workshop: Workshop) -> CoversOut:
    """Return how long every supply lasts."""
    read = read_buying(workshop)
    listed = {line.code: line for line in lines_to_buy(read.supplies, read.shop)}
    open_now = Purchase.objects.of(workshop).filter(state=Purchase.State.ORDERED)
    return CoversOut(
        today=read.shop.today,
        to_buy=sum(1 for line in listed.values() if line.why != "with_it"),
        orders_on_the_way=open_now.count(),
        late_orders=open_now.filter(expected_on__lt=read.shop.today).count(),
        rows=[_cover(read, one, listed.get(one.need.code)) for one in read.supplies],
    )


def _cover(read: BuyRead, one: Watched, line: Line | None) -> CoverOut:
    row = read.rows[one.need.code]
    look, arrivals = one.outlook, one.need.arrivals
    best = line or best_line(one, read.shop)
    return CoverOut(
        supply_id=row.pk,
        code=row.code,
        per_day=look.mean_now,
        cover_days=look.cover_days,
        runs_out=look.runs_out,
        early=look.early,
        late=look.late,
        order_by=best.reorder.order_by if best is not None else None,
        listed=line.why if line is not None else None,
        arriving=one.arriving,
        arrives_on=arrivals[0].day if arrivals else None,
        late_arrival=any(each.day < read.shop.today for each in arrivals),
        offers=len(one.need.offers),
        asleep=one.asleep(read.shop) > 0 and row.average_cost > 0,  # type: ignore[attr-defined]
        room=row.room,
        successor=row.successor.name if row.successor else "",
    )


def outlook_out(workshop: Workshop, supply_id: int) -> OutlookOut:
    """Return one supply's page. Raises Http404."""
    read = read_buying(workshop, only=[supply_id])
    if not read.supplies:
        raise Http404
    (one,) = read.supplies
    row, look, shop = read.rows[one.need.code], one.outlook, read.shop
    lines = {offer.supplier.code: line_at(one, offer, shop) for offer in one.need.offers}
    listed = line_of(one, shop)
    best = listed or best_line(one, shop)
    drawn = per_parcel(workshop, row)
    shown = _shown_days(one, best)
    cost = row.average_cost  # type: ignore[attr-defined]
    return OutlookOut(
        supply_id=row.pk,
        code=row.code,
        today=shop.today,
        per_day=look.mean_now,
        sd=one.rate.sd.quantize(Decimal("0.001")),
        weeks=one.rate.weeks,
        cover_days=look.cover_days,
        cover_orders=int(max(Decimal(0), one.need.on_hand) / drawn.quantity) if drawn.quantity > 0 else None,
        each_parcel=drawn.quantity.quantize(Decimal("0.001")),
        each_parcel_cost=(drawn.quantity * cost).quantize(Decimal("0.0001")),
        runs_out=look.runs_out,
        early=look.early,
        late=look.late,
        mark=row.reorder_at,
        room=row.room,
        safety=best.reorder.safety.quantize(Decimal("0.1")) if best is not None else None,
        point=best.reorder.point.quantize(Decimal("0.1")) if best is not None else None,
        order_by=best.reorder.order_by if best is not None else None,
        lead_days=best.offer.supplier.lead_days if best is not None else None,
        listed=listed.why if listed is not None else None,
        past=_past(workshop, row, shop.today),
        days=_days(one, shown, Decimal(0), 0),
        with_order=_days(one, shown, best.chosen.quantity, best.arrives_at) if best is not None else [],
        arrivals=_arrivals(workshop, supply_id, shop.today),
        offers=[_offer(workshop, read, one, lines[key], best) for key in lines],
        recipes=named_by(workshop).get(row.code, []),
        dearer=[
            DearerOut(recipe_id=each.recipe_id, recipe=each.recipe, quantity=each.quantity, more=each.more)
            for each in cost_effects(workshop, row, cost / 10)
        ],
        successor_id=row.successor_id,
        followed=list(Supply.objects.of(workshop).filter(successor=row).values_list("code", flat=True)),
    )


def _shown_days(one: Watched, best: Line | None) -> int:
    """Return how many days are drawn: to the run-out, with what would be ordered, and a little more."""
    look = one.outlook
    ends = [_AHEAD_DAYS]
    for day in (look.runs_out, look.late, best.lasts_until if best is not None else None):
        if day is not None:
            ends.append(look.days.index(day) + 4)
    return min(max(ends), len(look.days), 110)


def _days(one: Watched, count: int, more: Decimal, arrives_at: int) -> list[DayOfStock]:
    look = one.outlook
    found = []
    for at in range(count):
        level, half = look.level_on(at) + (more if at >= arrives_at else 0), look.half_range_on(at)
        later = sum((many for day, many in one.need.needed.items() if day > look.days[at]), Decimal(0))
        reserved = max(Decimal(0), min(later, level))
        found.append(DayOfStock(day=look.days[at], level=level, low=level - half, high=level + half, reserved=reserved))
        if more and level < 0 and at >= arrives_at:
            break
    return found


def _past(workshop: Workshop, row: Supply, today: date) -> list[PastDay]:
    """Return the stock at the end of each of the last days, counted back from what is there."""
    zone = ZoneInfo(workshop.time_zone)
    first = today - timedelta(days=_BACK_DAYS)
    entries = (
        Entry.objects.of(workshop).filter(supply=row).order_by("-id").values_list("at", "quantity")[:_BACK_ENTRIES]
    )
    moved: dict[date, Decimal] = {}
    whole = True
    for at, quantity in entries:
        day = at.astimezone(zone).date()
        if day < first:
            break
        moved[day] = moved.get(day, Decimal(0)) + quantity
    else:
        whole = len(entries) < _BACK_ENTRIES
    level: Decimal = row.on_hand  # type: ignore[attr-defined]
    found = []
    for back in range(_BACK_DAYS):
        day = today - timedelta(days=back)
        if not whole and day < min(moved, default=today):
            break
        found.append(PastDay(day=day, level=level))
        level -= moved.get(day, Decimal(0))
    return found[::-1]


def _arrivals(workshop: Workshop, supply_id: int, today: date) -> list[OnTheWayOut]:
    rows = open_lines(workshop).filter(supply_id=supply_id).select_related("purchase__supplier")
    return [
        OnTheWayOut(
            purchase_id=row.purchase_id,
            number=row.purchase.number,
            supplier=row.purchase.supplier.name,
            day=row.purchase.expected_on,
            quantity=row.open,
            overdue=row.purchase.expected_on < today,
        )
        for row in rows
    ]


def amount_out(one: Watched, line: Line, amount: Amount) -> BuyAmountOut:
    """Return an amount of a line with how long it lasts."""
    return BuyAmountOut(
        quantity=amount.quantity,
        each=amount.price,
        goods_cost=amount.goods,
        delivery_cost=amount.delivery,
        yearly_cost=amount.yearly,
        lasts_until=lasts_until(one, amount.quantity, line.arrives_at),
        barred=amount.barred,
        taken=amount.quantity == line.chosen.quantity,
    )


def _offer(workshop: Workshop, read: BuyRead, one: Watched, line: Line, best: Line | None) -> SupplyOfferOut:
    supplier = read.suppliers[line.offer.supplier.code]
    row = next(each for each in read.rows[one.need.code].offers.all() if each.supplier_id == supplier.pk)
    return SupplyOfferOut(
        supplier_id=supplier.pk,
        supplier=supplier.name,
        their_code=row.their_code,
        pack=row.pack,
        pack_name=row.pack_name,
        least=row.least,
        lead_days=supplier.lead_days,
        free_from=supplier.free_from,
        arrives_on=line.arrives_on,
        too_late=line.too_late,
        amounts=[amount_out(one, line, amount) for amount in line.amounts],
        best=best is not None and best.offer.supplier.code == line.offer.supplier.code,
        prices=[{"quantity": Decimal(each["quantity"]), "price": Decimal(each["price"])} for each in row.prices],
    )
