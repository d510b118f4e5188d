"""Rows that many tests begin with, made once in a process and copied back for every other test: making them takes
seconds, copying them back a fraction of one.
"""

import io
from collections.abc import Callable, Collection
from dataclasses import dataclass
from typing import Any, TypeVar, cast

from django.apps import apps
from django.db import connection, transaction

__all__ = ["all_rows", "begin_with", "fingerprint"]


@dataclass(frozen=True, slots=True)
class _Rows:
    """A table's rows as PostgreSQL writes them, and the columns they are written in."""

    table: str
    columns: str
    text: str


_KEPT: dict[str, tuple[tuple[_Rows, ...], object]] = {}
Made = TypeVar("Made")


def begin_with(name: str, make: Callable[[], Made]) -> Made:
    """Put the rows into the database that ``make`` makes in an empty one, and return what it returned: plain values, no
    rows. ``name`` tells them from others.
    """
    if name in _KEPT:
        kept, given = _KEPT[name]
        _put_back(kept)
        return cast(Made, given)
    before = {table for table in _tables() if _count(table)}
    made = make()
    _KEPT[name] = tuple(rows for table in _tables() if table not in before if (rows := _read(table)) is not None), made
    return made


def all_rows(but: Collection[str] = ()) -> dict[str, str]:
    """Return what every table holds, as PostgreSQL writes it, rows in the order of their text; ``but`` some tables."""
    found = {table: _read(table) for table in _tables() if table not in but}
    return {table: "\n".join(sorted(rows.text.splitlines())) for table, rows in found.items() if rows is not None}


def fingerprint(cursor: Any) -> list[tuple[object, ...]]:
    """Return the rows and contents of every table of the database the cursor is in, as two numbers each: quick enough
    to be asked for again and again, where ``all_rows`` tells what differs.
    """
    cursor.execute("select tablename from pg_tables where schemaname = 'public' order by 1")
    tables = [table for (table,) in cursor.fetchall()]
    each = [f"select '{table}', count(*), sum(hashtext(t::text)::bigint) from \"{table}\" t" for table in tables]
    cursor.execute(" union all ".join(each) + " order by 1")
    return list(cursor.fetchall())


def _tables() -> list[str]:
    return sorted({model._meta.db_table for model in apps.get_models(include_auto_created=True) if model._meta.managed})


def _count(table: str) -> int:
    with connection.cursor() as cursor:
        cursor.execute(f'select count(*) from (select 1 from "{table}" limit 1) one')
        return int(cursor.fetchone()[0])


def _read(table: str) -> _Rows | None:
    with connection.cursor() as cursor:
        cursor.execute(
            "select column_name from information_schema.columns where table_name = %s and is_generated = 'NEVER' "
            "order by ordinal_position",
            [table],
        )
        columns = ", ".join(f'"{name}"' for (name,) in cursor.fetchall())
        text = io.StringIO()
        with cursor.copy(f'copy "{table}" ({columns}) to stdout') as copy:
            for block in copy:
                text.write(bytes(block).decode())
    return _Rows(table, columns, text.getvalue()) if text.getvalue() else None


def _put_back(kept: tuple[_Rows, ...]) -> None:
    # Keys to other tables are only looked at when the transaction ends: any order will do.
    with transaction.atomic(), connection.cursor() as cursor:
        cursor.execute("set constraints all deferred")
        for rows in kept:
            with cursor.copy(f'copy "{rows.table}" ({rows.columns}) from stdin') as copy:
                copy.write(rows.text)
        for rows in kept:
            cursor.execute(
                "select pg_get_serial_sequence(%s, 'id') where exists (select 1 from information_schema.columns "
                "where table_name = %s and column_name = 'id')",
                [f'"{rows.table}"', rows.table],
            )
            found = cursor.fetchone()
            if found is not None and found[0] is not None:
                cursor.execute(
                    f'select setval(%s, greatest((select max(id) from "{rows.table}"), '
                    f"(select last_value from {found[0]})))",
                    [found[0]],
                )
