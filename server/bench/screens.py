"""A parcel at the bench as the screens read it: its plan, its steps, its label, what comes next."""

from datetime import date, datetime
from decimal import Decimal
from typing import Any, Literal

from django.http import Http404
from pydantic import BaseModel

from core.bench.steps import BenchStep
from core.bench.weighing import WeightCheck
from core.messages import Text
from core.parcels.candidate import Candidate
from core.parcels.layers import PackLayer, pack_layers
from core.tariffs.quote import Quote, Refusal
from server.bench import labels
from server.bench.models import Parcel
from server.bench.offers import charge_at_weight, offers
from server.bench.selectors import parcels_of, part_of, steps_for, weight_check_of
from server.carriers.models import Label
from server.orders.screens import OrderOut, order_out
from server.plans.mapping import texts_from_json
from server.plans.models import TrialPick
from server.plans.screens import GoodsView, PieceView, SupplyRef, drawing_of, goods_of, supply_refs
from server.recipes.models import Product, ProductPhoto
from server.standins.carrier import EventKind
from server.workshops.models import Workshop

__all__ = ["LabelOut", "ParcelOut", "ParcelRow", "PartOut", "found_parcel", "parcel_out", "parcel_rows"]


class ParcelRow(BaseModel):
    """One parcel in the list."""

    id: int
    order_id: int
    number: str
    part: int  #: which of the order's parcels, from 1
    parts: int
    buyer: str
    state: str
    container: Text
    step: int
    closed_at: datetime | None
    tracking: str


class LabelEvent(BaseModel):
    """One thing the carrier told of a parcel."""

    on: date
    words: str
    kind: EventKind | Literal[""] = ""  #: empty: told before that was kept


class LabelOut(BaseModel):
    """The parcel's label."""

    state: str
    service: str
    service_name: str
    price: Decimal
    tracking: str
    events: list[LabelEvent]
    measured_mg: int | None
    charged_more: Decimal
    told_at: datetime | None
    recorded: str  #: what the carrier said by telephone, and who wrote it down


class ChargeOut(BaseModel):
    """The label was bought at another weight: what the carrier will charge."""

    bought_mg: int
    now_mg: int
    listed: Decimal
    asked: Decimal | None  #: None: its service does not take the parcel at this weight


class PartOut(BaseModel):
    """One of an order's parcels."""

    id: int
    part: int
    state: str
    tracking: str


class TrialPicked(BaseModel):
    """The trial an order is part of, and the version it is packed by."""

    question: str
    version: int


class ParcelOut(BaseModel):
    """A parcel at the bench with everything the screen needs."""

    id: int
    state: str
    order: OrderOut
    part: int  #: which of the order's parcels, from 1
    parts: list[PartOut]  #: all of the order's parcels, in turn
    goods: list[GoodsView]
    candidate: Candidate
    pieces: list[PieceView]
    layers: tuple[PackLayer, ...]
    steps: tuple[BenchStep, ...]
    supplies: list[SupplyRef]
    goods_places: dict[str, str]
    photos: dict[str, int]  #: product id by sku, of those that have a photo
    recipe_versions: dict[str, int]
    trial: TrialPicked | None  #: a trial picked the version it is packed by
    step: int
    ticked: dict[str, int]
    skipped: list[int]  #: steps gone past without doing them
    measured_mg: int | None
    weighed_by_hand: bool
    weight_check: WeightCheck | None
    weight_settled: str
    offers: tuple[Quote, ...]
    refusals: tuple[Refusal, ...]
    label: LabelOut | None
    charge: ChargeOut | None  #: None: the label's own price stands
    surplus_labels: list[str]  #: tracking of labels sold besides the one it goes by, still to be given back
    charge_agreed: Decimal | None
    tracking: str
    postage: Decimal | None
    closed_at: datetime | None
    closed_by: str


def found_parcel(workshop: Workshop, parcel_id: int) -> Parcel:
    """Return a parcel with its order and plan. Raises Http404, also for one that was undone."""
    rows = Parcel.objects.of(workshop).exclude(state=Parcel.State.UNDONE).select_related("order", "kept")
    row = rows.filter(pk=parcel_id).first()
    if row is None:
        raise Http404
    return row


