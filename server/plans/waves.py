"""A wave: planning every order that is due, a few at a time, so that others can work and see how far it is.

After each handful the count is saved, a sign of life given and a wish to stop heard. Orders that are alike are planned
once (decision 24). What is planned by then stays planned; the rest is planned when it is opened, or by the next wave.
An order that cannot be planned because of an error is left out and counted, so that it does not hold up the others.
A wave whose worker is gone is taken over within a minute (``heal``).
"""

from datetime import datetime, time, timedelta
from logging import getLogger
from zoneinfo import ZoneInfo

from django.db import DatabaseError, transaction
from django.utils import timezone
from procrastinate.contrib.django.models import ProcrastinateJob

from core.parcels.remembered import Remembered
from server.orders.models import Order
from server.plans.models import Plan, Wave
from server.plans.services import PLAN_STALE_TASK, due_orders, open_orders, plan_later, plan_stale
from server.workshops.clock import today
from server.workshops.models import Workshop, lock_workshop

__all__ = ["SILENT", "heal", "plan_all_again", "run_wave", "see_to_due", "stop_wave", "wave_of"]

_LOG = getLogger(__name__)
#: Orders planned in one transaction, between two signs of life: about half a second's work.
_HANDFUL = 10
#: A wave that gave no sign of life for so long has no worker any more.
SILENT = timedelta(seconds=30)


def wave_of(workshop: Workshop) -> Wave | None:
    """Return the wave under way, or None."""
    return Wave.objects.of(workshop).filter(ended_at=None).first()


@transaction.atomic
def plan_all_again(*, workshop: Workshop) -> int:
    """Mark every open order's plan as due and ask the worker to plan them. Returns how many are due."""
    lock_workshop(workshop)
    Plan.objects.of(workshop).filter(order__in=open_orders(workshop)).update(stale=True)
    plan_later(workshop)
    return due_orders(workshop).count()


def stop_wave(*, workshop: Workshop) -> Wave | None:
    """Ask the wave under way to stop after the orders it is at; nothing happens when there is none."""
    Wave.objects.of(workshop).filter(ended_at=None).update(stop_asked=True)
    return wave_of(workshop)


def run_wave(*, workshop: Workshop) -> int:
    """Plan what is due, handful by handful. Returns how many were planned. For the worker.

    A wave that a dead worker left open is taken over: its count goes on from where it stood.
    """
    wave = _begin(workshop)
    planned, remembered, failed = 0, Remembered(), set[int]()
    while wave is not None and not wave.stop_asked:
        due = due_orders(workshop).exclude(pk__in=failed).order_by("placed_on", "id")
        handful = list(due.values_list("pk", flat=True)[:_HANDFUL])
        if not handful:
            break
        planned += _plan_handful(workshop, handful, remembered, failed)
        # Orders may have become due since it began: they are part of it, so it never counts past its total.
        wave.refresh_from_db()
        wave.done, wave.failed = wave.done + len(handful), len(failed)
        wave.total, wave.told_at = wave.done + due.exclude(pk__in=failed).count(), timezone.now()
        wave.save(update_fields=["done", "failed", "total", "told_at"])
    if wave is not None:
        Wave.objects.of(workshop).filter(pk=wave.pk).update(ended_at=timezone.now())
    return planned


def _plan_handful(workshop: Workshop, handful: list[int], remembered: Remembered, failed: set[int]) -> int:
    """Plan these orders; when that fails, one by one, remembering which are at fault. Returns how many were planned."""
    try:
        return plan_stale(workshop=workshop, orders=handful, remembered=remembered)
    except DatabaseError:
        raise  # not the orders' fault: the job is tried again
    except Exception:  # noqa: BLE001 - whatever is wrong with one order, the others go on; it is logged and counted
        if len(handful) == 1:
            failed.update(handful)
            _LOG.exception("order %s of workshop %s cannot be planned", handful[0], workshop.pk)
            return 0
    return sum(_plan_handful(workshop, [one], Remembered(), failed) for one in handful)


def heal() -> int:
    """See to waves that nobody works on: ask for a worker where orders are due, end the others. Returns how many.

    For the worker, at short intervals: after a kill the job itself is taken up again too, this is for what has none.
    """
    silent = timezone.now() - SILENT
    lost = [
        wave
        for workshop in Workshop.objects.order_by("pk")
        for wave in Wave.objects.of(workshop).filter(ended_at=None, told_at__lt=silent)
    ]
    under_way = ProcrastinateJob.objects.filter(task_name=PLAN_STALE_TASK, status__in=("todo", "doing"))
    working = {job.args["workshop_id"] for job in under_way}
    healed = [wave for wave in lost if wave.workshop_id not in working]
    for wave in healed:
        if due_orders(wave.workshop).exists():
            plan_later(wave.workshop)
        else:
            Wave.objects.of(wave.workshop).filter(pk=wave.pk).update(ended_at=timezone.now())
    return len(healed)


#: What could not be planned because of an error is not tried again sooner.
_AGAIN = timedelta(hours=1)


def see_to_due() -> int:
    """Ask for a worker wherever open orders have no plan that holds: a day is over, or the program was updated.

    For the worker, once a minute. Returns how many workshops.
    """
    found = 0
    soon = timezone.now() - _AGAIN
    for workshop in Workshop.objects.order_by("pk"):
        waves = Wave.objects.of(workshop)
        if waves.filter(ended_at=None).exists() or waves.filter(failed__gt=0, ended_at__gt=soon).exists():
            continue
        _mark_expired(workshop)
        if due_orders(workshop).exists():
            plan_later(workshop)
            found += 1
    return found


def _mark_expired(workshop: Workshop) -> None:
    """Plans made before today that use stock which was good until yesterday are made again."""
    day = today(workshop)
    midnight = datetime.combine(day, time(0), tzinfo=ZoneInfo(workshop.time_zone))
    using = Plan.objects.of(workshop).filter(
        uses__supply__entries__good_until=day - timedelta(days=1), order__state__in=Order.OPEN, at__lt=midnight
    )
    Plan.objects.of(workshop).filter(pk__in=using.values("pk"), stale=False).update(stale=True)


@transaction.atomic
def _begin(workshop: Workshop) -> Wave | None:
    lock_workshop(workshop)
    due = due_orders(workshop).count()
    wave = wave_of(workshop)
    now = timezone.now()
    if wave is not None:
        wave.total, wave.stop_asked, wave.told_at = wave.done + due, False, now
        wave.save(update_fields=["total", "stop_asked", "told_at"])
        return wave
    if not due:
        return None
    return Wave.objects.of(workshop).create(workshop=workshop, total=due, began_at=now, told_at=now)
