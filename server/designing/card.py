"""What stands on a recipe card: the current version, its bands worked out, in the same words as the editor."""

from django.http import Http404

from core.bench.steps import amount_of_use
from core.parcels.candidate import Candidate
from server.designing.figures import BandFigures, band_figures
from server.formats.recipe import RecipeFile
from server.formats.recipe_card import CardBand, RecipeCard
from server.recipes.models import Product
from server.recipes.selectors import current_version
from server.supplies.models import Supply
from server.words import Words, words_of
from server.workshops.models import Workshop

__all__ = ["recipe_card"]


def recipe_card(workshop: Workshop, recipe_id: int) -> RecipeCard:
    """Return the card of a recipe's current version. Raises Http404 when there is none."""
    row = current_version(workshop, recipe_id)
    if row is None:
        raise Http404
    file = RecipeFile.model_validate(row.document)
    products = list(Product.objects.of(workshop).filter(recipe_id=recipe_id))
    supplies = list(Supply.objects.of(workshop).only("code", "name", "kind"))
    names = {one.code: one.name for one in supplies}
    words = words_of(workshop.unit_system)
    goods = ", ".join(product.name for product in products) or "no product yet"
    return RecipeCard(
        recipe=file,
        version=row.number,
        made=f"{row.at:%d %B %Y} by {row.author_name}: {row.reason}",
        goods=goods,
        bands=tuple(_band(one, names, words) for one in band_figures(workshop, file, products)),
        unit_system=workshop.unit_system,
    )


def _band(figures: BandFigures, names: dict[str, str], words: Words) -> CardBand:
    one = figures.candidate
    return CardBand(
        first=figures.first,
        last=figures.last,
        units=figures.units,
        candidate=one,
        amounts=_amounts(one, names, words) if one else (),
        problem=figures.problem or "",
    )


def _amounts(one: Candidate, names: dict[str, str], words: Words) -> tuple[tuple[str, str], ...]:
    told: dict[str, list[str]] = {}
    for use in one.uses:
        if use.supply != one.container:
            told.setdefault(use.supply, []).append(words.of(amount_of_use(use)))
    return tuple((names.get(code, code), ", ".join(amounts)) for code, amounts in told.items())
