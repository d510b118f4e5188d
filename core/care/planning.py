"""Planning with the weather: what a recipe puts in against heat and cold, and what is proposed where that does not do
(care; rules 15.4 and 15.5).

A plan is made, its way looked at. Where goods would leave their limits, what their recipe names goes in, as many packs
as the way asks for, and the parcel is packed again with them, until it keeps. Where no recipe says anything the order
waits, and its ways out are proposed in the order of what they cost all in: what is spent, the expected loss, a day's
waiting. Nothing of it is done by itself. Pure.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from datetime import date, timedelta
from decimal import Decimal
from typing import Literal

from core.care.report import CareContext, CareReport, box_of, hours_with, limits_of, look_at, outside_of
from core.care.thermal import MOST_PACKS, Box, need_of
from core.parcels.candidate import PlannedParcel
from core.parcels.facts import Overrides
from core.parcels.packed import ThermalWish
from core.parcels.plan import Blocked, PlannedOrder
from core.parcels.thermal import places_of
from core.recipes.model import BandThermal
from core.supplies.items import Insert
from core.supplies.stock_asked import covers
from core.tariffs.quote import Quote, service_of
from core.tariffs.zones import arrival_date, next_ship_day
from core.units import round_money

__all__ = ["Cared", "HeldCare", "PlanFrom", "Proposal", "ProposalKind", "plan_with_care", "proposals_for"]

PlanFrom = Callable[[Overrides, date, ThermalWish | None], PlannedOrder | Blocked]
#: packs: liner or packs or both; service: a faster one; day: it leaves later; consent: the buyer takes the risk.
ProposalKind = Literal["packs", "service", "day", "consent"]

_ROUNDS = 4
#: So many ship days are looked at, the first is tomorrow's.
_DAYS = 8


@dataclass(frozen=True, slots=True, kw_only=True)
class Proposal:
    """One way out for an order whose goods would leave their limits."""

    kind: ProposalKind
    all_in: Decimal  #: cost, expected loss and waiting
    extra: Decimal  #: spent more than by the plan as it is
    loss: Decimal
    waits_days: int = 0
    wish: ThermalWish = ThermalWish()  # noqa: RUF009 - a frozen value
    service: str = ""
    service_name: str = ""
    ship_on: date | None = None
    arrives_on: date | None = None
    low_c: float = 0
    high_c: float = 0
    warmer_c: float | None = None
    colder_c: float | None = None
    container: str = ""  #: outer containers of all its parcels
    forced: str = ""  #: a container that no recipe of the order names, to be chosen by a person


@dataclass(frozen=True, slots=True, kw_only=True)
class Cared:
    """A plan with what the way does to it."""

    result: PlannedOrder | Blocked
    report: CareReport | None  #: None: no goods have a limit, or there is no plan
    proposals: tuple[Proposal, ...] = ()  #: cheapest first; empty where nothing is needed


@dataclass(frozen=True, slots=True, kw_only=True)
class HeldCare:
    """What the plan of before had, while nothing is foretold: nothing of it is given up for a usual day."""

    danger: bool
    wish: ThermalWish = ThermalWish()  # noqa: RUF009 - a frozen value


def plan_with_care(
    plan_from: PlanFrom,
    decided: Overrides,
    ship_on: date,
    context: CareContext,
    *,
    held: HeldCare | None = None,
    proposing: int = 1,
) -> Cared:
    """Return the order planned so that its goods keep their limits as far as its recipe can see to it.

    ``proposing``: so many sets of packs are planned in full for what is proposed; the rest is left out. ``held``: what
    the plan of before had; while nothing is foretold, danger stays danger and packs stay in.
    """
    held = held if context.weather.silent else None
    own = decided.care.wish if decided.care is not None and decided.care.wish.any else None
    result = plan_from(decided, ship_on, own)
    if isinstance(result, Blocked):
        return Cared(result=result, report=None)
    report = look_at(result.chosen.parcels, result.ship_on, context, decided.care)
    if report is None:
        return Cared(result=result, report=None)
    named = _named(result) if own is None else None
    if named is not None and held is not None and held.wish.any and held.wish.pack in (*named.packs, ""):
        named = replace(named, when="always", least=max(named.least, held.wish.count))
    if named is not None:
        result, report = _as_the_recipe_says(plan_from, decided, ship_on, context, named, result, report)
    if held is not None and held.danger and report.verdict == "safe":
        report = replace(report, verdict="danger", unsure=True)
    if report.verdict != "danger" or proposing == 0:
        return Cared(result=result, report=report)
    return Cared(
        result=result, report=report, proposals=proposals_for(plan_from, decided, result, report, context, proposing)
    )


def _named(plan: PlannedOrder) -> BandThermal | None:
    return next((piece.band.thermal for piece in plan.pieces if piece.band.thermal is not None), None)


def _as_the_recipe_says(
    plan_from: PlanFrom,
    decided: Overrides,
    ship_on: date,
    context: CareContext,
    named: BandThermal,
    plan: PlannedOrder,
    report: CareReport,
) -> tuple[PlannedOrder, CareReport]:
    """Put in what the recipe names: always, or when the weather asks for it; as few as keep the limits."""
    if named.when == "needed" and report.verdict != "danger":
        return plan, report
    best = (plan, report)
    for pack in named.packs or ("",):
        first = ThermalWish(liner=named.liner, pack=pack, count=named.least if pack else 0)
        for made, seen in _rounds(plan_from, decided, ship_on, context, plan, first, least=named.least):
            if seen.verdict != "danger":
                return made, seen
            if _worst(seen) > _worst(best[1]):
                best = (made, seen)
    return best


def _worst(report: CareReport) -> float:
    """The smallest margin of a report: less than nought where goods leave their limits."""
    margins = [one for parcel in report.parcels for one in (parcel.warmer_c, parcel.colder_c) if one is not None]
    return min(margins, default=0.0)


def _rounds(
    plan_from: PlanFrom,
    decided: Overrides,
    ship_on: date,
    context: CareContext,
    plan: PlannedOrder,
    wish: ThermalWish,
    *,
    least: int = 0,
    anywhere: bool = False,
) -> Iterator[tuple[PlannedOrder, CareReport]]:
    """Plan with so many packs, look at the way, and again with as many as it asks for, until it keeps.

    ``anywhere``: where what the recipe names has no room for them, in the cheapest other carton that has.
    """
    count = max(least, _count_for(plan, wish, context) or 0) if wish.pack else 0
    for _ in range(_ROUNDS):
        asked = replace(wish, count=count)
        made = plan_from(decided, ship_on, asked if asked.any else None)
        if isinstance(made, Blocked) and anywhere:
            other = next((one.container for one in made.ruled_out if one.code == "not_in_recipe"), None)
            made = plan_from(replace(decided, container=other), ship_on, asked) if other is not None else made
        if isinstance(made, Blocked):
            return
        seen = look_at(made.chosen.parcels, made.ship_on, context, decided.care)
        if seen is None:
            return
        yield made, seen
        if seen.verdict != "danger" or not wish.pack:
            return
        more = _count_for(made, wish, context)
        if more is None or more <= count:
            return
        count = more


def _count_for(plan: PlannedOrder, wish: ThermalWish, context: CareContext) -> int | None:
    """Return how many packs the parcel that asks for most of them needs, None when no number keeps its limits.

    As many as would do if the forecast is wrong by what it usually is; where none do, as many as do by the forecast.
    """
    error = float(context.judged.forecast_error_c)
    found = _count_by(plan, wish, context, error)
    return _count_by(plan, wish, context, 0.0) if found is None else found


def _count_by(plan: PlannedOrder, wish: ThermalWish, context: CareContext, error_c: float) -> int | None:
    pack = context.shelf.inserts.get(wish.pack)
    counts = []
    for parcel in plan.chosen.parcels:
        for carton in parcel.cartons:
            goods = dict(carton.goods)
            limits = limits_of([context.products[sku] for sku in goods if sku in context.products], context.judged)
            if not limits.any:
                continue
            outside = outside_of(
                hours_with(parcel.candidate.quote, plan.ship_on, parcel.candidate.quote.arrives_on, context)
            )

            box = _box_for(carton, wish, context)
            for limit, by_c in ((replace(limits, low_c=None), error_c), (replace(limits, high_c=None), -error_c)):
                moved = [one + by_c for one in outside] if limit.any else outside
                need = need_of(box, moved, limits if error_c == 0 else limit, pack, judged=context.judged)
                if need is None and limit.any:
                    return None
                counts.append(need.count if need is not None else 0)
    return max(counts, default=0)


def _box_for(carton: PlannedParcel, wish: ThermalWish, context: CareContext) -> Callable[[int], Box | None]:
    """Return the box of a carton by how many packs are in it: with the liner, though it is not yet planned with it."""
    candidate = carton.candidate
    inner = candidate.inner
    liner = context.shelf.inserts.get(wish.liner)
    if liner is not None and (candidate.thermal is None or candidate.thermal.liner != liner.code):
        less = -2 * liner.thickness_um
        inner = inner.grown(less, less, less) if min(inner.sides_um) > 2 * liner.thickness_um else inner
    pack = context.shelf.inserts.get(wish.pack)
    box = box_of(inner, wish.liner, dict(carton.goods), context)

    def with_count(count: int) -> Box | None:
        if count and pack is not None and candidate.thermal is not None and places_of(inner, pack, count) is None:
            return None
        return box

    return with_count


# --- ways out ------------------------------------------------------------------------------------------------


def proposals_for(
    plan_from: PlanFrom,
    decided: Overrides,
    plan: PlannedOrder,
    report: CareReport,
    context: CareContext,
    most_packs: int = 3,
) -> tuple[Proposal, ...]:
    """Return the ways out, what comes to least all in first; the buyer's consent last."""
    found = [
        *_with_packs(plan_from, decided, plan, report, context, most_packs),
        *_faster(plan, report, context, decided),
        *_later(plan, report, context, decided),
        _consent(plan, report, context),
    ]
    # Nobody is asked to take a risk that can be kept from them: consent stands last, whatever it comes to.
    return tuple(
        sorted(
            found, key=lambda one: (one.kind == "consent", one.all_in, one.kind, one.ship_on or date.min, one.wish.pack)
        )
    )


