"""Work for the background worker: asking carriers what came, counting whole what nobody complained of (outcomes).

(Procrastinate finds ``tasks`` itself.)
"""

import time
from logging import getLogger

from procrastinate.contrib.django import app

from server.config.logs import job_line
from server.outcomes.answering import ask_carriers, assume_whole
from server.outcomes.sending import record_missing
from server.workshops.models import Workshop

__all__ = ["hear_arrivals"]

_LOG = getLogger(__name__)


@app.periodic(cron="23 * * * *")
@app.task(name="hear_arrivals", queue="care", queueing_lock="hear_arrivals", lock="hear_arrivals")
def hear_arrivals(timestamp: int) -> int:
    """Ask what came and settle what is over, for every workshop. Returns how many parcels came."""
    came = 0
    for workshop in Workshop.objects.order_by("pk"):
        begun = time.perf_counter()
        try:
            recorded = record_missing(workshop)
            asked = ask_carriers(workshop)
            whole = assume_whole(workshop)
        except Exception:  # noqa: BLE001 - one workshop's error does not hold up the others; it is logged
            _LOG.exception("the arrivals of workshop %s", workshop.pk)
            continue
        came += asked.delivered
        job_line(
            "hear_arrivals", workshop=workshop.pk, seconds=time.perf_counter() - begun, recorded=recorded,
            asked=asked.asked, delivered=asked.delivered, whole=whole, problem=asked.problem,
        )  # fmt: skip
    return came
