"""Writing the stock ledger: receive, count, use, reverse; and importing a supplies file.

Every write locks its supplies in code order, so two people at once add up and never deadlock. The lock lets other
rows go on referring to the supply (no key): a plan made at the same time need not wait. Each entry moves its supply's
balance in the same transaction (``_append``).
"""

from collections.abc import Iterable, Mapping
from datetime import date
from decimal import Decimal
from uuid import UUID
from zoneinfo import ZoneInfo

from django.db import transaction
from django.db.models import Max, Sum
from django.utils import timezone

from core.supplies.items import Board
from core.supplies.ledger import LedgerEntry, StockValue, count_difference, value_by_moving_average
from core.units import Size, format_size
from server.api.problems import Refused
from server.formats.supplies import STOCK_UNITS, CartonFacts, SuppliesFile
from server.supplies.models import Balance, Entry, PurchaseLine, Supply, UsedOn
from server.workshops.happened import tell_anything, tell_stock
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = [
    "answered",
    "count",
    "first_stock",
    "import_supplies",
    "locked_supply",
    "parts_of_a_piece",
    "post_conversion",
    "post_converted",
    "post_loss",
    "post_spoiled",
    "post_uses",
    "receive",
    "receive_line",
    "reclaim",
    "reverse_uses",
    "whole_pieces",
]

_MOST = Decimal(1_000_000)
#: Entries that say how much is used up.
_USES = frozenset({"used", "corrected", "spoiled"})


@transaction.atomic
def receive(
    *,
    by: Member,
    supply_id: int,
    quantity: Decimal,
    total_cost: Decimal,
    note: str,
    request_key: UUID,
    good_until: date | None = None,
) -> Entry:
    """Put stock away with what it cost in all; the moving average follows.

    Asked again with the same key, returns the entry made then. Raises Refused (404, 422).
    """
    lock_workshop(by.workshop)
    supply = locked_supply(by.workshop, supply_id)
    if done := answered(by.workshop, request_key):
        return done
    whole_pieces(supply, quantity)
    if not 0 < quantity <= _MOST:
        raise Refused(
            f"Receive more than 0 and at most {_MOST} {_unit(supply)}; given: {quantity}.",
            code="not_valid",
            status=422,
            field="quantity",
        )
    unit_cost = (total_cost / quantity).quantize(Decimal("0.000001"))
    entry = _post(
        supply,
        kind="received",
        quantity=quantity,
        unit_cost=unit_cost,
        by=by.name,
        note=note,
        request_key=request_key,
        good_until=good_until,
    )
    tell_stock(by.workshop, [supply_id])
    return entry


def receive_line(
    *,
    by: Member,
    line: PurchaseLine,
    quantity: Decimal,
    unit_cost: Decimal,
    note: str,
    request_key: UUID,
    good_until: date | None = None,
) -> Entry:
    """Receive what came of one line of an order. Call inside its transaction, with the workshop locked."""
    supply = locked_supply(by.workshop, line.supply_id)
    return _post(
        supply,
        kind="received",
        quantity=quantity,
        unit_cost=unit_cost,
        by=by.name,
        note=note,
        request_key=request_key,
        purchase_line_id=line.pk,
        good_until=good_until,
    )


def post_conversion(
    *,
    by: Member,
    taken: Mapping[Supply, Decimal],
    output: Supply,
    quantity: Decimal,
    unit_cost: Decimal,
    note: str,
    request_key: UUID,
) -> Entry:
    """Post what goes out and what comes in for it; returns the latter. With all the supplies locked."""
    for supply, out in taken.items():
        said = f"became {quantity.normalize():f} {output.code}"
        _post(supply, kind="converted", quantity=-out, unit_cost=None, by=by.name, note=said, request_key=None)
    return _post(
        output,
        kind="converted",
        quantity=quantity,
        unit_cost=unit_cost,
        by=by.name,
        note=note,
        request_key=request_key,
    )


def post_loss(*, by: Member, supply: Supply, quantity: Decimal, note: str, request_key: UUID) -> Entry:
    """Post what is spoiled. With the supply locked."""
    return _post(
        supply, kind="spoiled", quantity=-quantity, unit_cost=None, by=by.name, note=note, request_key=request_key
    )


#: What a second-hand carton is trusted with when nobody knows better, mg: a judgement, half of what a new one takes.
_RECLAIMED_LOAD: dict[Board, int] = {"single": 8_000_000, "double": 15_000_000, "none": 3_000_000}


