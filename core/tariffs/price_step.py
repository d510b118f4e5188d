"""Price steps: the next cheaper one, how far it is, and the chance to pass the present one (rules 8.5 and 11.1)."""

import math
from dataclasses import dataclass
from decimal import Decimal

from core.tariffs.quote import Quote
from core.units import Milligrams

__all__ = ["StepPosition", "chance_to_pass", "step_position"]


@dataclass(frozen=True, slots=True, kw_only=True)
class StepPosition:
    """Where a parcel stands among the weight steps of one service and zone."""

    cheaper_up_to_mg: Milligrams | None  #: the next cheaper step; None at the first
    over_by_mg: Milligrams | None  #: what would have to go to reach it
    saves: Decimal | None  #: base price saved by it
    room_mg: Milligrams  #: what is left under the present step
    chance_to_pass: Decimal  #: chance that the true weight is over the present step, 0 to 1
    near: bool  #: the present step is closer than two sigma: mind it


def chance_to_pass(*, expected_mg: Milligrams, sigma_mg: Milligrams, step_mg: Milligrams) -> Decimal:
    """Return P(gross > step) for a normal error, four places.

    >>> chance_to_pass(expected_mg=221_000, sigma_mg=3_200, step_mg=226_800)
    Decimal('0.0350')
    """
    if sigma_mg <= 0:
        return Decimal(int(expected_mg > step_mg)).quantize(Decimal("0.0001"))
    z = (step_mg - expected_mg) / sigma_mg
    return Decimal(str(0.5 * math.erfc(z / math.sqrt(2)))).quantize(Decimal("0.0001"))


def step_position(quote: Quote, *, sigma_mg: Milligrams) -> StepPosition:
    """Return where the quoted parcel stands among its weight steps."""
    price = next(step.price for step in quote.steps if step.up_to_mg == quote.step_mg)
    cheaper = [step for step in quote.steps if step.up_to_mg < quote.step_mg and step.price < price]
    best = cheaper[-1] if cheaper else None
    by_size = quote.volumetric_mg is not None and quote.volumetric_mg > quote.gross_mg
    # What is billed was rounded; how far the parcel is from a step its own weight tells, unless it was rounded down
    # over it.
    weighed_mg = quote.billable_mg if by_size or quote.gross_mg > quote.step_mg else quote.gross_mg
    room_mg = quote.step_mg - weighed_mg
    return StepPosition(
        cheaper_up_to_mg=best.up_to_mg if best else None,
        over_by_mg=weighed_mg - best.up_to_mg if best else None,
        saves=price - best.price if best else None,
        room_mg=room_mg,
        chance_to_pass=chance_to_pass(expected_mg=quote.gross_mg, sigma_mg=sigma_mg, step_mg=quote.step_mg),
        near=not by_size and room_mg < 2 * sigma_mg,
    )
