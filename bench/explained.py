"""What PostgreSQL does for the queries of a screen: which of them read a table of the trade from end to end."""

import json
from collections.abc import Iterator, Mapping
from typing import Any

from django.db import connection
from django.db.backends.utils import CursorWrapper
from django.test import Client
from django.test.utils import CaptureQueriesContext

__all__ = ["TRADE", "read_whole"]

#: Tables that grow with every order.
TRADE = frozenset(
    {
        "orders_order", "orders_orderline", "plans_plan", "plans_plandocument", "bench_parcel", "bench_steptime",
        "carriers_label", "supplies_entry", "supplies_usedon", "outcomes_arrival", "outcomes_arrivalgoods",
        "money_keptline", "standins_carriersale",
    }
)  # fmt: skip


def read_whole(client: Client, path: str) -> list[str]:
    """Return the queries of a screen that read a table of the trade whole: the table, and the query's beginning.

    Counting how many there are in all is not looked at: that takes some 10 ms for 50 000, by whatever way.
    """
    with CaptureQueriesContext(connection) as caught:
        answer = client.get(path)
    assert answer.status_code == 200, (path, answer.status_code)
    found = []
    with connection.cursor() as cursor:
        for query in caught.captured_queries:
            sql = query["sql"].lstrip()
            if sql.startswith("SELECT") and not sql.startswith("SELECT COUNT(*)") and "FOR UPDATE" not in sql:
                found += [f"{table}: {sql[:300]}" for table in _scanned(cursor, sql)]
    return found


def _scanned(cursor: CursorWrapper, sql: str) -> Iterator[str]:
    cursor.execute("explain (format json) " + sql.replace("%", "%%"), ())
    (told,) = cursor.fetchone()
    (plan,) = told if isinstance(told, list) else json.loads(told)
    for node in _nodes(plan["Plan"]):
        if node["Node Type"] in ("Seq Scan", "Parallel Seq Scan") and node["Relation Name"] in TRADE:
            yield str(node["Relation Name"])


def _nodes(node: Mapping[str, Any]) -> Iterator[Mapping[str, Any]]:
    yield node
    for one in node.get("Plans", ()):
        yield from _nodes(one)
