"""Sample liners, packs and weather for the tests of care. All made up."""

import random
from dataclasses import replace
from datetime import UTC, date, timedelta
from decimal import Decimal
from functools import partial

from core.care.planning import Cared, HeldCare, plan_with_care
from core.care.report import CareContext
from core.care.thermal import Box, Limits
from core.care.weather import DayWeather, Weather
from core.parcels.facts import CareChoice, Facts, Overrides
from core.parcels.packed import ThermalWish
from core.parcels.plan import Blocked, PlannedOrder, plan_order
from core.recipes.expand import OrderLine
from core.supplies.items import Insert, Liner, ThermalPack
from tests.core.samples import DAY, HERE, SHELF, D, carton, facts, size

__all__ = ["FOAM", "GEL", "PADDED", "WARMER", "always", "boxes_and_ways", "cared", "cool_facts", "gel", "warm_pack"]


def gel(code: str = "GEL", *, grams: int = 400, padded: bool = False, **changes: object) -> Insert:
    values: dict[str, object] = {
        "kind": "gel",
        "length_um": 150_000,
        "width_um": 100_000,
        "padded": padded,
        **changes,
    }
    return Insert(
        code=code,
        name=f"Gel pack {code}",
        weight_mg=grams * 1_000,
        unit_cost=D("0.80"),
        thickness_um=25_000,
        pack=ThermalPack(**values),  # type: ignore[arg-type]
    )


def warm_pack(code: str = "HEAT", *, power_mw: int = 1_600, hours: int = 72) -> Insert:
    return Insert(
        code=code,
        name="Heat pack",
        weight_mg=90_000,
        unit_cost=D("1.10"),
        thickness_um=10_000,
        pack=ThermalPack(kind="heat", length_um=120_000, width_um=90_000, power_mw=power_mw, rated_hours=D(hours)),
    )


FOAM = Insert(
    code="FOAM", name="Foam liner", weight_mg=120_000, unit_cost=D("2.40"), thickness_um=20_000, liner=Liner()
)
GEL, PADDED, WARMER = gel(), gel("PAD", padded=True), warm_pack()


def cool_facts(**changes: object) -> Facts:
    """Return the ordinary cupboard with large cartons, a liner and packs."""
    plain = facts(
        containers=(
            carton("C-08", size(230, 160, 170), cost="0.62"),
            carton("C-14", size(320, 230, 170), cost="1.05"),
            carton("C-20", size(400, 300, 250), cost="1.60"),
        )
    )
    inserts = {**SHELF.inserts, **{one.code: one for one in (FOAM, GEL, PADDED, WARMER)}}
    free = {**plain.free, "C-20": D(1000), **{code: D(1000) for code in inserts}}
    return replace(plain, shelf=replace(plain.shelf, inserts=inserts), free=free, **changes)  # type: ignore[arg-type]


def always(low_c: float, high_c: float, *, days: int = 30, silent: bool = False) -> Weather:
    """Return the same weather at every place the samples pass."""
    places = ("ALM-DM", "hub of larkline")
    known = {
        (place, DAY + timedelta(days=ahead)): DayWeather(low_c=low_c, high_c=high_c)
        for place in places
        for ahead in range(-1, days)
    }
    return Weather(days=known, silent=silent)


def cared(
    lines: tuple[OrderLine, ...],
    weather: Weather,
    known: Facts | None = None,
    *,
    decided: Overrides = Overrides(),  # noqa: B008 - a frozen value
    ship_on: date = DAY,
    held: HeldCare | None = None,
    proposing: int = 2,
) -> Cared:
    """Return an order for ``HERE`` planned with the weather."""
    known = known or cool_facts()
    context = CareContext(
        weather=weather,
        zone=UTC,
        origin=HERE,
        destination=HERE,
        tariffs=known.tariffs,
        shelf=known.shelf,
        judged=known.settings.judgements,
        products={line.sku: line.product for line in lines if line.product is not None},
        free=known.free,
        wage_per_hour=known.settings.wage_per_hour,
        money_digits=2,
        ship_days=(0, 1, 2, 3, 4),
        today=ship_on,
    )

    def plan_from(overrides: Overrides, day: date, wish: ThermalWish | None) -> PlannedOrder | Blocked:
        return plan_order(lines, known, destination=HERE, ship_on=day, overrides=overrides, thermal=wish)

    return plan_with_care(partial(plan_from), decided, ship_on, context, held=held, proposing=proposing)


def choice(liner: str = "", pack: str = "", count: int = 0, *, high_c: str | None = None) -> CareChoice:
    return CareChoice(
        wish=ThermalWish(liner=liner, pack=pack, count=count), agreed_high_c=Decimal(high_c) if high_c else None
    )


def boxes_and_ways(seed: str | int, count: int) -> list[tuple[Box, list[float], Limits]]:
    """Return made-up boxes, the hours outside and the limits of their goods, the same for the same seed."""
    draw = random.Random(seed)
    found = []
    for _ in range(count):
        box = Box(
            inner=size(draw.randint(150, 400), draw.randint(120, 300), draw.randint(100, 250)),
            u_w_per_m2k=draw.uniform(0.6, 4.2),
            goods_j_per_k=draw.uniform(300, 12_000),
            start_c=draw.uniform(5, 18),
        )
        outside = [draw.uniform(5, 38) for _ in range(draw.randint(1, 8)) for _ in range(draw.randint(2, 14))]
        found.append((box, outside, Limits(high_c=draw.uniform(max(8.0, box.start_c), 25))))
    return found
