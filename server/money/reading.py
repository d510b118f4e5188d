"""Orders' records read from what happened: labels, the ledger, times of steps, arrivals, claims, fees (money).

A fixed number of queries for any number of orders. Nothing is kept twice: only a closed month's lines are written down.
"""

import statistics
from collections import Counter, defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime, timedelta
from decimal import Decimal
from typing import Any, Literal
from zoneinfo import ZoneInfo

from django.db.models import Q, Sum

from core.bench.timing import PAUSE_FACTOR
from core.money.months import month_of, with_closed
from core.money.record import FeeRule, Happened, OrderFacts, OrderRecord, RecordLine, record_of
from core.tariffs.model import Place, Tariff
from core.tariffs.quote import tariffs_in_force
from core.tariffs.zones import plain_postcode, zone_of
from server.bench.models import Parcel, StepTime
from server.carriers.models import Label
from server.carriers.selectors import core_tariffs
from server.money.models import ClosedMonth, FeeRow, KeptLine
from server.orders.models import Order, OrderLine
from server.outcomes.models import Arrival, Claim
from server.plans.facts import place_of
from server.supplies.models import Entry
from server.workshops.clock import today
from server.workshops.models import SettingChange, Workshop

__all__ = [
    "PAID_LABELS",
    "Recorded",
    "Zoning",
    "fee_rule",
    "first_month",
    "first_open_day",
    "month_orders",
    "records_of",
    "zoning_of",
]

#: Labels that are paid for: what is being given back is, until the carrier says it was.
PAID_LABELS = (Label.State.BOUGHT, Label.State.VOIDING, Label.State.SURPLUS)
#: The usual time of a kind of step is that of so many of the newest.
_NEWEST_STEPS = 20_000
#: The carrier that takes most is counted from so many labels.
_NEWEST_LABELS = 1_000
_ZERO = Decimal(0)


@dataclass(frozen=True, slots=True, kw_only=True)
class Recorded:
    """An order, what it came to, and what its figures rest on."""

    order: Order
    record: OrderRecord
    packed_on: date | None
    units: int
    goods: tuple[tuple[str, int, Decimal], ...]  #: name, units, what the buyer paid for them
    zone: str  #: where it goes, by the zones of the carrier that takes most parcels
    service: str
    weight_mg: int  #: of all its labels
    minutes: Decimal
    timed: bool  #: minutes were counted at the bench; else they are planned
    wage_per_hour: Decimal
    materials: tuple[tuple[str, str, Decimal, Decimal], ...]  #: code, name, quantity, cost exactly

    @property
    def postage_paid(self) -> Decimal:
        """Return what carriers took, charges afterwards among it."""
        return -self.record.sum_of("postage", "carrier_charge")


@dataclass(slots=True)
class _Order:
    """What happened of one order, gathered."""

    happened: list[Happened] = field(default_factory=list)
    materials: dict[str, tuple[str, Decimal, Decimal]] = field(default_factory=dict)
    used_on: date | None = None
    seconds: Decimal = _ZERO
    planned_minutes: Decimal = _ZERO
    loss: Decimal = _ZERO
    arrived: bool = True
    packed_on: date | None = None
    weight_mg: int = 0
    service: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Zoning:
    """Zones buyers can be told apart by, before it is known who carries: those of the carrier that takes most."""

    tariff: Tariff | None
    origin: Place

    @property
    def carrier(self) -> str:
        """Return the carrier's name; empty: no carrier has a list."""
        return self.tariff.carrier_name if self.tariff is not None else ""

    def zone(self, order: Order) -> str:
        """Return the zone of where an order goes, "-" where the carrier does not go."""
        return (zone_of(self.tariff, place_of(order), self.origin) if self.tariff is not None else None) or "-"


def zoning_of(workshop: Workshop) -> Zoning:
    """Return the zones of the carrier that took most of the newest parcels."""
    tariffs = tariffs_in_force(core_tariffs(workshop), today(workshop))
    newest = Label.objects.of(workshop).filter(state=Label.State.BOUGHT).order_by("-id")
    taken = Counter(newest.values_list("carrier", flat=True)[:_NEWEST_LABELS])
    tariff = max(tariffs, key=lambda one: (taken[one.carrier], one.carrier), default=None)
    return Zoning(tariff=tariff, origin=Place(country=workshop.country, postcode=plain_postcode(workshop.postcode)))


