"""Orders' records read from what happened: labels, the ledger, times of steps, arrivals, claims, fees (money).

A fixed number of queries for any number of orders. Nothing is kept twice: only a closed month's lines are written down.
"""

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, datetime, timedelta
from decimal import Decimal
from zoneinfo import ZoneInfo

from django.db.models import Q

from core.bench.timing import hands_seconds, usual_seconds
from core.money.closed import with_closed
from core.money.fees import DatedFee, FeeRule, fee_on
from core.money.months import first_day_of, month_beside
from core.money.record import Happened, OrderFacts, OrderRecord, RecordLine, record_of
from server.bench.models import Parcel, StepTime
from server.carriers.models import Label
from server.money.models import ClosedMonth, FeeRow, KeptLine
from server.money.zoning import zoning_of
from server.orders.models import Order, OrderLine
from server.outcomes.models import Arrival, Claim
from server.supplies.models import Entry
from server.workshops.models import SettingChange, Workshop

__all__ = ["PAID_LABELS", "Recorded", "SoldGoods", "UsedMaterial", "fees_of", "records_of"]

#: Labels that are paid for: what is being given back is, until the carrier says it was.
PAID_LABELS = (Label.State.BOUGHT, Label.State.VOIDING, Label.State.SURPLUS)
#: The usual time of a kind of step is that of so many of the newest.
_NEWEST_STEPS = 5_000
#: A parcel packed ahead and what it drew were written within a moment of each other.
_MOMENT = timedelta(minutes=1)
#: What is read of each, of thousands at once.
_OF_ARRIVALS = ("parcel__order_id", "outcome", "gave_back", "gave_amount", "answered_at", "sent_on")
_OF_LABELS = (
    "parcel__order_id", "state", "service_name", "tracking", "price", "weight_mg", "bought_at", "asked_at",
    "charged_more", "charged_at", "told_at",
)  # fmt: skip
_ZERO = Decimal(0)


@dataclass(frozen=True, slots=True, kw_only=True)
class UsedMaterial:
    """What an order drew of a supply."""

    code: str
    name: str
    quantity: Decimal
    cost: Decimal  #: exactly, not rounded


@dataclass(frozen=True, slots=True, kw_only=True)
class SoldGoods:
    """Goods of an order."""

    name: str
    units: int
    paid: Decimal
    cost: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class Recorded:
    """An order, what it came to, and what its figures rest on."""

    order: Order
    record: OrderRecord
    packed_on: date | None  #: None: it is not packed
    goods: tuple[SoldGoods, ...]
    zone: str  #: where it goes, by the zones of the carrier that takes most parcels
    service: str  #: of its first label; empty: no carrier took it
    weight_mg: int  #: of all its labels
    minutes: Decimal
    timed: bool  #: minutes were counted at the bench; else they are planned
    wage_per_hour: Decimal
    materials: tuple[UsedMaterial, ...]

    @property
    def units(self) -> int:
        """Return how many things were sold."""
        return sum(one.units for one in self.goods)

    @property
    def postage_paid(self) -> Decimal:
        """Return what carriers took, charges afterwards among it."""
        return -self.record.sum_of("postage", "carrier_charge")


@dataclass(slots=True)
class _Order:
    """What happened of one order, gathered."""

    happened: list[Happened] = field(default_factory=list)
    materials: dict[str, UsedMaterial] = field(default_factory=dict)
    used_on: date | None = None
    packed_on: date | None = None
    minutes: Decimal = _ZERO
    timed: bool = True
    expected_loss: Decimal = _ZERO
    weight_mg: int = 0
    service: str = ""

    def draw(self, code: str, name: str, quantity: Decimal, average_cost: Decimal, on: date) -> None:
        """Count a movement of the ledger; what went back on the shelf is below 0."""
        before = self.materials.get(code) or UsedMaterial(code=code, name=name, quantity=_ZERO, cost=_ZERO)
        self.materials[code] = UsedMaterial(
            code=code, name=name, quantity=before.quantity + quantity, cost=before.cost + quantity * average_cost
        )
        self.used_on = max(self.used_on or on, on)


