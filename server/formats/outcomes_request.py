"""The outcomes request and its result: a script interface (docs/formats/outcomes-request.md). No database."""

from collections import Counter
from collections.abc import Iterable
from decimal import Decimal
from typing import Annotated, Any, Literal, get_args

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, model_validator

from core.outcomes.model import Arrived, Group, Harm, HarmKind, Outcome, PackedGoods, Place
from core.outcomes.places import Where, where_of
from core.outcomes.rates import Counted, planning_rate, rates_by
from core.outcomes.trials import Arm, Verdict, needed_each, verdict_of
from server.formats.base import Day
from server.formats.script_interface import as_json, validated
from server.formats.text import exact_number

__all__ = ["OutcomesRequest", "answered", "read_request"]

_Name = Annotated[str, Field(min_length=1, max_length=60, strict=True)]
_Some = Annotated[str, Field(max_length=60, strict=True)]
_Share = Annotated[Decimal, BeforeValidator(exact_number), Field(ge=0, le=1, decimal_places=6)]
_Version = Annotated[int, Field(ge=1, le=100_000, strict=True)]
#: More parcels than a maker sends in ten years.
_MOST = 100_000


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class GoodsDoc(_Part):
    """Goods in the parcel and how they were packed."""

    sku: _Name
    units: Annotated[int, Field(ge=1, le=1_000, strict=True)] = 1
    recipe: _Some = ""
    version: Annotated[int, Field(ge=0, le=100_000, strict=True)] = 0
    band: _Some = ""

    def core(self) -> PackedGoods:
        """Return it as the core has it."""
        return PackedGoods(**self.model_dump())


class HarmDoc(_Part):
    """Something that was hurt, and where."""

    kind: HarmKind
    place: Place | None = None
    spot: _Some = ""
    sku: _Some = ""
    units: Annotated[int, Field(ge=1, le=1_000, strict=True)] = 1

    @model_validator(mode="after")
    def _placed(self) -> "HarmDoc":
        if self.kind == "spoiled" and self.place is not None:
            raise ValueError("what is spoiled has no place")
        return self

    def core(self) -> Harm:
        """Return it as the core has it."""
        return Harm(**self.model_dump())


class ParcelDoc(_Part):
    """A parcel that was sent, and how it arrived."""

    parcel: _Name
    outcome: Outcome
    goods: Annotated[tuple[GoodsDoc, ...], Field(min_length=1, max_length=50)]
    harms: Annotated[tuple[HarmDoc, ...], Field(max_length=50)] = ()
    container: _Some = ""
    carrier: _Some = ""
    service: _Some = ""
    zone: _Some = ""
    sent_on: Day | None = None
    assumed: bool = False

    @model_validator(mode="after")
    def _told(self) -> "ParcelDoc":
        if self.harms and self.outcome not in get_args(HarmKind):
            raise ValueError(f"harms are told of a parcel that is marked, broken or spoiled, not {self.outcome}")
        if self.assumed and self.outcome != "whole":
            raise ValueError("only a whole parcel is assumed")
        return self

    def core(self) -> Arrived:
        """Return it as the core has it."""
        plain = self.model_dump(exclude={"goods", "harms"})
        return Arrived(
            **plain, goods=tuple(one.core() for one in self.goods), harms=tuple(one.core() for one in self.harms)
        )


class PriorDoc(_Part):
    """The chance of damage of a recipe before its arrivals were counted."""

    recipe: _Name
    rate: _Share


class TrialDoc(_Part):
    """Versions of a recipe compared: what is expected of them, or how many of each were decided on."""

    recipe: _Name
    versions: Annotated[tuple[_Version, ...], Field(min_length=2, max_length=6)]
    rate: _Share | None = None
    hoped: _Share | None = None
    each: Annotated[int, Field(ge=1, le=1_000_000, strict=True)] | None = None

    @model_validator(mode="after")
    def _size(self) -> "TrialDoc":
        if len(set(self.versions)) != len(self.versions):
            raise ValueError("a version appears more than once")
        if self.each is None and (self.rate is None or self.hoped is None):
            raise ValueError("give each, or rate and hoped")
        if self.rate is not None and self.rate == self.hoped:
            raise ValueError("rate and hoped are the same: no number of parcels tells them apart")
        return self

    @property
    def needed(self) -> int:
        """Return how many of each version must be known."""
        if self.each is not None:
            return self.each
        return needed_each(self.rate or Decimal(0), self.hoped or Decimal(0), len(self.versions))


