"""A shelf to start from: ordinary supplies of general materials, to be ticked, changed and counted.

Sizes are common ones of the workshop's unit system. What a piece weighs and bears is estimated from its size (rules
13.7), prices are ordinary ones; both are marked so until somebody measures or pays.
"""

import re
from collections.abc import Sequence
from decimal import ROUND_HALF_UP, Decimal
from typing import Any

from django.db import transaction

from core.supplies.estimates import board_area_m2, carton_load_mg, carton_tare_mg, mailer_tare_mg
from core.supplies.items import Board
from core.units import Size, format_sides, format_size
from server.formats.supplies import SupplyItem
from server.supplies.models import Supply
from server.supplies.shelf import add_supplies, set_label_supply
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = ["add_ticked", "codes_there", "starter_shelf"]

_MM, _INCH = 1_000, 25_400
#: The shipping label of the shelf to start from.
LABEL = "L-LABEL"
#: Inside sizes and board of cartons that are sold everywhere.
_CARTONS: dict[str, tuple[tuple[int, int, int, Board], ...]] = {
    "metric": (
        (150, 100, 100, "single"), (150, 150, 150, "single"), (200, 150, 100, "single"), (200, 200, 200, "single"),
        (250, 200, 150, "single"), (250, 250, 250, "double"), (300, 200, 150, "single"), (305, 229, 152, "double"),
        (300, 300, 300, "double"), (400, 300, 200, "double"), (450, 350, 250, "double"), (600, 400, 400, "double"),
    ),
    "imperial": (
        (6, 4, 4, "single"), (6, 6, 6, "single"), (8, 6, 4, "single"), (8, 8, 8, "single"), (10, 8, 6, "single"),
        (10, 10, 10, "double"), (12, 9, 6, "single"), (12, 12, 8, "double"), (12, 12, 12, "double"),
        (16, 12, 8, "double"), (18, 14, 10, "double"), (24, 16, 16, "double"),
    ),
}  # fmt: skip
#: Flat insides of mailers: padded with paper, and plain board envelopes.
_MAILERS: dict[str, tuple[tuple[int, int], ...]] = {
    "metric": ((220, 150), (270, 180), (340, 240), (450, 350)),
    "imperial": ((9, 6), (11, 8), (14, 10), (18, 14)),
}
_PADDED = (300, 3_000, Decimal("1.60"))  #: g/m2 of one face, thickness of a wall um, price a m2 of both
#: Ordinary prices, in units of money; where a currency has no small coins, a hundred times that.
_BOARD_PRICE_M2: dict[Board, Decimal] = {"single": Decimal("2.10"), "double": Decimal("2.40"), "none": Decimal("1.50")}

