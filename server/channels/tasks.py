"""Work for the background worker: asking channels for orders, telling them tracking numbers (channels).

(Procrastinate finds ``tasks`` itself.)
"""

import time
from logging import getLogger

from procrastinate.contrib.django import app

from server.channels.models import ChannelLink
from server.channels.services import ask_channel, tell_channel
from server.config.logs import job_line
from server.workshops.models import Workshop

__all__ = ["ask_channels"]

_LOG = getLogger(__name__)


@app.periodic(cron="* * * * *")
@app.task(name="ask_channels", queue="care", queueing_lock="ask_channels", lock="ask_channels")
def ask_channels(timestamp: int) -> int:
    """Ask every connected channel what is new and tell it what was sent. Returns how many orders are new."""
    new = 0
    for workshop in Workshop.objects.order_by("pk"):
        for link in ChannelLink.objects.of(workshop).filter(on=True):
            begun = time.perf_counter()
            try:
                taken, told = ask_channel(workshop, link.pk), tell_channel(workshop, link.pk)
            except Exception:  # noqa: BLE001 - one channel's error does not hold up the others; it is logged
                _LOG.exception("channel %s of workshop %s", link.name, workshop.pk)
                continue
            new += len(taken.new)
            if taken.new or taken.changed or taken.cancelled or told:
                job_line(
                    "ask_channels",
                    workshop=workshop.pk,
                    seconds=time.perf_counter() - begun,
                    new=len(taken.new),
                    changed=taken.changed + taken.cancelled,
                    told=told,
                )
    return new
