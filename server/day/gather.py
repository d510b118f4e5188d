"""The list of a wave: what to carry up, by shelf, with what is short; on screen and on paper (day)."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace
from decimal import Decimal

from pydantic import BaseModel

from core.day.gather import Carried, GatherList, Needed, gather_list, short_of
from core.messages import Text, say
from core.parcels.candidate import PlannedParcel
from core.parcels.plan import PlannedOrder
from server.api.problems import Refused
from server.bench.models import ReadyParcel
from server.bench.ready import for_the_order
from server.day.selectors import key_of
from server.formats.gather_sheet import GatherSection, GatherSheetOut, SheetLine
from server.orders.models import Order
from server.plans.mapping import plan_of
from server.plans.models import Plan
from server.recipes.models import Product
from server.supplies.models import Supply
from server.supplies.selectors import as_stocks, supplies_with_stock
from server.words import Words
from server.workshops.models import Workshop

__all__ = ["GatherOut", "gather_sheet", "gathered", "parsed_keys"]

#: More is no walk any more.
_MOST = 50


class GatherParcel(BaseModel):
    """A parcel of the wave."""

    key: str
    order_id: int
    number: str
    buyer: str
    part: int
    parts: int
    container: Text


class GatherPer(BaseModel):
    """How much of it is for one parcel."""

    key: str
    quantity: Decimal


class GatherThing(BaseModel):
    """One thing to carry up."""

    code: str
    name: str
    place: str
    quantity: Decimal
    amount: Text
    per: list[GatherPer]
    short: list[str]  #: keys of parcels for which there is too little


class GatherSheet(BaseModel):
    """A sheet that comes out of a length."""

    length_um: int
    width_um: int
    count: int


class GatherCut(BaseModel):
    """Equal lengths to cut off a roll."""

    count: int
    length_um: int
    sheets: list[GatherSheet]


class GatherRoll(BaseModel):
    """A roll to cut from."""

    code: str
    name: str
    place: str
    cuts: list[GatherCut]
    lengths: int
    one_by_one: int  #: so many lengths would be cut parcel by parcel
    keys: list[str]


class GatherOut(BaseModel):
    """Everything for a wave."""

    parcels: list[GatherParcel]
    goods: list[GatherThing]
    frozen: list[GatherThing]  #: goods and packs that stay in the freezer until their own step
    containers: list[GatherThing]
    rolls: list[GatherRoll]
    supplies: list[GatherThing]
    cards: list[GatherThing]


def parsed_keys(text: str) -> list[tuple[int, int]]:
    """Return order and part of each key of "12-1,13-1". Raises Refused when a key is none."""
    found: list[tuple[int, int]] = []
    for key in dict.fromkeys(part for part in text.split(",") if part):
        order_id, _, part = key.partition("-")
        if not (order_id.isascii() and order_id.isdecimal() and part.isascii() and part.isdecimal() and len(key) < 20):
            raise Refused(
                f"parcels: {key[:20]} is no parcel; they are written 12-1.",
                code="not_valid",
                status=400,
                field="parcels",
            )
        found.append((int(order_id), int(part)))
    if not 0 < len(found) <= _MOST:
        raise Refused(
            f"parcels: from 1 to {_MOST} parcels; given: {len(found)}.", code="not_valid", status=400, field="parcels"
        )
    return found


def gathered(workshop: Workshop, keys: Sequence[tuple[int, int]]) -> GatherOut:
    """Return the list for these parcels, planned or at the bench. Raises Refused (404) when one is not there now."""
    rows = {
        plan.order_id: plan
        for plan in Plan.objects.of(workshop)
        .filter(order_id__in={order_id for order_id, _ in keys}, status="planned")
        .filter(order__state__in=(Order.State.PLANNED, Order.State.BENCH))
        .select_related("order", "kept")
    }
    ahead = _packed_ahead(workshop, rows.values())
    needed: list[tuple[Needed, Order, int]] = []
    for order_id, part in keys:
        plan = rows.get(order_id)
        stored = plan_of(plan.kept) if plan is not None else None
        if plan is None or not isinstance(stored, PlannedOrder) or not 1 <= part <= len(stored.chosen.parcels):
            raise Refused(
                "A parcel of this wave is not waiting any more. Go back to the day: it shows the waves as they stand.",
                code="not_found",
                status=404,
            )
        parcel = stored.chosen.parcels[part - 1]
        if order_id in ahead:
            parcel = _only_the_orders_own(parcel)
        needed.append((Needed(code=key_of(order_id, part), parcel=parcel), plan.order, len(stored.chosen.parcels)))
    found = gather_list([one for one, _, _ in needed])
    out = _out(workshop, needed, found)
    whole = [_standing_thing(ahead[order_id], key_of(order_id, part)) for order_id, part in keys if order_id in ahead]
    return out.model_copy(update={"goods": _by_place([*out.goods, *whole])}) if whole else out


def _packed_ahead(workshop: Workshop, plans: Iterable[Plan]) -> dict[int, ReadyParcel]:
    """Return the parcel packed ahead of each order that took one, or that counts on one."""
    wanted = {plan.standing_id: plan.order_id for plan in plans if plan.standing_id is not None}
    rows = ReadyParcel.objects.of(workshop).select_related("product")
    found = {wanted[row.pk]: row for row in rows.filter(pk__in=wanted, state=ReadyParcel.State.READY)}
    at_bench = rows.filter(parcel__order_id__in=[plan.order_id for plan in plans])
    return found | {row.parcel.order_id: row for row in at_bench.select_related("parcel")}


def _only_the_orders_own(parcel: PlannedParcel) -> PlannedParcel:
    """Return what is still fetched when the parcel stands packed already."""
    uses = tuple(use for use in parcel.candidate.uses if for_the_order(use, parcel))
    return replace(parcel, goods=(), candidate=replace(parcel.candidate, uses=uses))


def _standing_thing(row: ReadyParcel, key: str) -> GatherThing:
    return GatherThing(
        code=f"ahead-{row.pk}",
        name=f"Packed ahead: {row.units} {row.product.name}",
        place=row.place,
        quantity=Decimal(1),
        amount="",
        per=[GatherPer(key=key, quantity=Decimal(1))],
        short=[],
    )


def _out(workshop: Workshop, needed: Sequence[tuple[Needed, Order, int]], found: GatherList) -> GatherOut:
    codes = {one.code for one in (*found.containers, *found.supplies, *found.cards)} | {c.supply for c in found.cuts}
    rows = list(supplies_with_stock(workshop).filter(code__in=codes))
    supplies = {row.code: row for row in rows}
    on_hand = {stock.supply.code: stock.on_hand for stock in as_stocks(workshop, rows)}
    products = {
        row.sku: row
        for row in Product.objects.of(workshop)
        .filter(sku__in=[one.code for one in found.goods])
        .only("sku", "name", "shelf", "frozen")
    }
    cold = {row.code for row in rows if _is_cold(row)}
    out_last = {row.sku for row in products.values() if row.frozen}
    short = short_of((*found.containers, *found.supplies, *found.cards), on_hand)

    def things(carried: Sequence[Carried]) -> list[GatherThing]:
        return _by_place(
            [_thing(one, supplies, short) for one in carried if _is_fetched(one, found) and one.code not in cold]
        )

    def goods(*, frozen: bool) -> list[GatherThing]:
        return [_goods(one, products) for one in found.goods if (one.code in out_last) is frozen]

    packs = [one for one in (*found.supplies, *found.cards) if one.code in cold]

    return GatherOut(
        parcels=[
            GatherParcel(
                key=one.code,
                order_id=order.pk,
                number=order.number,
                buyer=order.buyer,
                part=int(one.code.rpartition("-")[2]),
                parts=parts,
                container=one.parcel.candidate.name,
            )
            for one, order, parts in needed
        ],
        goods=_by_place(goods(frozen=False)),
        frozen=_by_place([*goods(frozen=True), *(_thing(one, supplies, short) for one in packs)]),
        containers=things(found.containers),
        rolls=[
            GatherRoll(
                code=one.supply,
                name=supplies[one.supply].name if one.supply in supplies else one.supply,
                place=supplies[one.supply].place if one.supply in supplies else "",
                cuts=[
                    GatherCut(
                        count=cut.count,
                        length_um=cut.length_um,
                        sheets=[GatherSheet(length_um=a, width_um=b, count=n) for a, b, n in cut.sheets],
                    )
                    for cut in one.cuts
                ],
                lengths=sum(cut.count for cut in one.cuts),
                one_by_one=one.alone,
                keys=list(one.parcels),
            )
            for one in found.cuts
        ],
        supplies=things(found.supplies),
        cards=things(found.cards),
    )


def _goods(one: Carried, products: Mapping[str, Product]) -> GatherThing:
    known = products.get(one.code)
    return GatherThing(
        code=one.code,
        name=known.name if known is not None else one.code,
        place=known.shelf if known is not None else "",
        quantity=one.quantity,
        amount="",
        per=[GatherPer(key=key, quantity=quantity) for key, quantity in one.per],
        short=[],
    )


def _is_cold(row: Supply) -> bool:
    """A pack that is frozen: it comes out of the freezer with the goods, not before."""
    pack = row.facts.get("pack") or {}
    return bool(pack) and pack.get("kind") != "heat"


def _is_fetched(one: Carried, found: GatherList) -> bool:
    """Lengths cut off a roll are told with the roll."""
    return one.amount != "" or one.code not in {cut.supply for cut in found.cuts}


def _thing(one: Carried, supplies: Mapping[str, Supply], short: Mapping[str, tuple[str, ...]]) -> GatherThing:
    row = supplies.get(one.code)
    return GatherThing(
        code=one.code,
        name=row.name if row is not None else one.code,
        place=row.place if row is not None else "",
        quantity=one.quantity,
        amount=one.amount,
        per=[GatherPer(key=key, quantity=quantity) for key, quantity in one.per],
        short=list(short.get(one.code, ())),
    )


def _by_place(things: list[GatherThing]) -> list[GatherThing]:
    return sorted(things, key=lambda one: (_shelf(one.place), one.name))


def _shelf(place: str) -> tuple[str, int]:
    """Return a place as shelves stand: B2 before B10."""
    letter = place.rstrip("0123456789")
    return letter, int(place[len(letter) :] or 0)


def gather_sheet(workshop: Workshop, words: Words, found: GatherOut) -> GatherSheetOut:
    """Return the list as it stands on paper, in the workshop's units."""
    spots = {one.key: number for number, one in enumerate(found.parcels, start=1)}

    def lines(things: list[GatherThing], *, counted: bool = True) -> tuple[SheetLine, ...]:
        return tuple(
            SheetLine(
                place=one.place,
                name=one.name,
                detail=one.code,
                amount=words.of(one.amount) if one.amount else f"{one.quantity.normalize():f}",
                # What is measured is shared out at the bench: a parcel's litres to six places help nobody here.
                spots=tuple((spots[per.key], f"{per.quantity.normalize():f}") for per in one.per) if counted else (),
                short=tuple(spots[key] for key in one.short),
            )
            for one in things
        )

    rolls = tuple(
        SheetLine(
            place=roll.place,
            name=roll.name,
            detail=roll.code,
            amount=", ".join(words.of(say("lengths", count=cut.count, length_um=cut.length_um)) for cut in roll.cuts),
            spots=(),
            short=(),
        )
        for roll in found.rolls
    )
    return GatherSheetOut(
        title=f"Gather for {len(found.parcels)} parcel" + ("" if len(found.parcels) == 1 else "s"),
        workshop=workshop.name,
        parcels=tuple(
            (
                spots[one.key],
                one.number if one.parts == 1 else f"{one.number} ({one.part} of {one.parts})",
                one.buyer,
                words.of(one.container),
            )
            for one in found.parcels
        ),
        sections=tuple(
            section
            for section in (
                GatherSection(title="Goods", lines=lines(found.goods)),
                GatherSection(title="Make up", lines=lines(found.containers)),
                GatherSection(title="Cut", lines=rolls),
                GatherSection(title="Supplies", lines=lines(found.supplies, counted=False)),
                GatherSection(title="Cards and inserts", lines=lines(found.cards)),
                GatherSection(title="Leave in the freezer until their step", lines=lines(found.frozen)),
            )
            if section.lines
        ),
    )
