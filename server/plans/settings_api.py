"""Settings over HTTP: thin."""

from datetime import datetime
from decimal import Decimal
from typing import Annotated, Any

from pydantic import BaseModel, Field

from server.api.bodies import Body
from server.api.operation import operation
from server.api.paging import Page
from server.api.views import MemberView
from server.plans import settings
from server.workshops.models import SettingChange

__all__ = ["SettingsEffectView", "SettingsHistoryView", "SettingsView"]


class SettingOut(BaseModel):
    """One figure of judgement. Values are um, mg, shares of one, percent, minutes or money, by its kind."""

    name: str
    group: str
    kind: str
    title: str
    value: Decimal
    default: Decimal
    least: Decimal
    most: Decimal
    whole: bool
    rule: str
    reason: str
    where: str


class SettingsOut(BaseModel):
    """All of them."""

    settings: list[SettingOut]


class SettingsIn(Body):
    """Values by name; those that are not named stay."""

    values: Annotated[dict[str, Annotated[str, Field(max_length=30)]], Field(max_length=100)]


class SettingsEffectOut(BaseModel):
    """What the values would do to open orders."""

    orders: int
    left_out: int
    changed: int
    before: Decimal
    after: Decimal
    no_longer: int
    now_planned: int


class SettingChangeOut(BaseModel):
    """One setting that was given another value."""

    id: int
    name: str
    title: str
    kind: str
    before: Decimal
    after: Decimal
    by: str
    at: datetime


_TITLES = {one.name: (one.title, one.kind) for one in settings.SETTINGS}


class SettingsView(MemberView):
    """GET and PUT /api/settings"""

    shows_costs = True
    owner_only = frozenset({"PUT"})

    @operation("settings")
    def get(self) -> SettingsOut:
        """Every figure of judgement, why it begins as it does, and where it counts."""
        return self._out()

    @operation("set_settings")
    def put(self, body: SettingsIn) -> SettingsOut:
        """Write settings down; open orders are planned again."""
        settings.set_settings(by=self.member, values=body.values)
        return self._out()

    def _out(self) -> SettingsOut:
        values = settings.values_of(self.workshop)
        rows: list[Any] = list(settings.SETTINGS)
        names = [name for name in SettingOut.model_fields if name != "value"]
        return SettingsOut(
            settings=[
                SettingOut(value=values[one.name], **{name: getattr(one, name) for name in names}) for one in rows
            ]
        )


class SettingsEffectView(MemberView):
    """POST /api/settings/effect"""

    shows_costs = True
    owner_only = frozenset({"POST"})

    @operation("settings_effect")
    def post(self, body: SettingsIn) -> SettingsEffectOut:
        """What these values would do to open orders; nothing is saved."""
        found = settings.effect_of_settings(self.workshop, body.values)
        return SettingsEffectOut(**{name: getattr(found, name) for name in SettingsEffectOut.model_fields})


class SettingsHistoryView(MemberView):
    """GET /api/settings/history"""

    shows_costs = True

    @operation("settings_history")
    def get(self) -> Page[SettingChangeOut]:
        """What was changed, newest first."""
        rows = SettingChange.objects.of(self.workshop)
        return self.paged(rows, lambda page: [_change(row) for row in page])


def _change(row: SettingChange) -> SettingChangeOut:
    title, kind = _TITLES.get(row.name, (row.name, "number"))
    return SettingChangeOut(
        id=row.pk,
        name=row.name,
        title=title,
        kind=kind,
        before=Decimal(row.before),
        after=Decimal(row.after),
        by=row.by,
        at=row.at,
    )
