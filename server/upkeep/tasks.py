"""The worker's own jobs: asking carriers what is in doubt, the nightly check, throwing away what is over.

(Procrastinate finds ``tasks`` itself.)
"""

import time
from logging import getLogger

from procrastinate import JobContext
from procrastinate.contrib.django import app

from server.bench.labels import reconcile
from server.bench.printing import print_waiting
from server.config.logs import job_line
from server.upkeep.clearing import clear
from server.upkeep.invariants import broken
from server.upkeep.uses import wrong_uses
from server.workshops.models import Workshop

__all__ = ["check_all", "clear_all", "drop_old_jobs", "print_queues", "reconcile_labels"]

_LOG = getLogger(__name__)
#: Parcels closed in so many days are read again each night.
_DAYS = 8


@app.periodic(cron="*/2 * * * *")
@app.task(name="reconcile_labels", queue="care", queueing_lock="reconcile_labels")
def reconcile_labels(timestamp: int) -> int:
    """Ask the carriers about labels in doubt. Returns how many moved."""
    return sum(reconcile(workshop) for workshop in Workshop.objects.order_by("pk"))


@app.periodic(cron="* * * * * */30")
@app.task(name="print_queues", queue="care", queueing_lock="print_queues")
def print_queues(timestamp: int) -> int:
    """Print labels that wait for a printer. Returns how many were printed."""
    return sum(print_waiting(workshop) for workshop in Workshop.objects.order_by("pk"))


@app.periodic(cron="40 2 * * *")
@app.task(name="check_all", queue="care", queueing_lock="check_all")
def check_all(timestamp: int) -> int:
    """Run every check and write what does not hold to the log. Returns how many faults."""
    begun = time.perf_counter()
    faults = 0
    for one, count, rows in broken():
        faults += count
        _LOG.error("not so: %s (%s rows). %s %s", one.holds, count, one.otherwise, "; ".join(rows))
    for workshop in Workshop.objects.all():
        for row in wrong_uses(workshop, days=_DAYS):
            faults += 1
            _LOG.error("not so: a closed parcel drew what its plan uses. %s", row)
        job_line("check_all", workshop=workshop.pk, seconds=time.perf_counter() - begun, faults=faults)
    return faults


@app.periodic(cron="10 3 * * *")
@app.task(name="clear_all", queue="care", queueing_lock="clear_all")
def clear_all(timestamp: int) -> dict[str, int]:
    """Throw away what is over. Returns what went."""
    return clear()


@app.periodic(cron="20 3 * * *")
@app.task(name="drop_old_jobs", queue="care", queueing_lock="drop_old_jobs", pass_context=True)
async def drop_old_jobs(context: JobContext, timestamp: int) -> None:
    """Throw away jobs that ended two days ago; failed ones after two weeks."""
    jobs = context.app.job_manager
    await jobs.delete_old_jobs(nb_hours=48)
    await jobs.delete_old_jobs(nb_hours=14 * 24, include_failed=True, include_cancelled=True, include_aborted=True)