@transaction.atomic
def reclaim(*, by: Member, inner: Size, tare_mg: int, board: Board, shelf: str, note: str, request_key: UUID) -> Supply:
    """Put one second-hand carton away with its own measured size: a count of one, at no cost (rules 5.8 and 13.2).

    Asked again with the same key, returns the carton made then.
    """
    lock_workshop(by.workshop)  # codes follow each other
    if done := answered(by.workshop, request_key):
        return done.supply
    taken = Supply.objects.of(by.workshop).filter(code__startswith="R-").values_list("code", flat=True)
    number = 1 + max((int(code[2:]) for code in taken if code[2:].isdigit()), default=0)
    on_shelf = Supply.objects.of(by.workshop).filter(shelf=shelf).aggregate(last=Max("slot"))["last"] or 0
    facts = CartonFacts.model_validate(
        {
            "kind": "carton",
            "inner": {"length_um": inner.length_um, "width_um": inner.width_um, "height_um": inner.height_um},
            "tare_mg": tare_mg,
            "max_load_mg": _RECLAIMED_LOAD[board],
            "board": board,
            "one_off": True,
        }
    )
    supply = Supply.objects.of(by.workshop).create(
        workshop=by.workshop,
        code=f"R-{number}",
        name=f"Reclaimed carton {format_size(inner, by.workshop.unit_system)}",
        kind="carton",
        shelf=shelf,
        slot=min(99, on_shelf + 1),
        facts=facts.model_dump(mode="json"),
    )
    said = note or "reclaimed"
    _post(
        supply,
        kind="reclaimed",
        quantity=Decimal(1),
        unit_cost=Decimal(0),
        by=by.name,
        note=said,
        request_key=request_key,
    )
    tell_anything(by.workshop)
    return supply


@transaction.atomic
def count(*, by: Member, supply_id: int, counted: Decimal, note: str, request_key: UUID) -> Entry:
    """State what is on the shelf: the entry carries the difference to the ledger.

    Asked again with the same key, returns the entry made then. Raises Refused (404, 422).
    """
    lock_workshop(by.workshop)
    supply = locked_supply(by.workshop, supply_id)
    if done := answered(by.workshop, request_key):
        return done
    whole_pieces(supply, counted)
    if not 0 <= counted <= _MOST:
        raise Refused(
            f"A count is from 0 to {_MOST} {_unit(supply)}; given: {counted}.",
            code="not_valid",
            status=422,
            field="counted",
        )
    held = _standing(by.workshop, [supply_id])[supply_id][0]
    difference = count_difference(on_hand=held, counted=counted)
    said = f"counted {counted.normalize():f}, the ledger said {held.normalize():f}"
    entry = _post(
        supply,
        kind="counted",
        quantity=difference,
        unit_cost=None,
        by=by.name,
        note=f"{said}. {note}".strip(),
        request_key=request_key,
    )
    tell_stock(by.workshop, [supply_id])
    return entry


def _posted(
    workshop: Workshop,
    changes: Mapping[int, Decimal],
    *,
    kind: str,
    by: str,
    parcel_id: int | None = None,
    note: str = "",
) -> list[Entry]:
    """Post one entry a supply at its average cost; ``changes``: stock units by supply."""
    rows = Supply.objects.of(workshop).filter(pk__in=changes).order_by("code").select_for_update(no_key=True)
    supplies = {row.pk: row for row in rows}
    return _append(
        workshop,
        [
            _entry(
                supplies[pk], kind=kind, quantity=changes[pk], unit_cost=None, by=by, average=average,
                parcel_id=parcel_id, note=note,
            )
            for pk, (_, average) in _standing(workshop, supplies).items()
        ],
    )  # fmt: skip


def _out(quantities: Mapping[int, Decimal]) -> dict[int, Decimal]:
    return {pk: -quantity for pk, quantity in quantities.items()}


def post_uses(*, workshop: Workshop, used: Mapping[int, Decimal], parcel_id: int, by: str) -> list[Entry]:
    """Post what a parcel used, one entry a supply. Call inside the closing transaction."""
    return _posted(workshop, _out(used), kind="used", by=by, parcel_id=parcel_id)


