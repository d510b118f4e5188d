"""The bench tells the plans which parcels stand ready."""

from importlib import import_module

from django.apps import AppConfig

__all__ = ["BenchConfig"]


class BenchConfig(AppConfig):
    """Connects the listeners when all rooms are there."""

    name = "server.bench"

    def ready(self) -> None:
        """Connect them: the module needs the tables, which are there only now."""
        import_module("server.bench.listening")