def parcel_out(workshop: Workshop, parcel_id: int) -> ParcelOut:
    """Return one parcel with everything the screen needs. Raises Http404."""
    row = found_parcel(workshop, parcel_id)
    mine = part_of(row)
    refs = supply_refs(workshop, {use.supply for use in mine.candidate.uses})
    names = {ref.code: ref.name for ref in refs}
    quotes, refusals = offers(workshop, row) if row.state == Parcel.State.PACKING else ((), ())
    label = labels.live_label(workshop, row)
    places = (
        Product.objects.of(workshop).filter(sku__in=[piece.sku for piece in mine.pieces]).values_list("sku", "shelf")
    )
    return ParcelOut(
        id=row.pk,
        state=row.state,
        order=order_out(workshop, row.order),
        part=row.part,
        parts=[
            PartOut(id=p.pk, part=p.part, state=p.state, tracking=p.tracking)
            for p in parcels_of(workshop, row.order_id).defer("kept__content")
        ],
        goods=goods_of(mine),
        candidate=mine.candidate,
        pieces=[drawing_of(piece) for piece in mine.pieces],
        layers=pack_layers(mine, names),
        steps=steps_for(row, names),
        supplies=refs,
        goods_places=dict(places),
        photos=dict(
            ProductPhoto.objects.of(workshop)
            .filter(product__sku__in=[piece.sku for piece in mine.pieces])
            .values_list("product__sku", "product_id")
        ),
        recipe_versions={piece.recipe: row.recipe_versions[piece.recipe] for piece in mine.pieces},
        trial=_trial(workshop, row),
        step=row.step,
        ticked=row.ticked,
        skipped=row.skipped,
        measured_mg=row.measured_mg,
        weighed_by_hand=row.weighed_by_hand,
        weight_check=weight_check_of(row),
        weight_settled=row.weight_settled,
        offers=quotes,
        refusals=refusals,
        label=_label(label),
        charge=_charge(workshop, row, label),
        surplus_labels=list(
            Label.objects.of(workshop).filter(parcel=row, state=Label.State.SURPLUS).values_list("tracking", flat=True)
        ),
        charge_agreed=row.charge_agreed,
        tracking=row.tracking,
        postage=row.postage,
        closed_at=row.closed_at,
        closed_by=row.closed_by,
    )


def _label(row: Label | None) -> LabelOut | None:
    if row is None:
        return None
    return LabelOut(
        state=row.state,
        service=row.service,
        service_name=row.service_name,
        price=row.price,
        tracking=row.tracking,
        events=[LabelEvent.model_validate(event) for event in row.events],
        measured_mg=row.measured_mg,
        charged_more=row.charged_more,
        told_at=row.told_at,
        recorded=row.recorded,
    )


def _charge(workshop: Workshop, row: Parcel, label: Label | None) -> ChargeOut | None:
    if label is None or label.state != Label.State.BOUGHT or row.state != Parcel.State.PACKING:
        return None
    charge = charge_at_weight(workshop, row, label)
    if charge is None:
        return None
    return ChargeOut(bought_mg=charge.bought_mg, now_mg=charge.now_mg, listed=charge.listed, asked=charge.asked)


def parcel_rows(page: list[Any]) -> list[ParcelRow]:
    """Return parcels for the list; rows need ``order`` selected."""
    return [_row(parcel) for parcel in page]


def _row(parcel: Parcel) -> ParcelRow:
    return ParcelRow(
        id=parcel.pk,
        order_id=parcel.order_id,
        number=parcel.order.number,
        part=parcel.part,
        parts=parcel.parts,
        buyer=parcel.order.buyer,
        state=parcel.state,
        container=texts_from_json([parcel.container])[0],
        step=parcel.step,
        closed_at=parcel.closed_at,
        tracking=parcel.tracking,
    )


def _trial(workshop: Workshop, row: Parcel) -> TrialPicked | None:
    pick = TrialPick.objects.of(workshop).filter(order_id=row.order_id).select_related("version").first()
    # Picked after it was begun, it is packed as it was begun.
    if pick is None or pick.version.number not in row.recipe_versions.values():
        return None
    return TrialPicked(question=pick.question, version=pick.version.number)
