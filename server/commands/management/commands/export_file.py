"""./calm export KIND [CODE]"""

import csv
import json
from argparse import ArgumentParser
from collections.abc import Callable
from typing import Any

from django.core.management.base import BaseCommand, CommandError

from server.carriers.models import TariffVersion
from server.commands.base import add_workshop, the_workshop
from server.designing.files import products_file, recipes_file
from server.formats.products_csv import write_products
from server.formats.text import safe_cell
from server.orders.models import OrderLine
from server.recipes.models import RecipeVersion
from server.recipes.selectors import current_versions
from server.supplies.selectors import supplies_with_stock
from server.workshops.models import Workshop

ORDER_COLUMNS = (
    "order",
    "channel",
    "state",
    "placed_on",
    "buyer",
    "postcode",
    "country",
    "sku",
    "quantity",
    "unit_price",
    "tracking",
    "weight_g",
    "postage",
)


class Command(BaseCommand):
    """Write one open file to standard output."""

    help = "Write a file that import reads back (orders: a record of what became of them, as CSV)."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Name kind and code."""
        parser.add_argument(
            "kind", choices=("supplies", "products", "products-csv", "recipe", "recipes", "tariff", "orders")
        )
        parser.add_argument("code", nargs="?", help="recipe code, or carrier code")
        add_workshop(parser)

    def handle(self, *args: Any, **options: Any) -> None:
        """Write the file."""
        workshop = the_workshop(options["workshop"])
        if options["kind"] == "orders":
            self._orders(workshop)
            return
        if options["kind"] == "products-csv":
            self.stdout.write(write_products(products_file(workshop).products), ending="")
            return
        make: dict[str, Callable[[Workshop], Any]] = {
            "recipes": lambda shop: recipes_file(shop).model_dump(mode="json"),
            "products": lambda shop: products_file(shop).model_dump(mode="json"),
            "supplies": supplies_document,
        }
        kind = options["kind"]
        document = make[kind](workshop) if kind in make else self._by_code(workshop, kind, options["code"])
        self.stdout.write(json.dumps(document, indent=1, ensure_ascii=False))

    def _by_code(self, workshop: Workshop, kind: str, code: str | None) -> Any:
        rows: Any
        known: Any
        if kind == "recipe":
            rows = current_versions(workshop).filter(recipe__code=code).order_by("-number")
            known = RecipeVersion.objects.of(workshop).order_by().values_list("recipe__code", flat=True).distinct()
        else:
            rows = TariffVersion.objects.of(workshop).filter(carrier=code).order_by("-valid_from")
            known = TariffVersion.objects.of(workshop).order_by().values_list("carrier", flat=True).distinct()
        row = rows.first()
        if row is None:
            raise CommandError(f"There is no {kind} {code}; there are: {', '.join(sorted(known))}.")
        return row.document

    def _orders(self, workshop: Workshop) -> None:
        out = csv.writer(self.stdout)
        out.writerow(ORDER_COLUMNS)
        rows = (
            OrderLine.objects.of(workshop)
            .select_related("order")
            .prefetch_related("order__parcels")
            .order_by("order__placed_on", "order_id", "position")
        )
        for line in rows.iterator(chunk_size=500):
            order = line.order
            parcels = [parcel for parcel in order.parcels.all() if parcel.state != "undone"]
            weighed = [parcel.measured_mg for parcel in parcels if parcel.measured_mg]
            paid = [parcel.postage for parcel in parcels if parcel.postage is not None]
            cells = (
                order.number,
                order.channel,
                order.state,
                order.placed_on,
                order.buyer,
                order.postcode,
                order.country,
                line.sku,
                line.quantity,
                line.unit_price,
                " ".join(parcel.tracking for parcel in parcels if parcel.tracking),
                sum(weighed) // 1000 if weighed else "",
                sum(paid) if paid else "",
            )
            out.writerow([safe_cell(str(cell)) for cell in cells])


def supplies_document(workshop: Workshop) -> Any:
    """Return the supplies file of a workshop, stock and average cost included."""
    rows: Any = supplies_with_stock(workshop).filter(retired_at=None)
    return {
        "format": "calm-cupboard/supplies",
        "version": 1,
        "supplies": [
            {
                "code": row.code,
                "name": row.name,
                "shelf": row.shelf,
                "slot": row.slot,
                "reorder_at": str(row.reorder_at) if row.reorder_at is not None else None,
                "on_hand": str(max(row.on_hand, 0)),
                "unit_cost": str(row.average_cost),
                "facts": row.facts,
                "estimated": row.estimated,
            }
            for row in rows
        ],
    }
