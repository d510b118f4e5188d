"""Reading what buying rests on: stock, what open orders need, what was used, what is on its way, offers (buying).

A fixed number of queries, however many supplies; the ledger is not summed (``UsedOn`` is kept with it).
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal
from zoneinfo import ZoneInfo

from django.db.models import F, OuterRef, Subquery, Sum

from core.buying.needs import Need, Shop, Watched, watched
from core.buying.offers import Buying, PriceBreak
from core.buying.offers import Offer as CoreOffer
from core.buying.offers import Supplier as CoreSupplier
from core.buying.outlook import Arrival
from core.buying.use import ALL_ALIKE, WEEKS_BACK, WeekUse, weeks_before
from core.buying.workdays import WorkDays
from server.buying.models import BuyingSettings
from server.day.models import Closure, PackingHours
from server.plans.facts import ship_days
from server.plans.models import PlannedUse
from server.supplies.arriving import open_lines
from server.supplies.models import Entry, Offer, Purchase, PurchaseLine, Supplier, Supply, UsedOn
from server.supplies.selectors import dated_of, slots_of
from server.workshops.clock import today
from server.workshops.models import Workshop

__all__ = ["BuyRead", "calendar_of", "core_supplier", "read_buying", "settings_of", "spent_this_month"]


@dataclass(frozen=True, slots=True, kw_only=True)
class BuyRead:
    """Everything that buying rests on."""

    shop: Shop
    settings: BuyingSettings
    rows: Mapping[str, Supply]  #: by code, with stock annotated
    supplies: tuple[Watched, ...]
    suppliers: Mapping[str, Supplier]  #: by the key the core knows them by

    def one(self, code: str) -> Watched:
        """Return a supply by its code."""
        return next(one for one in self.supplies if one.need.code == code)


def settings_of(workshop: Workshop) -> BuyingSettings:
    """Return what the workshop judges of buying; not saved where it never said."""
    return BuyingSettings.objects.of(workshop).first() or BuyingSettings(workshop=workshop)


def core_buying(settings: BuyingSettings, money_digits: int) -> Buying:
    """Return the settings as the core wants them."""
    return Buying(
        z=Decimal(settings.z),
        cover_weeks=settings.cover_weeks,
        longest_weeks=settings.longest_weeks,
        within_days=settings.within_days,
        anyway_days=settings.anyway_days,
        interest_percent=settings.interest_percent,
        money_digits=money_digits,
    )


def calendar_of(workshop: Workshop) -> WorkDays:
    """Return the days somebody packs on; where nobody said, the days parcels are handed over."""
    days = {day for row in PackingHours.objects.of(workshop).values_list("days", flat=True) for day in row}
    closed = Closure.objects.of(workshop).filter(day__gte=today(workshop) - timedelta(days=7 * WEEKS_BACK))
    return WorkDays(
        weekdays=tuple(sorted(days or ship_days(workshop))), closed=frozenset(closed.values_list("day", flat=True))
    )


def core_supplier(row: Supplier) -> CoreSupplier:
    """Return a supplier as the core wants it."""
    return CoreSupplier(
        code=str(row.pk),
        name=row.name,
        lead_days=row.lead_days,
        delivers_on=tuple(row.delivers_on),
        delivery=row.delivery,
        free_from=row.free_from,
    )


def read_buying(workshop: Workshop, *, only: Sequence[int] | None = None) -> BuyRead:
    """Return every supply that is in use with its outlook; ``only``: of these alone."""
    settings, calendar, day = settings_of(workshop), calendar_of(workshop), today(workshop)
    shop = Shop(
        today=day,
        calendar=calendar,
        season=tuple(Decimal(factor) for factor in settings.season) or ALL_ALIKE,
        buying=core_buying(settings, workshop.money_digits),
    )
    found = slots_of(workshop) if only is None else slots_of(workshop).filter(pk__in=only)
    found = found.select_related("balance", "successor").prefetch_related("offers")
    # A second-hand carton is not bought again. (A missing key is no false to the database.)
    rows = {row.code: row for row in found if not row.facts.get("one_off")}
    ids = [row.pk for row in rows.values()]
    needed, used, arriving = _needed(workshop, ids), _used(workshop, ids, day), _arriving(workshop, ids)
    offers, suppliers = _offers(workshop, ids)
    since, expiring = _since(workshop, ids), dated_of(workshop, rows.values())
    needs = [
        Need(
            code=row.code,
            on_hand=row.on_hand - (expiring[row.pk].expired if row.pk in expiring else 0),  # type: ignore[attr-defined]
            arrivals=arriving.get(row.pk, ()),
            needed=needed.get(row.pk, {}),
            weeks=_weeks(used.get(row.pk, {}), day, since.get(row.pk), calendar),
            offers=offers.get(row.pk, ()),
            room=row.room,
            mark=row.reorder_at,
        )
        for row in rows.values()
    ]
    return BuyRead(shop=shop, settings=settings, rows=rows, supplies=watched(needs, shop), suppliers=suppliers)


def _needed(workshop: Workshop, ids: Sequence[int]) -> dict[int, dict[date, Decimal]]:
    """Return what is promised to orders by day, at the bench too: until its parcel is closed it is not drawn."""
    rows = (
        PlannedUse.objects.of(workshop)
        .filter(supply_id__in=ids)
        .order_by()
        .values_list("supply_id", "plan__ship_on")
        .annotate(total=Sum("quantity"))
    )
    found: dict[int, dict[date, Decimal]] = {}
    for supply_id, day, total in rows:
        found.setdefault(supply_id, {})[day] = total
    return found


def _used(workshop: Workshop, ids: Sequence[int], day: date) -> dict[int, dict[date, Decimal]]:
    first = weeks_before(day)[0]
    rows = UsedOn.objects.of(workshop).filter(supply_id__in=ids, day__gte=first, day__lt=day)
    found: dict[int, dict[date, Decimal]] = {}
    for supply_id, on, quantity in rows.values_list("supply_id", "day", "quantity"):
        found.setdefault(supply_id, {})[on] = quantity
    return found


def _since(workshop: Workshop, ids: Sequence[int]) -> dict[int, date]:
    """Return the day of each supply's first entry: before that it was not there."""
    first = Entry.objects.of(workshop).filter(supply=OuterRef("pk")).order_by("at").values("at")[:1]
    zone = ZoneInfo(workshop.time_zone)
    rows = Supply.objects.of(workshop).filter(pk__in=ids).annotate(first=Subquery(first)).values_list("pk", "first")
    return {pk: at.astimezone(zone).date() for pk, at in rows if at is not None}


