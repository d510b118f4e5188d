"""The charges request and its result: a script interface (docs/formats/charges-request.md). No database."""

from collections import Counter
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, model_validator

from core.money.policies import (
    Base,
    ByCarrier,
    ByValue,
    ByWeight,
    Flat,
    PickUp,
    Policy,
    SentOrder,
    ValueStep,
    WeightStep,
)
from core.money.runs import (
    PolicyRun,
    Share,
    break_even_fee,
    run_policy,
    share_just_below,
    threshold_costing,
)
from core.money.table import shop_table
from core.units import round_money
from server.formats.script_interface import as_json, validated
from server.formats.text import exact_number

__all__ = ["ChargesRequest", "answered", "read_request"]

_Name = Annotated[str, Field(min_length=1, max_length=60, strict=True)]
_Amount = Annotated[
    Decimal, BeforeValidator(exact_number), Field(ge=0, le=Decimal("1000000"), decimal_places=3, allow_inf_nan=False)
]
_Percent = Annotated[Decimal, BeforeValidator(exact_number), Field(ge=0, le=1000, decimal_places=2)]
_Ending = Annotated[Decimal, BeforeValidator(exact_number), Field(ge=0, lt=1, decimal_places=3)]
_Endings = Annotated[tuple[_Ending, ...], Field(max_length=10)]
_Weight = Annotated[int, Field(ge=1, le=1_000_000_000, strict=True)]
_MOST = 100_000


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class SentOrderDoc(_Part):
    """An order and what sending it took."""

    order: _Name
    value: _Amount
    weight_mg: _Weight
    zone: _Name = "all"
    units: Annotated[int, Field(ge=1, le=100_000, strict=True)] = 1
    paid: _Amount
    picked_up: bool = False

    def core(self) -> SentOrder:
        """Return it as the core has it."""
        return SentOrder(key=self.order, **self.model_dump(exclude={"order"}))


class FlatDoc(_Part):
    """One amount for every order."""

    kind: Literal["flat"]
    amount: _Amount

    def core(self) -> Base:
        """Return it as the core has it."""
        return Flat(amount=self.amount)


class WeightStepDoc(_Part):
    """What an order up to a weight is charged."""

    up_to_mg: _Weight
    amount: _Amount


class ByWeightDoc(_Part):
    """By steps of weight."""

    kind: Literal["by_weight"]
    steps: Annotated[tuple[WeightStepDoc, ...], Field(min_length=1, max_length=200)]

    @model_validator(mode="after")
    def _rising(self) -> "ByWeightDoc":
        self.core()
        return self

    def core(self) -> Base:
        """Return it as the core has it."""
        return ByWeight(steps=tuple(WeightStep(**one.model_dump()) for one in self.steps))


class ValueStepDoc(_Part):
    """What an order of this value or more is charged."""

    from_value: _Amount
    amount: _Amount


class ByValueDoc(_Part):
    """By steps of what the goods are worth."""

    kind: Literal["by_value"]
    steps: Annotated[tuple[ValueStepDoc, ...], Field(min_length=1, max_length=200)]

    @model_validator(mode="after")
    def _rising(self) -> "ByValueDoc":
        self.core()
        return self

    def core(self) -> Base:
        """Return it as the core has it."""
        return ByValue(steps=tuple(ValueStep(**one.model_dump()) for one in self.steps))


class ByCarrierDoc(_Part):
    """What the carrier takes, and more."""

    kind: Literal["by_carrier"]
    percent: _Percent = Decimal(0)
    fixed: _Amount = Decimal(0)

    def core(self) -> Base:
        """Return it as the core has it."""
        return ByCarrier(percent=self.percent, fixed=self.fixed)


class PickUpDoc(_Part):
    """The buyer comes for it, or it is brought along."""

    kind: Literal["pick_up"]
    amount: _Amount = Decimal(0)

    def core(self) -> Base:
        """Return it as the core has it."""
        return PickUp(amount=self.amount)


_BaseDoc = Annotated[FlatDoc | ByWeightDoc | ByValueDoc | ByCarrierDoc | PickUpDoc, Field(discriminator="kind")]


class PolicyDoc(_Part):
    """How postage is charged."""

    code: _Name
    name: Annotated[str, Field(max_length=60, strict=True)] = ""
    base: _BaseDoc
    zones: Annotated[dict[_Name, _BaseDoc], Field(max_length=200)] = {}
    free_from: _Amount | None = None
    free_zones: Annotated[tuple[_Name, ...], Field(max_length=200)] = ()
    endings: _Endings = ()

    def core(self, digits: int) -> Policy:
        """Return it as the core has it."""
        return Policy(
            code=self.code, name=self.name or self.code, base=self.base.core(),
            zones=tuple((zone, base.core()) for zone, base in self.zones.items()), free_from=self.free_from,
            free_zones=self.free_zones, endings=self.endings, digits=digits,
        )  # fmt: skip


class TableDoc(_Part):
    """How the shop's table is made."""

    most_lost: _Amount = Decimal(0)
    endings: _Endings = ()


