"""What broke where: one recipe's parcels by place, version, carrier; what would help, and taking it (outcomes)."""

from collections import Counter, defaultdict
from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import date, timedelta
from decimal import Decimal
from typing import get_args

from django.db import transaction
from django.db.models import Count

from core.messages import Message, say
from core.outcomes.change import CHANGES, drafted
from core.outcomes.model import Arrived, Group
from core.outcomes.places import Cause, Where, where_of
from core.outcomes.rates import Counted, rates_by
from core.outcomes.suggest import Evidence, Suggestion, protection_key, suggested
from core.recipes.damage import damage_prior, planning_rate
from core.recipes.goods import Product as CoreProduct
from core.recipes.model import Recipe as CoreRecipe
from server.api.problems import Refused
from server.designing.desk import desk_of
from server.formats.recipe import document_of
from server.outcomes.models import Arrival, ArrivalGoods
from server.outcomes.selectors import arrived_values, of_recipe
from server.recipes.mapping import core_products, core_recipe
from server.recipes.models import Product, Recipe, RecipeVersion, VersionArrivals
from server.recipes.selectors import current_version, current_versions, with_their_families
from server.recipes.services import add_version
from server.words import words_of
from server.workshops.clock import today
from server.workshops.judging import judgements_of
from server.workshops.models import Member, Workshop

__all__ = [
    "CAUSES",
    "Known",
    "RecipeDamage",
    "Run",
    "damage_by_recipe",
    "headline_of",
    "known_of",
    "save_suggestion",
    "suggestions_of",
]

CAUSES: tuple[str, ...] = tuple(one for part in get_args(Cause) for one in get_args(part))
#: What the screen tells rates by, besides versions.
_GROUPS: tuple[Group, ...] = ("band", "product", "carrier", "zone", "season", "container", "month")
_MONTH_DAYS = 30


@dataclass(frozen=True, slots=True, kw_only=True)
class RecipeDamage:
    """A recipe in the list to choose from."""

    id: int
    name: str
    known: int
    damaged: int
    on_the_way: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Run:
    """Versions of a recipe after one another that protect alike, and how their parcels arrived."""

    first: int
    last: int
    current: bool
    since: date
    reason: str  #: of the first of them
    counted: Counted
    where: Where


@dataclass(frozen=True, slots=True, kw_only=True)
class Known:
    """All that is known of how a recipe's parcels arrived."""

    recipe: Recipe
    version: RecipeVersion
    value: CoreRecipe
    products: tuple[CoreProduct, ...]  #: that it packs, of known size and weight; the one sent most often first
    run: Run  #: of the version in use
    runs: tuple[Run, ...]  #: oldest first
    rate: Decimal  #: planned with
    prior: Decimal
    groups: dict[Group, dict[str, Counted]]
    sent_a_month: int
    container: str  #: most often
    outer_um: tuple[int, int, int] | None
    sent: dict[int, int]  #: parcels by first size of their band
    unheard: int  #: on the way, or nobody said


def damage_by_recipe(workshop: Workshop) -> list[RecipeDamage]:
    """Return every recipe that was sent, most damaged first."""
    totals: dict[int, list[int]] = defaultdict(lambda: [0, 0, 0])
    names: dict[int, str] = {}
    # What is known is counted when it is told; only what is on the way is counted here.
    counted = VersionArrivals.objects.of(workshop).values_list(
        "version__recipe_id", "version__recipe__name", "known", "damaged"
    )
    for pk, name, known, damaged in counted.order_by():
        names[pk] = name
        totals[pk][0] += known
        totals[pk][1] += damaged
    unknown = ArrivalGoods.objects.of(workshop).filter(arrival__outcome="unknown").exclude(version=None).order_by()
    sent = unknown.values_list("version__recipe_id", "version__recipe__name")
    for pk, name, parcels in sent.annotate(parcels=Count("arrival", distinct=True)):
        names[pk] = name
        totals[pk][2] += parcels
    found = [
        RecipeDamage(id=pk, name=names[pk], known=known, damaged=damaged, on_the_way=way)
        for pk, (known, damaged, way) in totals.items()
        if known or way
    ]
    return sorted(found, key=lambda one: (-one.damaged, -one.known, one.name))


