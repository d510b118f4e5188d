"""How the workshop chooses services: its rules, why each begins as it does, and writing them down."""

from decimal import Decimal
from typing import Annotated

from django.db import transaction
from pydantic import BaseModel, ConfigDict, Field

from core.tariffs.model import DeliversTo
from core.tariffs.zones import SHIP_DAYS
from server.api.problems import Refused
from server.carriers.selectors import core_tariffs
from server.plans.facts import ship_days
from server.workshops.happened import tell_anything
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = ["DEFAULTS", "REASONS", "Rules", "ServiceChoice", "rules_of", "services_there_are", "set_rules"]

_Amount = Annotated[Decimal, Field(ge=0, max_digits=10, decimal_places=2)]


class Rules(BaseModel):
    """The choosing rules, whole."""

    model_config = ConfigDict(extra="forbid")

    services: Annotated[list[Annotated[str, Field(max_length=30)]], Field(max_length=200)]
    trusted_carrier: Annotated[str, Field(max_length=30)]
    trusted_unless_saves: _Amount
    arrive_within_days: Annotated[int, Field(ge=1, le=60)] | None
    ship_days: Annotated[list[Annotated[int, Field(ge=0, le=6)]], Field(min_length=1, max_length=7)]
    to_homes: bool
    delivers_to: Annotated[list[DeliversTo], Field(min_length=1, max_length=3)]
    signature_above: Annotated[Decimal, Field(ge=0, max_digits=12, decimal_places=2)] | None
    cover_goods: bool
    advice_threshold: _Amount
    little_more: _Amount


#: What a new workshop begins with.
DEFAULTS = Rules(
    services=[],
    trusted_carrier="",
    trusted_unless_saves=Decimal("1.00"),
    arrive_within_days=None,
    ship_days=list(SHIP_DAYS),
    to_homes=True,
    delivers_to=["door"],
    signature_above=None,
    cover_goods=False,
    advice_threshold=Decimal("0.50"),
    little_more=Decimal("0.50"),
)
#: Why each begins so, in words for the settings screen.
REASONS: dict[str, str] = {
    "services": "All: leaving one out can only cost more, so leave out what you cannot hand over.",
    "trusted_carrier": "None: the cheapest that arrives in time is taken, and breakages count in the price as expected "
    "loss.",
    "trusted_unless_saves": "1.00: about what a claim's paperwork costs spread over the parcels that never need one.",
    "arrive_within_days": "No limit: goods that may not be long in transit have their own limit, which always holds.",
    "ship_days": "Monday to Friday: most carriers collect then.",
    "to_homes": "Yes: nearly all buyers of a small maker live where they order to; some carriers ask more for that.",
    "delivers_to": "The door: a locker or a shop is cheaper, but buyers have to have agreed and to name it.",
    "signature_above": "Never: a signature costs at every door; most lost parcels are cheaper than that.",
    "cover_goods": "No: what services include covers most orders; the plan shows what is not covered.",
    "advice_threshold": "0.50: below that, reading the advice costs more than it saves.",
    "little_more": "0.50: what a buyer hardly notices on an order.",
}


class ServiceChoice(BaseModel):
    """One service of the tariffs there are."""

    code: str
    name: str
    carrier: str
    carrier_name: str


def services_there_are(workshop: Workshop) -> list[ServiceChoice]:
    """Return every service of every carrier, once, by the newest version that has it."""
    found: dict[str, ServiceChoice] = {}
    for tariff in core_tariffs(workshop):
        for one in tariff.services:
            found[one.code] = ServiceChoice(
                code=one.code, name=one.name, carrier=tariff.carrier, carrier_name=tariff.carrier_name
            )
    return sorted(found.values(), key=lambda one: (one.carrier_name, one.name))


def rules_of(workshop: Workshop) -> Rules:
    """Return the workshop's rules."""
    values = {name: getattr(workshop, name) for name in Rules.model_fields}
    places = workshop.delivers_to or ["door"]
    return Rules(**{**values, "ship_days": list(ship_days(workshop)), "delivers_to": places})


@transaction.atomic
def set_rules(*, by: Member, rules: Rules) -> Rules:
    """Write the rules down; open orders are planned again by them.

    Raises Refused (422) for a service or carrier no tariff knows.
    """
    lock_workshop(by.workshop)
    known = services_there_are(by.workshop)
    unknown = sorted(set(rules.services) - {one.code for one in known})
    if unknown:
        raise Refused(
            f"No tariff has a service {', '.join(unknown)[:80]}; there are {', '.join(one.code for one in known)}.",
            code="unknown",
            status=422,
            field="services",
        )
    carriers = {one.carrier for one in known}
    if rules.trusted_carrier and rules.trusted_carrier not in carriers:
        raise Refused(
            f"There is no tariff of a carrier {rules.trusted_carrier}; there are {', '.join(sorted(carriers))}.",
            code="unknown",
            status=422,
            field="trusted_carrier",
        )
    if rules == rules_of(by.workshop):
        return rules
    tidy = rules.model_copy(
        update={
            "services": sorted(set(rules.services)),
            "ship_days": sorted(set(rules.ship_days)),
            "delivers_to": sorted(set(rules.delivers_to)),
        }
    )
    Workshop.objects.filter(pk=by.workshop.pk).update(**tidy.model_dump())
    by.workshop.refresh_from_db()
    tell_anything(by.workshop)
    return rules_of(by.workshop)