class ChargesRequest(_Part):
    """Orders that were sent, and how postage could be charged."""

    format: Literal["calm-cupboard/charges-request"]
    version: Literal[1]
    digits: Annotated[int, Field(ge=0, le=3, strict=True)] = 2
    orders: Annotated[tuple[SentOrderDoc, ...], Field(max_length=_MOST)]
    policies: Annotated[tuple[PolicyDoc, ...], Field(max_length=50)] = ()
    threshold_may_cost: _Amount | None = None
    just_below: _Amount = Decimal(10)
    table: TableDoc | None = None

    @model_validator(mode="after")
    def _once(self) -> "ChargesRequest":
        for what, names in (
            ("order", [one.order for one in self.orders]),
            ("policy", [one.code for one in self.policies]),
        ):
            twice = next((name for name, count in Counter(names).items() if count > 1), None)
            if twice is not None:
                raise ValueError(f"{what} {twice} appears more than once")
        return self


def read_request(text: str) -> ChargesRequest:
    """Return the request in a text. Raises WrongRequest with every error."""
    return validated(ChargesRequest, as_json(text), [])


def answered(request: ChargesRequest) -> dict[str, object]:
    """Return the result document: each policy over the orders, the fee that breaks even, the shop's table."""
    return _Answer(request).document()


class _Answer:
    """A request under way: its orders, and how its amounts are written."""

    def __init__(self, request: ChargesRequest) -> None:
        self.request = request
        self.orders = tuple(one.core() for one in request.orders)

    def document(self) -> dict[str, object]:
        """Return the result."""
        sent = [one for one in self.orders if not one.picked_up]
        digits = self.request.digits
        return {
            "format": "calm-cupboard/charges-result",
            "version": 1,
            "orders": len(sent),
            "paid": self.text(sum((one.paid for one in sent), Decimal(0))),
            "break_even_fee": self.text(break_even_fee(self.orders, digits=digits)),
            "policies": [self.run(run_policy(one.core(digits), self.orders)) for one in self.request.policies],
            "table": self.table(),
        }

    def text(self, amount: Decimal | None) -> str | None:
        """Return an amount exactly, with the currency's places at least."""
        if amount is None:
            return None
        exponent = amount.normalize().as_tuple().exponent
        places = max(self.request.digits, -exponent if isinstance(exponent, int) else 0)
        return str(amount.quantize(Decimal(1).scaleb(-places)))

    def table(self) -> list[dict[str, object]]:
        """Return the shop's table; empty when none is asked for."""
        asked = self.request.table
        if asked is None:
            return []
        rows = shop_table(self.orders, most_lost=asked.most_lost, endings=asked.endings, digits=self.request.digits)
        return [
            {
                "zone": row.zone, "units_from": row.units_from, "units_to": row.units_to,
                "charge": self.text(row.charge), "orders": row.count, "mean_paid": self.text(row.mean_paid),
                "most_paid": self.text(row.most_paid),
            }
            for row in rows
        ]  # fmt: skip

    def run(self, run: PolicyRun) -> dict[str, object]:
        """Return what a policy comes to."""
        policy, request, text = run.policy, self.request, self.text
        most, free_from = request.threshold_may_cost, policy.free_from
        low, middle, high = (round_money(run.quantile(share), policy.digits) for share in (0.05, 0.5, 0.95))
        return {
            "code": policy.code,
            "charged": text(run.charged),
            "paid": text(run.paid),
            "left": text(run.left),
            "median": text(middle),
            "from_5_percent": text(low),
            "to_95_percent": text(high),
            "share_below_zero": round(run.share_below_zero, 6),
            "worst": [one.order.key for one in run.worst],
            "by_zone": self.groups(run.by(lambda order: order.zone)),
            "by_units": self.groups(run.by(lambda order: f"{order.units:06}")),
            "break_even_fee": text(break_even_fee(self.orders, free_from=free_from, digits=policy.digits)),
            "threshold": text(threshold_costing(policy, self.orders, most)) if most is not None else None,
            "just_below": (
                round(share_just_below(self.orders, free_from, request.just_below), 6)
                if free_from is not None
                else None
            ),
            "refused": [
                {"order": one.key, "code": one.code, "weight_mg": one.weight_mg, "last_mg": one.last_mg}
                for one in run.refused
            ],
            "orders": [
                {
                    "order": one.order.key, "charged": text(one.charge.amount), "paid": text(one.order.paid),
                    "left": text(one.left),
                    "lines": [{"kind": line.kind, "amount": text(line.amount)} for line in one.charge.lines],
                }
                for one in run.orders
            ],
        }  # fmt: skip

    def groups(self, shares: tuple[Share, ...]) -> list[dict[str, object]]:
        """Return what is left by group."""
        return [
            {
                "key": one.key.lstrip("0") or one.key, "orders": one.count, "charged": self.text(one.charged),
                "paid": self.text(one.paid), "left": self.text(one.left),
            }
            for one in shares
        ]  # fmt: skip
