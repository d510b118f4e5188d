"""A database of its own for a measurement, on the running server: filled with the sample workshop, dropped at the end.

Importing this points Django at that database: import it before anything of the server.
"""

import os
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import psycopg

NAME = "calm_bench"
sys.path.insert(0, str(Path(__file__).resolve().parent.parent))
os.environ["CALM_DB_NAME"] = NAME
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.config.settings")

import django

django.setup()

from django.core.management import call_command
from django.db import connections

from server.config.env import ENV


@contextmanager
def database() -> Iterator[None]:
    """Make the database with the sample workshop in it; drop it at the end."""
    _on_the_server(f"create database {NAME}")
    try:
        call_command("migrate", interactive=False, verbosity=0)
        call_command("createcachetable", verbosity=0)
        call_command("load_demo")
        yield
    finally:
        connections.close_all()
        _on_the_server()


def _on_the_server(*then: str) -> None:
    with psycopg.connect(
        host=ENV.db_host,
        port=ENV.db_port,
        user=ENV.db_user,
        password=ENV.db_password,
        dbname="postgres",
        autocommit=True,
    ) as server:
        server.execute(f"drop database if exists {NAME} with (force)")
        for statement in then:
            server.execute(statement)
