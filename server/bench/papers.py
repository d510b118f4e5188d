"""What stands on a parcel's papers: the label and the packing slip."""

from core.bench.steps import marks_of
from server.bench.models import Parcel
from server.bench.selectors import part_of, planned, recipes_of
from server.carriers.models import Label
from server.formats.pdf import LabelSheet, SlipSheet
from server.orders.screens import order_out
from server.workshops.models import Workshop

__all__ = ["file_name", "label_sheet", "slip_sheet"]


def file_name(row: Parcel) -> str:
    """Return the order's number, with the parcel's after it from the second on."""
    return row.order.number if row.part == 1 else f"{row.order.number}-{row.part}"


def label_sheet(workshop: Workshop, row: Parcel, label: Label) -> LabelSheet:
    """Return what stands on the label that was bought."""
    mine, parts = part_of(row), len(planned(row).chosen.parcels)
    numbers = ", ".join((row.order.number, *order_out(workshop, row.order).joined))
    return LabelSheet(
        service=label.service_name,
        sender=(workshop.name, *workshop.address, f"{workshop.postcode} {workshop.country}"),
        buyer=row.order.buyer,
        address=tuple(row.order.address),
        postcode=row.order.postcode,
        country=row.order.country,
        tracking=label.tracking,
        order_number=numbers if parts == 1 else f"{numbers}, {row.part} of {parts}",
        weight_mg=label.weight_mg,
        unit_system=workshop.unit_system,
        marks=marks_of(mine, label.service),
    )


def slip_sheet(workshop: Workshop, row: Parcel) -> SlipSheet:
    """Return what stands on the slip: the goods of this parcel, and that the rest comes apart."""
    order = order_out(workshop, row.order)
    mine, others = part_of(row), len(planned(row).chosen.parcels)
    recipes = recipes_of(row.workshop, mine, row.recipe_versions)
    titles = {line.sku: line.title for line in order.lines}
    return SlipSheet(
        workshop=workshop.name,
        sender=tuple(workshop.address),
        order_number=", ".join((order.number, *order.joined)),
        placed_on=order.placed_on.isoformat(),
        buyer=order.buyer,
        address=(*order.address, f"{order.postcode} {order.country}"),
        lines=tuple((units, titles.get(sku, sku), sku) for sku, units in mine.goods),
        part=f"Parcel {row.part} of {others}: the rest of your order comes apart." if others > 1 else "",
        note=order.note,
        buyer_page=_buyer_page(workshop, row),
        buyer_notes=tuple(dict.fromkeys(one.buyer_note for one in recipes if one.buyer_note)),
    )


def _buyer_page(workshop: Workshop, row: Parcel) -> str:
    """Return the address a buyer says at how the parcel arrived; empty where the workshop has no such page."""
    if not workshop.buyer_page_at or row.buyer_code is None:
        return ""
    return f"{workshop.buyer_page_at.rstrip('/')}/arrived/{row.buyer_code}"
