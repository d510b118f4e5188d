"""Changes as they are asked for, and the same with everything the core needs to try them (money)."""

from collections.abc import Sequence
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import Field, TypeAdapter

from core.messages import Message, say
from core.money import changes as core
from core.money.policies import Flat, Policy
from core.parcels.facts import Facts
from core.units import Size, whole_money
from server.api.bodies import Body
from server.api.problems import Refused
from server.buying.cartons import carton_of_size
from server.carriers.models import TariffVersion
from server.carriers.selectors import core_tariffs
from server.money.policies import core_policy, found_policy
from server.recipes.mapping import core_recipe
from server.recipes.models import Recipe, RecipeVersion
from server.supplies.models import Supply
from server.workshops.models import Workshop

__all__ = ["ASKED", "WhatIfAsked", "core_changes", "said"]

_Money = Annotated[Decimal, Field(ge=0, le=100_000, decimal_places=4)]
_Code = Annotated[str, Field(min_length=1, max_length=30)]
_Side = Annotated[int, Field(ge=20_000, le=2_000_000)]


class WageChange(Body):
    """Another wage an hour."""

    kind: Literal["wage"]
    per_hour: _Money


class WithoutChange(Body):
    """A carton or mailer is gone."""

    kind: Literal["without"]
    code: _Code


class NewCartonChange(Body):
    """A carton is there."""

    kind: Literal["new_carton"]
    length_um: _Side
    width_um: _Side
    height_um: _Side
    unit_cost: _Money | None = None  #: None: what its board costs at our suppliers

    @property
    def inner(self) -> Size:
        """Return its inside."""
        return Size(length_um=self.length_um, width_um=self.width_um, height_um=self.height_um)


class PriceListChange(Body):
    """A price list holds."""

    kind: Literal["price_list"]
    tariff_id: int


class VersionChange(Body):
    """A recipe is packed by another version."""

    kind: Literal["version"]
    recipe_id: int
    number: Annotated[int, Field(ge=1, le=100_000)]


class InsteadChange(Body):
    """Another supply in place of one."""

    kind: Literal["instead"]
    old: _Code
    new: _Code


class DamageChange(Body):
    """So many parcels of a recipe arrive damaged."""

    kind: Literal["damage"]
    recipe_id: int
    percent: Annotated[Decimal, Field(ge=0, le=100, decimal_places=2)]


class MinutesChange(Body):
    """A recipe takes so many percent of its minutes."""

    kind: Literal["minutes"]
    recipe_id: int
    percent: Annotated[Decimal, Field(ge=1, le=1_000, decimal_places=1)]


class SupplyPriceChange(Body):
    """A supply costs another price, for a stock unit."""

    kind: Literal["supply_price"]
    code: _Code
    unit_cost: _Money


class SendDaysChange(Body):
    """Parcels leave on these days of the week; Monday is 0."""

    kind: Literal["send_days"]
    days: Annotated[list[Annotated[int, Field(ge=0, le=6)]], Field(min_length=1, max_length=7)]


class ServicesChange(Body):
    """Only these services are used; empty: all."""

    kind: Literal["services"]
    codes: Annotated[list[_Code], Field(max_length=50)]


class ChargeChange(Body):
    """Buyers are charged otherwise: by a policy that is kept, or one fee for all."""

    kind: Literal["charge"]
    policy_id: int | None = None
    flat: _Money | None = None
    free_from: _Money | None = None


ChangeDoc = Annotated[
    WageChange | WithoutChange | NewCartonChange | PriceListChange | VersionChange | InsteadChange | DamageChange
    | MinutesChange | SupplyPriceChange | SendDaysChange | ServicesChange | ChargeChange,
    Field(discriminator="kind"),
]  # fmt: skip


class WhatIfAsked(Body):
    """A change, or several at once, and the period."""

    changes: Annotated[list[ChangeDoc], Field(min_length=1, max_length=6)]
    weeks: Annotated[int, Field(ge=1, le=104)] = 10


ASKED: TypeAdapter[WhatIfAsked] = TypeAdapter(WhatIfAsked)


def said(asked: WhatIfAsked, workshop: Workshop) -> tuple[Message, ...]:
    """Return each change with the names of what it is about, to stand after "if".

    Raises Refused (not_valid) when one is about something that is not there.
    """
    return tuple(_said(one, workshop) for one in asked.changes)


