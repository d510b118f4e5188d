"""A wave: planning every order that is due, a few at a time, so that others can work and see how far it is.

Each handful is one transaction with the workshop's lock; between them the lock is free, the count is saved and a wish
to stop is heard. Orders that are alike are planned once (decision 24). What is planned by then stays planned; the
rest is planned when it is opened, or by the next wave.
"""

from django.db import transaction
from django.db.models import F
from django.utils import timezone

from core.parcels.remembered import Remembered
from server.plans.models import Plan, Wave
from server.plans.services import due_orders, open_orders, plan_later, plan_stale
from server.workshops.models import Workshop, lock_workshop

__all__ = ["plan_all_again", "run_wave", "stop_wave", "wave_of"]

#: Orders planned in one transaction: about half a second of the workshop's lock.
_HANDFUL = 10


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
    planned, remembered = 0, Remembered()
    while wave is not None and not wave.stop_asked:
        with transaction.atomic():
            lock_workshop(workshop)
            handful = list(due_orders(workshop).order_by("placed_on", "id").values_list("pk", flat=True)[:_HANDFUL])
            if not handful:
                break
            plan_stale(workshop=workshop, orders=handful, remembered=remembered)
            Wave.objects.of(workshop).filter(pk=wave.pk).update(done=F("done") + len(handful))
        planned += len(handful)
        wave.refresh_from_db()
    if wave is not None:
        Wave.objects.of(workshop).filter(pk=wave.pk).update(ended_at=timezone.now())
    return planned


@transaction.atomic
def _begin(workshop: Workshop) -> Wave | None:
    lock_workshop(workshop)
    due = due_orders(workshop).count()
    wave = wave_of(workshop)
    if wave is not None:
        wave.total, wave.stop_asked = wave.done + due, False
        wave.save(update_fields=["total", "stop_asked"])
        return wave
    if not due:
        return None
    return Wave.objects.of(workshop).create(workshop=workshop, total=due, began_at=timezone.now())
