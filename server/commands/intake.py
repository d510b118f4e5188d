"""One way in for every kind of file, shared by ./calm import, the demo and the tests."""

from dataclasses import replace
from datetime import timedelta

from server.api.refused import Refused
from server.carriers.services import import_tariff
from server.formats.base import read_file
from server.formats.orders import ReadFile
from server.formats.products import ProductsFile
from server.formats.products_csv import read_products
from server.formats.recipe import RecipeFile, RecipesFile
from server.formats.supplies import SuppliesFile
from server.formats.tariff import TariffFile
from server.orders.intake import accept, group
from server.orders.reading import open_file
from server.plans.waves import run_wave
from server.recipes.services import import_products, import_recipe, import_recipes
from server.supplies.services import import_supplies
from server.words import words_of
from server.workshops.clock import today
from server.workshops.models import Workshop

__all__ = ["KINDS", "dated_up_to_today", "import_kind"]

KINDS = ("workshop", "supplies", "products", "products-csv", "recipe", "recipes", "tariff", "orders")


def import_kind(workshop: Workshop, kind: str, content: bytes, *, by: str) -> str:
    """Import one file of a kind; return in words what happened.

    Raises Refused with every error; then nothing was saved.
    """
    if kind == "supplies":
        new = import_supplies(workshop=workshop, file=read_file(SuppliesFile, content, what="supplies file"), by=by)
        words = f"{new} new supplies"
    elif kind == "products":
        new = import_products(workshop=workshop, file=read_file(ProductsFile, content, what="products file"))
        words = f"{new} new products"
    elif kind == "products-csv":
        new = import_products(workshop=workshop, file=read_products(content))
        words = f"{new} new products"
    elif kind == "recipes":
        many = read_file(RecipesFile, content, what="recipes file")
        made, known = import_recipes(workshop=workshop, file=many, author_name=by)
        words = f"{made} recipes imported, {known} already imported, unchanged"
    elif kind == "recipe":
        file = read_file(RecipeFile, content, what="recipe file")
        row = import_recipe(workshop=workshop, file=file, reason="imported from a file", author_name=by)
        words = (
            f"recipe {file.name}, version {row.number}"
            if row
            else f"recipe {file.name} was already imported, unchanged"
        )
    elif kind == "tariff":
        tariff = read_file(TariffFile, content, what="tariff file")
        taken = import_tariff(workshop=workshop, file=tariff)
        words = f"tariff {tariff.carrier_name} {tariff.tariff_version}"
        words += "" if taken.new else " was already imported, unchanged"
        notes = words_of(workshop.unit_system).all(taken.notes) if taken.new else ()
        words += "".join(f"\n  check: {note}" for note in notes)
    elif kind == "orders":
        opened = open_file(workshop, content)
        if opened.questions:
            raise Refused(
                "The columns of this file are not known. Import it once on the Orders screen: you are asked there, and "
                "its channel is remembered.",
                code="not_matched",
                status=422,
            )
        return import_orders(workshop, opened.read)
    else:
        raise Refused(f"There is no kind {kind}; there are {', '.join(KINDS)}.", code="not_valid", status=422)
    run_wave(workshop=workshop)
    return words


def import_orders(workshop: Workshop, read: ReadFile) -> str:
    """Import orders that were read: all of them or, when there is an error, none."""
    intake = group(workshop, read)
    if intake.faults:
        shown = "\n".join(
            f"  line {f.line}, {f.column}: {f.value or 'empty'}; allowed: {f.allowed}" for f in intake.faults
        )
        raise Refused(f"{len(intake.faults)} errors, nothing was imported:\n{shown}", code="file_faults", status=422)
    taken = accept(workshop=workshop, intake=intake)
    run_wave(workshop=workshop)
    changed = taken.changed + taken.cancelled
    told = f", {changed} changed or cancelled by their channel: see Orders, Changes" if changed else ""
    return f"{len(taken.new)} new orders, {taken.known} already imported{told}"


def dated_up_to_today(read: ReadFile, workshop: Workshop) -> ReadFile:
    """Return sample orders moved in time so that the newest was placed today."""
    if not read.rows:
        return read
    shift = today(workshop) - max(row.placed_on for row in read.rows)
    rows = tuple(replace(row, placed_on=row.placed_on + timedelta(days=shift.days)) for row in read.rows)
    return ReadFile(rows=rows, faults=read.faults, raw=read.raw)
