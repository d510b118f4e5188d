"""Parcels packed ahead: supplies become finished parcels on a shelf; an order that matches takes the oldest.

What belongs to an order is left for it: the label, and inserts that count for the order or have a condition.
"""

from collections.abc import Iterable
from decimal import Decimal
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from core.parcels.candidate import PlannedParcel
from core.parcels.facts import Facts, Overrides
from core.parcels.plan import Blocked, plan_order
from core.recipes.expand import OrderLine, Use, amounts_of
from core.recipes.model import Recipe
from core.tariffs.model import Place
from core.tariffs.zones import plain_postcode
from server.api.problems import Refused
from server.bench.models import Parcel, ReadyParcel
from server.carriers.selectors import core_tariffs
from server.orders.models import Order
from server.plans.facts import settings_of, ship_day
from server.plans.models import Plan
from server.recipes.mapping import core_products, core_recipe
from server.recipes.models import Product
from server.recipes.selectors import tried_versions, versions_in_force, with_their_families
from server.supplies.mapping import core_cupboard
from server.supplies.models import Supply
from server.supplies.selectors import stock_of
from server.supplies.services import post_converted
from server.workshops.happened import tell_stock
from server.workshops.judging import judgements_of
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = ["for_the_order", "give_back", "pack_ahead", "take_for", "unpack"]


@transaction.atomic
def pack_ahead(
    *, by: Member, product_id: int, units: int, count: int, place: str, request_key: UUID
) -> list[ReadyParcel]:
    """Pack so many parcels of so many units by the current recipe; their supplies are drawn down now.

    Sent twice, they stand once. Raises Refused when there is no recipe, it is not ready, or stock is too low.
    """
    workshop = by.workshop
    lock_workshop(workshop)
    had = list(ReadyParcel.objects.of(workshop).filter(request_key=request_key).order_by("number"))
    if had:
        return had
    product = Product.objects.of(workshop).select_related("recipe").filter(pk=product_id).first()
    if product is None:
        raise Refused("There is no such product in your workshop.", code="not_found", status=404)
    version = versions_in_force(workshop, [product.recipe_id]).get(product.recipe_id) if product.recipe_id else None
    if version is None:
        raise Refused(f"{product.name} has no recipe. Propose one under Recipes first.", code="no_recipe", status=422)
    recipe = core_recipe(version, tried=version.pk in tried_versions(workshop, [version.pk]))
    parcel = _planned(workshop, product, recipe, units)
    drawn = amounts_of(use for use in parcel.candidate.uses if not for_the_order(use, parcel))
    _check_stock(workshop, drawn, count)
    ids = dict(Supply.objects.of(workshop).filter(code__in=drawn).values_list("code", "pk"))
    note = f"packed ahead: {count} of {units} {product.sku}"
    post_converted(
        workshop=workshop,
        changes={ids[code]: -quantity * count for code, quantity in drawn.items()},
        by=by.name,
        note=note,
    )
    made = ReadyParcel.objects.of(workshop).bulk_create(
        ReadyParcel(
            workshop=workshop,
            product=product,
            version=version,
            units=units,
            container=parcel.candidate.container,
            used={code: str(quantity) for code, quantity in drawn.items()},
            place=place,
            packed_at=timezone.now(),
            packed_by=by.name,
            request_key=request_key,
            number=number,
        )
        for number in range(1, count + 1)
    )
    tell_stock(workshop, list(ids.values()))
    return list(made)


@transaction.atomic
def unpack(*, by: Member, ready_id: int, reason: str) -> ReadyParcel:
    """Take a parcel apart again: what packing it drew goes back on the shelf."""
    lock_workshop(by.workshop)
    row = ReadyParcel.objects.of(by.workshop).select_for_update().filter(pk=ready_id).first()
    if row is None:
        raise Refused("There is no such parcel in your workshop.", code="not_found", status=404)
    if row.state != ReadyParcel.State.READY:
        word = "taken by an order" if row.state == ReadyParcel.State.TAKEN else "unpacked already"
        raise Refused(f"This parcel was {word}. Nothing was changed.", code="not_ready")
    ids = dict(Supply.objects.of(by.workshop).filter(code__in=row.used).values_list("code", "pk"))
    back = {ids[code]: Decimal(quantity) for code, quantity in row.used.items() if code in ids}
    post_converted(workshop=by.workshop, changes=back, by=by.name, note=f"unpacked: {reason}")
    row.state = ReadyParcel.State.UNPACKED
    row.save(update_fields=["state"])
    # Who counted on it is planned again, like all that use what went back.
    Plan.objects.of(by.workshop).filter(standing_id=row.pk, order__state__in=Order.OPEN).update(stale=True)
    tell_stock(by.workshop, list(back))
    return row


