"""Rates over HTTP: thin."""

import json
from datetime import date
from decimal import Decimal
from typing import Annotated, Literal

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from pydantic import BaseModel, Field
from rest_framework.request import Request
from rest_framework.response import Response

from core.messages import Text
from core.recipes.goods import GoodsWord
from core.tariffs.model import Place, Sending
from core.tariffs.oddities import oddities_of
from core.tariffs.probing import Over
from core.tariffs.quote import tariff_in_force
from core.tariffs.surcharges import conditions_of
from core.tariffs.zones import plain_postcode
from core.units import Size
from server.api.bodies import Body
from server.api.downloads import saved_file
from server.api.operation import PROBLEMS, operation
from server.api.paging import Page
from server.api.problems import Refused
from server.api.views import MemberView
from server.carriers.models import TariffVersion
from server.carriers.selectors import core_tariffs, file_of
from server.carriers.services import TakenIn, import_tariff, labels_by, remove_tariff, take_in_steps
from server.formats.base import Day, read_file
from server.formats.tariff import TariffFile
from server.formats.tariff_steps import steps_csv
from server.plans.facts import settings_of, ship_day
from server.rates.choosing import DEFAULTS, REASONS, Rules, ServiceChoice, rules_of, services_there_are, set_rules
from server.rates.compare import ComparedRates, compare
from server.rates.effect import ListEffect, effect_of
from server.supplies.models import Supply
from server.workshops.clock import today

__all__ = [
    "ChoosingView",
    "CompareView",
    "EffectView",
    "StepsView",
    "TariffFileView",
    "TariffView",
    "TariffsView",
]

_Length = Annotated[int, Field(gt=0, le=10_000_000, strict=True)]
_Content = Annotated[str, Field(max_length=4_000_000)]


class TariffRow(BaseModel):
    """One version of one carrier's tariff."""

    id: int
    carrier: str
    carrier_name: str
    version: str
    valid_from: date
    state: Literal["coming", "current", "past"]
    services: list[str]
    source: str


class PackagingState(BaseModel):
    """A carrier's own package and whether the cupboard knows it."""

    code: str
    in_cupboard: bool


class TariffOut(BaseModel):
    """A version with everything in it, what is odd about it, and how many parcels went by it."""

    row: TariffRow
    file: TariffFile
    notes: list[Text]
    labels: int
    packaging: list[PackagingState]
    #: when each surcharge is due, by service and surcharge code
    conditions: dict[str, dict[str, Text]]


class TariffIn(Body):
    """A tariff file. ``replace``: in place of another document of the same version that no parcel went by."""

    content: _Content
    replace: bool = False


class TariffTakenOut(BaseModel):
    """What became of a file."""

    row: TariffRow
    new: bool
    notes: list[Text]


class StepsIn(Body):
    """Step tables as CSV for a new version of this carrier's tariff."""

    content: _Content
    tariff_version: Annotated[str, Field(min_length=1, max_length=30)]
    valid_from: Day


class PlaceIn(Body):
    """A place a parcel goes to or comes from."""

    country: Annotated[str, Field(pattern=r"^[A-Z]{2,3}$")]
    postcode: Annotated[str, Field(max_length=12)] = ""

    def core(self) -> Place:
        """Return the core's place."""
        return Place(country=self.country, postcode=plain_postcode(self.postcode))


class CompareIn(Body):
    """A parcel to be compared over all services."""

    outer_um: Annotated[list[_Length], Field(min_length=3, max_length=3)]
    gross_weight_mg: Annotated[int, Field(gt=0, le=1_000_000_000, strict=True)]
    destination: PlaceIn
    origin: PlaceIn | None = None  #: None: the workshop
    ship_on: Day | None = None  #: None: the next day parcels are handed over
    over: Over = "weight"
    rigid: bool = True
    goods: Annotated[list[GoodsWord], Field(max_length=20)] = []
    cover: Annotated[int, Field(ge=0, le=1_000_000)] = 0


class ChoosingOut(BaseModel):
    """The rules, what a new workshop begins with and why, and the services to choose from."""

    rules: Rules
    defaults: Rules
    reasons: dict[str, str]
    services: list[ServiceChoice]


def _states(rows: list[TariffVersion], view: MemberView) -> list[TariffRow]:
    tariffs, day = core_tariffs(view.workshop), today(view.workshop)
    return [_row(row, _state(row, tariff_in_force(tariffs, row.carrier, day), day)) for row in rows]


def _state(row: TariffVersion, in_force: object, day: date) -> Literal["coming", "current", "past"]:
    if row.valid_from > day:
        return "coming"
    return "current" if getattr(in_force, "version", None) == row.version else "past"


def _row(row: TariffVersion, state: Literal["coming", "current", "past"]) -> TariffRow:
    return TariffRow(
        id=row.pk,
        carrier=row.carrier,
        carrier_name=row.document["carrier_name"],
        version=row.version,
        valid_from=row.valid_from,
        state=state,
        services=[one["name"] for one in row.document["services"]],
        source=row.document.get("source", ""),
    )


def _found(view: MemberView, tariff_id: int) -> TariffVersion:
    row = TariffVersion.objects.of(view.workshop).filter(pk=tariff_id).first()
    if row is None:
        raise Refused("There is no such tariff in your workshop.", code="not_found", status=404)
    return row