def post_spoiled(*, workshop: Workshop, lost: Mapping[int, Decimal], parcel_id: int, by: str, note: str) -> list[Entry]:
    """Post what was laid out for a parcel and cannot be used again. Call inside the transaction that undoes it."""
    made = _posted(workshop, _out(lost), kind="spoiled", by=by, parcel_id=parcel_id, note=note)
    tell_stock(workshop, list(lost))
    return made


def post_converted(*, workshop: Workshop, changes: Mapping[int, Decimal], by: str, note: str) -> list[Entry]:
    """Post supplies that became finished parcels (negative) or came back from one. Call inside the transaction."""
    return _posted(workshop, changes, kind="converted", by=by, note=note)


def reverse_uses(*, workshop: Workshop, parcel_id: int, by: str, note: str) -> list[Entry]:
    """Post the opposite of everything a parcel still has out. Call inside the reopening transaction."""
    out = dict(
        Entry.objects.of(workshop)
        .filter(parcel_id=parcel_id, kind__in=("used", "corrected"))
        .order_by()
        .values_list("supply_id")
        .annotate(total=Sum("quantity"))
    )
    due = {pk: -total for pk, total in out.items() if total}
    return _posted(workshop, due, kind="corrected", by=by, parcel_id=parcel_id, note=note)


@transaction.atomic
def import_supplies(*, workshop: Workshop, file: SuppliesFile, by: str) -> int:
    """Import a supplies file: new codes are added with their stock, known ones get new facts.

    Stock on hand is only taken for a new code: a ledger is never overwritten. Returns how many are new.
    """
    lock_workshop(workshop)
    known = {s.code: s for s in Supply.objects.of(workshop).select_for_update()}
    new = 0
    for item in file.supplies:
        supply = known.get(item.code)
        if supply is not None and supply.kind != item.facts.kind:
            raise Refused(
                f"{item.code} is a {supply.kind} here and a {item.facts.kind} in the file. Use another code.",
                code="kind_differs",
            )
        values = {
            "name": item.name,
            "kind": item.facts.kind,
            "shelf": item.shelf,
            "slot": item.slot,
            "reorder_at": item.reorder_at,
            "facts": item.facts.model_dump(mode="json"),
            "estimated": item.estimated,
        }
        if supply is not None:
            for name, value in values.items():
                setattr(supply, name, value)
            supply.save()
            continue
        supply = Supply.objects.of(workshop).create(workshop=workshop, code=item.code, **values)
        new += 1
        if item.on_hand > 0:
            first_stock(supply, quantity=item.on_hand, unit_cost=item.unit_cost, by=by, note="imported from a file")
    tell_anything(workshop)
    return new


def first_stock(supply: Supply, *, quantity: Decimal, unit_cost: Decimal, by: str, note: str) -> Entry:
    """Post what is there of a new supply, at what one costs. Call inside the transaction that makes it."""
    whole_pieces(supply, quantity)
    return _post(supply, kind="received", quantity=quantity, unit_cost=unit_cost, by=by, note=note, request_key=None)


def _unit(supply: Supply) -> str:
    return STOCK_UNITS[supply.kind]


def parts_of_a_piece(supply: Supply, quantity: Decimal) -> str:
    """Return what is wrong with an amount that is no whole number of pieces; empty: nothing."""
    if _unit(supply) == "pieces" and quantity != quantity.to_integral_value():
        return f"{supply.name} is kept in whole pieces; given: {quantity.normalize():f}."
    return ""


def whole_pieces(supply: Supply, quantity: Decimal) -> None:
    """Refuse parts of a piece. Raises Refused (not_valid)."""
    if words := parts_of_a_piece(supply, quantity):
        raise Refused(words, code="not_valid", status=422, field="quantity")


def locked_supply(workshop: Workshop, supply_id: int) -> Supply:
    """Return a supply with its row locked. Raises Refused (404)."""
    supply = Supply.objects.of(workshop).select_for_update(no_key=True).filter(pk=supply_id).first()
    if supply is None:
        raise Refused("There is no such supply in your cupboard.", code="not_found", status=404)
    return supply


def answered(workshop: Workshop, request_key: UUID) -> Entry | None:
    """Return the entry that was made when this was asked before."""
    return Entry.objects.of(workshop).filter(request_key=request_key).select_related("supply").first()


def _standing(workshop: Workshop, supplies: Iterable[int]) -> dict[int, tuple[Decimal, Decimal]]:
    """Return what is on hand of each supply and its average cost, in one query. With the supplies locked."""
    found = _balances(workshop, supplies)
    return {pk: (found[pk].on_hand, found[pk].average_cost) for pk in found}


