"""What the bench taught: offered with before, after, how many and what it changes; taken by a person, taken back
(outcomes; rules 17.5).

Nothing here is taken by itself. What was taken is kept with its evidence; taking it back puts the value of before in
its place, unless somebody has changed it since.
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Any, Literal, NoReturn
from uuid import UUID

from django.db import transaction
from django.db.models import Sum
from django.utils import timezone

from core.designing.cupboard import Desk
from core.messages import Text
from core.outcomes.change import plan_of
from core.outcomes.learned import Timed, Weighed, bulge_fit, fill_fit, minutes_fit, weight_fit
from core.parcels.plan import PlannedOrder
from core.recipes.goods import Product as CoreProduct
from core.recipes.model import Minutes, judged_units, size_of
from core.recipes.model import Recipe as CoreRecipe
from core.supplies.items import Fill
from core.units import Size
from server.api.problems import Refused
from server.bench.models import Parcel, StepTime
from server.designing.desk import desk_of
from server.formats.recipe import document_of
from server.formats.supplies import facts_of
from server.outcomes.models import Arrival, ArrivalGoods, LearnedValue
from server.recipes.mapping import core_products, core_recipe
from server.recipes.models import Product, Recipe, RecipeVersion, VersionArrivals
from server.recipes.selectors import current_version, versions_in_force, with_their_families
from server.recipes.services import add_version
from server.supplies.models import Entry, Supply
from server.workshops.happened import tell_anything
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = ["Effect", "Figure", "Kind", "Offer", "effects_of", "figures_of", "offers", "take", "undo"]

Kind = Literal["minutes", "weight", "bulge", "fill"]
Unit = Literal["minutes", "mg", "um", "number"]
#: Learned from the newest so many parcels.
_NEWEST = 2_000
_ENTRIES = 5_000
#: Of recipes a fill is in, so many are worked out before and after.
_SHOWN = 3


@dataclass(frozen=True, slots=True, kw_only=True)
class Figure:
    """One figure before and after."""

    name: str
    unit: Unit
    before: Decimal
    after: Decimal


@dataclass(frozen=True, slots=True, kw_only=True)
class Offer:
    """A value that differs from what plans use."""

    kind: Kind
    subject: str  #: sku, code of the fill, or recipe code and first unit of its bands: "stone/1"
    name: str
    figures: tuple[Figure, ...]
    count: int  #: parcels or counts
    error: Decimal  #: one standard error of the first figure, in its unit; 0: not known
    left_out: int = 0


@dataclass(frozen=True, slots=True, kw_only=True)
class Effect:
    """What a value changes in plans: one order size of one recipe, after less before."""

    recipe: str
    band: Text
    units: int
    cost: Decimal
    grams: Decimal
    service_was: str
    service: str


def offers(workshop: Workshop) -> list[Offer]:
    """Return everything the bench has to offer, kinds in order."""
    return [*_minutes(workshop), *_weights(workshop), *_bulges(workshop), *_fills(workshop)]


# --- minutes ------------------------------------------------------------------------------------------------


def _minutes(workshop: Workshop) -> list[Offer]:
    timed = _timed(workshop)
    recipes = {row.pk: row for row in Recipe.objects.of(workshop).filter(pk__in=list(timed), retired_at=None)}
    versions = versions_in_force(workshop, recipes)
    found = []
    for pk, version in sorted(versions.items(), key=lambda pair: recipes[pair[0]].name):
        recipe = core_recipe(version)
        for minutes, firsts in _bands_by_minutes(recipe).items():
            mine = [one for first, one in timed[pk] if first in firsts]
            fit = minutes_fit(mine, minutes)
            if fit is not None:
                found.append(
                    Offer(
                        kind="minutes",
                        subject=f"{recipe.code}/{min(firsts)}",
                        name=recipes[pk].name,
                        figures=(
                            Figure(name="unit", unit="minutes", before=minutes.per_unit, after=fit.per_unit),
                            Figure(name="parcel", unit="minutes", before=minutes.per_parcel, after=fit.per_parcel),
                        ),
                        count=fit.count,
                        error=fit.spread,
                        left_out=fit.left_out,
                    )
                )
    return found


def _bands_by_minutes(recipe: CoreRecipe) -> dict[Minutes, set[int]]:
    """Return the first units of the bands that have the same minutes."""
    found: dict[Minutes, set[int]] = {}
    for band in recipe.bands:
        found.setdefault(band.minutes, set()).add(band.first)
    return found


def _timed(workshop: Workshop) -> dict[int, list[tuple[int, Timed]]]:
    """Return times of parcels of one recipe, packed as it protects now: by recipe, with the band's first unit."""
    alike = _alike_versions(workshop)
    newest = list(Arrival.objects.of(workshop).order_by("-sent_on", "-id").values_list("pk", "parcel_id")[:_NEWEST])
    parcels = dict(newest)
    seconds = dict(
        StepTime.objects.of(workshop)
        .filter(parcel_id__in=list(parcels.values()))
        .order_by()
        .values_list("parcel_id")
        .annotate(total=Sum("seconds"))
    )
    goods: dict[int, list[tuple[int | None, int | None, int, int]]] = {}
    rows = ArrivalGoods.objects.of(workshop).filter(arrival_id__in=list(parcels))
    for arrival, of_recipe, version, first, units in rows.values_list(
        "arrival_id", "version__recipe_id", "version_id", "band_first", "units"
    ):
        goods.setdefault(arrival, []).append((of_recipe, version, first, units))
    found: dict[int, list[tuple[int, Timed]]] = {}
    for arrival, parcel in newest:
        mine = goods.get(arrival, [])
        recipes = {recipe for recipe, _, _, _ in mine}
        total = seconds.get(parcel)
        if len(recipes) != 1 or total is None:
            continue
        recipe = next(iter(recipes))
        if recipe is None or any(version not in alike for _, version, _, _ in mine):
            continue
        units = sum(units for _, _, _, units in mine)
        found.setdefault(recipe, []).append((mine[0][2], Timed(units=units, minutes=total / 60)))
    return found


