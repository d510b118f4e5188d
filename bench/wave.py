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

from copied_orders import copy_orders
from django.db import transaction

# isort: split
from core.packing.search import forget
from server.plans.models import Plan
from server.plans.waves import run_wave
from server.supplies.models import Balance, Supply
from server.workshops.models import Workshop


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
