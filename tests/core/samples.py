"""Sample values for the core's tests: the jar, the cartons and the tariff of the worked cases. All made up."""

from datetime import date, time
from decimal import Decimal

from core.packing.model import Box, PackUnit
from core.parcels.plan import Facts, Overrides, PlannedOrder, Settings, plan_order
from core.recipes.expand import OrderLine, Shelf
from core.recipes.goods import Product
from core.recipes.model import Band, Closure, Cushion, InsertAmount, Minutes, Recipe, WrapLayer
from core.supplies.items import Container, Fill, Insert, Mailer, Tape, Wrap, outer_of
from core.tariffs.charges import Surcharge
from core.tariffs.model import (
    Limits,
    Place,
    Sending,
    Service,
    Tariff,
    VolumetricRule,
    WeightStep,
    ZoneRule,
    ZoneTable,
)
from core.units import Size

D = Decimal
HERE = Place(country="ALM", postcode="DM46")
DAY = date(2026, 11, 23)  # a Monday
SENDING = Sending(destination=HERE, ship_on=DAY)


def size(length_mm: float, width_mm: float, height_mm: float) -> Size:
    return Size(length_um=round(length_mm * 1000), width_um=round(width_mm * 1000), height_um=round(height_mm * 1000))


BUBBLE = Wrap(
    code="W",
    name="Bubble",
    thickness_um=4_000,
    mg_per_m2=80_000,
    unit_cost=D("0.25"),
    food_contact=False,
    roll_width_um=None,
)
TISSUE = Wrap(
    code="T",
    name="Tissue",
    thickness_um=50,
    mg_per_m2=20_000,
    unit_cost=D("0.1"),
    food_contact=True,
    roll_width_um=None,
)
LAYER = WrapLayer(wrap="W", turns=D(2), ends_top=2, ends_bottom=2)
KRAFT = Fill(
    code="K", name="Kraft", packing_factor=D("1.0"), packed_mg_per_l=35_000, unit_cost=D("0.03"), bulge_um=6_000
)
PEANUTS = Fill(
    code="P", name="Peanuts", packing_factor=D("1.15"), packed_mg_per_l=5_000, unit_cost=D("0.03"), bulge_um=10_000
)
TAPE = Tape(code="TP", name="Tape", mg_per_m=10_000, unit_cost=D("0.05"), grade="evident")
CARD = Insert(code="I", name="Card", weight_mg=6_000, unit_cost=D("0.12"), thickness_um=300)
LABEL = Insert(code="L", name="Label", weight_mg=2_000, unit_cost=D("0.04"), thickness_um=100)
SHELF = Shelf(
    wraps={"W": BUBBLE, "T": TISSUE},
    fills={"K": KRAFT, "P": PEANUTS},
    tapes={"TP": TAPE},
    inserts={"I": CARD, "L": LABEL},
    unit_boxes={},
)
CLOSURE = Closure(tape="TP", pattern="h", both_faces=True)
NO_CUSHION = Cushion(bottom_um=0, side_um=0, top_um=0)


def carton(
    code: str, inner: Size, *, cost: str = "1.00", load_mg: int = 20_000_000, tare_mg: int = 200_000
) -> Container:
    return Container(
        code=code,
        name=f"Carton {code}",
        inner=inner,
        outer=outer_of(inner, "single"),
        tare_mg=tare_mg,
        max_load_mg=load_mg,
        unit_cost=D(cost),
        board="single",
    )


MAILER = Mailer(
    code="M",
    name="Mailer",
    flat_length_um=340_000,
    flat_width_um=250_000,
    seal_um=40_000,
    wall_um=3_000,
    tare_mg=50_000,
    max_load_mg=2_000_000,
    unit_cost=D("0.3"),
)


def jar(**changes: object) -> Product:
    values: dict[str, object] = {
        "sku": "JAR",
        "name": "jar",
        "size": size(72, 72, 98),
        "weight_mg": 430_000,
        "weight_spread_mg": 4_000,
        "goods_cost": D("2.10"),
        "orientation": "upright",
        "fragility": "delicate",
        "load_on_top_mg": None,
        "food": False,
        "scented": False,
        "frozen": False,
        "live": False,
    }
    return Product(**{**values, **changes})  # type: ignore[arg-type]


def band(first: int, last: int, **changes: object) -> Band:
    values: dict[str, object] = {
        "first": first,
        "last": last,
        "layers": (LAYER,),
        "unit_box": None,
        "inner": None,
        "outers": ("C-08",),
        "any_outer": False,
        "gap_um": 8_000,
        "cushion": Cushion(bottom_um=30_000, side_um=20_000, top_um=20_000),
        "fill": "K",
        "proud_percent": 5,
        "closure": CLOSURE,
        "inserts": (InsertAmount(insert="I", amount=1, per="parcel", place="top", required=False),),
        "marks": ("Fragile",),
        "minutes": Minutes(per_unit=D(1), per_parcel=D(3)),
    }
    return Band(**{**values, **changes})  # type: ignore[arg-type]


