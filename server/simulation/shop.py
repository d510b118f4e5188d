"""The made-up shop of a simulated year: its cupboard, goods, price lists, and the orders of the year by a seed.

Made of the files of demo/, with no database. What the year holds in secret, such as why parcels break, is drawn here
too and shown to no player.
"""

import json
import random
from collections import Counter
from csv import DictReader
from dataclasses import dataclass, fields, replace
from datetime import date, timedelta
from decimal import Decimal
from pathlib import Path

from core.judgements import ORDINARY
from core.parcels.facts import Facts, Settings
from core.parcels.plan import PlannedOrder, plan_order
from core.recipes.damage import damage_prior
from core.recipes.expand import OrderLine, Shelf
from core.recipes.goods import Product
from core.recipes.model import Recipe
from core.supplies.items import Container, Fill, Insert, Mailer, Tape, UnitBox, Wrap
from core.tariffs.model import Place, Tariff
from core.tariffs.zones import plain_postcode
from core.units import Size
from server.formats.base import read_file
from server.formats.products import ProductItem, ProductsFile
from server.formats.recipe import RecipeFile
from server.formats.supplies import SuppliesFile, item_of
from server.formats.tariff import TariffFile

__all__ = ["YEAR_BEGINS", "Shop", "Truth", "YearOrder", "load_shop", "made_up_orders"]

YEAR_BEGINS = date(2026, 1, 5)
DAYS = 364
#: Orders a month against the mean, January first: the sample's own season.
SEASON = (0.8, 0.8, 0.9, 0.9, 0.9, 0.8, 0.7, 0.7, 0.9, 1.0, 1.3, 1.9)
_WEEKDAYS = (1.25, 1.0, 0.95, 0.95, 0.95, 0.9, 1.0)
_SIZES = ((1, 48), (2, 25), (3, 10), (4, 6), (5, 3), (6, 4), (8, 2), (10, 1), (12, 1))
_MIXED = 0.14
_URGENT = 0.12
_PLENTY = Decimal(10**9)


@dataclass(frozen=True, slots=True, kw_only=True)
class YearOrder:
    """One order of the year."""

    number: int
    day: int  #: it was placed on, from 0
    goods: tuple[tuple[str, int], ...]
    place: Place
    urgent: bool  #: wanted within three working days
    damage_draw: float  #: 0 to 1, the same for every player: below its true chance the parcel breaks
    late_draw: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Truth:
    """Why parcels break and are late, known to nobody."""

    recipe_factor: dict[str, float]  #: of the prior of the goods
    carrier_factor: dict[str, float]
    late_rate: dict[str, float]  #: by carrier

    def chance(self, *, prior: float, recipe: str, carrier: str, void: float, gross_mg: int, exposed: bool) -> float:
        """Return the true chance that a parcel breaks: much air, much weight and bare sides make it likelier."""
        air = 1 + 1.2 * max(0.0, void - 0.55)
        weight = 1.4 if gross_mg > 8_000_000 else 1.0
        bare = 3.0 if exposed else 1.0
        return min(0.6, prior * self.recipe_factor[recipe] * self.carrier_factor[carrier] * air * weight * bare)


@dataclass(frozen=True, slots=True, kw_only=True)
class Shop:
    """What the shop has and sells."""

    facts: Facts
    products: dict[str, Product]
    recipes: dict[str, Recipe]  #: by sku
    tariffs: tuple[Tariff, ...]  #: all versions
    changes_on: date  #: the day the year's new price lists begin
    priors: dict[str, float]


def load_shop(demo: Path) -> Shop:
    """Return the shop of the sample's files."""
    items = [
        item
        for name in ("supplies.json", "range/supplies.json")
        for item in read_file(SuppliesFile, (demo / name).read_bytes(), what="supplies file").supplies
    ]
    supplies = [item_of(one.code, one.name, one.facts, one.unit_cost, None, ORDINARY) for one in items]
    containers = tuple(one for one in supplies if isinstance(one, Container | Mailer))
    shelf = Shelf(
        wraps={one.code: one for one in supplies if isinstance(one, Wrap)},
        fills={one.code: one for one in supplies if isinstance(one, Fill)},
        tapes={one.code: one for one in supplies if isinstance(one, Tape)},
        inserts={one.code: one for one in supplies if isinstance(one, Insert)},
        unit_boxes={one.code: one for one in supplies if isinstance(one, UnitBox)},
    )
    recipes = _recipes(demo)
    goods = [
        item
        for name in ("products.json", "range/products.json")
        for item in read_file(ProductsFile, (demo / name).read_bytes(), what="products file").products
    ]
    products = {item.sku: _product(item) for item in goods if _plain(item, recipes)}
    changes_on = YEAR_BEGINS + timedelta(days=182)
    tariffs = _tariffs(demo, changes_on)
    workshop = json.loads((demo / "workshop.json").read_text())
    settings = Settings(
        wage_per_hour=Decimal(workshop["wage_per_hour"]),
        scale_division_mg=1_000,
        support_percent=75,
        money_digits=2,
        label=workshop["label_supply"],
        origin=Place(country=workshop["country"], postcode=plain_postcode(workshop["postcode"])),
        homes=True,
    )
    facts = Facts(
        shelf=shelf,
        containers=containers,
        free=dict.fromkeys((one.code for one in items), _PLENTY),
        tariffs=tariffs,
        settings=settings,
    )
    by_sku = {item.sku: recipes[item.recipe or ""] for item in goods if item.sku in products}
    products = {sku: one for sku, one in products.items() if _can_be_sent(one, by_sku[sku], facts)}
    return Shop(
        facts=facts,
        products=products,
        recipes={sku: by_sku[sku] for sku in products},
        tariffs=tariffs,
        changes_on=changes_on,
        priors={sku: float(damage_prior(one.fragility)) for sku, one in products.items()},
    )