_WRAPS: tuple[tuple[str, str, str, dict[str, Any]], ...] = (
    ("W-TISSUE", "Tissue paper, 500 mm roll", "0.11",
     {"thickness_um": 50, "mg_per_m2": 20_000, "food_contact": True, "roll_width_um": 500_000}),
    ("W-HONEY", "Honeycomb paper, 380 mm roll", "0.23",
     {"thickness_um": 4_000, "mg_per_m2": 82_000, "food_contact": False, "roll_width_um": 380_000}),
    ("W-KRAFT", "Kraft paper, 500 mm roll", "0.10",
     {"thickness_um": 120, "mg_per_m2": 80_000, "food_contact": False, "roll_width_um": 500_000}),
    ("W-CORR", "Single-face corrugated, 500 mm roll", "0.45",
     {"thickness_um": 3_000, "mg_per_m2": 260_000, "food_contact": False, "roll_width_um": 500_000}),
    ("W-BUBBLE", "Bubble wrap, small, 500 mm roll", "0.20",
     {"thickness_um": 4_000, "mg_per_m2": 75_000, "food_contact": False, "roll_width_um": 500_000,
      "material": "plastic"}),
    ("W-FOAM", "Foam sheet, 500 mm roll", "0.28",
     {"thickness_um": 2_000, "mg_per_m2": 40_000, "food_contact": False, "roll_width_um": 500_000,
      "material": "foam"}),
    ("W-GREASE", "Greaseproof paper for food, 380 mm roll", "0.16",
     {"thickness_um": 50, "mg_per_m2": 40_000, "food_contact": True, "roll_width_um": 380_000}),
    ("W-SHRINK", "Shrink film, 300 mm roll", "0.25",
     {"thickness_um": 25, "mg_per_m2": 23_000, "food_contact": True, "roll_width_um": 300_000, "material": "plastic",
      "caution": "hot_tool"}),
)  # fmt: skip
_FILLS: tuple[tuple[str, str, str, dict[str, Any]], ...] = (
    ("F-KRAFT", "Crumpled kraft paper", "0.034",
     {"packing_factor": "1.0", "packed_mg_per_l": 35_000, "bulge_um": 6_000,
      "measure": {"unit": "sheet", "loose_l": "2.5"}}),
    ("F-STARCH", "Starch peanuts", "0.029",
     {"packing_factor": "1.15", "packed_mg_per_l": 5_000, "bulge_um": 10_000,
      "measure": {"unit": "scoop", "loose_l": "2"}, "holds_mg": 2_500_000, "sinks": True, "material": "plant"}),
    ("F-SHRED", "Paper shred", "0.11",
     {"packing_factor": "1.3", "packed_mg_per_l": 55_000, "bulge_um": 5_000, "measure": {"unit": "gram"}}),
    ("F-WOOL", "Wood wool", "0.09",
     {"packing_factor": "1.3", "packed_mg_per_l": 40_000, "bulge_um": 6_000, "measure": {"unit": "gram"},
      "material": "wood"}),
    ("F-AIR", "Air pillows", "0.020",
     {"packing_factor": "0.9", "packed_mg_per_l": 1_500, "bulge_um": 8_000,
      "measure": {"unit": "bag", "loose_l": "1.5"}, "holds_mg": 2_000_000, "bursts": True, "material": "plastic"}),
)  # fmt: skip
_TAPES: tuple[tuple[str, str, str, dict[str, Any]], ...] = (
    ("T-WET", "Paper tape, wetted, reinforced, 70 mm", "0.052", {"mg_per_m": 9_600, "grade": "evident"}),
    ("T-PAPER", "Paper tape, self-adhesive, 50 mm", "0.031",
     {"mg_per_m": 5_200, "grade": "none", "weak_above_percent": 65}),
    ("T-CLEAR", "Clear film tape, 50 mm", "0.018", {"mg_per_m": 3_400, "grade": "none", "material": "plastic"}),
    ("T-MELT", "Hot-melt glue line", "0.060",
     {"mg_per_m": 6_000, "grade": "evident", "material": "plastic", "caution": "hot_tool"}),
    ("T-STRAP", "Strap, 12 mm", "0.040",
     {"mg_per_m": 7_500, "grade": "resistant", "material": "plastic", "caution": "tension"}),
)  # fmt: skip
_INSERTS: tuple[tuple[str, str, str, dict[str, Any]], ...] = (
    ("L-LABEL", "Shipping labels, 100 x 150 mm", "0.040", {"weight_mg": 2_100, "thickness_um": 150}),
    ("I-SLIP", "Packing slip", "0.020", {"weight_mg": 5_000, "thickness_um": 100}),
    ("I-CARD", "Thank-you card", "0.120", {"weight_mg": 6_200, "thickness_um": 400}),
    ("I-BLANK", "Printed blanks, A6", "0.030", {"weight_mg": 2_500, "thickness_um": 200}),
    ("I-DIVIDER", "Corrugated divider sheet", "0.090", {"weight_mg": 31_000, "thickness_um": 4_000}),
    ("I-POUCH", "Paper pouch, small", "0.080", {"weight_mg": 4_000, "thickness_um": 300}),
    ("I-RIBBON", "Ribbon, one bow", "0.150",
     {"weight_mg": 3_000, "thickness_um": 2_000, "material": "textile", "caution": "blade"}),
    ("I-MARK", "Marking sticker", "0.020", {"weight_mg": 800, "thickness_um": 100}),
)  # fmt: skip


def starter_shelf(workshop: Workshop) -> list[SupplyItem]:
    """Return ordinary supplies in the workshop's units, each with its place, a price and what is estimated."""
    system = workshop.unit_system
    times = 100 if workshop.money_digits == 0 else 1
    rows = [*_cartons(workshop, times), *_mailers(workshop, times)]
    found = [_item(row, system, shelf="A", slot=at) for at, row in enumerate(rows, start=1)]
    for shelf, tables in (
        ("B", (("wrap", _WRAPS),)),
        ("C", (("fill", _FILLS), ("tape", _TAPES))),
        ("D", (("insert", _INSERTS),)),
    ):
        plain = [
            (code, name, Decimal(cost) * times, {"kind": kind, **facts}, _estimated(kind))
            for kind, table in tables
            for code, name, cost, facts in table
        ]
        found += [_item(row, system, shelf=shelf, slot=at) for at, row in enumerate(plain, start=1)]
    return found