def _consent(plan: PlannedOrder, report: CareReport, context: CareContext) -> Proposal:
    """The buyer takes the risk: the loss stays, whoever bears it."""
    plain = Proposal(
        kind="consent",
        all_in=plan.chosen.costs.total + report.loss,
        extra=Decimal(0),
        loss=report.loss,
        ship_on=plan.ship_on,
    )
    return _felt(plain, report)


def _felt(proposal: Proposal, report: CareReport) -> Proposal:
    """Return the proposal with how warm and cold goods get by it, in the parcel that has the least to spare."""
    worst = min(report.parcels, key=lambda one: min(m for m in (one.warmer_c, one.colder_c) if m is not None))
    return replace(proposal, low_c=worst.low_c, high_c=worst.high_c, warmer_c=worst.warmer_c, colder_c=worst.colder_c)


def _with_packs(
    plan_from: PlanFrom,
    decided: Overrides,
    plan: PlannedOrder,
    report: CareReport,
    context: CareContext,
    most: int,
) -> list[Proposal]:
    """Each liner with each kind of pack that is on the shelf, the likely cheapest planned in full."""
    liners = [None, *(one for one in context.shelf.inserts.values() if one.liner is not None)]
    packs = [None, *(one for one in context.shelf.inserts.values() if one.pack is not None)]
    guesses: list[tuple[Decimal, str, ThermalWish]] = []
    for liner in liners:
        if liner is not None and not covers(context.free, liner.code, Decimal(len(plan.chosen.parcels))):
            continue
        for pack in packs:
            if liner is None and pack is None:
                continue
            wish = ThermalWish(liner=liner.code if liner else "", pack=pack.code if pack else "")
            count = _count_for(plan, wish, context)
            if count is None or count > MOST_PACKS or (pack is not None and count == 0):
                continue
            if pack is not None and not covers(context.free, pack.code, Decimal(count * len(plan.chosen.parcels))):
                continue
            wish = replace(wish, count=count)
            guesses.append((_guess(liner, pack, count, context), f"{wish.liner} {wish.pack}", wish))
    found: list[Proposal] = []
    for _, _, wish in sorted(guesses)[: 2 * most]:
        if len(found) >= most:
            break
        kept = [
            (made, seen)
            for made, seen in _rounds(
                plan_from, replace(decided, container=None), plan.ship_on, context, plan, wish, anywhere=True
            )
            if seen.verdict != "danger"
        ]
        if not kept:
            continue
        made, seen = kept[-1]
        used = next((one.wish for one in made.chosen.candidates if one.wish is not None), wish)
        total = made.chosen.costs.total
        plain = Proposal(
            kind="packs",
            all_in=total + seen.loss,
            extra=total - plan.chosen.costs.total,
            loss=seen.loss,
            wish=used,
            ship_on=made.ship_on,
            arrives_on=max(one.quote.arrives_on for one in made.chosen.candidates),
            container=", ".join(made.chosen.containers),
            forced="" if made.chosen.in_recipe else made.chosen.key,
        )
        found.append(_felt(plain, seen))
    return found


