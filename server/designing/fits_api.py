"""What fits, over HTTP: thin."""

from typing import Annotated

from pydantic import Field

from server.api.bodies import Body
from server.api.operation import operation
from server.api.views import MemberView
from server.designing.fits import FitsOut, fits_out

__all__ = ["FitsView"]


class FitGoods(Body):
    """A product, and how many of it are in a set."""

    product_id: int
    units: Annotated[int, Field(ge=1, le=100)] = 1


class FitsIn(Body):
    """What is packed."""

    goods: Annotated[list[FitGoods], Field(min_length=1, max_length=12)]


class FitsView(MemberView):
    """POST /api/fits"""

    shows_costs = True

    @operation("fits")
    def post(self, body: FitsIn) -> FitsOut:
        """The most of these goods that each container takes, as their recipes pack them; nothing is written."""
        return fits_out(self.workshop, [(one.product_id, one.units) for one in body.goods])
