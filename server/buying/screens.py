"""Buying as the screens read it: cover of every supply, one supply's outlook, the list, money asleep (buying)."""

from collections.abc import Mapping
from datetime import date, timedelta
from decimal import Decimal
from zoneinfo import ZoneInfo

from django.http import Http404
from pydantic import BaseModel

from core.buying.needs import Line, ListWhy, Shop, Watched, line_at, line_of
from core.buying.offers import Amount, Barred
from core.buying.plan import BuyingPlan, Outcome, SupplierOrder, buy, lines_to_buy
from server.buying.asleep import asleep_of, recipes_naming
from server.buying.costs import cost_effects, per_parcel
from server.buying.reading import BuyRead, read_buying, spent_this_month
from server.supplies.models import Entry, Purchase, PurchaseLine, Supply
from server.workshops.models import Workshop

__all__ = [
    "AsleepsOut", "BuyListOut", "CoversOut", "OutlookOut", "asleeps_out", "buy_list_out", "covers_out", "outlook_out",
]  # fmt: skip

_PARTS = Decimal(1_000_000)
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


class NamingRecipe(BaseModel):
    """A recipe."""

    id: int
    name: str


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


class BuyLineOut(BaseModel):
    """One line to buy."""

    supply_id: int
    code: str
    name: str
    place: str
    unit: str
    why: ListWhy
    on_hand: Decimal
    reserved: Decimal
    mark: Decimal | None
    quantity: Decimal
    each: Decimal
    goods_cost: Decimal
    pack: Decimal
    pack_name: str
    runs_out: date | None
    order_by: date | None
    lasts_until: date | None
    cover_days: int | None  #: days of use the stock is good for now
    too_late: bool
    better: BuyAmountOut | None  #: a larger amount that costs less a year, where the budget took a smaller one
    edited: bool


class FreeDeliveryOut(BaseModel):
    """What more would make the delivery free."""

    adds: dict[str, Decimal]  #: by the supply's code
    goods_cost: Decimal
    saves: Decimal


class BuyOrderOut(BaseModel):
    """One order to one supplier."""

    supplier_id: int
    supplier: str
    contact: str
    order_by: date | None
    arrives_on: date
    goods_cost: Decimal
    delivery_cost: Decimal
    total: Decimal
    free_from: Decimal | None
    to_free: FreeDeliveryOut | None
    lines: list[BuyLineOut]


class LeftOutOut(BaseModel):
    """A line the budget has no room for."""

    supply_id: int
    code: str
    name: str
    unit: str
    supplier: str
    quantity: Decimal
    goods_cost: Decimal
    per_week: Decimal
    missed_from: date | None


class MonthBudgetOut(BaseModel):
    """The month's money for supplies."""

    month: date
    total: Decimal
    spent: Decimal
    left: Decimal


class BuyListOut(BaseModel):
    """What to buy now."""

    today: date
    outcome: Outcome
    total: Decimal
    orders: list[BuyOrderOut]
    left_out: list[LeftOutOut]
    budget: MonthBudgetOut | None
    thumb_lines: int
    thumb_total: Decimal
    first_run_out: date | None
    thumb_first_run_out: date | None
    without_offer: list[str]  #: names of supplies that run low and nobody offers


class AsleepOut(BaseModel):
    """Stock nobody needs soon."""

    supply_id: int
    code: str
    name: str
    place: str
    unit: str
    quantity: Decimal
    cost: Decimal
    never_used: bool
    last_used: date | None
    recipes: list[NamingRecipe]
    named: bool


class AsleepsOut(BaseModel):
    """Money asleep."""

    total: Decimal
    longest_weeks: int
    rows: list[AsleepOut]


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
    best = line or line_of(one, read.shop) or _best_line(one, read.shop)
    last = min(read.shop.longest_days, len(look.days)) - 1
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
        arriving=sum((each.quantity for each in arrivals), Decimal(0)),
        arrives_on=arrivals[0].day if arrivals else None,
        late_arrival=any(each.day < read.shop.today for each in arrivals),
        offers=len(one.need.offers),
        asleep=look.level[last] > 0 and row.average_cost > 0,  # type: ignore[attr-defined]
        room=row.room,
        successor=row.successor.name if row.successor else "",
    )


