"""The sample workshop's last ten weeks: orders packed and gone, their ledger, labels, weights and minutes, suppliers.

The orders are demo/history.csv (made by demo/make_history.py), dated back from today. Each is planned as the workshop
stands; its parcels are written as the bench would have left them, so that every figure can be opened and every check of
``./calm check`` holds. What was on the shelves ten weeks ago is what makes today's stock come out.
"""

import json
import random
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, datetime, time, timedelta
from decimal import ROUND_DOWN, Decimal
from types import MappingProxyType
from uuid import NAMESPACE_URL, UUID, uuid5
from zoneinfo import ZoneInfo

from django.db import transaction
from django.utils import timezone

from core.bench.steps import steps_of
from core.parcels.layers import pack_layers
from core.parcels.plan import PlannedOrder, plan_order
from core.recipes.model import Recipe
from core.supplies.ledger import LedgerEntry, value_by_moving_average
from core.tariffs.quote import Quote
from core.tariffs.zones import next_ship_day
from server.bench.models import Parcel, StepTime, buyer_code
from server.bench.services import expected_uses
from server.buying.services import save_settings
from server.carriers.models import Label
from server.config.env import ROOT
from server.formats.orders import read_orders
from server.orders.intake import accept, group
from server.orders.models import Order
from server.plans.facts import Loaded, load, place_of, ship_days
from server.plans.mapping import plan_to_json, texts_to_json
from server.plans.models import Plan, PlanDocument
from server.standins.carrier import AGAIN_FIXED, AGAIN_PERCENT
from server.standins.models import CarrierSale
from server.supplies.models import (
    Balance,
    Entry,
    Offer,
    Purchase,
    PurchaseLine,
    Supplier,
    Supply,
    UsedOn,
)
from server.supplies.purchasing import Wanted, order_from
from server.workshops.clock import today
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = ["load_history", "load_suppliers", "order_what_is_on_the_way"]

_DEMO = ROOT / "demo"
_PLENTY = Decimal(1_000_000)
#: Deliveries of the past come in the middle of the weeks.
_DELIVERED_BACK = 33
#: One parcel in so many is measured again by its carrier, which tells it some days later.
_MEASURED_AGAIN, _TOLD_AFTER = 29, timedelta(days=9)


@dataclass(slots=True)
class _Shelf:
    """A supply's way through the weeks: how it moves, in the order of time."""

    supply: Supply
    first: Entry
    moves: list[tuple[datetime, Decimal, int | None]] = field(default_factory=list)  #: when, how much, parcel


@transaction.atomic
def load_history(
    workshop: Workshop,
    *,
    packers: Sequence[Member],
    newest: date,
    before_planning: Callable[[Sequence[Order]], dict[int, Recipe]] = lambda orders: {},
    heavier_mg: Mapping[str, int] = MappingProxyType({}),
) -> str:
    """Load the weeks before.

    ``newest``: the day of the newest sample order before it was moved to today. ``before_planning`` is shown the orders
    first and returns those packed by an earlier recipe, by id; ``heavier_mg``: by sku, how much more a unit weighs on
    the scale than anybody entered.
    """
    lock_workshop(workshop)
    day = today(workshop)
    orders = _orders(workshop, shift=day - newest)
    earlier = before_planning(orders)
    loaded = load(workshop, orders)
    loaded.picked.update(earlier)
    ids = {stock.supply.code: stock.supply for stock in loaded.stocks}
    # What there is nothing of today there was nothing of then.
    plenty = loaded.with_free({code: _PLENTY if free > 0 else Decimal(0) for code, free in loaded.facts.free.items()})
    shelves: dict[int, _Shelf] = {}
    count = 0
    for order in orders:
        ship_on = _packed_on(order.placed_on, workshop, day)
        if ship_on is None:
            order.delete()
            continue
        found = plan_order(
            loaded.lines_of(order), plenty, destination=place_of(order), ship_on=ship_on,
            occasion=loaded.occasion_of(order),
        )  # fmt: skip
        if not isinstance(found, PlannedOrder):
            order.delete()
            continue
        packer = packers[count % len(packers)]
        for parcel in _packed(workshop, order, found, loaded, packer, ship_on, heavier_mg):
            for code, quantity in expected_uses(parcel).items():
                supply = ids[code]
                if supply.pk not in shelves:
                    shelves[supply.pk] = _shelf(supply)
                at = parcel.closed_at or timezone.now()
                shelves[supply.pk].moves.append((at, -quantity, parcel.pk))
            count += 1
    _write_ledger(workshop, shelves.values(), day)
    return f"{len(orders)} orders of the last ten weeks, {count} parcels gone"


