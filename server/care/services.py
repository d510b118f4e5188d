"""Hearing the forecast, and marking the plans it concerns; consent of buyers; packs in the freezer (care)."""

from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from decimal import Decimal
from uuid import UUID

from django.db import transaction
from django.db.models import F, Q
from django.utils import timezone

from core.care.report import CareReport, look_at
from core.care.road import hub_of, place_key
from core.parcels.facts import CareChoice, Overrides
from core.parcels.plan import PlannedOrder
from core.tariffs.zones import plain_postcode
from server.api.problems import Refused
from server.care.models import Consent, FrozenLot
from server.carriers.selectors import core_tariffs
from server.orders.models import Order
from server.plans.facts import Loaded, load, place_of
from server.plans.mapping import KeptCare, care_from_json, kept_care_to_json, plan_of
from server.plans.models import Plan
from server.plans.services import open_orders, plan_later, set_decisions
from server.plans.writing import overrides_of
from server.recipes.models import Product
from server.standins.forecast import ForecastFeed, ForecastSilent, Foretold, SimulatedForecast
from server.supplies.models import Balance, Supply
from server.weather.models import ForecastDay, Heard
from server.weather.selectors import is_silent
from server.workshops.clock import today
from server.workshops.judging import judgements_of
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = [
    "Freezer",
    "ask_consent",
    "freezable",
    "freeze",
    "freezer_of",
    "hard_at",
    "hear_forecast",
    "hours_to_freeze",
    "places_on_the_way",
    "put_back",
    "take_answer",
    "take_out",
    "unfreeze",
    "volume_l",
]

#: So many days are asked for.
_DAYS = 10
#: A forecast that moved by less changes no plan.
_MOVED_C = Decimal("0.5")
_MOST_SILENT_NOTE = 120


def places_on_the_way(workshop: Workshop) -> set[str]:
    """Return every place whose weather some open order meets, if it has goods with a limit or is given some."""
    places = {place_key(workshop.country, plain_postcode(workshop.postcode))}
    places |= {hub_of(tariff.carrier) for tariff in core_tariffs(workshop)}
    rows = open_orders(workshop).only("country", "postcode")
    return places | {place_key(place.country, place.postcode) for place in map(place_of, rows)}


def hear_forecast(workshop: Workshop, feed: ForecastFeed | None = None) -> int:
    """Ask the forecast and keep what it says; plans it concerns are looked at, and made again where they must.

    Silence is written down and changes nothing by itself, except that after a day no forecast is believed: plans that
    rested on one are looked at with what is usual, said so. Returns how many plans are to be made again.
    """
    if not _any_limit(workshop):
        return 0
    now = timezone.now()
    was_silent = is_silent(workshop)
    places = places_on_the_way(workshop)
    try:  # outside any transaction: it may be slow
        found = (feed or SimulatedForecast()).foretell(workshop, places, _DAYS)
    except ForecastSilent as error:
        Heard.objects.of(workshop).update_or_create(
            workshop=workshop, defaults={"asked_at": now, "trouble": str(error)[:_MOST_SILENT_NOTE]}
        )
        return _look_again(workshop, None) if not was_silent and is_silent(workshop) else 0
    with transaction.atomic():
        lock_workshop(workshop)
        moved = _keep(workshop, found, now)
        Heard.objects.of(workshop).update_or_create(
            workshop=workshop, defaults={"asked_at": now, "heard_at": now, "trouble": ""}
        )
    return _look_again(workshop, None if was_silent else moved)


def _any_limit(workshop: Workshop) -> bool:
    """Nobody is asked about the weather for goods that stand any."""
    limit = Q(lowest_c__isnull=False) | Q(highest_c__isnull=False) | Q(frozen=True) | Q(meltable=True)
    return Product.objects.of(workshop).filter(limit, retired_at=None).exists()