def _alike_versions(workshop: Workshop) -> set[int]:
    """Return versions that protect as their recipe's current one does: their minutes tell of it."""
    current = {
        row.pk: row.recipe_id
        for row in RecipeVersion.objects.of(workshop)
        .filter(in_force=True)
        .order_by("recipe_id", "-number")
        .distinct("recipe_id")
    }
    keys = list(VersionArrivals.objects.of(workshop).values_list("version_id", "version__recipe_id", "protects"))
    now = {recipe: protects for version, recipe, protects in keys if version in current}
    return {version for version, recipe, protects in keys if now.get(recipe) == protects}


# --- weights ------------------------------------------------------------------------------------------------


def _weights(workshop: Workshop) -> list[Offer]:
    rows = (
        ArrivalGoods.objects.of(workshop)
        .filter(arrival__unit_mg__isnull=False, arrival__measured_mg__isnull=False)
        .order_by("-arrival__sent_on", "-id")
        .values_list("sku", "units", "arrival__unit_mg", "arrival__expected_mg", "arrival__measured_mg")[:_NEWEST]
    )
    by_sku: dict[str, list[Weighed]] = {}
    for sku, units, unit_mg, expected_mg, measured_mg in rows:
        if unit_mg is None or measured_mg is None or 2 * abs(measured_mg - expected_mg) > unit_mg * units:
            continue  # something was missing or too much: it tells of the parcel, not of the unit
        one = Weighed(units=units, rest_mg=expected_mg - unit_mg * units, measured_mg=measured_mg)
        by_sku.setdefault(sku, []).append(one)
    products = Product.objects.of(workshop).filter(sku__in=list(by_sku), retired_at=None).order_by("name", "id")
    found = []
    for product in products:
        if product.weight_mg is None:
            continue
        fit = weight_fit(by_sku[product.sku], product.weight_mg, workshop.scale_division_mg)
        if fit is not None:
            spread = max(fit.spread_mg, 1)
            found.append(
                Offer(
                    kind="weight",
                    subject=product.sku,
                    name=product.name,
                    figures=(
                        Figure(name="weight", unit="mg", before=Decimal(product.weight_mg), after=Decimal(fit.unit_mg)),
                        Figure(
                            name="spread", unit="mg", before=Decimal(product.weight_spread_mg), after=Decimal(spread)
                        ),
                    ),
                    count=fit.count,
                    error=Decimal(fit.error_mg),
                )
            )
    return found


# --- bulge and fill -----------------------------------------------------------------------------------------


def _fill_rows(workshop: Workshop) -> dict[str, Supply]:
    return {row.code: row for row in Supply.objects.of(workshop).filter(kind="fill", retired_at=None).order_by("name")}


