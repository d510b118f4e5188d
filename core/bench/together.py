"""Like with like: what several parcels have in common before they are packed, done once for all (bench; step 6).

Papers, gathering, checking, cutting and wrapping come before the first layer of every parcel. Steps that say the same
but for their numbers are one: "wrap 12 jars". The wave was gathered before. What follows is each parcel's own. Pure.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal

from core.bench.steps import BenchStep, StepKind, Take
from core.messages import Fact, Message, Text

__all__ = ["SHARED", "Shared", "own_begins", "shared_steps"]

#: Kinds of steps that may be done for several parcels at once, in the order of the hands.
SHARED: tuple[StepKind, ...] = ("print", "gather", "check", "cut", "wrap")
#: Numbers that add up when steps are one.
_ADDED = frozenset({"bodies", "count"})


@dataclass(frozen=True, slots=True, kw_only=True)
class Shared:
    """One step for several parcels."""

    step: BenchStep  #: its numbers are those of all parcels
    parcels: tuple[tuple[int, int], ...]  #: parcel, and how many of its ticks are for it


def own_begins(steps: Sequence[BenchStep]) -> int:
    """Return the first step that is the parcel's own: the one after the last it may share from the beginning."""
    return next((at for at, step in enumerate(steps) if step.kind not in SHARED), max(0, len(steps) - 1))


def shared_steps(parcels: Mapping[int, Sequence[BenchStep]]) -> tuple[Shared, ...]:
    """Return the steps these parcels begin with, those that say the same put together, in the order of the hands."""
    found: dict[tuple[object, ...], list[tuple[int, BenchStep]]] = {}
    for parcel, steps in parcels.items():
        for step in steps[: own_begins(steps)]:
            if step.kind == "gather":
                continue
            found.setdefault(_key(step), []).append((parcel, step))
    merged = [_merged(rows) for rows in found.values()]
    return tuple(sorted(merged, key=lambda one: SHARED.index(one.step.kind)))


def _key(step: BenchStep) -> tuple[object, ...]:
    return step.kind, _plain(step.title), _plain(step.detail) if step.kind in ("check", "wrap") else ""


def _plain(text: Text) -> object:
    """Return a message without the numbers that add up."""
    if isinstance(text, str):
        return text
    return text.code, tuple((name, _plain_fact(value)) for name, value in text.facts if not _adds(name))


def _adds(name: str) -> bool:
    """Return whether a fact is a number of things that adds up; sizes, such as a length to cut, do not."""
    return name in _ADDED or name.startswith(("amount_", "count_"))


def _plain_fact(value: Fact) -> object:
    if isinstance(value, Message):
        return _plain(value)
    return tuple(_plain_fact(one) for one in value) if isinstance(value, tuple) else value


def _merged(rows: Sequence[tuple[int, BenchStep]]) -> Shared:
    first = rows[0][1]
    steps = [step for _, step in rows]
    ticks = sum(step.tick_units for step in steps)
    per: dict[int, int] = {}
    for parcel, step in rows:
        per[parcel] = per.get(parcel, 0) + step.tick_units
    cautions = tuple(dict.fromkeys(text for step in steps for text in step.cautions))
    step = replace(
        first, title=_summed([one.title for one in steps]), takes=_takes(steps), tick_units=ticks, cautions=cautions
    )
    return Shared(step=step, parcels=tuple(per.items()))


def _summed(texts: Sequence[Text]) -> Text:
    first = texts[0]
    if isinstance(first, str):
        return first
    added = dict(first.facts)
    for other in texts[1:]:
        if isinstance(other, Message):
            added |= {name: _sum(added[name], value) for name, value in other.facts if _adds(name)}
    return Message(code=first.code, facts=tuple((name, added[name]) for name, _ in first.facts))


def _takes(steps: Sequence[BenchStep]) -> tuple[Take, ...]:
    """Return what is taken for all: equal things once, their quantities and amounts added."""
    found: dict[tuple[object, ...], Take] = {}
    for step in steps:
        for take in step.takes:
            key = (take.code, take.role, _plain(take.amount), _plain(take.detail))
            before = found.get(key)
            if before is None:
                found[key] = take
                continue
            found[key] = replace(
                before,
                quantity=before.quantity + take.quantity,
                amount=_amount(before, take),
            )
    return tuple(found.values())


def _amount(one: Take, other: Take) -> Text:
    """Return two amounts as one: counts add up, and so do stock units of pieces and metres."""
    if isinstance(one.amount, str) or isinstance(other.amount, str):
        return one.amount
    facts: list[tuple[str, Fact]] = []
    mine, its = dict(one.amount.facts), dict(other.amount.facts)
    for name, value in mine.items():
        facts.append((name, _sum(value, its[name]) if _adds(name) else value))
    return Message(code=one.amount.code, facts=tuple(facts))


def _sum(one: Fact, other: Fact) -> Fact:
    if isinstance(one, int) and isinstance(other, int):
        return one + other
    return f"{Decimal(str(one)) + Decimal(str(other)):f}"
