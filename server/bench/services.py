"""The bench's writes: begin, go on, weigh, settle, close, reopen, take off. One function a task.

Every one locks the parcel's row first: one packer at a time.
"""

from collections.abc import Collection, Mapping, Sequence
from datetime import datetime, timedelta
from decimal import Decimal
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from core.bench.steps import BenchStep
from core.bench.weighing import median_mg, settle
from core.messages import Text, say
from core.parcels.candidate import PlannedParcel
from core.parcels.plan import PlannedOrder
from core.recipes.expand import Use
from core.units import format_length, format_weight
from server.api.problems import Refused
from server.bench import ready
from server.bench.changed import refuse_changed
from server.bench.models import Parcel, StepTime, buyer_code
from server.bench.offers import charge_at_weight
from server.bench.selectors import CHECK, checked, parcels_of, part_of, planned, slips_for, steps_for, weight_check_of
from server.care.services import put_back, take_out
from server.carriers.models import Label
from server.orders.models import Order
from server.orders.services import cancel as cancel_order
from server.plans.facts import settings_of
from server.plans.mapping import plan_of, plan_to_json, texts_from_json, texts_to_json
from server.plans.models import Plan, PlannedUse
from server.plans.services import fresh_plan, plan_stale
from server.standins.scale import Load, Scale, SimulatedScale
from server.supplies.models import Supply
from server.supplies.services import post_spoiled, post_uses, reverse_uses
from server.workshops.happened import tell_left
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = [
    "SCALE",
    "begin",
    "close",
    "expected_uses",
    "hand_over",
    "load_of",
    "measure_outer",
    "reopen",
    "save_progress",
    "settle_weight",
    "take_off",
    "weigh",
]

SCALE: Scale = SimulatedScale()


def begin(*, by: Member, order_id: int) -> Parcel:
    """Bring a planned order to the bench, all its parcels; returns the first to pack. Asked again, the same.

    Raises Refused when the order is held, or its plan lacks something.
    """
    plan_stale(workshop=by.workshop, orders=[order_id])  # before anything is locked
    return _begin(by.workshop, order_id)


@transaction.atomic
def _begin(workshop: Workshop, order_id: int) -> Parcel:
    lock_workshop(workshop)
    order = Order.objects.of(workshop).select_for_update().filter(pk=order_id).first()
    if order is None:
        raise Refused("There is no such order in your workshop.", code="not_found", status=404)
    existing = _first_to_pack(workshop, order)
    if existing is not None:
        return existing
    if order.state == Order.State.CANCELLED:
        raise Refused((f"Order {order.number} is cancelled.", order.hold_text), code="cancelled")
    if order.joined_into is not None:
        raise Refused(
            f"Order {order.number} is packed with order {order.joined_into.number}: bring that one to the bench.",
            code="joined",
        )
    plan = fresh_plan(workshop=workshop, order_id=order_id)
    order.refresh_from_db()
    if order.state != Order.State.PLANNED:
        reasons: tuple[Text, ...] = (order.hold_text,) if order.hold_code else texts_from_json(plan.missing)
        if not reasons:
            reasons = (say("held_until", leaves_on=plan.ship_on),)
        raise Refused((f"Order {order.number} may not be packed yet.", *reasons), code="held")
    stored = plan_of(plan.kept)
    if not isinstance(stored, PlannedOrder):  # pragma: no cover - a planned order has a plan
        raise TypeError(f"order {order.number} is planned without a plan")
    made = Parcel.objects.of(workshop).bulk_create(
        Parcel(
            workshop=workshop,
            order=order,
            part=part,
            parts=len(stored.chosen.parcels),
            kept=plan.kept,
            container=texts_to_json((one.candidate.name,))[0],
            recipe_versions=plan.recipe_versions,
            buyer_code=buyer_code(),
            begun_at=timezone.now(),
        )
        for part, one in enumerate(stored.chosen.parcels, start=1)
    )
    order.state = Order.State.BENCH
    order.save(update_fields=["state"])
    if len(made) == 1:
        made[0].ready = ready.take_for(made[0], stored.chosen.parcels[0])
        if made[0].ready is not None:
            made[0].save(update_fields=["ready"])
            _promise(workshop, order.pk, made)
    return made[0]


