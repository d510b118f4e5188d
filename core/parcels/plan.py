"""Planning one order: expand, try every container, choose, say why (rules, 5).

The recipe's own choice is the default; a cheaper way is offered, not taken. Out come either a Planned order with
its alternatives and what ruled others out, or a Blocked one with everything that is missing. Pure.
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal
from typing import Literal

from core.parcels.candidate import Candidate, build, cut_down, with_sides
from core.parcels.packed import Outer, Request, RuledOut
from core.parcels.room import Room, room_for_more
from core.recipes.expand import Expansion, Missing, OrderLine, Piece, Shelf, expand
from core.recipes.goods import DAMAGE_PRIOR
from core.recipes.model import Band, Occasion
from core.supplies.items import Container, Mailer
from core.tariffs.model import Place, Tariff
from core.units import format_length, format_weight

__all__ = [
    "Blocked",
    "Facts",
    "Offer",
    "Overrides",
    "PlannedOrder",
    "Settings",
    "more_that_fit",
    "plan_order",
    "speaking_band",
]

#: How many other ways are kept in full, cheapest first.
_KEPT = 5
#: And for how many of those the side rulers are worked out: each is some hundred quotes.
_WITH_SIDES = 2


@dataclass(frozen=True, slots=True, kw_only=True)
class Settings:
    """The workshop's choices a plan depends on."""

    wage_per_hour: Decimal
    scale_division_mg: int
    support_percent: int
    money_digits: int
    label: str | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Facts:
    """The cupboard and the tariffs as they stand."""

    shelf: Shelf
    containers: tuple[Outer, ...]
    free: Mapping[str, Decimal]  #: per supply: on the shelf and not promised to other orders
    tariffs: tuple[Tariff, ...]
    settings: Settings


@dataclass(frozen=True, slots=True, kw_only=True)
class Overrides:
    """What a person decided for one order; every part is checked like the recipe's own choices."""

    container: str | None = None  #: a candidate's key
    forbidden: tuple[str, ...] = ()  #: container codes not to be used
    laid: tuple[str, ...] = ()  #: skus that may lie on any side this once
    note: str = ""  #: for whoever packs it

    @property
    def any(self) -> bool:
        """Return whether a person decided anything that changes the plan."""
        return bool(self.container or self.forbidden or self.laid)


@dataclass(frozen=True, slots=True, kw_only=True)
class Offer:
    """A cheaper way than the chosen one, in one sentence."""

    container: str
    saves: Decimal
    sentence: str
    key: str = ""  #: of the candidate


@dataclass(frozen=True, slots=True, kw_only=True)
class PlannedOrder:
    """The chosen way and everything it was weighed against."""

    status: Literal["planned"]
    pieces: tuple[Piece, ...]
    chosen: Candidate
    why: str
    overridden: bool
    others: tuple[Candidate, ...]  #: dearer or not the recipe's; cheapest first
    ruled_out: tuple[RuledOut, ...]
    offer: Offer | None
    warnings: tuple[str, ...]
    cautions: tuple[str, ...]
    ship_on: date
    note: str = ""  #: a person's, for whoever packs it


@dataclass(frozen=True, slots=True, kw_only=True)
class Blocked:
    """What is missing before the order can be planned."""

    status: Literal["blocked"]
    missing: tuple[Missing, ...]
    ruled_out: tuple[RuledOut, ...]


