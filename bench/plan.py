"""How long a plan takes, from the core up to the API, on the workshop in the database (./calm bench).

Prints medians in milliseconds and each layer's share of the whole, and the whole against the 200 ms that a packer
does not notice. Run it on a quiet machine; nothing here is asserted.
"""

import os
import statistics
import sys
import time
import tracemalloc
from collections.abc import Callable
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.config.settings")

import django

django.setup()

from django.conf import settings
from django.test import Client

from core.parcels.plan import PlannedOrder, plan_order
from server.orders.models import Order
from server.plans.facts import load, place_of, ship_day
from server.plans.mapping import plan_from_json, plan_to_json
from server.plans.models import Plan
from server.plans.screens import plan_view
from server.workshops.models import Member, Workshop

ROUNDS = 40


def median_ms(job: Callable[[], object]) -> float:
    for _ in range(3):
        job()
    times = []
    for _ in range(ROUNDS):
        began = time.perf_counter()
        job()
        times.append((time.perf_counter() - began) * 1000)
    return statistics.median(times)


def main() -> None:
    settings.ALLOWED_HOSTS.append("testserver")
    workshop = Workshop.objects.get()
    member = Member.objects.filter(workshop=workshop).select_related("user")[0]
    client = Client()
    client.force_login(member.user, backend="django.contrib.auth.backends.ModelBackend")
    orders = [
        o
        for o in Order.objects.of(workshop).filter(state="planned")
        if 2 <= sum(line.quantity for line in o.lines.all()) <= 4
    ]
    order = orders[0]
    units = sum(line.quantity for line in order.lines.all())
    loaded = load(workshop, [order])
    lines, day = loaded.lines_of(order), ship_day(workshop)

    def stale_and_ask() -> None:
        Plan.objects.of(workshop).filter(order=order).update(stale=True)
        assert client.get(f"/api/orders/{order.pk}/plan").status_code == 200

    plan = plan_order(lines, loaded.facts, destination=place_of(order), ship_on=day)
    assert isinstance(plan, PlannedOrder)
    row = Plan.objects.of(workshop).get(order=order)
    document = plan_to_json(plan)
    parts = {
        "core: expand, pack, fill, weigh, quote, choose": median_ms(
            lambda: plan_order(lines, loaded.facts, destination=place_of(order), ship_on=day)
        ),
        "rows to values (all queries)": median_ms(lambda: load(workshop, [order])),
        "plan to JSON": median_ms(lambda: plan_to_json(plan)),
        "JSON to plan": median_ms(lambda: plan_from_json(document)),
        "the screen's view of it": median_ms(lambda: plan_view(workshop, row).model_dump(mode="json")),
    }
    fresh, kept = median_ms(stale_and_ask), median_ms(lambda: client.get(f"/api/orders/{order.pk}/plan"))
    print(f"Order {order.number}, {units} units, {len(loaded.facts.containers)} containers; medians of {ROUNDS}")
    for name, ms in parts.items():
        print(f"  {ms:7.1f} ms  {ms / fresh:5.0%}  {name}")
    print(f"  {kept:7.1f} ms  {kept / fresh:5.0%}  API, plan kept")
    print(f"  {fresh:7.1f} ms         API, planned again: {fresh / 200:.0%} of 200 ms")
    tracemalloc.start()
    plan_order(lines, loaded.facts, destination=place_of(order), ship_on=day)
    print(f"  {tracemalloc.get_traced_memory()[1] / 1024:7.0f} KiB peak in the core")


main()
