"""Writing products and recipes: a change makes a new version; a version is never edited."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from server.api.problems import Fault, Refused
from server.formats.photo import Photo
from server.formats.products import ProductItem, ProductsFile
from server.formats.recipe import RecipeFile, RecipesFile, supplies_named
from server.recipes.models import Product, ProductPhoto, Recipe, RecipeVersion, Trial
from server.recipes.selectors import current_version
from server.supplies.models import Supply
from server.workshops.happened import tell_anything, tell_recipe
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = [
    "TrialFacts",
    "add_trial",
    "add_version",
    "import_products",
    "import_recipe",
    "import_recipes",
    "new_recipe",
    "retire_product",
    "retire_recipe",
    "save_photo",
    "save_product",
]


@dataclass(frozen=True, slots=True, kw_only=True)
class TrialFacts:
    """What was done to a parcel and whether it passed."""

    request_key: UUID
    version: int  #: the version that was tried
    kind: str
    units: int
    passed: bool
    place: str
    drop_mm: int | None
    note: str
    photo: Photo | None


@transaction.atomic
def add_version(
    *, by: Member, recipe_id: int, base_version: int, document: Any, reason: str, in_force: bool = True
) -> RecipeVersion:
    """Make the next version of a recipe from a whole document; open orders follow it.

    Not ``in_force``: it is made for a trial, and only orders the trial picks for it are packed by it.

    ``base_version`` is the version the change was made on: when another one came in meanwhile, the change is
    refused (409 version_moved) and nothing is lost on the caller's side. Raises Refused with every error.
    """
    lock_workshop(by.workshop)
    recipe = Recipe.objects.of(by.workshop).select_for_update().filter(pk=recipe_id).first()
    if recipe is None:
        raise Refused("There is no such recipe in your workshop.", code="not_found", status=404)
    file = RecipeFile.model_validate(document)
    if file.code != recipe.code:
        raise Refused(
            f"This is recipe {recipe.code}; the document says {file.code}.", code="not_valid", status=422, field="code"
        )
    newest = current_version(by.workshop, recipe_id)
    held = newest.number if newest else 0
    if newest is not None and base_version != held:
        who = newest.author_name
        raise Refused(
            f"{who} made version {held} while you worked on version {base_version}. Look at it, then "
            "make your change again.",
            code="version_moved",
            facts={"newest": held, "by": who},
        )
    if newest is not None and newest.document == file.model_dump(mode="json"):
        raise Refused(f"Nothing differs from version {held}.", code="nothing_changed", status=422)
    _check_supplies(by.workshop, file)
    version = _add(recipe, file, reason, by.name, by, in_force=in_force)
    tell_recipe(by.workshop, recipe_id)
    return version


@transaction.atomic
def new_recipe(*, by: Member, document: Any, reason: str, product_ids: Sequence[int]) -> RecipeVersion:
    """Make a recipe with its first version, and let it pack these products.

    Raises Refused when the code is taken, a product is not there, or the document has an error.
    """
    lock_workshop(by.workshop)
    file = RecipeFile.model_validate(document)
    if Recipe.objects.of(by.workshop).filter(code=file.code).exists():
        raise Refused(
            f"There is a recipe {file.code} already. Give this one another code, or make a new version of that one.",
            code="code_taken",
            status=409,
            field="code",
        )
    products = list(Product.objects.of(by.workshop).filter(pk__in=product_ids))
    if len(products) != len(set(product_ids)):
        raise Refused("One of these products is not in your workshop.", code="not_found", status=404)
    _check_supplies(by.workshop, file)
    recipe = Recipe.objects.of(by.workshop).create(workshop=by.workshop, code=file.code, name=file.name)
    version = _add(recipe, file, reason, by.name, by)
    Product.objects.of(by.workshop).filter(pk__in=product_ids).update(recipe=recipe)
    tell_anything(by.workshop)
    return version


@transaction.atomic
def save_product(*, workshop: Workshop, item: ProductItem, product_id: int | None) -> Product:
    """Add a product, or change one; its sku stays as it is.

    Raises Refused with every error.
    """
    lock_workshop(workshop)
    if product_id is None and Product.objects.of(workshop).filter(sku=item.sku).exists():
        raise Refused(
            f"There is a product {item.sku} already. Open it, or give this one another sku.",
            code="sku_taken", status=409, field="sku",
        )  # fmt: skip
    if product_id is not None:
        row = Product.objects.of(workshop).select_for_update().filter(pk=product_id).first()
        if row is None:
            raise Refused("There is no such product in your workshop.", code="not_found", status=404)
        if row.sku != item.sku:
            raise Refused(
                f"The sku of {row.sku} stays as it is: orders name it.", code="not_valid", status=422, field="sku"
            )
    file = ProductsFile(format="calm-cupboard/products", version=1, products=[item])
    import_products(workshop=workshop, file=file)
    return Product.objects.of(workshop).get(sku=item.sku)


@transaction.atomic
def retire_product(*, workshop: Workshop, product_id: int, retired: bool) -> Product:
    """Take a product off the lists, or bring it back; orders that hold it are packed. Raises Refused (404)."""
    lock_workshop(workshop)
    row = Product.objects.of(workshop).select_for_update(of=("self",)).filter(pk=product_id).first()
    if row is None:
        raise Refused("There is no such product in your workshop.", code="not_found", status=404)
    row.retired_at = (row.retired_at or timezone.now()) if retired else None
    row.save(update_fields=["retired_at"])
    return row


@transaction.atomic
def retire_recipe(*, workshop: Workshop, recipe_id: int, retired: bool) -> Recipe:
    """Take a recipe off the lists, or bring it back; its versions are kept.

    Raises Refused: not_found; in_use while products that are sold are packed by it.
    """
    lock_workshop(workshop)
    row = Recipe.objects.of(workshop).select_for_update().filter(pk=recipe_id).first()
    if row is None:
        raise Refused("There is no such recipe in your workshop.", code="not_found", status=404)
    packed = list(Product.objects.of(workshop).filter(recipe=row, retired_at=None).values_list("name", flat=True)[:6])
    if retired and packed:
        raise Refused(
            f"{row.name} packs {', '.join(packed[:5])}{' and others' if len(packed) > 5 else ''}. Give them another "
            "recipe, or retire them first.",
            code="in_use",
        )
    row.retired_at = (row.retired_at or timezone.now()) if retired else None
    row.save(update_fields=["retired_at"])
    return row


@transaction.atomic
def save_photo(*, workshop: Workshop, product_id: int, photo: Photo) -> None:
    """Keep a product's photo in place of the one it had."""
    row = Product.objects.of(workshop).filter(pk=product_id).first()
    if row is None:
        raise Refused("There is no such product in your workshop.", code="not_found", status=404)
    ProductPhoto.objects.of(workshop).update_or_create(
        workshop=workshop, product=row, defaults={"content": photo.content, "content_type": photo.content_type}
    )


