"""Planning one order: expand, try every container, divide where it must or pays, choose, say why (rules 5.1).

The recipe's own choice is the default; a cheaper way is offered, not taken. Out come either a Planned order with
its alternatives and what ruled others out, or a Blocked one with everything that is missing. Pure.
"""

from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal
from typing import Literal

from core.errors import InvalidPacking
from core.messages import Message, Text, say
from core.parcels.alteration import as_changed
from core.parcels.candidate import Candidate, PlannedParcel
from core.parcels.cautions import cautions_for, with_agreed, with_handling
from core.parcels.facts import Aim, Facts, Overrides, Settings
from core.parcels.layers import layers_of
from core.parcels.packed import RuledOut, ThermalWish
from core.parcels.reasons import Offer, offer_of, warnings_of, why_chosen, why_not
from core.parcels.required import band_of_parcel
from core.parcels.room import Room, room_for_more
from core.parcels.several import Divided, several_ways
from core.parcels.single import Tried, choose, expansion_for, goods_cost_of, rank, request_for, try_all
from core.parcels.swaps import swapped
from core.parcels.told import faults_of_telling
from core.parcels.way import Way, way_rank
from core.recipes.expand import Missing, OrderLine, Piece, amounts_of, merged
from core.recipes.model import Occasion
from core.supplies.stock_asked import covers
from core.tariffs.model import Place

__all__ = [
    "Blocked",
    "Facts",
    "Offer",
    "Overrides",
    "PlannedOrder",
    "Settings",
    "more_that_fit",
    "plan_order",
]

#: How many other ways are kept in full, cheapest first.
_KEPT = 5
#: What is wrong with an order as one parcel but not as several.
_MENDED_BY_DIVIDING = frozenset({"no_band", "must_be_apart"})


@dataclass(frozen=True, slots=True, kw_only=True)
class PlannedOrder:
    """The chosen way and everything it was weighed against."""

    status: Literal["planned"]
    chosen: Way
    why: Text
    overridden: bool
    others: tuple[Way, ...]  #: more expensive or not the recipe's; cheapest first
    ruled_out: tuple[RuledOut, ...]
    offer: Offer | None
    warnings: tuple[Text, ...]
    ship_on: date
    note: str = ""  #: a person's, for whoever packs it

    @property
    def wish(self) -> ThermalWish | None:
        """Return the liner and packs its parcels are planned with, None without."""
        cartons = (carton for parcel in self.chosen.parcels for carton in parcel.cartons)
        return next((one.candidate.wish for one in cartons if one.candidate.wish is not None), None)

    @property
    def pieces(self) -> tuple[Piece, ...]:
        """Return the goods of all parcels."""
        return tuple(piece for parcel in self.chosen.parcels for piece in parcel.pieces)

    @property
    def cautions(self) -> tuple[Text, ...]:
        """Return what to mind with the goods of all parcels."""
        return tuple(dict.fromkeys(text for parcel in self.chosen.parcels for text in parcel.cautions))

    def as_sent(self) -> "PlannedOrder":
        """Return what is worth keeping once the parcels have left: how each was packed and sent, not the other ways.

        What the goods or the workshop's rules forbid a service stays: a parcel that is reopened is offered no such.
        """
        return replace(self, chosen=self.chosen.as_sent(), others=(), ruled_out=(), offer=None)

    def would_take(self, goods: tuple[tuple[str, int], ...]) -> frozenset[str]:
        """Return the containers that some way of this plan puts just these goods in."""
        ways = (self.chosen, *self.others)
        return frozenset(one.candidate.container for way in ways for one in way.parcels if one.goods == goods)


@dataclass(frozen=True, slots=True, kw_only=True)
class Blocked:
    """What is missing before the order can be planned."""

    status: Literal["blocked"]
    missing: tuple[Missing, ...]
    ruled_out: tuple[RuledOut, ...]


