"""A backup comes back whole, and a database of the first version is brought up to this one with what is in it."""

import os
import re
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from io import StringIO
from pathlib import Path
from typing import Any
from uuid import uuid4

import psycopg
from django.core.management import call_command
from django.core.management.base import CommandError
from django.db import connection
from django.test import TransactionTestCase
from psycopg import sql

from server.commands.demo import load_demo
from server.config.env import ROOT
from server.upkeep.backup import connected_to
from server.upkeep.invariants import broken
from server.workshops.models import Workshop
from tests.kept_rows import begin_with

#: What a column that must have a value has when nothing is said of it.
_PLAIN = {
    "boolean": "false", "jsonb": "'[]'", "timestamp with time zone": "now()", "date": "current_date",
    "uuid": "gen_random_uuid()", "numeric": "0", "integer": "0", "smallint": "0", "bigint": "0",
    "character varying": "''", "text": "''", "double precision": "0",
}  # fmt: skip


@contextmanager
def empty_database() -> Iterator[str]:
    name = f"calm_{uuid4().hex[:12]}"
    with connected_to("postgres") as server:
        server.execute(sql.SQL("create database {}").format(sql.Identifier(name)))
        try:
            yield name
        finally:
            server.execute(sql.SQL("drop database {} with (force)").format(sql.Identifier(name)))


def _rows(name: str) -> dict[str, list[str]]:
    """Return every table's rows as text, in order."""
    with connected_to(name) as database:
        tables = database.execute(
            "select table_name from information_schema.tables where table_schema = 'public' "
            "and table_type = 'BASE TABLE' order by 1"
        ).fetchall()
        return {
            table: sorted(
                row[0]
                for row in database.execute(
                    sql.SQL("select t::text from {} t").format(sql.Identifier(table))
                ).fetchall()
            )
            for (table,) in tables
        }


class Backup(TransactionTestCase):
    def setUp(self) -> None:
        begin_with("sample", lambda: load_demo(whole=False))
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.file = self.folder / "calm.backup"

    def restore(self, file: Path) -> str:
        said = StringIO()
        call_command("restore", str(file), stdout=said)
        return said.getvalue()

    def test_what_is_restored_is_what_was_backed_up_row_by_row_and_what_was_there_is_kept(self) -> None:
        mine = str(connection.settings_dict["NAME"])
        before = _rows(mine)
        call_command("backup", str(self.file), stdout=StringIO())
        self.assertEqual(self.file.stat().st_mode & 0o777, 0o600)
        Workshop.objects.update(name="Something else")
        changed = _rows(mine)
        connection.close()
        kept = re.search(r"database (\S+)\.", self.restore(self.file))
        assert kept is not None
        self.addCleanup(_drop, kept[1])
        after = _rows(mine)
        self.assertGreater(len(before["supplies_entry"]), 30)
        self.assertEqual(set(before), set(after))
        for table, rows in before.items():
            self.assertEqual(rows, after[table], table)
        self.assertEqual(_rows(kept[1]), changed)
        self.assertEqual(list(broken_codes()), [])

    def test_a_file_that_is_no_backup_or_half_of_one_changes_nothing(self) -> None:
        call_command("backup", str(self.file), stdout=StringIO())
        whole, before = self.file.read_bytes(), _rows(str(connection.settings_dict["NAME"]))
        bad = self.folder / "bad.backup"
        for content in (b"", b"no backup at all", whole[: len(whole) // 2], whole[:-500_000], b"x" + whole):
            bad.write_bytes(content)
            with self.assertRaisesRegex(CommandError, "cannot be read as a backup.*is as it was"):
                self.restore(bad)
        self.assertEqual(_rows(str(connection.settings_dict["NAME"])), before)
        with self.assertRaisesRegex(CommandError, "There is no file"):
            self.restore(self.folder / "nothing")

    def test_it_is_not_restored_while_the_program_runs_and_no_backup_written_over(self) -> None:
        call_command("backup", str(self.file), stdout=StringIO())
        with self.assertRaisesRegex(CommandError, "is there already"):
            call_command("backup", str(self.file))
        with self.assertRaisesRegex(CommandError, "No backup was written"):
            call_command("backup", str(self.folder / "no" / "folder"))
        with connected_to(str(connection.settings_dict["NAME"])) as somebody:
            somebody.execute("select 1")
            with self.assertRaisesRegex(CommandError, "Stop it"):
                self.restore(self.file)


def broken_codes() -> Iterator[str]:
    return (one.code for one, _, rows in broken() if rows)


def _drop(name: str) -> None:
    with connected_to("postgres") as server:
        server.execute(sql.SQL("drop database {} with (force)").format(sql.Identifier(name)))


class Upgrade(TransactionTestCase):
    def migrate(self, name: str, *target: str) -> None:
        done = subprocess.run(
            [sys.executable, "manage.py", "migrate", *target, "--no-input", "--verbosity", "0"],
            cwd=ROOT, env={**os.environ, "CALM_DB_NAME": name}, capture_output=True, text=True,
        )  # fmt: skip
        self.assertEqual(done.returncode, 0, done.stderr[-2_000:])

    def insert(self, database: "psycopg.Connection[Any]", table: str, **values: object) -> None:
        """Insert a row with these values, and the plainest there are in the other columns that need one."""
        columns = database.execute(
            "select column_name, data_type from information_schema.columns where table_name = %s "
            "and is_nullable = 'NO' and column_default is null and is_identity = 'NO'",
            [table],
        ).fetchall()
        plain = {name: sql.SQL(_PLAIN[kind]) for name, kind in columns if name not in values}
        database.execute(
            sql.SQL("insert into {} ({}) values ({})").format(
                sql.Identifier(table),
                sql.SQL(", ").join(map(sql.Identifier, [*values, *plain])),
                sql.SQL(", ").join([*(sql.Literal(one) for one in values.values()), *plain.values()]),
            )
        )

    def test_a_database_of_the_first_version_is_brought_up_to_this_one(self) -> None:
        with empty_database() as name:
            self.migrate(name, "bench", "0001")
            with connected_to(name) as database:
                self.insert(database, "workshops_workshop", id=1, code="old", name="Old", time_zone="Etc/UTC",
                            currency="ALM", unit_system="metric", country="ALM")  # fmt: skip
                self.insert(database, "orders_order", id=1, workshop_id=1, number="1", state="packed", buyer="Ada")
                self.insert(database, "orders_order", id=2, workshop_id=1, number="2", state="new", buyer="Bo")
            self.migrate(name)
            with connected_to(name) as database:
                found = database.execute("select number, state, buyer from orders_order order by id").fetchall()
                self.assertEqual(found, [("1", "packed", "Ada"), ("2", "new", "Bo")])
            fresh = self._columns(name)
        with empty_database() as name:
            self.migrate(name)
            self.assertEqual(self._columns(name), fresh)

    def _columns(self, name: str) -> list[tuple[Any, ...]]:
        with connected_to(name) as database:
            return database.execute(
                "select table_name, column_name, data_type, is_nullable from information_schema.columns "
                "where table_schema = 'public' order by 1, 2"
            ).fetchall()
