"""The care request and its result: a script interface (docs/formats/care-request.md). No database."""

from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, model_validator

from core.care.road import days_on_the_road
from core.care.thermal import MOST_PACKS, Box, Limits, Need, Run, heat_flow_j, margin_c, need_of, simulate, u_of
from core.judgements import ORDINARY, Judgements
from core.supplies.items import Insert, Liner, PackKind, ThermalPack
from core.units import Size
from server.formats.base import Day
from server.formats.script_interface import as_json, twice, validated
from server.formats.text import exact_number

__all__ = ["CareRequest", "CareWork", "read_request", "result_document", "worked_out"]

_Code = Annotated[str, Field(min_length=1, max_length=60, strict=True)]
_Whole = Annotated[int, Field(strict=True)]
_Um = Annotated[_Whole, Field(gt=0, le=3_000_000)]
_Degrees = Annotated[Decimal, BeforeValidator(exact_number), Field(ge=-90, le=90, decimal_places=2)]
_Number = Annotated[Decimal, BeforeValidator(exact_number), Field(ge=0, le=100_000, decimal_places=6)]


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class GoodsDoc(_Part):
    """What is sent: its limits, how heavy and how warm it is, how long it may be on the way."""

    low_c: _Degrees | None = None
    high_c: _Degrees | None = None
    weight_mg: Annotated[_Whole, Field(gt=0, le=50_000_000)]
    start_c: _Degrees = Decimal(ORDINARY.room_c)
    heat_j_per_gk: Annotated[_Number, Field(gt=0, le=20)] = ORDINARY.goods_heat_j_per_gk
    longest_days: Annotated[_Whole, Field(ge=0, le=365)] | None = None

    @model_validator(mode="after")
    def _limits(self) -> "GoodsDoc":
        if self.low_c is not None and self.high_c is not None and self.low_c >= self.high_c:
            raise ValueError("low_c is not under high_c")
        return self


class LinerDoc(_Part):
    """What lines the box; of its material or as measured by melting ice (rules 15.3)."""

    thickness_um: _Um
    conductivity_mw_per_mk: Annotated[_Whole, Field(ge=10, le=500)] = 36
    tested_hours: Annotated[_Number, Field(gt=0, le=500)] | None = None
    tested_room_c: Annotated[_Degrees, Field(gt=0)] = Decimal(20)
    tested_inner_um: tuple[_Um, _Um, _Um] | None = None

    @model_validator(mode="after")
    def _test(self) -> "LinerDoc":
        if (self.tested_hours is None) != (self.tested_inner_um is None):
            raise ValueError("tested_hours and tested_inner_um go together")
        return self


class BoxDoc(_Part):
    """The inside of the box with its liner in; without a liner it is board alone."""

    inner_um: tuple[_Um, _Um, _Um]
    liner: LinerDoc | None = None


class PackDoc(_Part):
    """A kind of pack on the shelf."""

    code: _Code
    kind: PackKind
    weight_mg: Annotated[_Whole, Field(gt=0, le=20_000_000)]
    melts_c: _Degrees = Decimal(0)
    latent_j_per_g: Annotated[_Whole, Field(ge=1, le=1_000)] = 334
    start_c: _Degrees = Decimal(-18)
    padded: bool = False
    power_mw: Annotated[_Whole, Field(ge=0, le=100_000)] = 0
    rated_hours: Annotated[_Number, Field(le=500)] = Decimal(0)
    on_hand: Annotated[_Whole, Field(ge=0, le=100_000)] = MOST_PACKS

    @model_validator(mode="after")
    def _heat(self) -> "PackDoc":
        if self.kind == "heat" and not (self.power_mw and self.rated_hours):
            raise ValueError("a heat pack needs power_mw and rated_hours")
        return self


class LegDoc(_Part):
    """One part of the way: what it is, and the air round the parcel hour by hour."""

    name: Annotated[str, Field(max_length=60)] = ""
    hours_c: Annotated[list[_Degrees], Field(min_length=1, max_length=1_000)]