def plan_order(
    lines: tuple[OrderLine, ...],
    facts: Facts,
    *,
    destination: Place,
    ship_on: date,
    overrides: Overrides = Overrides(),  # noqa: B008 - a frozen value
    occasion: Occasion = Occasion(),  # noqa: B008 - a frozen value
    thermal: ThermalWish | None = None,
) -> PlannedOrder | Blocked:
    """Return the order planned in full, or everything that is missing.

    ``overrides`` are a person's: a way to use, containers not to, goods that may be laid down, how many parcels and
    what goes where; the plan is marked. ``occasion`` is what conditions of inserts look at. ``thermal`` goes into every
    parcel whose goods have a limit of heat or cold.
    """
    occasion = replace(occasion, skus=frozenset(line.sku for line in lines))
    lines = swapped(lines, overrides)
    ship_on = max(ship_on, overrides.not_before or ship_on)
    aim = Aim(
        destination=destination,
        ship_on=ship_on,
        overrides=overrides,
        occasion=occasion,
        goods_cost=goods_cost_of(lines),
        thermal=thermal,
    )
    key = overrides.container
    single_key = key if key and "+" not in key and "&" not in key else None
    whole = try_all(lines, facts, aim, forced=single_key)
    for_good = tuple(m for m in whole.expansion.missing if m.code not in _MENDED_BY_DIVIDING)
    if for_good:
        return Blocked(status="blocked", missing=for_good, ruled_out=())
    goods = tuple((line.sku, line.quantity) for line in merged(lines))
    minded = cautions_for(lines)
    singles = _singles(whole, goods, minded, overrides)
    own = _own_choice(singles, whole, single_key)
    divided = several_ways(lines, facts, aim, whole, own, key) if single_key is None else Divided()
    if divided.fault is not None:
        return Blocked(status="blocked", missing=(divided.fault,), ruled_out=whole.ruled_out)
    chosen = _chosen(own, divided.ways, overrides)
    if chosen is None:
        return Blocked(
            status="blocked", missing=why_not(whole, single_key, overrides, divided.reason), ruled_out=whole.ruled_out
        )
    chosen = with_agreed(with_handling(chosen, facts.shelf, facts.settings.judgements), overrides.care)
    _check_telling(chosen)
    short = _short_materials(chosen, facts)
    if short:
        return Blocked(status="blocked", missing=short, ruled_out=whole.ruled_out)
    found = [*(_one(candidate, whole, goods, minded) for candidate in whole.found), *divided.ways, *divided.others]
    others = sorted((way for way in found if way.key != chosen.key), key=way_rank)
    return PlannedOrder(
        status="planned",
        chosen=chosen,
        why=why_chosen(chosen, others, whole, overrides, divided.reason),
        overridden=overrides.any,
        others=tuple(others[:_KEPT]),
        ruled_out=whole.ruled_out or divided.ruled_out.get(chosen.key, ()),
        offer=offer_of(chosen, [*singles, *divided.ways, *divided.offered]),
        warnings=(
            *warnings_of(chosen),
            *_assumed(lines),
            *_left_out(chosen, facts),
        ),
        ship_on=ship_on,
        note=overrides.note,
    )


def _left_out(chosen: Way, facts: Facts) -> list[Message]:
    """Say which inserts stay out because there are too few, and of which parcels when another one has them."""
    parcels = [[code for one in parcel.cartons for code in one.candidate.left_out] for parcel in chosen.parcels]
    told = []
    for code in dict.fromkeys(code for codes in parcels for code in codes):
        without = tuple(str(number) for number, codes in enumerate(parcels, start=1) if code in codes)
        free = max(facts.free.get(code, Decimal(0)), Decimal(0))
        insert = facts.shelf.inserts[code].name
        if len(without) == len(parcels):
            told.append(say("left_out", insert=insert, free_number=free))
        else:
            told.append(say("left_out_of", insert=insert, free_number=free, parcels=without, count=len(without)))
    return told


def _assumed(lines: tuple[OrderLine, ...]) -> list[Message]:
    """Say where a variant's size or weight is that of the largest known one."""
    found = []
    for line in lines:
        product = line.product
        if product is None or not product.assumed:
            continue
        facts = {"name": product.name, "family": product.family}
        if "size" in product.assumed and product.size is not None:
            found.append(say("size_assumed", **facts, used_size_um=product.size.sides_um))
        if "weight" in product.assumed and product.weight_mg is not None:
            found.append(say("weight_assumed", **facts, weight_mg=product.weight_mg))
    return list(dict.fromkeys(found))