def _keep(workshop: Workshop, found: Iterable[Foretold], now: datetime) -> set[tuple[str, date]]:
    """Write the forecast down; return the places and days at which it moved."""
    known = {(row.place, row.day): row for row in ForecastDay.objects.of(workshop).filter(day__gte=today(workshop))}
    moved: set[tuple[str, date]] = set()
    rows = []
    for one in found:
        low, high = Decimal(str(one.low_c)), Decimal(str(one.high_c))
        before = known.get((one.place, one.day))
        if before is None or max(abs(before.low_c - low), abs(before.high_c - high)) >= _MOVED_C:
            moved.add((one.place, one.day))
        rows.append(ForecastDay(workshop=workshop, place=one.place, day=one.day, low_c=low, high_c=high, heard_at=now))
    ForecastDay.objects.of(workshop).bulk_create(
        rows,
        update_conflicts=True,
        unique_fields=["workshop", "place", "day"],
        update_fields=["low_c", "high_c", "heard_at"],
    )
    ForecastDay.objects.of(workshop).filter(day__lt=today(workshop) - timedelta(days=2)).delete()
    return moved


def _look_again(workshop: Workshop, moved: Collection[tuple[str, date]] | None) -> int:
    """Look at the plans whose way meets what moved (None: all with limits), mark those that must be made again.

    A plan that is safe before and after and has nothing in it against the weather stays: only its picture of the way is
    new. Returns how many are marked.
    """
    plans = [
        plan
        for plan in Plan.objects.of(workshop)
        .filter(order__in=open_orders(workshop), status="planned", stale=False)
        .exclude(care_state="")
        .select_related("order", "kept")
        if moved is None or _meets(care_from_json(plan.care), moved)
    ]
    if not plans:
        return 0
    loaded = load(workshop, [plan.order for plan in plans])
    marked: list[int] = []
    fresh: list[Plan] = []
    for plan in plans:
        report = _looked_at(plan, loaded)
        before = care_from_json(plan.care)
        if report is None or before is None or _must_change(before.report, report, silent=loaded.weather.silent):
            marked.append(plan.pk)
        else:
            plan.care = kept_care_to_json(replace(before, report=report))
            fresh.append(plan)
    with transaction.atomic():
        lock_workshop(workshop)
        for plan in fresh:  # a plan made meanwhile keeps what it was made with
            Plan.objects.of(workshop).filter(pk=plan.pk, at=plan.at).update(care=plan.care)
        if Plan.objects.of(workshop).filter(pk__in=marked).update(stale=True):
            plan_later(workshop)
    return len(marked)


def _meets(kept: KeptCare | None, moved: Collection[tuple[str, date]]) -> bool:
    return kept is None or any(
        (hour.place, hour.begins.date()) in moved for parcel in kept.report.parcels for hour in parcel.hours
    )


def _looked_at(plan: Plan, loaded: Loaded) -> CareReport | None:
    planned = plan_of(plan.kept)
    if not isinstance(planned, PlannedOrder):
        return None
    lines = loaded.lines_of(plan.order)
    context = loaded.care_context(plan.order, lines, loaded.facts.free)
    return look_at(planned.chosen.parcels, plan.ship_on, context, overrides_of(plan).care)


def _must_change(before: CareReport, after: CareReport, *, silent: bool) -> bool:
    """Safe before and after without packs: it stays. Packs may have become too many, danger may have passed.

    While nothing is foretold nothing is released by itself: only what has got worse is made again.
    """
    if silent:
        return before.verdict == "safe" and after.verdict != "safe"
    packed = any(parcel.wish.any for parcel in before.parcels)
    return packed or before.verdict == "danger" or after.verdict != before.verdict


# --- consent ---------------------------------------------------------------------------------------------------


@transaction.atomic
def ask_consent(*, by: Member, order_id: int, text: str, low_c: Decimal | None, high_c: Decimal | None) -> Consent:
    """Keep the question that goes to a buyer; asked again, the new question takes its place and the answer is gone."""
    lock_workshop(by.workshop)
    order = _open(by.workshop, order_id)
    row, _ = Consent.objects.of(by.workshop).update_or_create(
        workshop=by.workshop,
        order=order,
        defaults={
            "text": text.strip(),
            "asked_at": timezone.now(),
            "asked_by": by.name,
            "low_c": low_c,
            "high_c": high_c,
            "answer": "",
            "words": "",
            "answered_on": None,
            "noted_by": "",
            "noted_at": None,
        },
    )
    return row


