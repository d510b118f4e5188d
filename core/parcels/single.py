"""All ways to send goods in one parcel: every container tried, with its cost or what rules it out (parcels).

What the recipe names comes first; which of the ways may be taken without asking is in ``allowed``. Pure.
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date
from decimal import Decimal

from core.messages import say
from core.parcels.alteration import cut_down, halved, telescoped
from core.parcels.candidate import Candidate, build
from core.parcels.facts import Aim, Facts
from core.parcels.packed import ONCE_AN_ORDER, Carries, Outer, Request, RuledOut
from core.parcels.required import band_of_parcel
from core.recipes.damage import Arrivals, counted_chance, damage_prior
from core.recipes.expand import Expansion, Missing, OrderLine, expand
from core.recipes.goods import goods_words
from core.supplies.items import Container, Mailer
from core.supplies.stock_asked import covers
from core.tariffs.model import Sending
from core.units import round_money

__all__ = [
    "Tried",
    "choose",
    "container_of",
    "expansion_for",
    "goods_cost_of",
    "in_recipe",
    "rank",
    "recipes_of",
    "request_for",
    "try_all",
    "why_none",
]


@dataclass(frozen=True, slots=True, kw_only=True)
class Tried:
    """Goods tried in every container of the cupboard."""

    expansion: Expansion
    request: Request | None  #: None: something is missing
    found: tuple[Candidate, ...]
    allowed: tuple[Candidate, ...]  #: may be taken by the recipe, or as a person said
    ruled_out: tuple[RuledOut, ...]


def try_all(
    lines: tuple[OrderLine, ...],
    facts: Facts,
    aim: Aim,
    *,
    forced: str | None,
    carries: Carries = ONCE_AN_ORDER,
    thorough: bool = True,
    shown: bool = True,
) -> Tried:
    """Return the goods tried in every container; ``forced`` is the key of the one way a person allows.

    Not ``shown``: only in containers that may be taken, for questions whose other answers nobody sees.
    ``carries``: what of the amounts for the whole order or parcel goes in here.
    """
    expansion = expansion_for(lines, facts, aim)
    if expansion.missing:
        return Tried(expansion=expansion, request=None, found=(), allowed=(), ruled_out=())
    request = replace(request_for(lines, expansion, facts, aim), carries=carries, thorough=thorough)
    named = in_recipe(expansion)
    found: list[Candidate] = []
    ruled_out: list[RuledOut] = []
    for outer in _candidates(expansion, facts, forced):
        if not shown and not _takes_any(expansion) and outer.code not in named:
            continue
        if outer.code in aim.overrides.forbidden:
            ruled_out.append(_forbidden(outer))
            continue
        one = _build_in_stock(outer, request, facts, in_recipe=outer.code in named)
        if isinstance(one, Candidate):
            found.append(one)
        else:
            ruled_out.append(one)
        found += _changed(outer, one, request, facts, in_recipe=outer.code in named)
    allowed = _allowed(found, expansion, forced)
    if not allowed:
        # A person may use the whole carton; cutting one down is offered once there is a plan.
        whole = [candidate for candidate in found if candidate.change is None]
        ruled_out += [_not_named(candidate) for candidate in sorted(whole, key=rank)]
    return Tried(
        expansion=expansion,
        request=request,
        found=tuple(found),
        allowed=tuple(allowed),
        ruled_out=tuple(ruled_out),
    )


def choose(tried: Tried, forced: str | None, free: Mapping[str, Decimal] | None = None) -> Candidate | None:
    """Return the recipe's first container that works; for a mix of recipes, or any container, the cheapest.

    With ``free``, what other parcels of the order left on the shelf, a container that is used up is passed over.
    """
    allowed = [one for one in tried.allowed if free is None or _left(one, free)]
    if not allowed:
        return None
    if forced is None and len(recipes_of(tried.expansion)) == 1:
        for code in in_recipe(tried.expansion):
            mine = [c for c in allowed if c.container == code]
            # What must be changed to take the goods is the recipe's own; a cheaper change of it is offered.
            own = next((c for c in mine if c.change is None), None) or min(mine, key=rank, default=None)
            if own is not None:
                return own
    return min(allowed, key=rank)


def _left(candidate: Candidate, free: Mapping[str, Decimal]) -> bool:
    needed = sum((use.quantity for use in candidate.uses if use.supply == candidate.container), Decimal(0))
    return covers(free, candidate.container, needed)


def rank(candidate: Candidate) -> tuple[Decimal, date, int, str]:
    """Cost, then earlier arrival, then smaller volume (rules 5.4)."""
    return candidate.costs.total, candidate.quote.arrives_on, candidate.outer.volume_um3, candidate.container


def recipes_of(expansion: Expansion) -> set[str]:
    """Return the codes of the recipes the goods are packed by."""
    return {piece.recipe for piece in expansion.pieces}


def in_recipe(expansion: Expansion) -> list[str]:
    """Return the containers the recipes name, in their order."""
    return list(dict.fromkeys(code for piece in expansion.pieces for code in piece.band.outers))


def container_of(key: str) -> str:
    """Return the container's code out of a candidate's key."""
    return key.split("/", 1)[0]


#: What stands against a container because of what the recipe requires, whatever its size.
_OF_THE_RECIPE = frozenset({"closure_grade", "fill_too_weak", "school"})


def why_none(tried: Tried, forced: str | None) -> tuple[Missing, ...]:
    """Return, as one thing that is missing, why no container takes the goods."""
    expansion, ruled_out = tried.expansion, tried.ruled_out
    named = [container_of(forced)] if forced else in_recipe(expansion)
    mixed = _takes_any(expansion)
    considered = ruled_out if mixed and not forced else tuple(r for r in ruled_out if r.container in named) or ruled_out
    codes = {r.code for r in considered}
    if len(codes) == 1 and codes <= _OF_THE_RECIPE:  # the same requirement stands against every container: say it once
        return (Missing(code=codes.pop(), subject=", ".join(named), message=considered[0].reason),)
    code = next((c for c in ("no_stock", "no_service") if c in codes), "no_container")
    telling = [r for r in considered if code in ("no_container", r.code)]
    if code == "no_service":  # the same services refuse every container: say it once
        telling = telling[:1]
    reasons = tuple(dict.fromkeys(r.reason for r in telling))[:3]
    message = say("why", sentences=(say(f"none_{code}"), *reasons))
    return (Missing(code=code, subject=", ".join(named), message=message),)


def expansion_for(lines: tuple[OrderLine, ...], facts: Facts, aim: Aim) -> Expansion:
    """Return the pieces of these goods; what a person allows to lie may lie on any side."""
    expansion = expand(lines, facts.shelf)
    lying = aim.overrides.may_lie_down
    pieces = tuple(replace(p, up_axes=(0, 1, 2)) if p.sku in lying else p for p in expansion.pieces)
    return replace(expansion, pieces=pieces)


def _forbidden(outer: Outer) -> RuledOut:
    reason = say("forbidden", container=outer.code)
    return RuledOut(container=outer.code, name=outer.name, code="forbidden", reason=reason, proven=True)


def request_for(lines: tuple[OrderLine, ...], expansion: Expansion, facts: Facts, aim: Aim) -> Request:
    """Return what all candidates for these goods share; the expansion is whole."""
    products = [(line.product, line.quantity) for line in lines if line.product is not None]
    prior, arrivals = _likeliest_damaged(lines, facts)
    return Request(
        expansion=expansion,
        band=band_of_parcel(expansion.pieces),
        shelf=facts.shelf,
        cartons={c.code: c for c in facts.containers if isinstance(c, Container)},
        label=facts.settings.label,
        tariffs=facts.tariffs,
        sending=_sending(lines, facts, aim),
        wage_per_hour=facts.settings.wage_per_hour,
        division_mg=facts.settings.scale_division_mg,
        support_percent=facts.settings.support_percent,
        goods_cost=goods_cost_of(lines),
        damage_prior=prior,
        arrivals=arrivals,
        money_digits=facts.settings.money_digits,
        free=facts.free,
        choosing=facts.settings.choosing,
        service=aim.overrides.service,
        arrive_by=aim.overrides.arrive_by,
        unprotected_factor=facts.settings.unprotected_factor,
        strap_minutes=facts.settings.judgements.strap_minutes,
        thermal=aim.thermal if _has_limits(lines, facts) else None,
        days_limit=min((p.days_limit for p, _ in products if p.days_limit is not None), default=None),
        occasion=replace(
            aim.occasion,
            skus=aim.occasion.skus or frozenset(line.sku for line in lines),
            country=aim.destination.country,
            day=f"{aim.ship_on:%m-%d}",
        ),
    )


def _likeliest_damaged(lines: tuple[OrderLine, ...], facts: Facts) -> tuple[Decimal, Arrivals | None]:
    """Return prior and arrivals of the goods that are likeliest to be damaged."""
    found = []
    for line in lines:
        if line.product is not None:
            prior = damage_prior(line.product.fragility, facts.settings.judgements)
            arrivals = line.recipe.arrivals if line.recipe is not None else None
            found.append((counted_chance(prior, arrivals), prior, arrivals))
    _, prior, arrivals = max(found, key=lambda one: one[0])
    return prior, arrivals


def _has_limits(lines: tuple[OrderLine, ...], facts: Facts) -> bool:
    judged = facts.settings.judgements
    return any(line.product is not None and line.product.limits_c(judged) != (None, None) for line in lines)


def goods_cost_of(lines: tuple[OrderLine, ...]) -> Decimal:
    """Return what the goods cost the maker."""
    return sum((line.product.goods_cost * line.quantity for line in lines if line.product), Decimal(0))


def _sending(lines: tuple[OrderLine, ...], facts: Facts, aim: Aim) -> Sending:
    """Return what carriers ask of these goods: signed for when the order is worth it, covered for their share of it."""
    settings, value = facts.settings, aim.occasion.value
    whole, mine = aim.goods_cost, goods_cost_of(lines)
    share = round_money(value * mine / whole, settings.money_digits) if whole else value
    words = [goods_words(line.product) for line in lines if line.product is not None]
    wish = aim.thermal if _has_limits(lines, facts) else None
    pack = facts.shelf.inserts.get(wish.pack) if wish is not None else None
    if pack is not None and pack.pack is not None and pack.pack.kind == "dry_ice":
        words.append(frozenset({"dry_ice"}))
    return Sending(
        destination=aim.destination,
        ship_on=aim.ship_on,
        origin=settings.origin,
        home=settings.homes,
        signature=settings.signature_above is not None and value > settings.signature_above,
        cover=share if settings.cover_goods else Decimal(0),
        goods=frozenset().union(*words),
        further_of=aim.further_of,
    )


def _changed(
    outer: Outer, whole: Candidate | RuledOut, request: Request, facts: Facts, *, in_recipe: bool
) -> list[Candidate]:
    """Return the container changed: lower or halved when that comes to less, two of it slid together when one is
    short.
    """
    if request.thermal is not None:  # a liner goes into a carton as it is
        return []
    if isinstance(whole, Candidate):
        made = cut_down(outer, request) or halved(outer)
    else:
        made = telescoped(outer, request) if whole.code not in ("no_stock", "no_service") else None
    if made is None:
        return []
    one = build(made[0], request, in_recipe=in_recipe, change=made[1])
    if isinstance(one, RuledOut) or not _left(one, facts.free):
        return []
    return [one] if isinstance(whole, RuledOut) or one.costs.total < whole.costs.total else []


def _candidates(expansion: Expansion, facts: Facts, forced: str | None) -> list[Outer]:
    """Recipe's containers first, then every carton; a mailer only where a recipe or a person names it."""
    named = [*([container_of(forced)] if forced else []), *in_recipe(expansion)]
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
    if not _left(one, facts.free):
        return RuledOut(
            container=outer.code,
            name=outer.name,
            code="no_stock",
            reason=say("would_fit_no_stock", container=outer.code, total_money=one.costs.total),
            proven=True,
        )
    return one


def _allowed(found: list[Candidate], expansion: Expansion, forced: str | None) -> list[Candidate]:
    if forced is not None:
        return [c for c in found if c.key == forced]
    any_outer = _takes_any(expansion)
    return [c for c in found if any_outer or c.in_recipe]


def _takes_any(expansion: Expansion) -> bool:
    """Return whether any container of the cupboard will do: for a mix of recipes, or where each says so."""
    return len(recipes_of(expansion)) > 1 or all(piece.band.any_outer for piece in expansion.pieces)


def _not_named(candidate: Candidate) -> RuledOut:
    """A carton that would do but that no recipe of the order names: a person may still choose it."""
    total = candidate.costs.total
    reason = say("would_fit_not_named", container=candidate.container, total_money=total)
    return RuledOut(
        container=candidate.container, name=candidate.name, code="not_in_recipe", reason=reason, proven=True
    )