def records_of(workshop: Workshop, orders: Sequence[Order]) -> list[Recorded]:
    """Return the records of orders, closed months as they were closed."""
    return _Reading(workshop, orders).all()


def month_orders(workshop: Workshop, month: str) -> list[Order]:
    """Return every order that has a line in a month: packed in it, or with something that came in later."""
    first, beyond = _span(workshop, month)
    days = (first.date(), (beyond - timedelta(days=1)).date())
    parcels = Parcel.objects.of(workshop).filter(closed_at__gte=first, closed_at__lt=beyond)
    bought = Q(bought_at__gte=first, bought_at__lt=beyond) | Q(
        charged_more__gt=0, charged_at__gte=first, charged_at__lt=beyond
    )
    labels = Label.objects.of(workshop).filter(bought, state__in=PAID_LABELS, parcel__isnull=False).order_by()
    entries = Entry.objects.of(workshop).filter(parcel__isnull=False, at__gte=first, at__lt=beyond)
    arrivals = Arrival.objects.of(workshop).filter(answered_at__gte=first, answered_at__lt=beyond)
    claims = Claim.objects.of(workshop).filter(settled_on__range=days, paid__isnull=False)
    ids: set[int] = set(parcels.values_list("order_id", flat=True))
    ids |= set(labels.values_list("parcel__order_id", flat=True))
    ids |= set(entries.order_by().values_list("parcel__order_id", flat=True).distinct())
    ids |= set(arrivals.values_list("parcel__order_id", flat=True))
    ids |= set(claims.values_list("arrival__parcel__order_id", flat=True))
    kept = KeptLine.objects.of(workshop).filter(closed__month=month)
    ids |= set(kept.order_by().values_list("order_id", flat=True).distinct())
    if month == month_of(first_open_day(workshop)):  # what corrects closed months comes in the first open one
        ids |= _corrected(workshop)
    return list(Order.objects.of(workshop).filter(pk__in=ids).order_by("placed_on", "id"))


