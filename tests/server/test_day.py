"""The day over HTTP: what is due when, moving orders, hours and hand-overs, what is prepared."""

from datetime import UTC, date, datetime, timedelta
from typing import Any
from unittest import mock
from uuid import uuid4

import icalendar

from server.orders.models import Order
from server.plans.models import Plan, PlanPart
from server.recipes.models import RecipeVersion
from tests.server.base import DemoCase

#: A Tuesday in winter, ten in the morning in the demo's zone.
NOW = datetime(2026, 12, 1, 10, 0, tzinfo=UTC)

TIMES: dict[str, Any] = {
    "hours": [{"who": "Maren", "days": [0, 1, 2, 3, 4], "begins": "09:00", "ends": "17:00"}],
    "hand_overs": [],
    "closures": [],
}


def collection(name: str, carrier: str, at: str, **more: Any) -> dict[str, Any]:
    return {
        "name": name,
        "kind": "collection",
        "carriers": [carrier],
        "days": [0, 1, 2, 3, 4],
        "at": at,
        **more,
    }


class DayCase(DemoCase):
    def setUp(self) -> None:
        super().setUp()
        for place in ("server.day.times", "server.workshops.clock"):
            patched = mock.patch(f"{place}.timezone.now", return_value=NOW)
            patched.start()
            self.addCleanup(patched.stop)

    def day(self) -> Any:
        return self.ask("get", "day")


class Day(DayCase):
    def test_it_prints(self) -> None:
        import json
        import time

        began = time.perf_counter()
        found = self.day()
        print(time.perf_counter() - began)
        print(json.dumps(found, indent=1)[:6000])
