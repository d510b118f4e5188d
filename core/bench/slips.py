"""Every single slip that may explain a difference on the scale, and what it would cost unnoticed (bench; rules 8.3)."""

from dataclasses import dataclass
from decimal import Decimal

from core.bench.weighing import Slip
from core.messages import say
from core.parcels.candidate import PlannedParcel

__all__ = ["slips_of"]


@dataclass(frozen=True, slots=True)
class _Costs:
    """What a slip costs when nobody notices: mostly a replacement sent."""

    again: Decimal  #: materials, hands and postage once more
    postage: Decimal


def slips_of(parcel: PlannedParcel, names: dict[str, str], tares_mg: dict[str, int]) -> tuple[Slip, ...]:
    """Return every single change that may explain a difference on the scale.

    ``tares_mg`` gives the tare of the other containers that would take the goods, by code.
    """
    costs = parcel.candidate.costs
    spent = _Costs(again=costs.materials + costs.labour + costs.postage, postage=costs.postage)
    found = [*_units(parcel, spent), *_inserts(parcel, names, spent), *_fills(parcel, names, spent)]
    return tuple(dict.fromkeys((*found, *_containers(parcel, tares_mg, spent))))


def _units(parcel: PlannedParcel, spent: _Costs) -> list[Slip]:
    found = []
    for piece in parcel.pieces:
        # One unit out of a group leaves the group's wrap behind.
        each_mg = piece.weight_mg if piece.holds == 1 else piece.net_mg
        missing, extra = say("change_unit_missing", name=piece.name), say("change_unit_extra", name=piece.name)
        again = spent.again + piece.unit_cost
        found.append(Slip(kind="unit_missing", what=missing, effect_mg=-each_mg, unnoticed_cost=again))
        found.append(Slip(kind="unit_extra", what=extra, effect_mg=each_mg, unnoticed_cost=piece.unit_cost))
    return found


def _inserts(parcel: PlannedParcel, names: dict[str, str], spent: _Costs) -> list[Slip]:
    """A required one is sent after; another is only missed."""
    needed = {rule.insert for piece in parcel.pieces for rule in piece.band.inserts if rule.required}
    return [
        Slip(
            kind="insert_missing",
            what=say("change_insert_missing", insert=names.get(use.supply, use.supply)),
            effect_mg=-(use.weight_mg // max(1, int(use.quantity))),
            unnoticed_cost=spent.postage if use.supply in needed else use.cost / max(Decimal(1), use.quantity),
        )
        for use in parcel.candidate.uses
        if use.role == "insert" and use.weight_mg > 0
    ]


def _fills(parcel: PlannedParcel, names: dict[str, str], spent: _Costs) -> list[Slip]:
    """Goods that nothing holds are taken to break: all of them are sent again."""
    goods = sum((piece.unit_cost * piece.units for piece in parcel.pieces), Decimal(0))
    return [
        Slip(
            kind="no_fill",
            what=say(
                "change_no_fill" if use.role == "fill" else "change_no_inner_fill",
                fill=names.get(use.supply, use.supply),
            ),
            effect_mg=-use.weight_mg,
            unnoticed_cost=spent.again + goods,
        )
        for use in parcel.candidate.uses
        if use.is_fill
    ]


def _containers(parcel: PlannedParcel, tares_mg: dict[str, int], spent: _Costs) -> list[Slip]:
    """Another container may be measured and charged by the carrier as what it is: the postage once more at the most."""
    candidate = parcel.candidate
    if candidate.strapped is not None:
        return []
    own_mg = next(use.weight_mg for use in candidate.uses if use.role == "outer")
    return [
        Slip(
            kind="other_container",
            what=say("change_other_container", container=code, planned=candidate.container),
            effect_mg=tare_mg - own_mg,
            unnoticed_cost=spent.postage,
        )
        for code, tare_mg in tares_mg.items()
        if code != candidate.container and tare_mg != own_mg
    ]
