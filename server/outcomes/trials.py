"""Trials of recipe versions: begun with their size fixed, looked at once, ended with what was learned (outcomes)."""

from collections.abc import Sequence
from dataclasses import asdict, dataclass
from decimal import Decimal
from typing import Any
from uuid import UUID

from django.db import transaction
from django.db.models import Count, Q
from django.utils import timezone

from core.outcomes.model import DAMAGE, KNOWN
from core.outcomes.rates import Counted
from core.outcomes.trials import Arm, Verdict, needed_each, verdict_of
from server.api.problems import Refused
from server.outcomes.models import Arrival, TrialArm, VersionTrial
from server.outcomes.picking import drop_picks, pick_versions, picks_of
from server.plans.models import Plan, TrialPick
from server.recipes.models import Recipe, RecipeVersion, Trial
from server.recipes.selectors import current_version
from server.recipes.services import add_version
from server.workshops.happened import tell_recipe
from server.workshops.models import Member, Workshop, lock_workshop

__all__ = ["LEAST_EACH", "ArmState", "TrialState", "Wanted", "begin", "end", "look_at", "state_of"]

#: Fewer of each tell nothing.
LEAST_EACH = 5


@dataclass(frozen=True, slots=True, kw_only=True)
class Wanted:
    """What a trial is to compare."""

    recipe_id: int
    versions: Sequence[int]
    kind: str
    question: str
    rate: Decimal
    hoped: Decimal
    each: int | None  #: None: as many as tell the two rates apart
    request_key: UUID


@dataclass(frozen=True, slots=True, kw_only=True)
class ArmState:
    """One version in a trial: how many were picked, and how they arrived."""

    version: RecipeVersion
    picked: int
    counted: Counted


@dataclass(frozen=True, slots=True, kw_only=True)
class TrialState:
    """A trial and where it stands."""

    trial: VersionTrial
    arms: tuple[ArmState, ...]
    verdict: Verdict  #: kept from the one look once there was one


@transaction.atomic
def begin(*, by: Member, wanted: Wanted) -> VersionTrial:
    """Begin a trial; its size is fixed now. Sent twice, it begins once.

    Raises Refused: 404; not_valid; trial_running while another one of the recipe's orders runs.
    """
    lock_workshop(by.workshop)
    before = VersionTrial.objects.of(by.workshop).filter(request_key=wanted.request_key).first()
    if before is not None:
        return before
    recipe = Recipe.objects.of(by.workshop).filter(pk=wanted.recipe_id).first()
    if recipe is None:
        raise Refused("There is no such recipe in your workshop.", code="not_found", status=404)
    numbers = sorted(set(wanted.versions))
    versions = list(RecipeVersion.objects.of(by.workshop).filter(recipe=recipe, number__in=numbers).order_by("number"))
    if len(versions) != len(wanted.versions) or len(versions) < 2:
        raise Refused(
            f"A trial compares two versions of {recipe.name} or more, each once; given: "
            f"{', '.join(str(number) for number in wanted.versions) or 'none'}.",
            code="not_valid", status=422, field="versions",
        )  # fmt: skip
    if wanted.rate == wanted.hoped:
        raise Refused(
            "The rate hoped for is the one there is now: no number of parcels tells them apart. Hope for less.",
            code="not_valid", status=422, field="hoped",
        )  # fmt: skip
    running = VersionTrial.objects.of(by.workshop).filter(recipe=recipe, ended_at=None, kind="orders").first()
    if running is not None and wanted.kind == VersionTrial.Kind.ORDERS:
        raise Refused(f"A trial of {recipe.name} is running: {running.question}. End it first.", code="trial_running")
    trial = VersionTrial.objects.of(by.workshop).create(
        workshop=by.workshop, recipe=recipe, kind=wanted.kind, question=wanted.question, rate=wanted.rate,
        hoped=wanted.hoped, each=wanted.each or needed_each(wanted.rate, wanted.hoped, len(versions)),
        began_at=timezone.now(), began_by=by.name, request_key=wanted.request_key,
    )  # fmt: skip
    TrialArm.objects.of(by.workshop).bulk_create(
        TrialArm(workshop=by.workshop, trial=trial, version=version) for version in versions
    )
    if wanted.kind == VersionTrial.Kind.ORDERS:
        open_plans = Plan.objects.of(by.workshop).filter(
            order__state__in=("planned", "held"), recipe_versions__has_key=recipe.code
        )
        pick_versions(by.workshop, list(open_plans.values_list("order_id", flat=True)))
    return trial


def state_of(workshop: Workshop, trial: VersionTrial) -> TrialState:
    """Return where a trial stands."""
    arms = _arms(workshop, trial)
    kept = trial.verdict
    verdict = _verdict_from(kept) if kept else verdict_of(_core(arms), trial.each)
    return TrialState(trial=trial, arms=arms, verdict=verdict)


def _core(arms: Sequence[ArmState]) -> list[Arm]:
    return [Arm(version=one.version.number, counted=one.counted) for one in arms]