@transaction.atomic
def import_recipes(*, workshop: Workshop, file: RecipesFile, author_name: str) -> tuple[int, int]:
    """Import many recipes, all or none; return how many new versions there are and how many were already imported."""
    made = [
        import_recipe(workshop=workshop, file=one, reason="imported from a file", author_name=author_name)
        for one in file.recipes
    ]
    new = sum(row is not None for row in made)
    tell_anything(workshop)
    return new, len(made) - new


@transaction.atomic
def add_trial(*, by: Member, recipe_id: int, facts: TrialFacts) -> Trial:
    """Write down a test of the current version. Sent twice, it is written once."""
    lock_workshop(by.workshop)
    had = Trial.objects.of(by.workshop).filter(request_key=facts.request_key).first()
    if had is not None:
        return had
    newest = current_version(by.workshop, recipe_id)
    if newest is None:
        raise Refused("There is no such recipe in your workshop.", code="not_found", status=404)
    tested = newest
    if newest.number != facts.version:
        # A version made for a trial is tested beside the current one.
        other = RecipeVersion.objects.of(by.workshop).filter(recipe_id=recipe_id, number=facts.version, in_force=False)
        tested = other.first() or newest
    if tested.number != facts.version:
        raise Refused(
            f"Version {newest.number} is current now; this test was of version {facts.version}. Look "
            "what changed, then try it again.",
            code="version_moved",
        )
    row = Trial.objects.of(by.workshop).create(
        workshop=by.workshop,
        version=tested,
        kind=facts.kind,
        units=facts.units,
        passed=facts.passed,
        place=facts.place,
        drop_mm=facts.drop_mm,
        note=facts.note,
        photo=facts.photo.content if facts.photo else None,
        photo_type=facts.photo.content_type if facts.photo else "",
        author=by,
        author_name=by.name,
        at=timezone.now(),
        request_key=facts.request_key,
    )
    tell_recipe(by.workshop, recipe_id)
    return row