def take_for(parcel: Parcel, mine: PlannedParcel) -> ReadyParcel | None:
    """Let an order's only parcel take the oldest one packed ahead that is the same; None when there is none.

    The same: product, units, container, and the current recipe version; what its plan counts on before all others, and
    never what another's counts on. Call with the workshop's row locked.
    """
    if len(mine.goods) != 1 or mine.candidate.change is not None or mine.candidate.strapped is not None:
        return None
    ((sku, units),) = mine.goods
    rows = ReadyParcel.objects.of(parcel.workshop_id).filter(
        state=ReadyParcel.State.READY, product__sku=sku, units=units, container=mine.candidate.container
    )
    counted = Plan.objects.of(parcel.workshop_id).filter(standing_id__isnull=False)
    own = counted.filter(order_id=parcel.order_id).values_list("standing_id", flat=True).first()
    others = counted.filter(order__state__in=Order.OPEN).exclude(order_id=parcel.order_id)
    rows = rows.filter(pk=own) if own is not None else rows.exclude(pk__in=others.values("standing_id"))
    for row in rows.select_for_update(of=("self",)).select_related("version__recipe"):
        if parcel.recipe_versions.get(row.version.recipe.code) == row.version.number:
            row.state = ReadyParcel.State.TAKEN
            row.save(update_fields=["state"])
            return row
    return None


def give_back(workshop: Workshop, parcels: Iterable[Parcel]) -> None:
    """Put what these parcels took back on its shelf: the order was taken off the bench."""
    taken = [parcel.ready_id for parcel in parcels if parcel.ready_id is not None]
    Parcel.objects.of(workshop).filter(ready_id__in=taken).update(ready=None)
    ReadyParcel.objects.of(workshop).filter(pk__in=taken).update(state=ReadyParcel.State.READY)
    if taken:
        tell_stock(workshop, [])  # an order that is blocked may have it


def for_the_order(use: Use, mine: PlannedParcel) -> bool:
    """Return whether something belongs to the order and not to the parcel itself: label, slips, conditional inserts."""
    if use.role == "label":
        return True
    rules = [rule for piece in mine.pieces for rule in piece.band.inserts if rule.insert == use.supply]
    return use.role == "insert" and any(rule.per == "order" or rule.when is not None for rule in rules)


def _planned(workshop: Workshop, product: Product, recipe: Recipe, units: int) -> PlannedParcel:
    shelf, containers, free = core_cupboard(stock_of(workshop), judgements_of(workshop))
    facts = Facts(
        shelf=shelf, containers=containers, free=free, tariffs=core_tariffs(workshop), settings=settings_of(workshop)
    )
    known = core_products([product], with_their_families(workshop, [product]))[product.sku]
    line = OrderLine(sku=product.sku, quantity=units, product=known, recipe=recipe)
    near = Place(country=workshop.country, postcode=plain_postcode(workshop.postcode))
    plan = plan_order((line,), facts, destination=near, ship_on=ship_day(workshop), overrides=Overrides(parcels=1))
    if isinstance(plan, Blocked):
        raise Refused(plan.missing[0].message, code="blocked", status=422)
    if plan.chosen.only.strapped is not None or plan.chosen.only.change is not None:
        raise Refused(
            f"{units} {product.name} go in one whole container only with a change to it; pack them with their order.",
            code="not_whole", status=422,
        )  # fmt: skip
    return plan.chosen.parcels[0]


def _check_stock(workshop: Workshop, drawn: dict[str, Decimal], count: int) -> None:
    for stock in stock_of(workshop):
        needed = drawn.get(stock.supply.code, Decimal(0)) * count
        if needed > stock.free:
            raise Refused(
                f"{count} parcels need {needed.normalize():f} of {stock.supply.name}; "
                    f"{max(stock.free, Decimal(0)).normalize():f} is free in stock. "
                "Pack fewer, or receive stock first.",
                code="no_stock", status=422,
            )  # fmt: skip
