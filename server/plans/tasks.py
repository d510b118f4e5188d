"""Work for the background worker: planning orders again after something changed.

A page that opens a stale plan plans it at once; the worker only makes sure the lists are true soon.
``services`` asks for this by its name, so that it need not know the worker. (Procrastinate finds ``tasks`` itself.)
A job of a worker that was killed is taken up again within a minute: a worker tells that it lives every ten seconds, and
every twenty seconds each looks for jobs of one that has been silent for thirty.
"""

import time
from logging import getLogger

from asgiref.sync import sync_to_async
from procrastinate import JobContext, RetryStrategy
from procrastinate.contrib.django import app
from procrastinate.jobs import Status

from server.config.logs import job_line
from server.plans.services import PLAN_STALE_TASK
from server.plans.waves import heal, run_wave, see_to_due
from server.workshops.models import Workshop

__all__ = ["plan_due", "plan_stale_orders", "take_up_again"]

_LOG = getLogger(__name__)
_SILENT_SECONDS = 30


@app.task(name=PLAN_STALE_TASK, queue="plans", retry=RetryStrategy(max_attempts=6, exponential_wait=3))
def plan_stale_orders(workshop_id: int) -> int:
    """Plan every order of one workshop that is due, as a wave. Returns how many."""
    begun = time.perf_counter()
    planned = run_wave(workshop=Workshop.objects.get(pk=workshop_id))
    job_line(PLAN_STALE_TASK, workshop=workshop_id, seconds=time.perf_counter() - begun, planned=planned)
    return planned


@app.periodic(cron="* * * * *")
@app.task(name="plan_due", queue="care", queueing_lock="plan_due")
def plan_due(timestamp: int) -> int:
    """Have orders planned again whose plan does not hold any more. Returns for how many workshops."""
    return see_to_due()


@app.periodic(cron="* * * * * */20")
@app.task(name="take_up_again", queue="care", queueing_lock="take_up_again", pass_context=True)
async def take_up_again(context: JobContext, timestamp: int) -> None:
    """Take up what a worker that is gone left behind: its jobs, and waves without one."""
    jobs = context.app.job_manager
    for job in await jobs.get_stalled_jobs(seconds_since_heartbeat=_SILENT_SECONDS):
        _LOG.warning("job %s (%s) lost its worker; it begins again", job.id, job.task_name)
        again = job.queueing_lock and await jobs.list_jobs_async(status="todo", queueing_lock=job.queueing_lock)
        if again:  # the same is asked for already: that one does its work
            await jobs.finish_job(job, status=Status.FAILED, delete_job=False)
        else:
            await jobs.retry_job(job)
    await jobs.prune_stalled_workers(_SILENT_SECONDS)
    await sync_to_async(heal)()
