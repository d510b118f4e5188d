"""Telling the stand-ins how to behave: the owner's, for trying the program out."""

from typing import Annotated

from pydantic import BaseModel, Field

from server.api.bodies import Body
from server.api.operation import operation
from server.api.problems import Refused
from server.api.views import MemberView
from server.standins.carrier import CALENDAR_MODES, CARRIER_MODES
from server.standins.channel import CHANNEL_MODES, Happening, happen
from server.standins.forecast import FORECAST_MODES
from server.standins.humidity import HUMIDITY_MODES
from server.standins.models import Behaviour
from server.standins.printer import PRINTER_MODES
from server.standins.scale import SCALE_MODES

__all__ = ["MODES", "ChannelHappensView", "StandinView", "StandinsView"]

MODES = {
    "scale": SCALE_MODES,
    "carrier": CARRIER_MODES,
    "calendar": CALENDAR_MODES,
    "channel": CHANNEL_MODES,
    "printer": PRINTER_MODES,
    "humidity": HUMIDITY_MODES,
    "forecast": FORECAST_MODES,
}


class StandinOut(BaseModel):
    """One stand-in."""

    device: str
    mode: str
    modes: list[str]


class StandinsOut(BaseModel):
    """All stand-ins."""

    devices: list[StandinOut]


class StandinIn(Body):
    """How a stand-in shall behave."""

    mode: str


def _all(view: MemberView) -> StandinsOut:
    modes = dict(Behaviour.objects.of(view.workshop).values_list("device", "mode"))
    return StandinsOut(
        devices=[
            StandinOut(device=name, mode=modes.get(name, known[0]), modes=list(known)) for name, known in MODES.items()
        ]
    )


class StandinsView(MemberView):
    """GET /api/standins"""

    @operation("standins")
    def get(self) -> StandinsOut:
        """How each stand-in behaves."""
        return _all(self)


class StandinView(MemberView):
    """PUT /api/standins/{device}"""

    owner_only = frozenset({"PUT"})

    @operation("set_standin")
    def put(self, body: StandinIn, device: str) -> StandinsOut:
        """Tell one stand-in how to behave."""
        if device not in MODES:
            raise Refused(f"There is no stand-in {device}; there are {', '.join(MODES)}.", code="not_found", status=404)
        if body.mode not in MODES[device]:
            raise Refused(
                f"{device} can be {', '.join(MODES[device])}; given: {body.mode[:30]}.",
                code="not_valid",
                status=422,
                field="mode",
            )
        Behaviour.objects.of(self.workshop).update_or_create(
            workshop=self.workshop, device=device, defaults={"mode": body.mode}
        )
        return _all(self)


class HappensIn(Body):
    """What buyers do at the simulated channel."""

    what: Happening
    count: Annotated[int, Field(ge=1, le=50)] = 1


class HappensOut(BaseModel):
    """Numbers of the orders it happened to."""

    numbers: list[str]


class ChannelHappensView(MemberView):
    """POST /api/standins/channel/happens"""

    owner_only = frozenset({"POST"})

    @operation("channel_happens")
    def post(self, body: HappensIn) -> HappensOut:
        """Let buyers order, change or cancel at the simulated channel."""
        return HappensOut(numbers=happen(self.workshop, body.what, count=body.count))
