"""What fits, as its screen reads it: each container with the most of a product or a mix it takes (designing)."""

from collections.abc import Sequence
from dataclasses import replace
from decimal import Decimal

from pydantic import BaseModel

from core.designing.cupboard import Desk
from core.designing.fits import Fit, goods_fitting
from core.messages import Text
from core.recipes.expand import OrderLine
from core.units import round_money
from server.api.problems import Refused
from server.designing.desk import desk_of
from server.recipes.mapping import core_products, core_recipe
from server.recipes.models import Product
from server.recipes.selectors import versions_in_force, with_their_families
from server.workshops.models import Workshop

__all__ = ["FitRow", "FitsOut", "fits_out"]

_SHOWN_REASONS = 6


class FitRow(BaseModel):
    """A container, and the most it takes."""

    code: str
    name: Text
    flat_rate: bool  #: a carrier's own package at one price
    in_recipe: bool
    most: int  #: units; of a mix: sets
    total: Decimal  #: of the parcel, packed full, all in
    each: Decimal
    postage: Decimal
    service: str
    gross_mg: int
    goods_percent: int | None  #: of the space in it that goods take; None: nothing is known of the space
    fill_litres: Decimal | None  #: what fills the rest, in the box
    fill: str
    change: bool  #: it is cut down first
    why_no_more: Text


class FitsOut(BaseModel):
    """What fits."""

    goods: str
    looked_to: int  #: so many units were tried
    rows: list[FitRow]
    none: list[Text]  #: why nothing fits, where nothing does


def fits_out(workshop: Workshop, goods: Sequence[tuple[int, int]]) -> FitsOut:
    """Return the most of these goods (product, units of it in a set) that each container takes, the least each first.

    Raises Refused: not_found (404), no_recipe.
    """
    lines = _lines(workshop, goods)
    desk = desk_of(workshop)
    found = goods_fitting(lines, desk)
    return FitsOut(
        goods=" and ".join(f"{line.quantity} {line.product.name}" for line in lines if line.product),
        looked_to=found.looked_to,
        rows=[_row(fit, desk, workshop.money_digits) for fit in found.fits],
        none=list(found.none[:_SHOWN_REASONS]),
    )


def _lines(workshop: Workshop, goods: Sequence[tuple[int, int]]) -> tuple[OrderLine, ...]:
    rows = {row.pk: row for row in Product.objects.of(workshop).filter(pk__in=[pk for pk, _ in goods])}
    missing = [pk for pk, _ in goods if pk not in rows]
    if missing:
        raise Refused("There is no such product in your workshop.", code="not_found", status=404)
    versions = versions_in_force(workshop, [row.recipe_id for row in rows.values() if row.recipe_id])
    bare = [row.name for row in rows.values() if row.recipe_id not in versions]
    if bare:
        raise Refused(f"{bare[0]} has no recipe yet; nothing says how it is packed.", code="no_recipe")
    ordered = list(rows.values())
    known = core_products(ordered, with_their_families(workshop, ordered))
    return tuple(
        OrderLine(
            sku=rows[pk].sku, quantity=units, product=known[rows[pk].sku],
            recipe=replace(core_recipe(versions[rows[pk].recipe_id or 0]), tried=True),
        )
        for pk, units in goods
    )  # fmt: skip


def _row(fit: Fit, desk: Desk, digits: int) -> FitRow:
    one = fit.packed
    fill = max((use for use in one.uses if use.role == "fill"), key=lambda use: use.quantity, default=None)
    return FitRow(
        code=one.container,
        name=one.name,
        flat_rate=fit.flat_rate,
        in_recipe=one.in_recipe,
        most=fit.most,
        total=one.costs.total,
        each=round_money(one.costs.total / fit.most, digits),
        postage=one.costs.postage,
        service=one.quote.service_name,
        gross_mg=one.weight.gross_mg,
        goods_percent=fit.goods_percent,
        fill_litres=round(one.void.filled_l - one.void.free_l, 2) if one.void is not None else None,
        fill=desk.name(fill.supply) if fill is not None else "",
        change=one.change is not None,
        why_no_more=fit.why_no_more,
    )