class WayDoc(_Part):
    """The way when it ships on a day."""

    ship_on: Day
    arrives_on: Day
    legs: Annotated[list[LegDoc], Field(min_length=1, max_length=60)]

    @model_validator(mode="after")
    def _forwards(self) -> "WayDoc":
        if self.arrives_on < self.ship_on:
            raise ValueError("arrives_on is before ship_on")
        return self


class CareRequest(_Part):
    """The whole request; the first way is the one that is wanted."""

    format: Literal["calm-cupboard/care-request"]
    version: Annotated[Literal[1], BeforeValidator(exact_number)]
    goods: GoodsDoc
    box: BoxDoc
    packs: Annotated[list[PackDoc], Field(max_length=30)] = []
    ways: Annotated[list[WayDoc], Field(min_length=1, max_length=30)]


@dataclass(frozen=True, slots=True, kw_only=True)
class PackFound:
    """How many packs of a kind a way needs; None: no number that is there does."""

    code: str
    need: Need | None
    warmer_c: float | None
    colder_c: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class WayFound:
    """One way worked out."""

    ship_on: date
    days: int
    too_long: bool
    above_j: float
    below_j: float
    bare: Run
    keeps: bool  #: without a pack
    warmer_c: float | None
    colder_c: float | None
    packs: tuple[PackFound, ...]

    @property
    def allowed(self) -> bool:
        """Return whether it can be sent at all, with packs or without."""
        return not self.too_long and (self.keeps or any(one.need is not None for one in self.packs))


@dataclass(frozen=True, slots=True, kw_only=True)
class CareWork:
    """What was worked out."""

    box: Box
    ways: tuple[WayFound, ...]


def read_request(text: str) -> CareRequest:
    """Return the request in a text. Raises WrongRequest with every error."""
    value = as_json(text)
    return validated(CareRequest, value, twice(value, "packs"))


def worked_out(request: CareRequest) -> CareWork:
    """Return what the ways of a request do to its goods."""
    goods = request.goods
    judged = ORDINARY
    liner = _liner(request.box.liner)
    box = Box(
        inner=_size(request.box.inner_um),
        u_w_per_m2k=u_of(liner),
        goods_j_per_k=goods.weight_mg / 1_000 * float(goods.heat_j_per_gk),
        start_c=float(goods.start_c),
    )
    limits = Limits(
        low_c=float(goods.low_c) if goods.low_c is not None else None,
        high_c=float(goods.high_c) if goods.high_c is not None else None,
    )
    packs = [(_pack(one), one.on_hand) for one in request.packs]
    return CareWork(box=box, ways=tuple(_way(one, box, limits, packs, goods, judged) for one in request.ways))


def _way(
    way: WayDoc,
    box: Box,
    limits: Limits,
    packs: list[tuple[Insert, int]],
    goods: GoodsDoc,
    judged: Judgements,
) -> WayFound:
    outside = [float(one) for leg in way.legs for one in leg.hours_c]
    days = days_on_the_road(way.ship_on, way.arrives_on)
    above, below = heat_flow_j(box, outside, limits)
    bare = simulate(box, outside, judged=judged)
    warmer, colder = _margins(box, outside, limits, None, 0)
    return WayFound(
        ship_on=way.ship_on,
        days=days,
        too_long=goods.longest_days is not None and days > goods.longest_days,
        above_j=above,
        below_j=below,
        bare=bare,
        keeps=bare.keeps(limits),
        warmer_c=warmer,
        colder_c=colder,
        packs=tuple(_pack_found(pack, held, box, outside, limits, judged) for pack, held in packs),
    )


