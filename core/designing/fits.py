"""What fits: the most sets of goods that each container takes, packed as their recipes say (designing; rules 18.6).

One set more is tried until none of the containers takes it; what a larger number needs (another band, more cushion) is
the recipe's, so every number is packed again. Pure.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from core.designing.cupboard import Desk
from core.messages import Text
from core.parcels.candidate import Candidate
from core.parcels.facts import Aim, Overrides
from core.parcels.single import try_all
from core.recipes.expand import OrderLine
from core.recipes.model import Occasion
from core.tariffs.quote import tariffs_in_force

__all__ = ["Fit", "Fitting", "goods_fitting"]

#: Nobody asks for more than so many of a product, or sets of a mix, in one parcel.
_MOST_SETS = 60
#: After so many numbers of sets that fit nothing larger ones do not either.
_ENOUGH = 2
_UM3_A_LITRE = 10**15


@dataclass(frozen=True, slots=True, kw_only=True)
class Fit:
    """A container, and the most it takes."""

    most: int  #: sets
    packed: Candidate  #: so full, the cheapest way
    flat_rate: bool  #: a carrier's own package at one price
    why_no_more: Text  #: why one set more does not go; empty: no more were tried

    @property
    def goods_percent(self) -> int | None:
        """Return how much of the space in it goods and their wrap take; None: its void is not known."""
        void, litres = self.packed.void, self.packed.inner.volume_um3 / _UM3_A_LITRE
        return round(100 * (1 - float(void.void_l) / litres)) if void is not None and litres else None


@dataclass(frozen=True, slots=True, kw_only=True)
class Fitting:
    """What fits, the least cost each first."""

    looked_to: int  #: so many sets were tried
    fits: tuple[Fit, ...]
    none: tuple[Text, ...]  #: why nothing fits, where nothing does


def goods_fitting(lines: Sequence[OrderLine], desk: Desk) -> Fitting:
    """Return the most sets that each container takes; ``lines`` are one set."""
    aim = Aim(destination=desk.usual, ship_on=desk.ship_on, overrides=Overrides(parcels=1), occasion=Occasion())
    most: dict[str, tuple[int, Candidate]] = {}
    why: dict[str, Text] = {}
    none: tuple[Text, ...] = ()
    missed = looked_to = 0
    while looked_to < _MOST_SETS and missed < _ENOUGH:
        looked_to += 1
        sets = tuple(replace(line, quantity=line.quantity * looked_to) for line in lines)
        tried = try_all(sets, desk.plenty, aim, forced=None, thorough=False)
        for one in tried.found:
            before = most.get(one.container)
            if before is None or before[0] < looked_to or one.costs.total < before[1].costs.total:
                most[one.container] = (looked_to, one)
            why.pop(one.container, None)  # a larger number may be packed another way, and go again
        for out in tried.ruled_out:
            if out.container in most and most[out.container][0] == looked_to - 1:
                why.setdefault(out.container, out.reason)
        if looked_to == 1 and not tried.found:
            missing = tuple(one.message for one in tried.expansion.missing)
            none = missing or tuple(dict.fromkeys(out.reason for out in tried.ruled_out))
        missed = 0 if tried.found else missed + 1
    lists = tariffs_in_force(desk.facts.tariffs, desk.ship_on)
    own = {item.code for tariff in lists for item in tariff.packaging if item.flat_rate}
    fits = [
        Fit(most=sets, packed=one, flat_rate=code in own, why_no_more=why.get(code, ""))
        for code, (sets, one) in most.items()
    ]
    fits.sort(key=lambda fit: (fit.packed.costs.total / fit.most, fit.packed.container))
    return Fitting(looked_to=looked_to, fits=tuple(fits), none=none)
