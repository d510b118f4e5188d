"""A wave at the bench: what its parcels begin with is done for all at once, then each goes its own way (bench)."""

from collections.abc import Sequence

from django.db import transaction
from pydantic import BaseModel

from core.bench.steps import StepKind, Take
from core.bench.together import own_begins, shared_steps
from core.messages import Text
from server.api.problems import Refused
from server.bench.models import Parcel
from server.bench.selectors import steps_for
from server.bench.services import save_progress
from server.plans.mapping import texts_from_json
from server.recipes.models import Product
from server.supplies.models import Supply
from server.workshops.models import Member, Workshop

__all__ = ["TogetherOut", "done_together", "together"]

#: More are no wave any more.
_MOST = 30


class TogetherParcel(BaseModel):
    """A parcel of the wave that is still to be packed."""

    id: int
    number: str
    part: int
    parts: int
    buyer: str
    container: Text
    own_step: int  #: where its own steps begin
    step: int  #: where it stands


class TogetherPer(BaseModel):
    """How much of a step is for one parcel."""

    parcel_id: int
    units: int


class TogetherStep(BaseModel):
    """One step for several parcels."""

    kind: StepKind
    title: Text
    detail: Text
    takes: tuple[Take, ...]
    tick_units: int
    cautions: tuple[Text, ...]
    per: list[TogetherPer]


class TogetherOut(BaseModel):
    """What the parcels begin with together."""

    parcels: list[TogetherParcel]
    steps: list[TogetherStep]
    places: dict[str, str]  #: where each supply and product stands, by code


def together(workshop: Workshop, ids: Sequence[int]) -> TogetherOut:
    """Return the steps these parcels share, of those still being packed. Raises Refused (404) when there is none."""
    parcels = _packing(workshop, ids)
    supplies = {row.code: row for row in Supply.objects.of(workshop).only("code", "name", "shelf", "slot")}
    names = {code: row.name for code, row in supplies.items()}
    steps = {parcel.pk: steps_for(parcel, names) for parcel in parcels}
    # Who is in the midst of their own steps already has done these.
    fresh = {parcel.pk: steps[parcel.pk] for parcel in parcels if parcel.step < own_begins(steps[parcel.pk])}
    shared = shared_steps(fresh)
    codes = {take.code for one in shared for take in one.step.takes}
    shelves = Product.objects.of(workshop).filter(sku__in=codes).values_list("sku", "shelf")
    return TogetherOut(
        places={**dict(shelves), **{code: supplies[code].place for code in codes if code in supplies}},
        parcels=[
            TogetherParcel(
                id=parcel.pk,
                number=parcel.order.number,
                part=parcel.part,
                parts=parcel.parts,
                buyer=parcel.order.buyer,
                container=texts_from_json([parcel.container])[0],
                own_step=own_begins(steps[parcel.pk]),
                step=parcel.step,
            )
            for parcel in parcels
        ],
        steps=[
            TogetherStep(
                kind=one.step.kind,
                title=one.step.title,
                detail=one.step.detail,
                takes=one.step.takes,
                tick_units=one.step.tick_units,
                cautions=one.step.cautions,
                per=[TogetherPer(parcel_id=pk, units=units) for pk, units in one.parcels],
            )
            for one in shared
        ],
    )


@transaction.atomic
def done_together(*, by: Member, ids: Sequence[int]) -> list[Parcel]:
    """The shared steps are done: each parcel goes on with its own first step; one that is further stays where it is."""
    parcels = _packing(by.workshop, ids)
    for parcel in parcels:
        steps = steps_for(parcel, {})
        own = own_begins(steps)
        if parcel.step < own:
            ticked = {**parcel.ticked, **{str(at): steps[at].tick_units for at in range(own) if steps[at].tick_units}}
            save_progress(by=by, parcel_id=parcel.pk, step=own, ticked=ticked, skipped=parcel.skipped)
    return parcels


def _packing(workshop: Workshop, ids: Sequence[int]) -> list[Parcel]:
    wanted = list(dict.fromkeys(ids))
    if not 0 < len(wanted) <= _MOST:
        raise Refused(
            f"From 1 to {_MOST} parcels; given: {len(wanted)}.", code="not_valid", status=422, field="parcels"
        )
    rows = Parcel.objects.of(workshop).filter(pk__in=wanted, state=Parcel.State.PACKING)
    found = {row.pk: row for row in rows.select_related("order", "kept", "ready")}
    if not found:
        raise Refused("None of these parcels is being packed any more.", code="not_found", status=404)
    return [found[pk] for pk in wanted if pk in found]