def packs_of(parcel: PlannedParcel) -> dict[str, int]:
    """Return how many packs of each kind a parcel takes with it."""
    counts: dict[str, int] = {}
    for carton in parcel.cartons:
        thermal = carton.candidate.thermal
        if thermal is not None and thermal.pack:
            counts[thermal.pack] = counts.get(thermal.pack, 0) + thermal.count
    return counts


def _first_to_pack(workshop: Workshop, order: Order) -> Parcel | None:
    rows = list(parcels_of(workshop, order.pk))
    return next((row for row in rows if row.state == Parcel.State.PACKING), rows[0] if rows else None)


@transaction.atomic
def save_progress(
    *,
    by: Member,
    parcel_id: int,
    step: int,
    ticked: dict[str, int],
    skipped: Sequence[int] = (),
    spent: Mapping[int, int] | None = None,
) -> Parcel:
    """Keep where the packer is and which steps are left open: survives a reload, a restart, another tablet.

    ``spent``: seconds hands took for steps so far, by step; what is known already only grows, so it may be sent again.
    A step that comes in after the parcel was closed (the close overtook it) says nothing but how long it took.
    """
    parcel = _locked(by.workshop, parcel_id)
    steps = steps_for(parcel, {})
    if parcel.state == Parcel.State.CLOSED:
        _keep_times(parcel, steps, spent or {})
        return parcel
    count = len(steps)
    if not 0 <= step < count:
        raise Refused(
            f"This parcel has steps 0 to {count - 1}; given: {step}.", code="not_valid", status=422, field="step"
        )
    parcel.step, parcel.ticked, parcel.steps_in_all = step, ticked, count
    parcel.skipped = sorted({one for one in skipped if one < count})
    parcel.save(update_fields=["step", "ticked", "skipped", "steps_in_all"])
    _keep_times(parcel, steps, spent or {})
    return parcel


def _keep_times(parcel: Parcel, steps: Sequence[BenchStep], spent: Mapping[int, int]) -> None:
    """Write down how long steps took; a time that is shorter than the one that is kept says nothing new."""
    rows = StepTime.objects.of(parcel.workshop_id).filter(parcel=parcel)
    known = dict(rows.values_list("step", "seconds"))
    StepTime.objects.of(parcel.workshop_id).bulk_create(
        (
            StepTime(
                workshop_id=parcel.workshop_id,
                parcel=parcel,
                step=step,
                kind=steps[step].kind,
                units=steps[step].tick_units,
                seconds=seconds,
            )
            for step, seconds in spent.items()
            if step < len(steps) and seconds > known.get(step, 0)
        ),
        update_conflicts=True,
        unique_fields=["parcel", "step"],
        update_fields=["seconds"],
    )


@transaction.atomic
def weigh(*, by: Member, parcel_id: int, typed_mg: int | None) -> Parcel:
    """Take the scale's settled weight, or one typed in (marked as such), and compare it with the plan.

    Raises Refused when the scale has not settled, is absent, over capacity, or too coarse for the load.
    """
    parcel = _packing(by.workshop, parcel_id)
    mine = part_of(parcel)
    if typed_mg is None:
        reading = SCALE.read(by.workshop, load_of(parcel), again=False)
        state = settle(reading)
        if state != "settled":
            raise Refused(_SCALE_WORDS[state], code=f"scale_{state}", status=409)
        measured_mg = median_mg(reading)
    else:
        measured_mg = typed_mg
    settings = settings_of(by.workshop)
    check = checked(mine, measured_mg, slips_for(by.workshop, planned(parcel), mine), settings)
    parcel.measured_mg = measured_mg
    parcel.weighed_by_hand = typed_mg is not None
    parcel.weight_check = CHECK.dump_python(check, mode="json")
    parcel.weight_settled = ""
    parcel.save()
    return parcel


_SCALE_WORDS = {
    "absent": "The scale does not answer. Check its cable, or type the weight in.",
    "settling": "The scale has not settled yet. Leave the parcel alone for a moment.",
    "over_capacity": "The parcel is heavier than the scale can take. Use a bigger scale and type the weight in.",
    "too_light": "The parcel is too light for this scale: it cannot tell it apart. Use a finer one and type the "
    "weight in.",
    "empty": "There is nothing on the scale. Put the parcel on it.",
}