def take_answer(
    *, by: Member, order_id: int, answer: str, words: str, answered_on: date, chosen: Overrides | None = None
) -> Consent:
    """Write a buyer's answer down with their words and the day, and plan the order as they chose.

    As it is: they agree to goods as warm or cold as they were told, and no further. Else ``chosen`` is what is decided
    for them: a later day, a liner, packs. Raises Refused when nobody asked, for a day that is to come, when what they
    chose is not said, or when no plan comes of it: then nothing is written.
    """
    row = _asked(by.workshop, order_id)
    _refuse_answer(by.workshop, answer, words, answered_on, chosen)
    plan = Plan.objects.of(by.workshop).filter(order_id=order_id).first()
    decided = overrides_of(plan) if plan is not None else Overrides()
    if answer != Consent.Answer.AS_IT_IS and chosen is not None:
        decided = chosen
    care = decided.care or CareChoice()
    care = replace(care, agreed_low_c=None, agreed_high_c=None, agreed_words="", agreed_on=None)
    if answer == Consent.Answer.AS_IT_IS:
        care = replace(
            care, agreed_low_c=row.low_c, agreed_high_c=row.high_c, agreed_words=words.strip(), agreed_on=answered_on
        )
    wanted = replace(decided, care=care if care != CareChoice() else None)
    set_decisions(workshop=by.workshop, order_id=order_id, wanted=wanted)
    with transaction.atomic():
        lock_workshop(by.workshop)
        row = Consent.objects.of(by.workshop).select_for_update().get(pk=row.pk)
        row.answer, row.words, row.answered_on = answer, words.strip(), answered_on
        row.noted_by, row.noted_at = by.name, timezone.now()
        row.save()
    return row


def _asked(workshop: Workshop, order_id: int) -> Consent:
    _open(workshop, order_id)
    row = Consent.objects.of(workshop).filter(order_id=order_id).first()
    if row is None:
        raise Refused("Nobody asked this buyer yet. Keep the question first.", code="not_asked", field="answer")
    return row


def _refuse_answer(workshop: Workshop, answer: str, words: str, answered_on: date, chosen: Overrides | None) -> None:
    if answered_on > today(workshop):
        raise Refused("An answer cannot be of a day to come.", code="not_valid", status=422, field="answered_on")
    if not words.strip():
        raise Refused("Write down what the buyer said.", code="not_valid", status=422, field="words")
    if answer == Consent.Answer.WAIT and (chosen is None or chosen.not_before is None):
        raise Refused("Say the day they wait for.", code="not_valid", status=422, field="decisions")
    if answer == Consent.Answer.INSULATED and (chosen is None or chosen.care is None or not chosen.care.wish.any):
        raise Refused("Say what goes in: a liner, packs, or both.", code="not_valid", status=422, field="decisions")


def _open(workshop: Workshop, order_id: int) -> Order:
    order = Order.objects.of(workshop).filter(pk=order_id).first()
    if order is None:
        raise Refused("There is no such order in your workshop.", code="not_found", status=404)
    if order.state not in Order.OPEN:
        raise Refused("This order is at the bench or packed; its plan is kept as it is.", code="not_open")
    return order


# --- the freezer -----------------------------------------------------------------------------------------------


def hours_to_freeze(supply: Supply) -> Decimal:
    """Return how long a pack needs until it is hard."""
    return Decimal(str((supply.facts.get("pack") or {}).get("freeze_hours", "12")))


def hard_at(lot: FrozenLot) -> datetime:
    """Return from when packs of a lot are frozen through."""
    return lot.since + timedelta(seconds=int(hours_to_freeze(lot.supply) * 3600))


def freezable(workshop: Workshop) -> list[Supply]:
    """Return the kinds of pack that are frozen."""
    rows = Supply.objects.of(workshop).filter(kind="insert", retired_at=None, facts__pack__isnull=False)
    packs = [row for row in rows.order_by("code") if row.facts.get("pack")]
    return [row for row in packs if row.facts["pack"].get("kind") != "heat" and hours_to_freeze(row) > 0]


@dataclass(frozen=True, slots=True, kw_only=True)
class Freezer:
    """How full the freezer is, litres."""

    used_l: Decimal
    room_l: Decimal


def volume_l(supply: Supply) -> Decimal:
    """Return the room one pack takes."""
    facts = supply.facts
    pack = facts.get("pack") or {}
    um3 = int(facts.get("thickness_um", 0)) * int(pack.get("length_um", 0)) * int(pack.get("width_um", 0))
    return (Decimal(um3) / Decimal(10**15)).quantize(Decimal("0.001"))


