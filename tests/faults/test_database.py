"""The database fails at every statement of what a person does, in turn: a clear word, and nothing half done.

The faults are the ones PostgreSQL raises: the disk is full, it can only be read, it is shut down.
"""

import json
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any
from uuid import uuid4

from django.db import InternalError, OperationalError, connection
from django.test import TransactionTestCase
from psycopg.errors import AdminShutdown, DiskFull, ReadOnlySqlTransaction

from server.upkeep.invariants import broken
from tests.kept_rows import all_rows
from tests.server.base import FAST, DemoCase, Shop, demo_shop

#: Kept for whoever signs in, whatever becomes of the request.
_BESIDE = {"django_session", "calm_cache"}
_WRITES = ("INSERT", "UPDATE", "DELETE")


class _Failing:
    """Raises a fault at the n-th statement that writes (or, with ``reads``, at the n-th of all)."""

    def __init__(self, at: int, fault: Callable[[], Exception], *, reads: bool = False) -> None:
        self.at, self.fault, self.reads, self.seen = at, fault, reads, 0

    def __call__(self, execute: Callable[..., Any], sql: str, params: Any, many: bool, context: Any) -> Any:
        if self.reads or sql.lstrip().upper().startswith(_WRITES):
            self.seen += 1
            if self.seen == self.at:
                raise self.fault()
        return execute(sql, params, many, context)


def _django(kind: type[Exception], cause: Exception) -> Callable[[], Exception]:
    def made() -> Exception:
        error = kind(str(cause))
        error.__cause__ = cause
        return error

    return made


FULL = _django(OperationalError, DiskFull("could not extend file"))
READ_ONLY = _django(InternalError, ReadOnlySqlTransaction("cannot execute UPDATE in a read-only transaction"))
SHUT_DOWN = _django(OperationalError, AdminShutdown("terminating connection due to administrator command"))


@contextmanager
def failing(fault: _Failing) -> Iterator[None]:
    with connection.execute_wrapper(fault):
        yield


class DatabaseFaults(DemoCase):
    def post(self, path: str, body: object) -> Any:
        return self.client.post(f"/api/{path}", data=json.dumps(body), content_type="application/json")

    def deeds(self) -> dict[str, dict[str, object]]:
        """Return one request of each kind that writes, each possible as things stand."""
        supply, order = self.supply("C-14").pk, self.order("1163").pk
        ready = self.labelled("1160")["id"]
        begun = self.to_bench("1161")["id"]
        key = str(uuid4())
        return {
            f"supplies/{supply}/receive": {"quantity": "10", "total_cost": "4", "note": "", "request_key": key},
            f"supplies/{supply}/count": {"counted": "7", "note": "", "request_key": str(uuid4())},
            f"orders/{order}/hold": {"reason": "The buyer asked to wait"},
            "parcels/begin": {"order_id": self.order("1162").pk},
            f"parcels/{begun}/weigh": {"typed": "900 g"},
            f"parcels/{ready}/close": {"request_key": str(uuid4())},
        }

    def every_statement_fails(
        self, fault: Callable[[], Exception], code: str, *, reads: bool = False, only: str = ""
    ) -> int:
        """Do each deed again and again, its next statement failing each time, until none is left; return how many
        failed. ``only``: deeds whose address ends so.
        """
        failed = 0
        for path, body in self.deeds().items():
            if not path.endswith(only):
                continue
            before = all_rows(but=_BESIDE)
            for at in range(1, 400):
                broken_at = _Failing(at, fault, reads=reads)
                with failing(broken_at):
                    answer = self.post(path, body)
                if broken_at.seen < at:  # it has fewer statements: nothing failed, and it is done
                    self.assertLess(answer.status_code, 300, (path, answer.content[:300]))
                    break
                told = answer.json()
                self.assertEqual((answer.status_code, told["code"]), (503, code), (path, at, told))
                self.assertGreater(int(answer.headers["Retry-After"]), 0)
                failed += 1
                if all_rows(but=_BESIDE) != before:
                    # It was saved whole, and what failed was telling so: sent again, it is done already.
                    self.assertTrue(reads, f"{path} left something, failing at statement {at}")
                    self.assertNotIn("Nothing was saved", told["detail"])
                    done = all_rows(but=_BESIDE)
                    self.assertEqual(self.post(path, body).status_code, 200, path)
                    self.assertEqual(all_rows(but=_BESIDE), done, f"{path} was done twice")
                    break
                self.assertTrue(reads or "Nothing was saved" in told["detail"], told)
            else:
                self.fail(f"{path} has no end")
        self.assertEqual([(one.code, rows) for one, _, rows in broken() if rows], [])
        return failed

    def test_a_full_disk_leaves_nothing_half_done_wherever_it_strikes(self) -> None:
        self.assertGreater(self.every_statement_fails(FULL, "disk_full"), 15)

    def test_a_database_that_can_only_be_read_says_so(self) -> None:
        self.assertGreater(self.every_statement_fails(READ_ONLY, "read_only"), 15)

    def test_a_database_that_is_shut_down_at_any_statement(self) -> None:
        self.assertGreater(self.every_statement_fails(SHUT_DOWN, "database_away", reads=True, only="close"), 15)


@FAST
class OnlyRead(Shop, TransactionTestCase):
    def test_screens_can_be_read_while_nothing_can_be_written(self) -> None:
        self.workshop, self.owner, _ = demo_shop()
        self.as_(self.owner)
        plan = f"orders/{self.order('1163').pk}/plan"
        self.ask("get", plan)  # one that is kept needs no writing
        with connection.cursor() as cursor:
            cursor.execute("set default_transaction_read_only = on")
            try:
                for path in ("rail", "orders", "supplies", "day", "recipes", plan):
                    self.ask("get", path)
                body = {"reason": "The buyer asked to wait"}
                told = self.ask("post", f"orders/{self.order('1163').pk}/hold", body, status=503)
                self.assertEqual(told["code"], "read_only")
            finally:
                cursor.execute("set default_transaction_read_only = off")