@transaction.atomic
def settle_weight(*, by: Member, parcel_id: int, words: str) -> Parcel:
    """The packer says what a difference is and that the parcel is right as it stands."""
    parcel = _packing(by.workshop, parcel_id)
    check = weight_check_of(parcel)
    if check is None:
        raise Refused("Weigh the parcel first.", code="not_weighed")
    if check.fine:
        raise Refused("The weight is as planned; there is nothing to settle.", code="nothing_to_settle")
    parcel.weight_settled = f"{by.name}: {words}"[:200]
    parcel.save(update_fields=["weight_settled"])
    return parcel


@transaction.atomic
def close(*, by: Member, parcel_id: int, request_key: UUID, agreed: Decimal | None = None) -> Parcel:
    """Post everything used, with tracking, weight and postage: one transaction. The last parcel packs its order.

    ``agreed``: what a person agreed the carrier will charge, when it weighs other than its label says. Asked again with
    the same key, returns the parcel as closed then. Raises Refused: already_closed, undone, not_weighed,
    weight_not_settled, no_label, label_weight, change_waits.
    """
    lock_workshop(by.workshop)
    parcel = _locked(by.workshop, parcel_id)
    if parcel.state == Parcel.State.CLOSED:
        if parcel.close_key == request_key:
            return parcel
        raise Refused(
            f"{parcel.closed_by} closed this parcel already. Nothing was posted twice.", code="already_closed"
        )
    refuse_changed(by.workshop, parcel.order_id)
    check = weight_check_of(parcel)
    if check is None or parcel.measured_mg is None:
        raise Refused("Weigh the parcel before you close it.", code="not_weighed")
    if not check.fine and not parcel.weight_settled:
        raise Refused(("The weight needs a reason first.", check.message), code="weight_not_settled")
    label = Label.objects.of(by.workshop).filter(parcel=parcel, state=Label.State.BOUGHT).first()
    if label is None:
        raise Refused(
            "Buy the label before you close the parcel; one that is being cancelled does not count.", code="no_label"
        )
    parcel.charge_agreed = _agreed_charge(by.workshop, parcel, label, agreed)
    post_uses(workshop=by.workshop, used=_used(by.workshop, [parcel]), parcel_id=parcel.pk, by=by.name)
    take_out(by.workshop, packs_of(part_of(parcel)))
    parcel.state, parcel.close_key = Parcel.State.CLOSED, request_key
    parcel.closed_at, parcel.closed_by = timezone.now(), by.name
    closing = part_of(parcel).candidate.closing
    if closing is not None and closing.settle_minutes:
        parcel.holds_from = parcel.closed_at + timedelta(minutes=closing.settle_minutes)
    parcel.tracking, parcel.postage = label.tracking, label.price
    parcel.save()
    _settle_order(by.workshop, parcel.order_id)
    return parcel


#: A side that is off by more is a slip of the tape measure.
_OFF_UM = 60_000


@transaction.atomic
def measure_outer(
    *, by: Member, parcel_id: int, outer_um: tuple[int, int, int]
) -> tuple[tuple[int, int, int], tuple[int, int, int]]:
    """Keep how large a packed parcel is outside; return it with the planned outside, both um.

    Raises Refused (not_valid) when a side is far from what was planned.
    """
    lock_workshop(by.workshop)
    parcel = _locked(by.workshop, parcel_id)
    planned_um = part_of(parcel).candidate.outer.sides_um
    for name, real, side in zip(("length", "width", "height"), outer_um, planned_um, strict=True):
        if abs(real - side) > _OFF_UM:
            raise Refused(
                f"The {name} is planned as {format_length(side, by.workshop.unit_system)}; given: "
                f"{format_length(real, by.workshop.unit_system)}. Measure again, the longest side of the bottom first.",
                code="not_valid", status=422, field=name,
            )  # fmt: skip
    parcel.measured_outer_um = list(outer_um)
    parcel.save(update_fields=["measured_outer_um"])
    return outer_um, planned_um


@transaction.atomic
def reopen(*, by: Member, parcel_id: int, reason: str) -> Parcel:
    """Take a closed parcel back to the bench: the ledger gets the opposite entries, the label is kept."""
    lock_workshop(by.workshop)
    parcel = _locked(by.workshop, parcel_id)
    if parcel.state != Parcel.State.CLOSED:
        raise Refused("This parcel is not closed.", code="not_closed")
    if parcel.handed_over_at is not None:
        raise Refused(
            "This parcel was handed over. Undo the hand-over first; that can be done within the hour.",
            code="handed_over",
        )
    put_back(by.workshop, packs_of(part_of(parcel)))
    reverse_uses(workshop=by.workshop, parcel_id=parcel.pk, by=by.name, note=f"reopened: {reason}"[:200])
    parcel.state, parcel.close_key, parcel.closed_at, parcel.closed_by = Parcel.State.PACKING, None, None, ""
    parcel.tracking, parcel.postage, parcel.charge_agreed, parcel.holds_from = "", None, None, None
    parcel.save()
    _settle_order(by.workshop, parcel.order_id)
    return parcel


