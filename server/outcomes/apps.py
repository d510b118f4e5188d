"""Arrivals listen to what leaves, to plans and to recipes."""

from importlib import import_module

from django.apps import AppConfig

__all__ = ["OutcomesConfig"]


class OutcomesConfig(AppConfig):
    """Connects the listeners when all rooms are there."""

    name = "server.outcomes"

    def ready(self) -> None:
        """Connect them: the module needs the tables, which are there only now."""
        import_module("server.outcomes.listening")
