"""How warm or cold goods get in a box, and how many packs keep them within their limits (care; rules 15.3 and 15.4).

Two answers stand beside each other. The closed formula of the heat that flows in above the limit is a lower bound. The
simulation of the box is what is packed by: packs take up heat at their own melting point, so the box is colder than the
limit and draws more, and they melt in mild hours too. What is packed is never less than the bound says. Pure.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from decimal import Decimal
from math import ceil

import numpy as np

from core.care.kernel import RESULTS, System, run
from core.judgements import ORDINARY, Judgements
from core.supplies.items import Insert, ThermalPack
from core.units import Size

__all__ = [
    "BOARD_U",
    "MOST_PACKS",
    "Box",
    "Limits",
    "Need",
    "Run",
    "bound_packs",
    "heat_flow_j",
    "heat_packs_for",
    "lasts",
    "margin_c",
    "need_of",
    "simulate",
    "u_of",
]

#: W/m2K through a wall of corrugated board alone: 4 mm at 0.06 W/mK and the air at both sides.
BOARD_U = 1 / (0.004 / 0.06 + 0.17)
#: Nobody puts more into one parcel.
MOST_PACKS = 12
#: Of the heat of ice a pack of gel is counted with so much in the formula: its skin and what was not frozen through.
_SURE_SHARE = 0.8
#: Heat packs are rated for so much longer than the way (rules 15.3).
RATED_FACTOR = Decimal("1.25")
_COLDEST_HOURS = 6
#: A step is a sixth of the time in which the box follows a change, between these; half of it changes no answer.
_LEAST_STEP_S, _MOST_STEP_S, _STEPS_A_CHANGE = 5.0, 120.0, 6
_ICE_J_PER_GK, _WATER_J_PER_GK = 2.1, 4.186
#: The contact of judgements is that of a pack of so much.
_CONTACT_MG = 400_000
#: A limit is kept when it is missed by less than anybody measures.
_NOTHING_C = 0.005


@dataclass(frozen=True, slots=True, kw_only=True)
class Limits:
    """The coldest and the warmest goods may get, degrees Celsius; None: no such limit."""

    low_c: float | None = None
    high_c: float | None = None

    @property
    def any(self) -> bool:
        """Return whether there is a limit."""
        return self.low_c is not None or self.high_c is not None

    def kept_by(self, low_c: float, high_c: float) -> bool:
        """Return whether a coldest and a warmest moment keep them."""
        cold = self.low_c is None or low_c >= self.low_c - _NOTHING_C
        return cold and (self.high_c is None or high_c <= self.high_c + _NOTHING_C)


@dataclass(frozen=True, slots=True, kw_only=True)
class Box:
    """A parcel as heat sees it."""

    inner: Size  #: inside, with the liner in
    u_w_per_m2k: float  #: through its walls
    goods_j_per_k: float  #: what it takes to warm goods and what is round them by one degree
    start_c: float  #: of the goods when it is closed

    @property
    def area_m2(self) -> float:
        """Return the inside surface."""
        a, b, c = (side / 1_000_000 for side in self.inner.sides_um)
        return 2 * (a * b + b * c + a * c)

    @property
    def ua_w_per_k(self) -> float:
        """Return the heat that flows a degree."""
        return self.u_w_per_m2k * self.area_m2


def u_of(liner: Insert | None) -> float:
    """Return W/m2K of a liner in its carton: as measured by melting ice, else from thickness and material (rules 15.3).

    The ice test: 1 kg of ice melts in so many hours in a room of so many degrees; 334 kJ / (hours x degrees x inside).
    Without a liner, of the board.
    """
    if liner is None or liner.liner is None:
        return BOARD_U
    facts = liner.liner
    if facts.tested_hours is not None and facts.tested_inner is not None and facts.tested_room_c > 0:
        area = Box(inner=facts.tested_inner, u_w_per_m2k=1, goods_j_per_k=1, start_c=0).area_m2
        return 334_000 / (float(facts.tested_hours) * 3600 * float(facts.tested_room_c) * area)
    return 1 / (liner.thickness_um / 1_000_000 / (facts.conductivity_mw_per_mk / 1_000) + 0.17)


def heat_flow_j(box: Box, outside_c: Sequence[float], limits: Limits) -> tuple[float, float]:
    """Return the heat that flows in above the upper limit and out below the lower one over the hours, J."""
    above, below = 0.0, 0.0
    for outside in outside_c:
        if limits.high_c is not None:
            above += max(0.0, outside - limits.high_c)
        if limits.low_c is not None:
            below += max(0.0, limits.low_c - outside)
    return above * 3600 * box.ua_w_per_k, below * 3600 * box.ua_w_per_k


def bound_packs(heat_j: float, pack: Insert) -> int:
    """Return the least number of cold packs by the formula: heat / (latent heat x 0.8) (rules 15.3)."""
    if pack.pack is None or heat_j <= 0:
        return 0
    return ceil(heat_j / (pack.weight_mg / 1_000 * pack.pack.latent_j_per_g * _SURE_SHARE) - 1e-9)


@dataclass(frozen=True, slots=True, kw_only=True)
class Run:
    """What a simulation saw; degrees Celsius, heat J."""

    low_c: float  #: coldest of the goods as a whole
    high_c: float
    touch_c: float  #: coldest of goods that lie at a pack
    inside_c: tuple[float, ...]  #: at the end of each hour
    through_walls_j: float
    by_heat_packs_j: float
    taken_up_j: float  #: by goods and packs; through the walls + by heat packs
    melted: float  #: share of the cold packs that has melted

    def keeps(self, limits: Limits) -> bool:
        """Return whether goods stayed within their limits, those at a pack too."""
        return limits.kept_by(self.touch_c, self.high_c)


def simulate(
    box: Box,
    outside_c: Sequence[float],
    *,
    pack: Insert | None = None,
    count: int = 0,
    judged: Judgements = ORDINARY,
    finer: float = 1,
) -> Run:
    """Return the temperature of the goods over the hours with so many packs of one kind."""
    hours = np.array(outside_c, dtype=np.float64)
    trace, packs, results = np.zeros(len(hours)), np.zeros(len(hours)), np.zeros(RESULTS)
    system = _system(box, pack, count, judged)
    follows_s = system.goods_j_per_k / (system.ua + system.packs * system.pack_w_per_k)
    step_s = min(max(follows_s / _STEPS_A_CHANGE, _LEAST_STEP_S), _MOST_STEP_S) / finer
    run(system, hours, 3600.0, step_s, trace, packs, results)
    return Run(
        low_c=float(results[0]),
        high_c=float(results[1]),
        touch_c=float(results[2]),
        inside_c=tuple(float(one) for one in trace),
        through_walls_j=float(results[3]),
        by_heat_packs_j=float(results[4]),
        taken_up_j=float(results[5]),
        melted=float(results[6]),
    )


def _system(box: Box, pack: Insert | None, count: int, judged: Judgements) -> System:
    facts = pack.pack if pack is not None else None
    plain = System(
        ua=box.ua_w_per_k,
        goods_j_per_k=max(box.goods_j_per_k, 50.0),
        start_c=box.start_c,
        packs=0.0,
        pack_w_per_k=0.0,
        pack_start_c=0.0,
        melts_c=0.0,
        latent_j=1.0,
        solid_j_per_k=1.0,
        liquid_j_per_k=1.0,
        touch=0.0,
        heat_w=0.0,
        heat_hours=0.0,
    )
    if pack is None or facts is None or count < 1:
        return plain
    if facts.kind == "heat":
        return plain._replace(heat_w=count * facts.power_mw / 1_000, heat_hours=float(facts.rated_hours))
    grams = pack.weight_mg / 1_000
    contact = judged.contact_padded_mw_per_k if facts.padded else judged.contact_bare_mw_per_k
    touch = judged.touch_padded_percent if facts.padded else judged.touch_bare_percent
    return plain._replace(
        packs=float(count),
        pack_w_per_k=contact / 1_000 * pack.weight_mg / _CONTACT_MG,
        pack_start_c=float(min(facts.start_c, facts.melts_c)),
        melts_c=float(facts.melts_c),
        latent_j=grams * facts.latent_j_per_g,
        solid_j_per_k=grams * _ICE_J_PER_GK,
        # Dry ice turns to gas and is gone.
        liquid_j_per_k=0.0 if facts.kind == "dry_ice" else grams * _WATER_J_PER_GK,
        touch=touch / 100,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Need:
    """How many packs of one kind a box needs on its way."""

    pack: str  #: code; empty: none at all
    count: int
    by_formula: int  #: the lower bound
    run: Run


def need_of(
    box_for: Callable[[int], Box | None],
    outside_c: Sequence[float],
    limits: Limits,
    pack: Insert | None,
    *,
    judged: Judgements = ORDINARY,
    most: int = MOST_PACKS,
    finer: float = 1,
) -> Need | None:
    """Return the fewest packs of this kind that keep the limits, None when no number does.

    ``box_for`` gives the box with so many packs in it, None when they have no room. Without a pack: whether none is
    needed. More than the bound says is taken where the simulation asks for it; never less.
    """
    bare = box_for(0)
    if bare is None:
        return None
    if pack is None or pack.pack is None:
        alone = simulate(bare, outside_c, judged=judged, finer=finer)
        return Need(pack="", count=0, by_formula=0, run=alone) if alone.keeps(limits) else None
    least = _least(bare, outside_c, limits, pack)
    if least is None:
        return None
    for count in range(least, most + 1):
        box = box_for(count)
        if box is None:
            return None
        found = simulate(box, outside_c, pack=pack, count=count, judged=judged, finer=finer)
        if found.keeps(limits):
            return Need(pack=pack.code, count=count, by_formula=least, run=found)
    return None


def _least(box: Box, outside_c: Sequence[float], limits: Limits, pack: Insert) -> int | None:
    """The bound for this kind of pack; None where it is of the wrong sort or does not last."""
    facts = pack.pack
    if facts is None:  # pragma: no cover - only for the types
        return None
    above, below = heat_flow_j(box, outside_c, limits)
    if facts.kind == "heat":
        if limits.low_c is None or not lasts(facts, len(outside_c)):
            return None
        return heat_packs_for(box, outside_c, limits.low_c, facts) if below > 0 else 0
    if limits.high_c is None or float(facts.melts_c) >= limits.high_c:
        return None  # it would melt only once it is too warm
    return bound_packs(above, pack)


def lasts(pack: ThermalPack, hours: int) -> bool:
    """Return whether a heat pack is rated for a quarter longer than the way (rules 15.3)."""
    return pack.rated_hours >= hours * RATED_FACTOR


def heat_packs_for(box: Box, outside_c: Sequence[float], low_c: float, pack: ThermalPack) -> int:
    """Return how many heat packs cover the mean need of the coldest six hours in a row (rules 15.3)."""
    needs = [max(0.0, low_c - outside) * box.ua_w_per_k for outside in outside_c]
    width = min(_COLDEST_HOURS, len(needs))
    worst = max(sum(needs[at : at + width]) / width for at in range(len(needs) - width + 1)) if needs else 0.0
    return ceil(worst / (pack.power_mw / 1_000) - 1e-9) if pack.power_mw > 0 else MOST_PACKS + 1


def margin_c(
    box: Box,
    outside_c: Sequence[float],
    limits: Limits,
    *,
    pack: Insert | None = None,
    count: int = 0,
    judged: Judgements = ORDINARY,
    colder: bool = False,
) -> float | None:
    """Return by how much the whole way may be warmer (or colder) with the limits still kept, to a tenth of a degree.

    None: not even as it is. At most 20 degrees.
    """
    sign = -1.0 if colder else 1.0

    def keeps(by_c: float) -> bool:
        moved = [outside + sign * by_c for outside in outside_c]
        return simulate(box, moved, pack=pack, count=count, judged=judged).keeps(limits)

    if not keeps(0.0):
        return None
    low, high = 0.0, 20.0
    if keeps(high):
        return high
    while high - low > 0.05:
        middle = (low + high) / 2
        low, high = (middle, high) if keeps(middle) else (low, middle)
    return round(low - 0.05, 1) if low > 0.05 else 0.0