def _bulges(workshop: Workshop) -> list[Offer]:
    rows = Parcel.objects.of(workshop).filter(measured_outer_um__isnull=False, state=Parcel.State.CLOSED)
    supplies = _fill_rows(workshop)
    by_fill: dict[str, list[tuple[Size, Size]]] = {}
    for row in rows.select_related("kept").order_by("-closed_at")[:200]:
        candidate = row.plan["chosen"]["parcels"][row.part - 1]["candidate"]
        fills = {use["supply"] for use in candidate["uses"] if use["role"] == "fill"} & set(supplies)
        if len(fills) == 1 and candidate["kind"] == "carton":
            length, width, height = row.measured_outer_um or (0, 0, 0)
            real = Size(length_um=length, width_um=width, height_um=height)
            by_fill.setdefault(fills.pop(), []).append((Size(**candidate["outer"]), real))
    found = []
    for code, measured in by_fill.items():
        now = int(supplies[code].facts["bulge_um"])
        fit = bulge_fit(measured, now)
        if fit is not None:
            figure = Figure(name="bulge", unit="um", before=Decimal(now), after=Decimal(fit.bulge_um))
            found.append(
                Offer(
                    kind="bulge", subject=code, name=supplies[code].name, figures=(figure,), count=fit.count,
                    error=Decimal(fit.error_um),
                )
            )  # fmt: skip
    return found


def _fills(workshop: Workshop) -> list[Offer]:
    supplies = {row.pk: row for row in _fill_rows(workshop).values()}
    rows = Entry.objects.of(workshop).filter(supply_id__in=list(supplies)).order_by("-id")
    spans: dict[int, list[tuple[Decimal, Decimal]]] = {}
    used: dict[int, Decimal] = {}
    for supply, kind, quantity, parcel in reversed(
        list(rows.values_list("supply_id", "kind", "quantity", "parcel_id")[:_ENTRIES])
    ):
        if kind == "counted":
            planned = used.pop(supply, Decimal(0))
            spans.setdefault(supply, []).append((planned, planned - quantity))
        elif parcel is not None:
            used[supply] = used.get(supply, Decimal(0)) - quantity
    found = []
    for pk, mine in spans.items():
        factor = Decimal(str(supplies[pk].facts["packing_factor"]))
        fit = fill_fit(mine, factor)
        if fit is not None:
            figure = Figure(name="factor", unit="number", before=factor, after=fit.packing_factor)
            found.append(
                Offer(
                    kind="fill", subject=supplies[pk].code, name=supplies[pk].name, figures=(figure,),
                    count=fit.counts, error=Decimal(0),
                )
            )  # fmt: skip
    return found


# --- what it changes ----------------------------------------------------------------------------------------


def effects_of(workshop: Workshop, offer: Offer) -> list[Effect]:
    """Return what taking an offer changes in plans, for each order size of the recipes it concerns."""
    desk = desk_of(workshop)
    if offer.kind in ("bulge", "fill"):
        return _fill_effects(workshop, offer, desk)
    if offer.kind == "weight":
        return _weight_effects(workshop, offer, desk)
    return _minutes_effects(workshop, offer, desk)


def _minutes_effects(workshop: Workshop, offer: Offer, desk: Desk) -> list[Effect]:
    version = _version_of(workshop, offer)
    row = Product.objects.of(workshop).filter(recipe_id=version.recipe_id, retired_at=None).first()
    if row is None:
        return []
    product = core_products([row], with_their_families(workshop, [row]))[row.sku]
    before = replace(core_recipe(version), tried=True)
    return _differences(offer.name, (before, _with_minutes(before, offer)), (product, product), (desk, desk))


def _weight_effects(workshop: Workshop, offer: Offer, desk: Desk) -> list[Effect]:
    row = Product.objects.of(workshop).select_related("recipe").filter(sku=offer.subject).first()
    version = current_version(workshop, row.recipe_id) if row is not None and row.recipe_id is not None else None
    if row is None or version is None:
        return []
    product = core_products([row], with_their_families(workshop, [row]))[row.sku]
    other = replace(product, weight_mg=int(offer.figures[0].after), weight_spread_mg=int(offer.figures[1].after))
    recipe = replace(core_recipe(version), tried=True)
    return _differences(version.recipe.name, (recipe, recipe), (product, other), (desk, desk))


