"""Which cartons to keep: the orders of a period, each content worked out by the planner in every carton (buying).

A report is worked out by the worker: it tells how far it is, can be cancelled, and is kept.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import timedelta
from decimal import Decimal

from django.db import transaction
from django.http import Http404
from django.utils import timezone
from procrastinate.contrib.django import app
from pydantic import BaseModel, TypeAdapter

from core.buying.cartons import CartonChoice, Chosen, Kept, choose_cartons, cost_by_k
from core.parcels.candidate import Candidate
from core.parcels.facts import Aim, Facts, Overrides
from core.parcels.single import try_all
from core.recipes.expand import OrderLine
from core.supplies.estimates import board_area_m2, carton_load_mg, carton_tare_mg
from core.supplies.items import Container, outer_of
from core.units import Size, format_size
from server.api.problems import Refused
from server.buying.models import CartonReport
from server.buying.reading import settings_of
from server.orders.models import Order
from server.plans.facts import load, place_of, ship_day
from server.supplies.selectors import slots_of
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = [
    "CARTON_TASK", "CartonReportOut", "begin_report", "cancel_report", "carton_of_size", "found_report", "report_out",
    "run_report",
]  # fmt: skip

CARTON_TASK = "carton_report"
#: Own sizes are looked for among so many of the most frequent contents.
_OWN_SIZES = 12
#: Inside sizes of one's own are whole centimetres.
_ROUND_UM = 10_000
#: Costs are chosen by in hundredths of a minor unit.
_PARTS = 10_000
_PLENTY = Decimal(1_000_000)


class CartonKindOut(BaseModel):
    """A kind of carton in a report."""

    code: str
    name: str
    own_size: bool  #: nobody sells it yet: worth asking a supplier for
    now: bool  #: it is on the shelf
    kept: bool
    parcels: int  #: that go into it, of the kinds kept
    used_for: list[str]  #: goods, the most frequent first
    without_it: Decimal | None  #: what the rest would cost more without it
    keeping_cost: Decimal


class CartonCurveOut(BaseModel):
    """What so many kinds cost."""

    kinds: int
    total: Decimal
    left_over: int
    proven: bool


class CartonSumsOut(BaseModel):
    """What a choice comes to over the period."""

    total: Decimal
    postage: Decimal
    materials: Decimal
    keeping_cost: Decimal
    asleep_cost: Decimal  #: money that lies on the shelf in its cartons


class CartonResult(BaseModel):
    """A report's answer."""

    contents: int
    parcels: int
    proven: bool
    kinds: list[CartonKindOut]
    curve: list[CartonCurveOut]
    in_none: list[str]  #: goods no carton takes as one parcel
    left_over: list[str]
    now: CartonSumsOut
    then: CartonSumsOut


class CartonReportOut(BaseModel):
    """One report, and how far it is."""

    id: int
    state: str
    at_most: int
    weeks: int
    own_sizes: bool
    done: int
    of: int
    problem: str
    by: str
    at: str
    result: CartonResult | None


_RESULT: TypeAdapter[CartonResult] = TypeAdapter(CartonResult)


def report_out(row: CartonReport) -> CartonReportOut:
    """Return a report as the screen reads it."""
    return CartonReportOut(
        id=row.pk,
        state=row.state,
        at_most=row.asked["at_most"],
        weeks=row.asked["weeks"],
        own_sizes=row.asked["own_sizes"],
        done=row.done,
        of=row.of,
        problem=row.problem,
        by=row.by,
        at=row.at.isoformat(),
        result=_RESULT.validate_python(row.result) if row.result else None,
    )


def found_report(workshop: Workshop, report_id: int) -> CartonReport:
    """Return a report. Raises Http404."""
    row = CartonReport.objects.of(workshop).filter(pk=report_id).first()
    if row is None:
        raise Http404
    return row


