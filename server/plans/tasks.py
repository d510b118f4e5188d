"""Work for the background worker: planning orders again after something changed.

A page that opens a stale plan plans it at once; the worker only makes sure the lists are true soon.
``services`` asks for this by its name, so that it need not know the worker. (Procrastinate finds ``tasks`` itself.)
"""

import time

from procrastinate.contrib.django import app

from server.config.logs import job_line
from server.plans.services import PLAN_STALE_TASK
from server.plans.waves import run_wave
from server.workshops.models import Workshop

__all__ = ["plan_stale_orders"]


@app.task(name=PLAN_STALE_TASK, queue="plans")
def plan_stale_orders(workshop_id: int) -> int:
    """Plan every order of one workshop that is due, as a wave. Returns how many."""
    begun = time.perf_counter()
    planned = run_wave(workshop=Workshop.objects.get(pk=workshop_id))
    job_line(PLAN_STALE_TASK, workshop=workshop_id, seconds=time.perf_counter() - begun, planned=planned)
    return planned