def _best_line(one: Watched, shop: Shop) -> Line | None:
    lines = [line_at(one, offer, shop) for offer in one.need.offers]
    return min(lines, key=lambda line: (line.too_late, line.chosen.yearly or line.chosen.goods), default=None)


def outlook_out(workshop: Workshop, supply_id: int) -> OutlookOut:
    """Return one supply's page. Raises Http404."""
    read = read_buying(workshop, only=[supply_id])
    if not read.supplies:
        raise Http404
    (one,) = read.supplies
    row, look, shop = read.rows[one.need.code], one.outlook, read.shop
    lines = {offer.supplier.code: line_at(one, offer, shop) for offer in one.need.offers}
    listed = line_of(one, shop)
    best = listed or _best_line(one, shop)
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
        recipes=[NamingRecipe(id=pk, name=name) for pk, name in recipes_naming(workshop).get(row.code, ())],
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
    added = int(more * _PARTS)
    found = []
    for at in range(count):
        level = look.level[at] + (added if at >= arrives_at else 0)
        later = sum((many for day, many in one.need.needed.items() if day > look.days[at]), Decimal(0))
        found.append(
            DayOfStock(
                day=look.days[at],
                level=Decimal(level) / _PARTS,
                low=Decimal(level - look.spread[at]) / _PARTS,
                high=Decimal(level + look.spread[at]) / _PARTS,
                reserved=max(Decimal(0), min(later, Decimal(level) / _PARTS)),
            )
        )
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
    rows = (
        PurchaseLine.objects.of(workshop)
        .filter(supply_id=supply_id, closed=False, purchase__state=Purchase.State.ORDERED)
        .select_related("purchase__supplier")
        .order_by("purchase__expected_on", "id")
    )
    return [
        OnTheWayOut(
            purchase_id=row.purchase_id,
            number=row.purchase.number,
            supplier=row.purchase.supplier.name,
            day=row.purchase.expected_on,
            quantity=row.quantity - row.received,
            overdue=row.purchase.expected_on < today,
        )
        for row in rows
    ]


def _amount(one: Watched, line: Line, amount: Amount) -> BuyAmountOut:
    look = one.outlook
    added = int(amount.quantity * _PARTS)
    lasts = next((at for at in range(line.arrives_at, len(look.days)) if look.level[at] + added < 0), None)
    return BuyAmountOut(
        quantity=amount.quantity,
        each=amount.price,
        goods_cost=amount.goods,
        delivery_cost=amount.delivery,
        yearly_cost=amount.yearly,
        lasts_until=look.days[lasts] if lasts is not None else None,
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
        amounts=[_amount(one, line, amount) for amount in line.amounts],
        best=best is not None and best.offer.supplier.code == line.offer.supplier.code,
        prices=[{"quantity": Decimal(each["quantity"]), "price": Decimal(each["price"])} for each in row.prices],
    )


def buy_list_out(workshop: Workshop, *, quantities: Mapping[int, Decimal], without: frozenset[int]) -> BuyListOut:
    """Return what to buy, as a person changed it."""
    read = read_buying(workshop)
    codes = {row.pk: code for code, row in read.rows.items()}
    wanted = {codes[pk]: quantity for pk, quantity in quantities.items() if pk in codes and quantity > 0}
    budget = _budget(workshop, read)
    plan = buy(
        read.supplies,
        read.shop,
        budget=max(Decimal(0), budget.left) if budget is not None else None,
        quantities=wanted,
        without=frozenset(codes[pk] for pk in without if pk in codes),
    )
    return BuyListOut(
        today=read.shop.today,
        outcome=plan.outcome,
        total=plan.total,
        orders=[_order(read, order, plan, wanted) for order in plan.orders],
        left_out=[
            LeftOutOut(
                supply_id=read.rows[left.line.code].pk,
                code=left.line.code,
                name=read.rows[left.line.code].name,
                unit=read.rows[left.line.code].unit,
                supplier=left.line.offer.supplier.name,
                quantity=left.line.chosen.quantity,
                goods_cost=left.line.chosen.goods,
                per_week=(read.one(left.line.code).outlook.mean_now * read.shop.calendar.a_week).quantize(
                    Decimal("0.1")
                ),
                missed_from=left.misses_from,
            )
            for left in plan.left_out
        ],
        budget=budget,
        thumb_lines=len(plan.thumb),
        thumb_total=plan.thumb_total,
        first_run_out=plan.run_outs[0] if plan.run_outs else None,
        thumb_first_run_out=plan.thumb_run_outs[0] if plan.thumb_run_outs else None,
        without_offer=_without_offer(read),
    )


