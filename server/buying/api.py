"""Buying over HTTP: cover, outlook, the list, money asleep, settings, which cartons to keep: thin."""

from decimal import Decimal
from typing import Annotated

from pydantic import BaseModel, Field

from server.api.bodies import Body
from server.api.operation import operation
from server.api.paging import Page
from server.api.views import MemberView
from server.buying import cartons, services
from server.buying.asleep import AsleepsOut, asleeps_out
from server.buying.cartons import CartonReportOut, report_out
from server.buying.list_screens import BuyListOut, buy_list_out
from server.buying.models import BuyingSettings, CartonReport
from server.buying.reading import settings_of
from server.buying.supply_screens import CoversOut, OutlookOut, covers_out, outlook_out
from server.buying.waiting import waiting_for

__all__ = [
    "AsleepView", "BuyListView", "BuyingSettingsView", "CartonReportView", "CartonReportsView", "CoversView",
    "OutlookView", "PlaceView", "WaitingView",
]  # fmt: skip


_Factor = Annotated[Decimal, Field(gt=0, le=20, max_digits=6, decimal_places=3)]


class BuyListIn(Body):
    """The list as a person changed it."""

    quantities: Annotated[dict[int, Annotated[Decimal, Field(ge=0, le=1_000_000)]], Field(max_length=200)] = {}
    without: Annotated[list[int], Field(max_length=200)] = []


class BuyingSettingsDoc(Body):
    """What is judged; rules 14.3, 14.4 say why each begins as it does."""

    budget: Annotated[Decimal, Field(ge=0, max_digits=12, decimal_places=2)] | None
    z: Annotated[Decimal, Field(ge=0, le=4, max_digits=5, decimal_places=3)]
    cover_weeks: Annotated[int, Field(ge=1, le=52)]
    longest_weeks: Annotated[int, Field(ge=1, le=104)]
    within_days: Annotated[int, Field(ge=0, le=60)]
    anyway_days: Annotated[int, Field(ge=0, le=120)]
    interest_percent: Annotated[int, Field(ge=0, le=200)]
    season: Annotated[list[_Factor], Field(min_length=12, max_length=12)]
    keeping_a_kind: Annotated[Decimal, Field(ge=0, le=10_000, decimal_places=2)]


class SlotPlaceIn(Body):
    """What a slot takes, and what follows its supply."""

    room: Annotated[Decimal, Field(gt=0, le=1_000_000, decimal_places=3)] | None
    successor_id: int | None


class SlotPlaceOut(BaseModel):
    """As it stands now."""

    supply_id: int
    room: Decimal | None
    successor_id: int | None


class WaitingOut(BaseModel):
    """Numbers of orders by the supply they lack."""

    orders: dict[int, list[str]]


class CartonsIn(Body):
    """What to work out."""

    at_most: Annotated[int, Field(ge=1, le=60)]
    weeks: Annotated[int, Field(ge=1, le=104)] = 10
    own_sizes: bool = True


class CoversView(MemberView):
    """GET /api/buying/cover"""

    @operation("covers")
    def get(self) -> CoversOut:
        """How long every supply lasts, and when to order it."""
        return covers_out(self.workshop)


class OutlookView(MemberView):
    """GET /api/buying/supplies/{id}"""

    @operation("outlook")
    def get(self, supply_id: int) -> OutlookOut:
        """One supply: day by day until it runs out, offers, where it is used."""
        return outlook_out(self.workshop, supply_id)


class PlaceView(MemberView):
    """PUT /api/buying/supplies/{id}/place"""

    owner_only = frozenset({"PUT"})

    @operation("set_place")
    def put(self, body: SlotPlaceIn, supply_id: int) -> SlotPlaceOut:
        """Say what its slot takes, and what takes its place once it is used up."""
        row = services.set_place(by=self.member, supply_id=supply_id, room=body.room, successor_id=body.successor_id)
        return SlotPlaceOut(supply_id=row.pk, room=row.room, successor_id=row.successor_id)


class WaitingView(MemberView):
    """GET /api/buying/waiting"""

    @operation("waiting_orders")
    def get(self) -> WaitingOut:
        """Orders that cannot be packed for want of a supply, by supply."""
        return WaitingOut(orders=waiting_for(self.workshop))


class BuyListView(MemberView):
    """POST /api/buying/list"""

    shows_costs = True

    @operation("buy_list")
    def post(self, body: BuyListIn) -> BuyListOut:
        """What to buy from whom within the budget, as a person changed it; nothing is written."""
        return buy_list_out(self.workshop, quantities=body.quantities, without=frozenset(body.without))


class AsleepView(MemberView):
    """GET /api/buying/asleep"""

    shows_costs = True

    @operation("asleep")
    def get(self) -> AsleepsOut:
        """Stock that lasts longer than anything is bought for, and what would use it up."""
        return asleeps_out(self.workshop)


def _doc(row: BuyingSettings) -> BuyingSettingsDoc:
    return BuyingSettingsDoc(
        budget=row.budget,
        z=Decimal(row.z),
        cover_weeks=row.cover_weeks,
        longest_weeks=row.longest_weeks,
        within_days=row.within_days,
        anyway_days=row.anyway_days,
        interest_percent=row.interest_percent,
        season=[Decimal(one) for one in row.season] or [Decimal(1)] * 12,
        keeping_a_kind=Decimal(row.keeping_a_kind),
    )


class BuyingSettingsView(MemberView):
    """GET and PUT /api/buying/settings"""

    owner_only = frozenset({"PUT"})

    @operation("buying_settings")
    def get(self) -> BuyingSettingsDoc:
        """What is judged of buying."""
        return _doc(settings_of(self.workshop))

    @operation("set_buying_settings")
    def put(self, body: BuyingSettingsDoc) -> BuyingSettingsDoc:
        """Judge otherwise from now on."""
        values = body.model_dump(exclude={"season"})
        return _doc(services.save_settings(by=self.member, values=values, season=body.season))


class CartonReportsView(MemberView):
    """GET and POST /api/buying/cartons"""

    owner_only = frozenset({"POST"})
    shows_costs = True

    @operation("carton_reports")
    def get(self) -> Page[CartonReportOut]:
        """Reports of which cartons to keep, the last first."""
        return self.paged(CartonReport.objects.of(self.workshop), lambda page: [report_out(row) for row in page])

    @operation("begin_carton_report", status=201)
    def post(self, body: CartonsIn) -> CartonReportOut:
        """Have it worked out in the background."""
        return report_out(
            cartons.begin_report(by=self.member, at_most=body.at_most, weeks=body.weeks, own_sizes=body.own_sizes)
        )


class CartonReportView(MemberView):
    """GET and DELETE /api/buying/cartons/{id}"""

    owner_only = frozenset({"DELETE"})
    shows_costs = True

    @operation("carton_report")
    def get(self, report_id: int) -> CartonReportOut:
        """One report, and how far it is."""
        return report_out(cartons.found_report(self.workshop, report_id))

    @operation("cancel_carton_report")
    def delete(self, report_id: int) -> CartonReportOut:
        """Work it out no further."""
        return report_out(cartons.cancel_report(by=self.member, report_id=report_id))