@transaction.atomic
def begin_report(*, by: Member, at_most: int, weeks: int, own_sizes: bool) -> CartonReport:
    """Have a report worked out by the worker. Raises Refused while another one is."""
    lock_workshop(by.workshop)
    rows = CartonReport.objects.of(by.workshop)
    if rows.filter(state__in=(CartonReport.State.WAITING, CartonReport.State.RUNNING)).exists():
        raise Refused("A report is being worked out. Wait for it, or cancel it.", code="under_way")
    row = rows.create(
        workshop=by.workshop,
        asked={"at_most": at_most, "weeks": weeks, "own_sizes": own_sizes},
        by=by.name,
        at=timezone.now(),
    )
    app.configure_task(CARTON_TASK, queue="plans", lock=f"cartons-{by.workshop.pk}").defer(
        workshop_id=by.workshop.pk, report_id=row.pk
    )
    return row


@transaction.atomic
def cancel_report(*, by: Member, report_id: int) -> CartonReport:
    """Work a report out no further. Raises Http404."""
    row = CartonReport.objects.of(by.workshop).select_for_update().filter(pk=report_id).first()
    if row is None:
        raise Http404
    if row.state in (CartonReport.State.WAITING, CartonReport.State.RUNNING):
        row.state, row.ended_at = CartonReport.State.CANCELLED, timezone.now()
        row.save(update_fields=["state", "ended_at"])
    return row


@dataclass(frozen=True, slots=True, kw_only=True)
class _Content:
    """One distinct content of the period."""

    words: str
    count: int
    lines: tuple[OrderLine, ...]
    aim: Aim


def run_report(workshop: Workshop, report_id: int) -> bool:
    """Work a report out. Returns whether it was done; not when it was cancelled. For the worker."""
    rows = CartonReport.objects.of(workshop).filter(pk=report_id)
    alive = rows.filter(state__in=(CartonReport.State.WAITING, CartonReport.State.RUNNING))
    if not alive.update(state=CartonReport.State.RUNNING, done=0):
        return False
    row = rows.get()
    contents, facts = _contents(workshop, row.asked["weeks"])
    rows.update(of=len(contents))
    costs: list[dict[str, Candidate]] = []
    own: list[Container] = []
    for number, content in enumerate(contents, start=1):
        costs.append(_in_each(content, facts))
        if row.asked["own_sizes"] and number <= _OWN_SIZES:
            size = _own_size(content, costs[-1])
            if size is not None and all(size != one.inner for one in own):
                own.append(carton_of_size(size, facts, f"OWN-{len(own) + 1}", workshop.unit_system))
        if not alive.update(done=number):
            return False
    if own:
        known = {one.code for one in facts.containers}
        with_own = replace(facts, containers=tuple(own), free={**facts.free, **{one.code: _PLENTY for one in own}})
        for content, found in zip(contents, costs, strict=True):
            more = _in_each(content, with_own)
            found.update({code: one for code, one in more.items() if code not in known})
            if not alive.exists():
                return False
    result = _result(workshop, row, contents, costs, facts, own)
    return bool(
        alive.update(state=CartonReport.State.DONE, result=result.model_dump(mode="json"), ended_at=timezone.now())
    )


def _contents(workshop: Workshop, weeks: int) -> tuple[list[_Content], Facts]:
    """Return the distinct contents of the period, the most frequent first, and the cupboard with plenty of all."""
    since = timezone.localdate() - timedelta(weeks=weeks)
    rows = Order.objects.of(workshop).filter(placed_on__gte=since, joined_into=None)
    orders = list(rows.exclude(state=Order.State.CANCELLED).order_by("-placed_on", "-id")[:3000])
    loaded = load(workshop, orders)
    day = ship_day(workshop)
    found: dict[tuple[tuple[str, int], ...], _Content] = {}
    for order in orders:
        lines = loaded.lines_of(order)
        if not lines or any(line.product is None or line.recipe is None for line in lines):
            continue
        key = tuple(sorted((line.sku, line.quantity) for line in lines))
        before = found.get(key)
        if before is not None:
            found[key] = replace(before, count=before.count + 1)
            continue
        words = ", ".join(f"{line.quantity} {line.product.name}" for line in lines if line.product)
        aim = Aim(destination=place_of(order), ship_on=day, overrides=Overrides(), occasion=loaded.occasion_of(order))
        found[key] = _Content(words=words, count=1, lines=lines, aim=aim)
    free = dict.fromkeys(loaded.facts.free, _PLENTY)
    contents = sorted(found.values(), key=lambda one: (-one.count, one.words))
    return contents, loaded.with_free(free)


