"""Many workshops on one database, served by two web servers and two workers (./calm bench workshops [N [ORDERS]]).

Copies the sample workshop N times (50), gives each ORDERS closed orders (1000), and measures: screens of one workshop
alone and among the others; requests of one while ten others plan everything again; that who signed in at one server is
known at the other. On a database of its own.
"""

import sys
import threading
import time

from temporary import NAME, database

# isort: split
from copied_workshop import copy_workshop
from django.db import connection, connections, transaction
from django.test import Client, override_settings
from scale import _ms, _paths, _settle
from scale_fill import fill
from served import WORKER, begun, free_port, serve

from server.orders.models import Order
from server.plans.services import PLAN_STALE_TASK
from server.upkeep.invariants import broken
from server.workshops.models import Member, Workshop
from tests.faults.people import Browser

#: So many workshops plan everything again at once.
_BUSY = 10
_ASKED = ("rail", "day", "orders", "supplies", "send-off", "buying/cover", "orders?find=ferr", "arrivals?show=ask")


def main(count: int, orders: int) -> None:
    """Fill, measure, print."""
    with database(), override_settings(ALLOWED_HOSTS=["*"]):
        one = Workshop.objects.get()
        packed = Order.objects.of(one).filter(state="packed").count()
        client, paths = _owner(one), _paths(one)
        with transaction.atomic():
            fill(one.pk, max(1, orders // packed))
        _settle()
        alone = {path: _ms(client, path) for path in paths}
        start = time.perf_counter()
        for nth in range(1, count):
            with transaction.atomic():
                copy_workshop(one.pk, nth)
        _number("select setval(pg_get_serial_sequence('auth_user', 'id'), (select max(id) from auth_user))")
        _settle()
        took, size = time.perf_counter() - start, _number("select pg_database_size(current_database())")
        print(f"{Workshop.objects.count()} workshops, {_rows('orders_order')} orders, {_rows('supplies_entry')} "
              f"entries, {size / 1e9:.1f} GB; filled in {took:.0f} s")  # fmt: skip
        wrong = [(bad.code, rows[:2]) for bad, _, rows in broken()]
        print(f"what must hold: {wrong or 'holds'}")
        among = {path: _ms(client, path) for path in paths}
        for path in sorted(paths, key=lambda path: -among[path] / alone[path]):
            print(f"{alone[path]:8.1f} ms {among[path]:8.1f} ms {among[path] / alone[path]:6.1f} times  {path}")
        connections.close_all()
        _two_servers(one)


def _owner(workshop: Workshop) -> Client:
    client = Client()
    user = Member.objects.select_related("user").filter(workshop=workshop, role="owner").earliest("pk").user
    client.force_login(user, backend="django.contrib.auth.backends.ModelBackend")
    return client


def _two_servers(one: Workshop) -> None:
    ports = [free_port(), free_port()]
    processes = [serve(port, NAME) for port in ports]
    processes += [begun(WORKER, CALM_DB_NAME=NAME) for _ in range(2)]
    try:
        key = _owner(one).cookies["sessionid"].value
        here, there = (Browser(port, key) for port in ports)
        known = [person.send("GET", "/api/rail")[0] for person in (here, there)]
        print(f"signed in once, known at both servers: {known}")
        others = list(Workshop.objects.exclude(pk=one.pk).order_by("pk")[:_BUSY])
        busy = [Browser(ports[at % 2], _owner(other).cookies["sessionid"].value) for at, other in enumerate(others)]
        connections.close_all()
        _asked(there, 2)  # whatever the first request loads
        _tell("nobody else at work", _asked(there, 15))
        start = time.perf_counter()
        for person in busy:
            status, _, answer = person.send("POST", "/api/plans/wave", {})
            if status >= 300:
                raise SystemExit(f"a wave was refused: {status} {answer[:200]!r}")
        done = threading.Event()
        seconds: list[float] = []

        def look() -> None:
            while not done.is_set():
                seconds.extend(_asked(there, 1))

        thread = threading.Thread(target=look)
        thread.start()
        most = 0
        while time.perf_counter() - start < 600:
            open_waves = _number("select count(*) from plans_wave where ended_at is null")
            most = max(most, open_waves)
            if not open_waves and time.perf_counter() - start > 5 and not _jobs():
                break
            time.sleep(0.3)
        whole = time.perf_counter() - start
        done.set()
        thread.join()
        _tell(f"while {len(busy)} others plan everything again ({whole:.0f} s, {most} waves at once)", seconds)
    finally:
        for process in processes:
            process.terminate()
            process.wait()


def _jobs() -> int:
    return _number(
        f"select count(*) from procrastinate_jobs where status in ('todo', 'doing') and task_name = '{PLAN_STALE_TASK}'"
    )


def _asked(person: Browser, rounds: int) -> list[float]:
    taken = []
    for _ in range(rounds):
        for path in _ASKED:
            start = time.perf_counter()
            status, _, answer = person.send("GET", f"/api/{path}")
            taken.append(time.perf_counter() - start)
            if status != 200:
                raise SystemExit(f"{path}: {status} {answer[:200]!r}")
    return taken


def _tell(words: str, taken: list[float]) -> None:
    taken = sorted(taken)
    middle, most, longest = (1_000 * taken[at] for at in (len(taken) // 2, int(len(taken) * 0.95), -1))
    print(f"{len(taken)} requests, {words}: median {middle:.0f} ms, 95 in 100 under {most:.0f}, longest {longest:.0f}")


def _rows(table: str) -> int:
    return _number(f"select count(*) from {table}")


def _number(sql: str) -> int:
    with connection.cursor() as cursor:
        cursor.execute(sql)
        return int(cursor.fetchone()[0])


if __name__ == "__main__":
    given = [int(one) for one in sys.argv[1:]]
    main(*(given + [50, 1_000][len(given) :]))
