"""Practice: any planned or packed order packed for the hands alone; no stock moves, no label is bought (bench).

Kept per person, for that person's eyes; deleted when they like.
"""

import random
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from django.db import transaction
from django.db.models import QuerySet
from django.utils import timezone
from pydantic import TypeAdapter

from core.bench.practice import StepMinutes, Trick, minutes_against, tricks_for
from core.bench.slips import slips_of
from core.bench.steps import BenchStep
from core.bench.weighing import SlipKind, WeightCheck
from core.parcels.candidate import PlannedParcel
from core.parcels.plan import PlannedOrder
from core.supplies.items import Container
from server.api.problems import Refused
from server.bench.models import Parcel, PracticeRun, StepTime
from server.bench.selectors import checked, names_of, steps_of_part
from server.plans.facts import settings_of
from server.plans.mapping import plan_of
from server.plans.models import Plan
from server.supplies.mapping import core_cupboard
from server.supplies.selectors import stock_of
from server.workshops.judging import judgements_of
from server.workshops.models import Member, Workshop

__all__ = ["Opened", "Outcome", "begin", "end", "opened", "report", "result_of", "runs_of", "weigh"]

_PARCEL: TypeAdapter[PlannedParcel] = TypeAdapter(PlannedParcel)
_TRICKS: TypeAdapter[tuple[Trick, ...]] = TypeAdapter(tuple[Trick, ...])
#: The workshop's own minutes are the median of its newest so many steps of a kind.
_NEWEST = 4_000


@dataclass(frozen=True, slots=True, kw_only=True)
class Opened:
    """A run with everything that is worked out of it."""

    row: PracticeRun
    parcel: PlannedParcel
    steps: tuple[BenchStep, ...]
    tricks: tuple[Trick, ...]

    @property
    def caught(self) -> tuple[Trick, ...]:
        """Return the tricks that were told at their step."""
        told = {(one["step"], one["take"]) for one in self.row.reports if one["caught"]}
        return tuple(one for one in self.tricks if (one.step, one.take) in told)

    @property
    def left(self) -> tuple[Trick, ...]:
        """Return the tricks nobody has told of at their step."""
        return tuple(one for one in self.tricks if one not in self.caught)


@dataclass(frozen=True, slots=True, kw_only=True)
class Outcome:
    """How one trick ended."""

    kind: str
    how: Literal["seen", "weighed", "missed"]


def runs_of(by: Member) -> "QuerySet[PracticeRun]":
    """Return a person's own runs, newest first."""
    return PracticeRun.objects.of(by.workshop).filter(member=by)


@transaction.atomic
def begin(*, by: Member, order_id: int) -> PracticeRun:
    """Begin to pack an order in practice. Raises Refused: 404; not_planned when it has no plan."""
    plan = Plan.objects.of(by.workshop).select_related("order", "kept").filter(order_id=order_id).first()
    parcel = Parcel.objects.of(by.workshop).select_related("order", "kept").filter(order_id=order_id).first()
    source: Parcel | Plan | None = parcel or plan
    if source is None:
        raise Refused("There is no planned or packed order of this number here.", code="not_found", status=404)
    number = source.order.number
    planned = plan_of(source.kept)
    if not isinstance(planned, PlannedOrder):
        raise Refused(
            f"Order {number} is not planned: something is missing. Practise with another.", code="not_planned"
        )
    mine = planned.as_sent().chosen.parcels[0]
    row = PracticeRun(
        workshop=by.workshop,
        member=by,
        order_number=number,
        document={"parcel": _PARCEL.dump_python(mine, mode="json"), "versions": source.recipe_versions},
        tricks=[],
        begun_at=timezone.now(),
    )
    steps = _steps(row, mine)
    cartons = _other_cartons(by.workshop, mine)
    row.tricks = _TRICKS.dump_python(
        tricks_for(steps, mine, cartons, f"{by.pk}-{order_id}-{row.begun_at.isoformat()}"), mode="json"
    )
    row.save()
    return row


def opened(by: Member, run_id: int) -> Opened:
    """Return a person's own run. Raises Refused (404)."""
    row = runs_of(by).filter(pk=run_id).first()
    if row is None:
        raise Refused("There is no such practice of yours.", code="not_found", status=404)
    parcel = _PARCEL.validate_python(row.document["parcel"])
    return Opened(row=row, parcel=parcel, steps=_steps(row, parcel), tricks=_TRICKS.validate_python(row.tricks))


def _steps(row: PracticeRun, parcel: PlannedParcel) -> tuple[BenchStep, ...]:
    return steps_of_part(row.workshop, parcel, row.document["versions"], names_of(row.workshop, parcel))


