"""The worker's part of buying: reports of which cartons to keep. (Procrastinate finds ``tasks`` itself.)"""

import time

from procrastinate import RetryStrategy
from procrastinate.contrib.django import app

from server.buying.cartons import CARTON_TASK, run_report
from server.buying.models import CartonReport
from server.config.logs import job_line
from server.workshops.models import Workshop

__all__ = ["carton_report"]


@app.task(name=CARTON_TASK, queue="plans", retry=RetryStrategy(max_attempts=3, exponential_wait=3))
def carton_report(workshop_id: int, report_id: int) -> bool:
    """Work a report out. Returns whether it was; not when it was cancelled meanwhile."""
    begun = time.perf_counter()
    workshop = Workshop.objects.get(pk=workshop_id)
    try:
        done = run_report(workshop, report_id)
    except Exception:
        CartonReport.objects.of(workshop).filter(pk=report_id).update(
            state=CartonReport.State.FAILED, problem="It broke off; the log says why. Begin it once more."
        )
        raise
    job_line(CARTON_TASK, workshop=workshop.pk, seconds=time.perf_counter() - begun, done=done)
    return done