def _said(change: ChangeDoc, workshop: Workshop) -> Message:
    digits = workshop.money_digits
    match change:
        case WageChange(per_hour=wage):
            return say("if_wage", wage_money=whole_money(wage, digits))
        case WithoutChange(code=code):
            return say("if_without", container=_supply(workshop, code, ("carton", "mailer")).code)
        case NewCartonChange(unit_cost=None):
            return say("if_new_carton", inner_size_um=change.inner.sides_um)
        case NewCartonChange(unit_cost=Decimal() as cost):
            return say("if_new_carton_for", inner_size_um=change.inner.sides_um, cost_money=whole_money(cost, digits))
        case PriceListChange(tariff_id=tariff_id):
            row = _tariff(workshop, tariff_id)
            return say("if_price_list", carrier=row.document.get("carrier_name", row.carrier), version=row.version)
        case VersionChange(recipe_id=recipe_id, number=number):
            name = _version(workshop, recipe_id, number).recipe.name
            return say("if_version", recipe=name, version=number)
        case InsteadChange(old=old, new=new):
            before = _supply(workshop, old, ())
            return say("if_instead", old=before.code, new=_supply(workshop, new, (before.kind,)).code)
        case DamageChange(recipe_id=recipe_id, percent=percent):
            return say("if_damage", recipe=_recipe(workshop, recipe_id).name, damaged_percent=percent)
        case MinutesChange(recipe_id=recipe_id, percent=percent):
            return say("if_minutes", recipe=_recipe(workshop, recipe_id).name, taken_percent=percent)
        case SupplyPriceChange(code=code, unit_cost=cost):
            return say("if_supply_price", supply=_supply(workshop, code, ()).code, cost_money=whole_money(cost, digits))
        case SendDaysChange(days=days):
            return say("if_send_days", days=tuple(say(f"weekday_{day}") for day in sorted(set(days))))
        case ServicesChange(codes=codes):
            known = {s.code: s.name for tariff in core_tariffs(workshop) for s in tariff.services}
            missing = [code for code in codes if code not in known]
            if missing:
                raise _wrong(f"No carrier has a service {missing[0]}. Services: {', '.join(sorted(known))}.")
            names = tuple(known[code] for code in codes)
            return say("if_services", services=names) if names else say("if_every_service")
        case ChargeChange(policy_id=int() as policy_id, flat=None):
            return say("if_policy", policy=found_policy(workshop, policy_id).name)
        case ChargeChange(policy_id=None, flat=Decimal() as fee):
            return say("if_flat_fee", fee_money=whole_money(fee, digits))
        case _:
            raise _wrong("Say a policy that is kept or one fee for all, one of the two.")


def core_changes(asked: WhatIfAsked, workshop: Workshop, facts: Facts) -> tuple[core.Change, ...]:
    """Return the changes as the core tries them. Raises Refused like ``said``."""
    return tuple(_core(one, workshop, facts) for one in asked.changes)


def _core(change: ChangeDoc, workshop: Workshop, facts: Facts) -> core.Change:
    match change:
        case WageChange(per_hour=wage):
            return core.Wage(per_hour=wage)
        case WithoutChange(code=code):
            return core.WithoutContainer(code=_supply(workshop, code, ("carton", "mailer")).code)
        case NewCartonChange():
            carton = carton_of_size(change.inner, facts, "NEW", workshop.unit_system, change.unit_cost)
            return core.NewContainer(container=carton)
        case PriceListChange(tariff_id=tariff_id):
            row = _tariff(workshop, tariff_id)
            every = core_tariffs(workshop)
            without = tuple(one for one in every if (one.carrier, one.version) != (row.carrier, row.version))
            # Other lists that begin the same day are in both; later ones of its carrier in neither.
            then = tuple(one for one in every if one.carrier != row.carrier or one.valid_from <= row.valid_from)
            return core.PriceList(without=without, tariffs=then, on=row.valid_from)
        case VersionChange(recipe_id=recipe_id, number=number):
            return core.OtherVersion(recipe=core_recipe(_version(workshop, recipe_id, number)))
        case InsteadChange(old=old, new=new):
            kind = _supply(workshop, old, ()).kind
            return core.Instead(old=old, new=_supply(workshop, new, (kind,)).code)
        case DamageChange(recipe_id=recipe_id, percent=percent):
            return core.DamageRate(recipe=_recipe(workshop, recipe_id).code, rate=percent / 100)
        case MinutesChange(recipe_id=recipe_id, percent=percent):
            return core.MinutesFactor(recipe=_recipe(workshop, recipe_id).code, factor=percent / 100)
        case SupplyPriceChange(code=code, unit_cost=cost):
            return core.SupplyPrice(code=_supply(workshop, code, ()).code, unit_cost=cost)
        case SendDaysChange(days=days):
            return core.SendDays(days=tuple(sorted(set(days))))
        case ServicesChange(codes=codes):
            return core.Services(codes=tuple(codes))
        case ChargeChange():
            return core.ChargedBy(policy=_policy(change, workshop))


def _policy(change: ChargeChange, workshop: Workshop) -> Policy:
    if change.policy_id is not None:
        return core_policy(found_policy(workshop, change.policy_id))
    flat = change.flat if change.flat is not None else Decimal(0)
    return Policy(
        code="flat", name="", base=Flat(amount=flat), free_from=change.free_from, digits=workshop.money_digits
    )


def _wrong(words: str) -> Refused:
    return Refused(words, code="not_valid", status=422, field="changes")


def _supply(workshop: Workshop, code: str, kinds: Sequence[str]) -> Supply:
    row = Supply.objects.of(workshop).filter(code=code, retired_at=None).first()
    if row is None:
        raise _wrong(f"There is no supply {code} in your cupboard.")
    if kinds and row.kind not in kinds:
        raise _wrong(f"{code} is a {row.kind}; here it must be a {' or a '.join(kinds)}.")
    return row


def _tariff(workshop: Workshop, tariff_id: int) -> TariffVersion:
    row = TariffVersion.objects.of(workshop).filter(pk=tariff_id).first()
    if row is None:
        raise _wrong("There is no such price list in your workshop.")
    return row


def _recipe(workshop: Workshop, recipe_id: int) -> Recipe:
    row = Recipe.objects.of(workshop).filter(pk=recipe_id).first()
    if row is None:
        raise _wrong("There is no such recipe in your workshop.")
    return row


def _version(workshop: Workshop, recipe_id: int, number: int) -> RecipeVersion:
    rows = RecipeVersion.objects.of(workshop).filter(recipe_id=recipe_id, number=number)
    row = rows.select_related("recipe").first()
    if row is None:
        raise _wrong(f"The recipe has no version {number}.")
    return row