def _other_cartons(workshop: Workshop, parcel: PlannedParcel) -> dict[str, tuple[str, int]]:
    """Return cartons that might be taken by mistake: the two whose outside is nearest."""
    _, containers, _ = core_cupboard(stock_of(workshop), judgements_of(workshop))
    cartons = [one for one in containers if isinstance(one, Container)]
    own = next((one for one in cartons if one.code == parcel.candidate.container), None)
    if own is None:
        return {}
    others = sorted(
        (one for one in cartons if one.code != own.code and one.tare_mg != own.tare_mg),
        key=lambda one: abs(one.outer.volume_um3 - own.outer.volume_um3),
    )
    return {one.code: (one.name, one.tare_mg) for one in others[:2]}


@transaction.atomic
def report(*, by: Member, run_id: int, step: int, take: int) -> bool:
    """Say that something is not as planned; return whether that is so. Said twice, it counts once.

    Raises Refused: not_found; ended.
    """
    run = opened(by, run_id)
    _refuse_ended(run)
    if step >= len(run.steps) or take >= len(run.steps[step].takes):
        raise Refused(
            "There is no such thing to take at that step. Open the practice again.", code="not_found", status=404
        )
    right = any((one.step, one.take) == (step, take) for one in run.tricks)
    said = {"step": step, "take": take, "caught": right}
    if said not in run.row.reports:
        run.row.reports = [*run.row.reports, said]
        run.row.save(update_fields=["reports"])
    return right


@transaction.atomic
def weigh(*, by: Member, run_id: int, named: SlipKind | None = None) -> WeightCheck:
    """Put the parcel on the scale with what nobody saw; ``named``: what is looked for, and put right if it is so."""
    run = opened(by, run_id)
    _refuse_ended(run)
    if named is not None and named not in run.row.named:
        run.row.named = [*run.row.named, named]
    weight = run.parcel.candidate.weight
    effect = sum(one.effect_mg for one in run.left if one.kind not in run.row.named)
    noise = random.Random(run.row.pk).gauss(0, 0.4) * weight.sigma_mg
    run.row.measured_mg = max(1_000, round(weight.gross_mg + effect + noise))
    run.row.save(update_fields=["measured_mg", "named"])
    return check_of(run)


def check_of(run: Opened) -> WeightCheck:
    """Return what the weight check says of a run's last weighing."""
    workshop, parcel = run.row.workshop, run.parcel
    tares = {code: tare for code, (_, tare) in _other_cartons(workshop, parcel).items()}
    measured_mg = run.row.measured_mg or parcel.candidate.weight.gross_mg
    return checked(parcel, measured_mg, slips_of(parcel, names_of(workshop, parcel), tares), settings_of(workshop))


@transaction.atomic
def end(*, by: Member, run_id: int, spent: Mapping[int, int]) -> Opened:
    """End a run; its times are kept with it. Asked again it does nothing more."""
    run = opened(by, run_id)
    if run.row.ended_at is None:
        run.row.ended_at, run.row.spent = timezone.now(), {str(at): seconds for at, seconds in spent.items()}
        run.row.save(update_fields=["ended_at", "spent"])
    return run


def _refuse_ended(run: Opened) -> None:
    if run.row.ended_at is not None:
        raise Refused("This practice is over. Begin another.", code="ended")


def result_of(run: Opened) -> tuple[list[Outcome], int, tuple[StepMinutes, ...]]:
    """Return how each trick ended, how many false alarms there were, and minutes against the workshop's."""
    seen = run.caught
    outcomes = []
    for one in run.tricks:
        how: Literal["seen", "weighed", "missed"] = "missed"
        if one in seen:
            how = "seen"
        elif one.kind in run.row.named:
            how = "weighed"
        outcomes.append(Outcome(kind=one.kind, how=how))
    false = sum(1 for said in run.row.reports if not said["caught"])
    false += sum(1 for kind in run.row.named if kind not in {one.kind for one in run.left})
    spent = {int(at): seconds for at, seconds in run.row.spent.items()}
    return outcomes, false, minutes_against(run.steps, spent, _usual(run.row.workshop, run.steps))


def _usual(workshop: Workshop, steps: Sequence[BenchStep]) -> dict[str, list[int]]:
    kinds = {step.kind for step in steps}
    rows: Any = StepTime.objects.of(workshop).filter(kind__in=kinds).order_by("-id").values_list("kind", "seconds")
    found: dict[str, list[int]] = {}
    for kind, seconds in rows[:_NEWEST]:
        found.setdefault(kind, []).append(seconds)
    return found
