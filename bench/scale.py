"""How long screens take beside 500 and beside 50 000 closed orders (./calm bench scale [N]).

On a database of its own, filled by SQL in seconds. Prints ms before and after and their ratio; wanted: none slower than
1.3 times. ``--explain FOLDER`` writes what PostgreSQL says of the slowest queries there.
"""

import statistics
import sys
import tempfile
import time
from pathlib import Path

from temporary import database

# isort: split
from django.db import connection, transaction
from django.test import Client, override_settings
from django.test.utils import CaptureQueriesContext
from psycopg import sql
from scale_fill import fill

from server.orders.models import Order
from server.recipes.models import Recipe
from server.supplies.models import Supply
from server.upkeep.backup import back_up, connected_to, restore_beside
from server.upkeep.invariants import broken
from server.workshops.clock import today
from server.workshops.models import Member, Workshop
from tests.kept_rows import fingerprint

TIMES, WANTED = 5, 1.3
#: So many closed orders are beside the first measurement.
FEW = 500


def main() -> None:
    """Fill, measure, print."""
    numbers = [int(one) for one in sys.argv[1:] if one.isdigit()]
    count = numbers[0] if numbers else 50_000
    explain = Path(sys.argv[sys.argv.index("--explain") + 1]) if "--explain" in sys.argv else None
    with database(), override_settings(ALLOWED_HOSTS=["*"]):
        workshop = Workshop.objects.get()
        packed = Order.objects.of(workshop).filter(state="packed").count()
        client = Client()
        member = Member.objects.get(user__username="maren")
        client.force_login(member.user, backend="django.contrib.auth.backends.ModelBackend")
        paths = _paths(workshop)
        with connection.cursor() as cursor:
            cursor.execute("create temp table used_before as select * from supplies_usedon")
        with transaction.atomic():
            fill(workshop.pk, max(1, FEW // packed))
        _settle()
        few = Order.objects.of(workshop).filter(state="packed").count()
        before = {path: _ms(client, path) for path in paths}
        with transaction.atomic():
            _empty()
        begun = time.perf_counter()
        with transaction.atomic():
            gained = fill(workshop.pk, count // packed)
        _settle()
        many = Order.objects.of(workshop).filter(state="packed").count()
        print(f"{few} closed orders, then {many}, {gained['supplies_entry']} entries of the ledger; "
              f"filled in {time.perf_counter() - begun:.0f} s")  # fmt: skip
        wrong = [(one.code, rows[:2]) for one, _, rows in broken()]
        print(f"what must hold: {wrong or 'holds'}")
        slow = 0
        for path in sorted(paths, key=lambda one: 0 - _ratio(client, one, before)):
            after, ratio = _AFTER[path], _AFTER[path] / before[path]
            slow += ratio > WANTED and after > 20
            print(f"{before[path]:8.1f} ms {after:8.1f} ms {ratio:6.1f} times  {path}")
            if explain is not None and ratio > WANTED:
                _explain(client, path, explain)
        print(f"slower than {WANTED} times, and over 20 ms: {slow} of {len(paths)}")
        _backup()


def _backup() -> None:
    """Back everything up, restore it beside, compare every table, print how long it took."""
    mine = str(connection.settings_dict["NAME"])
    with tempfile.TemporaryDirectory() as folder:
        file, begun = Path(folder) / "calm.backup", time.perf_counter()
        size = back_up(file)
        written = time.perf_counter()
        restored = restore_beside(file)
        read = time.perf_counter()
    with connected_to(mine) as one, connected_to(restored.name) as other:
        same = fingerprint(one.cursor()) == fingerprint(other.cursor())
    with connected_to("postgres") as server:
        server.execute(sql.SQL("drop database {} with (force)").format(sql.Identifier(restored.name)))
    print(f"backup: {written - begun:.0f} s, {size / 1e6:.0f} MB; restored: {read - written:.0f} s, "
          f"{restored.rows} rows, "
          f"{'every table the same' if same else 'NOT THE SAME'}")  # fmt: skip


_AFTER: dict[str, float] = {}


def _ratio(client: Client, path: str, before: dict[str, float]) -> float:
    _AFTER[path] = _ms(client, path)
    return _AFTER[path] / before[path]


def _paths(workshop: Workshop) -> tuple[str, ...]:
    recipe = Recipe.objects.of(workshop).get(code="preserve-250").pk
    supply = Supply.objects.of(workshop).get(code="C-14").pk
    month = f"{today(workshop):%Y-%m}"
    order = Order.objects.of(workshop).filter(state="planned").order_by("number").first()
    plan = order.pk if order else 0
    return (
        "rail", "day", "orders", "orders?find=ferr", "orders?state=packed", "find?q=oakl", "buyers?find=ost",
        "parcels?state=closed", f"orders/{plan}/plan", "supplies", f"supplies/{supply}",
        f"supplies/{supply}/entries", "buying/cover", f"buying/supplies/{supply}", "buying/asleep", "recipes",
        f"recipes/{recipe}", f"recipes/{recipe}/arrivals", f"recipes/{recipe}/steps", "readiness?page_size=5",
        "arrivals?show=ask", "arrivals?show=told", "arrivals?find=0701", "arrivals/recipes", "arrivals/carriers",
        "claims", "learned", "send-off", "holds", "money/months", f"money/months/{month}", "money/charges?weeks=4",
        "money/what-ifs", "health",
    )  # fmt: skip


def _ms(client: Client, path: str) -> float:
    taken = []
    for _ in range(TIMES):
        began = time.perf_counter()
        answer = client.get(f"/api/{path}")
        taken.append((time.perf_counter() - began) * 1_000)
        if answer.status_code != 200:
            raise SystemExit(f"{path}: {answer.status_code} {answer.content[:200]!r}")
    return statistics.median(taken[1:])


def _settle() -> None:
    """As a server that has stood for a while: statistics are known, dead rows gone."""
    with connection.cursor() as cursor:
        cursor.execute("vacuum analyze")


def _empty() -> None:
    """Take the first, small filling away again."""
    with connection.cursor() as cursor:
        cursor.execute("set constraints all deferred")
        for table in (
            "outcomes_arrivalgoods", "outcomes_arrival", "supplies_entry", "standins_carriersale", "carriers_label",
            "bench_steptime", "bench_parcel", "plans_plan", "plans_plandocument", "orders_orderline", "orders_order",
        ):  # fmt: skip
            cursor.execute(f"delete from {table} where id > 1000000 or id < 0")
        cursor.execute("delete from supplies_usedon")
        cursor.execute("insert into supplies_usedon select * from used_before")


def _explain(client: Client, path: str, folder: Path) -> None:
    with CaptureQueriesContext(connection) as caught:
        client.get(f"/api/{path}")
    slowest = sorted(caught.captured_queries, key=lambda one: -float(one["time"]))[:2]
    folder.mkdir(parents=True, exist_ok=True)
    with connection.cursor() as cursor, (folder / f"{path.replace('/', '-').split('?')[0]}.txt").open("w") as file:
        for query in slowest:
            file.write(f"{query['time']} s\n{query['sql']}\n")
            if query["sql"].lower().startswith("select"):
                cursor.execute("explain (analyze, buffers) " + query["sql"].replace("%", "%%"))
                file.writelines(f"{line}\n" for (line,) in cursor.fetchall())


if __name__ == "__main__":
    main()
