"""A backup of the whole database in one file, and the way back (docs/operate.md).

Written and read by PostgreSQL's own programs. A backup is read into a database beside the one in use, looked at, and
only then put in its place; what was there before stays under another name.
"""

import os
import subprocess
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import psycopg
from django.db import connection, connections
from django.utils import timezone
from psycopg import sql

from server.api.refused import Refused

__all__ = ["Restored", "back_up", "connected_to", "put_in_place", "restore_beside"]


#: The database of PostgreSQL itself, from which others are made and renamed.
_SERVER = "postgres"


@dataclass(frozen=True, slots=True, kw_only=True)
class Restored:
    """A backup that was read."""

    name: str  #: of the database it is in
    rows: int


def back_up(file: Path) -> int:
    """Write everything into a file; return its size in bytes. The program may run meanwhile.

    The file is there whole or not at all. Raises Refused (backup_failed).
    """
    part = file.with_name(f"{file.name}.part")
    try:
        part.touch(mode=0o600)  # names and addresses are in it
        _tool("pg_dump", "--format=custom", f"--file={part}", _name())
        part.replace(file)
    except OSError as error:
        raise Refused(f"{file} cannot be written: {error.strerror}.", code="backup_failed") from None
    finally:
        part.unlink(missing_ok=True)
    return file.stat().st_size


def restore_beside(file: Path) -> Restored:
    """Read a backup into a new database beside the one in use.

    Raises Refused: in_use while anybody is connected to the one in use; not_a_backup when it cannot be read whole;
    nothing is left of it then.
    """
    with connected_to(_SERVER) as server:
        _refuse_if_used(server)
    name = f"{_name()}_restored"
    with connected_to(_SERVER) as server:
        server.execute(sql.SQL("drop database if exists {}").format(sql.Identifier(name)))
        server.execute(sql.SQL("create database {}").format(sql.Identifier(name)))
        try:
            _tool("pg_restore", "--exit-on-error", "--no-owner", f"--dbname={name}", str(file))
            rows = _rows(name)
        except (Refused, psycopg.Error) as error:
            server.execute(sql.SQL("drop database {} with (force)").format(sql.Identifier(name)))
            raise Refused(
                f"{file} cannot be read as a backup: {error}. The database in use is as it was.",
                code="not_a_backup", status=422,
            ) from None  # fmt: skip
    return Restored(name=name, rows=rows)


def put_in_place(restored: Restored) -> str:
    """Give the restored database the name of the one in use; return the name that one has now.

    Raises Refused (in_use) while anybody else is connected: the program has to be stopped.
    """
    name = _name()
    before = f"{name}_before_{timezone.now():%Y%m%d_%H%M%S}"
    with connected_to(_SERVER) as server:
        _refuse_if_used(server)
        rename = sql.SQL("alter database {} rename to {}")
        with server.transaction():
            server.execute(rename.format(sql.Identifier(name), sql.Identifier(before)))
            server.execute(rename.format(sql.Identifier(restored.name), sql.Identifier(name)))
    return before


def _refuse_if_used(server: "psycopg.Connection[Any]") -> None:
    connections.close_all()
    found = server.execute(
        "select count(*) from pg_stat_activity where datname = %s and backend_type = 'client backend'", [_name()]
    ).fetchone()
    if found and found[0]:
        raise Refused(
            "The program is running on this database. Stop it (Ctrl-C where ./start runs), then restore again.",
            code="in_use", facts={"connections": found[0]},
        )  # fmt: skip


def _name() -> str:
    return str(connection.settings_dict["NAME"])


def connected_to(name: str) -> "psycopg.Connection[Any]":
    """Return a connection to another database of the same server; each statement stands by itself."""
    at = connection.settings_dict
    return psycopg.connect(
        host=at["HOST"], port=at["PORT"], user=at["USER"], password=at["PASSWORD"], dbname=name, autocommit=True
    )


def _rows(name: str) -> int:
    """Return how many rows a database has; read, so that every table is known to be readable."""
    with connected_to(name) as database:
        tables = database.execute(
            "select table_name from information_schema.tables "
            "where table_schema = 'public' and table_type = 'BASE TABLE'"
        ).fetchall()
        if ("workshops_workshop",) not in tables:
            raise Refused("it holds no workshop", code="not_a_backup", status=422)
        counts = sql.SQL(" union all ").join(
            sql.SQL("select count(*) n from {}").format(sql.Identifier(table)) for (table,) in tables
        )
        found = database.execute(sql.SQL("select sum(n) from ({}) c").format(counts)).fetchone()
        return int(found[0]) if found else 0


def _tool(name: str, *arguments: str) -> None:
    """Run one of PostgreSQL's programs. Raises Refused (backup_failed) with what it said."""
    at = connection.settings_dict
    folders = sorted(Path("/usr/lib/postgresql").glob("*/bin"), key=lambda one: int(one.parent.name))
    program = str(folders[-1] / name) if folders else name
    try:
        done = subprocess.run(
            [program, f"--host={at['HOST']}", f"--port={at['PORT']}", f"--username={at['USER']}", *arguments],
            env={**os.environ, "PGPASSWORD": str(at["PASSWORD"])}, capture_output=True, text=True, check=False,
        )  # fmt: skip
    except FileNotFoundError:
        raise Refused(f"{name} of PostgreSQL is not installed here.", code="backup_failed") from None
    if done.returncode:
        said = (done.stderr.strip().splitlines() or ["no words"])[0]
        raise Refused(said[:300].rstrip("."), code="backup_failed")
