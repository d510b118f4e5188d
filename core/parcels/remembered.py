"""Plans of orders that are alike: made once, and held for every other that would be planned the same (parcels).

Makers' orders repeat: the same goods go to places that no carrier tells apart. An answer is given again when everything
that went into it is equal, and the shelf would answer all that was asked of it in the same way
(``core.supplies.stock_asked``).
What a plan depends on is compared, never guessed: one more thing in ``Facts`` or ``Occasion`` is compared with the
rest.
"""

from collections.abc import Hashable
from dataclasses import dataclass, field, replace
from datetime import date

from core.parcels.candidate import PlannedParcel
from core.parcels.facts import Facts, Overrides
from core.parcels.packed import ThermalWish
from core.parcels.plan import Blocked, PlannedOrder, plan_order
from core.recipes.expand import OrderLine
from core.recipes.model import Occasion
from core.supplies.stock_asked import Asked, Watched
from core.tariffs.model import Place
from core.tariffs.zones import seen_alike

__all__ = ["Remembered"]

#: Answers kept at most: all are forgotten then. One takes up to a megabyte.
_MOST = 100


@dataclass(frozen=True, slots=True, kw_only=True)
class _Answer:
    lines: tuple[OrderLine, ...]
    occasion: Occasion
    asked: Asked
    plan: PlannedOrder | Blocked


def _sent_to(plan: PlannedOrder | Blocked, destination: Place) -> PlannedOrder | Blocked:
    """Return the plan with each parcel sent to another place, which carriers do not tell apart from its own."""
    if isinstance(plan, Blocked):
        return plan
    ways = tuple(
        replace(way, parcels=tuple(_parcel_to(one, destination) for one in way.parcels))
        for way in (plan.chosen, *plan.others)
    )
    return replace(plan, chosen=ways[0], others=ways[1:])


def _parcel_to(parcel: PlannedParcel, destination: Place) -> PlannedParcel:
    one = parcel.candidate
    sending = one.sending and replace(one.sending, destination=destination)
    strapped = one.strapped
    if strapped is not None:
        first, second = (_parcel_to(carton, destination) for carton in strapped.cartons)
        strapped = replace(strapped, cartons=(first, second))
    return replace(parcel, candidate=replace(one, sending=sending, strapped=strapped))


@dataclass(slots=True)
class Remembered:
    """What was planned so far, with one and the same cupboard and tariffs."""

    _facts: Facts | None = None
    _count: int = 0
    _answers: dict[Hashable, list[_Answer]] = field(default_factory=dict)

    def plan_order(
        self,
        lines: tuple[OrderLine, ...],
        facts: Facts,
        *,
        destination: Place,
        ship_on: date,
        overrides: Overrides,
        occasion: Occasion,
        thermal: ThermalWish | None = None,
    ) -> PlannedOrder | Blocked:
        """Return what ``core.parcels.plan.plan_order`` returns; where one like it was asked for it is not planned
        again.
        """
        self._keep_to(facts)
        goods = tuple((line.sku, line.quantity, line.bundle) for line in lines)
        place = seen_alike(destination, facts.tariffs, facts.settings.origin)
        known = self._answers.setdefault((goods, place, ship_on, overrides, thermal), [])
        for one in known:
            if one.lines == lines and one.occasion == occasion and one.asked.answered_alike(facts.free):
                return _sent_to(one.plan, destination)
        asked = Asked()
        plan = plan_order(
            lines,
            replace(facts, free=Watched(facts.free, asked)),
            destination=destination,
            ship_on=ship_on,
            overrides=overrides,
            occasion=occasion,
            thermal=thermal,
        )
        known.append(_Answer(lines=lines, occasion=occasion, asked=asked, plan=plan))
        self._count += 1
        return plan

    def _keep_to(self, facts: Facts) -> None:
        """Forget everything when anything but the shelf is another than it was."""
        others = replace(facts, free={})
        if others != self._facts or self._count >= _MOST:
            self._facts, self._count = others, 0
            self._answers.clear()
