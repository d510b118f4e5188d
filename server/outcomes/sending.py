"""Parcels that have left become arrivals to hear about (outcomes).

What lists and rates ask of a parcel is written beside it once, when it leaves: container, service, zone, how each of
its goods was packed. Nobody has to open ten thousand plans for a rate.
"""

from collections.abc import Collection, Iterable
from datetime import date, timedelta
from decimal import Decimal
from typing import Any
from zoneinfo import ZoneInfo

from django.db import transaction

from server.bench.models import Parcel
from server.carriers.models import Label
from server.orders.models import OrderLine
from server.outcomes.counting import follow_versions, recount
from server.outcomes.models import Arrival, ArrivalGoods
from server.recipes.models import Product, RecipeVersion
from server.workshops.models import Workshop

__all__ = ["forget_sent", "record_missing", "record_sent"]

#: So many parcels are looked at in one go.
_BATCH = 500


def record_sent(workshop: Workshop, parcel_ids: Collection[int]) -> int:
    """Write down that these parcels are on their way; those that are known already stay as they are. Returns how many
    are new. In the caller's transaction.
    """
    known = set(Arrival.objects.of(workshop).filter(parcel__in=parcel_ids).values_list("parcel_id", flat=True))
    rows = list(
        Parcel.objects.of(workshop)
        .filter(pk__in=set(parcel_ids) - known, state=Parcel.State.CLOSED, handed_over_at__isnull=False)
        .select_related("kept")
    )
    labels = _labels(workshop, rows)
    skus = {sku for row in rows for sku, _ in _mine(row)["goods"]}
    products = {product.sku: product for product in Product.objects.of(workshop).filter(sku__in=skus)}
    versions = _versions(workshop, rows)
    paid = _paid(workshop, rows)
    found = [_arrival(workshop, row, labels.get(row.pk), products) for row in rows]
    Arrival.objects.of(workshop).bulk_create(found)
    goods = [
        one
        for arrival, row in zip(found, rows, strict=True)
        for one in _goods(workshop, arrival, row, products, versions, paid)
    ]
    ArrivalGoods.objects.of(workshop).bulk_create(goods)
    follow_versions(workshop, {one.version_id for one in goods if one.version_id is not None})
    return len(found)


@transaction.atomic
def forget_sent(workshop: Workshop, parcel_ids: Collection[int]) -> None:
    """Take parcels back that have not left after all, with what was said of them. In the caller's transaction."""
    rows = Arrival.objects.of(workshop).filter(parcel__in=parcel_ids)
    goods = ArrivalGoods.objects.of(workshop).filter(arrival__in=rows)
    versions = set(goods.exclude(version=None).values_list("version_id", flat=True))
    rows.delete()
    recount(workshop, versions)


@transaction.atomic
def record_missing(workshop: Workshop, most: int = _BATCH) -> int:
    """Write down parcels that left before arrivals were kept, newest first; return how many."""
    rows = Parcel.objects.of(workshop).filter(handed_over_at__isnull=False, arrival=None).order_by("-handed_over_at")
    return record_sent(workshop, list(rows.values_list("pk", flat=True)[:most]))


def _mine(row: Parcel) -> Any:
    """The parcel's part of its plan, as JSON values: the whole plan is not read for a few of its facts."""
    return row.plan["chosen"]["parcels"][row.part - 1]


def _labels(workshop: Workshop, rows: Iterable[Parcel]) -> dict[int, Label]:
    bought = Label.objects.of(workshop).filter(parcel__in=[row.pk for row in rows], state=Label.State.BOUGHT)
    return {label.parcel_id: label for label in bought if label.parcel_id is not None}


def _versions(workshop: Workshop, rows: Iterable[Parcel]) -> dict[tuple[str, int], int]:
    """Return ids of recipe versions by code and number."""
    codes = {code for row in rows for code in row.recipe_versions}
    found = RecipeVersion.objects.of(workshop).filter(recipe__code__in=codes)
    return {(code, number): pk for pk, code, number in found.values_list("pk", "recipe__code", "number")}


def _paid(workshop: Workshop, rows: Iterable[Parcel]) -> dict[tuple[int, str], Decimal]:
    """Return what buyers paid for a unit, by order and sku; what came in a set was not paid for by itself."""
    lines = OrderLine.objects.of(workshop).filter(order__in={row.order_id for row in rows})
    return {(order, sku): price for order, sku, price in lines.values_list("order_id", "sku", "unit_price")}


def _arrival(workshop: Workshop, row: Parcel, label: Label | None, products: dict[str, Product]) -> Arrival:
    mine = _mine(row)
    candidate = mine["candidate"]
    quote, outer = candidate["quote"], candidate["outer_bulged"]
    at = row.handed_over_at or row.closed_at or row.begun_at
    sent_on: date = at.astimezone(ZoneInfo(workshop.time_zone)).date()
    goods = sum(
        (products[sku].goods_cost * units for sku, units in mine["goods"] if sku in products), Decimal(0)
    )  # fmt: skip
    # Promised by the service it went with; the plan's day only when that is the one that was bought.
    same = label is None or label.service == quote["service"]
    planned = date.fromisoformat(quote["arrives_on"])
    days = label.transit_days if label is not None else quote["transit_days"]
    promised = planned if same and planned >= sent_on else sent_on + timedelta(days=days)
    postage = row.postage if row.postage is not None else Decimal(quote["price"])
    cover = max(Decimal(quote.get("cover") or 0), Decimal(0))
    return Arrival(
        workshop=workshop,
        parcel=row,
        sent_on=sent_on,
        promised_on=promised,
        container=candidate["container"],
        carrier=label.carrier if label is not None else quote["carrier"],
        service=label.service if label is not None else quote["service"],
        service_name=label.service_name if label is not None else quote["service_name"],
        zone=quote["zone"] if label is None or label.carrier == quote["carrier"] else "",
        outer_um=[outer["length_um"], outer["width_um"], outer["height_um"]],
        expected_mg=candidate["weight"]["gross_mg"],
        measured_mg=row.measured_mg,
        unit_mg=mine["pieces"][0]["net_mg"] if len(mine["goods"]) == 1 and mine["pieces"] else None,
        units=sum(units for _, units in mine["goods"]),
        at_risk=(goods + postage + Decimal(candidate["costs"]["materials"])).quantize(Decimal("0.01")),
        cover=cover,
        covered=cover > 0,
        claim_days=quote.get("claim_days"),
    )


def _goods(
    workshop: Workshop,
    arrival: Arrival,
    row: Parcel,
    products: dict[str, Product],
    versions: dict[tuple[str, int], int],
    paid: dict[tuple[int, str], Decimal],
) -> list[ArrivalGoods]:
    mine = _mine(row)
    packed = {piece["sku"]: piece for piece in mine["pieces"]}
    found = []
    for sku, units in mine["goods"]:
        piece = packed.get(sku)
        recipe = piece["recipe"] if piece else ""
        found.append(
            ArrivalGoods(
                workshop=workshop,
                arrival=arrival,
                sku=sku,
                name=products[sku].name if sku in products else sku,
                units=units,
                unit_value=paid.get((row.order_id, sku), products[sku].goods_cost if sku in products else Decimal(0)),
                version_id=versions.get((recipe, row.recipe_versions.get(recipe, 0))),
                band_first=piece["band"]["first"] if piece else 0,
                band_last=piece["band"]["last"] if piece else 0,
            )
        )
    return found