@transaction.atomic
def import_recipe(*, workshop: Workshop, file: RecipeFile, reason: str, author_name: str) -> RecipeVersion | None:
    """Import a recipe file: a new recipe, a new version, or nothing when it is the same already."""
    _check_supplies(workshop, file)
    recipe, _ = Recipe.objects.of(workshop).get_or_create(
        workshop=workshop, code=file.code, defaults={"name": file.name}
    )
    newest = current_version(workshop, recipe.pk)
    if newest is not None and newest.document == file.model_dump(mode="json"):
        return None
    version = _add(recipe, file, reason, author_name, None)
    tell_anything(workshop)
    return version


@transaction.atomic
def import_products(*, workshop: Workshop, file: ProductsFile) -> int:
    """Import a products file: known skus are brought up to date, new ones added. Returns how many are new."""
    recipes = {recipe.code: recipe for recipe in Recipe.objects.of(workshop)}
    faults = [
        Fault(path=f"products[{at}].recipe", message=f"there is no recipe {item.recipe}; import it first")
        for at, item in enumerate(file.products)
        if item.recipe and item.recipe not in recipes
    ]
    faults += _set_faults(workshop, file)
    if faults:
        raise Refused(
            f"This products file: {faults[0].path}: {faults[0].message}. Nothing was imported.",
            code="file_faults",
            status=422,
            faults=faults,
        )
    new = 0
    for item in file.products:
        values = item.model_dump(exclude={"sku", "recipe", "size"})
        size = item.size.model_dump() if item.size else {"length_um": None, "width_um": None, "height_um": None}
        recipe = recipes[item.recipe] if item.recipe else None
        _, created = Product.objects.of(workshop).update_or_create(
            workshop=workshop, sku=item.sku, defaults={**values, **size, "recipe": recipe}
        )
        new += created
    tell_anything(workshop)
    return new


def _set_faults(workshop: Workshop, file: ProductsFile) -> list[Fault]:
    """What is wrong with sets and with what is to go apart: unknown products, a set within a set."""
    sets = {row.sku: bool(row.contents) for row in Product.objects.of(workshop).only("sku", "contents")}
    sets |= {item.sku: bool(item.contents) for item in file.products}
    found = []
    for at, item in enumerate(file.products):
        for i, content in enumerate(item.contents):
            if content.sku not in sets:
                found.append(
                    Fault(path=f"products[{at}].contents[{i}].sku", message=f"there is no product {content.sku}")
                )
            elif sets[content.sku]:
                found.append(
                    Fault(
                        path=f"products[{at}].contents[{i}].sku",
                        message=f"{content.sku} is a set itself; name what is in it",
                    )
                )
        for i, sku in enumerate(item.not_with):
            if sku not in sets:
                found.append(Fault(path=f"products[{at}].not_with[{i}]", message=f"there is no product {sku}"))
    return found


def _add(
    recipe: Recipe, file: RecipeFile, reason: str, author_name: str, author: Member | None, *, in_force: bool = True
) -> RecipeVersion:
    """Make the version after all there are, those of trials among them."""
    last = recipe.versions.order_by("-number").first()
    if in_force and (recipe.name, recipe.for_mix) != (file.name, bool(file.mix)):
        recipe.name, recipe.for_mix = file.name, bool(file.mix)
        recipe.save(update_fields=["name", "for_mix"])
    return RecipeVersion.objects.of(recipe.workshop).create(
        workshop=recipe.workshop,
        recipe=recipe,
        number=last.number + 1 if last else 1,
        in_force=in_force,
        document=file.model_dump(mode="json"),
        reason=reason,
        author=author,
        author_name=author_name,
        at=timezone.now(),
    )


def _check_supplies(workshop: Workshop, file: RecipeFile) -> None:
    kinds = dict(Supply.objects.of(workshop).values_list("code", "kind"))
    faults = []
    for path, (code, allowed) in supplies_named(file).items():
        if code not in kinds:
            faults.append(Fault(path=path, message=f"{code} is not in the cupboard"))
        elif kinds[code] not in allowed:
            faults.append(
                Fault(path=path, message=f"{code} is a {kinds[code]}; here it takes a {' or '.join(sorted(allowed))}")
            )
    if faults:
        raise Refused(
            f"Recipe {file.name}: {faults[0].message}.",
            code="unknown_supply",
            status=422,
            field=faults[0].path,
            faults=faults,
        )
