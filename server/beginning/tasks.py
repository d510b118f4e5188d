"""The worker's part of beginning. (Procrastinate finds ``tasks`` itself.)"""

import time

from procrastinate.contrib.django import app

from server.beginning.sample import LOAD_SAMPLE
from server.commands.demo import load_demo
from server.config.logs import job_line
from server.workshops.models import Workshop

__all__ = ["load_sample"]


@app.task(name=LOAD_SAMPLE)
def load_sample() -> None:
    """Load the sample workshop; what is there already stays as it is."""
    begun = time.perf_counter()
    load_demo()
    workshop = Workshop.objects.get(sample=True)
    job_line(LOAD_SAMPLE, workshop=workshop.pk, seconds=time.perf_counter() - begun)
