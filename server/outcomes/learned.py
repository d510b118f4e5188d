"""What the bench taught: each value that differs from what plans use, with before, after and how many tell of it
(outcomes; rules 17.5). Nothing here is taken by itself: server/outcomes/learned_taking.
"""

from dataclasses import dataclass, replace
from decimal import Decimal
from typing import Literal

from django.db.models import Sum

from core.outcomes.learned import Timed, Weighed, bulge_fit, fill_fit, minutes_fit, weight_fit, with_minutes
from core.recipes.model import Minutes
from core.recipes.model import Recipe as CoreRecipe
from core.units import Size
from server.api.problems import Refused
from server.bench.models import Parcel, StepTime
from server.outcomes.models import Arrival, ArrivalGoods
from server.recipes.mapping import core_recipe
from server.recipes.models import Product, Recipe, RecipeVersion, VersionArrivals
from server.recipes.selectors import current_version, versions_in_force
from server.supplies.models import Entry, Supply
from server.workshops.models import Workshop

__all__ = ["Figure", "Kind", "Offer", "Unit", "offers", "version_of"]

Kind = Literal["minutes", "weight", "bulge", "fill"]
Unit = Literal["minutes", "mg", "um", "number"]
#: Learned from the newest so many parcels.
_NEWEST = 1_000
_ENTRIES = 5_000


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

    @property
    def back(self) -> "Offer":
        """Return the way back: before and after changed places."""
        figures = tuple(replace(one, before=one.after, after=one.before) for one in self.figures)
        return replace(self, figures=figures)

    @property
    def before(self) -> tuple[Decimal, ...]:
        """Return what is used before, in the order of the figures."""
        return tuple(one.before for one in self.figures)

    @property
    def after(self) -> tuple[Decimal, ...]:
        """Return what is used after, in the order of the figures."""
        return tuple(one.after for one in self.figures)

    def changed(self, recipe: CoreRecipe) -> CoreRecipe:
        """Return the recipe with the minutes this one, of minutes, offers."""
        (unit_was, parcel_was), (unit, parcel) = self.before, self.after
        return with_minutes(recipe, (unit_was, parcel_was), (unit, parcel))


def offers(workshop: Workshop) -> list[Offer]:
    """Return everything the bench has to offer, kinds in order."""
    return [*_minutes(workshop), *_weights(workshop), *_bulges(workshop), *_fills(workshop)]


def version_of(workshop: Workshop, offer: Offer) -> RecipeVersion:
    """Return the version in force of the recipe that minutes are offered for. Raises Refused (404)."""
    code = offer.subject.rsplit("/", 1)[0]
    recipe = Recipe.objects.of(workshop).filter(code=code).first()
    version = current_version(workshop, recipe.pk) if recipe is not None else None
    if version is None:
        raise Refused(f"There is no recipe {code[:40]} any more.", code="not_found", status=404)
    return version


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
        .order_by("-arrival__sent_on", "-arrival_id", "-id")
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