def plan_order(
    lines: tuple[OrderLine, ...],
    facts: Facts,
    *,
    destination: Place,
    ship_on: date,
    overrides: Overrides = Overrides(),
    occasion: Occasion = Occasion(),  # noqa: B008 - a frozen value
) -> PlannedOrder | Blocked:
    """Return the order planned in full, or everything that is missing.

    ``overrides`` are a person's: a container to use, others not to, goods that may be laid down; the plan is marked.
    ``occasion`` is what conditions of inserts look at.
    """
    forced_container = overrides.container
    expansion = _laid(expand(lines, facts.shelf), overrides.laid)
    if expansion.missing:
        return Blocked(status="blocked", missing=expansion.missing, ruled_out=())
    request = _request(lines, expansion, facts, destination, ship_on, occasion)
    shown = _in_recipe(expansion)
    found: list[Candidate] = []
    ruled_out: list[RuledOut] = []
    for outer in _candidates(expansion, facts, forced_container):
        if outer.code in overrides.forbidden:
            ruled_out.append(_forbidden(outer))
            continue
        one = _build_in_stock(outer, request, facts, in_recipe=outer.code in shown)
        if isinstance(one, Candidate):
            found += [one, *_cut(outer, one, request)]
        else:
            ruled_out.append(one)
    allowed = _allowed(found, expansion, forced_container)
    if not allowed:
        # A person may use the whole carton; cutting one down is offered once there is a plan.
        whole = [candidate for candidate in found if candidate.cut_to_um is None]
        ruled_out += [_not_named(candidate) for candidate in sorted(whole, key=_rank)]
        return Blocked(
            status="blocked", missing=_why_none(expansion, ruled_out, forced_container), ruled_out=tuple(ruled_out)
        )
    chosen = _choose(allowed, expansion, forced_container)
    short = _short_materials(chosen, facts)
    if short:
        return Blocked(status="blocked", missing=short, ruled_out=tuple(ruled_out))
    others = sorted((c for c in found if c is not chosen), key=_rank)
    return PlannedOrder(
        status="planned",
        pieces=expansion.pieces,
        chosen=with_sides(chosen, request),
        why=_why(chosen, others, ruled_out, expansion, forced_container),
        overridden=overrides.any,
        others=tuple(with_sides(o, request) if n < _WITH_SIDES else o for n, o in enumerate(others[:_KEPT])),
        ruled_out=tuple(ruled_out),
        offer=_offer(chosen, allowed),
        warnings=_warnings(chosen),
        cautions=tuple(dict.fromkeys(c for line in lines if line.recipe for c in line.recipe.cautions)),
        ship_on=ship_on,
        note=overrides.note,
    )


def _laid(expansion: Expansion, skus: tuple[str, ...]) -> Expansion:
    """Let the named goods lie on any side."""
    pieces = tuple(replace(p, up_axes=(0, 1, 2)) if p.sku in skus else p for p in expansion.pieces)
    return replace(expansion, pieces=pieces)


def _forbidden(outer: Outer) -> RuledOut:
    reason = f"{outer.code} is not to be used for this order: a person said so."
    return RuledOut(container=outer.code, name=outer.name, code="forbidden", reason=reason, proven=True)


def more_that_fit(
    lines: tuple[OrderLine, ...],
    facts: Facts,
    chosen: Candidate,
    *,
    destination: Place,
    ship_on: date,
    occasion: Occasion,
    laid: tuple[str, ...] = (),
) -> tuple[Room, ...]:
    """Return how many more of each product the chosen container would take as it is packed."""
    expansion = _laid(expand(lines, facts.shelf), laid)
    outer = next((one for one in facts.containers if one.code == chosen.container), None)
    if expansion.missing or outer is None:
        return ()
    request = _request(lines, expansion, facts, destination, ship_on, occasion)
    return room_for_more(outer, chosen.cut_to_um, request)


def _request(
    lines: tuple[OrderLine, ...],
    expansion: Expansion,
    facts: Facts,
    destination: Place,
    ship_on: date,
    occasion: Occasion,
) -> Request:
    products = [(line.product, line.quantity) for line in lines if line.product is not None]
    return Request(
        expansion=expansion,
        band=speaking_band(expansion.pieces),
        shelf=facts.shelf,
        cartons={c.code: c for c in facts.containers if isinstance(c, Container)},
        label=facts.settings.label,
        tariffs=facts.tariffs,
        destination=destination,
        ship_on=ship_on,
        wage_per_hour=facts.settings.wage_per_hour,
        division_mg=facts.settings.scale_division_mg,
        support_percent=facts.settings.support_percent,
        goods_cost=sum((product.goods_cost * quantity for product, quantity in products), Decimal(0)),
        damage_probability=max(DAMAGE_PRIOR[product.fragility] for product, _ in products),
        money_digits=facts.settings.money_digits,
        occasion=replace(
            occasion,
            skus=frozenset(line.sku for line in lines),
            country=destination.country,
            day=f"{ship_on:%m-%d}",
        ),
    )


