"""A price list that is being typed: what is wrong or odd with it, and what it asks for a parcel, over HTTP: thin."""

from typing import Any

from pydantic import BaseModel

from core.messages import Text
from core.tariffs.model import Sending
from core.tariffs.oddities import oddities_of
from core.tariffs.quote import Quote, Refusal, quote_all
from core.units import Size
from server.api.bodies import Body
from server.api.operation import operation
from server.api.problems import Fault, Refused
from server.api.views import MemberView
from server.formats.base import read_value
from server.formats.tariff import TariffFile
from server.plans.facts import settings_of
from server.rates.api import CompareIn

__all__ = ["CheckTariffView"]


class CheckTariffIn(Body):
    """A price list as it stands, and a parcel to try it on; None: no parcel."""

    document: dict[str, Any]
    parcel: CompareIn | None = None


class CheckTariffOut(BaseModel):
    """Its errors; without any, what is odd about it and what it asks."""

    faults: list[Fault]
    notes: list[Text]
    quotes: list[Quote]
    refusals: list[Refusal]


class CheckTariffView(MemberView):
    """POST /api/tariffs/check"""

    shows_costs = True

    @operation("check_tariff")
    def post(self, body: CheckTariffIn) -> CheckTariffOut:
        """Check a price list as the import does, and try it on a parcel; nothing is saved."""
        try:
            file = read_value(TariffFile, body.document, what="price list")
        except Refused as refused:
            return CheckTariffOut(
                faults=refused.faults or [Fault(path="", message=str(refused))], notes=[], quotes=[], refusals=[]
            )
        tariff = file.core()
        found = CheckTariffOut(faults=[], notes=list(oddities_of(tariff)), quotes=[], refusals=[])
        if body.parcel is not None:
            parcel, settings = body.parcel, settings_of(self.workshop)
            length, width, height = parcel.outer_um
            quotes, refusals = quote_all(
                (tariff,),
                outer=Size(length_um=length, width_um=width, height_um=height),
                gross_mg=parcel.gross_weight_mg,
                sending=Sending(
                    destination=parcel.destination.core(),
                    origin=settings.origin,
                    # The day it becomes valid, or later: tried before that it would ask nothing.
                    ship_on=max(file.valid_from, parcel.ship_on or file.valid_from),
                    rigid=parcel.rigid,
                    home=settings.homes,
                    goods=frozenset(parcel.goods),
                ),
            )
            found = found.model_copy(update={"quotes": list(quotes), "refusals": list(refusals)})
        return found
