"""Practice for a new helper: the shelves play tricks, and at the end it is told what was caught (bench; rules 20.9).

Nothing here is real: no stock moves, no label is bought. A trick is what lies on the table in place of what the plan
says: a unit missing, another carton, no fill, a heat pack that stays cold or a cold pack that is not frozen. It can be
seen at its step; what is not seen there shows on the scale, where the check of every parcel looks for it; a dud pack
never does. Pure: what is drawn comes from the seed.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from hashlib import sha256
from typing import Literal

from core.bench.steps import BenchStep, Take
from core.bench.timing import without_pauses
from core.messages import Text, say
from core.parcels.candidate import PlannedParcel
from core.units import Milligrams

__all__ = ["Lying", "StepMinutes", "Trick", "TrickKind", "lying_at", "minutes_against", "tricks_for"]

TrickKind = Literal["unit_missing", "other_container", "no_fill", "dud_pack"]
_KINDS: tuple[TrickKind, ...] = ("unit_missing", "other_container", "no_fill", "dud_pack")
#: More at once and nobody learns from which.
_MOST = 2


@dataclass(frozen=True, slots=True, kw_only=True)
class Trick:
    """Something that is not as the plan says, where it can be seen, and what it does to the weight."""

    kind: TrickKind
    step: int
    take: int  #: which of the step's things to take
    lies: Text  #: what is found in its place
    effect_mg: Milligrams  #: on the scale, when nobody sees it


@dataclass(frozen=True, slots=True, kw_only=True)
class Lying:
    """What lies on the table for one thing to take."""

    name: Text
    amount: Text


@dataclass(frozen=True, slots=True, kw_only=True)
class StepMinutes:
    """Minutes of one kind of step, against the workshop's own."""

    kind: str
    minutes: float
    usual: float | None  #: median of the workshop's parcels; None: nobody's time is known


def tricks_for(
    steps: Sequence[BenchStep], parcel: PlannedParcel, other_cartons: Mapping[str, tuple[str, Milligrams]], seed: str
) -> tuple[Trick, ...]:
    """Return one or two tricks that these steps allow, drawn by ``seed``; none when they allow none.

    ``other_cartons``: name and tare by code of cartons that might be taken by mistake.
    """
    possible = _possible(steps, parcel, other_cartons, seed)
    kinds = sorted({one.kind for one in possible}, key=lambda kind: _drawn(seed, kind))
    most = 1 + _drawn(seed, "how many") % _MOST
    chosen = []
    for kind in kinds[:most]:
        mine = [one for one in possible if one.kind == kind]
        chosen.append(mine[_drawn(seed, kind) % len(mine)])
    return tuple(sorted(chosen, key=lambda one: (one.step, one.take)))


def _drawn(seed: str, what: str) -> int:
    return int.from_bytes(sha256(f"{seed}|{what}".encode()).digest()[:4])


def _possible(
    steps: Sequence[BenchStep], parcel: PlannedParcel, other_cartons: Mapping[str, tuple[str, Milligrams]], seed: str
) -> list[Trick]:
    found: list[Trick] = []
    seen: set[str] = set()  #: a thing is tricked where it is first taken
    for at, step in enumerate(steps):
        for number, take in enumerate(step.takes):
            if take.code in seen:
                continue
            trick = _trick(at, number, step, take, parcel, other_cartons, seed)
            if trick is not None:
                seen.add(take.code)
                found.append(trick)
    return found


def _trick(
    at: int,
    number: int,
    step: BenchStep,
    take: Take,
    parcel: PlannedParcel,
    other_cartons: Mapping[str, tuple[str, Milligrams]],
    seed: str,
) -> Trick | None:
    uses = {use.supply: use for use in parcel.candidate.uses}
    if take.role == "goods":
        piece = next((one for one in parcel.pieces if one.sku == take.code), None)
        if piece is None:
            return None
        left = int(take.quantity) - 1
        lies = say("practice_units", count=left) if left > 0 else say("practice_nothing")
        each_mg = piece.weight_mg if piece.holds == 1 else piece.net_mg
        return Trick(kind="unit_missing", step=at, take=number, lies=lies, effect_mg=-each_mg)
    use = uses.get(take.code)
    if take.role == "outer" and use is not None and other_cartons:
        codes = sorted(other_cartons)
        code = codes[_drawn(seed, f"carton {at}") % len(codes)]
        name, tare_mg = other_cartons[code]
        return Trick(kind="other_container", step=at, take=number, lies=name, effect_mg=tare_mg - use.weight_mg)
    if take.role == "fill" and use is not None:
        return Trick(kind="no_fill", step=at, take=number, lies=say("practice_nothing"), effect_mg=-use.weight_mg)
    thermal = parcel.candidate.thermal
    if take.role == "pack" and thermal is not None and thermal.pack == take.code:
        lies = say("practice_cold") if thermal.kind == "heat" else say("practice_soft")
        return Trick(kind="dud_pack", step=at, take=number, lies=lies, effect_mg=0)
    return None


def lying_at(step: BenchStep, at: int, tricks: Sequence[Trick]) -> tuple[Lying, ...]:
    """Return what lies on the table for each thing to take at a step: as planned, or the trick."""
    found = []
    for number, take in enumerate(step.takes):
        trick = next((one for one in tricks if (one.step, one.take) == (at, number)), None)
        if trick is None:
            found.append(Lying(name=take.name, amount=take.amount))
        elif trick.kind == "other_container":
            found.append(Lying(name=trick.lies, amount=take.amount))
        else:
            found.append(Lying(name=take.name, amount=trick.lies))
    return tuple(found)


def minutes_against(
    steps: Sequence[BenchStep], spent: Mapping[int, int], usual: Mapping[str, Sequence[int]]
) -> tuple[StepMinutes, ...]:
    """Return minutes by kind of step in their order, against the median of the workshop's times without pauses.

    ``spent``: seconds by step; ``usual``: the workshop's seconds by kind.
    """
    found = []
    for kind in dict.fromkeys(step.kind for step in steps):
        mine = [seconds for at, seconds in spent.items() if at < len(steps) and steps[at].kind == kind]
        if not mine:
            continue
        times = sorted(without_pauses(usual.get(kind, ())))
        median = times[len(times) // 2] if times else None
        found.append(
            StepMinutes(
                kind=kind,
                minutes=round(sum(mine) / len(mine) / 60, 2),
                usual=round(median / 60, 2) if median is not None else None,
            )
        )
    return tuple(found)