class OutcomesRequest(_Part):
    """Parcels as they arrived, and what is asked of them."""

    format: Literal["calm-cupboard/outcomes-request"]
    version: Literal[1]
    parcels: Annotated[tuple[ParcelDoc, ...], Field(max_length=_MOST)]
    by: Annotated[tuple[Group, ...], Field(max_length=20)] = ("version",)
    priors: Annotated[tuple[PriorDoc, ...], Field(max_length=1_000)] = ()
    trials: Annotated[tuple[TrialDoc, ...], Field(max_length=100)] = ()

    @model_validator(mode="after")
    def _once(self) -> "OutcomesRequest":
        names = [one.parcel for one in self.parcels]
        twice = next((name for name, count in Counter(names).items() if count > 1), None)
        if twice is not None:
            raise ValueError(f"parcel {twice} appears more than once")
        recipes = [one.recipe for one in self.priors]
        if len(set(recipes)) != len(recipes):
            raise ValueError("priors: a recipe appears more than once")
        return self


def read_request(text: str) -> OutcomesRequest:
    """Return the request in a text. Raises WrongRequest with every error."""
    return validated(OutcomesRequest, as_json(text), [])


def answered(request: OutcomesRequest) -> dict[str, object]:
    """Return the result document: rates, planning rates, where each recipe's versions break, trials."""
    parcels = tuple(one.core() for one in request.parcels)
    counts = rates_by(parcels, "version")
    return {
        "format": "calm-cupboard/outcomes-result",
        "version": 1,
        "known": sum(one.known for one in parcels),
        "damaged": sum(one.damaged for one in parcels),
        "rates": {group: _rates(rates_by(parcels, group)) for group in dict.fromkeys(request.by)},
        "planning": _planning(request, counts),
        "where": _where(parcels, counts),
        "trials": [_trial(one, counts) for one in request.trials],
    }


def _rates(counts: dict[str, Counted]) -> list[dict[str, object]]:
    return [{"key": key, **_counted(one)} for key, one in counts.items()]


def _counted(one: Counted) -> dict[str, object]:
    low, high = one.interval
    share = float(one.share) if one.share is not None else None
    return {
        "damaged": one.damaged, "known": one.known, "assumed": one.assumed, "share": share, "low": float(low),
        "high": float(high),
    }  # fmt: skip


def _planning(request: OutcomesRequest, counts: dict[str, Counted]) -> list[dict[str, object]]:
    priors = {one.recipe: one.rate for one in request.priors}
    found = []
    for key, one in counts.items():
        recipe = key.rsplit("/", 1)[0]
        if recipe in priors:
            rate = planning_rate(priors[recipe], one.damaged, one.known)
            found.append({"key": key, "prior": float(priors[recipe]), "rate": round(float(rate), 6)})
    return found


def _where(parcels: Iterable[Arrived], counts: dict[str, Counted]) -> list[dict[str, object]]:
    """Return where things break, for each version of which something did."""
    found = []
    parcels = tuple(parcels)
    for key in counts:
        mine = [
            one
            for one in parcels
            if any(f"{goods.recipe}/{goods.version}" == key for goods in one.damaged_goods() if goods.recipe)
        ]
        if mine:
            found.append({"key": key, **_places(where_of(mine))})
    return found


def _places(where: Where) -> dict[str, object]:
    return {
        "broken": where.broken,
        "placed": where.placed,
        "spoiled": where.spoiled,
        "leading": where.leading,
        "by_chance": float(where.by_chance) if where.by_chance is not None else None,
        "places": [
            {
                "place": one.place, "count": one.count, "low": float(one.low), "high": float(one.high),
                "spots": [{"spot": spot, "count": count} for spot, count in one.spots],
            }
            for one in where.places
            if one.count
        ],
    }  # fmt: skip


def _trial(trial: TrialDoc, counts: dict[str, Counted]) -> dict[str, Any]:
    none = Counted(damaged=0, known=0)
    arms = [Arm(version=one, counted=counts.get(f"{trial.recipe}/{one}", none)) for one in trial.versions]
    verdict: Verdict = verdict_of(arms, trial.needed)
    return {
        "recipe": trial.recipe,
        "each": trial.needed,
        "verdict": verdict.code,
        "leads": verdict.version,
        "p": float(verdict.p) if verdict.p is not None else None,
        "more": [{"version": version, "parcels": left} for version, left in verdict.more],
        "arms": [{"version": arm.version, **_counted(arm.counted)} for arm in arms],
    }