def _pack_found(
    pack: Insert, held: int, box: Box, outside: list[float], limits: Limits, judged: Judgements
) -> PackFound:
    need = need_of(lambda _: box, outside, limits, pack, judged=judged, most=min(MOST_PACKS, held))
    if need is None:
        return PackFound(code=pack.code, need=None, warmer_c=None, colder_c=None)
    warmer, colder = _margins(box, outside, limits, pack, need.count)
    return PackFound(code=pack.code, need=need, warmer_c=warmer, colder_c=colder)


def _margins(
    box: Box, outside: list[float], limits: Limits, pack: Insert | None, count: int
) -> tuple[float | None, float | None]:
    warm, cold = Limits(high_c=limits.high_c), Limits(low_c=limits.low_c)
    return (
        margin_c(box, outside, warm, pack=pack, count=count) if warm.any else None,
        margin_c(box, outside, cold, pack=pack, count=count, colder=True) if cold.any else None,
    )


def _size(sides: tuple[int, int, int]) -> Size:
    return Size(length_um=sides[0], width_um=sides[1], height_um=sides[2])


def _liner(one: LinerDoc | None) -> Insert | None:
    if one is None:
        return None
    facts = Liner(
        conductivity_mw_per_mk=one.conductivity_mw_per_mk,
        tested_hours=one.tested_hours,
        tested_room_c=one.tested_room_c,
        tested_inner=_size(one.tested_inner_um) if one.tested_inner_um is not None else None,
    )
    return _insert("liner", 0, one.thickness_um, liner=facts)


def _pack(one: PackDoc) -> Insert:
    facts = ThermalPack(
        kind=one.kind,
        length_um=1,
        width_um=1,
        melts_c=one.melts_c,
        latent_j_per_g=one.latent_j_per_g,
        start_c=one.start_c,
        padded=one.padded,
        power_mw=one.power_mw,
        rated_hours=one.rated_hours,
    )
    return _insert(one.code, one.weight_mg, 1, pack=facts)


def _insert(
    code: str, weight_mg: int, thickness_um: int, *, liner: Liner | None = None, pack: ThermalPack | None = None
) -> Insert:
    return Insert(
        code=code,
        name=code,
        weight_mg=weight_mg,
        unit_cost=Decimal(0),
        thickness_um=thickness_um,
        liner=liner,
        pack=pack,
    )


def result_document(work: CareWork) -> dict[str, object]:
    """Return the result as it is written; degrees Celsius to a tenth, heat in kJ."""
    return {
        "format": "calm-cupboard/care-result",
        "version": 1,
        "u_w_per_m2k": round(work.box.u_w_per_m2k, 3),
        "area_m2": round(work.box.area_m2, 4),
        "ways": [_way_document(one) for one in work.ways],
        "ship_days": [one.ship_on.isoformat() for one in work.ways if one.allowed],
        "without_packs": [one.ship_on.isoformat() for one in work.ways if one.keeps and not one.too_long],
    }


def _way_document(one: WayFound) -> dict[str, object]:
    reasons = (["too_long"] if one.too_long else []) + ([] if one.keeps else ["outside_limits"])
    return {
        "ship_on": one.ship_on.isoformat(),
        "days": one.days,
        "allowed": one.allowed,
        "reasons": reasons if not one.allowed else [],
        "heat_above_kj": round(one.above_j / 1_000, 1),
        "heat_below_kj": round(one.below_j / 1_000, 1),
        "without": {**_felt(one.bare), "keeps": one.keeps, "warmer_c": one.warmer_c, "colder_c": one.colder_c},
        "packs": [
            {
                "code": pack.code,
                "count": pack.need.count if pack.need is not None else None,
                "by_formula": pack.need.by_formula if pack.need is not None else None,
                **(_felt(pack.need.run) if pack.need is not None else {}),
                "warmer_c": pack.warmer_c,
                "colder_c": pack.colder_c,
            }
            for pack in one.packs
        ],
    }


def _felt(run: Run) -> dict[str, object]:
    return {
        "low_c": round(run.touch_c, 1),
        "high_c": round(run.high_c, 1),
        "melted_percent": round(run.melted * 100),
    }
