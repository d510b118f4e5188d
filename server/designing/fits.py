"""What fits: for a product or a mix, every container with the most units it takes as its recipe packs them (designing).

Carriers' own packages are among them where the cupboard has them; one is a carton or mailer like others, at its rate.
"""

from collections.abc import Sequence
from dataclasses import replace
from decimal import Decimal

from pydantic import BaseModel

from core.designing.cupboard import Desk
from core.messages import Text
from core.parcels.candidate import Candidate
from core.parcels.facts import Aim, Overrides
from core.parcels.single import try_all
from core.recipes.expand import OrderLine
from core.recipes.model import Occasion
from core.tariffs.quote import tariffs_in_force
from core.units import round_money
from server.api.problems import Refused
from server.designing.desk import desk_of
from server.recipes.mapping import core_products, core_recipe
from server.recipes.models import Product
from server.recipes.selectors import versions_in_force, with_their_families
from server.workshops.models import Workshop

__all__ = ["FitRow", "FitsOut", "fits_out"]

#: Nobody asks for more than so many of a product, or sets of a mix, in one parcel.
MOST_UNITS = 60
#: After so many numbers of units that fit nothing larger ones do not either.
_ENOUGH = 2
_UM3_A_LITRE = 10**15


class FitRow(BaseModel):
    """A container, and the most it takes."""

    code: str
    name: Text
    kind: str
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
    next_problem: Text  #: why one more does not go


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
    aim = Aim(destination=desk.usual, ship_on=desk.ship_on, overrides=Overrides(parcels=1), occasion=Occasion())
    facts = desk.plenty
    most: dict[str, tuple[int, Candidate]] = {}
    why: dict[str, Text] = {}
    first_why: list[Text] = []
    missed = tried_to = 0
    for sets in range(1, MOST_UNITS + 1):
        wanted = tuple(replace(line, quantity=line.quantity * sets) for line in lines)
        tried = try_all(wanted, facts, aim, forced=None, thorough=False)
        tried_to = sets
        for one in tried.found:
            before = most.get(one.container)
            if before is None or before[0] < sets or one.costs.total < before[1].costs.total:
                most[one.container] = (sets, one)
        for out in tried.ruled_out:
            if most.get(out.container, (0, None))[0] == sets - 1:
                why.setdefault(out.container, out.reason)
        if sets == 1 and not tried.found:
            missing = [one.message for one in tried.expansion.missing]
            first_why = missing or list(dict.fromkeys(out.reason for out in tried.ruled_out))
        missed = 0 if tried.found else missed + 1
        if missed >= _ENOUGH:
            break
    own = {item.code for t in tariffs_in_force(facts.tariffs, desk.ship_on) for item in t.packaging if item.flat_rate}
    words = " and ".join(f"{line.quantity} {line.product.name}" for line in lines if line.product)
    rows = [_row(sets, one, own, desk, why.get(code, ""), workshop) for code, (sets, one) in most.items()]
    rows.sort(key=lambda row: (row.each, row.code))
    return FitsOut(goods=words, looked_to=tried_to, rows=rows, none=first_why[:6])


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


def _row(sets: int, one: Candidate, own: set[str], desk: Desk, why: Text, workshop: Workshop) -> FitRow:
    void = one.void
    fills = [use for use in one.uses if use.role == "fill"]
    litres = one.inner.volume_um3 / _UM3_A_LITRE
    fill = max(fills, key=lambda use: use.quantity, default=None)
    return FitRow(
        code=one.container,
        name=one.name,
        kind=one.kind,
        flat_rate=one.container in own,
        in_recipe=one.in_recipe,
        most=sets,
        total=one.costs.total,
        each=round_money(one.costs.total / sets, workshop.money_digits),
        postage=one.costs.postage,
        service=one.quote.service_name,
        gross_mg=one.weight.gross_mg,
        goods_percent=round(100 * (1 - float(void.void_l) / litres)) if void is not None and litres else None,
        fill_litres=round(void.filled_l - void.free_l, 2) if void is not None else None,
        fill=desk.name(fill.supply) if fill is not None else "",
        change=one.change is not None,
        next_problem=why,
    )