def _verdict_from(kept: Any) -> Verdict:
    return Verdict(
        code=kept["code"], version=kept["version"], more=tuple((v, n) for v, n in kept["more"]),
        p=Decimal(kept["p"]) if kept["p"] is not None else None,
    )  # fmt: skip


def _arms(workshop: Workshop, trial: VersionTrial) -> tuple[ArmState, ...]:
    versions = [arm.version for arm in trial.arms.select_related("version")]
    if trial.kind == VersionTrial.Kind.ORDERS:
        counts, picked = _arrived(workshop, trial), picks_of(workshop, trial)
    else:
        counts = _tested(workshop, trial, versions)
        picked = {pk: one.known for pk, one in counts.items()}  # type: ignore[assignment]
    none = Counted(damaged=0, known=0)
    return tuple(
        ArmState(version=version, picked=picked.get(version.pk, 0), counted=counts.get(version.pk, none))
        for version in versions
    )


def _arrived(workshop: Workshop, trial: VersionTrial) -> dict[int, Counted]:
    """How the orders that were picked arrived, by version."""
    rows = (
        TrialPick.objects.of(workshop)
        .filter(trial=trial.key, order__parcels__arrival__outcome__in=KNOWN)
        .values("version_id")
        .annotate(
            known=Count("order__parcels__arrival", distinct=True),
            damaged=Count(
                "order__parcels__arrival", distinct=True, filter=Q(order__parcels__arrival__outcome__in=DAMAGE)
            ),
            assumed=Count(
                "order__parcels__arrival", distinct=True,
                filter=Q(order__parcels__arrival__source=Arrival.Source.ASSUMED),
            ),
        )
        .order_by()
    )  # fmt: skip
    return {
        row["version_id"]: Counted(damaged=row["damaged"], known=row["known"], assumed=row["assumed"]) for row in rows
    }


def _tested(workshop: Workshop, trial: VersionTrial, versions: Sequence[RecipeVersion]) -> dict[int, Counted]:
    """Tests written down at the table since it began, by version."""
    rows = Trial.objects.of(workshop).filter(version__in=versions, kind=trial.kind, at__gte=trial.began_at)
    if trial.ended_at is not None:
        rows = rows.filter(at__lte=trial.ended_at)
    counted = rows.values("version_id").annotate(known=Count("id"), failed=Count("id", filter=Q(passed=False)))
    return {row["version_id"]: Counted(damaged=row["failed"], known=row["known"]) for row in counted.order_by()}


def look_at(workshop: Workshop) -> int:
    """Look once at each running trial whose numbers are all there, and keep what is seen; return how many. In the
    caller's transaction, with the workshop's lock held.
    """
    looked = 0
    for trial in VersionTrial.objects.of(workshop).filter(ended_at=None, verdict__isnull=True):
        arms = _arms(workshop, trial)
        verdict = verdict_of(_core(arms), trial.each)
        if verdict.code == "not_yet":
            continue
        trial.verdict = {
            **asdict(verdict), "p": f"{verdict.p}" if verdict.p is not None else None,
            "arms": [
                {"version": one.version.number, "damaged": one.counted.damaged, "known": one.counted.known}
                for one in arms
            ],
        }  # fmt: skip
        trial.save(update_fields=["verdict"])
        looked += 1
    return looked


@transaction.atomic
def end(*, by: Member, trial_id: int, take: int | None) -> VersionTrial:
    """End a trial; ``take``: the version to pack by from now on, None: as before. Asked again it does nothing more.

    Raises Refused: 404; not_valid when the version is none of its.
    """
    lock_workshop(by.workshop)
    trial = VersionTrial.objects.of(by.workshop).select_for_update().filter(pk=trial_id).first()
    if trial is None:
        raise Refused("There is no such trial in your workshop.", code="not_found", status=404)
    if trial.ended_at is not None:
        return trial
    arm = trial.arms.select_related("version").filter(version__number=take).first() if take is not None else None
    if take is not None and arm is None:
        raise Refused(f"Version {take} is not in this trial.", code="not_valid", status=422, field="take")
    trial.ended_at, trial.ended_by = timezone.now(), by.name
    if arm is not None:
        trial.taken = _in_force(by, trial, arm.version)
    trial.save(update_fields=["ended_at", "ended_by", "taken"])
    drop_picks(by.workshop, trial)
    tell_recipe(by.workshop, trial.recipe_id)
    return trial


def _in_force(by: Member, trial: VersionTrial, version: RecipeVersion) -> RecipeVersion:
    """Return the version, made the current one: it was the newest, or is made again as the newest."""
    current = current_version(by.workshop, trial.recipe_id)
    if current is not None and current.pk == version.pk:
        return version
    if not version.in_force and (current is None or version.number > current.number):
        version.in_force = True
        version.save(update_fields=["in_force"])
        return version
    return add_version(
        by=by, recipe_id=trial.recipe_id, base_version=current.number if current else 0, document=version.document,
        reason=f"Trial: version {version.number} was better"[:200],
    )  # fmt: skip
