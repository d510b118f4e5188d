"""What a changed recipe would cost and save, and whether it pays (outcomes; rules 17.3).

It pays when the saved loss is more than its extra cost: 4.0 % down to 1.5 % of 38.40 saves 0.96 a parcel. The saving is
known no better than the rates are: with the interval's low end still above the extra cost it pays, with the high end
below it does not, and in between not enough is known; the expected saving is told in every case.

What the changed recipe will do is not known before it is sent. An earlier version that protects as the draft does tells
it; else the draft is taken to end the breakages at the place it is made for, and no others.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from hashlib import sha256
from typing import Literal

from core.designing.cupboard import Desk
from core.messages import Text
from core.outcomes.change import Draft, changes_for, drafted, plan_of
from core.outcomes.places import Cause
from core.outcomes.rates import Counted, planning_rate, wilson
from core.parcels.plan import PlannedOrder
from core.recipes.goods import Product
from core.recipes.model import Band, Recipe, judged_units, size_of
from core.units import round_money

__all__ = [
    "BandDifference",
    "Evidence",
    "Saving",
    "Suggestion",
    "pays",
    "protection_key",
    "protects_alike",
    "saved",
    "suggested",
]


@dataclass(frozen=True, slots=True, kw_only=True)
class Evidence:
    """What is known of how a recipe's parcels arrived."""

    counted: Counted  #: of the version, and of those that protect alike
    at_cause: int  #: of the damaged: those at the place the change is for
    prior: Decimal  #: chance of damage before arrivals are counted
    #: Earlier versions that were packed otherwise, with how they arrived.
    others: tuple[tuple[Recipe, Counted], ...] = ()
    #: Parcels sent per band, by its first size: bands count by them; empty: alike.
    sent: Mapping[int, int] | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Saving:
    """What a parcel loses less, in money, and between what."""

    rate: Decimal  #: planned with now
    after: Decimal  #: planned with the draft
    as_version: int | None  #: as this earlier version arrived; None: without what broke at the place
    at_risk: Decimal  #: what a damaged parcel costs: goods, postage, materials
    expected: Decimal
    low: Decimal
    high: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class BandDifference:
    """A band before and after, for its largest order; differences are after less before."""

    band: Text
    units: int
    share: Decimal  #: of the parcels that are sent
    materials: Decimal
    labour: Decimal
    postage: Decimal
    grams: Decimal
    minutes: Decimal
    was: str  #: container codes
    container: str
    service_was: str
    service: str
    step_passed: bool  #: the parcel is priced by a higher step than before, or by another service

    @property
    def cost(self) -> Decimal:
        """Return what the parcel costs more."""
        return self.materials + self.labour + self.postage


@dataclass(frozen=True, slots=True, kw_only=True)
class Suggestion:
    """A draft with what it costs and saves a parcel."""

    draft: Draft
    bands: tuple[BandDifference, ...]
    extra: Decimal  #: a parcel, over the bands as they are sent
    saving: Saving
    verdict: Literal["pays", "does_not", "not_enough"]

    @property
    def gain(self) -> Decimal:
        """Return what is expected to be left of the saving."""
        return self.saving.expected - self.extra


def saved(rate: Decimal, after: Decimal, at_risk: Decimal, digits: int = 2) -> Decimal:
    """Return what a parcel loses less when its chance of damage falls.

    >>> saved(Decimal("0.040"), Decimal("0.015"), Decimal("38.40"))
    Decimal('0.96')
    """
    return round_money((rate - after) * at_risk, digits)


def pays(extra: Decimal, saving: Saving) -> Literal["pays", "does_not", "not_enough"]:
    """Return whether the saved loss is more than the extra cost, as far as the numbers can say."""
    if saving.low > extra:
        return "pays"
    return "does_not" if saving.high <= extra else "not_enough"


def _guarding(band: Band) -> Band:
    """Return what of a band protects: without minutes, marks, inserts, words."""
    return replace(
        band,
        inserts=(),
        marks=(),
        steps=(),
        minutes=replace(band.minutes, per_unit=Decimal(0), per_parcel=Decimal(0), per_order=Decimal(0)),
    )


def protects_alike(one: Recipe, other: Recipe) -> bool:
    """Return whether two versions pack goods alike: what they differ in protects nothing."""
    return protection_key(one) == protection_key(other)


def protection_key(recipe: Recipe) -> str:
    """Return a text that is the same for versions that protect alike, 64 characters."""
    return sha256(repr([_guarding(band) for band in recipe.bands]).encode()).hexdigest()