def more_that_fit(
    lines: tuple[OrderLine, ...],
    facts: Facts,
    parcel: PlannedParcel,
    *,
    destination: Place,
    ship_on: date,
    occasion: Occasion,
    overrides: Overrides = Overrides(),  # noqa: B008 - a frozen value
) -> tuple[Room, ...]:
    """Return how many more of each product one parcel of the order would take as it is packed.

    A strapped pair has none: it was divided because one carton does not take it.
    """
    candidate = parcel.candidate
    units = dict(parcel.goods) or {line.sku: line.quantity for line in lines}
    lines = swapped(lines, overrides)
    mine = tuple(replace(line, quantity=units[line.sku]) for line in lines if line.sku in units)
    aim = Aim(
        destination=destination,
        ship_on=ship_on,
        overrides=Overrides(may_lie_down=overrides.may_lie_down),
        occasion=occasion,
        thermal=candidate.wish,
    )
    outer = next((one for one in facts.containers if one.code == candidate.container), None)
    expansion = expansion_for(mine, facts, aim)
    if expansion.missing or outer is None or candidate.strapped is not None:
        return ()
    request = request_for(mine, expansion, facts, aim)
    return room_for_more(as_changed(outer, candidate.inner, candidate.change), request)


def _one(candidate: Candidate, whole: Tried, goods: tuple[tuple[str, int], ...], minded: tuple[Text, ...]) -> Way:
    parcel = PlannedParcel(goods=goods, pieces=whole.expansion.pieces, candidate=candidate, cautions=minded)
    return Way(parcels=(parcel,))


def _singles(
    whole: Tried, goods: tuple[tuple[str, int], ...], minded: tuple[Text, ...], overrides: Overrides
) -> list[Way]:
    """The ways in one parcel that may be taken; none when a person wants several."""
    if overrides.shares or (overrides.parcels or 1) > 1:
        return []
    return [_one(candidate, whole, goods, minded) for candidate in sorted(whole.allowed, key=rank)]


def _own_choice(singles: list[Way], whole: Tried, forced: str | None) -> Way | None:
    own = choose(whole, forced)
    return next((way for way in singles if own is not None and way.only.key == own.key), None)


def _chosen(own: Way | None, divided: tuple[Way, ...], overrides: Overrides) -> Way | None:
    """A person's choice; else the one parcel of the recipe; else the cheapest division."""
    if overrides.container is not None:
        return next((way for way in (*((own,) if own else ()), *divided) if way.key == overrides.container), None)
    if overrides.shares:  # as set by hand; strapping what was set apart is offered, not taken
        return next((way for way in divided if len(way.parcels) == len(overrides.shares)), None)
    return own or min(divided, key=way_rank, default=None)


def _short_materials(chosen: Way, facts: Facts) -> tuple[Missing, ...]:
    found = []
    for code, quantity in amounts_of(chosen.uses).items():
        if not covers(facts.free, code, quantity):
            free = max(facts.free.get(code, Decimal(0)), Decimal(0))
            unit = _stock_unit(code, facts)
            message = say(
                "too_little",
                supply=code,
                name=_name_of(code, facts),
                parcels=len(chosen.parcels),
                needs=say(f"stock_{unit}", **{f"amount_{unit}": quantity}),
                free=say(f"stock_{unit}", **{f"amount_{unit}": free}),
            )
            found.append(Missing(code="no_stock", subject=code, message=message))
    return tuple(found)


def _stock_unit(code: str, facts: Facts) -> str:
    shelf = facts.shelf
    kinds = (("m2", shelf.wraps), ("l", shelf.fills), ("m", shelf.tapes))
    return next((unit for unit, known in kinds if code in known), "number")


def _name_of(code: str, facts: Facts) -> str:
    shelf = facts.shelf
    for known in (shelf.wraps, shelf.fills, shelf.tapes, shelf.inserts, shelf.unit_boxes):
        if code in known:
            return known[code].name
    return next((outer.name for outer in facts.containers if outer.code == code), code)


def _check_telling(chosen: Way) -> None:
    """Raise InvalidPacking when what the hands would be told cannot be done as it stands: a defect of ours."""
    for parcel in chosen.parcels:
        for carton in parcel.cartons:
            layers = layers_of(carton.candidate, carton.pieces, band_of_parcel(carton.pieces), {})
            faults = faults_of_telling(carton.candidate, carton.pieces, layers)
            if faults:
                raise InvalidPacking(carton.candidate.container, faults)
