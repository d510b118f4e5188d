"""The same goods packed two or three ways, compared to the last minute, and where the balance tips (designing)."""

from dataclasses import dataclass, replace
from decimal import Decimal

from core.designing.cupboard import Desk, planned_for
from core.designing.policies import obeying
from core.messages import Message, Text, say
from core.parcels.candidate import Candidate
from core.parcels.plan import Blocked, PlannedOrder
from core.parcels.single import rank
from core.recipes.goods import Product
from core.recipes.model import Band, InnerCarton, Recipe, WrapLayer
from core.supplies.items import Container, Wrap

__all__ = ["Balance", "Compared", "PackedWay", "compare_ways"]

#: Minutes of hands for one turn of wrap round one unit, and for closing an inner carton: judgements.
MINUTES_A_TURN = Decimal("0.35")
MINUTES_AN_INNER = Decimal("1.0")
#: Cushion of a single snug carton of double wall, um on every face.
_SNUG_UM = 20_000


@dataclass(frozen=True, slots=True, kw_only=True)
class PackedWay:
    """One way, worked out; or why it does not go."""

    key: str
    name: Message
    band: Band
    candidate: Candidate | None
    problem: Text


@dataclass(frozen=True, slots=True, kw_only=True)
class Balance:
    """Where the winner and another way cost the same."""

    wage_per_hour: Decimal
    words: Message


@dataclass(frozen=True, slots=True, kw_only=True)
class Compared:
    """All ways, the one that wins, and what would turn it."""

    ways: tuple[PackedWay, ...]
    winner: str  #: key; "" when none goes
    words: Message
    balances: tuple[Balance, ...]


def compare_ways(recipe: Recipe, band: Band, product: Product, units: int, desk: Desk) -> Compared:
    """Return the band as it is beside bubble in one carton, paper in double wall, and an inner carton in an outer."""
    ways = [_worked("as-it-is", say("way_as_it_is"), band, recipe, product, units, desk)]
    for key, name, other in _others(band, recipe, product, units, desk):
        if replace(other, any_outer=band.any_outer, outers=band.outers) == band:
            continue
        way = _worked(key, name, other, recipe, product, units, desk)
        # A way that comes to the same carton, amounts and costs is no other way.
        if way.candidate is None or _sum_of(way.candidate) not in [_sum_of(w.candidate) for w in ways if w.candidate]:
            ways.append(way)
    good = [(way, way.candidate) for way in ways if way.candidate is not None]
    if not good:
        return Compared(ways=tuple(ways), winner="", words=say("no_way_goes"), balances=())
    best, candidate = min(good, key=lambda pair: (pair[1].costs.total, pair[0].key))
    balances = [
        balance for way, other in good if way is not best and (balance := _balance(best, candidate, way, other, desk))
    ]
    dearer = min(
        ((other.costs.total - candidate.costs.total, way) for way, other in good if way is not best),
        key=lambda one: (one[0], one[1].key),
        default=None,
    )
    words = say("way_wins", name=best.name)
    if dearer is not None:
        gap, second = dearer
        facts = {"name": best.name, "other": second.name}
        words = say("way_wins_by", **facts, gap_money=gap) if gap else say("ways_cost_the_same", **facts)
    return Compared(ways=tuple(ways), winner=best.key, words=words, balances=tuple(balances))


def _sum_of(candidate: Candidate) -> tuple[object, ...]:
    return (
        candidate.container,
        candidate.minutes,
        candidate.costs,
        [(use.supply, use.quantity) for use in candidate.uses],
    )


