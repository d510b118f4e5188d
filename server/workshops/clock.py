"""The workshop's own clock and calendar: which day it is there (workshops)."""

from datetime import date
from zoneinfo import ZoneInfo

from django.utils import timezone

from server.workshops.models import Workshop

__all__ = ["today"]


def today(workshop: Workshop) -> date:
    """Return today's date on the workshop's own clock."""
    return timezone.now().astimezone(ZoneInfo(workshop.time_zone)).date()
