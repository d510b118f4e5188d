"""What is carried up for a wave: goods, cartons to make up, supplies, lengths to cut, cards (day; rules 20.6).

Everything is summed over the wave's parcels and told parcel by parcel, so that what is short holds only its own. Pure.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal

from core.bench.steps import amount_of_use
from core.day.cutting import CutOff, SheetNeed, cut_offs
from core.messages import Text
from core.parcels.candidate import PlannedParcel
from core.parcels.measured import amount_of
from core.recipes.expand import Use, UseRole

__all__ = ["Carried", "CutFrom", "GatherList", "Needed", "gather_list", "short_of"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Needed:
    """A parcel of the wave."""

    code: str
    parcel: PlannedParcel


@dataclass(frozen=True, slots=True, kw_only=True)
class Carried:
    """So much of one thing, for which parcels."""

    code: str  #: sku or supply
    role: UseRole | None  #: None: goods
    quantity: Decimal  #: units of goods, or stock units
    amount: Text  #: as hands measure it; of goods empty
    per: tuple[tuple[str, Decimal], ...]  #: parcel and how much of it


@dataclass(frozen=True, slots=True, kw_only=True)
class CutFrom:
    """Lengths to cut off one roll, for all the wave's parcels together."""

    supply: str
    cuts: tuple[CutOff, ...]
    alone: int  #: so many lengths would be cut parcel by parcel
    parcels: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class GatherList:
    """Everything for a wave."""

    goods: tuple[Carried, ...]
    containers: tuple[Carried, ...]  #: to be made up
    supplies: tuple[Carried, ...]
    cards: tuple[Carried, ...]  #: inserts: cards, samples
    cuts: tuple[CutFrom, ...]


def gather_list(parcels: Sequence[Needed]) -> GatherList:
    """Return what a wave's parcels need together, each kind in the order it is first needed."""
    goods: dict[str, dict[str, Decimal]] = {}
    for one in parcels:
        for sku, units in one.parcel.goods:
            of = goods.setdefault(sku, {})
            of[one.code] = of.get(one.code, Decimal(0)) + units
    uses: dict[tuple[str, UseRole], list[tuple[str, Use]]] = {}
    for one in parcels:
        for use in one.parcel.candidate.uses:
            uses.setdefault((use.supply, use.role), []).append((one.code, use))
    carried = {key: _carried(*key, rows) for key, rows in uses.items()}
    outer = ("outer", "inner", "unit box")
    return GatherList(
        goods=tuple(
            Carried(code=sku, role=None, quantity=sum(per.values(), Decimal(0)), amount="", per=tuple(per.items()))
            for sku, per in goods.items()
        ),
        containers=tuple(one for (_, role), one in carried.items() if role in outer),
        supplies=tuple(one for (_, role), one in carried.items() if role not in (*outer, "insert", "label")),
        cards=tuple(one for (_, role), one in carried.items() if role == "insert"),
        cuts=_cuts(parcels),
    )


def _carried(code: str, role: UseRole, rows: Sequence[tuple[str, Use]]) -> Carried:
    per: dict[str, Decimal] = {}
    for parcel, use in rows:
        per[parcel] = per.get(parcel, Decimal(0)) + use.quantity
    return Carried(
        code=code,
        role=role,
        quantity=sum(per.values(), Decimal(0)),
        amount=_amount([use for _, use in rows]),
        per=tuple(per.items()),
    )


def _amount(uses: Sequence[Use]) -> Text:
    """Return how much is fetched, as hands measure it; lengths to cut are told apart."""
    first = uses[0]
    if first.cut is not None and first.cut.across_um is not None:
        return ""
    if first.parts:
        units = {part.unit for use in uses for part in use.parts}
        if len(units) == 1:
            return amount_of(units.pop(), sum((part.count for use in uses for part in use.parts), Decimal(0)))
    if len(uses) == 1:
        return amount_of_use(first)
    quantity = sum((use.quantity for use in uses), Decimal(0))
    if first.cut is None:
        return amount_of_use(replace(first, quantity=quantity))
    # Sheets that come cut: so many are taken in all.
    lengths = sum(use.cut.lengths for use in uses if use.cut is not None)
    return amount_of_use(replace(first, quantity=quantity, cut=replace(first.cut, lengths=lengths)))


def _cuts(parcels: Sequence[Needed]) -> tuple[CutFrom, ...]:
    needs: dict[tuple[str, int], list[SheetNeed]] = {}
    alone: dict[tuple[str, int], int] = {}
    for one in parcels:
        for use in one.parcel.candidate.uses:
            cut = use.cut
            if cut is None or cut.across_um is None or cut.ready:
                continue
            key = (use.supply, cut.across_um)
            # Strips that are joined to one sheet take the whole width each.
            joined = cut.joined > 1
            needs.setdefault(key, []).append(
                SheetNeed(
                    parcel=one.code,
                    count=cut.lengths if joined else max(use.bodies, 1),
                    along_um=cut.length_um,
                    across_um=cut.across_um if joined else cut.keep_um,
                )
            )
            alone[key] = alone.get(key, 0) + cut.lengths
    return tuple(
        CutFrom(
            supply=supply,
            cuts=cut_offs(rows, width_um),
            alone=alone[supply, width_um],
            parcels=tuple(dict.fromkeys(row.parcel for row in rows)),
        )
        for (supply, width_um), rows in needs.items()
    )


def short_of(carried: Sequence[Carried], on_hand: Mapping[str, Decimal]) -> dict[str, tuple[str, ...]]:
    """Return, for each thing there is too little of, the parcels that cannot have it: the last ones of the wave."""
    found: dict[str, tuple[str, ...]] = {}
    for one in carried:
        left = on_hand.get(one.code)
        if left is None:
            continue
        without = []
        for parcel, quantity in one.per:
            if quantity > left:
                without.append(parcel)
            else:
                left -= quantity
        if without:
            found[one.code] = tuple(without)
    return found