def _others(band: Band, recipe: Recipe, product: Product, units: int, desk: Desk) -> list[tuple[str, Message, Band]]:
    wraps = sorted(desk.facts.shelf.wraps.values(), key=lambda w: (w.unit_cost / w.thickness_um, w.code))
    soft = [wrap for wrap in wraps if wrap.thickness_um > 1_000]
    bubble = next((wrap for wrap in soft if desk.plastic(wrap.code)), None)
    paper = next((wrap for wrap in soft if not desk.plastic(wrap.code)), None)
    open_band = replace(band, inner=None, outers=(), any_outer=True)
    found: list[tuple[str, Message, Band]] = []
    if bubble is not None:
        found.append(("bubble", say("way_bubble"), _in_wrap(open_band, bubble, Decimal(2), desk)))
    double = tuple(o.code for o in desk.facts.containers if isinstance(o, Container) and o.board == "double")
    if paper is not None and double:
        snug = replace(_in_wrap(open_band, paper, Decimal(2), desk), any_outer=False, outers=double)
        keep = (
            min(band.cushion.bottom_um, _SNUG_UM),
            min(band.cushion.side_um, _SNUG_UM),
            min(band.cushion.top_um, _SNUG_UM),
        )
        snug = replace(snug, cushion=replace(band.cushion, bottom_um=keep[0], side_um=keep[1], top_um=keep[2]))
        found.append(("double-wall", say("way_double_wall"), snug))
    two, left = obeying(
        replace(recipe, bands=(open_band,)), (replace(product, glass=True),), desk, "two_cartons_for_glass"
    )
    if band.inner is None and not left and isinstance(two.bands[0].inner, InnerCarton):
        minutes = replace(band.minutes, per_parcel=band.minutes.per_parcel + MINUTES_AN_INNER)
        found.append(
            (
                "two-cartons",
                say("way_two_cartons"),
                replace(two.bands[0], minutes=minutes, outers=(), any_outer=True),
            )
        )
    return found


def _in_wrap(band: Band, wrap: Wrap, turns: Decimal, desk: Desk) -> Band:
    """Return the band with its protecting layers replaced; minutes go with the turns."""
    shelf = desk.facts.shelf.wraps
    thin = tuple(layer for layer in band.layers if layer.wrap in shelf and shelf[layer.wrap].thickness_um <= 1_000)
    thick = [layer for layer in band.layers if layer not in thin]
    before = sum((layer.turns / layer.per_units for layer in thick), Decimal(0))
    together = thick[0].per_units if thick else 1
    layer = WrapLayer(wrap=wrap.code, turns=turns, ends_top=2, ends_bottom=2, per_units=together)
    minutes = max(Decimal(0), band.minutes.per_unit + (turns / together - before) * MINUTES_A_TURN)
    thin = tuple(one for one in thin if one.per_units in (1, together))
    return replace(band, layers=(*thin, layer), unit_box=None, minutes=replace(band.minutes, per_unit=minutes))


def _worked(key: str, name: Message, band: Band, recipe: Recipe, product: Product, units: int, desk: Desk) -> PackedWay:
    plan = planned_for(replace(recipe, bands=(replace(band, first=1, last=units),)), product, units, desk)
    if isinstance(plan, Blocked):
        return PackedWay(key=key, name=name, band=band, candidate=None, problem=plan.missing[0].message)
    candidate = _best(plan, named=bool(band.outers) and key == "as-it-is")
    return PackedWay(key=key, name=name, band=band, candidate=candidate, problem="")


def _best(plan: PlannedOrder, *, named: bool) -> Candidate:
    """Return the recipe's own choice, or for a way with its containers open the cheapest that may be taken."""
    if named:
        return plan.chosen.only
    ways = [
        way.only
        for way in (plan.chosen, *plan.others)
        if len(way.parcels) == 1 and way.only.in_recipe == plan.chosen.only.in_recipe
    ]
    return min(ways, key=rank)


def _balance(best: PackedWay, mine: Candidate, way: PackedWay, other: Candidate, desk: Desk) -> Balance | None:
    """Return the wage at which both cost the same: total = fixed + minutes x wage / 60."""
    minutes = mine.minutes - other.minutes
    if minutes == 0:
        return None
    fixed = (mine.costs.total - mine.costs.labour) - (other.costs.total - other.costs.labour)
    wage = (-fixed * 60 / minutes).quantize(Decimal("0.01"))
    if wage <= 0 or wage > 500:
        return None
    side = "above" if minutes > 0 else "below"
    words = say(f"cheaper_{side}_wage", wage_money=wage, way=way.name, best=best.name)
    return Balance(wage_per_hour=wage, words=words)