def _guess(liner: Insert | None, pack: Insert | None, count: int, context: CareContext) -> Decimal:
    """What they cost to buy and to put in, and a cent for every 20 g they weigh: a guess by which the first are
    planned.
    """
    cost, minutes, grams = Decimal(0), Decimal(0), 0
    if liner is not None and liner.liner is not None:
        cost, minutes, grams = liner.unit_cost, liner.liner.minutes, liner.weight_mg // 1_000
    if pack is not None and pack.pack is not None:
        cost += pack.unit_cost * count
        minutes += pack.pack.minutes * count
        grams += pack.weight_mg * count // 1_000
    return cost + minutes * context.wage_per_hour / 60 + Decimal(grams) / 2_000


def _with_quotes(
    plan: PlannedOrder, quotes: tuple[Quote, ...], ship_on: date, context: CareContext, decided: Overrides
) -> CareReport | None:
    """Look at the same parcels sent by other services or on another day."""
    parcels = tuple(
        replace(parcel, candidate=replace(parcel.candidate, quote=quote))
        for parcel, quote in zip(plan.chosen.parcels, quotes, strict=True)
    )
    return look_at(parcels, ship_on, context, decided.care, whole=False)


def _faster(plan: PlannedOrder, report: CareReport, context: CareContext, decided: Overrides) -> list[Proposal]:
    """Other services of today that keep the limits, for an order of one parcel or one that takes it for all."""
    found = []
    first = plan.chosen.parcels[0].candidate
    for quote in first.quotes:
        if quote.service == first.quote.service and quote.carrier == first.quote.carrier:
            continue
        every = tuple(
            next((q for q in one.quotes if (q.carrier, q.service) == (quote.carrier, quote.service)), None)
            for one in plan.chosen.candidates
        )
        quotes = tuple(one for one in every if one is not None)
        if len(quotes) != len(every):
            continue
        seen = _with_quotes(plan, quotes, plan.ship_on, context, decided)
        if seen is None or seen.verdict == "danger":
            continue
        extra = sum((one.price for one in quotes), Decimal(0)) - plan.chosen.costs.postage
        plain = Proposal(
            kind="service",
            all_in=plan.chosen.costs.total + extra + seen.loss,
            extra=extra,
            loss=seen.loss,
            service=quote.service,
            service_name=quote.service_name,
            ship_on=plan.ship_on,
            arrives_on=max(one.arrives_on for one in quotes),
        )
        found.append(_felt(plain, seen))
    return sorted(found, key=lambda one: one.all_in)[:3]


