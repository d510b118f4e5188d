"""The worker's part of money: trying changes. (Procrastinate finds ``tasks`` itself.)"""

import time

from procrastinate import RetryStrategy
from procrastinate.contrib.django import app

from server.api.problems import Refused
from server.config.logs import job_line
from server.money.models import WhatIf
from server.money.trying import run
from server.money.what_ifs import WHAT_IF_TASK, end_silent
from server.workshops.models import Workshop

__all__ = ["end_silent_what_ifs", "what_if"]


@app.task(name=WHAT_IF_TASK, queue="plans", retry=RetryStrategy(max_attempts=3, exponential_wait=3))
def what_if(workshop_id: int, what_if_id: int) -> bool:
    """Try a change. Returns whether it was; not when it was cancelled meanwhile, or cannot be tried any more."""
    begun = time.perf_counter()
    workshop = Workshop.objects.get(pk=workshop_id)
    rows = WhatIf.objects.of(workshop).filter(pk=what_if_id)
    try:
        done = run(workshop, what_if_id)
    except Refused as error:  # what it is about was removed meanwhile
        rows.update(state=WhatIf.State.FAILED, problem=str(error)[:300])
        return False
    except Exception:
        rows.update(state=WhatIf.State.FAILED, problem="It broke off; the log says why. Run it again.")
        raise
    job_line(WHAT_IF_TASK, workshop=workshop.pk, seconds=time.perf_counter() - begun, done=done)
    return done


@app.periodic(cron="* * * * *")
@app.task(name="end_silent_what_ifs", queue="care", queueing_lock="end_silent_what_ifs")
def end_silent_what_ifs(timestamp: int) -> int:
    """End runs whose worker is gone. Returns how many."""
    return end_silent()