def _in_each(content: _Content, facts: Facts) -> dict[str, Candidate]:
    """Return the content packed in each container that takes it, the cheapest way of each."""
    tried = try_all(content.lines, facts, content.aim, forced=None, thorough=False)
    found: dict[str, Candidate] = {}
    for one in tried.found:
        before = found.get(one.container)
        if before is None or one.costs.total < before.costs.total:
            found[one.container] = one
    return found


def _own_size(content: _Content, found: dict[str, Candidate]) -> Size | None:
    """Return the smallest inside that takes a content as it is packed best now, in whole centimetres."""
    cartons = [one for one in found.values() if one.kind == "carton" and one.nested is None and one.change is None]
    if not cartons:
        return None
    best = min(cartons, key=lambda one: (one.costs.total, one.container))
    if not best.placements:
        return None
    tried = _clearance(content)
    long, wide = (
        max(p.at_um[axis] + p.size_um[axis] for p in best.placements) - min(p.at_um[axis] for p in best.placements)
        for axis in (0, 1)
    )
    return Size(
        length_um=_rounded(max(long, wide) + 2 * tried[0]),
        width_um=_rounded(min(long, wide) + 2 * tried[0]),
        height_um=_rounded(best.top_um + tried[1]),
    )


def _clearance(content: _Content) -> tuple[int, int]:
    """Return the clearance at the sides and on top that the recipes ask for, um."""
    bands = [
        band
        for line in content.lines
        if line.recipe is not None
        for band in line.recipe.bands
        if band.first <= line.quantity <= band.last or len(line.recipe.bands) == 1
    ]
    side = max((band.cushion.side_um for band in bands), default=0)
    return side, max((band.cushion.top_um for band in bands), default=0)