def _later(plan: PlannedOrder, report: CareReport, context: CareContext, decided: Overrides) -> list[Proposal]:
    """The next ship days on which the goods keep their limits by the same services (rules 15.1)."""
    found: list[Proposal] = []
    day = plan.ship_on
    for _ in range(_DAYS):
        day = next_ship_day(day + timedelta(days=1), context.ship_days)
        quotes = tuple(_on_day(one.quote, day, context) for one in plan.chosen.candidates)
        known = tuple(one for one in quotes if one is not None)
        if len(known) != len(quotes) or _too_long(report, day, known):
            continue
        seen = _with_quotes(plan, known, day, context, decided)
        if seen is None or seen.verdict == "danger":
            continue
        waits = (day - plan.ship_on).days
        waiting = round_money(context.judged.wait_day_cost * waits, context.money_digits)
        plain = Proposal(
            kind="day",
            all_in=plan.chosen.costs.total + seen.loss + waiting,
            extra=Decimal(0),
            loss=seen.loss,
            waits_days=waits,
            ship_on=day,
            arrives_on=max(one.arrives_on for one in known),
        )
        found.append(_felt(plain, seen))
        if len(found) == 3:
            break
    return found


def _too_long(report: CareReport, day: date, quotes: tuple[Quote, ...]) -> bool:
    limits = [one.days_limit for one in report.parcels if one.days_limit is not None]
    longest = max((one.arrives_on - day).days for one in quotes)
    return bool(limits) and longest > min(limits)


def _on_day(quote: Quote, day: date, context: CareContext) -> Quote | None:
    found = service_of(context.tariffs, quote, day)
    if found is None:
        return None
    tariff, service = found
    return replace(quote, arrives_on=arrival_date(service, day, quote.transit_days, tariff.holidays))
