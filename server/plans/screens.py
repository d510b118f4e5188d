"""A plan as the screens read it: every way with its layers and sums, and the supplies it names."""

import pickle
from dataclasses import replace
from decimal import Decimal
from typing import Literal

from pydantic import BaseModel

from core.bench.steps import amount_of_use
from core.messages import Text
from core.parcels.candidate import Candidate, Costs, PlannedParcel, with_sides
from core.parcels.layers import PackLayer, pack_layers
from core.parcels.plan import Blocked, Offer, PlannedOrder
from core.parcels.way import Way
from core.parcels.workings import workings_of
from core.recipes.expand import Missing, Piece
from core.tariffs.model import Sending
from core.tariffs.sides import SideRuler
from core.working import Working
from server.carriers.selectors import core_tariffs
from server.formats.pack_card import PackCard
from server.formats.supplies import STOCK_UNITS
from server.plans.facts import place_of
from server.plans.mapping import overrides_from_json, plan_of
from server.plans.models import Plan
from server.recipes.models import Product
from server.supplies.models import Supply
from server.words import day_words, words_of
from server.workshops.models import Workshop
from server.workshops.remembered import Remembered

__all__ = [
    "BlockedView",
    "GoodsView",
    "PieceView",
    "PlanView",
    "ShownParcel",
    "SupplyRef",
    "WayView",
    "card_sheets",
    "drawing_of",
    "goods_of",
    "parcel_view",
    "plan_view",
    "supply_refs",
]


#: For how many ways, and parcels of each, the side rulers are worked out: some hundred quotes each.
_WITH_SIDES = 2
_SIDES: Remembered[tuple[SideRuler, ...]] = Remembered(most=512)


class SupplyRef(BaseModel):
    """What a supply code stands for and where it lies."""

    id: int
    code: str
    name: str
    place: str
    unit: Literal["pieces", "m2", "l", "m"]


class GoodsView(BaseModel):
    """So many units of one product in a parcel."""

    sku: str
    name: str
    units: int


class PieceView(BaseModel):
    """One kind of goods in the parcel."""

    sku: str
    name: str
    quantity: int
    wrapped: tuple[int, int, int]
    weight_mg: int


class ShownParcel(BaseModel):
    """One parcel of a way, drawn and summed. ``layers`` name the carton they are in: 1 is the second
    of two strapped.
    """

    goods: list[GoodsView]
    candidate: Candidate
    pieces: list[PieceView]
    layers: tuple[PackLayer, ...]
    workings: tuple[Working, ...]


class WayView(BaseModel):
    """One way to send the order: one parcel, or several whose costs add up."""

    key: str
    containers: list[str]
    in_recipe: bool
    parcels: list[ShownParcel]
    minutes: Decimal
    costs: Costs
    difference: Decimal  #: total less the chosen one's total
    chosen: bool


class RuledOutView(BaseModel):
    """A container that is not used and why."""

    container: str
    name: Text
    code: str
    reason: Text
    proven: bool


class PlanView(BaseModel):
    """A planned order."""

    status: Literal["planned"]
    ways: list[WayView]
    why: Text
    overridden: bool
    ruled_out: list[RuledOutView]
    offer: Offer | None
    warnings: tuple[Text, ...]
    cautions: tuple[Text, ...]
    supplies: list[SupplyRef]
    recipe_versions: dict[str, int]


class BlockedView(BaseModel):
    """An order that cannot be planned, and what is missing."""

    status: Literal["blocked"]
    missing: tuple[Missing, ...]
    ruled_out: list[RuledOutView]


def plan_view(workshop: Workshop, row: Plan) -> PlanView | BlockedView:
    """Return the stored plan for the screens."""
    plan = plan_of(row.kept)
    out = [
        RuledOutView(container=r.container, name=r.name, code=r.code, reason=r.reason, proven=r.proven)
        for r in plan.ruled_out
    ]
    if isinstance(plan, Blocked):
        return BlockedView(status="blocked", missing=plan.missing, ruled_out=out)
    # What a person left out or swapped is named as well, though no way uses it.
    overrides = overrides_from_json(row.overrides)
    decided = {*overrides.omitted, *(code for pair in overrides.substitutes for code in pair)}
    refs = supply_refs(workshop, decided | {use.supply for way in (plan.chosen, *plan.others) for use in way.uses})
    names = {ref.code: ref.name for ref in refs}
    costs = _goods_costs(workshop, plan)
    ways = [_way(way, plan, names, workshop.wage_per_hour, costs) for way in (plan.chosen, *plan.others)]
    _add_sides(workshop, row, ways)
    return PlanView(
        status="planned",
        ways=ways,
        why=plan.why,
        overridden=plan.overridden,
        ruled_out=out,
        offer=plan.offer,
        warnings=plan.warnings,
        cautions=plan.cautions,
        supplies=refs,
        recipe_versions=row.recipe_versions,
    )


