"""Products and recipes as open files: what a file is, told by how it begins; all or nothing."""

import json

from server.formats.base import read_file
from server.formats.products import ProductsFile
from server.formats.products_csv import read_products
from server.formats.recipe import RecipeFile, RecipesFile
from server.formats.recipe_card import read_recipe_card
from server.recipes.mapping import product_item
from server.recipes.models import Product
from server.recipes.selectors import current_versions
from server.recipes.services import import_products, import_recipes
from server.workshops.models import Workshop

__all__ = ["products_file", "recipes_file", "take_in_products", "take_in_recipes"]


def products_file(workshop: Workshop) -> ProductsFile:
    """Return every product of a workshop as its file."""
    rows = Product.objects.of(workshop).select_related("recipe")
    return ProductsFile(format="calm-cupboard/products", version=1, products=[product_item(row) for row in rows])


def recipes_file(workshop: Workshop) -> RecipesFile:
    """Return every current recipe as one file."""
    rows = current_versions(workshop).order_by("recipe_id", "-number").distinct("recipe_id")
    return RecipesFile(
        format="calm-cupboard/recipes", version=1, recipes=[RecipeFile.model_validate(row.document) for row in rows]
    )


def take_in_products(workshop: Workshop, content: bytes) -> tuple[int, int]:
    """Import a JSON or CSV file of products; return how many are new and how many were known.

    Raises Refused with every error.
    """
    plain = content.lstrip(b"\xef\xbb\xbf \t\r\n")
    file = read_file(ProductsFile, plain, what="products file") if plain.startswith(b"{") else read_products(content)
    new = import_products(workshop=workshop, file=file)
    return new, len(file.products) - new


def take_in_recipes(workshop: Workshop, content: bytes, *, by: str) -> tuple[int, int]:
    """Import one recipe, many, or a recipe card; return how many versions are new and how many were here.

    Raises Refused with every error.
    """
    return import_recipes(workshop=workshop, file=_recipes(content), author_name=by)


def _recipes(content: bytes) -> RecipesFile:
    if content.startswith(b"%PDF"):
        one = read_recipe_card(content)
        return RecipesFile(format="calm-cupboard/recipes", version=1, recipes=[one])
    try:
        kind = json.loads(content)
    except (ValueError, RecursionError):
        kind = None  # read_file says below what is wrong with it
    if isinstance(kind, dict) and kind.get("format") == "calm-cupboard/recipes":
        return read_file(RecipesFile, content, what="recipes file")
    one = read_file(RecipeFile, content, what="recipe file")
    return RecipesFile(format="calm-cupboard/recipes", version=1, recipes=[one])