def _cut(outer: Outer, whole: Candidate, request: Request) -> list[Candidate]:
    """Return the same carton cut lower, when that comes to less in all."""
    lower = cut_down(outer, request)
    if lower is None:
        return []
    cut = build(lower, request, in_recipe=whole.in_recipe, cut_to_um=lower.inner.height_um)
    return [cut] if isinstance(cut, Candidate) and cut.costs.total < whole.costs.total else []


def speaking_band(pieces: tuple[Piece, ...]) -> Band:
    """Return the band that speaks for a parcel: the heaviest goods decide fill, closure and inner carton."""
    return max(pieces, key=lambda p: (p.weight_mg * p.quantity, p.sku)).band


def _recipes(expansion: Expansion) -> set[str]:
    return {piece.recipe for piece in expansion.pieces}


def _in_recipe(expansion: Expansion) -> list[str]:
    return list(dict.fromkeys(code for piece in expansion.pieces for code in piece.band.outers))


def _candidates(expansion: Expansion, facts: Facts, forced: str | None) -> list[Outer]:
    """Recipe's containers first, then every carton; a mailer only where a recipe or a person names it."""
    named = [*([_container(forced)] if forced else []), *_in_recipe(expansion)]
    by_code = {outer.code: outer for outer in facts.containers}
    first = [by_code[code] for code in dict.fromkeys(named) if code in by_code]
    rest = sorted(
        (o for o in facts.containers if o not in first and not isinstance(o, Mailer)),
        key=lambda o: (o.unit_cost, o.inner.volume_um3 if isinstance(o, Container) else 0, o.code),
    )
    return [*first, *rest]


def _build_in_stock(outer: Outer, request: Request, facts: Facts, *, in_recipe: bool) -> Candidate | RuledOut:
    one = build(outer, request, in_recipe=in_recipe)
    if isinstance(one, RuledOut):
        return one
    # An order may use the same carton as inner and outer; its free count must cover both.
    needed = sum((use.quantity for use in one.uses if use.supply == outer.code), Decimal(0))
    free = facts.free.get(outer.code, Decimal(0))
    if free < needed:
        return RuledOut(
            container=outer.code,
            name=outer.name,
            code="no_stock",
            reason=f"{outer.code} would fit, for {one.costs.total:f} all in, but none is free on the shelf.",
            proven=True,
        )
    return one


def _allowed(found: list[Candidate], expansion: Expansion, forced: str | None) -> list[Candidate]:
    if forced is not None:
        return [c for c in found if c.key == forced]
    any_outer = len(_recipes(expansion)) > 1 or all(piece.band.any_outer for piece in expansion.pieces)
    return [c for c in found if any_outer or c.in_recipe]


def _not_named(candidate: Candidate) -> RuledOut:
    """A carton that would do but that no recipe of the order names: a person may still choose it."""
    total = candidate.costs.total
    reason = f"{candidate.container} would take it, for {total:f} all in, but the recipe does not name it."
    return RuledOut(
        container=candidate.container, name=candidate.name, code="not_in_recipe", reason=reason, proven=True
    )


def _rank(candidate: Candidate) -> tuple[Decimal, date, int, str]:
    """Cost, then earlier arrival, then smaller volume (rules, 5)."""
    return candidate.costs.total, candidate.quote.arrives_on, candidate.outer.volume_um3, candidate.container


def _choose(allowed: list[Candidate], expansion: Expansion, forced: str | None) -> Candidate:
    """The recipe's first container that works; for a mix of recipes, or any container, the cheapest."""
    if forced is None and len(_recipes(expansion)) == 1:
        for code in _in_recipe(expansion):
            own = next((c for c in allowed if c.key == code), None)
            if own is not None:
                return own
    return min(allowed, key=_rank)


def _short_materials(chosen: Candidate, facts: Facts) -> tuple[Missing, ...]:
    needed: dict[str, Decimal] = {}
    for use in chosen.uses:
        needed[use.supply] = needed.get(use.supply, Decimal(0)) + use.quantity
    found = []
    for code, quantity in needed.items():
        free = facts.free.get(code, Decimal(0))
        if free < quantity:
            text = f"{code}: this parcel needs {_plain(quantity)}, {_plain(max(free, Decimal(0)))} is free on the shelf. Put stock away, or change the recipe."
            found.append(Missing(code="no_stock", subject=code, message=text))
    return tuple(found)