def first_open_day(workshop: Workshop) -> date:
    """Return the first day of the month after the last closed one; of this month where none is closed."""
    last = ClosedMonth.objects.of(workshop).order_by("-month").values_list("month", flat=True).first()
    if last is None:
        return today(workshop).replace(day=1)
    year, month = map(int, last.split("-"))
    return date(year + month // 12, month % 12 + 1, 1)


def first_month(workshop: Workshop) -> str:
    """Return the month the first parcel was packed in; this month where none was."""
    zone = ZoneInfo(workshop.time_zone)
    rows = Parcel.objects.of(workshop).filter(closed_at__isnull=False).order_by("closed_at")
    first = rows.values_list("closed_at", flat=True).first()
    return month_of(first.astimezone(zone).date() if first is not None else today(workshop))


def _corrected(workshop: Workshop) -> set[int]:
    """Return orders of closed months of which something else is known since: it arrived, or a label was given back."""
    kept = KeptLine.objects.of(workshop).order_by().values("order_id")
    expected = kept.filter(kind="expected_loss").annotate(total=Sum("amount")).exclude(total=0)
    known = (
        Arrival.objects.of(workshop).exclude(outcome="unknown").filter(parcel__order_id__in=expected.values("order_id"))
    )
    void = Label.objects.of(workshop).filter(state=Label.State.VOID, parcel__order_id__in=kept)
    last = ClosedMonth.objects.of(workshop).order_by("-month").values_list("closed_at", flat=True).first()
    again = Arrival.objects.of(workshop).filter(outcome="unknown", revision__gt=0, parcel__order_id__in=kept)
    found = set(known.values_list("parcel__order_id", flat=True)) | set(
        again.values_list("parcel__order_id", flat=True)
    )
    if last is not None:
        found |= set(void.filter(void_at__gte=last).values_list("parcel__order_id", flat=True))
    return {order_id for order_id in found if order_id is not None}


def _span(workshop: Workshop, month: str) -> tuple[datetime, datetime]:
    year, number = map(int, month.split("-"))
    zone = ZoneInfo(workshop.time_zone)
    return datetime(year, number, 1, tzinfo=zone), datetime(year + number // 12, number % 12 + 1, 1, tzinfo=zone)


def fee_rule(fees: Sequence[FeeRow], kind: str, channel: str, day: date) -> FeeRule:
    """Return the fee in force on a day, newest rows first: its channel's own, else that of every channel."""
    rows = [row for row in fees if row.kind == kind and row.from_day <= day]
    row = next((row for row in rows if row.channel == channel), None)
    row = row or next((row for row in rows if not row.channel), None)
    if row is None:
        return FeeRule()
    return FeeRule(percent=row.percent, fixed=row.fixed, of_postage=row.of_postage)


class _Reading:
    """Orders under way to their records."""

    def __init__(self, workshop: Workshop, orders: Sequence[Order]) -> None:
        self.workshop, self.orders = workshop, orders
        self.ids = [order.pk for order in orders]
        self.zone = ZoneInfo(workshop.time_zone)
        self.zoning = zoning_of(workshop)
        self.found: dict[int, _Order] = defaultdict(_Order)
        self.under_way: set[int] = set()  #: parcels of which nobody knows yet how they arrived
        self.fees = list(FeeRow.objects.of(workshop).order_by("-from_day"))
        changed = SettingChange.objects.of(workshop).filter(name="wage_per_hour").order_by("at")
        self.wages = list(changed.values_list("at", "before", "after"))

    def all(self) -> list[Recorded]:
        """Return the records, in the orders' order."""
        if not self.ids:
            return []
        parcels = self._parcels()
        self._labels()
        self._ledger(parcels)
        self._packed_ahead(parcels)
        self._arrivals()
        self._times(parcels)
        self._planned(parcels)
        lines = self._lines()
        joined = self._joined()
        kept = self._kept()
        closed = frozenset(ClosedMonth.objects.of(self.workshop).values_list("month", flat=True))
        first_open = first_open_day(self.workshop)
        return [self._one(order, lines, joined, kept, closed, first_open) for order in self.orders]

    def _day(self, at: datetime) -> date:
        return at.astimezone(self.zone).date()

    def _parcels(self) -> list[Parcel]:
        rows = list(
            Parcel.objects.of(self.workshop)
            .filter(order_id__in=self.ids, state=Parcel.State.CLOSED)
            .select_related("ready")
        )
        for row in rows:
            one = self.found[row.order_id]
            closed = self._day(row.closed_at) if row.closed_at else None
            if closed is not None:
                one.packed_on = max(one.packed_on or closed, closed)
        return rows

    def _planned(self, parcels: Sequence[Parcel]) -> None:
        """What only the plans know: the minutes of parcels nobody timed, the loss expected of those under way.

        A plan is large, so only these are read.
        """
        untimed = {row.pk for row in parcels if not self.found[row.order_id].seconds}
        wanted = untimed | self.under_way
        for row in Parcel.objects.of(self.workshop).filter(pk__in=wanted).select_related("kept"):
            candidate = row.plan["chosen"]["parcels"][row.part - 1]["candidate"]
            one = self.found[row.order_id]
            if row.pk in untimed:
                one.planned_minutes += Decimal(str(candidate["minutes"]))
            if row.pk in self.under_way:
                one.loss += Decimal(str(candidate["costs"]["expected_loss"]))

    def _labels(self) -> None:
        rows = Label.objects.of(self.workshop).filter(parcel__order_id__in=self.ids, state__in=PAID_LABELS)
        for row in rows.select_related("parcel").order_by("id"):
            if row.parcel is None:  # asked for by the key of its parcel: there is one
                continue
            one = self.found[row.parcel.order_id]
            on = self._day(row.bought_at or row.asked_at)
            name = f"{row.service_name} {row.tracking}".strip()
            one.happened.append(Happened(kind="postage", amount=row.price, on=on, source="label", reference=name))
            if row.state == Label.State.BOUGHT:
                one.weight_mg += row.weight_mg
                one.service = one.service or row.service_name
            if row.charged_more:
                later = self._day(row.charged_at or row.told_at or row.asked_at)
                one.happened.append(
                    Happened(kind="carrier_charge", amount=row.charged_more, on=later, source="label", reference=name)
                )

    def _ledger(self, parcels: Sequence[Parcel]) -> None:
        """Materials at the average cost each had when it was used; what went back on the shelf is taken off."""
        rows = (
            Entry.objects.of(self.workshop)
            .filter(parcel__order_id__in=self.ids)
            .order_by("id")
            .values_list("parcel__order_id", "supply__code", "supply__name", "quantity", "average_after", "at")
        )
        for order_id, code, name, quantity, average, at in rows:
            self._material(order_id, code, name, -quantity, average, self._day(at))

    def _material(self, order_id: int, code: str, name: str, used: Decimal, average: Decimal, on: date) -> None:
        one = self.found[order_id]
        _, quantity, cost = one.materials.get(code, (name, _ZERO, _ZERO))
        one.materials[code] = (name, quantity + used, cost + used * average)
        one.used_on = max(one.used_on or on, on)

    def _packed_ahead(self, parcels: Sequence[Parcel]) -> None:
        """What a parcel packed ahead drew was written when it was packed, without an order; it is the order's now."""
        mine = {row.ready.pk: row for row in parcels if row.ready is not None}
        if not mine:
            return
        moments = [row.ready.packed_at for row in mine.values() if row.ready is not None]
        near = timedelta(minutes=1)
        entries: dict[str, list[tuple[datetime, Decimal, str]]] = defaultdict(list)
        rows = Entry.objects.of(self.workshop).filter(
            kind="converted", quantity__lt=0, at__gte=min(moments) - near, at__lte=max(moments) + near
        )
        for code, name, at, average in rows.values_list("supply__code", "supply__name", "at", "average_after"):
            entries[code].append((at, average, name))
        for parcel in mine.values():
            ready = parcel.ready
            if ready is None:  # pragma: no cover - mine has those only that have one
                continue
            for code, quantity in ready.used.items():
                known = entries.get(code)
                if known:
                    _, average, name = min(known, key=lambda one: abs(one[0] - ready.packed_at))
                    on = self._day(parcel.closed_at or ready.packed_at)
                    self._material(parcel.order_id, code, name, Decimal(str(quantity)), average, on)

    def _arrivals(self) -> None:
        rows = Arrival.objects.of(self.workshop).filter(parcel__order_id__in=self.ids)
        for row in rows.select_related("parcel").order_by("id"):
            one = self.found[row.parcel.order_id]
            if row.outcome == "unknown":
                one.arrived = False
                self.under_way.add(row.parcel_id)
            if row.gave_back and row.gave_amount:
                kind: Literal["replacement", "refund"] = (
                    "replacement" if row.gave_back == Arrival.GaveBack.REPLACEMENT else "refund"
                )
                on = self._day(row.answered_at) if row.answered_at else row.sent_on
                one.happened.append(Happened(kind=kind, amount=row.gave_amount, on=on, source="arrival"))
        claims = Claim.objects.of(self.workshop).filter(
            arrival__parcel__order_id__in=self.ids, paid__gt=0, settled_on__isnull=False
        )
        for order_id, paid, settled, reference in claims.values_list(
            "arrival__parcel__order_id", "paid", "settled_on", "reference"
        ):
            self.found[order_id].happened.append(
                Happened(
                    kind="claim", amount=paid or _ZERO, on=settled or date.min, source="claim", reference=reference
                )
            )

    def _times(self, parcels: Sequence[Parcel]) -> None:
        """Seconds each step took; one over three times the usual of its kind is a pause and counts as the usual."""
        own = list(
            StepTime.objects.of(self.workshop)
            .filter(parcel__order_id__in=self.ids, parcel__in=[row.pk for row in parcels])
            .values_list("parcel__order_id", "kind", "seconds")
        )
        if not own:
            return
        newest: dict[str, list[int]] = defaultdict(list)
        rows: Any = StepTime.objects.of(self.workshop).order_by("-id").values_list("kind", "seconds")[:_NEWEST_STEPS]
        for kind, seconds in rows:
            newest[kind].append(seconds)
        usual = {kind: statistics.median(times) for kind, times in newest.items()}
        for order_id, kind, seconds in own:
            middle = usual.get(kind, seconds)
            self.found[order_id].seconds += Decimal(str(middle if seconds > PAUSE_FACTOR * middle else seconds))

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

    def _kept(self) -> Mapping[int, list[RecordLine]]:
        found: dict[int, list[RecordLine]] = defaultdict(list)
        digits = Decimal(1).scaleb(-self.workshop.money_digits)
        rows = KeptLine.objects.of(self.workshop).filter(order_id__in=self.ids)
        for row in rows:
            found[row.order_id].append(
                RecordLine(
                    kind=row.kind, amount=row.amount.quantize(digits), on=row.on, source=row.source,  # type: ignore[arg-type]
                    reference=row.reference,
                )
            )  # fmt: skip
        return found

    def _one(
        self, order: Order, lines: Mapping[int, list[OrderLine]], joined: Mapping[int, Decimal],
        kept: Mapping[int, list[RecordLine]], closed: frozenset[str], first_open: date,
    ) -> Recorded:  # fmt: skip
        one = self.found[order.pk]
        mine = lines.get(order.pk, [])
        sold = order.state == Order.State.PACKED and one.packed_on is not None
        cost = sum((cost for _, _, cost in one.materials.values()), _ZERO)
        happened = list(one.happened)
        if cost:
            on = one.used_on or order.placed_on
            happened.append(Happened(kind="materials", amount=cost, on=on, source="ledger"))
        minutes = one.seconds / 60 if one.seconds else one.planned_minutes
        packed_on = one.packed_on or one.used_on or order.placed_on
        wage = self._wage(packed_on)
        facts = OrderFacts(
            key=order.number,
            placed_on=order.placed_on,
            goods=sum((row.unit_price * row.quantity for row in mine), _ZERO) if sold else _ZERO,
            postage_charged=order.postage_charged + joined.get(order.pk, _ZERO) if sold else _ZERO,
            goods_cost=sum((row.product.goods_cost * row.quantity for row in mine if row.product), _ZERO)
            if sold
            else _ZERO,
            tax_percent=self._rule("tax", order).percent if sold else _ZERO,
            channel=self._rule("channel", order) if sold else FeeRule(),
            payment=self._rule("payment", order) if sold else FeeRule(),
            packed_on=packed_on,
            minutes=minutes,
            wage_per_hour=wage,
            happened=tuple(happened),
            loss_rate=Decimal(1),
            loss=one.loss,
            arrived=one.arrived,
        )
        record = record_of(facts, self.workshop.money_digits)
        if closed:
            record = with_closed(record, kept.get(order.pk, []), closed, first_open)
        return Recorded(
            order=order,
            record=record,
            packed_on=one.packed_on if sold else None,
            units=sum(row.quantity for row in mine),
            goods=tuple(
                (row.product.name if row.product else row.title or row.sku, row.quantity, row.unit_price * row.quantity)
                for row in mine
            ),
            zone=self.zoning.zone(order),
            service=one.service,
            weight_mg=one.weight_mg,
            minutes=minutes,
            timed=bool(one.seconds),
            wage_per_hour=wage,
            materials=tuple(
                (code, name, quantity, cost) for code, (name, quantity, cost) in sorted(one.materials.items())
            ),
        )

    def _rule(self, kind: str, order: Order) -> FeeRule:
        """Return the fee in force on the day it was placed: its channel's own, else that of every channel."""
        return fee_rule(self.fees, kind, order.channel, order.placed_on)

    def _wage(self, day: date) -> Decimal:
        """Return the wage in force on a day: what it was changed from, when that was later."""
        later = next((before for at, before, _ in self.wages if self._day(at) > day), None)
        return Decimal(str(later)) if later is not None else self.workshop.wage_per_hour
