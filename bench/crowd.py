"""24 people closing 300 parcels, over HTTP, on a database of its own (./calm bench crowd [PARCELS [PEOPLE [SECONDS]]]).

Half the parcels are closed back to back, as fast as answers come; half as people do, who have SECONDS (5) of work
between two closes. Prints how long a close takes, what a closed order takes in the database, and that every invariant
holds afterwards. Wanted: 95 in 100 under 1 s, the middle one under 200 ms, at most 15 kB an order.
"""

import queue
import random
import statistics
import sys
import threading
import time
from decimal import Decimal
from uuid import uuid4

from temporary import NAME, database

# isort: split
from django.contrib.auth.models import User
from django.db import connection, connections
from django.test import Client
from served import free_port, serve

from server.bench.labels import buy_label, offers
from server.bench.selectors import part_of
from server.bench.services import begin, weigh
from server.orders.models import Order, OrderLine
from server.plans.services import open_orders
from server.plans.waves import run_wave
from server.supplies.models import Supply
from server.supplies.services import receive
from server.upkeep.invariants import broken
from server.upkeep.uses import wrong_uses
from server.workshops.models import Member, Workshop
from tests.faults.people import Browser


def signed_in(port: int, name: str) -> Browser:
    """Return somebody's browser, signed in beside the door: so many at once from one address are throttled."""
    client = Client()
    client.force_login(User.objects.get(username=name), backend="django.contrib.auth.backends.ModelBackend")
    return Browser(port, client.cookies["sessionid"].value)


def fill(parcels: int, people: int) -> list[int]:
    """Make so many people, and so many parcels that are weighed and labelled; return the parcels."""

    workshop = Workshop.objects.get()
    owner = Member.objects.select_related("workshop", "user").filter(role="owner").get()
    for number in range(people):
        user = User.objects.create_user(f"p{number}", password="a-long-password")
        Member.objects.create(user=user, workshop=workshop, role="packer")
    for supply in Supply.objects.of(workshop):
        receive(
            by=owner,
            supply_id=supply.pk,
            quantity=Decimal(100_000),
            total_cost=Decimal(1),
            note="",
            request_key=uuid4(),
        )
    models = list(open_orders(workshop).filter(state="planned"))
    lines = {order.pk: list(OrderLine.objects.of(workshop).filter(order=order)) for order in models}
    for number in range(parcels):
        old = models[number % len(models)]
        new = Order.objects.of(workshop).get(pk=old.pk)
        new.pk, new.number, new.buyer = None, f"B{number}", f"{old.buyer} {number}"
        new.save(force_insert=True)
        for line in lines[old.pk]:
            line.pk, line.order = None, new
            line.save(force_insert=True)
    run_wave(workshop=workshop)
    ready = []
    for order in Order.objects.of(workshop).filter(state="planned", number__startswith="B"):
        parcel = begin(by=owner, order_id=order.pk)
        weigh(by=owner, parcel_id=parcel.pk, typed_mg=part_of(parcel).candidate.weight.gross_mg)
        parcel.refresh_from_db()
        buy_label(by=owner, parcel_id=parcel.pk, service=offers(workshop, parcel)[0][0].service)
        ready.append(parcel.pk)
    return ready


def size() -> int:
    """Bytes of the database, after a clean-up."""

    with connection.cursor() as cursor:
        cursor.execute("vacuum full")
        cursor.execute("select pg_database_size(current_database())")
        return int(cursor.fetchone()[0])


def crowd(port: int, parcels: list[int], people: int, pause: float) -> tuple[list[float], list[int]]:
    """Let everybody close what is next until nothing is left, ``pause`` seconds of work before each on average; return
    seconds and statuses.
    """
    left: queue.SimpleQueue[int] = queue.SimpleQueue()
    for parcel in parcels:
        left.put(parcel)
    everybody = [signed_in(port, f"p{number}") for number in range(people)]
    taken: list[float] = []
    statuses: list[int] = []
    start = threading.Barrier(people)

    def work(person: Browser, chance: random.Random) -> None:
        start.wait()
        while True:
            time.sleep(chance.uniform(0, 2 * pause))
            try:
                parcel = left.get_nowait()
            except queue.Empty:
                return
            begun = time.perf_counter()
            status, _, _ = person.send("POST", f"/api/parcels/{parcel}/close", {"request_key": str(uuid4())})
            taken.append(time.perf_counter() - begun)
            statuses.append(status)

    threads = [threading.Thread(target=work, args=(one, random.Random(at))) for at, one in enumerate(everybody)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return taken, statuses


def main(parcels: int, people: int, pause: int) -> None:
    """Print what it took."""
    with database():
        before = size()
        ready = fill(parcels, people)
        port = free_port()
        connections.close_all()
        server = serve(port, NAME)
        half = len(ready) // 2
        try:
            for words, mine, rest in (
                ("back to back", ready[:half], 0),
                (f"with {pause} s of work before each", ready[half:], pause),
            ):
                begun = time.perf_counter()
                taken, statuses = crowd(port, mine, people, rest)
                _tell(words, people, taken, statuses, time.perf_counter() - begun)
        finally:
            server.terminate()
            server.wait()
        bad = [(one.code, rows) for one, _, rows in broken()]
        bad += [("uses", list(wrong_uses(workshop, days=None))) for workshop in Workshop.objects.all()][:1]
        print("every invariant holds" if not any(rows for _, rows in bad) else f"NOT SO: {bad}")
        print(f"{(size() - before) / max(1, len(ready)) / 1000:.1f} kB in the database for an order closed (wanted 15)")


def _tell(words: str, people: int, taken: list[float], statuses: list[int], whole: float) -> None:
    taken.sort()
    print(f"{len(taken)} closes by {people} people {words} in {whole:.1f} s: {sorted(set(statuses))}")
    print(
        f"  a close: median {statistics.median(taken):.2f} s (wanted 0.2), 95 in 100 under "
        f"{taken[int(len(taken) * 0.95)]:.2f} s (wanted 1), longest {taken[-1]:.2f} s"
    )


if __name__ == "__main__":
    given = [int(one) for one in sys.argv[1:]]
    main(*(given + [300, 24, 5][len(given) :]))
