"""What buyers pay, over HTTP: policies over our own orders, the shop's table, which one is ours: thin."""

import csv
import io
from datetime import date
from decimal import Decimal
from typing import Annotated

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from pydantic import BaseModel, Field
from rest_framework.request import Request

from server.api.bodies import Body
from server.api.downloads import saved_file
from server.api.operation import PROBLEMS, operation
from server.api.views import MemberView
from server.formats.charges_request import PolicyDoc
from server.formats.text import safe_cell
from server.money import charges, compared, policies, services
from server.money.models import ChargePolicy, MoneySettings

__all__ = [
    "ChargePoliciesView", "ChargePolicyView", "ChargesView", "ComparedView", "MoneySettingsView", "OursView",
    "RunsView", "ShopTableView", "ThresholdView",
]  # fmt: skip

_WEEKS = OpenApiParameter("weeks", int, description="Orders packed in so many weeks, 10 where it is not said")
_WeeksIn = Annotated[int, Field(ge=1, le=104)]
_Money = Annotated[Decimal, Field(ge=0, le=100_000, decimal_places=2)]


class RunsIn(Body):
    """Policies to try."""

    weeks: _WeeksIn = 10
    policies: Annotated[list[PolicyDoc], Field(min_length=1, max_length=10)]


class RunsOut(BaseModel):
    """What they come to."""

    runs: list[charges.PolicyRunOut]


class ThresholdIn(Body):
    """A policy, and what sending for nothing may cost over the weeks."""

    weeks: _WeeksIn = 10
    policy: PolicyDoc
    may_cost: _Money


class ThresholdOut(BaseModel):
    """The least sum from which postage may be free; None: even the largest order costs more."""

    free_from: Decimal | None


class ChargePolicyIn(Body):
    """A policy to keep."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    document: PolicyDoc


class OursIn(Body):
    """From which day on buyers are charged by it; None: they are not."""

    from_day: date | None


class ChargePolicyOut(BaseModel):
    """A policy that is kept."""

    id: int
    name: str
    ours_from: date | None


class MoneySettingsDoc(Body):
    """How charges end, what may be lost on an order by the table, and whether buyers would order more."""

    endings: Annotated[list[Annotated[Decimal, Field(ge=0, lt=1, decimal_places=2)]], Field(max_length=10)]
    most_lost: _Money
    demand_percent: Annotated[int, Field(ge=0, le=100)] | None
    demand_within: _Money


def _weeks(view: MemberView) -> int:
    return view._number("weeks", 10, 104)


class ChargesView(MemberView):
    """GET /api/money/charges"""

    shows_costs = True

    @operation("charges", parameters=[_WEEKS])
    def get(self) -> charges.ChargesOut:
        """What buyers of the last weeks paid, what they would have by each policy kept, and the shop's table."""
        return charges.charges_out(self.workshop, _weeks(self))


class RunsView(MemberView):
    """POST /api/money/charges/runs"""

    shows_costs = True

    @operation("run_policies")
    def post(self, body: RunsIn) -> RunsOut:
        """What policies that are not kept come to; nothing is written."""
        return RunsOut(runs=charges.runs_out(self.workshop, body.weeks, body.policies))


class ThresholdView(MemberView):
    """POST /api/money/charges/threshold"""

    shows_costs = True

    @operation("threshold_costing")
    def post(self, body: ThresholdIn) -> ThresholdOut:
        """From which sum postage may be free when that may cost so much; nothing is written."""
        return ThresholdOut(free_from=charges.threshold_for(self.workshop, body.weeks, body.policy, body.may_cost))


class ComparedView(MemberView):
    """GET /api/money/charges/compared"""

    shows_costs = True

    @operation("compared_charges")
    def get(self) -> compared.ComparedOut:
        """New orders whose buyers were charged otherwise than our policy says."""
        return compared.compared(self.workshop)


class ShopTableView(MemberView):
    """GET /api/money/charges/table.csv"""

    shows_costs = True

    @extend_schema(
        operation_id="shop_table_csv",
        parameters=[_WEEKS, OpenApiParameter("by", str, description="zone, or product", enum=["zone", "product"])],
        responses={(200, "text/csv"): OpenApiTypes.STR, **PROBLEMS},
    )
    def get(self, request: Request) -> HttpResponse:
        """The shop's table as CSV: zone or product, units from, units to (empty: and more), charge."""
        by: charges.TableBy = "product" if request.query_params.get("by") == "product" else "zone"
        out = io.StringIO()
        table = csv.writer(out, lineterminator="\r\n")
        table.writerow([by, "units_from", "units_to", "charge"])
        for row in charges.table_rows(self.workshop, _weeks(self), by):
            table.writerow([safe_cell(row.zone), row.units_from, row.units_to or "", row.charge])
        return saved_file(out.getvalue(), "text/csv", "postage-table.csv")


def _policy(row: ChargePolicy) -> ChargePolicyOut:
    return ChargePolicyOut(id=row.pk, name=row.name, ours_from=row.ours_from)


class ChargePoliciesView(MemberView):
    """POST /api/money/policies"""

    owner_only = frozenset({"POST"})
    shows_costs = True

    @operation("save_charge_policy")
    def post(self, body: ChargePolicyIn) -> ChargePolicyOut:
        """Keep a policy under a name."""
        return _policy(policies.save_policy(by=self.member, name=body.name, document=body.document))


class ChargePolicyView(MemberView):
    """DELETE /api/money/policies/{id}"""

    owner_only = frozenset({"DELETE"})
    shows_costs = True

    @operation("delete_charge_policy")
    def delete(self, policy_id: int) -> ChargePolicyOut:
        """Take a policy away."""
        return _policy(policies.delete_policy(by=self.member, policy_id=policy_id))


class OursView(MemberView):
    """PUT /api/money/policies/{id}/ours"""

    owner_only = frozenset({"PUT"})
    shows_costs = True

    @operation("make_policy_ours")
    def put(self, body: OursIn, policy_id: int) -> ChargePolicyOut:
        """Say from which day on buyers are charged by it."""
        return _policy(policies.make_ours(by=self.member, policy_id=policy_id, from_day=body.from_day))


def _settings(row: MoneySettings) -> MoneySettingsDoc:
    return MoneySettingsDoc(
        endings=[Decimal(one) for one in row.endings],
        most_lost=Decimal(row.most_lost),
        demand_percent=row.demand_percent,
        demand_within=Decimal(row.demand_within),
    )


class MoneySettingsView(MemberView):
    """GET, PUT /api/money/settings"""

    owner_only = frozenset({"PUT"})
    shows_costs = True

    @operation("money_settings")
    def get(self) -> MoneySettingsDoc:
        """How charges end, and what is assumed of buyers."""
        return _settings(services.settings_of(self.workshop))

    @operation("save_money_settings")
    def put(self, body: MoneySettingsDoc) -> MoneySettingsDoc:
        """Settle them."""
        values = body.model_dump() | {"endings": [str(one) for one in sorted(set(body.endings))]}
        return _settings(services.save_settings(by=self.member, values=values))
