"""Work for the background worker: hearing the forecast (care). (Procrastinate finds ``tasks`` itself.)"""

import time
from logging import getLogger

from procrastinate.contrib.django import app

from server.care.services import hear_forecast
from server.config.logs import job_line
from server.workshops.models import Workshop

__all__ = ["hear_forecasts"]

_LOG = getLogger(__name__)


@app.periodic(cron="7 * * * *")
@app.task(name="hear_forecasts", queue="care", queueing_lock="hear_forecasts", lock="hear_forecasts")
def hear_forecasts(timestamp: int) -> int:
    """Ask the forecast for every workshop. Returns how many plans are to be made again."""
    marked = 0
    for workshop in Workshop.objects.order_by("pk"):
        begun = time.perf_counter()
        try:
            found = hear_forecast(workshop)
        except Exception:  # noqa: BLE001 - one workshop's error does not hold up the others; it is logged
            _LOG.exception("the forecast of workshop %s", workshop.pk)
            continue
        marked += found
        job_line("hear_forecasts", workshop=workshop.pk, seconds=time.perf_counter() - begun, marked=found)
    return marked
