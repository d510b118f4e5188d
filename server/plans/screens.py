"""A plan as the screens read it: every way with its layers and sums, and the supplies it names."""

from decimal import Decimal
from typing import Literal

from pydantic import BaseModel

from core.parcels.candidate import Candidate
from core.parcels.layers import PackLayer, layers_of
from core.parcels.plan import Blocked, Offer, PlannedOrder, speaking_band
from core.parcels.workings import workings_of
from core.recipes.expand import Missing, Piece
from core.working import Working
from server.formats.pack_card import PackCard
from server.formats.supplies import STOCK_UNITS
from server.plans.mapping import plan_from_json
from server.plans.models import Plan
from server.recipes.models import Product
from server.supplies.models import Supply
from server.workshops.models import Workshop

__all__ = [
    "BlockedView",
    "PieceView",
    "PlanView",
    "SupplyRef",
    "Way",
    "card_sheet",
    "drawing_of",
    "plan_view",
    "supply_refs",
]


class SupplyRef(BaseModel):
    """What a supply code stands for and where it lies."""

    code: str
    name: str
    place: str
    unit: Literal["pieces", "m2", "l", "m"]


class Way(BaseModel):
    """One way to send the order, drawn and summed."""

    candidate: Candidate
    layers: tuple[PackLayer, ...]
    workings: tuple[Working, ...]
    difference: Decimal  #: total less the chosen one's total
    chosen: bool


class PieceView(BaseModel):
    """One kind of goods in the parcel."""

    sku: str
    name: str
    quantity: int
    wrapped: tuple[int, int, int]
    weight_mg: int


class RuledOutView(BaseModel):
    """A container that is not used and why."""

    container: str
    name: str
    code: str
    reason: str
    proven: bool


class PlanView(BaseModel):
    """A planned order."""

    status: Literal["planned"]
    pieces: list[PieceView]
    ways: list[Way]
    why: str
    overridden: bool
    ruled_out: list[RuledOutView]
    offer: Offer | None
    warnings: tuple[str, ...]
    cautions: tuple[str, ...]
    supplies: list[SupplyRef]
    recipe_versions: dict[str, int]


class BlockedView(BaseModel):
    """An order that cannot be planned, and what is missing."""

    status: Literal["blocked"]
    missing: tuple[Missing, ...]
    ruled_out: list[RuledOutView]


def plan_view(workshop: Workshop, row: Plan) -> PlanView | BlockedView:
    """Return the stored plan for the screens."""
    plan = plan_from_json(row.document)
    out = [
        RuledOutView(container=r.container, name=r.name, code=r.code, reason=r.reason, proven=r.proven)
        for r in plan.ruled_out
    ]
    if isinstance(plan, Blocked):
        return BlockedView(status="blocked", missing=plan.missing, ruled_out=out)
    refs = supply_refs(workshop, {use.supply for way in (plan.chosen, *plan.others) for use in way.uses})
    names = {ref.code: ref.name for ref in refs}
    goods = _goods_cost(workshop, plan)
    return PlanView(
        status="planned",
        pieces=[drawing_of(piece) for piece in plan.pieces],
        ways=[_way(candidate, plan, names, workshop.wage_per_hour, goods) for candidate in (plan.chosen, *plan.others)],
        why=plan.why,
        overridden=plan.overridden,
        ruled_out=out,
        offer=plan.offer,
        warnings=plan.warnings,
        cautions=plan.cautions,
        supplies=refs,
        recipe_versions=row.recipe_versions,
    )


def card_sheet(workshop: Workshop, row: Plan, view: PlanView) -> PackCard:
    """Return what stands on the pack card: the chosen way with its layers and amounts."""
    way = view.ways[0]
    supplies = {ref.code: ref for ref in view.supplies}
    return PackCard(
        order=row.order.number,
        buyer=row.order.buyer,
        goods=tuple((piece.quantity, piece.name, piece.sku) for piece in view.pieces),
        candidate=way.candidate,
        layers=way.layers,
        amounts=tuple(
            (supplies[use.supply].name, supplies[use.supply].place, use.quantity, supplies[use.supply].unit, use.detail)
            for use in way.candidate.uses
            if use.supply in supplies
        ),
        cautions=view.cautions,
        ship_on=f"{row.ship_on:%a} {row.ship_on.day} {row.ship_on:%b %Y}",
        unit_system=workshop.unit_system,
    )


def _goods_cost(workshop: Workshop, plan: PlannedOrder) -> Decimal:
    skus: dict[str, int] = {}
    for piece in plan.pieces:
        skus[piece.sku] = skus.get(piece.sku, 0) + piece.units
    costs = Product.objects.of(workshop).filter(sku__in=skus).values_list("sku", "goods_cost")
    return sum((cost * skus[sku] for sku, cost in costs), Decimal(0))


def _way(candidate: Candidate, plan: PlannedOrder, names: dict[str, str], wage: Decimal, goods: Decimal) -> Way:
    return Way(
        candidate=candidate,
        layers=layers_of(candidate, plan.pieces, speaking_band(plan.pieces), names),
        workings=workings_of(candidate, plan.pieces, wage_per_hour=wage, goods_cost=goods),
        difference=candidate.costs.total - plan.chosen.costs.total,
        chosen=candidate is plan.chosen,
    )


def drawing_of(piece: Piece) -> PieceView:
    """Return what the drawings need of a piece."""
    wrapped = (piece.size.length_um, piece.size.width_um, piece.size.height_um)
    return PieceView(
        sku=piece.code, name=piece.called, quantity=piece.quantity, wrapped=wrapped, weight_mg=piece.weight_mg
    )


def supply_refs(workshop: Workshop, codes: set[str]) -> list[SupplyRef]:
    """Return names and places of supplies, in one query."""
    rows = Supply.objects.of(workshop).filter(code__in=codes)
    return [SupplyRef(code=r.code, name=r.name, place=r.place, unit=STOCK_UNITS[r.kind]) for r in rows]