def suggested(
    cause: Cause,
    recipe: Recipe,
    products: Sequence[Product],
    evidence: Evidence,
    desk: Desk,
    *,
    dividers: tuple[str, ...] = (),
) -> tuple[Suggestion, ...]:
    """Return what could be changed for a place, best first. Every suggestion plans for every product and band that
    plans now; it is costed for the first of the products.
    """
    found = []
    for code in changes_for(cause):
        draft = drafted(code, recipe, products, desk, dividers)
        one = _costed(draft, recipe, products[0], evidence, desk) if draft is not None else None
        if one is not None:
            found.append(one)
    return tuple(sorted(found, key=lambda one: (-one.gain, one.draft.code)))


def _costed(draft: Draft, recipe: Recipe, product: Product, evidence: Evidence, desk: Desk) -> Suggestion | None:
    digits = desk.facts.settings.money_digits
    shares = _shares(recipe.bands, evidence.sent)
    bands: list[BandDifference] = []
    at_risk = Decimal(0)
    for band, other, share in zip(recipe.bands, draft.recipe.bands, shares, strict=True):
        now, then = plan_of(recipe, band, product, desk), plan_of(draft.recipe, other, product, desk)
        if not isinstance(now, PlannedOrder):
            continue  # it cannot be packed now either
        if not isinstance(then, PlannedOrder):
            return None
        bands.append(_difference(band, share, now, then))
        costs = now.chosen.only.costs
        goods = product.goods_cost * judged_units(band.first, band.last)
        at_risk += share * (goods + costs.postage + costs.materials)
    if not bands:
        return None
    whole = sum((one.share for one in bands), Decimal(0))
    extra = (
        round_money(sum((one.share * one.cost for one in bands), Decimal(0)) / whole, digits) if whole else Decimal(0)
    )
    saving = _saving(draft, evidence, round_money(at_risk / whole if whole else at_risk, digits), digits)
    return Suggestion(draft=draft, bands=tuple(bands), extra=extra, saving=saving, verdict=pays(extra, saving))


def _shares(bands: Sequence[Band], sent: Mapping[int, int] | None) -> list[Decimal]:
    counts = [sent.get(band.first, 0) for band in bands] if sent else []
    whole = sum(counts)
    if not whole:
        return [Decimal(1) / len(bands)] * len(bands)
    return [Decimal(count) / whole for count in counts]


def _difference(band: Band, share: Decimal, now: PlannedOrder, then: PlannedOrder) -> BandDifference:
    one, other = now.chosen.only, then.chosen.only
    grams = Decimal(other.weight.gross_mg - one.weight.gross_mg) / 1000
    moved = (one.quote.carrier, one.quote.service) != (other.quote.carrier, other.quote.service)
    return BandDifference(
        band=size_of(band.first, band.last),
        units=judged_units(band.first, band.last),
        share=share,
        materials=other.costs.materials - one.costs.materials,
        labour=other.costs.labour - one.costs.labour,
        postage=other.costs.postage - one.costs.postage,
        grams=grams.quantize(Decimal("0.1")),
        minutes=other.minutes - one.minutes,
        was=one.container,
        container=other.container,
        service_was=one.quote.service_name,
        service=other.quote.service_name,
        step_passed=moved or other.quote.step_mg != one.quote.step_mg,
    )


def _saving(draft: Draft, evidence: Evidence, at_risk: Decimal, digits: int) -> Saving:
    now = evidence.counted
    rate = planning_rate(evidence.prior, now.damaged, now.known)
    alike = [(one, counted) for one, counted in evidence.others if protects_alike(one, draft.recipe)]
    if alike:
        # Versions that protect alike are one way of packing: their parcels count together.
        counted = Counted(damaged=sum(c.damaged for _, c in alike), known=sum(c.known for _, c in alike))
        after = planning_rate(evidence.prior, counted.damaged, counted.known)
        low, high = _apart(now, counted)
        version = max(one.version for one, _ in alike)
    else:
        after = planning_rate(evidence.prior, now.damaged - evidence.at_cause, now.known)
        low, high = wilson(evidence.at_cause, now.known)
        version = None
    return Saving(
        rate=rate,
        after=after,
        as_version=version,
        at_risk=at_risk,
        expected=saved(rate, after, at_risk, digits),
        low=round_money(low * at_risk, digits),
        high=round_money(high * at_risk, digits),
    )


def _apart(now: Counted, then: Counted) -> tuple[Decimal, Decimal]:
    """Return the interval of the difference of two shares, made of both Wilson intervals (Newcombe's method 10)."""
    if not now.known or not then.known:
        return Decimal(-1), Decimal(1)
    p, q = Decimal(now.damaged) / now.known, Decimal(then.damaged) / then.known
    (p_low, p_high), (q_low, q_high) = now.interval, then.interval
    low = p - q - ((p - p_low) ** 2 + (q_high - q) ** 2).sqrt()
    high = p - q + ((p_high - p) ** 2 + (q - q_low) ** 2).sqrt()
    return low, high
