"""How long the stock of every supply takes to read, one having 500 or 400 000 entries (./calm bench stock).

On a database of its own. Wanted: a ratio under 1.3, since no ledger is read.
"""

import statistics
import time

from temporary import database

# isort: split
from django.db import connection

from server.supplies.models import Supply
from server.supplies.selectors import stock_of
from server.upkeep.clearing import repair_balances
from server.upkeep.invariants import broken
from server.workshops.models import Workshop

FEW, MANY, TIMES = 500, 400_000, 60


def main() -> None:
    """Print milliseconds a reading, before and after, and their ratio."""
    with database():
        workshop = Workshop.objects.get()
        supply = Supply.objects.of(workshop).get(code="C-14")

        def grow(entries: int) -> None:
            with connection.cursor() as cursor:
                cursor.execute(
                    "insert into supplies_entry "
                    "(workshop_id, supply_id, kind, quantity, unit_cost, average_after, note, by, at) "
                    "select %s, %s, 'received', 1, 1, 1, '', 'bench', now() from generate_series(1, %s)",
                    [workshop.pk, supply.pk, entries],
                )
                cursor.execute("analyze supplies_entry")
            repair_balances()

        def reading() -> float:
            stock_of(workshop)
            taken = []
            for _ in range(TIMES):
                begun = time.perf_counter()
                stock_of(workshop)
                taken.append(time.perf_counter() - begun)
            return statistics.median(taken) * 1e3

        grow(FEW)
        few = reading()
        grow(MANY - FEW)
        many = reading()
        assert broken(["ledger"]) == []
        print(f"stock of every supply: {few:.2f} ms with {FEW} entries of one, {many:.2f} ms with {MANY}")
        print(f"ratio {many / few:.2f} (wanted: under 1.3)")


if __name__ == "__main__":
    main()