def hand_over(*, workshop: Workshop, parcel_ids: Collection[int], at: datetime | None) -> None:
    """Write that closed parcels have left, or (None) that they have not after all. In the caller's transaction."""
    Parcel.objects.of(workshop).filter(pk__in=parcel_ids, state=Parcel.State.CLOSED).update(handed_over_at=at)
    tell_left(workshop, parcel_ids, at)


def _settle_order(workshop: Workshop, order_id: int) -> None:
    """Promise what the order's open parcels need and no more; packed when there is none."""
    parcels = list(parcels_of(workshop, order_id))
    still = [one for one in parcels if one.state == Parcel.State.PACKING]
    _promise(workshop, order_id, still)
    state = Order.State.BENCH if still else Order.State.PACKED
    packed_at = None if still else max(one.closed_at for one in parcels if one.closed_at is not None)
    Order.objects.of(workshop).filter(pk=order_id).update(state=state, packed_at=packed_at)
    if not still:
        _keep_as_sent(parcels[0])


def _keep_as_sent(parcel: Parcel) -> None:
    """Once all has left, the ways that were not taken are of no use to anybody."""
    kept = parcel.kept
    kept.write(plan_to_json(planned(parcel).as_sent()))
    kept.save(update_fields=["content"])


def _agreed_charge(workshop: Workshop, parcel: Parcel, label: Label, agreed: Decimal | None) -> Decimal | None:
    """Return what the carrier will charge for the weight it has now, when that is not what the label cost.

    Raises Refused when nobody agreed to it, or the label's service does not take the parcel at all.
    """
    charge = charge_at_weight(workshop, parcel, label)
    if charge is None:
        return None
    weights = [format_weight(mg, workshop.unit_system) for mg in (charge.bought_mg, charge.now_mg)]
    bought = f"The label was bought for {weights[0]}; the parcel weighs {weights[1]} now."
    facts = {"bought_mg": charge.bought_mg, "now_mg": charge.now_mg, "listed": f"{charge.listed:f}"}
    if charge.asked is None:
        raise Refused(
            (bought, charge.reason, f"{label.service_name} does not take it. Cancel the label and buy another."),
            code="label_weight",
            facts=facts,
        )
    if agreed != charge.asked:
        raise Refused(
            f"{bought} By its list {label.service_name} asks {charge.asked:f} for that and {charge.listed:f} was paid "
            "for. Cancel the label and buy it again, or agree to that charge.",
            code="label_weight",
            facts={**facts, "asked": f"{charge.asked:f}"},
        )
    return charge.asked


def _promise(workshop: Workshop, order_id: int, still: Sequence[Parcel]) -> None:
    """Promise to the order what these parcels need and no more."""
    PlannedUse.objects.of(workshop).filter(plan__order_id=order_id).delete()
    if still:
        plan = Plan.objects.of(workshop).get(order_id=order_id)
        PlannedUse.objects.of(workshop).bulk_create(
            PlannedUse(workshop=workshop, plan=plan, supply_id=pk, quantity=quantity)
            for pk, quantity in _used(workshop, still).items()
        )