def _without_offer(read: BuyRead) -> list[str]:
    soon = read.shop.calendar.add(read.shop.today, read.shop.buying.anyway_days)
    return [
        read.rows[one.need.code].name
        for one in read.supplies
        if not one.need.offers and one.outlook.runs_out is not None and one.outlook.runs_out <= soon
    ]


def _budget(workshop: Workshop, read: BuyRead) -> MonthBudgetOut | None:
    total = read.settings.budget
    if total is None:
        return None
    spent = spent_this_month(workshop)
    return MonthBudgetOut(month=read.shop.today.replace(day=1), total=total, spent=spent, left=total - spent)


def _order(read: BuyRead, order: SupplierOrder, plan: BuyingPlan, wanted: Mapping[str, Decimal]) -> BuyOrderOut:
    supplier = read.suppliers[order.supplier.code]
    return BuyOrderOut(
        supplier_id=supplier.pk,
        supplier=supplier.name,
        contact=supplier.contact,
        order_by=order.order_by,
        arrives_on=order.arrives_on,
        goods_cost=order.goods,
        delivery_cost=order.delivery,
        total=order.total,
        free_from=supplier.free_from,
        to_free=FreeDeliveryOut(
            adds=dict(order.to_free.adds), goods_cost=order.to_free.goods, saves=order.to_free.saves
        )
        if order.to_free
        else None,
        lines=[_line(read, line, edited=line.code in wanted) for line in order.lines],
    )


def _line(read: BuyRead, line: Line, *, edited: bool) -> BuyLineOut:
    row, one = read.rows[line.code], read.one(line.code)
    offers = {each.supplier_id: each for each in row.offers.all()}
    offer = offers[int(line.offer.supplier.code)]
    cheaper = [
        amount
        for amount in line.amounts
        if not amount.barred
        and amount.yearly is not None
        and line.chosen.yearly is not None
        and amount.yearly < line.chosen.yearly
    ]
    best = min(cheaper, key=lambda amount: amount.yearly or Decimal(0), default=None)
    return BuyLineOut(
        supply_id=row.pk,
        code=row.code,
        name=row.name,
        place=row.place,
        unit=row.unit,
        why=line.why,
        on_hand=one.need.on_hand,
        reserved=row.reserved,  # type: ignore[attr-defined]
        mark=row.reorder_at,
        quantity=line.chosen.quantity,
        each=line.chosen.price,
        goods_cost=line.chosen.goods,
        pack=offer.pack,
        pack_name=offer.pack_name,
        runs_out=line.runs_out,
        order_by=line.reorder.order_by,
        lasts_until=line.lasts_until,
        cover_days=one.outlook.cover_days,
        too_late=line.too_late,
        better=_amount(one, line, best) if best is not None else None,
        edited=edited,
    )


def asleeps_out(workshop: Workshop) -> AsleepsOut:
    """Return the money asleep, the most first."""
    read = read_buying(workshop)
    found = asleep_of(workshop, read)
    return AsleepsOut(
        total=sum((one.value for one in found), Decimal(0)),
        longest_weeks=read.shop.buying.longest_weeks,
        rows=[
            AsleepOut(
                supply_id=one.supply.pk,
                code=one.supply.code,
                name=one.supply.name,
                place=one.supply.place,
                unit=one.supply.unit,
                quantity=one.quantity,
                cost=one.value,
                never_used=one.never_used,
                last_used=one.last_used,
                recipes=[NamingRecipe(id=pk, name=name) for pk, name in one.recipes],
                named=one.named,
            )
            for one in found
        ],
    )