def _rounded(um: int) -> int:
    return -(-um // _ROUND_UM) * _ROUND_UM


def carton_of_size(
    size: Size, facts: Facts, code: str, unit_system: str, unit_cost: Decimal | None = None
) -> Container:
    """Return a carton nobody has yet, as heavy, strong and, where no price is said, expensive as its board makes it."""
    judged = facts.settings.judgements
    known = [one for one in facts.containers if isinstance(one, Container) and one.unit_cost > 0]
    a_m2 = [one.unit_cost / board_area_m2(one.inner) for one in known]
    cost = sum(a_m2, Decimal(0)) / len(a_m2) * board_area_m2(size) if a_m2 else Decimal(1)
    return Container(
        code=code,
        name=format_size(size, "imperial" if unit_system == "imperial" else "metric"),
        inner=size,
        outer=outer_of(size, "single", judged),
        tare_mg=carton_tare_mg(size, "single"),
        max_load_mg=carton_load_mg(size, "single"),
        unit_cost=unit_cost if unit_cost is not None else cost.quantize(Decimal("0.01")),
        board="single",
    )


def _result(
    workshop: Workshop,
    row: CartonReport,
    contents: Sequence[_Content],
    costs: Sequence[dict[str, Candidate]],
    facts: Facts,
    own: Sequence[Container],
) -> CartonResult:
    kinds = [one for one in facts.containers if any(one.code in found for found in costs)]
    every = [*kinds, *(one for one in own if any(one.code in found for found in costs))]
    share = Decimal(row.asked["weeks"]) / 52
    settings = settings_of(workshop)
    held = _held(workshop)
    interest = Decimal(settings.interest_percent) / 100
    keeping = {
        one.code: (Decimal(settings.keeping_a_kind) + interest * held.get(one.code, Decimal(0))) * share
        for one in every
    }
    asked = CartonChoice(
        counts=tuple(content.count for content in contents),
        cost=tuple(
            tuple(_parts(found[one.code].costs.total) if one.code in found else None for one in every)
            for found in costs
        ),
        keeping=tuple(_parts(keeping[one.code]) for one in every),
    )
    chosen = choose_cartons(asked, row.asked["at_most"])
    curve = cost_by_k(asked, min(len(every), row.asked["at_most"] + 6, 24), known=chosen)
    as_now = _as_now(asked, [one.code not in {each.code for each in own} for one in every])
    kept = {one.carton: one for one in chosen.kept}
    return CartonResult(
        contents=len(contents),
        parcels=sum(asked.counts),
        proven=chosen.proven,
        kinds=[
            CartonKindOut(
                code=one.code,
                name=one.name,
                own_size=one in own,
                now=one not in own,
                kept=at in kept,
                parcels=kept[at].parcels if at in kept else 0,
                used_for=[contents[each].words for each in kept[at].contents[:4]] if at in kept else [],
                without_it=_without(kept.get(at)),
                keeping_cost=keeping[one.code].quantize(Decimal("0.01")),
            )
            for at, one in enumerate(every)
        ],
        curve=[
            CartonCurveOut(kinds=one.kinds, total=_money(one.total), left_over=one.left_over, proven=one.proven)
            for one in curve
        ],
        in_none=[contents[at].words for at in chosen.in_none],
        left_over=[contents[at].words for at in chosen.left_over],
        now=_sums(as_now, contents, costs, [one.code for one in every], keeping, held),
        then=_sums(chosen.assigned, contents, costs, [one.code for one in every], keeping, held, kept=chosen),
    )


def _as_now(asked: CartonChoice, owned: Sequence[bool]) -> tuple[int | None, ...]:
    """Return each content's cheapest carton of those that are on the shelf."""
    found: list[int | None] = []
    for row in asked.cost:
        options = [(cost, at) for at, cost in enumerate(row) if cost is not None and owned[at]]
        found.append(min(options)[1] if options else None)
    return tuple(found)


def _sums(
    assigned: Sequence[int | None],
    contents: Sequence[_Content],
    costs: Sequence[dict[str, Candidate]],
    codes: Sequence[str],
    keeping: dict[str, Decimal],
    held: dict[str, Decimal],
    *,
    kept: Chosen | None = None,
) -> CartonSumsOut:
    postage = materials = total = Decimal(0)
    used: set[str] = set()
    for content, found, at in zip(contents, costs, assigned, strict=True):
        if at is None:
            continue
        one = found[codes[at]]
        used.add(codes[at])
        postage += one.costs.postage * content.count
        materials += one.costs.materials * content.count
        total += one.costs.total * content.count
    # Whoever changes nothing keeps every kind there is.
    kinds = used if kept is not None else {code for code in codes if code in held}
    keep = sum((keeping[code] for code in kinds), Decimal(0))
    return CartonSumsOut(
        total=(total + keep).quantize(Decimal("0.01")),
        postage=postage,
        materials=materials,
        keeping_cost=keep.quantize(Decimal("0.01")),
        asleep_cost=sum((held.get(code, Decimal(0)) for code in kinds), Decimal(0)).quantize(Decimal("0.01")),
    )


def _held(workshop: Workshop) -> dict[str, Decimal]:
    """Return what lies on the shelf in each kind of carton, at cost."""
    rows = slots_of(workshop).filter(kind__in=("carton", "mailer"))
    return {row.code: max(Decimal(0), row.on_hand) * row.average_cost for row in rows}  # type: ignore[attr-defined]


def _without(kept: Kept | None) -> Decimal | None:
    return _money(kept.without_it) if kept is not None and kept.without_it is not None else None


def _parts(money: Decimal) -> int:
    return int((money * _PARTS).to_integral_value())


def _money(parts: int) -> Decimal:
    return (Decimal(parts) / _PARTS).quantize(Decimal("0.01"))