def _weeks(used: Mapping[date, Decimal], day: date, since: date | None, calendar: WorkDays) -> tuple[WeekUse, ...]:
    found = []
    for first in weeks_before(day):
        days = [first + timedelta(days=ahead) for ahead in range(7)]
        if since is None or days[-1] < since:
            continue
        total = sum((used.get(one, Decimal(0)) for one in days), Decimal(0))
        worked = any(calendar.works_on(one) for one in days)
        found.append(WeekUse(first_day=first, used=max(total, Decimal(0)), worked=worked))
    return tuple(found)


def _arriving(workshop: Workshop, ids: Sequence[int]) -> dict[int, tuple[Arrival, ...]]:
    rows = open_lines(workshop).filter(supply_id__in=ids).values_list("supply_id", "purchase__expected_on", "open")
    found: dict[int, tuple[Arrival, ...]] = {}
    for supply_id, day, quantity in rows:
        found[supply_id] = (*found.get(supply_id, ()), Arrival(day=day, quantity=quantity))
    return found


def _offers(workshop: Workshop, ids: Sequence[int]) -> tuple[dict[int, tuple[CoreOffer, ...]], dict[str, Supplier]]:
    rows = (
        Offer.objects.of(workshop)
        .filter(supply_id__in=ids, supplier__retired_at=None)
        .select_related("supplier")
        .order_by("supply_id", "supplier_id")
    )
    suppliers = {str(row.supplier_id): row.supplier for row in rows}
    core = {key: core_supplier(row) for key, row in suppliers.items()}
    found: dict[int, tuple[CoreOffer, ...]] = {}
    for row in rows:
        offer = CoreOffer(
            supplier=core[str(row.supplier_id)],
            pack=row.pack,
            least=row.least,
            breaks=tuple(
                PriceBreak(from_quantity=Decimal(one["quantity"]), price=Decimal(one["price"])) for one in row.prices
            ),
        )
        found[row.supply_id] = (*found.get(row.supply_id, ()), offer)
    return found, suppliers


def spent_this_month(workshop: Workshop) -> Decimal:
    """Return what was ordered this month, deliveries counted, at what was ordered."""
    day = today(workshop)
    rows = Purchase.objects.of(workshop).filter(ordered_on__gte=day.replace(day=1), ordered_on__lte=day)
    rows = rows.exclude(state=Purchase.State.CANCELLED)
    goods = PurchaseLine.objects.of(workshop).filter(purchase__in=rows).aggregate(total=Sum(F("quantity") * F("price")))
    delivery = rows.aggregate(total=Sum("delivery"))
    total = Decimal(goods["total"] or 0) + Decimal(delivery["total"] or 0)
    return total.quantize(Decimal("0.01"))
