"""What stands on a recipe card: the version in force, its bands worked out, in the same words as the editor."""

from decimal import Decimal

from django.http import Http404

from core.parcels.candidate import Candidate
from core.recipes.expand import amounts_of
from core.recipes.model import size_words
from server.designing.figures import BandFigures, band_figures
from server.formats.recipe import RecipeFile
from server.formats.recipe_card import CardBand, RecipeCard
from server.formats.supplies import STOCK_UNITS
from server.recipes.models import Product, RecipeVersion
from server.supplies.models import Supply
from server.workshops.models import Workshop

__all__ = ["recipe_card"]

_UNIT_WORDS = {"pieces": "", "m2": "m2", "l": "l", "m": "m"}


def recipe_card(workshop: Workshop, recipe_id: int) -> RecipeCard:
    """Return the card of a recipe's version in force. Raises Http404 when there is none."""
    row = RecipeVersion.objects.of(workshop).filter(recipe_id=recipe_id).order_by("-number").first()
    if row is None:
        raise Http404
    file = RecipeFile.model_validate(row.document)
    products = list(Product.objects.of(workshop).filter(recipe_id=recipe_id))
    supplies = list(Supply.objects.of(workshop).only("code", "name", "kind"))
    names = {one.code: one.name for one in supplies}
    units = {one.code: _UNIT_WORDS[STOCK_UNITS[one.kind]] for one in supplies}
    goods = ", ".join(product.name for product in products) or "no product yet"
    return RecipeCard(
        recipe=file,
        version=row.number,
        made=f"{row.at:%d %B %Y} by {row.author_name}: {row.reason}",
        goods=goods,
        bands=tuple(_band(one, names, units) for one in band_figures(workshop, file, products)),
        unit_system=workshop.unit_system,
    )


def _band(figures: BandFigures, names: dict[str, str], units: dict[str, str]) -> CardBand:
    one = figures.candidate
    return CardBand(
        name=size_words(figures.first, figures.last),
        units=figures.units,
        candidate=one,
        amounts=_amounts(one, names, units) if one else (),
        problem=figures.problem or "",
    )


def _amounts(one: Candidate, names: dict[str, str], units: dict[str, str]) -> tuple[tuple[str, str], ...]:
    return tuple(
        (names.get(code, code), f"{quantity.quantize(Decimal('0.01')).normalize():f} {units.get(code, '')}".strip())
        for code, quantity in amounts_of(one.uses).items()
        if code != one.container
    )
