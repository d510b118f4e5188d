"""How gunicorn serves the app: loaded once, then forked, so that what every process needs is in memory once."""

import gc
from typing import Any

from django.urls import get_resolver

preload_app = True
threads = 4
timeout = 60
#: A process is followed by another after so many requests, so that nothing it keeps grows without end.
max_requests, max_requests_jitter = 20_000, 4_000


def when_ready(server: Any) -> None:
    """Load what is otherwise loaded by the first request, and keep the garbage collector from touching it."""
    get_resolver().url_patterns  # noqa: B018 - asked for to be loaded
    gc.collect()
    gc.freeze()
