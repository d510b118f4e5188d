"""Which version an order of a running trial is packed by: picked once, within carrier and zone, by nobody (outcomes).

The pick needs carrier and zone, so an order is planned by the version in use first; is another one picked for it, its
plan is stale and made again.
"""

from collections import Counter
from collections.abc import Collection

from django.utils import timezone

from core.outcomes.trials import picked
from server.orders.models import Order
from server.outcomes.models import VersionTrial
from server.plans.models import Plan, PlanPart, TrialPick
from server.plans.services import plan_later
from server.workshops.models import Workshop

__all__ = ["drop_picks", "pick_versions", "picks_of", "stratum_of"]


def stratum_of(part: PlanPart) -> str:
    """Return carrier and zone an order is picked within."""
    return f"{part.carrier}/{part.zone}"[:60]


def pick_versions(workshop: Workshop, order_ids: Collection[int]) -> int:
    """Pick versions for planned orders of running trials; return how many plans are to be made again.

    With the workshop's lock held, as everything that plans has it.
    """
    running = list(
        VersionTrial.objects.of(workshop)
        .filter(ended_at=None, kind=VersionTrial.Kind.ORDERS, verdict__isnull=True)
        .select_related("recipe")
    )
    if not running:
        return 0
    by_code = {trial.recipe.code: trial for trial in running}
    had = set(TrialPick.objects.of(workshop).filter(order__in=order_ids).values_list("order_id", flat=True))
    rows = Plan.objects.of(workshop).filter(
        order__in=set(order_ids) - had, status="planned", recipe_versions__has_any_keys=list(by_code)
    )
    plans = list(rows.select_related("order").prefetch_related("parts").order_by("order__placed_on", "order_id"))
    again = []
    for plan in plans:
        mine = [code for code in plan.recipe_versions if code in by_code]
        # Goods of two recipes in one parcel would tell nothing of either.
        if len(plan.recipe_versions) != 1 or len(plan.parts.all()) != 1:
            continue
        trial = by_code[mine[0]]
        stratum = stratum_of(plan.parts.all()[0])
        arms = {arm.version.number: arm.version for arm in trial.arms.select_related("version")}
        count = TrialPick.objects.of(workshop).filter(trial=trial.key, stratum=stratum).count()
        version = arms[picked(sorted(arms), stratum, count, trial.key)]
        TrialPick.objects.of(workshop).create(
            workshop=workshop,
            order=plan.order,
            version=version,
            trial=trial.key,
            stratum=stratum,
            question=trial.question,
            at=timezone.now(),
        )
        if plan.recipe_versions[mine[0]] != version.number:
            again.append(plan.pk)
    if again:
        Plan.objects.of(workshop).filter(pk__in=again).update(stale=True)
        plan_later(workshop)
    return len(again)


def drop_picks(workshop: Workshop, trial: VersionTrial) -> None:
    """Orders that are still open are packed by the current version again; what is packed keeps its pick."""
    rows = TrialPick.objects.of(workshop).filter(trial=trial.key, order__state__in=Order.OPEN)
    orders = list(rows.values_list("order_id", flat=True))
    rows.delete()
    if Plan.objects.of(workshop).filter(order__in=orders).update(stale=True):
        plan_later(workshop)


def picks_of(workshop: Workshop, trial: VersionTrial) -> Counter[int]:
    """Return how many orders are picked for each version, by its id."""
    rows = TrialPick.objects.of(workshop).filter(trial=trial.key).values_list("version_id", flat=True)
    return Counter(rows)