def _add_sides(workshop: Workshop, row: Plan, ways: list[WayView]) -> None:
    """Work out the side rulers of the ways a person looks at first; a wave of plans does without."""
    tariffs, place = core_tariffs(workshop), place_of(row.order)
    lists = pickle.dumps(tariffs, 5)

    def sided(candidate: Candidate) -> Candidate:
        sending = candidate.sending or Sending(destination=place, ship_on=row.ship_on)
        about = (candidate.quote, candidate.outer_bulged, candidate.weight.gross_mg, sending, lists)
        return replace(candidate, sides=_SIDES.of(about, lambda: with_sides(candidate, tariffs, sending).sides))

    for way in ways[:_WITH_SIDES]:
        for parcel in way.parcels[:_WITH_SIDES]:
            parcel.candidate = sided(parcel.candidate)


def card_sheets(workshop: Workshop, row: Plan, view: PlanView) -> list[PackCard]:
    """Return what stands on the pack cards: one for each carton of the chosen way, with its layers and amounts."""
    plan = plan_of(row.kept)
    if isinstance(plan, Blocked):
        return []
    supplies = {ref.code: ref for ref in view.supplies}
    words = words_of(workshop.unit_system)
    names = {ref.code: ref.name for ref in view.supplies}
    parcels = plan.chosen.parcels
    sheets = []
    for number, parcel in enumerate(parcels, start=1):
        for place, carton in enumerate(parcel.cartons):
            part = f", parcel {number} of {len(parcels)}" if len(parcels) > 1 else ""
            part += f", carton {place + 1} of 2, strapped together" if parcel.candidate.strapped else ""
            layers = tuple(layer for layer in pack_layers(parcel, names) if layer.carton == place)
            sheets.append(
                PackCard(
                    order=f"{row.order.number}{part}",
                    buyer=row.order.buyer,
                    goods=tuple((piece.quantity, piece.called, piece.code) for piece in carton.pieces),
                    candidate=carton.candidate,
                    layers=layers,
                    amounts=tuple(
                        (ref.name, ref.place, words.of(amount_of_use(use)), words.of(use.detail))
                        for use in carton.candidate.uses
                        if (ref := supplies.get(use.supply))
                    ),
                    cautions=words.all(parcel.cautions),
                    ship_on=f"{day_words(row.ship_on)} {row.ship_on.year}",
                    unit_system=workshop.unit_system,
                )
            )
    return sheets


def _goods_costs(workshop: Workshop, plan: PlannedOrder) -> dict[str, Decimal]:
    skus = {piece.sku for piece in plan.pieces}
    return dict(Product.objects.of(workshop).filter(sku__in=skus).values_list("sku", "goods_cost"))


def _way(way: Way, plan: PlannedOrder, names: dict[str, str], wage: Decimal, costs: dict[str, Decimal]) -> WayView:
    return WayView(
        key=way.key,
        containers=list(way.containers),
        in_recipe=way.in_recipe,
        parcels=[parcel_view(parcel, names, wage, costs) for parcel in way.parcels],
        minutes=way.minutes,
        costs=way.costs,
        difference=way.costs.total - plan.chosen.costs.total,
        chosen=way is plan.chosen,
    )


def parcel_view(parcel: PlannedParcel, names: dict[str, str], wage: Decimal, costs: dict[str, Decimal]) -> ShownParcel:
    """Return one parcel for the screens; ``costs`` are the goods at cost by sku, ``names`` those of the supplies."""
    at_cost = sum((costs.get(sku, Decimal(0)) * units for sku, units in parcel.goods), Decimal(0))
    return ShownParcel(
        goods=goods_of(parcel),
        candidate=parcel.candidate,
        pieces=[drawing_of(piece) for piece in parcel.pieces],
        layers=pack_layers(parcel, names),
        workings=workings_of(parcel.candidate, parcel.pieces, wage_per_hour=wage, goods_cost=at_cost),
    )


def goods_of(parcel: PlannedParcel) -> list[GoodsView]:
    """Return the goods of one parcel, line by line."""
    called = {piece.sku: piece.name for piece in parcel.pieces}
    return [GoodsView(sku=sku, name=called.get(sku, sku), units=units) for sku, units in parcel.goods]


def drawing_of(piece: Piece) -> PieceView:
    """Return what the drawings need of a piece."""
    wrapped = (piece.size.length_um, piece.size.width_um, piece.size.height_um)
    return PieceView(
        sku=piece.code, name=piece.called, quantity=piece.quantity, wrapped=wrapped, weight_mg=piece.weight_mg
    )


def supply_refs(workshop: Workshop, codes: set[str]) -> list[SupplyRef]:
    """Return names and places of supplies, in one query."""
    rows = Supply.objects.of(workshop).filter(code__in=codes)
    return [SupplyRef(id=r.pk, code=r.code, name=r.name, place=r.place, unit=STOCK_UNITS[r.kind]) for r in rows]