def known_of(workshop: Workshop, recipe_id: int) -> Known:
    """Return what is known of a recipe's arrivals. Raises Refused (404)."""
    version = current_version(workshop, recipe_id)
    if version is None:
        raise Refused("There is no such recipe in your workshop.", code="not_found", status=404)
    rows = of_recipe(workshop, recipe_id)
    parcels = arrived_values(workshop, rows)
    mine = _of_this_recipe(parcels, version.recipe.code)
    products = _products(workshop, recipe_id, mine)
    runs = _runs(workshop, recipe_id, version, mine)
    run = next(one for one in runs if one.current)
    judged = judgements_of(workshop)
    prior = max((damage_prior(one.fragility, judged) for one in products), default=Decimal(0))
    newest = rows.first()
    month_ago = today(workshop) - timedelta(days=_MONTH_DAYS)
    return Known(
        recipe=version.recipe,
        version=version,
        value=replace(core_recipe(version), tried=True),
        products=products,
        run=run,
        runs=runs,
        rate=planning_rate(prior, run.counted.damaged, run.counted.known).quantize(Decimal("0.000001")),
        prior=prior,
        groups={group: rates_by(mine, group) for group in _GROUPS},
        sent_a_month=sum(1 for one in mine if one.sent_on is not None and one.sent_on > month_ago),
        container=newest.container if newest is not None else "",
        outer_um=_outer(newest),
        sent=_sent(mine),
        unheard=sum(1 for one in mine if one.outcome == "unknown"),
    )


def _outer(row: Arrival | None) -> tuple[int, int, int] | None:
    if row is None:
        return None
    length, width, height = row.outer_um
    return length, width, height


def _of_this_recipe(parcels: Iterable[Arrived], code: str) -> tuple[Arrived, ...]:
    """Return the parcels with this recipe's goods alone in them, damaged only when these were."""
    found = []
    for one in parcels:
        goods = tuple(item for item in one.goods if item.recipe == code)
        if goods == one.goods and not one.harms:
            found.append(one)
            continue
        hurt = [item for item in one.damaged_goods() if item.recipe == code]
        if one.damaged and not hurt:  # other goods of the parcel were; these came whole
            one = replace(one, outcome="whole", harms=())
        skus = {item.sku for item in goods}
        harms = tuple(harm for harm in one.harms if not harm.sku or harm.sku in skus)
        found.append(replace(one, goods=goods, harms=harms))
    return tuple(found)


def _products(workshop: Workshop, recipe_id: int, parcels: Iterable[Arrived]) -> tuple[CoreProduct, ...]:
    """Return the recipe's products, the one sent most often first: what is costed is costed with it."""
    counts = Counter(item.sku for one in parcels for item in one.goods)
    rows = list(Product.objects.of(workshop).filter(recipe_id=recipe_id, retired_at=None).order_by("sku"))
    goods = core_products(rows, with_their_families(workshop, rows))
    known = [goods[row.sku] for row in rows if goods[row.sku].size is not None and goods[row.sku].weight_mg is not None]
    return tuple(sorted(known, key=lambda one: -counts[one.sku]))


def _sent(parcels: Iterable[Arrived]) -> dict[int, int]:
    firsts = (int(item.band.split("-")[0]) for one in parcels for item in one.goods[:1] if item.band)
    return dict(Counter(firsts))