def _fill_effects(workshop: Workshop, offer: Offer, desk: Desk) -> list[Effect]:
    fill = desk.facts.shelf.fills[offer.subject]
    value = offer.figures[0].after
    other: Fill = (
        replace(fill, bulge_um=int(value)) if offer.kind == "bulge" else replace(fill, packing_factor=Decimal(value))
    )
    shelf = replace(desk.facts.shelf, fills={**desk.facts.shelf.fills, offer.subject: other})
    changed = replace(desk, facts=replace(desk.facts, shelf=shelf))
    products = Product.objects.of(workshop).filter(recipe__isnull=False, retired_at=None).order_by("recipe_id", "id")
    first: dict[int, Product] = {}
    for row in products:
        first.setdefault(row.recipe_id or 0, row)
    goods = core_products(first.values(), with_their_families(workshop, list(first.values())))
    found: list[Effect] = []
    shown = 0
    for pk, version in versions_in_force(workshop, first).items():
        recipe = replace(core_recipe(version), tried=True)
        if not any(offer.subject in (band.fill, band.fill_below, band.fill_above) for band in recipe.bands):
            continue
        product = goods[first[pk].sku]
        if product.size is None or product.weight_mg is None:
            continue
        found += _differences(recipe.name, (recipe, recipe), (product, product), (desk, changed))
        shown += 1
        if shown == _SHOWN:
            break
    return found


def _differences(
    name: str,
    recipes: tuple[CoreRecipe, CoreRecipe],
    products: tuple[CoreProduct, CoreProduct],
    desks: tuple[Desk, Desk],
) -> list[Effect]:
    found = []
    for band, other in zip(recipes[0].bands, recipes[1].bands, strict=True):
        now = plan_of(recipes[0], band, products[0], desks[0])
        then = plan_of(recipes[1], other, products[1], desks[1])
        if isinstance(now, PlannedOrder) and isinstance(then, PlannedOrder):
            one, two = now.chosen.only, then.chosen.only
            grams = Decimal(two.weight.gross_mg - one.weight.gross_mg) / 1000
            found.append(
                Effect(
                    recipe=name,
                    band=size_of(band.first, band.last),
                    units=judged_units(band.first, band.last),
                    cost=two.costs.total - one.costs.total,
                    grams=grams.quantize(Decimal("0.1")),
                    service_was=one.quote.service_name,
                    service=two.quote.service_name,
                )
            )
    return found


# --- taking and taking back ---------------------------------------------------------------------------------


def _version_of(workshop: Workshop, offer: Offer) -> RecipeVersion:
    code = offer.subject.rsplit("/", 1)[0]
    recipe = Recipe.objects.of(workshop).filter(code=code).first()
    version = current_version(workshop, recipe.pk) if recipe is not None else None
    if version is None:
        raise Refused(f"There is no recipe {code[:40]} any more.", code="not_found", status=404)
    return version


def _with_minutes(recipe: CoreRecipe, offer: Offer, *, back: bool = False) -> CoreRecipe:
    """Return the recipe with the minutes of the bands an offer is for: those that have the minutes of before."""
    old, new = ("after", "before") if back else ("before", "after")
    unit, parcel = offer.figures
    bands = tuple(
        replace(band, minutes=replace(band.minutes, per_unit=getattr(unit, new), per_parcel=getattr(parcel, new)))
        if (band.minutes.per_unit, band.minutes.per_parcel) == (getattr(unit, old), getattr(parcel, old))
        else band
        for band in recipe.bands
    )
    return replace(recipe, bands=bands)


@transaction.atomic
def take(*, by: Member, kind: Kind, subject: str, after: Mapping[str, Decimal], request_key: UUID) -> LearnedValue:
    """Take an offer: plans go by it from now on. Sent twice, it is taken once.

    Raises Refused: 404 when there is no such offer any more; 409 changed when it has become another since.
    """
    lock_workshop(by.workshop)
    before = LearnedValue.objects.of(by.workshop).filter(request_key=request_key).first()
    if before is not None:
        return before
    offer = next((one for one in offers(by.workshop) if (one.kind, one.subject) == (kind, subject)), None)
    if offer is None:
        raise Refused(
            "This is not offered any more: plans go by it, or too little tells of it.", code="not_found", status=404
        )
    if {one.name: one.after for one in offer.figures} != dict(after):
        raise Refused("More parcels have changed this value since you looked. Look at it again.", code="changed")
    _write(by, offer, back=False)
    return LearnedValue.objects.of(by.workshop).create(
        workshop=by.workshop, kind=kind, subject=subject, name=offer.name,
        before={one.name: f"{one.before:f}" for one in offer.figures},
        after={one.name: f"{one.after:f}" for one in offer.figures},
        evidence={"count": offer.count, "error": f"{offer.error:f}", "left_out": offer.left_out},
        taken_at=timezone.now(), taken_by=by.name, request_key=request_key,
    )  # fmt: skip


