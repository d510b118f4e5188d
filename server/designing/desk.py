"""The cupboard and tariffs as the core's design desk sees them, and what usually goes into a parcel."""

from collections import Counter
from decimal import Decimal

from core.designing.cupboard import Desk
from core.parcels.facts import Facts
from core.recipes.model import InsertAmount
from core.tariffs.model import Place, Tariff
from core.tariffs.zones import all_zone_rules, plain_postcode
from server.carriers.selectors import core_tariffs
from server.formats.recipe import RecipeFile
from server.orders.models import Order
from server.plans.facts import settings_of, ship_day
from server.recipes.selectors import current_versions
from server.supplies.mapping import core_cupboard, materials_of
from server.supplies.selectors import Stock, stock_of
from server.workshops.judging import judgements_of
from server.workshops.models import Workshop

__all__ = ["desk_of", "one_place_a_zone", "reorder_marks", "usual_inserts"]

#: The usual destination is taken from so many of the newest orders.
_NEWEST = 300


def desk_of(workshop: Workshop, stocks: list[Stock] | None = None) -> Desk:
    """Return the desk; stock counts in its facts as it stands."""
    stocks = stock_of(workshop) if stocks is None else stocks
    shelf, containers, free = core_cupboard(stocks, judgements_of(workshop))
    tariffs = core_tariffs(workshop)
    return Desk(
        facts=Facts(shelf=shelf, containers=containers, free=free, tariffs=tariffs, settings=settings_of(workshop)),
        materials=materials_of(stocks),
        names={stock.supply.code: stock.supply.name for stock in stocks},
        usual=_usual_place(workshop, tariffs),
        ship_on=ship_day(workshop),
    )


def one_place_a_zone(tariffs: tuple[Tariff, ...]) -> list[Place]:
    """Return one destination for each zone of each carrier."""
    first: dict[tuple[str, str], Place] = {}
    for tariff in tariffs:
        for rule in all_zone_rules(tariff):
            first.setdefault((tariff.carrier, rule.zone), Place(country=rule.country, postcode=rule.prefix))
    return list(dict.fromkeys(first.values()))


def reorder_marks(stocks: list[Stock]) -> dict[str, Decimal]:
    """Return the reorder mark of every supply that has one."""
    return {s.supply.code: s.supply.reorder_at for s in stocks if s.supply.reorder_at is not None}


def usual_inserts(workshop: Workshop) -> tuple[InsertAmount, ...]:
    """Return what more than half of the current recipes put into every parcel, without conditions."""
    rows = current_versions(workshop).order_by("recipe_id", "-number").distinct("recipe_id")
    counts: Counter[InsertAmount] = Counter()
    recipes = 0
    for row in rows:
        recipes += 1
        first = RecipeFile.model_validate(row.document).bands[0].core()
        counts.update({one for one in first.inserts if one.per == "parcel" and one.when is None and not one.samples})
    return tuple(sorted((one for one, n in counts.items() if 2 * n > recipes), key=lambda one: one.insert))


def _usual_place(workshop: Workshop, tariffs: tuple[Tariff, ...]) -> Place:
    """Return the most frequent destination: of the newest orders, or any zone's when there are none."""
    rows = Order.objects.of(workshop).order_by("-placed_on", "-id").values_list("country", "postcode")[:_NEWEST]
    areas: Counter[tuple[str, str]] = Counter((country, plain_postcode(code)[:2]) for country, code in rows)
    if areas:
        (country, area), _ = min(areas.items(), key=lambda pair: (-pair[1], pair[0]))
        return next(
            Place(country=c, postcode=plain_postcode(code))
            for c, code in rows
            if c == country and plain_postcode(code).startswith(area)
        )
    places = one_place_a_zone(tariffs)
    return places[0] if places else Place(country=workshop.country, postcode=plain_postcode(workshop.postcode))