def codes_there(workshop: Workshop) -> set[str]:
    """Return the codes in the cupboard, in small letters."""
    return {code.lower() for code in Supply.objects.of(workshop).values_list("code", flat=True)}


@transaction.atomic
def add_ticked(*, by: Member, items: Sequence[SupplyItem]) -> int:
    """Put supplies on their shelves; the shipping label becomes the one of every parcel. Returns how many are new."""
    lock_workshop(by.workshop)
    added = add_supplies(by=by, items=items)
    by.workshop.refresh_from_db(fields=["label_supply"])
    if not by.workshop.label_supply and any(item.code == LABEL for item in items):
        set_label_supply(by.workshop, LABEL)
    return added


_Row = tuple[str, str, Decimal, dict[str, Any], list[str]]


def _in_units(name: str, system: str) -> str:
    """Return a name with its sizes in the workshop's units: "Strap, 12 mm" is "Strap, 0.5 in"."""
    if system == "metric":
        return name
    return re.sub(
        r"\d+(?: x \d+)* mm",
        lambda found: format_sides([int(side) * _MM for side in re.findall(r"\d+", found[0])], system),
        name,
    )


def _item(row: _Row, system: str, *, shelf: str, slot: int) -> SupplyItem:
    code, name, cost, facts, estimated = row
    name = _in_units(name, system)
    return SupplyItem.model_validate(
        {
            "code": code,
            "name": name,
            "shelf": shelf,
            "slot": slot,
            "unit_cost": cost,
            "facts": facts,
            "estimated": estimated,
        }
    )


def _estimated(kind: str) -> list[str]:
    weight = {"wrap": "mg_per_m2", "fill": "packed_mg_per_l", "tape": "mg_per_m", "insert": "weight_mg"}[kind]
    return [weight, "unit_cost"]


def _cartons(workshop: Workshop, times: int) -> list[_Row]:
    unit = _INCH if workshop.unit_system == "imperial" else _MM
    found: list[_Row] = []
    for length, width, height, board in _CARTONS[workshop.unit_system]:
        inner = Size(length_um=length * unit, width_um=width * unit, height_um=height * unit)
        facts = {
            "kind": "carton",
            "inner": {"length_um": inner.length_um, "width_um": inner.width_um, "height_um": inner.height_um},
            "board": board,
            "tare_mg": carton_tare_mg(inner, board),
            "max_load_mg": carton_load_mg(inner, board),
        }
        cost = _cents(board_area_m2(inner) * _BOARD_PRICE_M2[board] * times)
        name = f"Carton {format_size(inner, workshop.unit_system)}{', double' if board == 'double' else ''}"
        found.append((f"C-{length}-{width}-{height}", name, cost, facts, ["tare_mg", "max_load_mg", "unit_cost"]))
    return found


def _mailers(workshop: Workshop, times: int) -> list[_Row]:
    unit = _INCH if workshop.unit_system == "imperial" else _MM
    grams, wall_um, price = _PADDED
    found: list[_Row] = []
    for length, width in _MAILERS[workshop.unit_system]:
        long_um, wide_um = length * unit, width * unit
        facts = {
            "kind": "mailer",
            "flat_length_um": long_um,
            "flat_width_um": wide_um,
            "seal_um": 40_000,
            "wall_um": wall_um,
            "tare_mg": mailer_tare_mg(long_um, wide_um, grams),
            "max_load_mg": 2_000_000,
        }
        sides = format_sides((long_um, wide_um), workshop.unit_system)
        cost = _cents(Decimal(2 * long_um * wide_um) / 10**12 * price * times)
        found.append(
            (f"M-{length}-{width}", f"Padded mailer {sides}", cost, facts, ["tare_mg", "max_load_mg", "unit_cost"])
        )
    return found


def _cents(cost: Decimal) -> Decimal:
    return cost.quantize(Decimal("0.01"), rounding=ROUND_HALF_UP)