@transaction.atomic
def undo(*, by: Member, value_id: int) -> LearnedValue:
    """Put the value of before in its place. Asked again it does nothing more.

    Raises Refused: 404; changed_since when somebody has changed the value after it was taken.
    """
    lock_workshop(by.workshop)
    row = LearnedValue.objects.of(by.workshop).select_for_update().filter(pk=value_id).first()
    if row is None:
        raise Refused("There is no such value in your workshop.", code="not_found", status=404)
    if row.undone_at is not None:
        return row
    _write(by, _offer_of(row), back=True)
    row.undone_at, row.undone_by = timezone.now(), by.name
    row.save(update_fields=["undone_at", "undone_by"])
    return row


#: In their order: a JSON column keeps none.
_FIGURES: dict[str, tuple[tuple[str, Unit], ...]] = {
    "minutes": (("unit", "minutes"), ("parcel", "minutes")),
    "weight": (("weight", "mg"), ("spread", "mg")),
    "bulge": (("bulge", "um"),),
    "fill": (("factor", "number"),),
}


def figures_of(row: LearnedValue) -> tuple[Figure, ...]:
    """Return the figures of a value that was taken."""
    return tuple(
        Figure(name=name, unit=unit, before=Decimal(row.before[name]), after=Decimal(row.after[name]))
        for name, unit in _FIGURES[row.kind]
    )


def _offer_of(row: LearnedValue) -> Offer:
    figures = figures_of(row)
    return Offer(kind=row.kind, subject=row.subject, name=row.name, figures=figures, count=0, error=Decimal(0))  # type: ignore[arg-type]


def _write(by: Member, offer: Offer, *, back: bool) -> None:
    if offer.kind == "minutes":
        _write_minutes(by, offer, back=back)
    elif offer.kind == "weight":
        _write_weight(by.workshop, offer, back=back)
    else:
        _write_fill(by.workshop, offer, back=back)


def _refuse_changed(name: str) -> NoReturn:
    raise Refused(
        f"{name} was changed after this was taken: it is not put back. Change it where it stands.",
        code="changed_since",
    )


def _write_minutes(by: Member, offer: Offer, *, back: bool) -> None:
    version = _version_of(by.workshop, offer)
    recipe = core_recipe(version)
    other = _with_minutes(recipe, offer, back=back)
    if other == recipe:
        _refuse_changed(offer.name)
    words = "Minutes as before" if back else f"Minutes learned from {offer.count} parcels"
    add_version(
        by=by, recipe_id=version.recipe_id, base_version=version.number,
        document=document_of(other).model_dump(mode="json"), reason=words,
    )  # fmt: skip


def _write_weight(workshop: Workshop, offer: Offer, *, back: bool) -> None:
    weight, spread = offer.figures
    old, new = ("after", "before") if back else ("before", "after")
    rows = Product.objects.of(workshop).filter(sku=offer.subject, weight_mg=int(getattr(weight, old)))
    if not rows.update(weight_mg=int(getattr(weight, new)), weight_spread_mg=int(getattr(spread, new))):
        _refuse_changed(offer.name)
    tell_anything(workshop)


def _write_fill(workshop: Workshop, offer: Offer, *, back: bool) -> None:
    figure = offer.figures[0]
    old, new = (figure.after, figure.before) if back else (figure.before, figure.after)
    field = "bulge_um" if offer.kind == "bulge" else "packing_factor"
    row = Supply.objects.of(workshop).select_for_update(of=("self",)).filter(code=offer.subject, kind="fill").first()
    if row is None or Decimal(str(row.facts[field])) != old:
        _refuse_changed(offer.name)
    facts: dict[str, Any] = {**row.facts, field: int(new) if field == "bulge_um" else f"{new:f}"}
    facts_of(facts)  # what is kept can be read
    row.facts = facts
    row.estimated = [name for name in row.estimated if name != field]
    row.save(update_fields=["facts", "estimated"])
    tell_anything(workshop)
