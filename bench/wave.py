"""How long a wave of 300 open orders takes, on the workshop in the database (./calm bench wave [N]).

The open orders are copied until there are N, everything is planned, and the whole is rolled back: nothing is kept.
Prints seconds in all and milliseconds an order, with answers of equal requests remembered and forgotten.
"""

import os
import sys
import time
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.config.settings")

import django

django.setup()

from django.db import transaction

from core.packing.search import forget
from server.orders.models import Order, OrderLine
from server.plans.models import Plan
from server.plans.services import open_orders
from server.plans.waves import run_wave
from server.supplies.models import Balance, Supply
from server.workshops.models import Workshop


def copy_orders(workshop: Workshop, count: int) -> None:
    """Copy the open orders, lines and all, until there are so many; each copy is somebody else's, with another
    postcode.
    """
    models = list(open_orders(workshop))
    lines = {order.pk: list(OrderLine.objects.of(workshop).filter(order=order)) for order in models}
    for number in range(count - len(models)):
        old = models[number % len(models)]
        new = Order.objects.of(workshop).get(pk=old.pk)
        new.pk, new.number, new.buyer = None, f"W{number}", f"{old.buyer} {number}"
        new.postcode = f"{old.postcode[:-1]}{number % 10}"
        new.save(force_insert=True)
        for line in lines[old.pk]:
            line.pk, line.order = None, new
            line.save(force_insert=True)


def main(count: int) -> None:
    """Plan a wave twice and print what it took."""
    workshop = Workshop.objects.get()
    with transaction.atomic():
        copy_orders(workshop, count)
        for supply in Supply.objects.of(workshop):  # enough of everything, so that orders differ by their goods alone
            Balance.objects.of(workshop).filter(supply=supply).update(on_hand=100_000)
        for words in ("answers forgotten before", "answers remembered"):
            if words.endswith("before"):
                forget()
            Plan.objects.of(workshop).update(stale=True)
            begun = time.perf_counter()
            done = run_wave(workshop=workshop)
            took = time.perf_counter() - begun
            print(f"{done} orders, {words}: {took:6.2f} s, {took / max(1, done) * 1e3:6.1f} ms an order")
        transaction.set_rollback(True)


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 300)