def _orders(workshop: Workshop, *, shift: timedelta) -> list[Order]:
    read = read_orders((_DEMO / "history.csv").read_bytes(), today=today(workshop))
    moved = replace(read, rows=tuple(replace(row, placed_on=row.placed_on + shift) for row in read.rows))
    taken = accept(workshop=workshop, intake=group(workshop, moved))
    return list(Order.objects.of(workshop).filter(pk__in=taken.new).order_by("placed_on", "id"))


def _packed_on(placed_on: date, workshop: Workshop, day: date) -> date | None:
    """Return the working day after it was placed; None when that is not over yet."""
    packed = next_ship_day(placed_on + timedelta(days=1), ship_days(workshop))
    return packed if packed < day else None


def _packed(
    workshop: Workshop, order: Order, found: PlannedOrder, loaded: Loaded, packer: Member, ship_on: date,
    heavier_mg: Mapping[str, int],
) -> list[Parcel]:  # fmt: skip
    """Write an order's parcels as the bench leaves them: closed, labelled, handed over."""
    draw = random.Random(order.number)
    document = PlanDocument(workshop=workshop)
    document.write(plan_to_json(found.as_sent()))
    document.save()
    recipes = loaded.recipes_of(order)
    versions = {code: recipes[code].version for code in _recipes(found)}
    Plan.objects.of(workshop).create(
        workshop=workshop,
        order=order,
        status="planned",
        kept=document,
        container=", ".join(parcel.candidate.container for parcel in found.chosen.parcels)[:200],
        total=found.chosen.costs.total,
        recipe_versions=versions,
        ship_on=ship_on,
        at=timezone.now(),
    )
    closed = _moment(workshop, ship_on, 13, draw.randint(0, 150))
    made = []
    for part, one in enumerate(found.chosen.parcels, start=1):
        candidate, quote = one.candidate, one.candidate.quote
        key = uuid5(NAMESPACE_URL, f"history-{workshop.pk}-{order.number}-{part}")
        more = sum(heavier_mg.get(sku, 0) * units for sku, units in one.goods)
        weighed = round(candidate.weight.gross_mg + more + draw.gauss(0, 0.5) * candidate.weight.sigma_mg)
        tracking = f"{quote.carrier[:2].upper()}{key.int % 10**10:010}"
        parcel = Parcel.objects.of(workshop).create(
            workshop=workshop,
            order=order,
            part=part,
            parts=len(found.chosen.parcels),
            state=Parcel.State.CLOSED,
            kept=document,
            container=texts_to_json((candidate.name,))[0],
            recipe_versions=versions,
            measured_mg=max(1_000, weighed // 1_000 * 1_000),
            tracking=tracking,
            postage=quote.price,
            close_key=key,
            closed_at=closed,
            closed_by=packer.name,
            begun_at=closed - timedelta(minutes=float(candidate.minutes)),
            handed_over_at=_moment(workshop, ship_on, 15, 40),
            buyer_code=buyer_code(),
        )
        again = key.int % _MEASURED_AGAIN == 0 and ship_on + _TOLD_AFTER < today(workshop)
        _label(workshop, parcel, key, one.candidate.quote, closed, again=again)
        _minutes(workshop, parcel, found, part, loaded.recipes_of(order), loaded.names(), draw)
        made.append(parcel)
    Order.objects.of(workshop).filter(pk=order.pk).update(state=Order.State.PACKED)
    return made


def _recipes(found: PlannedOrder) -> list[str]:
    return list(dict.fromkeys(piece.recipe for parcel in found.chosen.parcels for piece in parcel.pieces))


def _moment(workshop: Workshop, day: date, hour: int, minutes: int) -> datetime:
    wall = datetime.combine(day, time(hour)) + timedelta(minutes=minutes)
    return wall.replace(tzinfo=ZoneInfo(workshop.time_zone))


def _label(workshop: Workshop, parcel: Parcel, key: UUID, quote: Quote, at: datetime, *, again: bool) -> None:
    """Write what the label cost; ``again``: the carrier measured the parcel on its way and charged more for it."""
    weight_mg = parcel.measured_mg or 0
    more = (quote.price * AGAIN_PERCENT).quantize(Decimal("0.01")) + AGAIN_FIXED if again else Decimal(0)
    measured_mg = weight_mg + weight_mg // 8 if again else None
    Label.objects.of(workshop).create(
        workshop=workshop,
        parcel=parcel,
        key=key,
        state=Label.State.BOUGHT,
        carrier=quote.carrier,
        service=quote.service,
        service_name=quote.service_name,
        tariff_version=quote.tariff_version,
        weight_mg=weight_mg,
        price=quote.price,
        transit_days=quote.transit_days,
        tracking=parcel.tracking,
        asked_at=at,
        bought_at=at,
        measured_mg=measured_mg,
        charged_more=more,
        charged_at=at + _TOLD_AFTER if again else None,
    )
    CarrierSale.objects.of(workshop).create(
        workshop=workshop,
        key=key,
        tracking=parcel.tracking,
        service=quote.service,
        price=quote.price,
        weight_mg=weight_mg,
        transit_days=quote.transit_days,
        sold_on=at.date(),
        measured_mg=measured_mg,
        charged_more=more,
    )


def _minutes(
    workshop: Workshop,
    parcel: Parcel,
    found: PlannedOrder,
    part: int,
    known: Mapping[str, Recipe],
    names: dict[str, str],
    draw: random.Random,
) -> None:
    """Write how long each step took: the recipe's minutes shared out, with a hand's unevenness."""
    mine = found.chosen.parcels[part - 1]
    recipes = tuple(known[code] for code in dict.fromkeys(piece.recipe for piece in mine.pieces))
    steps = steps_of(mine, recipes, pack_layers(mine, names), names)
    shares = [1 + step.tick_units * 0.8 for step in steps]
    seconds = float(mine.candidate.minutes) * 60 / sum(shares)
    StepTime.objects.of(workshop).bulk_create(
        StepTime(
            workshop=workshop,
            parcel=parcel,
            step=at,
            kind=step.kind,
            units=step.tick_units,
            seconds=max(3, round(seconds * share * draw.uniform(0.75, 1.35))),
        )
        for at, (step, share) in enumerate(zip(steps, shares, strict=True))
    )


def _shelf(supply: Supply) -> _Shelf:
    first = supply.entries.order_by("id").first()
    if first is None:
        raise ValueError(f"{supply.code} has no stock to begin with")
    return _Shelf(supply=supply, first=first)


def _write_ledger(workshop: Workshop, shelves: Iterable[_Shelf], day: date) -> None:
    """Write the entries of the weeks. Today's stock stays what it is: the first entry had what is gone since, less what
    was delivered in between."""
    begun = _moment(workshop, day - timedelta(weeks=11), 9, 0)
    delivered = _moment(workshop, day - timedelta(days=_DELIVERED_BACK), 11, 0)
    offers = {offer.supply_id: offer for offer in Offer.objects.of(workshop).select_related("supplier")}
    came = _Deliveries(workshop=workshop, at=delivered)
    fewer = json.loads((_DEMO / "suppliers.json").read_text())["today"]
    entries: list[Entry] = []
    balances: list[Balance] = []
    used: dict[tuple[int, date], Decimal] = {}
    zone = ZoneInfo(workshop.time_zone)
    for shelf in shelves:
        gone = -sum((quantity for _, quantity, _ in shelf.moves), Decimal(0))
        offer = offers.get(shelf.supply.pk)
        brought = (gone / 2 / offer.pack).to_integral_value(ROUND_DOWN) * offer.pack if offer else Decimal(0)
        if brought and offer is not None:
            shelf.moves.append((delivered, brought, None))
        first = shelf.first
        # What the file has of it today is less where the weeks used it up.
        less = Decimal(fewer[shelf.supply.code]) - first.quantity if shelf.supply.code in fewer else Decimal(0)
        first.quantity += gone - brought + less
        first.at, first.note = begun, "counted when the books began"
        first.save(update_fields=["quantity", "at", "note"])
        value = value_by_moving_average(
            [LedgerEntry(kind="received", quantity=first.quantity, unit_cost=first.unit_cost)]
        )
        on_hand, average = value.on_hand, first.average_after
        for at, quantity, parcel_id in sorted(shelf.moves, key=lambda move: move[0]):
            price, line = None, None
            if quantity > 0 and offer is not None:
                # A little dearer or cheaper than the file says: prices move.
                price = (Decimal(offer.prices[0]["price"]) * Decimal("0.97")).quantize(Decimal("0.000001"))
                line = came.line(offer, quantity, price)
                held = [LedgerEntry(kind="received", quantity=on_hand, unit_cost=average)]
                held.append(LedgerEntry(kind="received", quantity=quantity, unit_cost=price))
                average = value_by_moving_average(held).average_cost
            on_hand += quantity
            entries.append(
                Entry(
                    workshop=workshop,
                    supply=shelf.supply,
                    kind="used" if parcel_id else "received",
                    quantity=quantity,
                    unit_cost=price,
                    average_after=average,
                    note="" if parcel_id else f"order P-{came.number(offer)}, {offer.supplier.name}" if offer else "",
                    by="Maren",
                    at=at,
                    parcel_id=parcel_id,
                    purchase_line=line,
                )
            )
            if parcel_id:
                key = (shelf.supply.pk, at.astimezone(zone).date())
                used[key] = used.get(key, Decimal(0)) - quantity
        last = max((at for at, _, parcel_id in shelf.moves if parcel_id), default=None)
        balances.append(
            Balance(workshop=workshop, supply=shelf.supply, on_hand=on_hand, average_cost=average, last_used_at=last)
        )
    entries.sort(key=lambda entry: (entry.at, entry.supply_id))
    Entry.objects.of(workshop).bulk_create(entries)
    Balance.objects.of(workshop).bulk_create(
        balances,
        update_conflicts=True,
        unique_fields=["supply"],
        update_fields=["on_hand", "average_cost", "last_used_at"],
    )
    UsedOn.objects.of(workshop).bulk_create(
        UsedOn(workshop=workshop, supply_id=supply_id, day=on, quantity=quantity)
        for (supply_id, on), quantity in used.items()
    )


@dataclass(slots=True)
class _Deliveries:
    """What suppliers brought in between: one order each, all received."""

    workshop: Workshop
    at: datetime
    orders: dict[int, Purchase] = field(default_factory=dict)

    def line(self, offer: Offer, quantity: Decimal, price: Decimal) -> PurchaseLine:
        """Return the line of the supplier's order that brought so much."""
        order = self.orders.get(offer.supplier_id)
        if order is None:
            order = Purchase.objects.of(self.workshop).create(
                workshop=self.workshop,
                number=len(self.orders) + 1,
                supplier=offer.supplier,
                state=Purchase.State.RECEIVED,
                ordered_on=self.at.date() - timedelta(days=offer.supplier.lead_days + 2),
                expected_on=self.at.date(),
                first_expected_on=self.at.date(),
                delivery=offer.supplier.delivery,
                by="Maren",
                at=self.at - timedelta(days=offer.supplier.lead_days + 2),
                request_key=uuid5(NAMESPACE_URL, f"history-{self.workshop.pk}-{offer.supplier.name}"),
            )
            self.orders[offer.supplier_id] = order
        return PurchaseLine.objects.of(self.workshop).create(
            workshop=self.workshop,
            purchase=order,
            supply=offer.supply,
            quantity=quantity,
            price=price,
            received=quantity,
            closed=True,
        )

    def number(self, offer: Offer | None) -> int:
        """Return the number of a supplier's order."""
        return self.orders[offer.supplier_id].number if offer is not None else 0


@transaction.atomic
def load_suppliers(workshop: Workshop, owner: Member) -> str:
    """Write down the sample's suppliers with what they offer, the workshop's settings and what its slots take."""
    file = json.loads((_DEMO / "suppliers.json").read_text())
    supplies = {row.code: row for row in Supply.objects.of(workshop)}
    offers = 0
    for one in file["suppliers"]:
        values = {name: one[name] for name in ("lead_days", "delivers_on", "delivery", "free_from", "contact")}
        supplier = Supplier.objects.of(workshop).create(workshop=workshop, name=one["name"], **values)
        for offer in one["offers"]:
            if offer["supply"] in supplies:
                rest = {key: value for key, value in offer.items() if key != "supply"}
                Offer.objects.of(workshop).create(
                    workshop=workshop, supplier=supplier, supply=supplies[offer["supply"]], **rest
                )
                offers += 1
    for code, room in file["room"].items():
        Supply.objects.of(workshop).filter(code=code).update(room=Decimal(room))
    save_settings(
        by=owner,
        values={
            "budget": Decimal(file["settings"]["budget"]), "z": Decimal("1.645"), "cover_weeks": 6, "longest_weeks": 26,
            "within_days": 3, "anyway_days": 10, "interest_percent": 20, "keeping_a_kind": Decimal(12),
        },
        season=[Decimal(factor) for factor in file["settings"]["season"]],
    )  # fmt: skip
    return f"{len(file['suppliers'])} suppliers with {offers} offers"


def order_what_is_on_the_way(workshop: Workshop, owner: Member) -> str:
    """Order what is on its way when the sample is opened: one that comes in two days, one that is late."""
    file = json.loads((_DEMO / "suppliers.json").read_text())
    day = today(workshop)
    for at, one in enumerate(file["on_the_way"]):
        supplier = Supplier.objects.of(workshop).get(name=one["supplier"])
        lines = [
            Wanted(
                supply_id=Supply.objects.of(workshop).get(code=line["supply"]).pk,
                quantity=Decimal(line["quantity"]),
                price=Decimal(line["price"]),
            )
            for line in one["lines"]
        ]
        made = order_from(
            by=owner, supplier_id=supplier.pk, lines=lines, delivery=supplier.delivery, expected_on=day, note="",
            request_key=uuid5(NAMESPACE_URL, f"on-the-way-{workshop.pk}-{at}"),
        )  # fmt: skip
        expected = day + timedelta(days=one["days"])
        Purchase.objects.of(workshop).filter(pk=made.pk).update(
            ordered_on=day - timedelta(days=6), expected_on=expected, first_expected_on=expected
        )
    return f"{len(file['on_the_way'])} orders to suppliers on their way"
