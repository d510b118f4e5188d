"""What holds a parcel shut: its own closure or tape, what that shows of tampering, and when it holds (rules 7.2, 7.3).

A carton that locks, glues or tears open by a line needs no tape where that reaches the grade its goods ask for; a flap
that is only tucked in is taped as the recipe says. A bond that is not at its full strength yet counts as none.
"""

from dataclasses import dataclass, replace
from typing import Literal

from core.parcels.packed import Outer, Packed, Request
from core.parcels.required import grade_wanted
from core.supplies.items import GRADES, OWN_GRADES, Bond, ClosureGrade, Mailer, OwnClosure

__all__ = ["Closing", "HeldBy", "WeakWhenDamp", "both_closings", "closing_of", "is_taped"]

HeldBy = OwnClosure | Literal["tape"]


@dataclass(frozen=True, slots=True, kw_only=True)
class WeakWhenDamp:
    """Something that holds less in damp air."""

    name: str
    above_percent: int  #: relative humidity


@dataclass(frozen=True, slots=True, kw_only=True)
class Closing:
    """How a parcel is shut."""

    held_by: tuple[HeldBy, ...]
    grade: ClosureGrade
    wanted: ClosureGrade  #: the highest its goods ask for
    full_strength_minutes: int = 0  #: after it was closed
    weak_when_damp: tuple[WeakWhenDamp, ...] = ()
    old_marks: bool = False  #: marks and labels on the container are covered before it leaves

    @property
    def settle_minutes(self) -> int:
        """Return how long it may not leave after the packing: what nobody asks a grade of may leave at once."""
        return 0 if self.wanted == "none" else self.full_strength_minutes

    def weak_at(self, humidity_percent: int) -> tuple[WeakWhenDamp, ...]:
        """Return what holds less at a humidity."""
        return tuple(one for one in self.weak_when_damp if humidity_percent > one.above_percent)


@dataclass(frozen=True, slots=True, kw_only=True)
class _Part:
    held_by: HeldBy
    name: str
    grade: ClosureGrade
    bond: Bond


def is_taped(outer: Outer, packed: Packed, request: Request) -> bool:
    """Return whether tape closes the container; a mailer is closed by its own seal alone."""
    if request.band.closure is None or packed.void is None or isinstance(outer, Mailer):
        return False
    if outer.closes is None or outer.closes == "flap":
        return True
    return GRADES[OWN_GRADES[outer.closes]] < GRADES[grade_wanted(request.expansion.pieces)]


def closing_of(outer: Outer, packed: Packed, request: Request) -> Closing:
    """Return how this container is shut.

    Of several things that hold it, those that reach the grade wanted count, the quickest of them; of half a mailer both
    ends do: its own seal and the tape along the cut.
    """
    wanted = grade_wanted(request.expansion.pieces)
    parts = _parts(outer, packed, request)
    grades = [part.grade for part in parts] or ["none"]
    halved = isinstance(outer, Mailer) and outer.pieces != 1
    choose = min if halved else max
    grade: ClosureGrade = choose(grades, key=lambda one: GRADES[one])
    reaching = [part for part in parts if GRADES[part.grade] >= GRADES[wanted]]
    waits = [part.bond.full_strength_minutes for part in reaching]
    return Closing(
        held_by=tuple(part.held_by for part in parts),
        grade=grade,
        wanted=wanted,
        full_strength_minutes=_wait(waits, both=halved),
        weak_when_damp=tuple(
            WeakWhenDamp(name=part.name, above_percent=part.bond.weak_above_percent)
            for part in parts
            if part.bond.weak_above_percent is not None
        ),
        old_marks=outer.old_marks,
    )


def _wait(waits: list[int], *, both: bool) -> int:
    """Return how long it takes until it holds: until all do, or the first."""
    if not waits:
        return 0
    return max(waits) if both else min(waits)


def both_closings(one: Closing | None, other: Closing | None) -> Closing | None:
    """Return the closing of two cartons that leave as one parcel: the weaker, the slower, and what is said of either.

    None when either was planned before that was kept.
    """
    if one is None or other is None:
        return None
    return replace(
        one,
        held_by=tuple(dict.fromkeys((*one.held_by, *other.held_by))),
        grade=min(one.grade, other.grade, key=lambda grade: GRADES[grade]),
        wanted=max(one.wanted, other.wanted, key=lambda grade: GRADES[grade]),
        full_strength_minutes=max(one.full_strength_minutes, other.full_strength_minutes),
        weak_when_damp=tuple(dict.fromkeys((*one.weak_when_damp, *other.weak_when_damp))),
        old_marks=one.old_marks or other.old_marks,
    )


def _parts(outer: Outer, packed: Packed, request: Request) -> list[_Part]:
    found = []
    if outer.closes is not None:
        grade = OWN_GRADES[outer.closes]
        found.append(_Part(held_by=outer.closes, name=outer.name, grade=grade, bond=outer.bond))
    closure = request.band.closure
    along_the_cut = isinstance(outer, Mailer) and outer.pieces != 1
    if closure is not None and (is_taped(outer, packed, request) or along_the_cut):
        tape = request.shelf.tapes[closure.tape]
        found.append(_Part(held_by="tape", name=tape.name, grade=tape.grade, bond=tape.bond))
    return found