@transaction.atomic
def take_off(*, by: Member, parcel_id: int, reason: str, spoiled: Collection[str] = (), cancel: bool = False) -> Order:
    """Hold an order from the bench, or cancel it: its parcels are undone, the order set aside with the reason.

    What was laid out goes back to its shelf; ``spoiled`` are the supplies of this parcel that cannot: they leave the
    stock. Raises Refused when a parcel of the order is closed or has a label: that has cost money and is finished or
    reopened and given back first, not undone.
    """
    lock_workshop(by.workshop)
    parcel = _packing(by.workshop, parcel_id)
    parts = list(parcels_of(by.workshop, parcel.order_id))
    if any(part.state == Parcel.State.CLOSED for part in parts):
        raise Refused(
            "Another parcel of this order is closed. Finish this one too, or reopen that first.", code="already_closed"
        )
    labels = Label.objects.of(by.workshop).filter(parcel__in=parts)
    if labels.filter(state__in=Label.LIVE).exists():
        raise Refused(
            "A label was asked for already. Finish the parcel, or cancel its label first.",
            code="label_bought",
        )
    order = Order.objects.of(by.workshop).select_for_update().get(pk=parcel.order_id)
    _spoil(by, parcel, spoiled, reason)
    ready.give_back(by.workshop, parts)
    Parcel.objects.of(by.workshop).filter(pk__in=[part.pk for part in parts]).update(state=Parcel.State.UNDONE)
    _keep_as_sent(parcel)
    order.state, order.hold_code, order.hold_text = Order.State.HELD, "by_hand", reason
    order.save(update_fields=["state", "hold_code", "hold_text"])
    Plan.objects.of(by.workshop).filter(order=order).update(stale=True)
    return cancel_order(by=by, order_id=order.pk, reason=reason) if cancel else order


def _spoil(by: Member, parcel: Parcel, spoiled: Collection[str], reason: str) -> None:
    """Take what cannot be used again out of the stock."""
    if not spoiled:
        return
    used = _used(by.workshop, [parcel])
    ids = dict(Supply.objects.of(by.workshop).filter(pk__in=used).values_list("code", "pk"))
    unknown = sorted(set(spoiled) - set(ids))
    if unknown:
        raise Refused(
            f"{', '.join(unknown)[:100]}: this parcel uses no such supply; it uses {', '.join(sorted(ids))}.",
            code="unknown",
            status=422,
            field="spoiled",
        )
    lost = {ids[code]: used[ids[code]] for code in set(spoiled)}
    post_spoiled(workshop=by.workshop, lost=lost, parcel_id=parcel.pk, by=by.name, note=f"undone: {reason}"[:200])


def load_of(parcel: Parcel) -> Load:
    """Return what the stand-in scale needs to know of a parcel."""
    mine = part_of(parcel)
    inserts = [use.weight_mg // max(1, int(use.quantity)) for use in mine.candidate.uses if use.role == "insert"]
    return Load(
        parcel_id=parcel.pk,
        expected_mg=mine.candidate.weight.gross_mg,
        sigma_mg=mine.candidate.weight.sigma_mg,
        unit_mg=max(piece.weight_mg for piece in mine.pieces),
        insert_mg=max(inserts, default=0),
    )


def expected_uses(parcel: Parcel) -> dict[str, Decimal]:
    """Return what closing the parcel draws, by supply code."""
    found: dict[str, Decimal] = {}
    for use in _still_to_draw(parcel):
        found[use.supply] = found.get(use.supply, Decimal(0)) + use.quantity
    return found


def _used(workshop: Workshop, parcels: Sequence[Parcel]) -> dict[int, Decimal]:
    used: dict[str, Decimal] = {}
    for parcel in parcels:
        for code, quantity in expected_uses(parcel).items():
            used[code] = used.get(code, Decimal(0)) + quantity
    ids = dict(Supply.objects.of(workshop).filter(code__in=used).values_list("code", "pk"))
    return {ids[code]: quantity for code, quantity in used.items()}


def _still_to_draw(parcel: Parcel) -> list[Use]:
    """What closing the parcel draws: all of it, or only what is the order's when it was packed ahead."""
    mine = part_of(parcel)
    return [use for use in mine.candidate.uses if parcel.ready_id is None or ready.for_the_order(use, mine)]


def _locked(workshop: Workshop, parcel_id: int) -> Parcel:
    rows = Parcel.objects.of(workshop).select_for_update(of=("self",)).select_related("kept", "order")
    parcel = rows.filter(pk=parcel_id).first()
    if parcel is None:
        raise Refused("There is no such parcel in your workshop.", code="not_found", status=404)
    if parcel.state == Parcel.State.UNDONE:
        raise Refused(
            f"This parcel was undone: order {parcel.order.number} was taken off the bench. Open it from Orders.",
            code="undone",
        )
    return parcel


def _packing(workshop: Workshop, parcel_id: int) -> Parcel:
    parcel = _locked(workshop, parcel_id)
    if parcel.state == Parcel.State.CLOSED:
        raise Refused(f"{parcel.closed_by} closed this parcel. Reopen it first.", code="already_closed")
    return parcel