def _plain(quantity: Decimal) -> str:
    return f"{quantity.quantize(Decimal('0.01')).normalize():f}"


def _why_none(expansion: Expansion, ruled_out: list[RuledOut], forced: str | None) -> tuple[Missing, ...]:
    named = [_container(forced)] if forced else _in_recipe(expansion)
    mixed = len(_recipes(expansion)) > 1 or all(piece.band.any_outer for piece in expansion.pieces)
    considered = ruled_out if mixed and not forced else [r for r in ruled_out if r.container in named] or ruled_out
    code = next((c for c in ("no_stock", "no_service") if any(r.code == c for r in considered)), "no_container")
    telling = [r for r in considered if r.code == code] if code != "no_container" else considered
    if code == "no_service":  # the same services refuse every container: say it once
        telling = telling[:1]
    reasons = " ".join(list(dict.fromkeys(_capital(r.reason) for r in telling))[:3])
    lead = {
        "no_stock": "Nothing in stock takes this order.",
        "no_service": "No service takes this order.",
        "no_container": "No container takes this order.",
    }[code]
    return (Missing(code=code, subject=", ".join(named), message=f"{lead} {reasons}".strip()),)


def _container(key: str) -> str:
    """Return the container's code out of a candidate's key."""
    return key.split("/", 1)[0]


def _called(candidate: Candidate) -> str:
    """Return how a way is called in a sentence."""
    if candidate.cut_to_um is None:
        return candidate.container
    return f"{candidate.container} cut to {format_length(candidate.cut_to_um)}"


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]


def _why(
    chosen: Candidate, others: list[Candidate], ruled_out: list[RuledOut], expansion: Expansion, forced: str | None
) -> str:
    """Return what the choice beats and by how much, and what ruled the recipe's other choices out."""
    recipe_first = next(iter(_in_recipe(expansion)), None)
    if forced is not None:
        lead = f"You chose {_called(chosen)}."
    elif len(_recipes(expansion)) > 1:
        lead = f"{_called(chosen)} is the cheapest that takes these goods together."
    elif chosen.container == recipe_first:
        lead = f"{_called(chosen)} is the recipe's own carton for this size of order."
    elif chosen.in_recipe:
        lead = f"{_called(chosen)} is the recipe's next choice."
    else:
        lead = f"{_called(chosen)} is the cheapest that fits."
    first_out = next((r for r in ruled_out if r.container == recipe_first), None)
    out = f" {_capital(first_out.reason)}" if first_out and chosen.container != recipe_first else ""
    best = others[0] if others else None
    if best is None:
        return lead + out + " Nothing else in the cupboard takes this order."
    gap = best.costs.total - chosen.costs.total
    compared = (
        f" {_called(chosen) if out else 'It'} costs {gap:f} less than {_called(best)}, the next best."
        if gap > 0
        else f" {_called(best)} would cost {-gap:f} less."
        if gap < 0
        else f" {_called(best)} costs the same."
    )
    return lead + out + compared


def _offer(chosen: Candidate, allowed: list[Candidate]) -> Offer | None:
    best = min(allowed, key=_rank)
    saves = chosen.costs.total - best.costs.total
    if saves <= 0:
        return None
    sentence = f"{_called(best)} would do it for {saves:f} less: {best.quote.service_name}, {format_weight(best.weight.gross_mg)}."
    return Offer(container=best.container, key=best.key, saves=saves, sentence=sentence)


def _warnings(chosen: Candidate) -> tuple[str, ...]:
    found = []
    step = chosen.step
    if step.near:
        percent = (step.chance_to_pass * 100).quantize(Decimal("0.1")).normalize()
        found.append(
            f"{format_weight(step.room_mg)} under the {format_weight(chosen.quote.step_mg)} step: {percent:f} % chance to pass it. Weigh before you buy the label."
        )
    stack = chosen.stacking
    if stack is not None and not stack.holds:
        found.append(
            f"{chosen.container} bears {stack.allowed_n} N with the safety factor; {stack.above} like parcels on it press "
            f"with {stack.load_n} N. Take double wall, or keep it on top."
        )
    return tuple(found)