def _recipes(demo: Path) -> dict[str, Recipe]:
    files = [json.loads(path.read_text()) for path in sorted((demo / "recipes").glob("*.json"))]
    files += json.loads((demo / "range" / "recipes.json").read_text())["recipes"]
    read = [RecipeFile.model_validate({"format": "calm-cupboard/recipe", "version": 1, **one}) for one in files]
    return {one.code: replace(one.core(number=1), tried=True) for one in read}


def _plain(item: ProductItem, recipes: dict[str, Recipe]) -> bool:
    """Goods with a size, a recipe for single products, and no limit of heat and cold: the year has no weather."""
    limits = (item.lowest_c, item.highest_c, item.longest_days, item.keeps_days)
    warm = item.frozen or item.live or item.meltable or item.restricted or any(one is not None for one in limits)
    recipe = recipes.get(item.recipe or "")
    return not warm and not item.contents and item.size is not None and recipe is not None and not recipe.mix


def _can_be_sent(product: Product, recipe: Recipe, facts: Facts) -> bool:
    """The sample has recipes that lack something on purpose, to show how that is told."""
    line = OrderLine(sku=product.sku, quantity=1, product=product, recipe=recipe)
    home = facts.settings.origin or Place(country="", postcode="")
    plan = plan_order((line,), facts, destination=home, ship_on=YEAR_BEGINS + timedelta(days=1))
    return isinstance(plan, PlannedOrder)


def _product(item: ProductItem) -> Product:
    names = {one.name for one in fields(Product)} & set(ProductItem.model_fields) - {"size", "not_with", "holds"}
    size = item.size
    return Product(
        **{name: getattr(item, name) for name in names},
        size=Size(length_um=size.length_um, width_um=size.width_um, height_um=size.height_um) if size else None,
        not_with=tuple(item.not_with),
        holds=tuple(item.holds),
    )


def _tariffs(demo: Path, changes_on: date) -> tuple[Tariff, ...]:
    """The three carriers' lists from before the year, and their next ones from its middle on."""
    now = [*(demo / "tariffs").glob("*.json"), *(demo / "carriers").glob("*.json")]
    coming = (demo / "carriers" / "coming").glob("*.json")
    dated = [(path, YEAR_BEGINS - timedelta(days=30)) for path in now] + [(path, changes_on) for path in coming]
    found = []
    for path, begins in sorted(dated, key=lambda pair: str(pair[0])):
        document = {**json.loads(path.read_text()), "valid_from": begins.isoformat()}
        found.append(TariffFile.model_validate(document).core())
    return tuple(found)


def made_up_orders(shop: Shop, demo: Path, *, seed: int, count: int) -> tuple[tuple[YearOrder, ...], Truth]:
    """Return a year's orders and what is true of it, by a seed: the same seed gives the same year."""
    draw = random.Random(f"year-{seed}")
    skus = sorted(shop.products)
    popular = {sku: draw.paretovariate(1.1) for sku in skus}
    weights = [min(popular[sku], 12.0) for sku in skus]
    places = _places(demo)
    days = _days(draw, count)
    orders = []
    for number, day in enumerate(days):
        sku = draw.choices(skus, weights)[0]
        units = min(draw.choices([n for n, _ in _SIZES], [w for _, w in _SIZES])[0], shop.recipes[sku].bands[-1].last)
        goods: dict[str, int] = {sku: units}
        if draw.random() < _MIXED:
            other = draw.choices(skus, weights)[0]
            goods = {sku: min(units, 2), other: goods.get(other, 0) + 1} if other != sku else goods
        place = draw.choices([one for one, _ in places], [n for _, n in places])[0]
        orders.append(
            YearOrder(
                number=number, day=day, goods=tuple(sorted(goods.items())), place=place,
                urgent=draw.random() < _URGENT and place.country == shop.facts.settings.origin.country,  # type: ignore[union-attr]
                damage_draw=draw.random(), late_draw=draw.random(),
            )
        )  # fmt: skip
    carriers = sorted({one.carrier for one in shop.tariffs})
    codes = sorted({recipe.code for recipe in shop.recipes.values()})
    truth = Truth(
        recipe_factor={code: draw.choice((0.5, 0.7, 1.0, 1.0, 1.4, 2.0)) for code in codes},
        carrier_factor={code: draw.uniform(0.8, 1.3) for code in carriers},
        late_rate={code: draw.uniform(0.03, 0.08) for code in carriers},
    )
    return tuple(orders), truth


def _places(demo: Path) -> list[tuple[Place, int]]:
    with (demo / "history.csv").open(newline="") as file:
        rows = Counter((row["country"], plain_postcode(row["postcode"])[:3]) for row in DictReader(file))
    return [(Place(country=country, postcode=code), count) for (country, code), count in sorted(rows.items())]


def _days(draw: random.Random, count: int) -> list[int]:
    weights = []
    for day in range(DAYS):
        on = YEAR_BEGINS + timedelta(days=day)
        weights.append(SEASON[on.month - 1] * _WEEKDAYS[on.weekday()])
    return sorted(draw.choices(range(DAYS), weights, k=count))