def _balances(workshop: Workshop, supplies: Iterable[int]) -> dict[int, Balance]:
    wanted = list(supplies)
    found = {row.supply_id: row for row in Balance.objects.of(workshop).filter(supply_id__in=wanted)}
    new = {pk: Balance(workshop=workshop, supply_id=pk, on_hand=Decimal(0), average_cost=Decimal(0)) for pk in wanted}
    return {pk: found.get(pk, new[pk]) for pk in wanted}


def _append(workshop: Workshop, entries: list[Entry]) -> list[Entry]:
    """Write entries, one a supply, and what each supply comes to after its own. With the supplies locked."""
    balances = _balances(workshop, [entry.supply_id for entry in entries])
    made = Entry.objects.of(workshop).bulk_create(entries)
    _count_use(workshop, made)
    for entry in made:
        row = balances[entry.supply_id]
        row.on_hand, row.average_cost = row.on_hand + entry.quantity, entry.average_after
        row.last_used_at = entry.at if entry.kind == "used" else row.last_used_at
        row.pk = None
    Balance.objects.of(workshop).bulk_create(
        balances.values(),
        update_conflicts=True,
        unique_fields=["supply"],
        update_fields=["on_hand", "average_cost", "last_used_at"],
    )
    return made


def _count_use(workshop: Workshop, entries: list[Entry]) -> None:
    """Add what the entries used to their days: what expected use is worked out from, without summing the ledger.

    A conversion between supplies is use of what goes out; what became a parcel packed ahead and came back is none.
    """
    zone = ZoneInfo(workshop.time_zone)
    used: dict[tuple[int, date], Decimal] = {}
    for entry in entries:
        if entry.kind in _USES or (entry.kind == "converted" and entry.unit_cost is None):
            key = (entry.supply_id, entry.at.astimezone(zone).date())
            used[key] = used.get(key, Decimal(0)) - entry.quantity
    if not used:
        return
    rows = UsedOn.objects.of(workshop).filter(
        supply_id__in={supply for supply, _ in used}, day__in={day for _, day in used}
    )
    known = {(row.supply_id, row.day): row for row in rows}
    UsedOn.objects.of(workshop).bulk_create(
        [
            UsedOn(
                workshop=workshop,
                supply_id=supply,
                day=day,
                quantity=quantity + (known[supply, day].quantity if (supply, day) in known else 0),
            )
            for (supply, day), quantity in used.items()
        ],
        update_conflicts=True,
        unique_fields=["supply", "day"],
        update_fields=["quantity"],
    )


def _post(
    supply: Supply,
    *,
    kind: str,
    quantity: Decimal,
    unit_cost: Decimal | None,
    by: str,
    note: str,
    request_key: UUID | None,
    purchase_line_id: int | None = None,
    good_until: date | None = None,
) -> Entry:
    """Append one entry to a locked supply; the average follows the core's rule."""
    held, average = _standing(supply.workshop, [supply.pk])[supply.pk]
    after: StockValue = value_by_moving_average(
        [
            LedgerEntry(kind="received", quantity=held, unit_cost=average),
            LedgerEntry(kind="received", quantity=quantity, unit_cost=unit_cost),
        ],
        opening_cost=average,
    )
    entry = _entry(
        supply,
        kind=kind,
        quantity=quantity,
        unit_cost=unit_cost,
        by=by,
        average=after.average_cost,
        note=note,
        request_key=request_key,
        purchase_line_id=purchase_line_id,
        good_until=good_until,
    )
    return _append(supply.workshop, [entry])[0]


def _entry(
    supply: Supply,
    *,
    kind: str,
    quantity: Decimal,
    unit_cost: Decimal | None,
    by: str,
    average: Decimal,
    note: str = "",
    parcel_id: int | None = None,
    request_key: UUID | None = None,
    purchase_line_id: int | None = None,
    good_until: date | None = None,
) -> Entry:
    return Entry(
        workshop_id=supply.workshop_id,
        supply=supply,
        kind=kind,
        quantity=quantity,
        unit_cost=unit_cost,
        average_after=average,
        by=by,
        note=note[:200],
        at=timezone.now(),
        parcel_id=parcel_id,
        request_key=request_key,
        purchase_line_id=purchase_line_id,
        good_until=good_until,
    )