def freezer_of(workshop: Workshop) -> Freezer:
    """Return what the freezer holds, by the packs' own measures."""
    rows = FrozenLot.objects.of(workshop).filter(left__gt=0).select_related("supply")
    used = sum((volume_l(row.supply) * row.left for row in rows), Decimal(0))
    return Freezer(used_l=used, room_l=judgements_of(workshop).freezer_l)


@transaction.atomic
def freeze(*, by: Member, supply_id: int, quantity: int, request_key: UUID) -> FrozenLot:
    """Write that packs were put into the freezer now; sent twice, it counts once.

    Raises Refused (404; what is no pack; more than there are; more than the freezer takes).
    """
    lock_workshop(by.workshop)
    done = FrozenLot.objects.of(by.workshop).filter(request_key=request_key).first()
    if done is not None:
        return done
    supply = Supply.objects.of(by.workshop).filter(pk=supply_id).first()
    if supply is None:
        raise Refused("There is no such supply in your cupboard.", code="not_found", status=404)
    pack = supply.facts.get("pack")
    if not pack or pack.get("kind") == "heat":
        raise Refused(f"{supply.name} is nothing to freeze.", code="not_a_pack", field="supply_id")
    lots = FrozenLot.objects.of(by.workshop).filter(supply=supply, left__gt=0)
    frozen = sum(lots.values_list("left", flat=True))
    balance = Balance.objects.of(by.workshop).filter(supply=supply).first()
    held = int(balance.on_hand) if balance is not None else 0
    if frozen + quantity > held:
        raise Refused(
            f"{supply.name}: {held} on hand, {frozen} of them in the freezer; {quantity} more cannot go in. "
            "Count the shelf, or freeze fewer.",
            code="too_little",
            field="quantity",
        )
    freezer = freezer_of(by.workshop)
    needs = volume_l(supply) * quantity
    if freezer.used_l + needs > freezer.room_l:
        raise Refused(
            f"The freezer takes {freezer.room_l.normalize():f} l of packs; {freezer.used_l:.1f} l are in it and "
            f"{needs:.1f} l more do not go in. Take some out, or change its room in Settings.",
            code="freezer_full",
            field="quantity",
        )
    return FrozenLot.objects.of(by.workshop).create(
        workshop=by.workshop,
        supply=supply,
        quantity=quantity,
        left=quantity,
        since=timezone.now(),
        by=by.name,
        request_key=request_key,
    )


@transaction.atomic
def unfreeze(*, by: Member, lot_id: int) -> None:
    """Take a lot out again: it was no freezing after all, or the packs are wanted elsewhere."""
    lock_workshop(by.workshop)
    lot = FrozenLot.objects.of(by.workshop).select_for_update().filter(pk=lot_id).first()
    if lot is None:
        raise Refused("These packs are not in the freezer any more.", code="not_found", status=404)
    if lot.left == lot.quantity:
        lot.delete()
    else:
        lot.left = 0
        lot.save(update_fields=["left"])


def put_back(workshop: Workshop, used: Mapping[str, int]) -> None:
    """Put packs of a parcel that was opened again back into the freezer's book: it takes them out again when closed."""
    for code, count in used.items():
        lots = (
            FrozenLot.objects.of(workshop).filter(supply__code=code, left__lt=F("quantity")).order_by("-since", "-id")
        )
        for lot in lots.select_for_update(of=("self",)):
            back = min(lot.quantity - lot.left, count)
            lot.left, count = lot.left + back, count - back
            lot.save(update_fields=["left"])
            if not count:
                break


def take_out(workshop: Workshop, used: dict[str, int]) -> None:
    """Take packs that left in a parcel out of the freezer's book, the oldest first. Call inside its transaction."""
    codes = [code for code, count in used.items() if count > 0]
    if not codes:
        return
    left = dict(used)
    lots = FrozenLot.objects.of(workshop).filter(supply__code__in=codes, left__gt=0).select_related("supply")
    for lot in lots.select_for_update(of=("self",)):
        taken = min(lot.left, left.get(lot.supply.code, 0))
        if taken:
            lot.left -= taken
            left[lot.supply.code] -= taken
            lot.save(update_fields=["left"])