def _taken(view: MemberView, taken: TakenIn) -> TariffTakenOut:
    return TariffTakenOut(row=_states([taken.row], view)[0], new=taken.new, notes=list(taken.notes))


class TariffsView(MemberView):
    """GET and POST /api/tariffs"""

    shows_costs = True
    owner_only = frozenset({"POST"})

    @operation("tariffs")
    def get(self) -> Page[TariffRow]:
        """Every version of every carrier, newest first."""
        rows = TariffVersion.objects.of(self.workshop).order_by("carrier", "-valid_from")
        return self.paged(rows, lambda page: _states(page, self))

    @operation("take_in_tariff")
    def post(self, body: TariffIn) -> TariffTakenOut:
        """Import a tariff file; every error is named and then nothing is kept."""
        file = read_file(TariffFile, body.content, what="tariff file")
        return _taken(self, import_tariff(workshop=self.workshop, file=file, replace=body.replace))


class TariffView(MemberView):
    """GET and DELETE /api/tariffs/{id}"""

    shows_costs = True
    owner_only = frozenset({"DELETE"})

    @operation("tariff")
    def get(self, tariff_id: int) -> TariffOut:
        """One version, whole."""
        row = _found(self, tariff_id)
        file = file_of(row)
        held = set(
            Supply.objects.of(self.workshop)
            .filter(code__in=[item.code for item in file.packaging])
            .values_list("code", flat=True)
        )
        return TariffOut(
            row=_states([row], self)[0],
            file=file,
            notes=list(oddities_of(file.core())),
            labels=labels_by(self.workshop, row),
            packaging=[PackagingState(code=item.code, in_cupboard=item.code in held) for item in file.packaging],
            conditions={
                service.code: {one.code: conditions_of(one) for one in service.surcharges}
                for service in file.core().services
            },
        )

    @extend_schema(operation_id="remove_tariff", responses={204: None, **PROBLEMS})
    def delete(self, request: Request, tariff_id: int) -> Response:
        """Take away a version that no parcel went by."""
        remove_tariff(workshop=self.workshop, tariff_id=tariff_id)
        return Response(status=204)


class TariffFileView(MemberView):
    """GET /api/tariffs/{id}/file"""

    shows_costs = True

    @extend_schema(operation_id="tariff_file", responses={(200, "application/json"): OpenApiTypes.OBJECT, **PROBLEMS})
    def get(self, request: Request, tariff_id: int) -> HttpResponse:
        """The file as it was imported."""
        row = _found(self, tariff_id)
        content = json.dumps(row.document, indent=1, ensure_ascii=False) + "\n"
        return saved_file(content, "application/json", f"{row.carrier}-{row.version}.json")


class StepsView(MemberView):
    """GET and POST /api/tariffs/{id}/steps"""

    shows_costs = True
    owner_only = frozenset({"POST"})

    @extend_schema(operation_id="tariff_steps", responses={(200, "text/csv"): OpenApiTypes.BINARY, **PROBLEMS})
    def get(self, request: Request, tariff_id: int) -> HttpResponse:
        """The step tables as CSV."""
        row = _found(self, tariff_id)
        return saved_file(steps_csv(file_of(row)), "text/csv", f"{row.carrier}-{row.version}.csv")

    @operation("take_in_steps")
    def post(self, body: StepsIn, tariff_id: int) -> TariffTakenOut:
        """Make a new version: step tables from CSV, everything else as it was."""
        taken = take_in_steps(
            workshop=self.workshop,
            tariff_id=tariff_id,
            content=body.content.encode(),
            version=body.tariff_version,
            valid_from=body.valid_from,
        )
        return _taken(self, taken)


class EffectView(MemberView):
    """GET /api/tariffs/{id}/effect"""

    shows_costs = True

    @operation("tariff_effect")
    def get(self, tariff_id: int) -> ListEffect:
        """What the version changes for our own orders of the last weeks."""
        return effect_of(self.workshop, _found(self, tariff_id))


class CompareView(MemberView):
    """POST /api/rates/compare"""

    shows_costs = True

    @operation("compare_rates")
    def post(self, body: CompareIn) -> ComparedRates:
        """One parcel over all services."""
        length, width, height = body.outer_um
        settings = settings_of(self.workshop)
        sending = Sending(
            destination=body.destination.core(),
            origin=body.origin.core() if body.origin else settings.origin,
            ship_on=body.ship_on or ship_day(self.workshop),
            rigid=body.rigid,
            home=settings.homes,
            goods=frozenset(body.goods),
            cover=Decimal(body.cover),
        )
        return compare(
            self.workshop,
            outer=Size(length_um=length, width_um=width, height_um=height),
            gross_mg=body.gross_weight_mg,
            sending=sending,
            over=body.over,
        )


class ChoosingView(MemberView):
    """GET and PUT /api/choosing"""

    shows_costs = True
    owner_only = frozenset({"PUT"})

    @operation("choosing")
    def get(self) -> ChoosingOut:
        """How services are chosen, and why each rule begins as it does."""
        return self._out()

    @operation("set_choosing")
    def put(self, body: Rules) -> ChoosingOut:
        """Set the rules; open orders are planned again."""
        set_rules(by=self.member, rules=body)
        return self._out()

    def _out(self) -> ChoosingOut:
        return ChoosingOut(
            rules=rules_of(self.workshop),
            defaults=DEFAULTS,
            reasons=REASONS,
            services=services_there_are(self.workshop),
        )
