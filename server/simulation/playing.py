"""A whole year for every player: contents are planned a quarter ahead, with what the program has learned by then."""

import time
from collections import Counter, defaultdict
from dataclasses import dataclass
from decimal import Decimal
from pathlib import Path

from core.money.policies import Flat, Policy, SentOrder
from core.money.runs import break_even_fee, run_policy
from core.recipes.damage import Arrivals
from server.simulation.contents import Content, Packed, plan_contents
from server.simulation.habits import PLAYERS, Habit, Player, habit_of
from server.simulation.shop import DAYS, load_shop, made_up_orders
from server.simulation.year import Outcome, YearPlay, content_of

__all__ = ["YearResult", "simulate"]

_Contents = dict[Content, tuple[Packed | None, tuple[Packed, ...]]]
_QUARTERS = 4
#: Hours are enough for so many times an even day's work by the usual minutes; before Christmas they are not.
_ROOM = 1.6


@dataclass(frozen=True, slots=True, kw_only=True)
class YearResult:
    """A year, and what each player made of it."""

    seed: int
    orders: int
    contents: int
    seconds: float
    outcomes: tuple[Outcome, ...]
    charges: tuple[tuple[str, float, float, float], ...]  #: player, flat fee, share short, sum the short ones lost

    def of(self, player: str) -> Outcome:
        """Return a player's outcome."""
        return next(one for one in self.outcomes if one.player == player)

    @property
    def best_habit(self) -> Outcome:
        """Return the habit that costs least an order."""
        return min((one for one in self.outcomes if one.player != "program"), key=lambda one: one.per_order)

    @property
    def saved(self) -> float:
        """Return the share of the best habit's cost an order that the program saves."""
        return 1 - self.of("program").per_order / self.best_habit.per_order


def simulate(demo: Path, *, seed: int, count: int, processes: int = 2) -> YearResult:
    """Return a year of so many orders. The same seed and count give the same result on every machine."""
    begun = time.perf_counter()
    shop = load_shop(demo)
    orders, truth = made_up_orders(shop, demo, seed=seed, count=count)
    ends = [DAYS * (at + 1) // _QUARTERS for at in range(_QUARTERS)]
    known: dict[str, Arrivals] = {}
    contents: _Contents = {}
    plays: dict[Player, YearPlay] = {}
    settled: Counter[Content] = Counter()  #: what habits were formed on: the first quarter
    done = 0
    for quarter, end in enumerate(ends):
        mine = [one for one in orders[done:] if one.day < end]
        done += len(mine)
        # What waits from before is planned by what is known now, like all that is new.
        waiting = [one for play in plays.values() for one in play.open]
        often = Counter(content_of(one, shop, quarter=quarter) for one in (*mine, *waiting))
        contents |= plan_contents(shop, often, known, processes)
        settled = settled or often
        habits = {player: habit_of(player, shop, contents, settled) for player in PLAYERS}
        if not plays:
            minutes, mean_week = _usual(habits, contents, often, count)
            plays = {player: YearPlay(shop, truth, minutes, mean_week[player]) for player in PLAYERS}
        for player, play in plays.items():
            play.play(mine, habits[player], quarter, end)
        known = plays["program"].known()
    outcomes = tuple(play.end() for play in plays.values())
    return YearResult(
        seed=seed,
        orders=count,
        contents=len(contents),
        seconds=time.perf_counter() - begun,
        outcomes=outcomes,
        charges=tuple(_flat(one) for one in outcomes),
    )


def _usual(
    habits: dict[Player, Habit], contents: _Contents, often: Counter[Content], count: int
) -> tuple[float, dict[str, dict[str, float]]]:
    """Return minutes a working day for everybody, and what each player uses in an even week, from the first quarter."""
    weeks = DAYS / 7
    sent = sum(often.values())
    minutes = 0.0
    for one, n in often.items():
        mine = contents[one][0]
        minutes += mine.minutes * n if mine is not None else 0.0
    a_day = minutes / sent * count / weeks / 5 * _ROOM
    uses: dict[str, dict[str, float]] = {}
    for player, habit in habits.items():
        found: dict[str, float] = defaultdict(float)
        for one, n in often.items():
            for way in habit.choose(one)[:1]:
                for code, quantity in way.uses:
                    found[code] += quantity * n
        uses[player] = {code: used / sent * count / weeks for code, used in found.items()}
    return a_day, uses


def _flat(one: Outcome) -> tuple[str, float, float, float]:
    """Return what a flat fee that breaks even over the player's year leaves short."""
    orders = [
        SentOrder(key=str(n), value=Decimal(0), weight_mg=1, zone="", units=1, paid=Decimal(str(round(paid, 2))))
        for n, paid in enumerate(one.paid)
    ]
    fee = break_even_fee(orders) or Decimal(0)
    run = run_policy(Policy(code="flat", name="", base=Flat(amount=fee)), orders)
    short = [row.left for row in run.orders if row.left < 0]
    return one.player, float(fee), len(short) / max(1, len(orders)), -float(sum(short, Decimal(0)))