def recipe(*bands: Band, code: str = "jars") -> Recipe:
    return Recipe(
        code=code,
        name="Jars",
        version=1,
        goods_checks=("Lid tight.",),
        wrap_note="",
        proving_checks=("Shake it.",),
        cautions=(),
        bands=bands or (band(1, 2), band(3, 6, outers=("C-14",))),
    )


def order(quantity: int = 2, *, product: Product | None = None, how: Recipe | None = None) -> tuple[OrderLine, ...]:
    product = product or jar()
    return (OrderLine(sku=product.sku, quantity=quantity, product=product, recipe=how or recipe()),)


def service(**changes: object) -> Service:
    values: dict[str, object] = {
        "code": "TWO",
        "name": "Two-day",
        "limits": Limits(longest_um=1_200_000, length_plus_girth_um=3_000_000, max_mg=25_000_000),
        "volumetric": (VolumetricRule(divisor_cm3_per_kg=5_000, round_up_um=10_000, above_cm3=0),),
        "zones": (
            ZoneTable(
                zone="1",
                transit_days=1,
                steps=tuple(
                    WeightStep(up_to_mg=kg * 1_000_000, price=D(p))
                    for kg, p in ((1, "3.90"), (2, "4.60"), (3, "5.40"), (10, "9.40"), (25, "19.50"))
                ),
            ),
        ),
        "surcharges": (
            Surcharge(code="FUEL", name="Fuel", kind="percent", amount=D("6.5"), zones=(), longest_above_um=None),
        ),
        "cover_included": D(100),
        "tax_percent": D(0),
        "days_moved": (0, 1, 2, 3, 4),
        "cut_off": time(15, 40),
        "tape_over_label": "never",
    }
    return Service(**{**values, **changes})  # type: ignore[arg-type]


def tariff(*services: Service, valid_from: date = date(2026, 7, 1), version: str = "2026-07") -> Tariff:
    return Tariff(
        carrier="larkline",
        carrier_name="Larkline",
        version=version,
        valid_from=valid_from,
        currency="Cr",
        zone_rules=(ZoneRule(zone="1", country="ALM", prefix="DM"), ZoneRule(zone="3", country="ALM", prefix="")),
        services=services or (service(),),
    )


C08, C14 = carton("C-08", size(230, 160, 170), cost="0.62"), carton("C-14", size(320, 230, 170), cost="1.05")


def facts(
    *,
    containers: tuple[Container | Mailer, ...] = (C08, C14),
    free: dict[str, Decimal] | None = None,
    tariffs: tuple[Tariff, ...] | None = None,
) -> Facts:
    plenty = {code: D(1000) for code in ("W", "T", "K", "P", "TP", "I", "L", *(c.code for c in containers))}
    return Facts(
        shelf=SHELF,
        containers=containers,
        free={**plenty, **(free or {})},
        tariffs=(tariff(),) if tariffs is None else tariffs,
        settings=Settings(wage_per_hour=D(15), scale_division_mg=1_000, support_percent=75, money_digits=2, label="L"),
    )


def unit(
    code: str = "u", quantity: int = 1, size_mm: tuple[float, float, float] = (100, 100, 100), **changes: object
) -> PackUnit:
    values: dict[str, object] = {
        "code": code,
        "name": code,
        "quantity": quantity,
        "size_um": tuple(round(s * 1000) for s in size_mm),
        "weight_mg": 100_000,
        "up_axes": (2,),
        "clearance": NO_CUSHION,
        "load_on_top_mg": None,
    }
    return PackUnit(**{**values, **changes})  # type: ignore[arg-type]


def box(length_mm: float, width_mm: float, height_mm: float, *, load_mg: int = 50_000_000) -> Box:
    inner = (round(length_mm * 1000), round(width_mm * 1000), round(height_mm * 1000))
    return Box(code="B", inner_um=inner, max_load_mg=load_mg)


def planned(
    lines: tuple[OrderLine, ...],
    known: Facts | None = None,
    overrides: Overrides = Overrides(),  # noqa: B008 - a frozen value
    **more: object,
) -> PlannedOrder:
    """Return the order planned for ``HERE`` and ``DAY``; it must be possible."""
    known = known or facts()
    plan = plan_order(lines, known, destination=HERE, ship_on=DAY, overrides=overrides, **more)  # type: ignore[arg-type]
    assert isinstance(plan, PlannedOrder), plan
    return plan