def records_of(workshop: Workshop, orders: Sequence[Order]) -> list[Recorded]:
    """Return the records of orders, closed months as they were closed."""
    return _Reading(workshop, orders).all() if orders else []


def fees_of(workshop: Workshop) -> list[DatedFee]:
    """Return what channels, payments and taxes take, each from its day on."""
    return [
        DatedFee(
            kind=row.kind,  # type: ignore[arg-type]
            channel=row.channel,
            from_day=row.from_day,
            rule=FeeRule(percent=row.percent, fixed=row.fixed, of_postage=row.of_postage),
        )
        for row in FeeRow.objects.of(workshop)
    ]


class _Reading:
    """Orders under way to their records."""

    def __init__(self, workshop: Workshop, orders: Sequence[Order]) -> None:
        self.workshop, self.orders = workshop, orders
        self.ids = [order.pk for order in orders]
        self.clock = ZoneInfo(workshop.time_zone)
        self.zoning = zoning_of(workshop)
        self.found: dict[int, _Order] = defaultdict(_Order)
        self.under_way: set[int] = set()  #: parcels of which nobody knows yet how they arrived
        self.fees = fees_of(workshop)
        changed = SettingChange.objects.of(workshop).filter(name="wage_per_hour").order_by("at")
        self.wages = list(changed.values_list("at", "before"))

    def all(self) -> list[Recorded]:
        """Return the records, in the orders' order."""
        parcels = self._parcels()
        self._labels()
        self._ledger()
        self._packed_ahead([row for row in parcels if row.ready_id is not None])
        self._arrivals()
        self._claims()
        self._minutes(parcels)
        lines, joined = self._lines(), self._joined()
        records = [self._one(order, lines.get(order.pk, []), joined.get(order.pk, _ZERO)) for order in self.orders]
        return self._closed(records)

    def _day(self, at: datetime) -> date:
        return at.astimezone(self.clock).date()

    def _parcels(self) -> list[Parcel]:
        rows = Parcel.objects.of(self.workshop).filter(order_id__in=self.ids, state=Parcel.State.CLOSED)
        found = list(rows.select_related("ready").defer("weight_check", "parts", "skipped", "ticked"))
        for row in found:
            if row.closed_at is not None:
                one, day = self.found[row.order_id], self._day(row.closed_at)
                one.packed_on = max(one.packed_on or day, day)
        return found

    def _labels(self) -> None:
        rows = Label.objects.of(self.workshop).filter(parcel__order_id__in=self.ids, state__in=PAID_LABELS)
        for row in rows.select_related("parcel").only(*_OF_LABELS).order_by("id"):
            if row.parcel is None:  # pragma: no cover - asked for by its parcel's order
                continue
            one = self.found[row.parcel.order_id]
            bought = self._day(row.bought_at or row.asked_at)
            name = f"{row.service_name} {row.tracking}".strip()
            one.happened.append(Happened(kind="postage", amount=row.price, on=bought, source="label", reference=name))
            if row.state == Label.State.BOUGHT:
                one.weight_mg += row.weight_mg
                one.service = one.service or row.service_name
            if row.charged_more:
                later = self._day(row.charged_at or row.told_at or row.asked_at)
                one.happened.append(
                    Happened(kind="carrier_charge", amount=row.charged_more, on=later, source="label", reference=name)
                )

    def _ledger(self) -> None:
        """Materials at the average cost each had when it was used."""
        rows = Entry.objects.of(self.workshop).filter(parcel__order_id__in=self.ids).order_by("id")
        columns = ("parcel__order_id", "supply__code", "supply__name", "quantity", "average_after", "at")
        for order_id, code, name, quantity, average, at in rows.values_list(*columns):
            self.found[order_id].draw(code, name, -quantity, average, self._day(at))

    def _packed_ahead(self, parcels: Sequence[Parcel]) -> None:
        """What a parcel packed ahead drew was written when it was packed, without an order; it is the order's now."""
        ready = [(row, row.ready) for row in parcels if row.ready is not None]
        if not ready:
            return
        moments = [one.packed_at for _, one in ready]
        entries: dict[str, list[tuple[datetime, Decimal, str]]] = defaultdict(list)
        rows = Entry.objects.of(self.workshop).filter(
            kind="converted", quantity__lt=0, at__gte=min(moments) - _MOMENT, at__lte=max(moments) + _MOMENT
        )
        for code, name, at, average in rows.values_list("supply__code", "supply__name", "at", "average_after"):
            entries[code].append((at, average, name))
        for parcel, one in ready:
            on = self._day(parcel.closed_at or one.packed_at)
            for code in one.used.keys() & entries.keys():
                _, average, name = min(entries[code], key=lambda entry: abs(entry[0] - one.packed_at))
                self.found[parcel.order_id].draw(code, name, Decimal(str(one.used[code])), average, on)

    def _arrivals(self) -> None:
        rows = Arrival.objects.of(self.workshop).filter(parcel__order_id__in=self.ids)
        telling = rows.filter(Q(outcome="unknown") | ~Q(gave_back="")).select_related("parcel").order_by("id")
        for row in telling.only(*_OF_ARRIVALS):
            if row.outcome == "unknown":
                self.under_way.add(row.parcel_id)
            if row.gave_back and row.gave_amount:
                self.found[row.parcel.order_id].happened.append(
                    Happened(
                        kind="replacement" if row.gave_back == Arrival.GaveBack.REPLACEMENT else "refund",
                        amount=row.gave_amount,
                        on=self._day(row.answered_at) if row.answered_at else row.sent_on,
                        source="arrival",
                    )
                )

    def _claims(self) -> None:
        paid = Claim.objects.of(self.workshop).filter(paid__gt=0, settled_on__isnull=False)
        rows = paid.filter(arrival__parcel__order_id__in=self.ids).order_by("id")
        columns = ("arrival__parcel__order_id", "paid", "settled_on", "reference")
        for order_id, amount, on, reference in rows.values_list(*columns):
            self.found[order_id].happened.append(
                Happened(kind="claim", amount=amount or _ZERO, on=on or date.min, source="claim", reference=reference)
            )

    def _minutes(self, parcels: Sequence[Parcel]) -> None:
        """Minutes of the bench; those of the plan where nobody timed. A plan is large: only those needed are read."""
        own: dict[int, list[tuple[str, int]]] = defaultdict(list)
        times = StepTime.objects.of(self.workshop).filter(parcel__in=[row.pk for row in parcels]).order_by("id")
        for parcel_id, kind, seconds in times.values_list("parcel_id", "kind", "seconds"):
            own[parcel_id].append((kind, seconds))
        newest = StepTime.objects.of(self.workshop).order_by("-id").values_list("kind", "seconds")
        usual = usual_seconds(newest[:_NEWEST_STEPS]) if own else {}
        untimed = {row.pk for row in parcels if row.pk not in own}
        for row in parcels:
            self.found[row.order_id].minutes += hands_seconds(own[row.pk], usual) / 60 if row.pk in own else 0
        plans = Parcel.objects.of(self.workshop).filter(pk__in=untimed | self.under_way).select_related("kept")
        for row in plans:
            candidate = row.plan["chosen"]["parcels"][row.part - 1]["candidate"]
            one = self.found[row.order_id]
            if row.pk in untimed:
                one.timed = False
                one.minutes += Decimal(str(candidate["minutes"]))
            if row.pk in self.under_way:
                one.expected_loss += Decimal(str(candidate["costs"]["expected_loss"]))

    def _lines(self) -> Mapping[int, list[OrderLine]]:
        found: dict[int, list[OrderLine]] = defaultdict(list)
        for row in OrderLine.objects.of(self.workshop).filter(order_id__in=self.ids).select_related("product"):
            found[row.order_id].append(row)
        return found

    def _joined(self) -> Mapping[int, Decimal]:
        """Return what was charged for postage with orders that are packed with these: it came in, too."""
        found: dict[int, Decimal] = defaultdict(Decimal)
        rows = Order.objects.of(self.workshop).filter(joined_into_id__in=self.ids)
        for lead, charged in rows.values_list("joined_into_id", "postage_charged"):
            if lead is not None:
                found[lead] += charged
        return found

    def _one(self, order: Order, lines: Sequence[OrderLine], joined: Decimal) -> Recorded:
        one = self.found[order.pk]
        goods = tuple(map(_sold, lines))
        on = one.packed_on or one.used_on or order.placed_on
        materials = sum((used.cost for used in one.materials.values()), _ZERO)
        if materials:
            drawn = Happened(kind="materials", amount=materials, on=one.used_on or on, source="ledger")
            one.happened.append(drawn)
        facts = OrderFacts(
            key=order.number,
            packed_on=on,
            minutes=one.minutes,
            wage_per_hour=self._wage(on),
            expected_loss=one.expected_loss,
            happened=tuple(one.happened),
        )
        packed_on = one.packed_on if order.state == Order.State.PACKED else None
        if packed_on is not None:
            facts = self._with_income(facts, order, goods, joined)
        return Recorded(
            order=order,
            record=record_of(facts, self.workshop.money_digits),
            packed_on=packed_on,
            goods=goods,
            zone=self.zoning.zone_of_order(order),
            service=one.service,
            weight_mg=one.weight_mg,
            minutes=one.minutes,
            timed=one.timed,
            wage_per_hour=facts.wage_per_hour,
            materials=tuple(used for _, used in sorted(one.materials.items())),
        )

    def _with_income(self, facts: OrderFacts, order: Order, goods: Sequence[SoldGoods], joined: Decimal) -> OrderFacts:
        """Return the facts with what the buyer paid and what is taken of it: only what is packed is sold."""
        day, channel = order.placed_on, order.channel
        return replace(
            facts,
            goods=sum((one.paid for one in goods), _ZERO),
            goods_cost=sum((one.cost for one in goods), _ZERO),
            postage_charged=order.postage_charged + joined,
            tax_percent=fee_on(self.fees, "tax", channel, day).percent,
            channel=fee_on(self.fees, "channel", channel, day),
            payment=fee_on(self.fees, "payment", channel, day),
        )

    def _wage(self, day: date) -> Decimal:
        """Return the wage in force on a day: what it was changed from, when that was later."""
        later = next((before for at, before in self.wages if self._day(at) > day), None)
        return Decimal(str(later)) if later is not None else self.workshop.wage_per_hour

    def _closed(self, records: Iterable[Recorded]) -> list[Recorded]:
        """Return the records with the lines closed months kept."""
        closed = set(ClosedMonth.objects.of(self.workshop).values_list("month", flat=True))
        if not closed:
            return list(records)
        digits = Decimal(1).scaleb(-self.workshop.money_digits)
        kept: dict[int, list[RecordLine]] = defaultdict(list)
        for row in KeptLine.objects.of(self.workshop).filter(order_id__in=self.ids):
            line = RecordLine(
                kind=row.kind, amount=row.amount.quantize(digits), on=row.on, source=row.source,  # type: ignore[arg-type]
                reference=row.reference,
            )  # fmt: skip
            kept[row.order_id].append(line)
        first_open = first_day_of(month_beside(max(closed), 1))
        return [
            replace(one, record=with_closed(one.record, kept.get(one.order.pk, []), closed, first_open))
            for one in records
        ]


def _sold(row: OrderLine) -> SoldGoods:
    return SoldGoods(
        name=row.product.name if row.product else row.title or row.sku,
        units=row.quantity,
        paid=row.unit_price * row.quantity,
        cost=row.product.goods_cost * row.quantity if row.product else _ZERO,
    )