def _runs(workshop: Workshop, recipe_id: int, current: RecipeVersion, parcels: tuple[Arrived, ...]) -> tuple[Run, ...]:
    """Return versions that protect alike as one each, oldest first; those never sent only when in use or on trial."""
    versions = list(RecipeVersion.objects.of(workshop).filter(recipe_id=recipe_id).order_by("number"))
    groups: dict[str, list[RecipeVersion]] = {}
    for version in versions:
        groups.setdefault(protection_key(core_recipe(version)), []).append(version)
    found = []
    for alike in groups.values():
        numbers = {version.number for version in alike}
        mine = tuple(one for one in parcels if any(item.version in numbers for item in one.goods))
        counts = [one for one in mine if one.known]
        is_current = current.number in numbers
        if not mine and not is_current and not any(not version.in_force for version in alike):
            continue
        found.append(
            Run(
                first=min(numbers),
                last=max(numbers),
                current=is_current,
                since=alike[0].at.date(),
                reason=alike[0].reason,
                counted=Counted(
                    damaged=sum(one.damaged for one in counts), known=len(counts),
                    assumed=sum(one.assumed for one in counts),
                ),
                where=where_of(mine),
            )
        )  # fmt: skip
    return tuple(sorted(found, key=lambda one: one.first))


def headline_of(known: Known) -> Message:
    """Return the answer in words: the place that leads, or what is known instead."""
    run = known.run
    damaged, of = run.counted.damaged, run.counted.known
    if run.where.leading is not None and run.where.leading != "spoiled":
        return say(
            "where_leads", place=say(f"place_{run.where.leading}"), count=run.where.places[0].count,
            damaged=run.where.broken, version=run.first,
        )  # fmt: skip
    if run.where.leading == "spoiled":
        return say("where_spoiled", count=run.where.spoiled, damaged=damaged, version=run.first)
    if not of:
        return say("where_never_sent", version=known.version.number)
    if damaged:
        return say("where_none_leads", damaged=damaged, known=of)
    return say("where_all_whole", known=of)


def suggestions_of(workshop: Workshop, known: Known, cause: Cause) -> tuple[Suggestion, ...]:
    """Return what could be changed where goods break, best first."""
    if not known.products:
        return ()
    return suggested(
        cause,
        known.value,
        known.products,
        _evidence(workshop, known, cause),
        desk_of(workshop),
        dividers=_dividers(workshop),
    )


def _evidence(workshop: Workshop, known: Known, cause: Cause) -> Evidence:
    run = known.run
    at = run.where.spoiled if cause == "spoiled" else next(p.count for p in run.where.places if p.place == cause)
    others = {one.last: one.counted for one in known.runs if not one.current and one.counted.known}
    rows = RecipeVersion.objects.of(workshop).filter(recipe=known.recipe, number__in=list(others))
    return Evidence(
        counted=run.counted,
        at_cause=min(at, run.counted.damaged),
        prior=known.prior,
        others=tuple((core_recipe(row), others[row.number]) for row in rows),
        sent=known.sent or None,
    )


def _dividers(workshop: Workshop) -> tuple[str, ...]:
    """Return what the workshop's recipes have between layers."""
    rows = current_versions(workshop).order_by("recipe_id", "-number").distinct("recipe_id")
    bands = (band for document in rows.values_list("document", flat=True) for band in document["bands"])
    return tuple(sorted({band["divider"] for band in bands if band.get("divider")}))


@transaction.atomic
def save_suggestion(
    *, by: Member, recipe_id: int, cause: Cause, code: str, base_version: int, for_trial: bool
) -> RecipeVersion:
    """Make the version a suggestion drafts; for a trial it is not in force. Raises Refused when it changes nothing."""
    known = known_of(by.workshop, recipe_id)
    if code not in CHANGES or not known.products:
        raise Refused(f"There is no change {code[:30]} for this recipe.", code="not_found", status=404)
    change = next(one for one in CHANGES if one == code)
    draft = drafted(change, known.value, known.products, desk_of(by.workshop), _dividers(by.workshop))
    if draft is None:
        raise Refused(
            "This change does nothing to the recipe any more, or no container takes it. Look at the suggestions again.",
            code="nothing_changed", status=422,
        )  # fmt: skip
    words = words_of(by.workshop.unit_system)
    reason = f"{words.of(say(f'place_{cause}'))}: {'; '.join(words.of(one) for one in draft.words)}"
    return add_version(
        by=by, recipe_id=recipe_id, base_version=base_version,
        document=document_of(draft.recipe).model_dump(mode="json"), reason=reason[:200], in_force=not for_trial,
    )  # fmt: skip
